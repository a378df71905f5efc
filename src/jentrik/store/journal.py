"""Every write goes through a step of the journal, so that it can be taken back.

A step keeps each row before and after.  Keystrokes join into one step while they are typed by one
person into one field during one visit to that field, and nothing else came between.
"""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

import peewee

from jentrik.core.errors import StoreError
from jentrik.store.chain import note_document
from jentrik.store.models import ChangeTable, JobDocumentTable
from jentrik.store.once import claim, note_stored
from jentrik.store.rows import Row, first_row, writing

STAYS = "stays"  # first word of a subject: undo passes over it, as over how a machine came in
LONGEST_LABEL = 200


@dataclass(frozen=True, slots=True)
class Author:
    """Who writes: a name, the screen it is written on, and one visit to one field of it."""

    name: str = ""
    screen: str = ""
    visit: str = ""


NO_ONE = Author()


@dataclass(slots=True)
class Step:
    """The rows one change has touched so far, its words, and the machine or job it is of."""

    label: str
    subject: str
    machine_id: int | None = None
    job_id: int | None = None
    entries: list[dict[str, Any]] = field(default_factory=list)

    def insert(self, table: Any, **values: Any) -> int:
        """Add a row under an id that no row of this table ever had, and return the id."""
        row_id = next_id(table)
        insert_row(table, {"id": row_id, **_columns(table, values)})
        self._note(table, row_id, None, row_of(table, row_id))
        return row_id

    def update(self, table: Any, row_id: int, **values: Any) -> None:
        """Change a row; refuses one that is gone."""
        before = row_of(table, row_id)
        if before is None:
            raise StoreError("That is not there any more.", expected="something still there")
        self._note(table, row_id, before, update_row(table, row_id, _columns(table, values)))

    def delete(self, table: Any, row_id: int) -> None:
        """Take a row away; the step keeps it."""
        before = row_of(table, row_id)
        if before is not None:
            delete_row(table, row_id)
            self._note(table, row_id, before, None)

    def _note(self, table: Any, row_id: int, before: Row | None, after: Row | None) -> None:
        """Keep a row as before the step and as it is now, in one entry, without its secret."""
        name = table._meta.table_name
        before, after = _without_secret(before), _without_secret(after)
        for entry in self.entries:
            if (entry["table"], entry["id"]) == (name, row_id):
                entry["after"] = after
                if entry["before"] == after:
                    self.entries.remove(entry)
                return
        if before != after:
            self.entries.append({"table": name, "id": row_id, "before": before, "after": after})


def _without_secret(row: Row | None) -> Row | None:
    return row and {name: value for name, value in row.items() if name != "secret"}


def _columns(table: Any, values: Row) -> Row:
    """Return values by column: a model calls a reference by what it refers to."""
    fields = table._meta.fields
    return {fields[name].column_name: value for name, value in values.items()}


# Statements of our own tables and columns; peewee takes longer to put one together than SQLite
# to carry it out.


def insert_row(table: Any, row: Row) -> None:
    """Write a new row, column by column."""
    names, marks = ", ".join(row), ", ".join("?" for _ in row)
    sql = f"INSERT INTO {table._meta.table_name} ({names}) VALUES ({marks})"  # noqa: S608
    table._meta.database.execute_sql(sql, tuple(row.values()))
    if table is JobDocumentTable and "id" in row:
        note_document(row["id"])


def update_row(table: Any, row_id: int, columns: Row) -> Row | None:
    """Write some columns of a row and return it whole."""
    changes = ", ".join(f"{name} = ?" for name in columns)
    sql = f"UPDATE {table._meta.table_name} SET {changes} WHERE id = ? RETURNING *"  # noqa: S608
    return first_row(sql, *columns.values(), row_id)


def delete_row(table: Any, row_id: int) -> None:
    """Take a row away."""
    sql = f"DELETE FROM {table._meta.table_name} WHERE id = ?"  # noqa: S608
    table._meta.database.execute_sql(sql, (row_id,))
    if table is JobDocumentTable:
        note_document(row_id)


def row_of(table: Any, row_id: int) -> Row | None:
    """Return a row of one of our tables as column -> value."""
    # The table's name is one of ours, never typed.
    return first_row(f"SELECT * FROM {table._meta.table_name} WHERE id = ?", row_id)  # noqa: S608


