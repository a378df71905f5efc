"""A job's bench: stations, fields, drawing, ledger and verdict as one view-model."""

from dataclasses import dataclass, field, replace
from typing import cast
from zlib import crc32

from markupsafe import Markup

from jentrik.core.amounts import Amount
from jentrik.core.machine.consistency import contradiction_in_words, contradictions
from jentrik.core.machine.declared import About
from jentrik.core.machine.fields import FIELD_BY_KEY, missing_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.plan.proposal_fields import Group
from jentrik.core.plan.uncertainty import tells
from jentrik.core.rules.case import Severity
from jentrik.core.work.card import Card
from jentrik.core.work.job import Job, KeptProposal
from jentrik.store.bench_data import BenchData
from jentrik.store.documents import OnBench
from jentrik.web.live.undoing import NOTHING_TO_UNDO, UndoView
from jentrik.web.pages.after_fitting.view import disagreements
from jentrik.web.pages.card.view import FitView, fit_view
from jentrik.web.pages.jobs.check import CheckView, check_view
from jentrik.web.pages.jobs.first_row import FirstRow, first_row
from jentrik.web.pages.jobs.ledger import LedgerRow, first_rows, ledger
from jentrik.web.pages.jobs.measuring import MeasureView, ToTake, marks_of, measure_view, to_take_of
from jentrik.web.pages.jobs.proposing import codes_of, more_fields, more_groups, refused_group
from jentrik.web.pages.jobs.proposing_from import ProposalSource, sources_of
from jentrik.web.pages.jobs.scene import scene_drawing
from jentrik.web.pages.machines.sheet_lists import LinesView, lines_view
from jentrik.web.pages.ride.view import RideView, ride_view
from jentrik.web.parts.address import MAGNIFICATIONS, STATIONS, Address, Link
from jentrik.web.parts.fields import NOTHING_TYPED, CodeField, Complaint, FigureField, Typed
from jentrik.web.parts.verdict import Known, Verdict, found_of, judged, verdict_of
from jentrik.web.parts.words import what_changes


@dataclass(frozen=True, slots=True)
class StationFields:
    """The fields a station shows, and the refusals none of them can show."""

    codes: list[CodeField]
    measure: MeasureView | None = None
    first: FirstRow | None = None  # what the counter asks
    more: list[FigureField] = field(default_factory=list)
    more_groups: list[Link] = field(default_factory=list)
    lines: LinesView | None = None
    made_of: Link | None = None  # opens what a proposal can be made of
    sources: list[tuple[str, list[ProposalSource]]] = field(default_factory=list)
    strays: list[Complaint] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Drawn:
    """The drawing, the switches of what it shows, and the ledger of what moves in it."""

    drawing: Markup | None
    views: list[Link]
    magnifications: list[Link]
    states: list[Link]
    rows: list[LedgerRow]  # those that stand on the first screen
    more: list[LedgerRow]


@dataclass(frozen=True, slots=True)
class ProposalChoice:
    """The proposals of a job, and of the chosen one what it changes and what it comes to."""

    tabs: list[Link]
    proposal: KeptProposal | None
    says: str
    verdicts: list[Verdict]
    verdict: Verdict | None


@dataclass(frozen=True, slots=True)
class Doubts:
    """What stands in the way of an answer: figures missing, impossible, assumed, or at odds."""

    missing: tuple[About, ...]
    impossible: str = ""
    assumed: list[str] = field(default_factory=list)
    quarrels: list[str] = field(default_factory=list)  # of figures with each other
    disagree: list[str] = field(default_factory=list)  # of the fitted machine with its plan


@dataclass(frozen=True, slots=True)
class BenchView:
    """Everything the bench shows; what only one station shows is None at the others."""

    job: Job
    sheet: Sheet
    address: Address
    stations: list[Link]
    undo: UndoView
    choice: ProposalChoice
    doubts: Doubts
    asked: StationFields
    drawn: Drawn
    check: CheckView | None = None
    fit: FitView | None = None
    ride: RideView | None = None

    @property
    def title(self) -> str:
        """The page's title: the station first, for whoever has several open."""
        station = self.address.station.capitalize()
        return f"{station} · tag {self.job.tag}, {self.sheet.name} – Jentrik"

    @property
    def answer_id(self) -> str:
        """The element of the answer: another one for every other proposal and sheet."""
        kept, verdict = self.choice.proposal, self.choice.verdict
        asked = self.address.station in ("propose", "check") and not self.job.sealed
        if not asked or kept is None or verdict is None or verdict.refusal or not kept.changes:
            return ""
        if self.doubts.missing or self.doubts.impossible:
            return ""
        said = repr((kept.changes, self.sheet.figures, self.sheet.clearances, self.sheet.room))
        return f"answer-{crc32(said.encode()):08x}"

    @property
    def quick_answer(self) -> str:
        """What the findings alone come to, until the whole answer is there."""
        verdict = self.choice.verdict
        stops = verdict and any(f.severity is Severity.STOP for f in verdict.findings)
        return "Does not go …" if stops else "…"

    @property
    def summary(self) -> str:
        """What the chosen proposal comes to in a few words, to be spoken when it changes."""
        moved = [
            f"{row.label} {Amount(row.moved, row.unit)}" for row in self.drawn.rows if row.ribbon
        ]
        count = self.choice.verdict.count if self.choice.verdict else ""
        return ", ".join([*moved[:2], *([count] if count else [])])


