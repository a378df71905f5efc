"""Every ± holds the truth 95 times of 100: by simulation, each with errors of its own making."""

import math
import random
from collections.abc import Callable

import pytest

from jentrik.core.figures.calibration import SpeedPair, calibrate
from jentrik.core.machine.readings import worth
from jentrik.core.photo.angles import angles_in_picture
from jentrik.core.plus_minus import deviations

TRIES = 3000


def readings_hold(chance: random.Random, count: int) -> bool:
    """A tape 1 mm off (1 s.d.) for all readings, and 1.5 mm of scatter for each."""
    tape = chance.gauss(0, 1.0)
    taken = tuple(1046 + tape + chance.gauss(0, 1.5) for _ in range(count))
    said = worth("wheelbase_mm", plus_minus=2.0, readings=taken)
    return abs(sum(taken) / count - 1046) <= said


def pairs_hold(chance: random.Random, count: int) -> bool:
    """An instrument 4 % over and 1 km/h on top, read to 0.8 km/h (1 s.d.), at 50 km/h."""
    pairs = [
        SpeedPair(true, 1 + 1.04 * true + chance.gauss(0, 0.8))
        for true in (30 + 60 * step / (count - 1) for step in range(count))
    ]
    line = calibrate(pairs)
    return abs(line.shown(50) - 53.0) <= line.plus_minus_kmh(50)


def lines_hold(chance: random.Random, count: int) -> bool:
    """A line at 60° to a plumb line of two marks, each mark 2 px off each way (1 s.d.)."""

    def marks(along: tuple[float, float], length: float, number: int) -> list[list[float]]:
        steps = [length * step / (number - 1) for step in range(number)]
        return [
            [along[0] * s + chance.gauss(0, 2), along[1] * s + chance.gauss(0, 2)] for s in steps
        ]

    lines = [
        {"name": "plumb line", "px": marks((0.0, 1.0), 900, count)},
        {"name": "stand", "px": marks((0.8660254, 0.5), 600, count)},
    ]
    (angle,) = angles_in_picture({"click_px": 1.0 if count > 2 else 2.0, "lines": lines})
    return abs(angle.degrees - 60) <= angle.plus_minus


@pytest.mark.parametrize(
    ("holds", "count"),
    [
        (readings_hold, 2),
        (readings_hold, 3),
        (readings_hold, 10),
        (pairs_hold, 3),
        (pairs_hold, 4),
        (pairs_hold, 9),
        (lines_hold, 2),
        (lines_hold, 4),
    ],
)
def test_nineteen_of_twenty_lie_inside(
    holds: Callable[[random.Random, int], bool], count: int
) -> None:
    chance = random.Random(count)
    assert sum(holds(chance, count) for _ in range(TRIES)) / TRIES >= 0.94


@pytest.mark.parametrize(("free", "expected"), [(1, 12.706), (2, 4.303), (7, 2.365), (1000, 2.0)])
def test_few_readings_take_students_factor(free: int, expected: float) -> None:
    # Any printed table of Student's t, 97.5 %; never fewer than two.
    assert deviations(free) == pytest.approx(expected, abs=0.0005)


def test_the_angle_between_two_lines_of_a_picture_by_hand() -> None:
    # A plumb line seen 10 off upright and a line at 20: 60 between, whichever end is marked first.
    def marks(degrees: float, length: float) -> list[list[float]]:
        turned = math.radians(degrees)
        return [[100, 200], [100 + length * math.cos(turned), 200 + length * math.sin(turned)]]

    lines = [
        {"name": "Plumb line", "px": marks(80, 500)},
        {"name": "leg", "px": marks(20, 300)},
        {"name": "back", "px": marks(200, 300)},
    ]
    leg, back = angles_in_picture({"click_px": 2.0, "lines": lines})
    assert (leg.degrees, back.degrees) == (pytest.approx(60), pytest.approx(60))
    # Two marks lie half their length from the middle: 2 / (L / sqrt 2) each, both, twice.
    loose = math.hypot(2 * math.sqrt(2) / 500, 2 * math.sqrt(2) / 300)
    assert leg.plus_minus == pytest.approx(2 * math.degrees(loose))
    assert angles_in_picture({"click_px": 2.0, "lines": lines[1:]}) == []
    assert angles_in_picture({"click_px": 2.0, "lines": [lines[0]]}) == []
    ground = [{"name": "ground line", "px": marks(5, 400)}, {"name": "leg", "px": marks(95, 300)}]
    (square,) = angles_in_picture({"click_px": 2.0, "lines": ground})
    assert (square.reference, square.degrees) == ("ground line", pytest.approx(90))
