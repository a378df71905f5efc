r"""How a rigid chassis settles on two wheels of other sizes, other fork or moved rear axle.

    F' = F - (dL + cup) up the axis + d(offset) along the forward normal
    R' = R + shift
    d, a: length and slope of R'F' in the chassis's own frame

          F'  Rf'        the ground is the common lower tangent of the two circles, so on level
       d /               ground the line R'F' rises by Rf' - Rr' over its length d:
      R'/ a   Rr'
                         pitch p = asin((Rf' - Rr') / d) - a,    head angle' = h - p

Every other point turns by p about R'.  Exact, closed form; a positive pitch is nose up.
Source: derived; checked against a numerical solution of the two contact conditions.
"""

from dataclasses import dataclass
from typing import Any, NamedTuple

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.frame import Point, Values, holds_somewhere, maths


@dataclass(frozen=True, slots=True)
class Axles:
    """The chassis as found: what carries the axles.  Lengths mm, angle degrees."""

    wheelbase_mm: Values
    head_angle_deg: Values
    front_radius_mm: Values
    rear_radius_mm: Values
    fork_length_mm: Values = 0.0
    fork_offset_mm: Values = 0.0


@dataclass(frozen=True, slots=True)
class PoseChange:
    """What a proposal does to the axles and wheels; the zeros leave the machine as found.

    `fork_longer_mm` and `cup_mm` both push the front axle down the steering axis;
    `offset_more_mm` pushes it forward of it.  `head_turn_deg` turns the steering axis steeper
    about the crown seat, as an angle-adjusting headset does.  The rear axle's shift is in the
    chassis's frame.
    """

    front_radius_mm: Values
    rear_radius_mm: Values
    fork_longer_mm: Values = 0.0
    offset_more_mm: Values = 0.0
    cup_mm: Values = 0.0
    rear_shift_x_mm: Values = 0.0
    rear_shift_y_mm: Values = 0.0
    head_turn_deg: Values = 0.0


class Pose(NamedTuple):
    """How the chassis stands: pitch in degrees, nose up positive; the rest in mm.

    `cos` and `sin` are of the pitch; `rear_axle` and `front_axle` lie in the chassis's frame.
    """

    pitch_deg: Values
    wheelbase_mm: Values
    cos: Values
    sin: Values
    rear_axle: Point
    front_axle: Point
    rear_radius_mm: Values

    def place(self, point: Point) -> Point:
        """Return where a point of the chassis now stands: forward of the rear axle, and height."""
        x = point[0] - self.rear_axle[0]
        y = point[1] - self.rear_axle[1]
        return x * self.cos - y * self.sin, x * self.sin + y * self.cos + self.rear_radius_mm


def settle(found: Axles, change: PoseChange) -> Pose:
    """Return the pose of the changed machine on level ground.

    Floats or arrays that broadcast together.  Refuses wheels that touch or overlap.
    """
    m = maths(found.head_angle_deg)
    head = m.radians(found.head_angle_deg)
    cos_head, sin_head = m.cos(head), m.sin(head)
    down = change.fork_longer_mm + change.cup_mm
    front_x = found.wheelbase_mm + down * cos_head + change.offset_more_mm * sin_head
    front_y = found.front_radius_mm - down * sin_head + change.offset_more_mm * cos_head
    if not isinstance(change.head_turn_deg, float) or change.head_turn_deg:
        ahead, up = _swung_about_crown(found, change)
        front_x, front_y = front_x + ahead, front_y + up
    rear_x = change.rear_shift_x_mm
    rear_y = found.rear_radius_mm + change.rear_shift_y_mm
    front_radius, rear_radius = change.front_radius_mm, change.rear_radius_mm
    along, up = front_x - rear_x, front_y - rear_y
    rise, reach = front_radius - rear_radius, front_radius + rear_radius
    square: Any = along * along + up * up
    touching = square <= reach * reach
    if touching is not False and holds_somewhere(touching):  # plain floats are done at once
        raise OutOfRange(
            "The wheels would run into each other.",
            expected="axles further apart than the two wheel radii together",
        )
    level = (square - rise * rise) ** 0.5
    # Angle between two vectors by cross and dot product: no slope, no branch, no cancellation.
    cos = (along * level + up * rise) / square
    sin = (along * rise - up * level) / square
    m = maths(sin)
    return Pose(
        m.degrees(m.atan2(sin, cos)),
        level,
        cos,
        sin,
        (rear_x, rear_y),
        (front_x, front_y),
        rear_radius,
    )


def _swung_about_crown(found: Axles, change: PoseChange) -> Point:
    """Return how far the front axle moves as the steering axis turns about the crown seat.

    Down the axis lies the fork's length, forward of it the offset, both as changed; each turns
    from the old axis to the new one.
    """
    turned = found.head_angle_deg + change.head_turn_deg
    m = maths(turned)  # numpy works plain numbers too, where only one of the two is an array
    old, new = m.radians(found.head_angle_deg), m.radians(turned)
    length = found.fork_length_mm + change.fork_longer_mm
    offset = found.fork_offset_mm + change.offset_more_mm
    cos, sin = m.cos(new) - m.cos(old), m.sin(new) - m.sin(old)
    return length * cos + offset * sin, -length * sin + offset * cos
