"""What the tape can tell of a change: the ± of every figure carried through to its difference.

Each measured figure is moved by its ± in a row of its own, all rows are worked at once, and the
moves of a difference are added as squares.  A tire known by its code alone is worth a twentieth
of its section height, for casings differ from their mark (common practice).  Source: derived.
"""

from collections.abc import Mapping
from typing import Any

import numpy as np

from jentrik.core.geometry.figures import Chassis, geometry
from jentrik.core.geometry.frame import bottom_bracket
from jentrik.core.geometry.pose import Axles, PoseChange
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.readings import nominal_worth, worth
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import PlanResult, change_of

FIGURES = ("head_angle_deg", "trail_mm", "bb_height_mm", "wheelbase_mm", "reach_mm", "stack_mm")
_KEYS = (
    "wheelbase_mm",
    "head_angle_deg",
    "fork.length_mm",
    "fork.offset_mm",
    "chainstay_mm",
    "bb_height_mm",
    "stack_mm",
    "reach_mm",
)


def tells(sheet: Sheet, found: PlanResult, proposal: Proposal) -> dict[str, float]:
    """Return the ± of each figure's change, in its unit; figures that are not known stay out.

    `found` stands as its sheet was measured.
    """
    bike = found.measured
    planned = proposal.wheels(bike)
    doubts = _doubts(sheet, bike)
    for end in ENDS:
        old, new = bike.wheels.at(end), planned.at(end)
        doubts[end] = _wheel_worth(sheet, old, end)
        doubts[f"new {end}"] = 0.0 if new == old else _wheel_worth(sheet, new, end)
    rows = {name: np.zeros(len(doubts) + 1) for name in doubts}
    for place, (name, doubt) in enumerate(doubts.items(), start=1):
        rows[name][place] = doubt
    changes = _changes(bike, proposal, change_of(bike, planned, proposal), rows)
    return {
        name: float(np.sqrt(np.sum((change[1:] - change[0]) ** 2)))
        for name, change in changes.items()
    }


def _doubts(sheet: Sheet, bike: Bike) -> dict[str, float]:
    """Return the ± of every figure of the chassis that is known."""
    doubts = {}
    for key in _KEYS:
        rake = key == "head_angle_deg" and key not in sheet.figures
        kept = "rake_deg" if rake else key
        figure = sheet.figures.get(kept)
        if figure is None:
            doubts[key] = 0.0
        else:
            doubts[key] = worth(kept, plus_minus=figure.plus_minus, readings=figure.readings)
    return doubts


def _changes(
    bike: Bike, proposal: Proposal, base: PoseChange, rows: dict[str, Any]
) -> dict[str, Any]:
    """Return the change of each known figure, a row for each figure moved; the first is none."""
    old = {end: bike.wheels.radius_mm(end) + rows[end] / 2 for end in ENDS}
    new = {
        end: (getattr(base, f"{end}_radius_mm") + rows[f"new {end}"] / 2)
        if rows[f"new {end}"].any() or getattr(base, f"{end}_radius_mm") != old[end][0]
        else old[end]
        for end in ENDS
    }
    chassis = _chassis(bike, old, rows)
    # A fork named by its new length or offset differs from the old one by what that one is.
    named = proposal.fork_length_mm is not None or proposal.fork_straight_mm is not None
    length = rows["fork.length_mm"] if named else 0.0
    offset = rows["fork.offset_mm"] if proposal.fork_offset_mm is not None else 0.0
    change = PoseChange(
        front_radius_mm=new["front"],
        rear_radius_mm=new["rear"],
        fork_longer_mm=base.fork_longer_mm - length,
        offset_more_mm=base.offset_more_mm - offset,
        cup_mm=base.cup_mm,
        rear_shift_x_mm=base.rear_shift_x_mm,
        rear_shift_y_mm=base.rear_shift_y_mm,
        head_turn_deg=base.head_turn_deg,
    )
    now, _ = geometry(chassis, change)
    then, _ = geometry(chassis, PoseChange(old["front"], old["rear"]))
    return {
        name: np.asarray(getattr(now, name)) - getattr(then, name)
        for name in FIGURES
        if getattr(now, name) is not None
    }


def _chassis(bike: Bike, radius_mm: Mapping[End, Any], rows: dict[str, Any]) -> Chassis:
    """Return the chassis as measured with one figure moved in each row."""
    frame, fork, place = bike.frame, bike.fork, None
    height = _plus(frame.bb_height_mm, rows["bb_height_mm"])
    stay = _plus(frame.chainstay_mm, rows["chainstay_mm"])
    if height is not None and stay is not None:
        place = bottom_bracket(
            rear_radius_mm=radius_mm["rear"], chainstay_mm=stay, bb_height_mm=height
        )
    return Chassis(
        axles=Axles(
            wheelbase_mm=frame.wheelbase_mm + rows["wheelbase_mm"],
            head_angle_deg=frame.head_angle_deg + rows["head_angle_deg"],
            front_radius_mm=radius_mm["front"],
            rear_radius_mm=radius_mm["rear"],
            fork_length_mm=fork.length_mm + rows["fork.length_mm"],
            fork_offset_mm=fork.offset_mm + rows["fork.offset_mm"],
        ),
        bottom_bracket=place,
        stack_mm=_plus(frame.stack_mm, rows["stack_mm"]),
        reach_mm=_plus(frame.reach_mm, rows["reach_mm"]),
    )


def _plus(value: float | None, moved: Any) -> Any:
    return None if value is None else value + moved


def _wheel_worth(sheet: Sheet, wheel: Wheel, end: End) -> float:
    """Return the ± of a wheel's diameter in mm."""
    if wheel.overall_diameter_mm is None:
        return nominal_worth(wheel.tire)
    key = f"{end}.overall_diameter_mm"
    figure = sheet.figures.get(key)
    stated = figure.plus_minus if figure else None
    return worth(key, plus_minus=stated, readings=figure.readings if figure else ())
