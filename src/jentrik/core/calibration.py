"""What an instrument really does: offset and slope from pairs of true and shown speeds.

    shown = offset + slope x true        least squares over the pairs; residual = shown - that

Source: least squares, checked against numpy's.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from jentrik.core.errors import OutOfRange

LEAST_PAIRS = 2
LEAST_SPREAD_KMH = 10.0  # common practice: nearer together they tell an offset from nothing
FAR_OFF_KMH = 3.0  # common practice: a residual beyond this is worth a second look


@dataclass(frozen=True, slots=True)
class SpeedPair:
    """One true speed and what the instrument showed, km/h."""

    true_kmh: float
    shown_kmh: float


@dataclass(frozen=True, slots=True)
class Calibration:
    """The line through the pairs: offset in km/h, slope, each pair's residual in km/h."""

    offset_kmh: float
    slope: float
    residuals_kmh: tuple[float, ...]

    @property
    def reads_over_percent(self) -> float:
        """By how much it reads over, beside the offset, percent."""
        return (self.slope - 1.0) * 100.0

    @property
    def spread_kmh(self) -> float:
        """The root mean square of the residuals, km/h."""
        count = len(self.residuals_kmh)
        return float((sum(one**2 for one in self.residuals_kmh) / count) ** 0.5)

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
            f"The true speeds lie within {LEAST_SPREAD_KMH:g} km/h of each other: ride a slower "
            "and a faster one.",
            expected="speeds further apart",
        )
    mean_true = sum(true) / len(pairs)
    mean_shown = sum(pair.shown_kmh for pair in pairs) / len(pairs)
    across = sum((pair.true_kmh - mean_true) * (pair.shown_kmh - mean_shown) for pair in pairs)
    slope = across / sum((one - mean_true) ** 2 for one in true)
    offset = mean_shown - slope * mean_true
    residuals = tuple(pair.shown_kmh - offset - slope * pair.true_kmh for pair in pairs)
    return Calibration(offset, slope, residuals)


def only_a_percentage(pairs: Sequence[SpeedPair]) -> float:
    """Return what the instrument reads over in percent where no offset is granted it."""
    square = sum(pair.true_kmh**2 for pair in pairs)
    return (sum(p.true_kmh * p.shown_kmh for p in pairs) / square - 1.0) * 100.0
