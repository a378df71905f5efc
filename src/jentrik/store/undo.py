"""Taking a change back, and doing it again: one change by its id, only the cells it moved.

A cell that was moved since is not overwritten: the refusal says who and when, holds both values,
and a mark with which the same person may insist on what they have now seen.
"""

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import peewee

from jentrik.core.errors import ChangedMeanwhile, StoreError
from jentrik.store.cells import cells, moved, with_cells
from jentrik.store.journal import STAYS, Author, delete_row, insert_row, row_of, update_row
from jentrik.store.models import TABLES, ChangeTable
from jentrik.store.past import FieldMoved, moved_by
from jentrik.store.rows import Row, first_row, rows, writing

_TABLE = {table._meta.table_name: table for table in TABLES}
Entry = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Scope:
    """What a page's undo is about: a machine, a job, both, or the first word of a subject."""

    machine_id: int | None = None
    job_id: int | None = None
    subject: str | None = None


@dataclass(frozen=True, slots=True)
class Undoable:
    """A change that can be taken back or done again: its id, its words, and who made it."""

    id: int
    label: str
    by: str
    at: datetime
    mine: bool


class ChangedSince(ChangedMeanwhile):
    """What a change moved was moved again by another one: what, now, and as it would become.

    `insist` is the mark to send back with the same request after a person has seen both.
    """

    def __init__(self, message: str, *, offers: tuple[FieldMoved, ...], insist: str) -> None:
        super().__init__(message, field="change", expected="a choice between the two")
        self.offers = offers
        self.insist = insist


def last_change(scope: Scope, author: Author) -> Undoable | None:
    """Return what undo would take back: this author's last change, else the last of all."""
    return last_and_undone(scope, author)[0]


def last_undone(scope: Scope, author: Author) -> Undoable | None:
    """Return what this author took back last, while nothing of theirs was changed since."""
    return last_and_undone(scope, author)[1]


def last_and_undone(scope: Scope, author: Author) -> tuple[Undoable | None, Undoable | None]:
    """Return what undo would take back and what redo would do again.

    An author is known by name, or where there is none by the screen.
    """
    found: dict[str, Row] = {}
    if author.name or author.screen:
        by, of = (
            ("by = ?", author.name) if author.name else ("by = '' AND screen = ?", author.screen)
        )
        whose = "undone_by = ?" if author.name else "undone_on = ?"
        mine, mine_asked = _first(scope, f"undone_at IS NULL AND {by}", of, "id DESC")
        undone, undone_asked = _first(
            scope, f"undone_at IS NOT NULL AND {whose}", of, "undone_at DESC, id ASC"
        )
        both = rows(
            f"SELECT 'mine' AS which, * FROM ({mine})"  # noqa: S608
            f" UNION ALL SELECT 'undone', * FROM ({undone})",
            *mine_asked,
            *undone_asked,
        )
        found = {row["which"]: row for row in both}
    last, again = found.get("mine"), found.get("undone")
    if last is not None and again is not None and last["at"] > again["undone_at"]:
        again = None
    if last is None:
        newest, asked = _first(scope, "undone_at IS NULL", None, "id DESC")
        return _undoable(first_row(newest, *asked), False), _undoable(again, True)
    return _undoable(last, True), _undoable(again, True)


_SHOWN = "id, label, by, at, undone_at"  # not the rows a change holds: a card has many


def _undoable(row: Row | None, mine: bool) -> Undoable | None:
    if row is None:
        return None
    return Undoable(row["id"], row["label"], row["by"], datetime.fromisoformat(row["at"]), mine)


def _first(scope: Scope, where: str, whose: str | None, order: str) -> tuple[str, list[int | str]]:
    """Return the query for the first change of a scope under a condition of ours, and its values.

    One look-up of an index each: an OR over machine and job would scan the journal.
    """
    values = [] if whose is None else [whose]
    if scope.subject is not None:
        # Of its own accord SQLite would walk the journal backwards.
        index = "change_loose" if where.startswith("undone_at IS NULL") else "change_loose_undone"
        return (
            f"SELECT {_SHOWN} FROM change INDEXED BY {index}"  # noqa: S608
            f" WHERE machine_id IS NULL AND job_id IS NULL AND subject LIKE ? AND {where}"
            f" ORDER BY {order} LIMIT 1",
            [f"{scope.subject} %", *values],
        )
    parts: list[str] = []
    asked: list[int | str] = []
    for column, value in (("machine_id", scope.machine_id), ("job_id", scope.job_id)):
        if value is not None:
            parts.append(
                f"SELECT * FROM (SELECT {_SHOWN} FROM change WHERE {column} = ?"  # noqa: S608
                f" AND subject NOT LIKE '{STAYS} %' AND {where} ORDER BY {order} LIMIT 1)"
            )
            asked += [value, *values]
    either = " UNION ALL ".join(parts)
    return f"SELECT * FROM ({either}) ORDER BY {order} LIMIT 1", asked  # noqa: S608


