"""Bicycles by their real tubes; all is placed from axles, bottom bracket and steering axis."""

from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import DrawnAs
from jentrik.web.drawing.skeleton import HEADSET_MM, Skeleton
from jentrik.web.drawing.svg import XY, bent, circle, line, polyline, smooth

_SEAT_TUBE_MM = {DrawnAs.FOLDING: 190.0, DrawnAs.CARGO: 420.0}
_SEAT_BELOW_HEAD_MM = {DrawnAs.STEP_THROUGH: -20.0, DrawnAs.FULL_SUSPENSION: 120.0}
LYING = frozenset({DrawnAs.RECUMBENT, DrawnAs.TADPOLE, DrawnAs.HAND_BIKE})
SUSPENDED = frozenset({DrawnAs.HARDTAIL, DrawnAs.FULL_SUSPENSION})


def frame(bones: Skeleton, build: DrawnAs) -> list[str]:
    """Return the parts that turn with the chassis."""
    draw = {
        DrawnAs.STEP_THROUGH: _step_through,
        DrawnAs.FOLDING: _folding,
        DrawnAs.CARGO: _cargo,
        DrawnAs.FULL_SUSPENSION: _full_suspension,
        DrawnAs.TANDEM: _tandem,
        DrawnAs.RECUMBENT: _recumbent,
        DrawnAs.TADPOLE: _recumbent,
        DrawnAs.CARGO_TRIKE: _cargo_trike,
        DrawnAs.HAND_BIKE: _recumbent,
    }.get(build, _diamond)
    seat = _seat_cluster(bones, build)
    if build in LYING:
        return [*draw(bones, seat), *_head_tube(bones), *_cranks(bones)]
    return [
        *_saddle(bones, seat),
        *draw(bones, seat),
        *_head_tube(bones),
        *_bar(bones, build),
        *_cranks(bones),
    ]


def fork(bones: Skeleton, build: DrawnAs) -> list[str]:
    """Return the fork between crown seat and axle; its lengths are the skeleton's."""
    if build in SUSPENDED:
        return _suspension_fork(bones)
    straight = bones.up_axis(bones.crown, -bones.fork_length * 0.6)
    bend = bones.up_axis(bones.crown, -bones.fork_length * 0.86)
    return [bent(bones.crown, straight, bend, bones.front_axle, "tube fork")]


def _suspension_fork(bones: Skeleton) -> list[str]:
    top = bones.forward(bones.crown, bones.fork_offset)
    middle = bones.up_axis(bones.front_axle, bones.fork_length * 0.56)
    return [
        line(bones.crown, top, "tube fork"),
        line(top, middle, "tube stanchion"),
        line(middle, bones.front_axle, "tube lower-leg"),
        circle(middle, 15, "arch"),
    ]


def _along(start: XY, direction: XY, length: float) -> XY:
    return start[0] + direction[0] * length, start[1] + direction[1] * length


def _between(a: XY, b: XY, share: float) -> XY:
    return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share


def _seat_cluster(bones: Skeleton, build: DrawnAs) -> XY:
    """Return the top of the seat tube, by its usual length or by the head tube's top."""
    length = _SEAT_TUBE_MM.get(build)
    if length is None:
        below = _SEAT_BELOW_HEAD_MM.get(build, 40.0)
        rise = bones.head_top[1] - below - bones.bottom_bracket[1]
        length = max(rise, 160.0) / bones.seat_direction[1]
    return _along(bones.bottom_bracket, bones.seat_direction, length)


def _head_ends(bones: Skeleton) -> tuple[XY, XY]:
    """Return where top and down tube meet the head tube."""
    upper = bones.up_axis(bones.head_top, -28)
    lower = bones.up_axis(bones.crown, HEADSET_MM + 24)
    return upper, lower


def _rear_triangle(bones: Skeleton, seat: XY) -> list[str]:
    return [
        line(bones.rear_axle, bones.bottom_bracket, "tube stay"),
        line(bones.rear_axle, seat, "tube stay thin"),
    ]


def _diamond(bones: Skeleton, seat: XY) -> list[str]:
    upper, lower = _head_ends(bones)
    return [
        *_rear_triangle(bones, seat),
        line(bones.bottom_bracket, seat, "tube"),
        line(seat, upper, "tube"),
        line(bones.bottom_bracket, lower, "tube down"),
    ]


