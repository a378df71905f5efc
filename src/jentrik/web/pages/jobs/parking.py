"""How a machine stands parked, before and after: drawing, figures, what brings it back."""

import math
from collections.abc import Iterable
from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.amounts import mm
from jentrik.core.figures.parking import Parked
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.web.drawing.on_stand import StandLean, stand_drawing
from jentrik.web.figures import fixed
from jentrik.web.pages.jobs.room import TouchRow, touch_row

_BAR_SHARE, _USUAL_TIRE_MM, _USUAL_TALL_MM = 0.34, 110.0, 1080.0  # for the eye


@dataclass(frozen=True, slots=True)
class StandsView:
    """Station Check's stands: the drawing, what is known before and after, the cure."""

    drawing: Markup | None
    rows: list[TouchRow]
    says: list[str]


def stands_view(found: PlanResult, outcome: Outcome, sheet: Sheet) -> StandsView:
    """Return the stands of one proposal; what rests on an assumed mass is marked an estimate."""
    estimated = any(
        figure.provenance.unproved
        for key, figure in sheet.figures.items()
        if key.startswith("mass.")
    )
    before, after = found.figures.parked, outcome.figures.parked
    rows, says = [], []
    if before is not None and after is not None:
        rows += _leans(before, after, estimated=estimated)
        says += _cure(after)
        if estimated:
            says.append("The center of mass is assumed: the slopes are estimates.")
        if before.tips_over_foot_deg is None:
            says.append("With its center of mass on the sheet the lean it may reach is known.")
    center = found.bike.center_stand
    if center is not None and outcome.figures.center_stand_gap_mm is not None:
        rows.append(
            touch_row(
                f"Center stand lifts the {center.lifts} wheel",
                "mm",
                center.gap_mm,
                outcome.figures.center_stand_gap_mm,
                0,
            )
        )
    return StandsView(_drawing(found, outcome, after), rows, says)


def _leans(before: Parked, after: Parked, *, estimated: bool) -> list[TouchRow]:
    if before.tips_over_foot_deg is None:  # no center of mass: how far it tips is not known
        leans = (
            ("Lean on the side stand", before.lean_deg, after.lean_deg),
            ("The same on round tires", before.round_lean_deg, after.round_lean_deg),
        )
        return _rows(leans)
    about = ", estimate" if estimated else ""
    return _rows(
        (
            ("Lean on the side stand", before.lean_deg, after.lean_deg),
            ("The same on round tires", before.round_lean_deg, after.round_lean_deg),
            (f"Slope until it tips away{about}", before.tips_away_deg, after.tips_away_deg),
            (
                f"The same in the shop's gust{about}",
                before.tips_in_gust_deg,
                after.tips_in_gust_deg,
            ),
            (
                f"Slope until it goes over its foot{about}",
                before.tips_over_foot_deg,
                after.tips_over_foot_deg,
            ),
        )
    )


def _rows(leans: Iterable[tuple[str, float | None, float | None]]) -> list[TouchRow]:
    return [
        touch_row(label, "°", old, new, 1)
        for label, old, new in leans
        if old is not None and new is not None
    ]


def _cure(after: Parked) -> list[str]:
    wanted = after.wanted
    if wanted is None or abs(wanted.under_foot_mm) < 1:
        return []
    high = wanted.under_foot_mm
    puck = (
        f"{mm(fixed(high))} of puck under the foot"
        if high > 0
        else f"A foot {mm(fixed(-high))} higher"
    )
    leg = ""
    if wanted.longer_mm is not None:
        way = "longer" if wanted.longer_mm > 0 else "shorter"
        leg = f" or a leg {mm(fixed(abs(wanted.longer_mm)))} {way}"
    return [f"{puck}{leg} brings the old lean back."]


def _drawing(found: PlanResult, outcome: Outcome, after: Parked | None) -> Markup | None:
    stand = found.bike.side_stand
    if stand is None or after is None:
        return None
    lean = math.radians(stand.lean_deg)
    out, up = stand.foot_out_mm * math.cos(lean), stand.foot_out_mm * math.sin(lean)
    now_up = out * math.tan(math.radians(after.lean_deg))
    tall = outcome.figures.contact.seat_height_mm
    bar = found.bike.place_of(PointRole.BAR, found.figures.geometry.points)
    tall_mm = float(bar[1] if bar else tall or _USUAL_TALL_MM)
    return stand_drawing(
        StandLean(stand.lean_deg, out, up),
        StandLean(after.lean_deg, out, now_up),
        width_mm=outcome.figures.wheels.rear.width_mm or _USUAL_TIRE_MM,
        tall_mm=tall_mm,
        bar_mm=tall_mm * _BAR_SHARE,
    )
