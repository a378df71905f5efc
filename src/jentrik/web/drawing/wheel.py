"""Wheels: the tire as a ring to scale, the rim, and what stands inside it."""

import math

from jentrik.core.machine.declared import Kind
from jentrik.web.drawing.svg import XY, circle, line, number, polyline

SPOKE_PAIRS = 9
CAST_SPOKES = 5


def planned_wheel(
    center: XY, radius: float, rim_radius: float, kind: Kind, *, cast: bool = False
) -> list[str]:
    """Return a wheel as planned: tire, rim, spokes and hub."""
    parts = [
        _ring(center, radius, rim_radius),
        circle(center, radius, "planned"),
        circle(center, rim_radius, "planned rim"),
    ]
    if kind == "motorcycle":
        hub = rim_radius * 0.16
        parts += (_cast_spokes if cast else _spokes)(center, rim_radius, hub)
        parts.append(circle(center, rim_radius * 0.5, "disc"))
    parts.append(circle(center, 8 if kind == "bicycle" else 14, "axle"))
    return parts


def found_wheel(center: XY, radius: float) -> str:
    """Return a wheel as found: its outline in pencil."""
    return circle(center, radius, "found")


def _ring(center: XY, outer: float, inner: float) -> str:
    rings = _loop(center, outer) + _loop(center, inner)
    return f'<path class="rubber" fill-rule="evenodd" d="{rings}"/>'


def _loop(center: XY, radius: float) -> str:
    r, wide = number(radius), number(2 * radius)
    start = f"M{number(center[0] - radius)} {number(center[1])}"
    return f"{start}a{r} {r} 0 1 0 {wide} 0a{r} {r} 0 1 0 -{wide} 0Z"


def _spokes(center: XY, rim: float, hub: float) -> list[str]:
    spokes = []
    for pair in range(SPOKE_PAIRS):
        angle = 2 * math.pi * pair / SPOKE_PAIRS
        for lean in (0.9, -0.9):
            start = _polar(center, hub, angle + lean)
            spokes.append(line(start, _polar(center, rim, angle + lean * 0.18), "spoke"))
    return spokes


def _cast_spokes(center: XY, rim: float, hub: float) -> list[str]:
    """Return the broad spokes of a cast wheel, narrower at the rim."""
    spokes = []
    for place in range(CAST_SPOKES):
        angle = 2 * math.pi * (place + 0.25) / CAST_SPOKES
        corners = [
            _polar(center, radius, angle + side)
            for radius, side in ((hub, 0.5), (rim, 0.08), (rim, -0.08), (hub, -0.5))
        ]
        spokes.append(polyline(corners, "cast-spoke", closed=True))
    return spokes


def _polar(center: XY, radius: float, angle: float) -> XY:
    return center[0] + radius * math.cos(angle), center[1] + radius * math.sin(angle)
