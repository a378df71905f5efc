"""What was written on a job's order list, by key, and what a way of a proposal comes to with it."""

from collections.abc import Callable, Mapping
from decimal import Decimal
from enum import StrEnum

from jentrik.core.days import read_day
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.text import counted, external_key, one_line
from jentrik.core.units import read_figure
from jentrik.core.work.cost import Bought, Total, WheelSource, money, parts_for, total, usual_hours


class OrderState(StrEnum):
    """How far a part is."""

    OPEN = "to order"
    ORDERED = "ordered"
    ARRIVED = "arrived"
    SENT_BACK = "sent back"


SOURCES = ("new", "used", "in stock")
OLD_PARTS = ("returned", "kept by the shop", "thrown away")
MOST_PIECES, LONGEST_SUPPLIER = 200, 40
MOST_YEARS, MOST_SWAPS = 50, 100
KINDS = (
    *("price", "quantity", "source", "hours", "life", "supplier", "state", "since", "place"),
    "external_id",
    *("km-a-year", "years", "swaps-a-year", "way", "old-parts"),
)


def hours_key(proposal: Proposal, way: WheelSource) -> str:
    """Return the key under which the hours of one way of a proposal are written."""
    return f"hours:{proposal.name}:{way}"


def way_key(proposal: str) -> str:
    """Return the key under which the way a proposal is had is written."""
    return f"way:{proposal}"


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


def _chosen(text: str, among: tuple[str, ...]) -> str:
    """Return a word that is one of those to choose from; refuses any other."""
    if text not in among:
        words = ", ".join(among)
        raise OutOfRange(f"Choose one of {words}.", expected=words)
    return text


_READ: dict[str, Callable[[str], str]] = {
    "supplier": lambda text: one_line(text, most=LONGEST_SUPPLIER),
    "place": lambda text: one_line(text, most=LONGEST_SUPPLIER),
    "external_id": external_key,
    "since": lambda text: read_day(text).isoformat(),
    "way": lambda text: _chosen(text, tuple(WheelSource)),
    "old-parts": lambda text: _chosen(text, OLD_PARTS),
}
_MOST = {"quantity": MOST_PIECES, "years": MOST_YEARS, "swaps-a-year": MOST_SWAPS}


def checked_entry(key: str, typed: str) -> str:
    """Return an entry as it is kept; refuses what cannot stand there."""
    kind = key.partition(":")[0]
    text = typed.strip()
    if not text:
        return ""
    if kind in ("price", "hours"):
        return f"{money(text):f}"
    if kind == "source":
        return "" if _chosen(text, SOURCES) == SOURCES[0] else text
    if kind in _READ:
        return _READ[kind](text)
    if kind == "state":
        return "" if _chosen(text, tuple(OrderState)) == OrderState.OPEN else text
    if kind in ("life", "km-a-year") and text[-1:].isalpha():  # in another unit
        text = f"{read_figure(text, unit='km'):.0f}"
    most = _MOST.get(kind, 1_000_000)
    number = counted(text, most=most)
    if not number:
        raise OutOfRange(
            f"“{text[:20]}” is no whole number from 1 to {most}.", expected="a whole number"
        )
    return "" if kind == "quantity" and number == 1 else str(number)
