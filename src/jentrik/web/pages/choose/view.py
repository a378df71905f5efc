"""What can go on a machine, as a page shows it: the map, the best pairs, what rules take away."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any
from urllib.parse import urlencode

import numpy as np
from markupsafe import Markup, escape

from jentrik.core.amounts import kmh, mm
from jentrik.core.errors import Refusal
from jentrik.core.figures.speed import shown_before_and_after, usual_kmh
from jentrik.core.geometry.figures import geometry
from jentrik.core.geometry.pose import PoseChange
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.finder import Found, FoundPair, Map, Wanted
from jentrik.core.plan.groups import WIDEST_TRIED, Group, closed_rims, groups_of, title_of
from jentrik.core.plan.one_end import ASIDE, CLEAR, STOPS
from jentrik.core.plan.pair_chart import pair_rows
from jentrik.core.plan.ranking import Weights, load_counts
from jentrik.core.rules.joined import headlines
from jentrik.core.tire.reading import Reading
from jentrik.core.units import read_figure
from jentrik.core.work.policy import Policy
from jentrik.core.work.policy_fields import POLICY_FIELD, checked_policy
from jentrik.web.drawing.size_map import (
    CHOSEN_HERE,
    Frame,
    MapBand,
    MapLine,
    MapMark,
    MapPoint,
    chosen_ring,
    size_map,
)
from jentrik.web.drawing.width_chart import width_chart
from jentrik.web.figures import change, fixed

SHOWN, MOST_POINTS, AROUND_MM = 12, 1000, 25.0
CHOICES: dict[str, tuple[tuple[str, str], ...]] = {
    "ends": (("both", "both ends"), ("front", "front alone"), ("rear", "rear alone")),
    "sizes": (("standard", "standard sizes"), ("shelf", "tires on the shelf"), ("typed", "typed")),
    "rims": (("free", "any rim"), ("kept", "rims stay")),
    "seats": (("one", "one rim size"), ("mixed", "two rim sizes too")),
    "widths": (("near", "widths near those on it"), ("any", "any width")),
    "fork": (("kept", "fork stays"), ("free", "fork steps too")),
    "feel": (
        ("same", "the same feel first"),
        ("wide", "wider and softer first"),
        ("light", "lighter and faster first"),
        ("load", "more load first"),
    ),
    "positions": (("free", "positions free"), ("kept", "position stays")),
}
_MAPPED = ("head_angle_deg", "trail_mm", "bb_height_mm")  # what the map has lines of
FEELS = {  # weights of width and load beside which the others hardly count (common practice)
    "wide": (50.0, 0.0),
    "light": (-50.0, 0.0),
    "load": (0.0, 50.0),
}
WEIGHTS = (
    ("geometry", "Geometry as found"),
    ("speed", "Speed reading and ratio"),
    ("room", "Clearance"),
    ("choice", "Choice of tires"),
    ("load", "Load margin"),
    ("cost", "Price"),
)
LIMITS = tuple(f"limits.{key}.{side}" for key in _MAPPED for side in ("low", "high"))
FORK_STEPS_MM = (0.0, -20.0, -10.0, 10.0, 20.0)


@dataclass(frozen=True, slots=True)
class Asked:
    """What the page was asked: one word for each choice, codes as typed, weights, a chosen pair."""

    picks: Mapping[str, str]
    codes: str
    weights: Mapping[str, float]
    pair: str = ""
    limits: Mapping[str, float] = field(default_factory=dict)  # moved on the map, by their keys

    @classmethod
    def of(cls, query: Mapping[str, str]) -> "Asked":
        """Return what an address asks; what it does not name, or names wrongly, is usual."""
        picks = {
            name: query.get(name, "") if query.get(name, "") in dict(choices) else choices[0][0]
            for name, choices in CHOICES.items()
        }
        weights = {name: _weight(query.get(name, "")) for name, _ in WEIGHTS}
        limits = {
            key: one for key in LIMITS if (one := _limit(key, query.get(key, ""))) is not None
        }
        codes, pair = query.get("codes", "")[:4000], query.get("pair", "")[:200]
        return cls(picks, codes, weights, pair, limits)

    def policy(self, shop: Policy) -> Policy:
        """Return what is judged by: the shop's limits, with those that were moved on the map."""
        return shop.having(self.limits) if self.limits else shop

    @property
    def said(self) -> dict[str, str]:
        """What an address must say of it: all that is not as usual, but for a pair."""
        usual = {name: choices[0][0] for name, choices in CHOICES.items()}
        return {
            **{name: word for name, word in self.picks.items() if word != usual[name]},
            **({"codes": self.codes} if self.codes else {}),
            **{name: f"{one:g}" for name, one in self.weights.items() if one != 1.0},
            **{name: f"{one:g}" for name, one in self.limits.items()},
        }

    def at(self, path: str, **changed: str) -> str:
        """Return the address with some of it changed."""
        asked = {**self.said, **changed}
        return f"{path}?{urlencode(asked)}" if asked else path


