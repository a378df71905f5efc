"""Which figures a machine's sheet can hold: key, words, unit, for which kind, what it unlocks.

Forms, storage and undo follow from these lines.
"""

from dataclasses import dataclass

from jentrik.core.machine.machine import Kind
from jentrik.core.sheet.sheet import Sheet


@dataclass(frozen=True, slots=True)
class SheetField:
    """A figure a sheet can hold: key, words, unit, for which kind, and what it unlocks.

    `choices` makes it a word out of a list, `words` a few words of the shop's own; `needed` marks
    what no answer comes without.
    """

    key: str
    label: str
    unit: str
    group: str
    unlocks: str
    kinds: tuple[Kind, ...] = ("bicycle", "motorcycle")
    needed: bool = False
    choices: tuple[str, ...] = ()
    words: bool = False


_BICYCLE: tuple[Kind, ...] = ("bicycle",)
_MOTORCYCLE: tuple[Kind, ...] = ("motorcycle",)


def _wheel_fields(end: str) -> tuple[SheetField, ...]:
    group = f"{end.capitalize()} wheel"
    return (
        SheetField(f"{end}.tire", "Tire code", "", group, "everything", needed=True),
        SheetField(
            f"{end}.overall_diameter_mm",
            "Measured diameter",
            "mm",
            group,
            "the wheel as it is, not as its code says",
        ),
        SheetField(
            f"{end}.rim.bead_seat_diameter_mm",
            f"Rim bead seat, {end}",
            "mm",
            group,
            "whether tire and rim belong together",
        ),
        SheetField(
            f"{end}.rim.inner_width_mm",
            "Rim inner width",
            "mm",
            group,
            "whether tire width and rim go together",
        ),
        SheetField(
            f"{end}.rim.tube",
            "Rim made for",
            "",
            group,
            "tubeless or tube",
            choices=("tubeless", "tube-type"),
        ),
        SheetField(
            f"{end}.rim.hooks",
            "Rim holds the bead by",
            "",
            group,
            "how much air the rim takes",
            choices=("hooked", "hookless"),
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim.most_kpa",
            "Most pressure the rim takes",
            "kPa",
            group,
            "how much air the rim takes",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim.most_kpa_at_mm",
            "Tire width that pressure is stated for",
            "mm",
            group,
            "how much air the rim takes with a wider tire",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim.valve_hole_mm",
            "Valve hole",
            "mm",
            group,
            "whether the valve goes through",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim.tape_mm",
            "Rim tape, width",
            "mm",
            group,
            "whether it covers the rim's bed",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.fitted.valve",
            "Valve",
            "",
            group,
            "whether the valve goes through",
            choices=("narrow", "wide"),
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.fitted.most_load_kg",
            "Max load on sidewall",
            "kg",
            group,
            "whether the tire carries rider and luggage",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.fitted.rated_kmh",
            "Rated for assisted cycles to",
            "km/h",
            group,
            "whether the tire goes with the motor",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.fitted.make",
            "Make and model of the tire",
            "",
            group,
            "whether two makes are mixed",
            kinds=_MOTORCYCLE,
            words=True,
        ),
        SheetField(
            f"{end}.fitted.most_kpa",
            "Sidewall's most pressure",
            "kPa",
            group,
            "the wall no pressure goes beyond",
        ),
        SheetField(
            f"{end}.axle_load_kg",
            "Axle weighed, rider and luggage on",
            "kg",
            group,
            "whether the tire carries its axle",
            kinds=_MOTORCYCLE,
        ),
        SheetField(
            f"{end}.rolled_mm",
            "Rolled out under the rider",
            "mm",
            group,
            "the wheel setting of a computer",
        ),
        SheetField(
            f"{end}.tone_ring_slots",
            "Tone ring slots",
            "",
            group,
            "what ABS makes of another wheel",
            kinds=_MOTORCYCLE,
        ),
        SheetField(
            f"{end}.rim_brake.pad_reach_mm",
            "Rim brake, bolt or boss to pad",
            "mm",
            group,
            "how far the brake pads must move",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim_brake.mount",
            "Rim brake mount",
            "",
            group,
            "which way the pads must move",
            choices=("bolt above", "boss below"),
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim_brake.slot_least_mm",
            "Caliper slot, least",
            "mm",
            group,
            "whether the pads reach the new rim",
            kinds=_BICYCLE,
        ),
        SheetField(
            f"{end}.rim_brake.slot_most_mm",
            "Caliper slot, most",
            "mm",
            group,
            "whether the pads reach the new rim",
            kinds=_BICYCLE,
        ),
    )


