"""What became of the parts of a job that are ordered: from whom, and how far each is.

Sources: common practice.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from jentrik.core.work.carry_over import Fate, PartLine
from jentrik.core.work.order_entries import OrderState, bought_of, written


@dataclass(frozen=True, slots=True)
class OrderedPart:
    """One part to be had: from whom, how many, what they cost together, how far it is."""

    key: str
    name: str
    end: str
    supplier: str
    pieces: int
    used: bool
    cost: Decimal | None
    state: OrderState
    in_stock: bool
    to_find_out: bool


def ordered_parts(lines: Iterable[PartLine], entries: Mapping[str, str]) -> list[OrderedPart]:
    """Return what has to be had of parts, in their order; what stays on the machine is left out."""
    found = []
    for line in lines:
        if line.fate not in (Fate.BUY, Fate.ASK):
            continue
        bought = bought_of(entries, line.key)
        found.append(
            OrderedPart(
                line.key,
                line.name,
                line.end,
                written(entries, "supplier", line.key),
                bought.quantity,
                bought.used,
                bought.cost,
                OrderState(written(entries, "state", line.key, OrderState.OPEN)),
                bought.in_stock,
                line.fate is Fate.ASK,
            )
        )
    return found


def by_supplier(parts: Iterable[OrderedPart]) -> list[tuple[str, list[OrderedPart]]]:
    """Return parts by who supplies them, by name; those with no supplier yet come first.

    What lies in stock is not ordered from anyone and is left out.
    """
    groups: dict[str, list[OrderedPart]] = {}
    for part in parts:
        if not part.in_stock:
            groups.setdefault(part.supplier, []).append(part)
    return sorted(groups.items(), key=lambda one: one[0].casefold())
