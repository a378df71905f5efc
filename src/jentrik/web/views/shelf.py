"""The wheel shelf: what lies there, how old it is, and which machines sit on the same rim."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from jentrik.core.machine import Kind
from jentrik.core.shelf import ShelfTire
from jentrik.store.listing import Page, SameRim, Wanted, same_rim_as
from jentrik.web.undoing import NOTHING_TO_UNDO, UndoView
from jentrik.web.views.fields import NOTHING_TYPED, Complaint, Typed, sums_of
from jentrik.web.views.figures import fixed
from jentrik.web.views.paging import Paging


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
    more_on_rim: bool


@dataclass(frozen=True, slots=True)
class ShelfView:
    """A page of the shelf, and the field of a tire that comes onto it."""

    rows: list[ShelfRow]
    paging: Paging
    undo: UndoView
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)


def shelf_view(
    listed: Page[ShelfTire], wanted: Wanted, path: str, today: date,
    undo: UndoView = NOTHING_TO_UNDO, *, typed: Typed = NOTHING_TYPED,
) -> ShelfView:  # fmt: skip
    """Return a page of the shelf with the machines that sit on each tire's rim."""
    rims: dict[tuple[int, str], SameRim] = {}
    return ShelfView(
        rows=[_row(tire, today, rims) for tire in listed.rows],
        paging=Paging(path, wanted, more=listed.more, usual="newest"),
        undo=undo,
        typed=typed.values,
        complaints=typed.complaints(),
    )


def _row(tire: ShelfTire, today: date, rims: dict[tuple[int, str], SameRim]) -> ShelfRow:
    reading = tire.reading
    rim = (reading.bead_seat_diameter_mm, str(reading.vehicle))
    on_rim = rims[rim] = rims.get(rim) or same_rim_as(*rim)
    return ShelfRow(
        id=tire.id,
        code=tire.code,
        kind=reading.vehicle,
        sums=sums_of(reading),
        made=_made(tire, today),
        added=f"{tire.added_on:%d %b %Y}",
        same_rim=[(row_id, f"{name}, {' and '.join(ends)}") for row_id, name, ends in on_rim.shown],
        more_on_rim=on_rim.more,
    )


def _made(tire: ShelfTire, today: date) -> str:
    if tire.week is None:
        return "age unknown"
    if tire.year is None:
        return f"week {tire.week}, before 2000"
    age = tire.age_years(today)
    return f"week {tire.week} of {tire.year}, {fixed(age, 1)} years"
