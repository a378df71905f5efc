"""The counter's questions, asked first: brakes, drive, guards, motor, owner, the promised day.

Each may be left out; what is known already is not asked again.
"""

from dataclasses import dataclass

from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.job import Job
from jentrik.web.parts.fields import FigureField, Typed, sheet_field, small_field


@dataclass(frozen=True, slots=True)
class FirstRow:
    """What the counter asks: figures chosen by a picture or typed, and words beside them."""

    figures: list[FigureField]
    words: list[FigureField]
    open: bool  # until every brake is known

    @property
    def names(self) -> list[str]:
        """The names of its fields."""
        return [field.name for field in (*self.figures, *self.words)]


def first_row(sheet: Sheet, job: Job, typed: Typed) -> FirstRow | None:
    """Return what is still to be asked at the counter; None where all of it is known."""
    figures = [sheet_field(sheet, key, typed) for key in _asked(sheet) if key not in sheet.figures]
    said = (
        ("machine:owner", "Owner", sheet.owner),
        ("machine:phone", "Phone", sheet.phone),
        ("job:due_on", "Promised for", job.due_on),
    )
    words = [
        small_field(name, label, kept or None, typed=typed)
        for name, label, kept in said
        if not kept
    ]
    brakes = all(f"{end}.brake" in sheet.figures for end in ENDS)
    return FirstRow(figures, words, not brakes) if figures or words else None


def _asked(sheet: Sheet) -> tuple[str, ...]:
    """Return the figures the counter asks of a kind of machine, in their order."""
    brakes = tuple(f"{end}.brake" for end in ENDS)
    if sheet.kind == "motorcycle":
        return (*brakes, "drive")
    return (*brakes, "drive", "gears", *(f"{end}.guard" for end in ENDS), "class")