_LACING = (
    ("left_circle_mm", "Spoke hole circle left", "mm"),
    ("left_flange_mm", "Left flange from the middle", "mm"),
    ("right_circle_mm", "Spoke hole circle right", "mm"),
    ("right_flange_mm", "Right flange from the middle", "mm"),
    ("spokes", "Spokes", ""),
    ("crossings", "Crossings", ""),
)


def _hub_fields(end: str) -> tuple[SheetField, ...]:
    group = "Hubs and brakes"
    return (
        SheetField(
            f"{end}.hub.spacing_mm",
            f"Hub width, {end}",
            "mm",
            group,
            "whether another wheel goes in",
        ),
        SheetField(
            f"{end}.hub.axle_mm",
            f"Axle diameter, {end}",
            "mm",
            group,
            "whether another wheel goes in",
        ),
        SheetField(
            f"{end}.hub.rotor_mm",
            f"Brake rotor, {end}",
            "mm",
            group,
            "whether the caliper meets another rotor",
        ),
        SheetField(
            f"{end}.hub.rotor_mount",
            f"Rotor mounted by, {end}",
            "",
            group,
            "whether the rotor carries over",
            words=True,
        ),
        *(
            SheetField(
                f"{end}.hub.{key}", f"{label}, {end}", unit, group, "the length of new spokes"
            )
            for key, label, unit in _LACING
        ),
        *(
            (
                SheetField(
                    "rear.hub.driver",
                    "What carries the sprockets",
                    "",
                    group,
                    "whether the sprockets carry over",
                    words=True,
                ),
                SheetField(
                    "rear.hub.chain_line_mm",
                    "Chain line, wheel's middle to sprockets",
                    "mm",
                    group,
                    "whether the chain runs straight, and clears the tire",
                ),
            )
            if end == "rear"
            else ()
        ),
    )


def _spec_fields(end: str) -> tuple[SheetField, ...]:
    group = "Maker's sheet"
    return (
        SheetField(
            f"spec.{end}.load_index",
            f"Load index, {end}",
            "",
            group,
            "whether the tire carries enough",
            kinds=_MOTORCYCLE,
        ),
        SheetField(
            f"spec.{end}.speed_symbol",
            f"Speed symbol, {end}",
            "",
            group,
            "whether the tire is fast enough",
            kinds=_MOTORCYCLE,
        ),
        SheetField(
            f"spec.{end}.construction",
            f"Construction, {end}",
            "",
            group,
            "whether the casing is the maker's",
            kinds=_MOTORCYCLE,
            choices=("radial", "bias", "bias-belted"),
        ),
        SheetField(
            f"spec.{end}.most_load_kg",
            f"Most load on the axle, {end}",
            "kg",
            group,
            "whether the tire carries its axle",
            kinds=_MOTORCYCLE,
        ),
        SheetField(
            f"spec.{end}.rotor_most_mm",
            f"Largest rotor allowed, {end}",
            "mm",
            group,
            "whether fork or frame take another rotor",
        ),
        SheetField(
            f"spec.{end}.pressure_kpa",
            f"Cold pressure, {end}",
            "kPa",
            group,
            "whether a pressure is too low",
        ),
        SheetField(
            f"spec.{end}.rim_width_least_mm",
            f"Rim width {end}, least",
            "mm",
            group,
            "whether the maker allows this rim",
        ),
        SheetField(
            f"spec.{end}.rim_width_most_mm",
            f"Rim width {end}, most",
            "mm",
            group,
            "whether the maker allows this rim",
        ),
    )


