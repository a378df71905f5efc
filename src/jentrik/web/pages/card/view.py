"""Station Fit: the job card, or what it would be made from."""

from dataclasses import dataclass, field
from datetime import date

from markupsafe import Markup

from jentrik.core.amounts import Amount, bare, torque
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.fields import FIELD_BY_KEY, choices_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.work.card import Card, CardStep, outside
from jentrik.core.work.proofs import prove_by_hand
from jentrik.core.work.set_card import TEMPLATE as SET_ON
from jentrik.core.work.template import StepPlan, built_in
from jentrik.store.bench_data import BenchData
from jentrik.store.cards import KeptPhoto
from jentrik.store.documents import Correction
from jentrik.web.drawing.bolt_circle import bolt_circle_drawing
from jentrik.web.figures import plain
from jentrik.web.pages.after_fitting.view import (
    AfterFittingView,
    MeasuredRow,
    after_fitting_view,
    measured_rows,
)
from jentrik.web.pages.setups.swap import Different, swap_differences
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed

FROM_CHANGES = "What changes"  # a card put together from parts, not from one template
TORQUE_SOURCES = ("maker's manual", "on the part")


@dataclass(frozen=True, slots=True)
class StepView:
    """One step as a page shows it: the plan, what was written down, why it cannot be ticked."""

    step: CardStep
    number: int
    state: str
    torque: str
    reading: str
    source: str
    complaint: Complaint | None
    theirs: str = ""  # what someone else wrote meanwhile
    why: str = ""
    choices: tuple[str, ...] = ()  # the words its reading is chosen from

    @property
    def off(self) -> bool:
        """Whether the reading as it stands is outside its limits."""
        try:
            return bool(outside(self.step.plan, self.reading))
        except Refusal:
            return False

    @property
    def limits(self) -> str:
        """What the reading may be, and who says so; nothing where it has no limits."""
        plan = self.step.plan
        least = "" if plan.at_least is None else f"{Amount(round(plan.at_least, 1), plan.unit)}"
        most = "" if plan.at_most is None else f"{Amount(round(plan.at_most, 1), plan.unit)}"
        if not (least or most):
            return ""
        bounds = f"{least} to {most}" if least and most else f"at least {least}" if least else ""
        source = f" ({plan.limits_from})" if plan.limits_from else ""
        return f"{bounds or f'at most {most}'}{source}"

    @property
    def unit(self) -> str:
        """The unit of its reading, none where it is words."""
        return "" if self.step.plan.unit == "words" else self.step.plan.unit


@dataclass(frozen=True, slots=True)
class GroupView:
    """Steps done in one go: those ticked together, and those that stand out."""

    name: str
    key: str
    plain: list[StepView]
    alone: list[StepView]
    complaint: Complaint | None = None

    @property
    def in_order(self) -> list[StepView]:
        """Every step in the order of the hands."""
        return sorted([*self.plain, *self.alone], key=lambda one: one.number)

    @property
    def open(self) -> list[StepView]:
        """The steps that one press ticks."""
        return [one for one in self.plain if one.step.open]

    @property
    def done(self) -> bool:
        """Whether nothing in it is open."""
        return not any(one.step.open for one in (*self.plain, *self.alone))

    @property
    def says(self) -> str:
        """How many steps it has, and how many of them hold the job or ask for a figure."""
        plans = [one.step.plan for one in self.alone]
        stops = sum(plan.stop for plan in plans)
        read = sum(bool(plan.reading) for plan in plans)
        said = [f"{len(self.plain) + len(plans)} step{'s' * (len(self.plain) + len(plans) > 1)}"]
        said += [f"{stops} stop{'s' * (stops > 1)}"] if stops else []
        said += [f"{read} reading{'s' * (read > 1)}"] if read else []
        return ", ".join(said)


@dataclass(frozen=True, slots=True)
class FitView:
    """What station Fit shows."""

    card: Card | None
    groups: list[GroupView]
    templates: list[str]
    usual: str
    photos: list[KeptPhoto]
    who: str
    fitted: date | None = None
    after: AfterFittingView | None = None
    measured: list[MeasuredRow] = field(default_factory=list)
    machining: list[Markup] = field(default_factory=list)
    different: list[Different] = field(default_factory=list)
    corrections: list[Correction] = field(default_factory=list)
    answers: list[dict[str, str]] = field(default_factory=list)
    typed: dict[str, str] = field(default_factory=dict)
    complaints: dict[str, Complaint] = field(default_factory=dict)
    sources: tuple[str, ...] = TORQUE_SOURCES
    prove: tuple[str, ...] = ()
    people: tuple[str, ...] = ()

    @property
    def set_on(self) -> bool:
        """Whether a known wheel set is put on, and not done yet."""
        return self.card is not None and self.card.template == SET_ON and bool(self.next)

    @property
    def steps(self) -> list[StepView]:
        """Every step in its order."""
        return [one for group in self.groups for one in group.in_order]

    @property
    def next(self) -> str:
        """What is to be done next: the key of a group whose steps go together, else of a step."""
        for group in self.groups:
            if group.open:
                return group.key
            for one in group.alone:
                if one.step.open:
                    return f"step-{one.step.id}"
        return ""

    @property
    def says(self) -> str:
        """How far the card is."""
        return "" if self.card is None else progress_in_words(self.card)


