"""The rim code of motorcycles and cars: nominal inches that stand for whole millimetres."""

from jentrik.core.tables.motorcycle_sizes import (
    LARGEST_RIM_CODE,
    SMALLEST_RIM_CODE,
    bead_seat_of_rim_code,
)
from jentrik.core.tirecode.tokens import Cursor


def read_rim_code(cursor: Cursor) -> str | None:
    """Read a rim code such as 17 or 16.5 and return it as marked."""
    code = cursor.peek("figure")
    try:
        inches = float(code or "")
    except ValueError:
        inches = 0.0
    if code is None or not SMALLEST_RIM_CODE <= inches <= LARGEST_RIM_CODE or inches % 0.5:
        cursor.want("a rim code in inches like 17 or 18")
        return None
    bead_seat = bead_seat_of_rim_code(inches)
    cursor.take(f"rim code: nominal rim diameter {bead_seat} mm", "rim code")
    return code
