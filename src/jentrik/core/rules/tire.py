"""Is this tire one the wheel, the rim and the maker's sheet can take?"""

from jentrik.core.machine.suspension import ENDS
from jentrik.core.rules.case import BICYCLES, MOTORCYCLES, Case, Rule, Severity, WheelCase, Words
from jentrik.core.sources import COMMON_PRACTICE, ISO_5775_2
from jentrik.core.tables import load_index, rim_width, speed_symbol
from jentrik.core.tables.iso5775 import NAMES_SOURCE
from jentrik.core.tables.load_index import LOAD_KG
from jentrik.core.tables.rim_width import bicycle_tire_widths
from jentrik.core.tables.speed_symbol import SPEED_KMH, ZR_ABOVE_KMH
from jentrik.core.tirecode.equivalents import names_of_rim
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.sizes import Vehicle
from jentrik.core.tirecode.tire_on_rim import (
    HOOKLESS_SOURCE,
    SILENT_SOURCE,
    hookless_least_mm,
    tire_widths,
    width_words,
)


def load_index_below_spec(wheel: WheelCase) -> Words | None:
    """Name the shortfall where the tire carries less than the maker asks for."""
    tire, needed = wheel.wheel.tire, wheel.spec.load_index
    if tire is None or tire.load_index is None or needed is None or tire.load_index >= needed:
        return None
    carried, asked = LOAD_KG.get(tire.load_index), LOAD_KG.get(needed)
    in_kg = (
        f" It carries {carried:g} kg, {asked:g} kg are asked for."
        if carried is not None and asked is not None
        else ""
    )
    return Words(
        f"Load index {tire.load_index}, maker asks {needed}",
        f"The {wheel.end} tire's load index {tire.load_index} is below the {needed} of the "
        f"maker's sheet.{in_kg} Choose a tire of index {needed} or more.",
    )


def speed_symbol_below_spec(wheel: WheelCase) -> Words | None:
    """Name the shortfall where the tire's speed symbol is below the maker's."""
    tire, needed = wheel.wheel.tire, wheel.spec.speed_symbol
    if tire is None or tire.speed_kmh is None or needed is None:
        return None
    asked = ZR_ABOVE_KMH if needed == "ZR" else SPEED_KMH[needed]
    if tire.speed_kmh >= asked:
        return None
    return Words(
        f"Speed symbol {tire.speed_symbol}, maker asks {needed}",
        f"The {wheel.end} tire is made for {tire.speed_kmh} km/h ({tire.speed_symbol}); the "
        f"maker's sheet asks {asked} km/h ({needed}). Choose symbol {needed} or above.",
    )


def construction_differs(wheel: WheelCase) -> Words | None:
    """Name a casing built otherwise than the maker's sheet says."""
    tire, asked = wheel.wheel.tire, wheel.spec.construction
    if tire is None or tire.construction is None or asked is None or tire.construction == asked:
        return None
    if {tire.construction, asked} == _BOTH_BIAS:
        return None
    return Words(
        f"{tire.construction.capitalize()} casing, maker asks {asked}",
        f"The {wheel.end} tire is {tire.construction}; the maker's sheet says {asked}. Fit it "
        "only if the vehicle maker approves that very tire.",
    )


def construction_mixed(case: Case) -> Words | None:
    """Name two ends built differently, unless the maker's sheet asks for that very pair."""
    front, rear = case.planned.front.tire, case.planned.rear.tire
    if front is None or rear is None or front.construction is None or rear.construction is None:
        return None
    pair = (front.construction, rear.construction)
    asked = tuple(case.asked(end).construction for end in ENDS)
    if pair[0] == pair[1] or pair == asked or set(pair) == _BOTH_BIAS:
        return None
    return Words(
        f"{pair[0].capitalize()} front, {pair[1]} rear",
        f"The front tire is {pair[0]}, the rear {pair[1]}. Do not mix constructions unless the "
        "vehicle maker specifies this very pair.",
    )


def bias_with_belted(case: Case) -> Words | None:
    """Say of a bias tire beside a bias-belted one that they are near relations."""
    built = [
        tire.construction if (tire := case.planned.at(end).tire) is not None else None
        for end in ENDS
    ]
    if set(built) != _BOTH_BIAS or built == [case.asked(end).construction for end in ENDS]:
        return None
    return Words(
        f"{str(built[0]).capitalize()} front, {built[1]} rear",
        "Both casings are bias, one with a belt under the tread: closer than bias and radial, and "
        "still two constructions. The vehicle maker's sheet decides.",
    )


