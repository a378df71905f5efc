"""Rows of machines made sheets: what is measured in each set-up, as it is in the current one."""

from collections.abc import Iterable, Iterator, Mapping

from jentrik.core.errors import StoreError
from jentrik.core.machine.consistency import completed
from jentrik.core.machine.point_role import role_named
from jentrik.core.machine.setup import Setup, part_of
from jentrik.core.machine.sheet import (
    DrawnAs,
    Sheet,
    SheetClearance,
    SheetPair,
    SheetPoint,
    SheetPosition,
    SheetRoomLine,
)
from jentrik.core.plan.restating import of_the_frame
from jentrik.core.plan.several_setups import MeasuredIn, sheet_of
from jentrik.exchange.sheet_document import line_of
from jentrik.store.rows import Kept, Row, one_moment, rows
from jentrik.store.setups import figure_of, setup_of

_OF_A_MACHINE = ("setup", "measurement", "place", "point", "position", "approved_pair", "room_line")


_sheets: Kept[Sheet] = Kept()


def sheet_in(machine_id: int, setup_id: int | None = None) -> Sheet:
    """Return a machine's sheet as it is now or in one of its set-ups; refuses one not there."""

    def read() -> Sheet:
        found = sheets_of(machine_id, setup_id)
        if not found:
            raise StoreError("There is no such machine.", expected="a machine of this shop")
        return found[0]

    return _sheets.get((machine_id, setup_id), read)


def sheets_of(machine_id: int | None, setup_id: int | None = None) -> list[Sheet]:
    """Return one machine's sheet, or all by name; eight queries however many there are.

    Each as it is set up now, or in the set-up asked for.
    """
    one, asked = ("", ()) if machine_id is None else (" AND id = ?", (machine_id,))
    only = "" if machine_id is None else " WHERE machine_id = ?"
    with one_moment():
        found = rows(
            f"SELECT * FROM machine WHERE binned_at IS NULL{one} ORDER BY name",  # noqa: S608
            *asked,
        )
        by_table = {
            table: _by_machine(
                rows(f"SELECT * FROM {table}{only} ORDER BY id", *asked)  # noqa: S608  # our own
            )
            for table in _OF_A_MACHINE
        }
    return [
        sheet_from(
            {table: by_table[table].get(row["id"], []) for table in _OF_A_MACHINE},
            row if setup_id is None else {**row, "setup_id": setup_id},
        )
        for row in found
    ]


def _by_machine(lines: list[Row]) -> dict[int, list[Row]]:
    grouped: dict[int, list[Row]] = {}
    for line in lines:
        grouped.setdefault(line["machine_id"], []).append(line)
    return grouped


def sheet_from(lines: Mapping[str, list[Row]], row: Row) -> Sheet:
    """Return the sheet of a machine out of its rows, as it is in the set-up the row names."""
    by_setup: dict[int, list[Row]] = {}
    constants = {}
    for line in lines["measurement"]:
        by_setup.setdefault(line["setup_id"], []).append(line)
        if part_of(line["key"]) is None and not of_the_frame(line["key"]):
            constants[line["key"]] = figure_of(line)
    kept = {
        one["id"]: setup_of(one, by_setup.get(one["id"], ()), lines["position"])
        for one in lines["setup"]
    }
    bare = Sheet(
        id=row["id"],
        name=row["name"],
        kind=row["kind"],
        drawn_as=DrawnAs(row["drawn_as"]),
        owner=row["owner"],
        phone=row["phone"],
        note=row["note"],
        photo=row["photo"],
        external_id=row["external_id"],
        figures=constants,
        pairs=tuple(line_of(SheetPair, line) for line in lines["approved_pair"]),
    )
    measured = [
        _measured_in(setup, by_setup.get(setup.id, ()), lines)
        for setup in sorted(kept.values(), key=lambda one: (one.since, one.id))
    ]
    current = kept.get(row["setup_id"])
    if current is None:
        raise StoreError("There is no such set-up.", expected="a set-up of this machine")
    known = [
        one
        for one in measured
        if one.figures or one.clearances or one.points or one.positions or one.room
    ]
    return completed(sheet_of(bare, current, known))


def _measured_in(
    setup: Setup, figures: Iterable[Row], lines: Mapping[str, list[Row]]
) -> MeasuredIn:
    """Return what was measured in a set-up of the frame it is on."""

    def of(name: str) -> Iterator[Row]:
        return (line for line in lines[name] if line["setup_id"] == setup.id)

    return MeasuredIn(
        setup,
        {line["key"]: figure_of(line) for line in figures if of_the_frame(line["key"])},
        tuple(line_of(SheetClearance, {**line, "on": line["part"]}) for line in of("place")),
        tuple(_point(line) for line in of("point")),
        tuple(line_of(SheetPosition, line) for line in of("position")),
        tuple(line_of(SheetRoomLine, {**line, "on": line["part"]}) for line in of("room_line")),
    )


def _point(row: Row) -> SheetPoint:
    """Return a point; one of a version without roles has the one its name says."""
    return line_of(SheetPoint, {**row, "role": row.get("role") or role_named(row["name"])})
