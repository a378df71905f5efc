"""Machines as plain values: limits, and what a proposal makes of a wheel."""

import math
from collections.abc import Callable
from typing import Any

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.catalogue import KNOWN
from jentrik.core.machine.machine import (
    Bike,
    Clearance,
    Fork,
    Frame,
    NamedPoint,
    SideStand,
    Speedometer,
)
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import Rim, RimBrake, Wheel, WheelChange, WheelSpec
from jentrik.core.tire.sidewall import read_code

T622, T584, T622_WIDE = (read_code(code) for code in ("37-622", "47-584", "50-622"))
RIM = Rim(bead_seat_diameter_mm=622, inner_width_mm=19)


def bike(*, rear: Wheel | None = None, fork_length_mm: float = 395.0, **frame: Any) -> Bike:
    figures = {"wheelbase_mm": 1050.0, "head_angle_deg": 71.0} | frame
    return Bike(
        "tourer",
        "bicycle",
        "bicycle",
        Frame(**figures),
        Fork(fork_length_mm, 50.0),
        Wheel(T622),
        rear or Wheel(T622),
    )


@pytest.mark.parametrize("figure", [math.nan, math.inf, -math.inf, 1e400, -1.0, 1e9])
@pytest.mark.parametrize(
    "build",
    [
        lambda figure: bike(wheelbase_mm=figure),
        lambda figure: bike(head_angle_deg=figure),
        lambda figure: bike(fork_length_mm=figure),
        lambda figure: Wheel(T622, overall_diameter_mm=figure),
        lambda figure: WheelChange(overall_diameter_mm=figure),
        lambda figure: Rim(inner_width_mm=figure),
        lambda figure: RimBrake(pad_reach_mm=figure),
        lambda figure: RimBrake(slot_mm=(figure, figure)),
        lambda figure: WheelSpec(rim_width_mm=(figure, figure)),
        lambda figure: Clearance("x", "front", "radial", 5.0, figure),
        lambda figure: SideStand(figure, 240.0, 500.0),
        lambda figure: Proposal("A", fork_length_mm=figure),
    ],
)
def test_the_core_itself_refuses_what_no_machine_has(
    build: Callable[..., Any], figure: float
) -> None:
    with pytest.raises(OutOfRange) as refused:
        build(figure)
    assert refused.value.field
    assert refused.value.expected


@pytest.mark.parametrize(
    ("build", "field"),
    [
        (lambda: NamedPoint("x", math.nan, 1.0), "x_mm"),
        (lambda: Speedometer("front", math.inf), "reads_over_percent"),
        (lambda: Proposal("A", lower_cup_mm=math.nan), "lower_cup_mm"),
        (lambda: Proposal("A", rear_shift_y_mm=9999.0), "rear_axle_shift_mm.y"),
        (lambda: RimBrake(slot_mm=(57.0, 47.0)), "slot_mm"),
        (lambda: Clearance("x", "rear", "side", 5.0, on="fork"), "on"),
    ],
)
def test_a_refusal_names_the_figure(build: Callable[..., Any], field: str) -> None:
    with pytest.raises(OutOfRange) as refused:
        build()
    assert refused.value.field == field


def test_the_limits_themselves_are_allowed() -> None:
    for angle in (20.0, 90.0):
        assert bike(head_angle_deg=angle).frame.head_angle_deg == angle
    for key, known in KNOWN.items():
        if known.between is not None:
            assert known.between[0] < known.between[1], key
            assert known.spoken_unit or key.startswith("gearing.") or "load_index" in key, key


def test_a_chain_stay_not_longer_than_the_drop_is_refused() -> None:
    # Drop 348 - 200 = 148.
    with pytest.raises(OutOfRange, match="chain stay"):
        bike(chainstay_mm=148.0, bb_height_mm=200.0).chassis()
    place = bike(chainstay_mm=185.0, bb_height_mm=237.0).chassis().bottom_bracket
    assert place is not None
    x, y = place
    assert (x, y) == pytest.approx((math.sqrt(185**2 - 111**2), 237))


def test_measured_before_nominal() -> None:
    assert Wheel(T622).diameter_mm == 696
    assert Wheel(T622, overall_diameter_mm=690.0).diameter_mm == 690
    assert Wheel(overall_diameter_mm=690.0).width_mm is None


@pytest.mark.parametrize("wheel", [Wheel(), Wheel(read_code("700C"))])
def test_an_unknown_diameter_is_refused_where_it_is_needed(wheel: Wheel) -> None:
    with pytest.raises(OutOfRange, match="diameter is unknown"):
        _ = wheel.diameter_mm


def test_another_tire_drops_the_measured_diameter_and_an_alone_one_keeps_the_tire() -> None:
    found = Wheel(T622, overall_diameter_mm=690.0)
    assert found.changed_by(WheelChange(tire=T622_WIDE)).diameter_mm == 722
    assert found.changed_by(WheelChange(T622_WIDE, 720.0)).diameter_mm == 720
    kept = found.changed_by(WheelChange(overall_diameter_mm=688.0))
    assert (kept.tire, kept.diameter_mm) == (T622, 688)
    assert found.changed_by(WheelChange()) == found


def test_another_bead_seat_drops_the_rim_and_a_stated_rim_stays() -> None:
    found = Wheel(T622, rim=RIM)
    assert found.changed_by(WheelChange(tire=T584)).rim is None
    assert found.changed_by(WheelChange(tire=T622_WIDE)).rim == RIM
    other = Rim(bead_seat_diameter_mm=584)
    assert found.changed_by(WheelChange(tire=T584, rim=other)).rim == other


def test_a_brake_stays_with_the_frame() -> None:
    brake = RimBrake(52.0, slot_mm=(47.0, 57.0))
    assert Wheel(T622, rim_brake=brake).changed_by(WheelChange(tire=T584)).rim_brake == brake


def test_a_wheel_of_unknown_diameter_is_blamed_on_its_end() -> None:
    with pytest.raises(OutOfRange) as refused:
        bike(rear=Wheel(read_code("650B"))).chassis()
    assert refused.value.field == "rear.tire"
