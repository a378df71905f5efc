"""Which tire widths go with which rim width, where the tire maker's list is not at hand.

Source: an older edition of ISO 5775-1 for bicycles.  It flags pairs that are common today
(28 to 32 mm tires on 21 to 25 mm rims), so it warns and never stops.
"""

from jentrik.core.sources import ISO_5775_1

SOURCE = ISO_5775_1.at("rim and tire widths, an older edition; the tire maker's list comes first")

# inner rim width, mm -> narrowest and widest nominal tire, mm
BICYCLE_TIRE_WIDTH_MM = {
    13: (18, 25),
    15: (23, 32),
    17: (25, 50),
    19: (28, 62),
    21: (35, 64),
    23: (40, 64),
    25: (44, 71),
    27: (47, 71),
    30: (50, 83),
}

SECTION_PER_RIM_MM = 0.4  # of section width for one mm of rim width

# The rim a motorcycle tire is measured on over its section width, where the tables have no row.
LOW_ASPECT_PERCENT, HIGH_ASPECT_PERCENT = 70.0, 80.0
_USUAL_LOW_SHARE, _USUAL_HIGH_SHARE = 0.75, 0.60
_USUAL_BICYCLE_SHARE = 0.50


NARROWEST_LISTED_MM, WIDEST_LISTED_MM = min(BICYCLE_TIRE_WIDTH_MM), max(BICYCLE_TIRE_WIDTH_MM)


def bicycle_tire_widths(rim_mm: float) -> tuple[int, int] | None:
    """Return the tire widths in mm that go with an inner rim width; None where no row speaks.

    Between two rows of the table, what both allow.
    """
    rows = sorted(BICYCLE_TIRE_WIDTH_MM)
    if not rows[0] <= rim_mm <= rows[-1]:
        return None
    below = BICYCLE_TIRE_WIDTH_MM[max(row for row in rows if row <= rim_mm)]
    above = BICYCLE_TIRE_WIDTH_MM[min(row for row in rows if row >= rim_mm)]
    return max(below[0], above[0]), min(below[1], above[1])


def _how_high(aspect_percent: float | None) -> float:
    """Return 0 up to the low aspects, 1 from the high ones on, and the share between."""
    if aspect_percent is None:
        return 1.0
    share = (aspect_percent - LOW_ASPECT_PERCENT) / (HIGH_ASPECT_PERCENT - LOW_ASPECT_PERCENT)
    return min(max(share, 0.0), 1.0)


def usual_rim_mm(width_mm: float, aspect_percent: float | None, vehicle: str) -> float:
    """Return the rim's inner width in mm that a tire of this width is usually measured on."""
    if vehicle == "bicycle":
        return width_mm * _USUAL_BICYCLE_SHARE
    high = _how_high(aspect_percent)
    return width_mm * (_USUAL_LOW_SHARE + high * (_USUAL_HIGH_SHARE - _USUAL_LOW_SHARE))
