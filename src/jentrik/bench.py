"""The benchmarks: ratios measured in one run on one machine, never seconds on their own.

Each figure is a best of several rounds, the two sides of a ratio taken in turn, so that a busy
moment strikes both.
"""

import math
import re
import tempfile
import time
import tracemalloc
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any, Literal
from unittest.mock import patch

import httpx2 as httpx
import numpy as np
from fastapi import FastAPI, Request
from fastapi.responses import HTMLResponse
from peewee import SqliteDatabase
from scipy.optimize import root

from jentrik.bench_actions import card_actions
from jentrik.bench_answer import answer_times
from jentrik.bench_day import event_delay_ms, offer_ms
from jentrik.bench_exchange import exchange_figures
from jentrik.bench_finder import finder_figures
from jentrik.bench_keys import key_to_redraw_ms
from jentrik.bench_photo import solution_ms, upload_seconds
from jentrik.bench_room import widest_ms
from jentrik.bench_shop import big_shop_vs_demo
from jentrik.bench_start import read_vs_python, serve_ready_vs_imports
from jentrik.bench_use import FIELDS, durable_commit_cost, fields_lost, memory_growth
from jentrik.bench_years import ten_years_vs_demo
from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.geometry.pose import Axles, PoseChange, settle
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import WheelChange
from jentrik.core.plan.effects import effects
from jentrik.core.plan.plan import PlanResult, as_measured, outcome_of
from jentrik.core.plan.search import Space, nearest, space_of, sums, target_of, ways_back
from jentrik.core.practice.make import items
from jentrik.core.tire.sidewall import read_code, read_sidewall
from jentrik.exchange.plan_document import read_bike
from jentrik.web.app import create_app
from jentrik.web.security.guard import TOKEN_HEADER
from jentrik.web.server.served import served
from jentrik.web.shop import AForm, AShop
from jentrik.web.templating import page

ROUNDS = 40
BURSTS = 800


@dataclass(frozen=True, slots=True)
class BenchFigure:
    """One figure, its limit, and which way is better."""

    name: str
    figure: float
    limit: float
    better: Literal["lower", "higher"]

    @property
    def ok(self) -> bool:
        """Whether the figure keeps its limit."""
        return self.figure <= self.limit if self.better == "lower" else self.figure >= self.limit

    def as_document(self) -> dict[str, Any]:
        """Return the figure as plain values."""
        return {
            "name": self.name,
            "figure": round(self.figure, 3),
            "limit": self.limit,
            "better": self.better,
            "ok": self.ok,
        }

    def line(self) -> str:
        """Return the figure as a line to read."""
        sign = "<=" if self.better == "lower" else ">="
        state = "ok" if self.ok else "short"
        return f"{self.name:<26} {self.figure:>10.2f}  {sign} {self.limit:<8g} {state}"


def run_all(only: Sequence[str] | None = None) -> list[BenchFigure]:
    """Run every benchmark, or those that give the named figures; refuses an unknown name."""
    wanted = set(only or ())
    unknown = sorted(wanted - {name for names, _ in GROUPS for name in names})
    if unknown:
        raise OutOfRange(
            f"No figure is called “{unknown[0][:40]}”.",
            field="only",
            expected=", ".join(name for names, _ in GROUPS for name in names),
        )
    figures = [
        figure
        for names, measured in GROUPS
        if not wanted or wanted & set(names)
        for figure in measured()
    ]
    return [figure for figure in figures if not wanted or figure.name in wanted]


def _finder() -> list[BenchFigure]:
    seconds, peak, over_bare, growth = finder_figures(read_bike(SEARCH_BIKE))
    return [
        BenchFigure("finder-seconds", seconds, 1, "lower"),
        BenchFigure("finder-mb", peak, 200, "lower"),
        BenchFigure("finder-vs-bare-formulas", over_bare, 3, "lower"),
        BenchFigure("finder-growth", growth, 10.5, "lower"),
    ]


