"""The figures of wheels, hubs and brakes that a sheet can hold, for either end.

"{end}" stands for the end in keys and labels.
"""

from dataclasses import replace

from jentrik.core.machine.suspension import End
from jentrik.core.sheet.field import BICYCLE, MOTORCYCLE, SheetField

WHEEL: tuple[SheetField, ...] = (
    SheetField("{end}.tire", "Tire code", "", "{End} wheel", "everything", needed=True),
    SheetField(
        "{end}.overall_diameter_mm",
        "Measured diameter",
        "mm",
        "{End} wheel",
        "the wheel as it is, not as its code says",
    ),
    SheetField(
        "{end}.rim.bead_seat_diameter_mm",
        "Rim bead seat, {end}",
        "mm",
        "{End} wheel",
        "whether tire and rim belong together",
    ),
    SheetField(
        "{end}.rim.inner_width_mm",
        "Rim inner width",
        "mm",
        "{End} wheel",
        "whether tire width and rim go together",
    ),
    SheetField(
        "{end}.rim.tube",
        "Rim made for",
        "",
        "{End} wheel",
        "tubeless or tube",
        choices=("tubeless", "tube-type"),
    ),
    SheetField(
        "{end}.rim.build",
        "Wheel is",
        "",
        "{End} wheel",
        "whether the card has spokes and tape",
        choices=("laced", "cast"),
        kinds=MOTORCYCLE,
    ),
    SheetField(
        "{end}.rim.hooks",
        "Rim holds the bead by",
        "",
        "{End} wheel",
        "how much air the rim takes",
        choices=("hooked", "hookless"),
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim.most_kpa",
        "Max pressure of the rim",
        "kPa",
        "{End} wheel",
        "how much air the rim takes",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim.most_kpa_at_mm",
        "Tire width that pressure is stated for",
        "mm",
        "{End} wheel",
        "how much air the rim takes with a wider tire",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim.valve_hole_mm",
        "Valve hole",
        "mm",
        "{End} wheel",
        "whether the valve goes through",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim.tape_mm",
        "Rim tape, width",
        "mm",
        "{End} wheel",
        "whether it covers the rim's bed",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.fitted.valve",
        "Valve",
        "",
        "{End} wheel",
        "whether the valve goes through",
        choices=("narrow", "wide"),
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.fitted.most_load_kg",
        "Max load on sidewall",
        "kg",
        "{End} wheel",
        "whether the tire carries rider and luggage",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.fitted.rated_kmh",
        "Rated for assisted cycles to",
        "km/h",
        "{End} wheel",
        "whether the tire goes with the motor",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.fitted.make",
        "Make and model of the tire",
        "",
        "{End} wheel",
        "whether two makes are mixed",
        kinds=MOTORCYCLE,
        words=True,
    ),
    SheetField(
        "{end}.fitted.most_kpa",
        "Max pressure on sidewall",
        "kPa",
        "{End} wheel",
        "the wall no pressure goes beyond",
    ),
    SheetField(
        "{end}.axle_load_kg",
        "Axle weighed, rider and luggage on",
        "kg",
        "{End} wheel",
        "whether the tire carries its axle",
        kinds=MOTORCYCLE,
    ),
    SheetField(
        "{end}.rolled_mm",
        "Rolled out under the rider",
        "mm",
        "{End} wheel",
        "the wheel setting of a computer",
    ),
    SheetField(
        "{end}.tone_ring_slots",
        "Tone ring slots",
        "",
        "{End} wheel",
        "what ABS makes of another wheel",
        kinds=MOTORCYCLE,
    ),
    SheetField(
        "{end}.rim_brake.pad_reach_mm",
        "Rim brake, bolt or boss to pad",
        "mm",
        "{End} wheel",
        "how far the brake pads must move",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim_brake.mount",
        "Rim brake mount",
        "",
        "{End} wheel",
        "which way the pads must move",
        choices=("bolt above", "boss below"),
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim_brake.slot_least_mm",
        "Caliper slot, minimum",
        "mm",
        "{End} wheel",
        "whether the pads reach the new rim",
        kinds=BICYCLE,
    ),
    SheetField(
        "{end}.rim_brake.slot_most_mm",
        "Caliper slot, maximum",
        "mm",
        "{End} wheel",
        "whether the pads reach the new rim",
        kinds=BICYCLE,
    ),
)

HUB: tuple[SheetField, ...] = (
    SheetField(
        "{end}.hub.spacing_mm",
        "Hub width, {end}",
        "mm",
        "Hubs and brakes",
        "whether another wheel goes in",
    ),
    SheetField(
        "{end}.hub.axle_mm",
        "Axle diameter, {end}",
        "mm",
        "Hubs and brakes",
        "whether another wheel goes in",
    ),
    SheetField(
        "{end}.hub.rotor_mm",
        "Brake rotor, {end}",
        "mm",
        "Hubs and brakes",
        "whether the caliper meets another rotor",
    ),
    SheetField(
        "{end}.hub.rotor_mount",
        "Rotor mounted by, {end}",
        "",
        "Hubs and brakes",
        "whether the rotor carries over",
        words=True,
    ),
    SheetField(
        "{end}.hub.left_circle_mm",
        "Spoke hole circle left, {end}",
        "mm",
        "Hubs and brakes",
        "the length of new spokes",
    ),
    SheetField(
        "{end}.hub.left_flange_mm",
        "Left flange from the middle, {end}",
        "mm",
        "Hubs and brakes",
        "the length of new spokes",
    ),
    SheetField(
        "{end}.hub.right_circle_mm",
        "Spoke hole circle right, {end}",
        "mm",
        "Hubs and brakes",
        "the length of new spokes",
    ),
    SheetField(
        "{end}.hub.right_flange_mm",
        "Right flange from the middle, {end}",
        "mm",
        "Hubs and brakes",
        "the length of new spokes",
    ),
    SheetField(
        "{end}.hub.spokes", "Spokes, {end}", "", "Hubs and brakes", "the length of new spokes"
    ),
    SheetField(
        "{end}.hub.crossings", "Crossings, {end}", "", "Hubs and brakes", "the length of new spokes"
    ),
)

# Of the rear hub alone.
DRIVEN: tuple[SheetField, ...] = (
    SheetField(
        "rear.hub.driver",
        "What carries the sprockets",
        "",
        "Hubs and brakes",
        "whether the sprockets carry over",
        words=True,
    ),
    SheetField(
        "rear.hub.chain_line_mm",
        "Chain line, wheel's middle to sprockets",
        "mm",
        "Hubs and brakes",
        "whether the chain runs straight, and clears the tire",
    ),
)


def at(end: End, fields: tuple[SheetField, ...]) -> tuple[SheetField, ...]:
    """Return figures as they are of one end."""
    return tuple(
        replace(
            field,
            key=field.key.replace("{end}", end),
            label=field.label.replace("{end}", end),
            group=field.group.replace("{End}", end.capitalize()),
        )
        for field in fields
    )
