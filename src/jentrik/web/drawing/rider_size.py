"""One wheel size under its riders, to scale: stand-over, toe, room behind, a step."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, mm
from jentrik.core.figures.rider_and_ground import BENT_LEGS
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import change, fixed

_W, _AXLE = 340.0, 78.0
_SCALE = 0.16  # units for a mm
_At = Callable[[float, float], XY]  # mm forward of the rear axle and up to the paper
_STRIDE_MM = 110.0  # from the middle to each foot, standing over it


@dataclass(frozen=True, slots=True)
class Standing:
    """A rider over the machine, mm: inseam, room over the frame, crotch to rear tire on a slope."""

    name: str
    inseam_mm: float
    room_mm: float | None
    behind_mm: float | None


@dataclass(frozen=True, slots=True)
class SizePicture:
    """What is drawn of one size, mm and degrees; None where a place is not known."""

    name: str
    wheelbase_mm: float
    front_radius_mm: float
    rear_radius_mm: float
    standover_mm: float | None
    feet_mm: XY | None
    toe_mm: float | None
    step_mm: float
    edge_deg: float | None
    slope_deg: float
    riders: Sequence[Standing]


def size_picture(size: SizePicture) -> Markup:
    """Return the picture, each figure beside what it measures."""
    tops = [2 * size.rear_radius_mm, *(rider.inseam_mm for rider in size.riders)]
    ground = (max([*tops, size.standover_mm or 0.0]) + 130) * _SCALE

    def at(x_mm: float, up_mm: float) -> XY:
        return _AXLE + x_mm * _SCALE, ground - up_mm * _SCALE

    front = size.wheelbase_mm
    parts = [svg.line((4, ground), (_W - 4, ground), "size-ground")]
    wheels = ((0.0, size.rear_radius_mm), (front, size.front_radius_mm))
    parts += [svg.circle(at(x, r), r * _SCALE, "size-wheel") for x, r in wheels]
    parts += _step(size, at(front + size.front_radius_mm * 0.92, 0))
    said = [*_feet(size, parts, at), *_behind(size, parts, at), *_legs(size, parts, at)]
    label = f"{size.name}: {'; '.join(said)}" if said else size.name
    return Markup(
        f'<svg class="size-picture" viewBox="0 0 {_W:.0f} {ground + 26:.0f}" role="img" '
        f'aria-label="{escape(label)}">{"".join(parts)}</svg>'
    )


def _legs(size: SizePicture, parts: list[str], at: _At) -> list[str]:
    """Draw each rider standing over it, with the room over the frame, and return it in words."""
    said = []
    places = [size.wheelbase_mm * (0.36 + 0.2 * place) for place in range(len(size.riders))]
    over = size.standover_mm
    if over is not None:
        ends = at(places[0] - 70, over), at(places[-1] + 70, over)
        parts.append(svg.line(*ends, "size-bar"))
    for x, rider in zip(places, size.riders, strict=True):
        legs = [at(x - _STRIDE_MM, 0), at(x, rider.inseam_mm), at(x + _STRIDE_MM, 0)]
        parts.append(svg.polyline(legs, "size-legs"))
        if rider.room_mm is None or over is None:
            continue
        words = bare(change(rider.room_mm), "mm")
        css = "size-figure short" if rider.room_mm < 0 else "size-figure"
        top = at(x, max(over, rider.inseam_mm))
        parts.append(_words((top[0], top[1] - 6), words, css, "middle"))
        said.append(f"stand-over room, {rider.name}: {words} mm")
    return said


def _words(at: XY, words: str, css: str, anchor: str = "start") -> str:
    return svg.text(at, [[(words, "name")]], css, anchor)


def _feet(size: SizePicture, parts: list[str], at: _At) -> list[str]:
    """Draw the feet and the toe's room to the front tire, and return it in words."""
    if size.feet_mm is None:
        return []
    parts.append(svg.circle(at(*size.feet_mm), 4, "size-feet"))
    if size.toe_mm is None:
        return []
    x = size.wheelbase_mm - size.front_radius_mm
    words = f"{mm(size.toe_mm):.0f}"
    css = "size-figure short" if size.toe_mm < 0 else "size-figure"
    parts.append(_words((at(x, 0)[0], at(x, 0)[1] + 19), f"toe {words}", css, "middle"))
    return [f"toe room {words}"]


def _behind(size: SizePicture, parts: list[str], at: _At) -> list[str]:
    """Draw where the first rider sits low on the slope and the room to the rear tire."""
    rider = size.riders[0]
    if size.feet_mm is None or rider.behind_mm is None:
        return []
    slope, legs = math.radians(size.slope_deg), BENT_LEGS * rider.inseam_mm
    x, up = size.feet_mm[0] - legs * math.sin(slope), size.feet_mm[1] + legs * math.cos(slope)
    radius = size.rear_radius_mm
    far = math.hypot(x, up - radius)
    edge = at(x * radius / far, radius + (up - radius) * radius / far)
    body = at(x, up)
    parts += [svg.circle(body, 4, "size-body"), svg.line(body, edge, "size-room")]
    words = f"{mm(rider.behind_mm):.0f}"
    parts.append(_words((body[0] - 8, body[1] - 4), words, "size-figure", "end"))
    return [f"body to rear tire on the slope, {rider.name}: {words}"]


def _step(size: SizePicture, at: XY) -> list[str]:
    """Draw the step in front of the front wheel, with the angle of its edge."""
    tall = size.step_mm * _SCALE
    box: list[XY] = [at, (at[0], at[1] - tall), (_W - 4, at[1] - tall), (_W - 4, at[1])]
    parts = [svg.polyline(box, "size-step", closed=True)]
    if size.edge_deg is not None:
        words = f"edge {fixed(size.edge_deg)}°"
        parts.append(_words((_W - 6, at[1] + 19), words, "size-figure", "end"))
    return parts