FIELDS: tuple[SheetField, ...] = (
    *_wheel_fields("front"),
    *_wheel_fields("rear"),
    *_hub_fields("front"),
    *_hub_fields("rear"),
    SheetField("wheelbase_mm", "Wheelbase", "mm", "Chassis", "everything", needed=True),
    SheetField("head_angle_deg", "Head angle", "°", "Chassis", "everything", _BICYCLE, True),
    SheetField("rake_deg", "Rake", "°", "Chassis", "everything", _MOTORCYCLE, True),
    SheetField(
        "fork.length_mm", "Fork length along the axis", "mm", "Chassis", "everything", needed=True
    ),
    SheetField("fork.offset_mm", "Fork offset", "mm", "Chassis", "everything", needed=True),
    SheetField(
        "steering_lock_deg",
        "Bar turns to each side by",
        "°",
        "Chassis",
        "what the turned wheel meets",
    ),
    SheetField(
        "chainstay_mm", "Chain stay", "mm", "Chassis", "where the bottom bracket goes", _BICYCLE
    ),
    SheetField(
        "bb_height_mm",
        "Bottom-bracket height",
        "mm",
        "Chassis",
        "where the bottom bracket goes",
        _BICYCLE,
    ),
    SheetField("seat_angle_deg", "Seat angle", "°", "Chassis", "the seat angle after", _BICYCLE),
    SheetField("stack_mm", "Stack", "mm", "Chassis", "stack and reach after", _BICYCLE),
    SheetField("reach_mm", "Reach", "mm", "Chassis", "stack and reach after", _BICYCLE),
    SheetField("crank_mm", "Crank length", "mm", "Chassis", "the cranks in the drawing", _BICYCLE),
    SheetField(
        "cross.bb_drop_mm",
        "Bottom-bracket drop",
        "mm",
        "Cross-checks",
        "whether the sheet agrees with itself",
        _BICYCLE,
    ),
    SheetField(
        "cross.front_center_mm",
        "Front center",
        "mm",
        "Cross-checks",
        "whether the sheet agrees with itself",
        _BICYCLE,
    ),
    SheetField(
        "cross.trail_mm",
        "Trail, as stated or measured",
        "mm",
        "Cross-checks",
        "the fork offset, or whether the sheet agrees with itself",
    ),
    SheetField(
        "cross.head_tube_mm",
        "Crown seat to head tube top",
        "mm",
        "Cross-checks",
        "the fork length, or whether the sheet agrees with itself",
        _BICYCLE,
    ),
    SheetField(
        "rider.inseam_mm",
        "Rider's inseam, in riding boots",
        "mm",
        "Rider",
        "how far the feet reach the ground",
    ),
    SheetField(
        "suspension.front.travel_mm",
        "Fork travel",
        "mm",
        "Suspension",
        "the machine with the rider on, and at full travel",
    ),
    SheetField(
        "suspension.front.sag_mm",
        "Fork sag with the rider on",
        "mm",
        "Suspension",
        "the machine with the rider on",
    ),
    SheetField(
        "suspension.rear.travel_mm",
        "Rear wheel travel",
        "mm",
        "Suspension",
        "the machine with the rider on, and at full travel",
    ),
    SheetField(
        "suspension.rear.sag_mm",
        "Rear wheel sag with the rider on",
        "mm",
        "Suspension",
        "the machine with the rider on",
    ),
    SheetField(
        "suspension.measured",
        "Sheet measured",
        "",
        "Suspension",
        "which state the figures belong to",
        choices=("unladen", "rider on"),
    ),
    SheetField(
        "suspension.rear.shock_mm",
        "Shock, eye to eye",
        "mm",
        "Suspension",
        "what another shock does",
    ),
    SheetField(
        "suspension.rear.leverage",
        "Leverage: mm at the axle for 1 at the shock",
        "",
        "Suspension",
        "what another shock does",
    ),
    SheetField(
        "suspension.rear.link_ratio",
        "Link: mm at the axle for 1 at the link",
        "",
        "Suspension",
        "what another ride-height link does",
    ),
    SheetField(
        "suspension.rear.pivot_x_mm",
        "Swingarm pivot, ahead of the rear axle",
        "mm",
        "Suspension",
        "the path of the rear axle",
    ),
    SheetField(
        "suspension.rear.pivot_height_mm",
        "Swingarm pivot, above ground",
        "mm",
        "Suspension",
        "the path of the rear axle",
    ),
    SheetField(
        "speedometer.wheel",
        "Instrument driven by",
        "",
        "Instruments and stand",
        "what the instrument will show",
        choices=("front", "rear", "gearbox"),
    ),
    SheetField(
        "speedometer.reads_over_percent",
        "Reads over by",
        "%",
        "Instruments and stand",
        "what the instrument will show",
    ),
    SheetField(
        "speedometer.offset_kmh",
        "Counts from an offset of",
        "km/h",
        "Instruments and stand",
        "what the instrument shows when slow",
    ),
    SheetField(
        "speedometer.within_kmh",
        "Speed pairs: reading known to ±",
        "km/h",
        "Instruments and stand",
        "whether an error is larger than its ±",
    ),
    SheetField(
        "speedometer.within_at_kmh",
        "Speed pairs: that ± holds at",
        "km/h",
        "Instruments and stand",
        "how the ± grows away from the pairs",
    ),
    SheetField(
        "speedometer.within_percent",
        "Speed pairs: ± grows by",
        "%",
        "Instruments and stand",
        "how the ± grows away from the pairs",
    ),
    SheetField(
        "side_stand.lean_deg",
        "Lean on the side stand",
        "°",
        "Instruments and stand",
        "the lean after",
        _MOTORCYCLE,
    ),
    SheetField(
        "side_stand.foot_out_mm",
        "Stand foot, out from the tires",
        "mm",
        "Instruments and stand",
        "the lean after",
        _MOTORCYCLE,
    ),
    SheetField(
        "side_stand.foot_x_mm",
        "Stand foot, ahead of the rear axle",
        "mm",
        "Instruments and stand",
        "the lean after",
        _MOTORCYCLE,
    ),
    SheetField(
        "side_stand.pivot_height_mm",
        "Stand pivot, above ground",
        "mm",
        "Instruments and stand",
        "how much longer or shorter a leg",
        _MOTORCYCLE,
    ),
    SheetField(
        "side_stand.pivot_out_mm",
        "Stand pivot, out from the middle",
        "mm",
        "Instruments and stand",
        "how much longer or shorter a leg",
        _MOTORCYCLE,
    ),
    SheetField(
        "center_stand.gap_mm",
        "Center stand lifts the wheel by",
        "mm",
        "Instruments and stand",
        "whether it still lifts it",
        _MOTORCYCLE,
    ),
    SheetField(
        "center_stand.feet_x_mm",
        "Its feet, ahead of the rear axle",
        "mm",
        "Instruments and stand",
        "whether it still lifts the wheel",
        _MOTORCYCLE,
    ),
    SheetField(
        "center_stand.lifts",
        "It lifts the wheel",
        "",
        "Instruments and stand",
        "which wheel hangs",
        _MOTORCYCLE,
        choices=("rear", "front"),
    ),
    SheetField(
        "mass.kg",
        "Machine ready to ride, no rider",
        "kg",
        "Instruments and stand",
        "what a gust does to it parked",
        _MOTORCYCLE,
    ),
    SheetField(
        "mass.center_x_mm",
        "Its center of mass, ahead of the rear axle",
        "mm",
        "Instruments and stand",
        "how far it may go before it tips",
        _MOTORCYCLE,
    ),
    SheetField(
        "mass.center_height_mm",
        "Its center of mass, above ground",
        "mm",
        "Instruments and stand",
        "how far it may go before it tips",
        _MOTORCYCLE,
    ),
    SheetField("gearing.chainrings", "Chainrings", "", "Gearing", "the gears after", _BICYCLE),
    SheetField("gearing.sprockets", "Sprockets", "", "Gearing", "the gears after", _BICYCLE),
    SheetField(
        "gearing.primary_ratio",
        "Primary ratio",
        "",
        "Gearing",
        "engine speed on the road",
        _MOTORCYCLE,
    ),
    SheetField(
        "gearing.gear_ratios",
        "Gears, first to last",
        "",
        "Gearing",
        "engine speed on the road",
        _MOTORCYCLE,
    ),
    SheetField(
        "gearing.front_sprocket",
        "Front sprocket",
        "",
        "Gearing",
        "the sprockets that bring the gearing back",
        _MOTORCYCLE,
    ),
    SheetField(
        "gearing.rear_sprocket",
        "Rear sprocket",
        "",
        "Gearing",
        "the sprockets that bring the gearing back",
        _MOTORCYCLE,
    ),
    SheetField(
        "gearing.most_rpm",
        "Engine's most turns a minute",
        "",
        "Gearing",
        "which gears go with which speed",
        _MOTORCYCLE,
    ),
    SheetField(
        "top_speed_kmh",
        "Top speed it is ridden at",
        "km/h",
        "How it is used",
        "how much the tires grow, and the load they may carry then",
        _MOTORCYCLE,
    ),
    SheetField(
        "use",
        "Made as",
        "",
        "How it is used",
        "the least gap of the standard",
        _BICYCLE,
        choices=("city", "trekking", "mountain", "youth", "child", "racing"),
    ),
    SheetField(
        "ground",
        "Ridden on",
        "",
        "How it is used",
        "what mud takes of the gaps",
        choices=("paved", "unpaved", "mud"),
    ),
    SheetField(
        "rider_kg",
        "Rider's mass",
        "kg",
        "How it is used",
        "whether the tires carry rider and luggage",
        _BICYCLE,
    ),
    SheetField(
        "luggage_kg",
        "Luggage",
        "kg",
        "How it is used",
        "whether the tires carry rider and luggage",
        _BICYCLE,
    ),
    SheetField(
        "outfit",
        "Ridden with",
        "",
        "How it is used",
        "whether it leans, and which tires go on",
        _MOTORCYCLE,
        choices=("solo", "sidecar", "trailer"),
    ),
    SheetField(
        "frame_material",
        "Frame made of",
        "",
        "How it is used",
        "whether a hub a little wider can go in",
        _BICYCLE,
        choices=("steel", "aluminium", "carbon", "titanium"),
    ),
    SheetField(
        "pedal_edge_mm",
        "Pedal, outer edge from the middle",
        "mm",
        "How it is used",
        "the lean at which a pedal touches, and the toe room in a turn",
        _BICYCLE,
    ),
    SheetField(
        "pedals",
        "Pedals",
        "",
        "How it is used",
        "the toe room of the standard",
        _BICYCLE,
        choices=("flat", "foot retention"),
    ),
    SheetField(
        "class",
        "Class of vehicle",
        "",
        "Instruments and stand",
        "which speed rule applies",
        choices=("moped", "motorcycle", "pedelec"),
    ),
    SheetField(
        "design.head_angle_deg",
        "Head angle as made",
        "°",
        "Maker's sheet",
        "the way back to the maker's figures",
        _BICYCLE,
    ),
    SheetField(
        "design.rake_deg",
        "Rake as made",
        "°",
        "Maker's sheet",
        "the way back to the maker's figures",
        _MOTORCYCLE,
    ),
    SheetField(
        "design.trail_mm",
        "Trail as made",
        "mm",
        "Maker's sheet",
        "the way back to the maker's figures",
    ),
    SheetField(
        "design.wheelbase_mm",
        "Wheelbase as made",
        "mm",
        "Maker's sheet",
        "the way back to the maker's figures",
    ),
    SheetField(
        "design.bb_height_mm",
        "Bottom-bracket height as made",
        "mm",
        "Maker's sheet",
        "the way back to the maker's figures",
        _BICYCLE,
    ),
    SheetField(
        "design.seat_height_mm",
        "Seat height as made",
        "mm",
        "Maker's sheet",
        "the way back to the maker's figures",
        _MOTORCYCLE,
    ),
    SheetField(
        "fork.longest_mm",
        "Longest fork the frame's maker allows",
        "mm",
        "Maker's sheet",
        "whether a longer fork is allowed",
    ),
    SheetField(
        "fork.rated_bead_seat_mm",
        "Fork made for a wheel up to, bead seat",
        "mm",
        "Maker's sheet",
        "whether a larger front wheel is allowed",
        _BICYCLE,
    ),
    *_spec_fields("front"),
    *_spec_fields("rear"),
)

FIELD_BY_KEY = {field.key: field for field in FIELDS}


def fields_of(kind: Kind) -> tuple[SheetField, ...]:
    """Return the figures a sheet of that kind can hold, in the order of the work."""
    return tuple(field for field in FIELDS if kind in field.kinds)


def missing_of(sheet: Sheet) -> tuple[SheetField, ...]:
    """Return the needed figures the sheet lacks."""
    return tuple(
        field for field in fields_of(sheet.kind) if field.needed and field.key not in sheet.figures
    )
