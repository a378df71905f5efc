r"""A machine's figures in another of its set-ups: measured in one, exact in every other.

    measured in A  ->  the frame, fixed in itself  ->  what the tape would say in B

The chassis is rigid, so its places are worked back to it from the set-up they were measured in
and forward to any other: the pose of the change from A to B does both at once.  Gaps follow by
the same prediction a plan makes; the instrument by the wheel that feeds it; brake pads by half
the change of bead seat.  Source: derived.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from jentrik.core.figures.parking import on_center_stand
from jentrik.core.figures.room import Shifts
from jentrik.core.machine.catalogue import KNOWN
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import ContactChange, Proposal
from jentrik.core.machine.restated import restated, turned_by
from jentrik.core.machine.setup import (
    CORRECTED,
    Parts,
    Setup,
    number_of,
    only_of_set_up,
    part_of,
    value_of,
)
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.wheel import WheelChange
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of, shifts_of
from jentrik.core.tire.sidewall import known_code

OF_THE_FRAME = frozenset(key for key, known in KNOWN.items() if known.of_frame)
_SAME_SET_UP_ONLY = "cross."  # compared with figures taken beside them


def of_the_frame(key: str) -> bool:
    """Whether a figure is measured in a set-up and can be worked out for every other."""
    return key in OF_THE_FRAME or key.startswith(("line.", _SAME_SET_UP_ONLY))


def change_between(before: Parts, after: Parts, *, turned_deg: float, position: str) -> Proposal:
    """Return what leads from one set-up to another, of all that moves the chassis.

    `turned_deg` is how far the machine in `before` is turned against the frame as first measured,
    and `position` the one that is fitted where a set-up names none.
    """

    def less(key: str) -> float:
        return number_of(after, key) - number_of(before, key)

    def other(key: str) -> float | None:
        new = value_of(after, key)
        return None if new is None or new == value_of(before, key) else float(new)

    x, y = turned_by(less("set.rear_shift_x_mm"), less("set.rear_shift_y_mm"), turned_deg)
    here, there = (str(value_of(parts, "set.position") or position) for parts in (before, after))
    return Proposal(
        "another set-up",
        front=_wheel_change(after, "front"),
        rear=_wheel_change(after, "rear"),
        fork_length_mm=other("fork.length_mm"),
        fork_offset_mm=other("fork.offset_mm"),
        lower_cup_mm=less("set.lower_cup_mm"),
        rear_shift_x_mm=x,
        rear_shift_y_mm=y,
        position=there if there and there != here else None,
        fork_travel_mm=other("suspension.front.travel_mm"),
        headset_turn_deg=less("set.headset_turn_deg"),
        shock_mm=other("suspension.rear.shock_mm"),
        link_longer_mm=less("set.link_longer_mm"),
        corrected_percent=number_of(after, CORRECTED),
        contact=ContactChange(
            bar_rise_mm=less("set.bar_rise_mm"),
            spacers_mm=less("set.spacers_mm"),
            saddle_rise_mm=less("set.saddle_rise_mm"),
            crank_mm=other("crank_mm"),
        ),
    )


def _wheel_change(parts: Parts, end: End) -> WheelChange:
    """Return a wheel as a set-up has it; its diameter is said in any case."""
    code, measured = value_of(parts, f"{end}.tire"), value_of(parts, f"{end}.overall_diameter_mm")
    tire = known_code(str(code)) if code else None
    diameter = measured if measured is not None else tire.overall_diameter_mm if tire else None
    return WheelChange(tire, None if diameter is None else float(diameter), **_guard(parts, end))


def _guard(parts: Parts, end: End) -> dict[str, Any]:
    return {name: value_of(parts, f"{end}.{name}") for name in ("guard", "guard_inside_mm")}


@dataclass(frozen=True, slots=True)
class Restated:
    """What a sheet says in another set-up: figures by key, gaps, points, lines by row.

    A gap is None where no one can predict it.
    """

    figures: Mapping[str, float]
    gaps: Mapping[int, float | None]
    points: Mapping[int, tuple[float, float]]
    positions: Mapping[int, tuple[float, float]]
    room: Mapping[int, float]  # how far from the axle each line then is
    turned_deg: float


def restate(sheet: Sheet, bike: Bike, after: Parts) -> Restated:
    """Return what a sheet's figures are in another set-up; `bike` is the sheet as a machine.

    Refuses a set-up in which the machine cannot stand.
    """
    found = as_measured(bike)
    before = sheet.setup.parts if sheet.setup else {}
    fitted = next(
        (position.name for position in sheet.positions if not position.x_mm and not position.y_mm),
        "",
    )
    change = change_between(before, after, turned_deg=sheet.turned_deg, position=fitted)
    outcome = outcome_of(found, change)
    now = restated(
        bike,
        change=outcome.change,
        figures=outcome.figures.geometry,
        pose=outcome.pose,
        wheels=outcome.figures.wheels,
    )
    predicted = {spot.place.name: spot.predicted_gap_mm for spot in outcome.figures.clearances}
    at = {name: (float(x), float(y)) for name, (x, y) in outcome.figures.geometry.points.items()}
    lies = next(
        (position for position in now.frame.positions if position.name == change.position), None
    )
    at_x, at_y = (lies.x_mm, lies.y_mm) if lies else (0.0, 0.0)
    positions = {
        position.name: (position.x_mm - at_x, position.y_mm - at_y)
        for position in now.frame.positions
    }
    return Restated(
        figures={
            key: value
            for key, value in _figures(found, now, outcome, after)
            if key in sheet.figures and value is not None
        },
        gaps={place.id: _gap(predicted.get(place.name)) for place in sheet.clearances},
        points={point.id: at[point.name] for point in sheet.points if point.name in at},
        positions={position.id: positions[position.name] for position in sheet.positions},
        room=dict(_room(sheet, bike, change, shifts_of(bike, outcome.change))),
        turned_deg=sheet.turned_deg + float(outcome.pose.pitch_deg),
    )


def _room(
    sheet: Sheet, bike: Bike, change: Proposal, shifts: Shifts
) -> Iterator[tuple[int, float]]:
    there = change.without_lost_guards(bike).room
    for kept, line in zip(sheet.room, bike.room, strict=False):
        if line in there:
            yield kept.id, kept.from_axle_mm + shifts.of(line)


def _gap(predicted: Any) -> float | None:
    return None if predicted is None else float(predicted)


def _figures(
    found: PlanResult, now: Bike, outcome: Outcome, after: Parts
) -> Iterator[tuple[str, float | None]]:
    """Yield the frame's figures as they would be measured after the change."""
    bike = found.bike
    yield "wheelbase_mm", now.frame.wheelbase_mm
    yield "head_angle_deg", now.frame.head_angle_deg
    yield "rake_deg", 90.0 - now.frame.head_angle_deg
    yield "chainstay_mm", now.frame.chainstay_mm
    yield "bb_height_mm", now.frame.bb_height_mm
    yield "seat_angle_deg", now.frame.seat_angle_deg
    yield "stack_mm", now.frame.stack_mm
    yield "reach_mm", now.frame.reach_mm
    if now.suspension.pivot is not None:
        yield "suspension.rear.pivot_x_mm", now.suspension.pivot.x_mm
        yield "suspension.rear.pivot_height_mm", now.suspension.pivot.height_mm
    yield from _stands(bike, outcome)
    yield "speedometer.reads_over_percent", _reads_over(bike, outcome)
    for end in ENDS:
        rolled = bike.wheels.at(end).rolled_mm
        ratio = float(getattr(outcome.figures.speed, f"circumference_ratio_{end}"))
        yield f"{end}.rolled_mm", None if rolled is None else rolled * ratio
        yield f"{end}.rim_brake.pad_reach_mm", _pad_reach(bike, after, end)