@dataclass(frozen=True, slots=True)
class _Worked:
    """What a bench shows, worked out: the machine found, the proposals shown, the chosen one.

    `seen` and `drawn` are both in the state asked for; rules judge the one it was measured in.
    """

    found: PlanResult | None
    impossible: str
    outcomes: dict[str, Outcome | str]
    chosen: KeptProposal | None
    there: Outcome | None
    seen: PlanResult | None
    drawn: Outcome | None
    to_take: ToTake  # only at the station where it is measured


def _worked(on: OnBench, address: Address, known: Known | None, card: Card | None) -> _Worked:
    job, sheet = on.job, on.sheet
    missing = missing_of(sheet)
    known = known if known is not None and known.sheet is sheet else None
    found, impossible = (
        (known.found, "") if known else found_of(sheet, missing, on.policy, on.today)
    )
    chosen = _chosen(job, card.proposal if card else address.proposal)
    compared = address.station == "check"  # where each proposal stands with its count
    outcomes = {
        kept.name: known.outcome if known and kept is known.kept else judged(found, kept)
        for kept in job.proposals
        if compared or kept is chosen
    }
    outcome = outcomes.get(chosen.name) if chosen else None
    there = outcome if isinstance(outcome, Outcome) else None
    seen, drawn = found, there
    if address.state and found and address.state != found.bike.suspension.measured:
        seen, _ = found_of(sheet, missing, on.policy, on.today, address.state)
        moved = judged(seen, chosen) if there and chosen else None
        drawn = moved if isinstance(moved, Outcome) else None
    taken = to_take_of(job, sheet, found, there) if address.station == "measure" else ToTake()
    return _Worked(found, impossible, outcomes, chosen, there, seen, drawn, taken)


def bench_view(
    data: BenchData,
    address: Address,
    *,
    undo: UndoView = NOTHING_TO_UNDO,
    known: Known | None = None,
    typed: Typed = NOTHING_TYPED,
    who: str = "",
) -> BenchView:
    """Return the bench of a job as seen from an address."""
    on = data.on
    job, sheet = on.job, on.sheet
    worked = _worked(on, address, known, data.card.card)
    chosen = worked.chosen
    verdicts = [
        verdict_of(job, sheet, kept, worked.outcomes[kept.name], address)
        for kept in job.proposals
        if kept.name in worked.outcomes
    ]
    address = replace(address, more=address.more or refused_group(typed))
    missing = missing_of(sheet)
    choice = _choice(job, sheet, chosen, verdicts, address)
    view = BenchView(
        job=job,
        sheet=sheet,
        address=address,
        stations=_stations(data, missing, choice, address),
        undo=undo,
        choice=choice,
        doubts=Doubts(missing, worked.impossible, assumed_labels(sheet)),
        drawn=_drawn(job, sheet, worked, address),
        asked=_asked(data, worked, address, typed),
    )
    return _with_station(view, data, worked, who=who, typed=typed)


def _drawing(job: Job, sheet: Sheet, worked: _Worked, address: Address) -> Markup:
    """Return the machine with what is proposed, or as found with its figures to be measured."""
    assert worked.seen is not None
    if address.station != "measure":
        drawn = None if address.station == "read" else worked.drawn
        return scene_drawing(sheet, worked.seen, drawn, address)
    there = worked.found or worked.seen
    marks = marks_of(sheet, there, worked.to_take.keys, address.field, address)
    return scene_drawing(sheet, there, None, Address(address.path), marks)


def _drawn(job: Job, sheet: Sheet, worked: _Worked, address: Address) -> Drawn:
    seen, drawn = worked.seen, worked.drawn
    rows: list[LedgerRow] = []
    if worked.found and seen and drawn:
        rows = ledger(sheet, seen, drawn, tells(sheet, worked.found, drawn.proposal))
    first, more = first_rows(rows, len(worked.there.findings) if worked.there else 0)
    return Drawn(
        drawing=_drawing(job, sheet, worked, address) if seen else None,
        views=[
            Link("In the stand", address.at(view="stand"), address.view == "stand"),
            Link("On the road", address.at(view="road"), address.view == "road"),
        ],
        magnifications=[
            Link(f"×{k}", address.at(magnify=k), address.magnify == k) for k in MAGNIFICATIONS
        ],
        states=_states(seen, address) if seen else [],
        rows=first,
        more=more,
    )


def _choice(
    job: Job, sheet: Sheet, chosen: KeptProposal | None, verdicts: list[Verdict], address: Address
) -> ProposalChoice:
    tabs = [
        Link(
            kept.name,
            address.at(proposal=kept.name),
            kept is chosen,
            what_changes(job, sheet, kept),
        )
        for kept in job.proposals
    ]
    return ProposalChoice(
        tabs,
        chosen,
        what_changes(job, sheet, chosen) if chosen else "",
        verdicts,
        next((verdict for verdict in verdicts if chosen and verdict.name == chosen.name), None),
    )


