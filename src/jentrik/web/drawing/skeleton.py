"""The places every drawing of a machine is built on, in the chassis's own frame, millimetres.

Measured figures fix axles, fork, bottom bracket and named points.  What no one measured is
drawn from common practice, for the eye alone, and no figure is ever read off it.
"""

import math
from dataclasses import dataclass

from jentrik.core.geometry.frame import crown_seat
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.wheel import Wheel
from jentrik.web.drawing.svg import XY

HEADSET_MM = 14.0
USUAL_HEAD_TUBE_MM = 140.0
USUAL_CLAMP_GAP_MM = 190.0  # between a motorcycle's lower and upper fork clamp


@dataclass(frozen=True, slots=True)
class Skeleton:
    """Axles, steering axis and the named places of one machine; wheels by radius."""

    rear_axle: XY
    front_axle: XY
    rear_radius: float
    front_radius: float
    rear_rim: float
    front_rim: float
    head_angle: float  # radians
    crown: XY
    fork_length: float
    fork_offset: float
    head_top: XY
    bottom_bracket: XY
    seat_direction: XY
    crank: float
    points: dict[PointRole, XY]  # the first of each role
    stand_foot: XY | None = None
    pivot: XY | None = None  # of the swingarm, where it was measured

    def up_axis(self, start: XY, length: float) -> XY:
        """Return the place a length up the steering axis's direction."""
        return (
            start[0] - length * math.cos(self.head_angle),
            start[1] + length * math.sin(self.head_angle),
        )

    def forward(self, start: XY, length: float) -> XY:
        """Return the place a length forward of the steering axis, square to it."""
        return (
            start[0] + length * math.sin(self.head_angle),
            start[1] + length * math.cos(self.head_angle),
        )

    def point(self, role: PointRole) -> XY | None:
        """Return the place of a role; None where no point has it."""
        return self.points.get(role)


def skeleton_of(bike: Bike) -> Skeleton:
    """Return the places to draw a machine from."""
    chassis = bike.chassis()
    axles = chassis.axles
    rear_radius, front_radius = float(axles.rear_radius_mm), float(axles.front_radius_mm)
    front_axle = (bike.frame.wheelbase_mm, front_radius)
    crown_x, crown_y = crown_seat(
        front_axle=front_axle,
        head_angle_deg=bike.frame.head_angle_deg,
        length_mm=bike.fork.length_mm,
        offset_mm=bike.fork.offset_mm,
    )
    head = math.radians(bike.frame.head_angle_deg)
    crown = (float(crown_x), float(crown_y))
    bottom_bracket = _bottom_bracket(bike, chassis.bottom_bracket, rear_radius)
    return Skeleton(
        rear_axle=(0.0, rear_radius),
        front_axle=front_axle,
        rear_radius=rear_radius,
        front_radius=front_radius,
        rear_rim=_rim_radius(bike.rear, rear_radius),
        front_rim=_rim_radius(bike.front, front_radius),
        head_angle=head,
        crown=crown,
        fork_length=bike.fork.length_mm,
        fork_offset=bike.fork.offset_mm,
        head_top=_head_top(bike, bottom_bracket, crown, head),
        bottom_bracket=bottom_bracket,
        seat_direction=_direction(bike.frame.seat_angle_deg or 73.0),
        crank=bike.cranks.length_mm or 170.0,
        points={point.role: (point.x_mm, point.height_mm) for point in reversed(bike.frame.points)},
        stand_foot=(bike.side_stand.foot_x_mm, 0.0) if bike.side_stand else None,
        pivot=bike.suspension.pivot_place,
    )


def _rim_radius(wheel: Wheel, radius: float) -> float:
    return wheel.tire.bead_seat_diameter_mm / 2 if wheel.tire else radius * 0.85


def _direction(angle_deg: float) -> XY:
    return -math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))


def _bottom_bracket(bike: Bike, place: tuple[object, object] | None, rear_radius: float) -> XY:
    if place is not None:
        return float(place[0]), float(place[1])  # type: ignore[arg-type]  # plain figures here
    height = bike.frame.bb_height_mm or max(rear_radius - 65.0, 270.0)
    return bike.frame.chainstay_mm or 440.0, height


def _head_top(bike: Bike, bottom_bracket: XY, crown: XY, head: float) -> XY:
    if bike.frame.stack_mm is not None and bike.frame.reach_mm is not None:
        return bottom_bracket[0] + bike.frame.reach_mm, bottom_bracket[1] + bike.frame.stack_mm
    length = USUAL_HEAD_TUBE_MM if bike.kind == "bicycle" else USUAL_CLAMP_GAP_MM
    return crown[0] - length * math.cos(head), crown[1] + length * math.sin(head)
