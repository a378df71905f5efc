"""Marks on a machine's drawing: each figure hangs where the tape goes, and opens its field.

A label is laid beside its place, the nearest free spot first; one that had to go further away
keeps a line to it.  Places are those of the machine as found.
"""

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

from markupsafe import escape

from jentrik.core.amounts import in_plain
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.point_role import PointRole
from jentrik.web.drawing import svg
from jentrik.web.drawing.skeleton import Skeleton
from jentrik.web.drawing.svg import XY, number

HowKnown = Literal["measured", "assumed", "missing"]
Box = tuple[float, float, float, float]  # left, top, right, bottom; units of the picture
_LETTER, _BOLD = 7.3, 8.6  # width of a letter of the name and of the figure
_TALL, _FREE = 42.0, 3.0  # height of a label, room between two
_STEP_DEG, _NEAR, _FURTHER = 30, 26.0, 30.0


@dataclass(frozen=True, slots=True)
class Mark:
    """One figure on the drawing: its name, its value or why it has none, and where it opens.

    `order` is its place among the figures asked for, None for the others.
    """

    key: str
    name: str
    value: str
    known: HowKnown
    href: str
    at: XY
    order: int | None = None
    is_open: bool = False


def place_of(key: str, bones: Skeleton) -> XY | None:
    """Return where on a machine a figure is taken, mm; None where the drawing shows no place."""
    for end in ENDS:
        if key.startswith(f"{end}."):
            return _at_wheel(key.removeprefix(f"{end}."), bones, front=end == "front")
    found = _PLACES.get(key)
    return found(bones) if found else None


def _at_wheel(leaf: str, bones: Skeleton, *, front: bool) -> XY | None:
    center = bones.front_axle if front else bones.rear_axle
    radius = bones.front_radius if front else bones.rear_radius
    rim = bones.front_rim if front else bones.rear_rim
    away = 1 if front else -1
    turn: dict[str, tuple[float, float]] = {  # how far out, and in which direction, degrees
        "tire": (radius, 90),
        "overall_diameter_mm": (radius, 20),
        "width_mm": (radius, 45),
        "rolled_mm": (radius, -70),
        "axle_load_kg": (radius, -90),
        "rim.bead_seat_diameter_mm": (rim, -25),
        "rim.inner_width_mm": (rim, 60),
        "rim_brake.pad_reach_mm": (rim, 110),
        "hub.spacing_mm": (0.0, 0),
        "hub.rotor_mm": (rim * 0.5, -60),
        "tone_ring_slots": (rim * 0.35, 150),
        "fitted.pressure_kpa": (rim, -120),
    }
    if leaf not in turn:
        return None
    out, degrees = turn[leaf]
    angle = math.radians(degrees)
    return center[0] + away * out * math.cos(angle), center[1] + out * math.sin(angle)


def _between(a: XY, b: XY, share: float = 0.5) -> XY:
    return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share


def _pivot(bones: Skeleton) -> XY:
    return bones.pivot or bones.bottom_bracket


_PLACES: dict[str, Callable[[Skeleton], XY | None]] = {
    "wheelbase_mm": lambda b: (b.front_axle[0] * 0.5, 0.0),
    "head_angle_deg": lambda b: b.head_top,
    "rake_deg": lambda b: b.head_top,
    "fork.length_mm": lambda b: _between(b.crown, b.front_axle, 0.45),
    "fork.offset_mm": lambda b: b.front_axle,
    "cross.head_tube_mm": lambda b: _between(b.crown, b.head_top),
    "cross.trail_mm": lambda b: (b.front_axle[0], 0.0),
    "chainstay_mm": lambda b: _between(b.rear_axle, b.bottom_bracket),
    "bb_height_mm": lambda b: (b.bottom_bracket[0], b.bottom_bracket[1] * 0.4),
    "cross.bb_drop_mm": lambda b: b.bottom_bracket,
    "cross.front_center_mm": lambda b: _between(b.bottom_bracket, b.front_axle),
    "crank_mm": lambda b: (b.bottom_bracket[0] + b.crank * 0.7, b.bottom_bracket[1]),
    "stack_mm": lambda b: (b.bottom_bracket[0], _between(b.bottom_bracket, b.head_top)[1]),
    "reach_mm": lambda b: (_between(b.bottom_bracket, b.head_top)[0], b.head_top[1]),
    "seat_angle_deg": lambda b: (
        b.bottom_bracket[0] + b.seat_direction[0] * 300,
        b.bottom_bracket[1] + b.seat_direction[1] * 300,
    ),
    "suspension.front.travel_mm": lambda b: _between(b.crown, b.front_axle, 0.25),
    "suspension.front.sag_mm": lambda b: _between(b.crown, b.front_axle, 0.6),
    "suspension.rear.travel_mm": lambda b: _between(b.rear_axle, _pivot(b), 0.3),
    "suspension.rear.sag_mm": lambda b: _between(b.rear_axle, _pivot(b), 0.6),
    "speedometer.wheel": lambda b: b.point(PointRole.BAR) or b.head_top,
    "speedometer.reads_over_percent": lambda b: b.point(PointRole.BAR) or b.head_top,
    "side_stand.lean_deg": lambda b: b.stand_foot,
    "side_stand.foot_out_mm": lambda b: b.stand_foot,
    "side_stand.foot_x_mm": lambda b: b.stand_foot,
    "rider.inseam_mm": lambda b: b.point(PointRole.SADDLE),
}


