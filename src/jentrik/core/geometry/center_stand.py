r"""How far a wheel leaves the ground on the center stand, after wheels of other sizes.

    rear wheel lifted        o------------o       the stand's feet P are the machine's own place;
                            ( )   P      ( )      the ground goes through P and below the other
    ground _______gap_______.__^______..____      wheel; the gap is what is left under this one.

The feet are worked out from how it stands now: on level ground with one wheel down and the other
so far up.  Source: derived, plane trigonometry.
"""

import math

from jentrik.core.geometry.frame import Point


def feet_place(
    *, lifted: Point, down: Point, lifted_radius_mm: float, gap_mm: float, feet_ahead_mm: float
) -> Point:
    """Return the feet's place in the chassis's frame, mm.

    Axles in that frame with both wheels on the ground; `feet_ahead_mm` is forward from the lifted
    axle along the ground, less than none behind it.
    """
    rise = float(down[1]) - float(lifted[1])
    apart = math.hypot(float(down[0]) - float(lifted[0]), rise)
    forward = math.copysign(1.0, float(down[0]) - float(lifted[0]))
    on_stand = math.asin((rise - gap_mm) / apart)
    on_wheels = math.asin(rise / apart)
    turn = (on_wheels - on_stand) * forward  # from the ground's frame on the stand back
    x, y = feet_ahead_mm, -(lifted_radius_mm + gap_mm)
    return (
        float(lifted[0]) + x * math.cos(turn) - y * math.sin(turn),
        float(lifted[1]) + x * math.sin(turn) + y * math.cos(turn),
    )


def lifted_over_feet(
    *, feet: Point, lifted: Point, down: Point, down_radius_mm: float
) -> tuple[float, float]:
    """Return how high the lifted axle is on the stand, and how far the feet are ahead of it, mm."""
    x, y = float(down[0]) - float(feet[0]), float(down[1]) - float(feet[1])
    away = math.hypot(x, y)
    forward = math.copysign(1.0, x)
    slope = math.atan2(y, abs(x)) - math.asin(min(down_radius_mm / away, 1.0))
    along, up = float(lifted[0]) - float(feet[0]), float(lifted[1]) - float(feet[1])
    height = up * math.cos(slope) - along * forward * math.sin(slope)
    ahead = along * math.cos(slope) + up * forward * math.sin(slope)
    return height, -ahead
