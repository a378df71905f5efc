"""Angles in a picture alone: marked lines against a marked plumb or ground line.

Of a picture without both wheels, a machine on its stand from behind say.  They are those of the
picture: true where the camera stands square to what is measured.  A line's scatter is that of its
marks over its length, as said or as three or more lie off it; ± two standard deviations.  Source:
derived.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from jentrik.core.plus_minus import TWO, deviations

PLUMB, GROUND = "plumb line", "ground line"


@dataclass(frozen=True, slots=True)
class PlaneAngle:
    """The angle between a line and a reference in the picture, degrees, with its ±."""

    line: str
    reference: str
    degrees: float
    plus_minus: float


def angles_in_picture(marks: Mapping[str, Any]) -> list[PlaneAngle]:
    """Return the angle of each marked line with the plumb or ground line; none without one."""
    lines = {mark["name"].casefold(): mark for mark in marks["lines"] if len(mark["px"]) >= 2}
    reference = next((lines[name] for name in (PLUMB, GROUND) if name in lines), None)
    if reference is None:
        return []
    base, loose = _direction(reference["px"], marks["click_px"])
    found = []
    for name, one in lines.items():
        if name in (PLUMB, GROUND):
            continue
        angle, scatter = _direction(one["px"], marks["click_px"])
        apart = abs((angle - base + 90) % 180 - 90)
        within = 2 * math.hypot(loose, scatter)
        found.append(PlaneAngle(one["name"], reference["name"], apart, within))
    return found


def _direction(px: Sequence[Sequence[float]], click_px: float) -> tuple[float, float]:
    """Return a line's direction in degrees and its standard deviation."""
    x, y = (sum(one[i] for one in px) / len(px) for i in (0, 1))
    xx = sum((one[0] - x) ** 2 for one in px)
    yy = sum((one[1] - y) ** 2 for one in px)
    xy = sum((one[0] - x) * (one[1] - y) for one in px)
    angle = 0.5 * math.atan2(2 * xy, xx - yy)
    length = math.sqrt(max(xx + yy, 1e-9))
    free, across = len(px) - 2, (xx + yy - math.hypot(xx - yy, 2 * xy)) / 2
    seen = math.sqrt(max(across, 0.0) / free) * deviations(free) / TWO if free else 0.0
    return math.degrees(angle), math.degrees(max(click_px, seen) / length)
