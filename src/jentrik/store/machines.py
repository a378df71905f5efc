"""Machines and their sheets: queries that return core values, and the ways a sheet changes."""

from collections.abc import Iterable
from datetime import date, datetime
from enum import Enum
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.point_role import role_named
from jentrik.core.machine.setup import part_of
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.plan.restating import of_the_frame
from jentrik.store import journal, models, setups
from jentrik.store.rows import first_row, rows
from jentrik.store.setups import figure_of
from jentrik.store.sheets import sheet_in, sheets_of


class How(Enum):
    """How another figure of a part comes about."""

    CHANGED = "changed on the machine"
    CORRECTED = "corrected"  # it was always so, in every set-up it was carried to
    READ = "read on this set-up"  # of a part that went on as it is


MEASURED_COLUMNS = {"gap_mm", "x_mm", "height_mm", "y_mm"}  # of a line, in its set-up
MOST_PLACES = 60  # gaps or points on one sheet; more is no sheet of one machine


def sheets() -> list[Sheet]:
    """Return every machine with its whole sheet, by name; six queries however many there are."""
    return sheets_of(None)


def sheet(machine_id: int) -> Sheet:
    """Return one machine with its sheet; refuses one that is not there."""
    return sheet_in(machine_id)


def brief(ids: Iterable[int], keys: Iterable[str]) -> dict[int, Sheet]:
    """Return machines by id with only some figures of what they are set up as."""
    ids, keys = tuple(ids), tuple(keys)
    of, named = ", ".join("?" for _ in ids), ", ".join("?" for _ in keys)
    figures: dict[int, dict[str, Figure]] = {}
    for row in (
        ()
        if not keys
        else rows(
            "SELECT measurement.* FROM measurement JOIN machine"  # noqa: S608  # marks only
            " ON machine.id = machine_id AND machine.setup_id = measurement.setup_id"
            f" WHERE machine_id IN ({of}) AND key IN ({named})",
            *ids,
            *keys,
        )
    ):
        figures.setdefault(row["machine_id"], {})[row["key"]] = figure_of(row)
    return {
        row["id"]: Sheet(
            row["id"],
            row["name"],
            row["kind"],
            DrawnAs(row["drawn_as"]),
            figures.get(row["id"], {}),
        )
        for row in rows(
            f"SELECT * FROM machine WHERE id IN ({of}) AND binned_at IS NULL",  # noqa: S608
            *ids,
        )
    }


def names() -> list[tuple[int, str]]:
    """Return the id and name of every machine, by name."""
    found = rows("SELECT id, name FROM machine WHERE binned_at IS NULL ORDER BY name_key")
    return [(row["id"], row["name"]) for row in found]


def owners() -> list[tuple[str, str, tuple[str, ...]]]:
    """Return each owner by name: the first phone noted of them, and their machines."""
    found: dict[str, tuple[str, str, list[str]]] = {}
    for row in rows(
        "SELECT owner, phone, name FROM machine WHERE binned_at IS NULL AND owner != ''"
        " ORDER BY owner COLLATE NOCASE, name_key"
    ):
        name, phone, theirs = found.setdefault(
            row["owner"].casefold(), (row["owner"], row["phone"], [])
        )
        theirs.append(row["name"])
        if row["phone"] and not phone:
            found[row["owner"].casefold()] = (name, row["phone"], theirs)
    return [(name, phone, tuple(theirs)) for name, phone, theirs in found.values()]


def named(name: str) -> int | None:
    """Return the id of the machine of that name, small and capital letters alike."""
    row = first_row(
        "SELECT id FROM machine WHERE name_key = ? AND binned_at IS NULL", name.casefold()
    )
    return None if row is None else int(row["id"])


def free_name(name: str) -> str:
    """Return a name no machine of the shop has, as near as can be: a number behind it."""
    tries = (name, *(f"{name} ({number})" for number in range(2, 10_000)))
    return next(one for one in tries if not _is_taken(one))


def _is_taken(name: str) -> bool:
    key = name.casefold()
    return first_row("SELECT id FROM machine WHERE name_key = ?", key) is not None


def add_machine(taken: journal.Step, *, name: str, kind: str, drawn_as: str, at: datetime) -> int:
    """Add a machine with an empty sheet within a step and return its id."""
    _refuse_taken(name, None)
    machine_id = taken.insert(
        models.MachineTable,
        name=name,
        name_key=name.casefold(),
        kind=kind,
        drawn_as=drawn_as,
        created_at=at.isoformat(),
    )
    setups.open_first(taken, machine_id, on=at.date())
    return machine_id


