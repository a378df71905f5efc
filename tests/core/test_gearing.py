"""Gears, rings and lines through pairs, against hand working and numpy."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jentrik.core.calibration import SpeedPair, calibrate, only_a_percentage
from jentrik.core.errors import OutOfRange
from jentrik.core.gearing import (
    Gearing,
    developments,
    engine_rpm,
    in_a_row,
    overall_ratios,
    sprockets_back,
    teeth_of,
)
from jentrik.core.tone_ring import neutral_slots, ring_choices


def test_development_by_hand():
    # 2100 mm x 48 / 12 = 8.4 m a turn; on 2000 mm 8.0.
    one = developments(Gearing(sprockets=(12.0,)), 48, found_mm=2100, planned_mm=2000)[0]
    assert (one.found_m, one.planned_m) == pytest.approx((8.4, 8.0))


def test_engine_speed_by_hand():
    # 90 km/h = 1500 m a minute; 1.8 m around: 833.3 wheel turns; 2 x 1.5 x 45 / 15 = 9 overall.
    gearing = Gearing(primary_ratio=2, gear_ratios=(1.5,), front_sprocket=15, rear_sprocket=45)
    (overall,) = overall_ratios(gearing)
    assert overall == 9
    assert engine_rpm(kmh=90, circumference_mm=1800, overall=overall) == pytest.approx(7500)
    assert overall_ratios(Gearing(gear_ratios=(1.5,))) == ()


def test_sprockets_that_bring_a_smaller_wheel_back():
    # 15/45 on a wheel 6.67 % smaller: 45 x 0.9333 = 42 teeth is exact.
    best = sprockets_back(15, 45, circumference_ratio=14 / 15)
    assert (best[0].front, best[0].rear) == (15, 42)
    assert best[0].off_percent == pytest.approx(0, abs=1e-9)
    assert sprockets_back(15, 45, circumference_ratio=1.0)[0].rear == 45


def test_a_row_of_teeth_is_read_as_people_write_it():
    assert teeth_of("50/34") == (50, 34)
    assert teeth_of("11-13 15|17") == (11, 13, 15, 17)
    assert in_a_row(teeth_of("2,6-1.75")) == "2.6-1.75"
    for text in ("", "eleven", "11-x", "0", "-"):
        with pytest.raises(OutOfRange):
            teeth_of(text)
    with pytest.raises(OutOfRange, match="at most 16"):
        Gearing(sprockets=(11.0,) * 17)


def test_ring_counts_and_what_abs_and_instrument_make_of_them():
    # 48 slots, front 600 of 651: neutral 44.24 -> 44; exact at 104 x 651/600 shown 48 x 100/112.84.
    ratio = 600 / 651
    choices = {one.slots: one for one in ring_choices(
        end="front", slots=48, front_ratio=ratio, rear_ratio=1.0,
        indicated_at_100_kmh=104 / ratio)}  # fmt: skip
    assert neutral_slots(48, ratio) == 44
    assert choices[44].why == "neutral for ABS"
    assert choices[44].indicated_at_100_kmh == pytest.approx(112.84 * 44 / 48, abs=0.01)
    assert choices[44].ratio_change_percent == pytest.approx((44 / 48 / ratio - 1) * 100)
    assert choices[48].ratio_change_percent == pytest.approx(8.5)
    assert choices[43].why == "makes the instrument exact"  # 42.54
    rear = ring_choices(end="rear", slots=48, front_ratio=1.0, rear_ratio=0.9,
                        indicated_at_100_kmh=None)  # fmt: skip
    assert {one.slots: one.ratio_change_percent for one in rear}[48] == pytest.approx(-10)


pairs = st.lists(
    st.builds(SpeedPair, st.floats(5, 200), st.floats(5, 220)), min_size=2, max_size=30
).filter(lambda some: max(p.true_kmh for p in some) - min(p.true_kmh for p in some) >= 10)


@settings(max_examples=80)
@given(pairs)
def test_offset_and_slope_are_numpys_least_squares(some):
    line = calibrate(some)
    slope, offset = np.polyfit([p.true_kmh for p in some], [p.shown_kmh for p in some], 1)
    assert (line.slope, line.offset_kmh) == pytest.approx((slope, offset), abs=1e-6, rel=1e-6)
    assert sum(line.residuals_kmh) == pytest.approx(0, abs=1e-6)


def test_a_plain_percentage_goes_through_nought():
    some = [SpeedPair(50, 53), SpeedPair(100, 106)]
    assert only_a_percentage(some) == pytest.approx(6)
    assert calibrate(some).offset_kmh == pytest.approx(0, abs=1e-9)


def test_pairs_that_tell_no_line_are_refused():
    for some in ([], [SpeedPair(50, 53)], [SpeedPair(50, 53), SpeedPair(55, 58)]):
        with pytest.raises(OutOfRange):
            calibrate(some)
