r"""The places the rider touches: saddle, bar, pedals or pegs, and what a change does to them.

        bar o             saddle to bar, level and up; the seat angle at the rider's own saddle
            |             height; the lowest pedal; how the weight lies between the wheels.
    saddle o|
        \   |             The centre of mass of rider and machine together is an estimate:
         o BB             over the pedals or pegs by half the way up to the saddle, and as far
    o-----------o         forward as the middle of saddle, bar and feet (common practice).

The named places turn with the chassis; bar rise, spacers, saddle height and crank move them on
it.  Source: derived, but for the estimate.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from jentrik.core.geometry.figures import Geometry
from jentrik.core.geometry.frame import Point
from jentrik.core.machine.machine import Bike, NamedPoint
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.proposal import ContactChange

_ROLES = (PointRole.SADDLE, PointRole.BAR, PointRole.FEET, PointRole.STAND_OVER)
PEDAL_HALF_MM = 10.0  # of a pedal's thickness, below its axle (common practice)


@dataclass(frozen=True, slots=True)
class Contact:
    """Where the rider sits, holds and stands, mm and degrees; None is not known."""

    seat_height_mm: float | None = None
    feet_height_mm: float | None = None
    saddle_to_bar_mm: float | None = None
    bar_above_saddle_mm: float | None = None
    seat_angle_at_saddle_deg: float | None = None
    pedal_height_mm: float | None = None
    front_share_percent: float | None = None
    standover_height_mm: float | None = None
    saddle_to_cranks_mm: float | None = None


def contact(bike: Bike, figures: Geometry, bracket: Point | None) -> Contact:
    """Return the contact figures of a machine in a pose.

    Places forward of the rear axle and above the ground, the bottom bracket's too.
    """
    points = {name: (float(x), float(y)) for name, (x, y) in figures.points.items()}
    saddle, bar, feet, over = (bike.place_of(role, points) for role in _ROLES)
    values: dict[str, float | None] = {
        "seat_height_mm": saddle[1] if saddle else None,
        "feet_height_mm": feet[1] if feet else None,
        "standover_height_mm": over[1] if over else None,
    }
    if saddle and bar:
        values["saddle_to_bar_mm"] = bar[0] - saddle[0]
        values["bar_above_saddle_mm"] = bar[1] - saddle[1]
    if saddle and bracket:
        up, ahead = saddle[1] - float(bracket[1]), float(bracket[0]) - saddle[0]
        values["seat_angle_at_saddle_deg"] = math.degrees(math.atan2(up, ahead))
        values["saddle_to_cranks_mm"] = math.hypot(up, ahead)
    if figures.bb_height_mm is not None and bike.cranks.length_mm is not None:
        values["pedal_height_mm"] = _pedal_height(bike, figures)
    stands = bracket or feet
    if saddle and bar and stands:
        forward = (saddle[0] + bar[0] + float(stands[0])) / 3
        values["front_share_percent"] = forward / float(figures.wheelbase_mm) * 100
    return Contact(**values)


def figure_of(key: str, figures: Geometry, touched: Contact) -> float | None:
    """Return a figure by its key, of the chassis or of where the rider touches it."""
    value = getattr(touched if key in Contact.__dataclass_fields__ else figures, key)
    return None if value is None else float(value)


def _pedal_height(bike: Bike, figures: Geometry) -> float:
    assert figures.bb_height_mm is not None
    assert bike.cranks.length_mm is not None
    return float(figures.bb_height_mm) - bike.cranks.length_mm - PEDAL_HALF_MM


def moved(bike: Bike, change: ContactChange) -> Bike:
    """Return the machine with bar, saddle and crank moved on its chassis, as found."""
    head = math.radians(bike.frame.head_angle_deg)
    seat = math.radians(bike.frame.seat_angle_deg or 90.0)
    along = change.spacers_mm
    moves = {
        PointRole.BAR: (-along * math.cos(head), along * math.sin(head) + change.bar_rise_mm),
        PointRole.SADDLE: (
            -change.saddle_rise_mm * math.cos(seat),
            change.saddle_rise_mm * math.sin(seat),
        ),
    }
    points = tuple(_moved(point, moves) for point in bike.frame.points)
    crank = bike.cranks.length_mm if change.crank_mm is None else change.crank_mm
    return replace(
        bike, frame=replace(bike.frame, points=points), cranks=replace(bike.cranks, length_mm=crank)
    )


def _moved(point: NamedPoint, moves: Mapping[PointRole, tuple[float, float]]) -> NamedPoint:
    if point.role not in moves:
        return point
    x, y = moves[point.role]
    return replace(point, x_mm=point.x_mm + x, height_mm=point.height_mm + y)
