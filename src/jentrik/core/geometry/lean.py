r"""How far a machine leans until a place on its side touches the ground.

    rear view, upright; b out from the middle, h up from the ground, r the tire's crown radius

          |      the crown rolls on the ground: its center stays r above it, and everything on the
          |   .P   machine turns about that center.  P = (b, h) touches when it is r below it:
         (|)
     _____|____       (h - r) cos w - b sin w = -r,   w = acos(-r / s) - atan2(b, h - r),
                       s the distance of P from the crown's center

A thin tire (r = 0) touches at atan(h / b).  Source: derived.
"""

import math

import numpy as np

from jentrik.core.geometry.frame import Values, maths


def lean_at_touch(*, height_mm: Values, out_mm: Values, crown_radius_mm: Values) -> Values:
    """Return the lean in degrees at which a place touches; 0 or less where it touches already.

    Floats or arrays that broadcast together; `crown_radius_mm` is of a round tire's tread.  A
    place within the crown's circle never touches; the answer is the lean at which it is lowest.
    """
    m = maths(height_mm)
    up = height_mm - crown_radius_mm
    reach = m.hypot(up, out_mm)
    farthest = max if m is math else np.maximum
    share = crown_radius_mm / farthest(farthest(reach, crown_radius_mm), 1e-9)
    answer: Values = m.degrees(m.acos(-share) - m.atan2(out_mm, up))
    return answer
