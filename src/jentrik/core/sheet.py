"""A machine's sheet: every figure with where it came from, and which figures there can be.

A figure is *measured* by the shop, taken from the *maker's sheet*, or *assumed* until somebody
measures it; what the others fix is *computed* anew each time and never kept.  Keys are the paths
of a plan document, so a sheet turns into a machine without a second vocabulary; those under
"cross" are held against the others, those under "rider" against the seat; neither is a part of
the machine.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Any

from jentrik.core.machine import Kind


class Provenance(StrEnum):
    """Where a figure came from."""

    MEASURED = "measured"
    MAKER = "maker's sheet"
    ASSUMED = "assumed"
    COMPUTED = "computed"  # from the others; never kept


class DrawnAs(StrEnum):
    """What the drawing makes of the figures: the build of the machine."""

    DIAMOND = "diamond frame"
    STEP_THROUGH = "step-through frame"
    HARDTAIL = "hardtail with suspension fork"
    FULL_SUSPENSION = "full suspension"
    FOLDING = "folding bicycle"
    CARGO = "cargo bicycle, box in front"
    ROADSTER = "upright motorcycle"
    CRUISER = "cruiser"
    TALL = "tall, long-travel motorcycle"
    SCOOTER = "scooter"
    DELIVERY = "delivery motorcycle"


BUILDS: dict[Kind, tuple[DrawnAs, ...]] = {
    "bicycle": tuple(DrawnAs)[:6],
    "motorcycle": tuple(DrawnAs)[6:],
}


@dataclass(frozen=True, slots=True)
class Figure:
    """One figure of a sheet: a number in its key's unit, or a word.

    `plus_minus` is what the tool can tell, in the same unit; several `readings` were averaged.
    """

    value: float | str
    provenance: Provenance
    taken_on: date
    plus_minus: float | None = None
    readings: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Place:
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


@dataclass(frozen=True, slots=True)
class SheetPoint:
    """A named point of the chassis, as kept on a sheet."""

    id: int
    name: str
    x_mm: float
    height_mm: float
    provenance: Provenance
    taken_on: date


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


_WHOLE_GROUPS = {
    "speedometer": {"wheel"},
    "side_stand": {"lean_deg", "foot_out_mm", "foot_x_mm"},
}


@dataclass(frozen=True, slots=True)
class Sheet:
    """A machine as kept: its name, what it is, and every figure known of it."""

    id: int
    name: str
    kind: Kind
    drawn_as: DrawnAs
    figures: Mapping[str, Figure]
    places: tuple[Place, ...] = ()
    points: tuple[SheetPoint, ...] = ()
    positions: tuple[SheetPosition, ...] = ()

    def text(self, key: str) -> str | None:
        """Return a figure that is a word, such as a tire code."""
        figure = self.figures.get(key)
        return None if figure is None else str(figure.value)

    def bike_values(self) -> dict[str, Any]:
        """Return the machine as a plan document's bike; figures that are not there stay out."""
        values: dict[str, Any] = {"name": self.name, "kind": self.kind, "front": {}, "rear": {}}
        for key, figure in self.figures.items():
            if key.startswith(("cross.", "rider.")):
                continue  # held against the others, no part of the machine
            *parents, leaf = key.split(".")
            branch = values
            for parent in parents:
                branch = branch.setdefault(parent, {})
            branch[leaf] = figure.value
        for branch in (values["front"], values["rear"]):
            _join_pair(branch.get("rim_brake"), "slot")
        for spec in values.get("spec", {}).values():
            _join_pair(spec, "rim_width")
            if "load_index" in spec:
                spec["load_index"] = int(spec["load_index"])
        for group, wanted in _WHOLE_GROUPS.items():
            if group in values and not wanted <= values[group].keys():
                del values[group]  # half a group says nothing yet
        values["points"] = [
            {"name": point.name, "x_mm": point.x_mm, "height_mm": point.height_mm}
            for point in self.points
        ]
        values["positions"] = [
            {
                "name": position.name,
                "x_mm": position.x_mm,
                "y_mm": position.y_mm,
                "bead_seat_diameter_mm": position.bead_seat_diameter_mm,
            }
            for position in self.positions
        ]
        values["clearances"] = [
            {
                "name": place.name,
                "wheel": place.wheel,
                "direction": place.direction,
                "on": place.on,
                "gap_mm": place.gap_mm,
                "minimum_mm": place.minimum_mm,
            }
            for place in self.places
        ]
        return values


def _join_pair(branch: dict[str, Any] | None, name: str) -> None:
    """Make the two ends of a range, kept as two figures, the pair a document holds."""
    if branch is None:
        return
    least, most = branch.pop(f"{name}_least_mm", None), branch.pop(f"{name}_most_mm", None)
    if least is not None and most is not None:
        branch[f"{name}_mm"] = [least, most]


