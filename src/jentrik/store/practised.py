"""Backups that are tried: each week the newest is restored into a scratch folder and looked at."""

import json
import sqlite3
import tempfile
from contextlib import closing
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from pathlib import Path

import peewee

from jentrik.core.errors import Refusal
from jentrik.store.backups import FOLDER, RESTORE_PREFIX, kept_backups, restore
from jentrik.store.chain import first_broken
from jentrik.store.database import FILE_NAME
from jentrik.store.rows import first_row, writing

STATE, EVERY = "practised", timedelta(days=7)


@dataclass(frozen=True, slots=True)
class Practised:
    """What became of a backup that was restored to try it."""

    at: str
    name: str
    machines: int = 0
    jobs: int = 0
    documents: int = 0
    trouble: str = ""

    @property
    def tried_at(self) -> datetime:
        """When it was tried."""
        return datetime.fromisoformat(self.at)


def last_practised() -> Practised | None:
    """Return what the last try found; None before the first."""
    row = first_row("SELECT value FROM shop_state WHERE key = ?", STATE)
    return None if row is None else Practised(**json.loads(row["value"]))


def practise(database: peewee.SqliteDatabase, data: Path, *, now: datetime) -> Practised | None:
    """Restore the newest backup aside, open it, count it, and look at its chain of documents.

    Returns what was found and keeps it; None where there is no backup.
    """
    newest = next(iter(kept_backups(data)), None)
    if newest is None:
        return None
    at = now.isoformat(timespec="minutes")
    try:
        with tempfile.TemporaryDirectory(dir=data, prefix=RESTORE_PREFIX) as aside:
            there = Path(aside) / "shop"
            holds, _ = restore(data / FOLDER / newest.name, there, now=now)
            found = _looked_at(there / FILE_NAME, at, newest.name)
        if not found.trouble and (found.machines, found.jobs) != (holds.machines, holds.jobs):
            found = Practised(at, newest.name, trouble="it holds other than it says")
    except Refusal as refusal:
        found = Practised(at, newest.name, trouble=refusal.message)
    with writing(database):
        database.execute_sql(
            "INSERT OR REPLACE INTO shop_state (key, value) VALUES (?, ?)",
            (STATE, json.dumps(asdict(found))),
        )
    return found


def _looked_at(file: Path, at: str, name: str) -> Practised:
    with closing(sqlite3.connect(file)) as raw:
        raw.row_factory = sqlite3.Row

        def count(table: str) -> int:
            asked = f"SELECT COUNT(*) FROM {table} WHERE binned_at IS NULL"  # noqa: S608
            return int(raw.execute(asked).fetchone()[0])

        links = [dict(row) for row in raw.execute("SELECT * FROM document_chain ORDER BY id")]
        documents = {
            row["id"]: dict(row) for row in raw.execute("SELECT * FROM job_document ORDER BY id")
        }
        broken = first_broken(links, dict(documents))
        return Practised(at, name, count("machine"), count("job"), len(documents), broken)


def is_due(now: datetime) -> bool:
    """Whether a backup is to be tried again."""
    last = last_practised()
    return last is None or now - last.tried_at >= EVERY
