"""Does it stand when it is parked?"""

from jentrik.core.amounts import kmh, mm
from jentrik.core.figures.parking import Parked
from jentrik.core.rules.case import MOTORCYCLES, THE_SHOPS, Case, Severity, Words, magnitude, rule
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, SHOP_LIMIT

LEAST_CHANGE_DEG = 0.05  # below it the stand is as it was
LEAST_LIFT_MM = 10.0  # common practice: a finger under the tire, the wheel turns free
HEAVED_MM = 15.0  # common practice: what a rider feels in the leg
_STAND = ("side_stand.lean_deg", "side_stand.foot_out_mm", "side_stand.foot_x_mm")
_CENTER = ("mass.center_x_mm", "mass.center_height_mm")
_LIFTED = ("center_stand.gap_mm",)


@rule(
    "side-stand-upright",
    Severity.STOP,
    title="Side stand: tips away",
    source=DERIVED,
    needs=(*_STAND, *_CENTER),
    policy=("lean.park_slope_deg",),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def tips_on_a_slope(case: Case) -> Words | None:
    """Name a machine that would tip away from its stand on the slope it must stand."""
    now, slope = _changed(case), case.policy.lean.park_slope_deg
    if now is None or now.tips_away_deg >= slope:
        return None
    if now.lean_deg <= 0:
        return Words(
            "Falls away from its stand",
            f"Lean goes from {_found(case):.1f}° to {_deg(now.lean_deg)}: past upright."
            f"{_cure(now)}",
        )
    return Words(
        f"Leans {_deg(now.lean_deg)}: tips on {now.tips_away_deg:.1f}° of slope",
        f"It leaned {_found(case):.1f}°, and tips away from its stand on a slope of "
        f"{now.tips_away_deg:.1f}°; {slope:g}° are wanted.{_cure(now)}",
    )


@rule(
    "side-stand-upright",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=(*_STAND, *_CENTER, "mass.kg"),
    policy=("lean.park_slope_deg", "lean.wind_kmh"),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def tips_in_a_gust(case: Case) -> Words | None:
    """Name a machine that stands the slope, but not in the wind it must stand."""
    now, lean = _changed(case), case.policy.lean
    if now is None or now.tips_in_gust_deg is None or tips_on_a_slope(case) is not None:
        return None
    if now.tips_in_gust_deg >= lean.park_slope_deg:
        return None
    return Words(
        f"Leans {_deg(now.lean_deg)}: a gust can tip it",
        f"It leaned {_found(case):.1f}°. In a gust of {kmh(lean.wind_kmh):g} it stands "
        f"{_deg(now.tips_in_gust_deg)} of slope; {lean.park_slope_deg:g}° are wanted.{_cure(now)}",
    )


@rule(
    "side-stand-lean",
    Severity.CAUTION,
    title="Side stand: leans too far",
    source=COMMON_PRACTICE,
    needs=(*_STAND, *_CENTER),
    policy=("lean.park_most_deg", "lean.park_slope_deg"),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def leans_too_far(case: Case) -> Words | None:
    """Name a machine that would lean further than it is lifted up again, or go over its foot."""
    now, lean = _changed(case), case.policy.lean
    before = case.before.parked
    if now is None or before is None or now.lean_deg <= before.lean_deg:
        return None
    over = now.tips_over_foot_deg
    if over is not None and over < lean.park_slope_deg:
        return Words(
            f"Goes over its foot on {_deg(over)} of slope",
            f"Lean goes from {before.lean_deg:.1f}° to {now.lean_deg:.1f}°; on a slope of "
            f"{_deg(over)} it tips over the stand, {lean.park_slope_deg:g}° are wanted."
            f"{_cure(now)}",
        )
    if now.lean_deg <= lean.park_most_deg:
        return None
    return Words(
        f"Leans {now.lean_deg:.1f}° on its stand",
        f"It leaned {before.lean_deg:.1f}°; beyond {lean.park_most_deg:g}° it is hard to lift and "
        f"loads the stand.{_cure(now)}",
    )


@rule(
    "side-stand-lean",
    Severity.CAUTION,
    source=SHOP_LIMIT,
    needs=_STAND,
    policy=("lean.stand_change_deg", "lean.stand_height_mm"),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def stand_changes(case: Case) -> Words | None:
    """Name a lean or a height over the stand that changes more than the shop's figure.

    It needs no center of mass: it is said where nothing heavier is.
    """
    now, before, lean = _changed(case), case.before.parked, case.policy.lean
    if now is None or before is None:
        return None
    if any(rule(case) is not None for rule in (tips_on_a_slope, tips_in_a_gust, leans_too_far)):
        return None
    turned = now.lean_deg - before.lean_deg
    height = now.wanted.under_foot_mm if now.wanted else 0.0
    if abs(turned) <= lean.stand_change_deg and abs(height) <= lean.stand_height_mm:
        return None
    way = "more upright" if turned < 0 else "further over"
    unknown = ""
    if case.found.mass.center_x_mm is None or case.found.mass.center_height_mm is None:
        unknown = " Without its center of mass it is not known how near it is to tipping."
    return Words(
        f"Stands {magnitude(turned, 1)}° {way}",
        f"On its side stand the lean goes from {before.lean_deg:.1f}° to {_deg(now.lean_deg)}, the "
        f"height over the stand by {mm(magnitude(height, 0))}.{_cure(now)}{unknown}",
    )


def _changed(case: Case) -> Parked | None:
    """Return how it stands as planned; None where that is as found."""
    now, before = case.after.parked, case.before.parked
    if now is None or before is None:
        return None
    return now if abs(now.lean_deg - before.lean_deg) > LEAST_CHANGE_DEG else None


def _found(case: Case) -> float:
    assert case.before.parked is not None
    return case.before.parked.lean_deg


def _deg(angle: float) -> str:
    return f"{angle:.1f}°".replace("-", "−")


def _cure(now: Parked) -> str:
    """Return what brings the old lean back, in a sentence."""
    wanted = now.wanted
    if wanted is None or abs(wanted.under_foot_mm) < 1:
        return ""
    if wanted.under_foot_mm > 0:
        leg = "" if wanted.longer_mm is None else f" or a leg {mm(wanted.longer_mm):.0f} longer"
        return f" A puck of {mm(wanted.under_foot_mm):.0f} under the foot{leg} brings it back."
    if wanted.longer_mm is None:
        return (
            f" The stand is {mm(-wanted.under_foot_mm):.0f} too high for the old lean: shorten it."
        )
    return f" A leg {mm(-wanted.longer_mm):.0f} shorter brings it back."


@rule(
    "center-stand-short",
    Severity.CAUTION,
    title="Center stand does not lift the wheel",
    source=DERIVED,
    needs=_LIFTED,
    only_with=_LIFTED,
    kinds=MOTORCYCLES,
    limit=f"{mm(0)}",
)
def stays_on_the_ground(case: Case) -> Words | None:
    """Name a wheel the center stand no longer lifts."""
    stand, gap = case.found.center_stand, case.after.center_stand_gap_mm
    if stand is None or gap is None or gap > 0 or gap >= stand.gap_mm - LEAST_CHANGE_DEG:
        return None
    return Words(
        f"The center stand no longer lifts the {stand.lifts} wheel",
        f"It was {mm(stand.gap_mm):g} up; now {mm(-gap):.0f} are missing. A longer stand, or "
        "blocks under it to work on the wheel.",
    )


@rule(
    "center-stand-short",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=_LIFTED,
    only_with=_LIFTED,
    kinds=MOTORCYCLES,
    limit=f"{mm(LEAST_LIFT_MM):g}, and less than before",
)
def lifts_less(case: Case) -> Words | None:
    """Name a center stand that lifts the wheel clear by little, and clearly less than before."""
    stand, gap = case.found.center_stand, case.after.center_stand_gap_mm
    if stand is None or gap is None or not 0 < gap < LEAST_LIFT_MM or stand.gap_mm - gap < 1:
        return None
    return Words(
        f"The center stand lifts the {stand.lifts} wheel by {mm(gap):.0f}",
        f"It was {mm(stand.gap_mm):g} up. Too little to turn the wheel once the tire is pumped up "
        "or the ground gives way: a longer stand, or blocks under it.",
    )


@rule(
    "center-stand-high",
    Severity.NOTE,
    title="Center stand lifts too high",
    source=DERIVED,
    needs=_LIFTED,
    only_with=_LIFTED,
    kinds=MOTORCYCLES,
    limit=f"{mm(HEAVED_MM):g}",
)
def heaved_higher(case: Case) -> Words | None:
    """Name a center stand that now lifts the machine clearly higher."""
    stand, gap = case.found.center_stand, case.after.center_stand_gap_mm
    if stand is None or gap is None or gap - stand.gap_mm < HEAVED_MM:
        return None
    return Words(
        f"The center stand lifts {mm(gap - stand.gap_mm):.0f} higher",
        f"The {stand.lifts} wheel hangs {mm(gap):.0f} up, {mm(stand.gap_mm):g} before: it is "
        "heavier to heave up, and may not stay up on soft ground.",
    )
