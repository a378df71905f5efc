r"""The bench drawing: one machine as found and as proposed, side view, to scale.

Two views of one truth.  *In the stand* the chassis stays and the ground comes up or drops; *on
the road* the ground stays level and the chassis turns.  As found is pencil and dashed, planned
is marking blue and solid.  A magnified drawing settles the machine anew on exaggerated
differences, so it is a true drawing of an exaggerated change, and says so.

    world: mm, x forward from the rear axle as found, y up; turned once, at the root, into a
    picture 1000 units wide, so that lettering has one size for every machine
"""

import math
from dataclasses import dataclass, replace
from typing import Literal

from markupsafe import Markup, escape

from jentrik.core.errors import Refusal
from jentrik.core.geometry.pose import Axles, Pose, PoseChange, settle
from jentrik.core.geometry.steering import trail
from jentrik.core.machine.declared import End, Kind
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import LAYOUTS, DrawnAs
from jentrik.web.drawing import bicycle, motorcycle, svg
from jentrik.web.drawing.marks import Mark, marks_drawn
from jentrik.web.drawing.skeleton import Skeleton
from jentrik.web.drawing.svg import XY, number
from jentrik.web.drawing.wheel import found_wheel, planned_wheel

View = Literal["stand", "road"]
WIDTH = 1000.0
_SIDE_MARGIN_MM, _TOP_MARGIN_MM = 150.0, 40.0
_SEEN_APART_MM = 0.3
_LAST_START, _FIRST_LINE = 730.0, 28.0
_BELOW_GROUND_UNITS = 70.0
_ABOVE_SEAT_UNITS = 96.0  # two lines in a phone's large lettering, and some air
_TWO_LINES_UNITS = 62.0  # the same above the ground
_ABOVE_MAGNIFIED_UNITS = 26.0
_TALLEST = 590.0  # units; a taller picture would push the ledger off a bench screen


@dataclass(frozen=True, slots=True)
class Dimension:
    """A figure lettered beside its place: name, as found, planned, and a word where it holds."""

    name: str
    found: str
    planned: str | None = None
    holds: bool = False
    assumed: bool = False  # as found: assumed, or computed from what is
    planned_assumed: bool = False


@dataclass(frozen=True, slots=True)
class Scene:
    """Everything the drawing shows; lengths mm."""

    kind: Kind
    build: DrawnAs
    bones: Skeleton
    axles: Axles
    change: PoseChange
    view: View
    magnify: int
    front_rim: float  # radius of the bead seat as proposed
    rear_rim: float
    title: str
    summary: str
    head: Dimension
    trail: Dimension
    height: Dimension | None
    ground: Dimension | None = None  # None where there is no proposal yet
    marks: tuple[Mark, ...] = ()  # the figures of its sheet; without them, what moves is lettered
    cast: tuple[End, ...] = ()  # the ends whose wheel is cast and not laced
    says: tuple[str, str] | None = None  # of feet and steering, in place of every figure


@dataclass(frozen=True, slots=True)
class _Placed:
    """The world on the picture: scale in units a mm, and where the origin lies."""

    scale: float
    left: float
    bottom: float

    def __call__(self, place: XY) -> XY:
        return self.left + place[0] * self.scale, self.bottom - place[1] * self.scale


def bench_drawing(scene: Scene) -> Markup:
    """Return the drawing as one SVG with title and text equivalent."""
    change, pose = _magnified(scene)
    planned = _planned_bones(scene, change, pose)
    placed, height = _fit(scene, planned, pose)
    world = f"translate({number(placed.left)} {number(placed.bottom)}) " + (
        f"scale({placed.scale:.4f} {-placed.scale:.4f})"
    )
    parts = [
        svg.group(_ground(scene, planned, pose), "ground", world),
        svg.group(_machine(scene, planned, pose), f"machine {scene.kind}", world),
        *(
            marks_drawn(scene.marks, placed, (WIDTH, height))
            if scene.marks
            else _lettering(scene, planned, pose, placed)
        ),
    ]
    said = f"{scene.title}. {scene.summary}"
    css = "bench-drawing" if scene.ground else "bench-drawing as-found"
    role = "group" if scene.marks else "img"
    return Markup(
        f'<svg class="{css}" id="bench-drawing" viewBox="0 0 {WIDTH:.0f} {height:.0f}" '
        f'role="{role}" aria-label="{escape(said)}" xmlns="http://www.w3.org/2000/svg">'
        f"<title>{escape(scene.title)}</title><desc>{escape(scene.summary)}</desc>"
        '<defs><pattern id="hatch" width="9" height="9" patternUnits="userSpaceOnUse" '
        'patternTransform="rotate(-50)"><path class="hatch" d="M0 0V9"/></pattern></defs>'
        f"{''.join(parts)}</svg>"
    )


