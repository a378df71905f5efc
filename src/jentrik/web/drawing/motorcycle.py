"""Motorcycles as motorcycles: swingarm, fork legs in clamps, tank-and-seat line, pegs, stand.

Every part is placed from the axles, the swingarm pivot and the steering axis; the pivot is drawn
from common practice until it is measured.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import DrawnAs
from jentrik.web.drawing.skeleton import USUAL_CLAMP_GAP_MM, Skeleton
from jentrik.web.drawing.svg import XY, arc, circle, line, polyline, smooth

_FENDER_GAP_MM = 26.0


@dataclass(frozen=True, slots=True)
class _Build:
    """What tells one build from another: share of the slider, fender, tank height."""

    slider: float = 0.42
    front_fender: str = "low"
    tank_rise: float = 130.0
    seat_length: float = 560.0


_BUILDS = {
    DrawnAs.ROADSTER: _Build(),
    DrawnAs.CRUISER: _Build(slider=0.46, tank_rise=70, seat_length=520),
    DrawnAs.TALL: _Build(slider=0.36, front_fender="high", tank_rise=120, seat_length=620),
    DrawnAs.SCOOTER: _Build(slider=0.34),
    DrawnAs.DELIVERY: _Build(slider=0.46, seat_length=420),
    DrawnAs.LEANING: _Build(slider=0.34),
}
_SCOOTERS = (DrawnAs.SCOOTER, DrawnAs.LEANING)


def frame(bones: Skeleton, build: DrawnAs) -> list[str]:
    """Return the parts that turn with the chassis."""
    shape = _BUILDS.get(build, _Build())
    if build in _SCOOTERS:
        return [*_stand(bones), *_scooter(bones)]
    if build is DrawnAs.DELIVERY:
        return [*_stand(bones), *_swingarm(bones), *_underbone(bones, shape), *_controls(bones)]
    beside = _sidecar(bones) if build is DrawnAs.OUTFIT else []
    return [
        *_stand(bones),
        *_swingarm(bones),
        *_cradle(bones),
        *_engine(bones),
        *_tank_and_seat(bones, shape),
        *_rear_fender(bones),
        *_controls(bones),
        *beside,
    ]


def fork(bones: Skeleton, build: DrawnAs) -> list[str]:
    """Return fork legs, clamps, lamp and front fender; lengths are the skeleton's."""
    shape = _BUILDS.get(build, _Build())
    axle, length = bones.front_axle, bones.fork_length
    slider = bones.up_axis(axle, length * shape.slider)
    lower, upper = bones.crown, bones.up_axis(bones.crown, USUAL_CLAMP_GAP_MM)
    legs_top = bones.up_axis(axle, length + USUAL_CLAMP_GAP_MM + 30)
    parts = [
        line(slider, legs_top, "leg stanchion"),
        line(axle, slider, "leg slider"),
        *[_clamp(bones, place) for place in (lower, upper)],
    ]
    if build in _SCOOTERS:
        return [
            *parts[1:2],
            line(slider, bones.up_axis(axle, length), "leg stanchion"),
            *_front_fender(bones, shape),
        ]
    lamp = bones.forward(bones.up_axis(lower, USUAL_CLAMP_GAP_MM * 0.55), bones.fork_offset + 108)
    return [*parts, circle(lamp, 74, "lamp"), *_front_fender(bones, shape)]


def _clamp(bones: Skeleton, place: XY) -> str:
    return line(bones.forward(place, -28), bones.forward(place, bones.fork_offset + 26), "clamp")


def _between(a: XY, b: XY, share: float) -> XY:
    return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share


def pivot_of(bones: Skeleton) -> XY:
    """Return where the swingarm turns, by the sheet or by common practice."""
    return bones.pivot or (bones.front_axle[0] * 0.37, bones.rear_radius + 42)


def _seat_of(bones: Skeleton) -> XY:
    return bones.point(PointRole.SADDLE) or (bones.front_axle[0] * 0.33, bones.rear_radius + 470)


def _arch(bones: Skeleton, *, rear: bool, start_deg: float, end_deg: float, gap: float) -> str:
    center = bones.rear_axle if rear else bones.front_axle
    radius = (bones.rear_radius if rear else bones.front_radius) + gap
    ends = [
        (
            center[0] + radius * math.cos(math.radians(angle)),
            center[1] + radius * math.sin(math.radians(angle)),
        )
        for angle in (start_deg, end_deg)
    ]
    return arc(radius, ends[0], ends[1], "fender")


def _front_fender(bones: Skeleton, shape: _Build) -> list[str]:
    if shape.front_fender == "high":
        root = bones.forward(bones.up_axis(bones.crown, -30), bones.fork_offset)
        return [
            smooth(
                [
                    (root[0] - 190, root[1] - 70),
                    (root[0] - 60, root[1] + 4),
                    (root[0] + 150, root[1] + 12),
                    (root[0] + 330, root[1] - 70),
                ],
                "fender",
            )
        ]
    return [_arch(bones, rear=False, start_deg=62, end_deg=168, gap=_FENDER_GAP_MM)]


