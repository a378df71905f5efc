"""What each proposal costs, in exact decimals: parts, hours, and which tire is dear by the year.

    total = sum of quantity x price of what is bought + hours x labour an hour
    range   up to the total with the priced parts someone must still find out about

Another wheel size can be had three ways: the wheel exchanged, a second set beside the old one (it
needs its own rotor, sprocket, ring, tube and tape), or the old hub laced to another rim.  A part
without a price is counted, never guessed.  Hours to start from are common practice.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal, InvalidOperation
from enum import StrEnum

from jentrik.core.amounts import mm
from jentrik.core.errors import OutOfRange
from jentrik.core.figures.spokes import spoke_lengths
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.units import refuse_two_readings
from jentrik.core.work.carry_over import Fate, PartLine, PartRole, parts_of

CENT = Decimal("0.01")
LARGEST = Decimal(1_000_000)


class WheelSource(StrEnum):
    """How another wheel size is had."""

    EXCHANGE = "wheels exchanged"
    SECOND_SET = "a second set"
    RELACE = "old hubs laced anew"


HOURS_A_WHEEL = {"bicycle": Decimal("0.5"), "motorcycle": Decimal("1.0")}
HOURS_TO_LACE = Decimal("2.0")
HOURS_A_PART = Decimal("1.0")  # of fork, headset, shock, link, dropouts
HOURS_TO_TURN = Decimal("0.5")  # of a chip, its bolts torqued and the sag set again


def money(typed: str) -> Decimal:
    """Return an amount as typed, comma or point, in hundredths; refuses anything else."""
    refuse_two_readings(typed.strip())
    text = typed.strip().replace(",", ".")
    try:
        amount = Decimal(text)
    except InvalidOperation:
        amount = Decimal(-1)
    if not amount.is_finite() or not 0 <= amount <= LARGEST or "e" in text.lower():
        raise OutOfRange(f"“{typed.strip()[:20]}” is no amount.", expected="an amount like 34.90")
    return amount.quantize(CENT, ROUND_HALF_UP)


def ways_of(bike: Bike, proposal: Proposal) -> tuple[WheelSource, ...]:
    """Return the ways a proposal can be had; the exchange alone where no other wheel goes in."""
    others = [
        end
        for end in ENDS
        if end not in proposal.owned and bike.wheels.at(end).is_another(getattr(proposal, end))
    ]
    return tuple(WheelSource) if others else (WheelSource.EXCHANGE,)


def parts_for(bike: Bike, proposal: Proposal, way: WheelSource) -> tuple[PartLine, ...]:
    """Return the parts a proposal needs when it is had one way."""
    listed: list[PartLine] = []
    for line in parts_of(bike, proposal):
        hub = line.role is PartRole.OF_THE_HUB
        own = hub or (line.role is PartRole.TUBE and line.fate is Fate.KEEP)
        if way is WheelSource.RELACE and line.role is PartRole.WHEEL:
            seat = _bead_seat(proposal, line.end)
            listed.append(PartLine(f"rim, bead seat {seat} mm", line.end, Fate.BUY))
            listed.append(
                PartLine(
                    "spokes and nipples", line.end, Fate.BUY, _spokes(bike, proposal, line.end)
                )
            )
        elif way is WheelSource.RELACE and hub:
            listed.append(replace(line, fate=Fate.KEEP, why="the hub stays"))
        elif way is WheelSource.SECOND_SET and own:
            listed.append(replace(line, fate=Fate.BUY, why="the set's own"))
        else:
            listed.append(line)
    return tuple(listed)


def _bead_seat(proposal: Proposal, end: str) -> int | None:
    tire = (proposal.front if end == "front" else proposal.rear).tire
    return None if tire is None else tire.bead_seat_diameter_mm


def _spokes(bike: Bike, proposal: Proposal, end: str) -> str:
    """Return how long the spokes must be where the old hub is laced to the new rim."""
    for one in ENDS:
        if one == end:
            old, new = bike.wheels.at(one), proposal.wheels(bike).at(one)
            lengths = spoke_lengths(replace(new, hub=old.hub))
            if lengths is not None:
                return f"left {mm(lengths.left_mm):.1f}, right {mm(lengths.right_mm):.1f}"
    return "to the new length; hub, lacing and effective rim diameter give it"


def usual_work(bike: Bike, proposal: Proposal, way: WheelSource) -> Iterator[tuple[str, Decimal]]:
    """Yield what is done in one go, with the hours to start from; common practice."""
    for end in ENDS:
        change = proposal.front if end == "front" else proposal.rear
        if change.tire is None and end not in proposal.owned:
            continue
        words, hours = f"{end.capitalize()} wheel", HOURS_A_WHEEL[bike.kind]
        if way is WheelSource.RELACE and bike.wheels.at(end).is_another(change):
            words, hours = f"{words}, laced anew", hours + HOURS_TO_LACE
        yield words, hours
    for line in parts_of(bike, proposal):
        if not line.end and line.fate is Fate.BUY:
            yield f"{line.name[:1].upper()}{line.name[1:]} fitted", HOURS_A_PART
    if proposal.position is not None:
        yield "Rear axle set to its position", HOURS_TO_TURN


def usual_hours(bike: Bike, proposal: Proposal, way: WheelSource) -> Decimal:
    """Return the hours to start from; common practice."""
    return sum((hours for _, hours in usual_work(bike, proposal, way)), Decimal(0))


@dataclass(frozen=True, slots=True)
class Bought:
    """What is known of buying one part: its price, how many, used or in stock."""

    price: Decimal | None = None
    quantity: int = 1
    used: bool = False
    in_stock: bool = False

    @property
    def cost(self) -> Decimal | None:
        """What buying it costs; nothing from stock, None without a price."""
        return Decimal(0) if self.in_stock else self.charged

    @property
    def charged(self) -> Decimal | None:
        """What a customer is charged for it: what lies in stock has its price too."""
        if self.price is None:
            return Decimal(0) if self.in_stock else None
        return self.price * self.quantity


@dataclass(frozen=True, slots=True)
class Total:
    """What one way of one proposal comes to, and the parts no one priced.

    `perhaps` is what the priced parts come to that someone must still find out about.
    """

    parts: Decimal
    hours: Decimal
    labour: Decimal
    unpriced: tuple[str, ...]
    perhaps: Decimal = Decimal(0)

    @property
    def whole(self) -> Decimal:
        """Parts and labour."""
        return (self.parts + self.labour).quantize(CENT, ROUND_HALF_UP)

    @property
    def at_most(self) -> Decimal:
        """Parts and labour where every part in doubt must be bought after all."""
        return self.whole + self.perhaps


def total(
    lines: tuple[PartLine, ...], bought: dict[str, Bought], *, hours: Decimal, rate: Decimal
) -> Total:
    """Return what the parts to be bought and the hours come to."""
    parts, perhaps, unpriced = Decimal(0), Decimal(0), []
    for line in lines:
        cost = bought.get(line.key, Bought()).cost
        if line.fate is Fate.ASK:
            perhaps += cost or 0
        if line.fate is not Fate.BUY:
            continue
        if cost is None:
            unpriced.append(f"{line.end} {line.name}".strip())
        else:
            parts += cost
    return Total(
        parts, hours, (hours * rate).quantize(CENT, ROUND_HALF_UP), tuple(unpriced), perhaps
    )


@dataclass(frozen=True, slots=True)
class TireYears:
    """How long a tire lasts by wear and by age, in years, which comes first, its cost a year."""

    by_wear: float | None
    by_age: float | None
    cost_a_year: Decimal | None

    @property
    def first(self) -> str:
        """What comes first: wear or age; nothing where neither is known."""
        if self.by_wear is None or self.by_age is None:
            return "wear" if self.by_wear is not None else "age" if self.by_age is not None else ""
        return "wear" if self.by_wear <= self.by_age else "age"


def tire_years(
    *,
    price: Decimal | None,
    life_km: float | None,
    km_a_year: float | None,
    replace_at_years: float,
    age_years: float,
) -> TireYears:
    """Return how long a tire lasts and what it costs a year."""
    by_wear = life_km / km_a_year if life_km is not None and km_a_year else None
    by_age = max(replace_at_years - age_years, 0.0)
    years = min(one for one in (by_wear, by_age) if one is not None)
    cost = None
    if price is not None and years > 0:
        cost = (price / Decimal(str(years))).quantize(CENT, ROUND_HALF_UP)
    return TireYears(by_wear, by_age, cost)
