"""Is it what the vehicle maker asks for: size, pair, load, make?"""

from jentrik.core.amounts import kg, kmh, mm, published
from jentrik.core.figures.rider_load import SHARE, axle_share_kg
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine import ASSISTED
from jentrik.core.machine.wheel import same_size
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHEETS,
    Case,
    Severity,
    WheelCase,
    Words,
    magnitude,
    rule,
)
from jentrik.core.rules.instruments import assist_until_kmh
from jentrik.core.sources import COMMON_PRACTICE
from jentrik.core.tire.tables import load_at_speed, load_index, speed_symbol
from jentrik.core.tire.tables.load_at_speed import LOAD_PERCENT
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH

LOAD_SHARE = COMMON_PRACTICE.at("the share of rider, luggage and bicycle on one wheel")
MAKERS_SHEET = COMMON_PRACTICE.at("the vehicle maker's sheet")
WIDER_BY_MM = {"bicycle": 5.0, "motorcycle": 10.0}  # a size step, common practice


FINE_STEPS = 2  # common practice: a step or two above the maker's is fine
_LOAD = ("planned.{end}.load_index",)
_AXLE = ("{end}.axle_load_kg", "spec.{end}.most_load_kg")


@rule(
    "size-not-in-sheet",
    Severity.CAUTION,
    title="Pair not on the maker's sheet",
    per="pair",
    source=MAKERS_SHEET,
    needs=("approved",),
    law=True,
    limit="width, aspect and bead seat of a pair on the sheet, or of its own tires",
)
def size_not_in_sheet(case: Case) -> Words | None:
    """Name a pair of tires that is none of those on the maker's sheet."""
    approved = case.found.maker.pairs
    if not approved or case.pair is not None or not _new_tire(case) or _own_sizes(case):
        return None
    named = "; ".join(
        f"{pair.name}: {_text(pair.front.tire)} and {_text(pair.rear.tire)}" for pair in approved
    )
    return Words(
        "This pair is not on the maker's sheet",
        f"The sheet names {named}. Another size can need the maker's word, an inspection or a new "
        "registration: ask before ordering.",
    )


@rule(
    "approval-asked",
    Severity.NOTE,
    title="Approval, registration and insurance",
    per="pair",
    source=COMMON_PRACTICE,
    law=True,
    limit="another size at either end; the sheet's own sizes are none",
)
def approval_asked(case: Case) -> Words | None:
    """Ask about approval, registration and insurance where a motor vehicle's size changes."""
    motor = case.found.kind == "motorcycle" or case.found.vehicle_class == "pedelec-45"
    if not motor or not _new_tire(case) or _own_sizes(case):
        return None
    changed = [
        end
        for end in ENDS
        if not same_size(case.found.wheels.at(end).tire, case.after.wheels.at(end).tire)
    ]
    if not changed:
        return None
    return Words(
        "Approval, registration and insurance",
        f"Another size at the {' and '.join(changed)}: type approval, registration and insurance "
        "may depend on it. Ask before ordering, and before it goes on the road.",
    )


def _own_sizes(case: Case) -> bool:
    """Whether both tires have the sizes the maker's sheet names for the machine itself."""
    spec = case.found.maker.wheels
    return all(
        end in spec and same_size(spec[end].tire, case.after.wheels.at(end).tire) for end in ENDS
    )


@rule(
    "pair-position",
    Severity.CAUTION,
    title="Pair that belongs to another rear position",
    per="pair",
    source=MAKERS_SHEET,
    needs=("approved",),
    only_with=("positions",),
    limit="the position the sheet names with the pair",
)
def pair_in_another_position(case: Case) -> Words | None:
    """Name a pair of the maker's sheet that goes with another rear position."""
    pair = case.pair
    if pair is None or pair.position is None:
        return None
    fitted = case.found.position(case.proposal.position)
    if fitted is None or fitted.name.casefold() == pair.position.casefold():
        return None
    return Words(
        f"The sheet pairs this with position “{pair.position}”",
        f"“{pair.name}” stands on the maker's sheet with rear position “{pair.position}”; planned "
        f"is “{fitted.name}”. Take the pair and its position together.",
    )


def _new_tire(case: Case) -> bool:
    return any(getattr(case.proposal, end).tire is not None for end in ENDS)


def _text(tire: object) -> str:
    return getattr(tire, "text", "?")


