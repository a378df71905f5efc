"""A picture understood: its camera, how well that is known, and which input would explain a misfit.

Where the fit is bad, four things are tried: the
two rulers against each other, a turned front wheel, a lens that bends, one mark left out.  The one
that explains most is named.  A turned wheel and a bent picture are corrected; a ruler or a mark
that is off is left to who marked it, and every ± reaches as far as the picture without it says.
Source: derived; the bounds are common practice.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from jentrik.core.amounts import mm
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import End
from jentrik.core.photo.camera import Camera, Grid
from jentrik.core.photo.fit import (
    BASE,
    camera_of,
    covariance_of,
    extra_of,
    fitted,
    gain_of,
    weighed,
    widening,
)
from jentrik.core.photo.marks import FEWEST_ON_AN_EDGE, PhotoMarks, WheelMarks
from jentrik.core.photo.start import starts_of
from jentrik.core.tire.tables.iso5775 import DECIMAL_INCH_MM

MOST_OFF = 8.0  # times a mark's scatter: beyond it the picture is refused
PLAIN = 10.0  # how much the fit must gain before the wheel is turned or the lens bent
MOST_TURNED_DEG, LEAST_TURNED_DEG, MOST_ASIDE_DEG = 12.0, 1.5, 55.0
FEWEST_TO_BEND = 8
MARK_PENALTY = 3.0  # the worst of many marks is off by more than one of one
LEAST_RATIO = 0.012  # two rulers nearer together are one within their making
FREE_RULER_MM = 100.0
FLANGES_MM = 12.0  # both flanges stand so far above the bead seat (common practice)
SUSPECTS = 4  # marks that are left out for a try
WELL = 2.0  # sum of squares a mark from which no other start is tried


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
    scatter_px: float = 1.5  # of one mark each way, as said or as seen (1 s.d.)
    others: tuple["Solution", ...] = ()  # what the picture says where what is off is put right

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
        return math.sqrt(sum(residual.px**2 for residual in self.residuals) / len(self.residuals))

    @property
    def turned_deg(self) -> float:
        """How far the front wheel is turned, degrees; zero where that was not plain."""
        return (
            math.degrees(self.values[BASE + self.extra.index("turned")])
            if "turned" in self.extra
            else 0.0
        )


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
        points=tuple(replace(point, px=flipped(point.px)) for point in marks.points),
        lines=tuple(replace(line, px=tuple(map(flipped, line.px))) for line in marks.lines),
    )


def solved(marks: PhotoMarks) -> Solution:
    """Return a picture understood; refuses one whose marks cannot be those of two wheels.

    Points and lines do not move the camera, but for lines of known length: what was found for the
    wheels is remembered while they are set.
    """
    marks = facing_right(marks)
    rulers = tuple(line for line in marks.lines if line.length_mm is not None)
    return replace(_camera_found(replace(marks, points=(), lines=rulers)), marks=marks)


@lru_cache(maxsize=64)
def _camera_found(marks: PhotoMarks) -> Solution:
    best = _best_of(marks, starts_of(marks))
    if best is None:
        raise OutOfRange(
            "No camera in front of the machine sees its wheels like this.",
            field="wheels",
            expected="marks round the edges of both wheels",
        )
    whole = _understood(marks, *best)
    if marks.picture.focal_px is None:
        notes = (*whole.notes, "No focal length was given: the circles alone had to fix it.")
        return replace(whole, notes=notes)
    return whole


def _understood(marks: PhotoMarks, values: Grid, cost: float) -> Solution:
    """Return a fit, with what explains it where it is worse than its marks' scatter lets it be."""
    freedom = max(len(weighed(marks, values, ())) - len(values), 1)
    if cost <= freedom + math.sqrt(2 * freedom):  # one standard deviation of a sum of squares
        values, cost, extra, notes = _with_extras(marks, values, cost)
        return _solution(marks, values, extra, cost, notes)
    ruler, ratio = _ruler_gain(marks, values, cost)
    mark, gain = _mark_gain(marks, values, (), cost)
    rivals = max(gain - MARK_PENALTY, _turned_gain(marks, values, cost))
    if ruler >= PLAIN and ruler > rivals and abs(ratio - 1) >= LEAST_RATIO:
        return _wrong_ruler(marks, values, cost, ratio)
    if gain - MARK_PENALTY >= max(PLAIN, rivals):
        return _wrong_mark(marks, values, (), cost, mark)
    values, cost, extra, notes = _with_extras(marks, values, cost)
    mark, gain = _mark_gain(marks, values, extra, cost)
    if gain - MARK_PENALTY >= PLAIN:
        return _with_notes(_wrong_mark(marks, values, extra, cost, mark), notes)
    return _solution(marks, values, extra, cost, notes)


