r"""The figures of a machine from a picture that is understood, each with its ±.

    ground    common tangent under both tires; up is square to it
    plane     a mark's ray cut with its own plane: the middle one, or nearer by what was said
    ±         two standard deviations: the camera's covariance and each mark's own scatter, carried
              through by the slopes of every figure

Definitions of lengths and angles are those of a machine's sheet.  Source: derived.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from jentrik.core.photo.camera import Camera, Grid
from jentrik.core.photo.fit import camera_of
from jentrik.core.photo.marks import WheelMarks
from jentrik.core.photo.solve import Solution

BRACKET, CROWN, HEAD_TUBE, SADDLE = "bottom bracket", "crown seat", "head tube top", "saddle clamp"
STEERING, SEAT_TUBE = "steering axis", "seat tube"
FIGURES = (
    "wheelbase_mm",
    "head_angle_deg",
    "bb_height_mm",
    "chainstay_mm",
    "fork_length_mm",
    "fork_offset_mm",
    "stack_mm",
    "reach_mm",
    "seat_angle_deg",
)


CAMERA_STEP, PIXEL_STEP = 1e-5, 1e-2


@dataclass(frozen=True, slots=True)
class Measured:
    """A figure by photograph: mm or degrees, and its ± of two standard deviations."""

    value: float
    plus_minus: float


@dataclass(frozen=True, slots=True)
class MeasuredPoint:
    """A named place: forward of the rear axle and above the ground, mm; one ± for both."""

    name: str
    x_mm: float
    height_mm: float
    plus_minus: float


@dataclass(frozen=True, slots=True)
class PhotoFigures:
    """Everything a picture tells; a figure that cannot be known from its marks is left out."""

    figures: dict[str, Measured]
    points: tuple[MeasuredPoint, ...]
    residual_px: float
    notes: tuple[str, ...]


def figures_of(solution: Solution) -> PhotoFigures:
    """Return the figures of a picture; each ± reaches what it says where what is off is right."""
    whole = _figures_alone(solution)
    for other in solution.others:
        rear = _marked(solution.marks.rear, other.marks.rear)
        front = _marked(solution.marks.front, other.marks.front)
        named = replace(solution.marks, rear=rear, front=front)
        whole = _reaching(whole, _figures_alone(replace(other, marks=named)))
    return whole


def _marked(said: WheelMarks, wheel: WheelMarks) -> WheelMarks:
    """Return a wheel's marks as another solution has them, its tire larger as its circle is."""
    if said.tire_diameter_mm is None:
        return replace(wheel, tire_diameter_mm=None)
    larger = wheel.diameter_mm - said.diameter_mm
    return replace(wheel, tire_diameter_mm=said.tire_diameter_mm + larger)


def _reaching(whole: PhotoFigures, other: PhotoFigures) -> PhotoFigures:
    """Return figures whose ± reach as far as those of another solution do."""
    figures = {
        name: Measured(
            one.value, max(one.plus_minus, abs(there.value - one.value) + there.plus_minus)
        )
        for name, one in whole.figures.items()
        for there in (other.figures.get(name, one),)
    }
    there = {point.name: point for point in other.points}
    points = tuple(
        replace(point, plus_minus=max(point.plus_minus, _apart(point, there[point.name])))
        for point in whole.points
    )
    return replace(whole, figures=figures, points=points)


def _apart(one: MeasuredPoint, other: MeasuredPoint) -> float:
    away = max(abs(one.x_mm - other.x_mm), abs(one.height_mm - other.height_mm))
    return away + other.plus_minus


def _figures_alone(solution: Solution) -> PhotoFigures:
    marks = solution.marks
    flat, nearer = _pixels(solution)
    values = np.concatenate([solution.values, flat])
    count, scatter = len(solution.values), np.full(len(flat), solution.scatter_px**2)
    covariance = np.zeros((len(values), len(values)))
    covariance[:count, :count] = solution.covariance
    covariance[count:, count:] = np.diag(scatter)

    def figures_at(at: Grid, places: Grid | None = None) -> dict[str, float]:
        if places is None:
            places = _places(camera_of(marks, at[:count], solution.extra), at[count:], nearer)
        return _figures(solution, at[:count], places)

    best = figures_at(values)
    names = list(best)
    slopes = np.column_stack(
        [
            *_slopes(figures_at, values, count, names),
            *_pixel_slopes(solution, figures_at, values, nearer, names),
        ]
    )
    variance = np.einsum("ij,jk,ik->i", slopes, covariance, slopes)
    spread = dict(zip(names, np.sqrt(np.maximum(variance, 0.0)).tolist(), strict=True))
    measured = {name: Measured(best[name], 2 * spread[name]) for name in FIGURES if name in best}
    points = tuple(
        MeasuredPoint(
            point.name,
            best[f"{point.name}|x"],
            best[f"{point.name}|y"],
            2 * max(spread[f"{point.name}|x"], spread[f"{point.name}|y"]),
        )
        for point in marks.points
        if f"{point.name}|y" in best
    )
    notes = list(solution.notes)
    if marks.rear.tire_diameter_mm is None or marks.front.tire_diameter_mm is None:
        notes.append(
            "Without both tires' diameters the ground is not known, nor what is measured from it."
        )
    return PhotoFigures(measured, points, solution.residual_px, tuple(notes))


_FiguresAt = Callable[..., dict[str, float]]


def _slopes(figures_at: _FiguresAt, values: Grid, count: int, names: list[str]) -> list[Grid]:
    """Return how each figure changes with each value of the camera."""
    columns = []
    for place in range(count):
        away = np.zeros(len(values))
        away[place] = CAMERA_STEP
        more, less = figures_at(values + away), figures_at(values - away)
        columns.append(np.array([(more[n] - less[n]) / (2 * CAMERA_STEP) for n in names]))
    return columns


