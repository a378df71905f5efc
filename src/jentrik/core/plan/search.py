"""The ways back: every remedy alone, in pairs and in triples, each worked exactly.

Steps add up: each moves the front or rear axle, a wheel's radius or a contact point by so much,
and remedies that would not add up exclude each other.  So a row of sums is a change, the
formulas that work one machine work a block of rows, and a block fits the memory of the
processor.  A step that meets a stop by itself is not tried, and what is shown in the end is
computed anew as an ordinary proposal, rules and all: one that adds a stop to the proposal's own,
or makes one worse, is not shown.

Closeness is the root of the summed squares of what is left of each figure, each in steps of
what a rider notices.  Source: derived; the steps and the weights are common practice.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, fields, replace
from itertools import combinations
from typing import Any

import numpy as np
import numpy.typing as npt

from jentrik.core.errors import Refusal
from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.figures.contact import PEDAL_HALF_MM, figure_of
from jentrik.core.geometry.figures import Chassis, Geometry, geometry
from jentrik.core.geometry.frame import Values
from jentrik.core.geometry.pose import PoseChange
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.proposal import Proposal
from jentrik.core.plan.plan import Outcome, PlanResult, change_of, outcome_of
from jentrik.core.plan.remedies import Remedy, RemedyStep, remedies_of
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.work.policy import Band, ShopLimits

Rows = npt.NDArray[np.float64]
MOST_TOGETHER = 3
BLOCK = 1 << 14
ADDS_NOTHING = 0.25  # of what a rider notices: a further remedy that gains less is left out
_MOVES = tuple(field.name for field in fields(PoseChange))


@dataclass(frozen=True, slots=True)
class Target:
    """Figures to come back to, and how far off the shop still accepts."""

    name: str
    figures: dict[str, float]

    def bands(self, limits: ShopLimits) -> dict[str, Band]:
        """Return the accepted change of each figure."""
        return {name: getattr(limits, name) for name in self.figures}


def target_of(found: PlanResult, name: str, wanted: dict[str, float] | None = None) -> Target:
    """Return the figures of the machine as found as a target; `wanted` puts others in place."""
    figures = {
        key: float(value)
        for key in ("head_angle_deg", "trail_mm", "bb_height_mm", "wheelbase_mm", "reach_mm")
        if (value := getattr(found.figures.geometry, key)) is not None
    }
    touched = found.figures.contact
    if found.bike.kind == "motorcycle" and touched.seat_height_mm is not None:
        figures["seat_height_mm"] = touched.seat_height_mm
    if touched.pedal_height_mm is not None:
        figures["pedal_height_mm"] = touched.pedal_height_mm
    return Target(name, figures | (wanted or {}))


@dataclass(frozen=True, slots=True)
class Way:
    """Remedies that together bring a machine nearer its target, as an ordinary proposal."""

    remedies: tuple[Remedy, ...]
    steps: tuple[RemedyStep, ...]
    outcome: Outcome
    left: dict[str, float]  # figure -> what is left of its distance from the target
    distance: float
    holds: bool
    stops: tuple[str, ...] = ()  # the proposal's own, still there

    @property
    def words(self) -> str:
        """The steps in words."""
        return ", ".join(step.words for step in self.steps)

    @property
    def cost(self) -> float:
        """Usual cost of the parts."""
        return sum(remedy.cost for remedy in self.remedies)

    @property
    def hours(self) -> float:
        """Usual hours of work."""
        return sum(remedy.hours for remedy in self.remedies)


@dataclass(frozen=True, slots=True)
class WaysBack:
    """What a search found: the best ways, the nearest first, and how far off it all starts."""

    target: Target
    ways: tuple[Way, ...]
    start: dict[str, float]
    distance: float
    holds: bool
    tried: int
    stops: tuple[str, ...] = ()  # the proposal's own

    @property
    def left_keys(self) -> tuple[str, ...]:
        """The figures that can be computed, in the order of the target."""
        return tuple(key for key in self.target.figures if key in self.start)

    @property
    def reached(self) -> bool:
        """Whether any way holds every figure inside the shop's limits."""
        return any(way.holds for way in self.ways)

    @property
    def by_cost(self) -> tuple[Way, ...]:
        """Ways that hold, the cheapest first."""
        return tuple(sorted((w for w in self.ways if w.holds), key=lambda w: (w.cost, w.distance)))

    @property
    def by_effort(self) -> tuple[Way, ...]:
        """Ways that hold, the quickest first."""
        return tuple(sorted((w for w in self.ways if w.holds), key=lambda w: (w.hours, w.distance)))


