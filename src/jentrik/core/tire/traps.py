"""What beginners trip over in the marks of one tire; each trap speaks only where it applies.

A trap is one small function that looks at a sidewall and answers a sentence or None, a line in
`TRAPS` that gives it a name, a weight and a source.
"""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from jentrik.core.sources import CFR_574_5, COMMON_PRACTICE, ISO_5775_1, UN_R75, Source
from jentrik.core.tire.bicycle import name_not_measure_note
from jentrik.core.tire.flotation import NOT_ON_TWO_WHEELS_NOTE
from jentrik.core.tire.found import ServiceReading, Sidewall
from jentrik.core.tire.metric import WORN_ONE
from jentrik.core.tire.reading import BRACKETS_NOTE, Reading
from jentrik.core.tire.tables.iso5775 import DECIMAL_INCH_MM, FRACTIONAL_INCH_MM
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.load_index import SOURCE as LOAD_SOURCE

Weight = Literal["stop", "caution", "note"]


@dataclass(frozen=True, slots=True)
class Trap:
    """One trap: its name, how much it weighs, its check and where it comes from."""

    id: str
    weight: Weight
    check: Callable[[Sidewall], str | None]
    source: Source


@dataclass(frozen=True, slots=True)
class Warned:
    """A trap that applies, in a sentence or two."""

    id: str
    weight: Weight
    says: str
    source: str


def traps_of(sidewall: Sidewall) -> tuple[Warned, ...]:
    """Return every trap that applies to these marks, the heaviest first."""
    said = [(trap, trap.check(sidewall)) for trap in TRAPS]
    return tuple(
        Warned(trap.id, trap.weight, words, str(trap.source)) for trap, words in said if words
    )


def _sizes(sidewall: Sidewall) -> list[Reading]:
    return [mark for mark in sidewall.marks if isinstance(mark, Reading)]


def car_on_two_wheels(sidewall: Sidewall) -> str | None:
    """Stop a car tire on its way to a machine that leans."""
    cars = [size for size in _sizes(sidewall) if size.vehicle == "car"]
    if not cars:
        return None
    if cars[0].family == "flotation":
        return NOT_ON_TWO_WHEELS_NOTE
    return (
        f"“{cars[0].text}” is a car mark. On a sidecar or trike ask the maker; on a two-wheeler "
        "that leans, never."
    )


CAR_FROM_MM, CAR_RIM_CODES = 132.0, ("10", "12", "13", "14", "15")  # 5.20 inches, from memory
CARS_HAD_IT = (
    "Cars had this size too: look for M/C, or ask the vehicle maker's sheet, before it goes on a "
    "machine that leans."
)


def may_be_a_cars(size: Reading) -> bool:
    """Whether an inch mark without M/C is one that old cross-ply car tires had, too."""
    wide = size.width_mm is not None and size.width_mm >= CAR_FROM_MM
    inch = size.family == "motorcycle-inch" and size.rim_code in CAR_RIM_CODES
    return inch and wide and "M/C" not in size.markings


def car_size(sidewall: Sidewall) -> str | None:
    """Ask of an inch size that cars had too."""
    return CARS_HAD_IT if any(map(may_be_a_cars, _sizes(sidewall))) else None


def spare_or_trailer(sidewall: Sidewall) -> str | None:
    """Stop a temporary spare or a trailer tire on a driven or steered wheel."""
    for size in _sizes(sidewall):
        if "T" in size.markings:
            return "T in front: a temporary spare, for a short, slow way home and nothing else."
        if "ST" in size.markings:
            return "ST in front: for trailers only, never on a driven or steered wheel."
    return None


def several_rims(sidewall: Sidewall) -> str | None:
    """Say how to tell the rims apart that one name can mean."""
    named = [size for size in _sizes(sidewall) if size.alternatives]
    if not named or any(size.exactness == 2 for size in _sizes(sidewall)):
        return None
    size = named[0]
    others = " or ".join(str(other.bead_seat_diameter_mm) for other in size.alternatives)
    return (
        f"“{size.text}” names a rim of {size.bead_seat_diameter_mm} mm most often, but also "
        f"{others} mm. Look for the ISO mark, or measure the bead seat of the bare rim, or put a "
        "tape round it. The same inches are not the same rim."
    )


def decimal_or_fraction(sidewall: Sidewall) -> str | None:
    """Warn where the same inches written the other way name another rim."""
    for size in _sizes(sidewall):
        if size.family != "bicycle-inch" or size.width_mm is None or size.rim_code is None:
            continue
        inches = size.width_mm / 25.4
        other = _rim_written_otherwise(size, inches)
        if other is not None:
            spelled, bead_seat = other
            return (
                f"{size.rim_code} x {spelled} is another rim: {bead_seat} mm, not "
                f"{size.bead_seat_diameter_mm}. A point and a fraction of equal value are not the "
                "same tire."
            )
    return None


