"""Filling an empty shop with the harbour-town workshop.

Machines, people and measurements are invented; the measurements of one machine agree with each
other, as a careful mechanic's would.
"""

import json
from datetime import datetime, timedelta
from importlib.resources import files
from pathlib import Path
from typing import Any

import peewee

from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.named_places import named_place
from jentrik.core.work.policy import StandIns
from jentrik.demo.history import demo_step, done_before, write_history
from jentrik.demo.logged import BO, IDA, PHONES
from jentrik.exchange.photo import read_to_measure
from jentrik.store import jobs, journal, machines, photographs, shelf
from jentrik.store.photo_files import keep_photo
from jentrik.store.policy import set_policy
from jentrik.store.rows import first_row, writing

SHELF: tuple[dict[str, Any], ...] = (
    {"code": "47-584", "week": 8, "year": 2026, "pieces": 2, "price": "39.90", "place": "hook 3"},
    {"code": "50-584", "pieces": 1, "price": "44.50", "place": "hook 3"},
    {"code": "47-507", "week": 31, "year": 2025, "pieces": 4, "price": "24.90", "place": "bin 2"},
    {"code": "37-349", "place": "bin 2"},
    {
        "code": "110/80-18 M/C 58S TL",
        "week": 12,
        "year": 2024,
        "price": "112.00",
        "place": "rack A",
        "signs": '["moulding whiskers"]',
    },
    {
        "code": "90/90-19 M/C 52H TL",
        "week": 40,
        "year": 2019,
        "whose": "Jorun Eide",
        "tread_mm": 2.4,
        "km": 5200,
        "place": "rack A",
    },
    {
        "code": "40-622",
        "week": 20,
        "year": 2026,
        "pieces": 4,
        "price": "38.00",
        "make": "Tidewall Ferry",
        "place": "hook 5",
        "facts": '{"compound": "hard", "tread": "fine", "sidewall": "stiff", "void_percent": 12,'
        ' "plies": 3, "weight_g": 690, "life_km": 9000}',
    },
    {
        "code": "40-622",
        "week": 33,
        "year": 2026,
        "pieces": 2,
        "price": "52.00",
        "make": "Tidewall Sprint",
        "place": "hook 5",
        "facts": '{"compound": "soft", "tread": "slick", "sidewall": "supple", "void_percent": 2,'
        ' "plies": 2, "weight_g": 410, "life_km": 3500}',
    },
    {
        "code": "40-622",
        "week": 2,
        "year": 2025,
        "pieces": 2,
        "price": "46.00",
        "make": "Skerry Grip",
        "place": "hook 6",
        "facts": '{"compound": "medium", "tread": "blocks", "sidewall": "medium",'
        ' "void_percent": 35, "plies": 3, "weight_g": 560, "life_km": 5000}',
    },
)

PHOTOGRAPHED = "Slipway enduro"
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


def fill(database: peewee.SqliteDatabase, folder: Path, *, now: datetime) -> int:
    """Add the workshop's machines and jobs, all or nothing; return how many machines.

    A shop with machines stays as it is.  Photographs go into the data folder.
    """
    with writing(database):
        return 0 if first_row("SELECT id FROM machine LIMIT 1") else _fill(database, folder, now)


def _fill(database: peewee.SqliteDatabase, folder: Path, now: datetime) -> int:
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
        set_policy(step, "stand_ins", StandIns.ON.value, on=now.date())
        for tire in SHELF:
            shelf.add_tire(step, on=now.date(), **tire)
        _photographed(step, folder, ids[PHOTOGRAPHED], now)
    write_history(database, now=now)
    return len(shop)


def _photographed(step: journal.Step, folder: Path, machine_id: int, now: datetime) -> None:
    """Keep the workshop's two photographs to measure on: a good one, and one that is none."""
    for name in ("enduro.jpg", "enduro-bad.jpg"):
        raw = (files(__package__) / "photographs" / name).read_bytes()
        picture = read_to_measure(raw)
        photographs.add_photograph(
            step,
            machine_id,
            file=keep_photo(folder, picture.jpeg),
            size=picture.size,
            focal_px=picture.focal_px,
            at=now,
            by=IDA,
        )


def _met(step: journal.Step, machine: dict[str, Any], then: datetime) -> int:
    """Add a machine as it came in for the first time: what it is, and its tires."""
    machine_id = machines.add_machine(
        step, name=machine["name"], kind=machine["kind"], drawn_as=machine["drawn_as"], at=then
    )
    owner = OWNERS.get(machine["name"], "")
    machines.set_owner(step, machine_id, owner)
    machines.set_word(step, machine_id, "phone", PHONES.get(owner, ""))
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
    for line in machine.get("room", ()):
        values = {**line, "part": line["on"], "provenance": Provenance.MEASURED.value}
        del values["on"]
        machines.set_room_line(step, machine_id, None, values, on=measured)
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
