"""What a proposal needs: what must be bought, what carries over, what someone must find out.

Worked out from what the proposal changes and what is known of both wheels; where a figure is
missing the part is asked for, never guessed.  Source: common practice.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from enum import StrEnum

from jentrik.core.amounts import mm
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import UNTOUCHED, Proposal
from jentrik.core.machine.wheel import Wheel, WheelChange


class Fate(StrEnum):
    """What becomes of a part."""

    BUY = "buy"
    KEEP = "carries over"
    ASK = "find out"


class PartRole(StrEnum):
    """What a part is of a wheel, where the way it is had decides what becomes of it."""

    WHEEL = "wheel"
    OF_THE_HUB = "of the hub"
    TUBE = "tube"
    OTHER = "other"


@dataclass(frozen=True, slots=True)
class PartLine:
    """One part: its name, the wheel it belongs to ("" for the machine), its fate and why."""

    name: str
    end: str
    fate: Fate
    why: str = ""
    role: PartRole = PartRole.OTHER

    @property
    def key(self) -> str:
        """What tells this part from the others of a proposal."""
        return f"{self.end} {self.name}".strip().casefold()


def tire_line(end: End, change: WheelChange) -> PartLine:
    """Return the line of a new tire: two makes of one size are two lines."""
    assert change.tire is not None
    make = f", {change.fitted.make}" if change.fitted.make else ""
    return PartLine(f"tire {change.tire.text}{make}", end, Fate.BUY)


TUBE_STRETCH = 0.15  # of the width: within it an old tube still serves


def parts_of(bike: Bike, proposal: Proposal) -> tuple[PartLine, ...]:
    """Return the parts a proposal needs, wheel by wheel, then the rest of the machine."""
    lines = [line for end in ENDS for line in _of_both(bike, _wheel_parts(bike, proposal, end))]
    machine = _machine_parts(proposal)
    if proposal.as_before:
        machine = (replace(one, fate=Fate.KEEP, why="as it was before") for one in machine)
    return (*lines, *machine)


def _of_both(bike: Bike, lines: Iterable[PartLine]) -> Iterator[PartLine]:
    """Yield the lines of a wheel, those to be had twice where two wheels share its axle."""
    for line in lines:
        yield line
        if line.end == bike.build.twin_end and line.fate is not Fate.KEEP:
            yield replace(line, name=f"{line.name}, second wheel")


def _wheel_parts(bike: Bike, proposal: Proposal, end: End) -> Iterator[PartLine]:
    change = proposal.front if end == "front" else proposal.rear
    found = bike.wheels.at(end)
    yield from _guard(found, change, end)
    if end in proposal.owned:
        yield PartLine("wheel", end, Fate.KEEP, "there already")
        return
    if change.tire is None:
        return
    planned = found.changed_by(change)
    yield tire_line(end, change)
    yield from _air(found, planned, change, end)
    yield from _brake_of_the_frame(found, planned, end)
    if not found.is_another(change):
        yield PartLine("wheel", end, Fate.KEEP, "same bead seat")
        return
    seat = change.tire.bead_seat_diameter_mm
    yield PartLine(f"wheel or rim, bead seat {seat} mm", end, Fate.BUY, role=PartRole.WHEEL)
    yield from (
        replace(line, role=PartRole.OF_THE_HUB) for line in _hub_parts(bike, found, planned, end)
    )
    if planned.sensor.face == "other":
        yield PartLine("machine work on the hub", end, Fate.BUY, "drilled, tapped or turned")
        yield PartLine("longer bolts for rotor and ring", end, Fate.BUY, "for the other face")


def _guard(found: Wheel, change: WheelChange, end: End) -> Iterator[PartLine]:
    if change.guard == "none" and found.guard != "none":
        yield PartLine("mudguard", end, Fate.KEEP, "comes off; with its stays and bolts")
    elif found.loses_guard(change):
        yield PartLine(f"mudguard, {mm(change.guard_inside_mm or 0):g} inside", end, Fate.BUY)


def _hub_parts(bike: Bike, found: Wheel, planned: Wheel, end: End) -> Iterator[PartLine]:
    """Return what is mounted on the hub of another wheel."""
    yield from _brake_of_the_hub(found, planned, end)
    if end == "rear" and bike.build.drive not in ("shaft", "variator"):
        name = "sprockets" if bike.kind == "bicycle" else "sprocket and carrier"
        if bike.build.drive == "belt":
            name = "belt pulley"
        yield _like(name, end, found.hub.driver, planned.hub.driver, "what carries them")
    if found.tone_ring_slots is not None:
        yield _ring(found, planned, end)
    if bike.kind == "motorcycle":
        yield PartLine(
            "bearings, spacers, seals", end, Fate.ASK, "those of the new hub; note left and right"
        )


def _brake_of_the_hub(found: Wheel, planned: Wheel, end: End) -> Iterator[PartLine]:
    """Return what of the brake is mounted on the hub; a brake no one knows is found out first."""
    brake = planned.brakes_by
    if brake is None:
        yield PartLine("brake", end, Fate.ASK, "which it is decides what its hub carries")
    elif brake == "disc":
        yield _rotor(found, planned, end)
    elif brake == "drum":
        yield PartLine("brake plate and shoes", end, Fate.ASK, "those of the new hub; its stay")
        yield PartLine("split pin of the torque stay", end, Fate.BUY, "a new one each time")
    elif brake == "coaster":
        yield PartLine("coaster arm and its clip", end, Fate.ASK, "that of the new hub")


def _brake_of_the_frame(found: Wheel, planned: Wheel, end: End) -> Iterator[PartLine]:
    """Return what another rim, rotor or brake asks of caliper, arms and mounts."""
    old, new = found.brakes_by, planned.brakes_by
    pads, was = planned.rim_brake, found.rim_brake
    if new != old and old is not None and new not in (None, "none"):
        yield PartLine(f"{new} brake", end, Fate.BUY, "caliper or shoes, lever, cable or hose")
    elif new == "rim" and pads is not None and pads.slot_mm is not None:
        least, most = pads.slot_mm
        needed = pads.caliper_reach_mm(found.rim_falls_mm(planned))
        if was is not None and pads.slot_mm != was.slot_mm:
            yield PartLine(f"brake caliper, reach {mm(least):g} to {mm(most):g}", end, Fate.BUY)
        elif needed is not None and not least <= needed <= most:
            has = f"the one on it reaches {mm(least):g} to {mm(most):g}"
            yield PartLine(f"brake caliper that reaches {mm(needed):.0f}", end, Fate.BUY, has)
    elif new == "disc" and _other_rotor(found, planned):
        why = f"for a rotor of {mm(planned.hub.rotor_mm or 0):g}; the caliper's maker names it"
        yield PartLine("caliper adapter", end, Fate.BUY, why)


def _other_rotor(found: Wheel, planned: Wheel) -> bool:
    old, new = found.hub.rotor_mm, planned.hub.rotor_mm
    return old is not None and new is not None and old != new


def _air(found: Wheel, planned: Wheel, change: WheelChange, end: End) -> Iterator[PartLine]:
    """Return tube, or valve and sealing."""
    kind = (
        planned.rim.tube if planned.rim and planned.rim.tube else planned.tire and planned.tire.tube
    )
    another = found.is_another(change)
    if kind == "tubeless":
        yield PartLine("valve", end, Fate.BUY, "a new one with a new tire")
        if planned.tire and planned.tire.vehicle == "bicycle":
            yield PartLine("rim tape and sealant", end, Fate.BUY if another else Fate.ASK)
        return
    old, new = found.width_mm, planned.width_mm
    serves = old is not None and new is not None and abs(new / old - 1) <= TUBE_STRETCH
    if another or not serves:
        why = "" if kind else "unless the rim is tubeless"
        yield PartLine("tube", end, Fate.BUY if kind else Fate.ASK, why, PartRole.TUBE)
    else:
        why = "if it is sound; a new one with a new tire is usual"
        yield PartLine("tube", end, Fate.KEEP, why, PartRole.TUBE)
    if another:
        yield PartLine("rim tape", end, Fate.BUY)


def _rotor(found: Wheel, planned: Wheel, end: End) -> PartLine:
    old, new = found.hub, planned.hub
    if _other_rotor(found, planned):
        return PartLine("rotor", end, Fate.BUY, f"{mm(new.rotor_mm or 0):g}, as planned")
    return _like("rotor", end, old.rotor_mount, new.rotor_mount, "how it mounts")


def _like(name: str, end: End, old: str | None, new: str | None, what: str) -> PartLine:
    if old is None or new is None:
        return PartLine(name, end, Fate.ASK, f"{what} on old and new hub")
    same = old.casefold().split() == new.casefold().split()
    return PartLine(name, end, Fate.KEEP if same else Fate.BUY, new)


def _ring(found: Wheel, planned: Wheel, end: End) -> PartLine:
    if planned.sensor.face is None or planned.sensor.kind is None:
        return PartLine("tone ring and sensor", end, Fate.ASK, "mounting face, sensor type")
    if planned.sensor.face == "other" or planned.tone_ring_slots != found.tone_ring_slots:
        return PartLine("tone ring", end, Fate.BUY, f"{planned.tone_ring_slots:g} slots")
    return PartLine("tone ring and sensor", end, Fate.KEEP)


def _machine_parts(proposal: Proposal) -> Iterator[PartLine]:
    contact = proposal.contact
    asked = (
        ("fork", proposal.another_fork, "or the old one set otherwise, where it can be"),
        ("air spring or spacers for the fork's travel", proposal.fork_travel_mm is not None, ""),
        ("lower headset cup", proposal.lower_cup_mm, f"{mm(proposal.lower_cup_mm):g}"),
        ("angle headset", proposal.headset_turn_deg, f"{proposal.headset_turn_deg:g}°"),
        ("dropouts or axle adjusters", proposal.rear_shift_x_mm or proposal.rear_shift_y_mm, ""),
        ("shock", proposal.shock_mm is not None, f"{mm(proposal.shock_mm or 0):g} eye to eye"),
        ("ride-height link", proposal.link_longer_mm, f"{mm(proposal.link_longer_mm):+g}"),
        ("cranks", contact.crank_mm is not None, f"{mm(contact.crank_mm or 0):g}"),
        ("spacers below the bar", contact.spacers_mm, f"{mm(contact.spacers_mm):g}"),
        ("bar", contact.bar_rise_mm, f"{mm(contact.bar_rise_mm):+g}"),
        (
            "recalibration, or a signal corrector for the instrument",
            proposal.corrected_percent,
            f"{proposal.corrected_percent or 0:+g} %",
        ),
    )
    if proposal.tubes_up_mm:
        yield PartLine("fork tubes in the clamps", "", Fate.KEEP, "moved, not bought")
    if proposal.position is not None:
        yield PartLine(f"position “{proposal.position}”", "", Fate.KEEP, "turned, not bought")
    if contact != UNTOUCHED and contact.saddle_rise_mm:
        yield PartLine("seat post or seat", "", Fate.ASK, f"{mm(contact.saddle_rise_mm):+g}")
    for name, wanted, why in asked:
        if wanted:
            yield PartLine(name, "", Fate.BUY, why)