def _magnified(scene: Scene) -> tuple[PoseChange, Pose]:
    """Return the change and pose to draw; a magnified machine that cannot stand is drawn true."""
    k, axles, true = scene.magnify, scene.axles, scene.change
    larger = PoseChange(
        front_radius_mm=axles.front_radius_mm + k * (true.front_radius_mm - axles.front_radius_mm),
        rear_radius_mm=axles.rear_radius_mm + k * (true.rear_radius_mm - axles.rear_radius_mm),
        fork_longer_mm=k * true.fork_longer_mm,
        offset_more_mm=k * true.offset_more_mm,
        cup_mm=k * true.cup_mm,
        rear_shift_x_mm=k * true.rear_shift_x_mm,
        rear_shift_y_mm=k * true.rear_shift_y_mm,
        head_turn_deg=k * true.head_turn_deg,
    )
    try:
        if min(float(larger.front_radius_mm), float(larger.rear_radius_mm)) > 50:
            return larger, settle(axles, larger)
    except Refusal:
        pass
    return true, settle(axles, true)


def _planned_bones(scene: Scene, change: PoseChange, pose: Pose) -> Skeleton:
    """Return the skeleton as proposed, still in the chassis's own frame."""
    bones = scene.bones
    return replace(
        bones,
        rear_axle=(float(pose.rear_axle[0]), float(pose.rear_axle[1])),
        front_axle=(float(pose.front_axle[0]), float(pose.front_axle[1])),
        rear_radius=float(change.rear_radius_mm),
        front_radius=float(change.front_radius_mm),
        rear_rim=_rim(bones.rear_rim, scene.rear_rim, scene.magnify),
        front_rim=_rim(bones.front_rim, scene.front_rim, scene.magnify),
        crown=bones.up_axis(bones.crown, -float(change.cup_mm)),
        head_angle=bones.head_angle + math.radians(float(change.head_turn_deg)),
        fork_length=bones.fork_length + float(change.fork_longer_mm),
        fork_offset=bones.fork_offset + float(change.offset_more_mm),
    )


def _rim(found: float, planned: float, magnify: int) -> float:
    return max(found + magnify * (planned - found), 30.0)


def _to_road(pose: Pose) -> str:
    """Return the chassis's frame as it lies on level ground, as an SVG matrix."""
    cos, sin = float(pose.cos), float(pose.sin)
    x, y = pose.place((0.0, 0.0))
    return f"matrix({cos:.6f} {sin:.6f} {-sin:.6f} {cos:.6f} {float(x):.3f} {float(y):.3f})"


def _from_road(pose: Pose, place: XY) -> XY:
    """Return where a place on the road lies in the chassis's own frame."""
    cos, sin = float(pose.cos), float(pose.sin)
    dx, dy = place[0], place[1] - float(pose.rear_radius_mm)
    return (
        dx * cos + dy * sin + float(pose.rear_axle[0]),
        -dx * sin + dy * cos + float(pose.rear_axle[1]),
    )


def _seen(scene: Scene, pose: Pose, place: XY) -> XY:
    """Return where a place of the planned chassis is seen in this view."""
    if scene.view == "stand":
        return place
    x, y = pose.place(place)
    return float(x), float(y)


def _on_ground(scene: Scene, pose: Pose, x: float) -> XY:
    """Return the planned ground below a place `x` forward of the planned rear axle."""
    return _from_road(pose, (x, 0.0)) if scene.view == "stand" else (x, 0.0)


def _fit(scene: Scene, planned: Skeleton, pose: Pose) -> tuple[_Placed, float]:
    """Return how the world lies on the picture, and the picture's height in units."""
    bones = scene.bones
    left = -max(bones.rear_radius, planned.rear_radius) - _SIDE_MARGIN_MM
    wheel = max(bones.front_axle[0], float(pose.wheelbase_mm)) + max(
        bones.front_radius, planned.front_radius
    )
    cranks = bones.bottom_bracket[0] + bones.crank if scene.kind == "bicycle" else 0.0
    right = max(wheel, cranks) + _SIDE_MARGIN_MM
    bar = planned.point(PointRole.BAR) or planned.head_top
    places = [*planned.points.values(), planned.head_top, planned.up_axis(planned.crown, 250)]
    if scene.build is DrawnAs.DELIVERY:
        places.append((0.0, motorcycle.box_top(planned)))
    places.append((bar[0], bar[1] + 20))
    top = _TOP_MARGIN_MM + max(_seen(scene, pose, place)[1] for place in places)
    lowest = min(0.0, *(_on_ground(scene, pose, x)[1] for x in (left, right)))
    above = _ABOVE_MAGNIFIED_UNITS if scene.magnify > 1 else 0.0
    scale = min(WIDTH / (right - left), (_TALLEST - _BELOW_GROUND_UNITS - above) / (top - lowest))
    aside = (WIDTH - (right - left) * scale) / 2
    height = above + (top - lowest) * scale + _BELOW_GROUND_UNITS
    return _Placed(scale, aside - left * scale, above + top * scale), height


