"""Instruments and wheel ratios against hand working."""

import numpy as np
import pytest

from jentrik.core.speed import speed


def test_the_sensed_wheel_decides():
    front = speed(front_ratio=0.95, rear_ratio=1.1, wheel="front", reads_over_percent=0.0)
    rear = speed(front_ratio=0.95, rear_ratio=1.1, wheel="rear", reads_over_percent=0.0)
    assert front.indicated_at_100_kmh == pytest.approx(105.263, abs=0.001)
    assert rear.indicated_at_100_kmh == pytest.approx(90.909, abs=0.001)


def test_an_instrument_that_reads_over_keeps_doing_so():
    # 4 % over on a wheel 2 % larger: 104 / 1.02.
    answer = speed(front_ratio=1.02, rear_ratio=1.0, wheel="front", reads_over_percent=4.0)
    assert answer.indicated_at_100_kmh == pytest.approx(101.961, abs=0.001)


@pytest.mark.parametrize(("wheel", "over"), [(None, 4.0), ("front", None), (None, None)])
def test_what_is_not_known_is_not_guessed(wheel, over):
    answer = speed(front_ratio=1.0, rear_ratio=1.0, wheel=wheel, reads_over_percent=over)
    assert answer.indicated_at_100_kmh is None


def test_front_against_rear():
    answer = speed(front_ratio=0.9, rear_ratio=0.9, wheel=None, reads_over_percent=None)
    assert answer.front_rear_ratio_change_percent == pytest.approx(0)
    answer = speed(front_ratio=0.9, rear_ratio=1.0, wheel=None, reads_over_percent=None)
    assert answer.front_rear_ratio_change_percent == pytest.approx(-10)


def test_arrays_go_through_the_same_formula():
    ratios = np.array([0.9, 1.0, 1.1])
    many = speed(front_ratio=ratios, rear_ratio=1.0, wheel="front", reads_over_percent=5.0)
    assert many.indicated_at_100_kmh == pytest.approx([116.667, 105, 95.4545], abs=0.001)
