"""Figures to start from where a machine has not been measured yet.

They stand on its sheet as *assumed*, look different everywhere, and wait to be replaced.
Source: common practice; a usual city bicycle and a usual upright motorcycle, from memory.
"""

from jentrik.core.machine import Kind
from jentrik.core.tirecode.reading import Reading

FORK_BEYOND_WHEEL_MM = 45.0  # axle to crown seat, beyond the wheel's radius: room for the tire
OFFSET_PER_RADIUS = 0.13  # 45 mm on a full-sized wheel; small wheels have less

_USUAL: dict[Kind, dict[str, float]] = {
    "bicycle": {
        "wheelbase_mm": 1050.0, "head_angle_deg": 71.0, "chainstay_mm": 445.0,
        "bb_height_mm": 280.0, "seat_angle_deg": 73.0, "crank_mm": 170.0,
    },
    "motorcycle": {"wheelbase_mm": 1400.0, "rake_deg": 26.0, "fork.offset_mm": 50.0},
}  # fmt: skip
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
