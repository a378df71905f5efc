r"""One mark read: a size and the words behind it, and what follows from them.

    mark  =  size { descriptor }

Section and overall sizes are nominal, unloaded:

    overall diameter = bead seat diameter + 2 x section height;  circumference = pi x that

Sources: UN Regulation 75, ISO 5775; the sums are arithmetic.
"""

import math
from collections.abc import Callable
from functools import partial
from typing import NamedTuple

from jentrik.core.tire import bicycle, flotation, inch, metric
from jentrik.core.tire.descriptors import Descriptors, read_descriptor
from jentrik.core.tire.sizes import Construction, Family, OtherRim, SizeMark, Vehicle
from jentrik.core.tire.tables.iso5775 import BEAD_SEAT_NAMES, FRENCH_COMMONEST, SMALL_WHEELS_MM
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.motorcycle_sizes import LETTER_WIDTH_MM
from jentrik.core.tire.tables.speed_symbol import MAKER_MUST_CONFIRM, SPEED_KMH, ZR_ABOVE_KMH
from jentrik.core.tire.tokens import CROSSES, Cursor, Token

SizeReader = Callable[[Cursor], SizeMark | None]

BRACKETS_NOTE = (
    "Brackets round load and speed: the tire is made for more than the symbol; the maker must "
    "confirm how much."
)
FAST_NOTE = (
    "Near top speed this tire may carry less than its index says; the maker must confirm load "
    "and speed."
)


class Reading(NamedTuple):
    """What a tire code says.  Lengths in mm, loads in kg, speeds in km/h; unknown is None.

    A named tuple: it is made many thousand times a second.
    """

    text: str
    family: Family
    vehicle: Vehicle
    width_mm: float | None
    aspect_percent: float | None
    construction: Construction | None
    rim_code: str | None
    bead_seat_diameter_mm: int
    section_height_mm: float | None
    load_index: int | None
    speed_symbol: str | None
    tube: str | None
    position: str | None
    markings: tuple[str, ...]
    tokens: tuple[Token, ...]
    notes: tuple[str, ...]
    alternatives: tuple[OtherRim, ...]
    also: tuple["Reading", ...] = ()
    exactness: int = 1

    @property
    def overall_diameter_mm(self) -> float | None:
        """The nominal overall diameter in mm, unloaded; None without a section height."""
        if self.section_height_mm is None:
            return None
        return self.bead_seat_diameter_mm + 2 * self.section_height_mm

    @property
    def circumference_mm(self) -> float | None:
        """The nominal circumference in mm, unloaded; None without a section height."""
        diameter = self.overall_diameter_mm
        return None if diameter is None else math.pi * diameter

    @property
    def load_kg(self) -> float | None:
        """The tire's own greatest load in kg."""
        return None if self.load_index is None else LOAD_KG.get(self.load_index)

    @property
    def speed_kmh(self) -> int | None:
        """The speed of the symbol in km/h; for a bare ZR the speed it lies above."""
        if self.speed_symbol == "ZR":
            return ZR_ABOVE_KMH
        return None if self.speed_symbol is None else SPEED_KMH[self.speed_symbol]


def read_mark(cursor: Cursor, vehicle: str | None) -> Reading | None:
    """Read one mark, a size and the words behind it; None where no size begins here.

    Refuses a load index that does not exist with `CodeError`.
    """
    first_token = len(cursor.tokens)
    start = cursor.position
    size = _read_size(cursor, vehicle)
    if size is None:
        return None
    found = Descriptors()
    while read_descriptor(cursor, found):
        pass
    end = cursor.pieces[cursor.index - 1].end
    return Reading(
        text=cursor.text[start:end],
        family=size.family,
        vehicle=size.vehicle,
        width_mm=size.width_mm,
        aspect_percent=size.aspect_percent,
        construction=size.construction,
        rim_code=size.rim_code,
        bead_seat_diameter_mm=size.bead_seat_diameter_mm,
        section_height_mm=size.section_height_mm,
        load_index=found.load_index,
        speed_symbol=found.speed_symbol or size.middle_speed,
        tube=found.tube,
        position=found.position,
        markings=(*size.markings, *found.markings),
        tokens=tuple(cursor.tokens[first_token:]),
        notes=(*size.notes, *found.notes, *_speed_notes(size, found)),
        alternatives=size.alternatives,
        exactness=size.exactness,
    )


