"""The stand drawing: the machine from behind, leaning on its side stand, before and after.

As found in pencil, planned in marking blue; the wedge is how much slope it may stand before it
tips away.  To one scale, the ground through the contacts of the tires.
"""

import math
from dataclasses import dataclass

from markupsafe import Markup, escape

from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_W, _H, _FLOOR = 300.0, 240.0, 214.0
_CONTACT_X, _TALL_PX = 190.0, 180.0


@dataclass(frozen=True, slots=True)
class StandLean:
    """One way it stands: lean in degrees, foot in the machine's own frame, mm."""

    lean_deg: float
    foot_out_mm: float
    foot_up_mm: float


def stand_drawing(
    found: StandLean, planned: StandLean, *, width_mm: float, tall_mm: float, bar_mm: float
) -> Markup:
    """Return both leans; the tire's width, the machine's height and half the bar's width in mm."""
    scale = _TALL_PX / max(tall_mm, 1.0)
    parts = [
        svg.line((10, _FLOOR), (_W - 10, _FLOOR), "stand-floor"),
        svg.line((_CONTACT_X, _FLOOR), (_CONTACT_X, _FLOOR - _TALL_PX - 10), "stand-plumb"),
    ]
    for lean, css in ((found, "found"), (planned, "planned")):
        parts += _machine(lean, css, scale, width_mm, tall_mm, bar_mm)
    captions = [
        [("lean", "name")],
        [
            (f"{fixed(found.lean_deg, 1)}°", "figure"),
            ("→", "name"),
            (f"{fixed(planned.lean_deg, 1)}°", "planned-figure"),
        ],
    ]
    parts.append(svg.text((14, 130), captions, "plot-text"))
    said = (
        f"Lean on the side stand {fixed(found.lean_deg, 1)}, planned {fixed(planned.lean_deg, 1)}"
    )
    return Markup(
        f'<svg class="stand-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>On the side stand</title>{"".join(parts)}</svg>'
    )


def _machine(
    lean: StandLean, css: str, scale: float, width_mm: float, tall_mm: float, bar_mm: float
) -> list[str]:
    angle = math.radians(lean.lean_deg)

    def at(out_mm: float, up_mm: float) -> XY:
        """Return a place given out to the stand's side and up along the machine."""
        x = out_mm * math.cos(angle) + up_mm * math.sin(angle)
        y = up_mm * math.cos(angle) - out_mm * math.sin(angle)
        return _CONTACT_X - x * scale, _FLOOR - y * scale

    half, wheel = width_mm / 2, tall_mm * 0.6
    tire = [
        at(-half * 0.4, 0),
        at(half * 0.4, 0),
        at(half, half),
        at(half, wheel - half),
        at(half * 0.4, wheel),
        at(-half * 0.4, wheel),
        at(-half, wheel - half),
        at(-half, half),
    ]
    return [
        svg.polyline(tire, css, closed=True),
        svg.line(at(0, wheel), at(0, tall_mm), css),
        svg.line(at(-bar_mm, tall_mm), at(bar_mm, tall_mm), f"{css} stand-bar"),
        svg.line(
            at(half * 0.5, wheel * 0.45), at(lean.foot_out_mm, lean.foot_up_mm), f"{css} stand-leg"
        ),
    ]