def progress_in_words(card: Card) -> str:
    """Return how far a card is, in words."""
    said = f"{card.done} of {len(card.steps)} steps"
    if card.holding:
        count = len(card.holding)
        said += f", {count} hold{'s' if count == 1 else ''} the job open"
    return said


def fit_view(
    data: BenchData,
    found: PlanResult | None,
    outcome: Outcome | None,
    who: str,
    typed: Typed = NOTHING_TYPED,
) -> FitView:
    """Return the card of a job with what was just typed on it."""
    job, card = data.on.job, data.card.card
    groups = _groups(card, data.on.sheet, typed) if card is not None else []
    fitted = job.done.on if job.done else None
    after = None
    if card is not None and fitted is None and found is not None and outcome is not None:
        after = after_fitting_view(data.on.sheet, found, outcome, data.measured, typed)
    return FitView(
        card=card,
        groups=groups,
        templates=[FROM_CHANGES, *sorted(set(data.card.templates) - set(built_in()))],
        usual=FROM_CHANGES if found and outcome else "",
        photos=list(data.card.photos),
        who=who,
        fitted=fitted,
        after=after,
        measured=measured_rows(data.measured) if fitted else [],
        machining=_machining(outcome) if card is not None and outcome is not None else [],
        different=swap_differences(found, outcome)
        if found is not None and outcome is not None and outcome.proposal.owned
        else [],
        corrections=list(data.card.corrections),
        answers=list(data.card.answers),
        typed=dict(typed.values),
        complaints=typed.complaints(),
        prove=prove_by_hand(found.bike, outcome.figures.clearances) if found and outcome else (),
        people=data.card.people,
    )


def _groups(card: Card, sheet: Sheet, typed: Typed) -> list[GroupView]:
    numbers = {step.id: number for number, step in enumerate(card.steps, start=1)}
    groups = []
    for place, group in enumerate(card.groups, start=1):
        key, together = f"group-{place}", set(group.plain) if group.name else set()
        shown = [_step(one, numbers[one.id], sheet, typed) for one in group.steps]
        groups.append(
            GroupView(
                group.name,
                key,
                [one for one in shown if one.step in together],
                [one for one in shown if one.step not in together],
                typed.complaints().get(key),
            )
        )
    return groups


def _machining(outcome: Outcome) -> list[Markup]:
    """Return the drawings of the bolt circles the machine shop makes."""
    drawn = []
    for end in ENDS:
        sensor = outcome.figures.wheels.at(end).sensor
        if sensor.holes is not None and sensor.circle_mm is not None:
            drawn.append(
                bolt_circle_drawing(
                    holes=round(sensor.holes), circle_mm=sensor.circle_mm, hole_mm=sensor.hole_mm
                )
            )
    return drawn


def _choices(plan: StepPlan, sheet: Sheet) -> tuple[str, ...]:
    """Return the words a reading is chosen from; none where it is a figure, or said freely."""
    if plan.measures == "set.position":
        return tuple(position.name for position in sheet.positions)
    known = FIELD_BY_KEY.get(plan.measures)
    return choices_of(known, sheet.kind) if known and plan.unit == "words" else ()


def _step(step: CardStep, number: int, sheet: Sheet, typed: Typed) -> StepView:
    name = f"step:{step.id}"
    mine = typed.refusals.get(name)
    values = typed.values if mine else {}
    torque = "" if step.torque_nm is None else bare(plain(step.torque_nm), "N·m")
    complaint = typed.complaints().get(name)
    return StepView(
        step=step,
        number=number,
        state=state_in_words(step),
        torque=values.get("torque_nm", torque),
        reading=values.get("reading", bare(step.read, step.plan.unit)),
        source=values.get("torque_source", step.torque_source or ""),
        complaint=complaint,
        why=values.get("why", ""),
        choices=_choices(step.plan, sheet),
        theirs=_kept(step) if complaint and values.get("version") != str(step.version) else "",
    )


def state_in_words(step: CardStep) -> str:
    """Return what became of a step: done by whom and when, or waived and why."""
    if step.waived is not None:
        return f"waived: {step.waived}"
    if step.done_at is None:
        return ""
    done = f"{step.done_by or 'done'}, {step.done_at:%d %b %H:%M}"
    return f"{done}. {step.reason}" if step.reason else done


def _kept(step: CardStep) -> str:
    """Return what stands on a step, in words."""
    said = [state_in_words(step)]
    if step.torque_nm is not None:
        said.append(f"{torque(plain(step.torque_nm))}, {step.torque_source}")
    if step.reading:
        said.append(f"{step.plan.reading} {Amount(step.read, step.plan.unit)}")
    return "; ".join(one for one in said if one) or "not done"