_BOTH_BIAS = {"bias", "bias-belted"}


def ridden_above_symbol(wheel: WheelCase) -> Words | None:
    """Name a tire whose speed symbol ends below the speed the machine is ridden at."""
    tire, speed = wheel.wheel.tire, wheel.case.found.top_speed_kmh
    if tire is None or tire.speed_kmh is None or speed is None or speed <= tire.speed_kmh:
        return None
    if tire.speed_symbol == "ZR":  # made for more than 240; its maker says how much
        return None
    return Words(
        f"Ridden at {speed:g} km/h, made for {tire.speed_kmh}",
        f"Symbol {tire.speed_symbol} ends at {tire.speed_kmh} km/h; the {wheel.end} tire would be "
        f"ridden at {speed:g} km/h. Choose a higher symbol, or ride slower than it.",
    )


OFF_ROAD = ("unpaved", "mud")  # where a machine is ridden that is none of the road


def not_for_highway(wheel: WheelCase) -> Words | None:
    """Name a tire not made for highway service on a machine of the road."""
    tire = wheel.wheel.tire
    if tire is None or "NHS" not in tire.markings or wheel.case.found.ground in OFF_ROAD:
        return None
    return Words(
        "Not for highway service",
        f"The {wheel.end} tire is marked for use off public roads only: no load or speed on the "
        "road is vouched for. Choose a road tire for a machine that rides there.",
    )


def rim_diameter_mismatch(wheel: WheelCase) -> Words | None:
    """Name a tire whose bead seat is not the rim's."""
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or rim.bead_seat_diameter_mm is None:
        return None
    if tire.bead_seat_diameter_mm == rim.bead_seat_diameter_mm:
        return None
    return Words(
        f"Tire {tire.bead_seat_diameter_mm} mm, rim {rim.bead_seat_diameter_mm:g} mm",
        f"The {wheel.end} tire's bead seat is {tire.bead_seat_diameter_mm} mm, the rim's "
        f"{rim.bead_seat_diameter_mm:g} mm. They must be the same; never force a bead.",
    )


def rim_name_unclear(wheel: WheelCase) -> Words | None:
    """Name a wheel whose mark, as found or as planned, several rims share."""
    rim = wheel.wheel.rim or wheel.found.rim
    if rim is not None and rim.bead_seat_diameter_mm is not None:
        return None
    for tire in (wheel.wheel.tire, wheel.found.tire):
        if tire is not None and tire.alternatives:
            others = [str(other.bead_seat_diameter_mm) for other in tire.alternatives]
            return Words(
                f"“{tire.text}” names several rims",
                f"It is {tire.bead_seat_diameter_mm} mm most often, but also "
                f"{' or '.join(others)} mm. Measure the bead seat or find the ISO mark before "
                "ordering; the same inches are not the same rim.",
            )
    return None


def rim_width_outside_makers_list(wheel: WheelCase) -> Words | None:
    """Name a rim narrower or wider than the maker's sheet allows."""
    rim, allowed = wheel.wheel.rim, wheel.spec.rim_width_mm
    if rim is None or rim.inner_width_mm is None or allowed is None:
        return None
    if allowed[0] <= rim.inner_width_mm <= allowed[1]:
        return None
    return Words(
        f"Rim {rim.inner_width_mm:g} mm wide, sheet {allowed[0]:g} to {allowed[1]:g}",
        f"The {wheel.end} rim is {rim.inner_width_mm:g} mm wide inside; the maker's sheet allows "
        f"{allowed[0]:g} to {allowed[1]:g} mm.",
    )


def rim_width_outside_table(wheel: WheelCase) -> Words | None:
    """Name a bicycle tire the standard's table does not pair with this rim width."""
    return _outside_usual(wheel, "bicycle")


def rim_width_unusual(wheel: WheelCase) -> Words | None:
    """Name a motorcycle rim far from what its tire usually sits on, where the sheet is silent."""
    return _outside_usual(wheel, "motorcycle")


