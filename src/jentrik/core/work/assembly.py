"""A card put together from what a proposal changes, part by part, in the order of the hands.

    ready - front wheel: out, fork or headset, tire on, in, set again - rear wheel: out, chip, link,
    dropouts or sprockets, tire on, in, set again - bar, seat, cranks

One wheel at a time: the machine stands by the other.  Each part of a card is a text of its own,
and a shop may write its own in its place; the steps of a part are done in one go and are a group
of the card.  Source: common practice.
"""

from collections.abc import Iterator, Mapping
from dataclasses import replace

from jentrik.core.machine.build import Brake, Gears
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import Outcome
from jentrik.core.work.template import StepPlan, steps_of

READY = "Ready"
# What the steps of a part are called together, where that is not the part's own name.
_GROUPS = {
    "Start": READY,
    "Wheel out": "{End} wheel out",
    "Another wheel": "New {end} wheel",
    "Inch to metric": "New {end} tire on its rim",
    "Tube to tubeless": "New {end} tire on its rim",
    "Tire on": "New {end} tire on its rim",
    "Mudguard": "{End} mudguard",
    "Wheel in": "{End} wheel in",
    "The other wheel": "The other {end} wheel",
    "Rear set again": "{End} set again",
    "Front set again": "{End} set again",
}


def assembled(bike: Bike, outcome: Outcome, parts: Mapping[str, str]) -> Iterator[StepPlan]:
    """Yield the steps of everything a proposal changes; `parts` are the texts by name."""
    for name, end in _wanted(bike, outcome):
        holds = conditions(bike, outcome, end)
        group = _GROUPS.get(name, name)
        for step in steps_of(parts[name]):
            if set(step.conditions) <= holds and step.only in (None, end):
                yield replace(step, group=group).at(end)


def _wanted(bike: Bike, outcome: Outcome) -> Iterator[tuple[str, End | None]]:
    """Yield the parts of a card that a proposal needs, each with its wheel."""
    yield "Start", None
    for end in ENDS:
        yield from _at(bike, outcome, end)
    if bike.has_sidecar and any(_new_tire(outcome.proposal, end) for end in ENDS):
        yield "Sidecar again", None
    touched = outcome.proposal.contact
    if touched.bar_rise_mm or touched.spacers_mm:
        yield "Bar", None
    if touched.saddle_rise_mm:
        yield "Seat", None
    if touched.crank_mm is not None:
        yield "Cranks", None


def _new_tire(proposal: Proposal, end: End) -> bool:
    """Whether a tire is put on a rim at that end; not where a wheel comes with its own."""
    return getattr(proposal, end).tire is not None and end not in proposal.owned


def wheel_comes_out(proposal: Proposal, end: End) -> bool:
    """Whether the wheel at that end is taken out for what a proposal changes."""
    if _new_tire(proposal, end) or end in proposal.owned:
        return True
    if end == "rear":
        moved = proposal.rear_shift_x_mm or proposal.rear_shift_y_mm
        return proposal.position is not None or bool(moved)
    headset = proposal.lower_cup_mm or proposal.headset_turn_deg
    return proposal.another_fork or proposal.fork_travel_mm is not None or bool(headset)


def _at(bike: Bike, outcome: Outcome, end: End) -> Iterator[tuple[str, End]]:
    """Yield the parts of one wheel and of what is changed beside it, from out to set again."""
    proposal, out = outcome.proposal, wheel_comes_out(outcome.proposal, end)
    if out:
        yield "Wheel out", end
    yield from ((name, end) for name in _beside(proposal, end))
    if _new_tire(proposal, end):
        yield from ((name, end) for name in _on_the_rim(bike, outcome, end))
    if bike.wheels.at(end).loses_guard(getattr(proposal, end)):
        yield "Mudguard", end
    if out:
        yield "Wheel in", end
        if bike.build.twin_end == end:
            yield "The other wheel", end
    if _springs_touched(proposal, end):
        yield f"{end.capitalize()} set again", end


def _on_the_rim(bike: Bike, outcome: Outcome, end: End) -> Iterator[str]:
    if end in outcome.others:
        yield "Another wheel"
    if _inch_to_metric(bike, outcome, end):
        yield "Inch to metric"
    if _to_tubeless(bike, outcome, end):
        yield "Tube to tubeless"
    yield "Tire on"


def _springs_touched(proposal: Proposal, end: End) -> bool:
    if end == "front":
        return proposal.another_fork or proposal.fork_travel_mm is not None
    moved = proposal.position is not None or proposal.shock_mm is not None
    return moved or bool(proposal.link_longer_mm)


def _beside(proposal: Proposal, end: End) -> Iterator[str]:
    """Yield what is changed on the machine while that wheel is out, or at its end."""
    of_front = {
        "Fork": proposal.another_fork
        and (proposal.fork_travel_mm is None or proposal.fork_offset_mm is not None),
        "Tubes in the clamps": proposal.tubes_up_mm,
        "Air spring": proposal.fork_travel_mm is not None,
        "Headset": proposal.lower_cup_mm or proposal.headset_turn_deg,
    }
    of_rear = {
        "Chip": proposal.position is not None,
        "Link or shock": proposal.shock_mm is not None or proposal.link_longer_mm,
        "Dropouts": proposal.rear_shift_x_mm or proposal.rear_shift_y_mm,
        "Sprockets": proposal.front_sprocket is not None or proposal.rear_sprocket is not None,
    }
    wanted = of_front if end == "front" else of_rear
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
    holds.add("new tire" if _new_tire(outcome.proposal, end) else "tire as it was")
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
    if brake != "drum":
        yield "no drum"
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
