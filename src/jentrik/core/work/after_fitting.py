"""The fitted machine against what was planned: figures to measure again, and what they say.

    agrees  where  |measured - predicted| <= +-        the +- of the plan and of the tape together

What was fitted goes back onto the machine's sheet: measured figures as measured, the rest as the
plan tells them, assumed until someone measures.  Sources: the plan; the tools' usual +- is common
practice.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.readings import USUAL_PLUS_MINUS, nominal_worth
from jentrik.core.plan.plan import Outcome, PlanResult

TAPE_MM, FINDER_DEG, GAUGE_MM = 2.0, 0.3, 1.0  # common practice: what a careful hand reads
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
    for end in ENDS:
        yield from _of_tire(outcome, end)
    yield from _of_chassis(found, outcome, doubts)
    for spot in outcome.figures.clearances:
        if spot.predicted_gap_mm is not None:
            yield Expectation(
                f"place:{spot.place.name}",
                f"Clearance: {spot.place.name}",
                "mm",
                float(spot.predicted_gap_mm),
                _gap_doubt(outcome, spot.place.wheel),
            )
    yield from _parked_and_rolled(found.bike, outcome)


def _of_tire(outcome: Outcome, end: End) -> Iterator[Expectation]:
    wheel = outcome.figures.wheels.at(end)
    tire = wheel.tire
    if getattr(outcome.proposal, end).tire is None or tire is None:
        return
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


def _of_chassis(
    found: PlanResult, outcome: Outcome, doubts: Mapping[str, float]
) -> Iterator[Expectation]:
    figures, bicycle = outcome.figures.geometry, found.bike.kind == "bicycle"
    angle = "head_angle_deg" if bicycle else "rake_deg"
    yield Expectation(
        angle,
        "Head angle" if bicycle else "Rake",
        "°",
        float(getattr(figures, angle)),
        math.hypot(doubts.get("head_angle_deg", 0.0), FINDER_DEG),
    )
    if figures.bb_height_mm is not None:
        yield Expectation(
            "bb_height_mm",
            "Bottom-bracket height",
            "mm",
            float(figures.bb_height_mm),
            math.hypot(doubts.get("bb_height_mm", 0.0), USUAL_PLUS_MINUS["bb_height_mm"]),
        )
    elif outcome.figures.contact.seat_height_mm is not None:
        yield Expectation(
            "seat_height_mm",
            "Seat height",
            "mm",
            outcome.figures.contact.seat_height_mm,
            2 * TAPE_MM,
        )


def _parked_and_rolled(bike: Bike, outcome: Outcome) -> Iterator[Expectation]:
    if outcome.figures.stand_lean_deg is not None:
        yield Expectation(
            "side_stand.lean_deg",
            "Lean on the side stand",
            "°",
            outcome.figures.stand_lean_deg,
            2 * FINDER_DEG,
        )
    meter = bike.speedometer
    as_found = bike.wheels.at(meter.end).rolled_mm if meter else None
    if meter is not None and as_found is not None:
        ratio = float(getattr(outcome.figures.speed, f"circumference_ratio_{meter.end}"))
        rolled = as_found * ratio
        yield Expectation(
            f"{meter.end}.rolled_mm", f"Roll-out, {meter.end}", "mm", rolled, rolled * 0.01
        )


def _gap_doubt(outcome: Outcome, end: str) -> float:
    tire = getattr(outcome.figures.wheels, end).tire
    return GAUGE_MM + nominal_worth(tire) / 2


def sensed_ratio(outcome: Outcome, measured: Mapping[str, float]) -> float:
    """Return what the instrument counts as fitted over as found: by the measured wheel, if any."""
    ratio, end = outcome.figures.speed.counted_ratio, outcome.sensed_end
    if ratio is None or end is None:
        return 1.0
    diameter = measured.get(f"{end}.overall_diameter_mm")
    if diameter is None:
        return float(ratio)
    return float(ratio) * diameter / outcome.figures.wheels.at(end).diameter_mm


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