def _weight(text: str) -> float:
    try:
        weight = float(text)
    except ValueError:
        return 1.0
    return weight if 0 <= weight <= 5 else 1.0


def _limit(key: str, text: str) -> float | None:
    """Return a limit as an address says it; None where it says none that can be."""
    try:
        value = read_figure(text, unit=POLICY_FIELD[key].unit)
        return float(checked_policy(key, value))
    except Refusal:
        return None


@dataclass(frozen=True, slots=True)
class LimitRow:
    """An accepted change beside the map: its words, its key, what it is, the shop's own."""

    label: str
    key: str
    value: str
    shop: str

    @property
    def moved(self) -> bool:
        """Whether it is another than the shop's."""
        return self.value != self.shop


@dataclass(frozen=True, slots=True)
class PairRow:
    """One pair in the list."""

    key: str
    name: str
    says: str
    worst: str
    href: str
    chosen: bool
    findings: list[tuple[str, str]]


@dataclass(frozen=True, slots=True)
class ChooseView:
    """Everything the page shows."""

    sheet: Sheet
    asked: Asked
    choices: Mapping[str, Sequence[tuple[str, str]]]
    weights: Sequence[tuple[str, str]]
    charts: list[tuple[str, Markup]]
    groups: list[tuple[int, str, str]]
    closed: list[tuple[str, str]]
    map: Markup | None
    pairs: list[PairRow]
    chosen: PairRow | None
    tried: str
    left: list[tuple[str, str, str]]
    one_mm_more: str
    jobs: list[tuple[int, int]]
    limits: list[LimitRow]
    complaint: str = ""

    @property
    def ranked_anew(self) -> bool:
        """Whether a weight or a limit is another than usual."""
        return self.limits_moved or any(one != 1.0 for one in self.asked.weights.values())

    @property
    def limits_moved(self) -> bool:
        """Whether a limit beside the map is another than the shop's."""
        return any(limit.moved for limit in self.limits)


def choose_view(
    sheet: Sheet,
    asked: Asked,
    path: str,
    policy: Policy,
    found: Found | None,
    marks: Sequence[MapMark],
    jobs: list[tuple[int, int]],
    complaint: str = "",
    *,
    shop: Policy,
    weights: Sequence[tuple[str, str]] = WEIGHTS,
    drawn: dict[Any, str],
    picked: FoundPair | None = None,
    on_shelf: Sequence[Reading] = (),
) -> ChooseView:
    """Return what can go on a machine; without an answer the complaint alone.

    `drawn` keeps maps that were made of this search: no weight changes one.  `picked` is a pair
    of the map that is not among the best; `on_shelf` are the tires the shop has, each as often.
    """
    pairs = [] if found is None else [_row(pair, found, asked, path) for pair in found.pairs]
    groups = () if found is None else groups_of(found)
    chosen = next((pair for pair in pairs if pair.chosen), pairs[0] if pairs else None)
    if picked is not None and found is not None and chosen and not chosen.chosen:
        chosen = _row(picked, found, asked, path)
    return ChooseView(
        sheet,
        asked,
        CHOICES,
        weights,
        _charts(found, chosen) if found else [],
        [_group_row(one, on_shelf) for one in groups],
        [] if found is None else _closed(found, groups),
        _map(found, policy, marks, asked, chosen, drawn) if found and found.grid else None,
        pairs,
        chosen,
        "" if found is None else f"{found.tried:,}".replace(",", "\u2009"),
        [] if found is None else _left(found),
        "" if found is None or not found.one_mm_more else str(found.one_mm_more),
        jobs,
        _limit_rows(policy, shop, found),
        complaint,
    )


