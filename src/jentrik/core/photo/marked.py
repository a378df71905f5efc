"""A picture while it is marked: what stands there so far, whole or not, and what is still wanted.

Kept as a document of marks without its picture, each part where it belongs: an edge may have two
marks, a point none.  A ruler no one typed comes from the machine's sheet.
"""

import copy
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.measured import BRACKET, CROWN, HEAD_TUBE, SADDLE, SEAT_TUBE, STEERING
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code

# Rim flange over the bead seat, mm a side, and how well that is known on the diameter (2 s.d.).
# Bicycle: hooked rims stand about 5.5 to 6.5 high; motorcycle: flanges of the usual widths 13 to 17
# (both from memory of the rim standards; measure the rim's outside where it matters).
FLANGE_MM = {"bicycle": (6.0, 2.0), "motorcycle": (15.0, 5.0)}
WALL_MM = {"bicycle": 2.0, "motorcycle": 5.0}  # of a rim beside its inner width, from memory
TIRE_WITHIN = 0.015  # of the diameter a tire has by its mark (common practice)
RIM_EDGE, TIRE_EDGE, ROTOR, OTHER = "rim edge", "tire outside", "brake rotor", "another circle"
RULERS = (RIM_EDGE, TIRE_EDGE, ROTOR, OTHER)
POINTS, LINES = (BRACKET, CROWN, HEAD_TUBE, SADDLE), (STEERING, SEAT_TUBE)
# What each unlocks, in the order a machine is marked in.
UNLOCKS = {
    BRACKET: "bottom bracket and chain stay",
    STEERING: "head angle",
    CROWN: "fork length and offset",
    HEAD_TUBE: "stack and reach",
    SADDLE: "seat angle",
    SEAT_TUBE: "seat angle",
}


@dataclass(frozen=True, slots=True)
class Ruler:
    """A circle whose diameter is known: mm, its ± (2 s.d.), how near it lies, and where from."""

    diameter_mm: float
    within_mm: float
    nearer_mm: float
    source: str


def empty_marks() -> dict[str, Any]:
    """Return a picture no one marked yet."""
    return {
        "faces": "right",
        "click_px": 1.5,
        "wheels": {end: {"mark": RIM_EDGE, "edge_px": []} for end in ENDS},
        "points": [],
        "lines": [],
    }


def tire_on(sheet: Sheet, end: End) -> Reading | None:
    """Return the tire on one wheel of a machine; None where none is known."""
    code = sheet.text(f"{end}.tire")
    return known_code(code) if code else None


def ruler_of(sheet: Sheet, end: End, mark: str) -> Ruler | None:
    """Return the ruler a wheel of a machine gives, as its sheet has it; None where it cannot."""
    tire = tire_on(sheet, end)
    if mark == RIM_EDGE and tire is not None:
        flange, within = FLANGE_MM[sheet.kind]
        seat = float(tire.bead_seat_diameter_mm)
        inner = sheet.figures.get(f"{end}.rim.inner_width_mm")
        wide = float(inner.value) if inner is not None else (tire.width_mm or 0.0) * 0.6
        source = f"bead seat {seat:.0f} and {flange:g} of flange each side, from memory"
        return Ruler(seat + 2 * flange, within, wide / 2 + WALL_MM[sheet.kind], source)
    if mark == TIRE_EDGE:
        diameter = tire_diameter(sheet, end)
        if diameter is not None:
            return Ruler(diameter, diameter * TIRE_WITHIN, 0.0, "the tire's diameter on the sheet")
    if mark == ROTOR:
        rotor = sheet.figures.get(f"{end}.hub.rotor_mm")
        if rotor is not None:
            return Ruler(float(rotor.value), 0.5, 35.0, "the rotor on the sheet")
    return None


def tire_diameter(sheet: Sheet, end: End) -> float | None:
    """Return a tire's outside diameter in mm: as measured, else by its mark."""
    measured, tire = sheet.figures.get(f"{end}.overall_diameter_mm"), tire_on(sheet, end)
    if measured is not None:
        return float(measured.value)
    return None if tire is None else tire.overall_diameter_mm


def whole_document(
    marks: Mapping[str, Any], sheet: Sheet, *, size: tuple[int, int], focal_px: float | None
) -> dict[str, Any]:
    """Return marks as a whole document; rulers no one typed are those of the machine's sheet."""
    values = copy.deepcopy(dict(marks))
    values["format"], values["version"] = "jentrik-photo-marks", 1
    values["image"] = {"width_px": size[0], "height_px": size[1], "focal_within_percent": 5.0}
    if focal_px is not None:
        values["image"]["focal_px"] = focal_px
    for end in ENDS:
        wheel = values["wheels"][end]
        known = ruler_of(sheet, end, wheel.get("mark", RIM_EDGE))
        if known is not None:
            wheel.setdefault("diameter_mm", known.diameter_mm)
            wheel.setdefault("diameter_within_mm", known.within_mm)
            wheel.setdefault("nearer_mm", known.nearer_mm)
        diameter = tire_diameter(sheet, end)
        if diameter is not None:
            wheel["tire_diameter_mm"] = diameter
    values["points"] = [value for value in values["points"] if value.get("px")]
    values["lines"] = [value for value in values["lines"] if len(value.get("px", ())) >= 2]
    return values
