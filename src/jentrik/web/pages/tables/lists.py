"""The tables a shop takes into a spreadsheet: every list, and what a job comes to."""

from collections.abc import Callable, Iterator
from typing import TypeVar

from jentrik.core.errors import StoreError
from jentrik.core.machine.fields import missing_of
from jentrik.core.plan.plan import Outcome
from jentrik.core.plan.uncertainty import tells
from jentrik.exchange.csv_table import Cell, CsvTable, figure
from jentrik.store import costs, jobs, logbook, machines
from jentrik.store.listing import (
    JobLine,
    MachineLine,
    Page,
    Wanted,
    jobs_listed,
    machines_listed,
    shelf_listed,
)
from jentrik.store.machine_data import log_of_shop
from jentrik.web.live.undoing import NOTHING_TO_UNDO
from jentrik.web.pages.jobs.ledger import ledger
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.logbook.view import JUDGED_BY, events
from jentrik.web.pages.order.view import order_view
from jentrik.web.parts.tires_in_use import tires_in_use
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.shop import Shop

MOST_LINES = 1_000_000
KEYS = ("Id", "External id")  # by which a line is known when its table comes back
T = TypeVar("T")


def _every(listed: Callable[[Wanted], Page[T]], state: str = "") -> Iterator[T]:
    page = 1
    while True:
        found = listed(Wanted(state=state, page=page))
        yield from found.rows
        if not found.more:
            return
        page += 1


def _jobs(shop: Shop) -> CsvTable:
    refresh(shop)
    heads = (
        *(*KEYS, "Tag", "Machine", "Owner", "Wanted", "Due on", "Done on", "Station"),
        *("Main problem", "Stage", "Whose", "Waits for", "Hours"),
    )

    def row(one: JobLine) -> tuple[Cell, ...]:
        done = one.closed_at.date() if one.closed_at else None
        problem = f"{one.severity}: {one.headline}" if one.severity else one.says
        owner, due = one.owner, one.due_on
        found = one.tag, one.machine, owner, one.wanted, due, done, one.station, problem
        day = one.stage, one.whose, one.waits_for, one.hours
        return one.id, one.external_id, *found, *day

    return CsvTable("jobs", heads, map(row, _every(jobs_listed, "all")))


def _machines(shop: Shop) -> CsvTable:
    refresh(shop)
    heads = (
        *KEYS,
        "Machine",
        "Owner",
        "Build",
        "Front tire",
        "Rear tire",
        "Wheelbase, mm",
        "Assumed figures",
    )

    def row(one: MachineLine) -> tuple[Cell, ...]:
        base = figure(one.wheelbase)
        tires = one.front, one.rear
        keys = one.id, one.external_id
        return *keys, one.name, one.owner, one.build, *tires, base, one.assumed

    return CsvTable("machines", heads, map(row, _every(machines_listed)))


def _shelf(shop: Shop) -> CsvTable:
    heads = (
        *KEYS,
        *("Tire", "Pieces", "Week made", "Year made", "Age, years", "Added on", "Make", "Owner"),
        *("Hangs at", "Price", "Tread, mm", "Ran, km", "Reserved for"),
    )
    tags = jobs.reserved_tags()
    rows = (
        (
            one.id,
            one.external_id,
            one.code,
            one.pieces,
            one.week,
            one.year,
            None if (age := one.age_years(shop.today)) is None else round(age, 1),
            one.added_on,
            one.make,
            one.whose,
            one.place,
            None if one.price is None else float(one.price),
            one.tread_mm,
            one.km,
            tags.get(one.job_id or 0, ""),
        )
        for one in _every(shelf_listed)
    )
    return CsvTable("shelf", heads, rows)


def _log(shop: Shop) -> CsvTable:
    data = log_of_shop(MOST_LINES, find="", figures=JUDGED_BY)
    heads = ("Day", "Machine", "Entry", "What", "Result", "By")
    rows = (
        (event.on, event.machine, event.kind, event.says, event.result, event.by)
        for event in events(data, shop.policy)
    )
    return CsvTable("log", heads, rows)


