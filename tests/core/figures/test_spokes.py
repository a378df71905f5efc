"""Spoke lengths by hand and against points in space."""

import math

import numpy as np
import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.figures.spokes import HOLE_MM, spoke_length, spoke_lengths
from jentrik.core.machine.wheel import Hub, Rim, Wheel
from jentrik.core.work.cost import WheelSource, parts_for
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import PLAN


def test_a_wheel_of_32_spokes_crossed_three_times_by_hand() -> None:
    # R 300.5, r 22.5, f 35, 67.5 degrees: 90 300.25 + 506.25 + 1225 - 13 522.5 x 0.38268 is
    # 86 856.7, its root 294.71; half a hole of 2.6 off.
    length = spoke_length(rim_mm=601, circle_mm=45, flange_mm=35, spokes=32, crossings=3)
    assert length == pytest.approx(293.41, abs=0.01)


def test_a_radial_spoke_is_the_straight_way() -> None:
    length = spoke_length(rim_mm=600, circle_mm=40, flange_mm=0, spokes=24, crossings=0)
    assert length == pytest.approx(300 - 20 - HOLE_MM / 2)


@pytest.mark.parametrize(("spokes", "crossings"), [(36, 3), (28, 2), (40, 4), (16, 1)])
def test_length_is_the_distance_from_hole_to_nipple_in_space(spokes: int, crossings: int) -> None:
    # The holes of a flange stand 720 / spokes apart; a spoke goes on by one for each crossing.
    turn = 2 * math.pi / (spokes / 2) * crossings
    hole = np.array([30 * math.cos(0.3), 30 * math.sin(0.3), 38])
    nipple = np.array([285 * math.cos(0.3 + turn), 285 * math.sin(0.3 + turn), 0])
    length = spoke_length(
        rim_mm=570, circle_mm=60, flange_mm=38, spokes=spokes, crossings=crossings
    )
    assert length == pytest.approx(float(np.linalg.norm(hole - nipple)) - 1.3)


LACED = {
    "left_circle_mm": 45,
    "left_flange_mm": 35,
    "right_circle_mm": 45,
    "right_flange_mm": 20,
    "spokes": 32,
    "crossings": 3,
}


def test_nothing_is_said_where_a_figure_is_missing() -> None:
    whole = Wheel(rim=Rim(effective_mm=601), hub=Hub(**LACED))
    assert spoke_lengths(whole).left_mm == pytest.approx(293.41, abs=0.01)
    assert spoke_lengths(Wheel(hub=Hub(**LACED))) is None
    for key in LACED:
        assert (
            spoke_lengths(Wheel(rim=Rim(effective_mm=601), hub=Hub(**LACED | {key: None}))) is None
        )


def test_the_order_names_the_lengths_of_a_wheel_laced_anew() -> None:
    wheel = {"tire": "37-622", "rim": {"bead_seat_diameter_mm": 622}, "hub": LACED}
    bike = read_bike(PLAN["bike"] | {"front": wheel})
    change = {"tire": "47-584", "rim": {"bead_seat_diameter_mm": 584, "effective_mm": 601}}
    lines = parts_for(bike, read_proposal({"name": "A", "front": change}), WheelSource.RELACE)
    (spokes,) = [line for line in lines if line.name == "spokes and nipples"]
    assert in_plain(spokes.why) == "left 293.4 mm, right 292.0 mm"
    bare = parts_for(
        read_bike(PLAN["bike"]), read_proposal({"name": "A", "front": change}), WheelSource.RELACE
    )
    assert "to the new length" in next(x.why for x in bare if x.name == "spokes and nipples")
