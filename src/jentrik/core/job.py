"""A job on the bench: a machine, what its owner wants, and the proposals for it."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any


@dataclass(frozen=True, slots=True)
class KeptProposal:
    """A proposal as kept: `changes` is a plan document's proposal without its name."""

    id: int
    name: str
    changes: dict[str, Any]

    def values(self) -> dict[str, Any]:
        """Return the proposal as a plan document holds it."""
        return {"name": self.name, **self.changes}


@dataclass(frozen=True, slots=True)
class Job:
    """A job; `tag` is the number that hangs on the machine."""

    id: int
    tag: int
    machine_id: int
    wanted: str
    due_on: date | None
    proposals: tuple[KeptProposal, ...] = ()
    closed_at: datetime | None = None


def next_name(taken: tuple[str, ...]) -> str:
    """Return the first free letter for a proposal: A, B ... Z, then A2, B2 ..."""
    letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
    names = (f"{letter}{turn or ''}" for turn in (0, *range(2, 99)) for letter in letters)
    return next(name for name in names if name not in taken)
