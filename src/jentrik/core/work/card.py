"""A job card: steps made of what changes, or a template of the shop's own, and what proves it.

The plan adds the parts to lay out, what must be proved by hand, machine-shop work, the stand and
the instrument where they change, and the brief for the first ride.  A card holds its job open while
a stop-level step is neither done nor waived.  Source: common practice.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import groupby

from jentrik.core.amounts import Amount, torque
from jentrik.core.errors import OutOfRange
from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.machine.declared import ENDS, Kind
from jentrik.core.machine.fields import INSTRUMENT_SET
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.readings import read_readings
from jentrik.core.machine.wheel import UNCHANGED
from jentrik.core.plan.plan import Outcome
from jentrik.core.rules.case import Severity
from jentrik.core.rules.instruments import computer_setting_mm
from jentrik.core.rules.joined import of_severity
from jentrik.core.work.assembly import READY, assembled
from jentrik.core.work.carry_over import Fate, parts_of
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.core.work.proofs import in_order, prove_by_hand
from jentrik.core.work.reading_limits import general, limited
from jentrik.core.work.template import StepPlan, steps_of

FIRST_RIDE = (
    "First ride brief given: go easy, brakes first and bedded in, then speed in steps; new tires "
    "are slippery until run in; never ride to test a clearance"
)
_LAMPS = "with ABS or traction control watch the lamps"
_APPROVAL = "another size goes on the road once approval, registration and insurance are settled"
HOW_SETTLED = "how it was settled"
ODOMETER = "odometer_km"  # what a reading of it measures: it goes into the log
_SET_WITHIN, _HAIR_MM = 0.03, 0.05
SETTLED = "Settled before it leaves: "
SIGNED = "A person qualified for it signs the job off"
PROVED, LEAVES, MACHINE_SHOP = "Proved by hand", "Before it leaves", "Machine shop"
FAR_MM = 40.0  # common practice: a clearance of this much that moves holds nothing


@dataclass(frozen=True, slots=True)
class CardStep:
    """One step of a card as kept: the plan, and what was written down; None is not yet.

    `version` goes up with every write, so that two people never overwrite each other unseen.
    """

    id: int
    place: int
    plan: StepPlan
    torque_nm: float | None = None
    torque_source: str | None = None
    reading: str | None = None
    done_by: str | None = None
    done_at: datetime | None = None
    waived: str | None = None
    version: int = 0
    simulated: bool = False  # the reading is a stand-in's, no measurement
    reason: str | None = None  # why it was ticked with a reading outside its limits
    plus_minus: float | None = None  # of the reading, where it was typed with it

    @property
    def read(self) -> str:
        """The reading as it is typed, with its ± where that is known; "" without one."""
        if not self.reading or self.plus_minus is None:
            return self.reading or ""
        return f"{self.reading} ± {self.plus_minus:g}"

    @property
    def open(self) -> bool:
        """Whether it is neither done nor waived."""
        return self.done_at is None and self.waived is None

    def missing(self) -> str:
        """Return what must be written down before it can be ticked; nothing where all is."""
        if self.plan.fastener and (self.torque_nm is None or not self.torque_source):
            return f"the torque of {self.plan.fastener}, from the maker or the part"
        if self.plan.reading and not self.reading:
            return f"the reading: {self.plan.reading}"
        return ""


def outside(plan: StepPlan, reading: str | None) -> str:
    """Return what a reading is outside of, in a sentence; nothing where it is within."""
    if not reading or plan.unit in ("", "words"):
        return ""
    value = read_readings(reading, unit=plan.unit).mean
    if plan.at_least is None and plan.at_most is None:  # a card from before readings had limits
        limits = general(plan)
        plan = replace(plan, at_least=limits.at_least, at_most=limits.at_most)
    if plan.at_least is not None and value < plan.at_least:
        return (
            f"{Amount(value, plan.unit)} is below the {Amount(plan.at_least, plan.unit)} asked for."
        )
    if plan.at_most is not None and value > plan.at_most:
        most = Amount(plan.at_most, plan.unit)
        return f"{Amount(value, plan.unit)} is above the {most} allowed."
    return ""


@dataclass(frozen=True, slots=True)
class StepGroup:
    """Steps that are done in one go with the hands, by their name; none of a shop's template."""

    name: str
    steps: tuple[CardStep, ...]

    @property
    def plain(self) -> tuple[CardStep, ...]:
        """The steps that are ticked together: nothing is written down and nothing holds the job."""
        return tuple(step for step in self.steps if not step.plan.stands_out)


