"""Missing and assumed figures: what each may plausibly be, and the machine with it filled in.

Only figures that a stop can turn on are here.  Ranges are common practice, from memory: what such
a figure is on a machine of its kind that works as it stands.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from jentrik.core.figures.clearance import usual_least
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike, Clearance, SideStand, Speedometer
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import NO_SPEC, Rim, RimBrake, Wheel
from jentrik.core.plan.plan import Outcome
from jentrik.core.work.policy import Policy

Value = float | str
USUAL_REACH_MM, USUAL_SLOT_MM = 52.0, (47.0, 57.0)
_LONGEST_REACH_MM, _SHORTEST_REACH_MM = 80.0, 30.0  # of a slot that no one measured
_STEPS = 5


@dataclass(frozen=True, slots=True)
class Unknown:
    """A figure that may decide: its path in a document, its words and unit, what it may be.

    `values` run from one end of its range to the other, or are words to choose from; `fills`
    returns the machine with one of them.  `alone` is false where a figure beside it is taken as
    usual for that: what then stops for every value may go with another beside it.
    """

    figure: str
    label: str
    unit: str
    values: tuple[Value, ...]
    fills: Callable[[Value], Bike]
    alone: bool = True


def unknowns(bike: Bike, proposal: Proposal, outcome: Outcome, policy: Policy) -> list[Unknown]:
    """Return the missing and assumed figures that a stop of this proposal can turn on."""
    found: list[Unknown] = []
    for end in ENDS:
        if bike.wheels.at(end) != outcome.figures.wheels.at(end):
            found += _of_wheel(bike, end, outcome, policy)
    found += _of_fork(bike, proposal, outcome)
    if bike.kind == "motorcycle":
        found += _of_motorcycle(bike, outcome)
    return [*found, *_assumed(bike)]


def _range(low: float, high: float) -> tuple[float, ...]:
    return tuple(low + (high - low) * step / (_STEPS - 1) for step in range(_STEPS))


def _at(bike: Bike, end: End, **changes: Any) -> Bike:
    """Return the machine with figures of one wheel as found."""
    wheel: dict[str, Any] = {end: replace(bike.wheels.at(end), **changes)}
    return replace(bike, **wheel)


def _of_wheel(bike: Bike, end: End, outcome: Outcome, policy: Policy) -> Iterator[Unknown]:
    found, planned = bike.wheels.at(end), outcome.figures.wheels.at(end)
    yield from _of_brake(bike, end, found, planned)
    if found.guard == "mudguard" and found.guard_inside_mm is None and planned.width_mm:
        yield Unknown(
            f"bike.{end}.guard_inside_mm",
            f"inside width of the {end} mudguard",
            "mm",
            _range(25.0, 75.0),
            lambda value: _at(bike, end, guard_inside_mm=float(value)),
        )
    yield from _of_room(bike, end, found, planned, policy)
    yield from _of_rim_name(bike, end, found, planned)
    yield from _of_spec(bike, end, found, planned)


def _of_brake(bike: Bike, end: End, found: Wheel, planned: Wheel) -> Iterator[Unknown]:
    falls = found.rim_falls_mm(planned)
    if falls is None or bike.kind == "motorcycle":
        return
    if planned.brakes_by is None:

        def brake(value: Value) -> Bike:
            usual = RimBrake(USUAL_REACH_MM, "bolt above", USUAL_SLOT_MM)
            return _at(bike, end, brake=value, rim_brake=usual if value == "rim" else None)

        words = ("disc", "drum", "rim")
        yield Unknown(f"bike.{end}.brake", f"which brake the {end} has", "", words, brake)
    if planned.brakes_by != "rim" or found.brakes_by != "rim":
        return
    pads = found.rim_brake or RimBrake()
    reach = USUAL_REACH_MM if pads.pad_reach_mm is None else pads.pad_reach_mm
    slot = planned.rim_brake.slot_mm if planned.rim_brake else None
    if pads.mount == "boss below":
        return
    whole = replace(pads, pad_reach_mm=reach, mount="bolt above")
    if slot is None:

        def slotted(value: Value) -> Bike:
            ends = (reach, float(value)) if falls > 0 else (float(value), reach)
            return _at(bike, end, brake="rim", rim_brake=replace(whole, slot_mm=ends))

        high = max(_LONGEST_REACH_MM, reach) if falls > 0 else reach
        low = reach if falls > 0 else min(_SHORTEST_REACH_MM, reach)
        which = "longest" if falls > 0 else "shortest"
        label = f"{which} reach of the {end} caliper's slot"
        known = pads.pad_reach_mm is not None
        key = f"bike.{end}.rim_brake.slot_mm"
        yield Unknown(key, label, "mm", _range(low, high), slotted, known)
    if pads.pad_reach_mm is None:
        at_most = slot or (_SHORTEST_REACH_MM, _LONGEST_REACH_MM)  # any that the slot may have

        def reached(value: Value) -> Bike:
            with_it = replace(whole, pad_reach_mm=float(value), slot_mm=at_most)
            return _at(bike, end, brake="rim", rim_brake=with_it)

        label, around = f"bolt to pad of the {end} rim brake", slot or USUAL_SLOT_MM
        yield Unknown(f"bike.{end}.rim_brake.pad_reach_mm", label, "mm", _range(*around), reached)


def _of_room(
    bike: Bike, end: End, found: Wheel, planned: Wheel, policy: Policy
) -> Iterator[Unknown]:
    """Yield a gap no one measured where the tire becomes taller or wider."""
    lines = any(line.wheel == end for line in bike.room)
    grows = {"radial": (planned.diameter_mm - found.diameter_mm) / 2}
    if planned.width_mm and found.width_mm:
        grows["side"] = (planned.width_mm - found.width_mm) / 2
    for direction, by in grows.items():
        taped = any(
            place.wheel == end and place.direction == direction for place in bike.clearances
        )
        if by <= 0 or taped or lines:
            continue
        least = usual_least(bike, direction, policy)

        def gap(value: Value, direction: str = direction) -> Bike:
            place = Clearance(
                "tightest place", end, "side" if direction == "side" else "radial", float(value)
            )
            return replace(bike, clearances=(*bike.clearances, place))

        over = "over the tread" if direction == "radial" else "at each side"
        label = f"least clearance {over} of the {end} tire"
        yield Unknown("bike.clearances", label, "mm", _range(least / 3, least * 3), gap)


def _of_rim_name(bike: Bike, end: End, found: Wheel, planned: Wheel) -> Iterator[Unknown]:
    """Yield the bead seat where the tire's name fits several rims and the rim stays."""
    tire = planned.tire
    seat = found.rim.bead_seat_diameter_mm if found.rim else None
    same = found.tire and tire and found.tire.bead_seat_diameter_mm == tire.bead_seat_diameter_mm
    if tire is None or not same or seat is not None or not tire.alternatives:
        return
    others = [float(other.bead_seat_diameter_mm) for other in tire.alternatives]

    def rim(value: Value) -> Bike:
        return _at(bike, end, rim=replace(found.rim or Rim(), bead_seat_diameter_mm=float(value)))

    values = (float(tire.bead_seat_diameter_mm), *others)
    label = f"bead seat of the {end} rim"
    yield Unknown(f"bike.{end}.rim.bead_seat_diameter_mm", label, "mm", values, rim)


