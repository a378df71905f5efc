"""Machines and their sheets: queries that return core values, and the ways a sheet changes."""

import json
from collections.abc import Iterable
from datetime import date, datetime
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.sheet.consistency import completed
from jentrik.core.sheet.sheet import DrawnAs, Place, Sheet, SheetPair, SheetPoint, SheetPosition
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

MOST_PLACES = 60  # gaps or points on one sheet; more is not a sheet anybody keeps


def sheets() -> list[Sheet]:
    """Return every machine with its whole sheet, by name; six queries however many there are."""
    return _sheets_where(None)


def sheet(machine_id: int) -> Sheet:
    """Return one machine with its sheet; refuses one that is not there."""
    found = _sheets_where(machine_id)
    if not found:
        raise StoreError("There is no such machine.", expected="a machine of this shop")
    return found[0]


def brief(ids: Iterable[int], keys: Iterable[str]) -> dict[int, Sheet]:
    """Return machines by id with only some of their figures as they were written; two queries."""
    ids, keys = tuple(ids), tuple(keys)
    of, named = ", ".join("?" for _ in ids), ", ".join("?" for _ in keys)
    figures: dict[int, dict[str, Figure]] = {}
    for row in rows(
        f"SELECT * FROM measurement WHERE machine_id IN ({of}) AND key IN ({named})",  # noqa: S608
        *ids,
        *keys,
    ):
        figures.setdefault(row["machine_id"], {})[row["key"]] = _figure(row)
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


_ONE = {
    "machine": "SELECT * FROM machine WHERE id = ? AND binned_at IS NULL",
    "measurement": "SELECT * FROM measurement WHERE machine_id = ? ORDER BY id",
    "place": "SELECT * FROM place WHERE machine_id = ? ORDER BY id",
    "point": "SELECT * FROM point WHERE machine_id = ? ORDER BY id",
    "position": "SELECT * FROM position WHERE machine_id = ? ORDER BY id",
    "approved_pair": "SELECT * FROM approved_pair WHERE machine_id = ? ORDER BY id",
}
_ALL = {
    "machine": "SELECT * FROM machine WHERE binned_at IS NULL ORDER BY name",
    "measurement": "SELECT * FROM measurement ORDER BY id",
    "place": "SELECT * FROM place ORDER BY id",
    "point": "SELECT * FROM point ORDER BY id",
    "position": "SELECT * FROM position ORDER BY id",
    "approved_pair": "SELECT * FROM approved_pair ORDER BY id",
}


def _sheets_where(machine_id: int | None) -> list[Sheet]:
    query, asked = (_ALL, ()) if machine_id is None else (_ONE, (machine_id,))
    figures, places, points, positions, pairs = (
        _by_machine(rows(query[table], *asked))
        for table in ("measurement", "place", "point", "position", "approved_pair")
    )
    sheets = [
        Sheet(
            id=row["id"],
            name=row["name"],
            kind=row["kind"],
            drawn_as=DrawnAs(row["drawn_as"]),
            owner=row["owner"],
            figures={line["key"]: _figure(line) for line in figures.get(row["id"], ())},
            places=tuple(_place(line) for line in places.get(row["id"], ())),
            points=tuple(_point(line) for line in points.get(row["id"], ())),
            positions=tuple(_position(line) for line in positions.get(row["id"], ())),
            pairs=tuple(_pair(line) for line in pairs.get(row["id"], ())),
        )
        for row in rows(query["machine"], *asked)
    ]
    return [completed(sheet) for sheet in sheets]


def _by_machine(lines: list[dict[str, Any]]) -> dict[int, list[dict[str, Any]]]:
    grouped: dict[int, list[dict[str, Any]]] = {}
    for line in lines:
        grouped.setdefault(line["machine_id"], []).append(line)
    return grouped


def _figure(row: dict[str, Any]) -> Figure:
    return Figure(
        json.loads(row["value"]),
        Provenance(row["provenance"]),
        date.fromisoformat(row["taken_on"]),
        row["plus_minus"],
        tuple(json.loads(row["readings"])) if row["readings"] != "[]" else (),
    )


def _place(row: dict[str, Any]) -> Place:
    return Place(
        id=row["id"],
        name=row["name"],
        wheel=row["wheel"],
        direction=row["direction"],
        on=row["part"],
        gap_mm=row["gap_mm"],
        minimum_mm=row["minimum_mm"],
        provenance=Provenance(row["provenance"]),
        taken_on=date.fromisoformat(row["taken_on"]),
        bearing_deg=row["bearing_deg"],
        from_axle_mm=row["from_axle_mm"],
        moves_with=row["moves_with"],
    )


def _point(row: dict[str, Any]) -> SheetPoint:
    return SheetPoint(
        id=row["id"],
        name=row["name"],
        x_mm=row["x_mm"],
        height_mm=row["height_mm"],
        provenance=Provenance(row["provenance"]),
        taken_on=date.fromisoformat(row["taken_on"]),
        out_mm=row["out_mm"],
    )


