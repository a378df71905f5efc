"""Offers given, agreed or declined: each kept as it was shown, in the chain of documents."""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jentrik.core.work.day import OfferState
from jentrik.store.rows import Row, first_row, rows


@dataclass(frozen=True, slots=True)
class KeptOffer:
    """What became of an offer: the state, who of the shop wrote it down, and what was shown."""

    id: int
    job_id: int
    at: datetime
    taken_by: str
    state: OfferState
    values: Mapping[str, Any]
    sha256: str

    @property
    def by(self) -> str:
        """Who agreed or declined."""
        return str(self.values.get("by", ""))

    @property
    def how(self) -> str:
        """How: here, by phone, by letter."""
        return str(self.values.get("how", ""))

    @property
    def proposal(self) -> str:
        """The proposal that was offered."""
        return str(self.values["proposal"])

    @property
    def offer(self) -> Mapping[str, Any]:
        """The offer as a document."""
        there: Mapping[str, Any] = self.values["offer"]
        return there


def last_offer(job_id: int) -> KeptOffer | None:
    """Return what became of a job's offer last; None where none was given."""
    row = first_row(f"{_OFFERS} AND job_id = ? ORDER BY id DESC LIMIT 1", job_id)
    return _kept(row) if row else None


def offers(job_id: int) -> list[KeptOffer]:
    """Return everything that became of a job's offers, the first one first."""
    return [_kept(row) for row in rows(f"{_OFFERS} AND job_id = ? ORDER BY id", job_id)]


_OFFERS = "SELECT * FROM job_document WHERE kind = 'offer'"


def _kept(row: Row) -> KeptOffer:
    values = json.loads(row["document"])
    at, digest = datetime.fromisoformat(row["made_at"]), hashlib.sha256(row["document"].encode())
    return KeptOffer(
        row["id"],
        row["job_id"],
        at,
        row["by"],
        OfferState(values["state"]),
        values,
        digest.hexdigest(),
    )
