"""Wear, distance and what is due, by hand-worked straight lines and the ISO calendar."""

from datetime import date, timedelta

import numpy as np
import pytest

from jentrik.core.tire.dates import date_of
from jentrik.core.work.due import Due, next_look, next_move
from jentrik.core.work.wear import (
    DistanceCorrection,
    Mounted,
    Odometer,
    TreadLook,
    day_at,
    day_of_age,
    distance_on,
    distances,
    factor_on,
    first_to,
    km_a_day,
    km_to,
    run_on,
    wear_rate,
    worn_since,
)

D = date(2026, 1, 1)


def after(days: int) -> date:
    return D + timedelta(days=days)


def test_two_looks_give_the_line_between_them() -> None:
    # 8 mm at 0 km, 5 mm at 6000: 0.5 mm for 1000 km; 2 mm more are 4000 km.
    rate = wear_rate([TreadLook(D, 0, 8.0), TreadLook(after(100), 6000, 5.0)])
    assert rate.mm_per_1000_km == pytest.approx(0.5)
    assert km_to(3.0, rate) == pytest.approx(4000)
    # 60 km a day: 4000 / 60 = 66.7 days on.
    assert day_at(3.0, rate, 60.0) == after(166)
    assert day_at(3.0, rate, None) is None
    assert km_to(5.5, rate) == 0
    # Half a millimetre a thousand km: a later tread of 4.0 leaves 2000 km to 3.0 from that day.
    later = worn_since(rate, after(120), 4.0)
    assert km_to(3.0, later) == pytest.approx(2000)
    assert day_at(3.0, later, 50.0) == after(160)


def test_more_looks_give_least_squares() -> None:
    xs, ys = [0, 2000, 5000, 6000], [8.0, 7.1, 5.4, 5.2]
    rate = wear_rate([TreadLook(after(x), x, y) for x, y in zip(xs, ys, strict=True)])
    slope, start = np.polyfit(xs, ys, 1)
    assert rate.mm_per_1000_km == pytest.approx(-slope * 1000)
    assert rate.tread_now_mm == pytest.approx(start + slope * 6000)


def test_the_place_that_ends_first_decides() -> None:
    # Middle 8 to 5 in 6000 km: 3 mm after 4000 more; left 6 to 5: after 12 000 more.
    middle = wear_rate([TreadLook(D, 0, 8.0), TreadLook(after(100), 6000, 5.0)])
    left = wear_rate([TreadLook(D, 0, 6.0), TreadLook(after(100), 6000, 5.0)])
    assert first_to(3.0, [left, middle]) is middle
    assert first_to(3.0, []) is None


def test_nothing_is_projected_from_one_look_or_from_tread_that_stays() -> None:
    one = TreadLook(D, 0, 8.0)
    assert wear_rate([one]) is None
    assert wear_rate([one, TreadLook(after(9), 0, 7.0)]) is None
    assert wear_rate([one, TreadLook(after(9), 500, 8.0)]) is None


def test_a_check_corrects_the_way_from_its_day_on_and_a_swap_goes_on_at_the_pace() -> None:
    readings = [
        Odometer(D, 1000),
        Odometer(after(10), 1100),
        Odometer(after(20), 1200),
        Odometer(after(30), 5, swapped=True),
        Odometer(after(40), 105),
    ]
    result = distances(readings, [DistanceCorrection(after(10), 0.95)])
    # 100 + 95 + 95 km in 30 days: 9.667 a day, so 96.67 in the ten days of the swap.
    assert [km for _, km in result] == pytest.approx([0, 100, 195, 291.6667, 386.6667])
    assert km_a_day(result) == pytest.approx(290 / 30)
    assert distance_on(after(15), result) == pytest.approx(147.5)
    assert distance_on(after(99), result) is None
    assert factor_on(D, [DistanceCorrection(after(10), 0.95)]) == 1


def test_a_check_between_two_readings_counts_from_its_day() -> None:
    readings = [Odometer(D, 1000), Odometer(after(10), 2000)]
    checks = [DistanceCorrection(after(4), 0.9), DistanceCorrection(after(8), 0.8)]
    # 100 a day: 400 + 400 x 0.9 + 200 x 0.8
    assert distances(readings, checks)[-1][1] == pytest.approx(920)
    assert distances(readings, [DistanceCorrection(D, 0.9)])[-1][1] == pytest.approx(900)
    assert distances(readings, [DistanceCorrection(after(10), 0.9)])[-1][1] == pytest.approx(1000)


