"""What someone wrote on a job's order list: prices, numbers, hours, expected lives."""

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
