"""How wide a tire may be, against bisection on points of the section and by hand."""

import math
import random

import pytest

from jentrik.core.figures.room import AS_FOUND, Room, Shifts, room_of, widest, widest_tires
from jentrik.core.geometry.pose import PoseChange
from jentrik.core.machine.building import bike_of
from jentrik.core.machine.machine import Bike
from jentrik.core.plan.plan import shifts_of
from jentrik.core.work.policy import DEFAULT_POLICY

STAYS = [
    {"name": "chain stays", "wheel": "rear", "from_axle_mm": 300, "inside_mm": 70},
    {"name": "chain stays", "wheel": "rear", "from_axle_mm": 350, "inside_mm": 50},
]
BRIDGE = {"name": "stay bridge", "wheel": "rear", "from_axle_mm": 352, "minimum_mm": 6}


def a_bike(room: list[dict[str, object]], **more: object) -> Bike:
    values = {
        "name": "one",
        "kind": "bicycle",
        "wheelbase_mm": 1050,
        "head_angle_deg": 71,
        "fork": {"length_mm": 395, "offset_mm": 50},
        "front": {"tire": "37-622"},
        "rear": {"tire": "37-622"},
        "room": room,
    }
    return bike_of(values | more)


def width_at(bike: Bike, seat: int, shifts: Shifts = AS_FOUND, end: str = "rear") -> float | None:
    of = widest_tires(bike, DEFAULT_POLICY, shifts)
    return next(one.width_mm for one in of if (one.wheel, one.bead_seat_diameter_mm) == (end, seat))


def test_a_bridge_alone_says_nothing_of_the_width() -> None:
    assert width_at(a_bike([BRIDGE]), 622) is None


def test_the_bridge_limits_by_hand() -> None:
    # 352 - 6 - 311 = 35; the stays at 311 + 17.5 leave (70 - 20 * 28.5 / 50) / 2 - 6 = 23.3.
    bike = a_bike([*STAYS, BRIDGE])
    assert width_at(bike, 622) == pytest.approx(35.0)
    limited = [w for w in widest_tires(bike, DEFAULT_POLICY) if w.bead_seat_diameter_mm == 622]
    assert (limited[0].limited_by, limited[0].from_axle_mm) == ("stay bridge", 352)


def test_parallel_sides_limit_at_the_widest_place_by_hand() -> None:
    # Parallel sides 56 apart, 6 mm each side: 44 wide, widest at 292 + 22 = 314 from the axle.
    sides = [{**line, "inside_mm": 56, "minimum_mm": 6} for line in STAYS]
    found = widest_tires(a_bike(sides), DEFAULT_POLICY)
    limit = next(one for one in found if one.bead_seat_diameter_mm == 584)
    assert (limit.width_mm, limit.from_axle_mm) == (pytest.approx(44.0), pytest.approx(314.0))


def test_nothing_is_said_where_the_sides_do_not_reach_the_widest_place() -> None:
    # 406: the widest tire that clears reaches its widest place long before 300 mm from the axle.
    assert width_at(a_bike(STAYS), 406) is None


def test_an_axle_that_comes_nearer_takes_its_travel_off_the_bridge() -> None:
    bike = a_bike([*STAYS, BRIDGE])
    assert width_at(bike, 622, Shifts(rear=-4.0)) == pytest.approx(31.0)
    assert width_at(bike, 622, Shifts(fork=-4.0)) == pytest.approx(35.0)


def clears(room: Room, seat: float, width: float, aspect: float) -> bool:
    """Whether points round the section, and the tread, keep the least clearance."""
    height, middle = aspect * width, seat / 2 + aspect * width / 2
    for step in range(4001):
        angle = math.pi * step / 4000
        at, half = middle - height / 2 * math.cos(angle), width / 2 * math.sin(angle)
        for side in room.sides:
            if side.start.from_axle_mm <= at <= side.end.from_axle_mm and (
                half + side.least_mm(at) > side.half_inside_mm(at) + 1e-9
            ):
                return False
    return all(seat / 2 + height + least <= line.from_axle_mm + 1e-9 for line, least in room.ahead)


@pytest.mark.parametrize("seed", range(30))
def test_the_widest_tire_is_the_one_bisection_finds(seed: int) -> None:
    dice = random.Random(seed)
    aspect = dice.choice([1.0, 0.8, 0.55])
    seat = dice.choice([406, 559, 584, 622])
    lines: list[dict[str, object]] = []
    for name in ("chain stays", "seat stays"):
        at = seat / 2 + dice.uniform(-20, 15)
        for _ in range(dice.randint(2, 4)):
            lines.append({"name": name, "wheel": "rear", "from_axle_mm": at})
            lines[-1]["inside_mm"] = dice.uniform(20, 90)
            at += dice.uniform(5, 40)
    lines.append(
        {"name": "bridge", "wheel": "rear", "from_axle_mm": seat / 2 + dice.uniform(9, 99)}
    )
    room = room_of(a_bike(lines), "rear", DEFAULT_POLICY)
    (found,) = widest(room, "rear", [seat], aspect)
    least, most = 0.0, 300.0
    for _ in range(40):
        middle = (least + most) / 2
        least, most = (middle, most) if clears(room, seat, middle, aspect) else (least, middle)
    reached = least < 0.05 or room.reaches(seat / 2 + aspect * least / 2)
    if found.width_mm is None or not reached:
        assert not reached
        assert found.width_mm is None
    else:  # a tenth less than what just goes, at most
        assert -0.02 <= least - found.width_mm <= 0.12


def test_the_rear_axle_goes_along_the_stay_by_hand() -> None:
    # Level stay: by x alone.  A stay of 445 that falls 60: 10 forward is 10 x 440.9 / 445 = 9.91.
    for height, along in ((348, -10.0), (288, -9.909)):
        bike = a_bike(STAYS, chainstay_mm=445, bb_height_mm=height)
        moved = PoseChange(front_radius_mm=348, rear_radius_mm=348, rear_shift_x_mm=10)
        assert shifts_of(bike, moved).rear == pytest.approx(along, abs=0.001)
