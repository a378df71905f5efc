"""Is this tire one the wheel, the rim and the maker's sheet can take?"""

from jentrik.core.amounts import kg, kmh, published
from jentrik.core.machine.declared import ENDS
from jentrik.core.rules.case import (
    ANY_DIFFERENCE,
    MOTORCYCLES,
    THE_SHEETS,
    Case,
    Severity,
    WheelCase,
    Words,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.tables import load_index, speed_symbol
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH, ZR_ABOVE_KMH
from jentrik.core.tire.traps import CARS_HAD_IT, may_be_a_cars

_BOTH_BIAS = {"bias", "bias-belted"}
OFF_ROAD = ("unpaved", "mud")  # where a machine is ridden that is none of the road
_NAMED = {"car-metric": "a car mark", "flotation": "a light-truck or all-terrain mark"}


@rule(
    "load-index-below-spec",
    Severity.STOP,
    title="Load index below the maker's",
    source=load_index.SOURCE,
    needs=("spec.{end}.load_index", "planned.{end}.load_index"),
    kinds=MOTORCYCLES,
    limit=THE_SHEETS,
)
def load_index_below_spec(wheel: WheelCase) -> Words | None:
    """Name the shortfall where the tire carries less than the maker asks for."""
    tire, needed = wheel.wheel.tire, wheel.spec.load_index
    if tire is None or tire.load_index is None or needed is None or tire.load_index >= needed:
        return None
    carried, asked = LOAD_KG.get(tire.load_index), LOAD_KG.get(needed)
    in_kg = (
        f" It carries {kg(carried):g}, {kg(asked):g} are asked for."
        if carried is not None and asked is not None
        else ""
    )
    return Words(
        f"Load index {tire.load_index}, maker asks {needed}",
        f"The {wheel.end} tire's load index {tire.load_index} is below the {needed} of the "
        f"maker's sheet.{in_kg} Choose a tire of index {needed} or more.",
    )


@rule(
    "load-index-below-found",
    Severity.CAUTION,
    title="Load index below the tire found",
    source=load_index.SOURCE,
    needs=("spec.{end}.load_index", "planned.{end}.load_index"),
    kinds=MOTORCYCLES,
    limit="the load of the tire found",
)
def load_index_below_found(wheel: WheelCase) -> Words | None:
    """Name a tire that carries less than the one found, where no sheet says what is asked."""
    old, new = wheel.found.tire, wheel.wheel.tire
    if wheel.spec.load_index is not None or old is None or new is None or wheel.change.tire is None:
        return None
    if old.load_kg is None or new.load_kg is None or new.load_kg >= old.load_kg:
        return None
    return Words(
        f"Load index {new.load_index}, found {old.load_index}",
        f"The {wheel.end} tire carries {kg(new.load_kg):g}; the one found carries "
        f"{kg(old.load_kg):g}, {kg(old.load_kg - new.load_kg):g} more. Without the maker's sheet "
        "take no less than what is on, or find out what is asked.",
    )


@rule(
    "speed-symbol-below-spec",
    Severity.STOP,
    title="Speed symbol below the maker's",
    source=speed_symbol.SOURCE,
    needs=("spec.{end}.speed_symbol", "planned.{end}.speed_symbol"),
    kinds=MOTORCYCLES,
    limit=THE_SHEETS,
)
def speed_symbol_below_spec(wheel: WheelCase) -> Words | None:
    """Name the shortfall where the tire's speed symbol is below the maker's."""
    tire, needed = wheel.wheel.tire, wheel.spec.speed_symbol
    if tire is None or needed is None or not speed_symbol.below(tire.speed_symbol, needed):
        return None
    return Words(
        f"Speed symbol {tire.speed_symbol}, maker asks {needed}",
        f"The {wheel.end} tire is made for {_speed_of(tire.speed_symbol)} ({tire.speed_symbol}); "
        f"the maker's sheet asks {_speed_of(needed)} ({needed}). Choose symbol {needed} or above."
        f"{_in_winter(tire)}",
    )


@rule(
    "speed-symbol-below-found",
    Severity.CAUTION,
    title="Speed symbol below the tire found",
    source=speed_symbol.SOURCE,
    needs=("spec.{end}.speed_symbol", "planned.{end}.speed_symbol"),
    kinds=MOTORCYCLES,
    law=True,
    limit="the symbol of the tire found",
)
def speed_symbol_below_found(wheel: WheelCase) -> Words | None:
    """Name a tire made for less speed than the one found, where no sheet says what is asked."""
    old, new = wheel.found.tire, wheel.wheel.tire
    if wheel.spec.speed_symbol is not None or old is None or new is None:
        return None
    if wheel.change.tire is None or old.speed_symbol is None:
        return None
    if not speed_symbol.below(new.speed_symbol, old.speed_symbol):
        return None
    return Words(
        f"Speed symbol {new.speed_symbol}, found {old.speed_symbol}",
        f"The {wheel.end} tire is made for {_speed_of(new.speed_symbol)}; the one found for "
        f"{_speed_of(old.speed_symbol)}. Without the maker's sheet take no less than what is on, "
        f"or find out what is asked.{_in_winter(new)}",
    )


@rule(
    "speed-symbol-open",
    Severity.CAUTION,
    title="Speed symbol ZR alone",
    source=speed_symbol.SOURCE,
    needs=("spec.{end}.speed_symbol", "planned.{end}.speed_symbol"),
    kinds=MOTORCYCLES,
    limit=f"any symbol above {published(ZR_ABOVE_KMH, 'km/h')}",
)
def open_speed_symbol(wheel: WheelCase) -> Words | None:
    """Ask how fast a tire is that is marked ZR alone, where the sheet asks more than 240 km/h."""
    tire, needed = wheel.wheel.tire, wheel.spec.speed_symbol
    if tire is None or tire.speed_symbol != "ZR" or needed is None or needed == "ZR":
        return None
    if SPEED_KMH[needed] <= ZR_ABOVE_KMH:
        return None
    return Words(
        f"ZR alone, maker asks {needed}",
        f"ZR says above {kmh(ZR_ABOVE_KMH)}, not how far above; the sheet asks "
        f"{kmh(SPEED_KMH[needed])}. Ask the tire's maker, or take one marked {needed}.",
    )


def _speed_of(symbol: str | None) -> str:
    if symbol == "ZR":
        return f"above {kmh(ZR_ABOVE_KMH)}"
    return f"{kmh(SPEED_KMH[symbol or ''])}"


def _in_winter(tire: Reading) -> str:
    """Return what an M+S tire of a lower symbol may be ridden on, where the local code has it."""
    if "M+S" not in tire.markings:
        return ""
    return (
        f" A mud-and-snow tire may be slower in winter where the local code allows it: then a "
        f"label in the rider's view names {_speed_of(tire.speed_symbol)}, and that speed is kept."
    )


@rule(
    "construction-changed",
    Severity.CAUTION,
    title="Construction other than the tire found",
    source=COMMON_PRACTICE,
    needs=("spec.{end}.construction",),
    kinds=MOTORCYCLES,
    limit=f"{ANY_DIFFERENCE} but bias against bias-belted",
)
def construction_changed(wheel: WheelCase) -> Words | None:
    """Name a casing built otherwise than the one found, where no sheet says what is asked."""
    old, new = wheel.found.tire, wheel.wheel.tire
    if wheel.spec.construction is not None or old is None or new is None:
        return None
    if old.construction is None or new.construction is None or old.construction == new.construction:
        return None
    if {old.construction, new.construction} == _BOTH_BIAS:
        return None
    radial = " It needs a rim made for radial tires, and a radial tube where it has one."
    return Words(
        f"{new.construction.capitalize()} in place of {old.construction}",
        f"The {wheel.end} tire would be {new.construction}; the one found is {old.construction}. "
        "The vehicle maker decides for that very tire."
        f"{radial if new.construction == 'radial' else ''}",
    )


@rule(
    "car-tire-on-two-wheels",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit="the mark M/C, or a maker's word",
)
def maybe_a_car_tire(wheel: WheelCase) -> Words | None:
    """Ask whether an inch size that cars had too is a motorcycle's."""
    tire = wheel.wheel.tire
    if tire is None or wheel.change.tire is None or not may_be_a_cars(tire):
        return None
    return Words(f"Is “{tire.text}” a motorcycle tire?", CARS_HAD_IT)


@rule(
    "construction-differs-from-spec",
    Severity.CAUTION,
    title="Construction other than the maker's",
    source=COMMON_PRACTICE,
    needs=("spec.{end}.construction",),
    kinds=MOTORCYCLES,
    limit=f"{ANY_DIFFERENCE} but bias against bias-belted",
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


@rule(
    "construction-mixed",
    Severity.CAUTION,
    title="Radial and bias tires mixed",
    per="pair",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit=f"{ANY_DIFFERENCE} but bias against bias-belted",
)
def construction_mixed(case: Case) -> Words | None:
    """Name two ends built differently, unless the maker's sheet asks for that very pair."""
    front, rear = case.after.wheels.front.tire, case.after.wheels.rear.tire
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


@rule(
    "construction-mixed",
    Severity.NOTE,
    per="pair",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit="one bias and one bias-belted tire the sheet does not ask for",
)
def bias_with_belted(case: Case) -> Words | None:
    """Say of a bias tire beside a bias-belted one that they are near relations."""
    built = [
        tire.construction if (tire := case.after.wheels.at(end).tire) is not None else None
        for end in ENDS
    ]
    if set(built) != _BOTH_BIAS or built == [case.asked(end).construction for end in ENDS]:
        return None
    return Words(
        f"{str(built[0]).capitalize()} front, {built[1]} rear",
        "Both casings are bias, one with a belt under the tread: closer than bias and radial, and "
        "still two constructions. The vehicle maker's sheet decides.",
    )


@rule(
    "ridden-above-symbol",
    Severity.STOP,
    title="Ridden faster than the tire is made for",
    source=speed_symbol.SOURCE,
    needs=("top_speed_kmh", "planned.{end}.speed_symbol"),
    kinds=MOTORCYCLES,
    limit="the speed of the symbol; ZR without one is its maker's word",
)
def ridden_above_symbol(wheel: WheelCase) -> Words | None:
    """Name a tire whose speed symbol ends below the speed the machine is ridden at."""
    tire, speed = wheel.wheel.tire, wheel.case.found.riding.top_speed_kmh
    if tire is None or tire.speed_kmh is None or speed is None or speed <= tire.speed_kmh:
        return None
    if tire.speed_symbol == "ZR":  # made for more than 240; its maker says how much
        return None
    return Words(
        f"Ridden at {kmh(speed):g}, made for {kmh(tire.speed_kmh)}",
        f"Symbol {tire.speed_symbol} ends at {kmh(tire.speed_kmh)}; the {wheel.end} tire would be "
        f"ridden at {kmh(speed):g}. Choose a higher symbol, or ride slower than it.",
    )


@rule(
    "not-for-highway",
    Severity.STOP,
    title="Tire not for highway service",
    source=COMMON_PRACTICE,
    law=True,
    limit="the mark NHS, on a machine not ridden off the road alone",
)
def not_for_highway(wheel: WheelCase) -> Words | None:
    """Name a tire not made for highway service on a machine of the road."""
    tire = wheel.wheel.tire
    if tire is None or "NHS" not in tire.markings or wheel.case.found.riding.ground in OFF_ROAD:
        return None
    return Words(
        "Not for highway service",
        f"The {wheel.end} tire is marked for use off public roads only: no load or speed on the "
        "road is vouched for. Choose a road tire for a machine that rides there.",
    )


@rule(
    "position-mismatch",
    Severity.CAUTION,
    title="Tire marked for the other end",
    source=COMMON_PRACTICE,
    limit="the mark FRONT or REAR",
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


@rule(
    "car-tire-on-two-wheels",
    Severity.STOP,
    title="Car tire on a two-wheeler",
    source=COMMON_PRACTICE,
    limit="any car, light-truck or all-terrain mark on a machine that leans",
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


def _beside_a_sidecar(wheel: WheelCase) -> bool:
    """Whether a car's own road tire goes on a machine that does not lean."""
    tire = wheel.wheel.tire
    spare = tire is not None and ({"T", "ST", "AT"} & set(tire.markings))
    return wheel.case.found.has_sidecar and not spare


@rule(
    "car-tire-on-two-wheels",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    law=True,
    limit="any car mark; spares, trailer and all-terrain tires stay a stop",
)
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


@rule(
    "outfit-wheels",
    Severity.NOTE,
    title="Tires of a sidecar or trailer outfit",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit="any motorcycle tire that goes on with a sidecar or trailer",
)
def motorcycle_tire_on_outfit(wheel: WheelCase) -> Words | None:
    """Remind that a sidecar wears square what is made round."""
    tire = wheel.wheel.tire
    if tire is None or tire.vehicle != "motorcycle" or wheel.change.tire is None:
        return None
    found = wheel.case.found
    if not found.has_sidecar and found.riding.outfit != "trailer":
        return None
    beside = "sidecar" if found.has_sidecar else "trailer"
    return Words(
        "A tire for leaning on a machine that does not",
        f"With a {beside} the {wheel.end} tire carries more than its "
        "axle weighs alone and wears flat in the middle: weigh the axle loaded, and ask for the "
        "pressure.",
    )


@rule(
    "tire-for-another-vehicle",
    Severity.STOP,
    title="Bicycle tire on a motorcycle, or the reverse",
    source=COMMON_PRACTICE,
    limit="the mark's own vehicle",
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