def _charts(found: Found, chosen: PairRow | None) -> list[tuple[str, Markup]]:
    """Return the width charts: what goes at each end beside what is chosen at the other."""
    at = _place_of(found.grid, chosen.key) if found.grid and chosen else None
    rows = pair_rows(found, at)
    charts: list[tuple[str, Markup]] = []
    for end in ENDS:
        here = [one for one in rows if one.row.end == end]
        presses = {
            (one.row.bead_seat_diameter_mm, code): f"{pair[0]}|{pair[1]}||0"
            for one in here
            for code, pair in one.pairs.items()
        }
        if here:
            bars = [one.row for one in here]
            chart = width_chart(bars, end, presses, verb="Choose")
            charts.append((end, chart))
    return charts


def _group_row(group: Group, on_shelf: Sequence[Reading]) -> tuple[int, str, str]:
    """Return a rim size as a line of the list: the bead seat, its widths, what limits them."""
    seat, least, most = group.bead_seat_diameter_mm, group.narrowest_mm, group.widest_mm
    where = "both ends" if group.end == "both" else f"the {group.end}"
    widths = fixed(least, 0) if least == most else f"{fixed(least, 0)} to {fixed(most, 0)}"
    there = sum(
        1
        for tire in on_shelf
        if tire.bead_seat_diameter_mm == seat and least <= (tire.width_mm or 0.0) <= most
    )
    limit = group.limited_by
    if limit != WIDEST_TRIED:
        limit = title_of(limit)
    shelf = f"; {there} on the shelf" if there else ""
    return seat, f"{widths} at {where}", f"{limit[:1].lower()}{limit[1:]}{shelf}"


def _closed(found: Found, groups: Sequence[Group]) -> list[tuple[str, str]]:
    """Return the common rim sizes on which nothing goes: the bead seats, and what stops them."""
    by_rule: dict[str, list[int]] = {}
    for seat, rule in closed_rims(found, groups):
        by_rule.setdefault(rule, []).append(seat)
    return [(", ".join(str(seat) for seat in by_rule[rule]), title_of(rule)) for rule in by_rule]


def _limit_rows(policy: Policy, shop: Policy, found: Found | None) -> list[LimitRow]:
    """Return the accepted changes that the map has lines of, of figures the machine has."""
    if found is None:
        return []
    then = found.found.figures.geometry
    return [
        LimitRow(known.label, key, f"{policy.at(key):g}", f"{shop.at(key):g}")
        for key in LIMITS
        if getattr(then, key.split(".")[1]) is not None
        for known in (POLICY_FIELD[key],)
    ]


def pair_key(pair: FoundPair) -> str:
    """Return how an address names a pair."""
    proposal = pair.outcome.proposal
    sizes = (one.tire.text if one.tire else "" for one in (proposal.front, proposal.rear))
    return "|".join((*sizes, pair.position or "", f"{pair.fork_longer_mm:g}"))


def _row(pair: FoundPair, found: Found, asked: Asked, path: str) -> PairRow:
    outcome, key = pair.outcome, pair_key(pair)
    return PairRow(
        key,
        outcome.proposal.name,
        _says(pair, found.found.bike),
        pair.worst,
        asked.at(path, pair=key),
        key == asked.pair,
        headlines(outcome.findings),
    )


def _says(pair: FoundPair, bike: Bike) -> str:
    at = usual_kmh(bike)
    _, shown = shown_before_and_after(bike, at, pair.outcome.figures.speed)
    said = []
    if pair.position:
        said.append(f"position {pair.position}")
    if pair.fork_longer_mm:
        said.append(f"fork {mm(pair.fork_longer_mm):+.0f}")
    if shown is not None:
        said.append(f"shows {kmh(float(shown)):.1f} at {kmh(at):g}")
    if pair.least_gap_mm is not None:
        said.append(f"least room {mm(pair.least_gap_mm):.0f}")
    return ", ".join(said)


def _left(found: Found) -> list[tuple[str, str, str]]:
    """Return the rules that take pairs away: id, title, how many remain."""
    rows, before = [], found.tried
    for rule, after in found.left:
        if after < before:
            rows.append((rule, title_of(rule), f"{after:,}".replace(",", "\u2009")))
        before = after
    return rows


