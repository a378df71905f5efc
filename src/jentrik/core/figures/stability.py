r"""How steady a bicycle is by itself: the linear model of four bodies, no hands, thin tires.

    rear wheel R, rear frame with rider B, front frame H, front wheel F; x forward from the rear
    contact, z down; w wheelbase, c trail, l steering-axis tilt (90 degrees less the head angle)

        M q'' + v C1 q' + (g K0 + v^2 K2) q = 0,      q = (lean, steer)

Above the weave speed the weave dies out, above the capsize speed a slow fall into a curve begins;
between them the model rides upright by itself.  Source: J. P. Meijaard, J. M. Papadopoulos,
A. Ruina, A. L. Schwab, Linearized dynamics equations for the balance and steer of a bicycle: a
benchmark and review, Proc. R. Soc. A 463 (2007), the equations of appendix A (from memory); its
published coefficients and eigenvalues are the check.  Masses and inertias of a machine at hand are
estimates by the rules in `bodies_of`, so only the change between two set-ups means anything, within
the band that the spread of the estimates gives.  Never for motorcycles: their weave lives in tire
slip and flex.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from jentrik.core.figures.wheel_mass import about_masses
from jentrik.core.geometry.frame import Values
from jentrik.core.units import STANDARD_GRAVITY

Grid = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Bodies:
    """The 25 parameters: metres, kilograms, kg m^2, radians; floats or arrays of one shape."""

    wheelbase: Values
    trail: Values
    tilt: Values
    gravity: Values
    rear_radius: Values
    rear_mass: Values
    rear_ixx: Values
    rear_iyy: Values
    frame_x: Values
    frame_z: Values
    frame_mass: Values
    frame_ixx: Values
    frame_ixz: Values
    frame_izz: Values
    fork_x: Values
    fork_z: Values
    fork_mass: Values
    fork_ixx: Values
    fork_ixz: Values
    fork_izz: Values
    front_radius: Values
    front_mass: Values
    front_ixx: Values
    front_iyy: Values


@dataclass(frozen=True, slots=True)
class Equations:
    """The matrices of the motion, shape (..., 2, 2): mass, damping a m/s, stiffness parts."""

    mass: Grid
    damping: Grid
    stiffness_still: Grid
    stiffness_moving: Grid
    gravity: Any


def equations(of: Bodies) -> Equations:
    """Return the matrices of the linear motion."""
    w, c, g = (np.asarray(one, dtype=float) for one in (of.wheelbase, of.trail, of.gravity))
    cos, sin = np.cos(of.tilt), np.sin(of.tilt)
    total, ahead, down, txx, txz, tzz = _whole(of, w)
    steer = of.fork_mass + of.front_mass
    xa = (of.fork_x * of.fork_mass + w * of.front_mass) / steer
    za = (of.fork_z * of.fork_mass - of.front_radius * of.front_mass) / steer
    axx = of.fork_ixx + of.front_ixx
    axx = axx + of.fork_mass * (of.fork_z - za) ** 2 + of.front_mass * (of.front_radius + za) ** 2
    axz = of.fork_ixz - of.fork_mass * (of.fork_x - xa) * (of.fork_z - za)
    axz = axz + of.front_mass * (w - xa) * (of.front_radius + za)
    azz = of.fork_izz + of.front_ixx
    azz = azz + of.fork_mass * (of.fork_x - xa) ** 2 + of.front_mass * (w - xa) ** 2
    ua = (xa - w - c) * cos - za * sin
    all_ = steer * ua**2 + axx * sin**2 + 2 * axz * sin * cos + azz * cos**2
    alx = -steer * ua * za + axx * sin + axz * cos
    alz = steer * ua * xa + axz * sin + azz * cos
    mu = c / w * cos
    spin_rear, spin_front = of.rear_iyy / of.rear_radius, of.front_iyy / of.front_radius
    spin = spin_rear + spin_front
    sa = steer * ua + mu * total * ahead
    nothing = np.zeros(np.broadcast(w, c, cos, total, txx, all_).shape)
    swing = mu * spin + spin_front * cos
    return Equations(
        _square(txx, alx + mu * txz, alx + mu * txz, all_ + 2 * mu * alz + mu**2 * tzz, nothing),
        _square(
            nothing,
            swing + txz / w * cos - mu * total * down,
            -swing,
            alz / w * cos + mu * (sa + tzz / w * cos),
            nothing,
        ),
        _square(total * down, -sa, -sa, -sa * sin, nothing),
        _square(
            nothing,
            (spin - total * down) / w * cos,
            nothing,
            (sa + spin_front * sin) / w * cos,
            nothing,
        ),
        g,
    )


def _whole(of: Bodies, w: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
    """Return mass, place forward and down, and the inertias of everything about the contact."""
    total = of.rear_mass + of.frame_mass + of.fork_mass + of.front_mass
    ahead = (of.frame_x * of.frame_mass + of.fork_x * of.fork_mass + w * of.front_mass) / total
    down = -of.rear_radius * of.rear_mass + of.frame_z * of.frame_mass
    down = (down + of.fork_z * of.fork_mass - of.front_radius * of.front_mass) / total
    ixx = of.rear_ixx + of.frame_ixx + of.fork_ixx + of.front_ixx
    ixx = ixx + of.rear_mass * of.rear_radius**2 + of.frame_mass * of.frame_z**2
    ixx = ixx + of.fork_mass * of.fork_z**2 + of.front_mass * of.front_radius**2
    ixz = of.frame_ixz + of.fork_ixz - of.frame_mass * of.frame_x * of.frame_z
    ixz = ixz - of.fork_mass * of.fork_x * of.fork_z + of.front_mass * w * of.front_radius
    izz = of.rear_ixx + of.frame_izz + of.fork_izz + of.front_ixx
    izz = izz + of.frame_mass * of.frame_x**2 + of.fork_mass * of.fork_x**2
    return total, ahead, down, ixx, ixz, izz + of.front_mass * w**2


def _square(a: Any, b: Any, c: Any, d: Any, like: Grid) -> Grid:
    rows = [np.stack([one + like, other + like], axis=-1) for one, other in ((a, b), (c, d))]
    return np.stack(rows, axis=-2)


def eigenvalues(motion: Equations, speed_ms: Any) -> npt.NDArray[np.complex128]:
    """Return the four eigenvalues in 1/s at speeds that broadcast with the machines."""
    v = np.asarray(speed_ms, dtype=float)[..., None, None]
    gravity = np.asarray(motion.gravity)[..., None, None]
    stiffness = gravity * motion.stiffness_still + v**2 * motion.stiffness_moving
    inverse = np.linalg.inv(motion.mass)
    still, moving = -inverse @ stiffness, -inverse @ (v * motion.damping)
    shape = np.broadcast_shapes(still.shape, moving.shape)
    companion = np.zeros((*shape[:-2], 4, 4))
    companion[..., 0, 2] = companion[..., 1, 3] = 1.0
    companion[..., 2:, :2], companion[..., 2:, 2:] = still, moving
    values: npt.NDArray[np.complex128] = np.linalg.eigvals(companion).astype(np.complex128)
    return values


def weave_and_capsize(motion: Equations) -> tuple[Grid, Grid]:
    """Return the weave and the capsize speed in m/s of each machine; nan where there is none.

    Both are speeds at which a real part goes through zero.  The capsize speed is where the
    determinant of the stiffness is zero; at the weave speed the characteristic polynomial
    a s^4 + b s^3 + c s^2 + d s + e, of which each coefficient is one in v, meets the condition
    of Routh, b c d = a d^2 + b^2 e.
    """
    a, b, c, d, e = _polynomial(motion)
    capsize = _roots_of([e[0], np.zeros_like(e[0]), e[1], np.zeros_like(e[0]), e[2]])
    # b = b1 v, c = c0 + c2 v^2, d = d1 v + d3 v^3, e = e0 + e2 v^2 + e4 v^4: all over v^2.
    c0, c2 = c
    d1, d3 = d
    e0, e2, e4 = e
    b1 = b
    routh = [
        b1 * c0 * d1 - a * d1**2 - b1**2 * e0,
        b1 * (c0 * d3 + c2 * d1) - 2 * a * d1 * d3 - b1**2 * e2,
        b1 * c2 * d3 - a * d3**2 - b1**2 * e4,
    ]
    return _positive_speed(routh), capsize


def _polynomial(motion: Equations) -> tuple[Any, Any, Any, Any, Any]:
    """Return the coefficients of det(M s^2 + v C s + g K0 + v^2 K2) by powers of s and v."""
    m, c = motion.mass, motion.damping
    k0 = np.asarray(motion.gravity)[..., None, None] * motion.stiffness_still
    k2 = motion.stiffness_moving

    def mixed(x: Grid, y: Grid) -> Any:
        """Return the part of det(x + y) that is of both."""
        return (
            x[..., 0, 0] * y[..., 1, 1]
            + x[..., 1, 1] * y[..., 0, 0]
            - x[..., 0, 1] * y[..., 1, 0]
            - x[..., 1, 0] * y[..., 0, 1]
        )

    def alone(x: Grid) -> Any:
        return x[..., 0, 0] * x[..., 1, 1] - x[..., 0, 1] * x[..., 1, 0]

    return (
        alone(m),
        mixed(m, c),
        (mixed(m, k0), mixed(m, k2) + alone(c)),
        (mixed(c, k0), mixed(c, k2)),
        (alone(k0), mixed(k0, k2), alone(k2)),
    )


def _roots_of(even: Sequence[Any]) -> Grid:
    """Return the smallest positive speed at which e0 + e2 v^2 + e4 v^4 is zero."""
    return _positive_speed([even[0], even[2], even[4]], largest=False)


def _positive_speed(quadratic: Sequence[Any], *, largest: bool = True) -> Grid:
    """Return the root v of p0 + p1 v^2 + p2 v^4 that is positive: the largest, or the smallest."""
    p0, p1, p2 = (np.asarray(array, dtype=float) for array in np.broadcast_arrays(*quadratic))
    with np.errstate(invalid="ignore", divide="ignore"):
        root = np.sqrt(p1**2 - 4 * p0 * p2)
        linear = -p0 / p1
        both = np.stack([(-p1 - root) / (2 * p2), (-p1 + root) / (2 * p2)])
        both = np.where(np.abs(p2) < 1e-9 * np.abs(p1), linear, both)
        squares = np.where(both > 0, both, np.nan)
    with np.errstate(invalid="ignore"):
        chosen = np.fmax(*squares) if largest else np.fmin(*squares)
    speeds: Grid = np.sqrt(chosen)
    return speeds


@dataclass(frozen=True, slots=True)
class Rider:
    """Who rides and what the machine weighs, kg; the rider's center of mass is an estimate."""

    kg: float = 75.0
    bicycle_kg: float = 14.0
    seat_height_mm: float = 950.0


