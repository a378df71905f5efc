r"""About the pressure a bicycle tire needs for its load and width: where it sinks in by 15 %.

    p = 153.6 W / w^1.5785 - 7.1685        p psi, W load on the wheel in pounds, w width in mm

Drop is the share of its height a tire loses under its load; 15 % rides and wears well on a hard
road, softer is right off it.  Source: common practice; the fit is from memory, for 20 to 60 mm.
The makers' limits come first.
"""

from jentrik.core.units import KG_PER_POUND, KPA_PER_PSI

NARROWEST_MM, WIDEST_MM = 20.0, 60.0


def pressure_kpa(*, load_kg: float, width_mm: float) -> float | None:
    """Return the pressure in kPa; None for a width the fit does not cover."""
    if not NARROWEST_MM <= width_mm <= WIDEST_MM:
        return None
    psi = 153.6 * (load_kg / KG_PER_POUND) / float(width_mm**1.5785) - 7.1685
    return max(psi, 0.0) * KPA_PER_PSI
