"""Suspension, positions and turned headsets against independent methods and hand working."""

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import sympy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy import float64, ndarray
from scipy.integrate import quad
from scipy.optimize import brentq, root

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.figures import Geometry
from jentrik.core.geometry.swingarm import swing
from jentrik.core.machine.machine import Bike, Fork, Frame
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.restated import in_state
from jentrik.core.machine.suspension import Pivot, Position, Shock, State, Suspension, Travel
from jentrik.core.machine.wheel import Wheel, WheelChange
from jentrik.core.plan.plan import compute


def bike(**figures: Any) -> Bike:
    """Return an enduro with some figures of its own: of the frame, or its wheels or suspension."""
    usual = {
        "front": Wheel(overall_diameter_mm=700.0),
        "rear": Wheel(overall_diameter_mm=700.0),
        "suspension": Suspension(
            front=Travel(150, 30),
            rear=Travel(140, 40),
            shock=Shock(210, 2.5),
            pivot=Pivot(420.0, 390.0),
        ),
    }
    frame = Frame(1196.0, 66.0, chainstay_mm=436.0, bb_height_mm=342.0)
    of_frame = {key: figures.pop(key) for key in list(figures) if key not in usual}
    return Bike(
        "enduro",
        "bicycle",
        "bicycle",
        replace(frame, **of_frame),
        Fork(541.0, 44.0),
        **usual | figures,
    )


def wheel(diameter: float) -> WheelChange:
    return WheelChange(overall_diameter_mm=diameter)


def geometry_of(
    machine: Bike, proposal: Proposal | None = None, state: State | None = None
) -> Geometry:
    result = compute(machine, (proposal or Proposal("A"),), state=state)
    return result.outcomes[0].figures.geometry


def rotated(point: ndarray, angle: float | float64) -> ndarray:
    cos, sin = math.cos(angle), math.sin(angle)
    return np.array([point[0] * cos - point[1] * sin, point[0] * sin + point[1] * cos])


def by_root_finder(machine: Bike, proposal: Proposal, state: State) -> dict[str, Any]:
    """Find the pose with scipy: turn the chassis until both wheels touch, no formula of ours."""
    h = math.radians(machine.frame.head_angle_deg)
    turned = h + math.radians(proposal.headset_turn_deg)
    up, up_new = (
        np.array([-math.cos(h), math.sin(h)]),
        np.array([-math.cos(turned), math.sin(turned)]),
    )
    ahead, ahead_new = np.array([up[1], -up[0]]), np.array([up_new[1], -up_new[0]])
    old_front, rear0 = machine.front.diameter_mm / 2, machine.rear.diameter_mm / 2
    crown = np.array([machine.frame.wheelbase_mm, old_front]) - ahead * machine.fork.offset_mm
    crown = crown + up * machine.fork.length_mm - up * proposal.lower_cup_mm
    suspension = machine.suspension
    length = proposal.fork_length_mm or machine.fork.length_mm
    length -= suspension.front.down_mm(state) or 0.0
    front = (
        crown - up_new * length + ahead_new * (proposal.fork_offset_mm or machine.fork.offset_mm)
    )
    rear = np.array([proposal.rear_shift_x_mm, rear0 + proposal.rear_shift_y_mm])
    pivot, rise = np.array(suspension.pivot_place), suspension.rear.down_mm(state) or 0.0
    arm = rear - pivot
    # Along the path round the pivot, its length integrated, until it is the travel.
    speed = lambda a: np.linalg.norm(rotated(arm, math.pi / 2 - a))  # noqa: E731
    swung = brentq(lambda a: quad(speed, 0.0, a)[0] - rise, 0.0, 1.0, xtol=1e-15)
    rear = pivot + rotated(arm, -swung)
    wheels = proposal.wheels(machine)
    radii = wheels.rear.diameter_mm / 2, wheels.front.diameter_mm / 2

    def off_ground(unknown: ndarray) -> list[float64]:
        return [
            rotated(rear, unknown[0])[1] + unknown[1] - radii[0],
            rotated(front, unknown[0])[1] + unknown[1] - radii[1],
        ]

    found = root(off_ground, [0.0, 0.0], tol=1e-14)
    angle, height = found.x
    bracket = np.array([math.sqrt(436**2 - (rear0 - 342) ** 2), 342.0])
    return {
        "head_angle_deg": math.degrees(turned - angle),
        "wheelbase_mm": rotated(front - rear, angle)[0],
        "bb_height_mm": rotated(bracket, angle)[1] + height,
    }


