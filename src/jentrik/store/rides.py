"""Setups and rides of a machine: queries that return core values, and changes."""

import json
from collections.abc import Mapping
from datetime import date
from typing import Any

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.logbook.ride import Ride, Setup
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

MOST_SETUPS = 40


def setups(machine_id: int) -> list[Setup]:
    """Return the setups of a machine, the first one first."""
    return [
        Setup(row["id"], row["name"], json.loads(row["parts"]), date.fromisoformat(row["made_on"]))
        for row in rows("SELECT * FROM setup WHERE machine_id = ? ORDER BY id", machine_id)
    ]


def rides(machine_id: int) -> list[Ride]:
    """Return the rides of a machine, the first one first."""
    return [
        _ride(row)
        for row in rows("SELECT * FROM ride WHERE machine_id = ? ORDER BY taken_on, id", machine_id)
    ]


def rides_noted(machine_id: int) -> int:
    """Return how many rides of a machine are kept."""
    row = first_row("SELECT COUNT(*) AS many FROM ride WHERE machine_id = ?", machine_id)
    return int(row["many"]) if row else 0


def latest_rides(most: int, words: str = "") -> list[tuple[int, str, Ride]]:
    """Return the latest rides with their machine and their setup's name, the last first."""
    found = (
        " WHERE ride.machine_id IN (SELECT rowid FROM machine_words WHERE machine_words MATCH ?)"
    )
    ridden = rows(
        "SELECT ride.*, setup.name AS setup_name FROM ride JOIN setup ON setup.id = ride.setup_id"  # noqa: S608
        f"{found if words else ''} ORDER BY ride.taken_on DESC, ride.id DESC LIMIT ?",
        *((words,) if words else ()),
        most,
    )
    return [(row["machine_id"], row["setup_name"], _ride(row)) for row in ridden]


def _ride(row: dict[str, Any]) -> Ride:
    return Ride(
        id=row["id"],
        setup_id=row["setup_id"],
        on=date.fromisoformat(row["taken_on"]),
        **json.loads(row["conditions"]),
        scores=json.loads(row["scores"]),
        outcome=row["outcome"],
        note=row["note"],
        by=row["by"],
        job_id=row["job_id"],
    )


def add_setup(
    taken: journal.Step, machine_id: int, name: str, parts: Mapping[str, str | float], *, on: date
) -> int:
    """Add a setup within a step; refuses a name that is taken."""
    known = setups(machine_id)
    if any(one.name.casefold() == name.casefold() for one in known):
        raise StoreError(
            f"There is a setup called “{name}” already.",
            field="setup",
            expected="a name of its own",
        )
    if len(known) >= MOST_SETUPS:
        raise StoreError(
            f"At most {MOST_SETUPS} setups are kept.", field="setup", expected="fewer setups"
        )
    return taken.insert(
        models.Setup,
        machine=machine_id,
        name=name,
        parts=json.dumps(dict(parts), ensure_ascii=False),
        made_on=on.isoformat(),
    )


def add_ride(taken: journal.Step, machine_id: int, ride: Ride, *, today: date) -> None:
    """Add a ride within a step; refuses one in the future and one on no setup."""
    if ride.on > today:
        raise OutOfRange(
            f"{ride.on.isoformat()} is still to come.", field="on", expected="today or a day before"
        )
    if all(one.id != ride.setup_id for one in setups(machine_id)):
        raise StoreError("Choose the setup that was ridden.", field="ride", expected="a setup")
    conditions = {
        name: getattr(ride, name) for name in ("weather", "ground", "form", "rider", "trail")
    }
    taken.insert(
        models.Ride,
        machine=machine_id,
        job=ride.job_id,
        setup=ride.setup_id,
        taken_on=ride.on.isoformat(),
        conditions=json.dumps(conditions, ensure_ascii=False),
        scores=json.dumps(dict(ride.scores)),
        outcome=ride.outcome,
        note=ride.note,
        by=ride.by,
    )
