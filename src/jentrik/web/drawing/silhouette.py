"""A machine as a mark beside its name: wheels, frame and fork from its own figures, in a few lines.

It is drawn once and kept with the machine's line in the lists, so it is small: no lettering, no
more than what tells one machine from another at arm's length.
"""

import re

from markupsafe import Markup

from jentrik.core.machine.declared import Kind
from jentrik.core.machine.point_role import PointRole
from jentrik.web.drawing import svg
from jentrik.web.drawing.skeleton import Skeleton
from jentrik.web.drawing.svg import XY, number

_WIDTH, _HEIGHT, _MARGIN_MM = 84.0, 48.0, 40.0


def silhouette(bones: Skeleton, kind: Kind) -> Markup:
    """Return the machine as found, standing on the lower edge of a small picture."""
    left = -bones.rear_radius - _MARGIN_MM
    wide = bones.front_axle[0] + bones.front_radius + bones.rear_radius + 2 * _MARGIN_MM
    bar = bones.point(PointRole.BAR) or bones.head_top
    saddle = bones.point(PointRole.SADDLE) or _seat(bones)
    tall = max(bar[1], saddle[1], 2 * bones.front_radius) + _MARGIN_MM
    scale = min(_WIDTH / wide, _HEIGHT / tall)

    def at(place: XY) -> XY:
        return (place[0] - left) * scale, _HEIGHT - 1 - place[1] * scale

    frame = _motorcycle if kind == "motorcycle" else _bicycle
    lines = [[at(place) for place in line] for line in frame(bones, saddle, bar)]
    parts = [
        svg.circle(at(bones.rear_axle), bones.rear_radius * scale - 1, "wheel"),
        svg.circle(at(bones.front_axle), bones.front_radius * scale - 1, "wheel"),
        *(svg.polyline(line, "frame") for line in lines),
    ]
    return Markup(
        f'<svg class="silhouette" viewBox="0 0 {number(_WIDTH)} {number(_HEIGHT)}" '
        f'aria-hidden="true">{"".join(parts)}</svg>'
    )


_KEPT = re.compile(
    r'<svg class="silhouette" viewBox="[0-9. ]+" aria-hidden="true">'
    r'(?:<(?:circle|path) class="[a-z]+"(?: (?:cx|cy|r|d)="[-0-9. MLZ]+")+/>)+</svg>'
)


def kept_silhouette(drawn: str) -> Markup:
    """Return a picture that was kept as text; anything but lines and circles of ours is none."""
    return Markup(drawn) if _KEPT.fullmatch(drawn) else Markup()


def _seat(bones: Skeleton) -> XY:
    return (
        bones.bottom_bracket[0] + bones.seat_direction[0] * 600,
        bones.bottom_bracket[1] + bones.seat_direction[1] * 600,
    )


def _bicycle(bones: Skeleton, saddle: XY, bar: XY) -> list[list[XY]]:
    bracket, head, crown = bones.bottom_bracket, bones.head_top, bones.crown
    top = (
        bracket[0] + (saddle[0] - bracket[0]) * 0.72,
        bracket[1] + (saddle[1] - bracket[1]) * 0.72,
    )
    return [
        [bones.rear_axle, bracket, top, bones.rear_axle],
        [top, head],
        [bracket, crown],
        [bar, head, crown, bones.front_axle],
        [bracket, saddle],
        [(saddle[0] - 110, saddle[1]), (saddle[0] + 110, saddle[1])],
    ]


def _motorcycle(bones: Skeleton, saddle: XY, bar: XY) -> list[list[XY]]:
    pivot, head, crown = bones.pivot or bones.bottom_bracket, bones.head_top, bones.crown
    low = (pivot[0] + 120, max(pivot[1] - 120, 120.0))
    return [
        [bones.rear_axle, pivot],
        [bar, head, crown, bones.front_axle],
        [(saddle[0] - 260, saddle[1] + 20), (saddle[0] + 130, saddle[1]), head],
        [head, (crown[0] - 120, low[1]), low, pivot, (saddle[0], saddle[1])],
    ]
