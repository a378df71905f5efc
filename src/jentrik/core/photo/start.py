"""Where a fit of a picture starts: the closed form of the two circles that the marks show."""

import math
from collections.abc import Iterator
from itertools import product

import numpy as np

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.photo.camera import Grid, vector_of
from jentrik.core.photo.ellipse import (
    LEAST_ROUNDNESS,
    Ellipse,
    circle_through,
    circles_of,
    distances,
    ellipse_through,
)
from jentrik.core.photo.marks import PhotoMarks

FOCAL_TRIES = (0.75, 1.1, 1.7, 2.6)  # of the longer side, where none is given
LARGEST_GAP_DEG = 235.0  # between two marks of a wheel, seen from its middle


def starts_of(marks: PhotoMarks) -> list[Grid]:
    """Return values to start from; refuses marks that cannot be those of two wheels."""
    found = {end: _ellipse(marks, end) for end in ENDS}
    _must_stand_apart(found)
    return list(_starts(marks, found))


def _ellipse(marks: PhotoMarks, end: End) -> Ellipse:
    wheel = marks.front if end == "front" else marks.rear
    at = np.array(wheel.edge_px, dtype=float)
    with blamed_on(f"wheels.{end}"):
        ellipse = ellipse_through(at)
        longest = max(marks.picture.width_px, marks.picture.height_px)
        if not _like_a_wheel(ellipse, at, longest):
            ellipse = circle_through(at)  # few marks that scatter much may bend an ellipse too far
        if not _like_a_wheel(ellipse, at, longest):
            raise OutOfRange(
                f"The marks of the {end} wheel make no ellipse that a wheel from the side does.",
                field="edge_px",
                expected="marks round the whole edge",
            )
        away = at - ellipse.middle
        angles = np.sort(np.degrees(np.arctan2(away[:, 1], away[:, 0])))
        gap = float(np.diff(np.append(angles, angles[0] + 360)).max())
        if gap > LARGEST_GAP_DEG:
            raise OutOfRange(
                f"The marks of the {end} wheel all lie on one side of it.",
                field="edge_px",
                expected="marks round the whole edge",
            )
    return ellipse


def _like_a_wheel(ellipse: Ellipse, at: Grid, longest: int) -> bool:
    """Whether an ellipse through marks is one that a wheel seen from the side may cast."""
    long, short = ellipse.half_axes
    off = float(np.abs(distances(ellipse.conic, at)).max())
    return short >= LEAST_ROUNDNESS * long and long <= 3 * longest and off <= 0.25 * short


def _must_stand_apart(found: dict[End, Ellipse]) -> None:
    rear, front = found["rear"], found["front"]
    if front.middle[0] <= rear.middle[0]:
        raise OutOfRange(
            "The front wheel lies behind the rear one: marks swapped, a mirror picture, or the "
            "machine faces the other way.",
            field="faces",
            expected="the side the front wheel points to",
        )
    apart = math.dist(rear.middle, front.middle)
    if apart < 0.9 * (rear.half_axes[1] + front.half_axes[1]):
        raise OutOfRange(
            "The two wheels overlap in these marks; on a machine they stand apart.",
            field="wheels",
            expected="each wheel's own marks",
        )


def _starts(marks: PhotoMarks, found: dict[End, Ellipse]) -> Iterator[Grid]:
    """Give starting values by the closed form: for each focal length the pair that agrees best."""
    picture = marks.picture
    longest = max(picture.width_px, picture.height_px)
    focals = [picture.focal_px] if picture.focal_px else [longest * one for one in FOCAL_TRIES]
    for focal in focals:
        matrix = np.array(
            [[focal, 0, picture.width_px / 2], [0, focal, picture.height_px / 2], [0, 0, 1.0]]
        )
        rear = circles_of(found["rear"].conic, matrix, marks.rear.diameter_mm / 2000)
        front = circles_of(found["front"].conic, matrix, marks.front.diameter_mm / 2000)
        pairs = sorted(product(rear, front), key=lambda one: -float(one[0][1] @ one[1][1]))
        for one, other in pairs[:2]:
            start = _start(one, other, focal, marks)
            if start is not None:
                yield start


def _start(
    rear: tuple[Grid, Grid], front: tuple[Grid, Grid], focal: float, marks: PhotoMarks
) -> Grid | None:
    ahead = front[0] - rear[0]
    between = float(np.linalg.norm(ahead))
    if between < 0.05:
        return None
    x = ahead / between
    z = rear[1] + front[1]
    z = z - (z @ x) * x
    if np.linalg.norm(z) < 1e-6:
        return None
    z = z / np.linalg.norm(z)
    axes = np.column_stack([x, np.cross(z, x), z])
    place = rear[0] - z * marks.rear.nearer_mm / 1000
    turn = vector_of(axes @ np.diag([1.0, -1.0, -1.0]))
    return np.array([*turn, *place, between, math.log(focal), 0.0, 0.0])
