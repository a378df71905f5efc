"""Figures to start from where a machine has not been measured yet.

They stand on its sheet as *assumed*, look different everywhere, and wait to be replaced.
Source: common practice; a usual city bicycle and a usual upright motorcycle, from memory.
"""

from dataclasses import dataclass

from jentrik.core.machine.machine import Kind
from jentrik.core.sheet.sheet import Sheet
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.sidewall import known_code

FORK_BEYOND_WHEEL_MM = 45.0  # axle to crown seat, beyond the wheel's radius: room for the tire
OFFSET_PER_RADIUS = 0.13  # 45 mm on a full-sized wheel; small wheels have less

SAG_SHARE: dict[str, dict[Kind, float]] = {  # of the travel, with the rider on
    "suspension.front.sag_mm": {"bicycle": 0.2, "motorcycle": 0.28},
    "suspension.rear.sag_mm": {"bicycle": 0.28, "motorcycle": 0.3},
}
_USUAL: dict[Kind, dict[str, float]] = {
    "bicycle": {
        "wheelbase_mm": 1050.0,
        "head_angle_deg": 71.0,
        "chainstay_mm": 445.0,
        "bb_height_mm": 280.0,
        "seat_angle_deg": 73.0,
        "crank_mm": 170.0,
    },
    "motorcycle": {"wheelbase_mm": 1400.0, "rake_deg": 26.0, "fork.offset_mm": 50.0},
}
_MOTORCYCLE_FORK_MM = 600.0


def assumed_figures(kind: Kind, tire: Reading) -> dict[str, float]:
    """Return usual figures in their keys' units for a machine on this tire at both ends."""
    figures = dict(_USUAL[kind])
    if kind == "motorcycle":
        return figures | {"fork.length_mm": _MOTORCYCLE_FORK_MM}
    diameter = tire.overall_diameter_mm or tire.bead_seat_diameter_mm
    radius = diameter / 2
    return figures | {
        "fork.length_mm": round(radius + FORK_BEYOND_WHEEL_MM, 0),
        "fork.offset_mm": round(radius * OFFSET_PER_RADIUS, 0),
    }


@dataclass(frozen=True, slots=True)
class Assumption:
    """A figure to go on with until someone measures it, in its key's unit, and its rule."""

    value: float
    rule: str


def assumption(sheet: Sheet, key: str) -> Assumption | None:
    """Return what may be assumed for a figure of a sheet; None where there is no rule for it.

    Sags are a share of the stated travel; lengths and angles are the usual machine's.
    """
    if key in SAG_SHARE:
        travel = sheet.figures.get(key.replace("sag_mm", "travel_mm"))
        if travel is None:
            return None
        share = SAG_SHARE[key][sheet.kind]
        value = round(float(travel.value) * share, 0)
        return Assumption(value, f"{share * 100:.0f} % of the travel")
    tire = sheet.text("front.tire")
    if tire is None:
        return None
    usual = assumed_figures(sheet.kind, known_code(tire)).get(key)
    return None if usual is None else Assumption(usual, f"usual for a {sheet.kind} on this tire")
