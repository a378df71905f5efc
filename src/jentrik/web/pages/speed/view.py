"""The instrument of one machine compared with the truth: pairs, the line through them, a plot."""

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.amounts import THIN, bare, kmh
from jentrik.core.errors import Refusal
from jentrik.core.figures.calibration import (
    FAR_OFF_KMH,
    Calibration,
    SpeedPair,
    calibrate,
    only_a_percentage,
)
from jentrik.core.machine.sheet import Sheet
from jentrik.store.speeds import KeptPair
from jentrik.web.drawing.speed_plot import speed_plot
from jentrik.web.figures import change, fixed
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed


@dataclass(frozen=True, slots=True)
class PairRow:
    """One pair: true, shown, what the line leaves, whether that is far off."""

    id: int
    true: str
    shown: str
    residual: str
    far_off: bool
    taken_on: str


@dataclass(frozen=True, slots=True)
class SpeedView:
    """The page of one machine's instrument."""

    sheet: Sheet
    rows: list[PairRow]
    says: list[str]
    waits: str
    plot: Markup | None
    can_be_used: bool
    typed: Typed
    complaints: dict[str, Complaint]
    notes: list[str]


def speed_view(
    sheet: Sheet,
    kept: Sequence[KeptPair],
    *,
    typed: Typed = NOTHING_TYPED,
    notes: list[str] | None = None,
) -> SpeedView:
    """Return the pairs of a machine with the line through them."""
    line, waits = _line([one.pair for one in kept])
    rows = []
    for place, one in enumerate(kept):
        left = line.residuals_kmh[place] if line and line.spread_kmh is not None else None
        rows.append(
            PairRow(
                one.id,
                bare(fixed(one.pair.true_kmh, 1), "km/h"),
                bare(fixed(one.pair.shown_kmh, 1), "km/h"),
                bare(change(left, 1), "km/h") if left is not None else "",
                left is not None and abs(left) > FAR_OFF_KMH,
                f"{one.taken_on:%d %b %Y}{', simulated' if one.simulated else ''}",
            )
        )
    return SpeedView(
        sheet=sheet,
        rows=rows,
        says=_says(line, [one.pair for one in kept]) if line else [],
        waits=waits,
        plot=speed_plot(line, [one.pair for one in kept]) if line else None,
        can_be_used=line is not None and "speedometer.wheel" in sheet.figures,
        typed=typed,
        complaints=typed.complaints(),
        notes=notes or [],
    )


def _line(pairs: list[SpeedPair]) -> tuple[Calibration | None, str]:
    """Return the line through the pairs, or why there is none yet."""
    try:
        return calibrate(pairs), ""
    except Refusal as refusal:
        return None, refusal.message if pairs else ""


def _says(line: Calibration, pairs: list[SpeedPair]) -> list[str]:
    scatter = "Two pairs leave nothing to check the line by."
    if line.spread_kmh is not None:
        scatter = f"The pairs lie about {kmh(fixed(line.spread_kmh, 1))} off the line."
    return [
        f"Shown = true {change(line.reads_over_percent, 1)}{THIN}% "
        f"{kmh(change(line.offset_kmh, 1))}. {scatter}",
        f"± {fixed(line.slope_error_percent, 1)}{THIN}% and ± "
        f"{kmh(fixed(line.offset_error_kmh, 1))}: the line lies inside 95 times of 100.",
        f"As a plain percentage: {change(only_a_percentage(pairs), 1)}{THIN}%.",
        f"At a true {kmh(50)} it shows {_within(line, 50)}, at {kmh(100)} {_within(line, 100)}.",
    ]


def _within(line: Calibration, true_kmh: float) -> str:
    return f"{kmh(fixed(line.shown(true_kmh), 1))} ± {kmh(fixed(line.plus_minus_kmh(true_kmh), 1))}"