def rename(taken: journal.Step, machine_id: int, name: str) -> None:
    """Change a machine's name within a step; refuses one that another machine has."""
    _refuse_taken(name, machine_id)
    taken.update(models.MachineTable, machine_id, name=name, name_key=name.casefold())


def set_owner(taken: journal.Step, machine_id: int, owner: str) -> None:
    """Change whose a machine is, within a step."""
    taken.update(models.MachineTable, machine_id, owner=owner)


def set_word(taken: journal.Step, machine_id: int, column: str, text: str) -> None:
    """Change the owner's phone or the note on a machine, within a step."""
    taken.update(models.MachineTable, machine_id, **{column: text})


def draw_as(taken: journal.Step, machine_id: int, build: str) -> None:
    """Change how a machine is drawn, within a step."""
    taken.update(models.MachineTable, machine_id, drawn_as=build)


def _refuse_taken(name: str, machine_id: int | None) -> None:
    if named(name) not in (None, machine_id):
        raise StoreError(
            f"There is a machine called “{name}” already.",
            field="name",
            expected="a name of its own",
        )


def set_figure(
    taken: journal.Step, machine_id: int, key: str, figure: Figure, *, how: How = How.CHANGED
) -> None:
    """Write one figure of a sheet within a step, over the one that was there.

    A part that is set otherwise than in a sealed set-up makes another set-up that follows it.
    """
    current = setups.current_row(machine_id)
    known = _measurement(machine_id, key, current["id"])
    otherwise = known is not None and figure_of(known).value != figure.value
    if otherwise and part_of(key) and current["sealed_on"] and how is How.CHANGED:
        _follow(taken, machine_id, on=figure.taken_on)
        current = setups.current_row(machine_id)
        known = _measurement(machine_id, key, current["id"])
    columns = setups.figure_columns(figure)
    if known is not None and how is How.CORRECTED:
        for row in rows(  # the same reading, carried from set-up to set-up
            "SELECT id FROM measurement WHERE machine_id = ? AND key = ? AND value = ?"
            " AND taken_on = ? AND id != ?",
            *(known[column] for column in ("machine_id", "key", "value", "taken_on", "id")),
        ):
            taken.update(models.MeasurementTable, row["id"], **columns)
    if known is None:
        taken.insert(
            models.MeasurementTable, machine=machine_id, setup=current["id"], key=key, **columns
        )
    else:
        taken.update(models.MeasurementTable, known["id"], **columns)


def clear_figure(taken: journal.Step, machine_id: int, key: str, *, on: date | None = None) -> None:
    """Take one figure off a sheet within a step; a part off a sealed set-up makes another."""
    current = setups.current_row(machine_id)
    known = _measurement(machine_id, key, current["id"])
    if known is None:
        return
    if part_of(key) and current["sealed_on"] and on is not None:
        _follow(taken, machine_id, on=on)
        known = _measurement(machine_id, key, setups.current_row(machine_id)["id"])
    if known is not None:
        taken.delete(models.MeasurementTable, known["id"])


def _follow(taken: journal.Step, machine_id: int, *, on: date) -> None:
    """Let a set-up follow the sealed one; what was measured since that one ended is of the new.

    A figure of the day stays as it was read: the machine stood as it stands now.
    """
    before = setups.setup(machine_id, setups.current_row(machine_id)["id"])
    alike = setups.standing_alike(machine_id, before.id)
    new = setups.follow(
        taken, machine_id, before.parts, name=f"Changed {on:%d %b %Y}", on=on, sealed=False
    )
    if before.since >= on:
        return
    for row in rows(
        "SELECT id, key FROM measurement WHERE machine_id = ? AND taken_on = ? AND setup_id IN"  # noqa: S608
        f" ({', '.join('?' for _ in alike)})",
        machine_id,
        on.isoformat(),
        *alike,
    ):
        if of_the_frame(row["key"]):
            taken.update(models.MeasurementTable, row["id"], setup=new)


