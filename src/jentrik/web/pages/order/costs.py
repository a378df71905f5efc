"""What the work done on a machine cost, year by year, as its jobs' order lists were priced."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from markupsafe import Markup

from jentrik.core.errors import Refusal
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.work.cost import Total, ways_of
from jentrik.core.work.job import KeptProposal
from jentrik.core.work.order_entries import total_of
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.core.work.policy_fields import known_policy
from jentrik.exchange.plan_document import read_kept
from jentrik.exchange.sheet_document import sheet_of
from jentrik.store.documents import JobDocument
from jentrik.web.drawing.year_bars import YearBar, year_bars


@dataclass(frozen=True, slots=True)
class CostsView:
    """The bars, the same in figures, and how many jobs have no price to count."""

    drawing: Markup
    rows: list[tuple[int, str]]
    currency: str
    without: int


def costs_view(documents: Iterable[JobDocument], currency: str) -> CostsView | None:
    """Return what the jobs done came to by the year they were fitted; None where none is priced."""
    years: dict[int, YearBar] = {}
    without = 0
    for document in documents:
        cost = cost_of(document)
        if cost is None:
            without += 1
            continue
        year = date.fromisoformat(document.values["fitted_on"]).year
        before = years.get(year, YearBar(year, Decimal(0), at_least=False))
        years[year] = YearBar(
            year, before.amount + cost.whole, before.at_least or bool(cost.unpriced)
        )
    if not years:
        return None
    bars = [years[year] for year in sorted(years)]
    return CostsView(
        year_bars(bars, "Cost by year", currency),
        [(bar.year, f"{'at least ' if bar.at_least else ''}{bar.amount:.2f}") for bar in bars],
        currency,
        without,
    )


def cost_of(document: JobDocument) -> Total | None:
    """Return what a job came to, the way its list leaves least without a price; None unpriced."""
    values = document.values
    entries: dict[str, str] = values.get("costs") or {}
    if not any(key.startswith("price:") for key in entries):
        return None
    try:
        bike = machine_of(sheet_of(values["found_sheet"]))
        kept = next(
            value for value in values["proposals"] if value["name"] == values["carried_out"]
        )
        proposal = read_kept(KeptProposal(0, kept["name"], kept["changes"], takes=kept["takes"]))
    except (Refusal, StopIteration):
        return None
    policy = DEFAULT_POLICY.having(known_policy(values["policy"]))
    rate = Decimal(str(policy.money.labour_an_hour))
    totals = [total_of(bike, proposal, way, entries, rate) for way in ways_of(bike, proposal)]
    return min(totals, key=lambda one: (len(one.unpriced), one.whole))
