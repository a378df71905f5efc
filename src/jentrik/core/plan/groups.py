"""What a search found by rim size: from the narrowest to the widest, and what limits it."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from jentrik.core.plan.finder import Found, Map
from jentrik.core.plan.one_end import ASIDE, CANNOT_STAND, CLEAR, STOPS
from jentrik.core.plan.wheel_sizes import LEAST_CHOICE
from jentrik.core.rules import TITLES
from jentrik.core.tire.reading import Reading

WIDEST_TRIED = "the widest that was tried"


def title_of(stop: str) -> str:
    """Return what a stop of a pair is called."""
    return "The wheels would meet" if stop == CANNOT_STAND else TITLES[stop]


@dataclass(frozen=True, slots=True)
class Group:
    """One rim size at an end or at both: nominal widths in mm, and the rule that stops the next."""

    bead_seat_diameter_mm: int
    end: Literal["front", "rear", "both"]
    narrowest_mm: float
    widest_mm: float
    limited_by: str


def groups_of(found: Found) -> tuple[Group, ...]:
    """Return the groups of a search that was small enough to be kept whole, largest rim first."""
    grid = found.grid
    if grid is None:
        return ()
    if len(grid.fronts) > 1 and len(grid.rears) > 1:
        both = list(_both(grid))
        if both:
            return tuple(both)
    groups: list[Group] = []
    for end, sizes in (("front", grid.fronts), ("rear", grid.rears)):
        if len(sizes) > 1:
            groups += _of_end(grid, "front" if end == "front" else "rear", sizes)
    return tuple(groups)


def closed_rims(found: Found, groups: Sequence[Group]) -> tuple[tuple[int, str], ...]:
    """Return the common bead seats without a group, each with the rule that stops most there."""
    grid = found.grid
    if grid is None:
        return ()
    firsts: dict[int, list[int]] = {}
    for sizes, table in ((grid.fronts, grid.first_stop), (grid.rears, grid.first_stop.T)):
        if len(sizes) > 1:
            for size, row in zip(sizes, table, strict=True):
                judged = firsts.setdefault(size.bead_seat_diameter_mm, [])
                judged += [int(one) for one in row[row != ASIDE]]
    open_ = {group.bead_seat_diameter_mm for group in groups}
    tried = {*grid.fronts, *grid.rears}
    closed = []
    for seat in sorted(firsts, reverse=True):
        common = sum(size.bead_seat_diameter_mm == seat for size in tried) >= LEAST_CHOICE
        stops = Counter(one for one in firsts[seat] if one < CLEAR)
        if common and seat not in open_ and stops:
            closed.append((seat, STOPS[stops.most_common(1)[0][0]]))
    return tuple(closed)


def _both(grid: Map) -> Iterator[Group]:
    """Yield the rim sizes on which one tire goes at both ends."""
    rears = {size.text: place for place, size in enumerate(grid.rears)}
    firsts = {
        size.text: int(grid.first_stop[place, rears[size.text]])
        for place, size in enumerate(grid.fronts)
        if size.text in rears
    }
    yield from _grouped("both", grid.fronts, firsts)


def _of_end(grid: Map, end: Literal["front", "rear"], sizes: Sequence[Reading]) -> Iterator[Group]:
    """Yield the rim sizes of one end: a size goes where any pair with it does."""
    table = grid.first_stop if end == "front" else grid.first_stop.T
    firsts = {}
    for place, size in enumerate(sizes):
        row = table[place][table[place] != ASIDE]
        if len(row):
            firsts[size.text] = CLEAR if (row == CLEAR).any() else int(row.max())
    yield from _grouped(end, sizes, firsts)


def _grouped(
    end: Literal["front", "rear", "both"], sizes: Sequence[Reading], firsts: dict[str, int]
) -> Iterator[Group]:
    by_seat: dict[int, list[tuple[float, int]]] = {}
    for size in sizes:
        if size.text in firsts and size.width_mm and firsts[size.text] != ASIDE:
            there = by_seat.setdefault(size.bead_seat_diameter_mm, [])
            there.append((size.width_mm, firsts[size.text]))
    for seat in sorted(by_seat, reverse=True):
        widths = sorted(by_seat[seat])
        clear = [width for width, first in widths if first == CLEAR]
        if clear:
            wider = [first for width, first in widths if width > clear[-1] and first < CLEAR]
            limit = STOPS[wider[0]] if wider else WIDEST_TRIED
            yield Group(seat, end, clear[0], clear[-1], limit)
