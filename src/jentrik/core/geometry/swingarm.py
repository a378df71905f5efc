r"""Where the rear axle goes as the suspension moves.

                        o pivot            the axle goes round the pivot by the angle
                     /                         travel / arm
          axle'   o     arm                so that the travel is the length of its path;
             ) /                           without a measured pivot it goes straight up
          axle  o                          in the chassis's frame

A linkage moves the axle on another curve; over its travel the difference in x is a few
millimeters.  Source: derived; the single pivot is a common stand-in for a linkage (common
practice), and so is reading the stated travel along the path.
"""

from typing import Any

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.frame import Point, Values, holds_somewhere, maths


def swing(*, axle: Point, pivot: Point | None, rise_mm: Values) -> Point:
    """Return the place in mm of an axle that rises in the chassis's frame by `rise_mm`.

    Floats or arrays that broadcast together; the pivot lies ahead of the axle.  Refuses
    one and a half arm lengths of travel, nearly a quarter turn.
    """
    x, y = axle
    if pivot is None:
        return x, y + rise_mm
    back, down = x - pivot[0], y - pivot[1]
    arm: Any = (back**2 + down**2) ** 0.5
    if holds_somewhere(abs(rise_mm) >= 1.5 * arm):
        raise OutOfRange(
            "The swingarm is too short for this travel: check the pivot's place.",
            expected="a pivot further ahead of the rear axle",
        )
    angle = rise_mm / arm
    m = maths(angle)
    cos, sin = m.cos(angle), m.sin(angle)
    return pivot[0] + back * cos + down * sin, pivot[1] - back * sin + down * cos
