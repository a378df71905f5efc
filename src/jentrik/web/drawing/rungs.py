"""Speed rungs: true speed left, shown speed right, joined by rungs that slope as it lies.

As found in pencil, planned in marking blue; what the common rule allows shaded at each rung.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, kmh, unit_alone
from jentrik.web.drawing import svg
from jentrik.web.figures import fixed

_LEFT, _RIGHT, _FLOOR, _TALL = 54.0, 212.0, 236.0, 200.0
_W, _H = 330.0, 262.0


@dataclass(frozen=True, slots=True)
class Rung:
    """One true speed, what is shown as found and planned, and the most the rule allows."""

    true_kmh: float
    found_kmh: float
    planned_kmh: float
    most_kmh: float | None


def rungs_drawing(rungs: Sequence[Rung]) -> Markup:
    """Return the rungs to one scale; speeds in km/h."""
    top = max(1.0, *(max(r.planned_kmh, r.found_kmh, r.most_kmh or 0.0) for r in rungs))

    def y(kmh: float) -> float:
        return _FLOOR - kmh / top * _TALL

    parts = []
    for rung in rungs:
        start = (_LEFT, y(rung.true_kmh))
        if rung.most_kmh is not None:
            band = [start, (_RIGHT, y(rung.most_kmh)), (_RIGHT, y(rung.true_kmh))]
            parts.append(svg.polyline(band, "rung-band", closed=True))
    for rung in rungs:
        start = (_LEFT, y(rung.true_kmh))
        true = bare(fixed(rung.true_kmh), "km/h")
        parts.append(svg.line(start, (_RIGHT, y(rung.found_kmh)), "found"))
        parts.append(svg.line(start, (_RIGHT, y(rung.planned_kmh)), "planned"))
        parts.append(svg.text((_LEFT - 8, start[1] + 5), [[(true, "figure")]], "plot-text", "end"))
        words = [
            [
                (bare(fixed(rung.planned_kmh, 1), "km/h"), "planned-figure"),
                (bare(f"was {fixed(rung.found_kmh, 1)}", "km/h"), "name"),
            ]
        ]
        parts.append(svg.text((_RIGHT + 8, y(rung.planned_kmh) + 5), words, "plot-text"))
    for x, name, anchor in (
        (_LEFT, f"true {unit_alone('km/h')}", "middle"),
        (_RIGHT, "shown", "middle"),
    ):
        parts.append(svg.line((x, 22), (x, _FLOOR + 8), "rung-scale"))
        parts.append(svg.text((x, _H - 4), [[(name, "name")]], "plot-text", anchor))
    said = "; ".join(
        f"true {kmh(fixed(r.true_kmh))} shows {kmh(fixed(r.planned_kmh, 1))}, "
        f"was {kmh(fixed(r.found_kmh, 1))}"
        for r in rungs
    )
    return Markup(
        f'<svg class="rungs-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>Speed rungs</title>{"".join(parts)}</svg>'
    )
