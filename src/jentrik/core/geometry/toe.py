"""How near the pedal comes to the front tire, bar straight and turned.

Straight: the pedal's axle circles the bottom bracket; nearest to the wheel it stands on the line
to the front axle, so the room is front center - crank - wheel radius.  Turned: the wheel turns
about the steering axis, the pedal stays a fixed way out from the middle (`turned_wheel`).

ISO 4210-2 asks for 100 mm, with foot retention for 89 mm (from memory).  Source: derived; the
turned room by search over both angles.
"""

from dataclasses import dataclass

import numpy as np

from jentrik.core.geometry import turned_wheel
from jentrik.core.geometry.frame import Point

_STEPS = 41
_BAR_DEG = np.linspace(0.0, 60.0, _STEPS)
_CRANK_DEG = np.linspace(-50.0, 60.0, _STEPS)


def straight_room(*, front_center_mm: float, crank_mm: float, radius_mm: float) -> float:
    """Return the room in mm between the pedal's axle and the front tire, bar straight."""
    return front_center_mm - crank_mm - radius_mm


@dataclass(frozen=True, slots=True)
class TurnedRoom:
    """The least room in mm with the bar turned, and the bar's angle in degrees there."""

    room_mm: float
    bar_deg: float


def turned_room(
    *,
    bracket: Point,
    crank_mm: float,
    pedal_out_mm: float,
    front_axle: Point,
    head_angle_deg: float,
    radius_mm: float,
    tire_width_mm: float,
    offset_mm: float,
) -> TurnedRoom:
    """Return the least room between a pedal's middle and the tire, bar turned up to 60 degrees.

    Places in mm in the side view of the machine as it stands, x forward, y up.  The wheel is
    turned towards the pedal's side, its rear edge the other way.
    """
    crank = np.radians(_CRANK_DEG)
    pedals = np.stack(
        [
            bracket[0] + crank_mm * np.cos(crank),
            bracket[1] + crank_mm * np.sin(crank),
            np.full(_STEPS, -pedal_out_mm),
        ],
        axis=1,
    )
    room = turned_wheel.turned_room(
        pedals,
        bar_deg=_BAR_DEG,
        front_axle=front_axle,
        head_angle_deg=head_angle_deg,
        offset_mm=offset_mm,
        radius_mm=radius_mm,
        tire_width_mm=tire_width_mm,
    )
    place = int(np.argmin(room.min(axis=1)))
    return TurnedRoom(float(room[place].min()), float(_BAR_DEG[place]))
