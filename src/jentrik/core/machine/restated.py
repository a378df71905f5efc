"""A machine as it stands after something moved: the same machine, in new figures.

Suspension going down, or a proposal carried out, leaves a machine that could have been measured
just so.  Given that way, every other computation works on it unchanged.  Source: derived.
"""

import math
from dataclasses import replace

from jentrik.core.geometry.figures import Geometry, geometry
from jentrik.core.geometry.frame import Point
from jentrik.core.geometry.pose import Pose, PoseChange
from jentrik.core.geometry.swingarm import swing
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.suspension import Pivot, Position, State
from jentrik.core.machine.wheel import Wheels


def restated(
    bike: Bike, *, change: PoseChange, figures: Geometry, pose: Pose, wheels: Wheels
) -> Bike:
    """Return the machine as it would be measured after a change.

    Gaps, room and the side stand belong to the state they were measured in and are left out.
    """
    chassis = bike.chassis()
    pivot = bike.suspension.pivot
    frame = replace(
        bike.frame,
        wheelbase_mm=float(figures.wheelbase_mm),
        head_angle_deg=float(figures.head_angle_deg),
        chainstay_mm=_distance(chassis.bottom_bracket, pose.rear_axle) or bike.frame.chainstay_mm,
        bb_height_mm=_plain(figures.bb_height_mm),
        seat_angle_deg=_plain(figures.seat_angle_deg),
        stack_mm=_plain(figures.stack_mm),
        reach_mm=_plain(figures.reach_mm),
        points=tuple(
            replace(
                point,
                x_mm=float(figures.points[point.name][0]),
                height_mm=float(figures.points[point.name][1]),
            )
            for point in bike.frame.points
        ),
        positions=tuple(_turned(position, pose) for position in bike.frame.positions),
    )
    fork = replace(
        bike.fork,
        length_mm=bike.fork.length_mm + float(change.fork_longer_mm),
        offset_mm=bike.fork.offset_mm + float(change.offset_more_mm),
    )
    return replace(
        bike,
        frame=frame,
        fork=fork,
        front=wheels.front,
        rear=wheels.rear,
        clearances=(),
        room=(),
        side_stand=None,
        suspension=replace(bike.suspension, pivot=_placed(pivot, pose)),
    )


def going_down(bike: Bike, state: State) -> PoseChange:
    """Return what the suspension does on the way from the measured state to another.

    What is not known of an end's travel counts as no movement; `Suspension.states` tells which
    states are known.
    """
    down = {end: bike.suspension.down_from_measured_mm(end, state) or 0.0 for end in ENDS}
    axle = bike.rear_axle
    x, y = swing(axle=axle, pivot=bike.suspension.pivot_place, rise_mm=down["rear"])
    return PoseChange(
        front_radius_mm=bike.wheels.radius_mm("front"),
        rear_radius_mm=bike.wheels.radius_mm("rear"),
        fork_longer_mm=-down["front"],
        rear_shift_x_mm=x - axle[0],
        rear_shift_y_mm=y - axle[1],
    )


def in_state(bike: Bike, state: State) -> tuple[Bike, Pose | None]:
    """Return the machine as it stands in a state, and the pose that took it there.

    The pose is None in the state the sheet was measured in, where nothing moves.
    """
    if state is bike.suspension.measured:
        return bike, None
    change = going_down(bike, state)
    figures, pose = geometry(bike.chassis(), change)
    there = restated(bike, change=change, figures=figures, pose=pose, wheels=bike.wheels)
    return replace(there, suspension=replace(there.suspension, measured=state)), pose


def _plain(value: object) -> float | None:
    return None if value is None else float(value)  # type: ignore[arg-type]  # one machine only


def _distance(place: Point | None, other: Point) -> float | None:
    if place is None:
        return None
    return float(((place[0] - other[0]) ** 2 + (place[1] - other[1]) ** 2) ** 0.5)


def _placed(pivot: Pivot | None, pose: Pose) -> Pivot | None:
    if pivot is None:
        return None
    x, y = pose.place((pivot.x_mm, pivot.height_mm))
    return Pivot(float(x), float(y))


def _turned(position: Position, pose: Pose) -> Position:
    x, y = turned((position.x_mm, position.y_mm), pose)
    return replace(position, x_mm=x, y_mm=y)


def turned(vector: tuple[float, float], pose: Pose) -> tuple[float, float]:
    """Return a vector of the chassis's old frame in its new one."""
    return _rotated(*vector, float(pose.cos), float(pose.sin))


def turned_by(x: float, y: float, angle_deg: float) -> tuple[float, float]:
    """Return a vector turned by an angle, nose up."""
    angle = math.radians(angle_deg)
    return _rotated(x, y, math.cos(angle), math.sin(angle))


def _rotated(x: float, y: float, cos: float, sin: float) -> tuple[float, float]:
    return x * cos - y * sin, x * sin + y * cos
