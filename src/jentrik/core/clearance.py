"""What another tire leaves of a gap measured with the tire as found.

    radial gap' = gap - change of outer radius          side gap' = gap - half the width change

Nominal sizes, wheel centred, in the stand.  Where the axle moves relative to the place the gap
must be measured again, but for a radial place on the fork itself: a fork longer by dL takes its
crown dL further from the axle.  Sources: arithmetic; the trade's way of measuring.
"""

from dataclasses import dataclass

from jentrik.core.machine import Clearance, Wheel

MEASURE_AGAIN = "The axle moves relative to this place: measure the gap again."
WIDTH_UNKNOWN = "A nominal width is unknown: measure the gap again with the new tire."


@dataclass(frozen=True, slots=True)
class PredictedClearance:
    """A measured place and the gap predicted there, mm; None where it cannot be predicted."""

    place: Clearance
    predicted_gap_mm: float | None
    note: str | None = None

    @property
    def ok(self) -> bool | None:
        """Whether the predicted gap keeps the minimum; None where either is unknown."""
        if self.predicted_gap_mm is None or self.place.minimum_mm is None:
            return None
        return self.predicted_gap_mm >= self.place.minimum_mm


@dataclass(frozen=True, slots=True)
class AxleMoves:
    """How a proposal moves the axles: by fork, by headset cup, in the dropouts."""

    fork_changed: bool
    fork_longer_mm: float
    head_moved: bool  # by a cup, or by a headset that turns the axis
    rear_shifted: bool


def predict_clearance(
    place: Clearance, *, found: Wheel, planned: Wheel, moves: AxleMoves
) -> PredictedClearance:
    """Return the gap predicted at one place; a negative figure fouls and is not clamped."""
    on_fork = place.on == "fork"
    if place.wheel == "rear":
        moved = moves.rear_shifted
    elif on_fork:
        moved = moves.fork_changed and place.direction == "side"
    else:
        moved = moves.fork_changed or moves.head_moved
    if moved:
        return PredictedClearance(place, None, MEASURE_AGAIN)
    if place.direction == "radial":
        grown = (planned.diameter_mm - found.diameter_mm) / 2
        further = moves.fork_longer_mm if on_fork else 0.0
        return PredictedClearance(place, place.gap_mm - grown + further)
    if planned.width_mm is None or found.width_mm is None:
        return PredictedClearance(place, None, WIDTH_UNKNOWN)
    return PredictedClearance(place, place.gap_mm - (planned.width_mm - found.width_mm) / 2)