def _wear(shop: Shop) -> CsvTable:
    heads = (
        "Machine",
        "Wheel",
        "Tire",
        "Inspected on",
        "Tread left, mm",
        "Tread middle, mm",
        "Tread right, mm",
        "Wear, mm per 1000 km",
        "At the shop's limit on",
    )
    return CsvTable("wear", heads, _worn(shop))


def _worn(shop: Shop) -> Iterator[tuple[Cell, ...]]:
    limit = shop.policy.rubber.own_tread_mm
    for machine_id, name in machines.names():
        log = logbook.log(machine_id)
        for tire in tires_in_use(machines.sheet(machine_id), log, shop.policy):
            last, rate = tire.last, tire.rate(limit)
            tread: tuple[Cell, ...] = (None, None, None)
            if last is not None and last.tread_mm is not None:
                tread = last.tread_mm
            wear = None if rate is None else round(rate.mm_per_1000_km, 3)
            on = last.on if last else None
            yield name, tire.end, tire.code, on, *tread, wear, tire.tread_day(limit)


LISTS: dict[str, Callable[[Shop], CsvTable]] = {
    "jobs": _jobs,
    "machines": _machines,
    "shelf": _shelf,
    "log": _log,
    "wear": _wear,
}


def _outcomes(shop: Shop, job_id: int) -> Iterator[tuple[str, object]]:
    there = on_bench(shop, job_id)
    found, impossible = found_of(there.sheet, missing_of(there.sheet), there.policy, there.today)
    if found is None:
        raise StoreError(
            impossible or "This job waits for the machine's figures.",
            field="job",
            expected="the figures that are needed",
        )
    for kept in there.job.proposals:
        yield kept.name, judged(found, kept)


def _ledger(shop: Shop, job_id: int) -> CsvTable:
    heads = ("Proposal", "Figure", "Unit", "As found", "Planned", "Change", "Change ±", "Assumed")
    return CsvTable("ledger", heads, list(_ledger_rows(shop, job_id)))


def _ledger_rows(shop: Shop, job_id: int) -> Iterator[tuple[Cell, ...]]:
    there = on_bench(shop, job_id)
    sheet = there.sheet
    found, _ = found_of(sheet, missing_of(sheet), there.policy, there.today)
    for name, outcome in _outcomes(shop, job_id):
        if found is None or not isinstance(outcome, Outcome):
            continue
        for row in ledger(sheet, found, outcome, tells(sheet, found, outcome.proposal)):
            doubt = figure(row.doubt.removeprefix("±").strip())
            cells = figure(row.found), figure(row.planned), figure(row.moved), doubt
            yield name, row.label, row.unit, *cells, row.assumed or row.planned_assumed


def _findings(shop: Shop, job_id: int) -> CsvTable:
    heads = ("Proposal", "Severity", "Where", "Finding", "What it means", "Source", "Rule")
    rows = [
        (
            name,
            finding.severity.value,
            finding.where,
            finding.headline,
            finding.message,
            finding.source,
            finding.rule,
        )
        for name, outcome in _outcomes(shop, job_id)
        if isinstance(outcome, Outcome)
        for finding in outcome.findings
    ]
    return CsvTable("findings", heads, rows)


def _order(shop: Shop, job_id: int) -> CsvTable:
    list(_outcomes(shop, job_id))  # refuses a job that waits for figures
    there = on_bench(shop, job_id)
    log = logbook.log(there.sheet.id)
    view = order_view(there, costs.entries(job_id), log, "", undo=NOTHING_TO_UNDO)
    options = tuple(f"{option.name}, {option.way}" for option in view.options)
    heads = ("Part", "End", *options, f"Price, {view.currency}", "Quantity", "Source")
    rows = [
        (row.name, row.end, *row.fates, figure(row.price), figure(row.quantity), row.source)
        for row in view.rows
    ]
    return CsvTable("order-list", heads, rows)


OF_JOB: dict[str, Callable[[Shop, int], CsvTable]] = {
    "ledger": _ledger,
    "findings": _findings,
    "order": _order,
}
