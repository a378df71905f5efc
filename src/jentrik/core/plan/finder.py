"""What can be put on a machine: every pair of sizes, positions and fork steps, by all the rules.

What one end alone decides is judged once for each size, by the rules themselves.  What both wheels
decide together, the stops of trail, cranks, full travel and stand, is worked on arrays, block by
block, with the formulas that work one machine.  The first stop in the order of the page tells why a
pair is out, so the counts are those of the rules applied one by one.  A pair that the maker's sheet
names has its own limits and is judged whole.  What is shown is judged anew as an ordinary proposal.
Source: derived; the weights of the ranking are common practice.
"""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import astuple, dataclass, field, replace
from typing import Any

import numpy as np
import numpy.typing as npt

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.figures.contact import PEDAL_HALF_MM
from jentrik.core.figures.strikes import crown_between
from jentrik.core.geometry.figures import steering_of
from jentrik.core.geometry.pose import Pose, PoseChange, settle
from jentrik.core.geometry.side_stand import lean_on_stand
from jentrik.core.geometry.tipping import OnStand, tips_away_deg
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import UNCHANGED, ApprovedPair, WheelChange, same_size
from jentrik.core.plan.one_end import ASIDE, CANNOT_STAND, CLEAR, PLACE, STOPS, Size, size_at
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, at_full_travel, outcome_of
from jentrik.core.plan.ranking import Grid, Weights, apart_of, by_cost, by_load, column
from jentrik.core.rules.case import Severity
from jentrik.core.rules.parking import LEAST_CHANGE_DEG
from jentrik.core.tire.reading import Reading
from jentrik.core.work.policy import DEFAULT_POLICY, Policy

Places = npt.NDArray[np.int64]

