"""Set-ups: what two differ in, a sheet in another one, and there and back again."""

from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.amounts import in_plain
from jentrik.core.machine.declared import Part
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.setup import (
    Setup,
    differences,
    number_of,
    part_of,
    value_of,
    with_differences,
)
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.what_differs import what_differs
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.plan.proposed_setup import changes_to, flat, proposed
from jentrik.core.plan.restating import restate, sheet_in
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import jobs, machines
from jentrik.web.shop import Shop

DAY = date(2026, 11, 23)
KEYS = (
    "front.tire",
    "rear.tire",
    "rear.overall_diameter_mm",
    "rear.rim.inner_width_mm",
    "front.hub.rotor_mm",
    "fork.length_mm",
    "set.lower_cup_mm",
    "set.position",
    "rear.fitted.pressure_kpa",
    "set.rear.insert",
    "crank_mm",
)


def said(value: float | str) -> Figure:
    return Figure(value, Provenance.MEASURED, DAY)


def parts(**values: Any) -> dict[str, Figure]:
    names = {"front": "front.tire", "rear": "rear.tire", "chip": "set.position"}
    return {names.get(key, key.replace("__", ".")): said(v) for key, v in values.items()}


ANY = st.dictionaries(
    st.sampled_from(KEYS), st.sampled_from([1.0, 2.0, "37-622", "47-584"]).map(said)
)


@given(ANY, ANY)
def test_a_set_up_with_its_differences_to_another_is_the_other(
    one: dict[str, Any], other: dict[str, Any]
) -> None:
    assert differences(one, one) == ()
    assert with_differences(one, differences(one, other)) == other


def test_every_figure_of_a_wheel_fork_and_shock_is_of_a_part_and_of_the_frame_is_none() -> None:
    assert part_of("rear.rim.hooks") == (Part.WHEEL, "rear")
    assert part_of("front.fitted.make") == (Part.TIRE, "front")
    assert part_of("set.front.insert") == (Part.INSERT, "front")
    assert part_of("suspension.rear.shock_mm") == (Part.SHOCK, None)
    for key in ("wheelbase_mm", "front.axle_load_kg", "spec.rear.load_index", "use"):
        assert part_of(key) is None


def test_a_wheel_and_the_chip_made_for_it_are_one_change_and_an_insert_is_another() -> None:
    big = parts(rear="58-622", rear__rim__inner_width_mm=30.0, chip="Big wheel")
    small = parts(rear="58-584", rear__rim__inner_width_mm=30.0, chip="Small wheel")
    (one,) = what_differs(big, small, {"Small wheel": 584, "Big wheel": 622})
    assert one.words == "rear tire 58-622 → 58-584; chip or dropout Big wheel → Small wheel"
    assert len(what_differs(big, small, {})) == 2  # no one said that the chip is made for it
    insert = {**small, "set.rear.insert": said("foam")}
    assert [two.words for two in what_differs(small, insert)] == ["rear insert none → foam"]


def test_both_wheels_of_a_set_are_one_change_with_their_rotors_and_pressures() -> None:
    summer = parts(front="120/70-17 58W", rear="180/55-17 73W", front__hub__rotor_mm=320.0)
    winter = parts(front="90/90-21 54S", rear="150/70-18 70S", front__hub__rotor_mm=300.04)
    (one,) = what_differs(summer, winter)
    assert "front tire 120/70-17 58W → 90/90-21 54S" in in_plain(one.words)
    assert "rear tire 180/55-17 73W → 150/70-18 70S" in in_plain(one.words)
    assert "front rotor 320 → 300 mm" in in_plain(one.words)
    short = {**winter, "set.rear_shift_x_mm": said(10.0)}
    (back,) = what_differs(short, winter)
    assert in_plain(back.words) == "axle forward in the dropout 10 mm → none"


def test_a_figure_that_became_known_is_no_change_and_pressures_alike_are_none() -> None:
    then = parts(rear="58-584", rear__fitted__pressure_kpa=165.0)
    now = parts(rear="58-584", rear__fitted__pressure_kpa=170.0, rear__rim__inner_width_mm=30.0)
    assert what_differs(then, now) == ()


def test_another_tire_of_the_same_size_is_a_tire_renewed() -> None:
    worn = parts(rear="58-584", set__rear__tire_id=4.0)
    new = parts(rear="58-584", set__rear__tire_id=9.0)
    assert [differ.words for differ in what_differs(worn, new)] == ["rear tire renewed"]
    unnumbered = parts(rear="58-584")
    assert what_differs(unnumbered, new) == ()


def test_what_came_off_takes_its_figures_along_and_the_frame_keeps_its_own() -> None:
    old = parts(
        rear="37-622",
        rear__overall_diameter_mm=690.0,
        rear__rim__tube="tube-type",
        rear__fitted__most_kpa=600.0,
        rear__hub__spacing_mm=135.0,
        rear__hub__driver="nine-speed spline",
    )
    change = {"rear": {"tire": "47-584", "rim": {"inner_width_mm": 25}}}
    new = proposed(old, change, on=DAY)
    assert {key: figure.value for key, figure in new.items()} == {
        "rear.tire": "47-584",
        "rear.rim.inner_width_mm": 25,
        "rear.rim.bead_seat_diameter_mm": 584,
        "rear.hub.spacing_mm": 135.0,  # what the frame takes stays so
    }
    assert new["rear.tire"].provenance is Provenance.MEASURED
    assert new["rear.rim.inner_width_mm"].provenance is Provenance.ASSUMED
    same_size = proposed(old, {"rear": {"tire": "37-622"}}, on=DAY)
    assert "rear.fitted.most_kpa" not in same_size  # another tire of the same size
    assert same_size["rear.rim.tube"].value == "tube-type"