def _position(row: dict[str, Any]) -> SheetPosition:
    return SheetPosition(
        id=row["id"],
        name=row["name"],
        x_mm=row["x_mm"],
        y_mm=row["y_mm"],
        bead_seat_diameter_mm=row["bead_seat_diameter_mm"],
        provenance=Provenance(row["provenance"]),
        taken_on=date.fromisoformat(row["taken_on"]),
    )


def _pair(row: dict[str, Any]) -> SheetPair:
    kept = {name: row[name] for name in SheetPair.__dataclass_fields__ if name in row}
    return SheetPair(
        **kept
        | {
            "provenance": Provenance(row["provenance"]),
            "taken_on": date.fromisoformat(row["taken_on"]),
        }
    )


def named(name: str) -> int | None:
    """Return the id of the machine of that name, small and capital letters alike."""
    row = first_row(
        "SELECT id FROM machine WHERE name_key = ? AND binned_at IS NULL", name.casefold()
    )
    return None if row is None else int(row["id"])


def add_machine(taken: journal.Step, *, name: str, kind: str, drawn_as: str, at: datetime) -> int:
    """Add a machine with an empty sheet within a step and return its id."""
    _refuse_taken(name, None)
    return taken.insert(
        models.Machine,
        name=name,
        name_key=name.casefold(),
        kind=kind,
        drawn_as=drawn_as,
        created_at=at.isoformat(),
    )


def rename(taken: journal.Step, machine_id: int, name: str) -> None:
    """Change a machine's name within a step; refuses one that another machine has."""
    _refuse_taken(name, machine_id)
    taken.update(models.Machine, machine_id, name=name, name_key=name.casefold())


def set_owner(taken: journal.Step, machine_id: int, owner: str) -> None:
    """Change whose a machine is, within a step."""
    taken.update(models.Machine, machine_id, owner=owner)


def draw_as(taken: journal.Step, machine_id: int, build: str) -> None:
    """Change how a machine is drawn, within a step."""
    taken.update(models.Machine, machine_id, drawn_as=build)


def _refuse_taken(name: str, machine_id: int | None) -> None:
    if named(name) not in (None, machine_id):
        raise StoreError(
            f"There is a machine called “{name}” already.",
            field="name",
            expected="a name of its own",
        )


def set_figure(taken: journal.Step, machine_id: int, key: str, figure: Figure) -> None:
    """Write one figure of a sheet within a step, over the one that was there."""
    fields = {
        "value": json.dumps(figure.value, ensure_ascii=False),
        "provenance": figure.provenance.value,
        "taken_on": figure.taken_on.isoformat(),
        "plus_minus": figure.plus_minus,
        "readings": json.dumps(figure.readings),
    }
    known = _measurement_id(machine_id, key)
    if known is None:
        taken.insert(models.Measurement, machine=machine_id, key=key, **fields)
    else:
        taken.update(models.Measurement, known, **fields)


def clear_figure(taken: journal.Step, machine_id: int, key: str) -> None:
    """Take one figure off a sheet within a step."""
    known = _measurement_id(machine_id, key)
    if known is not None:
        taken.delete(models.Measurement, known)


def _measurement_id(machine_id: int, key: str) -> int | None:
    known = first_row(
        "SELECT id FROM measurement WHERE machine_id = ? AND key = ?", machine_id, key
    )
    return None if known is None else int(known["id"])


def set_place(
    taken: journal.Step, machine_id: int, place_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one measured gap within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.Place, machine_id, place_id, values, on=on)


def set_point(
    taken: journal.Step, machine_id: int, point_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one named point within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.Point, machine_id, point_id, values, on=on)


def set_position(
    taken: journal.Step,
    machine_id: int,
    position_id: int | None,
    values: dict[str, Any],
    *,
    on: date,
) -> int:
    """Write one position of the rear axle within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.Position, machine_id, position_id, values, on=on)


def set_pair(
    taken: journal.Step, machine_id: int, pair_id: int | None, values: dict[str, Any], *, on: date
) -> int:
    """Write one pair of tires within a step: a new one, or over the one of that id."""
    return _set_row(taken, models.ApprovedPair, machine_id, pair_id, values, on=on)


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
    if row_id is None:
        if len(others) >= MOST_PLACES:
            raise StoreError(f"A list holds at most {MOST_PLACES} lines.", expected="fewer lines")
        return taken.insert(table, machine=machine_id, **fields)
    taken.update(table, row_id, **fields)
    return row_id


_TABLE_OF = {
    "place": models.Place,
    "point": models.Point,
    "position": models.Position,
    "pair": models.ApprovedPair,
}


def drop_line(taken: journal.Step, kind: str, line_id: int) -> None:
    """Take one line of a list off the sheet within a step."""
    taken.delete(_TABLE_OF[kind], line_id)
