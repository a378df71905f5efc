"""Is the tire to be mounted fit to go on: its age, tread, arrow and air?

Legal tread by class and country is a setting; age schools are the shop's.  Hookless rims: 500 kPa
at most whatever else is stated, less with a wider tire (`tire_on_rim`).
"""

from jentrik.core.amounts import bar, kg, mm
from jentrik.core.figures import bicycle_pressure
from jentrik.core.figures.bicycle_pressure import pressure_kpa
from jentrik.core.figures.rider_load import axle_share_kg
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHEETS,
    THE_SHOPS,
    Severity,
    WheelCase,
    Words,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, LOCAL_LAW, SHOP_LIMIT
from jentrik.core.tire.tire_on_rim import (
    HOOKLESS_CLEAR_OVER_MM,
    HOOKLESS_MOST_KPA,
    PULL_SOURCE,
    falls_with_width_kpa,
    hookless_most_kpa,
)
from jentrik.core.work import tire_age

ARROW = "ROTATION"


USUAL_SHARE = (0.7, 1.4)  # of the pressure by load: between them riders differ (common practice)
_TREAD = ("planned.{end}.fitted.tread_mm",)
_MADE = ("planned.{end}.fitted.made",)
_RUBBER = "rubber."


def _age(wheel: WheelCase) -> float | None:
    """Return the age in years of a tire to be mounted; None where nothing is known of it."""
    made, on = wheel.wheel.fitted.date, wheel.case.on
    if made is None or on is None or wheel.change.tire is None:
        return None
    return made.age_years(on)


@rule(
    "age-over-policy",
    Severity.STOP,
    title="Tire age",
    source=SHOP_LIMIT,
    needs=_MADE,
    policy=(f"{_RUBBER}age_school", f"{_RUBBER}replace_at_years"),
    limit=THE_SHOPS,
)
def too_old(wheel: WheelCase) -> Words | None:
    """Name a tire to be mounted that the shop would replace by its years."""
    made = wheel.wheel.fitted.date
    if made is not None and made.year is None and wheel.change.tire is not None:
        return Words(
            "Made before 2000",
            f"The {wheel.end} tire's date has three digits: older than any tire should ride.",
        )
    judged = tire_age.too_old(_age(wheel), wheel.case.policy)
    return _age_words(wheel, judged) if judged is not None and judged.stops else None


@rule(
    "age-over-policy",
    Severity.CAUTION,
    source=SHOP_LIMIT,
    needs=_MADE,
    policy=(
        f"{_RUBBER}age_school",
        f"{_RUBBER}mount_younger_than_years",
        f"{_RUBBER}look_yearly_from_years",
    ),
    limit=THE_SHOPS,
)
def older_than_policy(wheel: WheelCase) -> Words | None:
    """Name a tire to be mounted that is older than the shop mounts, or not made yet."""
    judged = tire_age.too_old(_age(wheel), wheel.case.policy)
    return None if judged is None or judged.stops else _age_words(wheel, judged)


def _age_words(wheel: WheelCase, judged: tire_age.TooOld) -> Words:
    age = _age(wheel) or 0.0
    return Words(
        f"{age:.1f} years old" if age >= 0 else "Made in the future",
        f"The {wheel.end} tire was made in week {_week(wheel)}. {judged.says}",
    )


def _week(wheel: WheelCase) -> str:
    made = wheel.wheel.fitted.date
    assert made is not None
    return f"{made.week} of {made.year}"


def _rule_tread(wheel: WheelCase) -> float | None:
    rubber, vehicle = wheel.case.policy.rubber, wheel.case.found.vehicle_class
    asked = {"motorcycle": rubber.rule_tread_mm, "moped": rubber.rule_moped_tread_mm}
    return asked.get(vehicle)


@rule(
    "tread-below-legal",
    Severity.STOP,
    title="Tread below the common rule",
    source=LOCAL_LAW,
    needs=_TREAD,
    policy=(f"{_RUBBER}rule_tread_mm", f"{_RUBBER}rule_moped_tread_mm"),
    only_with=_TREAD,
    kinds=MOTORCYCLES,
    law=True,
    limit=THE_SHOPS,
)
def tread_below_rule(wheel: WheelCase) -> Words | None:
    """Name a tread below the common rule for the class of vehicle."""
    tread, asked = wheel.wheel.fitted.tread_mm, _rule_tread(wheel)
    if tread is None or asked is None or tread >= asked:
        return None
    return Words(
        f"Tread {mm(tread):g}, the common rule asks {mm(asked):g}",
        f"The {wheel.end} tire has {mm(tread):g} left. Replace it; local rules decide.",
    )


