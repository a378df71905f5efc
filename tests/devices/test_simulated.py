"""Stand-ins behave like tools: resolution, scatter, zero error, battery, off and out of range."""

import random
from statistics import mean, stdev
from typing import Any

import pytest

from jentrik.devices.port import UNITS, Gauge, GaugeError, GaugeQuantity, Place
from jentrik.devices.simulated import TOOL, TOOLS, Simulated


def stand_in(name: str, **more: Any) -> Simulated:
    chance = random.Random(7)
    return Simulated(TOOL[name], wait=lambda seconds: None, chance=lambda: chance, **more)


def test_every_quantity_has_a_tool_and_every_tool_speaks_the_port() -> None:
    assert {tool.quantity for tool in TOOLS} == set(GaugeQuantity) == set(UNITS)
    for tool in TOOLS:
        gauge: Gauge = stand_in(tool.id)
        assert (gauge.name, gauge.quantity) == (tool.name, tool.quantity)


def test_readings_scatter_about_the_real_state_within_what_the_tool_is_worth() -> None:
    tool = stand_in("angle", battery_percent=1e6)
    taken = [tool.read(Place(1, "head_angle_deg", 71.0)) for _ in range(400)]
    values = [one.value for one in taken]
    real = mean(values)  # the same hidden offset each time
    assert abs(real - 71.0) <= TOOL["angle"].hidden + 0.02
    # Rounding to 0.1 adds 0.1 / sqrt(12) to the tool's own scatter.
    assert stdev(values) == pytest.approx((0.05**2 + 0.1**2 / 12) ** 0.5, rel=0.15)
    inside = sum(abs(value - real) <= taken[0].plus_minus for value in values)
    assert inside / len(values) > 0.95
    assert all(round(value / 0.1, 6) == round(value / 0.1) for value in values)


def test_a_zero_error_shifts_every_reading_until_it_is_zeroed() -> None:
    off, right = (stand_in("pressure", zero_error=error, battery_percent=1e6) for error in (8, 0))
    place = Place(1, "front pressure", 200.0)
    shifted = mean(off.read(place).value for _ in range(200))
    assert shifted - mean(right.read(place).value for _ in range(200)) == pytest.approx(8, abs=0.3)


def test_it_takes_time_and_its_battery() -> None:
    slept: list[float] = []
    tool = Simulated(TOOL["scale"], battery_percent=3.0, wait=slept.append)
    tool.read(Place(1, "front.axle_load_kg", 150.0))
    assert slept == [TOOL["scale"].seconds]
    with pytest.raises(GaugeError, match="flat"):
        tool.read(Place(1, "front.axle_load_kg", 150.0))


@pytest.mark.parametrize(
    ("more", "true", "said"),
    [
        ({"on": False}, 5.0, "switched off"),
        ({"battery_percent": 1.0}, 5.0, "flat"),
        ({}, None, "nothing to measure"),
        ({}, 60.0, "outside what"),
    ],
)
def test_where_it_can_give_none_it_says_why(
    more: dict[str, Any], true: float | None, said: str
) -> None:
    with pytest.raises(GaugeError, match=said):
        stand_in("tread", **more).read(Place(1, "x", true))


def test_two_machines_are_not_alike_though_their_sheets_are() -> None:
    tool = stand_in("calipers", battery_percent=1e6)
    means = {
        machine: mean(tool.read(Place(machine, "rim", 47.0)).value for _ in range(100))
        for machine in range(1, 6)
    }
    assert len({round(value, 1) for value in means.values()}) > 1
