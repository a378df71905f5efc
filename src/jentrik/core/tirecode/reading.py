r"""A tire code read whole: the public entry of this package.

    code  =  mark { separator mark }         mark  =  size { descriptor }

Marks in one text: the most exact size is the reading, the others stand in `also`, and where
they name different rims a note says so.  Section and overall sizes are nominal, unloaded:

    overall diameter = bead seat diameter + 2 x section height;  circumference = pi x that

Sources: UN Regulation 75, ISO 5775; the sums are arithmetic.
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache, partial

from jentrik.core.errors import CodeError
from jentrik.core.tables.iso5775 import BEAD_SEATS_MM
from jentrik.core.tables.load_index import LOAD_KG
from jentrik.core.tables.speed_symbol import MAKER_MUST_CONFIRM, SPEED_KMH, ZR_ABOVE_KMH
from jentrik.core.tirecode import bicycle, inch, metric
from jentrik.core.tirecode.descriptors import Descriptors, read_descriptor
from jentrik.core.tirecode.sizes import Construction, Family, OtherRim, SizeMark, Vehicle
from jentrik.core.tirecode.tokens import Cursor, Token, pieces_of

SizeReader = Callable[[Cursor], SizeMark | None]

BRACKETS_NOTE = (
    "Brackets round load and speed: the tire is made for more than the symbol; the maker must "
    "confirm how much."
)
LETTER_O_NOTE = "A letter O was read as the figure 0: look at the mark again."
_LETTER_O = re.compile(r"(?<=[0-9])[Oo]|[Oo](?=[0-9])")
FAST_NOTE = (
    "Near top speed this tire may carry less than its index says; the maker must confirm load "
    "and speed."
)


@dataclass(frozen=True, slots=True)
class Reading:
    """What a tire code says.  Lengths in mm, loads in kg, speeds in km/h; unknown is None."""

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


def read_code(text: str, *, vehicle: str | None = None) -> Reading:
    """Return what one tire code says; `vehicle` settles what the mark leaves open.

    Refuses what cannot be read with `CodeError`, which points at the character.
    """
    trimmed = text.strip()
    try:
        return _read_whole(trimmed, trimmed, vehicle)
    except CodeError as refusal:
        mended = _LETTER_O.sub("0", trimmed)
        if mended == trimmed:
            raise
        try:
            reading = _read_whole(mended, trimmed, vehicle)
        except CodeError:
            raise refusal from None
        return replace(reading, notes=(*reading.notes, LETTER_O_NOTE))


def _read_whole(spelled: str, trimmed: str, vehicle: str | None) -> Reading:
    """Return the reading of a code spelled so; tokens and text keep it as it was typed."""
    cursor = Cursor(trimmed, pieces_of(spelled))
    if cursor.done or all(piece.kind == "sign" for piece in cursor.pieces):
        raise CodeError(
            "Type a tire code, like 37-622 or 120/70 ZR 17.", position=0, expected="a tire code"
        )
    readings = []
    _skip_signs(cursor)
    while not cursor.done:
        mark = read_mark(cursor, vehicle, strict=True)
        if mark is None:
            raise _with_suggestions(cursor)
        readings.append(mark)
        _skip_signs(cursor)
    if len(readings) == 1:
        only = readings[0]
        return only if only.text == trimmed else replace(only, text=trimmed)
    best = max(readings, key=lambda reading: reading.exactness)
    others = tuple(reading for reading in readings if reading is not best)
    whole = replace(best, text=trimmed, tokens=tuple(cursor.tokens), also=others)
    return replace(whole, notes=whole.notes + contradictions(whole))


def _skip_signs(cursor: Cursor) -> None:
    while cursor.sign("(", ")", ",", ";", "/", "[", "]"):
        pass


@lru_cache(maxsize=4096)
def known_code(text: str) -> Reading:
    """Return the reading of a code, remembered: a reading never changes, pages ask again."""
    return read_code(text)


def read_mark(cursor: Cursor, vehicle: str | None, *, strict: bool = False) -> Reading | None:
    """Read one mark, a size and the words behind it; None where no size begins here.

    Refuses a mark of another vehicle than wanted; `strict` also what nothing can follow.
    """
    first_piece, first_token = cursor.index, len(cursor.tokens)
    start = cursor.position
    size = _read_size(cursor, vehicle)
    if size is None:
        return None
    found = Descriptors()
    while not cursor.done and read_descriptor(cursor, found):
        pass
    end = cursor.pieces[cursor.index - 1].end
    if strict and not cursor.done and not _another_mark_may_follow(cursor, first_piece):
        cursor.want("nothing more, or a word like 58H, M/C, TL or TT,")
        raise cursor.refusal()
    if vehicle is not None and size.vehicle != vehicle:
        raise CodeError(
            f"“{cursor.text[start:end]}” is a {size.vehicle} mark; a {vehicle} mark is wanted.",
            position=start,
            expected=f"a {vehicle} tire code",
        )
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
    metric_size = partial(metric.read_size, vehicle=vehicle)
    if cursor.peek("word") is not None:
        return inch.read_letter_size, metric_size
    match cursor.peek("sign", 1), cursor.peek("word", 1):
        case "/", _:
            return metric_size, inch.read_inch_size
        case "-", _:
            return bicycle.read_iso_size, inch.read_inch_size, bicycle.read_french_size
        case None, "X":
            return bicycle.read_french_size, bicycle.read_iso_size, bicycle.read_inch_size
        case None, str():
            return bicycle.read_french_size, metric_size, inch.read_inch_size
    return (
        bicycle.read_french_size,
        bicycle.read_iso_size,
        metric_size,
        inch.read_inch_size,
        bicycle.read_inch_size,
    )


def _another_mark_may_follow(cursor: Cursor, first_piece: int) -> bool:
    """Whether what comes next starts a further size: a bracket, a comma, or a figure apart."""
    if cursor.index == first_piece:
        return False
    return cursor.peek("sign") in ("(", ",", ";", "/", "[", ")", "]") or (
        cursor.peek("figure") is not None and not cursor.glued()
    )


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


def _with_suggestions(cursor: Cursor) -> CodeError:
    """Return the refusal, with near bead seats where an ISO mark names a rim no one makes."""
    refusal = cursor.refusal()
    wrong = next((piece for piece in cursor.pieces if piece.start == cursor.furthest), None)
    if wrong and wrong.kind == "figure" and wrong.value.isdigit() and len(wrong.value) == 3:
        given = int(wrong.value)
        near = sorted(BEAD_SEATS_MM, key=lambda bead_seat: abs(bead_seat - given))[:3]
        before, after = cursor.text[: wrong.start], cursor.text[wrong.end :]
        refusal.suggestions = tuple(f"{before}{bead_seat}{after}" for bead_seat in near)
    return refusal