def _step_through(bones: Skeleton, seat: XY) -> list[str]:
    upper, lower = _head_ends(bones)
    low = _between(bones.bottom_bracket, seat, 0.42)
    dip = (_between(low, upper, 0.35)[0], low[1] + 4)
    return [
        *_rear_triangle(bones, _between(bones.bottom_bracket, seat, 0.86)),
        line(bones.bottom_bracket, seat, "tube"),
        smooth([low, dip, upper], "tube"),
        smooth(
            [
                _along(bones.bottom_bracket, (0, 1), 0),
                (_between(bones.bottom_bracket, lower, 0.4)[0], bones.bottom_bracket[1] + 10),
                lower,
            ],
            "tube down",
        ),
    ]


def _folding(bones: Skeleton, seat: XY) -> list[str]:
    _, lower = _head_ends(bones)
    joint = _between(seat, lower, 0.5)
    return [
        *_rear_triangle(bones, seat),
        line(bones.bottom_bracket, seat, "tube"),
        smooth([seat, (joint[0], joint[1] - 60), lower], "tube beam"),
        line(bones.bottom_bracket, _between(seat, lower, 0.42), "tube stay"),
        circle((joint[0], joint[1] - 28), 17, "joint"),
    ]


def _cargo(bones: Skeleton, seat: XY) -> list[str]:
    _, lower = _head_ends(bones)
    bar = bones.point(PointRole.BAR) or (bones.bottom_bracket[0] + 260, 1050)
    floor = bones.point(PointRole.LOAD)
    floor_y = floor[1] if floor else bones.bottom_bracket[1] + 30
    post = (bar[0] + 130, floor_y + 20)
    front = bones.front_axle[0] - bones.front_radius - 70
    box = [
        (post[0] + 60, floor_y),
        (front - 30, floor_y),
        (front + 30, floor_y + 380),
        (post[0] + 40, floor_y + 380),
    ]
    return [
        polyline(box, "box", closed=True),
        *_rear_triangle(bones, seat),
        line(bones.bottom_bracket, seat, "tube"),
        smooth([bones.bottom_bracket, (post[0], floor_y - 24), (front - 40, floor_y - 24)], "tube"),
        smooth([(front - 60, floor_y - 24), (front + 60, floor_y - 20), lower], "tube"),
        line(seat, (post[0] - 40, floor_y + 190), "tube"),
        line((post[0] + 6, floor_y - 20), _between(post, bar, 0.72), "tube"),
        line(_between(post, bar, 0.72), bar, "tube thin"),
    ]


def _tandem(bones: Skeleton, seat: XY) -> list[str]:
    """Return a frame for two: the captain's cranks stand ahead of the stoker's."""
    upper, lower = _head_ends(bones)
    ahead = max(bones.front_axle[0] - bones.bottom_bracket[0] - 600, 350.0)
    captain = (bones.bottom_bracket[0] + ahead, bones.bottom_bracket[1])
    high = (seat[0] + ahead, seat[1])
    return [
        *_rear_triangle(bones, seat),
        line(bones.bottom_bracket, seat, "tube"),
        line(captain, high, "tube"),
        line(bones.bottom_bracket, captain, "tube down"),
        line(seat, high, "tube"),
        line(high, upper, "tube"),
        line(captain, lower, "tube down"),
        line(seat, captain, "tube stay thin"),
        *_saddle_at((high[0] - 30, high[1] + 130), high),
        circle(captain, 62, "chainring"),
        circle(captain, 19, "shell"),
    ]


def _recumbent(bones: Skeleton, seat: XY) -> list[str]:
    """Return a low frame: seat between the wheels, boom out to the cranks."""
    _, lower = _head_ends(bones)
    hip = (bones.front_axle[0] * 0.42, max(bones.rear_radius * 0.9, 260.0))
    back = (hip[0] - 330, hip[1] + 420)
    return [
        smooth([bones.rear_axle, (hip[0] - 60, hip[1] - 70), lower], "tube beam"),
        line(lower, bones.bottom_bracket, "tube beam"),
        line(bones.rear_axle, (hip[0] - 160, hip[1] + 40), "tube stay"),
        smooth([back, (hip[0] - 120, hip[1] + 70), hip, (hip[0] + 170, hip[1] + 60)], "saddle"),
        line(lower, (hip[0] + 210, hip[1] + 330), "tube thin"),
        line((hip[0] + 150, hip[1] + 340), (hip[0] + 260, hip[1] + 325), "bar"),
    ]


