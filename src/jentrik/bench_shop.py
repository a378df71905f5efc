"""Lists of a large shop against the demo's, in one run.

The large shop has 601 machines, 300 tires on the shelf and 60 000 jobs, 300 of them open; the
pages that list them are asked of both in turn, once what is stale has been made anew.
"""

import json
import random
from datetime import date, timedelta

import peewee

from jentrik.bench_years import worst_page_vs_demo

LISTS = ("/jobs", "/machines", "/shelf", "/logbook", "/read?code=37-622")
MACHINES, TIRES, JOBS, OPEN = 601, 300, 60_000, 300
DAYS = 3650
CODES = ("37-622", "47-584", "120/70-17 58S", "3.50-10 51J", "57-559", "90/90-19 52H")


def big_shop_vs_demo() -> float:
    """Return the worst list's time in the large shop over the demo's."""
    return worst_page_vs_demo(grow, LISTS)


def grow(
    database: peewee.SqliteDatabase, today: date, *, machines: int = MACHINES, jobs: int = JOBS
) -> None:
    """Write a large shop into a demo shop."""
    chance = random.Random(11)  # noqa: S311  # the same shop each time
    known = database.execute_sql(
        "SELECT key, value, provenance, taken_on FROM measurement WHERE machine_id = 1 GROUP BY key"
    ).fetchall()
    with database.atomic():
        for number in range(12, machines + 1):
            database.execute_sql(
                "INSERT INTO machine (id, name, name_key, owner, kind, drawn_as, created_at)"
                " VALUES (?, ?, ?, ?, 'bicycle', 'diamond frame', '2020-01-01T09:00:00')",
                (number, f"Rental {number}", f"rental {number}", f"Owner {number % 97}"),
            )
            setup = database.execute_sql(
                "INSERT INTO setup (machine_id, name, since_on) VALUES (?, 'As it came', ?)",
                (number, "2020-01-01"),
            ).lastrowid
            database.execute_sql("UPDATE machine SET setup_id = ? WHERE id = ?", (setup, number))
            for key, value, provenance, taken_on in known:
                database.execute_sql(
                    "INSERT INTO measurement (machine_id, setup_id, key, value, provenance,"
                    " taken_on) VALUES (?, ?, ?, ?, ?, ?)",
                    (number, setup, key, value, provenance, taken_on),
                )
        for number in range(TIRES):
            database.execute_sql(
                "INSERT INTO shelf_tire (code, week, year, added_on) VALUES (?, 8, ?, ?)",
                (CODES[number % len(CODES)], 2019 + number % 7, today.isoformat()),
            )
        for number in range(jobs):
            _job(database, number, chance, today, machines)


def _job(
    database: peewee.SqliteDatabase, number: int, chance: random.Random, today: date, machines: int
) -> None:
    day = (today - timedelta(days=chance.randint(1, DAYS))).isoformat()
    machine, closed = chance.randint(12, machines), f"{day}T17:00:00"
    due = (today + timedelta(days=chance.randint(0, 60))).isoformat()
    job = database.execute_sql(
        "INSERT INTO job (tag, machine_id, wanted, due_on, created_at, closed_at)"
        " VALUES (?, ?, 'new tires', ?, ?, ?)",
        (1000 + number, machine, due, f"{day}T09:00:00", None if number < OPEN else closed),
    ).lastrowid
    if number < OPEN:
        database.execute_sql(
            "INSERT INTO proposal (job_id, name, changes) VALUES (?, 'A', ?)",
            (job, json.dumps({"rear": {"tire": "47-584"}})),
        )
    elif number % 5 == 0:
        database.execute_sql(
            "INSERT INTO inspection (machine_id, wheel, look, taken_on, tire, tread, signs, by,"
            " note) VALUES (?, 'rear', 'at intervals', ?, '37-622', NULL, '[]', '', '')",
            (machine, day),
        )
        database.execute_sql(
            "INSERT INTO odometer (machine_id, taken_on, km, swapped) VALUES (?, ?, ?, 0)",
            (machine, day, number),
        )
