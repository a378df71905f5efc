"""True speeds from a track of fixes, and the shown ones beside it, aligned in time.

A speed is the way between two fixes over the time between them.  Left out: stops, fixes that are
poor by their own word, jumps no machine makes, and stretches that are not steady.  Where the shown
speeds carry a clock of their own, the shift that leaves the least residual is taken.
Source: common practice.
"""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jentrik.core.errors import OutOfRange
from jentrik.core.figures.calibration import LEAST_SPREAD_KMH, Calibration, SpeedPair, calibrate

STOPPED_KMH = 8.0
POOR_HDOP = 4.0
JUMP_MS2 = 8.0  # more than brakes or engine do
STEADY_MS2 = 0.5
LONGEST_STEP_S = 10.0
MOST_PAIRS = 60
LIKELY_SLOPE = (0.7, 1.4)  # beyond it the clocks do not belong together


@dataclass(frozen=True, slots=True)
class Fix:
    """One fix: seconds on its clock, meters along the way so far, how poor it says it is."""

    at_s: float
    along_m: float
    hdop: float | None = None


@dataclass(frozen=True, slots=True)
class Paced:
    """A steady speed in km/h in the middle of two fixes, at seconds on the track's clock."""

    at_s: float
    kmh: float


@dataclass(frozen=True, slots=True)
class TrackPaces:
    """The steady speeds of a track, and how many stretches were left out, by reason."""

    paces: tuple[Paced, ...]
    left_out: dict[str, int]


@dataclass(frozen=True, slots=True)
class ShownSpeed:
    """What the instrument showed at seconds on its own clock, km/h."""

    at_s: float
    kmh: float


def paces_of(fixes: Sequence[Fix]) -> TrackPaces:
    """Return the steady speeds of a track; refuses times that run backwards or stand still."""
    left_out = {"stops": 0, "poor fixes": 0, "jumps": 0, "unsteady": 0, "gaps": 0}
    raw: list[Paced] = []
    for before, after in pairwise(fixes):
        took = after.at_s - before.at_s
        if took <= 0:
            raise OutOfRange(
                f"The track's times run backwards at {after.at_s - fixes[0].at_s:.0f} s.",
                field="track",
                expected="fixes in the order they were taken",
            )
        kmh = (after.along_m - before.along_m) / took * 3.6
        middle = Paced((before.at_s + after.at_s) / 2, kmh)
        if took > LONGEST_STEP_S:
            left_out["gaps"] += 1
        elif max(before.hdop or 0.0, after.hdop or 0.0) > POOR_HDOP:
            left_out["poor fixes"] += 1
        else:
            raw.append(middle)
    paces = []
    for place, pace in enumerate(raw):
        speeding = max(
            (
                abs(pace.kmh - other.kmh) / 3.6 / abs(pace.at_s - other.at_s)
                for other in raw[max(place - 1, 0) : place + 2]
                if other is not pace and abs(pace.at_s - other.at_s) <= LONGEST_STEP_S
            ),
            default=0.0,
        )
        if pace.kmh < STOPPED_KMH:
            left_out["stops"] += 1
        elif speeding > JUMP_MS2:
            left_out["jumps"] += 1
        elif speeding > STEADY_MS2:
            left_out["unsteady"] += 1
        else:
            paces.append(pace)
    return TrackPaces(tuple(paces), {name: count for name, count in left_out.items() if count})


def paired(
    paces: Sequence[Paced], shown: Sequence[ShownSpeed], *, shift_s: float = 0.0
) -> tuple[SpeedPair, ...]:
    """Return each shown speed with the true one at its time; none where the track was not steady.

    `shift_s` is added to the instrument's clock.
    """
    times = [pace.at_s for pace in paces]
    pairs = []
    for one in shown:
        at = one.at_s + shift_s
        after = bisect_left(times, at)
        if not 0 < after < len(times):
            continue
        a, b = paces[after - 1], paces[after]
        if b.at_s - a.at_s > LONGEST_STEP_S or one.kmh <= 0:
            continue
        true = a.kmh + (b.kmh - a.kmh) * (at - a.at_s) / (b.at_s - a.at_s)
        pairs.append(SpeedPair(true, one.kmh))
    return tuple(pairs)


