"""What the instruments say after the change, and what compares front with rear.

UN Regulation 39: never under the true speed, and as built at most 10 % of it and 4 km/h
(mopeds), 6 km/h (cars) or 8 km/h (motorcycles) over, looked at for 40, 80 and 120 km/h as far
as the machine goes.  A plain bicycle has no such rule; its computer has a wheel setting.
"""

import math

from jentrik.core.gearing import sprockets_back
from jentrik.core.policy import SpeedSchool
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    Case,
    Rule,
    Severity,
    WheelCase,
    Words,
    band_keys,
    magnitude,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, SHOP_LIMIT, UN_R39
from jentrik.core.speed import shown_kmh
from jentrik.core.tone_ring import neutral_slots

R39 = UN_R39.at("5.3 and the figures for conformity of production")
OVER_AS_BUILT_KMH = {"moped": 4.0, "car": 6.0, "motorcycle": 8.0}
TEST_SPEEDS_KMH = {"moped": (40,), "car": (40, 80, 120), "motorcycle": (40, 80, 120)}
ROUNDING = 1e-9  # a ratio of exactly 1 may come back with a rounding error
ASSIST_UNTIL_KMH = 25.0  # common practice; the class has other figures in other countries
GEARING_STEP_PERCENT = 4.0  # common practice: about what one gear's neighbor is felt by
SETTING_STEP_PERCENT = 0.5  # common practice: below it a computer's setting is left alone


def _motor(case: Case) -> bool:
    return case.found.vehicle_class in OVER_AS_BUILT_KMH


def motor_under_reads(case: Case) -> Words | None:
    """Name an instrument of a motor vehicle that would show less than the true speed."""
    return _under_reads(case) if _motor(case) else None


def bicycle_under_reads(case: Case) -> Words | None:
    """Name a bicycle's instrument that would show less than the true speed."""
    return None if _motor(case) else _under_reads(case)


def _shown(case: Case, true_kmh: float) -> float | None:
    """Return what the instrument would show at a true speed; None where no one knows."""
    shown = shown_kmh(
        true_kmh,
        case.found.speedometer,
        front_ratio=case.speed.circumference_ratio_front,
        rear_ratio=case.speed.circumference_ratio_rear,
    )
    return None if shown is None else float(shown)


def _under_reads(case: Case) -> Words | None:
    for true_kmh in (100, *TEST_SPEEDS_KMH.get(case.found.vehicle_class, ())):
        shown = _shown(case, true_kmh)
        if shown is not None and shown < true_kmh - ROUNDING:
            short = (true_kmh - shown) / true_kmh * 100
            return Words(
                f"Speed reads {magnitude(short, 1)} % low",
                f"At a true {true_kmh} km/h it shows {shown:.1f}. An instrument may never show "
                "less than the true speed: correct or recalibrate it before riding.",
            )
    return None


def over_limit(case: Case) -> Words | None:
    """Name the test speed at which the instrument would show more than the rule allows."""
    allowed_over = OVER_AS_BUILT_KMH.get(case.found.vehicle_class)
    if allowed_over is None:
        return None
    for true_kmh in reversed(TEST_SPEEDS_KMH[case.found.vehicle_class]):
        shown, allowed = _shown(case, true_kmh), 1.1 * true_kmh + allowed_over
        if shown is not None and shown > allowed + ROUNDING:
            return Words(
                f"Speed reads {magnitude(shown / true_kmh * 100 - 100, 1)} % high",
                f"At a true {true_kmh} km/h it shows {shown:.1f}; the common rule allows "
                f"{allowed:.0f} for this class. Correct or recalibrate it; local rules decide.",
            )
    return None


def over_policy(case: Case) -> Words | None:
    """Name a reading the shop does not leave as it is, though the common rule is met."""
    shown, policy = case.speed.indicated_at_100_kmh, case.policy.instruments
    if not _motor(case) or shown is None or over_limit(case) is not None:
        return None
    over, sensed = float(shown) - 100, case.found.speedometer
    assert sensed is not None
    ratio = float(getattr(case.speed, f"circumference_ratio_{sensed.wheel}"))
    least = SETTING_STEP_PERCENT
    if policy.school is SpeedSchool.LEAVE:
        least = policy.leave_below_percent
    if over < max(least, ROUNDING) or abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    wants = (
        "This shop makes every reading exact"
        if policy.school is SpeedSchool.EXACT
        else f"This shop leaves it below {policy.leave_below_percent:g} %"
    )
    return Words(
        f"Speed reads {magnitude(over, 1)} % high",
        f"At a true 100 km/h it shows {shown:.1f}; the common rule is met. {wants}: recalibrate "
        "it, or put a corrector on the instrument alone.",
    )


def odometer_drift(case: Case) -> Words | None:
    """Say how far the odometer goes wrong where the sensed wheel of a motor vehicle changes."""
    meter = case.found.speedometer
    if not _motor(case) or meter is None:
        return None
    ratio = float(getattr(case.speed, f"circumference_ratio_{meter.wheel}"))
    if abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    counted = 1000 / ratio
    way = "more" if counted > 1000 else "less"
    return Words(
        f"Odometer counts {abs(counted - 1000):.0f} km in 1000 {way}",
        f"{counted:.0f} km stand on it for every 1000 it counted before the change: note the "
        "reading on the day the wheel goes in.",
    )


