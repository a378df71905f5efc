"""What cures a stop: other sizes, brakes, calipers and the remedies of the geometry, each judged.

A cure removes its stop and adds none: it is tried by all rules on top of the proposal, alone, and
where nothing alone does, two together.  Source: derived; what is tried is common practice.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations, islice
from typing import Any

from jentrik.core.amounts import mm
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.room_line import at_guard
from jentrik.core.machine.wheel import NEW_TIRE, WheelChange
from jentrik.core.plan.plan import Outcome, PlanResult, outcome_of
from jentrik.core.plan.proposed_setup import PLAIN_CHANGES, nested
from jentrik.core.plan.remedies import RemedyStep, remedies_of, with_service_of
from jentrik.core.plan.sizes import standard_sizes
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.room import GUARD_SIDE_MM
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code

MOST_CURES, MOST_TRIED, MOST_SEATS = 4, 40, 3
_READS_OVER = 0.03  # common practice: a corrected instrument is left reading a little high
_SLOT_MM = 10.0  # common practice: how far a caliper's slot reaches
_OF_THE_INSTRUMENT = frozenset({"speedometer-under-reads", "speedometer-over-limit"})
_OF_LOAD = frozenset({"load-index-below-spec", "load-index-below-axle-load", "load-near-top-speed"})
_OF_THE_GUARD = frozenset(
    {
        "tire-under-guard",
        "clearance-below-minimum",
        "clearance-fouls",
        "clearance-full-travel",
        "clearance-worst-case",
        "room-below-minimum",
        "room-worst-case",
    }
)
Worst = str  # none, note or caution
_OF_TIRES = frozenset(  # stops that another size may cure
    {
        "clearance-below-minimum",
        "clearance-fouls",
        "clearance-full-travel",
        "clearance-turned",
        "clearance-worst-case",
        "room-below-minimum",
        "room-worst-case",
        "tire-under-guard",
        "rim-brake-reach",
        "rim-diameter-mismatch",
        "hookless-too-narrow",
        "fork-wheel-size",
        "position-without-its-wheel",
        "speedometer-under-reads",
        "speedometer-over-limit",
        "side-stand-upright",
        "negative-trail",
        "cranks-into-ground",
        "strikes-at-full-travel",
        "saddle-meets-tire",
        "tire-for-another-vehicle",
        "car-tire-on-two-wheels",
        "not-for-highway",
    }
)
_OF_GEOMETRY = frozenset(
    {
        "clearance-below-minimum",
        "clearance-fouls",
        "clearance-full-travel",
        "room-below-minimum",
        "position-without-its-wheel",
        "side-stand-upright",
        "negative-trail",
        "cranks-into-ground",
        "strikes-at-full-travel",
        "saddle-meets-tire",
        "fork-over-makers-limit",
    }
)


@dataclass(frozen=True, slots=True)
class Step:
    """One thing that may cure: in words, as a change of a document, and what it costs."""

    says: str
    change: dict[str, Any]
    proposal: Proposal
    cost: float | None = None
    another_rim: bool = False  # whether it gives up the rim size of the wish


@dataclass(frozen=True, slots=True)
class Cure:
    """What removes a stop and adds none; `worst` is the heaviest finding that is then left."""

    rule: str
    where: str
    says: str
    change: dict[str, Any]
    worst: Worst
    cost: float | None
    proposal: Proposal


def stops_of(outcome: Outcome) -> frozenset[tuple[str, str]]:
    """Return the stops of an outcome: rule and where."""
    return frozenset(
        (finding.rule, finding.where)
        for finding in outcome.findings
        if finding.severity is Severity.STOP
    )


def worst_of(outcome: Outcome) -> Worst:
    """Return the heaviest severity of an outcome that is no stop: none, note or caution."""
    left = {finding.severity for finding in outcome.findings}
    if Severity.CAUTION in left:
        return "caution"
    return "note" if Severity.NOTE in left else "none"


def cures_of(found: PlanResult, outcome: Outcome, *, same_tires: bool = False) -> tuple[Cure, ...]:
    """Return what cures each stop, the best first; none where nothing that was tried does.

    With `same_tires` no other tire is tried: what it takes for the one that is there.
    """
    known: dict[str, Outcome | None] = {}
    cures: list[Cure] = []
    for stop in sorted(stops_of(outcome)):
        finding = next(f for f in outcome.findings if (f.rule, f.where) == stop)
        tried = _steps(found, outcome, finding, same_tires=same_tires)
        steps = list(islice(tried, MOST_TRIED))
        good = _tried(found, outcome, stop, steps, known)
        if not good:
            pairs = list(islice(_pairs(steps), MOST_TRIED))
            good = _tried(found, outcome, stop, pairs, known)
        cures += good[:MOST_CURES]
    return tuple(cures)


def together(
    found: PlanResult, outcome: Outcome, cures: tuple[Cure, ...]
) -> tuple[list[Cure], Outcome] | None:
    """Return what leaves no stop: the first cure of each stop on one proposal, else one alone."""
    first: dict[tuple[str, str], Cure] = {}
    for cure in cures:
        first.setdefault((cure.rule, cure.where), cure)
    tries = [list(first.values())] if first.keys() == stops_of(outcome) else []
    for some in (*tries, *([cure] for cure in cures)):
        proposal = _with_all(outcome.proposal, some)
        judged = None if proposal is None else _judged(found, proposal)
        if judged is not None and not stops_of(judged):
            return some, judged
    return None


def _with_all(proposal: Proposal, cures: list[Cure]) -> Proposal | None:
    """Return a proposal with cures on top; None where two of them set the same thing."""
    known: set[str] = set()
    for cure in cures:
        sets, merged = sets_of(cure.change), _merged(proposal, cure.proposal, cure.change)
        if merged is None or sets & known:
            return None
        proposal, known = merged, known | sets
    return proposal


def sets_of(change: dict[str, Any]) -> set[str]:
    """Return what a change sets: names, those of a wheel with their end."""
    return {
        f"{name}.{part}" if isinstance(value, dict) else name
        for name, value in change.items()
        for part in (value if isinstance(value, dict) else ("",))
    }


def _tried(
    found: PlanResult,
    outcome: Outcome,
    stop: tuple[str, str],
    steps: list[Step],
    known: dict[str, Outcome | None],
) -> list[Cure]:
    """Return the steps that remove a stop and add none, those that leave the least first."""
    before = stops_of(outcome)
    good: list[tuple[bool, int, Cure]] = []
    for step in steps:
        key = repr(step.change)
        if key not in known:
            known[key] = _judged(found, step.proposal)
        after = known[key]
        if after is not None and stops_of(after) <= before - {stop}:
            worst = worst_of(after)
            cure = Cure(*stop, step.says, step.change, worst, step.cost, step.proposal)
            good.append((step.another_rim, _ORDER[worst], cure))
            if len(good) == 2 * MOST_CURES:
                break
    return [cure for _, _, cure in sorted(good, key=lambda one: one[:2])]


_ORDER: dict[Worst, int] = {"none": 0, "note": 0, "caution": 1}


def _judged(found: PlanResult, proposal: Proposal) -> Outcome | None:
    try:
        return outcome_of(found, proposal)
    except Refusal:
        return None


def _steps(
    found: PlanResult, outcome: Outcome, finding: Finding, *, same_tires: bool
) -> Iterator[Step]:
    """Yield what may cure a stop, the most obvious first."""
    rule = finding.rule
    for rules, tries in _WITH_THE_SAME_TIRES:
        if rule in rules:
            yield from tries(found, outcome, finding)
    if not same_tires:
        yield from _other_tires(found, outcome, finding)
    if rule in _OF_GEOMETRY:
        yield from _remedies(found, outcome.proposal)


def _other_tires(found: PlanResult, outcome: Outcome, finding: Finding) -> Iterator[Step]:
    """Yield the same sizes with another service description, and other sizes."""
    rule = finding.rule
    if rule in _OF_LOAD:
        yield from _loads(outcome, finding)
    if rule == "speed-symbol-below-spec":
        yield from _symbols(outcome, finding)
    ends = [end for end in ENDS if getattr(outcome.proposal, end).tire is not None]
    if rule in _OF_TIRES:
        for end in [end for end in ends if finding.where in (end, "pair", "bike")] or ends:
            yield from _sizes(found, outcome, (end,))
        if len(ends) == 2:
            yield from _sizes(found, outcome, ("front", "rear"))


def _tired(proposal: Proposal, ends: tuple[End, ...], tire: Reading) -> Proposal:
    """Return the proposal with another tire at some ends."""
    changes: dict[str, Any] = {
        end: replace(getattr(proposal, end), tire=tire, overall_diameter_mm=None, fitted=NEW_TIRE)
        for end in ends
    }
    return replace(proposal, **changes)


def _sizes(found: PlanResult, outcome: Outcome, ends: tuple[End, ...]) -> Iterator[Step]:
    """Yield other sizes of the wish's kind: on its rim the nearest first, then the next rims."""
    wish = outcome.figures.wheels.at(ends[-1]).tire
    if wish is None or wish.width_mm is None:
        return
    changed = [tire for end in ENDS if (tire := getattr(outcome.proposal, end).tire)]
    one_rim = len(changed) == 2 and len({tire.bead_seat_diameter_mm for tire in changed}) == 1
    for size in sizes_near(found, wish, ends[-1], narrower=True):
        another = size.bead_seat_diameter_mm != wish.bead_seat_diameter_mm
        if another and one_rim and len(ends) == 1:
            continue  # one end alone would leave the rim both share
        where = "both ends" if len(ends) == 2 else f"the {ends[0]}"
        change: dict[str, Any] = {end: {"tire": size.text} for end in ends}
        proposal = _tired(outcome.proposal, ends, size)
        yield Step(f"{size.text} at {where}", change, proposal, None, another)