@dataclass(frozen=True, slots=True)
class SheetField:
    """A figure a sheet can hold: key, words, unit, for which kind, and what it unlocks.

    `choices` makes it a word out of a list; `needed` marks what no answer comes without,
    `judged` what a rule is silent without.
    """

    key: str
    label: str
    unit: str
    group: str
    unlocks: str
    kinds: tuple[Kind, ...] = ("bicycle", "motorcycle")
    needed: bool = False
    choices: tuple[str, ...] = ()
    judged: bool = False


_BICYCLE: tuple[Kind, ...] = ("bicycle",)
_MOTORCYCLE: tuple[Kind, ...] = ("motorcycle",)


def _wheel_fields(end: str) -> tuple[SheetField, ...]:
    group = f"{end.capitalize()} wheel"
    return (
        SheetField(f"{end}.tire", "Tire code", "", group, "everything", needed=True),
        SheetField(f"{end}.overall_diameter_mm", "Measured diameter", "mm", group,
                   "the wheel as it is, not as its code says"),
        SheetField(f"{end}.rim.bead_seat_diameter_mm", f"Rim bead seat, {end}", "mm", group,
                   "whether tire and rim belong together", judged=True),
        SheetField(f"{end}.rim.inner_width_mm", "Rim inner width", "mm", group,
                   "whether tire width and rim go together"),
        SheetField(f"{end}.rim.tube", "Rim made for", "", group,
                   "tubeless or tube", choices=("tubeless", "tube-type")),
        SheetField(f"{end}.rim_brake.pad_reach_mm", "Rim brake, bolt to pad", "mm", group,
                   "how far the brake pads must move", kinds=_BICYCLE),
        SheetField(f"{end}.rim_brake.slot_least_mm", "Caliper slot, least", "mm", group,
                   "whether the pads reach the new rim", kinds=_BICYCLE),
        SheetField(f"{end}.rim_brake.slot_most_mm", "Caliper slot, most", "mm", group,
                   "whether the pads reach the new rim", kinds=_BICYCLE),
    )  # fmt: skip


def _spec_fields(end: str) -> tuple[SheetField, ...]:
    group = "Maker's sheet"
    return (
        SheetField(f"spec.{end}.load_index", f"Load index, {end}", "", group,
                   "whether the tire carries enough", kinds=_MOTORCYCLE, judged=True),
        SheetField(f"spec.{end}.speed_symbol", f"Speed symbol, {end}", "", group,
                   "whether the tire is fast enough", kinds=_MOTORCYCLE, judged=True),
        SheetField(f"spec.{end}.construction", f"Construction, {end}", "", group,
                   "whether the casing is the maker's", kinds=_MOTORCYCLE,
                   choices=("radial", "bias", "bias-belted")),
        SheetField(f"spec.{end}.rim_width_least_mm", f"Rim width {end}, least", "mm", group,
                   "whether the maker allows this rim"),
        SheetField(f"spec.{end}.rim_width_most_mm", f"Rim width {end}, most", "mm", group,
                   "whether the maker allows this rim"),
    )  # fmt: skip


