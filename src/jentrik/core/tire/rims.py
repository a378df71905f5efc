"""Whether tire, rim and tube go together.

The diameter must be the same, never nearly; the rest asks the makers.  Sources: the table
module's, from memory.
"""

from jentrik.core.amounts import in_plain
from jentrik.core.sources import COMMON_PRACTICE, Source
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.rim_marks import RimReading
from jentrik.core.tire.tables import rim_profiles
from jentrik.core.tire.tire_on_rim import (
    HOOKLESS_MOST_KPA,
    HOOKLESS_SOURCE,
    WidthSaid,
    hookless_least_mm,
    width_said,
)
from jentrik.core.tire.traps import Warned, Weight


def together(tire: Reading, rim: RimReading) -> tuple[Warned, ...]:
    """Return what speaks against this tire on this rim, the heaviest first.

    Nothing said is no approval: the tire maker's list and the rim maker's word decide.
    """
    standard = (
        rim_profiles.BICYCLE_SOURCE if rim.vehicle == "bicycle" else rim_profiles.MOTORCYCLE_SOURCE
    )
    width = width_said(tire, rim.inner_width_mm) if tire.vehicle == rim.vehicle else None
    said: list[tuple[str, Weight, str | None, Source]] = [
        ("rim-diameter-mismatch", "stop", _diameter(tire, rim), standard),
        ("rim-of-another-vehicle", "stop", _vehicle(tire, rim), COMMON_PRACTICE),
        ("hookless-too-narrow", "stop", _hookless_width(tire, rim), HOOKLESS_SOURCE),
        *_width(width, "caution"),
        ("tube-type-mismatch", "caution", _tube(tire, rim), COMMON_PRACTICE),
        ("hookless-rim", "caution", _hookless(tire, rim), COMMON_PRACTICE),
        *_width(width, "note"),
    ]
    return tuple(
        Warned(name, weight, words, str(source)) for name, weight, words, source in said if words
    )


def _diameter(tire: Reading, rim: RimReading) -> str | None:
    if rim.bead_seat_diameter_mm in (None, tire.bead_seat_diameter_mm):
        return None
    return (
        f"The tire's bead seat is {tire.bead_seat_diameter_mm} mm, the rim's "
        f"{rim.bead_seat_diameter_mm} mm. They must be the same; never force a bead."
    )


def _vehicle(tire: Reading, rim: RimReading) -> str | None:
    if tire.vehicle == rim.vehicle:
        return None
    return f"A {tire.vehicle} tire on a {rim.vehicle} rim: their flanges differ."


def _width(said: WidthSaid | None, weight: Weight) -> list[tuple[str, Weight, str | None, Source]]:
    if said is None or said.weight != weight:
        return []
    name = "out-of-range" if weight == "caution" else "unlisted" if said.unlisted else "at-its-end"
    return [(f"rim-width-{name}", weight, in_plain(said.says), said.source)]


def _hookless_width(tire: Reading, rim: RimReading) -> str | None:
    if rim.hooked is not False or tire.vehicle != "bicycle" or tire.width_mm is None:
        return None
    least = hookless_least_mm(rim.inner_width_mm)
    if tire.width_mm >= least:
        return None
    return (
        f"A {tire.width_mm:.0f} mm tire on a hookless rim {rim.inner_width_mm:g} mm wide: at least "
        f"{least:g} mm. It can blow off."
    )


def _tube(tire: Reading, rim: RimReading) -> str | None:
    if tire.tube == "tubeless" and rim.tubeless is False:
        return (
            "A tubeless tire on a rim made for tubes: it needs a tube its maker allows, or a "
            "sealed rim with safety humps. Spoke holes must not leak."
        )
    if tire.tube == "tube-type" and rim.tubeless:
        return "A tube-type tire on a tubeless rim: it always needs a tube. Ask both makers."
    return None


def _hookless(tire: Reading, rim: RimReading) -> str | None:
    if rim.hooked is not False or tire.vehicle != "bicycle":
        return None
    return (
        f"A hookless rim: only tires whose maker clears them for it, at most "
        f"{HOOKLESS_MOST_KPA / 100:g} bar, less with a wider tire; the lower of the two makers' "
        "figures holds."
    )
