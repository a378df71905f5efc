"""What other screens do is told while it happens, to all who listen, and nothing is told twice."""

import asyncio
from collections.abc import Awaitable, Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import jobs
from jentrik.store.happenings import Happened, last_happened
from jentrik.web.live.feed import Feed

JOB = 1
T = TypeVar("T")


def in_a_loop(work: Coroutine[Any, Any, T]) -> T:
    """Return what a coroutine gives, in a loop of its own: a browser's may run in this thread."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(asyncio.run, work).result()


def change(app: FastAPI, wanted: str) -> None:
    """Change what a job is for, as a request in another thread does."""
    shop = app.state.shop
    shop.ready()
    with shop.step(f"wanted: {wanted}", f"job {JOB} wanted", job_id=JOB) as step:
        jobs.want(step, JOB, wanted)


def listen(
    app: FastAPI, do: Callable[[Feed], Awaitable[None]], count: int, ears: int = 1
) -> list[list[Happened | int]]:
    """Return what each of so many who listen hears while something is done."""
    feed = Feed(app.state.shop)

    async def ear(since: int | None) -> list[Happened | int]:
        heard: list[Happened | int] = []
        async for one in feed.follow(since):
            heard.append(one)
            if len(heard) == count:
                break
        return heard

    async def run() -> list[list[Happened | int]]:
        listening = [asyncio.create_task(ear(None)) for _ in range(ears)]
        await asyncio.sleep(0.3)
        await do(feed)
        return await asyncio.wait_for(asyncio.gather(*listening), 20)

    return in_a_loop(run())


def test_thirty_who_listen_hear_every_change_once_and_in_order(app: FastAPI) -> None:
    async def do(feed: Feed) -> None:
        for number in range(5):
            await asyncio.to_thread(change, app, f"quieter {number}")

    heard = listen(app, do, 5, ears=30)
    assert all(
        [one.what for one in ear if isinstance(one, Happened)]
        == [f"wanted: quieter {number}" for number in range(5)]
        for ear in heard
    )


def test_who_comes_back_hears_what_happened_meanwhile(app: FastAPI) -> None:
    app.state.shop.ready()
    start = last_happened()
    for number in range(3):
        change(app, f"softer {number}")

    async def run() -> list[Happened | int]:
        heard: list[Happened | int] = []
        async for one in Feed(app.state.shop).follow(start + 1):
            heard.append(one)
            if len(heard) == 2:
                break
        return heard

    told = in_a_loop(run())
    assert [one.n for one in told if isinstance(one, Happened)] == [start + 2, start + 3]


def test_who_is_on_a_job_is_told_and_forgotten_when_they_go(app: FastAPI) -> None:
    async def do(feed: Feed) -> None:
        feed.note("screen-1", "Ida", "/jobs/1/card", "")
        assert [(one.who, one.where) for one in feed.others(1, "screen-2")] == [("Ida", "card")]
        assert feed.others(1, "screen-1") == []
        feed.note("screen-1", "Ida", "/jobs/1/here", "")
        feed.note("screen-1", "Ida", "/jobs", "")
        assert feed.others(1, "screen-2") == []

    assert listen(app, do, 2) == [[1, 1]]


def test_a_browser_sees_others_on_its_job_and_never_itself(app: FastAPI) -> None:
    one, other = (TestClient(app, base_url="http://127.0.0.1") for _ in range(2))
    for _ in range(2):  # the first page gives a browser its token; from the second it is known
        assert "Also here" not in one.get(f"/jobs/{JOB}").text
    other.get("/jobs")
    assert "Also here: another screen" in other.get(f"/jobs/{JOB}").text
    assert "Also here: another screen" in one.get(f"/jobs/{JOB}").text


def test_stopping_ends_every_listening(app: FastAPI) -> None:
    feed = Feed(app.state.shop)

    async def run() -> list[Happened | int]:
        async def ear() -> list[Happened | int]:
            return [one async for one in feed.follow()]

        listening = asyncio.create_task(ear())
        await asyncio.sleep(0.2)
        feed.stop()
        return await asyncio.wait_for(listening, 5)

    assert in_a_loop(run()) == []