BLOCK, MOST_SHOWN, MOST_PAIRS, MOST_DRAWN = 1 << 16, 500, 20_000_000, 500_000


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is looked for: sizes for each end (None stays as found), positions, fork steps.

    `prices` are those of sizes that are known, by code; a size without one counts as the dearest.
    `one_rim` leaves out pairs on two rim sizes, `without` the pair of marks that is on already.
    """

    front: tuple[Reading, ...] | None
    rear: tuple[Reading, ...] | None
    positions: tuple[str | None, ...] = (None,)
    fork_steps_mm: tuple[float, ...] = (0.0,)
    limit: int = 50
    weights: Weights = field(default_factory=Weights)
    prices: Mapping[str, float] = field(default_factory=dict)
    one_rim: bool = False
    without: tuple[str | None, str | None] | None = None

    @property
    def sizes(self) -> tuple[Reading, ...]:
        """The sizes of both ends."""
        return *(self.front or ()), *(self.rear or ())

    @property
    def count(self) -> int:
        """How many combinations that is."""
        sizes = (len(self.front or (0,))) * (len(self.rear or (0,)))
        return sizes * len(self.positions) * len(self.fork_steps_mm)


@dataclass(frozen=True, slots=True)
class FoundPair:
    """One combination that no stop speaks against, judged as an ordinary proposal."""

    outcome: Outcome
    position: str | None
    fork_longer_mm: float
    score: float
    least_gap_mm: float | None
    sizes_like_it: int

    @classmethod
    def of(
        cls, bike: Bike, outcome: Outcome, *, score: float = 0.0, sizes_like_it: int = 0
    ) -> "FoundPair":
        """Return a combination as judged, with its place in the ranking where it has one."""
        length = outcome.proposal.fork_length(bike)
        return cls(
            outcome,
            outcome.proposal.position,
            length - bike.fork.length_mm,
            score,
            outcome.figures.least_gap_mm,
            sizes_like_it,
        )

    @property
    def worst(self) -> str:
        """The heaviest finding: none, note or caution."""
        found = {finding.severity for finding in self.outcome.findings}
        heaviest = (Severity.STOP, Severity.CAUTION, Severity.NOTE)
        return next((one.value for one in heaviest if one in found), "none")


@dataclass(frozen=True, slots=True)
class Found:
    """The answer: how many were tried, how many remain after each rule, the best pairs.

    `one_mm_more` is how many combinations one millimetre more room would let back in.
    """

    found: PlanResult
    tried: int
    left: tuple[tuple[str, int], ...]
    pairs: tuple[FoundPair, ...]
    one_mm_more: int
    grid: "Map | None" = None


@dataclass(frozen=True, slots=True)
class Map:
    """Front and rear sizes with what each pair comes to, as found position and fork: a picture.

    Arrays are front by rear: head-angle change, trail change, bottom-bracket change, first stop.
    """

    fronts: tuple[Reading, ...]
    rears: tuple[Reading, ...]
    head_angle_delta_deg: Grid
    trail_delta_mm: Grid
    bb_delta_mm: Grid | None
    first_stop: Places


@dataclass(frozen=True, slots=True)
class _Context:
    """One position and fork step, with the sizes of each end judged in it."""

    place: int
    proposal: Proposal
    change: PoseChange
    pose: Pose
    fronts: list[Size]
    rears: list[Size]


_Place = tuple[int, int, int]  # of a pair: its context, front size, rear size


@dataclass(slots=True)
class Search:
    """A search prepared: every size judged alone; ranked anew as often as a weight moves."""

    bike: Bike
    found: PlanResult
    plain: PlanResult  # the same without the pairs of the maker's sheet
    wanted: Wanted
    policy: Policy
    contexts: list[_Context] = field(default_factory=list)
    shown: dict[_Place, Outcome] = field(default_factory=dict)
    counts: Places = field(default_factory=lambda: np.zeros(ASIDE + 1, dtype=np.int64))
    one_mm_more: int = 0
    best: list[tuple[float, *_Place]] = field(default_factory=list)
    grid: Map | None = None
    blocks: dict[int, list["_Block"]] = field(default_factory=dict)  # of a small search, by context
    whole: set[int] = field(default_factory=set)  # contexts whose blocks are all kept

    def ranked(self, weights: Weights, limit: int) -> Found:
        """Return the best pairs by these weights, with the counts of the rules."""
        self.wanted = replace(self.wanted, weights=weights, limit=limit)
        self.counts[:], self.one_mm_more, self.best = 0, 0, []
        for context in self.contexts:
            _work(self, context)
        tried = self.wanted.count - int(self.counts[ASIDE])
        left = tried - np.cumsum(self.counts[:CLEAR])
        pairs = [_shown(self, one) for one in self.best]
        counted = tuple(zip(STOPS, (int(one) for one in left), strict=True))
        return Found(
            self.found,
            tried,
            counted,
            tuple(pair for pair in pairs if pair is not None),
            self.one_mm_more,
            self.grid,
        )

    def judge_by(self, policy: Policy) -> None:
        """Judge what is shown by a policy that differs in accepted changes alone: no stop does."""
        if policy != self.policy:
            self.policy = policy
            self.found, self.plain = _as_found(self.bike, policy)
            self.shown.clear()


def find(bike: Bike, wanted: Wanted, *, policy: Policy = DEFAULT_POLICY) -> Found:
    """Return what can be put on a machine, the best first.

    Refuses a search of more combinations than can be worked, and sizes of unknown diameter.
    """
    return prepared(bike, wanted, policy=policy).ranked(wanted.weights, wanted.limit)


def prepared(bike: Bike, wanted: Wanted, *, policy: Policy = DEFAULT_POLICY) -> Search:
    """Return a search with every size judged alone; refuses as `find` does."""
    if not 0 < wanted.count <= MOST_PAIRS:
        raise OutOfRange(
            f"That is {wanted.count} combinations; at most {MOST_PAIRS} are tried at once.",
            field="search.sizes",
            expected="fewer sizes, positions or fork steps",
        )
    search = Search(bike, *_as_found(bike, policy), wanted, policy)
    search.contexts = list(_contexts(search))
    return search


def _as_found(bike: Bike, policy: Policy) -> tuple[PlanResult, PlanResult]:
    """Return a machine as measured, and the same without the pairs that its maker's sheet names."""
    found = as_measured(bike, policy=policy)
    if not bike.maker.pairs:
        return found, found
    plain = replace(bike, maker=replace(bike.maker, pairs=()))
    return found, as_measured(plain, policy=policy)


def proposal_in(
    bike: Bike, front: Reading | None, rear: Reading | None, position: str | None, longer: float
) -> Proposal:
    """Return a combination as an ordinary proposal; None leaves an end as found."""
    sizes = [one.text if one else "as found" for one in (front, rear)]
    return Proposal(
        " / ".join(sizes)[:80],
        front=UNCHANGED if front is None else WheelChange(tire=front),
        rear=UNCHANGED if rear is None else WheelChange(tire=rear),
        position=position,
        fork_length_mm=None if not longer else bike.fork.length_mm + longer,
    )


def _contexts(search: Search) -> Iterator[_Context]:
    wanted, place = search.wanted, 0
    for position in wanted.positions:
        for longer in wanted.fork_steps_mm:
            proposal = proposal_in(search.bike, None, None, position, longer)
            there = outcome_of(search.plain, proposal)
            yield _Context(
                place,
                proposal,
                there.change,
                there.pose,
                _sizes(search, proposal, "front"),
                _sizes(search, proposal, "rear"),
            )
            place += 1