@rule(
    "tread-below-policy",
    Severity.CAUTION,
    title="Tread below the shop's limit",
    source=SHOP_LIMIT,
    needs=_TREAD,
    only_with=_TREAD,
    policy=(f"{_RUBBER}own_tread_mm",),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def tread_below_policy(wheel: WheelCase) -> Words | None:
    """Name a tread that meets the rule but not the shop."""
    tread, own = wheel.wheel.fitted.tread_mm, wheel.case.policy.rubber.own_tread_mm
    if tread is None or tread >= own or tread_below_rule(wheel) is not None:
        return None
    if wheel.change.tire is None or _rule_tread(wheel) is None:
        return None
    return Words(
        f"Tread {mm(tread):g}",
        f"The {wheel.end} tire has {mm(tread):g} left; this shop mounts none below {mm(own):g}. "
        "The way to stop in the wet grows from there.",
    )


@rule(
    "rotation-direction",
    Severity.STOP,
    title="Rotation arrow",
    source=COMMON_PRACTICE,
    limit="a tire that turns against its arrow",
)
def against_the_arrow(wheel: WheelCase) -> Words | None:
    """Name a tire that would turn against its arrow."""
    if wheel.wheel.fitted.arrow != "against the arrow":
        return None
    return Words(
        "Turns against its arrow",
        f"The {wheel.end} tire's arrow points the other way. Turn it on the rim; trust the arrow, "
        "not the look of the tread.",
    )


@rule("rotation-direction", Severity.NOTE, source=COMMON_PRACTICE, limit="the mark ROTATION")
def arrow_to_look_at(wheel: WheelCase) -> Words | None:
    """Remind of the arrow of a tire that carries one."""
    tire = wheel.wheel.tire
    if wheel.change.tire is None or tire is None or ARROW not in tire.markings:
        return None
    if wheel.wheel.fitted.arrow is not None:
        return None
    return Words(
        "Has an arrow",
        f"The {wheel.end} tire turns one way only. A front tread can look backwards and be right: "
        "trust the arrow.",
    )


@rule(
    "pressure-above-limit",
    Severity.STOP,
    title="Pressure above rim or sidewall",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.fitted.pressure_kpa",),
    only_with=("planned.{end}.rim.most",),
    limit=(f"the lowest of rim maker, sidewall and, without hooks, {bar(HOOKLESS_MOST_KPA):g}"),
)
def pressure_above_limit(wheel: WheelCase) -> Words | None:
    """Name a pressure above what rim or sidewall allow."""
    pressure, rim = _pressure(wheel), wheel.wheel.rim
    known: list[tuple[float, str]] = []
    if rim is not None and rim.most_kpa is not None:
        known.append((rim.most_kpa, "the rim maker allows"))
    if rim is not None and rim.hooks == "hookless":
        known.append((HOOKLESS_MOST_KPA, "a hookless rim takes at most"))
    if wheel.wheel.fitted.most_kpa is not None:
        known.append((wheel.wheel.fitted.most_kpa, "the sidewall allows"))
    if pressure is None or not known or pressure <= min(known)[0]:
        return None
    most, whose = min(known)
    return Words(
        f"{_bar(pressure)} is above {_bar(most)}",
        f"{wheel.end.capitalize()}: {_bar(pressure)} are planned; {whose} {_bar(most)}. A bead can "
        "leave the rim: less air, or another rim.",
    )


@rule(
    "pressure-above-limit",
    Severity.CAUTION,
    source=PULL_SOURCE,
    needs=("planned.{end}.fitted.pressure_kpa",),
    only_with=("planned.{end}.rim.most",),
    kinds=BICYCLES,
    limit=(
        "the stated pressure x stated width / this width; without hooks "
        f"{bar(HOOKLESS_MOST_KPA):g} x (inner width + {mm(HOOKLESS_CLEAR_OVER_MM):g}) / width"
    ),
)
def pressure_above_width(wheel: WheelCase) -> Words | None:
    """Name a pressure above what a rim takes with a tire as wide as this, about."""
    pressure, rim, tire = _pressure(wheel), wheel.wheel.rim, wheel.wheel.tire
    if pressure is None or rim is None or tire is None or tire.width_mm is None:
        return None
    if pressure_above_limit(wheel) is not None:
        return None
    most = None
    if rim.most_kpa is not None and rim.most_kpa_at_mm is not None:
        most = falls_with_width_kpa(
            stated_kpa=rim.most_kpa, stated_at_mm=rim.most_kpa_at_mm, tire_mm=tire.width_mm
        )
    elif rim.most_kpa is None and rim.hooks == "hookless" and rim.inner_width_mm is not None:
        most = hookless_most_kpa(rim_mm=rim.inner_width_mm, tire_mm=tire.width_mm)
    if most is None or pressure <= most:
        return None
    return Words(
        f"{_bar(pressure)} on a {mm(tire.width_mm):.0f} tire: about {_bar(most)} for the rim",
        f"{wheel.end.capitalize()}: the pull on the rim's flange goes with pressure and width. "
        f"With {mm(tire.width_mm):.0f} about {_bar(most)} are left of what the rim takes; the rim "
        "maker's figure for this width decides.",
    )


@rule(
    "pressure-below-placard",
    Severity.CAUTION,
    title="Pressure below the maker's",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.fitted.pressure_kpa",),
    only_with=("spec.{end}.pressure_kpa",),
    limit=THE_SHEETS,
)
def pressure_below_placard(wheel: WheelCase) -> Words | None:
    """Name a pressure below the maker's, cold."""
    pressure, asked = wheel.wheel.fitted.pressure_kpa, wheel.spec.pressure_kpa
    if pressure is None or asked is None or pressure >= asked:
        return None
    return Words(
        f"{_bar(pressure)}, the maker asks {_bar(asked)}",
        f"The {wheel.end} tire would run {_bar(asked - pressure)} below the maker's cold "
        "pressure: it runs hot and carries less.",
    )


@rule(
    "pressure-for-load",
    Severity.NOTE,
    title="Pressure for this load and width",
    source=COMMON_PRACTICE.at("15 % drop of the tire under its load, a fit from memory"),
    needs=("rider_kg", "planned.{end}.fitted.pressure_kpa"),
    only_with=("rider_kg",),
    kinds=BICYCLES,
    limit=(
        f"{USUAL_SHARE[0]:g} to {USUAL_SHARE[1]:g} times the "
        f"pressure of 15 % drop, {mm(bicycle_pressure.NARROWEST_MM):g} to "
        f"{mm(bicycle_pressure.WIDEST_MM):g} wide"
    ),
)
def pressure_for_load(wheel: WheelCase) -> Words | None:
    """Name a bicycle pressure far from what its load and width usually ask."""
    tire, pressure = wheel.wheel.tire, wheel.wheel.fitted.pressure_kpa
    if tire is None or tire.vehicle != "bicycle" or tire.width_mm is None or pressure is None:
        return None
    if pressure_above_limit(wheel) is not None or pressure_below_placard(wheel) is not None:
        return None
    load = wheel.found.axle_load_kg or axle_share_kg(wheel.case.found, wheel.end)
    usual = None if load is None else pressure_kpa(load_kg=load, width_mm=tire.width_mm)
    if (
        load is None
        or usual is None
        or USUAL_SHARE[0] * usual <= pressure <= USUAL_SHARE[1] * usual
    ):
        return None
    feels = (
        "softer than that it bottoms and squirms on hard roads, off them it may be right"
        if pressure < usual
        else "harder than that it grips less and shakes the rider"
    )
    return Words(
        f"{_bar(pressure)}; load and width ask about {_bar(usual)}",
        f"About {kg(load):.0f} on {mm(tire.width_mm):.0f} sink in by 15 % at {_bar(usual)}; "
        f"{feels}. Never above what rim and sidewall allow.",
    )


def _pressure(wheel: WheelCase) -> float | None:
    """Return the pressure it will run at: as planned, else the maker's."""
    planned = wheel.wheel.fitted.pressure_kpa
    return wheel.spec.pressure_kpa if planned is None else planned


def _bar(kpa: float) -> str:
    return f"{bar(kpa):.1f}"


@rule(
    "hookless-rim",
    Severity.STOP,
    title="Tube-type tire on a hookless rim",
    source=COMMON_PRACTICE,
    kinds=BICYCLES,
    limit="the mark TT",
)
def tube_tire_on_hookless(wheel: WheelCase) -> Words | None:
    """Name a tube-type tire on a hookless rim."""
    rim, tire = wheel.wheel.rim, wheel.wheel.tire
    if rim is None or rim.hooks != "hookless" or tire is None or tire.tube != "tube-type":
        return None
    return Words(
        "Tube-type tire on a hookless rim",
        f"Without hooks only the bead holds the {wheel.end} tire: it must be made ready for "
        "tubeless use and cleared for hookless rims.",
    )


@rule(
    "hookless-rim",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    limit="every new tire on a hookless rim",
)
def hookless_rim(wheel: WheelCase) -> Words | None:
    """Remind that a hookless rim takes only tires made for it."""
    rim = wheel.wheel.rim
    if rim is None or rim.hooks != "hookless" or wheel.change.tire is None:
        return None
    if tube_tire_on_hookless(wheel) is not None:
        return None
    return Words(
        "Hookless rim",
        f"At the {wheel.end} only a tire whose maker clears it for hookless rims, with beads made "
        "ready for tubeless use, at the width and pressure both makers give.",
    )
