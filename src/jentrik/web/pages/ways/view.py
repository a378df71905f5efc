"""The ways back as a page shows them: where it stands, what would help, what each makes worse."""

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, field, replace

from markupsafe import Markup

from jentrik.core.amounts import THIN, Amount, bare
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import About
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import PlanResult, as_measured
from jentrik.core.plan.remedies import NOT_ON, Remedy, remedies_of
from jentrik.core.plan.search import Target, Way, WaysBack, target_of, ways_back
from jentrik.core.plan.seek import KNOBS, SOUGHT, Sought, seek
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.core.work.job import Job, KeptProposal
from jentrik.core.work.policy import Policy
from jentrik.exchange.plan_document import read_proposal
from jentrik.web.drawing.ribbon import ribbon
from jentrik.web.figures import change, fixed

NAMES = {
    "head_angle_deg": ("Head angle", "°", 1),
    "trail_mm": ("Trail", "mm", 0),
    "bb_height_mm": ("BB height", "mm", 0),
    "wheelbase_mm": ("Wheelbase", "mm", 0),
    "reach_mm": ("Reach", "mm", 0),
    "seat_height_mm": ("Seat height", "mm", 0),
    "pedal_height_mm": ("Lowest pedal", "mm", 0),
    "stack_mm": ("Stack", "mm", 0),
}
WIDTHS = {
    "": ("the shop's limits", 1.0),
    "half": ("half as wide", 0.5),
    "twice": ("twice as wide", 2.0),
}
TARGETS = {"found": "as found", "maker": "the maker's sheet", "own": "the rider's own figures"}


@dataclass(frozen=True, slots=True)
class Cell:
    """What is left of one figure: in words, with its ribbon, and whether it holds."""

    left: str
    ribbon: Markup
    holds: bool
    worse: bool = False
    mended: bool = False


@dataclass(frozen=True, slots=True)
class Aim:
    """One figure to come back to: the field it is typed in, where the proposal stands."""

    key: str
    label: str
    unit: str
    value: str
    now: str
    cell: Cell
    complaint: str = ""
    typed: bool = False  # `value` is as it was typed


@dataclass(frozen=True, slots=True)
class WayRow:
    """One way back as a row."""

    words: str
    steps: str
    badges: tuple[str, ...]
    cells: list[Cell]
    cost: str
    hours: str
    worse: str
    mended: str
    minds: tuple[str, ...]
    stops: tuple[str, ...]
    holds: bool


@dataclass(frozen=True, slots=True)
class Choice:
    """One thing to choose: its value, words, and whether it is chosen."""

    value: str
    label: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class SeekView:
    """The single figure sought: what was asked, and the answer in one sentence."""

    knobs: list[Choice]
    figures: list[Choice]
    wanted: str
    answer: str = ""
    complaint: str = ""
    take: str = ""


@dataclass(frozen=True, slots=True)
class WaysView:
    """Everything the page of ways back shows."""

    job: Job
    sheet: Sheet
    proposal: KeptProposal
    targets: list[Choice]
    widths: list[Choice]
    missing: tuple[About, ...] = ()
    impossible: str = ""
    aims: list[Aim] = field(default_factory=list)
    ways: list[WayRow] = field(default_factory=list)
    remedies: list[Choice] = field(default_factory=list)
    says: str = ""
    stops: tuple[str, ...] = ()
    seek: SeekView | None = None


def ways_view(
    job: Job,
    sheet: Sheet,
    kept: KeptProposal,
    query: Mapping[str, str],
    without: frozenset[str],
    policy: Policy,
    units: DisplayUnits = METRIC,
) -> WaysView:
    """Return the ways back from one proposal to the target the address asks for.

    What is typed without a unit is in one of `units`.
    """
    kind = query.get("target", "")
    kind = kind if kind in TARGETS else "found"
    targets = [Choice(value, words, value == kind) for value, words in TARGETS.items()]
    width = query.get("limits", "") if query.get("limits") in WIDTHS else ""
    widths = [Choice(value, words, value == width) for value, (words, _) in WIDTHS.items()]
    view = WaysView(job, sheet, kept, targets, widths, missing=missing_of(sheet))
    if view.missing:
        return view
    try:
        return _searched(
            view, kind, _in_kept(query, units), without, policy.wider(WIDTHS[width][1])
        )
    except Refusal as refusal:
        return replace(view, impossible=refusal.message)


