"""Least squares over a camera and the marks of a picture.

The values: turning, place, way between the axles (m), logarithm of the focal length, how far both
diameters are off as shares; then what a picture asks for besides: a turned front wheel, one radial
term of distortion.  Each mark's own place on its circle is taken out beforehand: what is left of a
mark is its distance from the curve.

`scipy` solves it (MINPACK's Levenberg-Marquardt): 60 MB to install, and nothing of ours would be as
well tried.  Source: derived.
"""

import math
from collections.abc import Sequence

import numpy as np

from jentrik.core.photo.camera import FACING, Camera, Grid, conics, turning
from jentrik.core.photo.ellipse import distances
from jentrik.core.photo.marks import LineMarks, PhotoMarks
from jentrik.core.plus_minus import TWO, deviations

FREE_FOCAL_SPREAD = 0.5  # of its logarithm, where none is given: weak, the circles decide
STEP, BEND_SPREAD = 1e-6, 0.1
BASE = 10  # turning, place, way between the axles, focal length, both diameters


def extra_of(values: Grid, extra: Sequence[str], name: str) -> float:
    """Return a fitted figure that not every picture asks for; zero where this one does not."""
    return float(values[BASE + list(extra).index(name)]) if name in extra else 0.0


def camera_of(marks: PhotoMarks, values: Grid, extra: Sequence[str] = ()) -> Camera:
    """Return the camera of fitted values."""
    picture = marks.picture
    return Camera(
        values[:3],
        values[3:6],
        float(np.exp(values[7])),
        (picture.width_px / 2, picture.height_px / 2),
        math.hypot(picture.width_px, picture.height_px) / 2,
        extra_of(values, extra, "bend"),
    )


def weighed(marks: PhotoMarks, values: Grid, extra: Sequence[str]) -> Grid:
    """Return everything the fit makes small, each over its scatter; one set of values or many."""
    many = np.atleast_2d(values)
    picture, longest = marks.picture, max(marks.picture.width_px, marks.picture.height_px)
    middle = np.array([picture.width_px / 2, picture.height_px / 2])
    at, axes, focal = many[:, 3:6], turning(many[:, :3]) @ FACING, np.exp(many[:, 7])
    camera = np.zeros((len(many), 3, 3))
    camera[:, 0, 0] = camera[:, 1, 1] = focal
    camera[:, :2, 2], camera[:, 2, 2] = middle, 1.0
    more = {name: many[:, BASE + place] for place, name in enumerate(extra)}
    half = math.hypot(picture.width_px, picture.height_px) / 2
    parts, priors = [], []
    for place, (end, wheel) in enumerate((("rear", marks.rear), ("front", marks.front))):
        ahead = many[:, 6] if end == "front" else np.zeros(len(many))
        axle, turned = at + axes[:, :, 0] * ahead[:, None], axes
        if end == "front" and "turned" in more:
            about = np.zeros((len(many), 3))
            about[:, 1] = more["turned"]
            turned = axes @ turning(about)
        radius = wheel.diameter_mm / 2000 * (1 + many[:, 8 + place])
        conic = conics(turned, axle, camera, radius, wheel.nearer_mm / 1000)
        edge = _unbent(np.array(wheel.edge_px), middle, half, more.get("bend"))
        parts.append(distances(conic, edge) / marks.click_px)
        if wheel.axle_px is not None:
            there = _unbent(np.array([wheel.axle_px]), middle, half, more.get("bend"))
            near = axle + axes[:, :, 2] * (wheel.nearer_mm / 1000)
            parts.append(_axle(there[..., 0, :], (axle, near), focal, middle, marks.click_px))
        within = max(wheel.diameter_within_mm / 2 / wheel.diameter_mm, 1e-6)
        priors.append(many[:, 8 + place] / within)
    for line in marks.lines:
        if line.length_mm is not None:
            ends = _unbent(np.array([line.px[0], line.px[-1]]), middle, half, more.get("bend"))
            flat = (ends - middle) / focal[:, None, None]
            parts.append(_length(flat, axes, at, line, marks.click_px / focal))
    known = picture.focal_px or longest * 1.4
    spread = picture.focal_within_percent / 200 if picture.focal_px else FREE_FOCAL_SPREAD
    priors.append((many[:, 7] - math.log(known)) / spread)
    if "bend" in more:
        priors.append(more["bend"] / BEND_SPREAD)
    whole: Grid = np.concatenate([*parts, np.stack(priors, axis=-1)], axis=-1)
    return whole if values.ndim > 1 else whole[0]


