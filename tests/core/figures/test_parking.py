"""A machine on its stands, against 3-D rotations, a root finder and hand working."""

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from numpy import float64, ndarray
from scipy.optimize import brentq

from jentrik.core.geometry.center_stand import feet_place, lifted_over_feet
from jentrik.core.geometry.tipping import (
    OnStand,
    gust_share,
    stand_for,
    tips_away_deg,
    tips_over_foot_deg,
)
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE

ON = OnStand(
    lean_deg=11.0,
    crown_radius_mm=0.0,
    center_x_mm=650.0,
    center_height_mm=520.0,
    wheelbase_mm=1490.0,
    foot_x_mm=520.0,
    foot_out_mm=240.0,
)


def rolled(lean_deg: float, crown_mm: float, place: tuple[Any, ...]) -> Any:
    """Turn a machine about its forward axis on round tires: matrix, then set on the ground.

    Its own frame: x forward, y to the stand's side, z up; the crown's center is at z = crown.
    """
    lean = math.radians(lean_deg)
    turn = np.array(
        [[1, 0, 0], [0, math.cos(lean), math.sin(lean)], [0, -math.sin(lean), math.cos(lean)]]
    )
    center = np.array([0.0, 0.0, crown_mm])
    return turn @ (np.asarray(place) - center) + center  # y from the contact, z from the ground


@pytest.mark.parametrize("crown", [0.0, 65.0])
def test_the_center_of_mass_is_where_a_rotation_puts_it(crown: float) -> None:
    on = replace(ON, crown_radius_mm=crown)
    _, side, up = rolled(on.lean_deg, crown, (650.0, 0.0, 520.0))
    assert (on.side_mm, on.up_mm) == pytest.approx((side, up))


@pytest.mark.parametrize("crown", [0.0, 65.0])
def test_it_tips_away_where_a_plumb_line_leaves_the_tires(crown: float) -> None:
    on = replace(ON, crown_radius_mm=crown)
    _, side, up = rolled(on.lean_deg, crown, (650.0, 0.0, 520.0))

    def moment(slope: float) -> Any:
        """Return the weight's moment about the contacts, on ground that falls away."""
        down = np.array([-math.sin(slope), -math.cos(slope)])
        return side * down[1] - up * down[0]

    assert tips_away_deg(on) == pytest.approx(math.degrees(brentq(moment, -0.5, 1.0)), abs=1e-9)
    if not crown:
        assert tips_away_deg(on) == pytest.approx(11.0)  # a thin tire uses up its lean


def test_a_gust_takes_its_moment_off() -> None:
    # q = 0.6 (60 / 3.6)2 = 166.7 N/m2 x drag 1.2 on 0.6 x 1.49 x 0.8 m2, at 0.4 m: 57.2 Nm;
    # 180 kg at 520 mm: 917.9 Nm; asin(0.0623) = 3.573 degrees.
    share = gust_share(ON, mass_kg=180, wind_kmh=60, seat_height_mm=800)
    assert share == pytest.approx(0.06233, abs=2e-5)
    assert tips_away_deg(ON, gust_share=share) == pytest.approx(11 - 3.573, abs=0.002)


def test_it_tips_over_its_foot_beyond_the_line_from_foot_to_wheel() -> None:
    # Ahead of the foot the edge runs to the front contact: 240 x (1490 - 650) / (1490 - 520).
    edge = 240 * 840 / 970
    side, up = 520 * math.sin(math.radians(11)), 520 * math.cos(math.radians(11))
    assert tips_over_foot_deg(ON) == pytest.approx(math.degrees(math.atan2(edge - side, up)))
    behind = replace(ON, center_x_mm=400.0)  # to the rear contact: 240 x 400 / 520
    edge = 240 * 400 / 520
    assert tips_over_foot_deg(behind) == pytest.approx(math.degrees(math.atan2(edge - side, up)))