@rule(
    "makes-mixed",
    Severity.CAUTION,
    title="Two makes of tire",
    per="pair",
    source=COMMON_PRACTICE,
    needs=("planned.front.fitted.make", "planned.rear.fitted.make"),
    kinds=MOTORCYCLES,
    limit="names that differ",
)
def makes_mixed(case: Case) -> Words | None:
    """Name two tires of different make or model, unless the maker's sheet asks for that pair."""
    front, rear = case.after.wheels.front.fitted.make, case.after.wheels.rear.fitted.make
    if front is None or rear is None or front.casefold() == rear.casefold():
        return None
    asked = [case.asked(end).make for end in ENDS]
    if None not in asked and [_plain(a) for a in asked] == [_plain(front), _plain(rear)]:
        return None
    return Words(
        "Two makes or models",
        f"“{front}” in front, “{rear}” behind. Do not mix makes or models unless the vehicle "
        "maker names that very pair.",
    )


@rule(
    "make-not-in-sheet",
    Severity.CAUTION,
    title="Make other than the maker's sheet",
    source=MAKERS_SHEET,
    needs=("planned.{end}.fitted.make",),
    only_with=("approved.{end}.make",),
    limit="names that differ",
)
def make_not_in_sheet(wheel: WheelCase) -> Words | None:
    """Name a tire of another make or model than the maker's sheet asks for in this size."""
    make, asked = wheel.wheel.fitted.make, wheel.spec.make
    if make is None or asked is None or _plain(make) == _plain(asked):
        return None
    return Words(
        f"“{make}”, the sheet asks “{asked}”",
        f"For this size the maker's sheet names “{asked}” at the {wheel.end}; planned is "
        f"“{make}”. Only the named one was tried with this machine.",
    )


def _plain(make: str | None) -> str:
    return " ".join((make or "").casefold().split())


def carries_less_than_the_axle(wheel: WheelCase) -> Words | None:
    """Name a tire that carries less than the axle weighs, or may weigh by the maker's sheet."""
    (carried, by), (axle, whose) = _carried_kg(wheel), _axle_kg(wheel)
    if carried is None or axle is None or carried >= axle:
        return None
    return Words(
        f"Carries {kg(carried):g}, the axle {kg(axle):.0f}",
        f"{by} is {kg(carried):g}; the {wheel.end} axle {whose} {kg(axle):.0f}. Each tire carries "
        "its axle's share, whatever the suspension does.",
    )


def _carried_kg(wheel: WheelCase) -> tuple[float | None, str]:
    """Return what the tire carries in kg, and in words by what: its index, or its sidewall."""
    tire = wheel.wheel.tire
    if tire is not None and tire.load_kg is not None:
        return tire.load_kg, f"Load index {tire.load_index}"
    return wheel.wheel.fitted.most_load_kg, "The sidewall's load"


def _axle_kg(wheel: WheelCase) -> tuple[float | None, str]:
    """Return the load the tire must bear and in words whose figure it is, the heavier of two."""
    weighed, most = wheel.found.axle_load_kg, wheel.spec.most_load_kg
    if weighed is not None and (most is None or weighed >= most):
        return weighed, "was weighed at"
    if most is None:
        return axle_share_kg(wheel.case.found, wheel.end), "carries about"
    return most, "may weigh"


@rule(
    "bicycle-load",
    Severity.STOP,
    title="Tire load with rider and luggage",
    source=LOAD_SHARE,
    needs=("rider_kg", "planned.{end}.fitted.most_load_kg"),
    only_with=("rider_kg",),
    kinds=BICYCLES,
    limit=(
        f"the axle as weighed, else {SHARE['front']:.0%} front and "
        f"{SHARE['rear']:.0%} rear of rider, luggage and bicycle".replace("%", " %")
    ),
)
def bicycle_overloads(wheel: WheelCase) -> Words | None:
    """Name a bicycle tire that carries less than its share of rider, luggage and bicycle."""
    return carries_less_than_the_axle(wheel) if wheel.case.found.kind == "bicycle" else None


@rule(
    "bicycle-load",
    Severity.NOTE,
    source=LOAD_SHARE,
    needs=("mass.kg",),
    only_with=("rider_kg", "class"),
    kinds=BICYCLES,
    limit="a mass, or a load of the axle, on the sheet",
)
def assisted_not_weighed(wheel: WheelCase) -> Words | None:
    """Ask what an assisted cycle weighs: it is not taken for a plain bicycle's."""
    found = wheel.case.found
    if found.vehicle_class not in ASSISTED or found.mass.kg is not None:
        return None
    if found.riding.rider_kg is None or wheel.found.axle_load_kg or wheel.spec.most_load_kg:
        return None
    return Words(
        f"Weigh it: what the {wheel.end} tire carries is not known",
        "An assisted cycle weighs ten kilograms and more above a plain one. With its mass on the "
        "sheet its tires are judged by their load.",
    )