def _sizes(search: Search, proposal: Proposal, end: End) -> list[Size]:
    asked = search.wanted.front if end == "front" else search.wanted.rear
    if asked is None:
        return [size_at(search.plain, proposal, end)]
    likes = Counter(one.bead_seat_diameter_mm for one in asked)
    costs = by_cost(search.wanted.prices)
    loads = by_load(search.bike.wheels.at(end).axle_load_kg, search.wanted.sizes)
    sizes = []
    for one in asked:
        change = WheelChange(tire=one)
        proposed = (
            replace(proposal, front=change) if end == "front" else replace(proposal, rear=change)
        )
        size = size_at(search.plain, proposed, end)
        likes_it = likes[one.bead_seat_diameter_mm]
        sizes.append(replace(size, likes=likes_it, cost=costs(one), load=loads(one)))
    return sizes


def _work(search: Search, context: _Context) -> None:
    """Judge every pair of one context, some rows of front sizes at a time."""
    small = search.wanted.count <= MOST_DRAWN
    for block in search.blocks.get(context.place) or _blocks(search, context):
        search.counts += block.counts
        search.one_mm_more += block.one_mm_more
        _keep_best(search, context, block)
        if small and context.place not in search.whole:
            search.blocks.setdefault(context.place, []).append(block)
    if small and context.place not in search.whole:
        search.whole.add(context.place)
        if context.place == 0:
            search.grid = _map_of(search, search.blocks[0])


