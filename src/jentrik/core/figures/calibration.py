"""What an instrument really does: offset and slope from pairs of true and shown speeds.

    shown = offset + slope x true        least squares over the pairs; residual = shown - that
    s^2 = sum of residuals^2 / (n - 2)   +- at v = t s sqrt(1 / n + (v - mean)^2 / Sxx)

t is Student's for n - 2 pairs that are free, so that the line lies inside 95 times of 100.  Two
pairs leave no residual: their scatter is taken as what a scale can be read to, twice.  The ± grows
away from the pairs.
Source: least squares, checked against numpy's.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jentrik.core.amounts import kmh
from jentrik.core.errors import OutOfRange
from jentrik.core.plus_minus import TWO, deviations

LEAST_PAIRS = 2
LEAST_SPREAD_KMH = 10.0  # common practice: nearer together they tell an offset from nothing
READ_TO_KMH = 0.5  # common practice: no scale is read better, whatever the residuals
FAR_OFF_KMH = 3.0  # common practice: a residual beyond this is worth a second look


@dataclass(frozen=True, slots=True)
class SpeedPair:
    """One true speed and what the instrument showed, km/h."""

    true_kmh: float
    shown_kmh: float


@dataclass(frozen=True, slots=True)
class Calibration:
    """The line through the pairs: offset in km/h, slope, each pair's residual in km/h, and where
    the pairs lie: the mean of their true speeds, and the sum of squares about it.
    """

    offset_kmh: float
    slope: float
    residuals_kmh: tuple[float, ...]
    mean_kmh: float
    squares_kmh2: float

    @property
    def reads_over_percent(self) -> float:
        """By how much it reads over, beside the offset, percent."""
        return (self.slope - 1.0) * 100.0

    @property
    def spread_kmh(self) -> float | None:
        """The standard error of one pair about the line, km/h; None of two pairs."""
        free = len(self.residuals_kmh) - 2
        if free < 1:
            return None
        return math.sqrt(sum(one**2 for one in self.residuals_kmh) / free)

    @property
    def scatter_kmh(self) -> float:
        """± of one pair, km/h: its spread as so few show it, never finer than a scale is read."""
        free = len(self.residuals_kmh) - 2
        seen = deviations(free) * (self.spread_kmh or 0.0) if free else 0.0
        return max(seen, TWO * READ_TO_KMH)

    @property
    def offset_error_kmh(self) -> float:
        """± of the offset, km/h."""
        count = len(self.residuals_kmh)
        return self.scatter_kmh * math.sqrt(1 / count + self.mean_kmh**2 / self.squares_kmh2)

    @property
    def slope_error_percent(self) -> float:
        """± of the slope, percent."""
        return self.scatter_kmh / math.sqrt(self.squares_kmh2) * 100

    def plus_minus_kmh(self, true_kmh: float) -> float:
        """Return the ± of what it shows at a true speed, km/h."""
        count, away = len(self.residuals_kmh), true_kmh - self.mean_kmh
        return self.scatter_kmh * math.sqrt(1 / count + away**2 / self.squares_kmh2)

    def shown(self, true_kmh: float) -> float:
        """Return what the instrument shows at a true speed, km/h."""
        return self.offset_kmh + self.slope * true_kmh


def calibrate(pairs: Sequence[SpeedPair]) -> Calibration:
    """Return the line through the pairs; refuses too few of them, or all at one speed."""
    if len(pairs) < LEAST_PAIRS:
        raise OutOfRange(
            "An offset and a slope need two speeds at least.", expected="two pairs or more"
        )
    true = [pair.true_kmh for pair in pairs]
    if max(true) - min(true) < LEAST_SPREAD_KMH:
        raise OutOfRange(
            f"The true speeds lie within {kmh(LEAST_SPREAD_KMH):g} of each other: ride a slower "
            "and a faster one.",
            expected="speeds further apart",
        )
    mean_true = sum(true) / len(pairs)
    mean_shown = sum(pair.shown_kmh for pair in pairs) / len(pairs)
    across = sum((pair.true_kmh - mean_true) * (pair.shown_kmh - mean_shown) for pair in pairs)
    squares = sum((one - mean_true) ** 2 for one in true)
    slope = across / squares
    offset = mean_shown - slope * mean_true
    residuals = tuple(pair.shown_kmh - offset - slope * pair.true_kmh for pair in pairs)
    return Calibration(offset, slope, residuals, mean_true, squares)


def only_a_percentage(pairs: Sequence[SpeedPair]) -> float:
    """Return what the instrument reads over in percent where no offset is granted it."""
    square = sum(pair.true_kmh**2 for pair in pairs)
    return (sum(p.true_kmh * p.shown_kmh for p in pairs) / square - 1.0) * 100.0
