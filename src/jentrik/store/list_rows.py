"""Lines kept beside machines and jobs: what a list shows of them that takes computing.

Triggers note the rows whose line is stale; whoever makes lines takes them from `stale_ids`.
"""

from collections.abc import Iterable
from datetime import date
from typing import Any

import peewee

from jentrik.core.work.due import Due
from jentrik.store.rows import first_row, rows, writing


def stale_ids(kind: str, *, most: int) -> list[int]:
    """Return machines or jobs whose line no longer agrees with them."""
    found = rows("SELECT id FROM stale WHERE kind = ? ORDER BY id LIMIT ?", kind, most)
    return [row["id"] for row in found]


def drop_stale_of_done_jobs(database: peewee.SqliteDatabase) -> None:
    """Forget the staleness of jobs that are done or in the bin: their line stays as it was."""
    done = (
        " kind = 'job' AND EXISTS (SELECT 1 FROM job WHERE job.id = stale.id"
        " AND (closed_at IS NOT NULL OR binned_at IS NOT NULL))"
    )
    if first_row(f"SELECT id FROM stale WHERE{done} LIMIT 1"):  # noqa: S608  # our own words
        with writing(database):
            database.execute_sql(f"DELETE FROM stale WHERE{done}")  # noqa: S608


def judged_before(today: date, *, most: int) -> list[int]:
    """Return open jobs whose line is of an earlier day: a tire may have grown too old since."""
    found = rows(
        "SELECT job_id FROM job JOIN job_line ON job_line.job_id = job.id"
        " WHERE closed_at IS NULL AND binned_at IS NULL AND judged_on != ? LIMIT ?",
        today.isoformat(),
        most,
    )
    return [row["job_id"] for row in found]


def line_of_job(job_id: int) -> dict[str, Any]:
    """Return the line that is kept of a job; nothing where none was made yet."""
    return first_row("SELECT * FROM job_line WHERE job_id = ?", job_id) or {}


def keep_line(
    database: peewee.SqliteDatabase, table: str, row_id: int, values: dict[str, Any] | None
) -> None:
    """Keep the line of a machine or job, None where there is none, and note that it agrees."""
    kind = table.removesuffix("_line")
    if values is not None:
        names = ", ".join(values)
        marks = ", ".join("?" for _ in values)
        database.execute_sql(
            f"INSERT OR REPLACE INTO {table} ({kind}_id, {names}) VALUES (?, {marks})",  # noqa: S608
            (row_id, *values.values()),
        )
    database.execute_sql("DELETE FROM stale WHERE kind = ? AND id = ?", (kind, row_id))


def keep_due(database: peewee.SqliteDatabase, machine_id: int, due: Iterable[Due]) -> None:
    """Keep what is due of a machine's tires."""
    database.execute_sql("DELETE FROM due_line WHERE machine_id = ?", (machine_id,))
    for one in due:
        database.execute_sql(
            "INSERT OR REPLACE INTO due_line (key, machine_id, on_day, what, why)"
            " VALUES (?, ?, ?, ?, ?)",
            (one.key, machine_id, one.on.isoformat(), one.what, one.why),
        )


def due_of_tires(*, until: date | None = None, most: int = 100_000) -> list[Due]:
    """Return what is due of the tires of all machines, the earliest first, up to a day."""
    found = rows(
        "SELECT due_line.*, machine.name FROM due_line JOIN machine ON machine.id = machine_id"
        " WHERE machine.binned_at IS NULL AND on_day <= ? ORDER BY on_day, key LIMIT ?",
        (until or date.max).isoformat(),
        most,
    )
    return [
        Due(
            row["key"],
            date.fromisoformat(row["on_day"]),
            row["what"],
            row["why"],
            row["machine_id"],
            row["name"],
        )
        for row in found
    ]


def due_of_jobs(*, until: date | None = None, most: int = 100_000) -> list[Due]:
    """Return the open jobs that are due, the earliest first, up to a day."""
    found = rows(
        "SELECT job.id, tag, wanted, due_on, machine_id, name FROM job JOIN machine"
        " ON machine.id = machine_id WHERE closed_at IS NULL AND job.binned_at IS NULL"
        " AND due_on IS NOT NULL AND due_on <= ? AND machine.binned_at IS NULL"
        " ORDER BY due_on IS NULL, due_on, tag LIMIT ?",
        (until or date.max).isoformat(),
        most,
    )
    return [
        Due(
            f"job-{row['id']}",
            date.fromisoformat(row["due_on"]),
            row["wanted"] or "job",
            f"For job {row['tag']}.",
            row["machine_id"],
            row["name"],
            row["id"],
        )
        for row in found
    ]


def standing(*, most: int = 100_000) -> list[tuple[int, str, date]]:
    """Return the machines that stand: id, name, since when."""
    found = rows(
        "SELECT id, name, stands_since FROM machine WHERE stands_since IS NOT NULL"
        " AND binned_at IS NULL ORDER BY stands_since LIMIT ?",
        most,
    )
    return [(row["id"], row["name"], date.fromisoformat(row["stands_since"])) for row in found]
