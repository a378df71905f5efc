"""The rim code of motorcycles and cars: nominal inches that stand for whole millimetres."""

from jentrik.core.tire.tables.motorcycle_sizes import (
    LARGEST_RIM_CODE,
    SMALLEST_RIM_CODE,
    bead_seat_of_rim_code,
)
from jentrik.core.tire.tokens import Cursor

RIM_CODES: dict[str, float] = {
    spelled: halves / 2
    for halves in range(int(SMALLEST_RIM_CODE * 2), int(LARGEST_RIM_CODE * 2) + 1)
    for spelled in (f"{halves / 2:g}", f"{halves / 2:.1f}")
}
_MEANS = {
    code: f"rim code: nominal rim diameter {bead_seat_of_rim_code(inches)} mm"
    for code, inches in RIM_CODES.items()
}


def read_rim_code(cursor: Cursor) -> str | None:
    """Read a rim code such as 17 or 16.5 and return it as marked."""
    code = cursor.peek("figure")
    inches = RIM_CODES.get(code or "")
    if code is None or inches is None:
        cursor.want("a rim code in inches like 17 or 18")
        return None
    cursor.take(_MEANS[code], "rim code")
    return code
