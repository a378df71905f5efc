"""The order list of a job: what is bought each way, what it costs, which tire is dear a year."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from jentrik.core.amounts import bare
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.carry_over import Fate, PartLine, tire_line
from jentrik.core.work.cost import Total, WheelSource, parts_for, tire_years, ways_of
from jentrik.core.work.job import Job
from jentrik.core.work.order_entries import SOURCES, bought_of, hours_key, total_of, written
from jentrik.core.work.policy import Policy
from jentrik.core.work.wear import distances, km_a_day
from jentrik.core.work.year_cost import LastingTire, a_year, swap_hours
from jentrik.exchange.plan_document import read_kept
from jentrik.store.documents import OnBench
from jentrik.store.logbook import Log
from jentrik.web.figures import fixed
from jentrik.web.live.undoing import UndoView
from jentrik.web.parts.address import Link
from jentrik.web.parts.columns import MOST_COLUMNS, chosen_columns, column_links
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed

WRITTEN_OF_A_PART = (
    *("price", "quantity", "source", "supplier", "state", "since", "place"),
    "external_id",
)
MOST_NAMED = 2


@dataclass(frozen=True, slots=True)
class PartRow:
    """One part: what becomes of it in each option, what was written of it."""

    name: str
    end: str
    key: str
    fates: list[str]
    price: str
    quantity: str
    source: str
    complaint: Complaint | None
    stored: Mapping[str, str]  # price and quantity as they are kept


@dataclass(frozen=True, slots=True)
class OptionView:
    """One way of one proposal, as a column: hours, total, what has no price."""

    name: str
    way: str
    hours_key: str
    hours: str
    hours_stored: str
    labour: str
    parts: str
    whole: str
    at_most: str  # with what must still be found out; nothing where that adds nothing
    unpriced: str
    cheapest: bool
    swap: str  # nothing where the old wheels are gone
    a_year: str  # nothing where no years are given; without swaps where none can be


@dataclass(frozen=True, slots=True)
class TireRow:
    """One tire to be bought: life, what comes first, cost a year."""

    name: str
    life_key: str
    life: str
    life_stored: str
    says: str
    a_year: str


@dataclass(frozen=True, slots=True)
class YearsRow:
    """Over how many years the cost is counted and how often a year the set-up is swapped."""

    years: str
    years_stored: str
    swaps: str
    swaps_stored: str


_Tires = dict[str, tuple[TireRow, LastingTire | None]]  # by the key of its order line


@dataclass(frozen=True, slots=True)
class OrderView:
    """The order list."""

    job: Job
    sheet: Sheet
    currency: str
    rate: str
    options: list[OptionView]
    rows: list[PartRow]
    tires: list[TireRow]
    km_a_year: str
    km_a_year_stored: str
    years: YearsRow
    undo: UndoView
    choices: list[Link] = field(default_factory=list)  # each turns one column on or off
    columns: str = ""  # those that were asked for
    complaints: dict[str, Complaint] = field(default_factory=dict)
    sources: tuple[str, ...] = SOURCES


@dataclass(frozen=True, slots=True)
class _Option:
    proposal: Proposal
    way: WheelSource
    lines: tuple[PartLine, ...]

    @property
    def key(self) -> str:
        return hours_key(self.proposal, self.way)

    @property
    def words(self) -> str:
        return f"{self.proposal.name} {self.way.value}"


def order_view(
    there: OnBench,
    entries: dict[str, str],
    log: Log,
    path: str,
    columns: str = "",
    *,
    undo: UndoView,
    typed: Typed = NOTHING_TYPED,
) -> OrderView:
    """Return the order list of a job with what was just typed on it, in the columns asked for."""
    job, sheet, policy = there.job, there.sheet, there.policy
    bike = machine_of(sheet)
    proposals = [read_kept(kept) for kept in job.proposals]
    every = [
        _Option(proposal, way, parts_for(bike, proposal, way))
        for proposal in proposals
        for way in ways_of(bike, proposal)
    ]
    places = chosen_columns(len(every), columns, _usual(every))
    options = [every[place] for place in places]
    rate = Decimal(str(policy.money.labour_an_hour))
    totals = [total_of(bike, option.proposal, option.way, entries, rate) for option in options]
    pace = entries.get("km-a-year") or _pace(sheet.id, log)
    tires = _tires(options, entries, policy, there.today, pace, typed)
    return OrderView(
        job=job,
        sheet=sheet,
        currency=policy.money.currency,
        rate=f"{rate:.2f}",
        options=_columns(
            options, totals, _yearly(bike, options, totals, entries, tires, rate), typed
        ),
        rows=_rows(options, entries, typed),
        tires=[row for row, _ in tires.values()],
        km_a_year=typed.shown("km-a-year", bare(pace, "km"))[0],
        km_a_year_stored=bare(pace, "km"),
        years=_years(entries, typed),
        complaints=typed.complaints(),
        choices=column_links([one.words for one in every], places, path),
        columns=columns,
        undo=undo,
    )


def order_lines(there: OnBench, entries: Mapping[str, str]) -> list[dict[str, str]]:
    """Return each part each way of each proposal needs, with what was written of buying it."""
    if missing_of(there.sheet):
        return []
    bike = machine_of(there.sheet)
    return [
        {
            "proposal": proposal.name,
            "way": way.value,
            "part": line.key,
            "name": line.name,
            "end": line.end,
            "fate": line.fate.value,
            **{kind: entries.get(f"{kind}:{line.key}", "") for kind in WRITTEN_OF_A_PART},
        }
        for proposal in (read_kept(kept) for kept in there.job.proposals)
        for way in ways_of(bike, proposal)
        for line in parts_for(bike, proposal, way)
    ]


def _usual(every: list[_Option]) -> list[int]:
    """Return the columns that stand first: all of a few, else one way of each proposal."""
    if len(every) <= MOST_COLUMNS:
        return list(range(len(every)))
    names = [one.proposal.name for one in every]
    return [names.index(name) for name in dict.fromkeys(names)]


def _pace(machine_id: int, log: Log) -> str:
    """Return the km a year of a machine's odometer, as someone would type it."""
    driven = distances(log.odometer.get(machine_id, ()), log.corrections(machine_id))
    pace = km_a_day(driven)
    return f"{pace * 365.25:.0f}" if pace else ""


