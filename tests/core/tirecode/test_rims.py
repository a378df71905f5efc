"""Rim marks, the tires they take, and what speaks against a pair."""

from typing import Any

import pytest

from jentrik.core.errors import CodeError
from jentrik.core.tables.rim_width import motorcycle_share
from jentrik.core.tirecode.rim_marks import read_rim, read_rim_width
from jentrik.core.tirecode.rims import together
from jentrik.core.tirecode.sidewall import read_code, read_sidewall
from jentrik.core.tirecode.tire_on_rim import tire_widths


@pytest.mark.parametrize(
    ("mark", "vehicle", "bead_seat", "width", "profile", "tubeless"),
    [
        ("622x19C", "bicycle", 622, 19, "hooked", None),
        ("622 x 19 C", "bicycle", 622, 19, "hooked", None),
        ("584-25 TSS", "bicycle", 584, 25, "hookless", True),
        ("622x23TC", "bicycle", 622, 23, "hooked", True),
        ("622x23 hookless tubeless-ready", "bicycle", 622, 23, "hookless", True),
        ("559x17", "bicycle", 559, 17, None, None),
        ("MT 3.50 x 17", "motorcycle", 432, 88.9, "MT", True),
        ("MT3.50x17", "motorcycle", 432, 88.9, "MT", True),
        ("17 x MT 3.50", "motorcycle", 432, 88.9, "MT", True),
        ("17xMT3.50 DOT", "motorcycle", 432, 88.9, "MT", True),
        ("J 2.15 x 18", "motorcycle", 457, 54.61, "J", None),
        ("1.85 x 21", "motorcycle", 533, 46.99, None, None),
        ("WM2 x 19", "motorcycle", 483, 46.99, "WM", False),
        ("wm3-18", "motorcycle", 457, 54.61, "WM", False),
    ],
)
def test_rim_marks(
    mark: str,
    vehicle: str,
    bead_seat: int,
    width: float,
    profile: str | None,
    tubeless: bool | None,
) -> None:
    rim = read_rim(mark)
    assert (rim.vehicle, rim.bead_seat_diameter_mm) == (vehicle, bead_seat)
    assert rim.inner_width_mm == pytest.approx(width)
    assert (rim.profile, rim.tubeless) == (profile, tubeless)
    for token in rim.tokens:
        assert rim.text[token.start : token.end] == token.text


@pytest.mark.parametrize(
    ("mark", "position"),
    [
        ("", 0),
        ("622", 3),
        ("623x19", 0),
        ("622x19 zz", 7),
        ("622x5", 4),
        ("WM9 x 19", 2),
        ("MT 3.50 x 40", 10),
        ("x", 0),
    ],
)
def test_a_refused_rim_mark_points_at_the_character(mark: str, position: int) -> None:
    with pytest.raises(CodeError) as refused:
        read_rim(mark)
    assert refused.value.position == position


def test_tire_widths_of_a_bicycle_rim_come_row_by_row() -> None:
    # ISO 5775-1, an older edition, from memory: 19 mm goes with 28 to 62 mm.
    def widths(rim_mm: float) -> Any:
        found = tire_widths(rim_mm=rim_mm, vehicle="bicycle", aspect_percent=None)
        return found and (found.least_mm, found.most_mm)

    assert widths(19) == (28, 62)
    # Between 21 (35 to 64) and 23 (40 to 64) what both allow; 15 to 17: 25 to 32.
    assert widths(21.5) == widths(22) == (40, 64)
    assert widths(16) == (25, 32)
    assert widths(12.9) is widths(30.1) is None  # no row is computed beyond the table


def test_tire_widths_of_a_motorcycle_rim_follow_the_aspect() -> None:
    # Common practice: 90/90-21 on 1.85 in is right; 120/70 goes on 3.50 in.
    def hold(inches: float, aspect: int, width: int) -> bool:
        found = tire_widths(rim_mm=inches * 25.4, vehicle="motorcycle", aspect_percent=aspect)
        return found.hold(width)

    assert hold(1.85, 90, 90)
    assert hold(3.5, 70, 120)
    assert not hold(3.5, 70, 160)
    # Ordinary: 190/50 and 190/55 on 6.00, 150/70 on 4.00, 110/70 on 3.00.
    assert all(hold(*pair) for pair in ((6, 50, 190), (6, 55, 190), (4, 70, 150), (3, 70, 110)))


def test_the_bands_of_aspect_meet_without_a_jump() -> None:
    # 0.65 to 0.83 up to 70 %, 0.40 to 0.65 from 80 %: halfway at 75 %, 0.525 to 0.74.
    assert motorcycle_share(70) == pytest.approx((0.65, 0.83))
    assert motorcycle_share(75) == pytest.approx((0.525, 0.74))
    assert motorcycle_share(80) == motorcycle_share(None) == pytest.approx((0.40, 0.65))
    for aspect in range(60, 90):
        steps = zip(motorcycle_share(aspect), motorcycle_share(aspect + 1), strict=True)
        assert all(abs(one - other) <= 0.026 for one, other in steps)


