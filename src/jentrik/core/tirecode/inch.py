r"""Inch and letter marks of motorcycles: 3.25-18, 4.00 H 18, 2 3/4-16, MT90B16, MT 90 B 16.

    inch    =  width [ "/" ( aspect | width ) ] middle rim     width in inches, 1.5 to 7.5
    letter  =  "M" class aspect middle rim          MH90-21, MT90B16

Of two widths (4.10/3.50-4) the first counts.  Without an aspect the section is as high as wide,
but 82 % in the low-section series (3.60, 4.10, 4.60 ...).  Source: UN Regulation 75, from
memory.
"""

from jentrik.core.tables.motorcycle_sizes import (
    FULL_SECTION_PERCENT,
    LETTER_WIDTH_MM,
    LOW_SECTION_PERCENT,
    LOW_SECTION_WIDTHS,
    bead_seat_of_rim_code,
)
from jentrik.core.tirecode.construction import read_middle
from jentrik.core.tirecode.fractions import fraction_ahead
from jentrik.core.tirecode.rimcode import read_rim_code
from jentrik.core.tirecode.sizes import SizeMark
from jentrik.core.tirecode.tokens import Cursor
from jentrik.core.units import inches_to_mm

NARROWEST_INCH, WIDEST_INCH = 1.5, 7.5


def read_inch_size(cursor: Cursor) -> SizeMark | None:
    """Read one inch-coded motorcycle mark."""
    width = fraction_ahead(cursor)
    if width is None or not NARROWEST_INCH <= width.inches <= WIDEST_INCH:
        cursor.want("a width in inches like 3.25")
        return None
    marked = cursor.take(
        f"section width in inches: {inches_to_mm(width.inches):.0f} mm", "width in", width.pieces
    )
    aspect = None
    if cursor.sign("/"):
        second = fraction_ahead(cursor)
        if second is not None and second.decimal and NARROWEST_INCH <= second.inches <= WIDEST_INCH:
            cursor.take("a second width it also stands for, in inches", "also wide", second.pieces)
        else:
            aspect = cursor.peek("figure")
            if aspect is None or not aspect.isdigit() or not 40 <= int(aspect) <= 110:
                cursor.want("the height in percent of the width, like 85,")
                return None
            cursor.take(f"section height is {aspect} % of the width", "height %")
    middle = read_middle(cursor)
    rim_code = read_rim_code(cursor) if middle else None
    if middle is None or rim_code is None:
        return None
    low = marked.replace(",", ".") in LOW_SECTION_WIDTHS
    share = float(aspect or (LOW_SECTION_PERCENT if low else FULL_SECTION_PERCENT))
    width_mm = inches_to_mm(width.inches)
    return SizeMark(
        family="motorcycle-inch",
        vehicle="motorcycle",
        bead_seat_diameter_mm=bead_seat_of_rim_code(float(rim_code)),
        width_mm=width_mm,
        section_height_mm=width_mm * share / 100,
        rim_code=rim_code,
        aspect_percent=None if aspect is None else float(aspect),
        construction=middle.construction,
        middle_speed=middle.speed,
        notes=() if aspect else (_height_note(share, low=low),),
    )


def _height_note(share: float, *, low: bool) -> str:
    why = "a low-section width" if low else "an inch code without a height"
    return f"Section height taken as {share:g} % of the width: {why}."


def read_letter_size(cursor: Cursor) -> SizeMark | None:
    """Read one letter-coded motorcycle mark."""
    letters = cursor.peek("word")
    if letters not in LETTER_WIDTH_MM:
        cursor.want("a letter width like MT")
        return None
    width_mm = LETTER_WIDTH_MM[letters]
    cursor.take(f"motorcycle, width class {letters[1]}: about {width_mm:g} mm", "width class")
    aspect = cursor.peek("figure")
    if aspect is None or not aspect.isdigit() or not 40 <= int(aspect) <= 110:
        cursor.want("the height in percent of the width, like 90,")
        return None
    height_mm = width_mm * int(aspect) / 100
    cursor.take(f"section height is {aspect} % of the width: {height_mm:g} mm", "height %")
    middle = read_middle(cursor)
    rim_code = read_rim_code(cursor) if middle else None
    if middle is None or rim_code is None:
        return None
    return SizeMark(
        family="motorcycle-alpha",
        vehicle="motorcycle",
        bead_seat_diameter_mm=bead_seat_of_rim_code(float(rim_code)),
        width_mm=width_mm,
        section_height_mm=height_mm,
        rim_code=rim_code,
        aspect_percent=float(aspect),
        construction=middle.construction,
        middle_speed=middle.speed,
    )
