r"""How near the front tire comes to places of the chassis as the bar is turned.

    from above:      ______            the wheel turns about the steering axis, the place stays
               ahead | |  \            where it is; the tire is a ring of round section, and its
                     |o|   \ bar       distance is taken from the wheel's plane and center
                     |_|

    room = sqrt(a2 + (q - k)2) - w / 2     a off the wheel's plane, q in it from the center,
                                           k = R - w / 2, w the tire's width

Source: derived; checked against a separate 3-D rotation.
"""

import math

import numpy as np
import numpy.typing as npt

from jentrik.core.geometry.frame import Point

Array = npt.NDArray[np.float64]


def turned_room(
    places: Array,
    *,
    bar_deg: Array,
    front_axle: Point,
    head_angle_deg: float,
    offset_mm: float,
    radius_mm: float,
    tire_width_mm: float,
) -> Array:
    """Return the room in mm between each place and the tire at each angle of the bar.

    `places` has a row of x forward, y up, z to the right for each place, in mm; the answer has a
    row for each angle, a column for each place.  With a positive angle the wheel's front edge
    goes to the right, its rear edge to the left.
    """
    head = math.radians(head_angle_deg)
    forward = np.array([math.sin(head), math.cos(head), 0.0])
    side = np.array([0.0, 0.0, 1.0])
    center = np.array([float(front_axle[0]), float(front_axle[1]), 0.0])
    hinge = center - offset_mm * forward  # the axis point level with the axle
    bar = np.radians(bar_deg)[:, None]
    ahead = forward * np.cos(bar) + side * np.sin(bar)  # the wheel's own forward, turned
    normals = -forward * np.sin(bar) + side * np.cos(bar)
    from_center = places[None, :, :] - (hinge + offset_mm * ahead)[:, None, :]
    off = (from_center * normals[:, None, :]).sum(axis=2)
    in_plane = np.sqrt(np.maximum((from_center**2).sum(axis=2) - off**2, 0.0))
    core = radius_mm - tire_width_mm / 2
    room: Array = np.sqrt(off**2 + (in_plane - core) ** 2) - tire_width_mm / 2
    return room
