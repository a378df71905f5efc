"""What must be proved by hand before the job is signed off: figures only predict.

Source: common practice.
"""

from collections.abc import Iterable

from jentrik.core.amounts import mm
from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.machine.machine import Bike

AT_FULL_TRAVEL = (
    "Springs out or air out: take the suspension to its stop, turn lock to lock, spin the wheel."
)
AT_REST = "Turn lock to lock and spin the wheel, rider's weight on it."


def predicted_in_words(spot: PredictedClearance) -> str:
    """Return what is predicted for a place, never that there is room for sure."""
    gap = spot.predicted_gap_mm
    if gap is None:
        return spot.note or "Measure again."
    left = mm(spot.left(gap))
    if gap < 0:
        return f"Fouls by {mm(spot.fouls_by(gap))}."
    if spot.below_least:
        return f"Leaves {left}; at least {mm(spot.least_mm):g} asked for."
    worst = spot.worst_case_gap_mm
    if worst is not None and worst < 0:
        return f"Predicted to leave {left} at rest and to touch on the road."
    if worst is not None and spot.least_mm is not None and worst < spot.least_mm:
        return f"Predicted to leave {left} at rest, {mm(spot.left(worst))} on the road; measure it."
    return f"Predicted to leave {left}; measure it."


def in_order(clearances: Iterable[PredictedClearance]) -> list[PredictedClearance]:
    """Return places in the order they are proved: what no one can predict first, then by room."""

    def tightness(spot: PredictedClearance) -> float:
        worst = spot.worst_case_gap_mm
        return -1e9 if worst is None else worst

    return sorted(clearances, key=tightness)


def prove_by_hand(bike: Bike, clearances: Iterable[PredictedClearance]) -> tuple[str, ...]:
    """Return the lines of the job card that prove the room, the tightest place first."""
    sprung = bool(bike.suspension.front.travel_mm or bike.suspension.rear.travel_mm)
    lines = [AT_FULL_TRAVEL if sprung else AT_REST]
    for spot in in_order(clearances):
        name, wheel = spot.place.name, spot.place.wheel
        if spot.predicted_gap_mm is None:
            lines.append(f"{name}, {wheel}: measure the clearance with the new wheel in.")
        else:
            lines.append(
                f"{name}, {wheel}: {mm(spot.left(spot.predicted_gap_mm))} predicted, at least "
                f"{mm(spot.least_mm):g} asked for; measure it."
            )
    return tuple(lines)
