"""Each write once: what one request wrote, and the first answer to a write that was named.

A page's form carries an id made where it is typed, a program names its write by `Idempotency-Key`.
The id is stored within the transaction of the write, so that sent again, by a second press or
after a lost answer, nothing is done again and the first answer is given.
"""

from contextvars import ContextVar
from dataclasses import dataclass
from datetime import datetime

import peewee

from jentrik.store.models import MachineTable
from jentrik.store.rows import first_row, writing

KEPT_DAYS = 30
PAGES = "pages"  # the client that every form is of


@dataclass(frozen=True, slots=True)
class KeptAnswer:
    """What was answered to a write that was named: of which request, its status and its body.

    The body of a page's answer is the address it led to; status 0 is an answer never given.
    """

    asked: str
    status: int
    body: str


class Replayed(Exception):
    """A write that was done before; carries its first answer."""

    def __init__(self, answer: KeptAnswer) -> None:
        super().__init__("This was stored when it was sent first.")
        self.answer = answer


@dataclass(slots=True)
class RequestWrites:
    """What the request at work wrote: the id its form carries, and whether it is stored."""

    once: str = ""
    claimed: bool = False
    stored: bool = False


AT_WORK: ContextVar[RequestWrites | None] = ContextVar("request_writes", default=None)


def claim(at: datetime) -> None:
    """Keep the id of the form at work within its write; refuses one that is kept already."""
    request = AT_WORK.get()
    if request is None or not request.once or request.claimed:
        return
    refuse_replay(request.once)
    keep_answer(PAGES, request.once, KeptAnswer("", 0, ""), at=at)
    request.claimed = True


def refuse_replay(once: str) -> None:
    """Refuse the id of a form that was stored before, with its first answer."""
    kept = kept_answer(PAGES, once)
    if kept is not None:
        raise Replayed(kept)


def note_stored() -> None:
    """Note that a change of the request at work is committed."""
    request = AT_WORK.get()
    if request is not None:
        request.stored = True


def kept_answer(client: str, key: str) -> KeptAnswer | None:
    """Return what a client was answered under that key; None where it is new."""
    row = first_row(
        "SELECT asked, status, body FROM kept_answer WHERE client = ? AND key = ?", client, key
    )
    return None if row is None else KeptAnswer(row["asked"], row["status"], row["body"])


def keep_answer(client: str, key: str, answer: KeptAnswer, *, at: datetime) -> None:
    """Keep an answer within the transaction of its write, and forget those of days before."""
    run = MachineTable._meta.database.execute_sql
    run(
        "DELETE FROM kept_answer WHERE julianday(at) < julianday(?) - ?",
        (at.isoformat(), KEPT_DAYS),
    )
    run(
        "INSERT INTO kept_answer (client, key, asked, status, body, at) VALUES (?, ?, ?, ?, ?, ?)",
        (client, key, answer.asked, answer.status, answer.body, at.isoformat()),
    )


def note_answer(database: peewee.SqliteDatabase, once: str, status: int, address: str) -> None:
    """Note where the answer to a form's write led."""
    with writing(database):
        database.execute_sql(
            "UPDATE kept_answer SET status = ?, body = ? WHERE client = ? AND key = ?",
            (status, address, PAGES, once),
        )
