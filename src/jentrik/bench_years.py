"""Pages of a shop with ten years behind it against the demo's, in one run.

The old shop is the demo with two thousand closed jobs, their cards, four thousand looks and
odometer readings, and thirty thousand changes; every main page is asked of both in turn.
"""

import json
import random
import tempfile
import time
from collections.abc import Callable, Sequence
from contextlib import ExitStack
from datetime import date, timedelta
from itertools import product
from pathlib import Path

import peewee
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import machines
from jentrik.store.models import TABLES
from jentrik.web.app import create_app
from jentrik.web.pages.jobs.list_refresh import refresh

PAGES = (
    "/jobs",
    "/jobs/1",
    "/jobs/1?station=fit",
    "/jobs/9?station=ride",
    "/jobs/1/order",
    "/machines",
    "/machines/6",
    "/machines/6/log",
    "/machines/6/history",
    "/logbook",
    "/shelf",
)
JOBS, LOOKS, CHANGES, STEPS = 2_000, 4_000, 30_000, 12
DAYS = 3650
ROUNDS = 11


def ten_years_vs_demo() -> float:
    """Return the worst page's time in the old shop over the demo's."""
    return worst_page_vs_demo(_age, PAGES)


def worst_page_vs_demo(
    grow: Callable[[peewee.SqliteDatabase, date], None], pages: Sequence[str]
) -> float:
    """Return the worst page's time in a demo shop that was grown over the demo's.

    What is stale in either is made anew first, as the server does by itself.
    """
    with tempfile.TemporaryDirectory() as young, tempfile.TemporaryDirectory() as old:
        apps = {
            "demo": create_app(Path(young), demo=True),
            "grown": create_app(Path(old), demo=True),
        }
        grow(apps["grown"].state.shop.database, apps["grown"].state.shop.today)
        for app in apps.values():
            app.state.shop.database.bind(TABLES)
            while refresh(app.state.shop):
                pass
        best: dict[tuple[str, str], float] = {}
        with ExitStack() as open_clients:
            clients = {
                name: open_clients.enter_context(TestClient(app, base_url="http://127.0.0.1"))
                for name, app in apps.items()
            }
            for _, page, name in product(range(ROUNDS), pages, apps):
                seconds = _asked(apps[name], clients[name], page)
                best[name, page] = min(best.get((name, page), seconds), seconds)
            for app in apps.values():
                app.state.shop.database.bind(TABLES)
    return max(best["grown", page] / best["demo", page] for page in pages)


def _asked(app: FastAPI, client: TestClient, page: str) -> float:
    app.state.shop.database.bind(TABLES)  # the models belong to one shop at a time
    start = time.perf_counter()
    answer = client.get(page)
    seconds = time.perf_counter() - start
    assert answer.status_code == 200, page
    return seconds


def _age(database: peewee.SqliteDatabase, today: date) -> None:
    """Write ten years of work into a demo shop."""
    chance = random.Random(10)  # noqa: S311  # the same ten years each time

    def some_day() -> date:
        return today - timedelta(days=chance.randint(30, DAYS))

    wears = {sheet.id: sheet.text("rear.tire") for sheet in machines.sheets()}
    with database.atomic():
        for number in range(JOBS):
            _done_job(database, 1000 + number, chance.randint(1, 11), some_day().isoformat())
        for _ in range(LOOKS):
            machine, on = chance.randint(1, 11), some_day()
            database.execute_sql(
                "INSERT INTO inspection (machine_id, wheel, look, taken_on, tire, tread, signs,"
                " by, note) VALUES (?, 'rear', 'at intervals', ?, ?, ?, '[]', '', '')",
                (machine, on.isoformat(), wears[machine], json.dumps([5.0, 5.0, 5.0])),
            )
            database.execute_sql(
                "INSERT INTO odometer (machine_id, taken_on, km, swapped) VALUES (?, ?, ?, 0)",
                (machine, on.isoformat(), (DAYS - (today - on).days) * 10),
            )
        for _ in range(CHANGES):
            database.execute_sql(
                "INSERT INTO change (at, machine_id, subject, label, entries, by)"
                " VALUES ('2020-01-01T09:00:00', ?, 'x', 'x', '[]', '')",
                (chance.randint(1, 11),),
            )


def _done_job(database: peewee.SqliteDatabase, tag: int, machine_id: int, day: str) -> None:
    """Write a job that was opened, done and closed on one day."""
    job = database.execute_sql(
        "INSERT INTO job (tag, machine_id, wanted, created_at, closed_at)"
        " VALUES (?, ?, 'work', ?, ?)",
        (tag, machine_id, f"{day}T09:00:00", f"{day}T17:00:00"),
    ).lastrowid
    database.execute_sql(
        "INSERT INTO proposal (job_id, name, changes) VALUES (?, 'A', '{}')", (job,)
    )
    card = database.execute_sql(
        "INSERT INTO card (job_id, proposal, template, made_at) VALUES (?, 'A', 'Tire swap', ?)",
        (job, f"{day}T09:00:00"),
    ).lastrowid
    for place in range(STEPS):
        database.execute_sql(
            "INSERT INTO card_step (card_id, place, plan, done_at, version)"
            " VALUES (?, ?, '! Step', ?, 1)",
            (card, place, f"{day}T10:00:00"),
        )
