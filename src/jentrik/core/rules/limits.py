"""What the shop accepts: beyond a shop limit a change earns a caution.

What a rider notices and what a maker forbids are two other things and live elsewhere.  Defaults:
common practice; the shop may set its own.
"""

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Band:
    """An accepted range of change, from `low` (negative) to `high`."""

    low: float
    high: float

    def holds(self, change: float) -> bool:
        """Whether a change lies inside; the ends belong to it."""
        return self.low <= change <= self.high


@dataclass(frozen=True, slots=True)
class ShopLimits:
    """Accepted changes in mm, degrees and percent."""

    head_angle_deg: Band = field(default=Band(-0.8, 0.8))
    trail_mm: Band = field(default=Band(-8, 8))
    bb_height_mm: Band = field(default=Band(-10, 15))
    wheelbase_mm: Band = field(default=Band(-15, 15))
    reach_mm: Band = field(default=Band(-10, 10))
    front_rear_ratio_percent: Band = field(default=Band(-2, 2))


DEFAULT_LIMITS = ShopLimits()