def _solution(
    marks: PhotoMarks, values: Grid, extra: tuple[str, ...], cost: float, notes: tuple[str, ...]
) -> Solution:
    _must_be_sane(marks, values)
    residuals = tuple(_residuals(marks, values, extra))
    _refuse_what_is_off(marks, values, extra, residuals)
    scatter = marks.click_px * math.sqrt(widening(marks, values, extra, cost))
    covariance = covariance_of(marks, values, extra, cost)
    return Solution(marks, values, covariance, residuals, notes, extra, scatter)


def _with_notes(solution: Solution, notes: tuple[str, ...]) -> Solution:
    return replace(solution, notes=(*notes, *solution.notes))


def _with_wheel(marks: PhotoMarks, end: str, wheel: WheelMarks) -> PhotoMarks:
    return replace(marks, front=wheel) if end == "front" else replace(marks, rear=wheel)


def _with_ruler(marks: PhotoMarks, end: End, **changed: Any) -> PhotoMarks:
    wheel = replace(marks.front if end == "front" else marks.rear, **changed)
    return _with_wheel(marks, end, wheel)


def _ruler_gain(marks: PhotoMarks, values: Grid, cost: float) -> tuple[float, float]:
    """Return how much a front ruler of any length gains, and its length over the one said."""
    free = _with_ruler(marks, "front", diameter_within_mm=FREE_RULER_MM)
    there, less = fitted(free, values)
    return _share(free, values, cost, less), float(1 + there[BASE - 1])


def _turned_gain(marks: PhotoMarks, values: Grid, cost: float) -> float:
    """Return how much a turned front wheel gains."""
    turned = fitted(marks, np.append(values, 0.0), ("turned",))[1]
    return _share(marks, values, cost, turned)


def _share(marks: PhotoMarks, values: Grid, cost: float, less: float) -> float:
    """Return what a try gains, in variances of a mark: as said, or as the rest of them scatter."""
    freedom = max(len(weighed(marks, values, ())) - len(values) - 1, 1)
    return (cost - less) / max(less / freedom, 1.0)


def _mark_gain(
    marks: PhotoMarks, values: Grid, extra: Sequence[str], cost: float
) -> tuple[Residual, float]:
    """Return the mark whose leaving out gains most, and how much."""
    worst = sorted(_residuals(marks, values, extra), key=lambda one: -one.px)[:SUSPECTS]
    costs = [(_fit_without(marks, one, values, extra)[1], one) for one in worst]
    least, mark = min(costs, key=lambda one: one[0])
    return mark, _share(marks, values, cost, least)


def _wrong_ruler(marks: PhotoMarks, values: Grid, cost: float, ratio: float) -> Solution:
    """Return a fit whose two rulers do not go together, with either one put right."""
    front, rear = marks.front.diameter_mm * ratio, marks.rear.diameter_mm / ratio
    ways: tuple[tuple[End, float], ...] = (("front", front), ("rear", rear))
    others = []
    for end, diameter in ways:
        right = _with_ruler(marks, end, diameter_mm=diameter, diameter_within_mm=FREE_RULER_MM)
        there, less = fitted(right, values)
        others.append(_solution(right, there, (), less, ()))
    said = " or ".join(
        f"the {end} circle measures about {mm(diameter):.0f}, not "
        f"{mm(getattr(marks, end).diameter_mm):.0f}{_like_a_rim(getattr(marks, end), diameter)}"
        for end, diameter in ways
    )
    words = f"The two wheels' sizes do not go together: {said}."
    residuals = tuple(_residuals(marks, values, ()))
    if max(residual.px for residual in residuals) > MOST_OFF * marks.click_px:
        raise OutOfRange(
            words, field="wheels.front.diameter_mm", expected="the size of the circle marked"
        )
    return replace(_solution(marks, values, (), cost, (words,)), others=tuple(others))


