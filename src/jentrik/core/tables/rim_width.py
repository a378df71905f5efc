"""Which tire widths go with which rim width, where the tire maker's list is not at hand.

Source: an older edition of ISO 5775-1 for bicycles.  It flags pairs that are common today
(28 to 32 mm tires on 21 to 25 mm rims), so it warns and never stops.
"""

from jentrik.core.sources import COMMON_PRACTICE, ISO_5775_1, UN_R75

SOURCE = ISO_5775_1.at("rim and tire widths, an older edition; the tire maker's list comes first")

# inner rim width, mm -> narrowest and widest nominal tire, mm
BICYCLE_TIRE_WIDTH_MM = {
    13: (18, 25), 15: (23, 32), 17: (25, 50), 19: (28, 62), 21: (35, 64), 23: (40, 64),
    25: (44, 71), 27: (47, 71), 30: (50, 83),
}  # fmt: skip

SECTION_SOURCE = UN_R75.at("S = S1 + K (A - A1), K = 0.4")
SECTION_PER_RIM_MM = 0.4  # of section width for one mm of rim width

# Rim width over section width: what tires are usually made for; makers' lists differ.
MOTORCYCLE_SOURCE = COMMON_PRACTICE.at("rim over section: 0.70 to 0.80 to 70 %, else 0.4 to 0.65")
LOW_ASPECT_PERCENT = 70.0
MOTORCYCLE_SHARE = {"low": (0.70, 0.80), "high": (0.40, 0.65)}
_USUAL_SHARE = {"low": 0.75, "high": 0.60}
_USUAL_BICYCLE_SHARE = 0.50


def motorcycle_share(aspect_percent: float | None) -> tuple[float, float]:
    """Return the least and the most of its width a motorcycle tire's rim usually has."""
    return MOTORCYCLE_SHARE[_series(aspect_percent)]


def usual_rim_mm(width_mm: float, aspect_percent: float | None, vehicle: str) -> float:
    """Return the rim's inner width in mm that a tire of this width is usually measured on."""
    if vehicle == "bicycle":
        return width_mm * _USUAL_BICYCLE_SHARE
    return width_mm * _USUAL_SHARE[_series(aspect_percent)]


def _series(aspect_percent: float | None) -> str:
    low = aspect_percent is not None and aspect_percent <= LOW_ASPECT_PERCENT
    return "low" if low else "high"