def sizes_near(
    found: PlanResult, wish: Reading, end: End, *, narrower: bool = False
) -> Iterator[Reading]:
    """Yield standard sizes of a wish's kind: its rim first, the next ones, and the one that is on.

    The nearest widths first; `narrower` ones alone where room is what lacks.
    """
    sizes = [
        size
        for size in standard_sizes(found.bike.kind)
        if size.width_mm and (size.construction == wish.construction or not wish.construction)
    ]
    at = float(wish.bead_seat_diameter_mm)
    seats = sorted({size.bead_seat_diameter_mm for size in sizes}, key=lambda one: abs(one - at))
    on_it = found.bike.wheels.at(end).tire
    kept = [on_it.bead_seat_diameter_mm] if on_it else []
    width = wish.width_mm or 0.0
    for seat in dict.fromkeys((*seats[:MOST_SEATS], *kept)):
        there = [size for size in sizes if size.bead_seat_diameter_mm == seat]
        there.sort(key=lambda size: abs((size.width_mm or 0.0) - width))
        for size in there:
            if size.text != wish.text and not (narrower and (size.width_mm or 0.0) > width):
                yield with_service_of(wish, size)


def _brakes(found: PlanResult, outcome: Outcome, finding: Finding) -> Iterator[Step]:
    """Yield a caliper that reaches, and disc wheels where the frame takes a disc."""
    end: End = "front" if finding.where == "front" else "rear"
    wheel: WheelChange = getattr(outcome.proposal, end)
    planned = outcome.figures.wheels.at(end)
    pads = planned.rim_brake
    if pads is not None:
        needed = pads.caliper_reach_mm(found.bike.wheels.at(end).rim_falls_mm(planned))
        if needed is not None:
            slot = (round(needed - _SLOT_MM / 2, 1), round(needed + _SLOT_MM / 2, 1))
            caliper = replace(wheel, rim_brake=replace(pads, slot_mm=slot))
            yield Step(
                f"a caliper that reaches {mm(needed):.0f} at the {end}",
                {end: {"rim_brake": {"slot_mm": list(slot)}}},
                _with(outcome.proposal, end, caliper),
            )
    disc = replace(wheel, brake="disc")
    says = f"disc wheels, where the frame takes a disc, at the {end}"
    yield Step(says, {end: {"brake": "disc"}}, _with(outcome.proposal, end, disc))