@rule(
    "load-index-below-axle-load",
    Severity.STOP,
    title="Tire carries less than its axle weighs",
    source=load_index.SOURCE,
    needs=(*_AXLE[:1], *_LOAD),
    kinds=MOTORCYCLES,
    limit="the heavier of the axle as weighed and as its maker allows",
)
def motorcycle_overloads(wheel: WheelCase) -> Words | None:
    """Name a motorcycle tire that carries less than its axle weighs, or may weigh."""
    return carries_less_than_the_axle(wheel) if wheel.case.found.kind == "motorcycle" else None


@rule(
    "assist-speed-class",
    Severity.CAUTION,
    title="Tire rated for the motor's assistance",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.fitted.rated_kmh",),
    only_with=("class.pedelec",),
    policy=("instruments.assist_until_kmh",),
    kinds=BICYCLES,
    law=True,
    limit="the speed the motor helps until",
)
def rated_below_assist(wheel: WheelCase) -> Words | None:
    """Name a tire rated slower than the assisted cycle's motor helps."""
    rated, until = wheel.wheel.fitted.rated_kmh, assist_until_kmh(wheel.case)
    if until is None or rated is None or rated >= until:
        return None
    return Words(
        f"Rated to {kmh(rated):g}, assisted to {kmh(until):g}",
        f"The {wheel.end} tire's maker rates it for assisted cycles to {kmh(rated):g}; this one is "
        f"helped until {kmh(until):g}. Fast classes may need the very tires of their approval.",
    )


@rule(
    "axle-overloaded",
    Severity.STOP,
    title="Axle heavier than its maker allows",
    source=MAKERS_SHEET,
    needs=_AXLE,
    only_with=_AXLE[1:],
    kinds=MOTORCYCLES,
    limit=THE_SHEETS,
)
def axle_overloaded(wheel: WheelCase) -> Words | None:
    """Name an axle that weighs more than its maker allows."""
    weighed, most = wheel.found.axle_load_kg, wheel.spec.most_load_kg
    if weighed is None or most is None or weighed <= most:
        return None
    return Words(
        f"{wheel.end.capitalize()} axle {kg(weighed - most):g} over the maker's maximum",
        f"Weighed at {kg(weighed):g} with rider and luggage; the sheet allows {kg(most):g}. No "
        "tire cures that: less luggage.",
    )


@rule(
    "load-near-top-speed",
    Severity.STOP,
    title="Load at top speed",
    source=load_at_speed.SOURCE,
    needs=(*_AXLE[:1], *_LOAD, "top_speed_kmh"),
    only_with=("planned.{end}.fast",),
    kinds=MOTORCYCLES,
    limit=(
        "; ".join(
            f"{symbol}: "
            + ", ".join(f"{percent} % at {published(most, 'km/h')}" for most, percent in rows)
            for symbol, rows in LOAD_PERCENT.items()
        )
    ),
)
def short_near_top_speed(wheel: WheelCase) -> Words | None:
    """Name a tire that may not carry its axle at the speed it is ridden at."""
    allowed, (axle, whose) = _allowed_at_speed(wheel), _axle_kg(wheel)
    tire, speed = wheel.wheel.tire, wheel.case.found.riding.top_speed_kmh
    if allowed is None or axle is None or tire is None or tire.load_kg is None:
        return None
    if allowed >= axle or tire.load_kg < axle:
        return None
    return Words(
        f"Carries {kg(allowed):.0f} at {kmh(speed):g}, the axle {kg(axle):g}",
        f"Near its top speed a {tire.speed_symbol} tire carries less: {kg(allowed):.0f} of "
        f"{kg(tire.load_kg):g} at {kmh(speed):g}, and the {wheel.end} axle {whose} {kg(axle):g}. A "
        "higher speed symbol or load index; the tire maker's figure wins.",
    )


@rule(
    "load-near-top-speed",
    Severity.NOTE,
    source=load_at_speed.SOURCE,
    needs=(*_LOAD, "top_speed_kmh"),
    only_with=("planned.{end}.fast",),
    kinds=MOTORCYCLES,
    limit="as above, where the tire still carries its axle",
)
def less_near_top_speed(wheel: WheelCase) -> Words | None:
    """Say what a fast tire may carry at the speed it is ridden at, where that is less."""
    allowed, tire = _allowed_at_speed(wheel), wheel.wheel.tire
    if allowed is None or tire is None or tire.load_kg is None or allowed >= tire.load_kg:
        return None
    if short_near_top_speed(wheel) is not None:
        return None
    return Words(
        f"Carries {kg(allowed):.0f} at {kmh(wheel.case.found.riding.top_speed_kmh):g}",
        f"The {wheel.end} tire's {kg(tire.load_kg):g} fall near its top speed; the tire maker's "
        "figure wins.",
    )


