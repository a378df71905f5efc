"""What could bring a machine's geometry back: every remedy its sheet allows, step by step.

A remedy is offered only where the sheet holds what it needs: a shock with its leverage, named
positions, a suspended fork.  Steps that a maker's limit forbids are left out here already.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from jentrik.core.amounts import Amount, mm
from jentrik.core.machine.declared import End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.sheet import DrawnAs
from jentrik.core.tire.equivalents import equivalents
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code
from jentrik.core.tire.tables.remedies import KEPT, RemedyRow

MOST_TIRES = 14  # of one rim, the nearest first
TIRE_WINDOW_PERCENT = 6.0  # of the diameter
WIDTH_SHARE = {"bicycle": 0.2, "motorcycle": 0.1}  # common practice: what a rim takes anyhow


# A scooter's fork has no clamps to slide in, and its travel no steps to buy (common practice).
_NO_CLAMPS = frozenset({"clamps", "clamp-offset", "fork-travel"})
NOT_ON = {DrawnAs.SCOOTER: _NO_CLAMPS, DrawnAs.LEANING: _NO_CLAMPS}


@dataclass(frozen=True, slots=True)
class RemedyStep:
    """One step of a remedy: in words, and what it sets on a proposal."""

    words: str
    sets: Mapping[str, Any]

    def on(self, proposal: Proposal) -> Proposal:
        """Return the proposal with this step taken."""
        contact = {k.removeprefix("contact."): v for k, v in self.sets.items() if "." in k}
        plain = {k: v for k, v in self.sets.items() if "." not in k}
        if contact:
            plain["contact"] = replace(proposal.contact, **contact)
        return replace(proposal, **plain)


@dataclass(frozen=True, slots=True)
class Remedy:
    """A remedy with its steps; remedies of one group exclude each other."""

    id: str
    group: str
    name: str
    steps: tuple[RemedyStep, ...]
    cost: float
    hours: float
    mind: str
    source: str


def remedies_of(bike: Bike, proposal: Proposal) -> tuple[Remedy, ...]:
    """Return the remedies open to this machine on top of what the proposal changes already."""
    offered = []
    for kept in KEPT:
        if kept.kind in ("both", bike.kind):
            group, steps = _STEPS[kept.id](kept, bike, proposal)
            if steps:
                offered.append(
                    Remedy(
                        kept.id,
                        group,
                        kept.name,
                        tuple(steps),
                        kept.cost,
                        kept.hours,
                        kept.mind,
                        kept.source,
                    )
                )
    return tuple(offered)


_Steps = tuple[str, list[RemedyStep]]


def _ways(step: float, more: str, less: str, unit: str = "mm") -> str:
    return f"{Amount(abs(step), unit)} {more if step > 0 else less}"


def _forks(kept: RemedyRow, bike: Bike, proposal: Proposal) -> Iterator[tuple[float, float]]:
    """Yield the steps and the lengths they lead to, inside the frame maker's limit."""
    length = proposal.fork_length(bike) + proposal.tubes_up_mm
    for step in kept.steps:
        if _allowed(bike, proposal, length + step + proposal.lower_cup_mm):
            yield step, length + step


def _allowed(bike: Bike, proposal: Proposal, length_mm: float) -> bool:
    offset = proposal.fork_offset(bike)
    return bike.fork.longer_than_allowed(length_mm, offset) is None


