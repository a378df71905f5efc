"""Which tire widths go with which rim width, where the tire maker's list is not at hand.

Source: an older edition of ISO 5775-1 for bicycles.  It flags pairs that are common today
(28 to 32 mm tires on 21 to 25 mm rims), so it warns and never stops.
"""

from jentrik.core.sources import ISO_5775_1

SOURCE = ISO_5775_1.at("rim and tire widths, an older edition; the tire maker's list comes first")

# inner rim width, mm -> narrowest and widest nominal tire, mm
BICYCLE_TIRE_WIDTH_MM = {
    13: (18, 25), 15: (23, 32), 17: (25, 50), 19: (28, 62), 21: (35, 64), 23: (40, 64),
    25: (44, 71), 27: (47, 71), 30: (50, 83),
}  # fmt: skip
