"""Rider and ground by hand: room on a slope, masses, the torus's patch by integration, inertia."""

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy.integrate import quad

from jentrik.core.figures.character import Masses, attack_angle, character, patch_length
from jentrik.core.figures.rider_and_ground import (
    ARider,
    Ground,
    assumed_masses,
    feet_of,
    load_kg,
    room_of,
    steep_room,
    wheel_character,
)
from jentrik.core.figures.wheel_mass import about_masses
from jentrik.core.plan.plan import as_measured
from jentrik.exchange.plan_document import read_bike
from tests.documents import PLAN

BIKE = read_bike(PLAN["bike"])
SMALL = ARider("small", 700, 55)


def test_room_on_the_flat_is_pythagoras() -> None:
    # Feet 440 ahead of and 60 below an axle 340 high, crotch 490 above them: 440 ahead, 430 above.
    room = steep_room((440, 280), rear_radius_mm=340, inseam_mm=700, slope_deg=0)
    assert room == pytest.approx(math.hypot(440, 430) - 340)


def test_steeper_ground_and_shorter_legs_leave_less_room() -> None:
    feet = (440.0, 280.0)
    rooms = [
        steep_room(feet, rear_radius_mm=340, inseam_mm=700, slope_deg=slope)
        for slope in (0, 10, 20, 30)
    ]
    assert rooms == sorted(rooms, reverse=True)
    tall = steep_room(feet, rear_radius_mm=340, inseam_mm=900, slope_deg=20)
    assert tall > rooms[2]
    # On a vertical wall the crotch lies level with the feet and 490 behind them.
    wall = steep_room(feet, rear_radius_mm=340, inseam_mm=700, slope_deg=90)
    assert wall == pytest.approx(math.hypot(440 - 490, 280 - 340) - 340)


def test_feet_stand_where_chain_stay_and_bracket_put_them() -> None:
    found = as_measured(BIKE)
    there = feet_of(found.bike, found.figures.geometry)
    assert there is not None
    geometry = found.figures.geometry
    radius, height = float(geometry.rear_radius_mm), float(geometry.bb_height_mm)
    assert there[1] == height
    assert math.hypot(there[0], radius - height) == pytest.approx(BIKE.frame.chainstay_mm)


def test_what_is_not_known_of_a_machine_is_none() -> None:
    frame = replace(BIKE.frame, chainstay_mm=None, points=())
    found = as_measured(BIKE)
    bare = replace(found.bike, frame=frame)
    room = room_of(bare, found.figures.geometry, found.figures.contact, SMALL, Ground())
    assert room.steep_mm is None


def test_the_load_on_a_wheel_is_its_share() -> None:
    assert load_kg(BIKE, "rear", SMALL) == pytest.approx(0.60 * (55 + 15))
    assert load_kg(BIKE, "front", SMALL) == pytest.approx(0.45 * (55 + 15))


def test_masses_are_assumed_by_size_and_replaced_by_weighed_ones() -> None:
    about = about_masses("bicycle", bead_seat_mm=622, width_mm=37)
    assert (about.rim_g, about.tire_g) == (pytest.approx(500), pytest.approx(550))
    motor = about_masses("motorcycle", bead_seat_mm=533, width_mm=90)
    assert (motor.rim_g, motor.tire_g) == (pytest.approx(2200), pytest.approx(4500))
    wheel = BIKE.wheels.front
    assumed = wheel_character(BIKE, wheel, "front", SMALL, Ground(), None)
    known = assumed_masses(BIKE, wheel)
    assert assumed.rotating_mass_kg == pytest.approx(
        (known.rim_g + known.spokes_g + known.hub_g + known.tire_g) / 1000
    )
    weighed = wheel_character(BIKE, wheel, "front", SMALL, Ground(), Masses(500, 400))
    assert weighed.rotating_mass_kg == pytest.approx(0.9)


def test_two_37_622_wheels_turn_as_about_a_quarter_of_a_kilogram_metre_squared() -> None:
    # Each: rim 0.5 x 0.311^2 = 0.0484, spokes 0.2 x 0.311^2 / 3 = 0.0064, rubber 0.55 x 0.3332^2
    # = 0.0611; the hub adds none.  Twice 0.1159.
    (front, rear) = (
        wheel_character(BIKE, BIKE.wheels.at(end), end, SMALL, Ground(), None).inertia_kgm2
        for end in ("front", "rear")
    )
    assert front + rear == pytest.approx(0.2318, abs=0.0005)


def test_inertia_of_a_ring_and_of_a_disc_by_hand() -> None:
    # Two thin rings: sum of m r^2.  A disc as many thin rings comes to m r^2 / 2.
    wheel = BIKE.wheels.front
    assert wheel.tire is not None
    seat = wheel.tire.bead_seat_diameter_mm / 2000
    ring = character(
        wheel, step_mm=60, load_kg=None, pressure_kpa=None, speed_kmh=25, masses=Masses(1000, 0.0)
    )
    assert ring.inertia_kgm2 == pytest.approx(1.0 * seat**2)
    rings = (np.arange(100_000) + 0.5) / 100_000 * seat
    disc = float((2 * rings / seat**2 * rings**2).sum() * seat / 100_000)
    assert disc == pytest.approx(seat**2 / 2, rel=1e-6)
    assert ring.momentum_nms == pytest.approx(
        ring.inertia_kgm2 * (25 / 3.6) / wheel.diameter_mm * 2000
    )


@pytest.mark.parametrize(("radius", "crown"), [(340.0, 18.0), (310.0, 29.0), (330.0, 45.0)])
def test_the_patch_of_a_torus_by_an_independent_integration(radius: float, crown: float) -> None:
    """Press a torus into a plane: its cut has the area, and its length, of the oval, a few percent.

    The cut of depth d: across at a distance x from the middle the crown's circle stands
    h = R - sqrt((R - d')...) higher; integrated numerically, without the oval.
    """
    depth = 3.0
    ring = radius - crown  # of the tube's middle

    def half_width(x: float) -> float:
        away = math.hypot(x, radius - depth) - ring  # from the tube's middle, in the plane's line
        return math.sqrt(max(crown**2 - away**2, 0.0)) if away < crown else 0.0

    half_length = math.sqrt(radius**2 - (radius - depth) ** 2)
    area = 4 * quad(half_width, 0, half_length, limit=200)[0]
    assert patch_length(area, radius_mm=radius, crown_mm=crown) == pytest.approx(
        2 * half_length, rel=0.04
    )


def test_a_bigger_wheel_meets_an_edge_at_less() -> None:
    angles = [attack_angle(radius_mm=radius, step_mm=60) for radius in (250, 300, 350)]
    assert angles == sorted(angles, reverse=True)
    assert attack_angle(radius_mm=60, step_mm=60) is None
