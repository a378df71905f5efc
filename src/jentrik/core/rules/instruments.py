"""What the instruments say after the change, and what compares front with rear.

UN Regulation 39: never under the true speed, and as built at most 10 % of it and 4 km/h
(mopeds), 6 km/h (cars) or 8 km/h (motorcycles) over, looked at for 40, 80 and 120 km/h as far
as the machine goes, a slow one at 80 % of its top speed.  A computer has no such rule: it has a
wheel setting.  An error below the ± of the fit is none.
"""

import math

from jentrik.core.amounts import km, kmh, mm, published
from jentrik.core.figures.speed import shown_kmh, usual_kmh
from jentrik.core.figures.tone_ring import Counts, ratio_change_percent, ring_pairs
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.gearing import sprockets_back
from jentrik.core.machine.machine import ASSISTED, Speedometer
from jentrik.core.machine.wheel import Wheel, Wheels
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHOPS,
    Case,
    Severity,
    Words,
    band_keys,
    magnitude,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, SHOP_LIMIT, UN_R39
from jentrik.core.work.policy import SpeedSchool

R39 = UN_R39.at("5.3 and the figures for conformity of production")
OVER_AS_BUILT_KMH = {"moped": 4.0, "pedelec-45": 4.0, "car": 6.0, "motorcycle": 8.0}
TEST_SPEEDS_KMH = {
    "moped": (40,),
    "pedelec-45": (40,),
    "car": (40, 80, 120),
    "motorcycle": (40, 80, 120),
}
FAST_CYCLE_KMH = 45.0  # where a fast assisted cycle's motor ends, by its class; from memory
ROUNDING = 1e-9  # a ratio of exactly 1 may come back with a rounding error
SLOWEST_TEST_KMH = 40.0
SLOW_SHARE = 0.8  # of the top speed of a machine that reaches no test speed
GEARING_STEP_PERCENT = 4.0  # common practice: about what one gear's neighbor is felt by
SETTING_STEP_PERCENT = 0.5  # common practice: below it a computer's setting is left alone


_no_counts: Counts = {"front": None, "rear": None}
_METER = ("speedometer.wheel", "speedometer.reads_over_percent")

_OVER = ", ".join(
    f"{published(most, 'km/h')} for a {name}" for name, most in OVER_AS_BUILT_KMH.items()
)


def assist_until_kmh(case: Case) -> float | None:
    """Return the speed in km/h the class lets a motor help until; None without assistance."""
    if case.found.vehicle_class == "pedelec-45":
        return FAST_CYCLE_KMH
    return case.policy.instruments.assist_until_kmh if _assisted(case) else None


def _assisted(case: Case) -> bool:
    return case.found.vehicle_class in ASSISTED


def _approved(case: Case) -> bool:
    return case.found.instrument_kind == "type-approved"


def _motor(case: Case) -> bool:
    return case.found.kind == "motorcycle"


def _shown(case: Case, true_kmh: float) -> float | None:
    """Return what the instrument would show at a true speed; None where no one knows."""
    shown = shown_kmh(
        true_kmh, case.found.speedometer, counted_ratio=case.after.speed.counted_ratio
    )
    return None if shown is None else float(shown)


def _plus_minus(case: Case, true_kmh: float) -> float:
    """Return how far the shown speed may be off what is computed, km/h."""
    meter = case.found.speedometer
    return ROUNDING if meter is None else max(meter.plus_minus_kmh(true_kmh), ROUNDING)


def _test_speeds(case: Case) -> tuple[float, ...]:
    """Return the true speeds an instrument is judged at: none the machine cannot reach."""
    top = case.found.riding.top_speed_kmh
    speeds = TEST_SPEEDS_KMH.get(case.found.vehicle_class, (SLOWEST_TEST_KMH,))
    if top is None:
        return speeds
    return tuple(speed for speed in speeds if speed <= top) or (SLOW_SHARE * top,)


def _counted_ratio(case: Case) -> float | None:
    ratio = case.after.speed.counted_ratio
    return None if ratio is None else float(ratio)


