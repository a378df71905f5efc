"""What a machine touches first: pedals, pegs and other places when it leans, the toe the tire.

Figures of a machine in one pose.  The tire's crown is taken as round, its radius half the
section width; between the wheels it goes over from the one to the other.
Sources: derived; half the width as crown radius is common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jentrik.core.figures.contact import Contact
from jentrik.core.geometry.figures import Geometry
from jentrik.core.geometry.lean import lean_at_touch
from jentrik.core.geometry.toe import TurnedRoom, straight_room, turned_room
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.wheel import Wheels

PEDAL_HALF_WIDTH_MM = 45.0  # common practice: from a pedal's outer edge in to its middle


@dataclass(frozen=True, slots=True)
class ToeRoom:
    """Room in mm between a pedal's axle and the front tire: straight, and turned where known."""

    straight_mm: float
    turned: TurnedRoom | None


def crown_radius(wheels: Wheels, *, x_mm: float, wheelbase_mm: float) -> float | None:
    """Return the tire's crown radius in mm somewhere between the wheels; None without widths."""
    front, rear = wheels.front.width_mm, wheels.rear.width_mm
    if front is None or rear is None:
        return None
    return float(crown_between(front, rear, x_mm=x_mm, wheelbase_mm=wheelbase_mm))


def crown_between(front_mm: Any, rear_mm: Any, *, x_mm: Any, wheelbase_mm: Any) -> Any:
    """Return the crown radius in mm at a place between tires of these widths.

    Floats or arrays that broadcast together; beyond a wheel it is that wheel's.
    """
    share = np.clip(x_mm / wheelbase_mm, 0.0, 1.0)
    return (rear_mm + (front_mm - rear_mm) * share) / 2


def pedal_lean(
    bike: Bike, wheels: Wheels, figures: Geometry, touched: Contact, *, sinks_mm: float = 0.0
) -> float | None:
    """Return the lean in degrees at which a pedal touches; None where a figure is missing.

    `sinks_mm` is how far the bottom bracket comes down with the rider on.
    """
    height, out = touched.pedal_height_mm, bike.cranks.pedal_edge_mm
    if height is not None:
        height -= sinks_mm
    if height is None or out is None or bike.frame.chainstay_mm is None:
        return None
    wheelbase = float(figures.wheelbase_mm)
    crown = crown_radius(wheels, x_mm=bike.frame.chainstay_mm, wheelbase_mm=wheelbase)
    if crown is None:
        return None
    return float(lean_at_touch(height_mm=height, out_mm=out, crown_radius_mm=crown))


def leans(bike: Bike, wheels: Wheels, figures: Geometry) -> Mapping[str, float]:
    """Return the lean in degrees at which each place touches whose way out was measured."""
    angles = {}
    for point in bike.frame.points:
        place = figures.points.get(point.name)
        if point.out_mm is None or not point.out_mm or place is None:
            continue
        x, height = float(place[0]), float(place[1])
        crown = crown_radius(wheels, x_mm=x, wheelbase_mm=float(figures.wheelbase_mm))
        if crown is not None:
            angles[point.name] = float(
                lean_at_touch(height_mm=height, out_mm=point.out_mm, crown_radius_mm=crown)
            )
    return angles


def straight_toe(bike: Bike, figures: Geometry, crank_mm: float | None) -> float | None:
    """Return the room between pedal and front tire, or mudguard, with the bar straight, mm."""
    center = _front_center(bike, figures)
    if crank_mm is None or center is None or figures.bb_height_mm is None:
        return None
    radius = max(float(figures.front_radius_mm), mudguard_radius(bike) or 0.0)
    return straight_room(front_center_mm=float(center), crank_mm=crank_mm, radius_mm=radius)


def _front_center(bike: Bike, figures: Geometry) -> float | None:
    """Return crank axle to front axle, mm: on a tandem the captain's, None where it is unknown."""
    center, height = figures.front_center_mm, figures.bb_height_mm
    if bike.build.layout != "tandem" or center is None or height is None:
        return None if center is None else float(center)
    ahead = bike.frame.captain_ahead_mm
    if ahead is None:
        return None
    up = float(figures.front_radius_mm) - float(height)
    level = max(float(center) ** 2 - up**2, 0.0) ** 0.5 - ahead
    return float((level**2 + up**2) ** 0.5)


def mudguard_radius(bike: Bike) -> float | None:
    """Return how far out a front mudguard reaches behind the wheel, mm; None without one.

    It keeps its distance to the axle, whatever tire goes in.
    """
    for place in bike.clearances:
        if place.wheel == "front" and place.name.casefold() == MUDGUARD:
            return bike.wheels.radius_mm("front") + place.gap_mm + MUDGUARD_THICK_MM
    return None


MUDGUARD = "front mudguard"  # as the named places call it
MUDGUARD_THICK_MM = 2.0  # common practice: the blade


def toe_room(
    bike: Bike, wheels: Wheels, figures: Geometry, *, crank_mm: float | None, offset_mm: float
) -> ToeRoom | None:
    """Return the room between pedal and front tire; None without cranks or bottom bracket.

    Turned only where the pedal's edge was measured and the tire's width is known.
    """
    straight = straight_toe(bike, figures, crank_mm)
    center, height = _front_center(bike, figures), figures.bb_height_mm
    if straight is None or crank_mm is None or center is None or height is None:
        return None
    radius, width = float(figures.front_radius_mm), wheels.front.width_mm
    if bike.cranks.pedal_edge_mm is None or width is None:
        return ToeRoom(straight, None)
    level = max(float(center) ** 2 - (radius - float(height)) ** 2, 0.0) ** 0.5
    turned = turned_room(
        bracket=(0.0, float(height)),
        crank_mm=crank_mm,
        pedal_out_mm=max(bike.cranks.pedal_edge_mm - PEDAL_HALF_WIDTH_MM, 0.0),
        front_axle=(level, radius),
        head_angle_deg=float(figures.head_angle_deg),
        radius_mm=radius,
        tire_width_mm=width,
        offset_mm=offset_mm,
    )
    return ToeRoom(straight, turned)
