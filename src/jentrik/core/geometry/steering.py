r"""Trail, mechanical trail and wheel flop, chassis at rest on level ground.

              \            steering axis; head angle h taken from the horizontal
               \-o         front axle, `offset` ahead of the axis
                \|
                 \         o to C: wheel radius
                 |\
    y            | \       trail = P - C, positive when the axis point leads
    |___ x ______C__P___

Source: derived, plane trigonometry on this sketch; rake is 90 - head angle.
"""

from jentrik.core.geometry.frame import Values, maths


def trail(*, radius_mm: Values, head_angle_deg: Values, offset_mm: Values) -> Values:
    """Return the ground trail in mm.

    `offset_mm` is perpendicular to the steering axis, positive forward.  A negative trail is an
    answer.  The head angle lies between 0 and 180 degrees.
    """
    m = maths(head_angle_deg)
    head = m.radians(head_angle_deg)
    answer: Values = (radius_mm * m.cos(head) - offset_mm) / m.sin(head)
    return answer


def mechanical_trail(*, trail_mm: Values, head_angle_deg: Values) -> Values:
    """Return the distance from the contact to the steering axis in mm, perpendicular to it."""
    m = maths(head_angle_deg)
    answer: Values = trail_mm * m.sin(m.radians(head_angle_deg))
    return answer


def wheel_flop(*, trail_mm: Values, head_angle_deg: Values) -> Values:
    """Return the wheel flop in mm: trail x sin x cos of the head angle.

    Turned by a small angle the front sinks by half of it times the square of that angle in
    radians.  The sign is that of the trail.
    """
    m = maths(head_angle_deg)
    head = m.radians(head_angle_deg)
    answer: Values = trail_mm * m.sin(head) * m.cos(head)
    return answer
