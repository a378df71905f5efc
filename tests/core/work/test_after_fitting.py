"""The sheet made of what was fitted stands exactly as the plan said."""

import math
from typing import Any

import pytest

from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.work.after_fitting import Expectation, SizeAgainstMark, expectations, sensed_ratio
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN


def planned(
    base: dict[str, Any] = PLAN, changes: dict[str, dict[str, str]] | None = None, **bike: Any
) -> tuple[PlanResult, Outcome]:
    found = as_measured(read_bike({**base["bike"], **bike}))
    return found, outcome_of(found, read_proposal({"name": "A", **(changes or {})}))


def asked(
    base: dict[str, Any] = PLAN, changes: dict[str, dict[str, str]] | None = None, **bike: Any
) -> dict[str, Expectation]:
    return {
        expectation.key: expectation
        for expectation in expectations(*planned(base, changes, **bike), {})
    }


def test_what_is_measured_again_and_what_the_plan_says_of_it() -> None:
    result = asked(changes={"rear": {"tire": "47-584"}})
    assert result["rear.overall_diameter_mm"].predicted == 584 + 2 * 47
    # A casing's height within 5 %: 2 x 0.05 x 47.
    assert result["rear.overall_diameter_mm"].plus_minus == pytest.approx(4.7)
    assert result["rear.width_mm"].predicted == 47
    assert "front.width_mm" not in result  # the front tire stays
    # Front radius 348, rear 339 on 1050 mm: asin(9 / 1050) slacker.
    turned = math.degrees(math.asin(9 / 1050))
    assert result["head_angle_deg"].predicted == pytest.approx(71 - turned, abs=0.01)
    assert "place:fork crown" in result
    assert "place:chain stays" in result


def test_a_motorcycle_is_asked_for_rake_seat_and_stand() -> None:
    result = asked(
        MOTORCYCLE,
        {"front": {"tire": "110/80-18 58H"}},
        points=[{"name": "Seat", "x_mm": 500, "height_mm": 890}],
    )
    assert {"rake_deg", "seat_height_mm", "side_stand.lean_deg"} <= set(result)
    assert "head_angle_deg" not in result


def test_a_roll_out_follows_the_circumference() -> None:
    front = {"tire": "37-622", "rolled_mm": 2155}
    result = asked(changes={"front": {"tire": "47-584"}}, front=front)
    assert result["front.rolled_mm"].predicted == pytest.approx(2155 * 678 / 696)


def test_the_instrument_is_fed_by_the_wheel_as_it_was_measured() -> None:
    _, outcome = planned(changes={"front": {"tire": "47-584"}})
    assert sensed_ratio(outcome, {}) == pytest.approx(678 / 696)
    assert sensed_ratio(outcome, {"front.overall_diameter_mm": 674}) == pytest.approx(674 / 696)


def test_how_far_a_tire_lies_from_its_mark() -> None:
    assert SizeAgainstMark("47-584", "width", 47, 45.6).off_percent == pytest.approx(
        -2.98, abs=0.01
    )
