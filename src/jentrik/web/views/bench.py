"""A job's bench: stations, fields, drawing, ledger and verdict as one view-model."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import cast

from markupsafe import Markup

from jentrik.core.consistency import contradiction_in_words, contradictions
from jentrik.core.errors import Refusal
from jentrik.core.job import Job, KeptProposal
from jentrik.core.measuring import wanted
from jentrik.core.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.policy import Policy
from jentrik.core.proposal_fields import (
    GROUPS,
    PROPOSAL_FIELD,
    PROPOSAL_FIELDS,
    Group,
    proposal_fields,
)
from jentrik.core.prove import prove_by_hand
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.sheet import Provenance, Sheet
from jentrik.core.sheet_fields import FIELD_BY_KEY, SheetField, missing_of
from jentrik.core.suspension import ENDS, State
from jentrik.core.uncertainty import tells
from jentrik.exchange.plan_document import read_bike, read_proposal
from jentrik.store.cards import card_of, progress
from jentrik.store.rides import rides_noted
from jentrik.web.views.address import MAGNIFICATIONS, Address
from jentrik.web.views.card import FitView, fit_view
from jentrik.web.views.check import CheckView, check_view
from jentrik.web.views.confront import disagreements
from jentrik.web.views.fields import (
    NOTHING_TYPED,
    CodeField,
    Complaint,
    FieldGroup,
    FigureField,
    GuidedField,
    Typed,
    choice_field,
    code_field,
    figure_fields,
    guided_fields,
    same_mark,
    small_field,
)
from jentrik.web.views.ledger import LedgerRow, ledger
from jentrik.web.views.lines import LinesView, lines_view
from jentrik.web.views.ride import RideView, ride_view
from jentrik.web.views.scene import scene_drawing

_NAMES = {
    "read": "Read", "measure": "Measure", "propose": "Propose",
    "check": "Check", "fit": "Fit", "ride": "Ride",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Link:
    """Somewhere to go from here."""

    label: str
    href: str
    current: bool = False
    hint: str = ""


@dataclass(slots=True)
class Shown:
    """A finding as the page shows it, of one wheel or of both."""

    rule: str
    severity: Severity
    headline: str
    source: str
    law: bool = False
    policy: tuple[str, ...] = ()
    figures: list[str] = field(default_factory=list)
    messages: list[str] = field(default_factory=list)
    ends: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Verdict:
    """What one proposal came to: its findings, or why it cannot be drawn."""

    name: str
    href: str
    says: str
    findings: tuple[Finding, ...] = ()
    refusal: str = ""

    @property
    def count(self) -> str:
        """How many stops and cautions there are, in words."""
        return "" if self.refusal else count_in_words(self.findings)

    @property
    def shown(self) -> list["Shown"]:
        """The findings, those that say the same of both wheels joined."""
        joined: dict[tuple[str, str], Shown] = {}
        for finding in self.findings:
            key = (finding.rule, finding.headline)
            if key not in joined:
                joined[key] = Shown(
                    finding.rule, finding.severity, finding.headline, finding.source,
                    finding.law, finding.policy,
                )  # fmt: skip
            joined[key].figures += finding.figures
            joined[key].messages.append(finding.message)
            if finding.where in ("front", "rear"):
                joined[key].ends.append(finding.where)
        return list(joined.values())


@dataclass(frozen=True, slots=True)
class BenchView:
    """Everything the bench shows."""

    job: Job
    sheet: Sheet
    address: Address
    stations: list[Link]
    tabs: list[Link]
    proposal: KeptProposal | None
    says: str
    missing: tuple[SheetField, ...]
    impossible: str = ""
    drawing: Markup | None = None
    views: list[Link] = field(default_factory=list)
    magnifications: list[Link] = field(default_factory=list)
    states: list[Link] = field(default_factory=list)
    rows: list[LedgerRow] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)
    check: CheckView | None = None
    prove: tuple[str, ...] = ()
    fit: FitView | None = None
    disagree: list[str] = field(default_factory=list)
    ride: RideView | None = None
    verdict: Verdict | None = None
    verdicts: list[Verdict] = field(default_factory=list)
    codes: list[CodeField] = field(default_factory=list)
    groups: list[FieldGroup] = field(default_factory=list)
    first: list[GuidedField] = field(default_factory=list)
    quarrels: list[str] = field(default_factory=list)
    more: list[FigureField] = field(default_factory=list)
    more_groups: list[Link] = field(default_factory=list)
    lines: LinesView | None = None
    strays: list[Complaint] = field(default_factory=list)
    undo_label: str | None = None
    done: str = ""


def change_in_words(sheet: Sheet, changes: Mapping[str, object]) -> str:
    """Return what a proposal changes, in a few words."""
    said = []
    for end in ("front", "rear"):
        wheel = changes.get(end)
        if isinstance(wheel, Mapping) and wheel.get("tire"):
            said.append(f"{end} {sheet.text(f'{end}.tire') or '?'} → {wheel['tire']}")
        elif isinstance(wheel, Mapping) and wheel.get("overall_diameter_mm"):
            said.append(f"{end} measured {wheel['overall_diameter_mm']:g} mm")
    others = [name for name in changes if name not in ("front", "rear")]
    if others:
        said.append(", ".join(_other_change(name, changes[name]) for name in others))
    return "; ".join(said) or "nothing changed yet"


def what_changes(job: Job, sheet: Sheet, kept: KeptProposal) -> str:
    """Return what a proposal of a job changes in a few words, or changed, once it is done."""
    if job.done is not None and job.done.proposal == kept.name:
        return job.done.summary
    return change_in_words(sheet, kept.changes)


_WORDS = {"fork": "fork", "lower_cup_mm": "lower cup", "rear_axle_shift_mm": "rear axle",
          "headset_turn_deg": "headset", "shock_mm": "shock", "link_longer_mm": "link",
          "contact": "contact points"}  # fmt: skip


def _other_change(name: str, value: object) -> str:
    return f"position {value}" if name == "position" else _WORDS.get(name, name)


def bench_view(
    job: Job,
    sheet: Sheet,
    address: Address,
    policy: Policy,
    today: date,
    *,
    typed: Typed = NOTHING_TYPED,
    undo_label: str | None = None,
    done: str = "",
    who: str = "",
) -> BenchView:
    """Return the bench of a job as seen from an address."""
    missing = missing_of(sheet)
    found, impossible = found_of(sheet, missing, policy, today)
    card = card_of(job.id) if address.station == "fit" else None
    wanted_name = card.proposal if card else address.proposal
    chosen = next((kept for kept in job.proposals if kept.name == wanted_name), None)
    chosen = chosen or (job.proposals[0] if job.proposals else None)
    judge = {kept.name: kept for kept in job.to_judge(sheet)}
    outcomes = {name: judged(found, kept) for name, kept in judge.items()}
    outcome = outcomes.get(chosen.name) if chosen else None
    there = outcome if isinstance(outcome, Outcome) else None
    verdicts = [_verdict(job, sheet, kept, outcomes[kept.name], address) for kept in job.proposals]
    drawn = outcome if isinstance(outcome, Outcome) else None
    seen = found  # rules judge the state the sheet was measured in, where its gaps belong
    if address.state and found and address.state != found.bike.suspension.measured:
        seen, _ = found_of(sheet, missing, policy, today, address.state)
        moved = judged(seen, judge[chosen.name]) if drawn and chosen else None
        drawn = moved if isinstance(moved, Outcome) else None
    station = address.station
    codes = _codes(sheet, chosen, station, typed)
    groups, first, quarrels = [], [], []
    if station == "measure":
        changes = [kept.changes for kept in job.proposals]
        asked = wanted(sheet, changes)
        first = guided_fields(sheet, asked, typed)
        groups = figure_fields(sheet, typed=typed, without=asked)
        quarrels = [contradiction_in_words(one) for one in contradictions(sheet)]
    address = replace(address, more=address.more or _refused_group(typed))
    more: list[FigureField] = []
    if station == "propose" and chosen and address.more:
        more = more_fields(sheet, chosen, cast(Group, address.more), typed)
    lines = lines_view(sheet, typed) if station == "measure" else None
    shown = [one.name for one in (*codes, *more, *(lines.fields if lines else ()))]
    shown += [one.name for group in groups for one in group.fields]
    shown += [one.field.name for one in first]
    if station in ("fit", "ride"):
        shown += typed.refusals  # shown where they belong
    return BenchView(
        job=job,
        sheet=sheet,
        address=address,
        stations=_stations(job, sheet, missing, verdicts, address),
        tabs=[
            Link(kept.name, address.at(proposal=kept.name), kept is chosen,
                 what_changes(job, sheet, kept))
            for kept in job.proposals
        ],
        proposal=chosen,
        says=what_changes(job, sheet, chosen) if chosen else "",
        missing=missing,
        impossible=impossible,
        drawing=scene_drawing(sheet, seen, drawn, address) if seen else None,
        views=[
            Link("In the stand", address.at(view="stand"), address.view == "stand"),
            Link("On the road", address.at(view="road"), address.view == "road"),
        ],
        magnifications=[
            Link(f"×{k}", address.at(magnify=k), address.magnify == k) for k in MAGNIFICATIONS
        ],
        states=_states(seen, address) if seen else [],
        rows=ledger(sheet, seen, drawn, tells(sheet, found, drawn.proposal))
        if found and seen and drawn
        else [],
        assumed=assumed_labels(sheet),
        check=check_view(sheet, found, chosen, outcome)
        if station == "check" and found and chosen and isinstance(outcome, Outcome)
        else None,
        prove=prove_by_hand(found.bike, outcome.clearances)
        if station == "fit" and found and isinstance(outcome, Outcome)
        else (),
        fit=fit_view(job, sheet, card, found, there, who, typed)
        if station == "fit"
        else None,
        ride=ride_view(job, sheet, policy, today, (address.before, address.after), typed)
        if station == "ride"
        else None,
        disagree=disagreements(job.id) if station == "check" else [],
        verdict=next((v for v in verdicts if chosen and v.name == chosen.name), None),
        verdicts=verdicts,
        codes=codes,
        groups=groups,
        first=first,
        quarrels=quarrels,
        more=more,
        lines=lines,
        strays=typed.strays(shown),
        more_groups=more_groups(chosen, address)
        if station == "propose" and chosen
        else [],
        undo_label=undo_label,
        done=done,
    )  # fmt: skip


def found_of(
    sheet: Sheet,
    missing: tuple[SheetField, ...],
    policy: Policy,
    today: date,
    state: str = "",
) -> tuple[PlanResult | None, str]:
    """Return the machine as found, in a state it knows, or why it cannot stand."""
    if missing:
        return None, ""
    try:
        bike = read_bike(sheet.bike_values())
        asked = State(state) if state in bike.suspension.states else None
        return as_measured(bike, asked, policy=policy, on=today), ""
    except Refusal as refusal:
        return None, refusal.message


def _states(found: PlanResult, address: Address) -> list[Link]:
    """Return the states to look at; none to choose from on a rigid machine."""
    known = found.measured.suspension.states
    here = found.bike.suspension.measured
    if len(known) < 2:
        return []
    return [
        Link(state.value.capitalize(), address.at(state=state.value), state is here)
        for state in known
    ]


def judged(found: PlanResult | None, kept: KeptProposal) -> Outcome | str:
    """Return what a kept proposal comes to, or why it cannot stand."""
    if found is None:
        return ""
    try:
        return outcome_of(found, read_proposal(kept.values()))
    except Refusal as refusal:
        return refusal.message


def _verdict(
    job: Job, sheet: Sheet, kept: KeptProposal, outcome: Outcome | str, address: Address
) -> Verdict:  # fmt: skip
    says = what_changes(job, sheet, kept)
    href = address.at(station="propose", proposal=kept.name)
    if isinstance(outcome, Outcome):
        return Verdict(kept.name, href, says, outcome.findings)
    return Verdict(kept.name, href, says, refusal=outcome)


def counted(findings: Iterable[Finding], severity: Severity) -> int:
    """Return how many findings there are; one that says the same of both wheels is one."""
    return len({(one.rule, one.headline) for one in findings if one.severity is severity})


def count_in_words(findings: tuple[Finding, ...]) -> str:
    """Return how many stops and cautions there are, in words."""
    stops, cautions = counted(findings, Severity.STOP), counted(findings, Severity.CAUTION)
    said = [
        f"{number} {word}{'s' if number > 1 else ''}"
        for number, word in ((stops, "stop"), (cautions, "caution"))
        if number
    ]
    return ", ".join(said) or ("notes only" if findings else "nothing found")


def _stations(
    job: Job,
    sheet: Sheet,
    missing: tuple[SheetField, ...],
    verdicts: list[Verdict],
    address: Address,
) -> list[Link]:
    tires = sum(f"{end}.tire" in sheet.figures for end in ("front", "rear"))
    figures = sum(not key.endswith(".tire") for key in sheet.figures)
    names = [kept.name for kept in job.proposals]
    everything = tuple(finding for verdict in verdicts for finding in verdict.findings)
    far = {
        "read": f"{tires} of 2 tires read",
        "measure": f"{len(missing)} needed figures missing"
        if missing
        else f"{figures} figures, {len(sheet.places)} gaps",
        "propose": f"{' and '.join(names)} drawn" if len(names) < 3 else f"{len(names)} drawn",
        "check": count_in_words(everything) if not missing else "waits for figures",
        "fit": _fit_hint(job),
        "ride": _ride_hint(job),
    }
    if not names:
        far |= {"propose": "no proposal yet", "check": "no proposal yet"}
    return [
        Link(_NAMES[name], address.at(station=name), name == address.station, far[name])
        for name in _NAMES
    ]


def _fit_hint(job: Job) -> str:
    if job.closed_at:
        return f"closed {job.closed_at:%d %b}"
    done = progress(job.id).get(job.id)
    return f"{done[0]} of {done[1]} steps" if done else "no card yet"


def _ride_hint(job: Job) -> str:
    ridden = rides_noted(job.machine_id)
    return f"{ridden} ride{'s' if ridden > 1 else ''}" if ridden else "no rides yet"


def assumed_labels(sheet: Sheet) -> list[str]:
    """Return the labels of the figures that are only assumed."""
    return [
        FIELD_BY_KEY[key].label.lower()
        for key, figure in sheet.figures.items()
        if figure.provenance is Provenance.ASSUMED and key in FIELD_BY_KEY
    ]


def _codes(
    sheet: Sheet, chosen: KeptProposal | None, station: str, typed: Typed
) -> list[CodeField]:
    if station == "read":
        front, rear = (
            code_field(
                f"sheet:{end}.tire",
                f"{end.capitalize()}, as found",
                sheet.text(f"{end}.tire"),
                section=True,
                typed=typed,
            )
            for end in ENDS
        )
        if rear.strip and front.strip and rear.strip.pieces == front.strip.pieces:
            rear = replace(rear, strip=same_mark(rear.strip))
        return [front, rear]
    if station == "propose" and chosen is not None:
        return [
            code_field(
                f"proposal:{end}.tire",
                end.capitalize(),
                chosen.changes.get(end, {}).get("tire"),
                was=sheet.text(f"{end}.tire"),
                typed=typed,
            )
            for end in ENDS
        ]
    return []


def more_groups(chosen: KeptProposal, address: Address) -> list[Link]:
    """Return the groups of further changes, each with how many are made; a click closes one."""
    made = {
        "more": sum(_leaves(value) for name, value in chosen.changes.items() if name not in ENDS)
    }
    for end in ENDS:
        wheel = chosen.changes.get(end, {})
        made[end] = _leaves(wheel) - ("tire" in wheel)
    return [
        Link(label, address.at(more="" if address.more == group else group),
             address.more == group, f"{made[group]}" if made[group] else "")
        for group, label in GROUPS.items()
    ]  # fmt: skip


def _leaves(value: object) -> int:
    """Return how many single changes a branch of a proposal holds."""
    if isinstance(value, Mapping):
        return sum(_leaves(part) for part in value.values())
    return 1


def _refused_group(typed: Typed) -> str:
    """Return the group of a refused change, so that it stands open; nothing without one."""
    for name in typed.refusals:
        known = PROPOSAL_FIELD.get(name.removeprefix("proposal:"))
        if known is not None:
            return known.group
    return ""


def more_fields(
    sheet: Sheet, chosen: KeptProposal, group: Group, typed: Typed
) -> list[FigureField]:
    """Return what else a proposal can change on this machine, of one group."""
    fields = []
    if sheet.positions and group == "more":
        stored = str(_at(chosen.changes, "position") or "")
        names = tuple(one.name for one in sheet.positions)
        fields.append(choice_field("proposal:position", "Rear position", stored, names, typed))
    offered = proposal_fields(sheet, group)
    for known in PROPOSAL_FIELDS:
        value = _at(chosen.changes, known.key)
        if known.group != group or (value is None and known not in offered):
            continue
        name, label = f"proposal:{known.key}", known.label_on(sheet.kind)
        if known.choices:
            fields.append(choice_field(name, label, str(value or ""), known.choices, typed))
        else:
            fields.append(small_field(name, label, value, unit=known.unit, typed=typed))
    return fields


def _at(changes: Mapping[str, object], key: str) -> object:
    branch: object = changes
    for part in key.split("."):
        branch = branch.get(part) if isinstance(branch, Mapping) else None
    return branch


def due_in_words(due: date | None, today: date) -> tuple[str, str]:
    """Return when a job is due in words, and whether that is late or soon."""
    if due is None:
        return "", ""
    days = (due - today).days
    if days < 0:
        return f"{-days} day{'s' if days < -1 else ''} late", "stop"
    if days <= 1:
        return ("today", "caution") if days == 0 else ("tomorrow", "caution")
    return f"{due:%a %d %b}", ""
