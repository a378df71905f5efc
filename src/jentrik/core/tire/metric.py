r"""Metric marks of motorcycles and cars: 130/80 ZR 18, 120/70-17, P205/55R16, 205R14C.

    mark    =  [ prefix ] width ( "/" | "-" ) aspect middle rim [ suffix ]
            |  [ prefix ] width "R" rim [ suffix ]
    prefix  =  "P" | "LT" | "ST" | "T"        suffix  =  "C" | "LT"     P and T close to the width

Which vehicle it is: prefix, suffix and a width that ends in 5 say car; M/C, a dash, B and a
width that ends in 0 say motorcycle; the first of these that is there decides, but M/C beats
a width.  Sources: UN Regulation 75; car prefixes from common practice.
"""

from functools import cache

from jentrik.core.tire.construction import Middle, read_middle
from jentrik.core.tire.rimcode import read_rim_code
from jentrik.core.tire.sizes import NO_ASPECT_NOTE, SizeMark, Vehicle
from jentrik.core.tire.tables.motorcycle_sizes import bead_seat_of_rim_code
from jentrik.core.tire.tables.standard_sizes import with_a_leading_one
from jentrik.core.tire.tokens import Cursor

PREFIXES = {
    "P": ("passenger car", "car"),
    "LT": ("light truck", "light truck"),
    "ST": ("special trailer; never on a driven or steered vehicle", "trailer only"),
    "T": ("temporary spare only", "spare only"),
}
_SUFFIXES = {"C": ("commercial vehicle", "commercial"), "LT": ("light truck", "light truck")}


def read_size(cursor: Cursor, *, vehicle: str | None) -> SizeMark | None:
    """Read one metric mark; `vehicle` overrides what the mark itself says."""
    prefix = cursor.peek("word")
    spaced_out = prefix is not None and len(prefix) == 1 and not cursor.glued(1)
    if prefix in PREFIXES and cursor.peek("figure", 1) is not None and not spaced_out:
        cursor.take(*PREFIXES[prefix])
    else:
        prefix = None
    width = _whole(cursor.peek("figure"), 40, 360)
    if width is None:
        cursor.want("a width in millimetres like 130")
        return None
    cursor.take("section width in mm", "width mm")
    aspect, middle = _read_height_and_middle(cursor, width)
    if middle is None:
        return None
    rim_code = read_rim_code(cursor)
    if rim_code is None:
        return None
    suffix = cursor.peek("word")
    # A C that stands alone behind a motorcycle width is a compound's letter.
    for_cars = aspect is None or width % 10 == 5
    if suffix in _SUFFIXES and (cursor.glued() or for_cars or suffix == "LT"):
        cursor.take(*_SUFFIXES[suffix])
    else:
        suffix = None
    asked = vehicle if vehicle in ("car", "motorcycle") else None
    kind = asked or _vehicle_of(prefix, suffix, width, middle, _marked_mc(cursor))
    return SizeMark(
        family="car-metric" if kind == "car" else "motorcycle-metric",
        vehicle="car" if kind == "car" else "motorcycle",
        bead_seat_diameter_mm=bead_seat_of_rim_code(float(rim_code)),
        width_mm=float(width),
        section_height_mm=None if aspect is None else width * aspect / 100,
        rim_code=rim_code,
        aspect_percent=None if aspect is None else float(aspect),
        construction=middle.construction,
        middle_speed=middle.speed,
        markings=tuple(mark for mark in (prefix, suffix) if mark),
        notes=_notes(kind, width, aspect, rim_code),
    )


@cache
def _notes(kind: str, width: int, aspect: int | None, rim_code: str) -> tuple[str, ...]:
    if aspect is None:
        return (NO_ASPECT_NOTE,)
    if kind != "motorcycle":
        return ()
    whole = with_a_leading_one(str(width), str(aspect), rim_code)
    if whole is None:
        return ()
    return (
        f"{width}/{aspect} on a {rim_code} in rim is no size of the tables, "
        f"{whole[0]}/{whole[1]} on {whole[2]} is: {WORN_ONE} Measure the tire's width.",
    )


WORN_ONE = "a leading 1 may be worn off or left out."


def _read_height_and_middle(cursor: Cursor, width: int) -> tuple[int | None, Middle | None]:
    dashed = cursor.peek("sign") == "-" and cursor.peek("figure", 3) is not None
    if cursor.sign("/") or (dashed and cursor.sign("-")):
        aspect = _whole(cursor.peek("figure"), 20, 110)
        if aspect is None:
            cursor.want("the height in percent of the width, like 70,")
            return None, None
        height = width * aspect / 100
        cursor.take(f"section height is {aspect} % of the width: {height:g} mm", "height %")
        return aspect, read_middle(cursor)
    if cursor.peek("word") == "R":
        return None, read_middle(cursor, dash=False)
    cursor.want("a slash and the height in percent, like /70,")
    return None, None


def _whole(figure: str | None, least: int, most: int) -> int | None:
    if figure is None or not figure.isdigit() or not least <= int(figure) <= most:
        return None
    return int(figure)


def _marked_mc(cursor: Cursor) -> bool:
    return "M/C" in cursor.text.upper()


def _vehicle_of(
    prefix: str | None, suffix: str | None, width: int, middle: Middle, marked_mc: bool
) -> Vehicle:
    if prefix or suffix:
        return "car"
    if width % 10 == 5 and not marked_mc:
        return "car"
    if marked_mc or middle.sign in ("-", "B") or width % 10 == 0:
        return "motorcycle"
    return "car"
