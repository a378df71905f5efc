"""Make docs/screenshots/ anew from the demo workshop: one picture of each main view."""

import math
import os
import random
import tempfile
from datetime import datetime
from pathlib import Path
from urllib.parse import urlencode

import httpx2 as httpx
from playwright.sync_api import sync_playwright

from jentrik.web.app import create_app
from jentrik.web.security.guard import TOKEN_HEADER
from jentrik.web.server.served import served
from scripts.demo_photographs import BASE, BRACKET, FORK, RIM, TIRE, Scene, camera, on_axis

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)
A_MONDAY = datetime(2026, 11, 23, 9, 0)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
SIDEWALL = "120/70 ZR 17 M/C (58W)\nTL FRONT ROTATION\nDOT AB12 CDE 4525"
VIEWS = (
    ("jobs", "/jobs", DESK),
    ("bench-stand", "/jobs/1", DESK),
    ("bench-motorcycle", "/jobs/10", DESK),
    ("bench-measure", "/jobs/5?station=measure", DESK),
    ("offer", "/jobs/6/customer?proposal=B", DESK),
    ("jobs-phone", "/jobs", PHONE),
    ("restore-geometry", "/jobs/10/ways?proposal=A", DESK),
    ("bench-check", "/jobs/6?station=check&proposal=B", DESK),
    ("bench-ride", "/jobs/9?station=ride", DESK),
    ("card-phone", "/jobs/5?station=fit", PHONE),
    ("logbook", "/machines/6/log", DESK),
    ("machine", "/machines/4", DESK),
    ("read", f"/read?{urlencode({'code': SIDEWALL, 'rim': 'MT 3.50 x 17'})}", DESK),
    ("shelf", "/shelf", DESK),
    ("photograph", "/machines/9/photographs/1", DESK),
    ("practice-phone", "/practice/session?kind=find-mark&seed=7", PHONE),
    ("choose", "/machines/10/choose", DESK),
    ("bench-phone", "/jobs/10", PHONE),
    ("widths", "/machines/1/widths?job=1", DESK),
)


# A picture taken before the shipped letters are there shows another face's.
LETTERED = """() => document.fonts.status === "loaded" &&
    [...document.fonts].some(one => one.status === "loaded")"""


def main() -> None:
    """Serve the demo on a free port and take every picture."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True, now=lambda: A_MONDAY)
        with served(app) as address:
            _mark_photograph(address)
            _take(address)


def _mark_photograph(address: str) -> None:
    """Set the marks of the demo's good photograph, where its own camera sees the places."""
    scene, hand = Scene(camera(11.0, 0.05), random.Random(0)), random.Random(5)
    path = "/machines/9/photographs/1"

    def pixels(*places: tuple[float, float, float]) -> str:
        seen = [(x + hand.gauss(0, 0.8), y + hand.gauss(0, 0.8)) for x, y in scene.at(list(places))]
        return " ".join(f"{x:.1f},{y:.1f}" for x, y in seen)

    form = {
        "photo:point.bottom bracket": pixels((*BRACKET, 0.0)),
        "photo:line.steering axis": pixels((*on_axis(FORK), 0.0), (*on_axis(FORK + 185), 0.0)),
        "photo:point.crown seat": pixels((*on_axis(FORK), 0.0)),
        "photo:point.head tube top": pixels((*on_axis(FORK + 105), 0.0)),
    }
    turns = [math.tau * (turn + 0.3) / 10 for turn in range(10)]
    for end, x in (("rear", 0.0), ("front", BASE)):
        edge = [(x + RIM / 2 * math.cos(a), TIRE / 2 + RIM / 2 * math.sin(a), 17.0) for a in turns]
        form[f"photo:{end}.edge_px"] = pixels(*edge)
        form[f"photo:{end}.axle_px"] = pixels((x, TIRE / 2, 6.0))
    with httpx.Client(base_url=address, follow_redirects=True) as client:
        token = client.get(path).text.split(f'"{TOKEN_HEADER}": "')[1].split('"')[0]
        for key, value in form.items():
            answer = client.post(f"{path}/answer", data={key: value}, headers={TOKEN_HEADER: token})
            answer.raise_for_status()


def _take(address: str) -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        chromium = os.environ.get("JENTRIK_CHROMIUM", "/usr/bin/chromium")
        browser = playwright.chromium.launch(executable_path=chromium, args=FLAGS)
        context = browser.new_context()
        first = context.new_page()  # a browser's first page is drawn before its fonts are there
        first.goto(f"{address}/words")
        first.wait_for_timeout(2000)
        for name, path, (width, height) in VIEWS:
            page = context.new_page()
            page.set_viewport_size({"width": width, "height": height})
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            page.wait_for_function(LETTERED)
            page.screenshot(path=TARGET / f"{name}.png")
            page.close()
        browser.close()


if __name__ == "__main__":
    main()