def _outside_usual(wheel: WheelCase, vehicle: Vehicle) -> Words | None:
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or tire.width_mm is None or wheel.spec.rim_width_mm:
        return None
    if tire.vehicle != vehicle or rim.inner_width_mm is None:
        return None
    widths = tire_widths(
        rim_mm=rim.inner_width_mm, vehicle=vehicle, aspect_percent=tire.aspect_percent
    )
    if widths is None or widths.hold(tire.width_mm):
        return None
    return Words(
        f"{tire.width_mm:.0f} mm tire on a {rim.inner_width_mm:g} mm rim",
        f"{wheel.end.capitalize()}: "
        + width_words(tire_mm=tire.width_mm, rim_mm=rim.inner_width_mm, widths=widths),
    )


def rim_width_unlisted(wheel: WheelCase) -> Words | None:
    """Say that the table of bicycle rims has no row for this one."""
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or rim.inner_width_mm is None or wheel.spec.rim_width_mm:
        return None
    if tire.vehicle != "bicycle" or bicycle_tire_widths(rim.inner_width_mm) is not None:
        return None
    return Words(
        f"No table speaks of a {rim.inner_width_mm:g} mm rim",
        f"The table of rim and tire widths ends before the {wheel.end} rim's "
        f"{rim.inner_width_mm:g} mm: the tire maker's list decides.",
    )


def hookless_too_narrow(wheel: WheelCase) -> Words | None:
    """Name a tire narrower than a hookless rim needs."""
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or tire.width_mm is None or rim is None or rim.inner_width_mm is None:
        return None
    least = hookless_least_mm(rim.inner_width_mm)
    if rim.hooks != "hookless" or tire.width_mm >= least:
        return None
    return Words(
        f"{tire.width_mm:.0f} mm tire on a hookless rim",
        f"A hookless rim {rim.inner_width_mm:g} mm wide inside needs a tire of {least:g} mm at "
        f"least; the {wheel.end} tire is {tire.width_mm:.0f} mm and can blow off. Choose a wider "
        "tire or a hooked rim.",
    )


def another_rim_by_name(wheel: WheelCase) -> Words | None:
    """Name a tire for another rim than the one found, whose name shares its inches."""
    found = _another_rim(wheel)
    if found is None or not _names_alike(*found):
        return None
    old, new = found
    return Words(
        f"{new.bead_seat_diameter_mm} mm bead seat, found {old.bead_seat_diameter_mm}",
        f"“{old.text}” sits on {old.bead_seat_diameter_mm} mm, “{new.text}” on "
        f"{new.bead_seat_diameter_mm} mm: the inches are alike, the rims are not. The tire does "
        "not go on the old rim; it means another wheel.",
    )


def another_rim(wheel: WheelCase) -> Words | None:
    """Say that a proposed tire sits on another bead seat than the one found."""
    found = _another_rim(wheel)
    if found is None or _names_alike(*found):
        return None
    old, new = found
    return Words(
        f"Another wheel: bead seat {new.bead_seat_diameter_mm} mm, found "
        f"{old.bead_seat_diameter_mm}",
        f"“{new.text}” needs a rim of {new.bead_seat_diameter_mm} mm; the {wheel.end} wheel as "
        f"found has {old.bead_seat_diameter_mm} mm. It means another wheel.",
    )


def _another_rim(wheel: WheelCase) -> tuple[Reading, Reading] | None:
    """Return the tire found and the one planned, where they sit on different bead seats."""
    old, new = wheel.found.tire, wheel.wheel.tire
    if wheel.change.tire is None or old is None or new is None:
        return None
    if old.bead_seat_diameter_mm == new.bead_seat_diameter_mm:
        return None
    return old, new


def _names_alike(old: Reading, new: Reading) -> bool:
    """Whether an inch name of the old rim has the inches of one of the new.

    A tire marked in inches is taken by its mark; one that is not by every name of its rim, where
    the other is.
    """
    if old.vehicle != "bicycle" or new.vehicle != "bicycle":
        return False
    marked = [_inches_marked(tire) for tire in (old, new)]
    if not any(marked):
        return False
    names = [
        inches or _inches_of(tire.bead_seat_diameter_mm)
        for inches, tire in zip(marked, (old, new), strict=True)
    ]
    return bool(names[0] & names[1])


def _inches_marked(tire: Reading) -> frozenset[str]:
    marks = (tire, *tire.also)
    return frozenset(
        mark.rim_code for mark in marks if mark.family == "bicycle-inch" and mark.rim_code
    )


