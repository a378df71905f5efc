"""Photographs of machines that are measured on: queries that return core values, and changes."""

import json
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.photo.marked import empty_marks
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

MOST_PHOTOGRAPHS = 20


@dataclass(frozen=True, slots=True)
class Photograph:
    """A photograph of a machine: its file, size and focal length in pixels, and its marks."""

    id: int
    machine_id: int
    file: str
    size: tuple[int, int]
    focal_px: float | None
    added_at: datetime
    by: str
    marks: dict[str, Any]


def photographs(machine_id: int) -> list[Photograph]:
    """Return the photographs of a machine, the first one first."""
    return [
        _photograph(row)
        for row in rows("SELECT * FROM photograph WHERE machine_id = ? ORDER BY id", machine_id)
    ]


def photograph(machine_id: int, photograph_id: int | None) -> Photograph:
    """Return one photograph of a machine; refuses one that is not there."""
    row = first_row(
        "SELECT * FROM photograph WHERE machine_id = ? AND id = ?", machine_id, photograph_id
    )
    if row is None:
        raise StoreError("That photograph is not there any more.", expected="a photograph")
    return _photograph(row)


def _photograph(row: dict[str, Any]) -> Photograph:
    return Photograph(
        row["id"],
        row["machine_id"],
        row["file"],
        (row["width_px"], row["height_px"]),
        row["focal_px"],
        datetime.fromisoformat(row["added_at"]),
        row["by"],
        json.loads(row["marks"]),
    )


def add_photograph(
    taken: journal.Step,
    machine_id: int,
    *,
    file: str,
    size: tuple[int, int],
    focal_px: float | None,
    at: datetime,
    by: str,
    marks: dict[str, Any] | None = None,
) -> int:
    """Keep a photograph to measure on within a step; refuses more than a machine needs."""
    if len(photographs(machine_id)) >= MOST_PHOTOGRAPHS:
        raise StoreError(
            f"A machine keeps at most {MOST_PHOTOGRAPHS} photographs to measure on.",
            field="photo",
            expected="fewer photographs",
        )
    return taken.insert(
        models.PhotographTable,
        machine=machine_id,
        file=file,
        width_px=size[0],
        height_px=size[1],
        focal_px=focal_px,
        added_at=at.isoformat(),
        by=by,
        marks=json.dumps(marks or empty_marks()),
    )


def set_marks(taken: journal.Step, photograph_id: int, marks: dict[str, Any]) -> None:
    """Write the marks of a photograph within a step."""
    taken.update(models.PhotographTable, photograph_id, marks=json.dumps(marks))


def set_focal(taken: journal.Step, photograph_id: int, focal_px: float | None) -> None:
    """Write a photograph's focal length in pixels within a step."""
    taken.update(models.PhotographTable, photograph_id, focal_px=focal_px)


def drop_photograph(taken: journal.Step, photograph_id: int) -> None:
    """Take a photograph away within a step; the journal keeps it."""
    taken.delete(models.PhotographTable, photograph_id)
