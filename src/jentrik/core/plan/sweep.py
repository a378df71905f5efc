"""Head angle, trail and heights through the travel: the fork diving, the rear squatting.

One end goes from unladen to full travel while the other stays as the sheet was measured.
Source: derived, from the pose and the rear axle's path.
"""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from jentrik.core.geometry.figures import Geometry, geometry
from jentrik.core.geometry.swingarm import swing
from jentrik.core.machine.declared import End
from jentrik.core.machine.proposal import Proposal
from jentrik.core.plan.plan import PlanResult, change_of

_STEPS = 25


@dataclass(frozen=True, slots=True)
class Sweep:
    """Figures through the travel of one end: arrays over `down_mm`, from none to full."""

    end: End
    down_mm: npt.NDArray[np.float64]
    figures: Geometry


def sweep(found: PlanResult, proposal: Proposal, end: End) -> Sweep | None:
    """Return the figures through one end's travel; None where it has none.

    `found` stands as its sheet was measured.
    """
    bike, suspension = found.measured, found.measured.suspension
    travel = suspension.at(end).travel_mm
    if end == "front" and proposal.fork_travel_mm is not None and travel:
        travel = proposal.fork_travel_mm
    start = suspension.at(end).down_mm(suspension.measured)
    if not travel or start is None:
        return None
    down = np.linspace(0.0, travel, _STEPS)
    change = change_of(bike, proposal.wheels(bike), proposal)
    if end == "front":
        moved = replace(change, fork_longer_mm=change.fork_longer_mm - (down - start))
    else:
        x, y = bike.rear_axle
        axle = (x + change.rear_shift_x_mm, y + change.rear_shift_y_mm)
        there = swing(axle=axle, pivot=suspension.pivot_place, rise_mm=down - start)
        moved = replace(change, rear_shift_x_mm=there[0] - x, rear_shift_y_mm=there[1] - y)
    figures, _ = geometry(found.chassis, moved)
    return Sweep(end, down, figures)
