"""All figures of a machine that stands: the ledger's geometry, as found or as proposed.

One function for a single machine and for arrays of proposals; a figure whose measurements are
not known is None.  Wheels are unloaded: radii are half the overall diameters.  Source: derived.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from jentrik.core.geometry.frame import Point, Values
from jentrik.core.geometry.pose import Axles, Pose, PoseChange, settle
from jentrik.core.geometry.steering import mechanical_trail, trail, wheel_flop


@dataclass(frozen=True, slots=True)
class Chassis:
    """A rigid chassis as found: lengths mm, angles degrees; None is not measured.

    `bottom_bracket` is its place in the chassis's frame; `bb_height_mm` may be known without it.
    `points` are named places that turn with the chassis.
    """

    axles: Axles
    bottom_bracket: Point | None = None
    bb_height_mm: Values | None = None
    seat_angle_deg: Values | None = None
    stack_mm: Values | None = None
    reach_mm: Values | None = None
    points: Mapping[str, Point] | None = None


@dataclass(frozen=True, slots=True)
class Geometry:
    """Every geometry figure the program knows; lengths mm, angles degrees, None unknown."""

    head_angle_deg: Values
    rake_deg: Values
    seat_angle_deg: Values | None
    trail_mm: Values
    mechanical_trail_mm: Values
    wheel_flop_mm: Values
    wheelbase_mm: Values
    front_center_mm: Values | None
    bb_height_mm: Values | None
    bb_drop_mm: Values | None
    stack_mm: Values | None
    reach_mm: Values | None
    pitch_deg: Values
    front_radius_mm: Values
    rear_radius_mm: Values
    points: Mapping[str, Point]


def geometry(chassis: Chassis, change: PoseChange) -> tuple[Geometry, Pose]:
    """Return the figures of the changed machine and the pose they come from."""
    pose = settle(chassis.axles, change)
    head, ground_trail = steering_of(chassis, change, pose)
    bb_height, front_center = _bottom_bracket_figures(chassis, pose)
    stack, reach = _head_tube_top(chassis, pose)
    seat = None if chassis.seat_angle_deg is None else chassis.seat_angle_deg - pose.pitch_deg
    figures = Geometry(
        head_angle_deg=head,
        rake_deg=90.0 - head,
        seat_angle_deg=seat,
        trail_mm=ground_trail,
        mechanical_trail_mm=mechanical_trail(trail_mm=ground_trail, head_angle_deg=head),
        wheel_flop_mm=wheel_flop(trail_mm=ground_trail, head_angle_deg=head),
        wheelbase_mm=pose.wheelbase_mm,
        front_center_mm=front_center,
        bb_height_mm=bb_height,
        bb_drop_mm=None if bb_height is None else change.rear_radius_mm - bb_height,
        stack_mm=stack,
        reach_mm=reach,
        pitch_deg=pose.pitch_deg,
        front_radius_mm=change.front_radius_mm,
        rear_radius_mm=change.rear_radius_mm,
        points={name: pose.place(point) for name, point in (chassis.points or {}).items()},
    )
    return figures, pose


def steering_of(chassis: Chassis, change: PoseChange, pose: Pose) -> tuple[Values, Values]:
    """Return head angle in degrees and ground trail in mm of a machine in a pose."""
    found = chassis.axles
    head = found.head_angle_deg + change.head_turn_deg - pose.pitch_deg
    ground_trail = trail(
        radius_mm=change.front_radius_mm,
        head_angle_deg=head,
        offset_mm=found.fork_offset_mm + change.offset_more_mm,
    )
    return head, ground_trail


def as_found(chassis: Chassis) -> Geometry:
    """Return the figures of the machine as it was measured.

    What was stated stands even where its place is unknown: a bottom-bracket height without a
    chain stay, a stack without a reach.
    """
    axles = chassis.axles
    nothing = PoseChange(front_radius_mm=axles.front_radius_mm, rear_radius_mm=axles.rear_radius_mm)
    figures, _ = geometry(chassis, nothing)
    height = chassis.bb_height_mm
    stated = {
        "bb_height_mm": height,
        "bb_drop_mm": None if height is None else axles.rear_radius_mm - height,
        "stack_mm": chassis.stack_mm,
        "reach_mm": chassis.reach_mm,
        "seat_angle_deg": chassis.seat_angle_deg,
        "wheelbase_mm": axles.wheelbase_mm,
        "head_angle_deg": axles.head_angle_deg,
        "rake_deg": 90.0 - axles.head_angle_deg,
        "pitch_deg": 0.0,
        "points": dict(chassis.points or {}),
    }
    computed = {name: getattr(figures, name) for name in Geometry.__dataclass_fields__}
    return Geometry(**computed | stated)


def _bottom_bracket_figures(chassis: Chassis, pose: Pose) -> tuple[Values | None, Values | None]:
    if chassis.bottom_bracket is None:
        return None, None
    x, y = chassis.bottom_bracket
    along, up = pose.front_axle[0] - x, pose.front_axle[1] - y
    front_center = (along**2 + up**2) ** 0.5
    return pose.place(chassis.bottom_bracket)[1], front_center


def _head_tube_top(chassis: Chassis, pose: Pose) -> tuple[Values | None, Values | None]:
    """Return stack and reach: the vector from bottom bracket to head tube top, turned."""
    stack, reach = chassis.stack_mm, chassis.reach_mm
    if stack is None or reach is None:
        return None, None
    return reach * pose.sin + stack * pose.cos, reach * pose.cos - stack * pose.sin
