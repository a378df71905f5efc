"""What was written on a job's order list, by key, and what a way of a proposal comes to with it."""

from collections.abc import Mapping
from decimal import Decimal

from jentrik.core.job.cost import Bought, Total, WheelSource, parts_for, total, usual_hours
from jentrik.core.machine.machine import Bike, Proposal


def hours_key(proposal: Proposal, way: WheelSource) -> str:
    """Return the key under which the hours of one way of a proposal are written."""
    return f"hours:{proposal.name}:{way}"


def written(entries: Mapping[str, str], kind: str, key: str, default: str = "") -> str:
    """Return what was written of a part; a make was no part of a tire's key in earlier versions."""
    before = entries.get(f"{kind}:{key.partition(', ')[0]}", default)
    return entries.get(f"{kind}:{key}", before if " tire " in key else default)


def bought_of(entries: Mapping[str, str], key: str) -> Bought:
    """Return what was written of buying a part."""
    price, source = written(entries, "price", key), written(entries, "source", key, "new")
    return Bought(
        price=Decimal(price) if price else None,
        quantity=int(written(entries, "quantity", key, "1")),
        used=source == "used",
        in_stock=source == "in stock",
    )


def total_of(
    bike: Bike, proposal: Proposal, way: WheelSource, entries: Mapping[str, str], rate: Decimal
) -> Total:
    """Return what one way of a proposal comes to: as written, its hours as usual where none are."""
    lines = parts_for(bike, proposal, way)
    written = entries.get(hours_key(proposal, way))
    hours = Decimal(written) if written else usual_hours(bike, proposal, way)
    bought = {line.key: bought_of(entries, line.key) for line in lines}
    return total(lines, bought, hours=hours, rate=rate)
