"""Roles of points: said once, by the name, where a point comes without one."""

import pytest

from jentrik.core.figures.contact import contact
from jentrik.core.geometry.figures import as_found
from jentrik.core.machine.building import bike_of
from jentrik.core.machine.point_role import PointRole, role_named
from tests.documents import PLAN


@pytest.mark.parametrize(
    ("name", "role"),
    [
        ("Saddle", PointRole.SADDLE),
        ("rider's seat", PointRole.SADDLE),
        ("Seat clamp", PointRole.OTHER),
        ("Seat tube", PointRole.OTHER),
        ("Handlebar", PointRole.BAR),
        ("bar end", PointRole.BAR),
        ("left grip", PointRole.BAR),
        ("Barrel", PointRole.OTHER),
        ("Foot pegs", PointRole.FEET),
        ("Foot board", PointRole.FEET),
        ("Box floor", PointRole.LOAD),
        ("Top tube", PointRole.STAND_OVER),
        ("Box, front lower edge", PointRole.OTHER),
    ],
)
def test_a_name_says_its_role_once(name: str, role: PointRole) -> None:
    assert role_named(name) is role


def test_a_handlebar_is_found_and_a_seat_clamp_is_no_saddle() -> None:
    points = [
        {"name": "Seat clamp", "x_mm": 150, "height_mm": 800},
        {"name": "Handlebar", "x_mm": 700, "height_mm": 1000},
        {"name": "Perch", "x_mm": 120, "height_mm": 950, "role": "saddle"},
    ]
    bike = bike_of({**PLAN["bike"], "points": points})
    touched = contact(bike, as_found(bike.chassis()), None)
    assert touched.seat_height_mm == 950
    assert touched.bar_above_saddle_mm == 50