def _guards(found: PlanResult, outcome: Outcome, finding: Finding) -> Iterator[Step]:
    """Yield a mudguard wide enough for the tire, and none."""
    end: End = "front" if finding.where == "front" else "rear"
    wheel: WheelChange = getattr(outcome.proposal, end)
    guarded = found.bike.wheels.at(end).guard == "mudguard"
    width = outcome.figures.wheels.at(end).width_mm
    if guarded and width is not None and finding.rule == "tire-under-guard":
        inside = math.ceil(width + 2 * GUARD_SIDE_MM)
        yield Step(
            f"a mudguard {mm(inside)} wide inside at the {end}",
            {end: {"guard_inside_mm": inside}},
            _with(outcome.proposal, end, replace(wheel, guard_inside_mm=float(inside))),
        )
    if guarded or any(at_guard(place.name) for place in found.bike.clearances):
        yield Step(
            f"no mudguard at the {end}",
            {end: {"guard": "none"}},
            _with(outcome.proposal, end, replace(wheel, guard="none")),
        )


def _instrument(found: PlanResult, outcome: Outcome, _: Finding) -> Iterator[Step]:
    """Yield a signal corrected until the instrument shows what it showed, or a little too much."""
    meter, counted = found.bike.speedometer, outcome.figures.speed.counted_ratio
    if meter is None or meter.reads_over_percent is None or counted is None:
        return
    there = outcome.proposal.corrected_percent
    there = meter.corrected_percent if there is None else there
    times, over = float(counted), meter.reads_over_percent / 100
    if not 0 <= over <= _READS_OVER:  # else it is left reading as it does now
        times *= (1 + _READS_OVER) / (1 + over)
    percent = math.ceil(((1 + there / 100) * times - 1) * 1000) / 10
    by = f"{percent:+.1f} %".replace("-", "\N{MINUS SIGN}")
    yield Step(
        f"the instrument recalibrated, or its signal corrected by {by}",
        {"speedometer": {"corrected_percent": percent}},
        replace(outcome.proposal, corrected_percent=percent),
    )