def _rear_fender(bones: Skeleton) -> list[str]:
    return [_arch(bones, rear=True, start_deg=38, end_deg=158, gap=_FENDER_GAP_MM + 12)]


def _rack_of(bones: Skeleton) -> XY:
    seat = _seat_of(bones)
    return bones.point(PointRole.LOAD) or (seat[0] - 360, seat[1] + 40)


def box_top(bones: Skeleton) -> float:
    """Return how high the box on a delivery machine's rack stands."""
    return _rack_of(bones)[1] + 270


def _swingarm(bones: Skeleton) -> list[str]:
    pivot, seat = pivot_of(bones), _seat_of(bones)
    on_arm = _between(bones.rear_axle, pivot, 0.22)
    return [
        line(on_arm, (seat[0] - 170, seat[1] - 72), "spring"),
        line(bones.rear_axle, pivot, "swingarm"),
        circle(pivot, 22, "pivot"),
    ]


def _stand(bones: Skeleton) -> list[str]:
    if bones.stand_foot is None:
        return []
    x, y = bones.stand_foot
    root = (x + 55, max(bones.rear_radius - 40, 190.0))
    return [
        line(root, (x, y + 16), "stand"),
        line((x - 42, y + 12), (x + 34, y + 12), "stand foot"),
    ]


def _sidecar(bones: Skeleton) -> list[str]:
    """Return the sidecar beside the machine: its body, and its wheel a little ahead of the rear."""
    x, radius = bones.rear_axle[0] + 220, bones.rear_radius * 0.92
    body = [
        (x - 330, radius + 40),
        (x - 300, radius + 330),
        (x + 60, radius + 300),
        (x + 230, radius + 360),
        (x + 560, radius + 150),
        (x + 640, radius - 20),
        (x + 420, radius - 90),
        (x - 200, radius - 70),
    ]
    return [circle((x, radius), radius, "found"), smooth(body, "sidecar", closed=True)]


def _cradle(bones: Skeleton) -> list[str]:
    pivot, seat = pivot_of(bones), _seat_of(bones)
    head_low, head_high = bones.up_axis(bones.crown, 25), bones.up_axis(bones.crown, 165)
    low = min(pivot[1] - 120, bones.rear_radius - 40)
    toe = (bones.crown[0] - 190, low)
    return [
        smooth([head_low, (toe[0] + 70, low + 200), toe, (pivot[0] + 40, low)], "rail"),
        line((pivot[0] + 40, low), (pivot[0] - 20, seat[1] - 88), "rail"),
        smooth([(seat[0] - 300, seat[1] - 60), (seat[0] + 40, seat[1] - 110), head_high], "rail"),
        line(bones.crown, bones.up_axis(bones.crown, USUAL_CLAMP_GAP_MM), "head-stock"),
    ]


def _engine(bones: Skeleton) -> list[str]:
    pivot = pivot_of(bones)
    low = min(pivot[1] - 105, bones.rear_radius - 25)
    back, front = pivot[0] + 35, bones.crown[0] - 190
    top = pivot[1] + 110
    head = max(top + 150, _seat_of(bones)[1] - 190)
    case = [
        (back, low + 25),
        (back + 10, top - 10),
        (back + 120, top + 25),
        (front - 40, top + 5),
        (front + 10, low + 110),
        (front - 40, low + 12),
        (back + 60, low),
    ]
    cylinder = [
        (back + 150, top),
        (back + 190, head),
        (front - 30, head - 20),
        (front - 60, top - 10),
    ]
    exhaust = [
        (front - 70, head - 60),
        (front + 60, head - 110),
        (front + 35, low + 70),
        (back + 40, low + 30),
        (bones.rear_axle[0] + 30, bones.rear_axle[1] - 62),
    ]
    return [
        polyline(cylinder, "engine cylinder", closed=True),
        smooth(case, "engine", closed=True),
        smooth(exhaust, "pipe"),
    ]


def _tank_and_seat(bones: Skeleton, shape: _Build) -> list[str]:
    seat = _seat_of(bones)
    head = bones.up_axis(bones.crown, 95)
    nose, front = (seat[0] + 165, seat[1] - 8), (head[0] - 30, head[1])
    top = max(front[1], seat[1]) + shape.tank_rise * 0.5
    tank = [
        (nose[0] - 20, nose[1] - 20),
        (nose[0] + 60, top - 30),
        (nose[0] + 190, top + 12),
        (front[0] - 70, top + 6),
        (front[0] + 16, front[1] - 4),
        (front[0] - 50, front[1] - 120),
        (nose[0] + 110, (seat[1] + front[1]) / 2 - 110),
    ]
    tail = seat[0] - shape.seat_length * 0.62
    cushion = [
        (tail, seat[1] + 52),
        (tail + 70, seat[1] + 46),
        (seat[0] - 80, seat[1] + 8),
        (seat[0] + 60, seat[1] - 6),
        (nose[0] + 40, seat[1] + 16),
        (nose[0] + 30, seat[1] - 46),
        (seat[0] - 40, seat[1] - 62),
        (tail + 60, seat[1] - 26),
    ]
    return [smooth(tank, "tank", closed=True), smooth(cushion, "cushion", closed=True)]


