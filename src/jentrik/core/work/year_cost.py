"""What one way of a proposal costs by the swap and by the year, in exact decimals.

    a year = tires, each by the year it lasts + all else bought and the work / years counted
             + swaps a year x hours of a swap x labour an hour

A swap is one way: from one set-up to the other.  Wheels that are owned, or a second set, go in
whole; tires alone are changed on their rims; with other parts and a chip the whole set-up goes.
Where the old wheel went away or its hub was laced anew there is nothing to swap to.  Hours are
those the order list starts from, common practice.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.work.cost import CENT, Total, WheelSource, usual_hours, ways_of


@dataclass(frozen=True, slots=True)
class LastingTire:
    """A tire that is bought: what it costs, and what that is a year of its life."""

    cost: Decimal
    a_year: Decimal


def swap_hours(bike: Bike, proposal: Proposal, way: WheelSource) -> Decimal | None:
    """Return the hours of one swap between two set-ups; None where the old one is gone."""
    other_wheels = WheelSource.SECOND_SET in ways_of(bike, proposal)
    if other_wheels and way is not WheelSource.SECOND_SET:
        return None
    return usual_hours(bike, proposal, WheelSource.EXCHANGE)


def a_year(whole: Total, tires: Sequence[LastingTire], *, years: int, swaps: Decimal) -> Decimal:
    """Return what a way costs a year, counted over some years; `swaps` is what a year's cost."""
    once = whole.whole - sum((tire.cost for tire in tires), Decimal(0))
    lasting = sum((tire.a_year for tire in tires), Decimal(0))
    return (once / years + lasting + swaps).quantize(CENT, ROUND_HALF_UP)