def _stands(bike: Bike, outcome: Outcome) -> Iterator[tuple[str, float | None]]:
    """Yield the side stand's foot and pivot, and the center stand's gap and feet."""
    stand, pose = bike.side_stand, outcome.pose
    if stand is not None:
        lean = math.radians(stand.lean_deg)
        aside = stand.foot_out_mm * math.cos(lean)
        foot_up = stand.foot_out_mm * math.sin(lean)
        x, up = pose.place((stand.foot_x_mm, foot_up))
        yield "side_stand.lean_deg", math.degrees(math.atan2(float(up), aside))
        yield "side_stand.foot_out_mm", math.hypot(aside, float(up))
        yield "side_stand.foot_x_mm", float(x)
        if stand.pivot_height_mm is not None:
            # The pivot goes up and down with the foot: the leg is as long as it was.
            yield "side_stand.pivot_height_mm", stand.pivot_height_mm - foot_up + float(up)
    lifted = on_center_stand(bike, outcome.figures.wheels, pose)
    if lifted is not None:
        yield "center_stand.gap_mm", max(lifted[0], 0.0)
        yield "center_stand.feet_x_mm", lifted[1]


def _reads_over(bike: Bike, outcome: Outcome) -> float | None:
    meter, ratio = bike.speedometer, outcome.figures.speed.counted_ratio
    if meter is None or meter.reads_over_percent is None or ratio is None:
        return None
    return ((1 + meter.reads_over_percent / 100) / float(ratio) - 1) * 100


