"""A camera fitted to the marks of a picture, with how well it is known.

Weighted least squares over the camera (turning, place, focal length within its stated part), the
way between the axles, and the diameters within theirs.  Each mark's own place on its circle is
taken out beforehand: what is left of a mark is its distance from the curve.  The start is the
closed form of the two circles.  A turned front wheel and one radial term of distortion are added
where the marks plainly ask for them.  The covariance is that of the solution, widened where the
marks scatter more than was said.

`scipy` solves it (MINPACK's Levenberg-Marquardt): 60 MB to install, and nothing of ours would be as
well tried.  Source: derived; the bounds are common practice.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import product

import numpy as np
from scipy.optimize import least_squares

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.machine.suspension import ENDS, End
from jentrik.core.photo.camera import FACING, Camera, Grid, conics, turning, vector_of
from jentrik.core.photo.ellipse import (
    LEAST_ROUNDNESS,
    Ellipse,
    circle_through,
    circles_of,
    distances,
    ellipse_through,
)
from jentrik.core.photo.marks import LineMarks, PhotoMarks, WheelMarks

FOCAL_TRIES = (0.75, 1.1, 1.7, 2.6)  # of the longer side, where none is given
FREE_FOCAL_SPREAD = 0.5  # of its logarithm, where none is given: weak, the circles decide
MOST_OFF = 8.0  # times a mark's scatter: beyond it the picture is refused
PLAIN = 10.0  # how much the fit must gain before the wheel is turned or the lens bent
MOST_TURNED_DEG, LEAST_TURNED_DEG, MOST_ASIDE_DEG = 12.0, 1.5, 55.0
FEWEST_TO_BEND = 8
LARGEST_GAP_DEG = 235.0  # between two marks of a wheel, seen from its middle
WELL = 2.0  # sum of squares a mark from which no other start is tried
STEP, BEND_SPREAD = 1e-6, 0.1
BASE = 10  # turning, place, way between the axles, focal length, both diameters


@dataclass(frozen=True, slots=True)
class Residual:
    """How far one mark lies from where the solution has it, px; `where` is its path."""

    where: str
    words: str
    px: float


@dataclass(frozen=True, slots=True)
class Solution:
    """A picture understood: the camera, the way between the axles (m), and how well all is known.

    `values` and `covariance` are of the fitted figures in the order of `camera_of`.
    """

    marks: PhotoMarks
    values: Grid
    covariance: Grid
    residuals: tuple[Residual, ...]
    notes: tuple[str, ...]
    extra: tuple[str, ...] = ()

    @property
    def camera(self) -> Camera:
        """The camera."""
        return camera_of(self.marks, self.values, self.extra)

    @property
    def between_mm(self) -> float:
        """The way between the axles in mm, along the line that joins them."""
        return float(self.values[6] * 1000)

    @property
    def residual_px(self) -> float:
        """How far the marks lie off, root mean square, px."""
        return math.sqrt(sum(one.px**2 for one in self.residuals) / len(self.residuals))

    @property
    def turned_deg(self) -> float:
        """How far the front wheel is turned, degrees; zero where that was not plain."""
        return (
            math.degrees(self.values[BASE + self.extra.index("turned")])
            if "turned" in self.extra
            else 0.0
        )


def _extra(values: Grid, extra: Sequence[str], name: str) -> float:
    """Return a fitted figure that not every picture asks for; zero where this one does not."""
    return float(values[BASE + list(extra).index(name)]) if name in extra else 0.0


def facing_right(marks: PhotoMarks) -> PhotoMarks:
    """Return the marks as of the mirrored picture where the machine faces left."""
    if marks.faces == "right":
        return marks
    width = marks.picture.width_px

    def flipped(px: tuple[float, float]) -> tuple[float, float]:
        return width - px[0], px[1]

    def wheel(one: WheelMarks) -> WheelMarks:
        axle = None if one.axle_px is None else flipped(one.axle_px)
        return replace(one, edge_px=tuple(map(flipped, one.edge_px)), axle_px=axle)

    return replace(
        marks,
        faces="right",
        rear=wheel(marks.rear),
        front=wheel(marks.front),
        points=tuple(replace(one, px=flipped(one.px)) for one in marks.points),
        lines=tuple(replace(one, px=tuple(map(flipped, one.px))) for one in marks.lines),
    )


def camera_of(marks: PhotoMarks, values: Grid, extra: Sequence[str] = ()) -> Camera:
    """Return the camera of fitted values."""
    picture = marks.picture
    return Camera(
        values[:3],
        values[3:6],
        float(np.exp(values[7])),
        (picture.width_px / 2, picture.height_px / 2),
        math.hypot(picture.width_px, picture.height_px) / 2,
        _extra(values, extra, "bend"),
    )


def solved(marks: PhotoMarks) -> Solution:
    """Return a picture understood; refuses one whose marks cannot be those of two wheels.

    Points and lines do not move the camera, but for lines of known length: what was found for the
    wheels is remembered while they are set.
    """
    marks = facing_right(marks)
    rulers = tuple(one for one in marks.lines if one.length_mm is not None)
    return replace(_camera_found(replace(marks, points=(), lines=rulers)), marks=marks)


@lru_cache(maxsize=64)
def _camera_found(marks: PhotoMarks) -> Solution:
    found = {end: _ellipse(marks, end) for end in ENDS}
    _must_stand_apart(found)
    best = _best_of(marks, list(_starts(marks, found)))
    if best is None:
        raise OutOfRange(
            "No camera in front of the machine sees its wheels like this.",
            field="wheels",
            expected="marks round the edges of both wheels",
        )
    values, cost, extra, notes = _with_extras(marks, *best)
    _must_be_sane(marks, values)
    residuals = tuple(_residuals(marks, values, extra))
    _refuse_what_is_off(marks, values, extra, residuals)
    covariance = _covariance(marks, values, extra, cost)
    if marks.picture.focal_px is None:
        notes = (*notes, "No focal length was given: the circles alone had to fix it.")
    return Solution(marks, values, covariance, residuals, notes, extra)


def _best_of(marks: PhotoMarks, starts: list[Grid]) -> tuple[Grid, float] | None:
    """Return the best fit from several starts; one that fits well is not tried against others."""
    with np.errstate(all="ignore"):
        first = sorted(starts, key=lambda one: float((_weighed(marks, one, ()) ** 2).sum()))
    best: tuple[Grid, float] | None = None
    for start in first:
        fit = _fitted(marks, start)
        if best is None or fit[1] < best[1]:
            best = fit
        count = len(marks.rear.edge_px) + len(marks.front.edge_px)
        if best[1] < WELL * count:
            break
    return best


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


def _weighed(marks: PhotoMarks, values: Grid, extra: Sequence[str]) -> Grid:
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
    there, near = (focal[:, None] * one[:, :2] / one[:, 2:] + middle for one in ends)
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


def _slopes(marks: PhotoMarks, values: Grid, extra: Sequence[str]) -> Grid:
    """Return how everything the fit makes small changes with each value: central differences."""
    steps = np.eye(len(values)) * STEP
    moved = _weighed(marks, np.concatenate([values + steps, values - steps]), extra)
    more, less = moved[: len(values)], moved[len(values) :]
    result: Grid = ((more - less) / (2 * STEP)).T
    return result


def _fitted(marks: PhotoMarks, start: Grid, extra: Sequence[str] = ()) -> tuple[Grid, float]:
    """Return the values of least squares from a start, and the sum of squares."""

    def off(values: Grid) -> Grid:
        with np.errstate(all="ignore"):
            return np.nan_to_num(_weighed(marks, values, extra), nan=1e6, posinf=1e6, neginf=-1e6)

    def slopes(values: Grid) -> Grid:
        with np.errstate(all="ignore"):
            return np.nan_to_num(_slopes(marks, values, extra), posinf=0.0, neginf=0.0)

    answer = least_squares(off, start, jac=slopes, method="lm", x_scale="jac", max_nfev=60)
    return np.asarray(answer.x, dtype=float), float(2 * answer.cost)


def _gain(marks: PhotoMarks, values: Grid, extra: Sequence[str], more: str) -> float:
    """Return about how much less the sum of squares becomes with one more value, to first order."""
    longer, asked = np.append(values, 0.0), (*extra, more)
    slopes, off = _slopes(marks, longer, asked), _weighed(marks, longer, asked)
    known, own = slopes[:, :-1], slopes[:, -1]
    own = own - known @ np.linalg.lstsq(known, own, rcond=None)[0]
    size = float(own @ own)
    return float((own @ off) ** 2 / size) if size > 0 else 0.0


def _with_extras(
    marks: PhotoMarks, values: Grid, cost: float
) -> tuple[Grid, float, tuple[str, ...], tuple[str, ...]]:
    """Add a turned front wheel and a bent picture where the marks plainly ask for them."""
    extra: tuple[str, ...] = ()
    notes: list[str] = []
    counts = [len(marks.rear.edge_px), len(marks.front.edge_px)]
    if min(counts) < FEWEST_TO_BEND:
        notes.append(
            f"With {FEWEST_TO_BEND} marks on each wheel the lens could be checked for distortion."
        )
    tries = [("turned",), *([("bend",)] if min(counts) >= FEWEST_TO_BEND else [])]
    for more in tries:
        asked = (*extra, *more)
        if _gain(marks, values, extra, more[0]) < PLAIN / 2:
            continue
        there, less = _fitted(marks, np.append(values, 0.0), asked)
        turned = math.degrees(there[-1]) if more == ("turned",) else LEAST_TURNED_DEG
        if cost - less < PLAIN or abs(turned) < LEAST_TURNED_DEG:
            continue
        values, cost, extra = there, less, asked
        if more == ("turned",):
            notes.append(
                f"The front wheel is turned about {abs(turned):.0f}°; its circle was corrected."
            )
        else:
            notes.append("The lens bends the picture; one radial term was corrected.")
    return values, cost, extra, tuple(notes)


def _must_be_sane(marks: PhotoMarks, values: Grid) -> None:
    camera = camera_of(marks, values)
    eye = -camera.axes.T @ camera.place
    if camera.place[2] <= 0 or eye[2] <= 0.2:
        raise OutOfRange(
            "By these marks the camera stood behind the machine.",
            field="wheels",
            expected="marks round the edges of both wheels",
        )
    aside = math.degrees(math.acos(min(abs(float(camera.axes[2, 2])), 1.0)))
    if aside > MOST_ASIDE_DEG:
        raise OutOfRange(
            f"The picture was taken {aside:.0f}° from the side; take it from the side.",
            field="wheels",
            expected="a picture from the side",
        )
    reach = (marks.rear.diameter_mm + marks.front.diameter_mm) / 2000
    if values[6] < 0.9 * reach:
        raise OutOfRange(
            "By these marks the wheels overlap.",
            field="wheels",
            expected="each wheel's own marks and diameter",
        )


def _residuals(marks: PhotoMarks, values: Grid, extra: Sequence[str]) -> Iterator[Residual]:
    off = _weighed(marks, values, extra) * marks.click_px
    place = 0
    for end, wheel in (("rear", marks.rear), ("front", marks.front)):
        for number in range(len(wheel.edge_px)):
            words = f"mark {number + 1} on the {end} wheel's edge"
            yield Residual(f"wheels.{end}.edge_px[{number}]", words, abs(float(off[place])))
            place += 1
        if wheel.axle_px is not None:
            away = float(np.hypot(off[place], off[place + 1]))
            yield Residual(f"wheels.{end}.axle_px", f"the mark of the {end} axle", away)
            place += 2


def _refuse_what_is_off(
    marks: PhotoMarks, values: Grid, extra: Sequence[str], residuals: Sequence[Residual]
) -> None:
    """Refuse a picture with a mark far off, and name it: the one without which all others fit."""
    turned = math.degrees(_extra(values, extra, "turned"))
    limit = MOST_OFF * marks.click_px
    worst = sorted(residuals, key=lambda one: -one.px)
    if worst[0].px > limit:
        named = min(worst[:4], key=lambda one: _cost_without(marks, one, values, extra))
        raise OutOfRange(
            f"{named.words[0].upper()}{named.words[1:]} is about {max(named.px, worst[0].px):.0f} "
            "pixels off; move it, or mark that wheel again.",
            field=named.where,
            expected=f"marks within {limit:.0f} px of the wheel's edge",
        )
    if abs(turned) > MOST_TURNED_DEG:
        raise OutOfRange(
            f"The front wheel is turned about {abs(turned):.0f}°: set the bars straight and take "
            "the picture again.",
            field="wheels.front",
            expected="bars straight",
        )


def _cost_without(marks: PhotoMarks, one: Residual, values: Grid, extra: Sequence[str]) -> float:
    end = one.where.split(".")[1]
    wheel = marks.front if end == "front" else marks.rear
    if one.where.endswith("axle_px"):
        left = replace(wheel, axle_px=None)
    else:
        number = int(one.where.rpartition("[")[2][:-1])
        kept = wheel.edge_px[:number] + wheel.edge_px[number + 1 :]
        if len(kept) < 5:
            kept = (*kept, kept[0])
        left = replace(wheel, edge_px=kept)
    without = replace(marks, front=left) if end == "front" else replace(marks, rear=left)
    return _fitted(without, values, extra)[1]


def _covariance(marks: PhotoMarks, values: Grid, extra: Sequence[str], cost: float) -> Grid:
    """Return the covariance of the values, widened where the marks scatter more than was said."""
    slopes = _slopes(marks, values, extra)
    freedom = max(len(slopes) - len(values), 1)
    result: Grid = np.asarray(np.linalg.pinv(slopes.T @ slopes) * max(cost / freedom, 1.0))
    return result