def _cargo_trike(bones: Skeleton, seat: XY) -> list[str]:
    """Return a frame with a box between its two front wheels, steered with them."""
    upper, _ = _head_ends(bones)
    x, y = bones.front_axle[0], bones.front_radius
    box = [(x - 330, y + 10), (x + 300, y + 10), (x + 350, y + 420), (x - 370, y + 420)]
    return [
        polyline(box, "box", closed=True),
        *_rear_triangle(bones, seat),
        line(bones.bottom_bracket, seat, "tube"),
        line(bones.bottom_bracket, (x - 330, y + 40), "tube down"),
        line(seat, upper, "tube thin"),
    ]


def _full_suspension(bones: Skeleton, seat: XY) -> list[str]:
    upper, lower = _head_ends(bones)
    usual = (bones.bottom_bracket[0] - 6, bones.bottom_bracket[1] + 62)
    pivot = bones.pivot or usual
    rocker = _between(bones.bottom_bracket, seat, 0.74)
    rocker_back, rocker_front = (rocker[0] - 62, rocker[1] + 6), (rocker[0] + 62, rocker[1] + 16)
    shock_foot = _between(bones.bottom_bracket, lower, 0.3)
    return [
        line(bones.bottom_bracket, seat, "tube"),
        line(seat, upper, "tube"),
        line(bones.bottom_bracket, lower, "tube down"),
        line(bones.rear_axle, pivot, "tube stay swing"),
        line(bones.rear_axle, rocker_back, "tube stay swing thin"),
        line(rocker_front, shock_foot, "shock"),
        polyline([rocker_back, rocker_front], "rocker"),
        circle(rocker, 9, "pivot"),
        circle(pivot, 11, "pivot"),
        circle(rocker_back, 8, "pivot"),
    ]


def _head_tube(bones: Skeleton) -> list[str]:
    return [line(bones.up_axis(bones.crown, -4), bones.head_top, "tube head")]


def _saddle(bones: Skeleton, seat: XY) -> list[str]:
    place = bones.point(PointRole.SADDLE)
    if place is None:
        rise = max(bones.head_top[1] + 110 - bones.bottom_bracket[1], 500)
        place = _along(bones.bottom_bracket, bones.seat_direction, rise / bones.seat_direction[1])
    return _saddle_at(place, _between(bones.bottom_bracket, seat, 0.9))


def _saddle_at(place: XY, foot: XY) -> list[str]:
    x, y = place
    return [
        line(foot, (x + 8, y - 20), "tube post"),
        smooth([(x - 122, y), (x - 60, y + 4), (x + 40, y - 8), (x + 150, y - 2)], "saddle"),
    ]


def _bar(bones: Skeleton, build: DrawnAs) -> list[str]:
    bar = bones.point(PointRole.BAR) or bones.forward(bones.up_axis(bones.head_top, 45), 70)
    if build is DrawnAs.CARGO:
        return [line((bar[0] - 110, bar[1] + 10), (bar[0] + 20, bar[1]), "bar")]
    stem = bones.up_axis(bones.head_top, max(30.0, bar[1] - bones.head_top[1] - 20))
    parts = [line(bones.head_top, stem, "tube post"), line(stem, bar, "tube stem")]
    if build in SUSPENDED:
        grip = (bar[0] - 60, bar[1] + 4)
    elif build is DrawnAs.DIAMOND:
        grip = (bar[0] + 72, bar[1] + 12)
    else:
        grip = (bar[0] - 170, bar[1] + 6)
    return [*parts, line(bar, grip, "bar")]


def _cranks(bones: Skeleton) -> list[str]:
    x, y = bones.bottom_bracket
    ends = [
        (x + bones.crank * 0.94, y - bones.crank * 0.34),
        (x - bones.crank * 0.94, y + bones.crank * 0.34),
    ]
    pedals = [line((end[0] - 45, end[1]), (end[0] + 45, end[1]), "pedal") for end in ends]
    return [
        circle(bones.bottom_bracket, 62, "chainring"),
        line(ends[0], ends[1], "crank"),
        *pedals,
        circle(bones.bottom_bracket, 19, "shell"),
    ]
