"""What is different with other wheels of the machine's own: what is looked at after each swap."""

from collections.abc import Iterator
from dataclasses import dataclass

from jentrik.core.amounts import Amount, kmh, mm
from jentrik.core.figures.speed import shown_before_and_after, usual_kmh
from jentrik.core.machine.declared import ENDS
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.web.figures import fixed


@dataclass(frozen=True, slots=True)
class Different:
    """One thing that is different: what, with the wheels that were on, with these."""

    what: str
    was: str
    now: str


def swap_differences(found: PlanResult, outcome: Outcome) -> list[Different]:
    """Return instrument, ratio, stand, room and pressures with the wheels on and with these."""
    return [
        difference
        for difference in _differences(found, outcome)
        if difference.was != difference.now
    ]


def _differences(found: PlanResult, outcome: Outcome) -> Iterator[Different]:
    at = usual_kmh(found.bike)
    was, now = shown_before_and_after(found.bike, at, outcome.figures.speed)
    if was is not None and now is not None:
        yield Different(f"Shown at {kmh(at):g}", str(kmh(fixed(was, 1))), str(kmh(fixed(now, 1))))
    ratio = outcome.figures.speed.front_rear_ratio_change_percent
    if ratio is not None and found.bike.kind == "motorcycle":  # what ABS compares
        yield Different("Front wheel speed against rear", "0.0 %", f"{fixed(ratio, 1)} %")
    stand = found.bike.side_stand
    if stand is not None and outcome.figures.stand_lean_deg is not None:
        yield Different(
            "Lean on the side stand",
            f"{fixed(stand.lean_deg, 1)}°",
            f"{fixed(outcome.figures.stand_lean_deg, 1)}°",
        )
    for spot in outcome.figures.clearances:
        if spot.predicted_gap_mm is not None:
            yield Different(
                f"Clearance, {spot.place.name.lower()}",
                str(mm(fixed(spot.place.gap_mm, 0))),
                str(mm(fixed(spot.predicted_gap_mm, 0))),
            )
    for end in ENDS:
        old, new = (
            wheels.at(end).fitted.pressure_kpa
            for wheels in (found.bike.wheels, outcome.figures.wheels)
        )
        yield Different(f"{end.capitalize()} pressure, cold", _kpa(old), _kpa(new))


def _kpa(value: float | None) -> str:
    return "not known" if value is None else str(Amount(fixed(value, 0), "kPa"))
