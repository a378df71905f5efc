"""Small drawings to choose by: which brake a wheel has, what drives it, how its gears change."""

import math
from functools import lru_cache

from markupsafe import Markup

from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY

_W, _H = 56.0, 40.0
_HUB, _RIM = (28.0, 22.0), 15.0
_WHEEL = [svg.circle(_HUB, _RIM, "pale"), svg.circle(_HUB, 2.0, "part")]


def _box(left: float, top: float, width: float, height: float, css: str) -> str:
    right, bottom = left + width, top + height
    corners: list[XY] = [(left, top), (right, top), (right, bottom), (left, bottom)]
    return svg.polyline(corners, css, closed=True)


def _arc(css: str) -> str:
    """Return a guard round the upper half of the wheel."""
    turns = [math.radians(angle) for angle in range(-10, 191, 20)]
    around = [(_HUB[0] + 19 * math.cos(turn), _HUB[1] - 19 * math.sin(turn)) for turn in turns]
    return svg.polyline(around, css)


_BOLT: list[XY] = [(30, 16), (26, 22), (30, 22), (26, 28)]
_MOTOR = [*_WHEEL, svg.circle(_HUB, 7, "mark"), svg.polyline(_BOLT, "mark")]
PRESSED = {  # a choice that is pressed, in words where it is a key
    "pedelec": "motor to 25 km/h",
    "pedelec-45": "motor to 45 km/h",
}
_DRAWN: dict[tuple[str, str], list[str]] = {
    ("brake", "rim"): [
        *_WHEEL,
        _box(20, 4, 4, 6, "mark"),
        _box(32, 4, 4, 6, "mark"),
        svg.polyline([(22, 4), (28, 0.8), (34, 4)], "mark"),
    ],
    ("brake", "disc"): [*_WHEEL, svg.circle(_HUB, 8, "mark"), _box(32, 12, 7, 7, "mark")],
    ("brake", "drum"): [
        *_WHEEL,
        svg.circle(_HUB, 6.5, "mark"),
        svg.line((28, 22), (50, 30), "mark"),
    ],
    ("brake", "coaster"): [
        *_WHEEL,
        svg.circle(_HUB, 4, "mark"),
        svg.line((28, 22), (52, 25), "pale"),
        svg.polyline([(28, 25), (44, 27), (44, 23)], "mark"),
    ],
    ("brake", "none"): [*_WHEEL],
    ("guard", "mudguard"): [*_WHEEL, _arc("mark")],
    ("guard", "none"): [*_WHEEL],
    ("class", "pedelec"): _MOTOR,
    ("class", "pedelec-45"): _MOTOR,
    ("drive", "chain"): [
        svg.circle((14, 20), 7, "part"),
        svg.circle((42, 20), 10, "part"),
        *(svg.circle((14 + 4 * step, 12 - step * 0.3), 1.2, "mark") for step in range(7)),
        *(svg.circle((14 + 4 * step, 28 + step * 0.3), 1.2, "mark") for step in range(7)),
    ],
    ("drive", "belt"): [
        svg.circle((14, 20), 7, "part"),
        svg.circle((42, 20), 10, "part"),
        svg.line((13, 13), (41, 10), "mark"),
        svg.line((13, 27), (41, 30), "mark"),
    ],
    ("drive", "shaft"): [
        svg.circle((42, 20), 10, "part"),
        _box(4, 17, 28, 6, "mark"),
        svg.circle((42, 20), 4, "mark"),
    ],
    ("drive", "variator"): [
        svg.polyline([(6, 8), (14, 20), (6, 32)], "mark"),
        svg.polyline([(22, 8), (14, 20), (22, 32)], "mark"),
        svg.circle((42, 20), 10, "part"),
        svg.line((14, 12), (42, 10), "pale"),
        svg.line((14, 28), (42, 30), "pale"),
    ],
    ("gears", "derailleur"): [
        svg.circle((34, 14), 9, "part"),
        svg.circle((34, 14), 5, "part"),
        svg.line((34, 14), (38, 28), "mark"),
        svg.circle((38, 28), 3, "mark"),
        svg.circle((33, 35), 3, "mark"),
    ],
    ("gears", "hub"): [_box(16, 12, 24, 16, "mark"), svg.line((6, 20), (50, 20), "part")],
    ("gears", "crank"): [
        svg.circle((28, 20), 12, "part"),
        svg.circle((28, 20), 6, "mark"),
        svg.line((28, 20), (48, 34), "part"),
    ],
    ("gears", "single"): [svg.circle((28, 20), 10, "part"), svg.circle((28, 20), 2, "mark")],
}


@lru_cache(maxsize=64)
def choice_drawing(key: str, choice: str) -> Markup | None:
    """Return the drawing of a choice of a figure, by the last word of its key; None without one."""
    parts = _DRAWN.get((key.rpartition(".")[2], choice))
    if parts is None:
        return None
    return Markup(
        f'<svg class="choice-drawing" viewBox="0 0 {_W:.0f} {_H:.0f}" aria-hidden="true">'
        f"{''.join(parts)}</svg>"
    )