def _ground(scene: Scene, planned: Skeleton, pose: Pose) -> list[str]:
    left = -max(planned.rear_radius, scene.bones.rear_radius) - 50
    right = float(pose.wheelbase_mm) + max(planned.front_radius, scene.bones.front_radius) + 120
    start, end = _on_ground(scene, pose, left), _on_ground(scene, pose, right)
    earth = [start, end, (end[0], end[1] - 22), (start[0], start[1] - 22)]
    parts = [svg.polyline(earth, "earth", closed=True)]
    if scene.view == "stand" and max(abs(start[1]), abs(end[1])) > _SEEN_APART_MM:
        parts.append(svg.line((start[0], 0), (end[0], 0), "found"))
    return [*parts, svg.line(start, end, "planned level")]


def _machine(scene: Scene, planned: Skeleton, pose: Pose) -> list[str]:
    parts_of = bicycle if scene.kind == "bicycle" else motorcycle
    chassis = parts_of.frame(planned, scene.build)
    forked = parts_of.fork(planned, scene.build)
    wheels = [
        part
        for axle, radius, rim, cast in (
            (planned.rear_axle, planned.rear_radius, planned.rear_rim, "rear" in scene.cast),
            (planned.front_axle, planned.front_radius, planned.front_rim, "front" in scene.cast),
        )
        for part in planned_wheel(axle, radius, rim, scene.kind, cast=cast)
    ]
    wheels = [*_twin(scene, planned), *wheels]
    ghosts = _ghost_wheels(scene, planned, pose)
    axis = svg.line(
        planned.up_axis(planned.crown, -planned.fork_length - planned.front_radius * 1.25),
        planned.up_axis(planned.crown, 420 if scene.kind == "bicycle" else 360),
        "axis",
    )
    # A fork moves with its crown; a bicycle's is drawn over the wheel, the frame over both.
    moving = [*wheels, axis, *forked, *chassis]
    if scene.view == "stand":
        return [*moving, *ghosts]
    return [svg.group(moving, transform=_to_road(pose)), *ghosts, *_ghost_lines(scene)]


_TWIN_MM = 46.0  # how far behind its neighbour the second wheel of an axle is drawn


def _twin(scene: Scene, planned: Skeleton) -> list[str]:
    """Return the second wheel of an axle that has two, a little behind the first."""
    wheels, layout = LAYOUTS.get(scene.build, (2, "solo"))
    if wheels == 2 or layout == "sidecar":
        return []
    rear = layout == "delta"
    x, y = planned.rear_axle if rear else planned.front_axle
    radius = planned.rear_radius if rear else planned.front_radius
    return [svg.circle((x - _TWIN_MM, y), radius, "twin")]


def _ghost_wheels(scene: Scene, planned: Skeleton, pose: Pose) -> list[str]:
    """Return the wheels as found, where they are seen elsewhere than the planned ones."""
    bones = scene.bones
    pairs = (
        (bones.rear_axle, bones.rear_radius, planned.rear_axle, planned.rear_radius),
        (bones.front_axle, bones.front_radius, planned.front_axle, planned.front_radius),
    )
    ghosts = []
    for axle, radius, new_axle, new_radius in pairs:
        seen = _seen(scene, pose, new_axle)
        if max(abs(radius - new_radius), math.dist(axle, seen)) > _SEEN_APART_MM:
            ghosts.append(found_wheel(axle, radius))
    return ghosts


def _ghost_lines(scene: Scene) -> list[str]:
    """Return the chassis as found in pencil: the lines that show how far it turned."""
    bones = scene.bones
    low = bones.bottom_bracket if scene.kind == "bicycle" else motorcycle.pivot_of(bones)
    return [
        svg.polyline([bones.rear_axle, low, bones.crown, bones.head_top], "found"),
        svg.line(bones.crown, bones.front_axle, "found"),
    ]


def _said_letters(
    says: tuple[str, str], scene: Scene, planned: Skeleton, pose: Pose, placed: _Placed
) -> list[str]:
    """Return plain words under the feet and over the steering, for a paper without figures."""
    low = placed(_seen(scene, pose, planned.bottom_bracket))
    foot = placed(_on_ground(scene, pose, float(pose.place(planned.bottom_bracket)[0])))
    return [
        svg.text((low[0], foot[1] + 40), [[(says[0], "name")]], "said", "middle"),
        svg.text(
            (WIDTH - 14, _head_line(scene, planned, pose, placed)[1]),
            [[(says[1], "name")]],
            "said",
            "end",
        ),
    ]


