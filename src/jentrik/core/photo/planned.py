"""Where a proposal's wheels and ground lie on the photographed machine, in the picture's plane.

    in the stand   the chassis stays as in the picture; axles and ground move on it
    on the road    the ground stays; the wheels stand on it, the rear contact where it was

Places are in mm in the axes of the picture: x from rear to front axle, the rear axle zero.
Differences from as found may be drawn several times as large.
"""

import math
from dataclasses import dataclass

from jentrik.core.geometry.pose import Axles, Pose

XY = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Stance:
    """Both wheels in the picture's plane: axles and radii, and the ground line under them, mm."""

    axles: tuple[XY, XY]
    radii: tuple[float, float]
    ground: tuple[XY, XY]


def stance(axles: tuple[XY, XY], radii: tuple[float, float], *, beyond_mm: float = 150.0) -> Stance:
    """Return two wheels with the common tangent under them, drawn some way beyond both."""
    (x, y), (to_x, to_y) = axles
    span = math.hypot(to_x - x, to_y - y)
    slope = math.atan2(to_y - y, to_x - x)
    tilt = slope - math.asin(max(-1.0, min(1.0, (radii[1] - radii[0]) / span)))
    along, down = (math.cos(tilt), math.sin(tilt)), (math.sin(tilt), -math.cos(tilt))
    ends = []
    for (ax, ay), radius, way in ((axles[0], radii[0], -1), (axles[1], radii[1], 1)):
        out = way * (radius + beyond_mm)
        ends.append(
            (ax + down[0] * radius + along[0] * out, ay + down[1] * radius + along[1] * out)
        )
    return Stance(axles, radii, (ends[0], ends[1]))


def found_stance(between_mm: float, radii: tuple[float, float]) -> Stance:
    """Return the machine as it stands in the picture."""
    return stance(((0.0, 0.0), (between_mm, 0.0)), radii)


def planned_stance(
    found: Stance,
    before: Axles,
    pose: Pose,
    radii: tuple[float, float],
    *,
    view: str,
    times: float = 1.0,
) -> Stance:
    """Return a proposal's wheels on the photographed machine.

    `before` and `pose` are the machine of the sheet as found and as planned: what moved there moves
    here.  `view` is "stand" or "road".
    """
    tilt = -math.asin((found.radii[1] - found.radii[0]) / found.axles[1][0])
    along, up = (math.cos(tilt), math.sin(tilt)), (-math.sin(tilt), math.cos(tilt))

    def turned(move: XY) -> XY:
        return along[0] * move[0] + up[0] * move[1], along[1] * move[0] + up[1] * move[1]

    if view == "stand":
        moves = (
            (pose.rear_axle[0], pose.rear_axle[1] - float(before.rear_radius_mm)),
            (
                pose.front_axle[0] - float(before.wheelbase_mm),
                pose.front_axle[1] - float(before.front_radius_mm),
            ),
        )
    else:
        longer = float(pose.wheelbase_mm) - float(before.wheelbase_mm)
        moves = ((0.0, radii[0] - found.radii[0]), (longer, radii[1] - found.radii[1]))
    shifted = []
    for (x, y), move in zip(found.axles, moves, strict=True):
        by = turned((float(move[0]) * times, float(move[1]) * times))
        shifted.append((x + by[0], y + by[1]))
    sizes = [old + (new - old) * times for old, new in zip(found.radii, radii, strict=True)]
    return stance((shifted[0], shifted[1]), (sizes[0], sizes[1]))