@dataclass(frozen=True, slots=True)
class Space:
    """Where a search looks: the chassis, the change it starts from, and steps as rows of moves.

    `tables` has one array a remedy, steps by moves; `rooms` the gaps that rows must keep:
    the wheel, how much it may grow, whether a longer fork gives way there.
    """

    chassis: Chassis
    base: PoseChange
    crank_mm: float | None
    saddle: tuple[float, float] | None
    tables: tuple[Rows, ...]
    target: Target
    noticeable: Mapping[str, float]
    bands: dict[str, Band]
    rooms: tuple[tuple[str, float, bool], ...] = ()


@dataclass(frozen=True, slots=True)
class Judged:
    """A block of rows worked: distance from the target, and whether every figure holds."""

    distance: Rows
    holds: npt.NDArray[np.bool_]


def work(space: Space, rows: Rows) -> Judged:
    """Return what every row of moves comes to; shape of `rows` is (n, moves)."""
    moved = _columns(space.base, rows)
    figures, pose = geometry(space.chassis, moved)
    count = len(rows)
    square = np.zeros(count)
    holds = np.ones(count, dtype=bool)
    for name, wanted in space.target.figures.items():
        value = _figure(space, rows, figures, pose.place, name)
        if value is None:
            continue
        off = value - wanted
        square += (off / space.noticeable[name]) ** 2
        band = space.bands[name]
        holds &= (off >= band.low) & (off <= band.high)
    room = _with_room(space, moved, count)
    return Judged(np.where(room, np.sqrt(square), np.inf), holds & room)


def _columns(base: PoseChange, rows: Rows) -> PoseChange:
    """Return the rows as a change; what no row moves stays a plain number."""
    moves: dict[str, Values] = {}
    for place, name in enumerate(_MOVES):
        column = rows[:, place]
        start = getattr(base, name)
        moves[name] = start + column if column.any() else start
    return PoseChange(**moves)


def _figure(space: Space, rows: Rows, figures: Geometry, place: Any, name: str) -> Any:
    if name == "seat_height_mm" and space.saddle is not None:
        x, y = (space.saddle[i] + rows[:, len(_MOVES) + i] for i in (0, 1))
        return place((x, y))[1]
    if name == "pedal_height_mm" and space.crank_mm is not None:
        if figures.bb_height_mm is None:
            return None
        crank = space.crank_mm + rows[:, len(_MOVES) + 2]
        return figures.bb_height_mm - crank - PEDAL_HALF_MM
    return getattr(figures, name, None)


def _with_room(space: Space, moved: PoseChange, count: int) -> npt.NDArray[np.bool_]:
    """Return which rows keep the least gap at every place that can be computed."""
    room = np.ones(count, dtype=bool)
    for end, slack, gives_way in space.rooms:
        grown: Any = getattr(moved, f"{end}_radius_mm") - getattr(space.base, f"{end}_radius_mm")
        down: Any = moved.fork_longer_mm - space.base.fork_longer_mm if gives_way else 0.0
        room &= np.asarray(grown - down <= slack)
    return room


def sums(tables: tuple[Rows, ...], *, block: int = BLOCK) -> Iterator[tuple[int, Rows]]:
    """Yield every combination of one row from each table, summed, in blocks with their start."""
    shape = tuple(len(table) for table in tables)
    total = int(np.prod(shape))
    for start in range(0, total, block):
        places = np.unravel_index(np.arange(start, min(start + block, total)), shape)
        rows = tables[0][places[0]]
        for table, place in zip(tables[1:], places[1:], strict=True):
            rows = rows + table[place]
        yield start, rows


def ways_back(
    found: PlanResult,
    proposal: Proposal,
    target: Target,
    *,
    without: frozenset[str] = frozenset(),
    best: int = 6,
) -> WaysBack:
    """Return the best ways from a proposal to a target, searched through and through.

    `without` names remedies not asked for here.  Worked in the state the sheet was measured in.
    """
    start = outcome_of(found, proposal)
    wanted = (r for r in remedies_of(found.bike, proposal) if r.id not in without)
    offered = tuple(r for r in (_harmless(found, start, r) for r in wanted) if r.steps)
    space = space_of(found, proposal, target, offered)
    left, distance, holds = _judged(space, start)
    picks, tried = _best_of_each(space, offered)
    keen = _worth_it(picks, distance)
    ways: list[Way] = []
    for _, chosen, places in keen:
        if len(ways) >= best * 3:
            break
        way = _made(found, start, space, [offered[i] for i in chosen], places)
        if way is not None:
            ways.append(way)
    ways.sort(key=lambda way: way.distance)
    shown = _best_kinds(ways, best)
    stops = tuple(finding.headline for finding in _stops(start))
    return WaysBack(target, shown, left, distance, holds, tried, stops)


