r"""How far a machine on its side stand may go before it tips, and the stand that holds it.

    rear view; C contact of the tires, S foot of the stand, G center of mass, r crown radius

            G .            G lies (h - r) sin w towards the foot and r + (h - r) cos w up from C
           . |             on ground as steep as  atan(side / up)  it stands over C and tips away;
          /  |             a gust adds its moment, the machine's weight holds against it.
    S____C___|__           Towards the foot it tips where G passes the line from the foot to the
         ^ up, side        contact of front or rear wheel, whichever edge G lies beside.

The stand's leg lies along the line from its pivot to the foot; made shorter, the foot goes up it.
Source: derived; area and drag of a machine in the wind are common practice.
"""

import math
from dataclasses import dataclass
from typing import Any

from jentrik.core.geometry.frame import maths
from jentrik.core.units import STANDARD_GRAVITY

AIR_KG_M3 = 1.2  # at sea level
SIDE_FILLED = 0.6  # of wheelbase x seat height, filled with machine (common practice)
DRAG = 1.2  # of a bluff body (common practice)
WIND_AT = 0.5  # of the seat height, where the wind pushes (common practice)


@dataclass(frozen=True, slots=True)
class OnStand:
    """A machine on its stand: lean in degrees, the rest mm; y of the foot is level, out."""

    lean_deg: Any
    crown_radius_mm: Any
    center_x_mm: Any
    center_height_mm: Any  # upright
    wheelbase_mm: Any
    foot_x_mm: Any
    foot_out_mm: Any

    @property
    def side_mm(self) -> Any:
        """How far the center of mass lies from the contacts towards the foot."""
        m, arm = maths(self.lean_deg), self.center_height_mm - self.crown_radius_mm
        return arm * m.sin(m.radians(self.lean_deg))

    @property
    def up_mm(self) -> Any:
        """How high the center of mass lies above the ground."""
        m, arm = maths(self.lean_deg), self.center_height_mm - self.crown_radius_mm
        return self.crown_radius_mm + arm * m.cos(m.radians(self.lean_deg))


def tips_away_deg(on: OnStand, *, gust_share: float = 0.0) -> Any:
    """Return the slope in degrees on which it tips away from the stand; negative: it lies already.

    `gust_share` is the moment of a gust over weight x the center's distance from the contacts.
    One machine, or arrays that broadcast together.
    """
    m = maths(on.side_mm)
    free = m.degrees(m.atan2(on.side_mm, on.up_mm))
    return free - math.degrees(math.asin(min(gust_share, 1.0)))


def tips_over_foot_deg(on: OnStand) -> float:
    """Return the slope in degrees on which it tips over its foot; negative: it lies already."""
    at, foot = on.center_x_mm, on.foot_x_mm
    if at <= foot:
        share = at / foot if foot else 1.0
    else:
        share = (on.wheelbase_mm - at) / (on.wheelbase_mm - foot)
    edge = on.foot_out_mm * share
    return math.degrees(math.atan2(edge - float(on.side_mm), float(on.up_mm)))


def gust_share(on: OnStand, *, mass_kg: float, wind_kmh: float, seat_height_mm: float) -> float:
    """Return the moment of a gust from the stand's side over weight x the center's distance."""
    area_m2 = SIDE_FILLED * on.wheelbase_mm * seat_height_mm / 1e6
    push_n = DRAG * AIR_KG_M3 / 2 * (wind_kmh / 3.6) ** 2 * area_m2
    moment = push_n * WIND_AT * seat_height_mm
    arm = math.hypot(on.side_mm, on.up_mm)
    return float(moment / (mass_kg * STANDARD_GRAVITY * arm))


@dataclass(frozen=True, slots=True)
class StandWanted:
    """What brings the wanted lean: mm under the foot, less than none is too much stand.

    `longer_mm` along the leg, None where no one knows which way it lies.
    """

    under_foot_mm: float
    longer_mm: float | None


def stand_for(
    *, wanted_deg: float, foot_out_mm: float, foot_up_mm: float, pivot: tuple[float, float] | None
) -> StandWanted:
    """Return the puck or the leg for a lean; the foot in the machine's own frame, thin tire.

    `pivot` is out and up in the same frame.
    """
    lean = math.radians(wanted_deg)
    above = foot_up_mm * math.cos(lean) - foot_out_mm * math.sin(lean)
    if pivot is None:
        return StandWanted(above, None)
    out, up = foot_out_mm - pivot[0], foot_up_mm - pivot[1]
    leg = math.hypot(out, up)
    sinks = (out * math.sin(lean) - up * math.cos(lean)) / leg  # of the foot for 1 mm of leg
    return StandWanted(above, above / sinks if sinks > 0 else None)
