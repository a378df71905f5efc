"""What a rider notices, and what the shop accepts: three things with the maker's limit.

Noticeable only orders the words; beyond a shop limit a change earns a caution; what a maker
forbids is a stop and stands on the machine's sheet.  Defaults: common practice.
"""

from dataclasses import dataclass, fields


@dataclass(frozen=True, slots=True)
class Band:
    """An accepted range of change, from `low` (negative) to `high`."""

    low: float
    high: float

    def holds(self, change: float) -> bool:
        """Whether a change lies inside; the ends belong to it."""
        return self.low <= change <= self.high

    def times(self, factor: float) -> "Band":
        """Return the band so much wider."""
        return Band(self.low * factor, self.high * factor)


@dataclass(frozen=True, slots=True)
class ShopLimits:
    """Accepted changes in mm, degrees and percent."""

    head_angle_deg: Band = Band(-0.8, 0.8)
    trail_mm: Band = Band(-8, 8)
    bb_height_mm: Band = Band(-10, 15)
    wheelbase_mm: Band = Band(-15, 15)
    reach_mm: Band = Band(-10, 10)
    seat_height_mm: Band = Band(-25, 25)
    pedal_height_mm: Band = Band(-10, 15)  # as the bottom bracket it hangs on
    front_rear_ratio_percent: Band = Band(-2, 2)

    def times(self, factor: float) -> "ShopLimits":
        """Return every band so much wider."""
        return ShopLimits(
            **{one.name: getattr(self, one.name).times(factor) for one in fields(self)}
        )


DEFAULT_LIMITS = ShopLimits()

# What a rider feels; a wheelbase is felt late, seat, pedals and pegs like a bottom bracket.
NOTICEABLE: dict[str, float] = {
    "head_angle_deg": 0.5, "trail_mm": 5.0, "bb_height_mm": 5.0, "reach_mm": 5.0,
    "seat_height_mm": 5.0, "wheelbase_mm": 15.0, "pedal_height_mm": 5.0, "feet_height_mm": 5.0,
}  # fmt: skip
