"""What the tape can tell of a change: the ± of every figure carried through to its difference.

Each measured figure is moved by its ±, the whole machine worked anew, and the moves of a
difference added as squares.  A tire told by its code alone is worth a twentieth of its section
height, for casings differ from their mark (common practice).  Source: derived.
"""

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from jentrik.core.geometry.figures import Geometry, geometry
from jentrik.core.machine import Bike, Proposal, Wheel, WheelChange
from jentrik.core.plan import PlanResult, as_measured, change_of
from jentrik.core.readings import worth
from jentrik.core.sheet import Sheet
from jentrik.core.suspension import ENDS, End

FIGURES = ("head_angle_deg", "trail_mm", "bb_height_mm", "wheelbase_mm", "reach_mm", "stack_mm")
_FIELDS = {
    "wheelbase_mm": "wheelbase_mm", "head_angle_deg": "head_angle_deg",
    "rake_deg": "head_angle_deg", "fork.length_mm": "fork_length_mm",
    "fork.offset_mm": "fork_offset_mm", "chainstay_mm": "chainstay_mm",
    "bb_height_mm": "bb_height_mm", "stack_mm": "stack_mm", "reach_mm": "reach_mm",
}  # fmt: skip
OF_SECTION_HEIGHT = 0.05


def tells(sheet: Sheet, found: PlanResult, proposal: Proposal) -> dict[str, float]:
    """Return the ± of each figure's change, in its unit; figures that are not known stay out.

    `found` stands as its sheet was measured.
    """
    bike = found.measured
    usual = _changes(bike, proposal)
    square = dict.fromkeys(usual, 0.0)
    for moved, planned in _moved(sheet, bike, proposal):
        for name, change in _changes(moved, planned).items():
            square[name] += (change - usual[name]) ** 2
    return {name: math.sqrt(total) for name, total in square.items()}


def _changes(bike: Bike, proposal: Proposal) -> Mapping[str, float]:
    found = as_measured(bike)
    change = change_of(bike, proposal.wheels(bike), proposal)
    now, _ = geometry(found.chassis, change)
    pairs = {name: (_of(now, name), _of(found.baseline, name)) for name in FIGURES}
    return {
        name: new - old for name, (new, old) in pairs.items() if new is not None and old is not None
    }


def _of(figures: Geometry, name: str) -> float | None:
    value = getattr(figures, name)
    return None if value is None else float(value)


def _moved(sheet: Sheet, bike: Bike, proposal: Proposal) -> list[tuple[Bike, Proposal]]:
    """Return machine and proposal with one figure after another moved by its ±."""
    pairs = []
    for key, field in _FIELDS.items():
        figure, value = sheet.figures.get(key), getattr(bike, field)
        if figure is not None and value is not None:
            by = worth(key, plus_minus=figure.plus_minus, readings=figure.readings)
            pairs.append((_with(bike, field, value + by), proposal))
    for end in ENDS:
        old, new = bike.wheels.at(end), proposal.wheels(bike).at(end)
        pairs.append((_with(bike, end, _taller(sheet, old, end)), proposal))
        if new != old:  # else the same wheel stands before and after
            taller = _taller(sheet, new, end).overall_diameter_mm
            change = proposal.front if end == "front" else proposal.rear
            planned = replace(change, overall_diameter_mm=taller)
            pairs.append((bike, _proposed(proposal, end, planned)))
    return pairs


def _with(bike: Bike, field: str, value: object) -> Bike:
    changes: dict[str, Any] = {field: value}
    return replace(bike, **changes)


def _proposed(proposal: Proposal, end: End, change: WheelChange) -> Proposal:
    return replace(proposal, front=change) if end == "front" else replace(proposal, rear=change)


def _taller(sheet: Sheet, wheel: Wheel, end: End) -> Wheel:
    """Return the wheel taller by what its diameter is worth."""
    if wheel.overall_diameter_mm is None:
        height = wheel.tire.section_height_mm if wheel.tire else None
        by = 2 * OF_SECTION_HEIGHT * (height or 0.0)
    else:
        key = f"{end}.overall_diameter_mm"
        figure = sheet.figures.get(key)
        stated = figure.plus_minus if figure else None
        by = worth(key, plus_minus=stated, readings=figure.readings if figure else ())
    return replace(wheel, overall_diameter_mm=wheel.diameter_mm + by)
