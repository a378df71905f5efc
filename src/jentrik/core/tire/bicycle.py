r"""Bicycle marks.

    iso     =  width ( "-" | cross ) bead-seat             37-622
    inch    =  diameter ( cross width [ cross width ] | fraction )
                                                           29x2.4, 26 1 3/8, 28 x 1 5/8 x 1 3/8
                                                           27.5+ x 2.8, 26 x 1.375 as 26 x 1 3/8
    small   =  diameter cross width                        200x50, both in mm
    french  =  "700" [ letter ] [ cross width ] [ letter ] 700x38C, 650B, 700C x 32

Only the ISO mark names one rim for sure; every other name is resolved to a bead seat, and a
name that several rims share says so.  Sources: ISO 5775-1 and -2, from memory.
"""

from collections.abc import Iterator
from functools import cache

from jentrik.core.tire.fractions import Inches, fraction_ahead
from jentrik.core.tire.sizes import Family, OtherRim, SizeMark
from jentrik.core.tire.tables.iso5775 import (
    BEAD_SEAT_NAMES,
    DECIMAL_EIGHTHS,
    DECIMAL_INCH_MM,
    DECIMAL_QUARTERS,
    FRACTIONAL_INCH_MM,
    FRENCH_COMMONEST,
    FRENCH_MM,
    LARGEST_WIDTH_INCH,
    LARGEST_WIDTH_MM,
    SMALL_WHEELS_MM,
    SMALLEST_WIDTH_INCH,
    SMALLEST_WIDTH_MM,
    TWO_FRACTION_INCH_MM,
)
from jentrik.core.tire.tokens import Cursor
from jentrik.core.units import MM_PER_INCH, inches_to_mm

KNOWN_WHEEL_INCHES = frozenset(DECIMAL_INCH_MM) | {name for name, _ in FRACTIONAL_INCH_MM}
SMALL_NOTE = "A wheel of a chair, a child's vehicle or a scooter; the bead seat is from memory."


def _mark(family: Family, bead_seat: int, width_mm: float | None, **rest: object) -> SizeMark:
    return SizeMark(
        family=family,
        vehicle="bicycle",
        bead_seat_diameter_mm=bead_seat,
        width_mm=width_mm,
        section_height_mm=width_mm,
        **rest,  # type: ignore[arg-type]  # passed on as given
    )


def _width_mm_ahead(cursor: Cursor) -> float | None:
    figure = cursor.peek("figure")
    if figure is None or " " in figure or "/" in figure:
        return None
    width = float(figure)
    return width if SMALLEST_WIDTH_MM <= width <= LARGEST_WIDTH_MM else None


def read_iso_size(cursor: Cursor) -> SizeMark | None:
    """Read one ISO mark; a bead seat that no rim has is not read."""
    width = _width_mm_ahead(cursor)
    if width is None:
        cursor.want("a width in millimetres like 37")
        return None
    cursor.take("nominal width in mm", "width mm")
    if not (cursor.sign("-") or cursor.cross()):
        cursor.want("a dash and a bead seat diameter like -622")
        return None
    bead_seat = cursor.peek("figure")
    if bead_seat not in BEAD_SEAT_NAMES:
        cursor.want("a bead seat diameter that rims have, like 622")
        return None
    cursor.take("bead seat diameter in mm: the rim's size", "bead seat mm")
    return _mark("bicycle-iso", BEAD_SEAT_NAMES[bead_seat], width, exactness=2)


def read_inch_size(cursor: Cursor) -> SizeMark | None:
    """Read one decimal or fractional inch mark."""
    diameter = fraction_ahead(cursor)
    if diameter is None or diameter.spelling not in KNOWN_WHEEL_INCHES:
        cursor.want("a wheel size in inches like 26 or 29")
        return None
    plus = 1 if cursor.peek("sign", diameter.pieces) == "+" else 0
    cursor.take("wheel size in inches, a name for the rim", "wheel in", diameter.pieces + plus)
    widths: list[Inches] = []
    while len(widths) < 2 and (cursor.cross() or (not widths and _fraction_follows(cursor))):
        width = fraction_ahead(cursor)
        if width is None or not SMALLEST_WIDTH_INCH <= width.inches <= LARGEST_WIDTH_INCH:
            cursor.want("a width in inches like 1.75 or 1 3/8")
            return None
        means = f"nominal width in inches: {inches_to_mm(width.inches):.0f} mm"
        cursor.take(means, "width in", width.pieces)
        widths.append(width)
    if not widths:
        cursor.want("a cross and a width, like x 1.75")
        return None
    return _resolve_inches(cursor, diameter.spelling, widths)


def _fraction_follows(cursor: Cursor) -> bool:
    """Whether a width with a fraction follows without a cross: 26 1 3/8."""
    width = fraction_ahead(cursor)
    return width is not None and "/" in width.spelling


def _resolve_inches(cursor: Cursor, name: str, widths: list[Inches]) -> SizeMark | None:
    width_mm = inches_to_mm(min(width.inches for width in widths))
    bead_seats = _bead_seats(name, widths)
    if not bead_seats:
        cursor.want("a width that is made for this wheel size; look for the ISO mark, like 47-559")
        return None
    return _mark(
        "bicycle-inch",
        bead_seats[0],
        width_mm,
        rim_code=name,
        exactness=1 if len(bead_seats) == 1 else 0,
        notes=tuple(_inch_notes(name, bead_seats[0], widths)),
        alternatives=tuple(_other_rim(other, bead_seats[0]) for other in bead_seats[1:]),
    )


