"""Does the machine still sit and steer within what the shop accepts?"""

from jentrik.core.rules.case import Case, Rule, Severity, Words, magnitude
from jentrik.core.sources import SHOP_LIMIT


def bb_low(case: Case) -> Words | None:
    """Name a bottom bracket that comes down further than the shop accepts."""
    moved, low = case.shift("bb_height_mm"), case.limits.bb_height_mm.low
    if moved is None or moved >= low:
        return None
    return Words(
        f"Bottom bracket {magnitude(moved, 0)} mm lower",
        f"It comes down {magnitude(moved, 1)} mm; the shop accepts {magnitude(low, 0)} mm. Pedals "
        "strike earlier: try shorter cranks or a taller tire.",
    )


def head_angle_shift(case: Case) -> Words | None:
    """Name a head angle that turns further than the shop accepts."""
    turned = case.shift("head_angle_deg")
    if turned is None or case.limits.head_angle_deg.holds(turned):
        return None
    way, feels = (
        ("steeper", "quicker, less settled at speed")
        if turned > 0
        else ("slacker", "calmer at speed, flops and wanders when slow")
    )
    band = case.limits.head_angle_deg
    return Words(
        f"Head angle {magnitude(turned, 1)}° {way}",
        f"It turns {magnitude(turned, 2)}° {way}; the shop accepts "
        f"{magnitude(band.high if turned > 0 else band.low, 1)}°. Steering gets {feels}.",
    )


def trail_shift(case: Case) -> Words | None:
    """Name a trail that grows or shrinks further than the shop accepts."""
    grown = case.shift("trail_mm")
    if grown is None or case.limits.trail_mm.holds(grown):
        return None
    way, feels = (
        ("more", "calmer at speed, heavier when slow")
        if grown > 0
        else ("less", "quicker, less settled at speed")
    )
    band = case.limits.trail_mm
    return Words(
        f"Trail {magnitude(grown, 0)} mm {way}",
        f"Ground trail goes from {case.baseline.trail_mm:.0f} to "
        f"{case.geometry.trail_mm:.0f} mm; the shop accepts "
        f"{magnitude(band.high if grown > 0 else band.low, 0)} mm. Steering gets {feels}.",
    )


RULES = (
    Rule("bb-low", Severity.CAUTION, "bike", bb_low, SHOP_LIMIT),
    Rule("head-angle-shift", Severity.CAUTION, "bike", head_angle_shift, SHOP_LIMIT),
    Rule("trail-shift", Severity.CAUTION, "bike", trail_shift, SHOP_LIMIT),
)
