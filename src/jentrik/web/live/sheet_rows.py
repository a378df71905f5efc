"""The lists of a sheet: gaps, points, rear positions, pairs of tires, and what a cell may hold."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.declared import check
from jentrik.core.machine.machine import MEASURED_GAP
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import (
    SheetClearance,
    SheetPair,
    SheetPoint,
    SheetPosition,
    SheetRoomLine,
    range_of,
)
from jentrik.core.tire.sidewall import known_code
from jentrik.store import machines
from jentrik.web.live.typed_values import Holds, checked_name, held, words


@dataclass(frozen=True, slots=True)
class Lines:
    """A list of a sheet: where it stands, what its columns hold, which may be empty, who writes."""

    attribute: str
    columns: Mapping[str, Holds]
    optional: tuple[str, ...]
    write: Callable[..., int]
    called: str = ""


def _code(typed: str) -> str:
    known_code(typed)
    return typed


def _width_range(typed: str) -> str:
    range_of(typed)
    return typed


def place_values(place: SheetClearance) -> dict[str, Any]:
    """Return the columns of a measured gap."""
    return {
        "name": place.name,
        "wheel": place.wheel,
        "direction": place.direction,
        "part": place.on,
        "gap_mm": place.gap_mm,
        "minimum_mm": place.minimum_mm,
        "provenance": place.provenance.value,
        "bearing_deg": place.bearing_deg,
        "from_axle_mm": place.from_axle_mm,
        "moves_with": place.moves_with,
    }


def room_values(line: SheetRoomLine) -> dict[str, Any]:
    """Return the columns of a line of the room."""
    values = asdict(line) | {"provenance": line.provenance.value, "part": line.on}
    del values["id"], values["taken_on"], values["on"]
    return values


def line_values(line: SheetPoint | SheetPosition | SheetPair) -> dict[str, Any]:
    """Return the columns of a point, a rear position or a pair of tires."""
    values = asdict(line) | {"provenance": line.provenance.value}
    del values["id"], values["taken_on"]
    return values


LINES: dict[str, Lines] = {
    "place": Lines(
        "clearances",
        {
            "gap_mm": "mm",
            "minimum_mm": "mm",
            "bearing_deg": "°",
            "from_axle_mm": "mm",
            "moves_with": ("wheel", "body"),
        },
        ("minimum_mm", "bearing_deg", "from_axle_mm", "moves_with"),
        machines.set_clearance,
    ),
    "point": Lines(
        "points",
        {"x_mm": "mm", "height_mm": "mm", "out_mm": "mm", "role": tuple(PointRole)},
        ("out_mm",),
        machines.set_point,
    ),
    "position": Lines(
        "positions",
        {"x_mm": "mm", "y_mm": "mm", "bead_seat_diameter_mm": "mm"},
        ("bead_seat_diameter_mm",),
        machines.set_position,
        "position ",
    ),
    "room": Lines(
        "room",
        {"from_axle_mm": "mm", "inside_mm": "mm", "minimum_mm": "mm"},
        ("inside_mm", "minimum_mm"),
        machines.set_room_line,
        "room ",
    ),
    "pair": Lines(
        "pairs",
        {
            "front_tire": _code,
            "rear_tire": _code,
            "front_rim_mm": _width_range,
            "rear_rim_mm": _width_range,
            "front_make": words,
            "rear_make": words,
            "position": words,
        },
        ("front_rim_mm", "rear_rim_mm", "front_make", "rear_make", "position"),
        machines.set_pair,
        "pair ",
    ),
}


def column_value(lines: Lines, column: str, typed: str) -> float | str | None:
    """Return a typed cell of a list: a name, a word out of a few, a code, or a figure."""
    if column == "name":
        return checked_name(typed)
    if column not in lines.columns:
        raise StoreError(f"“{column[:40]}” is not a column of this list.")
    if not typed and column in lines.optional:
        return None
    value = held(lines.columns[column], typed)
    if column == "gap_mm" and isinstance(value, float):
        check(MEASURED_GAP, value)
    return value


def with_id(rows: tuple[Any, ...], row_id: str) -> Any:
    """Return the line with an id as a page says it; refuses one that is gone."""
    for row in rows:
        if str(row.id) == row_id:
            return row
    raise StoreError("That line is not on the sheet any more.", expected="a line of the sheet")