@dataclass(frozen=True, slots=True)
class Card:
    """A job's card: which proposal it carries out, after which template, and its steps."""

    id: int
    job_id: int
    proposal: str
    template: str
    made_at: datetime
    steps: tuple[CardStep, ...] = ()

    @property
    def groups(self) -> tuple[StepGroup, ...]:
        """The steps by what is done in one go, in their order."""
        return tuple(
            StepGroup(name, tuple(steps))
            for name, steps in groupby(self.steps, key=lambda step: step.plan.group)
        )

    @property
    def holding(self) -> tuple[CardStep, ...]:
        """The stop-level steps that keep the job open."""
        return tuple(step for step in self.steps if step.plan.stop and step.open)

    @property
    def done(self) -> int:
        """How many steps are done or waived."""
        return sum(not step.open for step in self.steps)


def card_steps(
    bike: Bike,
    outcome: Outcome,
    parts: Mapping[str, str],
    template: str = "",
    *,
    policy: Policy = DEFAULT_POLICY,
    last_km: float | None = None,
) -> tuple[StepPlan, ...]:
    """Return the steps of a card: of what changes, in the order of the bench, and what proves it.

    `parts` are the texts of the parts of cards by name; a template of the shop's own, where it is
    given, stands in place of the parts.  `last_km` is the odometer's last reading in the log.
    """
    proposal = outcome.proposal
    touched = [end for end in ENDS if getattr(proposal, end) != UNCHANGED or end in proposal.owned]
    if template:
        written = steps_of(template)
        steps = tuple(step for step in written if step.only is None or step.only in touched)
    else:
        steps = tuple(assembled(bike, outcome, parts))
    known = {step.text for step in steps}
    proofs = tuple(step for step in _proofs(bike, outcome, last_km) if step.text not in known)
    return tuple(
        limited(step, bike, outcome, policy)
        for step in (*_parts(bike, outcome), *_machining(outcome), *steps, *proofs)
    )


def _parts(bike: Bike, outcome: Outcome) -> tuple[StepPlan, ...]:
    part_lines = parts_of(bike, outcome.proposal)
    steps = []
    for fate, words in ((Fate.BUY, "Laid out"), (Fate.KEEP, "Carries over")):
        names = [f"{line.end} {line.name}".strip() for line in part_lines if line.fate is fate]
        if names:
            steps.append(StepPlan(f"{words}: {', '.join(names)}", group=READY))
    ask = [f"{line.end} {line.name}".strip() for line in part_lines if line.fate is Fate.ASK]
    if ask:
        said = f"Found out before anything comes apart: {', '.join(ask)}"
        steps.append(StepPlan(said, group=READY))
    return tuple(steps)


def _machining(outcome: Outcome) -> tuple[StepPlan, ...]:
    return tuple(
        StepPlan(
            f"Machine shop: {end} hub drilled, tapped or turned for rotor and tone ring, after "
            "the drawing",
            stop=True,
            reading="ring runout after",
            unit="mm",
            measures=f"{end}.ring_runout_mm",
            caution="Only a qualified person; sign with name",
            qualified=True,
            group=MACHINE_SHOP,
        )
        for end in ENDS
        if outcome.figures.wheels.at(end).sensor.face == "other"
    )


INSTRUMENT_RULES = {
    "speedometer-under-reads",
    "speedometer-over-limit",
    "speed-over-policy",
    "computer-setting",
    "assist-cut-off",
}


def _proofs(bike: Bike, outcome: Outcome, last_km: float | None) -> tuple[StepPlan, ...]:
    """Return what proves the work, in order: room, age, stand, instrument, stops, first ride."""
    rules = {finding.rule for finding in outcome.findings}
    steps = [*_room(bike, outcome), *_aged(outcome)]
    if rules & {"side-stand-upright", "side-stand-lean"}:
        steps.append(
            StepPlan(
                "Side stand set for the new height",
                stop=True,
                reading="lean now",
                unit="°",
                measures="side_stand.lean_deg",
            )
        )
    steps += _instrument(bike, outcome, rules, last_km)
    steps += [
        StepPlan(f"{SETTLED}{finding.headline}", stop=True, reading=HOW_SETTLED, unit="words")
        for finding in of_severity(outcome.findings, Severity.STOP)
    ]
    ride = FIRST_RIDE
    if "approval-asked" in rules and outcome.proposal.owned != ENDS:
        ride = f"{FIRST_RIDE}; approval, registration and insurance asked about: {_APPROVAL}"
    last = StepPlan(f"{SIGNED}. {ride}", stop=True, qualified=True)
    return tuple(step if step.group else replace(step, group=LEAVES) for step in (*steps, last))


