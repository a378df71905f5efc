r"""An ellipse through marks, and the circle in space that casts it: where a solution starts.

    fit      least squares under 4ac - b^2 = 1 (Fitzgibbon, Pilu, Fisher 1999, in the stable form of
             Halir and Flusser 1998)
    circle   the cone through the eye, Q = K^T C K, has eigenvalues l1 >= l2 > 0 > l3; two planes
             cut it in circles,  n = sqrt((l1-l2)/(l1-l3)) e1 +- sqrt((l2-l3)/(l1-l3)) e3,
             and a radius gives the distance (textbook; re-derived in the tests)

The middle of the ellipse is not that of the circle: the pole of its plane's vanishing line is.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from jentrik.core.errors import OutOfRange

Grid = npt.NDArray[np.float64]
LEAST_ROUNDNESS = 0.25  # an ellipse flatter than this is a wheel seen almost from the front


@dataclass(frozen=True, slots=True)
class Ellipse:
    """An ellipse in a picture, px: its conic (3 x 3, negative inside), middle and half axes."""

    conic: Grid
    middle: tuple[float, float]
    half_axes: tuple[float, float]  # the longer one first


def ellipse_through(marks: Grid) -> Ellipse:
    """Return the ellipse of least algebraic distance from marks (n x 2), five or more.

    Refuses marks that lie on no ellipse.
    """
    center, size = marks.mean(axis=0), float(marks.std()) or 1.0
    x, y = ((marks - center) / size).T
    square = np.column_stack([x * x, x * y, y * y])
    plain = np.column_stack([x, y, np.ones_like(x)])
    try:
        back = -np.linalg.solve(plain.T @ plain, plain.T @ square)
        reduced = square.T @ square + (square.T @ plain) @ back
        turned = np.array([reduced[2] / 2, -reduced[1], reduced[0] / 2])
        _, vectors = np.linalg.eig(turned)
    except np.linalg.LinAlgError:
        raise _no_ellipse() from None
    vectors = np.real(vectors)
    kind = 4 * vectors[0] * vectors[2] - vectors[1] ** 2
    if not (kind > 0).any():
        raise _no_ellipse()
    first = vectors[:, int(np.argmax(kind))]
    a, b, c, d, e, f = (float(one) for one in np.concatenate([first, back @ first]))
    local = np.array([[a, b / 2, d / 2], [b / 2, c, e / 2], [d / 2, e / 2, f]])
    shift = np.array(
        [[1 / size, 0, -center[0] / size], [0, 1 / size, -center[1] / size], [0, 0, 1]]
    )
    conic = shift.T @ local @ shift
    return _described(conic)


def circle_through(marks: Grid) -> Ellipse:
    """Return the circle of least algebraic distance from marks (n x 2), by Kasa 1976."""
    x, y = marks.T
    plain = np.column_stack([x, y, np.ones_like(x)])
    a, b, c = np.linalg.lstsq(plain, -(x * x + y * y), rcond=None)[0]
    return _described(np.array([[1.0, 0.0, a / 2], [0.0, 1.0, b / 2], [a / 2, b / 2, c]]))


def _described(conic: Grid) -> Ellipse:
    if np.trace(conic[:2, :2]) < 0:
        conic = -conic
    middle = np.linalg.solve(conic[:2, :2], -conic[:2, 2])
    level = float(-(conic[2, 2] + conic[:2, 2] @ middle))
    spread = np.linalg.eigvalsh(conic[:2, :2])
    if level <= 0 or spread[0] <= 0:
        raise _no_ellipse()
    half = np.sqrt(level / spread)
    conic = conic / level
    return Ellipse(conic, (float(middle[0]), float(middle[1])), (float(half[0]), float(half[1])))


def _no_ellipse() -> OutOfRange:
    return OutOfRange(
        "These marks lie on no ellipse: a wheel in a picture is one.",
        field="edge_px",
        expected="marks round the whole edge",
    )


def distances(conic: Grid, marks: Grid) -> Grid:
    """Return how far marks (n x 2) lie outside a conic, px; negative inside.

    To first order in the distance (Sampson 1982), scatter over radius here less than a percent.
    One conic or many, with the same marks or each with its own.
    """
    at = np.concatenate([marks, np.ones((*marks.shape[:-1], 1))], axis=-1)
    along = at @ conic
    value = (along * at).sum(axis=-1)
    slope = 2 * np.hypot(along[..., 0], along[..., 1])
    result: Grid = value / slope
    return result


def circles_of(conic: Grid, camera: Grid, radius: float) -> list[tuple[Grid, Grid]]:
    """Return the circles of a radius that cast a conic: middle and plane's normal, each facing us.

    `camera` is the 3 x 3 matrix of the camera; both in its axes, lengths in those of the radius.
    """
    cone = camera.T @ conic @ camera
    cone = (cone + cone.T) / 2
    if np.linalg.det(cone) > 0:
        cone = -cone
    values, vectors = np.linalg.eigh(cone)  # ascending: one negative, two above
    low, middle, high = values
    if not low < 0 < middle:
        return []
    e_low, e_high = vectors[:, 0], vectors[:, 2]
    across = np.sqrt(max(high - middle, 0.0) / (high - low))
    along = np.sqrt((middle - low) / (high - low))
    found = []
    for sign in (1.0, -1.0):
        normal = along * e_low + sign * across * e_high
        center, size = _cut(cone, normal)
        if size <= 0:
            continue
        center = center * (radius / size)
        if center[2] < 0:
            center = -center
        normal = -normal if normal @ center > 0 else normal
        found.append((center, normal))
    return found


def _cut(cone: Grid, normal: Grid) -> tuple[Grid, float]:
    """Return middle and radius of the circle in which the plane n x = 1 cuts a cone."""
    helper = np.eye(3)[int(np.argmin(np.abs(normal)))]
    first = np.cross(normal, helper)
    first /= np.linalg.norm(first)
    second = np.cross(normal, first)
    base = np.column_stack([first, second])
    flat = base.T @ cone @ base
    slope = base.T @ cone @ normal
    where = np.linalg.solve(flat, -slope)
    level = -(normal @ cone @ normal + slope @ where)
    size = level / (np.trace(flat) / 2)
    return normal + base @ where, float(np.sqrt(size)) if size > 0 else 0.0
