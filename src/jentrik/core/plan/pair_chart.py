"""The widths that go at one end beside what is chosen at the other: a row for each rim size.

Every bar is read from the pairs a search judged, so the rules of a pair (head angle, trail, speed
of the wheels, stops) are drawn in: another size at one end gives the other end other bars.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from jentrik.core.machine.declared import ENDS, End
from jentrik.core.plan.finder import Found, Map
from jentrik.core.plan.groups import WIDEST_TRIED, title_of
from jentrik.core.plan.one_end import ASIDE, CLEAR, STOPS
from jentrik.core.plan.wheel_sizes import LEAST_CHOICE
from jentrik.core.plan.width_chart import Tick, WidthRow
from jentrik.core.tire.reading import Reading

Pair = tuple[str, str]  # the marks of a front and a rear tire


@dataclass(frozen=True, slots=True)
class PairRow:
    """A row of the chart, and the pair that each of its sizes stands for."""

    row: WidthRow
    pairs: dict[str, Pair]


def pair_rows(found: Found, chosen: tuple[int, int] | None) -> tuple[PairRow, ...]:
    """Return the rows of both ends, the largest rim first; `chosen` are places in the map.

    A size of another rim than the one chosen stands for the same tire at both ends, where the
    search keeps to one rim; an end of which no size was looked for has no rows.
    """
    grid = found.grid
    if grid is None:
        return ()
    return tuple(row for end in ENDS for row in _rows(found, grid, end, chosen))


def _rows(found: Found, grid: Map, end: End, chosen: tuple[int, int] | None) -> Iterator[PairRow]:
    sizes, others = (grid.fronts, grid.rears) if end == "front" else (grid.rears, grid.fronts)
    if len(sizes) < 2:
        return
    by_seat: dict[int, list[tuple[Reading, int, Pair]]] = {}
    for place, size in enumerate(sizes):
        beside = _beside(grid, end, place, others, chosen)
        if beside is not None and size.width_mm:
            first, other = beside
            pair = (size.text, others[other].text)
            there = by_seat.setdefault(size.bead_seat_diameter_mm, [])
            there.append((size, first, pair if end == "front" else pair[::-1]))
    at = chosen and sizes[chosen[ENDS.index(end)]]
    for seat in sorted(by_seat, reverse=True):
        judged = sorted(by_seat[seat], key=lambda one: (one[0].width_mm or 0.0, -one[1]))
        row = _row(found, end, seat, judged, at)
        if row is not None and (row.row.ticks or len(judged) >= LEAST_CHOICE):
            yield row


def _beside(
    grid: Map, end: End, place: int, others: tuple[Reading, ...], chosen: tuple[int, int] | None
) -> tuple[int, int] | None:
    """Return the first stop of a size beside what is chosen, and the place of that other size."""
    table = grid.first_stop if end == "front" else grid.first_stop.T
    row, text = table[place], (grid.fronts if end == "front" else grid.rears)[place].text
    same = next((at for at, other in enumerate(others) if other.text == text), None)
    first = chosen[1 - ENDS.index(end)] if chosen else None
    for at in (first, same, *row.argsort()[::-1].tolist()):
        if at is not None and row[at] != ASIDE:
            return int(row[at]), int(at)
    return None


def _row(
    found: Found,
    end: End,
    seat: int,
    judged: list[tuple[Reading, int, Pair]],
    chosen: Reading | None,
) -> PairRow | None:
    """Return one rim size: from the narrowest that goes to the widest; None where none goes."""
    goes: dict[float, tuple[Reading, Pair]] = {}
    for size, first, pair in judged:
        if first == CLEAR:
            goes.setdefault(size.width_mm or 0.0, (size, pair))
    if not goes:
        return None
    least, most = min(goes), max(goes)
    wider = [first for size, first, _ in judged if (size.width_mm or 0.0) > most]
    narrower = [first for size, first, _ in judged if (size.width_mm or 0.0) < least]
    named = (("on it", found.found.bike.wheels.at(end).tire), ("chosen", chosen))
    ticks = tuple(
        Tick(name, tire.width_mm, least <= tire.width_mm <= most)
        for name, tire in named
        if tire is not None and tire.width_mm and tire.bead_seat_diameter_mm == seat
    )
    row = WidthRow(
        end,
        seat,
        least,
        title_of(STOPS[narrower[-1]]) if narrower else "",
        most,
        title_of(STOPS[wider[0]]) if wider else WIDEST_TRIED,
        "",
        tuple(size for size, _ in goes.values()),
        ticks,
    )
    return PairRow(row, {size.text: pair for size, pair in goes.values()})