proposals = st.builds(
    Proposal,
    name=st.just("A"),
    front=st.builds(wheel, st.floats(640, 760)),
    rear=st.builds(wheel, st.floats(640, 760)),
    fork_length_mm=st.floats(500, 590),
    fork_offset_mm=st.floats(35, 55),
    lower_cup_mm=st.floats(0, 15),
    rear_shift_x_mm=st.floats(-12, 12),
    rear_shift_y_mm=st.floats(-12, 12),
    headset_turn_deg=st.floats(-2, 2),
)


@settings(max_examples=40)
@given(proposals, st.sampled_from(list(State)))
def test_any_change_in_any_state_agrees_with_a_root_finder(
    proposal: Proposal, state: State
) -> None:
    expected = by_root_finder(bike(), proposal, state)
    figures = geometry_of(bike(), proposal, state)
    for name, value in expected.items():
        assert getattr(figures, name) == pytest.approx(value, abs=1e-9), name


@settings(max_examples=30)
@given(st.floats(0, 60), st.floats(0, 80), st.floats(350, 480), st.floats(300, 450))
def test_going_down_and_up_again_is_the_machine_as_measured(
    fork: float, rear: float, pivot_x: float, pivot_height: float
) -> None:
    machine = bike(
        suspension=Suspension(
            front=Travel(150, fork), rear=Travel(140, rear), pivot=Pivot(pivot_x, pivot_height)
        )
    )
    down, _ = in_state(machine, State.SAG)
    back, _ = in_state(down, State.UNLADEN)
    assert back.fork.length_mm == pytest.approx(machine.fork.length_mm, abs=1e-9)
    for name in ("wheelbase_mm", "head_angle_deg", "chainstay_mm", "bb_height_mm"):
        was = getattr(machine.frame, name)
        assert getattr(back.frame, name) == pytest.approx(was, abs=1e-9), name


def test_sag_alone_by_hand() -> None:
    # Straight-up rear, rigid pivot unknown: fork 30 mm down its 66-degree axis, axle 30 sin 66 up
    # and 30 cos 66 back; rear axle 40 up.  tan t = (30 sin 66 - 40) / (1196 - 30 cos 66).
    machine = bike(suspension=Suspension(front=Travel(150, 30), rear=Travel(140, 40)))
    rise, back = 30 * math.sin(math.radians(66)), 30 * math.cos(math.radians(66))
    turn = math.degrees(math.atan2(rise - 40, 1196 - back))
    figures = geometry_of(machine, state=State.SAG)
    assert figures.head_angle_deg == pytest.approx(66 + turn)
    assert turn < 0  # the rear goes down further: slacker
    assert figures.wheelbase_mm == pytest.approx(math.hypot(1196 - back, rise - 40))


