"""The order of a job by supplier: what to ask of whom, and how far each part is."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.cost import parts_for, ways_of
from jentrik.core.work.job import Job
from jentrik.core.work.order_entries import OrderState
from jentrik.core.work.ordering import OrderedPart, by_supplier, ordered_parts
from jentrik.exchange.plan_document import read_kept
from jentrik.store.documents import OnBench
from jentrik.web.live.undoing import UndoView
from jentrik.web.parts.address import Link
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed


@dataclass(frozen=True, slots=True)
class SupplierRow:
    """One part with what is typed of it."""

    part: OrderedPart
    supplier: str
    complaint: Complaint | None

    @property
    def name(self) -> str:
        """The part with its wheel, as a line of an order."""
        words = f"{self.part.end} {self.part.name}".strip()
        return words[:1].upper() + words[1:]

    @property
    def cost(self) -> str:
        """What it costs; nothing without a price."""
        return "" if self.part.cost is None else f"{self.part.cost:.2f}"


@dataclass(frozen=True, slots=True)
class SupplierGroup:
    """Everything of one supplier, and what it comes to."""

    supplier: str
    rows: list[SupplierRow]
    total: str
    unpriced: int


@dataclass(frozen=True, slots=True)
class SuppliersView:
    """The page: one way of one proposal, its parts by supplier."""

    job: Job
    sheet: Sheet
    on: date
    currency: str
    tabs: list[Link]
    name: str
    groups: list[SupplierGroup]
    in_stock: list[str]
    known: list[str]
    waits: int
    way: int
    undo: UndoView
    states: tuple[str, ...] = tuple(OrderState)


def suppliers_view(
    there: OnBench,
    entries: Mapping[str, str],
    known: list[str],
    path: str,
    way: int,
    *,
    undo: UndoView,
    typed: Typed = NOTHING_TYPED,
) -> SuppliersView:
    """Return the parts of one way of one proposal by supplier; the first where there is no such."""
    bike = machine_of(there.sheet)
    options = [
        (proposal, one)
        for proposal in (read_kept(kept) for kept in there.job.proposals)
        for one in ways_of(bike, proposal)
    ]
    way = way if way < len(options) else 0
    names = [f"{proposal.name}, {one.value}" for proposal, one in options]
    tabs = [Link(name, f"{path}?way={place}", place == way) for place, name in enumerate(names)]
    parts = ordered_parts(parts_for(bike, *options[way]), entries) if options else []
    return SuppliersView(
        job=there.job,
        sheet=there.sheet,
        on=there.today,
        currency=there.policy.money.currency,
        tabs=tabs if len(tabs) > 1 else [],
        name=names[way] if names else "",
        groups=[_group(name, those, typed) for name, those in by_supplier(parts)],
        in_stock=[f"{part.end} {part.name}".strip() for part in parts if part.in_stock],
        known=known,
        waits=sum(part.state is OrderState.ORDERED for part in parts),
        way=way,
        undo=undo,
    )


def _group(name: str, parts: list[OrderedPart], typed: Typed) -> SupplierGroup:
    rows = [
        SupplierRow(part, *typed.shown(f"supplier:{part.key}", part.supplier)) for part in parts
    ]
    total = sum((part.cost for part in parts if part.cost is not None), Decimal(0))
    return SupplierGroup(
        name, rows, f"{total:.2f}" if total else "–", sum(part.cost is None for part in parts)
    )
