"""The chassis against print, hand working, and a general solver that knows nothing of ours."""

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from numpy import float64, ndarray
from scipy.optimize import root

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.figures import Chassis, as_found, geometry
from jentrik.core.geometry.frame import bottom_bracket, crown_seat
from jentrik.core.geometry.pose import Axles, PoseChange, settle
from jentrik.core.geometry.side_stand import lean_on_stand
from jentrik.core.geometry.steering import mechanical_trail, trail, wheel_flop


def test_trail_of_a_37_622_at_71_degrees() -> None:
    # By hand: R = 622/2 + 37 = 348; (348 cos 71 - 50) / sin 71 = 66.945.
    assert trail(radius_mm=348.0, head_angle_deg=71.0, offset_mm=50.0) == pytest.approx(
        66.945, abs=0.001
    )


def test_trail_of_an_upright_axis_is_the_offset_behind() -> None:
    assert trail(radius_mm=300.0, head_angle_deg=90.0, offset_mm=40.0) == pytest.approx(-40)


def test_published_bicycle_benchmark_both_ways() -> None:
    # Meijaard, Papadopoulos, Ruina, Schwab 2007, Proc. R. Soc. A 463, table 1: wheelbase 1.02 m,
    # trail 0.08 m, axis tilt pi/10, radii 0.30 (rear) and 0.35 m (front).
    head = 90 - math.degrees(math.pi / 10)
    offset = 350 * math.sin(math.pi / 10) - 80 * math.cos(math.pi / 10)
    machine = Chassis(Axles(1020.0, head, 350.0, 300.0, fork_offset_mm=offset))
    figures, pose = geometry(machine, PoseChange(front_radius_mm=350.0, rear_radius_mm=300.0))
    assert figures.trail_mm == pytest.approx(80, abs=1e-9)
    assert pose.wheelbase_mm == pytest.approx(1020, abs=1e-9)
    assert pose.pitch_deg == pytest.approx(0, abs=1e-12)
    # The paper's flop and mechanical trail follow from c cos(tilt) and c sin(tilt) cos(tilt).
    assert figures.mechanical_trail_mm == pytest.approx(80 * math.cos(math.pi / 10))
    assert figures.wheel_flop_mm == pytest.approx(40 * math.sin(math.pi / 5))


def numerical_pose(found: Axles, change: PoseChange) -> tuple[float, float]:
    """Solve the two contact conditions for pitch and wheelbase from the sketch alone."""
    h = math.radians(found.head_angle_deg)
    up, forward = np.array([-math.cos(h), math.sin(h)]), np.array([math.sin(h), math.cos(h)])
    front = np.array([found.wheelbase_mm, found.front_radius_mm])
    front = front - (change.fork_longer_mm + change.cup_mm) * up + change.offset_more_mm * forward
    shift = np.array([change.rear_shift_x_mm, change.rear_shift_y_mm])
    rear = np.array([0.0, found.rear_radius_mm]) + shift

    def above_ground(unknowns: ndarray) -> list[float64]:
        pitch, height = unknowns
        turn = np.array([[np.cos(pitch), -np.sin(pitch)], [np.sin(pitch), np.cos(pitch)]])
        place = np.array([0.0, height])
        return [
            (turn @ rear + place)[1] - change.rear_radius_mm,
            (turn @ front + place)[1] - change.front_radius_mm,
        ]

    solved = root(above_ground, [0.0, 0.0], tol=1e-14)
    pitch = solved.x[0]
    turn = np.array([[np.cos(pitch), -np.sin(pitch)], [np.sin(pitch), np.cos(pitch)]])
    return math.degrees(pitch), float((turn @ (front - rear))[0])


radii = st.floats(120, 400)
machines = st.builds(Axles, st.floats(850, 1700), st.floats(50, 85), radii, radii)
changes = st.builds(
    PoseChange,
    radii,
    radii,
    st.floats(-60, 60),
    st.floats(-30, 30),
    st.floats(-20, 20),
    st.floats(-30, 30),
    st.floats(-30, 30),
)