def _in_kept(query: Mapping[str, str], units: DisplayUnits) -> dict[str, str]:
    """Return what the address asks for, each figure with the unit it was typed in."""
    sought = query.get("figure", "")
    of = {
        **{key: unit for key, (_, unit, _) in NAMES.items()},
        "wanted": NAMES.get(sought, ("", "", 0))[1],
    }
    return {key: units.in_kept(text, of.get(key, "")) for key, text in query.items()}


def _searched(
    view: WaysView, kind: str, query: Mapping[str, str], without: frozenset[str], policy: Policy
) -> WaysView:
    """Return the view with the ways the search found; refuses what cannot be searched."""
    unfit = NOT_ON.get(view.sheet.drawn_as, frozenset())
    found = as_measured(machine_of(view.sheet), policy=policy)
    proposal = read_proposal(view.proposal.values())
    target, typed, complaints = _target(found, kind, query)
    offered = remedies_of(found.bike, proposal)
    back = ways_back(found, proposal, target, without=without | unfit)
    return replace(
        view,
        aims=[
            _aim(back, policy, key, typed.get(key), complaints.get(key, ""))
            for key in back.left_keys
        ],
        ways=[] if back.holds else [_row(back, policy, way, offered) for way in back.ways],
        remedies=[
            Choice(remedy.id, remedy.name, remedy.id not in without)
            for remedy in offered
            if remedy.id not in unfit
        ],
        says=_says(back),
        stops=back.stops,
        seek=_seek(found, proposal, query),
    )


def _target(
    found: PlanResult, kind: str, query: Mapping[str, str]
) -> tuple[Target, dict[str, str], dict[str, str]]:
    """Return the target, what was typed of it, and what of that could not be read."""
    if kind == "maker":
        known = asdict(found.bike.maker.design)
        design = {key: known[key] for key in NAMES if known.get(key) is not None}
        return target_of(found, TARGETS[kind], design), {}, {}
    if kind == "found":
        return target_of(found, TARGETS[kind]), {}, {}
    wanted, typed, complaints = {}, {}, {}
    for key, (_, unit, _) in NAMES.items():
        text = query.get(key, "").strip()
        if text:
            typed[key] = text
            try:
                wanted[key] = read_figure(text, unit=unit)
            except Refusal as refusal:
                complaints[key] = refusal.message
    usual = target_of(found, TARGETS[kind])
    known = {key: value for key, value in wanted.items() if key in usual.figures}
    return target_of(found, TARGETS[kind], known), typed, complaints


def _aim(back: WaysBack, policy: Policy, key: str, typed: str | None, complaint: str) -> Aim:
    label, unit, digits = NAMES[key]
    wanted = back.target.figures[key]
    return Aim(
        key=key,
        label=label,
        unit=unit,
        value=typed if typed is not None else fixed(wanted, digits),
        now=fixed(wanted + back.start[key], digits),
        cell=_cell(policy, key, back.start[key]),
        complaint=complaint,
        typed=typed is not None,
    )


def _cell(policy: Policy, key: str, left: float, before: float | None = None) -> Cell:
    band = Target("", {key: 0.0}).bands(policy.limits)[key]
    worse = before is not None and abs(left) > abs(before) + policy.noticeable[key] / 2
    mended = before is not None and band.holds(left) and not band.holds(before)
    shown = ribbon(left, band)
    return Cell(change(left, NAMES[key][2]), shown, band.holds(left), worse, mended)


