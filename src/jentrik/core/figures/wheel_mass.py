"""About what a wheel and its tire weigh, by size and kind of machine, until someone weighs them.

    bicycle      at a bead seat of 622 mm: rim 0.50 kg, spokes 0.20, hub 0.65; a 37-622 tire 0.55
    motorcycle   at a bead seat of 533 mm: rim 2.2 kg, spokes 1.0, hub 2.0; a 90/90-21 tire 4.5

Rim and spokes in proportion to the bead seat, the tire to bead seat times width, the hub as it is.
Source: from memory; single wheels lie a quarter off either way.
"""

from jentrik.core.figures.character import Masses
from jentrik.core.machine.declared import Kind

_RIM_KG_PER_M: dict[Kind, float] = {"bicycle": 0.50 / 0.622, "motorcycle": 2.2 / 0.533}
_SPOKES_KG_PER_M: dict[Kind, float] = {"bicycle": 0.20 / 0.622, "motorcycle": 1.0 / 0.533}
_HUB_KG: dict[Kind, float] = {"bicycle": 0.65, "motorcycle": 2.0}
_TIRE_KG_PER_M2: dict[Kind, float] = {
    "bicycle": 0.55 / (0.622 * 0.037),
    "motorcycle": 4.5 / (0.533 * 0.090),
}


def about_masses(kind: Kind, *, bead_seat_mm: float, width_mm: float) -> Masses:
    """Return about what the parts of a wheel weigh, in grams; assumed."""
    seat, width = bead_seat_mm / 1000, width_mm / 1000
    return Masses(
        rim_g=1000 * _RIM_KG_PER_M[kind] * seat,
        spokes_g=1000 * _SPOKES_KG_PER_M[kind] * seat,
        hub_g=1000 * _HUB_KG[kind],
        tire_g=1000 * _TIRE_KG_PER_M2[kind] * seat * width,
    )
