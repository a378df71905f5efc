"""How wide it may be, for every rim size that could stand in a machine: what limits each end.

The narrowest is what the rim takes, by its inner width; the widest is what the rim takes or what
the room leaves, whichever is less.  Where a rim's inner width is not known, only the room speaks.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from jentrik.core.amounts import mm
from jentrik.core.figures.room import Widest
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import Outcome, PlanResult, widest_of
from jentrik.core.plan.sizes import standard_sizes
from jentrik.core.plan.wheel_sizes import LEAST_CHOICE
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.tables.motorcycle_rims import tire_widths
from jentrik.core.tire.tables.rim_width import bicycle_tire_widths
from jentrik.core.tire.tire_on_rim import hookless_least_mm

Seat = tuple[End, float]


@dataclass(frozen=True, slots=True)
class Tick:
    """A tire on the chart: whose it is, its width, and whether it is inside the bar."""

    name: str
    width_mm: float
    goes: bool


@dataclass(frozen=True, slots=True)
class WidthRow:
    """One rim size at one end: from the narrowest to the widest in mm, and what limits each.

    `missing` names the figure without which the rim says nothing; `sizes` are the standard tires
    of it between the two ends.
    """

    end: End
    bead_seat_diameter_mm: int
    narrowest_mm: float
    narrowest_by: str
    widest_mm: float
    limited_by: str
    missing: str
    sizes: tuple[Reading, ...]
    ticks: tuple[Tick, ...]


def width_rows(
    result: PlanResult,
    outcomes: Mapping[str, Outcome],
    rims_mm: Mapping[Seat, float],
    *,
    rare: bool = False,
) -> tuple[WidthRow, ...]:
    """Return the rows of both ends, the largest rim first; `outcomes` are proposals by name.

    `rims_mm` are inner widths known of other wheels, by end and bead seat; rims that few tires
    are made for come with `rare` alone, but for those that are on it or proposed.
    """
    rows = []
    for room in widest_of(result):
        sizes = _sizes(result.bike, room)
        if room.width_mm is None or not sizes:
            continue
        row = _row(result.bike, room, sizes, outcomes, rims_mm)
        if row is not None and (row.ticks or len(sizes) >= (1 if rare else LEAST_CHOICE)):
            rows.append(row)
    return tuple(sorted(rows, key=lambda row: (row.end != "front", -row.bead_seat_diameter_mm)))


def _sizes(bike: Bike, room: Widest) -> list[Reading]:
    """Return the standard tires of a rim size, a motorcycle's at the aspect found alone."""
    tire = bike.wheels.at(room.wheel).tire
    found: dict[float, Reading] = {}
    for size in standard_sizes(bike.kind):
        if size.bead_seat_diameter_mm != room.bead_seat_diameter_mm or not size.width_mm:
            continue
        if bike.kind == "bicycle" or (tire and _aspect(size) == _aspect(tire)):
            found.setdefault(size.width_mm, size)
    return [found[width] for width in sorted(found)]


def _aspect(tire: Reading) -> float | None:
    if not tire.section_height_mm or not tire.width_mm:
        return None
    return round(tire.section_height_mm / tire.width_mm, 2)


def _row(
    bike: Bike,
    room: Widest,
    sizes: list[Reading],
    outcomes: Mapping[str, Outcome],
    rims_mm: Mapping[Seat, float],
) -> WidthRow | None:
    end, seat = room.wheel, int(room.bead_seat_diameter_mm)
    found, widest, limited = bike.wheels.at(end), room.width_mm or 0.0, room.limited_by
    least, by, missing = sizes[0].width_mm or 0.0, "narrowest there is", ""
    rim = _rim_mm(found, seat) or rims_mm.get((end, seat))
    takes = None if rim is None else _rim_takes(bike, found, rim)
    if takes is None:
        missing = "rim not measured" if rim is None else "no table of this rim"
    else:
        least, by = takes[0], f"rim from {mm(takes[0]):.0f}"
        if takes[1] < widest:
            widest, limited = takes[1], f"rim to {mm(takes[1]):.0f}"
    if widest < least:
        return None
    inside = tuple(size for size in sizes if least <= (size.width_mm or 0.0) <= widest)
    ticks = tuple(_ticks(found, end, seat, widest, outcomes))
    return WidthRow(end, seat, least, by, widest, limited, missing, inside, ticks)


def _rim_mm(wheel: Wheel, seat: int) -> float | None:
    """Return the inner width of the rim that is on, where it is of that bead seat."""
    on_it = wheel.tire is not None and wheel.tire.bead_seat_diameter_mm == seat
    return wheel.rim.inner_width_mm if on_it and wheel.rim else None


def _rim_takes(bike: Bike, wheel: Wheel, rim_mm: float) -> tuple[float, float] | None:
    """Return the narrowest and widest tire a rim takes by the tables, mm; None without a row."""
    if bike.kind == "motorcycle":
        return tire_widths(rim_mm)
    widths = bicycle_tire_widths(rim_mm)
    if widths is None:
        return None
    least = float(widths[0])
    if wheel.rim is not None and wheel.rim.hooks == "hookless":
        least = max(least, hookless_least_mm(rim_mm))
    return least, float(widths[1])


def _ticks(
    found: Wheel, end: End, seat: int, widest: float, outcomes: Mapping[str, Outcome]
) -> Iterator[Tick]:
    """Yield the tire that is there and those proposed, where they sit on this bead seat."""
    named: Iterable[tuple[str, Reading | None]] = [
        ("on it", found.tire),
        *(
            (name, outcome.figures.wheels.at(end).tire)
            for name, outcome in outcomes.items()
            if getattr(outcome.proposal, end).tire is not None
        ),
    ]
    for name, tire in named:
        if tire is not None and tire.width_mm and tire.bead_seat_diameter_mm == seat:
            yield Tick(name, tire.width_mm, tire.width_mm <= widest)


def in_words(rows: Iterable[WidthRow], outcomes: Mapping[str, Outcome]) -> str:
    """Return the answer in a sentence or two: the sizes that are on it and those proposed."""
    seats: dict[int, list[str]] = {}
    asked = {
        (end, tire.bead_seat_diameter_mm)
        for outcome in outcomes.values()
        for end in ENDS
        if (tire := outcome.figures.wheels.at(end).tire) is not None
    }
    for row in rows:
        on_it = any(tick.name == "on it" for tick in row.ticks)
        if on_it or (row.end, row.bead_seat_diameter_mm) in asked:
            limit = f"{row.limited_by[:1].lower()}{row.limited_by[1:]}"
            said = f"{mm(row.widest_mm):g} at the {row.end}, {limit}"
            seats.setdefault(row.bead_seat_diameter_mm, []).append(said)
    return " ".join(f"{seat}: {'; '.join(said)}." for seat, said in seats.items())