def test_a_headset_turned_on_equal_wheels_by_sympy() -> None:
    """Turn the fork about its crown seat and let sympy find the head angle on the ground."""
    turn, base, length, offset, h = sympy.symbols("turn B L o h")
    crown = sympy.Matrix(
        [
            base + offset * -sympy.sin(h) - length * sympy.cos(h),
            -offset * sympy.cos(h) + length * sympy.sin(h),
        ]
    )
    k = h + turn
    front = crown - length * sympy.Matrix([-sympy.cos(k), sympy.sin(k)])
    front += offset * sympy.Matrix([sympy.sin(k), sympy.cos(k)])
    # Axles level again: the chassis turns by minus the slope of rear to front.
    slope = sympy.atan2(front[1], front[0])
    values = {base: 1196, length: 541, offset: 44, h: sympy.rad(66), turn: sympy.rad(-1.5)}
    expected = float(sympy.deg(k + slope).subs(values).evalf(20))
    assert geometry_of(
        bike(), Proposal("A", headset_turn_deg=-1.5)
    ).head_angle_deg == pytest.approx(expected, abs=1e-9)


def test_trail_and_its_relatives_by_sympy() -> None:
    """Meet the steering axis with the ground as lines, not as our formula has it."""
    radius, h, offset = sympy.symbols("R h o", positive=True)
    axle = sympy.Matrix([0, radius])
    on_axis = axle - offset * sympy.Matrix([sympy.sin(h), sympy.cos(h)])
    way = sympy.Matrix([sympy.cos(h), -sympy.sin(h)])
    ahead = on_axis[0] + way[0] * on_axis[1] / sympy.sin(h)
    square = sympy.simplify(ahead * sympy.sin(h))  # distance of the contact from the axis
    figures = geometry_of(bike())
    values = {radius: 350, h: sympy.rad(66), offset: 44}
    assert figures.trail_mm == pytest.approx(float(ahead.subs(values).evalf()))
    assert figures.mechanical_trail_mm == pytest.approx(float(square.subs(values).evalf()))


def test_a_position_shifts_the_axle_and_a_longer_shock_lifts_the_rear() -> None:
    chip = (Position("high", 0, 0), Position("low", 2.0, 6.0))
    low = geometry_of(bike(positions=chip), Proposal("A", position="low"))
    same = geometry_of(bike(), Proposal("A", rear_shift_x_mm=2.0, rear_shift_y_mm=6.0))
    assert low == same
    # 4 mm of shock at 2.5 to 1: the axle 10 mm lower in the frame along its arc.
    lifted = geometry_of(bike(), Proposal("A", shock_mm=214))
    x, y = swing(axle=(0.0, 350.0), pivot=(420.0, 390.0), rise_mm=-10.0)
    assert lifted.head_angle_deg > 66
    assert lifted == geometry_of(bike(), Proposal("A", rear_shift_x_mm=x, rear_shift_y_mm=y - 350))
    with pytest.raises(OutOfRange, match="leverage"):
        geometry_of(bike(suspension=Suspension()), Proposal("A", shock_mm=214))
    with pytest.raises(OutOfRange, match="no position called"):
        geometry_of(bike(), Proposal("A", position="low"))


def test_more_fork_travel_is_longer_unladen_and_no_longer_at_full_travel() -> None:
    longer = Proposal("A", fork_length_mm=561, fork_travel_mm=170)
    assert geometry_of(bike(), longer).head_angle_deg < geometry_of(bike()).head_angle_deg
    full, as_found = geometry_of(bike(), longer, State.FULL), geometry_of(bike(), None, State.FULL)
    assert full.head_angle_deg == pytest.approx(as_found.head_angle_deg, abs=1e-9)


@pytest.mark.parametrize(
    ("front", "states"),
    [
        (Travel(150, 30), list(State)),
        (Travel(150, None), [State.UNLADEN, State.FULL]),
        (Travel(), [State.UNLADEN]),
    ],
)
def test_a_state_is_offered_only_where_it_is_known(front: Travel, states: list[State]) -> None:
    assert list(Suspension(front=front).states) == states


def test_sag_beyond_the_travel_is_refused() -> None:
    with pytest.raises(OutOfRange, match="more than the travel"):
        Travel(100, 101)
    with pytest.raises(OutOfRange, match="too short"):
        swing(axle=(0.0, 350.0), pivot=(60.0, 350.0), rise_mm=90.0)
