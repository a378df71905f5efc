r"""What can be computed of a wheel's character: edges, contact patch, inertia, gyroscope.

           ___
         /     \        an edge of height h: the contact goes up to the edge by the angle a from
        |   o   |       straight below the axle,  cos a = (R - h) / R;  to climb it from a stand
         \  |  / |      the axle must be pushed with  tan a  times the load on the wheel
    ______\_|_/__|h
                        patch area A = load / pressure; a torus pressed on a plane leaves an
                        oval of length 2 sqrt((A / pi) sqrt(R / r)), R the wheel's radius, r the
                        crown's, half the section width

    inertia  I = m_rim r_rim^2 + m_tire r_tire^2 + m_spokes r_rim^2 / 3
    effective mass m + I / R^2, gyroscopic momentum  L = I v / R

The rim's mass sits near the bead seat, tire and tube above the middle of the section, the spokes'
spread evenly from the axle to the rim; the hub, near the axle, has mass alone.  Rubber's stiffness
and casing are left out.  Source: derived, but for the shares named here.
"""

import math
from dataclasses import dataclass

from jentrik.core.machine.wheel import Wheel
from jentrik.core.units import STANDARD_GRAVITY

TIRE_AT = 0.6  # share of the section height at which the tire's mass sits (common practice)


@dataclass(frozen=True, slots=True)
class Masses:
    """What the parts of a wheel weigh, in grams; None is not known."""

    rim_g: float | None = None
    tire_g: float | None = None
    tube_g: float | None = None
    spokes_g: float | None = None
    hub_g: float | None = None


@dataclass(frozen=True, slots=True)
class Character:
    """Figures of one wheel; None where something it needs is not known."""

    attack_deg: float | None
    push_ratio: float | None
    patch_mm2: float | None = None
    patch_length_mm: float | None = None
    pressure_kpa: float | None = None  # the patch is worked at
    rotating_mass_kg: float | None = None
    inertia_kgm2: float | None = None
    effective_mass_kg: float | None = None
    momentum_nms: float | None = None


def attack_angle(*, radius_mm: float, step_mm: float) -> float | None:
    """Return the attack angle in degrees on an edge; None where the edge is as high as the axle."""
    if step_mm >= radius_mm:
        return None
    return math.degrees(math.acos((radius_mm - step_mm) / radius_mm))


def patch_length(area_mm2: float, *, radius_mm: float, crown_mm: float) -> float:
    """Return the length in mm of the contact patch of a torus pressed on a plane.

    An oval of semi-axes a along and b across with a / b = sqrt(R / r) and the area pi a b.
    """
    return 2 * math.sqrt(area_mm2 / math.pi * math.sqrt(radius_mm / crown_mm))


def character(
    wheel: Wheel,
    *,
    step_mm: float,
    load_kg: float | None,
    pressure_kpa: float | None,
    speed_kmh: float,
    masses: Masses,
) -> Character:
    """Return what can be computed of a wheel; refuses one whose diameter is unknown."""
    radius = wheel.diameter_mm / 2
    pressed = pressure_kpa if load_kg is not None and pressure_kpa else None
    attack = attack_angle(radius_mm=radius, step_mm=step_mm)
    push = None if attack is None else math.tan(math.radians(attack))
    area = length = None
    if load_kg is not None and pressure_kpa:
        area = load_kg * STANDARD_GRAVITY / pressure_kpa * 1000.0  # N over kPa is m2 / 1000
        if wheel.width_mm:
            length = patch_length(area, radius_mm=radius, crown_mm=wheel.width_mm / 2)
    weighed = _inertia(wheel, masses)
    if weighed is None:
        return Character(attack, push, area, length, pressed)
    mass, inertia = weighed
    effective = mass + inertia / (radius / 1000) ** 2
    momentum = inertia * (speed_kmh / 3.6) / (radius / 1000)
    return Character(attack, push, area, length, pressed, mass, inertia, effective, momentum)


def _inertia(wheel: Wheel, masses: Masses) -> tuple[float, float] | None:
    """Return mass in kg and moment of inertia in kg m2 of a wheel's parts."""
    if wheel.tire is None or masses.rim_g is None or masses.tire_g is None:
        return None
    seat = wheel.tire.bead_seat_diameter_mm / 2000
    section = (wheel.tire.section_height_mm or 0.0) / 1000
    rim, rubber = masses.rim_g / 1000, (masses.tire_g + (masses.tube_g or 0.0)) / 1000
    spokes, hub = (masses.spokes_g or 0.0) / 1000, (masses.hub_g or 0.0) / 1000
    out = seat + TIRE_AT * section
    inertia = (rim + spokes / 3) * seat**2 + rubber * out**2
    return rim + rubber + spokes + hub, inertia