def _blocks(search: Search, context: _Context) -> Iterator["_Block"]:
    rows = max(1, BLOCK // len(context.rears))
    named = _named_pairs(search, context)
    for start in range(0, len(context.fronts), rows):
        stop = min(start + rows, len(context.fronts))
        yield _block(
            search,
            context,
            slice(start, stop),
            {(i - start, j): first for (i, j), first in named.items() if start <= i < stop},
        )


@dataclass(frozen=True, slots=True)
class _Block:
    """Some pairs worked: the first stop, the ranking, and the changes of the geometry."""

    start: int  # of its first row among the front sizes
    first: Places
    counts: Places
    apart: tuple[Any, ...]  # how far off by each thing that is weighed, in the order of `Weights`
    head_deg: Grid
    trail_mm: Grid
    bb_mm: Grid | None
    one_mm_more: int


def _block(
    search: Search, context: _Context, rows: slice, named: Mapping[tuple[int, int], int]
) -> _Block:
    """Work some pairs; `named` are those the maker's sheet names, with their own first stop."""
    fronts, rears = context.fronts[rows], context.rears
    radius = (column(fronts, "radius_mm")[:, None], column(rears, "radius_mm")[None, :])
    ahead, up = (context.pose.front_axle[i] - context.pose.rear_axle[i] for i in (0, 1))
    overlaps = (radius[0] + radius[1]) ** 2 >= ahead**2 + up**2
    own = np.minimum(
        np.array([front.first for front in fronts])[:, None],
        np.array([rear.first for rear in rears])[None, :],
    )
    change = replace(
        context.change,
        front_radius_mm=np.where(overlaps, context.change.front_radius_mm, radius[0]),
        rear_radius_mm=np.where(overlaps, context.change.rear_radius_mm, radius[1]),
    )
    chassis = search.found.chassis
    pose = settle(chassis.axles, change)
    head, trail = steering_of(chassis, change, pose)
    bracket = None if chassis.bottom_bracket is None else pose.place(chassis.bottom_bracket)[1]
    together = np.full(own.shape, CLEAR, dtype=np.int64)
    for name, fires in _together(search, context, change, (trail, bracket), pose, rows):
        together = np.where(fires, np.minimum(together, PLACE[name]), together)
    together = np.where(overlaps, PLACE[CANNOT_STAND], together)
    first = np.minimum(own, together)
    then = search.found.figures.geometry
    moved = [
        None if new is None or old is None else np.broadcast_to(new - old, own.shape)
        for new, old in (
            (head, then.head_angle_deg),
            (trail, then.trail_mm),
            (bracket, then.bb_height_mm),
        )
    ]
    back = _back_with_a_millimetre(fronts, rears, together, first)
    for pair, stop in named.items():
        first[pair] = stop
    first = np.where(_aside(search, rows), ASIDE, first)
    counts = np.bincount(first.ravel(), minlength=ASIDE + 1)
    apart = apart_of(search.found, search.policy, fronts, rears, radius, moved)
    assert moved[0] is not None
    assert moved[1] is not None
    return _Block(rows.start, first, counts, apart, moved[0], moved[1], moved[2], back)


def _aside(search: Search, rows: slice) -> Any:
    """Return the pairs that are not looked for: on two rims, or on the machine already."""
    fronts, rears = _tried(search, "front")[rows], _tried(search, "rear")
    aside = np.zeros((len(fronts), len(rears)), dtype=bool)
    if search.wanted.one_rim:
        front, rear = (np.array([_seat(size) for size in those]) for those in (fronts, rears))
        aside |= front[:, None] != rear[None, :]
    if search.wanted.without is not None:
        there = [
            np.array([size is not None and size.text == mark for size in those])
            for those, mark in zip((fronts, rears), search.wanted.without, strict=True)
        ]
        aside |= there[0][:, None] & there[1][None, :]
    return aside


def _tried(search: Search, end: End) -> tuple[Reading | None, ...]:
    asked = search.wanted.front if end == "front" else search.wanted.rear
    return (search.bike.wheels.at(end).tire,) if asked is None else asked


def _seat(tire: Reading | None) -> int:
    return 0 if tire is None else tire.bead_seat_diameter_mm


def _back_with_a_millimetre(
    fronts: Sequence[Size], rears: Sequence[Size], together: Places, first: Places
) -> int:
    """Return how many pairs are out for room alone, and for no more than a millimetre of it."""
    short = np.maximum(column(fronts, "short_mm")[:, None], column(rears, "short_mm")[None, :])
    return int(((short <= 1.0) & (together == CLEAR) & (first < CLEAR)).sum())


def _together(
    search: Search,
    context: _Context,
    change: PoseChange,
    figures: tuple[Any, Any],
    pose: Pose,
    rows: slice,
) -> Iterator[tuple[str, Any]]:
    """Give each stop that both wheels decide, with the pairs it speaks against.

    `figures` are trail and bottom-bracket height, mm.
    """
    bike, (trail, bracket) = search.bike, figures
    yield "negative-trail", trail < 0
    crank = bike.cranks.length_mm
    if bike.kind == "bicycle" and bracket is not None and crank is not None:
        yield "cranks-into-ground", bracket - crank - PEDAL_HALF_MM <= 0
    before = search.found.figures.full
    down = at_full_travel(search.found, context.proposal, change, context.pose)
    travels = bike.suspension.front.travel_mm or bike.suspension.rear.travel_mm
    if before is not None and travels and down is not None and bike.frame.points:
        low, overlap = _settled_low(search, context, down)
        strikes = np.zeros(np.shape(trail), dtype=bool)
        for point in bike.frame.points:
            height = low.place((point.x_mm, point.height_mm))[1]
            strikes |= (height <= 0) & (height <= before.heights.get(point.name, np.inf))
        yield "strikes-at-full-travel", strikes & ~overlap
        yield CANNOT_STAND, overlap
    if bike.kind == "motorcycle" and bike.side_stand is not None:
        yield "side-stand-upright", _tips(search, context, pose, rows)


def _settled_low(search: Search, context: _Context, down: PoseChange) -> tuple[Pose, Any]:
    """Return the pose at full travel, and the pairs whose wheels meet there."""
    once = replace(down, front_radius_mm=1.0, rear_radius_mm=1.0)
    axles = settle(search.found.chassis.axles, once)
    ahead, up = (axles.front_axle[i] - axles.rear_axle[i] for i in (0, 1))
    overlap = (down.front_radius_mm + down.rear_radius_mm) ** 2 >= ahead**2 + up**2
    apart = replace(
        down,
        front_radius_mm=np.where(overlap, 1.0, down.front_radius_mm),
        rear_radius_mm=np.where(overlap, 1.0, down.rear_radius_mm),
    )
    return settle(search.found.chassis.axles, apart), overlap


def _tips(search: Search, context: _Context, pose: Pose, rows: slice) -> Any:
    """Return the pairs on which a machine tips from its side stand on the shop's slope."""
    stand, center = search.bike.side_stand, search.bike.mass
    assert stand is not None
    lean = lean_on_stand(
        lean_deg=stand.lean_deg, foot_out_mm=stand.foot_out_mm, foot_x_mm=stand.foot_x_mm, pose=pose
    )
    tips: Any = lean
    if center.center_x_mm is not None and center.center_height_mm is not None:
        up = stand.foot_out_mm * np.sin(np.radians(stand.lean_deg))
        foot_x, _ = pose.place((stand.foot_x_mm, up))
        crown = crown_between(
            column(context.fronts[rows], "width_mm")[:, None],
            column(context.rears, "width_mm")[None, :],
            x_mm=foot_x,
            wheelbase_mm=pose.wheelbase_mm,
        )
        x, height = pose.place((center.center_x_mm, center.center_height_mm))
        thin = np.nan_to_num(crown)  # without widths a thin tire
        tips = tips_away_deg(OnStand(lean, thin, x, height, pose.wheelbase_mm, foot_x, 0.0))
    changed = np.abs(lean - stand.lean_deg) > LEAST_CHANGE_DEG
    return changed & (tips < search.policy.lean.park_slope_deg)


def _named_pairs(search: Search, context: _Context) -> Mapping[tuple[int, int], int]:
    """Return the first stop of each pair that the maker's sheet names, judged whole."""
    named: dict[tuple[int, int], int] = {}
    for pair in search.bike.maker.pairs:
        places = [_places_of(search, pair, end) for end in ENDS]
        for front in places[0]:
            for rear in places[1]:
                named[front, rear] = _first_stop(search, context, front, rear)
    return named


def _places_of(search: Search, pair: ApprovedPair, end: End) -> list[int]:
    """Return where among the sizes of an end a pair's own size stands."""
    asked = search.wanted.front if end == "front" else search.wanted.rear
    sizes = (search.bike.wheels.at(end).tire,) if asked is None else asked
    return [place for place, one in enumerate(sizes) if same_size(pair.at(end).tire, one)]


def _at(sizes: tuple[Reading, ...] | None, place: int) -> Reading | None:
    return None if sizes is None else sizes[place]


def _proposal_of(search: Search, context: _Context, front: int, rear: int) -> Proposal:
    wanted = search.wanted
    named = proposal_in(search.bike, _at(wanted.front, front), _at(wanted.rear, rear), None, 0.0)
    return replace(context.proposal, name=named.name, front=named.front, rear=named.rear)


def _first_stop(search: Search, context: _Context, front: int, rear: int) -> int:
    try:
        outcome = outcome_of(search.found, _proposal_of(search, context, front, rear))
    except Refusal:
        return PLACE[CANNOT_STAND]
    stops = [
        PLACE[finding.rule] for finding in outcome.findings if finding.severity is Severity.STOP
    ]
    return min(stops, default=CLEAR)


def _keep_best(search: Search, context: _Context, block: _Block) -> None:
    """Keep the best pairs so far, as many as are shown."""
    most, weights = search.wanted.limit, search.wanted.weights
    score: Any = sum(
        weight * one for weight, one in zip(astuple(weights), block.apart, strict=True)
    )
    scores = np.where(block.first == CLEAR, score, np.inf).ravel()
    count = min(most, int(np.isfinite(scores).sum()))
    if not count:
        return
    nearest = np.argpartition(scores, count - 1)[:count]
    width = block.first.shape[1]
    search.best += [
        (float(scores[one]), context.place, block.start + int(one) // width, int(one) % width)
        for one in nearest
    ]
    search.best.sort()
    del search.best[most:]


def _shown(search: Search, one: tuple[float, int, int, int]) -> FoundPair | None:
    """Return a pair judged as an ordinary proposal; None where a stop speaks against it."""
    score, place, front, rear = one
    context = search.contexts[place]
    outcome = search.shown.get((place, front, rear))
    if outcome is None:
        outcome = outcome_of(search.found, _proposal_of(search, context, front, rear))
        search.shown[place, front, rear] = outcome
    if any(finding.severity is Severity.STOP for finding in outcome.findings):
        return None
    likes = min(context.fronts[front].likes, context.rears[rear].likes)
    return FoundPair.of(search.bike, outcome, score=score, sizes_like_it=likes)


def _map_of(search: Search, blocks: Sequence[_Block]) -> Map:
    wheels, wanted = search.bike.wheels, search.wanted
    fronts, rears = (
        asked if asked is not None else tuple(one for one in (wheels.at(end).tire,) if one)
        for end, asked in zip(ENDS, (wanted.front, wanted.rear), strict=True)
    )
    bb = [block.bb_mm for block in blocks if block.bb_mm is not None]
    return Map(
        fronts,
        rears,
        np.concatenate([block.head_deg for block in blocks]),
        np.concatenate([block.trail_mm for block in blocks]),
        np.concatenate(bb) if len(bb) == len(blocks) else None,
        np.concatenate([block.first for block in blocks]),
    )
