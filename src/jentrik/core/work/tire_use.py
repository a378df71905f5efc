"""Tires of one size for a use: what each gives and what it gives away, with the figure behind it.

    ground     km of every 100 its tread is right, passable or wrong for
    a year     (price + fitting) / years it lasts; worn out or too old, whichever comes first
    margin     what its code carries / what the axle weighs - 1

Nothing is known of a make but what the shop wrote down.  What treads, compounds and sidewalls are
good for is common practice; no tire is called the best one.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal

from jentrik.core.amounts import THIN, kmh
from jentrik.core.errors import OutOfRange
from jentrik.core.work.cost import TireYears, tire_years
from jentrik.core.work.shelf import ShelfTire

# tread: how it does on road, gravel, mud (1 right, 0 passable, -1 wrong); common practice
TREAD_ON = {
    "slick": (1, -1, -1),
    "fine": (1, 0, -1),
    "mixed": (0, 1, 0),
    "blocks": (0, 1, 0),
    "knobs": (-1, 0, 1),
}
# compound: in the wet, in the cold, the wet in words; common practice
COMPOUND = {
    "soft": (1, 0, "holds in the wet"),
    "medium": (0, 0, "passable in the wet"),
    "hard": (-1, -1, "lets go earlier in the wet"),
    "hard middle, soft sides": (0, 0, "holds in bends, less when braking upright in the wet"),
    "winter": (1, 1, "holds in the wet, wears fast in summer"),
}
SIDEWALL = {
    "stiff": "carries load, takes stones; harsher, less grip on rough ground",
    "medium": "between load and grip",
    "supple": "grips and rolls over rough ground; cut sooner, less for load",
}
NOISY = ("blocks", "knobs")
ROAD_FOR_NOISE = 50.0  # percent of road from which noise counts


@dataclass(frozen=True, slots=True)
class TireUse:
    """How a machine is ridden: shares in percent of the km, km a year, km/h, how they ride.

    Gravel and mud are kinds of ground, the rest is road; wet and cold are shares of all of it.
    """

    gravel_percent: float = 0.0
    mud_percent: float = 0.0
    wet_percent: float = 0.0
    cold_percent: float = 0.0
    km_a_year: float | None = None
    speed_kmh: float | None = None
    style: str = ""

    def __post_init__(self) -> None:
        if self.gravel_percent + self.mud_percent > 100:
            raise OutOfRange(
                "Gravel and mud together are more than the whole way.",
                field="riding.mud_percent",
                expected="at most 100 % together",
            )

    @property
    def road_percent(self) -> float:
        """The share that is neither gravel nor mud."""
        return 100.0 - self.gravel_percent - self.mud_percent


@dataclass(frozen=True, slots=True)
class Conditions:
    """What a tire is judged under besides the use: axle weighed, years to keep, cost of fitting."""

    weighed_kg: float | None
    replace_at_years: float
    fitting: Decimal
    least_tread_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Said:
    """What is said of one tire in one aspect; `worth` compares it with the others, higher better.

    None where nothing is known, or where it is a matter of what is wanted.
    """

    words: str
    worth: float | None = None


@dataclass(frozen=True, slots=True)
class Aspect:
    """One thing tires of a size differ in: its name, why it matters for this use."""

    name: str
    short: str  # as in "gives ..., gives away ..."
    judge: Callable[[ShelfTire, float | None, TireUse, Conditions], Said | None]
    from_none: bool = False  # what is worth nothing or less is not given, better than others or not


@dataclass(frozen=True, slots=True)
class AspectRow:
    """One aspect over all tires: what is said of each, and which do best."""

    name: str
    said: tuple[Said, ...]
    best: tuple[bool, ...]


@dataclass(frozen=True, slots=True)
class TireForUse:
    """One tire of a size: what it gives and gives away against the others, how long it lasts."""

    tire: ShelfTire
    gives: tuple[str, ...]
    gives_away: tuple[str, ...]
    years: TireYears | None


UNKNOWN = Said("not known")


def km_left(tire: ShelfTire, there: Conditions) -> float | None:
    """Return how far a tire still lasts: as long as one does here, less what it ran.

    None where that is not known, or what it ran before is not.
    """
    life = tire.facts.life_km
    if tire.tread_mm is None:
        return life if life is None or tire.km is None else max(life - tire.km, 0.0)
    if tire.tread_mm <= there.least_tread_mm:
        return 0.0
    return None if life is None or tire.km is None else max(life - tire.km, 0.0)


def years_of(
    tire: ShelfTire, age_years: float | None, use: TireUse, there: Conditions
) -> TireYears | None:
    """Return how long a tire lasts here and what it costs a year, fitting included.

    None where its age is spent already.
    """
    age = max(age_years or 0.0, 0.0)
    if age >= there.replace_at_years:
        return None
    price = None if tire.price is None else tire.price + there.fitting
    return tire_years(
        price=price,
        life_km=km_left(tire, there),
        km_a_year=use.km_a_year,
        replace_at_years=there.replace_at_years,
        age_years=age,
    )


def _ground(tire: ShelfTire, __: float | None, use: TireUse, ___: Conditions) -> Said | None:
    if not tire.facts.tread:
        return UNKNOWN
    shares = (use.road_percent, use.gravel_percent, use.mud_percent)
    on = TREAD_ON[tire.facts.tread]
    by = {
        fit: sum(share for share, one in zip(shares, on, strict=True) if one == fit)
        for fit, _ in _FIT
    }
    parts = [f"{word} {by[value]:.0f} %" for value, word in _FIT if by[value]]
    return Said(f"{tire.facts.tread}: {', '.join(parts)}", by[1] - by[-1])


_FIT = ((1, "right for"), (0, "passable on"), (-1, "wrong for"))


def _wet(tire: ShelfTire, _: float | None, use: TireUse, __: Conditions) -> Said | None:
    if not use.wet_percent:
        return None
    known = COMPOUND.get(tire.facts.compound)
    return UNKNOWN if known is None else Said(f"{tire.facts.compound}: {known[2]}", known[0])


def _cold(tire: ShelfTire, _: float | None, use: TireUse, __: Conditions) -> Said | None:
    if not use.cold_percent:
        return None
    known = COMPOUND.get(tire.facts.compound)
    words = ("stiff: lets go earlier", "passable", "stays soft")
    return UNKNOWN if known is None else Said(words[known[1] + 1], known[1])


def _life(tire: ShelfTire, age: float | None, use: TireUse, there: Conditions) -> Said | None:
    years = years_of(tire, age, use, there)
    if years is None:
        return Said("too old already", 0.0)
    ends = [one for one in (years.by_wear, years.by_age) if one is not None]
    if years.by_wear is None:
        unknown = "km a year unknown; " if use.km_a_year is None else "worn, km unknown; "
        what = "too old in" if tire.facts.life_km is None else f"{unknown}too old in"
        return Said(f"{what} {min(ends):.1f} years", None)
    if years.by_wear == 0:
        return Said("worn out already", 0.0)
    why = "worn out" if years.first == "wear" else "too old"
    hard = ", sooner ridden hard" if use.style == "hard" and years.first == "wear" else ""
    return Said(f"{why} in {min(ends):.1f} years{hard}", min(ends))


def _cost(tire: ShelfTire, age: float | None, use: TireUse, there: Conditions) -> Said | None:
    years = years_of(tire, age, use, there)
    if years is None or years.cost_a_year is None or years.by_wear is None:
        return UNKNOWN
    return Said(f"{years.cost_a_year}", -float(years.cost_a_year))


def _load(tire: ShelfTire, _: float | None, __: TireUse, there: Conditions) -> Said | None:
    carried, weighed = tire.reading.load_kg, there.weighed_kg
    if weighed is None:
        return None
    if carried is None:
        return Said("no load on its code")
    margin = carried / weighed - 1
    return Said(f"{margin * 100:+.0f} % on what the axle weighs".replace("-", "\u2212"), margin)


def _speed(tire: ShelfTire, _: float | None, use: TireUse, __: Conditions) -> Said | None:
    known = tire.reading.speed_kmh
    if use.speed_kmh is None or known is None:
        return None
    return Said(
        f"to {kmh(known)}, ridden at {kmh(use.speed_kmh):g}", min(known - use.speed_kmh, 0.0)
    )


def _sidewall(tire: ShelfTire, _: float | None, __: TireUse, ___: Conditions) -> Said | None:
    known = tire.facts.sidewall
    plies = "" if tire.facts.plies is None else f"; {tire.facts.plies:g} plies"
    if not known:
        return Said(plies.removeprefix("; ")) if plies else UNKNOWN
    return Said(f"{known}: {SIDEWALL[known]}{plies}")


def _weight(tire: ShelfTire, _: float | None, __: TireUse, ___: Conditions) -> Said | None:
    known = tire.facts.weight_g
    return UNKNOWN if known is None else Said(f"{known:.0f}{THIN}g", -known)


def _noise(tire: ShelfTire, _: float | None, use: TireUse, __: Conditions) -> Said | None:
    if use.road_percent < ROAD_FOR_NOISE or not tire.facts.tread:
        return None
    noisy = tire.facts.tread in NOISY
    return Said("blocks hum on the road" if noisy else "quiet", -1.0 if noisy else 0.0)


def _void(tire: ShelfTire, _: float | None, use: TireUse, __: Conditions) -> Said | None:
    known = tire.facts.void_percent
    if known is None:
        return UNKNOWN
    return Said(f"{known:.0f} % groove", known if use.mud_percent else None)


def _age(tire: ShelfTire, age: float | None, __: TireUse, ___: Conditions) -> Said | None:
    return Said("no date read") if age is None else Said(f"{age:.1f} years", -age)


ASPECTS = (
    Aspect("Ground", "the right tread", _ground, from_none=True),
    Aspect("Wet", "grip in the wet", _wet, from_none=True),
    Aspect("Cold", "grip in the cold", _cold, from_none=True),
    Aspect("Lasts", "a long life", _life, from_none=True),
    Aspect("Cost a year, fitted", "a low cost a year", _cost),
    Aspect("Load margin", "load margin", _load, from_none=True),
    Aspect("Speed symbol", "the speed", _speed),
    Aspect("Sidewall", "", _sidewall),
    Aspect("Groove", "room for mud", _void),
    Aspect("Weight", "a light wheel", _weight),
    Aspect("Noise", "quiet running", _noise),
    Aspect("Age", "fresh rubber", _age),
)


def tires_for(
    tires: Sequence[tuple[ShelfTire, float | None]], use: TireUse, there: Conditions
) -> tuple[list[AspectRow], list[TireForUse]]:
    """Return tires with their ages in years, aspect by aspect, and what each gives and gives away.

    An aspect that nothing is known of for any tire, or that does not matter here, is left out.
    """
    rows: list[AspectRow] = []
    gives: list[list[str]] = [[] for _ in tires]
    away: list[list[str]] = [[] for _ in tires]
    for aspect in ASPECTS:
        found = [aspect.judge(tire, age, use, there) for tire, age in tires]
        said = tuple(one or Said("") for one in found)
        if all(one in (None, UNKNOWN) for one in found):
            continue
        worth = [one.worth for one in said if one.worth is not None]
        differ = len(worth) > 1 and max(worth) > min(worth)
        least = 0.0 if aspect.from_none else -math.inf
        best = tuple(differ and one.worth == max(worth) and max(worth) > least for one in said)
        rows.append(AspectRow(aspect.name, said, best))
        for place, one in enumerate(said):
            if best[place]:
                gives[place].append(aspect.short)
            elif differ and one.worth is not None and one.worth == min(worth):
                away[place].append(aspect.short)
    return rows, [
        TireForUse(tire, tuple(gives[place]), tuple(away[place]), years_of(tire, age, use, there))
        for place, (tire, age) in enumerate(tires)
    ]
