"""One figure, one knob: which fork length, offset or diameter gives the figure that is wanted.

The knob is turned through its whole range at once, a sign change is found, and halved down to
a hundred-thousandth of its unit.  Source: derived.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.figures import geometry
from jentrik.core.geometry.frame import Values
from jentrik.core.geometry.pose import PoseChange
from jentrik.core.machine.proposal import Proposal
from jentrik.core.plan.plan import PlanResult, change_of

SOUGHT = ("head_angle_deg", "trail_mm", "bb_height_mm", "wheelbase_mm", "reach_mm", "stack_mm")
_GRID, _HALVINGS = 201, 40


_FIELD = {
    "fork_longer_mm": "fork_length_mm",
    "offset_more_mm": "fork_offset_mm",
    "cup_mm": "lower_cup_mm",
    "head_turn_deg": "headset_turn_deg",
}


@dataclass(frozen=True, slots=True)
class Knob:
    """What may be turned: its name, the part of a change it moves, and how far, in its unit."""

    name: str
    moves: str
    least: float
    most: float
    unit: str = "mm"
    doubled: bool = False  # a diameter moves its radius by half


KNOBS: dict[str, Knob] = {
    "fork-length": Knob("Fork length", "fork_longer_mm", -80, 80),
    "fork-offset": Knob("Fork offset", "offset_more_mm", -40, 40),
    "lower-cup": Knob("Lower headset cup", "cup_mm", 0, 30),
    "headset": Knob("Headset turn", "head_turn_deg", -3, 3, "°"),
    "rear-axle": Knob("Rear axle up in the frame", "rear_shift_y_mm", -40, 40),
    "front-diameter": Knob("Front diameter", "front_radius_mm", -120, 120, doubled=True),
    "rear-diameter": Knob("Rear diameter", "rear_radius_mm", -120, 120, doubled=True),
}


@dataclass(frozen=True, slots=True)
class Sought:
    """The turn of the knob that gives the figure, or how near its range comes."""

    knob: Knob
    by: float
    value: float
    figure: float
    reached: bool

    def on(self, proposal: Proposal) -> Proposal:
        """Return the proposal with the knob where this answer has it."""
        moves, changes = self.knob.moves, dict[str, Any]()
        if self.knob.doubled:
            end = moves.removesuffix("_radius_mm")
            wheel = proposal.front if end == "front" else proposal.rear
            changes[end] = replace(wheel, overall_diameter_mm=round(self.value, 2))
        elif moves == "rear_shift_y_mm":
            changes[moves] = round(proposal.rear_shift_y_mm + self.by, 2)
        else:
            tubes = proposal.tubes_up_mm if moves == "fork_longer_mm" else 0.0
            changes[_FIELD[moves]] = round(self.value + tubes, 2)
        return replace(proposal, **changes)


def seek(found: PlanResult, proposal: Proposal, knob: Knob, figure: str, wanted: float) -> Sought:
    """Return by how much to turn the knob, counted from the proposal.

    `value` is what the knob then stands at, in its unit; of several answers the nearest to the
    proposal.  Refuses a figure the sheet cannot tell, and a range on which the wheels would meet.
    """
    base = change_of(found.bike, proposal.wheels(found.bike), proposal)
    start = float(getattr(base, knob.moves)) if knob.moves in ("cup_mm", "head_turn_deg") else 0.0
    turns = np.linspace(knob.least - start, knob.most - start, _GRID)

    def off(by: Values) -> Values:
        turned, _ = geometry(found.chassis, _turned(base, knob, by))
        value: Values | None = getattr(turned, figure, None)
        if value is None:
            raise OutOfRange(
                "The sheet cannot tell this figure yet.", field="figure", expected="a known figure"
            )
        return value - wanted

    left = np.asarray(off(turns)) + np.zeros(_GRID)
    signs = np.flatnonzero(np.signbit(left[:-1]) != np.signbit(left[1:]))
    if not len(signs):
        place = int(np.abs(left).argmin())
        return _told(found, base, knob, float(turns[place]), wanted + float(left[place]), False)
    nearest = min(signs, key=lambda place: abs(float(turns[place] + turns[place + 1])))
    low, high = float(turns[nearest]), float(turns[nearest + 1])
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if np.signbit(off(middle)) == np.signbit(off(low)):
            low = middle
        else:
            high = middle
    return _told(found, base, knob, low, wanted + float(off(low)), True)


def _turned(base: PoseChange, knob: Knob, by: Values) -> PoseChange:
    moved = by / 2 if knob.doubled else by
    return replace(base, **{knob.moves: getattr(base, knob.moves) + moved})


def _told(
    found: PlanResult, base: PoseChange, knob: Knob, by: float, figure: float, reached: bool
) -> Sought:
    moved = float(getattr(base, knob.moves)) * (2 if knob.doubled else 1) + by
    stands = {
        "fork_longer_mm": found.bike.fork.length_mm,
        "offset_more_mm": found.bike.fork.offset_mm,
    }.get(knob.moves, 0.0)
    return Sought(knob, by, stands + moved, figure, reached)