def _of_spec(bike: Bike, end: End, found: Wheel, planned: Wheel) -> Iterator[Unknown]:
    """Yield what the maker may ask where the sheet is silent: at most what the tire found is."""
    spec = bike.maker.wheels.get(end, NO_SPEC)
    old, new = found.tire, planned.tire
    before, after = (tire.load_index if tire else None for tire in (old, new))
    silent = bike.kind == "motorcycle" and spec.load_index is None
    if silent and before and after and after < before:

        def asked(value: Value) -> Bike:
            there = replace(spec, load_index=round(float(value)))
            maker = replace(bike.maker, wheels={**bike.maker.wheels, end: there})
            return replace(bike, maker=maker)

        label = f"load index the maker asks for at the {end}"
        indices = (float(after), float(before))
        yield Unknown(f"bike.spec.{end}.load_index", label, "", indices, asked)
    rotor, was = planned.hub.rotor_mm, found.hub.rotor_mm
    if rotor is not None and was is not None and rotor > was and spec.rotor_most_mm is None:

        def allowed(value: Value) -> Bike:
            there = replace(spec, rotor_most_mm=float(value))
            maker = replace(bike.maker, wheels={**bike.maker.wheels, end: there})
            return replace(bike, maker=maker)

        label = f"largest rotor allowed at the {end}"
        values = _range(was, rotor + 20.0)
        yield Unknown(f"bike.spec.{end}.rotor_most_mm", label, "mm", values, allowed)


