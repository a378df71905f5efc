"""The ledger: what moves, as found, as proposed, and against the shop's limits."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from markupsafe import Markup

from jentrik.core.amounts import THIN, bare, mm, rounded
from jentrik.core.figures.rider import RiderReach, rider_reach
from jentrik.core.figures.speed import shown_before_and_after, usual_kmh
from jentrik.core.machine.assumed import inseam
from jentrik.core.machine.declared import ENDS, Kind
from jentrik.core.machine.depends import is_assumed
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.tire.tables.glossary import term_of
from jentrik.core.work.policy import Band, ShopLimits
from jentrik.web.drawing.ribbon import ribbon
from jentrik.web.figures import between, fixed

_TOO_SMALL = 0.05  # a ± that rounds to nothing is left out


@dataclass(frozen=True, slots=True)
class LedgerRow:
    """One figure: its name, as found, as proposed, the change, and its ribbon or remark."""

    label: str
    unit: str
    found: str
    planned: str
    moved: str
    assumed: bool = False  # the figure as found, or what it is computed from
    planned_assumed: bool = False
    ribbon: Markup | None = None
    remark: str = ""
    tone: str = ""
    doubt: str = ""  # what the tools can tell of the change
    unsure: bool = False  # the change is less than that
    term: str = ""  # the word it is explained under


@dataclass(frozen=True, slots=True)
class _Line:
    label: str
    key: str
    unit: str
    digits: int
    limit: str = ""


_BICYCLE = (
    _Line("Bottom-bracket height", "bb_height_mm", "mm", 0, "bb_height_mm"),
    _Line("Head angle", "head_angle_deg", "°", 1, "head_angle_deg"),
    _Line("Ground trail", "trail_mm", "mm", 0, "trail_mm"),
    _Line("Wheelbase", "wheelbase_mm", "mm", 0, "wheelbase_mm"),
    _Line("Reach", "reach_mm", "mm", 0, "reach_mm"),
    _Line("Stack", "stack_mm", "mm", 0),
    _Line("Seat angle", "seat_angle_deg", "°", 1),
    _Line("Front center", "front_center_mm", "mm", 0),
    _Line("Wheel flop", "wheel_flop_mm", "mm", 1),
)
_MOTORCYCLE = (
    _Line("Rake", "rake_deg", "°", 1, "head_angle_deg"),
    _Line("Ground trail", "trail_mm", "mm", 0, "trail_mm"),
    _Line("Wheelbase", "wheelbase_mm", "mm", 0, "wheelbase_mm"),
    _Line("Mechanical trail", "mechanical_trail_mm", "mm", 0),
    _Line("Wheel flop", "wheel_flop_mm", "mm", 1),
)


GEOMETRY_NAMES = {line.key: line.label for line in (*_BICYCLE, *_MOTORCYCLE)}


def ledger(
    sheet: Sheet, found: PlanResult, outcome: Outcome, doubts: Mapping[str, float]
) -> list[LedgerRow]:
    """Return the rows of one proposal, steering first, then heights, room and instruments.

    `doubts` is the ± of each figure's change, where it is known.
    """
    limits = found.policy.limits
    lines = _BICYCLE if sheet.kind == "bicycle" else _MOTORCYCLE
    rows = [_geometry_row(line, sheet, found, outcome, limits, doubts) for line in lines]
    rows = [row for row in rows if row is not None]
    rows += _contact_rows(sheet, found, outcome, limits)
    rows += _point_rows(found, outcome)
    rows += _room_rows(outcome)
    rows += _instrument_rows(sheet.kind, found, outcome)
    return [row for row in rows if row]


def _marks(sheet: Sheet, key: str) -> dict[str, Any]:
    """Return what marks a figure: whether it rests on an assumed one, and its word."""
    return {
        "assumed": is_assumed(sheet, key, planned=False),
        "planned_assumed": is_assumed(sheet, key, planned=True),
        "term": term_id(key),
    }


def term_id(key: str) -> str:
    """Return the id of the word a figure is explained under, "" where it has none."""
    term = term_of(key)
    return term.id if term else ""


_FIRST = ((13, 4), (10, 6), (0, 8))  # from so many findings on, so many rows


def first_rows(rows: list[LedgerRow], findings: int) -> tuple[list[LedgerRow], list[LedgerRow]]:
    """Return the rows for the first screen and the rest: figures with limits, then the next.

    Fewer where many findings share the screen with them.
    """
    room = next(shown for many, shown in _FIRST if findings >= many)
    limited = [row for row in rows if row.ribbon is not None]
    others = [row for row in rows if row.ribbon is None and row not in limited]
    chosen = {id(row) for row in [*limited, *others[: max(0, room - len(limited))]]}
    return [r for r in rows if id(r) in chosen], [r for r in rows if id(r) not in chosen]


def _geometry_row(
    line: _Line,
    sheet: Sheet,
    found: PlanResult,
    outcome: Outcome,
    limits: ShopLimits,
    doubts: Mapping[str, float],
) -> LedgerRow | None:
    old, new = (
        getattr(found.figures.geometry, line.key),
        getattr(outcome.figures.geometry, line.key),
    )
    if old is None:
        return None
    doubt = doubts.get("head_angle_deg" if line.key == "rake_deg" else line.key)
    band: Band | None = getattr(limits, line.limit, None) if line.limit else None
    drawn = None
    if band is not None and new is not None:
        # A rake grows where the head angle shrinks: its band turns round with it.
        used = Band(-band.high, -band.low) if line.key == "rake_deg" else band
        drawn = ribbon(float(new) - float(old), used)
    return LedgerRow(
        label=line.label,
        unit=line.unit,
        found=fixed(old, line.digits),
        planned=fixed(new, line.digits),
        moved=between(old, new, line.digits),
        assumed=is_assumed(sheet, line.key, planned=False),
        planned_assumed=is_assumed(sheet, line.key, planned=True),
        ribbon=drawn,
        doubt=""
        if doubt is None or doubt < _TOO_SMALL
        else f"±{THIN}{fixed(doubt, max(line.digits, 1))}",
        unsure=_unsure(old, new, doubt, line.digits),
        term=term_id(line.key),
    )


def _unsure(old: Any, new: Any, doubt: float | None, digits: int) -> bool:
    """Whether a change that is shown is less than the tools can tell."""
    if new is None or doubt is None:
        return False
    moved = abs(float(new) - float(old))
    return doubt > moved >= 0.5 * 10.0**-digits


_CONTACT = (
    ("Saddle to bar, level", "saddle_to_bar_mm", "mm", 0, ""),
    ("Bar above saddle", "bar_above_saddle_mm", "mm", 0, ""),
    ("Seat angle at the saddle", "seat_angle_at_saddle_deg", "°", 1, ""),
    ("Pedal at its lowest", "pedal_height_mm", "mm", 0, f"a pedal {mm(20)} thick"),
    (
        "Weight on the front, estimated",
        "front_share_percent",
        "%",
        0,
        "midway of saddle, bar and feet",
    ),
)


def _contact_rows(
    sheet: Sheet, found: PlanResult, outcome: Outcome, limits: ShopLimits
) -> list[LedgerRow]:
    rows = []
    for label, key, unit, digits, remark in _CONTACT:
        old, new = getattr(found.figures.contact, key), getattr(outcome.figures.contact, key)
        if old is not None and new is not None:
            row = _plain_row(label, unit, old, new, digits)
            rows.append(replace(row, remark=remark, **_marks(sheet, key)))
    of_rider = inseam(sheet)
    if of_rider is not None:
        reached = [
            rider_reach(one.figures.contact, float(of_rider.value)) for one in (found, outcome)
        ]
        assumed = of_rider.provenance.unproved
        of_reach = _rider_rows(sheet.kind, *reached)
        marked = (replace(r, assumed=assumed, planned_assumed=assumed) for r in of_reach)
        rows = [*marked, *rows]
    old, new = found.figures.contact.seat_height_mm, outcome.figures.contact.seat_height_mm
    if sheet.kind == "motorcycle" and old is not None and new is not None:
        row = _plain_row("Seat height", "mm", old, new, 0)
        drawn = ribbon(new - old, limits.seat_height_mm)
        rows.insert(0, replace(row, ribbon=drawn, **_marks(sheet, "seat_height_mm")))
    return rows


def _rider_rows(kind: Kind, old: RiderReach, new: RiderReach) -> Iterator[LedgerRow]:
    """Yield how the rider reaches the ground, stands over the frame and sits to the cranks."""
    usual = f"{mm(fixed(new.usual_to_cranks_mm, 0))} is usual for this inseam"
    lines = (
        ("Seat above the inseam", "seat_above_mm", "feet flat below 0, machine upright"),
        ("Stand-over room", "standover_room_mm", f"usual: {mm(25)} on the road, {mm(50)} off it"),
        ("Saddle to crank axle", "saddle_to_cranks_mm", usual if kind == "bicycle" else ""),
    )
    for label, key, remark in lines:
        then, now = getattr(old, key), getattr(new, key)
        if then is not None and now is not None:
            row = _plain_row(label, "mm", then, now, 0)
            yield replace(row, remark=remark, term=term_id(key))


def _point_rows(found: PlanResult, outcome: Outcome) -> list[LedgerRow]:
    rows = []
    for point in found.bike.frame.points:
        if found.bike.kind == "motorcycle" and point.role is PointRole.SADDLE:
            continue  # stands above as the seat height, with its limit
        height = found.figures.geometry.points[point.name][1]
        now = outcome.figures.geometry.points[point.name][1]
        rows.append(_plain_row(f"{point.name} height", "mm", height, now, 0))
    return rows


def _room_rows(outcome: Outcome) -> list[LedgerRow]:
    rows = []
    for spot in outcome.figures.clearances:
        place, gap = spot.place, spot.predicted_gap_mm
        remark = spot.note or (
            "" if place.minimum_mm is None else f"minimum {mm(place.minimum_mm):g}"
        )
        rows.append(
            LedgerRow(
                label=f"{place.name}, {'above' if place.direction == 'radial' else 'beside'} "
                f"{place.wheel}",
                unit="mm",
                found=fixed(place.gap_mm),
                planned=fixed(gap),
                moved=between(place.gap_mm, gap),
                remark=remark,
                tone="stop" if spot.ok is False else "",
            )
        )
    return rows


def _instrument_rows(kind: Kind, found: PlanResult, outcome: Outcome) -> list[LedgerRow]:
    rows = []
    for end in ENDS:
        old = found.bike.wheels.at(end).diameter_mm * math.pi
        new = outcome.figures.wheels.at(end).diameter_mm * math.pi
        rows.append(_plain_row(f"Circumference, {end}", "mm", old, new, 0))
    at = usual_kmh(found.bike)
    was, now = shown_before_and_after(found.bike, at, outcome.figures.speed)
    if was is not None and now is not None:
        true = bare(rounded(at, 0), "km/h")
        rows.append(_plain_row(f"Shown at a true {true}", "km/h", was, now, 1))
    stand = found.bike.side_stand
    if stand is not None and outcome.figures.stand_lean_deg is not None:
        rows.append(
            _plain_row("Lean on the stand", "°", stand.lean_deg, outcome.figures.stand_lean_deg, 1)
        )
    return rows


def _plain_row(label: str, unit: str, old: Any, new: Any, digits: int) -> LedgerRow:
    return LedgerRow(label, unit, fixed(old, digits), fixed(new, digits), between(old, new, digits))
