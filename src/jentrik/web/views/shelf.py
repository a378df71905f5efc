"""The wheel shelf: what lies there, how old it is, and which machines sit on the same rim."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from jentrik.core.machine import Kind
from jentrik.core.sheet import Sheet
from jentrik.core.shelf import ShelfTire, same_rim
from jentrik.store import machines, shelf
from jentrik.web.undoing import NOTHING_TO_UNDO, UndoView
from jentrik.web.views.fields import NOTHING_TYPED, Complaint, Typed, strip_of
from jentrik.web.views.figures import fixed


@dataclass(frozen=True, slots=True)
class ShelfRow:
    """One tire on the shelf."""

    id: int
    code: str
    kind: Kind | str
    sums: str
    made: str
    added: str
    same_rim: list[tuple[int, str]]


@dataclass(frozen=True, slots=True)
class ShelfView:
    """The shelf, and the field of a tire that comes onto it."""

    rows: list[ShelfRow]
    undo: UndoView
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)


def shelf_view(
    today: date, undo: UndoView = NOTHING_TO_UNDO, *, typed: Typed = NOTHING_TYPED
) -> ShelfView:
    """Return every tire on the shelf with the machines that sit on its rim."""
    sheets = machines.sheets()
    return ShelfView(
        rows=[_row(tire, sheets, today) for tire in shelf.tires()],
        typed=typed.values,
        complaints=typed.complaints(),
        undo=undo,
    )


def _row(tire: ShelfTire, sheets: list[Sheet], today: date) -> ShelfRow:
    reading = tire.reading
    return ShelfRow(
        id=tire.id,
        code=tire.code,
        kind=reading.vehicle,
        sums=strip_of(reading).sums,
        made=_made(tire, today),
        added=f"{tire.added_on:%d %b %Y}",
        same_rim=[
            (sheet.id, f"{sheet.name}, {' and '.join(ends)}")
            for sheet in sheets
            if (ends := same_rim(reading, sheet))
        ],
    )


def _made(tire: ShelfTire, today: date) -> str:
    if tire.week is None:
        return "age unknown"
    if tire.year is None:
        return f"week {tire.week}, before 2000"
    age = tire.age_years(today)
    return f"week {tire.week} of {tire.year}, {fixed(age, 1)} years"
