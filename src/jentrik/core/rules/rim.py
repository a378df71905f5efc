"""Whether tire and rim belong together: bead seat, width, hooks, tube."""

from jentrik.core.amounts import mm
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHEETS,
    Severity,
    WheelCase,
    Words,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, ISO_4249_3, ISO_5775_2
from jentrik.core.tire.equivalents import names_of_rim
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.tables import motorcycle_rims, rim_width
from jentrik.core.tire.tables.iso5775 import NAMES_SOURCE
from jentrik.core.tire.tables.rim_width import NARROWEST_LISTED_MM, WIDEST_LISTED_MM
from jentrik.core.tire.tire_on_rim import (
    HOOKLESS_LEAST_OVER_MM,
    HOOKLESS_SOURCE,
    SILENT_SOURCE,
    hookless_least_mm,
    width_said,
)

MOTORCYCLE_RIMS = ISO_4249_3.at("rims, their diameters")


@rule(
    "rim-diameter-mismatch",
    Severity.STOP,
    title="Tire and rim have different bead seats",
    source=ISO_5775_2,
    needs=("{end}.rim.bead_seat_diameter_mm",),
    motorcycle_source=MOTORCYCLE_RIMS,
    limit="the two diameters must be the same, never nearly",
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


@rule(
    "rim-name-unclear",
    Severity.CAUTION,
    title="Mark that several rims share",
    source=NAMES_SOURCE,
    limit="a name of more than one rim, where no rim is stated",
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


@rule(
    "rim-width-out-of-range",
    Severity.CAUTION,
    title="Rim width outside the tire's range",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.rim.inner_width_mm", "spec.{end}.rim_width_mm"),
    kinds=MOTORCYCLES,
    limit=THE_SHEETS,
)
def rim_width_outside_makers_list(wheel: WheelCase) -> Words | None:
    """Name a rim narrower or wider than the maker's sheet allows."""
    rim, allowed = wheel.wheel.rim, wheel.spec.rim_width_mm
    if rim is None or rim.inner_width_mm is None or allowed is None:
        return None
    if allowed[0] <= rim.inner_width_mm <= allowed[1]:
        return None
    return Words(
        f"Rim {mm(rim.inner_width_mm):g} wide, sheet {mm(allowed[0]):g} to {mm(allowed[1]):g}",
        f"The {wheel.end} rim is {mm(rim.inner_width_mm):g} wide inside; the maker's sheet allows "
        f"{mm(allowed[0]):g} to {mm(allowed[1]):g}.",
    )


@rule(
    "rim-width-out-of-range",
    Severity.CAUTION,
    source=rim_width.SOURCE,
    needs=("planned.{end}.rim.inner_width_mm",),
    kinds=BICYCLES,
    limit="the row of the table; between two rows what both allow",
)
def rim_width_outside_table(wheel: WheelCase) -> Words | None:
    """Name a bicycle tire on a rim the standard's table does not give it."""
    return None if _motorcycles(wheel) else _by_the_tables(wheel, "caution", unlisted=False)


@rule(
    "rim-width-out-of-range",
    Severity.CAUTION,
    source=motorcycle_rims.SOURCE,
    needs=("planned.{end}.rim.inner_width_mm",),
    kinds=MOTORCYCLES,
    limit="the row of the table",
)
def rim_width_outside_its_row(wheel: WheelCase) -> Words | None:
    """Name a motorcycle tire on a rim the tables do not give it, where the sheet is silent."""
    return _by_the_tables(wheel, "caution", unlisted=False) if _motorcycles(wheel) else None


def _motorcycles(wheel: WheelCase) -> bool:
    return wheel.wheel.tire is not None and wheel.wheel.tire.vehicle == "motorcycle"


@rule(
    "rim-width-at-its-end",
    Severity.NOTE,
    title="Rim width at the end of the tire's range",
    source=motorcycle_rims.SOURCE,
    needs=("planned.{end}.rim.inner_width_mm",),
    kinds=MOTORCYCLES,
    limit="the narrowest or the widest rim of the row, but the one measured on",
)
def rim_width_at_its_end(wheel: WheelCase) -> Words | None:
    """Name a tire on the narrowest or the widest rim the tables give it."""
    return _by_the_tables(wheel, "note", unlisted=False)


@rule(
    "rim-width-unlisted",
    Severity.NOTE,
    title="Tire and rim width not in the tables",
    source=SILENT_SOURCE,
    needs=("planned.{end}.rim.inner_width_mm",),
    limit=(
        f"no row; bicycle rims have some from {mm(NARROWEST_LISTED_MM)} to {mm(WIDEST_LISTED_MM)}"
    ),
)
def rim_width_unlisted(wheel: WheelCase) -> Words | None:
    """Say that the tables have no row for this tire and rim."""
    return _by_the_tables(wheel, "note", unlisted=True)


def _by_the_tables(wheel: WheelCase, weight: str, *, unlisted: bool) -> Words | None:
    tire, rim = wheel.wheel.tire, wheel.wheel.rim
    if tire is None or rim is None or rim.inner_width_mm is None or wheel.spec.rim_width_mm:
        return None
    said = width_said(tire, rim.inner_width_mm)
    if said is None or (said.weight, said.unlisted) != (weight, unlisted) or _stays(wheel):
        return None
    return Words(said.headline, f"{wheel.end.capitalize()}: {said.says}")


def _stays(wheel: WheelCase) -> bool:
    """Whether this very size is on this very rim already: nothing new is said of it."""
    old, new = wheel.found, wheel.wheel
    if old.tire is None or new.tire is None or old.rim is None or new.rim is None:
        return False
    return old.rim.inner_width_mm == new.rim.inner_width_mm and all(
        getattr(old.tire, name) == getattr(new.tire, name)
        for name in ("width_mm", "aspect_percent", "bead_seat_diameter_mm")
    )


@rule(
    "hookless-too-narrow",
    Severity.STOP,
    title="Tire too narrow for a hookless rim",
    source=HOOKLESS_SOURCE,
    needs=("planned.{end}.rim.inner_width_mm",),
    only_with=("planned.{end}.rim.hookless",),
    kinds=BICYCLES,
    limit=f"inner width + {mm(HOOKLESS_LEAST_OVER_MM):g}",
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
        f"{mm(tire.width_mm):.0f} tire on a hookless rim",
        f"A hookless rim {mm(rim.inner_width_mm):g} wide inside needs a tire of {mm(least):g} at "
        f"least; the {wheel.end} tire is {mm(tire.width_mm):.0f} and can blow off. Choose a wider "
        "tire or a hooked rim.",
    )


@rule(
    "another-rim-diameter",
    Severity.CAUTION,
    title="Same inches, another rim",
    source=NAMES_SOURCE,
    limit="bead seats that differ while an inch name of each is the same",
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


@rule(
    "another-rim-diameter",
    Severity.NOTE,
    source=ISO_5775_2,
    motorcycle_source=MOTORCYCLE_RIMS,
    limit="bead seats that differ",
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


@rule(
    "tube-type-mismatch",
    Severity.CAUTION,
    title="Tubeless tire, tube rim",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.rim.tube",),
    kinds=MOTORCYCLES,
    limit="tube type on a tubeless rim, or tubeless on a rim for tubes",
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
