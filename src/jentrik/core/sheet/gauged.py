"""Which figures of a sheet a measuring tool can be held to, and what it then measures."""

from typing import Literal

Measured = Literal["angle", "axle load", "short length"]

_ANGLES = ("head_angle_deg", "rake_deg", "seat_angle_deg", "side_stand.lean_deg")
_LENGTHS = (
    "rim.inner_width_mm",
    "pad_reach_mm",
    "slot_least_mm",
    "slot_most_mm",
    "hub.spacing_mm",
    "hub.axle_mm",
)


def gauge_for(key: str) -> Measured | None:
    """Return what a tool measures for a figure; None where no tool of a shop reads it."""
    if key in _ANGLES:
        return "angle"
    if key.endswith("axle_load_kg"):
        return "axle load"
    return "short length" if key.endswith(_LENGTHS) else None
