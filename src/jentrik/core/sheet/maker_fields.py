"""The figures of the maker's sheet that a machine's sheet can hold, for either end."""

from jentrik.core.sheet.field import MOTORCYCLE, SheetField

SPEC: tuple[SheetField, ...] = (
    SheetField(
        "spec.{end}.load_index",
        "Load index, {end}",
        "",
        "Maker's sheet",
        "whether the tire carries enough",
        kinds=MOTORCYCLE,
    ),
    SheetField(
        "spec.{end}.speed_symbol",
        "Speed symbol, {end}",
        "",
        "Maker's sheet",
        "whether the tire is fast enough",
        kinds=MOTORCYCLE,
    ),
    SheetField(
        "spec.{end}.construction",
        "Construction, {end}",
        "",
        "Maker's sheet",
        "whether the casing is the maker's",
        kinds=MOTORCYCLE,
        choices=("radial", "bias", "bias-belted"),
    ),
    SheetField(
        "spec.{end}.most_load_kg",
        "Most load on the axle, {end}",
        "kg",
        "Maker's sheet",
        "whether the tire carries its axle",
        kinds=MOTORCYCLE,
    ),
    SheetField(
        "spec.{end}.rotor_most_mm",
        "Largest rotor allowed, {end}",
        "mm",
        "Maker's sheet",
        "whether fork or frame take another rotor",
    ),
    SheetField(
        "spec.{end}.pressure_kpa",
        "Cold pressure, {end}",
        "kPa",
        "Maker's sheet",
        "whether a pressure is too low",
    ),
    SheetField(
        "spec.{end}.rim_width_least_mm",
        "Rim width {end}, least",
        "mm",
        "Maker's sheet",
        "whether the maker allows this rim",
    ),
    SheetField(
        "spec.{end}.rim_width_most_mm",
        "Rim width {end}, most",
        "mm",
        "Maker's sheet",
        "whether the maker allows this rim",
    ),
)
