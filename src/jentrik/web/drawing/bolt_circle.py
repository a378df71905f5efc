"""The drawing for the machine shop: a bolt circle, with what a caliper can check.

    chord between neighbors = D sin(pi / n)        D the bolt circle, n holes

Source: geometry.
"""

import math

from markupsafe import Markup, escape

from jentrik.core.amounts import mm
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_W, _H, _RADIUS = 330.0, 180.0, 62.0
_MIDDLE: XY = (88.0, 90.0)


def chord_mm(*, holes: int, circle_mm: float) -> float:
    """Return the distance between the middles of two neighboring holes in mm."""
    return circle_mm * math.sin(math.pi / holes)


def bolt_circle_drawing(*, holes: int, circle_mm: float, hole_mm: float | None) -> Markup:
    """Return the bolt circle to scale with its dimensions."""
    scale = _RADIUS / (circle_mm / 2)
    radius = (hole_mm or circle_mm * 0.08) / 2 * scale
    places = [_at(2 * math.pi * step / holes - math.pi / 2) for step in range(holes)]
    chord = chord_mm(holes=holes, circle_mm=circle_mm)
    parts = [
        svg.circle(_MIDDLE, _RADIUS, "bolt-center"),
        svg.line((_MIDDLE[0] - 78, _MIDDLE[1]), (_MIDDLE[0] + 78, _MIDDLE[1]), "bolt-center"),
        svg.line((_MIDDLE[0], _MIDDLE[1] - 78), (_MIDDLE[0], _MIDDLE[1] + 78), "bolt-center"),
        *(svg.circle(place, radius, "bolt-hole") for place in places),
        svg.line(places[0], places[1], "bolt-chord"),
    ]
    lines = [
        [(f"{holes} holes", "figure"), (f"{360 / holes:.4g}° apart", "name")],
        [("on a circle of", "name"), (str(mm(fixed(circle_mm, 1))), "figure")],
        [("middle to middle", "name"), (str(mm(fixed(chord, 2))), "planned-figure")],
    ]
    if hole_mm is not None:
        lines.insert(1, [("each", "name"), (str(mm(fixed(hole_mm, 1))), "figure")])
    parts.append(svg.text((_MIDDLE[0] + 92, 60), lines, "plot-text"))
    said = (
        f"{holes} holes on a circle of {mm(fixed(circle_mm, 1))}, neighbors {mm(fixed(chord, 2))} "
        "middle to middle"
    )
    return Markup(
        f'<svg class="bolt-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>Bolt circle</title>{"".join(parts)}</svg>'
    )


def _at(angle: float) -> XY:
    return _MIDDLE[0] + _RADIUS * math.cos(angle), _MIDDLE[1] + _RADIUS * math.sin(angle)
