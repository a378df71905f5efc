r"""Inch and letter marks of motorcycles: 3.25-18, 4.00 H 18, 2 3/4-16, MT90B16, MT 90 B 16.

    inch    =  width [ "/" ( aspect | width ) ] middle rim [ "LT" ]    width in inches, 1.5 to 7.5
            |  hundredths "-" rim           400-18: 4.00-18 with the point left out
    letter  =  "M" class aspect middle rim          MH90-21, MT90B16

Of two widths (4.10/3.50-4) the first counts.  Without an aspect the section is as high as wide,
but 82 % in the low-section series (3.60, 4.10, 4.60 ...).  Source: UN Regulation 75, from
memory.
"""

from jentrik.core.tire.construction import Middle, read_middle
from jentrik.core.tire.fractions import Inches, fraction_ahead
from jentrik.core.tire.rimcode import RIM_CODES, read_rim_code
from jentrik.core.tire.sizes import NO_ASPECT_NOTE, SizeMark
from jentrik.core.tire.tables.motorcycle_sizes import (
    FULL_SECTION_PERCENT,
    LETTER_WIDTH_MM,
    LOW_SECTION_PERCENT,
    LOW_SECTION_WIDTHS,
    bead_seat_of_rim_code,
)
from jentrik.core.tire.tokens import Cursor
from jentrik.core.units import inches_to_mm

NARROWEST_INCH, WIDEST_INCH = 1.5, 7.5
SMALLEST_BARE_CODE, LARGEST_BARE_CODE = 8, 23  # of motorcycle rims, where the point is left out


def read_inch_size(cursor: Cursor) -> SizeMark | None:
    """Read one inch-coded motorcycle mark."""
    width = _point_left_out(cursor) or fraction_ahead(cursor)
    if width is None or not NARROWEST_INCH <= width.inches <= WIDEST_INCH:
        cursor.want("a width in inches like 3.25")
        return None
    marked = cursor.take(
        f"section width in inches: {inches_to_mm(width.inches):.0f} mm", "width in", width.pieces
    )
    aspect = None
    slash = not (width.decimal and _slash_for_dash(cursor)) and cursor.sign("/")
    if slash and not _second_width(cursor):
        aspect = _aspect(cursor)
        if aspect is None:
            return None
    middle = read_middle(cursor)
    rim_code = read_rim_code(cursor) if middle else None
    if middle is None or rim_code is None:
        return None
    width_mm = inches_to_mm(width.inches)
    if cursor.peek("word") == "LT":
        return _light_truck(cursor, rim_code, width_mm, middle)
    low = width.spelling in LOW_SECTION_WIDTHS
    share = float(aspect or (LOW_SECTION_PERCENT if low else FULL_SECTION_PERCENT))
    notes = () if aspect else (_height_note(share, low=low),)
    if marked.isdigit():
        notes = (f"{marked}-{rim_code} is read as {width.spelling}-{rim_code}.", *notes)
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
        notes=notes,
    )


def _second_width(cursor: Cursor) -> bool:
    """Read a second width in inches, as in 3.00/3.25-18, if there is one."""
    second = fraction_ahead(cursor)
    if second is None or not second.decimal:
        return False
    if not NARROWEST_INCH <= second.inches <= WIDEST_INCH:
        return False
    cursor.take("a second width it also stands for, in inches", "also wide", second.pieces)
    return True


def _aspect(cursor: Cursor) -> str | None:
    """Read the section height in percent of the width; None where none stands here."""
    aspect = cursor.peek("figure")
    if aspect is None or not aspect.isdigit() or not 40 <= int(aspect) <= 110:
        cursor.want("the height in percent of the width, like 85,")
        return None
    cursor.take(f"section height is {aspect} % of the width", "height %")
    return aspect


def _point_left_out(cursor: Cursor) -> Inches | None:
    """Return the width of 400-18, where a dash and a motorcycle's rim code follow three figures."""
    figure, code = cursor.peek("figure"), cursor.peek("figure", 2)
    if figure is None or len(figure) != 3 or not figure.isdigit() or cursor.peek("sign", 1) != "-":
        return None
    spelled = f"{figure[0]}.{figure[1:]}"
    usual = (int(figure) % 25 == 0 and figure != "700") or spelled in LOW_SECTION_WIDTHS
    if (
        not usual
        or code is None
        or not SMALLEST_BARE_CODE <= RIM_CODES.get(code, 0) <= LARGEST_BARE_CODE
    ):
        return None
    return Inches(int(figure) / 100, spelled, 1)


def _slash_for_dash(cursor: Cursor) -> bool:
    """Whether a rim code stands behind a slash, and no construction behind that: 4.00/18."""
    if cursor.peek("figure", 1) not in RIM_CODES or cursor.peek("sign", 2) == "-":
        return False
    return cursor.peek("word", 2) is None or cursor.peek("figure", 3) is None


def _light_truck(cursor: Cursor, rim_code: str, width_mm: float, middle: Middle) -> SizeMark:
    """Return the car mark an LT behind an inch size makes of it: 7.50R16LT."""
    cursor.take("light truck", "light truck")
    return SizeMark(
        family="car-metric",
        vehicle="car",
        bead_seat_diameter_mm=bead_seat_of_rim_code(float(rim_code)),
        width_mm=width_mm,
        section_height_mm=None,
        rim_code=rim_code,
        construction=middle.construction,
        middle_speed=middle.speed,
        markings=("LT",),
        notes=(NO_ASPECT_NOTE,),
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