def _like_a_rim(wheel: WheelMarks, diameter_mm: float) -> str:
    """Return which of today's rims another circle is nearest to, where a rim's edge was marked."""
    if wheel.mark != "rim edge":
        return ""
    said, like = (
        min(DECIMAL_INCH_MM.values(), key=lambda seat: abs(seat + FLANGES_MM - across))
        for across in (wheel.diameter_mm, diameter_mm)
    )
    return "" if like == said else f" (a {like} rim in place of {said})"


def _wrong_mark(
    marks: PhotoMarks, values: Grid, extra: tuple[str, ...], cost: float, mark: Residual
) -> Solution:
    """Return a fit with one mark that the others speak against, and the one without it."""
    whole = _solution(marks, values, extra, cost, ())
    left = _without(marks, mark)
    there, less = fitted(left, values, extra)
    off = _distance_of(marks, mark, there, extra)
    words = (
        f"{mark.words[0].upper()}{mark.words[1:]} lies about {off:.0f} pixels off: the others "
        "agree without it. Move it."
    )
    other = _solution(left, there, extra, less, ())
    return replace(whole, notes=(words,), others=(other,))


def _distance_of(marks: PhotoMarks, mark: Residual, values: Grid, extra: tuple[str, ...]) -> float:
    """Return how far a mark lies from where other values have it, px."""
    return next(
        residual.px for residual in _residuals(marks, values, extra) if residual.where == mark.where
    )


def _best_of(marks: PhotoMarks, starts: list[Grid]) -> tuple[Grid, float] | None:
    """Return the best fit from several starts; one that fits well is not tried against others."""
    with np.errstate(all="ignore"):
        first = sorted(starts, key=lambda one: float((weighed(marks, one, ()) ** 2).sum()))
    best: tuple[Grid, float] | None = None
    for start in first:
        fit = fitted(marks, start)
        if best is None or fit[1] < best[1]:
            best = fit
        count = len(marks.rear.edge_px) + len(marks.front.edge_px)
        if best[1] < WELL * count:
            break
    return best


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
        if gain_of(marks, values, extra, more[0]) < PLAIN / 2:
            continue
        there, less = fitted(marks, np.append(values, 0.0), asked)
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
    off = weighed(marks, values, extra) * marks.click_px
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
    turned = math.degrees(extra_of(values, extra, "turned"))
    limit = MOST_OFF * marks.click_px
    worst = sorted(residuals, key=lambda one: -one.px)
    if worst[0].px > limit:
        named = min(worst[:SUSPECTS], key=lambda one: _fit_without(marks, one, values, extra)[1])
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


def _fit_without(
    marks: PhotoMarks, one: Residual, values: Grid, extra: Sequence[str]
) -> tuple[Grid, float]:
    return fitted(_without(marks, one), values, extra)


def _without(marks: PhotoMarks, one: Residual) -> PhotoMarks:
    """Return the marks without one; of five on a wheel the first counts twice."""
    end = one.where.split(".")[1]
    wheel = marks.front if end == "front" else marks.rear
    if one.where.endswith("axle_px"):
        left = replace(wheel, axle_px=None)
    else:
        number = int(one.where.rpartition("[")[2][:-1])
        kept = wheel.edge_px[:number] + wheel.edge_px[number + 1 :]
        if len(kept) < FEWEST_ON_AN_EDGE:
            kept = (*kept, kept[0])
        left = replace(wheel, edge_px=kept)
    return _with_wheel(marks, end, left)
