"""How a bicycle's own steadiness changes, proposal by proposal: changes alone, with their bands."""

from collections.abc import Mapping
from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.amounts import kg, kmh
from jentrik.core.figures.machine_figures import MachineFigures
from jentrik.core.figures.stability import Rider, SetUp, Steadier, change_of_steadiness, real_parts
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.web.drawing.steadiness_plot import steadiness_plot

SPEEDS_KMH = tuple(float(one) for one in range(4, 45))
USUAL_TIRE_MM = 40.0


@dataclass(frozen=True, slots=True)
class SteadinessRow:
    """One proposal: how its weave and capsize speeds change, in words with their bands."""

    name: str
    weave: str
    capsize: str


@dataclass(frozen=True, slots=True)
class SteadinessView:
    """The changes of every proposal, and the plot of one of them."""

    rows: list[SteadinessRow]
    plot: Markup
    rider: str


def steadiness_view(
    found: PlanResult, drawn: Mapping[str, Outcome], over: str
) -> SteadinessView | None:
    """Return the steadiness of proposals against as found; None for a motorcycle."""
    if found.bike.kind != "bicycle":
        return None
    rider = _rider(found)
    before = _setup(found.figures)
    planned = {name: _setup(one.figures) for name, one in drawn.items()}
    rows = [_row(name, change_of_steadiness(before, one, rider)) for name, one in planned.items()]
    said = next(f"{row.name}: weave {row.weave}" for row in rows if row.name == over)
    plot = steadiness_plot(
        SPEEDS_KMH,
        real_parts(before, rider, SPEEDS_KMH),
        real_parts(planned[over], rider, SPEEDS_KMH),
        said,
    )
    return SteadinessView(rows, plot, f"{kg(rider.kg):.0f}")


def _rider(found: PlanResult) -> Rider:
    usual, weight = Rider(), found.bike.riding.rider_kg
    seat = found.figures.contact.seat_height_mm
    return Rider(
        kg=usual.kg if weight is None else weight,
        seat_height_mm=usual.seat_height_mm if seat is None else seat,
    )


def _setup(figures: MachineFigures) -> SetUp:
    geometry, wheels = figures.geometry, figures.wheels
    return SetUp(
        wheelbase_mm=float(geometry.wheelbase_mm),
        head_angle_deg=float(geometry.head_angle_deg),
        trail_mm=float(geometry.trail_mm),
        front_radius_mm=float(geometry.front_radius_mm),
        rear_radius_mm=float(geometry.rear_radius_mm),
        front_width_mm=wheels.front.width_mm or USUAL_TIRE_MM,
        rear_width_mm=wheels.rear.width_mm or USUAL_TIRE_MM,
    )


def _row(name: str, change: Steadier) -> SteadinessRow:
    return SteadinessRow(
        name,
        _banded(change.weave_kmh, change.weave_band),
        _banded(change.capsize_kmh, change.capsize_band),
    )


def _banded(value: float, band: tuple[float, float]) -> str:
    """Return a change with its band; one that may go either way says so."""
    if value != value or abs(value) < 0.05:  # not a number: there is no such speed
        return "no change" if value == value else "no such speed"
    words = f"{kmh(abs(value)):.1f} {'higher' if value > 0 else 'lower'}"
    low, high = sorted(abs(one) for one in band)
    if band[0] < 0 < band[1]:
        return f"{words}, or as much the other way"
    return f"{words} ({low:.1f} to {high:.1f})"