def computer_setting(bike: Bike, outcome: Outcome) -> float | None:
    """Return what a computer is to be set to, mm; None where no computer's wheel changes."""
    rules, meter = {finding.rule for finding in outcome.findings}, bike.speedometer
    if meter is None or not rules & {"computer-setting", "assist-cut-off"}:
        return None
    ratio = float(getattr(outcome.figures.speed, f"circumference_ratio_{meter.end}"))
    return computer_setting_mm(meter, outcome.figures.wheels.at(meter.end), ratio)


def km_now(last_km: float | None, group: str) -> Iterator[StepPlan]:
    """Yield the reading of the odometer; nothing where none was ever read."""
    if last_km is not None:
        yield StepPlan(
            "Kilometres now",
            reading="odometer",
            unit="km",
            measures=ODOMETER,
            at_least=last_km,
            limits_from="the last reading",
            group=group,
        )


def _instrument(
    bike: Bike, outcome: Outcome, rules: set[str], last_km: float | None
) -> list[StepPlan]:
    """Return the steps of the instrument: a computer's setting in mm and its km, else the km."""
    corrected, setting = outcome.proposal.corrected_percent, computer_setting(bike, outcome)
    if corrected is not None:
        by = f"{corrected:+g} %".replace("-", "−")
        words = f"Instrument's signal corrected by {by} in all, odometer noted"
    elif setting is not None:
        return [
            StepPlan(
                f"Computer set to {setting:.0f} mm",
                reading="set to",
                unit="mm",
                measures=INSTRUMENT_SET,
                at_least=round(setting * (1 - _SET_WITHIN)),
                at_most=round(setting * (1 + _SET_WITHIN)),
                limits_from="the plan",
            ),
            *km_now(last_km, LEAVES),
        ]
    elif rules & INSTRUMENT_RULES:
        words = "Instrument set or recalibrated, odometer noted"
    else:
        return []
    stop = bike.kind == "motorcycle"
    return [StepPlan(words, stop=stop, reading="odometer", unit="km", measures=ODOMETER)]


def _room(bike: Bike, outcome: Outcome) -> list[StepPlan]:
    """Return the steps that prove the room where the work touches it.

    A set that was on it before proved it then, and what stays far away holds nothing.
    """
    if outcome.proposal.owned == ENDS:
        return []
    touched = [spot for spot in outcome.figures.clearances if _touched(outcome.proposal, spot)]
    first, *places = prove_by_hand(bike, touched)
    lines = [f"{first} {places[0]}", *places[1:]] if places else []
    steps = [
        StepPlan(
            line,
            stop=True,
            reading="clearance",
            unit="mm",
            at_least=spot.least_mm,
            measures=f"place:{spot.place.name}",
            group=PROVED,
        )
        for line, spot in zip(lines, in_order(touched), strict=True)
    ]
    return steps or [StepPlan(first, stop=True, group=PROVED)]


def _touched(proposal: Proposal, spot: PredictedClearance) -> bool:
    """Whether a place is to be proved: its tire is new or its gap moves, and it is near."""
    gap, least = spot.predicted_gap_mm, spot.worst_case_gap_mm
    if gap is None:
        return True
    tight = gap if least is None else min(gap, least)
    new = getattr(proposal, spot.place.wheel) != UNCHANGED
    return tight < FAR_MM and (new or abs(gap - spot.place.gap_mm) > _HAIR_MM)


def _aged(outcome: Outcome) -> list[StepPlan]:
    return [
        StepPlan(
            f"{f.where.capitalize()} tire, {f.headline[:1].lower()}{f.headline[1:]}: agreed with "
            "the rider, or another tire",
            stop=f.severity is Severity.STOP,
        )
        for f in outcome.findings
        if f.rule == "age-over-policy"
    ]


def checked_torque(torque_nm: float) -> float:
    """Return a torque in N·m; refuses what no fastener of these machines has."""
    if not 0.5 <= torque_nm <= 400:
        raise OutOfRange(
            f"{torque(torque_nm):g} is outside 0.5 to 400.",
            field="torque_nm",
            expected="the maker's torque in N·m",
        )
    return torque_nm


def first_ride(kind: Kind) -> list[str]:
    """Return what whoever rides first is asked to do, a sentence each."""
    lines = [part.strip() for part in FIRST_RIDE.partition(": ")[2].split(";")]
    if kind == "motorcycle":
        lines += [_LAMPS, _APPROVAL]
    return [f"{line[:1].upper()}{line[1:]}." for line in lines]
