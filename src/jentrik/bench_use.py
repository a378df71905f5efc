"""What a day's use costs: a durable commit, memory after many requests, figures typed fast.

Typing needs the tools of the browser tests; without them that figure is left out.
"""

import asyncio
import gc
import importlib.util
import json
import os
import random
import re
import statistics
import tempfile
import time
from datetime import datetime
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.plan.proposal_fields import value_at
from jentrik.store import journal, machines
from jentrik.store.rows import rows
from jentrik.web.app import create_app
from jentrik.web.security.guard import TOKEN_HEADER
from jentrik.web.server.served import served

NOON = datetime(2026, 11, 23, 12, 0)
FEW, MANY = 500, 5000
PACES_MS, NETWORKS_MS, FIELDS = (20, 40, 80, 150), (0, 100, 300), 2000
AT_ONCE = 3  # typists: more than a small machine has hands for would only wait
LINUX_MEMORY = Path("/proc/self/statm")


def durable_commit_cost() -> float:
    """Return the time of a write that is on the disk over one the system may still hold back."""
    with tempfile.TemporaryDirectory() as folder:
        shop = create_app(Path(folder), demo=True).state.shop

        def write(number: int) -> None:
            figure = Figure(1000.0 + number, Provenance.MEASURED, NOON.date())
            with journal.step(
                shop.database, now=NOON, label="x", subject="x", machine_id=1
            ) as step:
                machines.set_figure(step, 1, "wheelbase_mm", figure)

        def median(mode: str) -> float:
            shop.database.execute_sql(f"PRAGMA synchronous = {mode}")
            times = []
            for number in range(200):
                start = time.perf_counter()
                write(number)
                times.append(time.perf_counter() - start)
            return statistics.median(times)

        cost = min(median("FULL") / median("NORMAL") for _ in range(3))
        shop.database.close()
    return cost


def memory_growth() -> float:
    """Return the memory after many mixed requests over that after few."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        with TestClient(app, base_url="http://127.0.0.1") as client:
            page = client.get("/rules").text
            found = re.search(f'{TOKEN_HEADER}": "([^"]+)"', page)
            assert found is not None
            client.headers[TOKEN_HEADER] = found.group(1)
            _mixed(client, FEW)
            few = _resident()
            _mixed(client, MANY - FEW)
            return _resident() / few


def _mixed(client: TestClient, count: int) -> None:
    pages = (
        "/jobs",
        "/jobs/1",
        "/machines/6",
        "/logbook",
        "/shelf",
        "/shop",
        "/jobs/9?station=ride",
        "/jobs/11?station=check",
        "/read?code=37-622",
        "/machines/6/history",
    )
    for number in range(count):
        if number % 3 == 0:
            code = ("47-584", "50-584")[number % 2]
            client.post("/jobs/1/answer?proposal=A", data={"proposal:rear.tire": code})
        else:
            client.get(pages[number % len(pages)])


def _resident() -> int:
    gc.collect()
    if not LINUX_MEMORY.exists():
        return 1
    return int(LINUX_MEMORY.read_text(encoding="ascii").split()[1])


def fields_lost() -> tuple[int, int] | None:
    """Return how many of the fields typed were lost, and how many were typed; None unmeasured.

    Lost is what is neither stored nor standing in its field as not saved.
    """
    if importlib.util.find_spec("playwright") is None:
        return None
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        with served(app, log_level="error") as address:
            return asyncio.run(_typed(app, address))


async def _typed(app: FastAPI, address: str) -> tuple[int, int]:
    # A contributor's tool, not there in a shop.
    from playwright.async_api import async_playwright  # noqa: PLC0415

    app.state.shop.ready()
    ways = [(pace, net) for pace in PACES_MS for net in NETWORKS_MS]
    async with async_playwright() as playwright:
        path = os.environ.get("JENTRIK_CHROMIUM", "/usr/bin/chromium")
        browser = await playwright.chromium.launch(executable_path=path, args=["--no-sandbox"])
        hands = asyncio.Semaphore(AT_ONCE)
        counts = await asyncio.gather(
            *(_typist(browser, hands, address, job, *way) for job, way in enumerate(ways, start=1))
        )
        await browser.close()
    return sum(lost for lost, _ in counts), sum(typed for _, typed in counts)


async def _typist(
    browser: Any, hands: asyncio.Semaphore, address: str, job: int, pace_ms: int, net_ms: int
) -> tuple[int, int]:
    async with hands:
        context = await browser.new_context(base_url=address)
        counts = await _typed_by(await context.new_page(), job, pace_ms, net_ms)
        await context.close()
    return counts


async def _typed_by(page: Any, job: int, pace_ms: int, net_ms: int) -> tuple[int, int]:
    chance, lost, typed = random.Random(job), 0, 0  # noqa: S311
    count = FIELDS // (len(PACES_MS) * len(NETWORKS_MS)) + 1

    async def slow(route: Any) -> None:
        await asyncio.sleep(net_ms / 1000)
        await route.continue_()

    await page.route("**/answer*", slow)
    while typed < count:
        await page.goto(f"/jobs/{job}?more=more&proposal=A")
        names = await page.evaluate(
            "[...document.querySelectorAll('.more-fields input[data-live]')].map(f => f.name)"
        )
        if not names:
            break
        texts = {name: f"{chance.randint(3, 9)}.{chance.randint(1, 9)}" for name in names}
        await page.locator(f"[name='{names[0]}']").focus()
        for text in texts.values():
            await page.keyboard.press("Control+A")
            await page.keyboard.type(text, delay=pace_ms)
            await page.keyboard.press("Tab")
        saving = page.locator(".field-state[data-state=saving]")
        while await saving.count():
            await asyncio.sleep(0.05)
        shown = await page.evaluate(
            "Object.fromEntries([...document.querySelectorAll('.field-state')]"
            ".map(s => [s.previousElementSibling.name, s.previousElementSibling.value]))"
        )
        stored = rows("SELECT changes FROM proposal WHERE job_id = ? AND name = 'A'", job)[0]
        lost += sum(
            not _is_stored(stored["changes"], name, text) and shown.get(name) != text
            for name, text in texts.items()
        )
        typed += len(texts)
    return lost, typed


def _is_stored(changes: str, name: str, text: str) -> bool:
    return value_at(json.loads(changes), name.partition(":")[2]) == float(text)
