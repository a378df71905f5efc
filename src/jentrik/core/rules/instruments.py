"""What the instruments say after the change, and what compares front with rear.

UN Regulation 39: never under the true speed, and as built at most 10 % of it and 4 km/h
(mopeds), 6 km/h (cars) or 8 km/h (motorcycles) over, looked at for 40, 80 and 120 km/h as far
as the machine goes.  A plain bicycle has no such rule; its computer has a wheel setting.
"""

import math

from jentrik.core.rules.case import Case, Rule, Severity, Words, magnitude
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, UN_R39

R39 = UN_R39.at("5.3 and the figures for conformity of production")
OVER_AS_BUILT_KMH = {"moped": 4.0, "car": 6.0, "motorcycle": 8.0}
TEST_SPEEDS_KMH = {"moped": (40,), "car": (40, 80, 120), "motorcycle": (40, 80, 120)}
ROUNDING = 1e-9  # a ratio of exactly 1 may come back with a rounding error
SETTING_STEP_PERCENT = 0.5  # common practice: below it a computer's setting is left alone


def _motor(case: Case) -> bool:
    return case.found.vehicle_class in OVER_AS_BUILT_KMH


def motor_under_reads(case: Case) -> Words | None:
    """Name an instrument of a motor vehicle that would show less than the true speed."""
    return _under_reads(case) if _motor(case) else None


def bicycle_under_reads(case: Case) -> Words | None:
    """Name a bicycle's instrument that would show less than the true speed."""
    return None if _motor(case) else _under_reads(case)


def _under_reads(case: Case) -> Words | None:
    shown = case.speed.indicated_at_100_kmh
    if shown is None or shown >= 100 - ROUNDING:
        return None
    return Words(
        f"Speed reads {magnitude(100 - float(shown), 1)} % low",
        f"At a true 100 km/h it shows {shown:.1f}. An instrument may never show less than the "
        "true speed: correct or recalibrate it before riding.",
    )


def over_limit(case: Case) -> Words | None:
    """Name the test speed at which the instrument would show more than the rule allows."""
    shown = case.speed.indicated_at_100_kmh
    allowed_over = OVER_AS_BUILT_KMH.get(case.found.vehicle_class)
    if shown is None or allowed_over is None:
        return None
    for true_kmh in reversed(TEST_SPEEDS_KMH[case.found.vehicle_class]):
        would_show, allowed = true_kmh * float(shown) / 100, 1.1 * true_kmh + allowed_over
        if would_show > allowed + ROUNDING:
            return Words(
                f"Speed reads {magnitude(float(shown) - 100, 1)} % high",
                f"At a true {true_kmh} km/h it shows {would_show:.1f}; the common rule allows "
                f"{allowed:.0f} for this class. Correct or recalibrate it; local rules decide.",
            )
    return None


def computer_setting(case: Case) -> Words | None:
    """Give a bicycle computer its new wheel setting where the sensed wheel changes."""
    meter = case.found.speedometer
    if _motor(case) or meter is None:
        return None
    wheel = case.planned.at(meter.wheel)
    ratio = float(getattr(case.speed, f"circumference_ratio_{meter.wheel}"))
    if abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    way = "short" if ratio > 1 else "long"
    return Words(
        f"Computer counts {abs(1 / ratio - 1) * 100:.1f} % {way}",
        f"Set the wheel size to {math.pi * wheel.diameter_mm:.0f} mm, or roll it out under the "
        "rider. A motor's cut-off moves with this setting.",
    )


def wheel_speed_ratio(case: Case) -> Words | None:
    """Name a front to rear ratio that ABS or traction control may not accept."""
    change = float(case.speed.front_rear_ratio_change_percent)
    if not _motor(case) or case.limits.front_rear_ratio_percent.holds(change):
        return None
    return Words(
        f"Front against rear off by {magnitude(change, 1)} %",
        f"The front turns {magnitude(change, 1)} % {'slower' if change > 0 else 'faster'} against "
        "the rear than before. ABS and traction control compare the two: look for the maker's "
        "word or a recalibration.",
    )


RULES = (
    Rule("speedometer-under-reads", Severity.STOP, "bike", motor_under_reads, R39),
    Rule("speedometer-under-reads", Severity.CAUTION, "bike", bicycle_under_reads,
         COMMON_PRACTICE),
    Rule("speedometer-over-limit", Severity.STOP, "bike", over_limit, R39),
    Rule("wheel-speed-ratio", Severity.CAUTION, "pair", wheel_speed_ratio, COMMON_PRACTICE),
    Rule("computer-setting", Severity.NOTE, "bike", computer_setting, DERIVED),
)  # fmt: skip