def _pad_reach(bike: Bike, after: Parts, end: End) -> float | None:
    """Return bolt or boss to pad on the rim of a set-up; a boss below is further from less rim."""
    wheel = bike.wheels.at(end)
    brake, code = wheel.rim_brake, value_of(after, f"{end}.tire")
    if brake is None or brake.pad_reach_mm is None or wheel.tire is None or not code:
        return None
    down = (wheel.tire.bead_seat_diameter_mm - known_code(str(code)).bead_seat_diameter_mm) / 2
    return brake.pad_reach_mm + (-down if brake.mount == "boss below" else down)


def sheet_in(sheet: Sheet, setup: Setup, said: Restated) -> Sheet:
    """Return a sheet as it is in another set-up: its parts, and the frame's figures restated.

    What is worked out says where it was measured; gaps no one can predict are left out.
    """
    name = sheet.setup.name if sheet.setup else ""
    figures: dict[str, Figure] = {
        key: figure
        for key, figure in sheet.figures.items()
        if part_of(key) is None and not of_the_frame(key) and not only_of_set_up(key)
    }
    figures |= setup.parts
    for key, value in said.figures.items():
        figures[key] = _carried(sheet.figures[key], value, name)
    return replace(
        sheet,
        figures=figures,
        clearances=tuple(
            replace(place, gap_mm=gap, measured_in=place.measured_in or name)
            for place in sheet.clearances
            if (gap := said.gaps[place.id]) is not None
        ),
        points=tuple(
            replace(point, x_mm=x, height_mm=height)
            for point in sheet.points
            for x, height in (said.points.get(point.id, (point.x_mm, point.height_mm)),)
        ),
        positions=tuple(
            replace(
                position, x_mm=said.positions[position.id][0], y_mm=said.positions[position.id][1]
            )
            for position in sheet.positions
        ),
        room=tuple(
            replace(line, from_axle_mm=said.room[line.id])
            for line in sheet.room
            if line.id in said.room
        ),
        setup=setup,
        turned_deg=said.turned_deg,
    )


def _carried(figure: Figure, value: float, name: str) -> Figure:
    """Return a figure worked out from another set-up; one that was assumed stays assumed."""
    kept = figure.provenance if figure.provenance.unproved else Provenance.COMPUTED
    return replace(
        figure, value=value, provenance=kept, readings=(), measured_in=figure.measured_in or name
    )