def _stops(outcome: Outcome) -> list[Finding]:
    return [finding for finding in outcome.findings if finding.severity is Severity.STOP]


def _still_stopped(outcome: Outcome, start: Outcome) -> list[Finding]:
    """Return the stops that stay; a tire that says nothing of load or speed cures neither."""
    silent = {
        end
        for end in ENDS
        if (tire := outcome.figures.wheels.at(end).tire)
        and None in (tire.load_index, tire.speed_symbol)
    }
    untold = [
        finding
        for finding in _stops(start)
        if finding.rule in ("load-index-below-spec", "speed-symbol-below-spec")
        and finding.where in silent
    ]
    return [*untold, *(finding for finding in _stops(outcome) if finding not in untold)]


def _adds_a_stop(outcome: Outcome, start: Outcome) -> bool:
    """Whether an outcome meets a stop the proposal does not meet by itself, or meets it harder."""
    known = {(finding.rule, finding.where) for finding in _stops(start)}
    if any((finding.rule, finding.where) not in known for finding in _stops(outcome)):
        return True
    pairs = zip(outcome.figures.clearances, start.figures.clearances, strict=True)
    return any(
        now.ok is False and (then.ok is not False or _tighter(now, then)) for now, then in pairs
    )


def _tighter(now: PredictedClearance, then: PredictedClearance) -> bool:
    assert now.predicted_gap_mm is not None
    assert then.predicted_gap_mm is not None
    return now.predicted_gap_mm < then.predicted_gap_mm - 1e-9


def _harmless(found: PlanResult, start: Outcome, remedy: Remedy) -> Remedy:
    """Return the remedy without the steps that meet a stop by themselves."""
    steps = []
    for step in remedy.steps:
        try:
            outcome = outcome_of(found, step.on(start.proposal))
        except Refusal:
            continue
        if not _adds_a_stop(outcome, start):
            steps.append(step)
    return replace(remedy, steps=tuple(steps))


def _best_kinds(ways: list[Way], best: int) -> tuple[Way, ...]:
    """Return the nearest, the cheapest and the quickest ways, the nearest first."""
    holding = [way for way in ways if way.holds]
    lists = (
        ways,
        sorted(holding, key=lambda way: (way.cost, way.distance)),
        sorted(holding, key=lambda way: (way.hours, way.distance)),
    )
    chosen: dict[int, Way] = {}
    for row in range(len(ways)):
        for ranked in lists:
            if row < len(ranked) and len(chosen) < best:
                chosen.setdefault(id(ranked[row]), ranked[row])
    return tuple(sorted(chosen.values(), key=lambda way: way.distance))


def space_of(
    found: PlanResult, proposal: Proposal, target: Target, offered: tuple[Remedy, ...]
) -> Space:
    """Return where to look: each remedy's steps as the moves they make from the proposal."""
    bike = found.bike
    base = change_of(bike, proposal.wheels(bike), proposal)
    tables = []
    for remedy in offered:
        rows = [_moves(bike, proposal, base, step) for step in remedy.steps]
        tables.append(np.array(rows, dtype=float))
    points = {point.name: (point.x_mm, point.height_mm) for point in bike.frame.points}
    rise = proposal.contact.saddle_rise_mm
    saddle = bike.place_of(PointRole.SADDLE, points)
    return Space(
        chassis=found.chassis,
        base=base,
        crank_mm=proposal.contact.crank_mm or bike.cranks.length_mm,
        saddle=None if saddle is None else _raised(bike, saddle, rise),
        tables=tuple(tables),
        target=target,
        bands=target.bands(found.policy.limits),
        noticeable=found.policy.noticeable,
        rooms=_rooms(outcome_of(found, proposal)),
    )


def _raised(bike: Bike, saddle: tuple[float, float], rise: float) -> tuple[float, float]:
    angle = np.radians(bike.frame.seat_angle_deg or 90.0)
    return saddle[0] - rise * float(np.cos(angle)), saddle[1] + rise * float(np.sin(angle))


def _moves(bike: Bike, proposal: Proposal, base: PoseChange, step: RemedyStep) -> list[float]:
    there = step.on(proposal)
    change = change_of(bike, there.wheels(bike), there)
    moves = [float(getattr(change, name)) - float(getattr(base, name)) for name in _MOVES]
    rise = there.contact.saddle_rise_mm - proposal.contact.saddle_rise_mm
    x, y = _raised(bike, (0.0, 0.0), rise)
    crank = (there.contact.crank_mm or 0.0) - (
        proposal.contact.crank_mm or bike.cranks.length_mm or 0.0
    )
    return [*moves, x, y, crank if there.contact.crank_mm else 0.0]


