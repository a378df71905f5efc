r"""Whether a tire's width goes with a rim's, and what a rim without hooks asks: one judgement.

    hookless     least tire = inner width + 3 mm; cleared with a margin from inner width + 4 mm on
    pressure     500 kPa on the narrowest tire; the pull on the flange goes with pressure x width,
                 so a tire of width w takes about 500 x narrowest / w

The bicycle table is an older edition: it cautions and never stops.  Reader, bench and shelf all
ask here.  Sources: the table module's; ISO 5775-1 for hookless rims, from memory; the fall of the
pressure with width is derived from the pull on the flange.
"""

from dataclasses import dataclass

from jentrik.core.sources import COMMON_PRACTICE, DERIVED, ISO_5775_1, Source
from jentrik.core.tables import rim_width
from jentrik.core.tirecode.sizes import Vehicle

HOOKLESS_SOURCE = ISO_5775_1.at("hookless rims: least tire width and 500 kPa")
PULL_SOURCE = DERIVED.at("the pull on the flange goes with pressure x width")
HOOKLESS_MOST_KPA = 500.0
HOOKLESS_LEAST_OVER_MM, HOOKLESS_CLEAR_OVER_MM = 3.0, 4.0


@dataclass(frozen=True, slots=True)
class TireWidths:
    """The nominal tire widths a rim goes with, in mm, and where that comes from."""

    least_mm: float
    most_mm: float
    source: Source

    def hold(self, width_mm: float) -> bool:
        """Whether a tire of that width is among them."""
        return self.least_mm <= width_mm <= self.most_mm


def tire_widths(
    *, rim_mm: float, vehicle: Vehicle, aspect_percent: float | None
) -> TireWidths | None:
    """Return the tire widths that go with an inner rim width; None where the table is silent."""
    if vehicle == "bicycle":
        widths = rim_width.bicycle_tire_widths(rim_mm)
        return None if widths is None else TireWidths(*widths, source=rim_width.SOURCE)
    if vehicle == "motorcycle":
        least, most = rim_width.motorcycle_share(aspect_percent)
        return TireWidths(rim_mm / most, rim_mm / least, rim_width.MOTORCYCLE_SOURCE)
    return None


def width_words(*, tire_mm: float, rim_mm: float, widths: TireWidths) -> str:
    """Return in a sentence what a rim usually takes, for a tire that is not among it."""
    return (
        f"A rim {rim_mm:g} mm wide inside usually goes with {widths.least_mm:.0f} to "
        f"{widths.most_mm:.0f} mm tires; this one is {tire_mm:.0f} mm. The tire maker's list "
        "decides."
    )


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


SILENT_SOURCE = COMMON_PRACTICE.at("the table has no row for this rim")