def test_guards_and_a_corrected_signal_belong_to_the_set_up() -> None:
    before = parts(front__guard="mudguard", front__guard_inside_mm=60.0)
    change = {"front": {"guard": "none"}, "speedometer": {"corrected_percent": 5.0}}
    after = proposed(before, change, on=DAY)
    assert value_of(after, "front.guard") == "none"
    assert "front.guard_inside_mm" not in after
    assert number_of(after, "set.corrected_percent") == 5.0
    back = changes_to(after, before)
    assert back["front"] == {"guard": "mudguard", "guard_inside_mm": 60.0}
    assert back["speedometer"] == {"corrected_percent": 0.0}
    assert read_proposal({"name": "back", **back}).corrected_percent == 0.0


def fitted_pairs() -> list[tuple[int, str]]:
    """Every proposal of the demo that can stand, by job and name."""
    return [(job, name) for job in range(1, 12) for name in ("A", "B")]


FIGURES = (
    "head_angle_deg",
    "trail_mm",
    "wheelbase_mm",
    "bb_height_mm",
    "stack_mm",
    "reach_mm",
    "front_center_mm",
    "seat_angle_deg",
    "bb_drop_mm",
)


@pytest.fixture(name="there", params=fitted_pairs(), ids=str)
def _there(request: pytest.FixtureRequest, shop: Shop) -> tuple[Sheet, KeptProposal]:
    """Return a machine of the demo and one of its proposals."""
    job_id, name = request.param
    kept = jobs.job(job_id).proposal(name)
    if kept is None:
        pytest.skip("this job has one proposal")
    return machines.sheet(jobs.job(job_id).machine_id), kept


def moved(sheet: Sheet, kept: KeptProposal) -> Sheet:
    """Return a sheet in the set-up a proposal leads to."""
    after = proposed(sheet.setup.parts, kept.changes, on=DAY, turned_deg=sheet.turned_deg)
    setup = Setup(0, "after", after, DAY)
    return sheet_in(sheet, setup, restate(sheet, machine_of(sheet), after))


def test_a_sheet_in_the_set_up_of_a_proposal_stands_as_the_plan_said(
    there: tuple[Sheet, KeptProposal],
) -> None:
    sheet, kept = there
    planned = outcome_of(as_measured(machine_of(sheet)), read_proposal(kept.values()))
    now = as_measured(machine_of(moved(sheet, kept))).figures.geometry
    for figure in FIGURES:
        result, stands = getattr(planned.figures.geometry, figure), getattr(now, figure)
        if result is not None:
            assert stands == pytest.approx(result, abs=1e-6), figure
    gaps = {spot.place.name: spot.predicted_gap_mm for spot in planned.figures.clearances}
    for place in moved(sheet, kept).clearances:
        assert place.gap_mm == pytest.approx(gaps[place.name])  # a gap that fouls, too


def test_there_and_back_is_as_it_was(there: tuple[Sheet, KeptProposal]) -> None:
    sheet, kept = there
    after = moved(sheet, kept)
    back = sheet_in(after, sheet.setup, restate(after, machine_of(after), sheet.setup.parts))
    assert back.setup == sheet.setup
    for key, figure in back.figures.items():
        was = sheet.figures[key]
        if isinstance(figure.value, float):
            assert figure.value == pytest.approx(was.value, abs=1e-9), key
        else:
            assert figure.value == was.value
    assert back.turned_deg == pytest.approx(sheet.turned_deg, abs=1e-9)
    for old, new in zip(sheet.points, back.points, strict=True):
        assert (new.x_mm, new.height_mm) == pytest.approx((old.x_mm, old.height_mm), abs=1e-9)
    for was_at, is_at in zip(sheet.positions, back.positions, strict=True):
        assert (is_at.x_mm, is_at.y_mm) == pytest.approx((was_at.x_mm, was_at.y_mm), abs=1e-9)


def test_a_set_up_as_a_proposal_leads_to_that_set_up(there: tuple[Sheet, KeptProposal]) -> None:
    sheet, kept = there
    after = moved(sheet, kept)
    fitted = next(
        (position.name for position in after.positions if not position.x_mm and not position.y_mm),
        "",
    )
    back = changes_to(
        after.setup.parts, sheet.setup.parts, turned_deg=after.turned_deg, fitted=fitted
    )
    if "position" in kept.changes and "set.position" not in sheet.setup.parts:
        pytest.skip("the set-up it came in names no position")
    home = moved(after, KeptProposal(0, "back", back))
    then, now = (as_measured(machine_of(one)).figures.geometry for one in (sheet, home))
    for figure in FIGURES:
        if getattr(then, figure) is not None:
            assert getattr(now, figure) == pytest.approx(getattr(then, figure), abs=1e-9), figure


def test_a_dropout_that_was_moved_twice_lies_where_the_frame_has_it() -> None:
    # 8 mm up on a machine turned 1 degree nose down is 8 cos 1 up and 8 sin 1 forward of it.
    once = proposed({}, {"rear_axle_shift_mm": {"y": 8.0}}, on=DAY)
    twice = proposed(once, {"rear_axle_shift_mm": {"y": 8.0}}, on=DAY, turned_deg=-1.0)
    assert twice["set.rear_shift_y_mm"].value == pytest.approx(8 + 7.99878, abs=1e-5)
    assert twice["set.rear_shift_x_mm"].value == pytest.approx(-0.139619, abs=1e-6)
    back = changes_to(twice, once, turned_deg=-1.0)
    assert dict(flat(back))["rear_axle_shift_mm.y"] == pytest.approx(-8)
    assert replace(Setup(1, "a", {}, DAY), name="b").name == "b"
