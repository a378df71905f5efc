"""Sheets compared with themselves: true ones are quiet, wrong figures found, missing ones come."""

import math
from dataclasses import replace
from datetime import date
from typing import Any

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.consistency import (
    RELATIONS,
    completed,
    contradiction_in_words,
    contradictions,
    values_of,
)
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.readings import USUAL_PLUS_MINUS, read_readings, worth
from jentrik.core.machine.sheet import DrawnAs, Sheet

DAY = date(2026, 11, 23)
HEAD = math.radians(71)
BRACKET = (math.sqrt(445**2 - 73**2), 275.0)  # wheels of 348 mm: drop 73
CROWN = (
    1050 - 50 * math.sin(HEAD) - 395 * math.cos(HEAD),
    348 - 50 * math.cos(HEAD) + 395 * math.sin(HEAD),
)
TOP = (CROWN[0] - 150 * math.cos(HEAD), CROWN[1] + 150 * math.sin(HEAD))
# One machine, drawn by hand with ruler and cosine; every figure follows from the same points.
TRUE = {
    "front.tire": "37-622",
    "rear.tire": "37-622",
    "wheelbase_mm": 1050.0,
    "head_angle_deg": 71.0,
    "fork.length_mm": 395.0,
    "fork.offset_mm": 50.0,
    "chainstay_mm": 445.0,
    "bb_height_mm": 275.0,
    "stack_mm": TOP[1] - 275,
    "reach_mm": TOP[0] - BRACKET[0],
    "cross.bb_drop_mm": 73.0,
    "cross.front_center_mm": math.hypot(1050 - BRACKET[0], 73),
    "cross.trail_mm": (348 * math.cos(HEAD) - 50) / math.sin(HEAD),
    "cross.head_tube_mm": 150.0,
}


def sheet(without: set[str] | tuple[Any, ...] = (), **changed: Any) -> Sheet:
    values = {key: value for key, value in TRUE.items() if key not in without}
    values |= {key.replace("__", "."): value for key, value in changed.items()}
    figures = {key: Figure(value, Provenance.MEASURED, DAY) for key, value in values.items()}
    return Sheet(1, "tourer", "bicycle", DrawnAs.DIAMOND, figures)


def test_a_true_sheet_agrees_with_itself() -> None:
    for relation in RELATIONS:
        assert relation.left(values_of(sheet())) == pytest.approx(0, abs=1e-9), relation.id
    assert contradictions(sheet()) == ()


def test_a_sheet_inside_what_the_tape_can_tell_is_left_alone() -> None:
    assert contradictions(sheet(wheelbase_mm=1052.0, bb_height_mm=276.0)) == ()


@pytest.mark.parametrize(
    ("key", "wrong"),
    [
        ("cross.bb_drop_mm", 63.0),
        ("wheelbase_mm", 1070.0),
        ("cross.front_center_mm", 640.0),
        ("head_angle_deg", 73.0),
        ("cross.trail_mm", 55.0),
        ("fork.length_mm", 375.0),
        ("reach_mm", 400.0),
    ],
)
def test_one_wrong_figure_is_named_with_what_would_fit(key: str, wrong: float) -> None:
    said = contradictions(sheet(**{key.replace(".", "__"): wrong}))
    blamed = {one.likely: one for one in said}
    assert key in blamed
    assert blamed[key].value == pytest.approx(wrong)
    near = 0.3 if key.startswith("head") else 1
    assert blamed[key].would_fit == pytest.approx(TRUE[key], abs=near)
    words = contradiction_in_words(blamed[key])
    assert FIELD_BY_KEY[key].label.lower() in words.lower()
    assert "would fit" in words


def test_an_assumed_figure_is_doubted_before_a_measured_one() -> None:
    keys = ("front.tire", "rear.tire", "bb_height_mm", "cross.bb_drop_mm")
    base = sheet(without=set(TRUE) - set(keys), cross__bb_drop_mm=63.0)
    guessed = replace(base.figures["bb_height_mm"], provenance=Provenance.ASSUMED)
    wrong = replace(base, figures={**base.figures, "bb_height_mm": guessed})
    (only,) = contradictions(wrong)
    assert only.likely == "bb_height_mm"
    assert only.would_fit == pytest.approx(285)


