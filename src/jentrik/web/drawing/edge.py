"""The edge drawing: a wheel meeting a step, as found in pencil and as planned in blue."""

import math

from markupsafe import Markup, escape

from jentrik.core.amounts import mm
from jentrik.core.figures.character import attack_angle
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_SCALE = 0.24
_EDGE_X, _FLOOR, _WIDTH, _HEIGHT = 250.0, 226.0, 380.0, 244.0


def edge_drawing(*, found_mm: float, planned_mm: float, step_mm: float) -> Markup:
    """Return both wheels against one edge; radii and the step in mm, to one scale."""
    step = step_mm * _SCALE
    top = (_EDGE_X, _FLOOR - step)
    ground = [(8.0, _FLOOR), (_EDGE_X, _FLOOR), top, (_WIDTH - 8, top[1])]
    earth = [*ground, (_WIDTH - 8, _FLOOR + 12), (8.0, _FLOOR + 12)]
    parts = [svg.polyline(earth, "earth-plain", closed=True), svg.polyline(ground, "edge-line")]
    said = []
    for radius_mm, css, name in (
        (found_mm, "found", "as found"),
        (planned_mm, "planned", "planned"),
    ):
        angle = attack_angle(radius_mm=radius_mm, step_mm=step_mm)
        parts += _wheel(radius_mm * _SCALE, step, angle, css)
        angle_words = "cannot climb it" if angle is None else f"{fixed(angle, 1)}°"
        said.append((name, angle_words))
    lines = [[(f"Edge {mm(fixed(step_mm))}", "name")]]
    lines += [
        [(name, "name"), (angle_words, "figure" if name == "as found" else "planned-figure")]
        for name, angle_words in said
    ]
    parts.append(svg.text((_EDGE_X + 18, 40), lines, "plot-text"))
    words = "; ".join(f"{name} {angle_words}" for name, angle_words in said)
    return Markup(
        f'<svg class="edge-drawing" viewBox="0 0 {_WIDTH:.0f} {_HEIGHT:.0f}" role="img" '
        f'aria-label="Attack angle on a {mm(fixed(step_mm))} edge: {escape(words)}">'
        f"<title>Edge</title>{''.join(parts)}</svg>"
    )


def _wheel(radius: float, step: float, angle: float | None, css: str) -> list[str]:
    """Return a wheel touching floor and edge, its axle, and the line from axle to edge."""
    back = radius if angle is None else math.sqrt(max(radius**2 - (radius - step) ** 2, 0.0))
    axle: XY = (_EDGE_X - back, _FLOOR - radius)
    spoke = svg.line(axle, (_EDGE_X, _FLOOR - step), css) if angle is not None else ""
    return [
        svg.circle(axle, radius, css),
        svg.circle(axle, 3, f"{css} hub"),
        spoke,
        svg.line(axle, (axle[0], _FLOOR), f"{css} thin"),
    ]
