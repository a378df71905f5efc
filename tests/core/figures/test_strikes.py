"""What leans, swings and swells into what: each compared with an independent 3-D working."""

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy import float64, ndarray

from jentrik.core.amounts import in_plain
from jentrik.core.figures.clearance import (
    FLEX,
    GROWTH,
    MUD,
    RIM,
    TRAVEL,
    TURNED,
    PredictedClearance,
    growth_mm,
    half_width,
)
from jentrik.core.geometry import turned_wheel
from jentrik.core.geometry.lean import lean_at_touch
from jentrik.core.geometry.toe import straight_room, turned_room
from jentrik.core.machine.named_places import NAMED_PLACES, named_place
from jentrik.core.machine.wheel import Wheel
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.core.work.proofs import AT_FULL_TRAVEL, AT_REST, predicted_in_words, prove_by_hand
from jentrik.exchange.plan_document import plan_from_json, read_bike
from tests.documents import MOTORCYCLE, PLAN, plan, raw

approx = pytest.approx


def lowest_when_leaned(lean_deg: float, height: float, out: float, crown: float) -> Any:
    """The height of a place after the machine rolled over on a round tread, point by point."""
    lean = math.radians(lean_deg)
    turn = np.array([[math.cos(lean), math.sin(lean)], [-math.sin(lean), math.cos(lean)]])
    round_it = np.linspace(-3, 3, 20001)
    tread = [(crown * math.sin(t), crown - crown * math.cos(t)) for t in round_it]
    places = np.array([*tread, (out, height)]) @ turn.T
    return places[-1, 1] - places[:-1, 1].min()


@settings(max_examples=40)
@given(height=st.floats(40, 500), out=st.floats(80, 400), crown=st.floats(0, 100))
def test_a_place_is_on_the_ground_at_the_lean_told(height: float, out: float, crown: float) -> None:
    crown = min(crown, height / 2.5)
    lean = float(lean_at_touch(height_mm=height, out_mm=out, crown_radius_mm=crown))
    assert lowest_when_leaned(lean, height, out, crown) == approx(0, abs=0.05)


def test_a_thin_tire_touches_where_the_tangent_says() -> None:
    assert lean_at_touch(height_mm=100, out_mm=160, crown_radius_mm=0) == approx(
        math.degrees(math.atan(100 / 160))
    )
    rounder = lean_at_touch(height_mm=100, out_mm=160, crown_radius_mm=30)
    assert rounder > lean_at_touch(height_mm=100, out_mm=160, crown_radius_mm=0)  # it rolls on


FRAME = {
    "bracket": (0.0, 280.0),
    "crank_mm": 170.0,
    "pedal_out_mm": 110.0,
    "front_axle": (600.0, 340.0),
    "head_angle_deg": 72.0,
    "radius_mm": 340.0,
    "tire_width_mm": 40.0,
    "offset_mm": 45.0,
}


def nearest_by_hand(bar_deg: int, crank_deg: int) -> Any:
    crank = math.radians(crank_deg)
    pedal = np.array([170 * math.cos(crank), 280 + 170 * math.sin(crank), -110])
    return ring_to(pedal, bar_deg)


def ring_to(place: ndarray, bar_deg: float64 | int) -> Any:
    """Turn the whole ring about the steering axis with Rodrigues' formula; nearest point."""
    head = math.radians(72)
    axis = np.array([-math.cos(head), math.sin(head), 0])
    on_axis = np.array([600.0, 340.0, 0]) - 45 * np.array([math.sin(head), math.cos(head), 0])
    t = np.linspace(0, 2 * math.pi, 4001)
    ring = np.stack([600 + 320 * np.cos(t), 340 + 320 * np.sin(t), 0 * t], axis=1) - on_axis
    turn = math.radians(-bar_deg)  # the rear edge to -z, where the pedal is
    rolled = (
        ring * math.cos(turn)
        + np.cross(axis, ring) * math.sin(turn)
        + np.outer(ring @ axis, axis) * (1 - math.cos(turn))
    ) + on_axis
    return np.linalg.norm(rolled - place, axis=1).min() - 20


def test_the_turned_room_is_the_least_over_bar_and_crank() -> None:
    result = turned_room(**FRAME)
    grid = [
        (nearest_by_hand(bar, crank), bar) for bar in range(0, 61, 3) for crank in range(-40, 51, 5)
    ]
    least, bar = min(grid)
    assert result.room_mm == approx(least, abs=1.5)
    assert result.bar_deg == approx(bar, abs=4)
    assert result.room_mm < nearest_by_hand(0, 8)


@pytest.mark.parametrize("place", [(245.0, 420.0, -70.0), (300.0, 500.0, 60.0), (700, 640, 30)])
def test_the_turned_ring_is_as_near_as_point_by_point(place: tuple[Any, ...]) -> None:
    bars = np.arange(-40, 41, 5.0)
    frame = {
        key: value
        for key, value in FRAME.items()
        if key not in ("bracket", "crank_mm", "pedal_out_mm")
    }
    result = turned_wheel.turned_room(np.array([place]), bar_deg=bars, **frame)[:, 0]
    assert result == approx([ring_to(np.array(place), bar) for bar in bars], abs=0.1)


