"""Gears, rings and lines through pairs, against hand working and numpy."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jentrik.core.errors import OutOfRange
from jentrik.core.figures.calibration import READ_TO_KMH, SpeedPair, calibrate, only_a_percentage
from jentrik.core.figures.tone_ring import ring_pairs
from jentrik.core.machine.gearing import (
    Gearing,
    developments,
    engine_rpm,
    overall_ratios,
    sprockets_back,
    teeth_of,
    teeth_ratio,
)


def test_development_by_hand() -> None:
    # 2100 mm x 48 / 12 = 8.4 m a turn; on 2000 mm 8.0.
    one = developments(Gearing(sprockets=(12.0,)), 48, found_mm=2100, planned_mm=2000)[0]
    assert (one.found_m, one.planned_m) == pytest.approx((8.4, 8.0))


def test_engine_speed_by_hand() -> None:
    # 90 km/h = 1500 m a minute; 1.8 m around: 833.3 wheel turns; 2 x 1.5 x 45 / 15 = 9 overall.
    gearing = Gearing(primary_ratio=2, gear_ratios=(1.5,), front_sprocket=15, rear_sprocket=45)
    (overall,) = overall_ratios(gearing)
    assert overall == 9
    assert engine_rpm(kmh=90, circumference_mm=1800, overall=overall) == pytest.approx(7500)
    assert overall_ratios(Gearing(gear_ratios=(1.5,))) == ()


def test_sprockets_that_bring_a_smaller_wheel_back() -> None:
    # 15/45 on a wheel 6.67 % smaller: 45 x 0.9333 = 42 teeth is exact.
    best = sprockets_back(15, 45, circumference_ratio=14 / 15)
    assert (best[0].front, best[0].rear) == (15, 42)
    assert best[0].off_percent == pytest.approx(0, abs=1e-9)
    assert sprockets_back(15, 45, circumference_ratio=1.0)[0].rear == 45


def test_a_row_of_teeth_is_read_as_people_write_it() -> None:
    assert teeth_of("50/34") == (50, 34)
    assert teeth_of("11-13 15|17") == (11, 13, 15, 17)
    assert teeth_of("2,6-1.75") == (2.6, 1.75)
    for text in ("", "eleven", "11-x", "0", "-"):
        with pytest.raises(OutOfRange):
            teeth_of(text)
    with pytest.raises(OutOfRange, match="at most 16"):
        Gearing(sprockets=(11.0,) * 17)


def pulses_a_metre(slots: int, circumference: int) -> float:
    return slots / circumference


def test_rings_are_chosen_as_pairs_by_the_ratio_front_to_rear() -> None:
    # 48 slots each, front 651 to 600 mm, rear 640 to 626: pulses per metre, front over rear.
    found = pulses_a_metre(48, 651) / pulses_a_metre(48, 640)
    pairs = ring_pairs(
        found={"front": 48, "rear": 48},
        planned={"front": None, "rear": None},
        ratios={"front": 600 / 651, "rear": 626 / 640},
        feeds="front",
        indicated_at_100_kmh=110.0,
    )
    for pair in pairs:
        now = pulses_a_metre(pair.front, 600) / pulses_a_metre(pair.rear, 626)
        assert pair.ratio_change_percent == pytest.approx((now / found - 1) * 100)
        assert pair.indicated_at_100_kmh == pytest.approx(110 * pair.front / 48)
    off = [abs(pair.ratio_change_percent) for pair in pairs[:-1]]
    assert off == sorted(off)
    # 45 and 48: 45 x 651 x 626 / (48 x 600 x 640) = 0.99494
    assert pairs[0].ratio_change_percent == pytest.approx(-0.506, abs=0.001)
    assert {pair.why: (pair.front, pair.rear) for pair in pairs}["as it is"] == (48, 48)
    assert ("each neutral for its wheel", 44, 47) in {(p.why, p.front, p.rear) for p in pairs}


def test_a_ring_that_is_planned_stands_and_the_other_goes_with_it() -> None:
    pairs = ring_pairs(
        found={"front": 48, "rear": 48},
        planned={"front": 45, "rear": None},
        ratios={"front": 600 / 651, "rear": 626 / 640},
        feeds=None,
        indicated_at_100_kmh=None,
    )
    assert {pair.front for pair in pairs} == {45}
    assert pairs[0].rear == 48
    assert pairs[0].indicated_at_100_kmh is None


def test_a_ring_no_one_counted_stays_as_it_is() -> None:
    (pair,) = ring_pairs(
        found={"front": None, "rear": None},
        planned={"front": None, "rear": None},
        ratios={"front": 0.9, "rear": 1.0},
        feeds=None,
        indicated_at_100_kmh=None,
    )
    assert pair.ratio_change_percent == pytest.approx((1 / 0.9 - 1) * 100)


def test_the_line_through_pairs_has_the_standard_errors_of_numpy() -> None:
    some = [SpeedPair(30, 33), SpeedPair(50, 52), SpeedPair(80, 85), SpeedPair(110, 114)]
    line = calibrate(some)
    _, covariance = np.polyfit([p.true_kmh for p in some], [p.shown_kmh for p in some], 1, cov=True)
    free_two = 4.302653  # Student's t, 97.5 %, two free; from any printed table
    slope = free_two * math.sqrt(covariance[0, 0]) * 100
    assert line.slope_error_percent == pytest.approx(slope, rel=1e-6)
    assert line.offset_error_kmh == pytest.approx(free_two * math.sqrt(covariance[1, 1]), rel=1e-6)
    assert line.plus_minus_kmh(200) > 2 * line.plus_minus_kmh(70)
    far = np.array([200.0, 1.0])
    assert line.plus_minus_kmh(200) == pytest.approx(
        free_two * math.sqrt(far @ covariance @ far), rel=1e-6
    )


def test_two_pairs_leave_no_residual_and_count_as_well_as_a_scale_is_read() -> None:
    line = calibrate([SpeedPair(50, 53), SpeedPair(100, 106)])
    assert line.spread_kmh is None
    assert line.scatter_kmh == 2 * READ_TO_KMH
    # 2 x 0.5 x sqrt(1/2 + 25^2 / 1250) at either pair
    assert line.plus_minus_kmh(50) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("front", "rear", "ratio"),
    [(16, None, 16 / 15), (None, 42, 45 / 42), (16, 48, 16 / 15 * 45 / 48), (None, None, 1)],
)
def test_sprockets_planned_over_found(front: int | None, rear: int | None, ratio: float) -> None:
    found = Gearing(front_sprocket=15, rear_sprocket=45)
    assert teeth_ratio(found, front, rear) == pytest.approx(ratio)
    assert teeth_ratio(Gearing(), front, rear) == 1


pairs = st.lists(
    st.builds(SpeedPair, st.floats(5, 200), st.floats(5, 220)), min_size=2, max_size=30
).filter(lambda some: max(p.true_kmh for p in some) - min(p.true_kmh for p in some) >= 10)


@settings(max_examples=80)
@given(pairs)
def test_offset_and_slope_are_numpys_least_squares(some: list[SpeedPair]) -> None:
    line = calibrate(some)
    slope, offset = np.polyfit([p.true_kmh for p in some], [p.shown_kmh for p in some], 1)
    assert (line.slope, line.offset_kmh) == pytest.approx((slope, offset), abs=1e-6, rel=1e-6)
    assert sum(line.residuals_kmh) == pytest.approx(0, abs=1e-6)


def test_a_plain_percentage_goes_through_nought() -> None:
    some = [SpeedPair(50, 53), SpeedPair(100, 106)]
    assert only_a_percentage(some) == pytest.approx(6)
    assert calibrate(some).offset_kmh == pytest.approx(0, abs=1e-9)


def test_pairs_that_tell_no_line_are_refused() -> None:
    for some in ([], [SpeedPair(50, 53)], [SpeedPair(50, 53), SpeedPair(55, 58)]):
        with pytest.raises(OutOfRange):
            calibrate(some)


@pytest.mark.parametrize(
    ("row", "least", "most"),
    [("chainrings", 15, 80), ("sprockets", 8, 60), ("gear_ratios", 0.2, 10)],
)
def test_teeth_and_ratios_no_machine_has_are_refused(row: str, least: float, most: int) -> None:
    assert Gearing(**{row: (least, most)})
    for wrong in (least - 0.01, most + 0.01):
        with pytest.raises(OutOfRange):
            Gearing(**{row: (wrong,)})
    assert Gearing(**{row: (least,) * 16})


def test_overall_ratios_need_every_part() -> None:
    whole = {"primary_ratio": 2.0, "gear_ratios": (1.5,), "front_sprocket": 15, "rear_sprocket": 45}
    assert overall_ratios(Gearing(**whole)) == (pytest.approx(9.0),)
    for part in ("primary_ratio", "front_sprocket", "rear_sprocket"):
        assert overall_ratios(Gearing(**whole | {part: None})) == ()


def test_three_pairs_of_sprockets_the_fewest_changed_teeth_first() -> None:
    pairs = sprockets_back(15, 45, circumference_ratio=1.0)
    assert [(pair.front, pair.rear) for pair in pairs] == [(15, 45), (14, 42), (16, 48)]
    # 46 of 15 teeth are 2.22 % shorter than 45.
    near = sprockets_back(15, 45, circumference_ratio=46 / 45, best=1)[0]
    assert (near.front, near.rear, near.off_percent) == (15, 46, pytest.approx(0))
    small = sprockets_back(8, 10, circumference_ratio=0.5, best=99)
    assert min(pair.front for pair in small) == min(pair.rear for pair in small) == 8
    assert (max(pair.front for pair in small), max(pair.rear for pair in small)) == (10, 16)
    shorter = next(pair for pair in small if (pair.front, pair.rear) == (8, 16))
    assert shorter.off_percent == pytest.approx((16 / 8 / (10 / 8 * 0.5) - 1) * 100)


@pytest.mark.parametrize("text", ["0", "1000", "12-0-14", ""])
def test_rows_of_nothing_or_of_thousands_are_refused(text: str) -> None:
    with pytest.raises(OutOfRange):
        teeth_of(text)
    assert teeth_of("999.5") == (999.5,)