def test_wear_is_never_counted_over_no_way_where_the_instrument_was_swapped() -> None:
    alone = distances([Odometer(D, 9000), Odometer(after(30), 3, swapped=True)])
    assert [km for _, km in alone] == [0, 0]  # no pace is known: nothing is worn over it
    assert wear_rate([TreadLook(D, alone[0][1], 6), TreadLook(after(30), alone[1][1], 5)]) is None


def test_a_tire_goes_on_and_comes_off_at_the_first_reading_of_its_day() -> None:
    driven = distances([Odometer(D, 11000), Odometer(after(9), 12000), Odometer(after(9), 12500)])
    assert run_on(after(9), driven, [Mounted(after(9))]) == pytest.approx(500)
    assert run_on(after(9), driven, [Mounted(D, after(9))]) == pytest.approx(1000)
    both = [Mounted(D, after(9)), Mounted(after(9))]
    assert run_on(after(9), driven, both) == pytest.approx(1500)


def test_weeks_begin_on_sunday_and_years_are_the_mean_gregorian() -> None:
    # Week 53 of 2023 began on Sunday 31 December 2023; 2020 had 52 Sundays.
    assert date_of("5323").first_day == date(2023, 12, 31)
    assert date_of("5320") is None
    assert day_of_age(date_of("5323"), 10) == date(2033, 12, 30)
    assert day_of_age(date_of("158"), 10) is None


def test_the_next_look_and_the_next_move() -> None:
    assert next_look(date(2026, 5, 25), 6) == date(2026, 11, 24)
    assert next_move(date(2026, 11, 1), 4, date(2026, 11, 25)) == date(2026, 11, 29)
    assert next_move(date(2026, 11, 1), 4, date(2026, 11, 29)) == date(2026, 11, 29)
    assert next_move(date(2026, 11, 1), 4, date(2026, 11, 30)) == date(2026, 12, 27)
    assert next_move(date(2026, 11, 25), 4, date(2026, 11, 25)) == date(2026, 12, 23)


def test_late_and_this_week_end_on_sunday() -> None:
    wednesday = date(2026, 11, 25)

    def due(day: date) -> Due:
        return Due("k", day, "what", "why", 1, "m")

    assert due(date(2026, 11, 24)).late(wednesday)
    assert due(date(2026, 11, 29)).this_week(wednesday)
    assert not due(date(2026, 11, 30)).this_week(wednesday)


def test_a_pace_needs_two_days_and_counts_from_the_first() -> None:
    assert km_a_day([]) is km_a_day([(D, 0.0)]) is None
    assert km_a_day([(D, 0.0), (D, 50.0)]) is None
    assert km_a_day([(D, 10.0), (after(4), 50.0)]) == pytest.approx(10)
    assert km_a_day([(D, 10.0), (after(1), 20.0), (after(4), 70.0)]) == pytest.approx(15)


def test_a_distance_stands_on_the_days_themselves_and_on_a_single_one() -> None:
    driven = [(D, 10.0), (after(10), 110.0), (after(11), 130.0)]
    assert [distance_on(after(day), driven) for day in (0, 5, 10, 11)] == [10, 60, 110, 130]
    assert distance_on(after(12), driven) is distance_on(after(-1), driven) is None
    assert distance_on(D, [(D, 7.0)]) == 7
    assert distance_on(after(1), [(D, 7.0)]) is None
    assert distance_on(D, []) is None


def test_a_reading_below_the_last_counts_nothing_and_corrections_go_by_their_day() -> None:
    readings = [Odometer(D, 500), Odometer(after(5), 400), Odometer(after(9), 450)]
    assert [km for _, km in distances(readings)] == [0, 0, 50]
    late, early = DistanceCorrection(after(20), 0.9), DistanceCorrection(after(10), 0.95)
    assert factor_on(after(15), [late, early]) == 0.95
    assert factor_on(after(25), [late, early]) == factor_on(after(25), [early, late]) == 0.9


def test_a_limit_beyond_a_lifetime_has_no_day() -> None:
    # 0.5 mm for 1000 km: 2 mm more are 4000 km, at 4000 / 36 500 km a day just a lifetime.
    rate = wear_rate([TreadLook(D, 0, 8.0), TreadLook(after(100), 6000, 5.0)])
    assert day_at(3.0, rate, 4000 / 36_499) is not None
    assert day_at(3.0, rate, 4000 / 36_600) is None
    short = wear_rate([TreadLook(D, 0, 8.0), TreadLook(after(1), 0.5, 7.9)])
    assert short.mm_per_1000_km == pytest.approx(200)
