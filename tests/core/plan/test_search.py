"""Ways back and goal seek: against brute force, hand working, and their own promise."""

import math
from collections.abc import Iterator
from itertools import product
from typing import Any

import numpy as np
import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.suspension import Position
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.plan.remedies import remedies_of
from jentrik.core.plan.search import Target, WaysBack, nearest, space_of, target_of, ways_back, work
from jentrik.core.plan.seek import KNOBS, seek
from jentrik.core.rules.case import Severity
from jentrik.core.work.policy import NOTICEABLE, ShopLimits
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN

REAR_584 = read_proposal({"name": "A", "rear": {"tire": "42-584"}})
CHIP = [
    {"name": "high", "x_mm": 0, "y_mm": 0, "bead_seat_diameter_mm": 622},
    {"name": "low", "x_mm": 0, "y_mm": -8, "bead_seat_diameter_mm": 584},
    {"name": "steep", "x_mm": 0, "y_mm": -12, "bead_seat_diameter_mm": 622},
]


def found(base: dict[str, Any] = PLAN, **figures: Any) -> PlanResult:
    return as_measured(read_bike(base["bike"] | figures))


def search(
    proposal: Proposal = REAR_584, machine: PlanResult | None = None, **options: Any
) -> WaysBack:
    machine = machine or found()
    return ways_back(machine, proposal, target_of(machine, "as found"), **options)


def distance_of(machine: PlanResult, outcome: Outcome, target: Target) -> float:
    total = 0.0
    for name, wanted in target.figures.items():
        value = getattr(outcome.figures.geometry, name, None)
        value = getattr(outcome.figures.contact, name) if value is None else value
        total += ((value - wanted) / NOTICEABLE[name]) ** 2
    return math.sqrt(total)


def test_every_row_of_a_block_is_what_the_proposal_itself_gives() -> None:
    machine = found(positions=CHIP)
    target = target_of(machine, "as found")
    offered = remedies_of(machine.bike, REAR_584)
    space = space_of(machine, REAR_584, target, offered)
    for remedy, table in zip(offered, space.tables, strict=True):
        judged = work(space, table)
        for row, step in enumerate(remedy.steps):
            outcome = outcome_of(machine, step.on(REAR_584))
            if judged.distance[row] == np.inf:  # no room, and the rules say so
                assert any(spot.ok is False for spot in outcome.figures.clearances)
                continue
            expected = distance_of(machine, outcome, target)
            assert judged.distance[row] == pytest.approx(expected, abs=1e-9), step.words


def test_the_nearest_triple_is_the_one_brute_force_finds() -> None:
    machine = found()
    target = target_of(machine, "as found")
    offered = {r.id: r for r in remedies_of(machine.bike, REAR_584)}
    three = [offered[name] for name in ("lower-cup", "fork-offset", "turned-headset")]
    space = space_of(machine, REAR_584, target, tuple(three))
    best = min(
        distance_of(machine, outcome_of(machine, c.on(b.on(a.on(REAR_584)))), target)
        + (0 if all(inside_the_limits(machine, c.on(b.on(a.on(REAR_584))), target)) else 1e6)
        for a, b, c in product(*(remedy.steps for remedy in three))
    )
    answer = nearest(space, space.tables)
    assert answer is not None
    near, _ = answer
    assert near == pytest.approx(best % 1e6, abs=1e-9)


def inside_the_limits(machine: PlanResult, proposal: Proposal, target: Target) -> Iterator[bool]:
    outcome = outcome_of(machine, proposal)
    for name, wanted in target.figures.items():
        value = getattr(outcome.figures.geometry, name, None)
        value = getattr(outcome.figures.contact, name) if value is None else value
        yield target.bands(ShopLimits())[name].holds(value - wanted)


def test_a_way_back_gives_what_it_promised_and_each_further_remedy_earns_its_place() -> None:
    back = search()
    assert back.ways
    assert back.reached
    for way in back.ways:
        proposal = REAR_584
        for step in way.steps:
            proposal = step.on(proposal)
        again = outcome_of(found(), proposal)
        assert distance_of(found(), again, back.target) == pytest.approx(way.distance, abs=1e-9)
        assert way.distance < back.distance
        assert not [f for f in way.outcome.findings if f.severity is Severity.STOP]
    assert [w.cost for w in back.by_cost] == sorted(w.cost for w in back.by_cost)
    assert [w.hours for w in back.by_effort] == sorted(w.hours for w in back.by_effort)


def test_only_positions_of_the_planned_wheel_and_forks_inside_the_limit_are_offered() -> None:
    fork = {"length_mm": 395, "offset_mm": 50, "longest_mm": 405}
    machine = found(positions=CHIP, fork=fork)
    offered = {r.id: r for r in remedies_of(machine.bike, REAR_584)}
    assert [step.words for step in offered["position"].steps] == ["position low"]
    longest = max(step.sets["fork_length_mm"] for step in offered["other-fork"].steps)
    assert longest == 405
    assert max(step.sets["lower_cup_mm"] for step in offered["lower-cup"].steps) == 10
    assert "shock" not in offered
    assert "clamps" not in offered
    assert "position" not in {r.id for r in remedies_of(found().bike, REAR_584)}
    assert Position("here", 0, 0).fitted


def test_the_chip_made_for_the_wheel_is_the_cheapest_way_back() -> None:
    back = search(machine=found(positions=CHIP))
    assert back.by_cost[0].words == "position low"