def _rooms(outcome: Outcome) -> tuple[tuple[str, float, bool], ...]:
    """Return by how much each wheel may still grow at the places that can be computed."""
    rooms = []
    for spot in outcome.figures.clearances:
        place, gap = spot.place, spot.predicted_gap_mm
        rides = place.moves_with == "wheel"  # keeps its distance to the axle
        on_fork = place.wheel == "front" and place.on == "fork" and not rides
        known = gap is not None and place.minimum_mm and place.direction == "radial"
        if known and (on_fork or rides):
            # A gap that is short already may stay as short: that stop is the proposal's own.
            slack = max((gap or 0.0) - (place.minimum_mm or 0.0), 0.0)
            rooms.append((place.wheel, slack, on_fork))
    return tuple(rooms)


def _judged(space: Space, outcome: Outcome) -> tuple[dict[str, float], float, bool]:
    """Return what an exact outcome leaves of each figure, how far it is, whether it holds."""
    left = {}
    for name, wanted in space.target.figures.items():
        value = figure_of(name, outcome.figures.geometry, outcome.figures.contact)
        if value is not None:
            left[name] = value - wanted
    distance = sum((off / space.noticeable[name]) ** 2 for name, off in left.items()) ** 0.5
    return left, distance, all(space.bands[name].holds(off) for name, off in left.items())


_Pick = tuple[float, tuple[int, ...], tuple[int, ...]]


def _best_of_each(space: Space, offered: tuple[Remedy, ...]) -> tuple[list[_Pick], int]:
    """Return the best steps of every set of remedies, and how many combinations were worked.

    Rows that hold come before nearer rows that do not; rows without room do not come at all.
    """
    picks, tried = [], 0
    for count in range(1, MOST_TOGETHER + 1):
        for chosen in combinations(range(len(offered)), count):
            if len({offered[i].group for i in chosen}) < count:
                continue
            tables = tuple(space.tables[i] for i in chosen)
            best = nearest(space, tables)
            tried += int(np.prod([len(table) for table in tables]))
            if best is not None:
                shape = tuple(len(table) for table in tables)
                places = tuple(int(i) for i in np.unravel_index(best[1], shape))
                picks.append((best[0], chosen, places))
    return picks, tried


def nearest(space: Space, tables: tuple[Rows, ...]) -> tuple[float, int] | None:
    """Return the distance and place of the best combination of these tables' rows."""
    best: tuple[bool, float, int] | None = None
    for start, rows in sums(tables):
        try:
            judged = work(space, rows)
        except Refusal:
            continue  # a block in which a machine cannot stand offers nothing
        distance = np.where(judged.holds, judged.distance, judged.distance + _BEHIND)
        place = int(distance.argmin())
        here = (not judged.holds[place], float(judged.distance[place]), start + place)
        if np.isfinite(here[1]):
            best = here if best is None else min(best, here)
    return None if best is None else (best[1], best[2])


_BEHIND = 1e6


def _worth_it(picks: list[_Pick], distance: float) -> list[_Pick]:
    """Return the picks that gain on the start and on every smaller set they contain."""
    by_set = {frozenset(chosen): near for near, chosen, _ in picks}
    kept = []
    for near, chosen, places in sorted(picks):
        smaller = [
            by_set[frozenset(part)]
            for size in range(1, len(chosen))
            for part in combinations(chosen, size)
            if frozenset(part) in by_set
        ]
        if near <= min([distance, *smaller]) - ADDS_NOTHING:
            kept.append((near, chosen, places))
    return kept


def _made(
    found: PlanResult, start: Outcome, space: Space, remedies: list[Remedy], places: tuple[int, ...]
) -> Way | None:
    """Return the way as an ordinary proposal; None where it adds a stop or cannot stand."""
    steps = tuple(remedy.steps[i] for remedy, i in zip(remedies, places, strict=True))
    there = start.proposal
    for step in steps:
        there = step.on(there)
    try:
        outcome = outcome_of(found, replace(there, name="way back"))
    except Refusal:
        return None
    if _adds_a_stop(outcome, start):
        return None
    left, distance, holds = _judged(space, outcome)
    stops = tuple(finding.headline for finding in _still_stopped(outcome, start))
    return Way(tuple(remedies), steps, outcome, left, distance, holds, stops)