def _bar_of(bones: Skeleton) -> XY:
    top = bones.up_axis(bones.crown, USUAL_CLAMP_GAP_MM)
    return bones.point(PointRole.BAR) or (top[0] - 90, top[1] + 130)


def _controls(bones: Skeleton) -> list[str]:
    top = bones.up_axis(bones.crown, USUAL_CLAMP_GAP_MM)
    bar = _bar_of(bones)
    peg = bones.point(PointRole.FEET) or (pivot_of(bones)[0] + 60, bones.rear_radius)
    return [
        smooth([top, ((top[0] + bar[0]) / 2 + 30, bar[1] + 20), bar], "bar"),
        line((bar[0] - 110, bar[1] - 14), bar, "grip"),
        line((peg[0] - 55, peg[1]), (peg[0] + 55, peg[1]), "peg"),
    ]


def _about(place: XY, offsets: Sequence[XY]) -> list[XY]:
    """Return the points that lie so far ahead of and above a place."""
    return [(place[0] + ahead, place[1] + above) for ahead, above in offsets]


def _underbone(bones: Skeleton, shape: _Build) -> list[str]:
    pivot, seat = pivot_of(bones), _seat_of(bones)
    head = bones.up_axis(bones.crown, 90)
    rack = _rack_of(bones)
    step = (pivot[0] + 190, pivot[1] + 150)
    low = bones.rear_radius - 30
    shield = [
        (head[0] - 30, head[1] + 60),
        (head[0] + 20, head[1] - 60),
        (head[0] - 70, step[1] + 40),
        (head[0] - 130, low + 80),
        (head[0] - 170, low + 110),
        (head[0] - 110, head[1] - 40),
    ]
    motor = [
        (pivot[0] + 10, low - 20),
        (pivot[0] + 20, pivot[1] + 110),
        (head[0] - 190, pivot[1] + 100),
        (head[0] - 120, pivot[1] + 10),
        (head[0] - 180, low - 30),
    ]
    bench = ((-230, 14), (-60, 6), (180, -4), (200, -46), (0, -60), (-230, -46))
    box = ((-190, 10), (130, 10), (120, 270), (-180, 270))
    return [
        *_rear_fender(bones),
        line((seat[0] - 190, seat[1] - 50), (rack[0] - 190, rack[1]), "rail"),
        smooth([head, (step[0] + 120, step[1] - 30), step, (seat[0] - 40, seat[1] - 56)], "rail"),
        line(step, pivot, "rail"),
        smooth(motor, "engine", closed=True),
        smooth(shield, "tank", closed=True),
        smooth(_about(seat, bench), "cushion", closed=True),
        polyline(_about(rack, box), "box", closed=True),
        line(bones.crown, bones.up_axis(bones.crown, USUAL_CLAMP_GAP_MM), "head-stock"),
    ]


def _scooter(bones: Skeleton) -> list[str]:
    seat, board = _seat_of(bones), bones.point(PointRole.FEET) or (bones.front_axle[0] * 0.5, 270)
    head = bones.up_axis(bones.crown, 60)
    bar = _bar_of(bones)
    floor = board[1]
    rear, tall = bones.rear_axle[0], bones.rear_radius
    body = [
        (board[0] - 130, floor - 30),
        (board[0] - 120, floor + 70),
        (seat[0] + 170, seat[1] - 30),
        (seat[0] - 60, seat[1] - 40),
        (rear - 190, seat[1] - 60),
        (rear - 210, tall + 250),
        (rear - 100, tall + 150),
        (rear + 90, tall + 170),
        (rear + 210, tall + 40),
        (rear + 240, floor - 30),
    ]
    shield = [
        (head[0] - 50, head[1] + 150),
        (head[0] + 40, head[1] - 40),
        (head[0] - 30, floor + 150),
        (board[0] + 190, floor - 34),
        (board[0] - 200, floor - 44),
        (board[0] - 200, floor),
        (board[0] + 160, floor + 6),
        (head[0] - 120, floor + 190),
    ]
    bench = ((-270, 4), (0, 6), (180, -14), (170, -44), (-250, -44))
    column = bones.up_axis(bones.crown, 300)
    return [
        line(bones.rear_axle, (bones.front_axle[0] * 0.36, bones.rear_radius + 20), "swingarm"),
        circle((bones.rear_axle[0] + 130, bones.rear_axle[1] + 10), 95, "engine"),
        smooth(body, "tank", closed=True),
        smooth(_about(seat, bench), "cushion", closed=True),
        line(bones.crown, column, "head-stock"),
        smooth(shield, "tank", closed=True),
        smooth([column, (column[0] - 20, bar[1] + 20), bar], "bar"),
        line((bar[0] - 100, bar[1] - 10), bar, "grip"),
        circle((column[0] + 50, column[1] + 10), 55, "lamp"),
    ]