def _pixel_slopes(
    solution: Solution, figures_at: _FiguresAt, values: Grid, nearer: Grid, names: list[str]
) -> list[Grid]:
    """Return how each figure changes with each pixel: the camera stays, one place moves."""
    count = len(solution.values)
    camera = camera_of(solution.marks, values[:count], solution.extra)
    here = _places(camera, values[count:], nearer)
    right, down = np.tile([PIXEL_STEP, 0.0], len(nearer)), np.tile([0.0, PIXEL_STEP], len(nearer))
    moved = [_places(camera, values[count:] + step, nearer) for step in (right, down)]
    base = figures_at(values, here)
    columns = []
    for place in range(len(nearer)):
        for one in moved:
            places = here.copy()
            places[place] = one[place]
            more = figures_at(values, places)
            columns.append(np.array([(more[name] - base[name]) / PIXEL_STEP for name in names]))
    return columns


def _places(camera: Camera, flat: Grid, nearer: Grid) -> Grid:
    """Return the places of pixels in a row, each in its own plane, mm (n x 2)."""
    if not len(nearer):
        return np.zeros((0, 2))
    return camera.on_plane(flat.reshape(-1, 2), nearer) * 1000


def _pixels(solution: Solution) -> tuple[Grid, Grid]:
    """Return the pixels of points and lines in a row, and how near each lies, m."""
    marks = solution.marks
    pixels = [(point.px, point.nearer_mm) for point in marks.points]
    pixels += [(px, line.nearer_mm) for line in marks.lines for px in line.px]
    flat = np.array([px for px, _ in pixels], dtype=float).ravel()
    return flat, np.array([near / 1000 for _, near in pixels])


def _figures(solution: Solution, values: Grid, places: Grid) -> dict[str, float]:
    """Return every figure of these values, by name; points as `name|x` and `name|y`."""
    marks, between = solution.marks, float(values[6]) * 1000
    rear, front = marks.rear.tire_diameter_mm, marks.front.tire_diameter_mm
    grounded = rear is not None and front is not None
    drop = (front - rear) / 2 if rear is not None and front is not None else 0.0
    tilt = -math.asin(max(-1.0, min(1.0, drop / between)))
    along, up = (
        np.array([math.cos(tilt), math.sin(tilt)]),
        np.array([-math.sin(tilt), math.cos(tilt)]),
    )
    height = rear / 2 if rear is not None else 0.0
    level = {
        one.name: (float(places[i] @ along), float(places[i] @ up) + height)
        for i, one in enumerate(marks.points)
    }
    lines, first = {}, len(marks.points)
    for line in marks.lines:
        there = places[first : first + len(line.px)]
        first += len(line.px)
        lines[line.name.casefold()] = np.column_stack([there @ along, there @ up + height])
    found = {"wheelbase_mm": between * math.cos(tilt)}
    if grounded:
        for name, (x, y) in level.items():
            found |= {f"{name}|x": x, f"{name}|y": y}
    known = {name.casefold(): place for name, place in level.items()}
    front_axle = np.array([found["wheelbase_mm"], (front or 0.0) / 2])
    rear_axle = np.array([0.0, height])
    found |= _of_the_fork(known, lines, front_axle, grounded=grounded)
    found |= _of_the_frame(known, lines, rear_axle, grounded=grounded)
    return found


def _of_the_fork(
    known: dict[str, tuple[float, float]],
    lines: dict[str, Grid],
    front_axle: Grid,
    *,
    grounded: bool,
) -> dict[str, float]:
    axis = lines.get(STEERING)
    if axis is None:
        return {}
    middle, upwards = _line(axis)
    found: dict[str, float] = {}
    if grounded:
        found["head_angle_deg"] = math.degrees(math.atan2(upwards[1], -upwards[0]))
    crown = known.get(CROWN)
    if crown is not None:
        ahead = np.array([upwards[1], -upwards[0]])  # square to the axis, forward
        found["fork_length_mm"] = float((np.array(crown) - front_axle) @ upwards)
        found["fork_offset_mm"] = float((front_axle - middle) @ ahead)
    return found


def _of_the_frame(
    known: dict[str, tuple[float, float]],
    lines: dict[str, Grid],
    rear_axle: Grid,
    *,
    grounded: bool,
) -> dict[str, float]:
    bracket = known.get(BRACKET)
    found: dict[str, float] = {}
    if bracket is not None:
        found["chainstay_mm"] = math.dist(bracket, rear_axle)
    if bracket is not None and grounded:
        found["bb_height_mm"] = bracket[1]
        top = known.get(HEAD_TUBE)
        if top is not None:
            found |= {"stack_mm": top[1] - bracket[1], "reach_mm": top[0] - bracket[0]}
    tube, clamp = lines.get(SEAT_TUBE), known.get(SADDLE)
    if grounded and tube is not None:
        _, upwards = _line(tube)
        found["seat_angle_deg"] = math.degrees(math.atan2(upwards[1], -upwards[0]))
    elif grounded and bracket is not None and clamp is not None:
        angle = math.atan2(clamp[1] - bracket[1], bracket[0] - clamp[0])
        found["seat_angle_deg"] = math.degrees(angle)
    return found


def _line(places: Grid) -> tuple[Grid, Grid]:
    """Return the middle of a line through places and its direction, upwards (least squares)."""
    middle = places.mean(axis=0)
    away = places - middle
    spread = away.T @ away
    angle = 0.5 * math.atan2(2 * spread[0, 1], spread[0, 0] - spread[1, 1])
    direction = np.array([math.cos(angle), math.sin(angle)])
    return middle, direction if direction[1] > 0 else -direction