def _lettering(scene: Scene, planned: Skeleton, pose: Pose, placed: _Placed) -> list[str]:
    if scene.says is not None:
        return _said_letters(scene.says, scene, planned, pose, placed)
    letters = [*_head_letters(scene, planned, pose, placed)]
    letters += _trail_letters(scene, planned, pose, placed)
    if scene.height is not None:
        letters += _height_letters(scene, scene.height, planned, pose, placed)
    if scene.ground is not None:
        contact = placed(_on_ground(scene, pose, 0.0))
        css = f"planned-figure{' assumed' if scene.ground.assumed else ''}"
        words = [(scene.ground.name, "name"), (scene.ground.found, css)]
        if scene.ground.planned:
            words += [("·", "name optional"), (scene.ground.planned, f"{css} optional")]
        letters.append(svg.text((30, contact[1] + 52), [words], "dimension"))
    if scene.magnify > 1:
        said = [[(f"Differences drawn ×{scene.magnify}", "magnified")]]
        letters.append(svg.text((14, 28), said, "dimension"))
    return letters


def _figure(dimension: Dimension) -> list[tuple[str, str]]:
    found = (dimension.found, f"figure{' assumed' if dimension.assumed else ''}")
    if dimension.planned is None:
        return [found]
    if dimension.holds and not dimension.planned_assumed:
        return [found, ("holds", "holds")]
    css = f"planned-figure{' assumed' if dimension.planned_assumed else ''}"
    return [found, ("→", "arrow"), (dimension.planned, css)]


def _head_line(scene: Scene, planned: Skeleton, pose: Pose, placed: _Placed) -> XY:
    """Return where letters about the steering begin: before the head, above the wheel."""
    above_wheel = planned.front_axle[1] + planned.front_radius + 75
    reach = 130.0 if scene.kind == "bicycle" else 330.0
    place = (planned.crown[0] + reach, max(above_wheel, planned.head_top[1] - 20))
    at = placed(_seen(scene, pose, place))
    return at[0], max(at[1] - 18, _FIRST_LINE)


def _head_letters(scene: Scene, planned: Skeleton, pose: Pose, placed: _Placed) -> list[str]:
    at = _head_line(scene, planned, pose, placed)
    words, line = [[(scene.head.name, "name")], _figure(scene.head)], at[1]
    if at[0] > _LAST_START:  # lettering that starts here may run out of the picture
        return [svg.text((WIDTH - 14, line), words, "dimension", "end")]
    return [svg.text((at[0], line), words, "dimension")]


def _trail_letters(scene: Scene, planned: Skeleton, pose: Pose, placed: _Placed) -> list[str]:
    length = float(
        trail(
            radius_mm=planned.front_radius,
            head_angle_deg=math.degrees(planned.head_angle) - pose.pitch_deg,
            offset_mm=planned.fork_offset,
        )
    )
    contact = float(pose.wheelbase_mm)
    foot, tip = _on_ground(scene, pose, contact), _on_ground(scene, pose, contact + length)
    at = placed(foot)
    words = [[(scene.trail.name, "name"), *_figure(scene.trail)]]
    return [
        svg.line(placed(foot), placed(tip), "trail-bar"),
        svg.text((at[0], at[1] + 52), words, "dimension", "middle"),
    ]


def _height_letters(
    scene: Scene, height: Dimension, planned: Skeleton, pose: Pose, placed: _Placed
) -> list[str]:
    if scene.kind == "motorcycle":
        seat = planned.point(PointRole.SADDLE) or planned.bottom_bracket
        back = 60 if scene.build is DrawnAs.DELIVERY else 390  # beside the box, or behind the tank
        x, y = placed(_seen(scene, pose, (seat[0] - back, seat[1])))
        at = (x, max(y - _ABOVE_SEAT_UNITS, _FIRST_LINE))
        return [svg.text(at, [[(height.name, "name")], _figure(height)], "dimension")]
    top = _seen(scene, pose, planned.bottom_bracket)
    x_on_road = float(pose.place(planned.bottom_bracket)[0])
    foot = _on_ground(scene, pose, x_on_road)
    start, end = placed(top), placed(foot)
    middle = start[1] + (end[1] - start[1]) * 0.52
    late = start[0] > _LAST_START  # lettering that starts here may run out of the picture
    at = (start[0] + (-12 if late else 12), min(middle, end[1] - _TWO_LINES_UNITS))
    words = [[(height.name, "name")], _figure(height)]
    anchor = "end" if late else "start"
    return [svg.line(start, end, "tape"), svg.text(at, words, "dimension crowded", anchor)]
