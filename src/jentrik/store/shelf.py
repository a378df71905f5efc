"""The shelf: queries that return core values, and tires that come and go."""

from datetime import date
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.shop.shelf import ShelfTire
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

SUBJECT = "shelf"  # every change of the shelf opens its subject with this word
MOST_TIRES = 2000


def tires() -> list[ShelfTire]:
    """Return every tire on the shelf, the newest first."""
    return [tire_of(row) for row in rows("SELECT * FROM shelf_tire ORDER BY id DESC")]


def newest(most: int) -> list[ShelfTire]:
    """Return the newest tires on the shelf, so many at most."""
    return [tire_of(row) for row in rows("SELECT * FROM shelf_tire ORDER BY id DESC LIMIT ?", most)]


def tire(tire_id: int | None) -> ShelfTire | None:
    """Return one tire of the shelf; None where it is gone."""
    row = None if tire_id is None else first_row("SELECT * FROM shelf_tire WHERE id = ?", tire_id)
    return None if row is None else tire_of(row)


def tire_of(row: dict[str, Any]) -> ShelfTire:
    """Return the tire of a row."""
    return ShelfTire(
        id=row["id"],
        code=row["code"],
        week=row["week"],
        year=row["year"],
        added_on=date.fromisoformat(row["added_on"]),
    )


def add_tire(
    taken: journal.Step, code: str, *, week: int | None, year: int | None, on: date
) -> int:
    """Put a tire on the shelf within a step and return its id."""
    if len(rows("SELECT id FROM shelf_tire")) >= MOST_TIRES:
        raise StoreError(f"The shelf holds at most {MOST_TIRES} tires.", field="code")
    return taken.insert(
        models.ShelfTireTable, code=code, week=week, year=year, added_on=on.isoformat()
    )


def drop_tire(taken: journal.Step, tire_id: int) -> None:
    """Take a tire off the shelf within a step; the journal keeps it."""
    taken.delete(models.ShelfTireTable, tire_id)