def test_turning_takes_nothing_beyond_the_bars_stop() -> None:
    def left(lock: int | None) -> PredictedClearance:
        place = {
            "name": "place",
            "wheel": "front",
            "direction": "side",
            "gap_mm": 80,
            "bearing_deg": 170,
            "from_axle_mm": 355,
        }
        return clearances({}, clearances=[place], steering_lock_deg=lock)["place"]

    assert left(None).not_counted == (RIM, TURNED)
    assert left(5).taken_by(TURNED) < left(10).taken_by(TURNED) < left(20).taken_by(TURNED)
    assert left(40).taken_by(TURNED) == approx(left(60).taken_by(TURNED), abs=0.5)  # gone past


def test_the_tightest_spot_on_the_way_to_full_travel_counts() -> None:
    # The axle goes 80 mm straight up past a place 40 mm above it and 360 mm ahead.
    reach, bearing = math.hypot(360, 40), math.degrees(math.atan2(40, 360))
    body = [{**lying(bearing, moves_with="body")[0], "gap_mm": reach - 348}]
    rear = {"rear": {"travel_mm": 80, "sag_mm": 0}}
    spot = clearances({}, clearances=body, suspension=rear)["place"]
    assert spot.predicted_gap_mm - spot.taken_by(TRAVEL) == approx(360 - 348)
    assert spot.taken_by(TRAVEL) == approx(reach - 360)


def test_a_chain_line_further_out_takes_the_chain_along() -> None:
    chain = {"name": "chain", "wheel": "rear", "direction": "side", "gap_mm": 7}
    rear = {"tire": "37-622", "hub": {"chain_line_mm": 43.5}}
    wider = {"rear": {"tire": "47-622", "hub": {"chain_line_mm": 46}}}
    spot = clearances(wider, clearances=[chain], rear=rear)["chain"]
    assert spot.predicted_gap_mm == approx(7 - 5 + 2.5)
    stays = [{**chain, "name": "chain stays"}]
    assert clearances(wider, clearances=stays, rear=rear)["chain stays"].predicted_gap_mm == 2


def test_straight_room_by_hand() -> None:
    assert straight_room(front_center_mm=600, crank_mm=170, radius_mm=340) == 90


def clearances(
    *proposals: Any, base: dict[str, Any] = PLAN, **bike: Any
) -> dict[str, PredictedClearance]:
    outcome = plan_from_json(raw(plan(*proposals, base=base, **bike))).outcomes[0]
    return {spot.place.name: spot for spot in outcome.figures.clearances}


def lying(bearing: float, **more: Any) -> list[dict[str, Any]]:
    return [
        {
            "name": "place",
            "wheel": "rear",
            "direction": "radial",
            "gap_mm": 12,
            "bearing_deg": bearing,
            **more,
        }
    ]


@pytest.mark.parametrize(
    ("bearing", "shift", "gap"),
    [
        (0, {"x": -5}, 17),
        (0, {"x": 5}, 7),
        (90, {"y": 4}, 8),
        (180, {"x": -5}, 7),
        # Square to the way it moves: only the second order is felt, 360 - sqrt(360^2 - 6^2).
        (90, {"x": 6}, 12.05),
        (60, {"x": 4, "y": 4}, 12 - 4 * (0.5 + 0.866)),
    ],
)
def test_a_moved_axle_is_counted_where_the_direction_is_known(
    bearing: int, shift: dict[str, int], gap: float
) -> None:
    spot = clearances({"rear_axle_shift_mm": shift}, clearances=lying(bearing))["place"]
    assert spot.predicted_gap_mm == approx(gap, abs=0.02)


def test_a_longer_fork_counts_towards_the_down_tube() -> None:
    # 10 mm down an axis of 71 degrees: x + 3.26, y - 9.46; the tube lies straight behind.
    tube = [{**lying(180)[0], "wheel": "front"}]
    spot = clearances({"fork": {"length_mm": 405}}, clearances=tube)["place"]
    assert spot.predicted_gap_mm == approx(12 + 3.256 + 9.455**2 / (2 * 360), abs=0.02)


def test_full_travel_takes_what_the_axles_path_takes() -> None:
    body = lying(90, moves_with="body")
    rear = {"rear": {"travel_mm": 8, "sag_mm": 2}}
    spot = clearances({}, clearances=body, suspension=rear)["place"]
    assert spot.taken_by(TRAVEL) == approx(8)
    assert spot.worst_case_gap_mm == approx(4)
    spot = clearances({}, clearances=lying(90, moves_with="wheel"), suspension=rear)["place"]
    assert spot.worst_case_gap_mm == spot.predicted_gap_mm
    spot = clearances({}, clearances=lying(90), suspension=rear)["place"]
    assert spot.not_counted == (TRAVEL,)


