"""A machine's sheet: every figure with where it came from; `sheet_fields` says which there can be.

A figure is *measured* by the shop, taken from the *maker's sheet*, or *assumed* until someone
measures it; what the others fix is *computed* anew each time and never kept.  Keys are the paths
of a plan document, so a sheet turns into a machine without a second vocabulary; those under
"cross" are compared with the others, those under "rider" against the seat; neither is a part of
the machine.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Any

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.build import UPRIGHT, Layout
from jentrik.core.machine.declared import End, Kind, check_range
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.gearing import teeth_of
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.setup import CORRECTED, Setup
from jentrik.core.machine.wheel import WheelSpec
from jentrik.core.units import read_figure


class DrawnAs(StrEnum):
    """What the drawing makes of the figures: the build of the machine."""

    DIAMOND = "diamond frame"
    STEP_THROUGH = "step-through frame"
    HARDTAIL = "hardtail with suspension fork"
    FULL_SUSPENSION = "full suspension"
    FOLDING = "folding bicycle"
    CARGO = "cargo bicycle, box in front"
    CHILD = "child's bicycle"
    TANDEM = "tandem"
    RECUMBENT = "recumbent"
    TADPOLE = "tricycle, two wheels in front"
    DELTA = "tricycle, two wheels behind"
    CARGO_TRIKE = "cargo tricycle, box in front"
    HAND_BIKE = "hand bike"
    ROADSTER = "upright motorcycle"
    CRUISER = "cruiser"
    TALL = "tall, long-travel motorcycle"
    SCOOTER = "scooter"
    DELIVERY = "delivery motorcycle"
    OUTFIT = "sidecar outfit"
    LEANING = "three-wheeled scooter that leans"


_FIRST_MOTORCYCLE = list(DrawnAs).index(DrawnAs.ROADSTER)
BUILDS: dict[Kind, tuple[DrawnAs, ...]] = {
    "bicycle": tuple(DrawnAs)[:_FIRST_MOTORCYCLE],
    "motorcycle": tuple(DrawnAs)[_FIRST_MOTORCYCLE:],
}
LAYOUTS: dict[DrawnAs, tuple[int, Layout]] = {  # wheels and layout, where they are not the usual
    DrawnAs.TANDEM: (2, "tandem"),
    DrawnAs.RECUMBENT: (2, "recumbent"),
    DrawnAs.TADPOLE: (3, "tadpole"),
    DrawnAs.DELTA: (3, "delta"),
    DrawnAs.CARGO_TRIKE: (3, "tadpole"),
    DrawnAs.HAND_BIKE: (3, "delta"),
    DrawnAs.OUTFIT: (3, "sidecar"),
    DrawnAs.LEANING: (3, "solo"),
}


@dataclass(frozen=True, slots=True)
class SheetClearance:
    """A gap at a named place, as kept on a sheet."""

    id: int
    name: str
    wheel: str
    direction: str
    on: str
    gap_mm: float
    minimum_mm: float | None
    provenance: Provenance
    taken_on: date
    bearing_deg: float | None = None
    from_axle_mm: float | None = None
    moves_with: str | None = None
    measured_in: str = ""  # another set-up it was measured in; the gap is worked out from there


@dataclass(frozen=True, slots=True)
class SheetPoint:
    """A named point of the chassis, as kept on a sheet."""

    id: int
    name: str
    x_mm: float
    height_mm: float
    provenance: Provenance
    taken_on: date
    out_mm: float | None = None
    role: PointRole = PointRole.OTHER


@dataclass(frozen=True, slots=True)
class SheetPosition:
    """A named position of the rear axle, as kept on a sheet."""

    id: int
    name: str
    x_mm: float
    y_mm: float
    bead_seat_diameter_mm: float | None
    provenance: Provenance
    taken_on: date


@dataclass(frozen=True, slots=True)
class SheetRoomLine:
    """The width inside, or a limit ahead of the tread, at a distance from the axle, as kept."""

    id: int
    name: str
    wheel: End
    on: str
    from_axle_mm: float
    inside_mm: float | None
    minimum_mm: float | None
    provenance: Provenance
    taken_on: date


@dataclass(frozen=True, slots=True)
class SheetPair:
    """A pair of tires on the maker's sheet, as kept: codes, rim widths like 47-60, makes."""

    id: int
    name: str
    front_tire: str
    rear_tire: str
    front_rim_mm: str | None
    rear_rim_mm: str | None
    front_make: str | None
    rear_make: str | None
    position: str | None
    provenance: Provenance
    taken_on: date

    def values(self) -> dict[str, Any]:
        """Return the pair as a plan document holds it."""
        ends = {
            end: {"tire": tire, "rim_width_mm": list(range_of(rim)) if rim else None, "make": make}
            for end, tire, rim, make in (
                ("front", self.front_tire, self.front_rim_mm, self.front_make),
                ("rear", self.rear_tire, self.rear_rim_mm, self.rear_make),
            )
        }
        return {"name": self.name, **ends, "position": self.position}


