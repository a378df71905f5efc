"""Standard sizes for the same rim: computed, sorted, and inside their windows."""

import math
from typing import Any

import pytest

from jentrik.core.tire.equivalents import Equivalent, equivalents, names_of_rim
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.standard_sizes import MARKS


def near(code: str, **windows: Any) -> dict[str, Equivalent]:
    return {equal.reading.text: equal for equal in equivalents(read_code(code), **windows)}


def test_every_standard_mark_is_read_and_names_its_source() -> None:
    assert len(MARKS) > 200
    for mark, source in MARKS.items():
        reading = read_code(mark)
        assert reading.overall_diameter_mm
        assert reading.vehicle in ("bicycle", "motorcycle")
        assert "from memory" in source


def test_marks_are_single_sizes() -> None:
    sizes = [
        (r.family, r.bead_seat_diameter_mm, r.width_mm, r.section_height_mm, r.construction)
        for r in map(read_code, MARKS)
    ]
    assert len(sizes) == len(set(sizes))


def test_inch_to_metric_of_a_classic_twin() -> None:
    # By hand: 3.25-19 is 483 + 2 x 82.55 = 648.1; 90/90-19 is 483 + 162 = 645; 100/90-19 is 663.
    found = near("3.25-19")
    assert found["90/90-19"].diameter_change_percent == pytest.approx((645 / 648.1 - 1) * 100)
    assert found["90/90-19"].width_change_mm == pytest.approx(90 - 82.55)
    assert "3.25-19" not in found
    assert "90/90-18" not in found


def test_letter_to_metric_and_back() -> None:
    assert {"130/90-16", "130/90B16"} <= near("MT90B16").keys()
    assert near("MT90B16")["130/90B16"].diameter_change_percent == 0
    assert "MT90B16" in near("130/90-16")


def test_the_nearest_stands_first() -> None:
    steps = [
        abs(equal.diameter_change_percent) / 3 + abs(equal.width_change_mm) / 15
        for equal in equivalents(read_code("120/70R17"))
    ]
    assert len(steps) > 3
    assert steps == sorted(steps)


@pytest.mark.parametrize(("percent", "millimetres"), [(1, 5), (3, 15), (6, 40)])
def test_windows_hold(percent: int, millimetres: int) -> None:
    found = near("110/80-18", diameter_window_percent=percent, width_window_mm=millimetres)
    for equal in found.values():
        assert abs(equal.diameter_change_percent) <= percent
        assert abs(equal.width_change_mm) <= millimetres


def test_turns_a_kilometre() -> None:
    equal = near("37-622")["40-622"]
    turns = 1_000_000 / (math.pi * 702) - 1_000_000 / (math.pi * 696)
    assert equal.turns_change_per_km == pytest.approx(turns)


@pytest.mark.parametrize("code", ["700C", "205R14C", "205/55R16", "18-137"])
def test_nothing_is_near_what_is_not_listed_or_not_known(code: str) -> None:
    assert equivalents(read_code(code)) == ()


@pytest.mark.parametrize(
    ("bead_seat", "names"),
    [
        (
            622,
            {
                "29 x 2.1",
                "28 x 2.1",
                "700C",
                "28 x 1 5/8 x 1 1/8",
                "28 x 1 5/8 x 1 1/4",
                "28 x 1 5/8 x 1 3/8",
                "28 x 1 5/8 x 1 3/4",
            },
        ),
        (584, {"27.5 x 2.1", "26 x 1 1/2", "650B"}),
        (590, {"26 x 1 3/8", "650A"}),
        (559, {"26 x 1.75"}),
        (349, {"16 x 1 3/8", "16 x 1 1/4"}),
        (387, {"18 x 1 3/8"}),
        (239, set()),
    ],
)
def test_every_name_of_a_bicycle_rim(bead_seat: int, names: set[Any]) -> None:
    assert set(names_of_rim(bead_seat)) == names


@pytest.mark.parametrize("bead_seat", [622, 584, 559, 590, 597, 571, 406, 451, 305, 349, 203, 635])
def test_a_name_given_for_a_rim_reads_back_as_that_rim(bead_seat: int) -> None:
    for name in names_of_rim(bead_seat):
        reading = read_code(name)
        rims = {reading.bead_seat_diameter_mm}
        rims |= {other.bead_seat_diameter_mm for other in reading.alternatives}
        assert bead_seat in rims
