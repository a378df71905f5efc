"""The journal read back: every change with who, when, from and to; and the bin."""

import json
from dataclasses import dataclass
from datetime import datetime

from jentrik.core.errors import StoreError
from jentrik.store import journal, models
from jentrik.store.past import FieldMoved, moved_by
from jentrik.store.rows import first_row, rows

MOST_CHANGES = 40  # on a page
LAST_ID = 2**62


@dataclass(frozen=True, slots=True)
class PastChange:
    """One step of the journal: when, by whom, in words, and each thing it moved."""

    id: int
    at: datetime
    by: str
    label: str
    moved: tuple[FieldMoved, ...]
    taken_back: bool
    job_id: int | None = None
    stays: bool = False  # how a machine came in cannot be taken back


def numbered(table: str, *, number: int = 0, external_id: str = "") -> int | None:
    """Return the number of a thing by its number or another program's key; None where none is."""
    there = " AND binned_at IS NULL" if table in ("machine", "job") else ""
    column, value = ("external_id", external_id) if external_id else ("id", number)
    row = first_row(f"SELECT id FROM {table} WHERE {column} = ?{there}", value)  # noqa: S608
    return row["id"] if row else None


def history(machine_id: int, *, before: int | None = None) -> list[PastChange]:
    """Return a page of the changes of a machine and of its jobs, the last first.

    `before` is the id of the last one on the page before.
    """
    below = LAST_ID if before is None else before
    found = rows(
        """SELECT * FROM (SELECT * FROM change WHERE machine_id = ? AND id < ?
                          ORDER BY id DESC LIMIT ?)
           UNION ALL SELECT * FROM (SELECT change.* FROM job JOIN change
                          ON change.job_id = job.id WHERE job.machine_id = ? AND change.id < ?
                          ORDER BY change.id DESC LIMIT ?) ORDER BY id DESC LIMIT ?""",
        machine_id,
        below,
        MOST_CHANGES,
        machine_id,
        below,
        MOST_CHANGES,
        MOST_CHANGES,
    )
    past = [
        PastChange(
            row["id"],
            datetime.fromisoformat(row["at"]),
            row["by"],
            row["label"],
            moved_by(json.loads(row["entries"])),
            row["undone_at"] is not None,
            row["job_id"],
            row["subject"].startswith(f"{journal.STAYS} "),
        )
        for row in found
    ]
    return sorted(past, key=lambda change: (change.at, change.id), reverse=True)


def job_of_change(machine_id: int, change_id: int | None) -> int | None:
    """Return the job a change is of, where that is a job of this machine."""
    row = (
        None
        if change_id is None
        else first_row(
            "SELECT job.id FROM change JOIN job ON job.id = change.job_id"
            " WHERE change.id = ? AND job.machine_id = ?",
            change_id,
            machine_id,
        )
    )
    return None if row is None else int(row["id"])


@dataclass(frozen=True, slots=True)
class Binned:
    """Something in the bin: a machine or a job, what it is called, since when."""

    kind: str
    id: int
    name: str
    since: datetime


def binned() -> list[Binned]:
    """Return what lies in the bin, the last first."""
    found = rows(
        """SELECT 'machine' AS kind, id, name, binned_at FROM machine WHERE binned_at IS NOT NULL
           UNION ALL
           SELECT 'job', job.id, 'tag ' || tag || ', ' || machine.name ||
                  CASE wanted WHEN '' THEN '' ELSE ': ' || wanted END,
                  job.binned_at
           FROM job JOIN machine ON machine.id = job.machine_id WHERE job.binned_at IS NOT NULL
           ORDER BY binned_at DESC"""
    )
    return [
        Binned(row["kind"], row["id"], row["name"], datetime.fromisoformat(row["binned_at"]))
        for row in found
    ]


def bin_machine(taken: journal.Step, machine_id: int, *, at: datetime | None) -> None:
    """Put a machine in the bin within a step, or without a time back; refuses one on the bench."""
    busy = first_row(
        """SELECT tag FROM job WHERE machine_id = ? AND closed_at IS NULL AND binned_at IS NULL""",
        machine_id,
    )
    if at is not None and busy is not None:
        raise StoreError(
            f"It is on the bench: tag {busy['tag']}. Close that job or put it in the bin first.",
            field="bin",
            expected="no open job",
        )
    taken.update(models.MachineTable, machine_id, binned_at=at.isoformat() if at else None)


def bin_job(taken: journal.Step, job_id: int, *, at: datetime | None) -> None:
    """Put a job in the bin within a step, or without a time back; refuses one without machine."""
    gone = first_row(
        """SELECT machine.name FROM job JOIN machine ON machine.id = job.machine_id
           WHERE job.id = ? AND machine.binned_at IS NOT NULL""",
        job_id,
    )
    if at is None and gone is not None:
        raise StoreError(
            f"Its machine is in the bin: bring {gone['name']} back first.",
            field="bin",
            expected="its machine first",
        )
    taken.update(models.JobTable, job_id, binned_at=at.isoformat() if at else None)