def _diameters(sizes: Iterable[Reading]) -> Any:
    return np.array([float(size.overall_diameter_mm or np.nan) for size in sizes])


_HERE = "@here@"


def _map(
    found: Found,
    policy: Policy,
    marks: Sequence[MapMark],
    asked: Asked,
    chosen: PairRow | None,
    drawn: dict[Any, str],
) -> Markup:
    grid, key = found.grid, (tuple(marks), repr(policy.limits))
    assert grid is not None
    front, rear = _diameters(grid.fronts), _diameters(grid.rears)
    frame = _frame(front, rear, grid.first_stop == CLEAR, marks)
    if key not in drawn:
        drawn[key] = _drawn(found, grid, policy, marks, frame)
    here = escape(asked.at(""))
    joint = "&amp;" if "?" in here else "?"
    at = _place_of(grid, chosen.key) if chosen else None
    ring = chosen_ring(frame, float(front[at[0]]), float(rear[at[1]])) if at else ""
    text = drawn[key].replace(_HERE, f"{here}{joint}").replace(CHOSEN_HERE, ring)
    return Markup(text)  # of our own making


def _place_of(grid: Map, key: str) -> tuple[int, int] | None:
    """Return where a pair lies among the sizes of the map; None where it is not on it."""
    sizes = ([one.text for one in those] for those in (grid.fronts, grid.rears))
    try:
        front, rear = (those.index(one) for those, one in zip(sizes, key.split("|"), strict=False))
    except ValueError:
        return None
    return front, rear


def _drawn(found: Found, grid: Map, policy: Policy, marks: Sequence[MapMark], frame: Frame) -> str:
    """Return the map with words in place of the address its points lead to and the chosen pair."""
    front, rear = _diameters(grid.fronts), _diameters(grid.rears)
    clear = grid.first_stop == CLEAR
    points = _points(grid, front, rear, frame, policy)
    counted = int((grid.first_stop != ASIDE).sum())
    said = (
        f"Map of pairs: {int(clear.sum())} of {counted} pairs of sizes are stopped by no rule; "
        "the list beside it names the best."
    )
    bands = _bands(grid, front, rear, frame)
    return str(size_map(frame, points, _lines(found, frame, policy), bands, marks, said))


def _frame(front: Any, rear: Any, clear: Any, marks: Sequence[MapMark]) -> Frame:
    """Return where the pairs lie that no rule stops, and what is marked, with some room."""
    sides = []
    for values, axis, of in ((front, 1, "front_mm"), (rear, 0, "rear_mm")):
        kept = values[clear.any(axis=axis)] if clear.any() else values
        there = [*kept, *(getattr(mark, of) for mark in marks)]
        sides.append((min(there) - AROUND_MM, max(there) + AROUND_MM))
    return Frame(sides[0], sides[1])


def _points(grid: Map, front: Any, rear: Any, frame: Frame, policy: Policy) -> list[MapPoint]:
    """Return the points of the map, one for each place on the paper, the best of those there."""
    limits = policy.limits
    holds = (
        (grid.head_angle_delta_deg >= limits.head_angle_deg.low)
        & (grid.head_angle_delta_deg <= limits.head_angle_deg.high)
        & (grid.trail_delta_mm >= limits.trail_mm.low)
        & (grid.trail_delta_mm <= limits.trail_mm.high)
    )
    if grid.bb_delta_mm is not None:
        holds &= (grid.bb_delta_mm >= limits.bb_height_mm.low) & (
            grid.bb_delta_mm <= limits.bb_height_mm.high
        )
    clear = grid.first_stop == CLEAR
    rank = np.where(clear, np.where(holds, 2, 1), 0)
    there: dict[tuple[int, int], MapPoint] = {}
    for flat in np.argsort(rank, axis=None, kind="stable"):
        i, j = divmod(int(flat), rank.shape[1])
        if grid.first_stop[i, j] == ASIDE or not frame.holds(front[i], rear[j]):
            continue
        state = ("stopped", "beyond", "holds")[int(rank[i, j])]
        sizes = (grid.fronts[i].text, grid.rears[j].text)
        there[round(front[i] / 2), round(rear[j] / 2)] = MapPoint(
            float(front[i]),
            float(rear[j]),
            state,
            _point_words(grid, i, j, sizes) if state != "stopped" else "",
            _HERE + urlencode({"pair": f"{sizes[0]}|{sizes[1]}||0"}) if state != "stopped" else "",
        )
    return list(there.values())[-MOST_POINTS:]