@dataclass(frozen=True, slots=True)
class Aligned:
    """Pairs at the shift of the clocks that leaves the least residual, seconds."""

    pairs: tuple[SpeedPair, ...]
    calibration: Calibration
    shift_s: float


def aligned(paces: Sequence[Paced], shown: Sequence[ShownSpeed], *, own_clock: bool) -> Aligned:
    """Return the shown speeds paired with the true ones, their clocks brought together.

    Clocks of the same time of day are searched within half a minute; a clock of its own (seconds
    from a start someone pressed) over the whole track.  Refuses what gives no line.
    """
    if len(paces) < 2:
        raise OutOfRange(
            "The track holds no steady speed.",
            field="track",
            expected="a ride with stretches at one speed",
        )
    base, reach = 0.0, 30.0
    if own_clock:
        span = paces[-1].at_s - paces[0].at_s
        base = paces[0].at_s - shown[0].at_s + span / 2
        reach = span / 2 + 30.0
    shifts = base + np.arange(-int(reach), int(reach) + 1)
    counts, spreads = _lines_at(paces, shown, shifts)
    enough = (counts >= 3) & (counts * 10 >= counts.max(initial=0) * 9)
    worth = np.where(enough, spreads / np.sqrt(np.maximum(counts, 1)), np.inf)
    best = int(np.argmin(worth))
    if not np.isfinite(worth[best]):
        raise OutOfRange(
            "Track and shown speeds do not meet in time, or hold one speed only.",
            field="shown",
            expected="three shown speeds or more during the track, at different speeds",
        )
    pairs = paired(paces, shown, shift_s=float(shifts[best]))
    return Aligned(_thinned(pairs), calibrate(pairs), float(shifts[best]))


def _lines_at(
    paces: Sequence[Paced], shown: Sequence[ShownSpeed], shifts: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return how many pairs each shift of the clocks gives, and how far they lie off a line.

    A shift whose pairs hold one speed only, or give a slope no instrument has, lies infinitely
    far off.
    """
    times = np.array([pace.at_s for pace in paces])
    true_kmh = np.array([pace.kmh for pace in paces])
    ats = np.array([one.at_s for one in shown])
    shown_kmh = np.array([one.kmh for one in shown])
    counts, spreads = np.zeros(len(shifts)), np.full(len(shifts), np.inf)
    for place, shift in enumerate(shifts):
        at = ats + shift
        after = np.searchsorted(times, at)
        inside = (after > 0) & (after < len(times)) & (shown_kmh > 0)
        near = np.clip(after, 1, len(times) - 1)
        inside &= times[near] - times[near - 1] <= LONGEST_STEP_S
        counts[place] = inside.sum()
        if counts[place] < 3:
            continue
        x = np.interp(at[inside], times, true_kmh)
        y = shown_kmh[inside]
        if np.ptp(x) < LEAST_SPREAD_KMH:
            continue
        off = x - x.mean()
        slope = (off * y).sum() / (off**2).sum()
        if not LIKELY_SLOPE[0] <= slope <= LIKELY_SLOPE[1]:
            continue
        spreads[place] = np.sqrt(((y - y.mean() - slope * off) ** 2).mean())
    return counts, spreads


def _thinned(pairs: tuple[SpeedPair, ...]) -> tuple[SpeedPair, ...]:
    """Return at most so many pairs, evenly out of all of them."""
    if len(pairs) <= MOST_PAIRS:
        return pairs
    return tuple(pairs[int(i * len(pairs) / MOST_PAIRS)] for i in range(MOST_PAIRS))