def _years(entries: Mapping[str, str], typed: Typed) -> YearsRow:
    years, swaps = (entries.get(key, "") for key in ("years", "swaps-a-year"))
    shown = typed.shown("years", years)[0], typed.shown("swaps-a-year", swaps)[0]
    return YearsRow(shown[0], years, shown[1], swaps)


def _yearly(
    bike: Bike,
    options: list[_Option],
    totals: list[Total],
    entries: Mapping[str, str],
    tires: _Tires,
    rate: Decimal,
) -> list[tuple[str, str]]:
    """Return of each column what a swap costs and what a year does, as they are shown."""
    years, swaps = (int(entries.get(key) or 0) for key in ("years", "swaps-a-year"))
    rows = []
    for option, whole in zip(options, totals, strict=True):
        hours = swap_hours(bike, option.proposal, option.way)
        swap = None if hours is None else hours * rate
        bought = {line.key for line in option.lines if line.fate is Fate.BUY}
        lasting = [one for key, (_, one) in tires.items() if one and key in bought]
        of_swaps = swaps * (swap or Decimal(0))
        year = a_year(whole, lasting, years=years, swaps=of_swaps) if years else None
        rows.append(("" if swap is None else f"{swap:.2f}", "" if year is None else f"{year:.2f}"))
    return rows


def _columns(
    options: list[_Option], totals: list[Total], yearly: list[tuple[str, str]], typed: Typed
) -> list[OptionView]:
    whole = [one.whole for one in totals if not one.unpriced]
    least = min(whole, default=None)
    return [
        OptionView(
            name=option.proposal.name,
            way=option.way.value,
            hours_key=option.key,
            hours=typed.shown(option.key, f"{total.hours.normalize():f}")[0],
            hours_stored=f"{total.hours.normalize():f}",
            labour=f"{total.labour:.2f}",
            parts=f"{total.parts:.2f}",
            whole=f"{total.whole:.2f}",
            at_most=f"{total.at_most:.2f}" if total.perhaps else "",
            unpriced=_unpriced(total.unpriced),
            cheapest=len(whole) > 1 and not total.unpriced and total.whole == least,
            swap=swap,
            a_year=year,
        )
        for option, total, (swap, year) in zip(options, totals, yearly, strict=True)
    ]


def _unpriced(names: tuple[str, ...]) -> str:
    """Return which parts have no price: their names, of many only how many."""
    return ", ".join(names) if len(names) <= MOST_NAMED else f"{len(names)} parts"


def _rows(options: list[_Option], entries: dict[str, str], typed: Typed) -> list[PartRow]:
    seen: dict[str, PartLine] = {}
    for option in options:
        for line in option.lines:
            seen.setdefault(line.key, line)
    rows = []
    order = sorted(seen.items(), key=lambda one: (one[1].fate is Fate.ASK, one[1].end == ""))
    for key, line in order:
        fates = [
            next((one.fate.value for one in option.lines if one.key == key), "")
            for option in options
        ]
        if not any(fate in (Fate.BUY, Fate.ASK) for fate in fates):
            continue
        stored = {
            "price": written(entries, "price", key),
            "quantity": written(entries, "quantity", key, "1"),
        }
        price, complaint = typed.shown(f"price:{key}", stored["price"])
        quantity, wrong = typed.shown(f"quantity:{key}", stored["quantity"])
        source = written(entries, "source", key, "new")
        rows.append(
            PartRow(
                line.name, line.end, key, fates, price, quantity, source, complaint or wrong, stored
            )
        )
    return rows


def _tires(
    options: list[_Option],
    entries: dict[str, str],
    policy: Policy,
    today: date,
    pace: str,
    typed: Typed,
) -> _Tires:
    rows: _Tires = {}
    for option in options:
        for end in ENDS:
            change = getattr(option.proposal, end)
            if change.tire is None:
                continue
            line = tire_line(end, change)
            key = line.key
            made = change.fitted.date
            age = made.age_years(today) if made else None
            life = written(entries, "life", key)
            bought = bought_of(entries, key)
            years = tire_years(
                price=bought.price,
                life_km=float(life) if life else None,
                km_a_year=float(pace) if pace else None,
                replace_at_years=policy.rubber.replace_at_years,
                age_years=max(age or 0.0, 0.0),
            )
            wear = f"worn in {fixed(years.by_wear, 1)}, " if years.by_wear is not None else ""
            old = f"too old in {fixed(years.by_age, 1)} years" if years.by_age is not None else ""
            first = f": {years.first} comes first" if years.by_wear is not None else ""
            row = TireRow(
                f"{end} {line.name.removeprefix('tire ')}",
                f"life:{key}",
                typed.shown(f"life:{key}", bare(life, "km"))[0],
                bare(life, "km"),
                f"{wear}{old}{first}",
                f"{years.cost_a_year:.2f}" if years.cost_a_year else "",
            )
            lasting = None
            if bought.cost and years.cost_a_year:
                lasting = LastingTire(bought.cost, years.cost_a_year * bought.quantity)
            rows[key] = row, lasting
    return rows
