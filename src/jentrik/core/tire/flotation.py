r"""Marks by overall diameter in inches: 31x10.50R15LT of light trucks, AT25x8-12 of all-terrain
machines.

    mark  =  [ "AT" ] diameter cross width middle rim [ "LT" ]

The section height is what diameter and rim leave.  Neither is for a two-wheeler on the road.
Source: common practice, from memory; the rim code is that of UN Regulation 75.
"""

from jentrik.core.tire.construction import read_middle
from jentrik.core.tire.fractions import fraction_ahead
from jentrik.core.tire.rimcode import read_rim_code
from jentrik.core.tire.sizes import SizeMark
from jentrik.core.tire.tables.motorcycle_sizes import bead_seat_of_rim_code
from jentrik.core.tire.tokens import Cursor
from jentrik.core.units import inches_to_mm

SMALLEST_INCH, LARGEST_INCH = 12.0, 48.0
NARROWEST_INCH, WIDEST_INCH = 4.0, 18.0
OVERALL_NOTE = "The first figure is the overall diameter in inches."
NOT_ON_TWO_WHEELS_NOTE = (
    "A tire for light trucks or all-terrain machines, never for a two-wheeler on the road."
)


def read_size(cursor: Cursor) -> SizeMark | None:
    """Read one mark by overall diameter."""
    prefix = cursor.peek("word")
    if prefix == "AT":
        cursor.take("for all-terrain machines", "all-terrain")
    diameter = fraction_ahead(cursor)
    if diameter is None or not SMALLEST_INCH <= diameter.inches <= LARGEST_INCH:
        return None
    diameter_mm = inches_to_mm(diameter.inches)
    cursor.take(f"overall diameter in inches: {diameter_mm:.0f} mm", "overall in", diameter.pieces)
    width = fraction_ahead(cursor) if cursor.cross() else None
    if width is None or not NARROWEST_INCH <= width.inches <= WIDEST_INCH:
        return None
    width_mm = inches_to_mm(width.inches)
    cursor.take(f"section width in inches: {width_mm:.0f} mm", "width in", width.pieces)
    middle = read_middle(cursor)
    rim_code = read_rim_code(cursor) if middle else None
    if middle is None or rim_code is None:
        return None
    bead_seat = bead_seat_of_rim_code(float(rim_code))
    if diameter_mm <= bead_seat:
        return None
    light_truck = cursor.peek("word") == "LT"
    if light_truck:
        cursor.take("light truck", "light truck")
    return SizeMark(
        family="flotation",
        vehicle="car",
        bead_seat_diameter_mm=bead_seat,
        width_mm=width_mm,
        section_height_mm=(diameter_mm - bead_seat) / 2,
        rim_code=rim_code,
        construction=middle.construction,
        middle_speed=middle.speed,
        markings=("AT",) * (prefix == "AT") + ("LT",) * light_truck,
        notes=(OVERALL_NOTE, NOT_ON_TWO_WHEELS_NOTE),
    )