_WITH_THE_SAME_TIRES = (
    (frozenset({"rim-brake-reach"}), _brakes),
    (_OF_THE_INSTRUMENT, _instrument),
    (_OF_THE_GUARD, _guards),
)


def _with(proposal: Proposal, end: End, wheel: WheelChange) -> Proposal:
    changes: dict[str, Any] = {end: wheel}
    return replace(proposal, **changes)


def _loads(outcome: Outcome, finding: Finding) -> Iterator[Step]:
    """Yield the same size with the load index that is asked for, and a few above it."""
    end: End = "front" if finding.where == "front" else "rear"
    tire = outcome.figures.wheels.at(end).tire
    if tire is None or tire.load_index is None or not tire.speed_symbol:
        return
    for index in range(tire.load_index + 1, tire.load_index + 16):
        yield from _marked(outcome, end, tire, f"{index}{tire.speed_symbol}")


def _symbols(outcome: Outcome, finding: Finding) -> Iterator[Step]:
    """Yield the same size with faster speed symbols."""
    end: End = "front" if finding.where == "front" else "rear"
    tire = outcome.figures.wheels.at(end).tire
    if tire is None or tire.load_index is None or not tire.speed_symbol:
        return
    for symbol in "JKLMNPQRSTUHVW":
        yield from _marked(outcome, end, tire, f"{tire.load_index}{symbol}")


def _marked(outcome: Outcome, end: End, tire: Reading, service: str) -> Iterator[Step]:
    old = f"{tire.load_index}{tire.speed_symbol}"
    if old not in tire.text:
        return
    try:
        other = known_code(tire.text.replace(old, service))
    except Refusal:
        return
    change: dict[str, Any] = {end: {"tire": other.text}}
    yield Step(f"{other.text} at the {end}", change, _tired(outcome.proposal, (end,), other))


_KEYS = {one.name: one.keys[0] for one in PLAIN_CHANGES}


def _remedies(found: PlanResult, proposal: Proposal) -> Iterator[Step]:
    for remedy in remedies_of(found.bike, proposal):
        for step in remedy.steps:
            change = _document(step)
            if change is not None:
                yield Step(step.words, change, step.on(proposal), remedy.cost)


def _document(step: RemedyStep) -> dict[str, Any] | None:
    """Return what a remedy sets as a document's proposal says it; None of a tire: a size does."""
    if any(isinstance(value, WheelChange) for value in step.sets.values()):
        return None
    return nested({_KEYS.get(name, name): value for name, value in step.sets.items()})


def _pairs(steps: list[Step]) -> Iterator[Step]:
    """Yield two steps together that change different things."""
    for first, second in combinations(steps, 2):
        if first.change.keys() & second.change.keys():
            continue
        merged = _merged(first.proposal, second.proposal, second.change)
        if merged is not None:
            costs = [one.cost for one in (first, second) if one.cost is not None]
            says = f"{first.says} and {second.says}"
            change = {**first.change, **second.change}
            yield Step(says, change, merged, sum(costs) if costs else None)


def _merged(proposal: Proposal, changed: Proposal, change: dict[str, Any]) -> Proposal | None:
    """Return a proposal with what a change touches taken over from another; wheels part by part."""
    taken: dict[str, Any] = {}
    for name in Proposal.__dataclass_fields__:
        top = _KEYS.get(name, name).partition(".")[0]
        if top not in change:
            continue
        new = getattr(changed, name)
        if isinstance(new, WheelChange):
            parts = {key: getattr(new, key) for key in change[top]}
            new = replace(getattr(proposal, name), **parts)
        taken[name] = new
    return replace(proposal, **taken) if taken else None