def _inches_of(bead_seat_mm: int) -> frozenset[str]:
    return frozenset(name.split(" x ")[0] for name in names_of_rim(bead_seat_mm) if " x " in name)


def tube_type_mismatch(wheel: WheelCase) -> Words | None:
    """Name a tubeless tire on a rim that needs a tube, or the reverse."""
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or tire.tube is None or rim.tube is None:
        return None
    if tire.tube == rim.tube:
        return None
    does = (
        "needs a tube on this rim, if its maker allows one"
        if tire.tube == "tubeless"
        else "always needs a tube; this rim is made without"
    )
    return Words(
        f"{tire.tube.capitalize()} tire on a {rim.tube} rim",
        f"The {wheel.end} tire is {tire.tube} and {does}. Ask the tire and the rim maker.",
    )


def position_mismatch(wheel: WheelCase) -> Words | None:
    """Name a tire marked for the other end."""
    tire = wheel.wheel.tire
    if tire is None or tire.position is None or tire.position == wheel.end:
        return None
    return Words(
        f"Marked for the {tire.position}",
        f"The {wheel.end} wheel would get a tire marked for the {tire.position}. Fit it there "
        "only if its maker allows both ends.",
    )


def car_tire(wheel: WheelCase) -> Words | None:
    """Name a car tire on a two-wheeler."""
    tire = wheel.wheel.tire
    if tire is None or tire.vehicle != "car" or _beside_a_sidecar(wheel):
        return None
    also = ""
    if "T" in tire.markings:
        also = " A T tire is a temporary spare, and for nothing else."
    elif "ST" in tire.markings:
        also = " An ST tire is for trailers only, never on a driven or steered wheel."
    return Words(
        "A car tire",
        f"“{tire.text}” is {_NAMED[tire.family]}: its flat tread and its bead are not made for a "
        f"machine that leans.{also} Choose a motorcycle tire; its mark carries M/C.",
    )


_NAMED = {"car-metric": "a car mark", "flotation": "a light-truck or all-terrain mark"}


def _beside_a_sidecar(wheel: WheelCase) -> bool:
    """Whether a car's own road tire goes on a machine that does not lean."""
    tire = wheel.wheel.tire
    spare = tire is not None and ({"T", "ST", "AT"} & set(tire.markings))
    return wheel.case.found.outfit == "sidecar" and not spare


def car_tire_on_outfit(wheel: WheelCase) -> Words | None:
    """Name a car tire on a machine with a sidecar."""
    tire = wheel.wheel.tire
    if tire is None or tire.vehicle != "car" or not _beside_a_sidecar(wheel):
        return None
    return Words(
        "A car tire on an outfit",
        f"“{tire.text}” is {_NAMED[tire.family]}. A machine with a sidecar does not lean, and some "
        "are approved for car tires: on rims made for them, and by their maker or an inspection.",
    )


def motorcycle_tire_on_outfit(wheel: WheelCase) -> Words | None:
    """Remind that a sidecar wears square what is made round."""
    tire = wheel.wheel.tire
    if tire is None or tire.vehicle != "motorcycle" or wheel.change.tire is None:
        return None
    if wheel.case.found.outfit not in ("sidecar", "trailer"):
        return None
    return Words(
        "A tire for leaning on a machine that does not",
        f"With a {wheel.case.found.outfit} the {wheel.end} tire carries more than its axle weighs "
        "alone and wears flat in the middle: weigh the axle loaded, and ask for the pressure.",
    )


def other_vehicle(wheel: WheelCase) -> Words | None:
    """Name a bicycle tire on a motorcycle, or the reverse."""
    tire, kind = wheel.wheel.tire, wheel.case.found.kind
    if tire is None or tire.vehicle in ("car", kind):
        return None
    return Words(
        f"A {tire.vehicle} tire on a {kind}",
        f"“{tire.text}” is a {tire.vehicle} mark; this machine is a {kind}. Rim profiles differ "
        "even where the diameters look alike.",
    )