@dataclass(frozen=True, slots=True)
class SetUp:
    """What of a set-up the model takes: lengths mm, angle degrees, masses kg."""

    wheelbase_mm: float
    head_angle_deg: float
    trail_mm: float
    front_radius_mm: float
    rear_radius_mm: float
    front_width_mm: float = 40.0
    rear_width_mm: float = 40.0


RIM_SHARE = 0.92  # of the radius, where a wheel's mass sits (common practice)
FORK_KG, FRAME_X, FRAME_Z = 3.0, 0.42, 1.0  # of the wheelbase and of the seat height
GYRATION = (0.366, 0.168, 0.201)  # of B about x, across and about z, in parts of its height
SPREAD = 0.15  # one way or the other, of every estimate


def bodies_of(setup: SetUp, rider: Rider, *, chance: np.random.Generator, draws: int) -> Bodies:
    """Return machines like this one, the first as estimated, the rest spread about it.

    Estimates (common practice): a wheel is a thin ring at 92 % of its radius with a mass by its
    diameter and width; rider and frame have their center at 42 % of the wheelbase and as high as
    the saddle, and radii of gyration in the shares of the benchmark's rider; fork and bar weigh
    3 kg halfway between axle and bar.  Each estimate is drawn within 15 %; two set-ups are
    drawn from one `chance` so that the same rider sits on both.
    """

    def about(value: float) -> Any:
        spread = chance.uniform(1 - SPREAD, 1 + SPREAD, draws)
        spread[0] = 1.0
        return value * spread

    w, tilt = setup.wheelbase_mm / 1000, math.radians(90 - setup.head_angle_deg)
    rear = _wheel(setup.rear_radius_mm, setup.rear_width_mm)
    front = _wheel(setup.front_radius_mm, setup.front_width_mm)
    heavy_rear, heavy_front = about(1.0), about(1.0)
    height = about(rider.seat_height_mm / 1000 * FRAME_Z)
    mass = about(rider.kg + rider.bicycle_kg) - heavy_rear * rear[0] - heavy_front * front[0]
    fork = about(FORK_KG)
    body = mass - fork
    xx, xz, zz = (about(share) * height for share in GYRATION)
    fork_x = w - about(0.12)
    return Bodies(
        wheelbase=w,
        trail=setup.trail_mm / 1000,
        tilt=tilt,
        gravity=STANDARD_GRAVITY,
        rear_radius=setup.rear_radius_mm / 1000,
        rear_mass=heavy_rear * rear[0],
        rear_ixx=heavy_rear * rear[1] / 2,
        rear_iyy=heavy_rear * rear[1],
        frame_x=about(FRAME_X * w),
        frame_z=-height,
        frame_mass=body,
        frame_ixx=body * xx**2,
        frame_ixz=body * xz**2,
        frame_izz=body * zz**2,
        fork_x=fork_x,
        fork_z=-about(0.7),
        fork_mass=fork,
        fork_ixx=fork * 0.0147,
        fork_ixz=fork * -0.00189,
        fork_izz=fork * 0.00177,
        front_radius=setup.front_radius_mm / 1000,
        front_mass=heavy_front * front[0],
        front_ixx=heavy_front * front[1] / 2,
        front_iyy=heavy_front * front[1],
    )


