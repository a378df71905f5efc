"""Sessions opened with the shop's passphrase: from where, since when, each ended alone."""

from dataclasses import dataclass
from datetime import datetime

import peewee

from jentrik.store.rows import rows, writing

KEPT_DAYS, LONGEST_AGENT = 30, 200


@dataclass(frozen=True, slots=True)
class Session:
    """A session: its id, its browser and address, when it was opened and when last used."""

    id: str
    agent: str
    address: str
    opened_at: datetime
    used_at: datetime


def open_session(
    database: peewee.SqliteDatabase, session_id: str, *, agent: str, address: str, at: datetime
) -> None:
    """Keep a session that was opened, and forget those that ended or ran out."""
    with writing(database):
        database.execute_sql(
            "DELETE FROM session WHERE julianday(opened_at) < julianday(?) - ?",
            (at.isoformat(), KEPT_DAYS),
        )
        database.execute_sql(
            "INSERT INTO session (id, agent, address, opened_at, used_at) VALUES (?, ?, ?, ?, ?)",
            (session_id, agent[:LONGEST_AGENT], address, at.isoformat(), at.isoformat()),
        )


def sessions() -> list[Session]:
    """Return the sessions that go on, the last used first."""
    return [
        Session(
            row["id"],
            row["agent"],
            row["address"],
            datetime.fromisoformat(row["opened_at"]),
            datetime.fromisoformat(row["used_at"]),
        )
        for row in rows("SELECT * FROM session WHERE ended_at IS NULL ORDER BY used_at DESC")
    ]


def goes_on(session_id: str) -> bool:
    """Whether a session was opened here and not ended."""
    return bool(rows("SELECT 1 FROM session WHERE id = ? AND ended_at IS NULL", session_id))


def note_use(database: peewee.SqliteDatabase, session_id: str, *, at: datetime) -> None:
    """Note when a session was used last."""
    with writing(database):
        database.execute_sql(
            "UPDATE session SET used_at = ? WHERE id = ?", (at.isoformat(), session_id)
        )


def end_session(database: peewee.SqliteDatabase, session_id: str, *, at: datetime) -> None:
    """End one session."""
    with writing(database):
        database.execute_sql(
            "UPDATE session SET ended_at = ? WHERE id = ?", (at.isoformat(), session_id)
        )