@rule(
    "speedometer-under-reads",
    Severity.STOP,
    title="Speedometer reads low",
    source=R39,
    needs=_METER,
    kinds=MOTORCYCLES,
    law=True,
    limit=(
        "the true speed at 40, 80 and 120 km/h as far as the machine goes, else "
        "at 80 % of its top speed; never below the ± of the pairs"
    ),
)
def motor_under_reads(case: Case) -> Words | None:
    """Name a motorcycle's instrument that would show less than the true speed."""
    return _under_reads(case) if _motor(case) else None


@rule(
    "speedometer-under-reads",
    Severity.STOP,
    source=R39,
    needs=_METER,
    only_with=("class",),
    kinds=BICYCLES,
    law=True,
    limit="the same",
)
def cycle_under_reads(case: Case) -> Words | None:
    """Name the approved instrument of a fast assisted cycle that would show less."""
    return None if _motor(case) else _under_reads(case)


@rule(
    "speedometer-over-limit",
    Severity.STOP,
    title="Speedometer reads too high",
    source=R39,
    needs=_METER,
    kinds=MOTORCYCLES,
    law=True,
    limit=f"10 % over and {_OVER}, at the same speeds",
)
def motor_over_limit(case: Case) -> Words | None:
    """Name a motorcycle's instrument that would show more than the rule allows."""
    return over_limit(case) if _motor(case) else None


@rule(
    "speedometer-over-limit",
    Severity.STOP,
    source=R39,
    needs=_METER,
    only_with=("class",),
    kinds=BICYCLES,
    law=True,
    limit="the same, as for a moped",
)
def cycle_over_limit(case: Case) -> Words | None:
    """Name the approved instrument of a fast assisted cycle that would show too much."""
    return None if _motor(case) else over_limit(case)


def _under_reads(case: Case) -> Words | None:
    for true_kmh in _test_speeds(case) if _approved(case) else ():
        shown = _shown(case, true_kmh)
        if shown is not None and true_kmh - shown > _plus_minus(case, true_kmh):
            short = (true_kmh - shown) / true_kmh * 100
            return Words(
                f"Speed reads {magnitude(short, 1)} % low",
                f"At a true {kmh(true_kmh):g} it shows {kmh(shown):.1f}. An instrument may never "
                "show less than the true speed: correct or recalibrate it before riding.",
            )
    return None


def over_limit(case: Case) -> Words | None:
    """Name the test speed at which the instrument would show more than the rule allows."""
    allowed_over = OVER_AS_BUILT_KMH.get(case.found.vehicle_class)
    if allowed_over is None or not _approved(case):
        return None
    for true_kmh in reversed(_test_speeds(case)):
        shown, allowed = _shown(case, true_kmh), 1.1 * true_kmh + allowed_over
        if shown is not None and shown - allowed > _plus_minus(case, true_kmh):
            return Words(
                f"Speed reads {magnitude(shown / true_kmh * 100 - 100, 1)} % high",
                f"At a true {kmh(true_kmh):g} it shows {kmh(shown):.1f}; the common rule allows "
                f"{kmh(allowed):.0f} for this class. Correct or recalibrate it; local "
                "rules decide.",
            )
    return None


@rule(
    "speed-over-policy",
    Severity.CAUTION,
    title="Speedometer outside the shop's limit",
    source=SHOP_LIMIT,
    needs=_METER,
    policy=("instruments.school", "instruments.leave_below_percent"),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def over_policy(case: Case) -> Words | None:
    """Name a reading the shop does not leave as it is, though the common rule is met."""
    policy, ratio = case.policy.instruments, _counted_ratio(case)
    true_kmh = usual_kmh(case.found)
    shown = _shown(case, true_kmh)
    if not _approved(case) or shown is None or ratio is None or over_limit(case) is not None:
        return None
    if shown - true_kmh <= _plus_minus(case, true_kmh):
        return None
    over = (shown / true_kmh - 1) * 100
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
        f"At a true {kmh(true_kmh):g} it shows {kmh(shown):.1f}; the common rule is met. {wants}: "
        "recalibrate it, or put a corrector on the instrument alone.",
    )