def _unbent(marks: Grid, middle: Grid, half_px: float, bend: Grid | None) -> Grid:
    if bend is None:
        return marks
    away = marks - middle
    share = (away**2).sum(axis=-1, keepdims=True) / half_px**2
    result: Grid = middle + away * (1 - bend[:, None, None] * share)
    return result


def _axle(mark: Grid, ends: tuple[Grid, Grid], focal: Grid, middle: Grid, click_px: float) -> Grid:
    """Return how far the axle's mark lies off, over its scatter.

    It may have been set in the middle plane or on the hub's near face: it counts for halfway
    between, and as much less as the two lie apart.
    """
    there, near = (focal[:, None] * end[:, :2] / end[:, 2:] + middle for end in ends)
    half = np.hypot(*((near - there).T / 2))
    off: Grid = (mark - (there + near) / 2) / np.hypot(click_px, half)[:, None]
    return off


def _length(flat: Grid, axes: Grid, at: Grid, line: LineMarks, loose: Grid) -> Grid:
    """Return how far a line of known length is from it, over its scatter.

    `flat` are its ends (n x 2 x 2) at a focal length of one, `loose` a mark's scatter there.
    """
    rays = np.concatenate([flat, np.ones((*flat.shape[:2], 1))], axis=-1) @ axes
    eye = -np.einsum("nij,ni->nj", axes, at)
    share = (line.nearer_mm / 1000 - eye[:, 2])[:, None] / rays[..., 2]
    places = eye[:, None, :2] + share[..., None] * rays[..., :2]
    long_mm = np.hypot(*(places[:, 1] - places[:, 0]).T) * 1000
    scatter = np.hypot(line.length_within_mm / 2, 1000 * at[:, 2] * loose * math.sqrt(2))
    off: Grid = (long_mm - (line.length_mm or 0.0)) / scatter
    return off[:, None]


def slopes_of(marks: PhotoMarks, values: Grid, extra: Sequence[str]) -> Grid:
    """Return how everything the fit makes small changes with each value: central differences."""
    steps = np.eye(len(values)) * STEP
    moved = weighed(marks, np.concatenate([values + steps, values - steps]), extra)
    more, less = moved[: len(values)], moved[len(values) :]
    result: Grid = ((more - less) / (2 * STEP)).T
    return result


def fitted(marks: PhotoMarks, start: Grid, extra: Sequence[str] = ()) -> tuple[Grid, float]:
    """Return the values of least squares from a start, and the sum of squares."""
    # SciPy takes a third of a second to load, and photographs alone need it.
    from scipy.optimize import least_squares  # noqa: PLC0415

    def off(values: Grid) -> Grid:
        with np.errstate(all="ignore"):
            return np.nan_to_num(weighed(marks, values, extra), nan=1e6, posinf=1e6, neginf=-1e6)

    def slopes(values: Grid) -> Grid:
        with np.errstate(all="ignore"):
            return np.nan_to_num(slopes_of(marks, values, extra), posinf=0.0, neginf=0.0)

    answer = least_squares(off, start, jac=slopes, method="lm", x_scale="jac", max_nfev=60)
    return np.asarray(answer.x, dtype=float), float(2 * answer.cost)


def gain_of(marks: PhotoMarks, values: Grid, extra: Sequence[str], more: str) -> float:
    """Return about how much less the sum of squares becomes with one more value, to first order."""
    longer, asked = np.append(values, 0.0), (*extra, more)
    slopes, off = slopes_of(marks, longer, asked), weighed(marks, longer, asked)
    known, own = slopes[:, :-1], slopes[:, -1]
    own = own - known @ np.linalg.lstsq(known, own, rcond=None)[0]
    size = float(own @ own)
    return float((own @ off) ** 2 / size) if size > 0 else 0.0


def widening(marks: PhotoMarks, values: Grid, extra: Sequence[str], cost: float) -> float:
    """Return by how much the marks' variance is more than said, as few of them show it."""
    count = len(weighed(marks, values, extra))
    freedom = max(count - len(values), 1)
    return max(cost / freedom * (deviations(freedom) / TWO) ** 2, 1.0)


def covariance_of(marks: PhotoMarks, values: Grid, extra: Sequence[str], cost: float) -> Grid:
    """Return the covariance of the values, widened where the marks scatter more than was said."""
    slopes = slopes_of(marks, values, extra)
    result: Grid = np.asarray(
        np.linalg.pinv(slopes.T @ slopes) * widening(marks, values, extra, cost)
    )
    return result
