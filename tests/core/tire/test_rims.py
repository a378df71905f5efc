"""Rim marks, the tires they take, and what speaks against a pair."""

from typing import Any

import pytest

from jentrik.core.errors import CodeError
from jentrik.core.tire.rim_marks import read_rim, read_rim_width
from jentrik.core.tire.rims import together
from jentrik.core.tire.sidewall import read_code, read_sidewall
from jentrik.core.tire.tables.motorcycle_rims import tires_for
from jentrik.core.tire.tables.rim_width import bicycle_tire_widths
from jentrik.core.tire.tire_on_rim import rims_for, width_said


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
    assert bicycle_tire_widths(19) == (28, 62)
    # Between 21 (35 to 64) and 23 (40 to 64) what both allow; 15 to 17: 25 to 32.
    assert bicycle_tire_widths(21.5) == bicycle_tire_widths(22) == (40, 64)
    assert bicycle_tire_widths(16) == (25, 32)
    assert bicycle_tire_widths(12.9) is bicycle_tire_widths(30.1) is None  # beyond the table


# What shops put on every day, and what they do not, with what the published tables say, from
# memory: the rim, and whether it is within the row (=), at its end (e) or outside (x).
PAIRS = """
110/80R19 3.00 e, 120/70R19 3.00 e, 100/90-19 2.75 e, 130/90B16 3.50 e, MT90B16 3.50 e
150/70R17 3.50 e, 180/55ZR17 6.00 e, 160/70B17 4.00 e, 240/40R18 8.50 =, 300/35R18 10.50 =
3.25-19 2.15 =, 2.75-17 1.85 =, 3.50-10 2.50 =, 120/70ZR17 3.50 =, 190/55ZR17 6.00 =
190/50ZR17 6.00 =, 110/70-17 3.00 =, 90/90-21 1.85 =, 4.10-18 2.50 =, 200/50ZR17 6.00 e
100/90-19 1.60 x, 110/80R19 1.85 x, 130/80R18 2.15 x, 110/90-18 1.85 x, 4.00-18 1.85 x
130/90-16 2.15 x, 120/70ZR17 3.00 x, 160/60ZR17 3.50 x, 180/55ZR17 4.50 x, MH90-21 2.50 x
3.50-18 1.60 x, 3.50-10 1.85 x, 140/80-17 2.15 x, 190/50ZR17 5.00 x
"""


@pytest.mark.parametrize("pair", PAIRS.replace("\n", ",").strip(",").split(","))
def test_a_motorcycle_tires_rims_are_those_of_its_row(pair: str) -> None:
    code, inches, expected = pair.split()
    said = width_said(read_code(code), float(inches) * 25.4)
    weight = said.weight if said and not said.unlisted else None
    assert weight == {"=": None, "e": "note", "x": "caution"}[expected], pair
    typed = width_said(read_code(code), round(float(inches) * 25.4))  # as someone types millimetres
    assert typed == said


def test_width_alone_decides_nothing_and_a_missing_row_is_said() -> None:
    # 120 mm: 2.75 at /90 and /80, 3.50 at /70 and /60; 3.00 in 19 inch alone at /70.
    on = {code: rims_for(read_code(code)) for code in ("120/90-18", "120/80-18", "120/70-18")}
    assert [round(one.measured_on_mm / 25.4, 2) for one in on.values()] == [2.75, 2.75, 3.50]
    assert width_said(read_code("120/70R18"), 3.00 * 25.4).weight == "caution"
    said = width_said(read_code("2.25-17"), 1.60 * 25.4)
    assert (said.weight, said.unlisted) == ("note", True)
    assert width_said(read_code("2.25-17"), 1.60 * 25.4).says.count("maker's list") == 1
    measured, others = tires_for(3.50 * 25.4)
    assert {"120/70", "140/90", "MU90"} <= set(measured)
    assert {"130/90", "MT90"} <= set(others)


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
