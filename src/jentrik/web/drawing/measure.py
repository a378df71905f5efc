"""Small drawings that show where the tape goes: one outline, one dimension in blue."""

import math
from functools import lru_cache

from markupsafe import Markup, escape

from jentrik.core.machine.declared import Kind
from jentrik.core.machine.named_places import NamedPlace
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY

_W, _H, _FLOOR = 150.0, 88.0, 80.0
_REAR, _FRONT, _RADIUS = (34.0, 58.0), (116.0, 58.0), 22.0
_BB, _SEAT, _HEAD_TOP, _CROWN = (62.0, 63.0), (54.0, 26.0), (95.0, 22.0), (100.0, 35.0)


def _outline(kind: Kind) -> list[str]:
    frame = [
        svg.circle(_REAR, _RADIUS, "pale"),
        svg.circle(_FRONT, _RADIUS, "pale"),
        svg.line((6, _FLOOR), (_W - 6, _FLOOR), "pale"),
        svg.line(_CROWN, _FRONT, "part"),
        svg.line(_HEAD_TOP, _CROWN, "part"),
    ]
    if kind == "motorcycle":
        pivot = (68.0, 54.0)
        body = [(40.0, 34.0), (66.0, 36.0), _HEAD_TOP]
        return [
            *frame,
            svg.line(_REAR, pivot, "part"),
            svg.polyline(body, "part"),
            svg.polyline([pivot, (66.0, 36.0)], "part"),
        ]
    return [
        *frame,
        svg.polyline([_REAR, _BB, _SEAT, _REAR], "part"),
        svg.polyline([_SEAT, _HEAD_TOP], "part"),
        svg.polyline([_BB, _CROWN], "part"),
    ]


def _span(start: XY, end: XY) -> list[str]:
    """Return a dimension with a tick square to it at either end."""
    along = math.atan2(end[1] - start[1], end[0] - start[0])
    dx, dy = 4 * math.sin(along), -4 * math.cos(along)
    ticks = [svg.line((x - dx, y - dy), (x + dx, y + dy), "mark") for x, y in (start, end)]
    return [svg.line(start, end, "mark"), *ticks]


def _angle(at: XY, top: XY) -> list[str]:
    level = (at[0] - 26, at[1])
    return [svg.line(at, level, "mark"), svg.line(at, top, "mark")]


_AXIS_FLOOR = (_CROWN[0] + (_FLOOR - _CROWN[1]) * (_CROWN[0] - _HEAD_TOP[0]) / 13, _FLOOR)
_SHOWN: dict[str, list[str]] = {
    "wheelbase": _span((_REAR[0], _FLOOR + 4), (_FRONT[0], _FLOOR + 4)),
    "front-diameter": _span((_FRONT[0] + 27, _FRONT[1] - _RADIUS), (_FRONT[0] + 27, _FLOOR)),
    "rear-diameter": _span((_REAR[0] - 27, _REAR[1] - _RADIUS), (_REAR[0] - 27, _FLOOR)),
    "tire": [svg.circle(_FRONT, _RADIUS - 4, "mark"), svg.circle(_REAR, _RADIUS - 4, "mark")],
    "front-rim": [svg.circle(_FRONT, _RADIUS - 7, "mark")],
    "rear-rim": [svg.circle(_REAR, _RADIUS - 7, "mark")],
    "head": _angle(_AXIS_FLOOR, (_HEAD_TOP[0] - 4, _HEAD_TOP[1] - 10)),
    "fork": _span((_CROWN[0] - 6, _CROWN[1] + 2), (_FRONT[0] - 12, _FRONT[1] + 4)),
    "head-tube": _span((_HEAD_TOP[0] + 6, _HEAD_TOP[1] - 1), (_CROWN[0] + 6, _CROWN[1] - 1)),
    "offset": _span((_FRONT[0] - 8, _FRONT[1] + 3), _FRONT),
    "trail": _span((_FRONT[0], _FLOOR + 4), (_AXIS_FLOOR[0] + 8, _FLOOR + 4)),
    "chainstay": _span(_REAR, _BB),
    "bb-height": _span(_BB, (_BB[0], _FLOOR)),
    "bb-drop": [svg.line(_REAR, _FRONT, "mark"), *_span((_BB[0], _REAR[1]), (_BB[0], _BB[1] + 3))],
    "front-center": _span(_BB, _FRONT),
    "stack": _span((_BB[0], _BB[1]), (_BB[0], _HEAD_TOP[1])),
    "reach": _span((_BB[0], _HEAD_TOP[1]), _HEAD_TOP),
    "seat": _angle((_BB[0] + 3, _BB[1] + 6), (_SEAT[0] - 2, _SEAT[1] - 8)),
    "travel": _span((_CROWN[0] + 12, _CROWN[1] + 2), (_FRONT[0] + 4, _FRONT[1] - 10)),
    "rear-travel": _span((_REAR[0], _REAR[1]), (_REAR[0], _REAR[1] - 26)),
    "brake": _span((_SEAT[0] - 6, _SEAT[1] + 4), (_SEAT[0] - 7, _SEAT[1] + 14)),
    "meter": [svg.circle((_HEAD_TOP[0] + 2, _HEAD_TOP[1] - 9), 6, "mark")],
    **{
        name: [svg.circle(at, 5, "mark"), svg.circle(at, 1.4, "mark")]
        for name, at in (
            ("rear-axle", _REAR),
            ("front-axle", _FRONT),
            ("bracket", _BB),
            ("crown", _CROWN),
            ("head-top", _HEAD_TOP),
            ("clamp", _SEAT),
        )
    },
    **{
        f"{end}-guard": [
            svg.circle(at, _RADIUS + 3, "mark"),
            *_span((at[0] - 5, 32), (at[0] + 5, 32)),
        ]
        for end, at in (("rear", _REAR), ("front", _FRONT))
    },
    "axis": [svg.line(_AXIS_FLOOR, (_HEAD_TOP[0] - 4, _HEAD_TOP[1] - 10), "mark")],
    "seat-tube": [svg.line(_BB, _SEAT, "mark")],
    "stand": _span((_BB[0] + 4, _FLOOR - 20), (_BB[0] - 4, _FLOOR)),
}


def place_drawing(place: NamedPlace, said: str) -> Markup:
    """Return where a gauge goes: between tread and place, or beside the tire."""
    axle = _REAR if place.wheel == "rear" else _FRONT
    bearing = math.radians(place.bearing_deg)
    along = (math.cos(bearing), -math.sin(bearing))

    def at(reach: float) -> XY:
        return axle[0] + reach * along[0], axle[1] + reach * along[1]

    if place.direction == "radial":
        marks = _span(at(_RADIUS), at(_RADIUS + 11))
    else:
        marks = [svg.circle(at(_RADIUS - 3), 5, "mark"), svg.circle(at(_RADIUS - 3), 1.4, "mark")]
    parts = [*_outline(place.kind), *marks]
    return Markup(
        f'<svg class="measure-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}">{"".join(parts)}</svg>'
    )


@lru_cache(maxsize=256)
def measure_drawing(shows: str, kind: Kind, said: str) -> Markup:
    """Return the drawing for one figure; `said` tells it to whoever cannot see it."""
    parts = [*_outline(kind), *_SHOWN.get(shows, [])]
    return Markup(
        f'<svg class="measure-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}">{"".join(parts)}</svg>'
    )