def _row(back: WaysBack, policy: Policy, way: Way, offered: tuple[Remedy, ...]) -> WayRow:
    cells = [_cell(policy, key, way.left[key], back.start[key]) for key in back.left_keys]
    pairs = list(zip(back.left_keys, cells, strict=True))
    badges = [
        word
        for word, best in (
            ("nearest", back.ways[:1]),
            ("cheapest", back.by_cost[:1]),
            ("quickest", back.by_effort[:1]),
        )
        if best and best[0] is way
    ]
    by_id = {remedy.id: remedy for remedy in offered}
    steps = [
        f"{remedy.id}:{by_id[remedy.id].steps.index(step)}"
        for remedy, step in zip(way.remedies, way.steps, strict=True)
    ]
    return WayRow(
        words=way.words[:1].upper() + way.words[1:],
        steps=",".join(steps),
        badges=tuple(badges),
        cells=cells,
        cost=fixed(way.cost),
        hours=fixed(way.hours, 1),
        worse=_names(key for key, cell in pairs if cell.worse),
        mended=_names(key for key, cell in pairs if cell.mended),
        minds=tuple(f"{remedy.name}: {remedy.mind}" for remedy in way.remedies),
        stops=way.stops,
        holds=way.holds,
    )


def _names(keys: Iterable[str]) -> str:
    names = (NAMES[key][0] for key in keys)
    return ", ".join(name if name.startswith("BB") else name.lower() for name in names)


def _says(back: WaysBack) -> str:
    """Say honestly what the search came to, in one sentence."""
    tried = f"{back.tried:,}".replace(",", THIN)
    if back.holds:
        return "Every figure is inside its limits: there is nothing to restore."
    if not back.ways:
        return f"None of the {tried} combinations comes nearer without a stop. Another tire first."
    if not back.reached:
        return (
            f"Nothing reaches every shop limit: of {tried} combinations these come nearest, and "
            "each still leaves a figure outside."
        )
    return f"Of {tried} combinations these bring every figure inside, or come nearest."


def _seek(found: PlanResult, proposal: Proposal, query: Mapping[str, str]) -> SeekView:
    knob_id = query.get("knob") if query.get("knob") in KNOBS else "fork-length"
    known = [key for key in SOUGHT if getattr(found.figures.geometry, key) is not None]
    figure = query.get("figure") if query.get("figure") in known else "head_angle_deg"
    assert knob_id is not None
    assert figure is not None
    bicycle = found.bike.kind == "bicycle"
    knobs = [
        Choice(key, knob.name, key == knob_id)
        for key, knob in KNOBS.items()
        if bicycle or key not in ("lower-cup", "headset")
    ]
    figures = [Choice(key, NAMES[key][0], key == figure) for key in known]
    label, unit, digits = NAMES[figure]
    as_found = fixed(getattr(found.figures.geometry, figure), digits)
    wanted = query.get("wanted", "").strip()
    view = SeekView(knobs, figures, wanted or bare(as_found, unit))
    try:
        value = (
            read_figure(wanted, unit=unit) if wanted else getattr(found.figures.geometry, figure)
        )
        sought = seek(found, proposal, KNOBS[knob_id], figure, float(value))
    except Refusal as refusal:
        return SeekView(knobs, figures, wanted, complaint=refusal.message)
    take = f"{knob_id}|{figure}|{value}" if sought.reached else ""
    return SeekView(knobs, figures, view.wanted, _answer(sought, label, unit, digits), take=take)


def _answer(sought: Sought, label: str, unit: str, digits: int) -> str:
    knob = sought.knob
    amount = str(Amount(fixed(sought.value, 1), knob.unit))
    by = f"{Amount(change(sought.by, 1), knob.unit)} against the proposal"
    figure = str(Amount(fixed(sought.figure, digits), unit))
    if sought.reached:
        return f"{knob.name} {amount} ({by}) gives {label.lower()} {figure}."
    return (
        f"Not within reach: at the end of its range, {knob.name.lower()} {amount} ({by}), "
        f"{label.lower()} comes to {figure}."
    )
