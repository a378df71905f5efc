"""About what a wheel and its tire weigh, by size and kind of machine, until someone weighs them.

    bicycle      rim, spokes, hub  1.35 kg at a bead seat of 622 mm     a 37-622 tire 0.55 kg
    motorcycle   rim, spokes       3.2 kg at a bead seat of 533 mm      a 90/90-21 tire 4.5 kg

The wheel in proportion to its bead seat, the tire to bead seat times width.  Source: from memory;
single wheels lie a quarter off either way.
"""

from jentrik.core.figures.character import Masses
from jentrik.core.machine.machine import Kind

_WHEEL_KG_PER_M: dict[Kind, float] = {"bicycle": 1.35 / 0.622, "motorcycle": 3.2 / 0.533}
_TIRE_KG_PER_M2: dict[Kind, float] = {
    "bicycle": 0.55 / (0.622 * 0.037),
    "motorcycle": 4.5 / (0.533 * 0.090),
}


def about_masses(kind: Kind, *, bead_seat_mm: float, width_mm: float) -> Masses:
    """Return about what rim and tire weigh, in grams; assumed."""
    seat, width = bead_seat_mm / 1000, width_mm / 1000
    return Masses(
        rim_g=1000 * _WHEEL_KG_PER_M[kind] * seat,
        tire_g=1000 * _TIRE_KG_PER_M2[kind] * seat * width,
    )