def _point_words(grid: Map, i: int, j: int, sizes: tuple[str, str]) -> str:
    head = change(float(grid.head_angle_delta_deg[i, j]), 1)
    trail = change(float(grid.trail_delta_mm[i, j]), 0)
    bb = "" if grid.bb_delta_mm is None else f", BB {change(float(grid.bb_delta_mm[i, j]), 0)}"
    return f"{sizes[0]} front, {sizes[1]} rear: head angle {head}°, trail {trail}{bb}"


def _bands(grid: Map, front: Any, rear: Any, frame: Frame) -> list[MapBand]:
    """Return where one wheel alone is out, next to next joined."""
    bands = []
    for end, values, axis, side in (
        ("front", front, 1, frame.front),
        ("rear", rear, 0, frame.rear),
    ):
        dead = np.asarray((grid.first_stop != CLEAR).all(axis=axis))
        dead &= np.asarray((grid.first_stop < CLEAR).any(axis=axis))
        alive = sorted({float(value) for value in values[~dead]})
        edges = [side[0], *alive, side[1]]
        for low, high in pairwise(edges):
            inside = [place for place, one in enumerate(values) if low < one < high and dead[place]]
            if inside:
                why = grid.first_stop.take(inside, axis=1 - axis).ravel()
                words = title_of(STOPS[int(np.bincount(why[why < CLEAR]).argmax())])
                least = min(values[inside]) - 2, max(values[inside]) + 2
                bands.append(MapBand(end, float(least[0]), float(least[1]), f"{end}: {words}"))
    return bands


_GRID = 24
_CONTOURS = (
    ("head", "head_angle_deg", "head angle", "°"),
    ("trail", "trail_mm", "trail", ""),
    ("bracket", "bb_height_mm", "BB", ""),
)


def _lines(found: Found, frame: Frame, policy: Policy) -> list[MapLine]:
    """Return the lines of no change and of the limits, on a grid of diameters."""
    chassis, then = found.found.chassis, found.found.figures.geometry
    fronts, rears = (np.linspace(*side, _GRID) for side in (frame.front, frame.rear))
    sizes = PoseChange(front_radius_mm=fronts[:, None] / 2, rear_radius_mm=rears[None, :] / 2)
    figures, _ = geometry(chassis, sizes)
    lines = []
    for kind, key, name, unit in _CONTOURS:
        new, old = getattr(figures, key), getattr(then, key)
        if new is None or old is None:
            continue
        moved = np.broadcast_to(new - old, (_GRID, _GRID))
        band = getattr(policy.limits, key)
        level = () if kind != "head" else (0.0,)
        for value in sorted({band.low, *level, band.high}):
            places = _where(moved, value, fronts, rears)
            tenths = 0 if float(value).is_integer() else 1
            words = f"{name} {fixed(value, 0) if not value else change(value, tenths)}{unit}"
            lines.append(MapLine(words, kind, places))
    return lines


def _where(moved: Any, value: float, fronts: Any, rears: Any) -> list[tuple[float, float]]:
    """Return the places where a figure has a value: along each row of rear sizes at most one."""
    places = []
    for j, rear in enumerate(rears):
        row = moved[:, j] - value
        crossing = np.flatnonzero(np.diff(np.sign(row)))
        if len(crossing):
            i = int(crossing[0])
            share = row[i] / (row[i] - row[i + 1])
            places.append((float(fronts[i] + share * (fronts[i + 1] - fronts[i])), float(rear)))
    return places


def weights_that_count(bike: Bike, wanted: Wanted) -> Sequence[tuple[str, str]]:
    """Return the weights that can move the ranking of a search."""
    loads = load_counts([bike.wheels.at(end).axle_load_kg for end in ENDS], wanted.sizes)
    there = {"load": loads, "cost": bool(wanted.prices)}
    return [one for one in WEIGHTS if there.get(one[0], True)]


def weights_of(asked: Asked) -> Weights:
    """Return the weights the page was asked for."""
    weights = Weights(**asked.weights)
    width, load = FEELS.get(asked.picks["feel"], (0.0, 0.0))
    return replace(weights, width=weights.width + width, load=weights.load + load)