def _chosen(job: Job, name: str) -> KeptProposal | None:
    """Return the proposal of that name, else the one the job is about; None where none is."""
    return job.proposal(name) or job.about


def _with_station(
    view: BenchView, data: BenchData, worked: _Worked, *, who: str, typed: Typed
) -> BenchView:
    """Return the bench with what only the station that is open shows."""
    found, there, sheet, address = worked.found, worked.there, view.sheet, view.address
    if address.station == "measure":
        quarrels = [
            contradiction_in_words(contradiction) for contradiction in contradictions(sheet)
        ]
        at_odds = [*quarrels, *sheet.disagreements]
        return replace(view, doubts=replace(view.doubts, quarrels=at_odds))
    if address.station == "check":
        disagree, chosen = disagreements(data.measured), view.choice.proposal
        view = replace(view, doubts=replace(view.doubts, disagree=disagree))
        if found is None or chosen is None or there is None:
            return view
        return replace(view, check=check_view(sheet, found, chosen, there))
    if address.station == "fit":
        return replace(view, fit=fit_view(data, found, there, who, typed))
    if address.station == "ride":
        sides = (address.before, address.after)
        return replace(view, ride=ride_view(data, sides, typed))
    return view


def _asked(data: BenchData, worked: _Worked, address: Address, typed: Typed) -> StationFields:
    """Return the fields of the station that is open."""
    chosen = worked.chosen
    job, sheet, station = data.on.job, data.on.sheet, address.station
    asked = StationFields(codes_of(sheet, chosen, station, typed))
    if station == "measure":
        asked = replace(
            asked,
            measure=measure_view(sheet, worked.to_take, address.field, address, typed),
            lines=lines_view(sheet, typed),
        )
    elif station == "propose" and chosen:
        shown = more_fields(sheet, chosen, cast(Group, address.more), typed) if address.more else []
        asked = replace(asked, more=shown, more_groups=more_groups(chosen, address))
    if station == "propose" and not job.sealed:
        opened = address.made_of == "yes"
        asked = replace(
            asked,
            first=first_row(sheet, job, typed),
            sources=sources_of(job, data.parts) if opened else [],
            made_of=Link("Copy or reuse", address.at(made_of="" if opened else "yes"), opened),
        )
    names = [code.name for code in asked.codes] + [one.name for one in asked.more]
    names += asked.first.names if asked.first else []
    if asked.measure:
        names += [one.name for group in asked.measure.groups for one in group.fields]
        names += [asked.measure.field.field.name] if asked.measure.field else []
    names += [one.name for one in asked.lines.fields] if asked.lines else []
    if station in ("fit", "ride"):
        names += typed.refusals  # shown where they belong
    return replace(asked, strays=typed.strays(names))


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


def _stations(
    data: BenchData, missing: tuple[About, ...], choice: ProposalChoice, address: Address
) -> list[Link]:
    job, sheet = data.on.job, data.on.sheet
    tires = sum(f"{end}.tire" in sheet.figures for end in ("front", "rear"))
    figures = sum(not key.endswith(".tire") for key in sheet.figures)
    names = [kept.name for kept in job.proposals]
    count = choice.verdict.count if choice.verdict and not missing else "waits for figures"
    ridden = data.rides_noted
    hints = {
        "read": (f"{tires} of 2 tires read", f"{tires}/2"),
        "measure": (f"{len(missing)} needed figures missing", f"{len(missing)} missing")
        if missing
        else (f"{figures} figures, {len(sheet.clearances)} clearances", str(figures)),
        "propose": (f"{' and '.join(names)} drawn", " ".join(names))
        if len(names) < 3
        else (f"{len(names)} drawn", str(len(names))),
        "check": (count, count.partition(",")[0]),
        "fit": _fit_hint(data),
        "ride": (f"{ridden} ride{'s' if ridden > 1 else ''}", str(ridden))
        if ridden
        else ("no rides yet", "none"),
    }
    if not names:
        hints |= {"propose": ("no proposal yet", "none"), "check": ("no proposal yet", "none")}
    return [
        Link(name.capitalize(), address.at(station=name), name == address.station, *hints[name])
        for name in STATIONS
    ]


def _fit_hint(data: BenchData) -> tuple[str, str]:
    closed, done = data.on.job.closed_at, data.ticked
    if closed:
        return f"closed {closed:%d %b}", "closed"
    return (
        (f"{done[0]} of {done[1]} steps", f"{done[0]}/{done[1]}")
        if done
        else ("no card yet", "none")
    )


def assumed_labels(sheet: Sheet) -> list[str]:
    """Return the labels of the figures that are only assumed."""
    return [
        FIELD_BY_KEY[key].label.lower()
        for key, figure in sheet.figures.items()
        if figure.provenance.unproved and key in FIELD_BY_KEY
    ]
