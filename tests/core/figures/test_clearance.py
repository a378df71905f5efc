"""Gaps after a change, place by place and move by move."""

from typing import Any

import pytest

from jentrik.core.figures.clearance import (
    MEASURE_AGAIN,
    WIDTH_UNKNOWN,
    AxleMoves,
    PredictedClearance,
    Steering,
    predict_clearance,
)
from jentrik.core.machine.machine import Clearance
from jentrik.core.machine.wheel import Wheel
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.exchange.plan_document import read_bike
from tests.documents import PLAN

AXLES = {"front": (1050.0, 348.0), "rear": (0.0, 348.0)}


def moves(**changed: Any) -> AxleMoves:
    still = {
        "fork_changed": False,
        "fork_longer_mm": 0.0,
        "head_moved": False,
        "another_fork": False,
        "rear_shifted": False,
        "rear_in_dropout": False,
        "found": AXLES,
        "planned": AXLES,
        "to_full": {end: (axle,) for end, axle in AXLES.items()},
        "found_to_full": {end: (axle,) for end, axle in AXLES.items()},
        "steering": Steering(71, 50),
    }
    return AxleMoves(**still | changed)


STILL, CUP, SHIFT = moves(), moves(head_moved=True), moves(rear_shifted=True)
FORK = moves(fork_changed=True, fork_longer_mm=10.0)
TOURER = read_bike(PLAN["bike"])


def wheel(code: str, **rest: Any) -> Wheel:
    return Wheel(tire=read_code(code), **rest)


FOUND, PLANNED = wheel("37-622"), wheel("47-584")  # radius -9, width +10


def predicted(
    wheel_end: str,
    direction: str,
    on: str,
    moves: AxleMoves,
    *,
    found: Wheel = FOUND,
    planned: Wheel = PLANNED,
    minimum: float | None = 6.0,
) -> PredictedClearance:
    place = Clearance("place", wheel_end, direction, 14.0, minimum, on)
    return predict_clearance(
        place, bike=TOURER, found=found, planned=planned, moves=moves, policy=DEFAULT_POLICY
    )


@pytest.mark.parametrize(
    ("end", "direction", "on", "moves", "gap"),
    [
        ("front", "radial", "frame", STILL, 23),
        ("front", "side", "frame", STILL, 9),
        ("front", "radial", "fork", STILL, 23),
        ("front", "radial", "frame", FORK, None),
        ("front", "side", "frame", FORK, None),
        ("front", "radial", "fork", FORK, 33),  # a crown 10 mm further from the axle
        ("front", "side", "fork", FORK, None),  # another fork has other legs
        ("front", "radial", "frame", CUP, None),
        ("front", "radial", "fork", CUP, 23),  # the cup moves fork and wheel together
        ("front", "side", "fork", CUP, 9),
        ("front", "radial", "frame", SHIFT, 23),
        ("rear", "radial", "frame", SHIFT, None),
        ("rear", "side", "frame", SHIFT, None),
        ("rear", "radial", "frame", FORK, 23),
        ("rear", "radial", "frame", CUP, 23),
    ],
)
def test_which_moves_let_a_gap_be_predicted(
    end: str, direction: str, on: str, moves: AxleMoves, gap: int | None
) -> None:
    answer = predicted(end, direction, on, moves)
    assert answer.predicted_gap_mm == (None if gap is None else pytest.approx(gap))
    assert answer.note == (MEASURE_AGAIN if gap is None else None)


@pytest.mark.parametrize(
    ("end", "on", "moves", "gap"),
    [
        ("front", "fork", FORK, 23),  # travel, or tubes in the clamps: the legs stay with the axle
        ("front", "fork", moves(fork_changed=True, another_fork=True), None),
        ("front", "frame", FORK, 23),
        ("rear", "frame", SHIFT, 23),  # shock or link: the hugger goes with the swingarm
        ("rear", "frame", moves(rear_shifted=True, rear_in_dropout=True), None),
    ],
)
@pytest.mark.parametrize(("direction", "less"), [("radial", 0), ("side", 14)])
def test_what_moves_with_the_wheel_keeps_its_distance_to_the_axle(
    end: str, on: str, moves: AxleMoves, gap: int | None, direction: str, less: int
) -> None:
    # Radius -9: 14 + 9; at the side 5 mm of half width: 14 - 5.
    place = Clearance("arch", end, direction, 14.0, None, on, moves_with="wheel")
    answer = predict_clearance(
        place, bike=TOURER, found=FOUND, planned=PLANNED, moves=moves, policy=DEFAULT_POLICY
    )
    assert answer.predicted_gap_mm == (None if gap is None else pytest.approx(gap - less))


def test_a_negative_gap_fouls_and_is_not_clamped() -> None:
    big = wheel("60-622")
    answer = predicted("front", "radial", "frame", STILL, planned=big)
    assert answer.predicted_gap_mm == -9
    assert answer.ok is False


def test_exactly_the_minimum_is_enough() -> None:
    wider = wheel("45-622")
    assert predicted("front", "radial", "frame", STILL, planned=wider).predicted_gap_mm == 6
    assert predicted("front", "radial", "frame", STILL, planned=wider).ok is True


def test_without_a_minimum_nothing_is_judged() -> None:
    assert predicted("front", "radial", "frame", STILL, minimum=None).ok is None


def test_a_side_gap_needs_both_widths() -> None:
    bare = Wheel(overall_diameter_mm=690.0)
    answer = predicted("front", "side", "frame", STILL, planned=bare)
    assert (answer.predicted_gap_mm, answer.note, answer.ok) == (None, WIDTH_UNKNOWN, None)
    assert predicted("front", "radial", "frame", STILL, planned=bare).predicted_gap_mm == 17
