"""Every write goes through a step of the journal, and a step can be taken back whole.

A step keeps each row before and after.  Keystrokes in one field within a few seconds join into
one step, so that undo takes back what a person would call one change.
"""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

import peewee

from jentrik.store.models import TABLES, Change
from jentrik.store.rows import first_row

JOIN_WITHIN = timedelta(seconds=10)
STAYS = "stays"  # first word of a subject: undo passes over it, as over how a machine came in
_TABLE = {table._meta.table_name: table for table in TABLES}
Row = dict[str, Any]


@dataclass(slots=True)
class Step:
    """The rows one change has touched so far, and the machine it is of."""

    machine_id: int | None = None
    entries: list[dict[str, Any]] = field(default_factory=list)

    def insert(self, table: Any, **values: Any) -> int:
        """Add a row and return its id."""
        row_id = int(table.insert(values).execute())
        self._note(table, row_id, None)
        return row_id

    def update(self, table: Any, row_id: int, **values: Any) -> None:
        """Change a row."""
        before = _row(table, row_id)
        table.update(values).where(table.id == row_id).execute()
        self._note(table, row_id, before)

    def delete(self, table: Any, row_id: int) -> None:
        """Take a row away; the step keeps it."""
        before = _row(table, row_id)
        table.delete().where(table.id == row_id).execute()
        self._note(table, row_id, before)

    def _note(self, table: Any, row_id: int, before: Row | None) -> None:
        self.entries.append(
            {
                "table": table._meta.table_name,
                "id": row_id,
                "before": before,
                "after": _row(table, row_id),
            }
        )


def _row(table: Any, row_id: int) -> Row | None:
    # The table's name is one of ours, never typed by anybody.
    return first_row(f"SELECT * FROM {table._meta.table_name} WHERE id = ?", row_id)  # noqa: S608


@contextmanager
def step(
    database: peewee.SqliteDatabase,
    *,
    now: datetime,
    label: str,
    subject: str,
    machine_id: int | None = None,
    job_id: int | None = None,
    by: str = "",
    joins: bool = True,
) -> Iterator[Step]:
    """Open one change: a transaction whose rows are kept under `label`.

    `subject` names what is being changed; steps of one subject close in time join.  `by` is who
    did it, as they call themselves.  A step that never `joins` is undone alone.  One that adds its
    machine says `machine_id` within.
    """
    with database.atomic("IMMEDIATE"):
        taken = Step(machine_id)
        yield taken
        if taken.entries:
            _keep(taken, now, label, subject, job_id, by, joins=joins)


def _keep(
    taken: Step,
    now: datetime,
    label: str,
    subject: str,
    job_id: int | None,
    by: str,
    *,
    joins: bool,
) -> None:
    last = _last(machine_id=taken.machine_id, job_id=job_id)
    if (
        joins
        and last is not None
        and last["subject"] == subject
        and last["by"] == by
        and now - datetime.fromisoformat(last["at"]) <= JOIN_WITHIN
    ):
        entries = _joined(json.loads(last["entries"]), taken.entries)
        Change.update(entries=json.dumps(entries), at=now.isoformat(), label=label).where(
            Change.id == last["id"]
        ).execute()
        return
    Change.insert(
        at=now.isoformat(),
        machine=taken.machine_id,
        job=job_id,
        subject=subject,
        label=label,
        entries=json.dumps(taken.entries),
        by=by,
    ).execute()


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


def _last_of_subject(subject: str) -> Row | None:
    return first_row(
        """SELECT * FROM change INDEXED BY change_loose WHERE machine_id IS NULL
           AND job_id IS NULL AND undone_at IS NULL AND subject LIKE ?
           ORDER BY id DESC LIMIT 1""",
        f"{subject} %",
    )


def _last(*, machine_id: int | None, job_id: int | None, subject: str | None = None) -> Row | None:
    if subject is not None:
        return _last_of_subject(subject)
    # Two indexed look-ups: an OR over both columns would scan the journal.
    return first_row(
        """SELECT * FROM (SELECT * FROM (SELECT * FROM change WHERE machine_id = ?
                          AND undone_at IS NULL AND subject NOT LIKE ?
                          ORDER BY id DESC LIMIT 1)
           UNION ALL SELECT * FROM (SELECT * FROM change WHERE job_id = ?
                          AND undone_at IS NULL AND subject NOT LIKE ?
                          ORDER BY id DESC LIMIT 1))
           ORDER BY id DESC LIMIT 1""",
        machine_id,
        f"{STAYS} %",
        job_id,
        f"{STAYS} %",
    )


def last_label(
    *, machine_id: int | None = None, job_id: int | None = None, subject: str | None = None
) -> str | None:
    """Return what undo would take back for this machine, job, or first word of a subject."""
    last = _last(machine_id=machine_id, job_id=job_id, subject=subject)
    return None if last is None else str(last["label"])


def undo(
    database: peewee.SqliteDatabase,
    *,
    now: datetime,
    machine_id: int | None = None,
    job_id: int | None = None,
    subject: str | None = None,
) -> str | None:
    """Take back the last step of this machine, job or subject; return its label, if any."""
    with database.atomic("IMMEDIATE"):
        last = _last(machine_id=machine_id, job_id=job_id, subject=subject)
        if last is None:
            return None
        for entry in reversed(json.loads(last["entries"])):
            _put_back(entry)
        Change.update(undone_at=now.isoformat()).where(Change.id == last["id"]).execute()
        return str(last["label"])


def _put_back(entry: dict[str, Any]) -> None:
    table, row_id, before = _TABLE[entry["table"]], entry["id"], entry["before"]
    if before is None:
        table.delete().where(table.id == row_id).execute()
    elif _row(table, row_id) is None:
        table.insert(before).execute()
    else:
        table.update(before).where(table.id == row_id).execute()
