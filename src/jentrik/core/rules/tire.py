"""Is this tire one the wheel, the rim and the maker's sheet can take?"""

from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    Case,
    Rule,
    Severity,
    WheelCase,
    Words,
)
from jentrik.core.sources import COMMON_PRACTICE, ISO_5775_2
from jentrik.core.suspension import ENDS
from jentrik.core.tables import load_index, rim_width, speed_symbol
from jentrik.core.tables.iso5775 import NAMES_SOURCE
from jentrik.core.tables.load_index import LOAD_KG
from jentrik.core.tables.speed_symbol import SPEED_KMH, ZR_ABOVE_KMH


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
    if pair[0] == pair[1] or pair == asked:
        return None
    return Words(
        f"{pair[0].capitalize()} front, {pair[1]} rear",
        f"The front tire is {pair[0]}, the rear {pair[1]}. Do not mix constructions unless the "
        "vehicle maker specifies this very pair.",
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
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or tire.width_mm is None or wheel.spec.rim_width_mm:
        return None
    range_mm = rim_width.BICYCLE_TIRE_WIDTH_MM.get(int(rim.inner_width_mm or 0))
    if tire.vehicle != "bicycle" or range_mm is None or rim.inner_width_mm is None:
        return None
    if range_mm[0] <= tire.width_mm <= range_mm[1]:
        return None
    return Words(
        f"{tire.width_mm:.0f} mm tire on a {rim.inner_width_mm:g} mm rim",
        f"An older table pairs a {rim.inner_width_mm:g} mm rim with {range_mm[0]} to "
        f"{range_mm[1]} mm tires; the {wheel.end} tire is {tire.width_mm:.0f} mm. Ask the tire "
        "maker's list.",
    )


def rim_width_unusual(wheel: WheelCase) -> Words | None:
    """Name a motorcycle rim far from what its tire usually sits on, where the sheet is silent."""
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or tire.width_mm is None or rim.inner_width_mm is None:
        return None
    if tire.vehicle != "motorcycle" or wheel.spec.rim_width_mm:
        return None
    least, most = (tire.width_mm * one for one in rim_width.motorcycle_share(tire.aspect_percent))
    if least <= rim.inner_width_mm <= most:
        return None
    return Words(
        f"{tire.width_mm:.0f} mm tire on a {rim.inner_width_mm:g} mm rim",
        f"A tire like the {wheel.end} one usually sits on a rim {least:.0f} to {most:.0f} mm wide. "
        "The tire maker's list decides.",
    )


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
    if tire is None or tire.vehicle != "car":
        return None
    also = ""
    if "T" in tire.markings:
        also = " A T tire is a temporary spare, and for nothing else."
    elif "ST" in tire.markings:
        also = " An ST tire is for trailers only, never on a driven or steered wheel."
    return Words(
        "A car tire",
        f"“{tire.text}” is a car mark: its flat tread and its bead are not made for a machine "
        f"that leans.{also} Choose a motorcycle tire; its mark carries M/C.",
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
    Rule("rim-diameter-mismatch", _STOP, "wheel", rim_diameter_mismatch, ISO_5775_2,
         needs=("{end}.rim.bead_seat_diameter_mm",)),
    Rule("car-tire-on-two-wheels", _STOP, "wheel", car_tire, COMMON_PRACTICE),
    Rule("tire-for-another-vehicle", _STOP, "wheel", other_vehicle, COMMON_PRACTICE),
    Rule("rim-name-unclear", _CAUTION, "wheel", rim_name_unclear, NAMES_SOURCE),
    Rule("load-index-below-spec", _STOP, "wheel", load_index_below_spec, load_index.SOURCE,
         needs=("spec.{end}.load_index", "planned.{end}.load_index"), kinds=MOTORCYCLES),
    Rule("speed-symbol-below-spec", _STOP, "wheel", speed_symbol_below_spec, speed_symbol.SOURCE,
         needs=("spec.{end}.speed_symbol", "planned.{end}.speed_symbol"), kinds=MOTORCYCLES),
    Rule("construction-differs-from-spec", _CAUTION, "wheel", construction_differs,
         COMMON_PRACTICE, needs=("spec.{end}.construction",), kinds=MOTORCYCLES),
    Rule("construction-mixed", _CAUTION, "pair", construction_mixed, COMMON_PRACTICE,
         kinds=MOTORCYCLES),
    Rule("position-mismatch", _CAUTION, "wheel", position_mismatch, COMMON_PRACTICE),
    Rule("rim-width-out-of-range", _CAUTION, "wheel", rim_width_outside_makers_list,
         COMMON_PRACTICE, needs=("planned.{end}.rim.inner_width_mm", "spec.{end}.rim_width_mm"),
         kinds=MOTORCYCLES),
    Rule("rim-width-out-of-range", _CAUTION, "wheel", rim_width_outside_table, rim_width.SOURCE,
         needs=("planned.{end}.rim.inner_width_mm",), kinds=BICYCLES),
    Rule("rim-width-out-of-range", _CAUTION, "wheel", rim_width_unusual,
         rim_width.MOTORCYCLE_SOURCE, needs=("planned.{end}.rim.inner_width_mm",),
         kinds=MOTORCYCLES),
    Rule("tube-type-mismatch", _CAUTION, "wheel", tube_type_mismatch, COMMON_PRACTICE,
         needs=("planned.{end}.rim.tube",), kinds=MOTORCYCLES),
)  # fmt: skip
