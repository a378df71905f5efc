"""A card put together from what a proposal changes, part by part, in the order of the bench.

    start - wheels out - chip, link, fork, headset, dropouts, bar, seat, cranks, sprockets -
    mudguards - tires on - wheels in - what is set again

Each part of a card is a text of its own, and a shop may write its own in its place.  A part that
is of a wheel comes once for each wheel that changes.  Source: common practice.
"""

from collections.abc import Iterator, Mapping, Sequence

from jentrik.core.machine.build import Brake, Gears
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike, Proposal
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import Outcome
from jentrik.core.work.template import StepPlan, steps_of


def assembled(bike: Bike, outcome: Outcome, parts: Mapping[str, str]) -> Iterator[StepPlan]:
    """Yield the steps of everything a proposal changes; `parts` are the texts by name."""
    for name, end in _wanted(bike, outcome):
        holds = conditions(bike, outcome, end)
        for step in steps_of(parts[name]):
            if set(step.conditions) <= holds and step.only in (None, end):
                yield step.at(end)


def _wanted(bike: Bike, outcome: Outcome) -> Iterator[tuple[str, End | None]]:
    """Yield the parts of a card that a proposal needs, each with its wheel."""
    proposal = outcome.proposal
    tires = [end for end in ENDS if getattr(proposal, end).tire is not None]
    tires = [end for end in tires if end not in proposal.owned]
    out = {*tires, *proposal.owned}
    if proposal.position is not None or proposal.rear_shift_x_mm or proposal.rear_shift_y_mm:
        out.add("rear")
    if proposal.another_fork or proposal.fork_travel_mm is not None:
        out.add("front")
    ends = [end for end in ENDS if end in out]
    yield "Start", None
    yield from (("Wheel out", end) for end in ends)
    yield from ((name, None) for name in _of_the_machine(outcome))
    for end in ENDS:
        if bike.wheels.at(end).loses_guard(getattr(proposal, end)):
            yield "Mudguard", end
    for end in tires:
        if end in outcome.others:
            yield "Another wheel", end
        if _inch_to_metric(bike, outcome, end):
            yield "Inch to metric", end
        if _to_tubeless(bike, outcome, end):
            yield "Tube to tubeless", end
        yield "Tire on", end
    yield from (("Own wheel", end) for end in proposal.owned)
    yield from (("Wheel in", end) for end in ends if end not in proposal.owned)
    yield from _set_again(bike, proposal, ends, changed=bool(tires))


def _set_again(
    bike: Bike, proposal: Proposal, ends: Sequence[End], *, changed: bool
) -> Iterator[tuple[str, End | None]]:
    """Yield what follows once the wheels are in: the twin, the sidecar, sag and pressure."""
    if bike.build.twin_end in ends:
        yield "The other wheel", bike.build.twin_end
    if bike.has_sidecar and changed:
        yield "Sidecar again", None
    if proposal.position is not None or proposal.shock_mm is not None or proposal.link_longer_mm:
        yield "Rear set again", "rear"
    if proposal.another_fork or proposal.fork_travel_mm is not None:
        yield "Front set again", "front"
    if changed:
        yield "Old tires", None


def _of_the_machine(outcome: Outcome) -> Iterator[str]:
    proposal, touched = outcome.proposal, outcome.proposal.contact
    wanted = {
        "Chip": proposal.position is not None,
        "Link or shock": proposal.shock_mm is not None or proposal.link_longer_mm,
        "Fork": proposal.another_fork
        and (proposal.fork_travel_mm is None or proposal.fork_offset_mm is not None),
        "Tubes in the clamps": proposal.tubes_up_mm,
        "Air spring": proposal.fork_travel_mm is not None,
        "Headset": proposal.lower_cup_mm or proposal.headset_turn_deg,
        "Dropouts": proposal.rear_shift_x_mm or proposal.rear_shift_y_mm,
        "Bar": touched.bar_rise_mm or touched.spacers_mm,
        "Seat": touched.saddle_rise_mm,
        "Cranks": touched.crank_mm is not None,
        "Sprockets": proposal.front_sprocket is not None or proposal.rear_sprocket is not None,
    }
    yield from (name for name, needed in wanted.items() if needed)


def conditions(bike: Bike, outcome: Outcome, end: End | None) -> set[str]:
    """Return what holds of the machine and of the wheel that goes in."""
    holds: set[str] = {bike.kind}
    if end is None:
        return holds
    found, planned = bike.wheels.at(end), outcome.figures.wheels.at(end)
    of_rim = planned.rim.tube if planned.rim else None
    tube = of_rim or (planned.tire.tube if planned.tire else None)
    holds |= {end, *_brake_and_drive(bike, found, planned)}
    holds.add("spoked" if _spoked(bike, planned, tube) else "cast")
    holds.add("tubeless" if tube == "tubeless" else "tube")
    another = end in outcome.others or end in outcome.proposal.owned
    holds.add("another wheel" if another else "same wheel")
    swapped = end in outcome.proposal.owned
    holds.add("wheel swapped" if swapped else "wheel worked on")
    if found.loses_guard(getattr(outcome.proposal, end)) and planned.guard != "none":
        holds.add("another guard")
    if planned.tone_ring_slots is not None or found.tone_ring_slots is not None:
        holds.add("ring")
    if bike.suspension.at(end).travel_mm:
        holds.add("sprung")
    return holds


_BRAKES: Mapping[Brake | None, str] = {None: "brake not known", "rim": "rim brake"}
_GEARS: Mapping[Gears, str] = {"hub": "hub gear", "crank": "single gear", "single": "single gear"}


def _brake_and_drive(bike: Bike, found: Wheel, planned: Wheel) -> Iterator[str]:
    """Yield what holds of brake, rotor, rim lock and drive; what no one said is said to be so."""
    brake, gears = planned.brakes_by, bike.build.gears
    yield _BRAKES.get(brake) or str(brake)
    old, new = found.hub.rotor_mm, planned.hub.rotor_mm
    if old is not None and new is not None and old != new:
        yield "another rotor"
    yield bike.build.drive or "drive not known"
    if gears is not None:
        yield _GEARS.get(gears, gears)
    locked = planned.rim is not None and planned.rim.locks in ("one", "two")
    yield "rim lock" if locked else "no rim lock"


def _spoked(bike: Bike, wheel: Wheel, tube: str | None) -> bool:
    """Whether a wheel has spokes: as it is said, else as its kind, tube or hub lets expect."""
    build = wheel.rim.build if wheel.rim else None
    if build is not None:
        return build == "laced"
    return bike.kind == "bicycle" or tube == "tube-type" or wheel.hub.spokes is not None


def _inch_to_metric(bike: Bike, outcome: Outcome, end: End) -> bool:
    old, new = bike.wheels.at(end).tire, outcome.figures.wheels.at(end).tire
    if bike.kind == "bicycle" or old is None or new is None:
        return False
    return old.family == "motorcycle-inch" and new.family == "motorcycle-metric"


def _to_tubeless(bike: Bike, outcome: Outcome, end: End) -> bool:
    old, new = bike.wheels.at(end).rim, outcome.figures.wheels.at(end).rim
    if old is None or new is None or end in outcome.others:
        return False
    return old.tube == "tube-type" and new.tube == "tubeless"
