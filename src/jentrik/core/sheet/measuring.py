"""How each figure is taken with the machine standing there, in the order a person does it.

Only what matters for the job is asked first: what every answer needs, what the proposals touch,
and what the machine's kind adds.  Source: common practice.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.suspension import ENDS
from jentrik.core.sheet.sheet import Sheet
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.sidewall import known_code


@dataclass(frozen=True, slots=True)
class Guide:
    """One figure to take: the tool, the way, and which drawing shows it."""

    key: str
    tool: str
    how: str
    shows: str


GUIDES: tuple[Guide, ...] = (
    Guide(
        "front.tire",
        "eyes",
        "Read the whole size mark on the sidewall, brackets and letters too.",
        "tire",
    ),
    Guide(
        "rear.tire",
        "eyes",
        "Read the whole size mark on the sidewall, brackets and letters too.",
        "tire",
    ),
    Guide(
        "front.rim.bead_seat_diameter_mm",
        "tape round the rim",
        "The tire's name fits several rims. Tire off, tape round the bead seat, divided by 3.1416.",
        "front-rim",
    ),
    Guide(
        "rear.rim.bead_seat_diameter_mm",
        "tape round the rim",
        "The tire's name fits several rims. Tire off, tape round the bead seat, divided by 3.1416.",
        "rear-rim",
    ),
    Guide(
        "front.overall_diameter_mm",
        "two squares and a tape",
        "Pumped up and unloaded: floor to "
        "the top of the tread. A code alone is off by a few millimeters.",
        "front-diameter",
    ),
    Guide(
        "rear.overall_diameter_mm",
        "two squares and a tape",
        "Pumped up and unloaded: floor to "
        "the top of the tread. A code alone is off by a few millimeters.",
        "rear-diameter",
    ),
    Guide(
        "wheelbase_mm",
        "tape",
        "Bar straight, axle center to axle center along the floor; plumb "
        "both down and measure between the marks.",
        "wheelbase",
    ),
    Guide(
        "head_angle_deg",
        "angle finder",
        "On level floor, finder on the head tube or a stanchion; zero it on the floor first. A "
        "rigid fork's legs lie off the axis: 45 of offset over 390 are 6.6°.",
        "head",
    ),
    Guide(
        "rake_deg",
        "angle finder",
        "On level floor, finder on the fork tube, read from upright; zero it on the floor first.",
        "head",
    ),
    Guide(
        "fork.length_mm",
        "tape",
        "Along the steering axis from the crown seat (lower clamp) to "
        "square with the axle, not straight across to it.",
        "fork",
    ),
    Guide(
        "cross.head_tube_mm",
        "tape",
        "Crown seat to the top of the head tube, along it. With "
        "stack and reach it checks the fork.",
        "head-tube",
    ),
    Guide(
        "fork.offset_mm",
        "straight edge",
        "Straight edge along the steering axis, square to "
        "the axle center. Trail and head angle give it too.",
        "offset",
    ),
    Guide(
        "cross.trail_mm",
        "plumb and straight edge",
        "Steering axis down to the floor, to the "
        "point below the front axle. Makers state it; it gives the offset.",
        "trail",
    ),
    Guide(
        "chainstay_mm",
        "tape",
        "Bottom-bracket center straight to the rear axle center.",
        "chainstay",
    ),
    Guide(
        "bb_height_mm",
        "square",
        "Floor to the center of the crank axle, tires pumped up, without a rider.",
        "bb-height",
    ),
    Guide(
        "cross.bb_drop_mm",
        "straight edge",
        "Straight edge across both axles, down to the crank axle; equal wheels only.",
        "bb-drop",
    ),
    Guide(
        "cross.front_center_mm",
        "tape",
        "Bottom-bracket center straight to the front axle center, bar straight.",
        "front-center",
    ),
    Guide(
        "stack_mm",
        "square and tape",
        "Straight up from the crank axle to the height of the head tube's top.",
        "stack",
    ),
    Guide(
        "reach_mm",
        "plumb and tape",
        "Level from a plumb line over the crank axle to the head tube's top center.",
        "reach",
    ),
    Guide("seat_angle_deg", "angle finder", "Finder on the seat tube, machine level.", "seat"),
    Guide(
        "suspension.front.travel_mm",
        "maker's sheet",
        "As the maker states it, along the fork.",
        "travel",
    ),
    Guide(
        "suspension.front.sag_mm",
        "ring on the stanchion",
        "Rider in place with all gear: ring down, off again gently, read the stanchion.",
        "travel",
    ),
    Guide(
        "suspension.rear.travel_mm",
        "maker's sheet",
        "As the maker states it, at the axle.",
        "rear-travel",
    ),
    Guide(
        "suspension.rear.sag_mm",
        "tape",
        "Axle straight up to a mark on the frame, unladen less with the rider on.",
        "rear-travel",
    ),
    Guide(
        "front.rim_brake.pad_reach_mm",
        "tape",
        "Only with rim brakes: bolt to the middle of the pad.",
        "brake",
    ),
    Guide(
        "rear.rim_brake.pad_reach_mm",
        "tape",
        "Only with rim brakes: bolt to the middle of the pad.",
        "brake",
    ),
    Guide(
        "speedometer.wheel",
        "eyes",
        "Which wheel, or the gearbox, feeds the instrument: follow the cable or the sensor.",
        "meter",
    ),
    Guide(
        "speedometer.reads_over_percent",
        "satellite speed",
        "Three steady speeds against a satellite speed; the middle of what it shows too much.",
        "meter",
    ),
    Guide(
        "side_stand.lean_deg",
        "angle finder",
        "On its side stand, level floor: finder across the frame, from upright.",
        "stand",
    ),
    Guide(
        "side_stand.foot_out_mm",
        "tape",
        "Level from the line of the tires out to the foot.",
        "stand",
    ),
    Guide(
        "side_stand.foot_x_mm",
        "tape",
        "Along the floor from below the rear axle forward to the foot.",
        "stand",
    ),
)
_GUIDE = {guide.key: guide for guide in GUIDES}


def guide_of(key: str) -> Guide | None:
    """Return how a figure is taken; None where there is nothing to explain."""
    return _GUIDE.get(key)


def wanted(sheet: Sheet, proposals: Iterable[Mapping[str, Any]]) -> tuple[str, ...]:
    """Return the figures that matter for a job, in the order they are taken."""
    bicycle = sheet.kind == "bicycle"
    keys = {
        "front.tire",
        "rear.tire",
        "wheelbase_mm",
        "fork.length_mm",
        "fork.offset_mm",
        "head_angle_deg" if bicycle else "rake_deg",
    }
    keys |= {"chainstay_mm", "bb_height_mm"} if bicycle else {"speedometer.wheel"}
    if not bicycle or "speedometer.wheel" in sheet.figures:
        keys.add("speedometer.reads_over_percent")
    for end in ENDS:
        if sheet.sprung(end):
            keys |= {f"suspension.{end}.travel_mm", f"suspension.{end}.sag_mm"}
    for changes in proposals:
        keys |= _touched(sheet, changes)
    if not bicycle and any("front" in one or "rear" in one for one in proposals):
        keys |= {f"side_stand.{name}" for name in ("lean_deg", "foot_out_mm", "foot_x_mm")}
    return tuple(guide.key for guide in GUIDES if guide.key in keys)


def _touched(sheet: Sheet, changes: Mapping[str, Any]) -> set[str]:
    """Return what one proposal makes worth measuring."""
    keys = set()
    for end in ENDS:
        code = (changes.get(end) or {}).get("tire")
        if code is None:
            continue
        keys.add(f"{end}.overall_diameter_mm")
        old, new = _read(sheet.text(f"{end}.tire")), _read(code)
        if any(tire is not None and tire.alternatives for tire in (old, new)):
            keys.add(f"{end}.rim.bead_seat_diameter_mm")
        moved = old and new and old.bead_seat_diameter_mm != new.bead_seat_diameter_mm
        if moved and f"{end}.rim_brake.slot_least_mm" in sheet.figures:
            keys.add(f"{end}.rim_brake.pad_reach_mm")
    return keys


def _read(code: str | None) -> Reading | None:
    return None if code is None else known_code(code)


def to_take(sheet: Sheet, key: str) -> bool:
    """Whether no one has measured a figure yet, or read it off a sheet."""
    figure = sheet.figures.get(key)
    return figure is None or figure.provenance not in (Provenance.MEASURED, Provenance.MAKER)