def test_a_leg_of_the_length_told_gives_the_wanted_lean() -> None:
    out, up, pivot = 235.6, 30.0, (90.0, 300.0)
    wanted = stand_for(wanted_deg=11.0, foot_out_mm=out, foot_up_mm=up, pivot=pivot)
    leg = np.array([out - pivot[0], up - pivot[1]])
    foot = np.array(pivot) + leg * (1 + wanted.longer_mm / np.hypot(*leg))
    assert math.degrees(math.atan2(foot[1], foot[0])) == pytest.approx(11.0)
    # A puck of that height below the foot: the foot then stands on it.
    _, _, height = rolled(11.0, 0.0, (0, out, up))
    assert wanted.under_foot_mm == pytest.approx(height)


def test_a_round_tire_that_stays_the_same_leans_as_before_and_a_wider_one_a_little_less() -> None:
    stand = {"lean_deg": 11.0, "foot_out_mm": 240, "foot_x_mm": 520}
    bike = read_bike({**MOTORCYCLE["bike"], "side_stand": stand})
    there = as_measured(bike)
    same = outcome_of(there, read_proposal({"name": "A"})).figures.parked
    assert same.round_lean_deg == pytest.approx(11.0)
    lower = {"front": {"overall_diameter_mm": 675}, "rear": {"overall_diameter_mm": 620}}
    result = outcome_of(there, read_proposal({"name": "A", **lower})).figures.parked

    # Independent: the foot's place in the machine's own frame from the measured stand, let down
    # 10 mm, then turned until it meets the ground.  Crown between the tires: 65 - 15 at 520 / 1490.
    crown = 65 + (45 - 65) * 520 / 1490
    lean = math.radians(11)
    out = 240 * math.cos(lean) + crown * math.sin(lean)
    up = 240 * math.sin(lean) - crown * math.cos(lean) + crown - 10

    _, side, height = rolled(11.0, crown, (0, out, up + 10))  # as it was measured
    assert (side, height) == pytest.approx((240, 0))

    def above(lean_deg: float) -> Any:
        return rolled(lean_deg, crown, (0, out, up))[2]

    assert result.round_lean_deg == pytest.approx(brentq(above, 0, 30), abs=1e-6)
    assert result.lean_deg == pytest.approx(
        math.degrees(math.atan2(240 * math.sin(lean) - 10, 240 * math.cos(lean)))
    )


@pytest.mark.parametrize("lifts_rear", [True, False])
def test_the_center_stand_against_rotations_and_a_root_finder(lifts_rear: bool) -> None:
    rear, front = np.array([0.0, 320.0]), np.array([1490.0, 347.5])
    lifted, down, r_up, r_down = (
        (rear, front, 320.0, 347.5) if lifts_rear else (front, rear, 347.5, 320.0)
    )
    ahead = 400.0 if lifts_rear else -1090.0
    feet = feet_place(
        lifted=lifted, down=down, lifted_radius_mm=r_up, gap_mm=45.0, feet_ahead_mm=ahead
    )

    def stands(
        angle: float, lifted_at: ndarray, down_at: ndarray, r_down: float
    ) -> tuple[float64, float64]:
        """Turn the chassis about the feet; return how far the other wheel is off the ground."""
        turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
        return (turn @ (down_at - feet))[1] - r_down, (turn @ (lifted_at - feet))[1]

    def gap(lifted_at: ndarray, down_at: ndarray, r_lifted: float, r_other: float) -> float64:
        angle = brentq(lambda a: stands(a, lifted_at, down_at, r_other)[0], -0.4, 0.4)
        return stands(angle, lifted_at, down_at, r_other)[1] - r_lifted

    assert gap(lifted, down, r_up, r_down) == pytest.approx(45.0)
    moved = down + np.array([-12.0, 7.0])
    up, _ = lifted_over_feet(feet=feet, lifted=lifted, down=moved, down_radius_mm=r_down - 15)
    assert up - (r_up - 20) == pytest.approx(gap(lifted, moved, r_up - 20, r_down - 15), abs=1e-6)