def test_growth_goes_with_the_square_of_speed_up_to_the_symbol() -> None:
    def grown(code: str, speed: int | None) -> float | None:
        return growth_mm(Wheel(read_code(code)), top_speed_kmh=speed, policy=DEFAULT_POLICY)

    assert grown("130/90-16 67H", 100) == approx(10 / 4)
    assert grown("130/90-16 67P", 180) == approx(10 * (150 / 200) ** 2)  # P is 150 km/h
    assert grown("130/90-16 67V", 240) == approx(10)
    assert grown("130/90 R 16 67V", 200) == approx(2)
    assert grown("130/90-16", None) is None


def test_a_side_place_is_judged_at_its_own_height_of_the_sidewall() -> None:
    tire = Wheel(read_code("50-584"))  # bead 292, tread 342, middle 317
    assert half_width(tire, 317) == approx(25)
    assert half_width(tire, 342) == 0
    assert half_width(tire, 317 + 15) == approx(25 * 0.8)  # 3-4-5 on a half height of 25
    assert half_width(tire, 200) == approx(25 * 0.6)
    side = {"name": "stays", "wheel": "rear", "direction": "side", "gap_mm": 10}
    high = clearances({"rear": {"tire": "47-622"}}, clearances=[{**side, "from_axle_mm": 355}])
    # 37-622 ends at 348; 47-622 reaches 358: half 23.5 sqrt(1 - (20.5 / 23.5)^2) = 11.49.
    assert high["stays"].predicted_gap_mm == approx(10 - 11.49, abs=0.01)


def test_what_the_road_takes_of_a_side() -> None:
    side = [{"name": "stays", "wheel": "rear", "direction": "side", "gap_mm": 10}]
    spot = clearances(
        {"rear": {"tire": "47-622", "rim": {"inner_width_mm": 30}}},
        clearances=side,
        ground="mud",
        rear={"tire": "37-622", "rim": {"inner_width_mm": 19}},
    )["stays"]
    # Rims over half the width: 30 - 23.5 = 6.5 against 19 - 18.5 = 0.5; 0.4 x 6 / 2 = 1.2.
    assert spot.predicted_gap_mm == 5
    result = {take.name: take.mm for take in spot.takes}
    assert result == approx({MUD: 6, RIM: 1.2, FLEX: 2})
    assert spot.worst_case_gap_mm == approx(5 - 9.2)


def test_growth_is_not_counted_without_a_casing_and_said_so() -> None:
    gap = [{"name": "brace", "wheel": "front", "direction": "radial", "on": "fork", "gap_mm": 20}]
    spot = clearances({"front": {"tire": "90/90-21 54H"}}, base=MOTORCYCLE, clearances=gap)["brace"]
    assert spot.taken_by(GROWTH) == approx(10)  # no top speed: the symbol's 210 km/h, capped
    assert spot.least_mm == 10


def test_nothing_promises_room_and_the_tightest_is_proved_first() -> None:
    spots = clearances({"rear": {"tire": "47-622"}})
    lines = prove_by_hand(read_bike(PLAN["bike"]), spots.values())
    assert lines[0] == AT_REST
    assert in_plain(lines[1]).startswith("chain stays, rear: 4 mm predicted, at least 6 mm")
    assert (
        in_plain(predicted_in_words(spots["fork crown"])) == "Predicted to leave 14 mm; measure it."
    )
    assert "fits" not in " ".join(lines)
    sprung = read_bike(PLAN["bike"] | {"suspension": {"front": {"travel_mm": 100}}})
    assert prove_by_hand(sprung, ())[0] == AT_FULL_TRAVEL


def test_named_places_are_found_by_name_and_kind() -> None:
    assert named_place("bicycle", "chain stays").direction == "side"
    assert named_place("motorcycle", "Chain stays") is None
    assert len({(place.kind, place.name) for place in NAMED_PLACES}) == len(NAMED_PLACES)
    for place in NAMED_PLACES:
        assert place.on == "frame" or place.wheel == "front"


def test_what_a_slice_says_agrees_with_the_rule_beside_it() -> None:
    spot = clearances({"rear": {"tire": "47-622"}})["chain stays"]  # at least 6 mm asked for
    said = {
        4.0: "Leaves 4 mm; at least 6 mm asked for.",
        5.75: "Leaves 5.8 mm; at least 6 mm asked for.",  # never rounded up to what is asked
        -1.2: "Fouls by 1 mm.",
        -0.4: "Fouls by 0.4 mm.",
        6.0: "Predicted to leave 6 mm at rest, 4 mm on the road; measure it.",  # flex takes 2
        9.0: "Predicted to leave 9 mm; measure it.",
    }
    for gap, words in said.items():
        assert in_plain(predicted_in_words(replace(spot, predicted_gap_mm=gap))) == words
