"""The sizes a search tries: standard designations, or codes that were given."""

from collections.abc import Iterable, Mapping
from functools import lru_cache

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.machine.declared import End, Kind
from jentrik.core.machine.machine import Bike
from jentrik.core.plan.remedies import with_service_of
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.standard_sizes import MARKS

MOST_CODES = 2000


@lru_cache(maxsize=2)
def standard_sizes(kind: Kind) -> tuple[Reading, ...]:
    """Return the standard designations of a kind of machine whose diameter is known."""
    read = (read_code(mark) for mark in MARKS)
    return tuple(one for one in read if one.vehicle == kind and one.overall_diameter_mm is not None)


LEAST_SHARE, MOST_SHARE = 0.75, 1.5  # of the width found: what a mechanic would mount


def usual_sizes(
    bike: Bike, end: End, sizes: Iterable[Reading], widths_mm: tuple[float, float] | None = None
) -> tuple[Reading, ...]:
    """Return the sizes a mechanic would mount at an end: like what is on it, or of widths asked.

    Of its family and casing, carrying no less, from three quarters of its width to one and a half
    times.  A motorcycle size gets the load, speed and tube of the tire that is on.
    """
    tire = bike.wheels.at(end).tire
    if tire is None:
        return tuple(sizes)
    least, most = widths_mm or (0.0, float("inf"))
    if widths_mm is None and tire.width_mm:
        least, most = tire.width_mm * LEAST_SHARE, tire.width_mm * MOST_SHARE
    kept = []
    for size in sizes:
        alike = bike.kind == "bicycle" or size.family == tire.family
        built = None in (size.construction, tire.construction)
        built = built or size.construction == tire.construction
        carries = None in (size.load_index, tire.load_index)
        carries = carries or (size.load_index or 0) >= (tire.load_index or 0)
        if alike and built and carries and least <= (size.width_mm or 0.0) <= most:
            kept.append(with_service_of(tire, size))
    return tuple(kept)


def on_one_rim(bike: Bike) -> bool:
    """Whether both tires sit on one bead seat, as far as they are known."""
    seats = {wheel.tire.bead_seat_diameter_mm for wheel in (bike.front, bike.rear) if wheel.tire}
    return len(seats) < 2


def marks_on(bike: Bike) -> tuple[str | None, str | None]:
    """Return the marks of the tires that are on."""
    front, rear = (wheel.tire.text if wheel.tire else None for wheel in (bike.front, bike.rear))
    return front, rear


def sizes_of(codes: Iterable[str]) -> tuple[Reading, ...]:
    """Return sizes as given, each once; refuses a code that cannot be read or has no diameter."""
    found: dict[str, Reading] = {}
    for place, code in enumerate(codes):
        with blamed_on(f"[{place}]"):
            if place >= MOST_CODES:
                raise OutOfRange(f"At most {MOST_CODES} codes are tried.", expected="fewer codes")
            one = read_code(code)
            if one.overall_diameter_mm is None:
                raise OutOfRange(
                    f"“{code[:40]}” names no width; add it, like 700x38C.",
                    expected="a tire code with a width",
                )
            found.setdefault(one.text, one)
    return tuple(found.values())


def prices_of(priced: Mapping[str, float | None]) -> dict[str, float]:
    """Return the price of each size that has one, by its code as read; refuses what is no code."""
    return {read_code(code).text: price for code, price in priced.items() if price is not None}