def test_as_found_the_center_stand_lifts_as_measured() -> None:
    stand = {"lifts": "front", "gap_mm": 35, "feet_x_mm": 700}
    there = as_measured(read_bike({**MOTORCYCLE["bike"], "center_stand": stand}))
    outcome = outcome_of(there, read_proposal({"name": "A"}))
    assert outcome.figures.center_stand_gap_mm == pytest.approx(35)


def test_a_center_stand_that_lifts_the_front_against_a_turn_about_its_feet() -> None:
    # The rear stays down. As found the front hangs 30 mm up with the feet 500 mm ahead of the
    # rear contact; the same machine with a rear wheel 10 mm larger in radius: solve by turning.
    bike = {
        **MOTORCYCLE["bike"],
        "center_stand": {"lifts": "front", "gap_mm": 30, "feet_x_mm": 500},
    }
    there = as_measured(read_bike(bike))
    as_found = outcome_of(there, read_proposal({"name": "A"}))
    assert as_found.figures.center_stand_gap_mm == pytest.approx(30)
    front, rear = (1490.0, 347.5), (0.0, 320.0)
    change = {"name": "A", "rear": {"overall_diameter_mm": 660}}
    now = outcome_of(there, read_proposal(change)).figures.center_stand_gap_mm

    def ground(feet: tuple[float, float], turn: float, radius: float) -> float:
        """Height of the rear contact's ground over the feet's, the machine turned by an angle."""
        x, y = rear[0] - feet[0], rear[1] - feet[1]
        return x * math.sin(turn) + y * math.cos(turn) - radius

    # On the stand the chassis stands turned; its feet lie on the ground 500 ahead of the rear axle.
    rise = front[1] - rear[1]
    apart = math.hypot(1490.0, rise)
    nose_up = math.asin((rise + 30) / apart) - math.asin(rise / apart)
    level = 500.0
    feet = (
        rear[0] + level * math.cos(nose_up) - 320.0 * math.sin(nose_up),
        rear[1] - level * math.sin(nose_up) - 320.0 * math.cos(nose_up),
    )
    turn = brentq(lambda angle: ground(feet, angle, 330.0), -0.3, 0.3)
    x, y = front[0] - feet[0], front[1] - feet[1]
    by_hand = x * math.sin(turn) + y * math.cos(turn) - 347.5
    assert now == pytest.approx(by_hand, abs=0.01)
    assert now < 30


def test_a_gust_stronger_than_the_weight_takes_all_the_lean() -> None:
    free = tips_away_deg(ON)
    assert tips_away_deg(ON, gust_share=1.0) == pytest.approx(free - 90)
    assert tips_away_deg(ON, gust_share=1.7) == pytest.approx(free - 90)


def test_at_the_foot_itself_the_edge_is_as_far_out_as_the_foot() -> None:
    # The center of mass right beside the foot: 240 mm out, whichever wheel the edge runs to.
    at_foot = replace(ON, center_x_mm=520.0)
    side, up = 520 * math.sin(math.radians(11)), 520 * math.cos(math.radians(11))
    by_hand = math.degrees(math.atan2(240 - side, up))
    assert tips_over_foot_deg(at_foot) == pytest.approx(by_hand)
    under_axle = replace(ON, center_x_mm=0.0, foot_x_mm=0.0)
    assert tips_over_foot_deg(under_axle) == pytest.approx(by_hand)


def test_a_leg_that_lies_level_or_rises_to_its_foot_has_no_length_to_give() -> None:
    for pivot in ((90.0, 30.0), (90.0, 10.0)):
        wanted = stand_for(wanted_deg=11.0, foot_out_mm=235.6, foot_up_mm=30.0, pivot=pivot)
        assert wanted.under_foot_mm != 0
    assert (
        stand_for(wanted_deg=0.0, foot_out_mm=235.6, foot_up_mm=30.0, pivot=(90.0, 10.0)).longer_mm
        is None
    )
