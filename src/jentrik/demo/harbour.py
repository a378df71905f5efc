"""Filling an empty shop with the harbour-town workshop.

Machines, people and measurements are invented; the measurements of one machine agree with each
other, as a careful mechanic's would.
"""

import json
from datetime import datetime, timedelta
from importlib.resources import files
from typing import Any

import peewee

from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.sheet.named_places import named_place
from jentrik.demo.history import demo_step, done_before, write_history
from jentrik.demo.logged import BO, IDA
from jentrik.store import jobs, journal, machines, shelf
from jentrik.store.rows import first_row, writing

SHELF = (  # code, week and year of making
    ("47-584", 8, 2026),
    ("50-584", None, None),
    ("47-507", 31, 2025),
    ("37-349", None, None),
    ("110/80-18 M/C 58S TL", 12, 2024),
    ("90/90-19 M/C 52H TL", 40, 2019),
)

OWNERS = {
    "Green tourer": "Ada Fairlead",
    "Fish-quay cargo bike": "Fish market",
    "Ferry folder": "Ole Brandt",
    "Chandler's shopper": "Ship chandler",
    "Harbour scooter": "Mina Solheim",
    "Breakwater twin": "Jorun Eide",
    "Lighthouse single": "Lighthouse keeper",
    "Parcel runner": "Quay parcels",
    "Slipway enduro": "Bo",
}
_PAIR_COLUMNS = ("front_rim_mm", "rear_rim_mm", "front_make", "rear_make", "position")
_KNOWN_FOR = timedelta(days=450)
_SEEN_BEFORE = timedelta(days=2)  # the machines were measured when they came in again


def fill(database: peewee.SqliteDatabase, *, now: datetime) -> int:
    """Add the workshop's machines and jobs, all or nothing; return how many machines.

    A shop with machines stays as it is.
    """
    with writing(database):
        return 0 if first_row("SELECT id FROM machine LIMIT 1") else _fill(database, now)


def _fill(database: peewee.SqliteDatabase, now: datetime) -> int:
    shop = json.loads((files(__package__) / "harbour.json").read_text(encoding="utf-8"))
    ids = {}
    for machine in shop:
        with demo_step(database, None, now - _KNOWN_FOR, by=BO) as step:
            step.machine_id = machine_id = _met(step, machine, now - _KNOWN_FOR)
            _measured(step, machine_id, machine, now - _KNOWN_FOR)
        with demo_step(database, machine_id, now - _SEEN_BEFORE, by=IDA) as step:
            _opened(step, machine_id, machine, now)
        ids[machine["name"]] = machine_id
    done_before(database, ids, now=now)
    for machine in shop:
        with demo_step(database, ids[machine["name"]], now - _SEEN_BEFORE, by=IDA) as step:
            _figures(step, ids[machine["name"]], machine, now - _SEEN_BEFORE)
    with demo_step(database, None, now) as step:
        for code, week, year in SHELF:
            shelf.add_tire(step, code, week=week, year=year, on=now.date())
    write_history(database, now=now)
    return len(shop)


def _met(step: journal.Step, machine: dict[str, Any], then: datetime) -> int:
    """Add a machine as it came in for the first time: what it is, and its tires."""
    machine_id = machines.add_machine(
        step, name=machine["name"], kind=machine["kind"], drawn_as=machine["drawn_as"], at=then
    )
    machines.set_owner(step, machine_id, OWNERS.get(machine["name"], ""))
    for key in ("front.tire", "rear.tire"):
        figure = Figure(machine["figures"][key], Provenance.MEASURED, then.date())
        machines.set_figure(step, machine_id, key, figure)
    return machine_id


def _figures(step: journal.Step, machine_id: int, machine: dict[str, Any], then: datetime) -> None:
    """Measure what is not known of a machine as it is set up then."""
    known = machines.sheet(machine_id).figures
    for key, value in machine["figures"].items():
        if key in known:
            continue
        provenance = Provenance.MEASURED
        if key in machine["makers_sheet"]:
            provenance = Provenance.MAKER
        elif key in machine["assumed"]:
            provenance = Provenance.ASSUMED
        machines.set_figure(step, machine_id, key, Figure(value, provenance, then.date()))


def _measured(step: journal.Step, machine_id: int, machine: dict[str, Any], then: datetime) -> None:
    """Measure a machine that came in for the first time."""
    _figures(step, machine_id, machine, then)
    measured = then.date()
    for place in machine["places"]:
        known = named_place(machine["kind"], place["name"])
        lies = {
            "bearing_deg": known.bearing_deg if known else None,
            "moves_with": known.moves_with if known else None,
        }
        values = lies | place | {"part": place["on"], "provenance": Provenance.MEASURED.value}
        del values["on"]
        machines.set_clearance(step, machine_id, None, values, on=measured)
    for position in machine.get("positions", ()):
        values = {**position, "provenance": Provenance.MAKER.value}
        machines.set_position(step, machine_id, None, values, on=measured)
    for pair in machine.get("pairs", ()):
        values = {**dict.fromkeys(_PAIR_COLUMNS), **pair, "provenance": Provenance.MAKER.value}
        machines.set_pair(step, machine_id, None, values, on=measured)
    for point in machine["points"]:
        values = {**point, "provenance": Provenance.MEASURED.value}
        machines.set_point(step, machine_id, None, values, on=measured)


def _opened(step: journal.Step, machine_id: int, machine: dict[str, Any], now: datetime) -> None:
    """Open today's job of a machine, with its proposals."""
    job_id = jobs.add_job(
        step,
        machine_id=machine_id,
        wanted=machine["wanted"],
        at=now,
        tag=machine["tag"],
        due_on=(now + timedelta(days=machine["due_in_days"])).date(),
    )
    for changes in machine["proposals"]:
        jobs.add_proposal(step, job_id, changes)
