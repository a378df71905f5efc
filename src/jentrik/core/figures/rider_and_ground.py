r"""What a wheel size does for a rider and the ground: the figures, not the verdict.

    stand-over   inseam - the frame's stand-over point
    to ground    seat - inseam, above zero the feet do not stand flat
    steep        the crotch stands above the feet along gravity, legs bent to 7/10 of the inseam;
                 on a slope of s degrees that is  s  behind the machine's own upright, so
                     room = | feet + 0.7 inseam (-sin s, cos s) - rear axle | - R
    edge, patch, inertia, gyroscope   those of a wheel's character

Source: derived, but for the bend of the legs: common practice.
"""

import math
from dataclasses import dataclass

from jentrik.core.figures.bicycle_pressure import pressure_kpa
from jentrik.core.figures.character import Character, Masses, character
from jentrik.core.figures.contact import Contact
from jentrik.core.figures.rider import rider_reach
from jentrik.core.figures.rider_load import SHARE, bicycle_kg
from jentrik.core.figures.wheel_mass import about_masses
from jentrik.core.geometry.figures import Geometry
from jentrik.core.machine.declared import End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.wheel import Wheel

BENT_LEGS = 0.7  # of the inseam, feet to crotch, low behind the saddle (common practice)


@dataclass(frozen=True, slots=True)
class ARider:
    """Someone who may ride it: a name for the column, inseam in mm, mass in kg with clothes."""

    name: str
    inseam_mm: float
    kg: float


@dataclass(frozen=True, slots=True)
class Ground:
    """What is ridden: a step's height in mm, a slope in degrees, a speed in km/h."""

    step_mm: float = 60.0
    slope_deg: float = 20.0
    speed_kmh: float = 25.0


@dataclass(frozen=True, slots=True)
class RiderRoom:
    """Of one rider, mm: room over the frame, seat above the inseam, crotch to rear tire on a slope.

    None where a place of the machine is not known.
    """

    standover_mm: float | None
    seat_above_mm: float | None
    steep_mm: float | None


def room_of(
    bike: Bike, figures: Geometry, touched: Contact, rider: ARider, ground: Ground
) -> RiderRoom:
    """Return how much room a rider has on a machine in a pose, both upright on level ground."""
    reach = rider_reach(touched, rider.inseam_mm)
    feet = feet_of(bike, figures)
    steep = None
    if feet is not None:
        steep = steep_room(
            feet,
            rear_radius_mm=float(figures.rear_radius_mm),
            inseam_mm=rider.inseam_mm,
            slope_deg=ground.slope_deg,
        )
    return RiderRoom(reach.standover_room_mm, reach.seat_above_mm, steep)


def feet_of(bike: Bike, figures: Geometry) -> tuple[float, float] | None:
    """Return where the feet stand, mm forward of the rear axle and above ground: pedals or pegs."""
    chainstay, height = bike.frame.chainstay_mm, figures.bb_height_mm
    if chainstay is not None and height is not None:
        drop = float(figures.rear_radius_mm) - float(height)
        return math.sqrt(max(chainstay**2 - drop**2, 0.0)), float(height)
    place = bike.place_of(PointRole.FEET, figures.points)
    return None if place is None else (float(place[0]), float(place[1]))


def steep_room(
    feet: tuple[float, float], *, rear_radius_mm: float, inseam_mm: float, slope_deg: float
) -> float:
    """Return the room in mm between crotch and rear tire on a slope going down."""
    slope, legs = math.radians(slope_deg), BENT_LEGS * inseam_mm
    x, height = feet[0] - legs * math.sin(slope), feet[1] + legs * math.cos(slope)
    return math.hypot(x, height - rear_radius_mm) - rear_radius_mm


def load_kg(bike: Bike, end: End, rider: ARider) -> float | None:
    """Return about what a wheel carries in kg under a rider: half of it all on a motorcycle.

    None where the machine's mass is not known, and not that of a plain bicycle.
    """
    own = bicycle_kg(bike)
    if own is None:
        return None
    share = SHARE[end] if bike.kind == "bicycle" else 0.5
    return share * (rider.kg + (bike.riding.luggage_kg or 0.0) + own)


def wheel_character(
    bike: Bike, wheel: Wheel, end: End, rider: ARider, ground: Ground, masses: Masses | None
) -> Character:
    """Return a wheel's character under a rider, at the pressure of the wheel as found.

    Masses that no one weighed are assumed by size and kind.
    """
    load, found = load_kg(bike, end, rider), bike.wheels.at(end)
    kpa = found.fitted.pressure_kpa
    if kpa is None and load and bike.kind == "bicycle" and found.width_mm is not None:
        kpa = pressure_kpa(load_kg=load, width_mm=found.width_mm)
    return character(
        wheel,
        step_mm=ground.step_mm,
        load_kg=load,
        pressure_kpa=kpa,
        speed_kmh=ground.speed_kmh,
        masses=masses or assumed_masses(bike, wheel),
    )


def assumed_masses(bike: Bike, wheel: Wheel) -> Masses:
    """Return about what rim and tire of a wheel weigh; nothing where its size is not known."""
    if wheel.tire is None or wheel.width_mm is None:
        return Masses()
    seat = wheel.tire.bead_seat_diameter_mm
    return about_masses(bike.kind, bead_seat_mm=seat, width_mm=wheel.width_mm)
