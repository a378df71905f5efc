"""How a tire wears, and the day it reaches its limit by tread or by age.

    tread = a - b x distance           least squares over the looks of one tire, for each place
                                       across by itself; two points: exact
    distance = readings x correction   a check over a known distance, or the circumference ratio
                                       of a wheel change since; never a speedometer's over-read
    day at the limit                   from the last look on, at the machine's own pace

The place that reaches the limit first decides.  Source: derived; that wear goes on as it did is
common practice.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from itertools import pairwise

from jentrik.core.days import days_after
from jentrik.core.tire.dates import DAYS_A_YEAR, DateReading

FARTHEST_DAYS = 36_500


@dataclass(frozen=True, slots=True)
class Odometer:
    """One reading: the day, what stood there, and whether the instrument was another from then."""

    on: date
    km: float
    swapped: bool = False


@dataclass(frozen=True, slots=True)
class DistanceCorrection:
    """From a day on, true km for one counted; in force until the next."""

    since: date
    true_per_counted: float


def distances(
    readings: Sequence[Odometer], corrections: Sequence[DistanceCorrection] = ()
) -> tuple[tuple[date, float], ...]:
    """Return day and true distance since the first reading, km, in the order of the readings.

    A correction counts from its own day, between two readings too.  What an instrument that was
    swapped no longer showed is taken from the pace of all other readings.
    """
    ordered = sorted(readings, key=lambda one: one.on)
    ways = [
        None if after.swapped else _way(before, after, corrections)
        for before, after in pairwise(ordered)
    ]
    days = [(after.on - before.on).days for before, after in pairwise(ordered)]
    known = [(way, of) for way, of in zip(ways, days, strict=True) if way is not None]
    ridden = sum(of for _, of in known)
    pace = sum(way for way, _ in known) / ridden if ridden else 0.0
    driven = [(one.on, 0.0) for one in ordered[:1]]
    for one, way, of in zip(ordered[1:], ways, days, strict=True):
        driven.append((one.on, driven[-1][1] + (pace * of if way is None else way)))
    return tuple(driven)


def _way(before: Odometer, after: Odometer, corrections: Sequence[DistanceCorrection]) -> float:
    """Return the true km between two readings, each day's by the correction of that day."""
    counted, days = max(after.km - before.km, 0.0), (after.on - before.on).days
    between = sorted(
        correction.since for correction in corrections if before.on < correction.since < after.on
    )
    spans = pairwise((before.on, *between, after.on))
    if not days:
        return counted * factor_on(before.on, corrections)
    return sum(
        counted * (end - start).days / days * factor_on(start, corrections) for start, end in spans
    )


def factor_on(day: date, corrections: Sequence[DistanceCorrection]) -> float:
    """Return true km for one counted on a day; 1 where no one checked."""
    factor = 1.0
    for correction in sorted(corrections, key=lambda c: c.since):
        if correction.since <= day:
            factor = correction.true_per_counted
    return factor


def km_a_day(driven: Sequence[tuple[date, float]]) -> float | None:
    """Return the machine's pace over all its readings; None where there is too little to say."""
    if len(driven) < 2 or driven[-1][0] <= driven[0][0]:
        return None
    return (driven[-1][1] - driven[0][1]) / (driven[-1][0] - driven[0][0]).days


def distance_on(
    day: date, driven: Sequence[tuple[date, float]], *, first: bool = False
) -> float | None:
    """Return the true distance on a day, between readings by straight lines; None outside.

    Of several readings of a day the last, or the `first`.
    """
    there = [way for on, way in driven if on == day]
    if there:
        return there[0] if first else there[-1]
    for (a, near), (b, far) in pairwise(driven):
        if a < day < b:
            return near + (far - near) * ((day - a).days / (b - a).days)
    return None


@dataclass(frozen=True, slots=True)
class Mounted:
    """The days a tire is on its machine; until None it still is.

    `on_km` and `off_km` are what the odometer showed then, where the card of the change says so.
    """

    since: date
    until: date | None = None
    on_km: float | None = None
    off_km: float | None = None


