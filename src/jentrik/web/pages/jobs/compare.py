"""Proposals side by side: what a rider notices, the ledger, and two drawings laid over another."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from markupsafe import Markup

from jentrik.core.amounts import THIN
from jentrik.core.geometry.figures import geometry
from jentrik.core.geometry.pose import PoseChange
from jentrik.core.machine.declared import ENDS, About
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.restated import restated, turned
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.answer import answer_of
from jentrik.core.plan.effects import Effect, effects, tire_feels
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured
from jentrik.core.plan.sweep import sweep
from jentrik.core.plan.uncertainty import tells
from jentrik.core.rules.joined import count_in_words
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.core.work.job import Job
from jentrik.store.documents import OnBench
from jentrik.web.drawing.plot import Line, plot
from jentrik.web.figures import fixed
from jentrik.web.pages.jobs.character import CharacterView, character_view
from jentrik.web.pages.jobs.ledger import LedgerRow, ledger
from jentrik.web.pages.jobs.scene import scene_drawing
from jentrik.web.pages.jobs.steadiness import SteadinessView, steadiness_view
from jentrik.web.parts.address import MAGNIFICATIONS, Address, Link
from jentrik.web.parts.columns import chosen_columns, column_links
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.parts.words import what_changes

FOUND = "as found"
_SWEPT = (
    ("head_angle_deg", "Head angle", "°", 1),
    ("trail_mm", "Trail", "mm", 0),
    ("bb_height_mm", "BB height", "mm", 0),
)


@dataclass(frozen=True, slots=True)
class Column:
    """One proposal: what it changes, what is felt of it, how it is judged."""

    name: str
    href: str
    says: str
    verdict: str
    felt: list[str]
    hardly: str
    refusal: str = ""
    answer: str = ""


@dataclass(frozen=True, slots=True)
class CompareRow:
    """One figure across every proposal."""

    label: str
    unit: str
    found: str
    cells: list[LedgerRow | None]
    term: str = ""
    assumed: bool = False

    @property
    def differs(self) -> bool:
        """Whether any proposal moves it, as far as it is known."""
        return any(cell is not None and cell.moved not in ("0", "–", "") for cell in self.cells)


@dataclass(frozen=True, slots=True)
class CompareView:
    """Everything the comparison shows."""

    job: Job
    sheet: Sheet
    columns: list[Column]
    rows: list[CompareRow]
    missing: tuple[About, ...] = ()
    impossible: str = ""
    drawing: Markup | None = None
    bases: list[Link] = field(default_factory=list)
    overs: list[Link] = field(default_factory=list)
    views: list[Link] = field(default_factory=list)
    magnifications: list[Link] = field(default_factory=list)
    states: list[Link] = field(default_factory=list)
    plots: list[tuple[str, list[Markup]]] = field(default_factory=list)
    state: str = ""
    character: CharacterView | None = None
    over: str = ""
    base: str = ""
    choices: list[Link] = field(default_factory=list)  # each turns one column on or off
    steadiness: SteadinessView | None = None  # of a bicycle


def compare_view(
    on: OnBench, path: str, query: Mapping[str, str], units: DisplayUnits = METRIC
) -> CompareView:
    """Return the comparison of every proposal of a job.

    What the address asks for without a unit is in one of `units`.
    """
    job, sheet, policy, today = on.job, on.sheet, on.policy, on.today
    missing, address = missing_of(sheet), Address.of(path, query)
    measured, impossible = found_of(sheet, missing, policy, today)
    found = measured
    if address.state:
        found, _ = found_of(sheet, missing, policy, today, address.state)
    outcomes = {kept.name: judged(found, kept) for kept in job.proposals}
    columns = _columns(on, path, found, measured, outcomes)
    drawn = {name: one for name, one in outcomes.items() if isinstance(one, Outcome)}
    if found is None or measured is None or not drawn:
        return CompareView(job, sheet, columns, [], missing, impossible)
    base = query.get("base", "") if query.get("base") in drawn else ""
    over = query.get("over", "") if query.get("over") in drawn else _first(drawn, base)
    names = [kept.name for kept in job.proposals]
    places = chosen_columns(len(names), query.get("columns", ""), range(len(names)))
    shown = [names[place] for place in places]
    return CompareView(
        job=job,
        sheet=sheet,
        columns=[column for column in columns if column.name in shown],
        choices=column_links(names, places, _at(address, base, over)),
        rows=_rows(sheet, measured, found, drawn, shown),
        drawing=_overlaid(sheet, found, drawn.get(base), drawn[over], address),
        bases=_bases(address, drawn, over, base),
        overs=[
            Link(name, _at(address, base, name), name == over) for name in drawn if name != base
        ],
        views=_views(address, base, over),
        magnifications=_magnifications(address, base, over),
        states=_states(found, address, base, over),
        plots=_plots(measured, drawn[over]),
        steadiness=steadiness_view(found, drawn, over),
        character=character_view(found, drawn[over], query, units),
        over=over,
        base=base,
        state=found.bike.suspension.measured.value if len(found.bike.suspension.states) > 1 else "",
    )


def _columns(
    on: OnBench,
    path: str,
    found: PlanResult | None,
    measured: PlanResult | None,
    outcomes: Mapping[str, Outcome | str],
) -> list[Column]:
    columns = []
    for kept in on.job.proposals:
        says, outcome = what_changes(on.job, on.sheet, kept), outcomes[kept.name]
        href = Address(path.removesuffix("/compare")).at(proposal=kept.name)
        checked = outcome if found is measured else judged(measured, kept)
        column = _column(kept.name, href, says, found, outcome, checked)
        if measured is not None and isinstance(checked, Outcome) and kept.judged is None:
            answer = answer_of(measured, checked, with_nearest=False).sentence
            column = replace(column, answer=answer if kept.changes else "")
        columns.append(column)
    return columns


def _bases(address: Address, drawn: Mapping[str, Outcome], over: str, base: str) -> list[Link]:
    return [
        Link(name or FOUND, _at(address, name, over), name == base)
        for name in ("", *drawn)
        if name != over
    ]


def _views(address: Address, base: str, over: str) -> list[Link]:
    return [
        Link(label, _at(replace(address, view=view), base, over), address.view == view)
        for label, view in (("In the stand", "stand"), ("On the road", "road"))
    ]


def _magnifications(address: Address, base: str, over: str) -> list[Link]:
    return [
        Link(f"×{k}", _at(replace(address, magnify=k), base, over), address.magnify == k)
        for k in MAGNIFICATIONS
    ]


def _first(drawn: Mapping[str, Outcome], base: str) -> str:
    return next((name for name in drawn if name != base), base)


def _at(address: Address, base: str, over: str) -> str:
    there = replace(address, proposal="").at()
    joint = "&" if "?" in there else "?"
    return f"{there}{joint}base={base}&over={over}"


def _states(found: PlanResult, address: Address, base: str, over: str) -> list[Link]:
    known, here = found.measured.suspension.states, found.bike.suspension.measured
    if len(known) < 2:
        return []
    return [
        Link(
            state.value.capitalize(),
            _at(replace(address, state=state.value), base, over),
            state is here,
        )
        for state in known
    ]


def _column(
    name: str,
    href: str,
    says: str,
    found: PlanResult | None,
    outcome: Outcome | str,
    checked: Outcome | str,
) -> Column:
    if found is None or not isinstance(outcome, Outcome) or not isinstance(checked, Outcome):
        return Column(name, href, says, "", [], "", refusal=str(outcome))
    changes = effects(found, outcome)
    felt = noticed(found, outcome)
    hardly = [
        f"{effect.words.name.lower()} {_amount(effect)} {effect.way}"
        for effect in changes
        if effect.times < 1 and float(f"{effect.by:.{effect.words.digits}f}")
    ]
    return Column(name, href, says, count_in_words(checked.findings), felt, ", ".join(hardly))


def noticed(found: PlanResult, outcome: Outcome) -> list[str]:
    """Return how it steers on the whole, the tires, then each figure a rider notices."""
    whole = [finding.message for finding in outcome.findings if finding.rule == "handling"]
    felt = [change for change in effects(found, outcome) if change.times >= 1]
    return [*whole, *tire_feels(found, outcome), *map(effect_in_words, felt)]


def effect_in_words(effect: Effect) -> str:
    """Return one felt change as a sentence."""
    times = effect.times
    much = (
        "about what a rider notices"
        if times < 1.5
        else (f"about {fixed(times)} times what a rider notices")
    )
    feels = f": {effect.feels}" if effect.feels else ""
    return f"{effect.words.name} {_amount(effect)} {effect.way}, {much}{feels}."


def _amount(effect: Effect) -> str:
    words = effect.words
    unit = words.unit if words.unit == "°" else f"{THIN}{words.unit}"
    return f"{fixed(abs(effect.by), words.digits)}{unit}"


def _rows(
    sheet: Sheet,
    measured: PlanResult,
    found: PlanResult,
    drawn: Mapping[str, Outcome],
    names: list[str],
) -> list[CompareRow]:
    ledgers = {
        name: ledger(sheet, found, one, tells(sheet, measured, one.proposal))
        for name, one in drawn.items()
    }
    rows: dict[tuple[str, str], CompareRow] = {}
    for lines in ledgers.values():
        for line in lines:
            rows.setdefault(
                (line.label, line.unit),
                CompareRow(line.label, line.unit, line.found, [], line.term, line.assumed),
            )
    for key, row in rows.items():
        for name in names:
            lines = ledgers.get(name, [])
            row.cells.append(next((one for one in lines if (one.label, one.unit) == key), None))
    return list(rows.values())


def _overlaid(
    sheet: Sheet, found: PlanResult, base: Outcome | None, over: Outcome, address: Address
) -> Markup:
    """Return the drawing of one proposal over the machine as found, or over another proposal."""
    if base is None:
        return scene_drawing(sheet, found, over, address)
    machine = restated(
        found.bike,
        change=base.change,
        figures=base.figures.geometry,
        pose=base.pose,
        wheels=base.figures.wheels,
    )
    there = as_measured(machine)
    a, b = base.change, over.change
    shift = turned(
        (
            float(b.rear_shift_x_mm - a.rear_shift_x_mm),
            float(b.rear_shift_y_mm - a.rear_shift_y_mm),
        ),
        base.pose,
    )
    change = PoseChange(
        front_radius_mm=b.front_radius_mm,
        rear_radius_mm=b.rear_radius_mm,
        fork_longer_mm=b.fork_longer_mm - a.fork_longer_mm,
        offset_more_mm=b.offset_more_mm - a.offset_more_mm,
        cup_mm=b.cup_mm - a.cup_mm,
        rear_shift_x_mm=shift[0],
        rear_shift_y_mm=shift[1],
        head_turn_deg=b.head_turn_deg - a.head_turn_deg,
    )
    figures, pose = geometry(there.chassis, change)
    seen = replace(over, change=change, pose=pose, figures=replace(over.figures, geometry=figures))
    return scene_drawing(sheet, there, seen, address)


def _plots(found: PlanResult, outcome: Outcome) -> list[tuple[str, list[Markup]]]:
    """Return the figures through the travel of each suspended end."""
    nothing = Proposal(FOUND)
    plots = []
    for end in ENDS:
        old, new = sweep(found, nothing, end), sweep(found, outcome.proposal, end)
        if old is None or new is None:
            continue
        drawn = []
        for key, name, unit, digits in _SWEPT:
            values = getattr(old.figures, key), getattr(new.figures, key)
            if values[0] is None or values[1] is None:
                continue
            lines = [
                Line(list(one.down_mm), [float(v) for v in value], css)
                for one, value, css in zip((old, new), values, ("found", "planned"), strict=True)
            ]
            drawn.append(plot(name, unit, lines, digits=digits, across="down"))
        plots.append(("Fork dives" if end == "front" else "Rear squats", drawn))
    return plots
