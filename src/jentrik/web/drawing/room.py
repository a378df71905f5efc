"""The room drawing: a slice at one measured place, across the wheel, to scale.

Tire as found in pencil, planned in marking blue, what the road takes hatched, the least gap as a
line, the place itself as a heavy bar.
"""

import math

from markupsafe import Markup, escape

from jentrik.core.amounts import mm
from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.machine.wheel import Wheel
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_W, _H = 292.0, 132.0
_MIDDLE, _BAR = 78.0, 16.0  # the wheel's middle, and a bar above it
_ROUND = 25  # points of an outline


def room_drawing(spot: PredictedClearance, found: Wheel, planned: Wheel) -> Markup | None:
    """Return the slice at one place; None where a gap or a width is not known."""
    gap, worst = spot.predicted_gap_mm, spot.worst_case_gap_mm
    if gap is None or worst is None or found.width_mm is None or planned.width_mm is None:
        return None
    draw = _side if spot.place.direction == "side" else _radial
    parts = draw(spot, found.width_mm, planned.width_mm, gap, worst)
    lines = [
        [("now", "name"), (str(mm(fixed(spot.place.gap_mm))), "figure")],
        [("planned", "name"), (str(mm(fixed(gap))), "planned-figure")],
    ]
    if spot.takes:
        lines.append([("on the road", "name"), (str(mm(fixed(worst))), "magnified")])
    lines.append([("least", "name"), (str(mm(fixed(spot.least_mm))), "figure")])
    parts.append(svg.text((_MIDDLE + 84, 40), lines, "plot-text"))
    said = (
        f"{spot.place.name}: {mm(fixed(spot.place.gap_mm))} now, {mm(fixed(gap))} planned, "
        f"least {mm(fixed(spot.least_mm))}"
    )
    return Markup(
        f'<svg class="room-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>{escape(spot.place.name)}</title>'
        f"{''.join(parts)}</svg>"
    )


def _radial(
    spot: PredictedClearance, old: float, new: float, gap: float, worst: float
) -> list[str]:
    """Return the slice under a bar: the tread comes up to it."""
    deep = max(spot.place.gap_mm, gap, spot.least_mm or 0.0) + 34.0
    scale = min((_H - _BAR - 6) / deep, 2 * 64.0 / max(old, new))

    def down(mm: float) -> float:
        return _BAR + mm * scale

    least = down(spot.least_mm or 0.0)
    taken = down(worst)
    return [
        svg.polyline(_crown(down(gap), new * scale), "rubber", closed=True),
        _hatched(
            (_MIDDLE - new * scale / 4, min(taken, down(gap))),
            new * scale / 2,
            abs(down(gap) - taken),
        ),
        svg.polyline(_crown(down(spot.place.gap_mm), old * scale), "found"),
        svg.polyline(_crown(down(gap), new * scale), "planned"),
        svg.polyline(
            [
                (_MIDDLE - 70, _H),
                (_MIDDLE - 70, _BAR - 4),
                (_MIDDLE + 70, _BAR - 4),
                (_MIDDLE + 70, _H),
            ],
            "place-bar",
        ),
        svg.line((_MIDDLE - 66, least), (_MIDDLE + 66, least), "least"),
    ]


def _crown(top: float, width: float) -> list[XY]:
    """Return the upper half of a round tire, open below the drawing's edge."""
    points = []
    for step in range(_ROUND):
        turn = math.pi * step / (_ROUND - 1)
        x = _MIDDLE - math.cos(turn) * width / 2
        points.append((x, min(top + (1 - math.sin(turn)) * width * 0.45, _H)))
    return [(points[0][0], _H), *points, (points[-1][0], _H)]


def _side(spot: PredictedClearance, old: float, new: float, gap: float, worst: float) -> list[str]:
    """Return the slice beside a bar: the sidewall comes out to it."""
    wide = max(old / 2 + spot.place.gap_mm, new / 2 + max(gap, 0.0)) + 6
    scale = 74.0 / wide
    wall = _MIDDLE + (old / 2 + spot.place.gap_mm) * scale
    edge = wall - gap * scale
    taken = wall - worst * scale
    least = wall - (spot.least_mm or 0.0) * scale
    top = 26.0
    return [
        svg.polyline(_crown(top, (edge - _MIDDLE) * 2), "rubber", closed=True),
        _hatched((min(edge, taken), 66), abs(taken - edge), 46),
        svg.polyline(_crown(top + 5, old * scale), "found"),
        svg.polyline(_crown(top, (edge - _MIDDLE) * 2), "planned"),
        svg.line((wall + 3, 12), (wall + 3, _H), "place-bar"),
        svg.line((least, 20), (least, _H), "least"),
    ]


def _hatched(corner: XY, width: float, height: float) -> str:
    """Return what the road takes, hatched; nothing where it takes nothing."""
    if width < 0.5 or height < 0.5:
        return ""
    x, y = corner
    steps = range(0, int(width + height), 5)
    lines = []
    for step in steps:
        start = (x + max(step - height, 0), y + min(step, height))
        end = (x + min(step, width), y + max(step - width, 0))
        lines.append(svg.line(start, end, "taken"))
    return svg.group(lines)