@settings(max_examples=150)
@given(machines, changes)
def test_pose_agrees_with_a_general_solver(found: Axles, change: PoseChange) -> None:
    assume(found.wheelbase_mm > found.front_radius_mm + found.rear_radius_mm + 50)
    try:
        pose = settle(found, change)
    except OutOfRange:
        assume(False)
    pitch, wheelbase = numerical_pose(found, change)
    assert pose.pitch_deg == pytest.approx(pitch, abs=1e-9)
    assert pose.wheelbase_mm == pytest.approx(wheelbase, abs=1e-8)


@settings(max_examples=60)
@given(machines, changes)
def test_undoing_a_change_brings_the_machine_back(found: Axles, change: PoseChange) -> None:
    try:
        there = settle(found, change)
        between = Axles(
            float(there.wheelbase_mm),
            float(found.head_angle_deg - there.pitch_deg),
            change.front_radius_mm,
            change.rear_radius_mm,
        )
        # The shift back is the same vector in a frame that has turned by the pitch.
        x, y = change.rear_shift_x_mm, change.rear_shift_y_mm
        back = settle(
            between,
            PoseChange(
                found.front_radius_mm,
                found.rear_radius_mm,
                -change.fork_longer_mm,
                -change.offset_more_mm,
                -change.cup_mm,
                -(x * there.cos - y * there.sin),
                -(x * there.sin + y * there.cos),
            ),
        )
    except OutOfRange:
        assume(False)
    assume(found.wheelbase_mm > found.front_radius_mm + found.rear_radius_mm + 1)
    assert back.wheelbase_mm == pytest.approx(found.wheelbase_mm, abs=1e-8)
    assert between.head_angle_deg - back.pitch_deg == pytest.approx(found.head_angle_deg, abs=1e-9)


def test_a_million_machines_go_through_the_same_function_as_one() -> None:
    rng = np.random.default_rng(1)
    front, rear = rng.uniform(300, 360, 1000), rng.uniform(300, 360, 1000)
    found = Axles(1050.0, 71.0, 348.0, 348.0, fork_offset_mm=45.0)
    chassis = Chassis(found, (439.0, 275.0), 275.0, 73.0, 600.0, 385.0)
    many, _ = geometry(chassis, PoseChange(front, rear, fork_longer_mm=5.0))
    for i in (0, 17, 999):
        one, _ = geometry(chassis, PoseChange(float(front[i]), float(rear[i]), fork_longer_mm=5.0))
        for figure in ("trail_mm", "bb_height_mm", "head_angle_deg", "reach_mm", "front_center_mm"):
            every = np.broadcast_to(getattr(many, figure), 1000)
            assert every[i] == pytest.approx(getattr(one, figure), abs=1e-10)


@pytest.mark.parametrize(("wheelbase", "slacker"), [(1230.0, 0.9), (1050.0, 1.04)])
def test_trade_cross_check_smaller_rear_is_lower_and_slacker(
    wheelbase: float, slacker: float
) -> None:
    # Common practice: rear only 622 -> 584 lowers the BB about 12 mm and slackens about 0.9
    # degrees at 1230 mm (1.04 at 1050); same tire width, so the radius falls by 19 mm.
    bb = bottom_bracket(rear_radius_mm=370.0, chainstay_mm=435.0, bb_height_mm=340.0)
    chassis = Chassis(Axles(wheelbase, 66.0, 370.0, 370.0, fork_offset_mm=44.0), bb, 340.0)
    figures, _ = geometry(chassis, PoseChange(370.0, 351.0))
    assert figures.head_angle_deg == pytest.approx(66 - slacker, abs=0.02)
    if wheelbase == 1230:
        assert figures.bb_height_mm == pytest.approx(340 - 12, abs=0.6)


