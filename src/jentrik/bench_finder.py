"""The finder: seconds and memory of two million pairs, against bare formulas, and its growth."""

import time
import tracemalloc
from collections.abc import Callable
from typing import Any

import numpy as np

from jentrik.core.machine.machine import Bike
from jentrik.core.plan.finder import Search, Wanted, find, prepared
from jentrik.core.plan.ranking import Weights
from jentrik.core.plan.sizes import sizes_of
from jentrik.core.tire.reading import Reading

SEATS = (
    *(203, 254, 305, 317, 349, 355, 369, 387, 390, 406, 419, 432, 438, 451, 457, 484),
    *(490, 501, 507, 520, 540, 547, 559, 571, 584, 587, 590, 597, 622, 630, 635),
)
MANY, FEWER = 1415, 448  # sizes an end: two million pairs, and a tenth of them


def _sizes(count: int) -> tuple[Reading, ...]:
    return sizes_of([f"{width}-{seat}" for width in range(20, 66) for seat in SEATS][:count])


def best_seconds(act: Callable[[], object], rounds: int = 3) -> float:
    """Return the least of several times, s."""
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return min(times)


def finder_figures(bike: Bike) -> tuple[float, float, float, float]:
    """Return seconds, MB, time over that of the bare formulas, and growth for ten times the work.

    Growth and the bare formulas are of ranking prepared sizes: what grows with the pairs.
    """
    many, fewer = _sizes(MANY), _sizes(FEWER)
    seconds = best_seconds(lambda: find(bike, Wanted(many, many)))
    tracemalloc.start()
    find(bike, Wanted(many, many))
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    large, small = (prepared(bike, Wanted(one, one)) for one in (many, fewer))
    whole = best_seconds(lambda: large.ranked(Weights(), 50))
    tenth = best_seconds(lambda: _anew(small).ranked(Weights(), 50))
    bare = best_seconds(lambda: _bare(large))
    return seconds, peak, whole / bare, whole / tenth


def _anew(search: Search) -> Search:
    """Return a prepared search that has kept nothing of ranking before."""
    search.blocks.clear()
    search.whole.clear()
    return search


def _bare(search: Search) -> Any:
    """Work head angle, trail and bottom bracket alone, once for every pair, block by block."""
    axles, there = search.found.chassis.axles, search.contexts[0]
    front = np.array([one.radius_mm for one in there.fronts])
    rear = np.array([one.radius_mm for one in there.rears])[None, :]
    head = np.radians(axles.head_angle_deg)
    along, up = axles.wheelbase_mm, axles.front_radius_mm - axles.rear_radius_mm
    x, y = search.found.chassis.bottom_bracket or (0.0, 0.0)
    answer = None
    for start in range(0, len(front), 46):
        rows = front[start : start + 46, None]
        pitch = np.arcsin((rows - rear) / np.hypot(along, up)) - np.arctan2(up, along)
        settled = head - pitch
        trail = (rows * np.cos(settled) - axles.fork_offset_mm) / np.sin(settled)
        bracket = x * np.sin(pitch) + (y - axles.rear_radius_mm) * np.cos(pitch) + rear
        answer = settled, trail, bracket
    return answer
