"""What is offered of one way of a proposal: parts and work line by line, tax, what is not in it.

    sum of a line = pieces x unit price; of work = hours x rate, each to the hundredth, half up
    tax within a gross sum = gross x percent / (100 + percent); added to a net one = net x percent
    total = all sums with their tax, rounded to the shop's smallest coin, half up

A sum is a total only where every part that is bought has a price.  What may still be needed is
named beside it and is not in it.  Source: arithmetic; rates, rounding and school are the shop's.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.work.carry_over import Fate, PartLine
from jentrik.core.work.cost import CENT, WheelSource, parts_for, usual_work, ways_of
from jentrik.core.work.order_entries import bought_of, total_of, way_key
from jentrik.core.work.policy import Money, MoneyWritten, RoundTo, TaxSchool


@dataclass(frozen=True, slots=True)
class OfferLine:
    """One part to be bought: the key of its order line, its name and size, pieces and price."""

    key: str
    part: str
    size: str
    pieces: int
    unit_price: Decimal | None
    sum: Decimal | None
    tax_percent: Decimal
    used: bool = False


@dataclass(frozen=True, slots=True)
class WorkLine:
    """Work done in one go: what, hours, their rate and what they come to."""

    what: str
    hours: Decimal
    rate: Decimal
    sum: Decimal
    tax_percent: Decimal


@dataclass(frozen=True, slots=True)
class TaxLine:
    """The tax of one rate, and the sum that it is of without it."""

    percent: Decimal
    net: Decimal
    tax: Decimal


@dataclass(frozen=True, slots=True)
class Offer:
    """What a customer is offered; `total` is None while a part that is bought has no price."""

    proposal: str
    way: WheelSource
    lines: tuple[OfferLine, ...]
    work: tuple[WorkLine, ...]
    maybe: tuple[OfferLine, ...]  # needed only if the work shows it, in no sum
    kept: tuple[str, ...]
    money: Money

    @property
    def not_priced(self) -> tuple[str, ...]:
        """The parts in no sum because no one priced them."""
        return tuple(line.part for line in self.lines if line.sum is None)

    @property
    def taxes(self) -> tuple[TaxLine, ...]:
        """The tax of what is priced, a line a rate; none where the shop sets none."""
        gross: dict[Decimal, Decimal] = {}
        parts = [(line.tax_percent, line.sum) for line in self.lines]
        for percent, comes_to in (*parts, *((line.tax_percent, line.sum) for line in self.work)):
            if percent and comes_to:
                gross[percent] = gross.get(percent, Decimal(0)) + comes_to
        return tuple(self._tax(percent, gross[percent]) for percent in sorted(gross))

    def _tax(self, percent: Decimal, sum_: Decimal) -> TaxLine:
        if self.money.tax is TaxSchool.ADDED:
            return TaxLine(percent, sum_, _rounded(sum_ * percent / 100, CENT))
        tax = _rounded(sum_ * percent / (100 + percent), CENT)
        return TaxLine(percent, sum_ - tax, tax)

    @property
    def parts_sum(self) -> Decimal:
        """What the priced parts come to, as the lines stand."""
        return sum((line.sum for line in self.lines if line.sum is not None), Decimal(0))

    @property
    def work_sum(self) -> Decimal:
        """What the work comes to, as the lines stand."""
        return sum((line.sum for line in self.work), Decimal(0))

    @property
    def exact(self) -> Decimal:
        """What everything priced comes to with its tax, before it is rounded."""
        added = self.money.tax is TaxSchool.ADDED
        taxes = sum((one.tax for one in self.taxes), Decimal(0)) if added else Decimal(0)
        return self.parts_sum + self.work_sum + taxes

    @property
    def priced_so_far(self) -> Decimal:
        """What everything priced comes to, tax in it, to the smallest coin."""
        return _rounded(self.exact, Decimal(self.money.round_to))

    @property
    def total(self) -> Decimal | None:
        """What is paid in all; None while a part has no price."""
        return None if self.not_priced else self.priced_so_far

    def written(self, amount: Decimal) -> str:
        """Return an amount as the shop writes it, with its currency."""
        return in_money(amount, self.money)

    def bare(self, amount: Decimal) -> str:
        """Return an amount as the shop writes it, for a column that names the currency."""
        return bare_amount(amount, self.money)


def in_money(amount: Decimal, money: Money) -> str:
    """Return an amount as the shop writes it, with its currency."""
    text = bare_amount(amount, money)
    before = money.written is MoneyWritten.BEFORE
    return f"{money.currency} {text}" if before else f"{text} {money.currency}"


def bare_amount(amount: Decimal, money: Money) -> str:
    """Return an amount as the shop writes it, the currency said elsewhere."""
    whole = money.round_to is RoundTo.WHOLE and amount == amount.to_integral_value()
    text = f"{amount:.{0 if whole else 2}f}".replace("-", "\u2212")
    return text.replace(".", ",") if money.written is MoneyWritten.COMMA else text


def offer_of(bike: Bike, proposal: Proposal, entries: Mapping[str, str], money: Money) -> Offer:
    """Return what one proposal is offered for, as its order list is written.

    It is had the way that is written; else the one that leaves the fewest parts without a price,
    of those the cheapest.
    """
    way = _way(bike, proposal, entries, money)
    parts = parts_for(bike, proposal, way)
    rate = Decimal(str(money.labour_an_hour))
    hours = total_of(bike, proposal, way, entries, rate).hours
    tax = Decimal(str(money.tax_parts_percent))
    return Offer(
        proposal.name,
        way,
        tuple(_line(one, entries, tax) for one in parts if one.fate is Fate.BUY),
        tuple(_work(bike, proposal, way, hours, money)),
        tuple(_line(one, entries, tax) for one in parts if one.fate is Fate.ASK),
        tuple(dict.fromkeys(_named(one)[0] for one in parts if one.fate is Fate.KEEP)),
        money,
    )


def _way(bike: Bike, proposal: Proposal, entries: Mapping[str, str], money: Money) -> WheelSource:
    ways, written = ways_of(bike, proposal), entries.get(way_key(proposal.name))
    if written in ways:
        return WheelSource(written)
    rate = Decimal(str(money.labour_an_hour))

    def cost(way: WheelSource) -> tuple[int, Decimal]:
        whole = total_of(bike, proposal, way, entries, rate)
        return len(whole.unpriced), whole.whole

    return min(ways, key=cost)


def _line(part: PartLine, entries: Mapping[str, str], tax_percent: Decimal) -> OfferLine:
    bought = bought_of(entries, part.key)
    name, size = _named(part)
    price = Decimal(0) if bought.price is None and bought.in_stock else bought.price
    return OfferLine(
        part.key, name, size, bought.quantity, price, bought.charged, tax_percent, bought.used
    )


def _named(part: PartLine) -> tuple[str, str]:
    """Return a part's name, with its end, and its size where the name of the order holds one."""
    name, size = part.name, ""
    if name.startswith("tire "):
        name, size = "tire", name.removeprefix("tire ")
    elif ", " in name:
        name, _, size = name.partition(", ")
    words = f"{part.end} {name}".strip()
    return words[:1].upper() + words[1:], size


