"""A wheel's character against statics, hand working and a numeric ring."""

import math

import numpy as np
import pytest

from jentrik.core.figures.character import TIRE_AT, Character, Masses, attack_angle, character
from jentrik.core.machine.wheel import Wheel
from jentrik.core.tire.sidewall import read_code

WHEEL = Wheel(tire=read_code("57-622"))  # radius 368 mm
USUAL = {
    "step_mm": 60.0,
    "load_kg": 45.0,
    "pressure_kpa": 200.0,
    "speed_kmh": 18.0,
    "masses": Masses(500, 800, 200),
}


def test_the_edge_by_hand_and_a_bigger_wheel_meets_it_flatter() -> None:
    # cos a = (368 - 60) / 368 = 0.83696; a = 33.18 degrees
    assert attack_angle(radius_mm=368, step_mm=60) == pytest.approx(33.18, abs=0.01)
    assert attack_angle(radius_mm=343, step_mm=60) > attack_angle(radius_mm=368, step_mm=60)
    assert attack_angle(radius_mm=60, step_mm=60) is None


def test_the_push_is_what_balances_moments_about_the_edge() -> None:
    # Push F at axle height over the edge R - h, load W at the level distance sqrt(R2 - (R-h)2).
    arm, lever = math.sqrt(368**2 - 308**2), 308
    assert character(WHEEL, **USUAL).push_ratio == pytest.approx(arm / lever)


def test_the_patch_carries_the_load_at_its_pressure() -> None:
    result = character(WHEEL, **USUAL)
    assert result.patch_mm2 * 200e-3 == pytest.approx(45 * 9.80665)  # mm2 x kPa/1000 = N
    # A torus on a plane: an oval whose axes go with the square roots of both radii, of that area.
    assert math.pi / 4 * result.patch_length_mm * across(result) == pytest.approx(
        result.patch_mm2, rel=1e-4
    )
    assert (result.patch_length_mm / across(result)) ** 2 == pytest.approx(368 / 28.5, rel=1e-4)


def across(character: Character) -> float:
    """Width of the patch where the torus, 0.1 mm flat, is cut: y^2 = 2 r h against x^2 = 2 R h."""
    flat = 1e-4
    along = math.sqrt(368**2 - (368 - flat) ** 2)
    return character.patch_length_mm * math.sqrt(28.5**2 - (28.5 - flat) ** 2) / along


def test_inertia_and_momentum_of_a_ring_in_many_pieces() -> None:
    seat, out = 0.311, 0.311 + TIRE_AT * 0.057
    angles = np.linspace(0, 2 * math.pi, 4000, endpoint=False)
    total = 0.0
    for mass, radius in ((0.5, seat), (1.0, out)):
        x, y = radius * np.cos(angles), radius * np.sin(angles)
        total += float(np.sum(mass / 4000 * (x**2 + y**2)))
    result = character(WHEEL, **USUAL)
    assert result.inertia_kgm2 == pytest.approx(total)
    assert result.rotating_mass_kg == pytest.approx(1.5)
    assert result.effective_mass_kg == pytest.approx(1.5 + total / 0.368**2)
    assert result.momentum_nms == pytest.approx(total * 5 / 0.368)  # 18 km/h is 5 m/s


def test_what_no_one_weighed_or_pumped_is_not_told() -> None:
    bare = character(WHEEL, **USUAL | {"load_kg": None, "masses": Masses(500, None)})
    assert (bare.patch_mm2, bare.inertia_kgm2, bare.momentum_nms) == (None, None, None)
    assert bare.attack_deg is not None
    high = character(WHEEL, **USUAL | {"step_mm": 400.0})
    assert (high.attack_deg, high.push_ratio) == (None, None)
