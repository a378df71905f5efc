"""A job on the bench: a machine, what its owner asked for, and the proposals for it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from jentrik.core.rules.case import Finding


@dataclass(frozen=True, slots=True)
class KeptProposal:
    """A proposal as kept: `changes` is a plan document's proposal without its name.

    One whose changes cannot be read any more is kept as it lies there, and changes nothing.
    `judged` are the findings of a job that was fitted, as they were on the day; `takes` names the
    earlier set-up, the wheels or the shelf tires it is made of.
    """

    id: int
    name: str
    changes: dict[str, Any]
    readable: bool = True
    judged: tuple[Finding, ...] | None = None
    takes: Mapping[str, Any] = field(default_factory=dict)

    def values(self) -> dict[str, Any]:
        """Return the proposal as a plan document holds it."""
        return {"name": self.name, **self.changes}


@dataclass(frozen=True, slots=True)
class Done:
    """The proposal of a job that was fitted: since when, and what it changed."""

    proposal: str
    on: date
    summary: str


@dataclass(frozen=True, slots=True)
class Job:
    """A job; `tag` is the number on the tag of the machine."""

    id: int
    tag: int
    machine_id: int
    wanted: str
    due_on: date | None
    proposals: tuple[KeptProposal, ...] = ()
    closed_at: datetime | None = None
    done: Done | None = None
    sealed: bool = False  # what was found stands in its document, and no write changes it
    documented: bool = False  # whether it has a document
    promised_time: str = ""  # of the day it is due, like 16:00
    whose: str = ""  # who does it
    external_id: str = ""  # another program's own key
    rung_at: datetime | None = None  # when its customer was rung

    @property
    def about(self) -> KeptProposal | None:
        """The proposal the job is about: the one that was fitted, else the first."""
        fitted = self.proposal(self.done.proposal) if self.done else None
        return fitted or next(iter(self.proposals), None)

    def proposal(self, name: str) -> KeptProposal | None:
        """Return the proposal of that name; None where there is none."""
        return next((kept for kept in self.proposals if kept.name == name), None)


def next_name(taken: tuple[str, ...]) -> str:
    """Return the first free letter for a proposal: A, B ... Z, then A2, B2 ..."""
    letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
    names = (f"{letter}{turn or ''}" for turn in (0, *range(2, 99)) for letter in letters)
    return next(name for name in names if name not in taken)