def _work(
    bike: Bike, proposal: Proposal, way: WheelSource, hours: Decimal, money: Money
) -> Iterator[WorkLine]:
    """Yield the work by what is done in one go; typed hours are shared as the usual ones are."""
    usual = dict(usual_work(bike, proposal, way))
    if not hours:
        return
    if not usual:
        usual = {"Work": hours}
    whole = sum(usual.values(), Decimal(0))
    rate, tax = Decimal(str(money.labour_an_hour)), Decimal(str(money.tax_work_percent))
    left_hours, left_sum = hours, _rounded(hours * rate, CENT)
    for place, (what, share) in enumerate(usual.items(), start=1):
        last = place == len(usual)
        of_it = left_hours if last else _rounded(hours * share / whole, CENT)
        comes_to = left_sum if last else _rounded(of_it * rate, CENT)
        left_hours, left_sum = left_hours - of_it, left_sum - comes_to
        yield WorkLine(what, of_it, rate, comes_to, tax)


def _rounded(amount: Decimal, coin: Decimal) -> Decimal:
    return (amount / coin).quantize(Decimal(1), ROUND_HALF_UP) * coin


def moved_since(parts: Decimal, work: Decimal, offer: Offer) -> tuple[tuple[str, Decimal], ...]:
    """Return what the sums of an agreed offer came to move since: parts, work; none where equal."""
    moved = (("Parts", offer.parts_sum - parts), ("Work", offer.work_sum - work))
    return tuple((name, by) for name, by in moved if by)
