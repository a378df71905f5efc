"""Wheel sizes to set beside each other: of each bead seat the pair most like what is on.

A size the frame takes is a pair that no stop speaks against, its widths and heights nearest to
those as found; an end whose bead seat stays keeps its tire.
For machines made for it there is no frame to ask: the geometry stays, the wheels change.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import Wheel, same_size
from jentrik.core.plan.finder import Map, proposal_in
from jentrik.core.plan.one_end import CLEAR
from jentrik.core.tire.reading import Reading

LEAST_CHOICE = 6  # standard sizes that a bead seat of its own column has (common practice)


@dataclass(frozen=True, slots=True)
class SizePair:
    """A front and a rear size, and how many standard sizes sit on the rarer of their bead seats."""

    front: Reading
    rear: Reading
    choice: int

    @property
    def seats(self) -> tuple[int, int]:
        """The bead seats, front and rear, mm."""
        return self.front.bead_seat_diameter_mm, self.rear.bead_seat_diameter_mm

    def proposal(self, bike: Bike) -> Proposal:
        """Return it as an ordinary proposal, or the machine as found where it is that."""
        return proposal_in(bike, self.front, self.rear, None, 0.0)


def pairs_taken(bike: Bike, grid: Map) -> list[SizePair]:
    """Return a pair for each two bead seats a frame takes, rear no bigger than the front."""
    clear = np.argwhere(grid.first_stop == CLEAR)
    found: dict[tuple[int, int], tuple[float, SizePair]] = {}
    for i, j in clear:
        _keep_nearest(bike, found, grid.fronts[i], grid.rears[j], grid.fronts)
    return [pair for _, pair in found.values()]


def pairs_made_for(bike: Bike, sizes: Sequence[Reading]) -> list[SizePair]:
    """Return a pair for each common bead seat, and each with the next smaller one behind.

    Whatever this frame says: they are for machines made for them.
    """
    seats = sorted({size.bead_seat_diameter_mm for size in sizes})
    common = [seat for seat in seats if _on(sizes, seat) >= LEAST_CHOICE]

    def nearest(seat: int, wheel: Wheel) -> Reading:
        there = [size for size in sizes if size.bead_seat_diameter_mm == seat]
        return _kept(min(there, key=lambda one: _apart(one, wheel)), wheel)

    mixed = [(big, small) for small, big in pairwise(common)]
    return [
        SizePair(
            nearest(front, bike.front),
            nearest(rear, bike.rear),
            min(_on(sizes, front), _on(sizes, rear)),
        )
        for front, rear in (*((seat, seat) for seat in common), *mixed)
    ]


def _apart(size: Reading, wheel: Wheel) -> float:
    """Return how far a size is from a wheel's own in mm, its width and section height."""
    on = wheel.tire
    if on is None or same_size(on, size):
        return 0.0
    height = (size.section_height_mm or 0.0) - (on.section_height_mm or 0.0)
    return abs((size.width_mm or 0.0) - (wheel.width_mm or 0.0)) + abs(height)


def _kept(size: Reading, wheel: Wheel) -> Reading:
    """Return the tire that is on where a size sits on its bead seat, else the size."""
    on = wheel.tire
    stays = on is not None and on.bead_seat_diameter_mm == size.bead_seat_diameter_mm
    return on if stays and on is not None else size


def _keep_nearest(
    bike: Bike,
    found: dict[tuple[int, int], tuple[float, SizePair]],
    front: Reading,
    rear: Reading,
    sizes: Sequence[Reading],
) -> None:
    seats = front.bead_seat_diameter_mm, rear.bead_seat_diameter_mm
    if seats[1] > seats[0]:
        return
    apart = _apart(front, bike.front) + _apart(rear, bike.rear)
    if seats not in found or apart < found[seats][0]:
        choice = min(_on(sizes, seats[0]), _on(sizes, seats[1]))
        pair = SizePair(_kept(front, bike.front), _kept(rear, bike.rear), choice)
        found[seats] = apart, pair


def _on(sizes: Sequence[Reading], seat: int) -> int:
    return sum(size.bead_seat_diameter_mm == seat for size in sizes)


def usual_columns(bike: Bike, pairs: Sequence[SizePair]) -> list[SizePair]:
    """Return three pairs to begin with, of the bead seats with most sizes to choose from.

    A bicycle: two sizes for both ends, and one that keeps the size of one end.  A motorcycle, whose
    ends differ as a rule: two that keep one end, and one for both.
    """
    on = [tire.bead_seat_diameter_mm if tire else 0 for tire in (bike.front.tire, bike.rear.tire)]
    others = sorted(
        (pair for pair in pairs if pair.seats != (on[0], on[1])), key=lambda one: -one.choice
    )
    both = [other for other in others if other.seats[0] == other.seats[1]]
    mixed = [
        other
        for other in others
        if other.seats[0] != other.seats[1] and (other.seats[0] == on[0] or other.seats[1] == on[1])
    ]
    first, second = (both, mixed) if bike.kind == "bicycle" else (mixed, both)
    return [*first[:2], *second[:1]]