def _rim_written_otherwise(size: Reading, inches: float) -> tuple[str, int] | None:
    if "." in size.text.replace(",", "."):
        for (name, width), bead_seats in FRACTIONAL_INCH_MM.items():
            equal = abs(float(sum(Fraction(part) for part in width.split())) - inches) < 0.02
            if name == size.rim_code and equal and "/" in width:
                return width, bead_seats[0]
        return None
    decimal = DECIMAL_INCH_MM.get(size.rim_code or "")
    if "/" not in size.text or decimal in (None, size.bead_seat_diameter_mm):
        return None
    return f"{inches:.3g}", decimal


def name_not_measure(sidewall: Sidewall) -> str | None:
    """Say that 27.5 is a name."""
    for size in _sizes(sidewall):
        if size.rim_code == "27.5" and size.overall_diameter_mm is not None:
            return name_not_measure_note(size.overall_diameter_mm)
    return None


def middle_is_a_ratio(sidewall: Sidewall) -> str | None:
    """Say that the middle figure is no length."""
    for size in _sizes(sidewall):
        if size.aspect_percent is not None and size.section_height_mm is not None:
            return (
                f"{size.aspect_percent:g} is no length: the section is {size.aspect_percent:g} % "
                f"as high as wide, {size.section_height_mm:.0f} mm."
            )
    return None


def letter_is_construction(sidewall: Sidewall) -> str | None:
    """Say that R is how the tire is built, and B a belt."""
    for size in _sizes(sidewall):
        if size.construction == "radial":
            return "R stands for radial, the way the casing is built, and not for rim."
        if size.construction == "bias-belted":
            return "B stands for a bias casing with a belt; it is no load or speed letter here."
    return None


def worn_mark(sidewall: Sidewall) -> str | None:
    """Doubt a size that no table has where one with another figure in front is usual."""
    return next((note for note in sidewall.notes if WORN_ONE in note), None)


def brackets(sidewall: Sidewall) -> str | None:
    """Say what brackets round load and speed mean."""
    if "(" not in sidewall.text or not any("Brackets" in note for note in sidewall.notes):
        return None
    return BRACKETS_NOTE


def index_is_not_kilograms(sidewall: Sidewall) -> str | None:
    """Say what the load index really stands for."""
    for mark in sidewall.marks:
        if isinstance(mark, Reading | ServiceReading) and mark.load_index in LOAD_KG:
            index = mark.load_index
            return (
                f"Load index {index} is not {index} kg: it stands for {LOAD_KG[index]:g} kg on one "
                "tire, and never for the weight of the machine."
            )
    return None


def pressure_is_a_limit(sidewall: Sidewall) -> str | None:
    """Say that the sidewall's pressure is never the setting."""
    if not any(quantity.kind == "pressure" for quantity in sidewall.quantities):
        return None
    return "The sidewall's pressure is a limit, never the setting; that is the vehicle maker's."


def week_not_day(sidewall: Sidewall) -> str | None:
    """Say that a date mark starts with the week."""
    made = sidewall.made
    if made is None:
        return None
    return f"{made.week:02d} is the week of making, 01 to 53, not a day or a month."


def trust_the_arrow(sidewall: Sidewall) -> str | None:
    """Say that a tread can look backwards and be right."""
    if not any(token.caption == "direction" for token in sidewall.tokens):
        return None
    return "A front tread can look mounted backwards and be right: trust the arrow, not the eye."


TRAPS = (
    Trap("car-tire-on-two-wheels", "stop", car_on_two_wheels, COMMON_PRACTICE),
    Trap("spare-or-trailer-tire", "stop", spare_or_trailer, COMMON_PRACTICE),
    Trap("car-size-too", "caution", car_size, COMMON_PRACTICE),
    Trap("worn-mark", "caution", worn_mark, UN_R75),
    Trap("several-rims", "caution", several_rims, ISO_5775_1),
    Trap("decimal-or-fraction", "caution", decimal_or_fraction, ISO_5775_1),
    Trap("brackets", "caution", brackets, UN_R75),
    Trap("pressure-is-a-limit", "caution", pressure_is_a_limit, COMMON_PRACTICE),
    Trap("name-not-measure", "note", name_not_measure, COMMON_PRACTICE),
    Trap("middle-is-a-ratio", "note", middle_is_a_ratio, UN_R75),
    Trap("letter-is-construction", "note", letter_is_construction, UN_R75),
    Trap("index-is-not-kilograms", "note", index_is_not_kilograms, LOAD_SOURCE),
    Trap("week-not-day", "note", week_not_day, CFR_574_5),
    Trap("trust-the-arrow", "note", trust_the_arrow, COMMON_PRACTICE),
)