def undo(
    database: peewee.SqliteDatabase,
    change_id: int | None,
    scope: Scope,
    author: Author,
    *,
    now: datetime,
    again: bool = False,
    insist: str = "",
    check: Callable[[], None] = lambda: None,
) -> Undoable | None:
    """Take one change back, or do it `again`; return it, None where there is none.

    Without an id it is the change `last_change` names.  Refuses with `ChangedSince` where another
    change moved the same cells later, and leaves everything as it is where `check` refuses.
    """
    with writing(database):
        if change_id is None:
            known = last_undone(scope, author) if again else last_change(scope, author)
            change_id = known.id if known else None
        row = None if change_id is None else _in_scope(change_id, scope)
        if row is None or (row["undone_at"] is not None) != again:
            return None
        entries = json.loads(row["entries"])
        # A machine and its set-up refer to each other: what refers to what is seen at the end.
        database.execute_sql("PRAGMA defer_foreign_keys = ON")
        _put(entries if again else [_turned(entry) for entry in reversed(entries)], row, insist)
        check()
        done = (
            {"undone_at": None, "undone_by": "", "undone_on": ""}
            if again
            else {
                "undone_at": now.isoformat(),
                "undone_by": author.name,
                "undone_on": author.screen,
            }
        )
        update_row(ChangeTable, row["id"], done)
        return _undoable(row, True)


def _in_scope(change_id: int, scope: Scope) -> Row | None:
    row = first_row("SELECT * FROM change WHERE id = ?", change_id)
    if row is None or row["subject"].startswith(f"{STAYS} "):
        return None
    if scope.subject is not None:
        return row if row["subject"].startswith(f"{scope.subject} ") else None
    of_machine = scope.machine_id is not None and row["machine_id"] == scope.machine_id
    of_job = scope.job_id is not None and row["job_id"] == scope.job_id
    return row if of_machine or of_job else None


def _turned(entry: Entry) -> Entry:
    return {**entry, "before": entry["after"], "after": entry["before"]}


def _put(entries: list[Entry], change: Row, insist: str) -> None:
    """Write the rows of a change as after it; refuses what was moved since, unless insisted on."""
    inserted = {(entry["table"], entry["id"]) for entry in entries if entry["after"] is None}
    since = [entry for entry in entries if _moved_since(entry)]
    mark = _mark(since)
    if since and insist != mark:
        raise _changed_since(since, change, mark)
    for entry in entries:
        table, row_id, goal = _TABLE[entry["table"]], entry["id"], entry["after"]
        current = row_of(table, row_id)
        if goal is None:
            _refuse_dependents(entry, inserted, change)
            delete_row(table, row_id)
        elif current is None:
            _insert(table, goal)
        elif entry["before"] is not None:
            wanted = {cell: new for cell, (_, new) in moved(entry["before"], goal).items()}
            columns = with_cells(current, wanted)
            if columns:
                _update(table, row_id, columns)


def _moved_since(entry: Entry) -> bool:
    current, before, after = (
        row_of(_TABLE[entry["table"]], entry["id"]),
        entry["before"],
        entry["after"],
    )
    if before is None:
        return current is not None and cells(current) != cells(after)
    if current is None:
        return after is not None
    if after is None:
        return cells(current) != cells(before)
    here = cells(current)
    return any(
        here.get(cell) not in (old, new) for cell, (old, new) in moved(before, after).items()
    )


def _changed_since(since: list[Entry], change: Row, mark: str) -> ChangedSince:
    offers: list[FieldMoved] = []
    for one in since:
        current, goal = row_of(_TABLE[one["table"]], one["id"]), one["after"]
        if current is not None and goal is not None and one["before"] is not None:
            wanted = {cell: new for cell, (_, new) in moved(one["before"], goal).items()}
            goal = {**current, **with_cells(current, wanted)}
        offers += moved_by([{**one, "before": current, "after": goal}])
    who = _last_writer(since[0], change)
    return ChangedSince(
        f"{who} changed this after “{change['label']}”. Keep it as it is now, or put the other "
        "value back.",
        offers=tuple(offers),
        insist=mark,
    )


def _last_writer(entry: Entry, change: Row) -> str:
    """Return who touched a row last after a change, and when."""
    row = first_row(
        "SELECT change.by, change.at FROM change, json_each(change.entries) AS entry"
        " WHERE change.id > ? AND undone_at IS NULL AND json_extract(entry.value, '$.table') = ?"
        " AND json_extract(entry.value, '$.id') = ? ORDER BY change.id DESC LIMIT 1",
        change["id"],
        entry["table"],
        entry["id"],
    )
    if row is None:
        return "Another change"
    when = datetime.fromisoformat(row["at"])
    return f"{row['by'] or 'Another screen'}, on {when:%d %b} at {when:%H:%M},"


def _mark(since: list[Entry]) -> str:
    now = [row_of(_TABLE[one["table"]], one["id"]) for one in since]
    return hashlib.sha256(json.dumps(now, sort_keys=True).encode()).hexdigest()[:16]


def _refuse_dependents(entry: Entry, leaving: set[tuple[str, int]], change: Row) -> None:
    """Refuse to take away a row that others belong to by now: nothing goes with it in silence."""
    for table in TABLES:
        for column in table._meta.sorted_fields:
            of = getattr(column, "rel_model", None)
            if table is ChangeTable or of is None or of._meta.table_name != entry["table"]:
                continue
            name = table._meta.table_name
            hanging = rows(
                f"SELECT id FROM {name} WHERE {column.column_name} = ?",  # noqa: S608
                entry["id"],
            )
            if any((name, row["id"]) not in leaving for row in hanging):
                raise StoreError(
                    f"“{change['label']}” stays: other work was added to it since.",
                    field="change",
                    expected="the later work taken back first",
                )


def _insert(table: Any, row: Row) -> None:
    try:
        insert_row(table, row)
    except peewee.IntegrityError:
        raise _no_place() from None


def _update(table: Any, row_id: int, columns: Row) -> None:
    try:
        update_row(table, row_id, columns)
    except peewee.IntegrityError:
        raise _no_place() from None


def _no_place() -> StoreError:
    return StoreError(
        "It cannot be put back: what it belongs to is gone, or its name is taken by now.",
        field="change",
        expected="the name free again",
    )
