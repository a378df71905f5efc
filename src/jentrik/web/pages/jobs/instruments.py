"""What the instruments say: speed rungs, counting, tone rings, gearing, the computer's setting."""

import math
from dataclasses import dataclass, field

from markupsafe import Markup

from jentrik.core.amounts import THIN, bare, km, kmh
from jentrik.core.figures.speed import shown_kmh
from jentrik.core.figures.tone_ring import ring_pairs
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.gearing import (
    ROAD_SPEEDS_KMH,
    developments,
    engine_rpm,
    overall_ratios,
    sprockets_back,
)
from jentrik.core.machine.machine import Speedometer
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.rules.instruments import OVER_AS_BUILT_KMH, computer_setting_mm
from jentrik.web.drawing.rungs import Rung, rungs_drawing
from jentrik.web.figures import change, fixed

_RUNGS = {"motorcycle": (30, 50, 80, 100, 130), "bicycle": (10, 20, 30, 40)}


_FELT = 0.02  # of a circumference: below it no one changes a sprocket
_MOVED = 1e-3  # of a circumference: below it the gears stay as they were


@dataclass(frozen=True, slots=True)
class Table:
    """A small table: a caption, heads, rows of cells, and a line below it."""

    caption: str
    heads: list[str]
    rows: list[list[str]]
    below: str = ""


@dataclass(frozen=True, slots=True)
class InstrumentsView:
    """Station Check's instruments: a drawing, lines, tables."""

    rungs: Markup | None
    says: list[str]
    tables: list[Table] = field(default_factory=list)


def instruments_view(found: PlanResult, outcome: Outcome) -> InstrumentsView:
    """Return what one proposal does to instruments and gears."""
    tables = [*_rings(found, outcome), *_gears(found, outcome)]
    return InstrumentsView(_rungs(found, outcome), _says(found, outcome), tables)


def _rungs(found: PlanResult, outcome: Outcome) -> Markup | None:
    bike, rungs = found.bike, []
    over = OVER_AS_BUILT_KMH.get(bike.vehicle_class)
    for true in _RUNGS[bike.kind]:
        if bike.riding.top_speed_kmh is not None and true > bike.riding.top_speed_kmh:
            continue
        old = shown_kmh(true, bike.speedometer, counted_ratio=1.0)
        new = shown_kmh(true, bike.speedometer, counted_ratio=outcome.figures.speed.counted_ratio)
        if old is not None and new is not None:
            most = None if over is None else 1.1 * true + over
            rungs.append(Rung(true, float(old), float(new), most))
    return rungs_drawing(rungs) if rungs else None


def _ratio(outcome: Outcome, end: str) -> float:
    return float(getattr(outcome.figures.speed, f"circumference_ratio_{end}"))


def _says(found: PlanResult, outcome: Outcome) -> list[str]:
    bike, meter, lines = found.bike, found.bike.speedometer, []
    if meter is None:
        lines.append("Which wheel feeds the instrument is not on the sheet.")
    else:
        ratio = (
            1.0
            if outcome.figures.speed.counted_ratio is None
            else float(outcome.figures.speed.counted_ratio)
        )
        feeds = "gearbox" if meter.wheel == "gearbox" else f"{meter.wheel} wheel"
        lines.append(
            f"The {feeds} feeds it: {km(fixed(1000 / ratio))} counted where it counted "
            f"{km(1000)} before."
        )
        wheel = outcome.figures.wheels.at(meter.end)
        if bike.kind == "bicycle":
            lines.append(_setting(found, meter, wheel, ratio))
    by = float(outcome.figures.speed.front_rear_ratio_change_percent)
    if bike.kind == "motorcycle" and abs(by) >= _SHOWN_PERCENT:
        lines.append(
            f"The front's circumference against the rear's changes by {change(by, 1)}{THIN}%."
        )
    return lines


_SHOWN_PERCENT = 0.05  # below it the figure would show as none


def _setting(found: PlanResult, meter: Speedometer, wheel: Wheel, ratio: float) -> str:
    """Return what a computer is to be set to, always in mm."""
    rolled = found.bike.wheels.at(meter.end).rolled_mm
    of_what = "the new tire's size" if meter.setting_mm is None else "the setting it has"
    said = f"Wheel setting {computer_setting_mm(meter, wheel, ratio):.0f} mm from {of_what}"
    if rolled is None:
        return f"{said}; a roll-out under the rider comes out one or two percent less."
    return f"{said}, {rolled * ratio:.0f} mm from the roll-out as found ({rolled:.0f} mm)."


