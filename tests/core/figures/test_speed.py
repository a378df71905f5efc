"""Instruments and wheel ratios against hand working."""

import numpy as np
import pytest

from jentrik.core.figures.speed import shown_kmh, speed
from jentrik.core.machine.machine import Speedometer
from jentrik.core.tire.sidewall import read_code


def test_the_sensed_wheel_decides() -> None:
    front = speed(front_ratio=0.95, rear_ratio=1.1, meter=Speedometer("front", 0.0))
    rear = speed(front_ratio=0.95, rear_ratio=1.1, meter=Speedometer("rear", 0.0))
    assert front.indicated_at_100_kmh == pytest.approx(105.263, abs=0.001)
    assert rear.indicated_at_100_kmh == pytest.approx(90.909, abs=0.001)


def test_an_instrument_that_reads_over_keeps_doing_so() -> None:
    # 4 % over on a wheel 2 % larger: 104 / 1.02.
    answer = speed(front_ratio=1.02, rear_ratio=1.0, meter=Speedometer("front", 4.0))
    assert answer.indicated_at_100_kmh == pytest.approx(101.961, abs=0.001)


@pytest.mark.parametrize("meter", [None, Speedometer("front")])
def test_what_is_not_known_is_not_guessed(meter: Speedometer | None) -> None:
    answer = speed(front_ratio=1.0, rear_ratio=1.0, meter=meter)
    assert answer.indicated_at_100_kmh is None


def test_an_offset_stays_while_the_slope_goes_with_the_wheel() -> None:
    # 3 km/h and 2 % over, on a wheel 5 % smaller: 3 + 50 x 1.02 / 0.95.
    meter = Speedometer("rear", 2.0, offset_kmh=3.0)
    shown = shown_kmh(50.0, meter, counted_ratio=0.95)
    assert shown == pytest.approx(56.684, abs=0.001)


def test_a_corrected_signal_counts_more_and_says_nothing_of_the_wheels() -> None:
    # 5 % smaller, 3 % added already and 8 % in all then: 102 / 0.95 x 1.08 / 1.03.
    meter = Speedometer("rear", 2.0, corrected_percent=3.0)
    answer = speed(front_ratio=1.0, rear_ratio=0.95, meter=meter, corrected_percent=8.0)
    assert answer.indicated_at_100_kmh == pytest.approx(102 / 0.95 * 1.08 / 1.03)
    assert answer.sensed_ratio == 0.95  # what a motor's cut-off or ABS sees
    assert speed(front_ratio=1.0, rear_ratio=0.95, meter=meter).counted_ratio == 0.95


def test_a_gearbox_driven_instrument_follows_the_sprockets() -> None:
    # 15/45 to 16/45: the wheel turns 16/15 as fast for one turn of the gearbox.
    answer = speed(
        front_ratio=0.9, rear_ratio=0.98, meter=Speedometer("gearbox", 2.0), teeth_ratio=16 / 15
    )
    assert answer.sensed_ratio == pytest.approx(0.98 * 16 / 15)
    assert answer.indicated_at_100_kmh == pytest.approx(102 / (0.98 * 16 / 15))
    wheel = speed(
        front_ratio=0.9, rear_ratio=0.98, meter=Speedometer("rear", 2.0), teeth_ratio=16 / 15
    )
    assert wheel.indicated_at_100_kmh == pytest.approx(102 / 0.98)


def test_a_19_front_exchanged_for_a_17_with_a_120_70_reads_8_and_a_half_percent_high() -> None:
    # The trade's cross-check: 483 + 2 x 84 = 651 against 432 + 168 = 600; 651 / 600 = 1.085.
    old, new = read_code("120/70 R 19"), read_code("120/70 ZR 17")
    ratio = new.overall_diameter_mm / old.overall_diameter_mm
    answer = speed(front_ratio=ratio, rear_ratio=1.0, meter=Speedometer("front", 0.0))
    assert answer.indicated_at_100_kmh == pytest.approx(108.5, abs=0.01)


def test_front_against_rear() -> None:
    answer = speed(front_ratio=0.9, rear_ratio=0.9, meter=None)
    assert answer.front_rear_ratio_change_percent == pytest.approx(0)
    answer = speed(front_ratio=0.9, rear_ratio=1.0, meter=None)
    assert answer.front_rear_ratio_change_percent == pytest.approx(-10)


def test_arrays_go_through_the_same_formula() -> None:
    ratios = np.array([0.9, 1.0, 1.1])
    many = speed(front_ratio=ratios, rear_ratio=1.0, meter=Speedometer("front", 5.0))
    assert many.indicated_at_100_kmh == pytest.approx([116.667, 105, 95.4545], abs=0.001)
