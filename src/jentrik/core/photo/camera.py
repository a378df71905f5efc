r"""A pinhole camera before a machine: where places come to lie in the picture, and back.

    machine   x forward, y up, z from its middle plane towards the camera; the rear axle is zero,
              the front axle lies on x.  Lengths in metres.
    camera    x right, y down, z away from it;  P_cam = R P + t,   u = f P_x / P_z + c

A picture of a machine that faces left is mirrored first: then all face right.  The picture's own
distortion, where one is fitted, is one radial term about its middle: u - c is (1 - k r^2) times
what was marked, r in half diagonals.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Grid = npt.NDArray[np.float64]
FACING = np.diag([1.0, -1.0, -1.0])  # a camera square before the machine, upright


def turning(vector: Grid) -> Grid:
    """Return the matrix that turns about a vector by its length in radians (Rodrigues).

    One vector or many: their last axis is x, y, z.
    """
    angle = np.sqrt((vector**2).sum(axis=-1))[..., None, None]
    cross = np.zeros((*vector.shape, 3))
    for row, column, of, sign in _CROSS:
        cross[..., row, column] = sign * vector[..., of]
    result: Grid = (
        np.eye(3)
        + np.sinc(angle / np.pi) * cross
        + np.sinc(angle / (2 * np.pi)) ** 2 / 2 * (cross @ cross)
    )
    return result


_CROSS = ((0, 1, 2, -1), (0, 2, 1, 1), (1, 0, 2, 1), (1, 2, 0, -1), (2, 0, 1, -1), (2, 1, 0, 1))


def vector_of(turned: Grid) -> Grid:
    """Return the vector whose turning is this matrix, less than half a turn."""
    angle = float(np.arccos(np.clip((np.trace(turned) - 1) / 2, -1.0, 1.0)))
    axis = np.array(
        [turned[2, 1] - turned[1, 2], turned[0, 2] - turned[2, 0], turned[1, 0] - turned[0, 1]]
    )
    if angle < 1e-8:
        return axis / 2
    result: Grid = axis * (angle / (2 * np.sin(angle)))
    return result


@dataclass(frozen=True, slots=True)
class Camera:
    """A camera and how it stands: turning, place of the rear axle in its axes (m), focal length.

    `focal_px` in pixels; `middle_px` is the picture's middle, `half_px` half its diagonal, `bend`
    the radial term.
    """

    turn: Grid
    place: Grid
    focal_px: float
    middle_px: tuple[float, float]
    half_px: float
    bend: float = 0.0

    @property
    def axes(self) -> Grid:
        """The machine's axes in the camera's, column by column."""
        result: Grid = turning(self.turn) @ FACING
        return result

    @property
    def matrix(self) -> Grid:
        """The 3 x 3 matrix of the camera."""
        x, y = self.middle_px
        return np.array([[self.focal_px, 0, x], [0, self.focal_px, y], [0, 0, 1.0]])

    def unbent(self, marks: Grid) -> Grid:
        """Return marks (n x 2) as a camera without distortion would have them."""
        away = marks - self.middle_px
        share = (away**2).sum(axis=1, keepdims=True) / self.half_px**2
        result: Grid = np.asarray(self.middle_px) + away * (1 - self.bend * share)
        return result

    def seen(self, places: Grid) -> Grid:
        """Return where places (n x 3, m) come to lie in the picture (n x 2), without distortion."""
        there = places @ self.axes.T + self.place
        result: Grid = self.focal_px * there[:, :2] / there[:, 2:] + self.middle_px
        return result

    def bent(self, marks: Grid) -> Grid:
        """Return undistorted marks as they lie in the picture: the inverse of `unbent`."""
        if not self.bend:
            return marks
        guess = marks
        for _ in range(8):
            guess = guess + (marks - self.unbent(guess))
        return guess

    def on_plane(self, marks: Grid, z: Grid | float) -> Grid:
        """Return the places (n x 2, m) of marks (n x 2) in planes z (m) beside the middle plane."""
        flat = (self.unbent(marks) - self.middle_px) / self.focal_px
        rays = np.column_stack([flat, np.ones(len(flat))]) @ self.axes  # in the machine's axes
        eye = -self.axes.T @ self.place
        share = (np.asarray(z) - eye[2]) / rays[:, 2]
        result: Grid = eye[:2] + share[:, None] * rays[:, :2]
        return result

    def conic(self, x: float, radius: float, *, z: float = 0.0, turned: float = 0.0) -> Grid:
        """Return the conic of a circle round the axle at x, m; `turned` about it by so many rad."""
        at = self.axes @ np.array([x, 0.0, 0.0]) + self.place
        axes = self.axes @ turning(np.array([0.0, turned, 0.0]))
        return conics(axes, at, self.matrix, np.float64(radius), z)


def conics(axes: Grid, at: Grid, camera: Grid, radius: Grid | np.float64, z: float) -> Grid:
    """Return the conics that circles cast, negative inside; one or many.

    `axes` are the wheel's in those of the camera, `at` its axle's place there, `z` how near the
    circle lies before it, m.
    """
    plane = np.stack([axes[..., 0], axes[..., 1], axes[..., 2] * z + at], axis=-1)
    back = np.linalg.inv(camera @ plane)
    size = np.ones((*np.shape(radius), 3))
    size[..., 2] = -(radius**2)
    result: Grid = np.swapaxes(back, -1, -2) @ (size[..., None] * back)
    return result
