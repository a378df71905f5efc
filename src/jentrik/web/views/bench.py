"""A job's bench: stations, fields, drawing, ledger and verdict as one view-model."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from markupsafe import Markup

from jentrik.core.errors import Refusal
from jentrik.core.job import Job, KeptProposal
from jentrik.core.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.limits import DEFAULT_LIMITS
from jentrik.core.sheet import FIELD_BY_KEY, Provenance, Sheet, SheetField, fields_of, missing_of
from jentrik.core.suspension import ENDS
from jentrik.exchange.plan_document import read_bike, read_proposal
from jentrik.web.views.address import MAGNIFICATIONS, Address
from jentrik.web.views.fields import (
    NOTHING_TYPED,
    CodeField,
    Complaint,
    FigureField,
    Typed,
    code_field,
    figure_fields,
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
    rows: list[LedgerRow] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)
    unlocks: list[str] = field(default_factory=list)
    verdict: Verdict | None = None
    verdicts: list[Verdict] = field(default_factory=list)
    codes: list[CodeField] = field(default_factory=list)
    groups: list[tuple[str, list[FigureField]]] = field(default_factory=list)
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
        words = {"fork": "fork", "lower_cup_mm": "lower cup", "rear_axle_shift_mm": "rear axle"}
        said.append(", ".join(words.get(name, name) for name in others))
    return "; ".join(said) or "nothing changed yet"


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
    found, impossible = _found(sheet, missing)
    chosen = next((kept for kept in job.proposals if kept.name == address.proposal), None)
    chosen = chosen or (job.proposals[0] if job.proposals else None)
    outcomes = {kept.name: _judged(found, kept) for kept in job.proposals}
    outcome = outcomes.get(chosen.name) if chosen else None
    verdicts = [_verdict(sheet, kept, outcomes[kept.name], address) for kept in job.proposals]
    drawn = outcome if isinstance(outcome, Outcome) else None
    station = address.station
    codes = _codes(sheet, chosen, station, typed)
    groups = figure_fields(sheet, typed=typed) if station == "measure" else []
    more = _more(chosen, typed) if station == "propose" and chosen else []
    lines = lines_view(sheet, typed) if station == "measure" else None
    shown = [one.name for one in (*codes, *more, *(lines.fields if lines else ()))]
    shown += [one.name for _, group in groups for one in group]
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
        drawing=scene_drawing(sheet, found, drawn, address) if found else None,
        views=[
            Link("In the stand", address.at(view="stand"), address.view == "stand"),
            Link("On the road", address.at(view="road"), address.view == "road"),
        ],
        magnifications=[
            Link(f"×{k}", address.at(magnify=k), address.magnify == k) for k in MAGNIFICATIONS
        ],
        rows=ledger(sheet, found, drawn, DEFAULT_LIMITS) if found and drawn else [],
        assumed=assumed_labels(sheet),
        unlocks=unlocking_labels(sheet) if station == "check" else [],
        verdict=next((v for v in verdicts if chosen and v.name == chosen.name), None),
        verdicts=verdicts,
        codes=codes,
        groups=groups,
        more=more,
        lines=lines,
        strays=typed.strays(shown),
        more_open=_has_more(chosen) or any("fork" in n or "shift" in n for n in typed.refusals),
        undo_label=undo_label,
        done=done,
    )  # fmt: skip


def _found(sheet: Sheet, missing: tuple[SheetField, ...]) -> tuple[PlanResult | None, str]:
    if missing:
        return None, ""
    try:
        return as_measured(read_bike(sheet.bike_values())), ""
    except Refusal as refusal:
        return None, refusal.message


def _judged(found: PlanResult | None, kept: KeptProposal) -> Outcome | str:
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


_MORE = (
    ("front.overall_diameter_mm", "Front diameter, measured"),
    ("rear.overall_diameter_mm", "Rear diameter, measured"),
    ("fork.length_mm", "Fork length"),
    ("fork.offset_mm", "Fork offset"),
    ("lower_cup_mm", "Lower headset cup"),
    ("rear_axle_shift_mm.x", "Rear axle forward"),
    ("rear_axle_shift_mm.y", "Rear axle up in the frame"),
)


def _more(chosen: KeptProposal, typed: Typed) -> list[FigureField]:
    return [
        small_field(f"proposal:{key}", label, _at(chosen.changes, key), unit="mm", typed=typed)
        for key, label in _MORE
    ]


def _has_more(chosen: KeptProposal | None) -> bool:
    return chosen is not None and any(_at(chosen.changes, key) is not None for key, _ in _MORE)


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
