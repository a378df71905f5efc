"""Other standard designations for the same rim, and every name of a bicycle rim.

A size is near where its overall diameter and width lie in a chosen window; the nearest come
first.  Nearness is arithmetic and no more: the vehicle maker's list decides what may be fitted,
and 4.00-18 is not exactly 100/100-18.  Sources: the list of standard sizes, ISO 5775-1.
"""

from dataclasses import dataclass
from functools import cache

from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.iso5775 import DECIMAL_INCH_MM, FRACTIONAL_INCH_MM, FRENCH_MM
from jentrik.core.tire.tables.iso5775 import TWO_FRACTION_INCH_MM as TWO_FRACTIONS
from jentrik.core.tire.tables.standard_sizes import MARKS

DIAMETER_WINDOW_PERCENT = 3.0
WIDTH_WINDOW_MM = 15.0
MM_PER_KM = 1_000_000.0


@dataclass(frozen=True, slots=True)
class Equivalent:
    """Another size for the same rim: differences are that size minus the one asked about."""

    reading: Reading
    diameter_mm: float
    diameter_change_percent: float
    width_change_mm: float
    turns_change_per_km: float
    source: str


@cache
def _standard_readings() -> tuple[tuple[Reading, str], ...]:
    return tuple((read_code(mark), source) for mark, source in MARKS.items())


def equivalents(
    reading: Reading,
    *,
    diameter_window_percent: float = DIAMETER_WINDOW_PERCENT,
    width_window_mm: float = WIDTH_WINDOW_MM,
) -> tuple[Equivalent, ...]:
    """Return the other standard sizes for this rim inside the windows, the nearest first.

    Nothing is near a mark whose width or diameter is unknown.
    """
    diameter, width = reading.overall_diameter_mm, reading.width_mm
    if diameter is None or width is None:
        return ()
    near = []
    for other, source in _standard_readings():
        if not _another_for_this_rim(reading, other):
            continue
        equal = _compared(other, source, diameter, width)
        within = abs(equal.diameter_change_percent) <= diameter_window_percent
        if within and abs(equal.width_change_mm) <= width_window_mm:
            near.append(equal)
    return tuple(sorted(near, key=_distance))


def _another_for_this_rim(reading: Reading, other: Reading) -> bool:
    same = (other.width_mm, other.section_height_mm, other.construction) == (
        reading.width_mm,
        reading.section_height_mm,
        reading.construction,
    )
    return (
        other.vehicle == reading.vehicle
        and other.bead_seat_diameter_mm == reading.bead_seat_diameter_mm
        and not (same and other.family == reading.family)
    )


def _compared(other: Reading, source: str, diameter: float, width: float) -> Equivalent:
    assert other.overall_diameter_mm is not None
    assert other.width_mm is not None
    assert other.circumference_mm is not None
    turns = MM_PER_KM / other.circumference_mm
    return Equivalent(
        reading=other,
        diameter_mm=other.overall_diameter_mm,
        diameter_change_percent=(other.overall_diameter_mm / diameter - 1) * 100,
        width_change_mm=other.width_mm - width,
        turns_change_per_km=turns - turns * other.overall_diameter_mm / diameter,
        source=source,
    )


def _distance(equal: Equivalent) -> tuple[float, float]:
    """Return how far a size lies off, diameter and width in steps of their windows."""
    diameter = abs(equal.diameter_change_percent) / DIAMETER_WINDOW_PERCENT
    width = abs(equal.width_change_mm) / WIDTH_WINDOW_MM
    return round(diameter + width, 9), equal.diameter_mm


def names_of_rim(bead_seat_diameter_mm: int) -> tuple[str, ...]:
    """Return every name of a bicycle bead seat, as it would be marked."""
    decimal = [
        f"{name} x 1.75" if float(name.split()[0]) < 27 else f"{name} x 2.1"
        for name, bead in DECIMAL_INCH_MM.items()
        if bead == bead_seat_diameter_mm
    ]
    fractional = [
        f"{name} x {width}"
        for (name, width), beads in FRACTIONAL_INCH_MM.items()
        if bead_seat_diameter_mm in beads
    ]
    double = [
        f"{name} x {' x '.join(sorted(widths, reverse=True))}"
        for (name, widths), beads in TWO_FRACTIONS.items()
        if bead_seat_diameter_mm in beads
    ]
    french = [name for name, bead in FRENCH_MM.items() if bead == bead_seat_diameter_mm]
    return (*decimal, *fractional, *double, *french)