def run_on(
    day: date,
    driven: Sequence[tuple[date, float]],
    mounted: Sequence[Mounted],
    counted: Sequence[float] = (),
) -> float | None:
    """Return the true km a tire has run on a day: only what its machine went while it was on.

    A tire goes on and comes off at the reading of its change, of those `counted` beside `driven`,
    else at the first reading of that day: what stood there then.  Without the days it was on, what
    the machine went; None where no reading covers the day.
    """

    def at(on: date, km: float | None, *, first: bool) -> float:
        readings = zip(driven, counted, strict=False)
        marked = (way for (then, way), shown in readings if then == on and shown == km)
        return next(marked, distance_on(on, driven, first=first) or 0.0)

    if not mounted or not driven:
        return distance_on(day, driven)
    if distance_on(day, driven) is None:
        return None
    first, last = driven[0][0], driven[-1][0]
    run = 0.0
    for stay in mounted:
        start, end = max(stay.since, first), min(stay.until or last, day, last)
        if start <= end:
            then = at(start, stay.on_km if start == stay.since else None, first=True)
            off = end == stay.until
            now = at(end, stay.off_km if off else None, first=off)
            run += max(now - then, 0.0)
    return run


@dataclass(frozen=True, slots=True)
class TreadLook:
    """The tread at one place of one look, mm, and the true distance then, km."""

    on: date
    km: float
    tread_mm: float


@dataclass(frozen=True, slots=True)
class WearRate:
    """mm of tread for 1000 km, and the tread at the last look by the line through all."""

    mm_per_1000_km: float
    tread_now_mm: float
    last: TreadLook


def wear_rate(looks: Sequence[TreadLook]) -> WearRate | None:
    """Return how a tire wears; None before it has worn over some distance."""
    if len(looks) < 2:
        return None
    ordered = sorted(looks, key=lambda one: one.km)
    xs, ys = [one.km for one in ordered], [one.tread_mm for one in ordered]
    mean_x, mean_y = sum(xs) / len(xs), sum(ys) / len(ys)
    spread = sum((x - mean_x) ** 2 for x in xs)
    if spread <= 0:
        return None
    slope = sum((x - mean_x) * (y - mean_y) for x, y in zip(xs, ys, strict=True)) / spread
    if slope >= 0:
        return None
    last = ordered[-1]
    return WearRate(-slope * 1000, mean_y + slope * (last.km - mean_x), last)


def worn_since(rate: WearRate, on: date, tread_mm: float) -> WearRate:
    """Return a rate that starts from a later tread, taken without an odometer reading."""
    return replace(rate, tread_now_mm=tread_mm, last=replace(rate.last, on=on, tread_mm=tread_mm))


def first_to(limit_mm: float, rates: Sequence[WearRate]) -> WearRate | None:
    """Return the rate of the place that reaches a tread limit first; None without any."""
    return min(rates, key=lambda rate: km_to(limit_mm, rate), default=None)


def km_to(limit_mm: float, rate: WearRate) -> float:
    """Return the km from the last look until a tread limit; 0 where it is reached."""
    return max((rate.tread_now_mm - limit_mm) / rate.mm_per_1000_km * 1000, 0.0)


def day_at(limit_mm: float, rate: WearRate, pace_km_a_day: float | None) -> date | None:
    """Return the day a tread limit is reached; None without a pace, or beyond a lifetime."""
    if not pace_km_a_day:
        return None
    days = km_to(limit_mm, rate) / pace_km_a_day
    return None if days > FARTHEST_DAYS else days_after(rate.last.on, int(days))


def day_of_age(made: DateReading, years: float) -> date | None:
    """Return the day a tire reaches an age in years; None where its year is unknown."""
    if made.first_day is None:
        return None
    return days_after(made.first_day, years * DAYS_A_YEAR)