@pytest.mark.parametrize(
    "key",
    [
        "bb_height_mm",
        "wheelbase_mm",
        "chainstay_mm",
        "fork.offset_mm",
        "fork.length_mm",
        "head_angle_deg",
    ],
)
def test_a_missing_figure_follows_from_the_others_and_is_marked(key: str) -> None:
    whole = completed(sheet(without=(key,)))
    figure = whole.figures[key]
    assert figure.provenance is Provenance.COMPUTED
    assert figure.value == pytest.approx(TRUE[key], abs=0.01)
    assert contradictions(whole) == ()
    stated = Figure(1.0, Provenance.MEASURED, DAY)
    again = completed(replace(whole, figures={**whole.figures, key: stated}))
    assert again.figures[key].value == 1.0


def test_a_motorcycles_offset_follows_from_rake_and_trail() -> None:
    # (347.5 cos 62.5 - 62) / sin 62.5 = 110.99 mm of trail on a 90/90-21.
    values = {
        "front.tire": "90/90-21",
        "rear.tire": "130/80-17",
        "rake_deg": 27.5,
        "cross.trail_mm": 110.99,
    }
    figures = {key: Figure(value, Provenance.MAKER, DAY) for key, value in values.items()}
    whole = completed(Sheet(1, "single", "motorcycle", DrawnAs.TALL, figures))
    assert whole.figures["fork.offset_mm"].value == pytest.approx(62.0, abs=0.02)


def test_figures_that_make_no_triangle_are_named_and_not_crashed_on() -> None:
    for wrong in ({"chainstay_mm": 60.0}, {"cross__front_center_mm": 20.0}):
        assert contradictions(sheet(**wrong))
    completed(sheet(without=("wheelbase_mm",), chainstay_mm=60.0))


def test_the_scatter_of_readings_averages_out_and_the_tools_error_does_not() -> None:
    taken = read_readings("1046; 1044; 1048 ± 3", unit="mm")
    assert (taken.mean, taken.plus_minus) == (1046, 3)
    # Spread 2 mm over three readings: 4.303 x 2 / sqrt 3 = 4.968 by Student's t for two that are
    # free; with the tape's own 2, which every reading shares, sqrt(4 + 24.68) = 5.356.
    assert worth("wheelbase_mm", plus_minus=None, readings=taken.readings) == pytest.approx(
        5.356, abs=0.001
    )
    assert worth("wheelbase_mm", plus_minus=None, readings=(1046.0,) * 9) == 2
    with pytest.raises(OutOfRange, match="far apart"):
        read_readings("1046; 10", unit="mm")
    with pytest.raises(OutOfRange, match="below nothing"):
        read_readings("1046 ± -2", unit="mm")
    assert worth("wheelbase_mm", plus_minus=9, readings=()) == 9
    assert worth("wheelbase_mm", plus_minus=None, readings=()) == USUAL_PLUS_MINUS["wheelbase_mm"]
    assert set(USUAL_PLUS_MINUS) <= set(FIELD_BY_KEY)


def test_a_computer_reads_over_by_its_setting_against_what_its_wheel_rolls() -> None:
    given = {"set__instrument_mm": 2150.0, "speedometer__wheel": "front"}
    key = "speedometer.reads_over_percent"
    # It counts 2150 for each turn: 2150 / 2100 is 2.38 % more than it rolled.
    assert completed(sheet(**given, front__rolled_mm=2100.0)).figures[key].value == 2.38
    # Unrolled, the 696 mm of a 37-622 go round 2186.5 mm.
    unrolled = completed(sheet(**given)).figures[key]
    assert (unrolled.value, unrolled.provenance) == (-1.67, Provenance.COMPUTED)
    stated = completed(sheet(**given, speedometer__reads_over_percent=4.0))
    assert stated.figures[key].value == 4.0
    assert key not in completed(sheet(set__instrument_mm=2150.0)).figures  # fed by no one knows
