r"""How long spokes must be, from hub, rim and lacing.

        rim, radius R = half the effective rim diameter
          .
         /  .       a spoke runs from its hole in the flange (circle of radius r, a way f from the
        /     .     wheel's middle) to the rim, turned on by the angle a from its own hole:
       o--r--
    flange            a = crossings x 360 / spokes of one flange
                      L = sqrt(R^2 + r^2 + f^2 - 2 R r cos a) - half the hole

Lengths to the seat of the nipple; the builder rounds to what is sold and to the stretch known.
Source: derived, plane trigonometry; the hole of 2.6 mm is common practice.
"""

import math
from dataclasses import dataclass

from jentrik.core.machine.wheel import Wheel

HOLE_MM = 2.6  # of a flange, for spokes of 2 mm


@dataclass(frozen=True, slots=True)
class SpokeLengths:
    """The spokes of one wheel, mm."""

    left_mm: float
    right_mm: float


def spoke_length(
    *, rim_mm: float, circle_mm: float, flange_mm: float, spokes: int, crossings: int
) -> float:
    """Return a spoke's length in mm.

    `rim_mm` is the effective rim diameter, `circle_mm` that of the flange's holes, `flange_mm`
    the way from the wheel's middle to the flange, `spokes` those of the whole wheel.
    """
    rim, circle = rim_mm / 2, circle_mm / 2
    turned = math.radians(crossings * 360.0 / (spokes / 2))
    square = rim**2 + circle**2 + flange_mm**2 - 2 * rim * circle * math.cos(turned)
    return math.sqrt(square) - HOLE_MM / 2


def spoke_lengths(wheel: Wheel) -> SpokeLengths | None:
    """Return the lengths at both flanges; None where hub, rim or lacing is not all known."""
    hub, rim = wheel.hub, wheel.rim.effective_mm if wheel.rim else None
    known = (hub.left_circle_mm, hub.left_flange_mm, hub.right_circle_mm, hub.right_flange_mm)
    if rim is None or hub.spokes is None or hub.crossings is None or None in known:
        return None
    left, right = (
        spoke_length(
            rim_mm=rim,
            circle_mm=circle or 0.0,
            flange_mm=flange or 0.0,
            spokes=round(hub.spokes),
            crossings=round(hub.crossings),
        )
        for circle, flange in (known[:2], known[2:])
    )
    return SpokeLengths(left, right)
