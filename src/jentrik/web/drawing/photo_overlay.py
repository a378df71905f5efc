"""What is drawn over a photograph: marks, the circles fitted to them, axles, ground, other wheels.

Everything goes through the camera that was found, in the picture's own pixels: lines of the machine
that are fitted are pencil, planned ones blue as on every drawing; marks are small crosses.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from markupsafe import Markup, escape

from jentrik.core.photo.camera import Camera, Grid
from jentrik.web.drawing import svg

_ROUND = 72


@dataclass(frozen=True, slots=True)
class Mark:
    """One mark on the picture: where, its field's key, which of them it is, whether it is off."""

    px: tuple[float, float]
    key: str
    place: int
    words: str
    off: bool = False


@dataclass(frozen=True, slots=True)
class Wheel:
    """A wheel to draw through the camera: its axle and radius in mm, how near its circle lies."""

    x_mm: float
    y_mm: float
    radius_mm: float
    css: str
    nearer_mm: float = 0.0


def picture_places(
    camera: Camera, places: Grid, *, mirrored_px: float | None = None
) -> list[tuple[float, float]]:
    """Return places (n x 3, mm) in the picture; mirrored where the machine faces left."""
    seen = camera.bent(camera.seen(np.asarray(places, dtype=float) / 1000))
    if mirrored_px is not None:
        seen[:, 0] = mirrored_px - seen[:, 0]
    return [(float(x), float(y)) for x, y in seen]


def overlay(
    size: tuple[int, int],
    marks: Iterable[Mark],
    *,
    camera: Camera | None = None,
    wheels: Sequence[Wheel] = (),
    lines: Sequence[tuple[tuple[float, float], tuple[float, float], str]] = (),
    mirrored: bool = False,
    said: str,
) -> Markup:
    """Return the drawing over a picture; `lines` join places (mm, middle plane) by class."""
    flip = float(size[0]) if mirrored else None
    parts = []
    if camera is not None:
        for wheel in wheels:
            round_it = [
                (
                    wheel.x_mm + wheel.radius_mm * math.cos(turn * 2 * math.pi / _ROUND),
                    wheel.y_mm + wheel.radius_mm * math.sin(turn * 2 * math.pi / _ROUND),
                    wheel.nearer_mm,
                )
                for turn in range(_ROUND + 1)
            ]
            there = picture_places(camera, np.array(round_it), mirrored_px=flip)
            parts.append(svg.polyline(there, wheel.css))
            middle = picture_places(
                camera, np.array([[wheel.x_mm, wheel.y_mm, 0.0]]), mirrored_px=flip
            )[0]
            parts.append(svg.circle(middle, size[0] / 400, f"{wheel.css} axle"))
        for start, end, css in lines:
            places = np.array([[*start, 0.0], [*end, 0.0]])
            parts.append(svg.polyline(picture_places(camera, places, mirrored_px=flip), css))
    parts += [_cross(mark, size[0] / 160) for mark in marks]
    return Markup(
        f'<svg class="photo-over" viewBox="0 0 {size[0]} {size[1]}" role="img" '
        f'aria-label="{escape(said)}"><title>{escape(said)}</title>{"".join(parts)}</svg>'
    )


def _cross(one: Mark, arm: float) -> str:
    x, y = one.px
    css = "photo-mark off" if one.off else "photo-mark"
    return (
        f'<path class="{css}" data-mark="{escape(one.key)}" data-place="{one.place}" '
        f'd="M{svg.number(x - arm)} {svg.number(y)}h{svg.number(2 * arm)}'
        f'M{svg.number(x)} {svg.number(y - arm)}v{svg.number(2 * arm)}">'
        f"<title>{escape(one.words)}</title></path>"
    )
