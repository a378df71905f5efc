"""What the reading of a card's step may be: from the sidewall, the maker, the plan, or its kind.

A step with limits of its own keeps them.  Outside its limits a reading is kept with the reason it
stands for and the name of whoever gave it.  Source of the general limits: common practice, from
memory; they are wide and only catch a slip of the hand, a wrong unit or a danger.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from jentrik.core.machine.declared import End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.wheel import NO_SPEC
from jentrik.core.plan.plan import Outcome
from jentrik.core.sources import COMMON_PRACTICE
from jentrik.core.tire.tire_on_rim import HOOKLESS_MOST_KPA
from jentrik.core.work.policy import Policy
from jentrik.core.work.template import StepPlan

SET_WITHIN = 0.1  # of a pressure that was planned or asked for: what a gauge and a hand leave
GENERAL_SOURCE = str(COMMON_PRACTICE.at("general limits of a reading"))

SEATING, COLD, TREAD, RIM_WIDTH = (
    "seating_kpa",
    "fitted.pressure_kpa",
    "fitted.tread_mm",
    "rim.inner_width_mm",
)
# What is read, by the end of its key -> the least and the most of any machine; None no limit.
GENERAL: dict[str, tuple[float | None, float | None]] = {
    TREAD: (0.0, 20.0),
    RIM_WIDTH: (10.0, 300.0),
    "rim_runout_mm": (0.0, 2.0),
    "ring_runout_mm": (0.0, 0.5),
    "sensor_gap_mm": (0.1, 2.0),
    "chain_slack_mm": (5.0, 70.0),
    "fork.length_mm": (150.0, 1200.0),
    "suspension.front.travel_mm": (20.0, 400.0),
    "suspension.front.sag_mm": (0.0, 150.0),
    "suspension.rear.sag_mm": (0.0, 150.0),
    "saddle_height_mm": (300.0, 1300.0),
    "shock_pressure_kpa": (150.0, 3500.0),
    "side_stand.lean_deg": (3.0, 20.0),
    "odometer_km": (0.0, 1_000_000.0),
}
OF_UNIT: dict[str, tuple[float | None, float | None]] = {  # where the key says nothing
    "mm": (-100.0, 2000.0),
    "kPa": (20.0, 3500.0),
    "°": (-90.0, 180.0),
    "km/h": (0.0, 350.0),
    "kg": (0.0, 2000.0),
}
# The most to seat a bead with where sidewall and rim say nothing: tire width up to mm -> kPa.
SEATING_BICYCLE_KPA = ((25.0, 850.0), (32.0, 700.0), (40.0, 500.0), (50.0, 400.0), (999.0, 300.0))
SEATING_MOTORCYCLE_KPA = 400.0
COLD_KPA = {"bicycle": (80.0, 1000.0), "motorcycle": (100.0, 350.0)}


@dataclass(frozen=True, slots=True)
class Limits:
    """The least and the most a reading may be, in its unit, and who says so."""

    at_least: float | None
    at_most: float | None
    source: str


def limited(step: StepPlan, bike: Bike, outcome: Outcome, policy: Policy) -> StepPlan:
    """Return a step whose reading knows what it may be; one with limits of its own as it is."""
    if not step.reading or step.unit in ("", "words"):
        return step
    if step.at_least is not None or step.at_most is not None:
        return step if step.limits_from else replace(step, limits_from="asked for")
    limits = _limits(step, bike, outcome, policy)
    return replace(
        step, at_least=limits.at_least, at_most=limits.at_most, limits_from=limits.source
    )


def _limits(step: StepPlan, bike: Bike, outcome: Outcome, policy: Policy) -> Limits:
    first, _, rest = step.measures.partition(".")
    if first in ("front", "rear"):
        end: End = "front" if first == "front" else "rear"
        if rest == SEATING:
            return _seating(bike, outcome, end)
        if rest == COLD:
            return _cold(bike, outcome, end)
        if rest == TREAD:
            limit = policy.rubber.own_tread_mm
            return Limits(limit, GENERAL[TREAD][1], "the shop's limit")
    return general(step)


def general(step: StepPlan) -> Limits:
    """Return the limits of a reading of its kind on any machine."""
    key = step.measures
    known = next((limits for end, limits in GENERAL.items() if key.endswith(end)), None)
    return Limits(*(known or OF_UNIT.get(step.unit, (None, None))), GENERAL_SOURCE)


def _most_of_wheel(outcome: Outcome, end: End) -> Iterator[tuple[float, str]]:
    """Yield what sidewall and rim allow at most, kPa, each with its source."""
    wheel = outcome.figures.wheels.at(end)
    if wheel.fitted.most_kpa is not None:
        yield wheel.fitted.most_kpa, "the sidewall"
    if wheel.rim is not None and wheel.rim.most_kpa is not None:
        yield wheel.rim.most_kpa, "the rim"
    if wheel.rim is not None and wheel.rim.hooks == "hookless":
        yield HOOKLESS_MOST_KPA, "a hookless rim"


def _seating(bike: Bike, outcome: Outcome, end: End) -> Limits:
    stated = min(_most_of_wheel(outcome, end), default=None)
    if stated is not None:
        return Limits(OF_UNIT["kPa"][0], round(stated[0], 1), stated[1])
    width = outcome.figures.wheels.at(end).width_mm
    most = SEATING_MOTORCYCLE_KPA
    if bike.kind == "bicycle":
        most = next(kpa for up_to, kpa in SEATING_BICYCLE_KPA if (width or 40.0) <= up_to)
    return Limits(OF_UNIT["kPa"][0], most, GENERAL_SOURCE)


def _cold(bike: Bike, outcome: Outcome, end: End) -> Limits:
    wheel, asked = outcome.figures.wheels.at(end), bike.maker.wheels.get(end, NO_SPEC).pressure_kpa
    named = [
        (kpa, source)
        for kpa, source in ((wheel.fitted.pressure_kpa, "the plan"), (asked, "the maker"))
        if kpa is not None
    ]
    if named:
        least, most = min(named)[0] * (1 - SET_WITHIN), max(named)[0] * (1 + SET_WITHIN)
        source = " and ".join(name for _, name in named)
    else:
        (least, most), source = COLD_KPA[bike.kind], GENERAL_SOURCE
    for kpa, name in _most_of_wheel(outcome, end):
        if kpa < most:
            most, source = kpa, f"{source}; {name} at most"
    return Limits(round(min(least, most), 1), round(most, 1), source)
