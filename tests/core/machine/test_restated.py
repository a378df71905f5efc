"""A changed machine result anew: taking the change back gives the machine as it was measured."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.restated import restated, turned
from jentrik.core.machine.suspension import State
from jentrik.core.machine.wheel import WheelChange
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.work.policy import Band, ShopLimits
from jentrik.exchange.plan_document import read_bike
from tests.documents import PLAN

WHOLE = {
    "front": {"tire": "37-622", "overall_diameter_mm": 696.0},
    "rear": {"tire": "37-622", "overall_diameter_mm": 690.0},
    "suspension": {
        "front": {"travel_mm": 100, "sag_mm": 20},
        "rear": {"pivot_x_mm": 420, "pivot_height_mm": 380},
    },
    "positions": [{"name": "here", "x_mm": 0, "y_mm": 0}, {"name": "low", "x_mm": 3, "y_mm": 7}],
}

proposals = st.builds(
    Proposal,
    name=st.just("A"),
    front=st.builds(lambda d: WheelChange(overall_diameter_mm=d), st.floats(620, 740)),
    rear=st.builds(lambda d: WheelChange(overall_diameter_mm=d), st.floats(620, 740)),
    fork_length_mm=st.floats(360, 430),
    fork_offset_mm=st.floats(35, 60),
    lower_cup_mm=st.floats(0, 15),
    rear_shift_x_mm=st.floats(-15, 15),
    rear_shift_y_mm=st.floats(-15, 15),
)


def machine(**figures: Any) -> PlanResult:
    return as_measured(read_bike(PLAN["bike"] | WHOLE | figures))


def there(found: PlanResult, outcome: Outcome) -> Bike:
    return restated(
        found.bike,
        change=outcome.change,
        figures=outcome.figures.geometry,
        pose=outcome.pose,
        wheels=outcome.figures.wheels,
    )


@settings(max_examples=60)
@given(proposals)
def test_taking_a_change_back_is_the_machine_as_found(proposal: Proposal) -> None:
    found = machine()
    outcome = outcome_of(found, proposal)
    changed = there(found, outcome)
    x, y = turned((-proposal.rear_shift_x_mm, -proposal.rear_shift_y_mm), outcome.pose)
    back = Proposal(
        "back",
        WheelChange(overall_diameter_mm=696.0),
        WheelChange(overall_diameter_mm=690.0),
        fork_length_mm=395.0,
        fork_offset_mm=50.0,
        lower_cup_mm=-proposal.lower_cup_mm,
        rear_shift_x_mm=x,
        rear_shift_y_mm=y,
    )
    again = outcome_of(as_measured(changed), back).figures.geometry
    for name in (
        "head_angle_deg",
        "trail_mm",
        "wheelbase_mm",
        "bb_height_mm",
        "stack_mm",
        "reach_mm",
        "front_center_mm",
        "seat_angle_deg",
    ):
        assert getattr(again, name) == pytest.approx(
            getattr(found.figures.geometry, name), abs=1e-9
        ), name
    (saddle,) = again.points.values()
    assert saddle == pytest.approx((120, 980), abs=1e-9)


def test_a_changed_machine_measures_what_was_predicted() -> None:
    found = machine()
    outcome = outcome_of(found, Proposal("A", rear=WheelChange(overall_diameter_mm=650.0)))
    measured = as_measured(there(found, outcome)).figures.geometry
    for name in ("head_angle_deg", "trail_mm", "wheelbase_mm", "bb_height_mm", "stack_mm"):
        assert getattr(measured, name) == pytest.approx(
            getattr(outcome.figures.geometry, name), abs=1e-9
        )


def test_positions_and_pivot_turn_with_the_chassis() -> None:
    found = machine()
    outcome = outcome_of(found, Proposal("A", rear=WheelChange(overall_diameter_mm=650.0)))
    changed = there(found, outcome)
    low = next(position for position in changed.frame.positions if position.name == "low")
    assert low.x_mm**2 + low.y_mm**2 == pytest.approx(3**2 + 7**2)
    arm = 420.0**2 + (380 - 345) ** 2
    assert changed.suspension.pivot is not None
    x, y = changed.suspension.pivot_place or (0, 0)
    assert x**2 + (y - 325) ** 2 == pytest.approx(arm)
    assert changed.position(None).name == "here"


def test_gaps_and_stand_stay_with_the_state_they_were_measured_in() -> None:
    stand = {"lean_deg": 11, "foot_out_mm": 240, "foot_x_mm": 500}
    found = machine(side_stand=stand)
    assert as_measured(found.bike, State.SAG).bike.clearances == ()
    assert as_measured(found.bike, State.SAG).bike.side_stand is None
    assert as_measured(found.bike).bike.clearances != ()


def test_wider_limits_hold_more() -> None:
    assert Band(-10, 15).times(0.5) == Band(-5, 7.5)
    assert ShopLimits().times(2).trail_mm == Band(-16, 16)
