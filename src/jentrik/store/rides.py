"""Rides of a machine on its set-ups: queries that return core values, and changes."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.plan.proposed_setup import nested, proposed
from jentrik.core.work.ride import Ride
from jentrik.store import journal, machines, models, setups
from jentrik.store.rows import first_row, rows


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


@dataclass(frozen=True, slots=True)
class KeptTrack:
    """Where a ride went: its length, the time it took, and its GPX."""

    ride_id: int
    km: float
    seconds: float
    gpx: str = ""


def tracks(machine_id: int) -> dict[int, KeptTrack]:
    """Return the tracks of a machine's rides by ride, without their points."""
    found = rows(
        "SELECT ride_id, km, seconds FROM ride_track JOIN ride ON ride.id = ride_id"
        " WHERE machine_id = ?",
        machine_id,
    )
    return {row["ride_id"]: KeptTrack(**row) for row in found}


def track(ride_id: int) -> KeptTrack | None:
    """Return the track of a ride; None where it has none."""
    row = first_row("SELECT ride_id, km, seconds, gpx FROM ride_track WHERE ride_id = ?", ride_id)
    return None if row is None else KeptTrack(**row)


def ride_of(machine_id: int, ride_id: int) -> Ride:
    """Return one ride of a machine; refuses one that is not there."""
    row = first_row("SELECT * FROM ride WHERE id = ? AND machine_id = ?", ride_id, machine_id)
    if row is None:
        raise StoreError("There is no such ride of this machine.")
    return _ride(row)


def set_track(taken: journal.Step, kept: KeptTrack) -> None:
    """Keep within a step where a ride went, in place of what was kept of it."""
    known = first_row("SELECT id FROM ride_track WHERE ride_id = ?", kept.ride_id)
    if known is not None:
        taken.delete(models.RideTrackTable, known["id"])
    taken.insert(
        models.RideTrackTable, ride=kept.ride_id, km=kept.km, seconds=kept.seconds, gpx=kept.gpx
    )


def set_up(
    taken: journal.Step,
    machine_id: int,
    name: str,
    values: Mapping[str, str | float],
    *,
    on: date,
    job_id: int | None = None,
) -> int:
    """Write within a step how a machine is set up now, and return the set-up's id.

    What was ridden, or has another name already, stays: another set-up follows it.  Refuses the
    name of an earlier one.
    """
    row = setups.current_row(machine_id)
    if name != row["name"] and setups.free_name(machine_id, name) != name:
        raise StoreError(
            f"There is a set-up called “{name}” already.",
            field="setup",
            expected="a name of its own",
        )
    now = setups.setup(machine_id, row["id"])
    turned = machines.sheet(machine_id).turned_deg
    tires = {key: value for key, value in values.items() if key.endswith(".tire")}
    parts = proposed(now.parts, nested(tires), on=on, turned_deg=turned)
    for key, value in values.items():
        if key not in parts or parts[key].value != value:
            parts[key] = Figure(value, Provenance.MEASURED, on)
    another = row["name"] not in (setups.FIRST, name)
    if another or row["sealed_on"] is not None:
        return setups.follow(
            taken, machine_id, parts, name=name, on=on, sealed=False, job_id=job_id
        )
    setups.rename(taken, machine_id, row["id"], name)
    for key in now.parts.keys() - parts.keys():
        machines.clear_figure(taken, machine_id, key)
    for key, figure in parts.items():
        if now.parts.get(key) != figure:
            machines.set_figure(taken, machine_id, key, figure)
    return int(row["id"])


def add_ride(taken: journal.Step, machine_id: int, ride: Ride, *, today: date) -> None:
    """Add a ride within a step; refuses one in the future and one on no setup."""
    if ride.on > today:
        raise OutOfRange(
            f"{ride.on.isoformat()} is still to come.", field="on", expected="today or a day before"
        )
    if all(setup.id != ride.setup_id for setup in setups.setups(machine_id)):
        raise StoreError("Choose the set-up that was ridden.", field="ride", expected="a set-up")
    if setups.current_row(machine_id)["id"] == ride.setup_id:
        setups.seal(taken, machine_id, on=ride.on)
    conditions = {
        name: getattr(ride, name) for name in ("weather", "ground", "form", "rider", "trail")
    }
    taken.insert(
        models.RideTable,
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
