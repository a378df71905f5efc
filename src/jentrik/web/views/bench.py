"""A job's bench: stations, fields, drawing, ledger and verdict as one view-model."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from markupsafe import Markup

from jentrik.core.consistency import contradiction_in_words, contradictions
from jentrik.core.errors import Refusal
from jentrik.core.job import Job, KeptProposal
from jentrik.core.measuring import wanted
from jentrik.core.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.limits import DEFAULT_LIMITS
from jentrik.core.sheet import FIELD_BY_KEY, Provenance, Sheet, SheetField, fields_of, missing_of
from jentrik.core.suspension import ENDS, State
from jentrik.core.uncertainty import tells
from jentrik.exchange.plan_document import read_bike, read_proposal
from jentrik.web.views.address import MAGNIFICATIONS, Address
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

    severity: Severity
    headline: str
    source: str
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
    def shown(self) -> list["Shown"]:
        """The findings, those that say the same of both wheels joined."""
        joined: dict[tuple[str, str], Shown] = {}
        for finding in self.findings:
            key = (finding.rule, finding.headline)
            if key not in joined:
                joined[key] = Shown(finding.severity, finding.headline, finding.source)
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
    unlocks: list[str] = field(default_factory=list)
    verdict: Verdict | None = None
    verdicts: list[Verdict] = field(default_factory=list)
    codes: list[CodeField] = field(default_factory=list)
    groups: list[FieldGroup] = field(default_factory=list)
    first: list[GuidedField] = field(default_factory=list)
    quarrels: list[str] = field(default_factory=list)
    more: list[FigureField] = field(default_factory=list)
    more_open: bool = False
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


_WORDS = {"fork": "fork", "lower_cup_mm": "lower cup", "rear_axle_shift_mm": "rear axle",
          "headset_turn_deg": "headset", "shock_mm": "shock", "link_longer_mm": "link",
          "contact": "contact points"}  # fmt: skip


def _other_change(name: str, value: object) -> str:
    return f"position {value}" if name == "position" else _WORDS.get(name, name)


def bench_view(
    job: Job,
    sheet: Sheet,
    address: Address,
    *,
    typed: Typed = NOTHING_TYPED,
    undo_label: str | None = None,
    done: str = "",
) -> BenchView:
    """Return the bench of a job as seen from an address."""
    missing = missing_of(sheet)
    found, impossible = found_of(sheet, missing)
    chosen = next((kept for kept in job.proposals if kept.name == address.proposal), None)
    chosen = chosen or (job.proposals[0] if job.proposals else None)
    outcomes = {kept.name: judged(found, kept) for kept in job.proposals}
    outcome = outcomes.get(chosen.name) if chosen else None
    verdicts = [_verdict(sheet, kept, outcomes[kept.name], address) for kept in job.proposals]
    drawn = outcome if isinstance(outcome, Outcome) else None
    seen = found  # rules judge the state the sheet was measured in, where its gaps belong
    if address.state and found and address.state != found.bike.suspension.measured:
        seen, _ = found_of(sheet, missing, address.state)
        there = judged(seen, chosen) if drawn and chosen else None
        drawn = there if isinstance(there, Outcome) else None
    station = address.station
    codes = _codes(sheet, chosen, station, typed)
    groups, first, quarrels = [], [], []
    if station == "measure":
        changes = [kept.changes for kept in job.proposals]
        asked = wanted(sheet, changes)
        first = guided_fields(sheet, asked, typed)
        groups = figure_fields(sheet, typed=typed, without=asked)
        quarrels = [contradiction_in_words(one) for one in contradictions(sheet)]
    more = more_fields(sheet, chosen, typed) if station == "propose" and chosen else []
    lines = lines_view(sheet, typed) if station == "measure" else None
    shown = [one.name for one in (*codes, *more, *(lines.fields if lines else ()))]
    shown += [one.name for group in groups for one in group.fields]
    shown += [one.field.name for one in first]
    return BenchView(
        job=job,
        sheet=sheet,
        address=address,
        stations=_stations(job, sheet, missing, verdicts, address),
        tabs=[
            Link(kept.name, address.at(proposal=kept.name), kept is chosen,
                 change_in_words(sheet, kept.changes))
            for kept in job.proposals
        ],
        proposal=chosen,
        says=change_in_words(sheet, chosen.changes) if chosen else "",
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
        rows=ledger(sheet, seen, drawn, DEFAULT_LIMITS, tells(sheet, found, drawn.proposal))
        if found and seen and drawn
        else [],
        assumed=assumed_labels(sheet),
        unlocks=unlocking_labels(sheet) if station == "check" else [],
        verdict=next((v for v in verdicts if chosen and v.name == chosen.name), None),
        verdicts=verdicts,
        codes=codes,
        groups=groups,
        first=first,
        quarrels=quarrels,
        more=more,
        lines=lines,
        strays=typed.strays(shown),
        more_open=any(one.value for one in more)
        or any(one.name in typed.refusals for one in more),
        undo_label=undo_label,
        done=done,
    )  # fmt: skip


def found_of(
    sheet: Sheet, missing: tuple[SheetField, ...], state: str = ""
) -> tuple[PlanResult | None, str]:
    """Return the machine as found, in a state it knows, or why it cannot stand."""
    if missing:
        return None, ""
    try:
        bike = read_bike(sheet.bike_values())
        asked = State(state) if state in bike.suspension.states else None
        return as_measured(bike, asked), ""
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


def _verdict(sheet: Sheet, kept: KeptProposal, outcome: Outcome | str, address: Address) -> Verdict:
    says = change_in_words(sheet, kept.changes)
    href = address.at(station="propose", proposal=kept.name)
    if isinstance(outcome, Outcome):
        return Verdict(kept.name, href, says, outcome.findings)
    return Verdict(kept.name, href, says, refusal=outcome)


def count_in_words(findings: tuple[Finding, ...]) -> str:
    """Return how many stops and cautions there are, in words."""
    stops = sum(finding.severity is Severity.STOP for finding in findings)
    cautions = sum(finding.severity is Severity.CAUTION for finding in findings)
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
        "fit": "not yet",
        "ride": "not yet",
    }
    if not names:
        far["propose"] = "no proposal yet"
    return [
        Link(_NAMES[name], address.at(station=name), name == address.station, far[name])
        for name in _NAMES
    ]


def assumed_labels(sheet: Sheet) -> list[str]:
    """Return the labels of the figures that are only assumed."""
    return [
        FIELD_BY_KEY[key].label.lower()
        for key, figure in sheet.figures.items()
        if figure.provenance is Provenance.ASSUMED and key in FIELD_BY_KEY
    ]


def unlocking_labels(sheet: Sheet) -> list[str]:
    """Return what is not on the sheet and would let more rules speak."""
    labels = [
        field.label.lower()
        for field in fields_of(sheet.kind)
        if field.key not in sheet.figures and field.judged
    ]
    return labels + ([] if sheet.places else ["any gap round the tires"])


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


MORE = (
    ("front.overall_diameter_mm", "Front diameter, measured"),
    ("rear.overall_diameter_mm", "Rear diameter, measured"),
    ("fork.length_mm", "Fork length"),
    ("fork.offset_mm", "Fork offset"),
    ("lower_cup_mm", "Lower headset cup"),
    ("rear_axle_shift_mm.x", "Rear axle forward"),
    ("rear_axle_shift_mm.y", "Rear axle up in the frame"),
    ("headset_turn_deg", "Headset turned steeper"),
    ("fork.travel_mm", "Fork travel"),
    ("shock_mm", "Shock, eye to eye"),
    ("link_longer_mm", "Link longer"),
    ("contact.spacers_mm", "Spacers below the bar"),
    ("contact.bar_rise_mm", "Bar higher"),
    ("contact.saddle_rise_mm", "Saddle higher"),
    ("contact.crank_mm", "Crank length"),
)
_NEEDS = {  # a field stands only where the sheet holds what it would change
    "fork.travel_mm": "suspension.front.travel_mm",
    "shock_mm": "suspension.rear.leverage",
    "link_longer_mm": "suspension.rear.link_ratio",
    "contact.crank_mm": "crank_mm",
}
_ON_A_MOTORCYCLE = {
    "fork.length_mm": "Axle to lower clamp", "fork.offset_mm": "Clamp and axle offset",
    "contact.saddle_rise_mm": "Seat higher",
}  # fmt: skip
_BICYCLE_ONLY = ("lower_cup_mm", "headset_turn_deg", "contact.spacers_mm")


def more_fields(sheet: Sheet, chosen: KeptProposal, typed: Typed) -> list[FigureField]:
    """Return what else a proposal can change on this machine."""
    fields = []
    if sheet.positions:
        stored = str(_at(chosen.changes, "position") or "")
        names = tuple(one.name for one in sheet.positions)
        fields.append(choice_field("proposal:position", "Rear position", stored, names, typed))
    for key, label in MORE:
        value = _at(chosen.changes, key)
        needed = _NEEDS.get(key)
        missing = needed is not None and needed not in sheet.figures
        if value is None and (missing or (sheet.kind != "bicycle" and key in _BICYCLE_ONLY)):
            continue
        unit = "°" if key.endswith("_deg") else "mm"
        if sheet.kind == "motorcycle":
            label = _ON_A_MOTORCYCLE.get(key, label)
        fields.append(small_field(f"proposal:{key}", label, value, unit=unit, typed=typed))
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