def range_of(text: str) -> tuple[float, float]:
    """Return the two ends of a range in mm, typed like 47-60; refuses anything else."""
    ends = re.split(r"\s*(?:-|\u2013|to)\s*", text.strip().removesuffix("mm").strip())
    if len(ends) != 2:
        raise OutOfRange(f"“{text[:30]}” is not a range.", expected="two widths in mm like 47-60")
    least, most = (read_figure(end, unit="mm") for end in ends)
    check_range(WheelSpec, "rim_width_mm", (least, most))
    return least, most


_ASIDE = ("fork.axle_to_crown", "cross.", "rider.", "set.", "line.")
_AT = {  # where a machine has what a set-up keeps
    "set.instrument_mm": "speedometer.setting_mm",
    CORRECTED: "speedometer.corrected_percent",
}
ROWS_OF_TEETH = ("chainrings", "sprockets", "gear_ratios")
_WHOLE_GROUPS = {
    "speedometer": {"wheel"},
    "side_stand": {"lean_deg", "foot_out_mm", "foot_x_mm"},
    "center_stand": {"gap_mm", "feet_x_mm"},
}


@dataclass(frozen=True, slots=True)
class Sheet:
    """A machine as kept: its name, what it is, and every figure known of it."""

    id: int
    name: str
    kind: Kind
    drawn_as: DrawnAs
    figures: Mapping[str, Figure]
    clearances: tuple[SheetClearance, ...] = ()
    points: tuple[SheetPoint, ...] = ()
    positions: tuple[SheetPosition, ...] = ()
    pairs: tuple[SheetPair, ...] = ()
    room: tuple[SheetRoomLine, ...] = ()
    owner: str = ""
    phone: str = ""
    note: str = ""
    photo: str = ""  # its file in the data folder
    external_id: str = ""  # another program's own key
    setup: Setup | None = None  # what it is set up as, where that is kept
    turned_deg: float = 0.0  # nose up, against the set-up the machine was first measured in
    disagreements: tuple[str, ...] = ()  # between what was measured in several set-ups

    def sprung(self, end: str) -> bool:
        """Whether an end is sprung, as built or as measured."""
        built = self.kind == "motorcycle" or self.drawn_as is DrawnAs.FULL_SUSPENSION
        forked = end == "front" and self.drawn_as is DrawnAs.HARDTAIL
        return built or forked or f"suspension.{end}.travel_mm" in self.figures

    def text(self, key: str) -> str | None:
        """Return a figure that is a word, such as a tire code."""
        figure = self.figures.get(key)
        return None if figure is None else str(figure.value)

    def bike_values(self) -> dict[str, Any]:
        """Return the machine as a plan document's bike; figures that are not there stay out."""
        values: dict[str, Any] = {"name": self.name, "kind": self.kind, "front": {}, "rear": {}}
        for key, figure in self.figures.items():
            if key not in _AT and (key.startswith(_ASIDE) or key.endswith(".width_mm")):
                continue  # compared with the others, or how it is set up
            *parents, leaf = _AT.get(key, key).split(".")
            branch = values
            for parent in parents:
                branch = branch.setdefault(parent, {})
            branch[leaf] = figure.value
        _make_whole(values)
        if self.drawn_as in LAYOUTS:
            values["wheels"], values["layout"] = LAYOUTS[self.drawn_as]
        values["points"] = [_line(point) for point in self.points]
        values["positions"] = [_line(position) for position in self.positions]
        values["clearances"] = [_line(place) for place in self.clearances]
        values["room"] = [_line(line) for line in self.room]
        values["approved"] = [pair.values() for pair in self.pairs]
        return values


def leans(sheet: Sheet) -> bool:
    """Whether a machine leans in a bend, by its build and by what it is ridden with."""
    _, layout = LAYOUTS.get(sheet.drawn_as, (2, "solo"))
    return layout not in UPRIGHT and sheet.text("outfit") != "sidecar"


def _line(row: SheetClearance | SheetPoint | SheetPosition | SheetRoomLine) -> dict[str, Any]:
    """Return a line of the sheet as a document holds it: without what only the sheet knows."""
    return {name: getattr(row, name) for name in row.__dataclass_fields__ if name not in _OWN}


_OWN = ("id", "provenance", "taken_on", "measured_in")  # what only the sheet knows


def _make_whole(values: dict[str, Any]) -> None:
    """Make ranges of their two ends, rows of teeth of their text, and leave half groups out."""
    for branch in (values["front"], values["rear"]):
        _join_pair(branch.get("rim_brake"), "slot")
    for spec in values.get("spec", {}).values():
        _join_pair(spec, "rim_width")
        if "load_index" in spec:
            spec["load_index"] = int(spec["load_index"])
    gearing = values.get("gearing", {})
    for row in ROWS_OF_TEETH:
        if row in gearing:
            gearing[row] = list(teeth_of(gearing[row]))
    for group, wanted in _WHOLE_GROUPS.items():
        if group in values and not wanted <= values[group].keys():
            del values[group]  # half a group says nothing yet


def _join_pair(branch: dict[str, Any] | None, name: str) -> None:
    """Make the two ends of a range, kept as two figures, the pair a document holds."""
    if branch is None:
        return
    least, most = branch.pop(f"{name}_least_mm", None), branch.pop(f"{name}_most_mm", None)
    if least is not None and most is not None:
        branch[f"{name}_mm"] = [least, most]