_STOP, _CAUTION = Severity.STOP, Severity.CAUTION
RULES = (
    Rule(
        "rim-diameter-mismatch",
        _STOP,
        "wheel",
        rim_diameter_mismatch,
        ISO_5775_2,
        needs=("{end}.rim.bead_seat_diameter_mm",),
    ),
    Rule("car-tire-on-two-wheels", _STOP, "wheel", car_tire, COMMON_PRACTICE),
    Rule(
        "car-tire-on-two-wheels",
        _CAUTION,
        "wheel",
        car_tire_on_outfit,
        COMMON_PRACTICE,
        kinds=MOTORCYCLES,
        law=True,
    ),
    Rule(
        "ridden-above-symbol",
        _STOP,
        "wheel",
        ridden_above_symbol,
        speed_symbol.SOURCE,
        needs=("top_speed_kmh", "planned.{end}.speed_symbol"),
        kinds=MOTORCYCLES,
    ),
    Rule("not-for-highway", _STOP, "wheel", not_for_highway, COMMON_PRACTICE, law=True),
    Rule("tire-for-another-vehicle", _STOP, "wheel", other_vehicle, COMMON_PRACTICE),
    Rule(
        "hookless-too-narrow",
        _STOP,
        "wheel",
        hookless_too_narrow,
        HOOKLESS_SOURCE,
        needs=("planned.{end}.rim.inner_width_mm",),
        only_with=("planned.{end}.rim.hookless",),
        kinds=BICYCLES,
    ),
    Rule("another-rim-diameter", _CAUTION, "wheel", another_rim_by_name, NAMES_SOURCE),
    Rule("another-rim-diameter", Severity.NOTE, "wheel", another_rim, ISO_5775_2),
    Rule("rim-name-unclear", _CAUTION, "wheel", rim_name_unclear, NAMES_SOURCE),
    Rule(
        "load-index-below-spec",
        _STOP,
        "wheel",
        load_index_below_spec,
        load_index.SOURCE,
        needs=("spec.{end}.load_index", "planned.{end}.load_index"),
        kinds=MOTORCYCLES,
    ),
    Rule(
        "speed-symbol-below-spec",
        _STOP,
        "wheel",
        speed_symbol_below_spec,
        speed_symbol.SOURCE,
        needs=("spec.{end}.speed_symbol", "planned.{end}.speed_symbol"),
        kinds=MOTORCYCLES,
    ),
    Rule(
        "construction-differs-from-spec",
        _CAUTION,
        "wheel",
        construction_differs,
        COMMON_PRACTICE,
        needs=("spec.{end}.construction",),
        kinds=MOTORCYCLES,
    ),
    Rule(
        "construction-mixed",
        _CAUTION,
        "pair",
        construction_mixed,
        COMMON_PRACTICE,
        kinds=MOTORCYCLES,
    ),
    Rule(
        "construction-mixed",
        Severity.NOTE,
        "pair",
        bias_with_belted,
        COMMON_PRACTICE,
        kinds=MOTORCYCLES,
    ),
    Rule(
        "outfit-wheels",
        Severity.NOTE,
        "wheel",
        motorcycle_tire_on_outfit,
        COMMON_PRACTICE,
        kinds=MOTORCYCLES,
    ),
    Rule("position-mismatch", _CAUTION, "wheel", position_mismatch, COMMON_PRACTICE),
    Rule(
        "rim-width-out-of-range",
        _CAUTION,
        "wheel",
        rim_width_outside_makers_list,
        COMMON_PRACTICE,
        needs=("planned.{end}.rim.inner_width_mm", "spec.{end}.rim_width_mm"),
        kinds=MOTORCYCLES,
    ),
    Rule(
        "rim-width-out-of-range",
        _CAUTION,
        "wheel",
        rim_width_outside_table,
        rim_width.SOURCE,
        needs=("planned.{end}.rim.inner_width_mm",),
        kinds=BICYCLES,
    ),
    Rule(
        "rim-width-out-of-range",
        _CAUTION,
        "wheel",
        rim_width_unusual,
        rim_width.MOTORCYCLE_SOURCE,
        needs=("planned.{end}.rim.inner_width_mm",),
        kinds=MOTORCYCLES,
    ),
    Rule(
        "rim-width-unlisted",
        Severity.NOTE,
        "wheel",
        rim_width_unlisted,
        SILENT_SOURCE,
        needs=("planned.{end}.rim.inner_width_mm",),
        kinds=BICYCLES,
    ),
    Rule(
        "tube-type-mismatch",
        _CAUTION,
        "wheel",
        tube_type_mismatch,
        COMMON_PRACTICE,
        needs=("planned.{end}.rim.tube",),
        kinds=MOTORCYCLES,
    ),
)