def _rings(found: PlanResult, outcome: Outcome) -> list[Table]:
    """Return the pairs of tone rings worth weighing, where a wheel with a ring changes size."""
    slots = {end: found.bike.wheels.at(end).tone_ring_slots for end in ENDS}
    moved = any(slots[end] is not None and abs(_ratio(outcome, end) - 1) >= _MOVED for end in ENDS)
    stated = {end: getattr(outcome.proposal, end).tone_ring_slots for end in ENDS}
    if not moved and not any(stated.values()):
        return []
    meter = found.bike.speedometer
    indicated = outcome.figures.speed.indicated_at_100_kmh
    pairs = ring_pairs(
        found={end: None if slots[end] is None else round(slots[end] or 0) for end in ENDS},
        planned={end: None if stated[end] is None else round(stated[end]) for end in ENDS},
        ratios={end: _ratio(outcome, end) for end in ENDS},
        feeds=meter.wheel if meter is not None and meter.wheel != "gearbox" else None,
        indicated_at_100_kmh=None if indicated is None else float(indicated),
    )
    rows = [
        [
            _count(pair.front),
            _count(pair.rear),
            pair.why,
            f"{change(pair.ratio_change_percent, 2)}{THIN}%",
            bare(fixed(pair.indicated_at_100_kmh, 1), "km/h"),
        ]
        for pair in pairs
    ]
    return [
        Table(
            "Tone rings, front and rear together",
            ["Front", "Rear", "Why", "Front against rear", f"Shown at {kmh(100)}, ring feeds it"],
            rows,
            "ABS comes first: the pair nearest to the old front/rear ratio. A recalibration, or a "
            "corrector on the instrument alone, cures the reading. The ring must run true; "
            "drilling one is machine-shop work.",
        )
    ]


def _count(slots: int | None) -> str:
    return "as it is" if slots is None else str(slots)


def _gears(found: PlanResult, outcome: Outcome) -> list[Table]:
    gearing = found.bike.gearing
    old = math.pi * float(found.figures.geometry.rear_radius_mm) * 2
    new = math.pi * float(outcome.figures.geometry.rear_radius_mm) * 2
    tables: list[Table] = []
    if abs(new / old - 1) < _MOVED:
        return tables
    for ring in gearing.chainrings:
        rows = [
            [
                f"{development.sprocket:g}",
                fixed(development.found_m, 2),
                fixed(development.planned_m, 2),
            ]
            for development in developments(gearing, ring, found_mm=old, planned_mm=new)
        ]
        if rows:
            heads = ["Sprocket", "as found, m", "planned, m"]
            tables.append(Table(f"Development, {ring:g}-tooth chainring", heads, rows))
    overall = overall_ratios(gearing)
    if overall:
        tables.append(_engine_table(overall, old, new, gearing.most_rpm))
    felt = abs(new / old - 1) >= _FELT
    if felt and gearing.front_sprocket is not None and gearing.rear_sprocket is not None:
        pairs = sprockets_back(
            gearing.front_sprocket, gearing.rear_sprocket, circumference_ratio=new / old
        )
        tables.append(
            Table(
                f"Sprockets that bring the gearing back, {gearing.front_sprocket:g}/"
                f"{gearing.rear_sprocket:g} as found",
                ["Front", "Rear", "Off by"],
                [
                    [str(pair.front), str(pair.rear), f"{change(pair.off_percent, 1)}{THIN}%"]
                    for pair in pairs
                ],
                "More is shorter. Chain length and the guard's room change with them.",
            )
        )
    return tables


def _engine_table(
    overall: tuple[float, ...], old_mm: float, new_mm: float, most_rpm: float | None
) -> Table:
    rows = []
    for number, ratio in enumerate(overall, start=1):
        cells = [str(number), fixed(ratio, 2)]
        for speed in ROAD_SPEEDS_KMH:
            then = engine_rpm(kmh=speed, circumference_mm=old_mm, overall=ratio)
            now = engine_rpm(kmh=speed, circumference_mm=new_mm, overall=ratio)
            beyond = most_rpm is not None and min(then, now) > most_rpm
            cells.append("–" if beyond else f"{fixed(then)} → {fixed(now)}")
        rows.append(cells)
    heads = ["Gear", "Overall", *(f"at {kmh(one)}" for one in ROAD_SPEEDS_KMH)]
    return Table("Engine speed, turns a minute", heads, rows)