def _fork_travel(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    travel = proposal.fork_travel_mm or bike.suspension.front.travel_mm
    if not travel:
        return "fork", []
    return "fork", [
        RemedyStep(
            f"fork travel {_ways(step, 'more', 'less')}",
            {"fork_length_mm": length, "fork_travel_mm": travel + step},
        )
        for step, length in _forks(kept, bike, proposal)
        if travel + step > 0
    ]


def _other_fork(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    if bike.suspension.front.travel_mm:
        return "fork", []
    return "fork", [
        RemedyStep(f"fork {_ways(step, 'longer', 'shorter')}", {"fork_length_mm": length})
        for step, length in _forks(kept, bike, proposal)
    ]


def _clamps(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    return "fork", [
        RemedyStep(
            f"fork tubes {_ways(step, 'down', 'up')} in the clamps",
            {"tubes_up_mm": proposal.tubes_up_mm - step},
        )
        for step, _ in _forks(kept, bike, proposal)
    ]


def _offset(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    offset = proposal.fork_offset(bike)
    what = "fork offset" if bike.kind == "bicycle" else "clamp offset"
    return "offset", [
        RemedyStep(f"{what} {_ways(step, 'more', 'less')}", {"fork_offset_mm": offset + step})
        for step in kept.steps
    ]


def _cup(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    """Return the cups; one sits in the bore of a headset that turns the axis: one or the other."""
    if proposal.lower_cup_mm or proposal.headset_turn_deg:
        return "headset", []
    length = proposal.fork_length(bike)
    return "headset", [
        RemedyStep(f"{mm(step):g} lower cup", {"lower_cup_mm": step})
        for step in kept.steps
        if _allowed(bike, proposal, length + step)
    ]


def _headset(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    if proposal.headset_turn_deg or proposal.lower_cup_mm:
        return "headset", []
    return "headset", [
        RemedyStep(f"headset {_ways(step, 'steeper', 'slacker', '°')}", {"headset_turn_deg": step})
        for step in kept.steps
    ]


def _position(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    here, tire = bike.position(proposal.position), proposal.wheels(bike).rear.tire
    wheel = None if tire is None else tire.bead_seat_diameter_mm
    return "rear", [
        RemedyStep(f"position {position.name}", {"position": position.name})
        for position in bike.frame.positions
        if position != here and position.bead_seat_diameter_mm in (None, wheel)
    ]


def _shock(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    shock = bike.suspension.shock
    if shock.length_mm is None or shock.leverage is None:
        return "rear", []
    length = proposal.shock_mm or shock.length_mm
    return "rear", [
        RemedyStep(f"shock {_ways(step, 'longer', 'shorter')}", {"shock_mm": length + step})
        for step in kept.steps
    ]


def _link(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    if bike.suspension.shock.link_ratio is None:
        return "rear", []
    return "rear", [
        RemedyStep(
            f"link {_ways(step, 'longer', 'shorter')}",
            {"link_longer_mm": proposal.link_longer_mm + step},
        )
        for step in kept.steps
    ]


def _tires(end: End) -> Callable[[RemedyRow, Bike, Proposal], _Steps]:
    def steps(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
        tire = proposal.wheels(bike).at(end).tire
        change = proposal.front if end == "front" else proposal.rear
        if tire is None:
            return f"{end} tire", []
        return f"{end} tire", [
            RemedyStep(
                f"{end} tire {other.text}",
                {end: replace(change, tire=other, overall_diameter_mm=None)},
            )
            for other in (with_service_of(tire, one) for one in _near(tire))
            if not _alike(other, bike.wheels.at(end).tire)
        ]

    return steps


@cache
def _near(tire: Reading) -> tuple[Reading, ...]:
    """Return sizes for the same rim, one of each height, the nearest first."""
    found: dict[float, Reading] = {}
    window = WIDTH_SHARE.get(tire.vehicle, 0.0) * (tire.width_mm or 0.0)
    for equal in equivalents(
        tire, diameter_window_percent=TIRE_WINDOW_PERCENT, width_window_mm=window
    ):
        if equal.diameter_mm != tire.overall_diameter_mm:
            found.setdefault(equal.diameter_mm, equal.reading)
    return tuple(found.values())[:MOST_TIRES]


def with_service_of(tire: Reading, size: Reading) -> Reading:
    """Return a motorcycle size with the load, speed and tube of a tire: what it must carry, too."""
    if size.vehicle != "motorcycle" or tire.vehicle != "motorcycle" or size.load_index is not None:
        return size
    pair = f" {tire.load_index}{tire.speed_symbol}" if tire.load_index and tire.speed_symbol else ""
    tube = {"tubeless": " TL", "tube-type": " TT"}.get(tire.tube or "", "")
    return known_code(f"{size.text}{pair}{tube}")


def _alike(tire: Reading, other: Reading | None) -> bool:
    """Whether two marks name one size: going back to what was there is no way back."""
    return other is not None and (
        tire.bead_seat_diameter_mm,
        tire.width_mm,
        tire.section_height_mm,
    ) == (other.bead_seat_diameter_mm, other.width_mm, other.section_height_mm)


def _seat(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    if not any(point.role is PointRole.SADDLE for point in bike.frame.points):
        return "seat", []
    return "seat", [
        RemedyStep(
            f"seat {_ways(step, 'higher', 'lower')}",
            {"contact.saddle_rise_mm": proposal.contact.saddle_rise_mm + step},
        )
        for step in kept.steps
    ]


def _bar(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    if not any(point.role is PointRole.BAR for point in bike.frame.points):
        return "bar", []
    return "bar", [
        RemedyStep(
            f"bar {_ways(step, 'higher', 'lower')}",
            {"contact.bar_rise_mm": proposal.contact.bar_rise_mm + step},
        )
        for step in kept.steps
    ]


def _cranks(kept: RemedyRow, bike: Bike, proposal: Proposal) -> _Steps:
    length = proposal.contact.crank_mm or bike.cranks.length_mm
    if length is None:
        return "cranks", []
    return "cranks", [
        RemedyStep(f"{mm(length + step):g} cranks", {"contact.crank_mm": length + step})
        for step in kept.steps
    ]


_STEPS: dict[str, Callable[[RemedyRow, Bike, Proposal], _Steps]] = {
    "fork-travel": _fork_travel,
    "other-fork": _other_fork,
    "fork-offset": _offset,
    "lower-cup": _cup,
    "turned-headset": _headset,
    "clamps": _clamps,
    "clamp-offset": _offset,
    "position": _position,
    "shock": _shock,
    "link": _link,
    "front-tire": _tires("front"),
    "rear-tire": _tires("rear"),
    "seat": _seat,
    "higher-bar": _bar,
    "cranks": _cranks,
}