def next_id(table: Any) -> int:
    """Return an id no row of this table ever had: an id used again would confuse undo."""
    name = table._meta.table_name
    row = first_row(
        "INSERT INTO last_id (name, id)"  # noqa: S608  # the table's name is one of ours
        f" VALUES (?, (SELECT COALESCE(MAX(id), 0) FROM {name}) + 1) ON CONFLICT (name) DO UPDATE"
        f" SET id = MAX(id, (SELECT COALESCE(MAX(id), 0) FROM {name})) + 1 RETURNING id",
        name,
    )
    assert row is not None
    return int(row["id"])


@contextmanager
def step(
    database: peewee.SqliteDatabase,
    *,
    now: datetime,
    label: str,
    subject: str,
    machine_id: int | None = None,
    job_id: int | None = None,
    author: Author = NO_ONE,
) -> Iterator[Step]:
    """Open one change: an immediate transaction whose rows are kept under the step's label.

    Read what the change depends on within it: no other write comes until it ends.  `subject` names
    what is being changed.  The label may be set within, and so may the machine or job.  A refusal
    within leaves nothing behind.
    """
    try:
        with writing(database):
            outermost = database.transaction_depth() == 1
            claim(now)
            taken = Step(label, subject, machine_id, job_id)
            yield taken
            if taken.entries:
                _keep(taken, now, author)
        if taken.entries and outermost:
            note_stored()
    except peewee.IntegrityError as error:
        raise StoreError(
            _clash(str(error)), field="name", expected="something of its own"
        ) from None


def _clash(said: str) -> str:
    """Return what a constraint of the database says, in a sentence."""
    if "machine.name_key" in said:
        return "There is another machine of that name."
    if "UNIQUE" in said:
        return "That is there already: look again to see it."
    return "That does not go with what is stored: look again to see it."


def _keep(taken: Step, now: datetime, author: Author) -> None:
    last = _last_of(taken.machine_id, taken.job_id) if author.visit else None
    if (
        last is not None
        and last["undone_at"] is None
        and (last["subject"], last["by"]) == (taken.subject, author.name)
        and (last["screen"], last["visit"]) == (author.screen, author.visit)
    ):
        entries = _joined(json.loads(last["entries"]), taken.entries)
        update_row(
            ChangeTable,
            last["id"],
            {
                "entries": json.dumps(entries),
                "at": now.isoformat(),
                "label": taken.label[:LONGEST_LABEL],
            },
        )
        return
    insert_row(
        ChangeTable,
        {
            "id": next_id(ChangeTable),
            "at": now.isoformat(),
            "machine_id": taken.machine_id,
            "job_id": taken.job_id,
            "subject": taken.subject,
            "label": taken.label[:LONGEST_LABEL],
            "entries": json.dumps(taken.entries),
            "by": author.name,
            "screen": author.screen,
            "visit": author.visit,
        },
    )


def visit_of_last(machine_id: int, subject: str) -> str:
    """Return the visit of a machine's newest change, where it is of a subject: to go on with it."""
    last = _last_of(machine_id, None)
    return str(last["visit"]) if last is not None and last["subject"] == subject else ""


def _last_of(machine_id: int | None, job_id: int | None) -> Row | None:
    """Return the newest change of a machine or job, undone or not."""
    if machine_id is None and job_id is None:
        return first_row(
            "SELECT * FROM change WHERE machine_id IS NULL AND job_id IS NULL"
            " ORDER BY id DESC LIMIT 1"
        )
    column, of = ("machine_id", machine_id) if job_id is None else ("job_id", job_id)
    return first_row(
        f"SELECT * FROM change WHERE {column} = ? ORDER BY id DESC LIMIT 1",  # noqa: S608
        of,
    )


def _joined(first: list[dict[str, Any]], then: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the entries of two steps as one: each row as before the first, after the second."""
    rows = {(entry["table"], entry["id"]): dict(entry) for entry in first}
    for entry in then:
        known = rows.get((entry["table"], entry["id"]))
        if known is None:
            rows[entry["table"], entry["id"]] = dict(entry)
        else:
            known["after"] = entry["after"]
    return list(rows.values())
