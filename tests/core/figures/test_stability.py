"""The bicycle model against the published benchmark (Meijaard and others 2007)."""

import csv
import math
from pathlib import Path

import numpy as np
import pytest
from scipy.optimize import brentq

from jentrik.core.figures.stability import (
    Bodies,
    Rider,
    SetUp,
    bodies_of,
    change_of_steadiness,
    eigenvalues,
    equations,
    real_parts,
    weave_and_capsize,
)

# Table 1 of the paper.
BENCHMARK = Bodies(
    wheelbase=1.02,
    trail=0.08,
    tilt=math.pi / 10,
    gravity=9.81,
    rear_radius=0.3,
    rear_mass=2,
    rear_ixx=0.0603,
    rear_iyy=0.12,
    frame_x=0.3,
    frame_z=-0.9,
    frame_mass=85,
    frame_ixx=9.2,
    frame_ixz=2.4,
    frame_izz=2.8,
    fork_x=0.9,
    fork_z=-0.7,
    fork_mass=4,
    fork_ixx=0.05892,
    fork_ixz=-0.00756,
    fork_izz=0.00708,
    front_radius=0.35,
    front_mass=3,
    front_ixx=0.1405,
    front_iyy=0.28,
)
TOURER = SetUp(1050, 71, 64, 348, 348, 37, 37)


def test_the_published_coefficients() -> None:
    motion = equations(BENCHMARK)
    close = {"abs": 1e-11, "rel": 1e-13}
    assert motion.mass == pytest.approx(
        np.array([[80.81722, 2.31941332208709], [2.31941332208709, 0.29784188199686]]), **close
    )
    assert motion.stiffness_still == pytest.approx(
        np.array([[-80.95, -2.59951685249872], [-2.59951685249872, -0.80329488458618]]), **close
    )
    assert motion.stiffness_moving == pytest.approx(
        np.array([[0, 76.59734589573222], [0, 2.65431523794604]]), **close
    )
    assert motion.damping == pytest.approx(
        np.array([[0, 33.86641391492494], [-0.85035641456978, 1.68540397397560]]), **close
    )


def test_the_published_eigenvalues_at_5_metres_a_second() -> None:
    values = sorted(eigenvalues(equations(BENCHMARK), 5.0), key=lambda one: (one.real, one.imag))
    assert [value.real for value in values] == pytest.approx(
        [-14.07838969279822, -0.77534188219585, -0.77534188219585, -0.32286642900409], abs=1e-9
    )
    assert abs(values[1].imag) == pytest.approx(4.46486771378823, abs=1e-9)


def test_the_published_weave_and_capsize_speeds() -> None:
    weave, capsize = weave_and_capsize(equations(BENCHMARK))
    assert float(weave) == pytest.approx(4.29238253634111, abs=1e-10)
    assert float(capsize) == pytest.approx(6.02426201538837, abs=1e-10)


def test_sixty_bicycles_move_as_another_library_says() -> None:
    # BicycleParameters 1.5.2, by scripts/steadiness_oracle.py.
    with (Path(__file__).parent / "eigenvalues.csv").open(encoding="utf-8") as file:
        rows = [{key: float(value) for key, value in row.items()} for row in csv.DictReader(file)]
    assert len(rows) == 60
    for row in rows:
        theirs = [complex(row[f"real{n}"], row[f"imaginary{n}"]) for n in range(1, 5)]
        bodies = Bodies(**{name: row[name] for name in Bodies.__slots__})
        ours = list(eigenvalues(equations(bodies), row["speed_ms"]))
        for value in theirs:
            nearest = ours.pop(int(np.argmin([abs(our - value) for our in ours])))
            assert nearest == pytest.approx(value, rel=1e-8, abs=1e-8)


def test_the_weave_speed_is_where_a_real_part_goes_through_zero() -> None:
    motion = equations(bodies_of(TOURER, Rider(), chance=np.random.default_rng(1), draws=1))

    def weaving(speed: float) -> float:
        values = eigenvalues(motion, np.array([speed]))[0]
        return float(max(value.real for value in values if abs(value.imag) > 1e-6))

    weave, capsize = weave_and_capsize(motion)
    assert brentq(weaving, 3, 9) == pytest.approx(float(weave[0]), abs=1e-6)
    upright = eigenvalues(motion, np.array([(weave[0] + capsize[0]) / 2]))
    assert max(one.real for one in upright[0]) < 0


def test_arrays_equal_the_single_cases() -> None:
    many = bodies_of(TOURER, Rider(), chance=np.random.default_rng(3), draws=5)
    weave, capsize = weave_and_capsize(equations(many))
    for place in range(5):
        one = Bodies(
            **{
                name: np.broadcast_to(getattr(many, name), 5)[place]
                for name in Bodies.__dataclass_fields__
            }
        )
        alone = weave_and_capsize(equations(one))
        assert (float(alone[0]), float(alone[1])) == pytest.approx(
            (weave[place], capsize[place]), nan_ok=True
        )


def test_no_change_changes_nothing_whoever_rides() -> None:
    same = change_of_steadiness(TOURER, TOURER, Rider())
    assert (same.weave_kmh, same.weave_band) == (0, (0, 0))


def test_less_trail_moves_the_weave_speed_and_the_band_holds_the_estimate() -> None:
    smaller = SetUp(1050, 71.3, 54, 333, 333, 47, 47)
    moved = change_of_steadiness(TOURER, smaller, Rider())
    assert moved.weave_band[0] <= moved.weave_kmh <= moved.weave_band[1]
    assert moved.weave_kmh != 0
    assert moved.weave_band[1] - moved.weave_band[0] < 12


def test_real_parts_are_those_of_the_eigenvalues() -> None:
    (slow, fast) = real_parts(TOURER, Rider(), [8, 40])
    assert slow == tuple(sorted(slow, reverse=True))
    assert max(slow) > 0  # below the weave speed it falls
    assert len(fast) == 4
