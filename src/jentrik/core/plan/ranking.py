"""How far a pair lies from the machine as found, by each thing a mechanic may weigh.

Every measure is zero where nothing is lost; the weights and what is wanted are common practice.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from jentrik.core.plan.one_end import Size
from jentrik.core.plan.plan import PlanResult
from jentrik.core.tire.reading import Reading
from jentrik.core.work.policy import Policy

Grid = npt.NDArray[np.float64]
ROOM_WANTED_MM = 10.0  # beyond it more room is no gain
MARGIN_WANTED = 0.25  # of load; beyond it more is no gain


@dataclass(frozen=True, slots=True)
class Weights:
    """How much each thing counts in the ranking; 0 leaves it out."""

    geometry: float = 1.0
    speed: float = 1.0
    room: float = 1.0
    choice: float = 1.0
    load: float = 1.0
    cost: float = 1.0
    width: float = 0.0  # wider is better, where the ground asks for it


def by_cost(prices: Mapping[str, float]) -> Callable[[Reading], float]:
    """Return how dear a size is as a share of the dearest, by its code.

    Without a price it counts as the dearest; zero for all where no price is known.
    """
    most = max(prices.values(), default=0.0)
    if not most:
        return lambda _: 0.0
    return lambda one: prices.get(one.text, most) / most


def by_load(weighed_kg: float | None, asked: Sequence[Reading]) -> Callable[[Reading], float]:
    """Return how far a size falls short of the load margin wanted, 0 to 1.

    Zero for all where the machine was not weighed or no size says what it carries; else a size
    that does not say counts as one without margin.
    """
    if weighed_kg is None or not load_counts([weighed_kg], asked):
        return lambda _: 0.0

    def apart(one: Reading) -> float:
        margin = 0.0 if one.load_kg is None else one.load_kg / weighed_kg - 1
        return 1 - min(max(margin / MARGIN_WANTED, 0.0), 1.0)

    return apart


def load_counts(weighed_kg: Sequence[float | None], asked: Sequence[Reading]) -> bool:
    """Whether load tells sizes apart: an end was weighed, and a size says what it carries."""
    return any(one is not None for one in weighed_kg) and any(
        one.load_kg is not None for one in asked
    )


def column(sizes: Sequence[Size], name: str) -> Grid:
    """Return one figure of each size."""
    return np.array([getattr(size, name) for size in sizes], dtype=float)


def apart_of(
    found: PlanResult,
    policy: Policy,
    fronts: Sequence[Size],
    rears: Sequence[Size],
    radius: tuple[Grid, Grid],
    moved: Sequence[Any],
) -> tuple[Any, ...]:
    """Return how far each pair lies from the machine as found, in the order of `Weights`.

    `radius` in mm, front by rear; `moved` are the changes of head angle, trail and bottom bracket.
    """
    noticeable = policy.noticeable
    keys = ("head_angle_deg", "trail_mm", "bb_height_mm")
    steps = [
        (one / noticeable[key]) ** 2
        for one, key in zip(moved, keys, strict=True)
        if one is not None
    ]
    axles = found.chassis.axles
    ratio = radius[0] / axles.front_radius_mm, radius[1] / axles.rear_radius_mm
    meter = found.bike.speedometer
    sensed = ratio[0] if meter is not None and meter.wheel == "front" else ratio[1]
    speed = np.abs(sensed - 1) * 100 + np.abs(ratio[0] / ratio[1] - 1) * 100
    gap = np.minimum(column(fronts, "gap_mm")[:, None], column(rears, "gap_mm")[None, :])
    room = np.clip(ROOM_WANTED_MM - gap, 0, ROOM_WANTED_MM) / ROOM_WANTED_MM
    likes = np.minimum(column(fronts, "likes")[:, None], column(rears, "likes")[None, :])
    load = np.maximum(column(fronts, "load")[:, None], column(rears, "load")[None, :])
    cost = (column(fronts, "cost")[:, None] + column(rears, "cost")[None, :]) / 2
    wide = column(fronts, "width_mm")[:, None] + column(rears, "width_mm")[None, :]
    most = float(np.nanmax(wide)) if np.isfinite(wide).any() else 1.0
    width = np.nan_to_num(1.0 - wide / most, nan=1.0)
    return np.sqrt(sum(steps) / len(steps)), speed, room, 1.0 / likes, load, cost, width
