"""What happened in the shop, in order, from the journal: for programs and for other screens."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jentrik.core.days import with_offset
from jentrik.core.work.due import Revision
from jentrik.store.rows import Row, first_row, rows

MOST = 200


@dataclass(frozen=True, slots=True)
class Happened:
    """One change as it happened: its place in the order, when, by whom, of what, in words.

    `kind` and `id` name what it is of: a job, a machine, else the first word of its subject.
    """

    n: int
    at: datetime
    by: str
    kind: str
    id: int | None
    what: str
    machine_id: int | None
    screen: str = ""

    def as_document(self) -> dict[str, Any]:
        """Return it as plain values, its moment with the offset of this place."""
        return {
            "n": self.n,
            "at": with_offset(self.at),
            "by": self.by,
            "kind": self.kind,
            "id": self.id,
            "what": self.what,
        }


_HAPPENED = """SELECT n, undone, change.*, COALESCE(change.machine_id, job.machine_id) AS of_machine
    FROM happened JOIN change ON change.id = change_id LEFT JOIN job ON job.id = change.job_id"""


def happened_since(n: int, *, most: int = MOST) -> list[Happened]:
    """Return what happened after a place in the order, so much at most."""
    return [_happened(row) for row in rows(f"{_HAPPENED} WHERE n > ? ORDER BY n LIMIT ?", n, most)]


def last_happened() -> int:
    """Return the place of what happened last; 0 before anything did."""
    row = first_row("SELECT MAX(n) AS n FROM happened")
    return row["n"] or 0 if row else 0


def revisions() -> dict[int, Revision]:
    """Return where each machine stands: how often something of it changed, and when it last did."""
    found = rows(
        "SELECT COALESCE(change.machine_id, job.machine_id) AS of, COUNT(*) AS times,"
        " MAX(COALESCE(undone_at, change.at)) AS at FROM happened"
        " JOIN change ON change.id = change_id LEFT JOIN job ON job.id = change.job_id"
        " GROUP BY of HAVING of IS NOT NULL"
    )
    return {row["of"]: Revision(row["times"], datetime.fromisoformat(row["at"])) for row in found}


def _happened(row: Row) -> Happened:
    undone = bool(row["undone"]) and row["undone_at"] is not None
    kind, number = row["subject"].partition(" ")[0], None
    for name in ("machine", "job"):
        if row[f"{name}_id"] is not None:
            kind, number = name, row[f"{name}_id"]
    return Happened(
        row["n"],
        datetime.fromisoformat(row["undone_at"] if undone else row["at"]),
        row["undone_by"] if undone else row["by"],
        kind,
        number,
        f"taken back: {row['label']}" if undone else row["label"],
        row["of_machine"],
        row["undone_on"] if undone else row["screen"],
    )