FIELDS: tuple[SheetField, ...] = (
    *_wheel_fields("front"),
    *_wheel_fields("rear"),
    SheetField("wheelbase_mm", "Wheelbase", "mm", "Chassis", "everything", needed=True),
    SheetField("head_angle_deg", "Head angle", "°", "Chassis", "everything", _BICYCLE, True),
    SheetField("rake_deg", "Rake", "°", "Chassis", "everything", _MOTORCYCLE, True),
    SheetField("fork.length_mm", "Fork length along the axis", "mm", "Chassis", "everything",
               needed=True),
    SheetField("fork.offset_mm", "Fork offset", "mm", "Chassis", "everything", needed=True),
    SheetField("chainstay_mm", "Chain stay", "mm", "Chassis", "where the bottom bracket goes",
               _BICYCLE),
    SheetField("bb_height_mm", "Bottom-bracket height", "mm", "Chassis",
               "where the bottom bracket goes", _BICYCLE, judged=True),
    SheetField("seat_angle_deg", "Seat angle", "°", "Chassis", "the seat angle after", _BICYCLE),
    SheetField("stack_mm", "Stack", "mm", "Chassis", "stack and reach after", _BICYCLE),
    SheetField("reach_mm", "Reach", "mm", "Chassis", "stack and reach after", _BICYCLE),
    SheetField("crank_mm", "Crank length", "mm", "Chassis", "the cranks in the drawing", _BICYCLE),
    SheetField("cross.bb_drop_mm", "Bottom-bracket drop", "mm", "Cross-checks",
               "whether the sheet agrees with itself", _BICYCLE),
    SheetField("cross.front_center_mm", "Front center", "mm", "Cross-checks",
               "whether the sheet agrees with itself", _BICYCLE),
    SheetField("cross.trail_mm", "Trail, as stated or measured", "mm", "Cross-checks",
               "the fork offset, or whether the sheet agrees with itself"),
    SheetField("cross.head_tube_mm", "Crown seat to head tube top", "mm", "Cross-checks",
               "the fork length, or whether the sheet agrees with itself", _BICYCLE),
    SheetField("rider.inseam_mm", "Rider's inseam, in riding boots", "mm", "Rider",
               "how far the feet reach the ground"),
    SheetField("suspension.front.travel_mm", "Fork travel", "mm", "Suspension",
               "the machine with the rider on, and at full travel"),
    SheetField("suspension.front.sag_mm", "Fork sag with the rider on", "mm", "Suspension",
               "the machine with the rider on"),
    SheetField("suspension.rear.travel_mm", "Rear wheel travel", "mm", "Suspension",
               "the machine with the rider on, and at full travel"),
    SheetField("suspension.rear.sag_mm", "Rear wheel sag with the rider on", "mm", "Suspension",
               "the machine with the rider on"),
    SheetField("suspension.measured", "Sheet measured", "", "Suspension",
               "which state the figures belong to", choices=("unladen", "rider on")),
    SheetField("suspension.rear.shock_mm", "Shock, eye to eye", "mm", "Suspension",
               "what another shock does"),
    SheetField("suspension.rear.leverage", "Leverage: mm at the axle for 1 at the shock", "",
               "Suspension", "what another shock does"),
    SheetField("suspension.rear.link_ratio", "Link: mm at the axle for 1 at the link", "",
               "Suspension", "what another ride-height link does"),
    SheetField("suspension.rear.pivot_x_mm", "Swingarm pivot, ahead of the rear axle", "mm",
               "Suspension", "the path of the rear axle"),
    SheetField("suspension.rear.pivot_height_mm", "Swingarm pivot, above ground", "mm",
               "Suspension", "the path of the rear axle"),
    SheetField("speedometer.wheel", "Instrument driven by", "", "Instruments and stand",
               "what the instrument will show", choices=("front", "rear"), judged=True),
    SheetField("speedometer.reads_over_percent", "Reads over by", "%", "Instruments and stand",
               "what the instrument will show", judged=True),
    SheetField("side_stand.lean_deg", "Lean on the side stand", "°", "Instruments and stand",
               "the lean after", _MOTORCYCLE),
    SheetField("side_stand.foot_out_mm", "Stand foot, out from the tires", "mm",
               "Instruments and stand", "the lean after", _MOTORCYCLE),
    SheetField("side_stand.foot_x_mm", "Stand foot, ahead of the rear axle", "mm",
               "Instruments and stand", "the lean after", _MOTORCYCLE),
    SheetField("class", "Class of vehicle", "", "Instruments and stand",
               "which speed rule applies", choices=("moped", "motorcycle", "pedelec")),
    SheetField("design.head_angle_deg", "Head angle as made", "°", "Maker's sheet",
               "the way back to the maker's figures", _BICYCLE),
    SheetField("design.rake_deg", "Rake as made", "°", "Maker's sheet",
               "the way back to the maker's figures", _MOTORCYCLE),
    SheetField("design.trail_mm", "Trail as made", "mm", "Maker's sheet",
               "the way back to the maker's figures"),
    SheetField("design.wheelbase_mm", "Wheelbase as made", "mm", "Maker's sheet",
               "the way back to the maker's figures"),
    SheetField("design.bb_height_mm", "Bottom-bracket height as made", "mm", "Maker's sheet",
               "the way back to the maker's figures", _BICYCLE),
    SheetField("design.seat_height_mm", "Seat height as made", "mm", "Maker's sheet",
               "the way back to the maker's figures", _MOTORCYCLE),
    SheetField("fork.longest_mm", "Longest fork the frame's maker allows", "mm", "Maker's sheet",
               "whether a longer fork is allowed"),
    *_spec_fields("front"),
    *_spec_fields("rear"),
)  # fmt: skip

FIELD_BY_KEY = {field.key: field for field in FIELDS}


def fields_of(kind: Kind) -> tuple[SheetField, ...]:
    """Return the figures a sheet of that kind can hold, in the order of the work."""
    return tuple(field for field in FIELDS if kind in field.kinds)


def missing_of(sheet: Sheet) -> tuple[SheetField, ...]:
    """Return the needed figures the sheet lacks."""
    return tuple(
        field for field in fields_of(sheet.kind) if field.needed and field.key not in sheet.figures
    )
