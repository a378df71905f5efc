"""What someone wrote on a job's order list: prices, numbers, hours, expected lives."""

from dataclasses import dataclass
from datetime import date

from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows


def entries(job_id: int) -> dict[str, str]:
    """Return what was written, by key."""
    stored = rows("SELECT key, value FROM cost_entry WHERE job_id = ?", job_id)
    return {row["key"]: row["value"] for row in stored}


def suppliers() -> list[str]:
    """Return every supplier that was named on an order list, by name."""
    found = rows("SELECT DISTINCT value FROM cost_entry WHERE key LIKE 'supplier:%' ORDER BY 1")
    return [row["value"] for row in found]


@dataclass(frozen=True, slots=True)
class WaitedFor:
    """A part that is ordered and not here yet: for which job, since when, of whom."""

    job_id: int
    tag: int
    machine: str
    key: str
    since: date | None
    supplier: str
    pieces: int


def waited_for() -> list[WaitedFor]:
    """Return every part that open jobs wait for, the longest first."""
    more = ", ".join(
        "(SELECT value FROM cost_entry AS more WHERE more.job_id = job.id AND more.key ="  # noqa: S608
        f" '{kind}:' || substr(entry.key, 7)) AS {kind}"
        for kind in ("since", "supplier", "quantity")
    )
    return [
        WaitedFor(
            row["job_id"],
            row["tag"],
            row["name"],
            row["key"].partition(":")[2],
            date.fromisoformat(row["since"]) if row["since"] else None,
            row["supplier"] or "",
            int(row["quantity"] or 1),
        )
        for row in rows(
            f"SELECT entry.job_id, tag, machine.name, entry.key, {more} FROM cost_entry AS entry"  # noqa: S608  # words of ours
            " JOIN job ON job.id = entry.job_id JOIN machine ON machine.id = machine_id"
            " WHERE entry.key LIKE 'state:%' AND entry.value = 'ordered'"
            " AND job.closed_at IS NULL AND job.binned_at IS NULL"
            " ORDER BY since IS NULL, since, tag, entry.id"
        )
    ]


def set_entry(taken: journal.Step, job_id: int, key: str, value: str) -> None:
    """Write one entry within a step; an empty one goes."""
    known = first_row("SELECT id FROM cost_entry WHERE job_id = ? AND key = ?", job_id, key)
    if not value:
        if known is not None:
            taken.delete(models.CostEntryTable, known["id"])
    elif known is None:
        taken.insert(models.CostEntryTable, job=job_id, key=key, value=value)
    else:
        taken.update(models.CostEntryTable, known["id"], value=value)
