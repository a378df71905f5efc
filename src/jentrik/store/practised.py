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
from jentrik.store.backups import FOLDER, RESTORE_PREFIX, holds_in, kept_backups, restore
from jentrik.store.chain import first_broken
from jentrik.store.database import FILE_NAME, connection, migrate
from jentrik.store.rows import Row, first_row, writing

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
            said, _ = restore(data / FOLDER / newest.name, there, now=now)
            documents, trouble = _documents_of(there / FILE_NAME)
            holds = holds_in(there / FILE_NAME, now, said.photos, said.missing_photos)
        if (holds.machines, holds.jobs) != (said.machines, said.jobs):
            trouble = "it holds other than it says"
        found = Practised(at, newest.name, holds.machines, holds.jobs, documents, trouble)
    except Refusal as refusal:
        found = Practised(at, newest.name, trouble=refusal.message)
    with writing(database):
        database.execute_sql(
            "INSERT OR REPLACE INTO shop_state (key, value) VALUES (?, ?)",
            (STATE, json.dumps(asdict(found))),
        )
    return found


def _documents_of(file: Path) -> tuple[int, str]:
    """Bring a restored database up to date, as opening it would; look at its sealed documents.

    Returns how many they are and what does not follow; those of before there was a chain have none.
    """
    newer = connection(file)
    newer.connect()
    try:
        chained = newer.table_exists("document_chain")
        migrate(newer)
    finally:
        newer.close()
    with closing(sqlite3.connect(file)) as raw:
        raw.row_factory = sqlite3.Row

        def every(table: str) -> list[Row]:
            return [dict(row) for row in raw.execute(f"SELECT * FROM {table} ORDER BY id")]  # noqa: S608

        documents = {row["id"]: row for row in every("job_document")}
        broken = first_broken(every("document_chain"), dict(documents)) if chained else ""
        return len(documents), broken


def is_due(now: datetime) -> bool:
    """Whether a backup is to be tried again."""
    last = last_practised()
    return last is None or now - last.tried_at >= EVERY
