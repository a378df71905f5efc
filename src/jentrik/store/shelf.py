"""The shelf: queries that return core values, and tires that come, wait and go."""

import json
from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.work.shelf import MOST_PIECES, ShelfTire
from jentrik.core.work.tire_facts import facts_of
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


def known_tire(tire_id: int | None) -> ShelfTire:
    """Return one tire of the shelf; refuses one that is gone."""
    known = tire(tire_id)
    if known is None:
        raise StoreError("That tire is not on the shelf any more.", expected="a tire of the shelf")
    return known


def prices() -> dict[str, float | None]:
    """Return the codes that lie on the shelf, each with its least price; None without one."""
    found: dict[str, float | None] = {}
    for one in tires():
        here = None if one.price is None else float(one.price)
        known = found.get(one.code)
        found[one.code] = here if known is None else known if here is None else min(known, here)
    return found


def numbers_on_shelf() -> set[int]:
    """Return the numbers of the tires on the shelf that were on a machine."""
    found = rows("SELECT tire_id FROM shelf_tire WHERE tire_id IS NOT NULL")
    return {row["tire_id"] for row in found}


def tire_of(row: Mapping[str, Any]) -> ShelfTire:
    """Return the tire of a row."""
    return ShelfTire(
        id=row["id"],
        code=row["code"],
        week=row["week"],
        year=row["year"],
        added_on=date.fromisoformat(row["added_on"]),
        pieces=row["pieces"],
        make=row["make"],
        whose=row["whose"],
        place=row["place"],
        price=Decimal(row["price"]) if row["price"] else None,
        tread_mm=row["tread_mm"],
        km=row["km"],
        signs=tuple(json.loads(row["signs"])),
        tire_id=row["tire_id"],
        job_id=row["job_id"],
        photo=row["photo"],
        facts=facts_of(json.loads(row["facts"])),
        external_id=row["external_id"],
    )


def add_tire(taken: journal.Step, code: str, *, on: date, **known: Any) -> int:
    """Put a tire on the shelf within a step and return its id; `known` are columns of its row."""
    if len(rows("SELECT id FROM shelf_tire")) >= MOST_TIRES:
        raise StoreError(f"The shelf holds at most {MOST_TIRES} tires.", field="code")
    return taken.insert(models.ShelfTireTable, code=code, added_on=on.isoformat(), **known)


def set_tire(taken: journal.Step, tire_id: int, **columns: Any) -> None:
    """Write columns of a tire's row within a step; refuses a tire that is gone."""
    taken.update(models.ShelfTireTable, known_tire(tire_id).id, **columns)


def set_fact(taken: journal.Step, tire_id: int, name: str, value: float | str | None) -> None:
    """Write one fact of a tire within a step; nothing takes it away."""
    values = {**known_tire(tire_id).facts.values(), name: value}
    facts = facts_of({key: one for key, one in values.items() if one not in ("", None)})
    set_tire(taken, tire_id, facts=json.dumps(facts.values(), ensure_ascii=False))


def drop_tire(taken: journal.Step, tire_id: int) -> None:
    """Take a line off the shelf within a step; the journal keeps it."""
    taken.delete(models.ShelfTireTable, tire_id)


def take_out(taken: journal.Step, tire_id: int) -> None:
    """Take one piece of a line off the shelf within a step, with the last one the line.

    A line whose facts are known stays without pieces, to be ordered again.
    """
    known = tire(tire_id)
    if known is None:
        return
    kept = known.tire_id is None and known.job_id is None and known.facts.values()
    if known.pieces > 1 or kept:
        set_tire(taken, tire_id, pieces=max(known.pieces - 1, 0))
    else:
        drop_tire(taken, tire_id)


def refuse_taken(has_it: int | None, job_id: int | None) -> None:
    """Refuse to reserve for a job what another open job has."""
    if has_it in (None, job_id) or job_id is None:
        return
    row = first_row(
        "SELECT tag, name FROM job JOIN machine ON machine.id = machine_id WHERE job.id = ?"
        " AND closed_at IS NULL AND job.binned_at IS NULL",
        has_it,
    )
    if row is not None:
        raise StoreError(
            f"It is reserved for job {row['tag']}, {row['name']}. Set it free there first.",
            field="reserve",
            expected="one that is free",
        )


def reserve(taken: journal.Step, tire_id: int, job_id: int | None, *, pieces: int) -> int:
    """Put pieces of a line aside for a job within a step; return the line they are.

    Fewer than there are become a line of their own.  No job sets them free.
    """
    known = known_tire(tire_id)
    refuse_taken(known.job_id, job_id)
    if not 1 <= pieces <= min(known.pieces, MOST_PIECES):
        raise OutOfRange(
            f"There are {known.pieces} of them." if known.pieces else "There is none left of them.",
            field="pieces",
            expected=f"a whole number up to {known.pieces}",
        )
    if pieces == known.pieces:
        set_tire(taken, tire_id, job=job_id)
        return tire_id
    row = first_row("SELECT * FROM shelf_tire WHERE id = ?", tire_id)
    assert row is not None
    set_tire(taken, tire_id, pieces=known.pieces - pieces)
    same = {name: value for name, value in row.items() if name not in ("id", "job_id", "pieces")}
    return taken.insert(models.ShelfTireTable, **same, job=job_id, pieces=pieces)
