r"""Axes, signs and the fixed lengths of a chassis as found.

    Side view, x forward, y up, origin on the ground below the rear axle as found.

           \  crown seat           up the steering axis:  (-cos h, sin h)
            \                      forward normal:        ( sin h, cos h)
      L      \                     front axle = crown seat - L up the axis + offset forward
              \--o front axle
    o---------------------- y = Rr
    rear axle (0, Rr)      front axle (wheelbase, Rf)

Quantities are floats or numpy arrays that broadcast together: `Values`.
"""

import math
from typing import Any

import numpy as np
import numpy.typing as npt

from jentrik.core.amounts import Amount
from jentrik.core.errors import OutOfRange

Values = float | npt.NDArray[np.float64]
Point = tuple[Values, Values]


def maths(value: Values) -> Any:
    """Return the namespace that works this value: `numpy` for arrays, else `math`.

    Both know the functions our formulas use by the same names, so one formula serves a single
    machine, at the speed of plain floats, and arrays of any shape.
    """
    return np if isinstance(value, np.ndarray) else math


def holds_somewhere(condition: Any) -> bool:
    """Whether a comparison of `Values` is true for any of them."""
    return condition if isinstance(condition, bool) else bool(condition.any())


def within(name: str, value: float, *, least: float, most: float, unit: str) -> None:
    """Refuse with `OutOfRange`, naming the field, a value that is not finite or outside."""
    if not least <= value <= most:  # NaN fails both
        wanted = f"{Amount(least, unit)} to {Amount(most, unit)}".replace("-", "\u2212")
        raise OutOfRange(f"{Amount(value, unit)} is outside {wanted}.", field=name, expected=wanted)


def bottom_bracket(*, rear_radius_mm: Values, chainstay_mm: Values, bb_height_mm: Values) -> Point:
    """Return the bottom bracket's place in mm: its height is given, the chain stay fixes x.

    Refuses a chain stay that is not longer than the drop.
    """
    drop: Any = rear_radius_mm - bb_height_mm
    if holds_somewhere(abs(drop) >= chainstay_mm):
        raise OutOfRange(
            "The chain stay must be longer than the bottom bracket's height above or below the "
            "rear axle.",
            field="chainstay_mm",
            expected="a chain stay longer than the bottom-bracket drop",
        )
    return (chainstay_mm**2 - drop**2) ** 0.5, bb_height_mm


def crown_seat(
    *, front_axle: Point, head_angle_deg: Values, length_mm: Values, offset_mm: Values
) -> Point:
    """Return the place of the fork's crown seat (lower clamp) in mm, as found."""
    m = maths(head_angle_deg)
    head = m.radians(head_angle_deg)
    x, y = front_axle
    return (
        x - offset_mm * m.sin(head) - length_mm * m.cos(head),
        y - offset_mm * m.cos(head) + length_mm * m.sin(head),
    )
