"""The card of a wheel set that was on before: what is looked at each time, the rest as last time.

A second wheel set is a habit, not a job: km now, the tires, axles, brakes, pressures, instrument,
stand, a walk round.  What was settled when the set was on before stays settled while the finding
says the same.  Source: common practice.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

from jentrik.core.amounts import Amount, bar, mm, torque
from jentrik.core.machine.declared import End
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.machine import Bike
from jentrik.core.plan.plan import Outcome
from jentrik.core.rules.case import Severity
from jentrik.core.rules.joined import of_severity
from jentrik.core.work.assembly import READY
from jentrik.core.work.card import (
    HOW_SETTLED,
    INSTRUMENT_RULES,
    SETTLED,
    SIGNED,
    computer_setting,
    km_now,
)
from jentrik.core.work.policy import Policy
from jentrik.core.work.reading_limits import limited
from jentrik.core.work.template import StepPlan

TEMPLATE = "Set on"  # what a card of this kind is made from
WALK_ROUND = "Walked round: nothing loose, lever firm, the first metres slow"


@dataclass(frozen=True, slots=True)
class Remembered:
    """What is known of a set from when it was on: torques by fastener, stops settled, last km.

    `suspension` is what was set otherwise for it than stands on the machine now.
    """

    torques: Mapping[str, tuple[float, str]] = field(default_factory=dict)
    settled: Mapping[str, str] = field(default_factory=dict)  # by headline: how, and by whom
    suspension: Mapping[str, float] = field(default_factory=dict)  # sag and clicks, by key
    km: float | None = None


def set_steps(
    bike: Bike, outcome: Outcome, known: Remembered, policy: Policy
) -> tuple[StepPlan, ...]:
    """Return the steps of putting a known set on; eight lines where nothing is new."""
    return tuple(
        limited(replace(step, group=TEMPLATE), bike, outcome, policy)
        for step in _steps(bike, outcome, known)
    )


def _steps(bike: Bike, outcome: Outcome, known: Remembered) -> Iterator[StepPlan]:
    ends = outcome.proposal.owned
    yield from km_now(known.km, READY)
    yield from _tires(bike, ends)
    yield from _bolts(bike, outcome, ends, known)
    yield StepPlan(
        "Rotors between their pads or pads on their track, wheels spin free, brakes bite",
        stop=True,
        caution="Pump the lever before the machine moves",
    )
    yield from _pressures(outcome, ends)
    yield from _set_for_it(bike, outcome)
    if known.suspension:
        said = (
            f"{FIELD_BY_KEY[key].label.lower()} {Amount(value, FIELD_BY_KEY[key].unit)}"
            for key, value in known.suspension.items()
        )
        yield StepPlan(f"Suspension of this set: {', '.join(said)}")
    for finding in of_severity(outcome.findings, Severity.STOP):
        how = known.settled.get(finding.headline)
        if how:
            yield StepPlan(f"As settled before: {finding.headline}: {how}")
        else:
            yield StepPlan(
                f"{SETTLED}{finding.headline}", stop=True, reading=HOW_SETTLED, unit="words"
            )
    yield StepPlan(f"{WALK_ROUND}. {SIGNED}", stop=True, qualified=True)


def _tires(bike: Bike, ends: tuple[End, ...]) -> Iterator[StepPlan]:
    """Yield the look at the tires; where tread is measured, each with its reading."""
    look = "looked at: date, sidewalls, arrow and side"
    if bike.kind == "bicycle":
        yield StepPlan(f"Tires {look}", stop=True)
        return
    for end in ends:
        yield StepPlan(
            f"{end.capitalize()} tire {look}",
            stop=True,
            reading=f"{end} tread, minimum",
            unit="mm",
            measures=f"{end}.fitted.tread_mm",
        )


def _bolts(
    bike: Bike, outcome: Outcome, ends: tuple[End, ...], known: Remembered
) -> Iterator[StepPlan]:
    """Yield axles and clamp bolts: in one line where their torques are known, else each its own."""
    fasteners = [f"{end} axle" for end in ends]
    if bike.kind == "motorcycle":
        fasteners += ["front pinch bolts"] if "front" in ends else []
        discs = [end for end in ends if outcome.figures.wheels.at(end).brakes_by == "disc"]
        fasteners += [f"{end} caliper bolts" for end in discs]
    said = [
        f"{name} {torque(known.torques[name][0])}" for name in fasteners if name in known.torques
    ]
    if said:
        yield StepPlan(f"To the torques written before: {', '.join(said)}", stop=True)
    for name in fasteners:
        if name not in known.torques:
            words = f"{name[:1].upper()}{name[1:]} to its torque"
            yield StepPlan(words, stop=True, fastener=name)


def _pressures(outcome: Outcome, ends: tuple[End, ...]) -> Iterator[StepPlan]:
    """Yield the pressures of this set, cold; read where the set does not know one."""
    fitted = {end: outcome.figures.wheels.at(end).fitted for end in ends}
    known = {end: one.pressure_kpa for end, one in fitted.items()}
    said = [
        f"{end} {bar(one.pressure_kpa):.2f}"
        + (f" (two up {bar(one.two_up_kpa):.2f})" if one.two_up_kpa is not None else "")
        for end, one in fitted.items()
        if one.pressure_kpa is not None
    ]
    if said:
        yield StepPlan(f"Pressures of this set, cold: {', '.join(said)}", stop=True)
    for end in (end for end, kpa in known.items() if kpa is None):
        yield StepPlan(
            f"{end.capitalize()} pressure set cold",
            stop=True,
            reading=f"{end} cold pressure",
            unit="kPa",
            measures=f"{end}.fitted.pressure_kpa",
        )


def _set_for_it(bike: Bike, outcome: Outcome) -> Iterator[StepPlan]:
    """Yield the instrument's setting and the stand's leg where this set asks for its own."""
    rules = {finding.rule for finding in outcome.findings}
    setting = computer_setting(bike, outcome)
    if setting is not None:
        yield StepPlan(f"Computer set to {setting:.0f} mm")
    elif rules & INSTRUMENT_RULES:
        yield StepPlan("Instrument at the setting of this set", stop=bike.kind == "motorcycle")
    teeth = outcome.proposal.rear_sprocket
    if teeth is not None:
        yield StepPlan(f"Sprocket of this set, {teeth:g} teeth: chain length and slack", stop=True)
    lean = outcome.figures.stand_lean_deg
    if rules & {"side-stand-upright", "side-stand-lean"} and lean is not None:
        yield StepPlan(f"Leg or pad of the stand for this set: leans {lean:.1f}°", stop=True)
    rotors = [
        f"{end} {mm(new):g}"
        for end in outcome.proposal.owned
        if (new := outcome.figures.wheels.at(end).hub.rotor_mm) is not None
        and new != bike.wheels.at(end).hub.rotor_mm
    ]
    if rotors:
        yield StepPlan(
            f"Caliper adapters for the rotors of this set: {', '.join(rotors)}", stop=True
        )