@rule(
    "odometer-drift",
    Severity.NOTE,
    title="Odometer",
    source=DERIVED,
    needs=_METER[:1],
    kinds=MOTORCYCLES,
    limit=f"{SETTING_STEP_PERCENT:g} % of what feeds the instrument",
)
def odometer_drift(case: Case) -> Words | None:
    """Say how far an approved instrument's odometer goes wrong where its wheel changes."""
    ratio = _counted_ratio(case)
    if not _approved(case) or ratio is None:
        return None
    if abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    counted = 1000 / ratio
    way = "more" if counted > 1000 else "less"
    return Words(
        f"Odometer counts {km(abs(counted - 1000)):.0f} in {km(1000)} {way}",
        f"{km(counted):.0f} stand on it for every {km(1000)} it counted before the change: note "
        "the reading on the day the wheel goes in.",
    )


@rule(
    "assist-cut-off",
    Severity.CAUTION,
    title="Speed at which assistance ends",
    source=COMMON_PRACTICE,
    policy=("instruments.assist_until_kmh",),
    kinds=BICYCLES,
    law=True,
    limit=f"{SETTING_STEP_PERCENT:g} % of the wheel's circumference",
)
def assist_cut_off(case: Case) -> Words | None:
    """Name a pedelec whose motor would cut off at another speed with its setting left alone."""
    until, meter = assist_until_kmh(case), case.found.speedometer
    if until is None:
        return None
    wheel = meter.end if meter else "rear"
    ratio = float(getattr(case.after.speed, f"circumference_ratio_{wheel}"))
    if abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    true_kmh = until * ratio
    size = math.pi * case.after.wheels.at(wheel).diameter_mm
    return Words(
        f"Motor cuts off at {kmh(true_kmh):.1f}",
        f"With the wheel setting left as it is the motor helps until {kmh(true_kmh):.1f} in place "
        f"of {kmh(until):g}. Have the setting changed to {mm(size):.0f} by whoever may "
        "change it; local rules decide what it is then.",
    )