def marks_drawn(marks: Iterable[Mark], placed: Callable[[XY], XY], size: XY) -> list[str]:
    """Return the marks on a picture of a size, those asked for first: they get the best places."""
    first = sorted(marks, key=lambda one: (one.order is None, one.order or 0, one.key))
    places = [placed(mark.at) for mark in first]
    taken: list[Box] = [(x - 4, y - 4, x + 4, y + 4) for x, y in places]
    lines, labels = [], []
    for mark, at in zip(first, places, strict=True):
        box = _free_place(at, _width(mark), taken, size)
        taken.append(box)
        lines.append(_leader(mark, at, box))
        labels.append(_label(mark, box))
    return [*lines, *labels]  # no line runs over a label


def _width(mark: Mark) -> float:
    numbered = 26.0 if mark.order is not None else 0.0
    letters = max(len(mark.name) * _LETTER, len(in_plain(mark.value)) * _BOLD)
    return letters + 12.0 + numbered


def _free_place(at: XY, width: float, taken: list[Box], size: XY) -> Box:
    """Return the nearest place for a label that is on the picture and meets no other label."""
    best: tuple[float, Box] | None = None
    for ring in range(14):
        away = _NEAR + ring * _FURTHER
        for degrees in range(0, 360, _STEP_DEG):
            angle = math.radians(degrees)
            x, y = at[0] + away * math.cos(angle), at[1] - away * math.sin(angle)
            left = x - width * (0.5 if abs(math.cos(angle)) < 0.1 else math.cos(angle) < 0)
            left = min(max(left, 4.0), size[0] - width - 4.0)
            top = min(max(y - _TALL / 2, 4.0), size[1] - _TALL - 4.0)
            box = (left, top, left + width, top + _TALL)
            meets = sum(_shared(box, other) for other in taken)
            if not meets:
                return box
            if best is None or meets < best[0]:
                best = meets, box
    assert best is not None
    return best[1]


def _shared(a: Box, b: Box) -> float:
    wide = min(a[2], b[2]) - max(a[0], b[0]) + _FREE
    tall = min(a[3], b[3]) - max(a[1], b[1]) + _FREE
    return max(wide, 0.0) * max(tall, 0.0)


def _leader(mark: Mark, at: XY, box: Box) -> str:
    left, top, right, bottom = box
    near = (min(max(at[0], left), right), min(max(at[1], top), bottom))
    return svg.line(at, near, "mark-line") + svg.circle(at, 4, f"mark-place {mark.known}")


def _label(mark: Mark, box: Box) -> str:
    left, top, right, bottom = box
    start = left + (28 if mark.order is not None else 6)
    numbered = ""
    if mark.order is not None:
        middle = (left + 14, (top + bottom) / 2)
        numbered = svg.circle(middle, 11, "mark-number") + (
            f'<text class="mark-digit" x="{number(middle[0])}" y="{number(middle[1] + 5.5)}" '
            f'text-anchor="middle">{mark.order}</text>'
        )
    words = svg.text(
        (start, top + 17), [[(mark.name, "name")], [(mark.value, "figure")]], "mark-words"
    )
    css = f"mark-label {mark.known}{' is-open' if mark.is_open else ''}"
    said = f"{mark.name}: {mark.value}"
    return (
        f'<a class="{css}" href="{escape(mark.href)}" hx-get="{escape(mark.href)}" '
        f'hx-replace-url="true" data-field-link="" aria-label="{escape(said)}">'
        f'<rect class="mark-box" x="{number(left)}" y="{number(top)}" '
        f'width="{number(right - left)}" height="{number(bottom - top)}" rx="3"/>'
        f"{numbered}{words}</a>"
    )
