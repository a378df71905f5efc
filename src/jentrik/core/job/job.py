"""A job on the bench: a machine, what its owner wants, and the proposals for it."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from jentrik.core.machine.suspension import ENDS
from jentrik.core.sheet.sheet import Sheet


@dataclass(frozen=True, slots=True)
class KeptProposal:
    """A proposal as kept: `changes` is a plan document's proposal without its name.

    One whose changes cannot be read any more is kept as it lies there, and changes nothing.
    """

    id: int
    name: str
    changes: dict[str, Any]
    readable: bool = True

    def values(self) -> dict[str, Any]:
        """Return the proposal as a plan document holds it."""
        return {"name": self.name, **self.changes}


@dataclass(frozen=True, slots=True)
class Done:
    """The proposal of a job that is on the machine's sheet: since when, and what it changed."""

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

    def to_judge(self, sheet: Sheet) -> Iterator[KeptProposal]:
        """Yield the proposals against a machine's sheet; the one that was done, as it lies on it.

        What moved the chassis is in the sheet's figures, and the wheels have the measured size.
        """
        for kept in self.proposals:
            done = self.done is not None and self.done.proposal == kept.name
            yield replace(kept, changes=_on_sheet(kept.changes, sheet)) if done else kept

    def to_judge_named(self, name: str, sheet: Sheet) -> KeptProposal | None:
        """Return one of these by its name; None where there is none."""
        return next((kept for kept in self.to_judge(sheet) if kept.name == name), None)


def _on_sheet(changes: dict[str, Any], sheet: Sheet) -> dict[str, Any]:
    left = {key: changes[key] for key in (*ENDS, "position") if key in changes}
    for end in ENDS:
        measured = sheet.figures.get(f"{end}.overall_diameter_mm")
        wears = left.get(end, {}).get("tire")
        if measured is not None and wears is not None and wears == sheet.text(f"{end}.tire"):
            left[end] = {**left[end], "overall_diameter_mm": measured.value}
    return left


def value_at(changes: Mapping[str, object], key: str) -> object:
    """Return what a proposal changes under a dotted key; None where it changes nothing there."""
    branch: object = changes
    for part in key.split("."):
        branch = branch.get(part) if isinstance(branch, Mapping) else None
    return branch


def next_name(taken: tuple[str, ...]) -> str:
    """Return the first free letter for a proposal: A, B ... Z, then A2, B2 ..."""
    letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
    names = (f"{letter}{turn or ''}" for turn in (0, *range(2, 99)) for letter in letters)
    return next(name for name in names if name not in taken)
