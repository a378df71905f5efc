"""Addresses of other programs that are notified, each with the key of its notices."""

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from urllib.parse import urlsplit

import peewee

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.store.happenings import last_happened
from jentrik.store.rows import Row, first_row, rows, writing

LONGEST_ADDRESS, MOST_HOOKS = 300, 20
FIRST_WAIT, LONGEST_WAIT = timedelta(seconds=10), timedelta(hours=6)
GIVEN_UP_AFTER = timedelta(days=3)


@dataclass(frozen=True, slots=True)
class Webhook:
    """An address that is notified: up to which place in the order, and how the last one went."""

    id: int
    address: str
    made_at: datetime
    made_by: str
    sent_to: int
    failures: int
    failing_since: datetime | None
    next_at: datetime | None
    said: str
    ended_at: datetime | None


def webhooks() -> list[Webhook]:
    """Return every address, those that are notified first."""
    found = rows("SELECT * FROM webhook ORDER BY ended_at IS NOT NULL, id DESC")
    return [_webhook(row) for row in found]


def secret_of(hook_id: int) -> str:
    """Return the key that an address's notices are signed with."""
    row = first_row("SELECT secret FROM webhook WHERE id = ?", hook_id)
    if row is None:
        raise StoreError("That address is not notified any more.")
    return str(row["secret"])


def due_webhooks(now: datetime) -> list[Webhook]:
    """Return the addresses that something is to be sent to now."""
    last = last_happened()
    return [
        one
        for one in webhooks()
        if one.ended_at is None and one.sent_to < last and not (one.next_at and one.next_at > now)
    ]


def _webhook(row: Row) -> Webhook:
    def moment(name: str) -> datetime | None:
        return datetime.fromisoformat(row[name]) if row[name] else None

    made_at = moment("made_at")
    assert made_at is not None
    return Webhook(
        row["id"],
        row["address"],
        made_at,
        row["made_by"],
        row["sent_to"],
        row["failures"],
        moment("failing_since"),
        moment("next_at"),
        row["said"],
        moment("ended_at"),
    )


def add_webhook(database: peewee.SqliteDatabase, address: str, *, at: datetime, by: str) -> str:
    """Notify an address from now on; return the key it checks notices by.

    Refuses what is no address of a program.
    """
    address = address.strip()
    try:
        parts = urlsplit(address)
        fine = parts.scheme in ("http", "https") and bool(parts.hostname) and parts.port != 0
    except ValueError:
        fine = False
    if not fine or parts.username or len(address) > LONGEST_ADDRESS or not address.isascii():
        raise OutOfRange(
            f"“{address[:60]}” is no address of a program.",
            field="address",
            expected="an address like https://accounts.example/jentrik",
        )
    secret = secrets.token_urlsafe(32)
    with writing(database):
        if len(rows("SELECT id FROM webhook WHERE ended_at IS NULL")) >= MOST_HOOKS:
            raise StoreError(f"A shop notifies at most {MOST_HOOKS} programs.", field="address")
        database.execute_sql(
            "INSERT INTO webhook (address, secret, made_at, made_by, sent_to)"
            " VALUES (?, ?, ?, ?, ?)",
            (address, secret, at.isoformat(timespec="seconds"), by, last_happened()),
        )
    return secret


def end_webhook(
    database: peewee.SqliteDatabase, hook_id: int, *, at: datetime, said: str = ""
) -> None:
    """Stop notifying an address."""
    with writing(database):
        database.execute_sql(
            "UPDATE webhook SET ended_at = ?, said = ? WHERE id = ? AND ended_at IS NULL",
            (at.isoformat(timespec="seconds"), said, hook_id),
        )


def note_notified(database: peewee.SqliteDatabase, hook: Webhook, sent_to: int) -> None:
    """Note up to where an address was notified."""
    with writing(database):
        database.execute_sql(
            "UPDATE webhook SET sent_to = ?, failures = 0, failing_since = NULL, next_at = NULL,"
            " said = '' WHERE id = ?",
            (sent_to, hook.id),
        )


def note_failed(database: peewee.SqliteDatabase, hook: Webhook, said: str, now: datetime) -> None:
    """Note that an address could not be notified: it is tried later and later, then no more."""
    since = hook.failing_since or now
    if now - since >= GIVEN_UP_AFTER:
        end_webhook(database, hook.id, at=now, said=said)
        return
    wait = min(FIRST_WAIT * 2 ** min(hook.failures, 20), LONGEST_WAIT)
    with writing(database):
        database.execute_sql(
            "UPDATE webhook SET failures = failures + 1, failing_since = ?, next_at = ?, said = ?"
            " WHERE id = ?",
            (since.isoformat(), (now + wait).isoformat(), said[:200], hook.id),
        )
