"""Tubes raised in the clamps and forks named by their straight length, by hand."""

import math
from typing import Any

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.work.assembly import assembled
from jentrik.core.work.carry_over import Fate, parts_of
from jentrik.core.work.template import built_in
from jentrik.exchange.plan_document import proposal_document, read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN


def head_angle(base: dict[str, Any], change: dict[str, Any]) -> float:
    there = as_measured(read_bike(base["bike"]))
    outcome = outcome_of(there, read_proposal({"name": "A", **change}))
    return float(outcome.figures.geometry.head_angle_deg)


def test_tubes_up_are_a_fork_shorter_by_that_and_nothing_is_bought() -> None:
    up = {"fork": {"tubes_up_mm": 10}}
    assert head_angle(MOTORCYCLE, up) == head_angle(MOTORCYCLE, {"fork": {"length_mm": 720}})
    # The head comes down 10 sin 62.5 = 8.87 mm on 1490: 0.34 degrees (0.4 on 1400, by the trade).
    assert head_angle(MOTORCYCLE, up) - 62.5 == pytest.approx(0.34, abs=0.01)
    proposal = read_proposal({"name": "A", **up})
    there = as_measured(read_bike(MOTORCYCLE["bike"]))
    lines = parts_of(there.bike, proposal)
    assert [(line.name, line.fate) for line in lines] == [("fork tubes in the clamps", Fate.KEEP)]
    steps = [step.text for step in assembled(there.bike, outcome_of(there, proposal), built_in())]
    assert "Both tubes at one height above the clamp" in steps
    assert not any("wheel out" in step for step in steps)
    assert proposal_document(proposal) == {"name": "A", **up}


def test_a_fork_named_straight_is_the_longer_side_of_its_triangle() -> None:
    straight = math.hypot(405, 50)
    along = head_angle(PLAN, {"fork": {"length_mm": 405}})
    assert head_angle(PLAN, {"fork": {"axle_to_crown_mm": straight}}) == pytest.approx(along)
    both = {"fork": {"axle_to_crown_mm": straight, "length_mm": 400}}
    with pytest.raises(OutOfRange, match="not 400"):
        head_angle(PLAN, both)


def test_another_fork_is_judged_by_the_wheel_it_is_made_for() -> None:
    bike = read_bike(PLAN["bike"] | {"fork": {**PLAN["bike"]["fork"], "rated_bead_seat_mm": 622}})
    there = as_measured(bike)
    for fork, stops in (
        ({"length_mm": 400, "rated_bead_seat_mm": 584}, True),
        ({"length_mm": 400}, False),  # another fork: what the old one was made for says nothing
        ({"length_mm": 400, "rated_bead_seat_mm": 622}, False),
    ):
        outcome = outcome_of(there, read_proposal({"name": "A", "fork": fork}))
        found = any(finding.rule == "fork-wheel-size" for finding in outcome.findings)
        assert found is stops