def name_not_measure_note(diameter_mm: float) -> str:
    """Return that 27.5 names a rim, with what a wheel of it measures with its tire on."""
    return (
        "27.5 is a name, not a measure: with this tire the wheel is about "
        f"{diameter_mm / MM_PER_INCH:.1f} inches tall."
    )


def _inch_notes(name: str, bead_seat: int, widths: list[Inches]) -> Iterator[str]:
    if name == "27.5":
        section = inches_to_mm(min(width.inches for width in widths))
        yield name_not_measure_note(bead_seat + 2 * section)
    fraction = _as_fraction(name, widths[0])
    if len(widths) == 1 and fraction is not None:
        yield (
            f"Read as {name} x {fraction}, which shops write with a point too: look for the ISO "
            f"mark “-{bead_seat}”."
        )
    if bead_seat <= LARGEST_SMALL_MM:
        yield SMALL_NOTE


LARGEST_SMALL_MM = 137


def _as_fraction(name: str, width: Inches) -> str | None:
    """Return the fraction that a width with a point stands for; None where it is a decimal's own.

    Eighths always do where the fraction is a mark; the others where no decimal series has the name.
    """
    whole, point, places = width.spelling.partition(".")
    eighths = DECIMAL_EIGHTHS if name in DECIMAL_INCH_MM else DECIMAL_EIGHTHS | DECIMAL_QUARTERS
    spelled = f"{whole} {eighths.get(point + places.rstrip('0'), '')}"
    return spelled if (name, spelled) in FRACTIONAL_INCH_MM else None


def _bead_seats(name: str, widths: list[Inches]) -> tuple[int, ...]:
    """Return the rims an inch mark can name, the commonest first; none where it is no mark."""
    spelled = [width.spelling for width in widths]
    named: tuple[int, ...] | None
    if len(widths) == 2:
        named = TWO_FRACTION_INCH_MM.get((name, frozenset(spelled)))
        if named is not None:
            return named
        if not any(width.decimal for width in widths):
            return ()
    decimal = (DECIMAL_INCH_MM[name],) if name in DECIMAL_INCH_MM else ()
    if len(widths) == 1:
        fraction = _as_fraction(name, widths[0])
        if fraction is not None:  # the decimal's own rim stays possible
            return FRACTIONAL_INCH_MM[name, fraction] + decimal
        named = FRACTIONAL_INCH_MM.get((name, spelled[0]))
        if named is not None or "/" in spelled[0]:
            return named or ()
    return decimal


@cache
def _other_rim(bead_seat: int, commonest: int) -> OtherRim:
    around = round(3.14159265 * bead_seat)
    return OtherRim(
        bead_seat,
        f"The same inches also name a {bead_seat} mm rim, not {commonest}: look for the ISO mark "
        f"“-{bead_seat}”, or put a tape round the bare rim's bead seat: {around} mm here. "
        "Same nominal inches is not the same rim.",
    )


def read_small_size(cursor: Cursor) -> SizeMark | None:
    """Read one mark of a small wheel, both figures in mm."""
    name, width = cursor.peek("figure"), cursor.peek("figure", 2)
    bead_seat = SMALL_WHEELS_MM.get((name or "", width or ""))
    if bead_seat is None:
        return None
    cursor.take("wheel size in mm, a name for the rim", "wheel mm")
    cursor.cross()
    cursor.take("nominal width in mm", "width mm")
    return _mark("bicycle-french", bead_seat, float(width or 0), rim_code=name, notes=(SMALL_NOTE,))


def read_french_size(cursor: Cursor) -> SizeMark | None:
    """Read one French mark, with or without its width; the letter may stand at either place."""
    name = cursor.peek("figure")
    if name not in FRENCH_COMMONEST:
        cursor.want("a wheel size like 700 or 650")
        return None
    cursor.take("wheel size in mm, a name for the rim", "wheel")
    letter = _rim_letter(cursor, name)
    width = None
    if cursor.cross() or (letter is None and cursor.sign("-")):
        width = _width_mm_ahead(cursor)
        if width is None:
            cursor.want("a width in millimetres like 38")
            return None
        cursor.take("nominal width in mm", "width mm")
        letter = letter or _rim_letter(cursor, name)
    if letter is None and width is None:
        cursor.want("the rim letter, like C in 700C,")
        return None
    return _resolve_french(name, letter, width)


def _rim_letter(cursor: Cursor, name: str) -> str | None:
    letter = cursor.peek("word")
    if letter is not None and f"{name}{letter}" in FRENCH_MM:
        cursor.take(f"rim letter: bead seat {FRENCH_MM[f'{name}{letter}']} mm", "rim letter")
        return letter
    return None


def _resolve_french(name: str, letter: str | None, width: float | None) -> SizeMark:
    assumed = letter or FRENCH_COMMONEST[name]
    code = f"{name}{assumed}"
    others = [c for c in FRENCH_MM if c.startswith(name) and c != code] if letter is None else []
    notes = (f"No rim letter on the mark; read as {code}.",) if letter is None else ()
    return _mark(
        "bicycle-french",
        FRENCH_MM[code],
        width,
        rim_code=code if letter else name,
        exactness=0 if letter is None or width is None else 1,
        notes=notes,
        alternatives=tuple(_other_rim(FRENCH_MM[other], FRENCH_MM[code]) for other in others),
    )