def _answers() -> list[BenchFigure]:
    middle, worst, search = answer_times()
    return [
        BenchFigure("answer-ms", middle, 120, "lower"),
        BenchFigure("answer-worst-ms", worst, 250, "lower"),
        BenchFigure("usual-search-seconds", search, 0.2, "lower"),
    ]


def _keys() -> list[BenchFigure]:
    times = key_to_redraw_ms()
    if times is None:
        return []
    return [
        BenchFigure("key-to-redraw-ms", times[len(times) // 2], 120, "lower"),
        BenchFigure("key-to-redraw-p95-ms", times[int(len(times) * 0.95)], 250, "lower"),
    ]


_OF_CARDS = {
    "actions-tire-change": 16,
    "actions-wheel-with-chip": 30,
    "actions-known-set": 12,
    "card-tick-ms": 40,
}


def _cards() -> list[BenchFigure]:
    counted = card_actions() or {}
    return [BenchFigure(name, value, _OF_CARDS[name], "lower") for name, value in counted.items()]


def _exchange() -> list[BenchFigure]:
    exported, imported, memory = exchange_figures()
    return [
        BenchFigure("export-seconds", exported, 20, "lower"),
        BenchFigure("import-seconds", imported, 60, "lower"),
        BenchFigure("import-mb", memory, 300, "lower"),
    ]


def _typing() -> list[BenchFigure]:
    counted = fields_lost()
    if counted is None:
        return []
    lost, typed = counted
    return [
        BenchFigure("typed-fields-lost", lost, 0, "lower"),
        BenchFigure("typed-fields", typed, FIELDS, "higher"),
    ]


def _seconds(act: Callable[[], object], times: int) -> float:
    start = time.perf_counter()
    for _ in range(times):
        act()
    return (time.perf_counter() - start) / times


def _ratio(slow: Callable[[], object], fast: Callable[[], object], times: int) -> float:
    """Return best-of-rounds slow over best-of-rounds fast, measured in turn."""
    rounds = [(_seconds(slow, times), _seconds(fast, times * 4)) for _ in range(ROUNDS)]
    return min(a for a, _ in rounds) / min(b for _, b in rounds)


def pose_vs_root_finder() -> BenchFigure:
    """Compare one pose with scipy's general root finder on the same two contact conditions."""
    found = Axles(1046.0, 71.5, 348.0, 348.0)
    change = PoseChange(
        339.0, 338.0, fork_longer_mm=10.0, offset_more_mm=-4.0, rear_shift_y_mm=-8.0
    )
    head = np.radians(found.head_angle_deg)
    up = np.array([-np.cos(head), np.sin(head)])
    ahead = np.array([np.sin(head), np.cos(head)])

    def by_root_finder() -> object:
        front = np.array([found.wheelbase_mm, found.front_radius_mm])
        front = front - change.fork_longer_mm * up + change.offset_more_mm * ahead
        rear = np.array([change.rear_shift_x_mm, found.rear_radius_mm + change.rear_shift_y_mm])

        def above_ground(unknowns: Any) -> Any:
            cos, sin, height = np.cos(unknowns[0]), np.sin(unknowns[0]), unknowns[1]
            return (
                rear[0] * sin + rear[1] * cos + height - change.rear_radius_mm,
                front[0] * sin + front[1] * cos + height - change.front_radius_mm,
            )

        return root(above_ground, (0.0, 0.0))

    figure = _ratio(by_root_finder, lambda: settle(found, change), 50)
    return BenchFigure("pose-vs-root-finder", figure, 20, "higher")


TYPICAL_CODES = (
    "37-622",
    "130/80 ZR 18 M/C (66W) TL",
    "26 x 1 3/8",
    "700x38C",
    "120/70-17 58H",
    "29x2.4",
    "MT90B16 74H",
    "3.25-19 54S",
)


def codes_per_second() -> BenchFigure:
    """Count typical codes read in one process, nothing remembered between them.

    Each code by its best burst of five out of many: a burst is short enough to miss whatever
    else the machine is doing.
    """
    best = dict.fromkeys(TYPICAL_CODES, math.inf)
    for _ in range(BURSTS):
        for code in TYPICAL_CODES:
            best[code] = min(best[code], _seconds(partial(read_code, code), 5))
    figure = len(TYPICAL_CODES) / sum(best.values())
    return BenchFigure("codes-per-second", figure, 25_000, "higher")


SIDEWALL = """HARBOUR RUNNER
120/70 ZR 17 M/C (58W) TL
FRONT
DOT AB12 CDE 1523
MAX LOAD 236 KG (520 LBS) AT 290 KPA (42 PSI) COLD
TREADWEAR 200 TRACTION A TEMPERATURE A
TREAD: 2 PLIES NYLON SIDEWALL: 1 PLY NYLON
ROTATION
E4 75R-0001234
MADE IN HARBOURLAND"""

# Lines that might make a reader look back or ahead again and again; each is repeated.
SHAPES = (
    "37-622 ",
    "37-622\n",
    "HARBOUR ",
    "12 ",
    "1523\n",
    "DOT ",
    "DOT AB 12 ",
    "1-",
    "26 x ",
    "1 1/2 ",
    "( ",
    "58H ",
    "(58W) ",
    "12 KG ",
    "A",
    "1",
    "§ ",
)


def sidewalls_per_second() -> BenchFigure:
    """Count whole sidewalls of ten lines read in one process, by the best of many bursts."""
    best = min(_seconds(partial(read_sidewall, SIDEWALL), 5) for _ in range(BURSTS))
    return BenchFigure("sidewalls-per-second", 1 / best, 2_000, "higher")


def reading_growth() -> BenchFigure:
    """Return how much longer the worst shape of text takes for eight times the length, over 8."""
    worst = 0.0
    for shape in SHAPES:
        short, long = (
            min(_seconds(partial(_read_or_refuse, (shape * length)[:length]), 1) for _ in range(7))
            for length in (450, 3600)
        )
        worst = max(worst, long / short / 8)
    return BenchFigure("reading-growth", worst, 2, "lower")


def _read_or_refuse(text: str) -> None:
    with suppress(Refusal):
        read_sidewall(text)


SEARCH_BIKE = {
    "name": "bench",
    "kind": "bicycle",
    "wheelbase_mm": 1046,
    "head_angle_deg": 71.5,
    "fork": {"length_mm": 393, "offset_mm": 50},
    "chainstay_mm": 445,
    "bb_height_mm": 284,
    "stack_mm": 577,
    "reach_mm": 381,
    "crank_mm": 172.5,
    "front": {"tire": "37-622"},
    "rear": {"tire": "47-584"},
}


def search_figures() -> list[BenchFigure]:
    """Work a million combinations of remedies, and the bare pose formulas on the same rows."""
    found = as_measured(read_bike(SEARCH_BIKE))
    proposal = Proposal("A")
    space = space_of(found, proposal, target_of(found, "as found"), ())
    rng = np.random.default_rng(5)

    def tables(*counts: int) -> tuple[Any, ...]:
        made = []
        for count, moves in zip(counts, ((2, 4), (3, 7), (0, 1)), strict=True):
            table = np.zeros((count, 11))
            table[:, moves] = rng.uniform(-2, 8, (count, 2))
            made.append(table)
        return tuple(made)

    large, small = tables(100, 100, 100), tables(100, 100, 10)
    rows = np.concatenate([block for _, block in sums(large)])
    whole, tenth, bare = (
        min(_seconds(act, 1) for _ in range(3))
        for act in (
            lambda: nearest(space, large),
            lambda: nearest(space, small),
            lambda: _bare_pose(space, rows),
        )
    )
    tracemalloc.start()
    nearest(space, large)
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    return [
        BenchFigure("search-vs-bare-formulas", whole / bare, 4, "lower"),
        BenchFigure("search-growth", whole / tenth, 11, "lower"),
        BenchFigure("search-mb", peak, 300, "lower"),
        _ways_back_ms(found),
        _whole_answer_ms(found),
        _practice_ms(),
    ]


def _bare_pose(space: Space, rows: Any) -> object:
    """Work head angle and trail alone, each formula once over whole columns."""
    axles, base = space.chassis.axles, space.base
    turned = np.radians(axles.head_angle_deg + rows[:, 7])
    head = np.radians(axles.head_angle_deg)
    length, offset = axles.fork_length_mm + rows[:, 2], axles.fork_offset_mm + rows[:, 3]
    crown_x = axles.wheelbase_mm - axles.fork_offset_mm * np.sin(head)
    crown_x = crown_x - axles.fork_length_mm * np.cos(head) + rows[:, 4] * np.cos(head)
    crown_y = axles.front_radius_mm - axles.fork_offset_mm * np.cos(head)
    crown_y = crown_y + axles.fork_length_mm * np.sin(head) - rows[:, 4] * np.sin(head)
    cos, sin = np.cos(turned), np.sin(turned)
    along = crown_x + length * cos + offset * sin - rows[:, 5]
    up = crown_y - length * sin + offset * cos - axles.rear_radius_mm - rows[:, 6]
    front, rear = base.front_radius_mm + rows[:, 0], base.rear_radius_mm + rows[:, 1]
    pitch = np.arcsin((front - rear) / np.hypot(along, up)) - np.arctan2(up, along)
    settled = turned - pitch
    return settled, (front * np.cos(settled) - offset) / np.sin(settled)


def _whole_answer_ms(found: PlanResult) -> BenchFigure:
    """Time everything that is said of one proposal: the machine, its figures, rules and effects."""
    proposal = Proposal("A", front=WheelChange(overall_diameter_mm=660.0))

    def answer() -> None:
        there = as_measured(found.bike)
        effects(there, outcome_of(there, proposal))

    return BenchFigure(
        "whole-answer-ms", min(_seconds(answer, 20) for _ in range(5)) * 1000, 10, "lower"
    )


def _ways_back_ms(found: PlanResult) -> BenchFigure:
    """Time the ways back of a job like the demo's: what stands between a click and the list."""
    proposal = Proposal("A", front=WheelChange(overall_diameter_mm=660.0))
    target = target_of(found, "as found")
    seconds = min(_seconds(lambda: ways_back(found, proposal, target), 1) for _ in range(5))
    return BenchFigure("ways-back-ms", seconds * 1000, 300, "lower")


def _practice_ms() -> BenchFigure:
    """Time a session of twenty practice items, each seed's for the first time."""
    seconds = [_seconds(partial(items, seed, 20), 1) for seed in range(20)]
    return BenchFigure("practice-session-ms", sorted(seconds)[10] * 1000, 50, "lower")


def page_figures() -> list[BenchFigure]:
    """Serve the demo on loopback and measure what a browser would wait for."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        add_empty_partial(app)
        with served(app) as address, httpx.Client(base_url=address) as client:
            return [
                *_redraw(client, app.state.shop.database),
                _first_view(client),
                _api_write(client),
                _map(client),
                *_photographs(client),
            ]


def add_empty_partial(app: FastAPI) -> None:
    """Add a route that does all a redraw does but the work: form, token, shop, template."""

    def empty(request: Request, shop: AShop, form: AForm) -> HTMLResponse:
        return page(request, "empty.html")

    app.post("/bench/empty")(empty)


def _redraw(client: httpx.Client, database: SqliteDatabase) -> list[BenchFigure]:
    """Time a live redraw, saving and all, against an empty partial through the same stack."""
    page = client.get("/jobs/1")
    token = page.text.split(f'"{TOKEN_HEADER}": "')[1].split('"')[0]
    headers = {"HX-Request": "true", TOKEN_HEADER: token, "Accept-Encoding": "gzip"}
    codes = ("47-584", "50-584")
    turn = 0

    def redraw() -> None:
        nonlocal turn
        turn += 1
        form = {"proposal:front.tire": codes[turn % 2]}
        answer = client.post("/jobs/1/answer?proposal=A", data=form, headers=headers)
        assert answer.status_code == 200
        assert "bench-drawing" in answer.text

    def empty() -> None:
        form = {"proposal:front.tire": "47-584"}
        answer = client.post("/bench/empty", data=form, headers=headers)
        assert answer.status_code == 200

    _seconds(redraw, 20), _seconds(empty, 20)
    with patch.object(database, "execute_sql", wraps=database.execute_sql) as asked:
        redraw()
    pairs = [(_seconds(redraw, 1), _seconds(empty, 1)) for _ in range(300)]
    redraws, empties = sorted(a for a, _ in pairs), sorted(b for _, b in pairs)
    middle = len(pairs) // 2
    return [
        BenchFigure("redraw-vs-empty-partial", redraws[middle] / empties[middle], 2, "lower"),
        BenchFigure("redraw-sql", asked.call_count, 12, "lower"),
        BenchFigure("redraw-p95-ms", redraws[int(len(pairs) * 0.95)] * 1000, 50, "lower"),
    ]


def _photographs(client: httpx.Client) -> list[BenchFigure]:
    """Time a picture coming in, and a mark set on one against an empty partial."""
    token = client.get("/machines/1").text.split(f'"{TOKEN_HEADER}": "')[1].split('"')[0]
    headers = {TOKEN_HEADER: token}
    upload = upload_seconds(client, headers)
    page = client.get("/machines/1/photographs").text
    there = page.split('href="/machines/1/photographs/')[1].split('"')[0]
    path = f"/machines/1/photographs/{there}/answer"
    headers |= {"HX-Request": "true", "X-Live": "1", "Accept-Encoding": "gzip"}
    circle = [(math.cos(a * math.pi / 5), math.sin(a * math.pi / 5)) for a in range(10)]
    for end, x in (("rear", 800), ("front", 2100)):
        edge = " ".join(f"{x + 390 * c:.1f},{1200 - 390 * s:.1f}" for c, s in circle)
        client.post(path, data={f"photo:{end}.edge_px": edge}, headers=headers)
    turn = 0

    def mark() -> None:
        nonlocal turn
        turn += 1
        form = {"photo:point.bottom bracket": f"{1340 + turn % 9},1290"}
        answer = client.post(path, data=form, headers=headers)
        assert "photo-fit" in answer.text

    def empty() -> None:
        client.post("/bench/empty", data={"x": "1"}, headers=headers)

    _seconds(mark, 10), _seconds(empty, 10)
    pairs = [(_seconds(mark, 1), _seconds(empty, 1)) for _ in range(60)]
    marks, empties = sorted(a for a, _ in pairs), sorted(b for _, b in pairs)
    return [
        BenchFigure("photo-solution-ms", solution_ms(), 60, "lower"),
        BenchFigure("photo-upload-seconds", upload, 2, "lower"),
        BenchFigure("photo-redraw-vs-empty-partial", marks[30] / empties[30], 2.5, "lower"),
    ]


def _api_write(client: httpx.Client) -> BenchFigure:
    """Time a figure changed through the API against the same change on the page."""
    token = client.get("/machines/1").text.split(f'"{TOKEN_HEADER}": "')[1].split('"')[0]
    headers = {"HX-Request": "true", TOKEN_HEADER: token, "Accept-Encoding": "gzip"}
    turn = 0

    def figure() -> int:
        nonlocal turn
        turn += 1
        return 1040 + turn % 7

    def by_page() -> None:
        form = {"sheet:wheelbase_mm": str(figure())}
        assert client.post("/machines/1/answer", data=form, headers=headers).is_success

    def by_api() -> None:
        body = {"figures": {"wheelbase_mm": figure()}}
        assert client.patch("/api/machines/1", json=body).is_success

    _seconds(by_page, 10), _seconds(by_api, 10)
    pairs = [(_seconds(by_api, 1), _seconds(by_page, 1)) for _ in range(100)]
    api, there = (sorted(one)[len(pairs) // 2] for one in zip(*pairs, strict=True))
    return BenchFigure("api-write-vs-page", api / there, 2, "lower")


def _map(client: httpx.Client) -> BenchFigure:
    """Time the map of pairs ranked anew by another weight against an empty partial."""
    token = client.get("/machines/1").text.split(f'"{TOKEN_HEADER}": "')[1].split('"')[0]
    headers = {"HX-Request": "true", TOKEN_HEADER: token, "Accept-Encoding": "gzip"}
    turn = 0

    def redraw() -> None:
        nonlocal turn
        turn += 1
        answer = client.get(f"/machines/1/choose?room={turn % 4 * 0.5:g}", headers=headers)
        assert "map-drawing" in answer.text

    def empty() -> None:
        assert client.post("/bench/empty", data={}, headers=headers).is_success

    _seconds(redraw, 4), _seconds(empty, 10)
    pairs = [(_seconds(redraw, 1), _seconds(empty, 1)) for _ in range(60)]
    redraws, empties = (sorted(one)[len(pairs) // 2] for one in zip(*pairs, strict=True))
    return BenchFigure("map-redraw-vs-empty-partial", redraws / empties, 4, "lower")


def _first_view(client: httpx.Client) -> BenchFigure:
    """Add up what the first view of a bench transfers, compression on."""
    page = client.get("/jobs/1", headers={"Accept-Encoding": "gzip"})
    files = {"/jobs/1"}
    files |= set(re.findall(r'(?:href|src)="(/static/[^"]+)"', page.text))
    total = 0
    for name in files:
        request = client.build_request("GET", name, headers={"Accept-Encoding": "gzip"})
        answer = client.send(request, stream=True)
        total += sum(len(chunk) for chunk in answer.iter_raw())
    return BenchFigure("first-view-kb", total / 1000, 150, "lower")


def _one(
    name: str, measured: Callable[[], float], limit: float
) -> tuple[tuple[str, ...], Callable[[], list[BenchFigure]]]:
    return (name,), lambda: [BenchFigure(name, measured(), limit, "lower")]


# The figures that are measured together, and what measures them.
GROUPS: tuple[tuple[tuple[str, ...], Callable[[], list[BenchFigure]]], ...] = (
    (("pose-vs-root-finder",), lambda: [pose_vs_root_finder()]),
    (("codes-per-second",), lambda: [codes_per_second()]),
    (("sidewalls-per-second",), lambda: [sidewalls_per_second()]),
    (("reading-growth",), lambda: [reading_growth()]),
    (
        (
            "search-vs-bare-formulas",
            "search-growth",
            "search-mb",
            "whole-answer-ms",
            "ways-back-ms",
            "practice-session-ms",
        ),
        search_figures,
    ),
    (("finder-seconds", "finder-mb", "finder-vs-bare-formulas", "finder-growth"), _finder),
    (
        (
            "redraw-vs-empty-partial",
            "redraw-sql",
            "redraw-p95-ms",
            "photo-solution-ms",
            "photo-upload-seconds",
            "photo-redraw-vs-empty-partial",
            "api-write-vs-page",
            "map-redraw-vs-empty-partial",
            "first-view-kb",
        ),
        page_figures,
    ),
    _one("widest-ms", widest_ms, 5),
    _one("event-delay-ms", event_delay_ms, 300),
    _one("offer-ms", offer_ms, 150),
    (("answer-ms", "answer-worst-ms", "usual-search-seconds"), _answers),
    _one("ten-years-vs-demo", ten_years_vs_demo, 1.5),
    _one("big-shop-vs-demo", big_shop_vs_demo, 1.5),
    _one("durable-commit-cost", durable_commit_cost, 4),
    _one("memory-growth", memory_growth, 1.1),
    _one("read-vs-python", read_vs_python, 10),
    _one("serve-ready-vs-imports", serve_ready_vs_imports, 2),
    (("export-seconds", "import-seconds", "import-mb"), _exchange),
    (("typed-fields-lost", "typed-fields"), _typing),
    (tuple(_OF_CARDS), _cards),
    (("key-to-redraw-ms", "key-to-redraw-p95-ms"), _keys),
)
