"""Keys other programs ask with: made for one of them by name, revoked alone, kept as a digest.

A key is random, so a plain digest of it gives nothing away; the key itself is shown once.
"""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

import peewee

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.store.rows import first_row, rows, writing

LONGEST_NAME, MOST_KEYS = 60, 100


class Purpose(StrEnum):
    """What a key opens."""

    PROGRAM = "program"
    CALENDAR = "calendar"


@dataclass(frozen=True, slots=True)
class AccessKey:
    """A key as it is listed: whose it is, what it opens, and when it was made and revoked."""

    id: int
    name: str
    purpose: Purpose
    made_at: datetime
    made_by: str
    revoked_at: datetime | None


def access_keys() -> list[AccessKey]:
    """Return every key, those in use first, the newest of them first."""
    found = rows("SELECT * FROM access_key ORDER BY revoked_at IS NOT NULL, id DESC")
    return [_key(row) for row in found]


def _key(row: dict[str, str]) -> AccessKey:
    return AccessKey(
        int(row["id"]),
        row["name"],
        Purpose(row["purpose"]),
        datetime.fromisoformat(row["made_at"]),
        row["made_by"],
        datetime.fromisoformat(row["revoked_at"]) if row["revoked_at"] else None,
    )


def make_key(
    database: peewee.SqliteDatabase, name: str, purpose: Purpose, *, at: datetime, by: str
) -> str:
    """Make a key and return it; it is kept nowhere.  Refuses a key without a name."""
    name = " ".join(name.split())
    if not name or len(name) > LONGEST_NAME:
        raise OutOfRange(
            f"Say in at most {LONGEST_NAME} letters which program the key is for.",
            field="name",
            expected="a name",
        )
    key = f"jentrik-{secrets.token_urlsafe(32)}"
    with writing(database):
        if len(rows("SELECT id FROM access_key WHERE revoked_at IS NULL")) >= MOST_KEYS:
            raise StoreError(f"A shop has at most {MOST_KEYS} keys.", field="name")
        database.execute_sql(
            "INSERT INTO access_key (name, purpose, digest, made_at, made_by)"
            " VALUES (?, ?, ?, ?, ?)",
            (name, purpose.value, _digest(key), at.isoformat(timespec="seconds"), by),
        )
    return key


def revoke_key(database: peewee.SqliteDatabase, key_id: int, *, at: datetime) -> None:
    """End a key for good; one that has ended stays as it is."""
    with writing(database):
        database.execute_sql(
            "UPDATE access_key SET revoked_at = ? WHERE id = ? AND revoked_at IS NULL",
            (at.isoformat(timespec="seconds"), key_id),
        )


def key_holder(key: str, purpose: Purpose) -> str | None:
    """Return the name a key was made for; None where it is none, ended, or for something else."""
    row = first_row(
        "SELECT name FROM access_key WHERE digest = ? AND purpose = ? AND revoked_at IS NULL",
        _digest(key),
        purpose.value,
    )
    return None if row is None else str(row["name"])


def _digest(key: str) -> str:
    return hashlib.sha256(key.encode("utf-8", "replace")).hexdigest()