def _of_fork(bike: Bike, proposal: Proposal, outcome: Outcome) -> Iterator[Unknown]:
    old, new = bike.front.tire, outcome.figures.wheels.front.tire
    rated = bike.fork.rated_bead_seat_mm if not proposal.another_fork else proposal.fork_rated_mm
    larger = bool(old and new and new.bead_seat_diameter_mm > old.bead_seat_diameter_mm)
    if old and new and larger and rated is None and not proposal.another_fork:
        yield Unknown(
            "bike.fork.rated_bead_seat_mm",
            "wheel the fork is made for, bead seat",
            "mm",
            (float(old.bead_seat_diameter_mm), float(new.bead_seat_diameter_mm)),
            lambda value: replace(bike, fork=replace(bike.fork, rated_bead_seat_mm=float(value))),
        )
    longer = proposal.fork_length(bike) + proposal.lower_cup_mm - bike.fork.length_mm
    silent = bike.fork.longest_mm is None and bike.fork.longest_straight_mm is None
    if longer > 0 and silent:
        length = bike.fork.length_mm
        yield Unknown(
            "bike.fork.longest_mm",
            "longest fork the frame's maker allows",
            "mm",
            _range(length, length + max(2 * longer, 20.0)),
            lambda value: replace(bike, fork=replace(bike.fork, longest_mm=float(value))),
        )


def _of_motorcycle(bike: Bike, outcome: Outcome) -> Iterator[Unknown]:
    meter = bike.speedometer
    if meter is not None and meter.reads_over_percent is None:
        yield Unknown(
            "bike.speedometer.reads_over_percent",
            "how much the speedometer reads high",
            "%",
            _range(0.0, 8.0),
            lambda value: replace(
                bike, speedometer=replace(meter, reads_over_percent=float(value))
            ),
        )
    if meter is None and _turns(outcome):

        def fed(value: Value) -> Bike:
            fed_by: End = "front" if value == "front" else "rear"
            return replace(bike, speedometer=Speedometer(fed_by, 4.0))

        label = "which wheel feeds the speedometer"
        yield Unknown("bike.speedometer.wheel", label, "", ("front", "rear"), fed)
    if bike.side_stand is None:

        def leans(value: Value) -> Bike:
            return replace(bike, side_stand=SideStand(float(value), 240.0, 520.0))

        label = "lean on the side stand"
        yield Unknown("bike.side_stand.lean_deg", label, "°", _range(9.0, 14.0), leans)


def _turns(outcome: Outcome) -> bool:
    """Whether either wheel rolls further or less far."""
    speed = outcome.figures.speed
    ratios = (speed.circumference_ratio_front, speed.circumference_ratio_rear)
    return any(abs(float(ratio) - 1.0) > 1e-9 for ratio in ratios)


# Of figures assumed until measured: how far the usual one may be off (common practice).
_OFF: Mapping[str, float] = {
    "wheelbase_mm": 60.0,
    "head_angle_deg": 2.0,
    "chainstay_mm": 25.0,
    "bb_height_mm": 20.0,
}
_LABELS = {
    "wheelbase_mm": "wheelbase",
    "head_angle_deg": "head angle",
    "rake_deg": "rake",
    "chainstay_mm": "chain stay",
    "bb_height_mm": "bottom-bracket height",
    "fork.length_mm": "fork length along the axis",
    "fork.offset_mm": "fork offset",
}


def _assumed(bike: Bike) -> Iterator[Unknown]:
    """Yield the figures of frame and fork that are only assumed, each inside what is usual."""
    for key, off in _OFF.items():
        value = getattr(bike.frame, key)
        known_as = "rake_deg" if (key, bike.kind) == ("head_angle_deg", "motorcycle") else key
        if value is not None and bike.assumed & {key, known_as}:

            def framed(new: Value, key: str = key, known_as: str = known_as) -> Bike:
                figure = float(new) if known_as == key else 90.0 - float(new)
                frame: dict[str, Any] = {key: figure}
                return replace(bike, frame=replace(bike.frame, **frame))

            unit = "°" if key.endswith("deg") else "mm"
            usual = value if known_as == key else 90.0 - value
            around = (usual - off, usual, usual + off)
            yield Unknown(f"bike.{known_as}", _LABELS[known_as], unit, around, framed)
    for name, off in (("length_mm", 20.0), ("offset_mm", 10.0)):
        if f"fork.{name}" in bike.assumed:
            value = getattr(bike.fork, name)

            def forked(new: Value, name: str = name) -> Bike:
                fork: dict[str, Any] = {name: float(new)}
                return replace(bike, fork=replace(bike.fork, **fork))

            yield Unknown(
                f"bike.fork.{name}",
                _LABELS[f"fork.{name}"],
                "mm",
                (value - off, value, value + off),
                forked,
            )