def _measurement(machine_id: int, key: str, setup_id: int) -> dict[str, Any] | None:
    """Return the row of a figure: of a part in this set-up, of the frame in one that stands alike.

    What belongs to no set-up has one row, wherever it was written.
    """
    if of_the_frame(key):
        alike = setups.standing_alike(machine_id, setup_id)
        return first_row(
            "SELECT * FROM measurement WHERE machine_id = ? AND key = ? AND setup_id IN"  # noqa: S608
            f" ({', '.join('?' for _ in alike)}) ORDER BY id DESC",
            machine_id,
            key,
            *alike,
        )
    if part_of(key):
        return first_row(
            "SELECT * FROM measurement WHERE machine_id = ? AND key = ? AND setup_id = ?",
            machine_id,
            key,
            setup_id,
        )
    return first_row(
        "SELECT * FROM measurement WHERE machine_id = ? AND key = ? ORDER BY id DESC",
        machine_id,
        key,
    )


def set_clearance(
    taken: journal.Step, machine_id: int, place_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one measured gap within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.ClearanceTable, machine_id, place_id, values, on=on)


def set_point(
    taken: journal.Step, machine_id: int, point_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one named point within a step: a new one, or over the one of that id.

    A new one without a role has the one its name says.
    """
    if point_id is None and "role" not in values:
        values = {**values, "role": role_named(values["name"]).value}
    return _set_row(taken, models.PointTable, machine_id, point_id, values, on=on)


def set_position(
    taken: journal.Step,
    machine_id: int,
    position_id: int | None,
    values: dict[str, Any],
    *,
    on: date,
) -> int:
    """Write one position of the rear axle within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.PositionTable, machine_id, position_id, values, on=on)


def set_room_line(
    taken: journal.Step, machine_id: int, line_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one line of the room within a step: a new one, or over the one of that id.

    One measured in a set-up that stands otherwise is kept anew, with its distance as it is now.
    """
    here = setups.current_row(machine_id)["id"]
    if line_id is None:
        if len(sheet(machine_id).room) >= MOST_PLACES:
            raise StoreError(f"A list holds at most {MOST_PLACES} lines.", expected="fewer lines")
        new = {**values, "machine": machine_id, "setup": here, "taken_on": on.isoformat()}
        return taken.insert(models.RoomLineTable, **new)
    line = next((line for line in sheet(machine_id).room if line.id == line_id), None)
    stood = {} if line is None else {"from_axle_mm": line.from_axle_mm}
    values = {**stood, **values, "setup": here, "taken_on": on.isoformat()}
    taken.update(models.RoomLineTable, line_id, **values)
    return line_id


def set_pair(
    taken: journal.Step, machine_id: int, pair_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one pair of tires within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.ApprovedPairTable, machine_id, pair_id, values, on=on)


def _set_row(
    taken: journal.Step,
    table: Any,
    machine_id: int,
    row_id: int | None,
    values: dict[str, Any],
    *,
    on: date,
) -> int:
    fields = {**values, "taken_on": on.isoformat()}
    mine = table.select(table.id, table.name).where(table.machine == machine_id)
    others = {row["name"].casefold() for row in mine.dicts() if row["id"] != row_id}
    if values.get("name", "").casefold() in others:
        raise StoreError(
            f"This list already has a line called “{values['name']}”.",
            field="name",
            expected="a name of its own for every line",
        )
    setup_id = setups.current_row(machine_id)["id"]
    if row_id is None:
        if len(others) >= MOST_PLACES:
            raise StoreError(f"A list holds at most {MOST_PLACES} lines.", expected="fewer lines")
        here = {} if table is models.ApprovedPairTable else {"setup": setup_id}
        return taken.insert(table, machine=machine_id, **here, **fields)
    measured = set(values) & MEASURED_COLUMNS
    row = journal.row_of(table, row_id) or {}
    kind = table._meta.table_name
    elsewhere = row.get("setup_id", setup_id) not in setups.standing_alike(machine_id, setup_id)
    for column in sorted(measured):
        key = f"line.{kind}.{row_id}.{column}"
        if elsewhere or _measurement(machine_id, key, setup_id) is not None:
            # measured again, in another set-up or over a later reading: a figure of its own
            set_figure(taken, machine_id, key, Figure(values[column], Provenance.MEASURED, on))
            fields.pop(column)
    if elsewhere:
        fields.pop("taken_on")
    if fields:
        taken.update(table, row_id, **fields)
    return row_id


_TABLE_OF = {
    "place": models.ClearanceTable,
    "point": models.PointTable,
    "position": models.PositionTable,
    "pair": models.ApprovedPairTable,
    "room": models.RoomLineTable,
}


def drop_line(taken: journal.Step, kind: str, line_id: int) -> None:
    """Take one line of a list off the sheet within a step."""
    taken.delete(_TABLE_OF[kind], line_id)