def test_trade_cross_check_smaller_front_with_longer_fork() -> None:
    # Common practice: 584 front, 10 mm more fork, 4 mm more offset: about half a degree steeper
    # and 5 mm more reach on a trail bicycle.
    bb = bottom_bracket(rear_radius_mm=370.0, chainstay_mm=435.0, bb_height_mm=340.0)
    chassis = Chassis(
        Axles(1230.0, 66.0, 370.0, 370.0, fork_offset_mm=44.0), bb, 340.0, 76.0, 620.0, 460.0
    )
    figures, _ = geometry(chassis, PoseChange(351.0, 370.0, fork_longer_mm=10, offset_more_mm=4))
    assert figures.head_angle_deg == pytest.approx(66.5, abs=0.1)
    assert figures.reach_mm == pytest.approx(465, abs=1.5)


def test_equal_drop_of_both_wheels_lowers_everything_and_turns_nothing() -> None:
    chassis = Chassis(
        Axles(1050.0, 71.0, 348.0, 348.0, fork_offset_mm=50.0), points={"saddle": (120.0, 980.0)}
    )
    figures, _ = geometry(chassis, PoseChange(339.0, 339.0))
    assert figures.pitch_deg == pytest.approx(0, abs=1e-12)
    assert figures.points["saddle"] == pytest.approx((120, 971))


def test_stated_figures_stand_as_found_even_where_their_place_is_unknown() -> None:
    figures = as_found(
        Chassis(Axles(1400.0, 64.0, 310.0, 310.0, fork_offset_mm=50.0), bb_height_mm=290.0)
    )
    assert (figures.bb_height_mm, figures.bb_drop_mm) == (290, 20)
    assert figures.front_center_mm is figures.stack_mm is None


def test_crown_seat_lies_up_the_axis_and_behind_the_axle() -> None:
    # An upright axis: straight above the axle, the offset behind it.
    assert crown_seat(
        front_axle=(1000.0, 340.0), head_angle_deg=90.0, length_mm=400.0, offset_mm=45.0
    ) == pytest.approx((955, 740))


def test_mechanical_trail_and_flop_against_their_definitions() -> None:
    # Distance from the contact (0, 0) to the axis through (trail, 0) at 65 degrees.
    assert mechanical_trail(trail_mm=100.0, head_angle_deg=65.0) == pytest.approx(90.6308, abs=1e-4)
    assert wheel_flop(trail_mm=100.0, head_angle_deg=45.0) == pytest.approx(50)


def test_lean_on_the_stand_against_a_rotation_in_space() -> None:
    # Both wheels 20 mm smaller: no pitch, the foot comes 20 mm down in the machine's own plane.
    pose = settle(Axles(1400.0, 63.0, 310.0, 310.0), PoseChange(290.0, 290.0))
    lean = lean_on_stand(lean_deg=11.0, foot_out_mm=240.0, foot_x_mm=520.0, pose=pose)
    foot = np.array([240 * math.cos(math.radians(11)), 240 * math.sin(math.radians(11)) - 20])
    angle = math.radians(lean)
    # Leaned by the answer towards the stand, the foot stands on the ground.
    assert -foot[0] * math.sin(angle) + foot[1] * math.cos(angle) == pytest.approx(0, abs=1e-9)
    assert lean < 11


@pytest.mark.parametrize("front", [700.0, 702.0])
def test_wheels_that_touch_are_refused(front: float) -> None:
    with pytest.raises(OutOfRange, match="run into each other"):
        settle(Axles(1050.0, 71.0, 348.0, 348.0), PoseChange(front, 350.0))


def test_crown_seat_by_hand() -> None:
    # Axle (1000, 340), 70 degrees: 400 up the axis is (-136.81, 375.88), 50 behind it along its
    # normal (-46.98, -17.10).
    x, y = crown_seat(front_axle=(1000, 340), head_angle_deg=70, length_mm=400, offset_mm=50)
    assert (x, y) == (pytest.approx(816.21, abs=0.01), pytest.approx(698.78, abs=0.01))
