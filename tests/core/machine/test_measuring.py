"""What is measured first: what the job turns on, in the order it is taken."""

from dataclasses import replace
from datetime import date

from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.measuring import TAKEN, to_take, wanted
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.work.ride import setup_fields
from jentrik.web.drawing.measure import _SHOWN, measure_drawing

DAY = date(2026, 11, 23)
SHOPPER = Sheet(
    1,
    "shopper",
    "bicycle",
    DrawnAs.STEP_THROUGH,
    {
        "front.tire": Figure("26 x 1 3/8", Provenance.MEASURED, DAY),
        "rear.tire": Figure("26 x 1 3/8", Provenance.MEASURED, DAY),
    },
)
TALL = replace(SHOPPER, kind="motorcycle", drawn_as=DrawnAs.TALL, figures={})


def test_every_guide_is_a_field_has_a_drawing_and_stands_once() -> None:
    guides = [FIELD_BY_KEY[key].guide for key in TAKEN]
    assert {guide.shows for guide in guides if guide} <= set(_SHOWN)
    assert TAKEN[:4] == (
        "front.tire",
        "rear.tire",
        "front.rim.bead_seat_diameter_mm",
        "rear.rim.bead_seat_diameter_mm",
    )


def test_only_what_is_sprung_is_asked_for_sag() -> None:
    def asked(sheet: Sheet) -> list[bool]:
        sag, kept = set(wanted(sheet, [])), {field.key for field in setup_fields(sheet)}
        return [
            said
            for end in ("front", "rear")
            for said in (f"suspension.{end}.sag_mm" in sag, f"suspension.{end}.sag_mm" in kept)
        ]

    forked = Figure(80, Provenance.MEASURED, DAY)
    assert asked(SHOPPER) == [False] * 4
    assert asked(replace(SHOPPER, drawn_as=DrawnAs.HARDTAIL)) == [True, True, False, False]
    assert asked(replace(SHOPPER, figures={"suspension.front.travel_mm": forked}))[:2] == [True] * 2
    assert asked(TALL) == [True] * 4


def test_an_unclear_rim_is_asked_for_where_the_tire_changes_and_not_elsewhere() -> None:
    asked = wanted(SHOPPER, [{"front": {"tire": "37-590"}}])
    assert "front.rim.bead_seat_diameter_mm" in asked
    assert "rear.rim.bead_seat_diameter_mm" not in asked
    assert asked.index("front.rim.bead_seat_diameter_mm") < asked.index("wheelbase_mm")
    assert "front.rim.bead_seat_diameter_mm" not in wanted(SHOPPER, [])


def test_measured_and_makers_figures_are_not_asked_again_assumed_and_computed_are() -> None:
    for provenance in Provenance:
        figures = {**SHOPPER.figures, "wheelbase_mm": Figure(1058.0, provenance, DAY)}
        asked = to_take(replace(SHOPPER, figures=figures), "wheelbase_mm")
        assert asked == (provenance not in (Provenance.MEASURED, Provenance.MAKER))
    assert to_take(SHOPPER, "wheelbase_mm")


def test_each_kind_of_machine_is_asked_for_its_own() -> None:
    asked = wanted(TALL, [{"front": {"tire": "110/80-18"}}])
    assert {"rake_deg", "suspension.rear.sag_mm", "side_stand.lean_deg"} <= set(asked)
    assert "head_angle_deg" not in asked
    assert "chainstay_mm" not in asked
    assert "suspension.front.sag_mm" not in wanted(SHOPPER, [])
    assert "side_stand.lean_deg" not in wanted(TALL, [])


def test_the_drawing_says_what_it_shows() -> None:
    drawn = measure_drawing("wheelbase", "motorcycle", "Where the <wheelbase> is taken")
    assert "&lt;wheelbase&gt;" in drawn
    assert drawn.count('class="mark"') == 3
