"""Real parts of the four eigenvalues over speed, as found in pencil and planned in marking blue.

Below the level line the motion dies out, above it it grows.
"""

from collections.abc import Sequence

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, unit_alone
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY

_WIDTH, _HEIGHT = 420.0, 220.0
_LEFT, _RIGHT, _TOP, _FLOOR = 40.0, 410.0, 26.0, 188.0
HIGHEST, LOWEST = 6.0, -10.0  # 1/s; what lies beyond is cut off
_TICKS_KMH = (10, 20, 30, 40)


def steadiness_plot(
    speeds_kmh: Sequence[float],
    found: Sequence[Sequence[float]],
    planned: Sequence[Sequence[float]],
    said: str,
) -> Markup:
    """Return the plot; `found` and `planned` have four real parts in 1/s at each speed."""
    first, last = speeds_kmh[0], speeds_kmh[-1]

    def at(kmh: float, part: float) -> XY:
        x = _LEFT + svg.along(kmh, first, last) * (_RIGHT - _LEFT)
        up = min(max(part, LOWEST), HIGHEST)
        return x, _TOP + (HIGHEST - up) / (HIGHEST - LOWEST) * (_FLOOR - _TOP)

    parts = [
        svg.line(at(first, 0), at(last, 0), "speed-truth"),
        svg.line((_LEFT, _TOP), (_LEFT, _FLOOR), "plot-axis"),
        svg.line((_LEFT, _FLOOR), (_RIGHT, _FLOOR), "plot-axis"),
        svg.text((4, 16), [[("grows, dies out below the line, 1/s", "name")]], "plot-text"),
    ]
    for kmh in _TICKS_KMH:
        x, _ = at(kmh, 0)
        parts.append(svg.line((x, _FLOOR), (x, _FLOOR + 4), "plot-axis"))
        words = [[(bare(str(kmh), "km/h"), "name")]]
        parts.append(svg.text((x, _FLOOR + 20), words, "plot-text", "middle"))
    unit = [[(unit_alone("km/h"), "name")]]
    parts.append(svg.text((_RIGHT, _FLOOR + 20), unit, "plot-text", "end"))
    for css, rows in (("found", found), ("planned", planned)):
        for which in range(4):
            places = [
                at(kmh, row[which])
                for kmh, row in zip(speeds_kmh, rows, strict=True)
                if LOWEST <= row[which] <= HIGHEST
            ]
            if len(places) > 1:
                parts.append(svg.polyline(places, css))
    return Markup(
        f'<svg class="plot speed-plot steadiness-plot" viewBox="0 0 {_WIDTH:.0f} {_HEIGHT:.0f}" '
        f'role="img" aria-label="{escape(said)}"><title>Steadiness over speed</title>'
        f"{''.join(parts)}</svg>"
    )
