"""Sealed documents in a chain: each link holds the hash of the one before, so an edit shows.

    link = SHA-256( link before, what became of the document, its id, SHA-256 of the document )

A document that is written adds a link, one that undo takes back adds another; neither is changed.
Links are in no journal, so that nothing takes one away.
"""

import hashlib
import json
from dataclasses import dataclass
from datetime import datetime

import peewee

from jentrik.store.models import MachineTable
from jentrik.store.rows import Row, first_row, rows, writing

KEPT, WITHDRAWN = "kept", "withdrawn"
STATE = "chain"  # under which the last look at the chain is kept


@dataclass(frozen=True, slots=True)
class ChainState:
    """What a look at the chain found: when, over how many documents, and what does not follow."""

    at: str
    documents: int
    broken: str = ""  # the first document that is not as it was sealed, in words
    whole_at: str = ""  # when it was last whole

    @property
    def seen_at(self) -> datetime:
        """When it was looked at."""
        return datetime.fromisoformat(self.at)

    @property
    def last_whole(self) -> datetime | None:
        """When it was last whole; None where no look found it so."""
        return datetime.fromisoformat(self.whole_at) if self.whole_at else None


def note_document(document_id: int) -> None:
    """Add a link for a document within a write: it was written, or is gone now."""
    row = first_row("SELECT * FROM job_document WHERE id = ?", document_id)
    state, digest = (WITHDRAWN, "") if row is None else (KEPT, _digest(row))
    last = first_row("SELECT link FROM document_chain ORDER BY id DESC LIMIT 1")
    before = last["link"] if last else ""
    link = _link(before, state, document_id, digest)
    MachineTable._meta.database.execute_sql(
        "INSERT INTO document_chain (document_id, state, digest, link, at) VALUES (?, ?, ?, ?, ?)",
        (document_id, state, digest, link, datetime.now().isoformat(timespec="seconds")),
    )


def adopt(database: peewee.SqliteDatabase) -> None:
    """Give every document without a link one: those of before there was a chain."""
    with writing(database):
        for row in rows(
            "SELECT id FROM job_document WHERE id NOT IN (SELECT document_id FROM document_chain)"
            " ORDER BY id"
        ):
            note_document(row["id"])


def verify(database: peewee.SqliteDatabase, *, at: datetime) -> ChainState:
    """Look at the whole chain and keep what was found."""
    links = rows("SELECT * FROM document_chain ORDER BY id")
    documents = {row["id"]: row for row in rows("SELECT * FROM job_document ORDER BY id")}
    broken = first_broken(links, dict(documents))
    known, now = last_look(), at.isoformat(timespec="minutes")
    whole_at = now if not broken else known.whole_at if known else ""
    state = ChainState(now, len(documents), broken, whole_at)
    with writing(database):
        database.execute_sql(
            "INSERT OR REPLACE INTO shop_state (key, value) VALUES (?, ?)",
            (STATE, json.dumps([state.at, state.documents, state.broken, state.whole_at])),
        )
    return state


def last_look() -> ChainState | None:
    """Return what the last look at the chain found; None before the first."""
    row = first_row("SELECT value FROM shop_state WHERE key = ?", STATE)
    return None if row is None else ChainState(*json.loads(row["value"]))


def first_broken(links: list[Row], documents: dict[int, Row]) -> str:
    """Return in words what follows not in a chain of these documents, "" where all does."""
    before, last = "", dict[int, Row]()
    for row in links:
        if row["link"] != _link(before, row["state"], row["document_id"], row["digest"]):
            return f"link {row['id']} of the chain does not follow from the one before"
        before, last[row["document_id"]] = row["link"], row
    for document_id, row in last.items():
        document = documents.pop(document_id, None)
        if row["state"] == KEPT and document is None:
            return f"document {document_id} is missing"
        if document is not None and (row["state"], row["digest"]) != (KEPT, _digest(document)):
            return f"document {document_id} of {_job_of(document)} is not as it was sealed"
    for document_id, document in documents.items():
        return f"document {document_id} of {_job_of(document)} was never sealed here"
    return ""


def _job_of(document: Row) -> str:
    row = first_row("SELECT tag FROM job WHERE id = ?", document["job_id"])
    return f"job {row['tag']}" if row else f"job number {document['job_id']}"


def _digest(row: Row) -> str:
    whole = json.dumps(
        [row["job_id"], row["made_at"], row["by"], row["document"]], ensure_ascii=False
    )
    return hashlib.sha256(whole.encode("utf-8", "surrogatepass")).hexdigest()


def _link(before: str, state: str, document_id: int, digest: str) -> str:
    return hashlib.sha256(f"{before} {state} {document_id} {digest}".encode()).hexdigest()