def _wheel(radius_mm: float, width_mm: float) -> tuple[float, float]:
    """Return the mass of a wheel in kg and its inertia about the axle in kg m^2, both estimated."""
    radius, width = radius_mm / 1000, width_mm / 1000
    rim = 2 * max(radius - width, 0.05)
    about = about_masses("bicycle", bead_seat_mm=1000 * rim, width_mm=width_mm)
    parts = (about.rim_g, about.tire_g, about.spokes_g, about.hub_g)
    mass = sum(part for part in parts if part is not None) / 1000
    return mass, mass * (RIM_SHARE * radius) ** 2


@dataclass(frozen=True, slots=True)
class Steadier:
    """How a set-up changes the speeds in km/h: as estimated, and the band of 95 of 100 draws."""

    weave_kmh: float
    weave_band: tuple[float, float]
    capsize_kmh: float
    capsize_band: tuple[float, float]


DRAWS = 400


def change_of_steadiness(found: SetUp, planned: SetUp, rider: Rider, *, seed: int = 7) -> Steadier:
    """Return how weave and capsize speed change from one set-up to another, in km/h."""
    weave, capsize = (
        planned_speed - found_speed
        for found_speed, planned_speed in zip(
            *(
                weave_and_capsize(
                    equations(
                        bodies_of(one, rider, chance=np.random.default_rng(seed), draws=DRAWS)
                    )
                )
                for one in (found, planned)
            ),
            strict=True,
        )
    )
    return Steadier(float(weave[0] * 3.6), _band(weave), float(capsize[0] * 3.6), _band(capsize))


def _band(speeds: Grid) -> tuple[float, float]:
    low, high = np.nanpercentile(speeds * 3.6, (2.5, 97.5))
    return float(low), float(high)


def real_parts(setup: SetUp, rider: Rider, speeds_kmh: Sequence[float]) -> list[tuple[float, ...]]:
    """Return the real parts of the four eigenvalues at each speed, 1/s, the largest first."""
    motion = equations(bodies_of(setup, rider, chance=np.random.default_rng(7), draws=1))
    values = eigenvalues(motion, np.array(speeds_kmh) / 3.6)
    return [tuple(sorted((float(v.real) for v in row), reverse=True)) for row in values]
