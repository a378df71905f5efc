"""The fitted machine against what was planned: figures to measure again, and what they say.

    agrees  where  |measured - predicted| <= +-        the +- of the plan and of the tape together

What was fitted goes back onto the machine's sheet: measured figures as measured, the rest as the
plan tells them, assumed until someone measures.  Sources: the plan; the tools' usual +- is common
practice.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from jentrik.core.figures.contact import SADDLE, named
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.restated import restated
from jentrik.core.machine.suspension import ENDS
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.sheet.readings import USUAL_PLUS_MINUS, nominal_worth
from jentrik.core.sheet.sheet import Place, SheetPoint

TAPE_MM, FINDER_DEG, GAUGE_MM = 2.0, 0.3, 1.0  # common practice: what a careful hand reads
UNMOVED = 0.005  # of a figure: the sheet keeps hundredths
WIDTH_OF_MARK = 0.05  # of the width: a casing against its mark (common practice)


@dataclass(frozen=True, slots=True)
class Expectation:
    """One figure to measure after fitting: what the plan says, and how far it may be off."""

    key: str
    label: str
    unit: str
    predicted: float
    plus_minus: float
    tire: str = ""  # whose nominal size this is

    def agrees(self, measured: float) -> bool:
        """Whether a measured figure lies within the ±."""
        return abs(measured - self.predicted) <= self.plus_minus


def expectations(
    found: PlanResult, outcome: Outcome, doubts: Mapping[str, float]
) -> tuple[Expectation, ...]:
    """Return what to measure again, in the order of the work; `doubts` are the ± of changes."""
    return tuple(_expected(found, outcome, doubts))


def _expected(
    found: PlanResult, outcome: Outcome, doubts: Mapping[str, float]
) -> Iterator[Expectation]:
    bike, figures = found.bike, outcome.geometry
    for end in ENDS:
        wheel = outcome.wheels.at(end)
        tire = wheel.tire
        if getattr(outcome.proposal, end).tire is None or tire is None:
            continue
        yield Expectation(
            f"{end}.overall_diameter_mm",
            f"{end.capitalize()} tire, diameter",
            "mm",
            wheel.diameter_mm,
            max(nominal_worth(tire), TAPE_MM),
            tire.text,
        )
        if tire.width_mm is not None:
            yield Expectation(
                f"{end}.width_mm",
                f"{end.capitalize()} tire, width",
                "mm",
                tire.width_mm,
                max(tire.width_mm * WIDTH_OF_MARK, GAUGE_MM),
                tire.text,
            )
    angle = "head_angle_deg" if bike.kind == "bicycle" else "rake_deg"
    label = "Head angle" if bike.kind == "bicycle" else "Rake"
    yield Expectation(
        angle,
        label,
        "°",
        float(getattr(figures, angle)),
        doubts.get("head_angle_deg", 0.0) + FINDER_DEG,
    )
    if figures.bb_height_mm is not None:
        yield Expectation(
            "bb_height_mm",
            "Bottom-bracket height",
            "mm",
            float(figures.bb_height_mm),
            doubts.get("bb_height_mm", 0.0) + USUAL_PLUS_MINUS["bb_height_mm"],
        )
    elif outcome.contact.seat_height_mm is not None:
        yield Expectation(
            "seat_height_mm", "Seat height", "mm", outcome.contact.seat_height_mm, 2 * TAPE_MM
        )
    for spot in outcome.clearances:
        if spot.predicted_gap_mm is not None:
            yield Expectation(
                f"place:{spot.place.name}",
                f"Gap: {spot.place.name}",
                "mm",
                float(spot.predicted_gap_mm),
                _gap_doubt(outcome, spot.place.wheel),
            )
    if outcome.stand_lean_deg is not None:
        yield Expectation(
            "side_stand.lean_deg",
            "Lean on the side stand",
            "°",
            float(outcome.stand_lean_deg),
            2 * FINDER_DEG,
        )
    meter = bike.speedometer
    if meter is not None and bike.wheels.at(meter.end).rolled_mm is not None:
        ratio = float(getattr(outcome.speed, f"circumference_ratio_{meter.end}"))
        rolled = (bike.wheels.at(meter.end).rolled_mm or 0.0) * ratio
        yield Expectation(
            f"{meter.end}.rolled_mm", f"Roll-out, {meter.end}", "mm", rolled, rolled * 0.01
        )


def _gap_doubt(outcome: Outcome, end: str) -> float:
    tire = getattr(outcome.wheels, end).tire
    return GAUGE_MM + nominal_worth(tire) / 2


@dataclass(frozen=True, slots=True)
class NewSheet:
    """What the sheet becomes: figures by key, whether measured; gaps and points; what goes."""

    figures: dict[str, tuple[float | str, bool]]
    gone: tuple[str, ...]
    places: tuple[tuple[Place, float | None, bool], ...]
    points: tuple[tuple[SheetPoint, float, float], ...]
    positions: Mapping[str, tuple[float, float]]  # by name, from the one that is fitted now
    sensed_ratio: float


def new_sheet(
    found: PlanResult,
    outcome: Outcome,
    measured: Mapping[str, float],
    places: tuple[Place, ...],
    points: tuple[SheetPoint, ...],
) -> NewSheet:
    """Return the sheet of the machine as it was fitted.

    Measured figures win; gaps no one could predict or measured again go.
    """
    bike, proposal = found.bike, outcome.proposal
    now = restated(
        bike,
        change=outcome.change,
        figures=outcome.geometry,
        pose=outcome.pose,
        wheels=outcome.wheels,
    )
    expected = dict(_figures(bike, now, outcome, measured))
    figures: dict[str, tuple[float | str, bool]] = {
        key: (value, False) for key, value in expected.items()
    }
    for end in ENDS:
        tire = getattr(proposal, end).tire
        if tire is not None:
            figures[f"{end}.tire"] = (tire.text, True)
    figures |= _parts_fitted(outcome)
    for key, value in measured.items():
        if not key.startswith("place:") and not key.endswith((".width_mm", "seat_height_mm")):
            figures[key] = (value, True)
    gone = [key for key in _may_go(outcome) if key not in figures]
    predicted = {spot.place.name: spot.predicted_gap_mm for spot in outcome.clearances}
    gaps = tuple(_gap(place, predicted, measured) for place in places)
    at = {name: (float(x), float(y)) for name, (x, y) in outcome.geometry.points.items()}
    seat = named({point.name: (0.0, 0.0) for point in points}, SADDLE) is not None
    moved = []
    for point in points:
        x, height = at.get(point.name, (point.x_mm, point.height_mm))
        if seat and point.name.casefold().startswith(SADDLE) and "seat_height_mm" in measured:
            height = measured["seat_height_mm"]
        moved.append((point, x, height))
    ratio = _sensed_ratio(outcome, measured) or 1.0
    fitted = next((one for one in now.positions if one.name == proposal.position), None)
    at_x, at_y = (fitted.x_mm, fitted.y_mm) if fitted else (0.0, 0.0)
    positions = {one.name: (one.x_mm - at_x, one.y_mm - at_y) for one in now.positions}
    return NewSheet(figures, tuple(gone), gaps, tuple(moved), positions, ratio)


_OF_TIRE = ("overall_diameter_mm", "fitted.make", "fitted.most_kpa")
_OF_WHEEL = (
    "rim.inner_width_mm",
    "rim.tube",
    "rim.hooks",
    "rim.most_kpa",
    "hub.rotor_mount",
    "hub.driver",
    "hub.chain_line_mm",
)
_OF_MACHINE = ("hub.spacing_mm", "hub.axle_mm", "hub.rotor_mm")  # what frame and caliper take


def _may_go(outcome: Outcome) -> Iterator[str]:
    """Return what the sheet said of the tires and wheels that came off."""
    for end in ENDS:
        if getattr(outcome.proposal, end).tire is not None:
            yield from (f"{end}.{name}" for name in _OF_TIRE)
        if end in outcome.others:
            yield from (f"{end}.{name}" for name in _OF_WHEEL)


def _parts_fitted(outcome: Outcome) -> dict[str, tuple[float | str, bool]]:
    """Return what is known of the tires and wheels that went on; of a tire, as read on it."""
    expected: dict[str, tuple[float | str, bool]] = {}
    for end in ENDS:
        change = getattr(outcome.proposal, end)
        for name in (*_OF_TIRE, *_OF_WHEEL, *_OF_MACHINE):
            value: Any = change
            for step in name.split("."):
                value = getattr(value, step, None)
            if value is not None:
                expected[f"{end}.{name}"] = (value, name in _OF_TIRE)
    return expected


def _gap(
    place: Place, predicted: Mapping[str, object], measured: Mapping[str, float]
) -> tuple[Place, float | None, bool]:
    if f"place:{place.name}" in measured:
        return place, measured[f"place:{place.name}"], True
    gap = predicted.get(place.name)
    return place, None if gap is None else max(float(gap), 0.0), False  # type: ignore[arg-type]


def _sensed_ratio(outcome: Outcome, measured: Mapping[str, float]) -> float | None:
    """Return what feeds the instrument as fitted over as found: by the measured wheel, if any."""
    ratio = outcome.speed.sensed_ratio
    if ratio is None or outcome.sensed_end is None:
        return None
    end = outcome.sensed_end
    diameter = measured.get(f"{end}.overall_diameter_mm")
    if diameter is None:
        return float(ratio)
    return float(ratio) * diameter / outcome.wheels.at(end).diameter_mm


def _figures(
    bike: Bike, now: Bike, outcome: Outcome, measured: Mapping[str, float]
) -> Iterator[tuple[str, float]]:
    """Return the figures of the sheet that the change moves, as the plan tells them."""
    angle = (
        ("head_angle_deg", now.head_angle_deg)
        if bike.kind == "bicycle"
        else ("rake_deg", 90.0 - now.head_angle_deg)
    )
    pairs: list[tuple[str, float | None]] = [
        ("wheelbase_mm", now.wheelbase_mm),
        angle,
        ("fork.length_mm", now.fork_length_mm),
        ("fork.offset_mm", now.fork_offset_mm),
        ("chainstay_mm", now.chainstay_mm),
        ("bb_height_mm", now.bb_height_mm),
        ("seat_angle_deg", now.seat_angle_deg),
        ("stack_mm", now.stack_mm),
        ("reach_mm", now.reach_mm),
        ("crank_mm", outcome.proposal.contact.crank_mm),
        ("suspension.front.travel_mm", outcome.proposal.fork_travel_mm),
        ("suspension.rear.shock_mm", outcome.proposal.shock_mm),
        ("center_stand.gap_mm", outcome.center_stand_gap_mm),
    ]
    if now.suspension.pivot is not None:
        pairs += [
            ("suspension.rear.pivot_x_mm", now.suspension.pivot[0]),
            ("suspension.rear.pivot_height_mm", now.suspension.pivot[1]),
        ]
    if bike.side_stand is not None and outcome.stand_lean_deg is not None:
        pairs.append(("side_stand.lean_deg", float(outcome.stand_lean_deg)))
    meter = bike.speedometer
    ratio = _sensed_ratio(outcome, measured)
    if meter is not None and meter.reads_over_percent is not None and ratio is not None:
        over = ((1 + meter.reads_over_percent / 100) / ratio - 1) * 100
        if ratio != 1 or getattr(outcome.proposal, meter.end).tire is not None:
            pairs.append(("speedometer.reads_over_percent", over))
    for end in ENDS:
        wheel, old = outcome.wheels.at(end), bike.wheels.at(end)
        pairs.append((f"{end}.tone_ring_slots", wheel.tone_ring_slots))
        if end in outcome.others and wheel.tire is not None:
            seat = float(wheel.tire.bead_seat_diameter_mm)
            pairs.append((f"{end}.rim.bead_seat_diameter_mm", seat))
        if old.rolled_mm is not None:
            ratio = float(getattr(outcome.speed, f"circumference_ratio_{end}"))
            pairs.append((f"{end}.rolled_mm", old.rolled_mm * ratio))
    before = dict(_as_found(bike))
    for key, value in pairs:
        if value is not None and abs(value - before.get(key, float("inf"))) > UNMOVED:
            yield key, round(value, 2)


def _as_found(bike: Bike) -> Iterator[tuple[str, float]]:
    """Return the figures of the machine as found that a change may leave as they are."""
    for key, value in (
        ("wheelbase_mm", bike.wheelbase_mm),
        ("head_angle_deg", bike.head_angle_deg),
        ("rake_deg", 90.0 - bike.head_angle_deg),
        ("fork.length_mm", bike.fork_length_mm),
        ("fork.offset_mm", bike.fork_offset_mm),
        ("chainstay_mm", bike.chainstay_mm),
        ("bb_height_mm", bike.bb_height_mm),
        ("seat_angle_deg", bike.seat_angle_deg),
        ("stack_mm", bike.stack_mm),
        ("reach_mm", bike.reach_mm),
        ("front.tone_ring_slots", bike.front.tone_ring_slots),
        ("rear.tone_ring_slots", bike.rear.tone_ring_slots),
        ("side_stand.lean_deg", bike.side_stand.lean_deg if bike.side_stand else None),
        ("center_stand.gap_mm", bike.center_stand.gap_mm if bike.center_stand else None),
        ("front.rolled_mm", bike.front.rolled_mm),
        ("rear.rolled_mm", bike.rear.rolled_mm),
    ):
        if value is not None:
            yield key, value


@dataclass(frozen=True, slots=True)
class SizeAgainstMark:
    """A tire measured after fitting, against what its mark says, mm."""

    tire: str
    what: str
    nominal_mm: float
    measured_mm: float

    @property
    def off_percent(self) -> float:
        """How far the tire is from its mark, percent."""
        return (self.measured_mm / self.nominal_mm - 1) * 100