def _allowed_at_speed(wheel: WheelCase) -> float | None:
    """Return what the planned tire may carry in kg at the top speed it is ridden at."""
    tire, speed = wheel.wheel.tire, wheel.case.found.riding.top_speed_kmh
    if tire is None or tire.load_kg is None or tire.speed_symbol is None or speed is None:
        return None
    share = load_at_speed.load_percent(tire.speed_symbol, speed)
    return None if share is None else tire.load_kg * share / 100


@rule(
    "load-index-above-spec",
    Severity.NOTE,
    title="Load index above the maker's",
    source=COMMON_PRACTICE,
    needs=("spec.{end}.load_index", *_LOAD),
    kinds=MOTORCYCLES,
    limit=f"any step above; {FINE_STEPS} are fine",
)
def load_index_above_spec(wheel: WheelCase) -> Words | None:
    """Say what a tire that carries more than the maker asks costs."""
    tire, needed = wheel.wheel.tire, wheel.spec.load_index
    if tire is None or tire.load_index is None or needed is None or tire.load_index <= needed:
        return None
    if wheel.change.tire is None:
        return None
    carried, asked = LOAD_KG.get(tire.load_index), LOAD_KG.get(needed)
    more = ""
    if carried is not None and asked is not None:
        more = f"It carries {kg(carried - asked):g} more than asked. "
    return Words(
        f"Load index {tire.load_index}, {tire.load_index - needed} above the maker's",
        f"{more}{_costs(tire.load_index - needed)} The pressure stays what this machine's load "
        "asks.",
    )


def _costs(steps: int) -> str:
    if steps <= FINE_STEPS:
        return "A step or two is fine: a little comfort and rolling resistance are given away."
    return "More is allowed."


@rule(
    "speed-symbol-above-spec",
    Severity.NOTE,
    title="Speed symbol above the maker's",
    source=speed_symbol.SOURCE,
    needs=("spec.{end}.speed_symbol", "planned.{end}.speed_symbol"),
    kinds=MOTORCYCLES,
    limit=f"any step above; {FINE_STEPS} are fine",
)
def speed_symbol_above_spec(wheel: WheelCase) -> Words | None:
    """Say what a tire faster than the maker asks costs."""
    tire, needed = wheel.wheel.tire, wheel.spec.speed_symbol
    if tire is None or tire.speed_symbol is None or tire.speed_kmh is None or needed is None:
        return None
    asked = SPEED_KMH.get(needed)
    if asked is None or tire.speed_kmh <= asked or wheel.change.tire is None:
        return None
    return Words(
        f"Speed symbol {tire.speed_symbol}, above the maker's {needed}",
        f"Made for {kmh(tire.speed_kmh)} where {kmh(asked)} are asked. "
        f"{_costs(_symbol_steps(tire.speed_symbol, needed))}",
    )


def _symbol_steps(symbol: str, needed: str) -> int:
    """Return how many symbols lie from the one asked for up to another; ZR counts as V."""
    order = list(SPEED_KMH)
    return order.index("V" if symbol == "ZR" else symbol) - order.index(needed)


@rule(
    "width-differs",
    Severity.NOTE,
    title="Tire clearly wider or narrower",
    source=COMMON_PRACTICE,
    limit=", ".join(f"{mm(wider):g} on a {kind}" for kind, wider in WIDER_BY_MM.items()),
)
def width_differs(wheel: WheelCase) -> Words | None:
    """Say how a tire clearly wider or narrower than the maker's handles."""
    tire = wheel.wheel.tire
    asked = wheel.spec.tire or wheel.found.tire
    if tire is None or asked is None or tire.width_mm is None or asked.width_mm is None:
        return None
    wider = tire.width_mm - asked.width_mm
    if wheel.change.tire is None or abs(wider) < WIDER_BY_MM[wheel.case.found.kind]:
        return None
    whose = "the maker's" if wheel.spec.tire else "the one as found"
    if wider > 0:
        return Words(
            f"{mm(wider):.0f} wider than {whose}",
            "A slightly larger patch; it is not more grip by itself, and it needs the rim and the "
            "room.",
        )
    return Words(
        f"{mm(magnitude(wider, 0))} narrower than {whose}",
        "A smaller patch and less air for the load.",
    )