def against(tire: str, rim: str) -> dict[str, Any]:
    return {warned.id: warned.weight for warned in together(read_code(tire), read_rim(rim))}


def test_a_pair_that_belongs_together_draws_no_remark() -> None:
    assert against("37-622", "622x19C") == {}
    assert against("120/70 ZR 17 58W TL", "MT 3.50 x 17") == {}
    assert against("90/90-21 54S TT", "1.85 x 21") == {}


@pytest.mark.parametrize(
    ("tire", "rim", "name", "weight"),
    [
        ("37-622", "630x19", "rim-diameter-mismatch", "stop"),
        ("120/70 ZR 17", "MT 3.50 x 18", "rim-diameter-mismatch", "stop"),
        ("120/70-17", "622x19", "rim-of-another-vehicle", "stop"),
        ("20-622", "622x19C", "rim-width-out-of-range", "caution"),
        ("180/55 ZR 17", "MT 3.50 x 17", "rim-width-out-of-range", "caution"),
        ("90/90-19 52H TL", "WM2 x 19", "tube-type-mismatch", "caution"),
        ("110/80-18 TT", "MT 2.75 x 18", "tube-type-mismatch", "caution"),
        ("40-622", "622x23 hookless", "hookless-rim", "caution"),
        ("27-622", "622x25 hookless", "hookless-too-narrow", "stop"),
        ("28-622", "622x21.5", "rim-width-out-of-range", "caution"),
        ("64-622", "622x16", "rim-width-out-of-range", "caution"),
        ("83-622", "622x35", "rim-width-unlisted", "note"),
    ],
)
def test_what_speaks_against_a_pair(tire: str, rim: str, name: str, weight: str) -> None:
    assert against(tire, rim)[name] == weight


def test_the_diameter_must_be_exact_and_stands_first() -> None:
    first = together(read_code("37-597"), read_rim("590x19"))[0]
    assert (first.id, first.weight) == ("rim-diameter-mismatch", "stop")
    assert "597" in first.says
    assert "590" in first.says
    assert "5775" in first.source
    motorcycle = together(read_code("120/70 ZR 17"), read_rim("MT 3.50 x 18"))[0]
    assert "4249" in motorcycle.source


# Rims as stamped: bead seat, inner width in mm (inches x 25.4), profile.
STAMPED = {
    "17M/C x MT3.50": (432, 88.9, "MT"),
    "17 M/C×MT3.50": (432, 88.9, "MT"),
    "17M/CxMT3.50": (432, 88.9, "MT"),
    "MT3.50x17M/C": (432, 88.9, "MT"),
    "J17M/C x MT3.50": (432, 88.9, "MT"),
    "18M/C X MT2.15": (457, 54.61, "MT"),
    "MT 2.15x18": (457, 54.61, "MT"),
    "J MC 18x1.85": (457, 46.99, "J"),
    "MT H2 3.50x17": (432, 88.9, "MT"),
    "MT3.50": (None, 88.9, "MT"),
    "J3.50": (None, 88.9, "J"),
    "WM3": (None, 54.61, "WM"),
    "19 x WM2": (483, 46.99, "WM"),
    "622x19C": (622, 19, "hooked"),
    "19C": (None, 19, "hooked"),
    "622x25TSS": (622, 25, "hookless"),
}


@pytest.mark.parametrize(("mark", "says"), STAMPED.items())
def test_a_stamped_rim_is_a_rim_and_never_a_tire(mark: str, says: tuple[Any, ...]) -> None:
    rim = read_rim(mark)
    assert (rim.bead_seat_diameter_mm, round(rim.inner_width_mm, 2), rim.profile) == says
    sidewall = read_sidewall(mark)
    assert sidewall.reading.family == "rim"
    assert sidewall.code is None
    assert sidewall.reading.inner_width_mm == rim.inner_width_mm


@pytest.mark.parametrize(
    ("typed", "width_mm"),
    [
        *(("3.50", 88.9), ("2,15", 54.61), ("19", 19), ("88.9 mm", 88.9), ("3.5 in", 88.9)),
        *(("MT3.50", 88.9), ("WM2", 46.99), ("19C", 19), ("622x21C", 21), ("21.5", 21.5)),
    ],
)
def test_a_rim_width_is_read_by_its_form(typed: str, width_mm: float) -> None:
    assert read_rim_width(typed) == pytest.approx(width_mm)


@pytest.mark.parametrize("mark", ["MT90B16", "18 x 1.85", "3.50-17", "26 x 1.75"])
def test_a_tire_is_no_rim(mark: str) -> None:
    assert read_sidewall(mark).reading.family != "rim"