@rule(
    "tone-ring-count",
    Severity.CAUTION,
    title="Tone ring slots",
    per="pair",
    source=COMMON_PRACTICE,
    policy=band_keys("front_rear_ratio_percent"),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def tone_ring(case: Case) -> Words | None:
    """Name planned tone rings whose front/rear ratio is out of what the shop accepts."""
    change = _ring_change(case)
    if change is None or case.limits.front_rear_ratio_percent.holds(change):
        return None
    best = ring_pairs(
        found=_counts(case.found.wheels),
        planned=_no_counts,
        ratios=_ratios(case),
        feeds=None,
        indicated_at_100_kmh=None,
    )[0]
    named = " and ".join(
        f"{count} {end}" for end, count in (("front", best.front), ("rear", best.rear)) if count
    )
    return Words(
        f"Tone rings: front against rear {change:+.1f} %".replace("-", "−"),
        f"With the planned rings ABS would see the front turn {magnitude(change, 1)} % "
        f"{'faster' if change > 0 else 'slower'} against the rear than before. {named} slots leave "
        f"{best.ratio_change_percent:+.2f} %".replace("-", "−")
        + ". Ask the maker; the instrument is cured by a recalibration or a corrector of its own.",
    )


def _counts(wheels: Wheels) -> Counts:
    slots = {end: wheels.at(end).tone_ring_slots for end in ENDS}
    return {end: None if count is None else round(count) for end, count in slots.items()}


def _ratios(case: Case) -> dict[End, float]:
    return {
        "front": float(case.after.speed.circumference_ratio_front),
        "rear": float(case.after.speed.circumference_ratio_rear),
    }


def _ring_change(case: Case) -> float | None:
    """Return how pulses front against rear change with planned rings, percent; None without."""
    stated = [getattr(case.proposal, end).tone_ring_slots for end in ENDS]
    if not _motor(case) or not any(stated):
        return None
    return ratio_change_percent(
        found=_counts(case.found.wheels), now=_counts(case.after.wheels), ratios=_ratios(case)
    )


@rule(
    "gearing-shift",
    Severity.NOTE,
    title="Gearing",
    source=DERIVED,
    needs=("gearing.front_sprocket", "gearing.rear_sprocket"),
    only_with=("gearing.front_sprocket",),
    limit=f"{GEARING_STEP_PERCENT:g} % of the rear circumference",
)
def gearing_shift(case: Case) -> Words | None:
    """Say how far a changed rear wheel moves the gearing, and which sprockets bring it back."""
    ratio = float(case.after.speed.circumference_ratio_rear)
    by = (ratio - 1) * 100
    if abs(by) < GEARING_STEP_PERCENT:
        return None
    gearing = case.found.gearing
    way = "shorter" if by < 0 else "taller"
    back = ""
    if gearing.front_sprocket is not None and gearing.rear_sprocket is not None:
        pair = sprockets_back(
            gearing.front_sprocket, gearing.rear_sprocket, circumference_ratio=ratio
        )[0]
        back = f" {pair.front} and {pair.rear} teeth bring it nearest to as found."
    elif gearing.chainrings:
        felt = " and ".join(f"{ring:g} like {ring * ratio:.1f}" for ring in gearing.chainrings)
        back = f" Chainrings feel smaller or larger by it: {felt}."
    return Words(
        f"Gears {abs(by):.1f} % {way}",
        f"The rear wheel's circumference changes by {(ratio - 1) * 100:+.1f} %".replace("-", "−")
        + f": every gear is {abs(by):.1f} % {way}.{back}",
    )


@rule(
    "computer-setting",
    Severity.NOTE,
    title="Setting of the bicycle computer",
    source=DERIVED,
    needs=_METER[:1],
    only_with=_METER[:1],
    limit=f"{SETTING_STEP_PERCENT:g} % of the circumference",
)
def computer_setting(case: Case) -> Words | None:
    """Give a computer its new wheel setting, always in mm, where the sensed wheel changes."""
    meter = case.found.speedometer
    if _approved(case) or meter is None:
        return None
    ratio = float(getattr(case.after.speed, f"circumference_ratio_{meter.end}"))
    if abs(ratio - 1) * 100 < SETTING_STEP_PERCENT:
        return None
    way = "short" if ratio > 1 else "long"
    motor = " The motor's cut-off moves with this setting." if _assisted(case) else ""
    setting = computer_setting_mm(meter, case.after.wheels.at(meter.end), ratio)
    was = "" if meter.setting_mm is None else f" in place of {meter.setting_mm:.0f} mm"
    return Words(
        f"Computer counts {abs(1 / ratio - 1) * 100:.1f} % {way}",
        f"Set the wheel size to {setting:.0f} mm{was}, or roll it out under the rider.{motor}",
    )


def computer_setting_mm(meter: Speedometer, wheel: Wheel, ratio: float) -> float:
    """Return what a computer is to be set to in mm: from its setting, else the tire's size.

    `ratio` is the wheel's circumference over the one found; what the setting reads over is
    taken out of it.
    """
    if meter.setting_mm is None:
        return math.pi * wheel.diameter_mm
    return meter.setting_mm * ratio / (1 + (meter.reads_over_percent or 0.0) / 100)


@rule(
    "wheel-speed-ratio",
    Severity.CAUTION,
    title="Front and rear wheel speed",
    per="pair",
    source=COMMON_PRACTICE,
    policy=band_keys("front_rear_ratio_percent"),
    limit=THE_SHOPS,
)
def wheel_speed_ratio(case: Case) -> Words | None:
    """Name a front to rear ratio that ABS or traction control may not accept."""
    change = float(case.after.speed.front_rear_ratio_change_percent)
    if (
        not _motor(case)
        or _ring_change(case) is not None
        or case.limits.front_rear_ratio_percent.holds(change)
    ):
        return None
    turns = (1 / (1 + change / 100) - 1) * 100
    return Words(
        f"Front against rear off by {magnitude(change, 1)} %",
        f"Against the rear's the front's circumference is {magnitude(change, 1)} % "
        f"{'larger' if change > 0 else 'smaller'} than before: it turns {magnitude(turns, 1)} % "
        f"{'slower' if turns < 0 else 'faster'}. ABS and traction control compare the two: "
        "look for the maker's word or a recalibration.",
    )
