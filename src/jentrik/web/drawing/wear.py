"""Wear across a tread, and what likely made it: the tread's section beside the tire on the road.

Left: depth at three places over the casing, to one scale, the even tread of the deepest place in
pencil and what is worn away below it hatched.  Right: how such a tire stands on the road.
"""

import math

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, mm
from jentrik.core.work.inspection import CAUSES, Shape, wear_shape
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_W, _H = 420.0, 118.0
_LEFT, _RIGHT, _FOOT, _RISE, _DEEP = 24.0, 244.0, 92.0, 26.0, 40.0
_STEPS = 24
_ROAD_X, _ROAD_Y = 340.0, 96.0


def wear_drawing(tread_mm: tuple[float, float, float], title: str) -> Markup:
    """Return the section of a tread worn like that: left, middle and right in mm."""
    shape, deepest = wear_shape(tread_mm), max(*tread_mm, 0.1)
    casing = [_on_casing(step / _STEPS, 0.0) for step in range(_STEPS + 1)]
    even = [_on_casing(step / _STEPS, _DEEP) for step in range(_STEPS + 1)]
    worn = [
        _on_casing(share, _depth_at(share, tread_mm) / deepest * _DEEP)
        for share in (step / _STEPS for step in range(_STEPS + 1))
    ]
    parts = [
        svg.polyline([*worn, *reversed(casing)], "wear-rubber", closed=True),
        *(
            svg.line(low, high, "taken")
            for low, high in zip(worn[1:-1], even[1:-1], strict=True)
            if low[1] - high[1] > 1.5
        ),
        svg.polyline(even, "found"),
        svg.polyline(worn, "wear-edge"),
        svg.polyline(casing, "wear-casing"),
        *(
            svg.text(
                (_on_casing(share, 0.0)[0], _FOOT + 22),
                [[(bare(fixed(tread, 1), "mm"), "figure")]],
                "plot-text",
                "middle",
            )
            for share, tread in zip(_PLACES, tread_mm, strict=True)
        ),
        *_on_the_road(shape),
    ]
    said = f"{title}: {', '.join(str(mm(fixed(tread, 1))) for tread in tread_mm)}. " + (
        CAUSES.get(shape) or "Worn evenly."
    )
    return Markup(
        f'<svg class="wear-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>{escape(title)}</title>{"".join(parts)}</svg>'
    )


_PLACES = (1 / 8, 1 / 2, 7 / 8)  # where a gauge is set across the tread


def _depth_at(share: float, tread_mm: tuple[float, float, float]) -> float:
    """Return the tread between the places it was taken at, by straight lines."""
    left, middle, right = tread_mm
    if share <= _PLACES[1]:
        near, far, a, b = left, middle, _PLACES[0], _PLACES[1]
    else:
        near, far, a, b = middle, right, _PLACES[1], _PLACES[2]
    return near + (far - near) * min(max((share - a) / (b - a), 0.0), 1.0)


def _on_casing(share: float, up: float) -> XY:
    """Return a place across the crown, so far above the casing."""
    x = _LEFT + share * (_RIGHT - _LEFT)
    return x, _FOOT - _RISE * (1 - (2 * share - 1) ** 2) - up


def _outline(wide: float, tall: float, flat: float) -> list[XY]:
    """Return the section of a tire on the road, from the middle of its patch round."""
    corner = wide * 1.25  # the soft line cuts its corners
    return [
        (0.0, 0.0),
        (-flat, 0.0),
        (-corner, 0.0),
        (-corner, tall * 0.5),
        (-wide * 0.8, tall),
        (wide * 0.8, tall),
        (corner, tall * 0.5),
        (corner, 0.0),
        (flat, 0.0),
        (0.0, 0.0),
    ]


def _on_the_road(shape: Shape) -> list[str]:
    """Return the tire on the road: too round, sunk, leaning or as it should stand."""
    wide, tall, lean = {
        "middle": (25.0, 78.0, 0.0),
        "both edges": (36.0, 58.0, 0.0),
        "even": (30.0, 70.0, 0.0),
        "left edge": (30.0, 70.0, -14.0),
        "right edge": (30.0, 70.0, 14.0),
    }[shape]
    flat = {"middle": 0.3, "both edges": 0.95}.get(shape, 0.6) * wide
    touches = {
        "middle": (0.0,),
        "both edges": (-flat, flat),
        "left edge": (-flat,),
        "right edge": (flat,),
    }.get(shape, (-flat * 0.6, 0.0, flat * 0.6))
    turn = math.radians(lean)
    foot = flat * math.copysign(1.0, lean) if lean else 0.0

    def at(x: float, y: float) -> XY:
        """Turn about the edge it stands on."""
        dx = x - foot
        return (
            _ROAD_X + foot + dx * math.cos(turn) + y * math.sin(turn),
            _ROAD_Y + dx * math.sin(turn) - y * math.cos(turn),
        )

    return [
        svg.line((_ROAD_X - 66, _ROAD_Y), (_ROAD_X + 66, _ROAD_Y), "stand-floor"),
        svg.smooth([at(x, y) for x, y in _outline(wide, tall, flat)], "wear-edge", closed=True),
        *(svg.circle(at(x, 0.0), 4.0, "wear-touch") for x in touches),
    ]
