r"""Whether a tire's width goes with a rim's, and what a rim without hooks asks: one judgement.

    hookless     least tire = inner width + 3 mm; cleared with a margin from inner width + 4 mm on
    pressure     500 kPa on the narrowest tire; the pull on the flange goes with pressure x width,
                 so a tire of width w takes about 500 x narrowest / w

The tables caution outside their range, note its ends and never stop; the tire maker's list comes
first.  Reader, bench, finder and shelf all ask here.  Sources: the table modules'; ISO 5775-1 for
hookless rims, from memory; the fall of the pressure with width is derived from the pull on the
flange.
"""

from dataclasses import dataclass
from typing import Literal

from jentrik.core.amounts import mm
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, ISO_5775_1, Source
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.tables import motorcycle_rims, rim_width
from jentrik.core.tire.tables.motorcycle_rims import NEAR_MM, as_stamped, rims_of
from jentrik.core.units import MM_PER_INCH, inches_to_mm

HOOKLESS_SOURCE = ISO_5775_1.at("hookless rims: least tire width and 500 kPa")
PULL_SOURCE = DERIVED.at("the pull on the flange goes with pressure x width")
SILENT_SOURCE = COMMON_PRACTICE.at("the tables have no row for this pair")
HOOKLESS_MOST_KPA = 500.0
HOOKLESS_LEAST_OVER_MM, HOOKLESS_CLEAR_OVER_MM = 3.0, 4.0


@dataclass(frozen=True, slots=True)
class Rims:
    """The rims a motorcycle tire may go on by the tables: inner widths in mm."""

    measured_on_mm: float
    least_mm: float
    most_mm: float

    @property
    def words(self) -> str:
        """The rims as stamped, in inches."""
        least, most, measured = map(as_stamped, (self.least_mm, self.most_mm, self.measured_on_mm))
        return f"measured on a rim {measured} inches wide and goes on {least} to {most}"


@dataclass(frozen=True, slots=True)
class WidthSaid:
    """What the tables say of a tire on a rim: how it weighs, in words, and by which table."""

    weight: Literal["caution", "note"]
    unlisted: bool
    headline: str
    says: str
    source: Source


def rims_for(tire: Reading) -> Rims | None:
    """Return the rims the tables give a motorcycle tire; None where they have no row for it."""
    if tire.width_mm is None or tire.vehicle != "motorcycle":
        return None
    inches = f"{tire.width_mm / MM_PER_INCH:.2f}"
    aspect = "" if tire.aspect_percent is None else f"{tire.aspect_percent:g}"
    code = tire.rim_code or ""
    if tire.family == "motorcycle-alpha":
        row = rims_of("letter", tire.tokens[0].text.upper()[:2], "", code)
    elif tire.family == "motorcycle-inch":
        row = None if aspect else rims_of("inch", inches, "", code)
    else:
        row = rims_of("metric", f"{tire.width_mm:.0f}", aspect, code)
    if row is None:
        return None
    return Rims(*map(inches_to_mm, (row.measured_on, row.least, row.most)))


def measured_on_mm(tire: Reading) -> float | None:
    """Return the inner width in mm of the rim a tire is measured on; by share where unlisted."""
    rims = rims_for(tire)
    if rims is not None:
        return rims.measured_on_mm
    if tire.width_mm is None:
        return None
    return rim_width.usual_rim_mm(tire.width_mm, tire.aspect_percent, tire.vehicle)


def width_said(tire: Reading, rim_mm: float) -> WidthSaid | None:
    """Return what the tables say against a tire on a rim of that inner width; None for nothing."""
    if tire.width_mm is None:
        return None
    if tire.vehicle == "bicycle":
        return _on_bicycle_rim(tire.width_mm, rim_mm)
    return _on_motorcycle_rim(tire, rim_mm) if tire.vehicle == "motorcycle" else None


def _on_bicycle_rim(tire_mm: float, rim_mm: float) -> WidthSaid | None:
    widths = rim_width.bicycle_tire_widths(rim_mm)
    if widths is None:
        return WidthSaid(
            "note",
            True,
            f"No table speaks of a {mm(round(rim_mm, 1)):g} rim",
            f"The table of rim and tire widths runs from {mm(rim_width.NARROWEST_LISTED_MM)} to "
            f"{mm(rim_width.WIDEST_LISTED_MM)}, not to {mm(round(rim_mm, 1)):g}. {_DECIDES}",
            SILENT_SOURCE,
        )
    if widths[0] <= tire_mm <= widths[1]:
        return None
    return WidthSaid(
        "caution",
        False,
        f"{mm(tire_mm):.0f} tire on a {mm(round(rim_mm, 1)):g} rim",
        f"A rim {mm(round(rim_mm, 1)):g} wide inside usually goes with {mm(widths[0])} to "
        f"{mm(widths[1])} tires; this one is {mm(tire_mm):.0f}. {_DECIDES}",
        rim_width.SOURCE,
    )


def _on_motorcycle_rim(tire: Reading, rim_mm: float) -> WidthSaid | None:
    rims, rim = rims_for(tire), as_stamped(rim_mm)
    if rims is None:
        says = f"The tables of rims have no row for “{tire.text}” on {rim} inches. {_DECIDES}"
        return WidthSaid("note", True, f"No table speaks of “{tire.text}”", says, SILENT_SOURCE)
    says = f"“{tire.text}” is {rims.words}; this rim has {rim}. {_DECIDES}"
    if not rims.least_mm - NEAR_MM <= rim_mm <= rims.most_mm + NEAR_MM:
        headline = f"{rim} inch rim, outside {as_stamped(rims.least_mm)} to "
        headline += as_stamped(rims.most_mm)
        return WidthSaid("caution", False, headline, says, motorcycle_rims.SOURCE)
    ends = (("narrowest", rims.least_mm), ("widest", rims.most_mm))
    for name, end in ends:
        if abs(rim_mm - end) <= NEAR_MM < abs(rims.measured_on_mm - end):
            headline = f"{rim} inch rim, the {name} for this tire"
            return WidthSaid("note", False, headline, says, motorcycle_rims.SOURCE)
    return None


_DECIDES = "The tire maker's list decides."


def hookless_least_mm(rim_mm: float) -> float:
    """Return the least tire width in mm on a hookless rim of that inner width."""
    return rim_mm + HOOKLESS_LEAST_OVER_MM


def hookless_clear_mm(rim_mm: float) -> float:
    """Return the tire width in mm from which a hookless rim of that inner width has a margin."""
    return rim_mm + HOOKLESS_CLEAR_OVER_MM


def hookless_most_kpa(*, rim_mm: float, tire_mm: float) -> float:
    """Return about the pressure in kPa a hookless rim takes with a tire of that width."""
    return HOOKLESS_MOST_KPA * min(hookless_clear_mm(rim_mm) / tire_mm, 1.0)


def falls_with_width_kpa(*, stated_kpa: float, stated_at_mm: float, tire_mm: float) -> float:
    """Return about the pressure in kPa a rim takes with another tire than it is stated for."""
    return stated_kpa * min(stated_at_mm / tire_mm, 1.0)