def _read_size(cursor: Cursor, vehicle: str | None) -> SizeMark | None:
    index, tokens = cursor.index, len(cursor.tokens)
    for read in _families_for(cursor, vehicle):
        size = read(cursor)
        if size is not None:
            return size
        cursor.rewind(index, tokens)
    return None


def _families_for(cursor: Cursor, vehicle: str | None) -> tuple[SizeReader, ...]:
    """Return the families whose marks can go on as this one does after its first figure."""
    first, second, third = cursor.pieces[cursor.index : cursor.index + 3]
    if first.kind == "word":
        if first.value in LETTER_WIDTH_MM:
            return (inch.read_letter_size,)
        if first.value in metric.PREFIXES:
            return (_METRIC[vehicle],)
        return (flotation.read_size,) if first.value == "AT" else ()
    if second.value in CROSSES:
        return _crossed(first.value, third.value)
    if second.value == "/":
        return _METRIC[vehicle], inch.read_inch_size
    if second.value == "-":
        return _dashed(third.value, vehicle)
    if second.kind == "word":
        return bicycle.read_french_size, _METRIC[vehicle], inch.read_inch_size
    return (
        inch.read_inch_size,
        bicycle.read_inch_size,
        flotation.read_size,
        bicycle.read_iso_size,
        bicycle.read_french_size,
    )


def _crossed(first: str, third: str) -> tuple[SizeReader, ...]:
    if first in FRENCH_COMMONEST:
        return (bicycle.read_french_size,)
    if (first, third) in SMALL_WHEELS_MM:
        return (bicycle.read_small_size,)
    if len(third) == _SEAT_FIGURES and third.isdigit():
        return (bicycle.read_iso_size,)
    return (bicycle.read_inch_size, flotation.read_size, bicycle.read_iso_size, inch.read_inch_size)


def _dashed(third: str, vehicle: str | None) -> tuple[SizeReader, ...]:
    if third in BEAD_SEAT_NAMES:
        return (bicycle.read_iso_size,)
    return (
        inch.read_inch_size,
        bicycle.read_french_size,
        bicycle.read_iso_size,
        bicycle.read_inch_size,
        _METRIC[vehicle],
    )


_SEAT_FIGURES = 3  # every bead seat diameter has so many
_METRIC: dict[str | None, SizeReader] = {
    vehicle: partial(metric.read_size, vehicle=vehicle)
    for vehicle in (None, "bicycle", "motorcycle", "car")
}


def _speed_notes(size: SizeMark, found: Descriptors) -> tuple[str, ...]:
    symbol = found.speed_symbol or size.middle_speed
    fast = size.vehicle == "motorcycle" and symbol in MAKER_MUST_CONFIRM
    return ((BRACKETS_NOTE,) if found.bracketed else ()) + ((FAST_NOTE,) if fast else ())


def contradictions(reading: Reading) -> tuple[str, ...]:
    """Return a sentence for every mark in `also` that names another rim than the reading."""
    notes = []
    for other in reading.also:
        rims = {other.bead_seat_diameter_mm, *(o.bead_seat_diameter_mm for o in other.alternatives)}
        if reading.bead_seat_diameter_mm not in rims:
            notes.append(
                f"The marks disagree: “{other.text}” names a {other.bead_seat_diameter_mm} mm rim, "
                f"the reading {reading.bead_seat_diameter_mm} mm. Measure the bead seat."
            )
    return tuple(notes)
