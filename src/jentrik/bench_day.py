"""What the day costs: how late a change shows on thirty screens, and an offer's page."""

import json
import statistics
import tempfile
import threading
import time
from pathlib import Path

import httpx2 as httpx

from jentrik.web.app import create_app
from jentrik.web.server.served import served

BROWSERS, CHANGES, APART_S, OFFERS = 30, 25, 0.12, 15
JOB, GREETED_S = 10, 20.0


def event_delay_ms() -> float:
    """Return after how many ms a change reaches each of thirty who listen, the 95th of 100."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        with served(app, log_level="error") as address:
            heard: list[tuple[str, float]] = []
            ears = [
                threading.Thread(target=_listen, args=(address, heard), daemon=True)
                for _ in range(BROWSERS)
            ]
            for ear in ears:
                ear.start()
            until = time.monotonic() + GREETED_S
            while len(app.state.feed.listening) < BROWSERS and time.monotonic() < until:
                time.sleep(0.05)
            sent = {}
            with httpx.Client(base_url=address) as client:
                for number in range(CHANGES):
                    sent[f"wanted: quieter {number}"] = time.perf_counter()
                    client.patch(f"/api/jobs/{JOB}", json={"wanted": f"quieter {number}"})
                    time.sleep(APART_S)
            until = time.monotonic() + GREETED_S
            while len(heard) < BROWSERS * CHANGES and time.monotonic() < until:
                time.sleep(0.05)
    delays = sorted((at - sent[what]) * 1000 for what, at in heard if what in sent)
    missed = BROWSERS * CHANGES - len(delays)
    return float("inf") if missed else delays[int(len(delays) * 0.95)]


def _listen(address: str, heard: list[tuple[str, float]]) -> None:
    try:
        with (
            httpx.Client(base_url=address, timeout=60) as client,
            client.stream("GET", "/api/events") as stream,
        ):
            for line in stream.iter_lines():
                if line.startswith("data: "):
                    heard.append((json.loads(line[6:])["what"], time.perf_counter()))
    except httpx.HTTPError:
        return  # the server stopped


def offer_ms() -> float:
    """Return the ms of an offer's page, the middle of some."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        with served(app, log_level="error") as address, httpx.Client(base_url=address) as client:
            times = []
            for _ in range(OFFERS):
                start = time.perf_counter()
                client.get(f"/jobs/{JOB}/customer?proposal=A").raise_for_status()
                times.append((time.perf_counter() - start) * 1000)
    return statistics.median(times)