def test_what_no_one_wants_is_not_tried_and_a_stop_is_never_added() -> None:
    assert all(
        "tire" not in way.words
        for way in search(without=frozenset({"front-tire", "rear-tire"})).ways
    )
    tight = [dict(PLAN["bike"]["clearances"][0], gap_mm=6)]
    for way in search(machine=found(clearances=tight)).ways:
        assert all(spot.ok for spot in way.outcome.figures.clearances if spot.ok is not None)


def test_a_proposal_with_a_stop_of_its_own_says_so_and_keeps_it() -> None:
    low = read_proposal({"name": "A", "front": {"tire": "110/80-18 40H"}})
    back = search(low, found(MOTORCYCLE))
    assert back.stops == ("Load index 40, maker asks 54",)
    assert all(way.stops == back.stops for way in back.ways)


def test_a_gap_that_is_short_already_does_not_hide_the_ways_that_leave_it() -> None:
    tight = [dict(PLAN["bike"]["clearances"][0], gap_mm=3)]
    back = search(machine=found(clearances=tight))
    assert [in_plain(stop) for stop in back.stops] == ["fork crown: 3 mm left"]
    assert back.reached
    assert all(
        way.outcome.figures.clearances[0].predicted_gap_mm in (None, 3) or way.stops == ()
        for way in back.ways
    )


def test_a_search_that_cannot_reach_the_limits_says_so() -> None:
    huge = read_proposal({"name": "A", "front": {"overall_diameter_mm": 500}})
    assert not search(huge, without=frozenset({"front-tire"})).reached


def test_which_fork_length_gives_the_old_head_angle_by_hand() -> None:
    # Rear 14 mm lower; level again when the front axle is 14 mm higher in the frame.
    answer = seek(found(), REAR_584, KNOBS["fork-length"], "head_angle_deg", 71.0)
    assert answer.reached
    assert answer.by == pytest.approx(-14 / math.sin(math.radians(71)), abs=1e-6)
    assert answer.value == pytest.approx(395 + answer.by)


@pytest.mark.parametrize("knob", KNOBS)
def test_a_sought_figure_is_there_when_the_knob_is_turned(knob: str) -> None:
    answer = seek(found(), REAR_584, KNOBS[knob], "trail_mm", 62.0)
    moved = {
        "fork-length": {"fork_length_mm": answer.value},
        "fork-offset": {"fork_offset_mm": answer.value},
        "lower-cup": {"lower_cup_mm": answer.value},
        "headset": {"headset_turn_deg": answer.value},
        "rear-axle": {"rear_shift_y_mm": answer.value},
    }.get(knob)
    if moved is None:
        end = knob.removesuffix("-diameter")
        tire = {"tire": "42-584"} if end == "rear" else {}
        proposal = read_proposal(
            {"name": "A", "rear": {"tire": "42-584"}}
            | {end: tire | {"overall_diameter_mm": answer.value}}
        )
    else:
        proposal = Proposal("A", rear=REAR_584.rear, **moved)
    assert outcome_of(found(), proposal).figures.geometry.trail_mm == pytest.approx(
        answer.figure, abs=1e-4
    )
    assert answer.reached == (abs(answer.figure - 62) < 1e-3)


def test_of_two_answers_the_one_nearest_to_the_proposal_is_told() -> None:
    # Wheelbase 1050 level; sqrt(1050^2 - d^2) = 1049.9 where the radii differ by 14.49 either way.
    # The rear stands 10 up: 2 x 4.49 more of diameter, or 2 x 24.49 less.
    high = read_proposal({"name": "A", "rear": {"overall_diameter_mm": 716}})
    answer = seek(found(), high, KNOBS["rear-diameter"], "wheelbase_mm", 1049.9)
    assert answer.reached
    assert answer.by == pytest.approx(8.98, abs=0.02)
    assert answer.value == pytest.approx(716 + 8.98, abs=0.02)
    low = read_proposal({"name": "A", "rear": {"overall_diameter_mm": 676}})
    assert seek(found(), low, KNOBS["rear-diameter"], "wheelbase_mm", 1049.9).by == pytest.approx(
        -8.98, abs=0.02
    )


def test_a_knob_that_is_turned_already_keeps_inside_its_whole_range() -> None:
    cup = read_proposal({"name": "A", "lower_cup_mm": 20})
    lowest = seek(found(), cup, KNOBS["lower-cup"], "head_angle_deg", 80.0)
    assert (lowest.by, lowest.value) == (-20, 0)
    highest = seek(found(), cup, KNOBS["lower-cup"], "head_angle_deg", 60.0)
    assert (highest.by, highest.value) == (10, 30)
    longer = read_proposal({"name": "A", "fork": {"length_mm": 405}})
    most = seek(found(), longer, KNOBS["fork-length"], "head_angle_deg", 20.0)
    assert (most.by, most.value) == (80, 485)


def test_a_figure_out_of_reach_gives_the_nearest_and_an_unknown_one_is_refused() -> None:
    answer = seek(found(), REAR_584, KNOBS["lower-cup"], "head_angle_deg", 80.0)
    assert not answer.reached
    assert answer.value == 0
    with pytest.raises(OutOfRange, match="cannot tell"):
        seek(found(stack_mm=None), REAR_584, KNOBS["lower-cup"], "reach_mm", 380.0)


def test_an_empty_block_of_rows_moves_nothing() -> None:
    machine = found()
    target = target_of(machine, "as found")
    space = space_of(machine, Proposal("A"), target, ())
    judged = work(space, np.zeros((3, 11)))
    assert judged.distance == pytest.approx(0, abs=1e-9)
    assert judged.holds.all()