def assist_cut_off(case: Case) -> Words | None:
    """Name a pedelec whose motor would cut off at another speed with its setting left alone."""
    if case.found.vehicle_class != "pedelec":
        return None
    meter = case.found.speedometer
    wheel = meter.wheel if meter else "rear"
    ratio = float(getattr(case.speed, f"circumference_ratio_{wheel}"))
    if abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    true_kmh = ASSIST_UNTIL_KMH * ratio
    size = math.pi * case.planned.at(wheel).diameter_mm
    return Words(
        f"Motor cuts off at {true_kmh:.1f} km/h",
        f"With the wheel setting left as it is the motor helps until {true_kmh:.1f} in place of "
        f"{ASSIST_UNTIL_KMH:g} km/h. Have the setting changed to {size:.0f} mm by whoever may "
        "change it; local rules decide what it is then.",
    )


def tone_ring(wheel: WheelCase) -> Words | None:
    """Name a tone ring whose count is not the neutral one for ABS on the planned wheel."""
    old, new = wheel.found.tone_ring_slots, wheel.wheel.tone_ring_slots
    if old is None or new is None:
        return None
    ratio = float(getattr(wheel.case.speed, f"circumference_ratio_{wheel.end}"))
    neutral = neutral_slots(round(old), ratio)
    if neutral == round(new):
        return None
    return Words(
        f"Tone ring {new:g} slots, {neutral} are neutral",
        f"On the planned {wheel.end} wheel {neutral} slots leave ABS what it knew; {new:g} give "
        f"{abs(new / old / ratio - 1) * 100:.1f} % {'more' if new / old > ratio else 'fewer'} "
        "pulses on the same way. Ask the maker, or weigh the counts at Check; the instrument is "
        "cured by a recalibration or a corrector of its own.",
    )


def gearing_shift(case: Case) -> Words | None:
    """Say how far a changed rear wheel moves the gearing, and which sprockets bring it back."""
    ratio = float(case.speed.circumference_ratio_rear)
    by = (1 / ratio - 1) * 100
    if abs(by) < GEARING_STEP_PERCENT:
        return None
    gearing = case.found.gearing
    way = "shorter" if by > 0 else "taller"
    back = ""
    if gearing.front_sprocket is not None and gearing.rear_sprocket is not None:
        pair = sprockets_back(
            gearing.front_sprocket, gearing.rear_sprocket, circumference_ratio=ratio
        )[0]
        back = f" {pair.front} and {pair.rear} teeth bring it nearest to as found."
    elif case.found.kind == "bicycle":
        back = f" A 40-tooth chainring feels like {40 * ratio:.1f}."
    return Words(
        f"Gears {abs(by):.1f} % {way}",
        f"The rear wheel's circumference changes by {(ratio - 1) * 100:+.1f} %".replace("-", "−")
        + f": every gear is {abs(by):.1f} % {way}.{back}",
    )


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
    turns = (1 / (1 + change / 100) - 1) * 100
    return Words(
        f"Front against rear off by {magnitude(change, 1)} %",
        f"Against the rear's the front's circumference is {magnitude(change, 1)} % "
        f"{'larger' if change > 0 else 'smaller'} than before: it turns {magnitude(turns, 1)} % "
        f"{'slower' if turns < 0 else 'faster'}. ABS and traction control compare the two: "
        "look for the maker's word or a recalibration.",
    )


_METER = ("speedometer.wheel", "speedometer.reads_over_percent")
RULES = (
    Rule("speedometer-under-reads", Severity.STOP, "bike", motor_under_reads, R39,
         needs=_METER, kinds=MOTORCYCLES, law=True),
    Rule("speedometer-under-reads", Severity.CAUTION, "bike", bicycle_under_reads,
         COMMON_PRACTICE, needs=_METER, only_with=_METER[:1], kinds=BICYCLES),
    Rule("speedometer-over-limit", Severity.STOP, "bike", over_limit, R39,
         needs=_METER, kinds=MOTORCYCLES, law=True),
    Rule("assist-cut-off", Severity.CAUTION, "bike", assist_cut_off, COMMON_PRACTICE,
         kinds=BICYCLES, law=True),
    Rule("tone-ring-count", Severity.CAUTION, "wheel", tone_ring, COMMON_PRACTICE,
         needs=("{end}.tone_ring_slots",), only_with=("{end}.tone_ring_slots",),
         kinds=MOTORCYCLES),
    Rule("speed-over-policy", Severity.CAUTION, "bike", over_policy, SHOP_LIMIT, needs=_METER,
         policy=("instruments.school", "instruments.leave_below_percent"), kinds=MOTORCYCLES),
    Rule("wheel-speed-ratio", Severity.CAUTION, "pair", wheel_speed_ratio, COMMON_PRACTICE,
         policy=band_keys("front_rear_ratio_percent")),
    Rule("computer-setting", Severity.NOTE, "bike", computer_setting, DERIVED, needs=_METER[:1],
         only_with=_METER[:1]),
    Rule("odometer-drift", Severity.NOTE, "bike", odometer_drift, DERIVED, needs=_METER[:1],
         kinds=MOTORCYCLES),
    Rule("gearing-shift", Severity.NOTE, "bike", gearing_shift, DERIVED,
         needs=("gearing.front_sprocket", "gearing.rear_sprocket"),
         only_with=("gearing.front_sprocket",)),
)  # fmt: skip
