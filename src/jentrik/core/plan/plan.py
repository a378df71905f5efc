"""A whole plan: a machine as found and proposals in, every figure and finding out.

Each proposal is judged against the machine as found; figures stay unrounded.
"""

import math
from dataclasses import dataclass, replace
from datetime import date

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.figures.clearance import (
    AxleMoves,
    PredictedClearance,
    Steering,
    predict_clearance,
)
from jentrik.core.figures.contact import contact, moved
from jentrik.core.figures.machine_figures import FullTravel, MachineFigures
from jentrik.core.figures.parking import center_stand_gap, parked
from jentrik.core.figures.room import AS_FOUND, Gap, Shifts, Widest, gaps, widest_tires
from jentrik.core.figures.speed import Speed, speed
from jentrik.core.geometry.figures import Chassis, Geometry, as_found, geometry
from jentrik.core.geometry.frame import Point, Values
from jentrik.core.geometry.pose import Pose, PoseChange, settle
from jentrik.core.geometry.side_stand import lean_on_stand
from jentrik.core.geometry.swingarm import swing
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.gearing import teeth_ratio
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.proposal import UNTOUCHED, Proposal
from jentrik.core.machine.restated import in_state, turned
from jentrik.core.machine.suspension import State, Suspension, Travel
from jentrik.core.machine.wheel import Wheels
from jentrik.core.remembered import remembered
from jentrik.core.rules import judge
from jentrik.core.rules.case import Case, Finding
from jentrik.core.work.policy import DEFAULT_POLICY, Policy


@dataclass(frozen=True, slots=True)
class Outcome:
    """One proposal computed: how the machine moves, every figure then, and what the rules find."""

    proposal: Proposal
    change: PoseChange
    pose: Pose
    figures: MachineFigures
    findings: tuple[Finding, ...]
    others: tuple[End, ...]  # the ends where another wheel goes in
    sensed_end: End | None = None  # whose wheel the instrument depends on

    def another_wheel(self, end: End) -> bool:
        """Whether another wheel goes in at that end."""
        return end in self.others


@dataclass(frozen=True, slots=True)
class PlanResult:
    """The machine as found and every proposal's outcome, in the order given.

    `bike` stands in the state asked for, with the `figures` it has there; `measured` is its sheet,
    and `settled` the pose that leads from the one to the other, None where they are the same.
    """

    bike: Bike
    chassis: Chassis
    figures: MachineFigures
    outcomes: tuple[Outcome, ...]
    measured: Bike
    settled: Pose | None = None
    policy: Policy = DEFAULT_POLICY
    on: date | None = None
    advise: bool = False  # whether each proposal is to be answered


def compute(
    bike: Bike,
    proposals: tuple[Proposal, ...],
    *,
    policy: Policy = DEFAULT_POLICY,
    state: State | None = None,
    on: date | None = None,
) -> PlanResult:
    """Return the whole plan; refuses a machine or proposal that cannot stand.

    Without a state, in the one the sheet was measured in; `on` is the day that ages are counted to.
    A refusal's field names the place: `bike...` or `proposals[0]...`.
    """
    with blamed_on("bike"):
        found = as_measured(bike, state, policy=policy, on=on)
    outcomes = []
    for place, proposal in enumerate(proposals):
        with blamed_on(f"proposals[{place}]"):
            outcomes.append(outcome_of(found, proposal))
    return replace(found, outcomes=tuple(outcomes))


def measured_anew(
    bike: Bike,
    state: State | None = None,
    *,
    policy: Policy = DEFAULT_POLICY,
    on: date | None = None,
) -> PlanResult:
    """Return the machine as found, with no proposal yet; refuses one that cannot stand."""
    bike.chassis()  # a wheel that cannot be computed is blamed before the wheelbase
    with blamed_on("wheelbase_mm"):
        there, settled = in_state(bike, state or bike.suspension.measured)
        chassis = there.chassis()
        baseline = as_found(chassis)
    touched = contact(there, baseline, chassis.bottom_bracket)
    unchanged = Proposal("as found")
    stand = there.side_stand
    figures = MachineFigures(
        there.wheels,
        baseline,
        touched,
        _speed(there, unchanged, 1.0, 1.0),
        parked(
            there,
            there.wheels,
            touched=touched,
            lean_deg=stand.lean_deg if stand else None,
            pose=None,
            wind_kmh=policy.lean.wind_kmh,
        ),
        room=_room(there, there.wheels, policy, AS_FOUND),
    )
    result = PlanResult(there, chassis, figures, (), bike, settled, policy, on)
    rests = _settled(result, unchanged)
    full = _at_full(result, there, unchanged, rests.change, rests.pose)
    return replace(result, figures=replace(figures, full=full))


as_measured = remembered(measured_anew)


def change_of(bike: Bike, wheels: Wheels, proposal: Proposal) -> PoseChange:
    """Return what a proposal does to the axles, in the frame and state the sheet was measured in.

    Refuses a wheel of unknown diameter, a position that is not on the sheet, and another shock
    where its leverage is not known.
    """
    axle = bike.rear_axle
    x, y = swing(
        axle=_in_dropout(bike, proposal),
        pivot=bike.suspension.pivot_place,
        rise_mm=_shock_rise(bike, proposal),
    )
    return PoseChange(
        front_radius_mm=wheels.radius_mm("front"),
        rear_radius_mm=wheels.radius_mm("rear"),
        fork_longer_mm=proposal.fork_length(bike) - bike.fork.length_mm,
        offset_more_mm=proposal.fork_offset(bike) - bike.fork.offset_mm,
        cup_mm=proposal.lower_cup_mm,
        rear_shift_x_mm=x - axle[0],
        rear_shift_y_mm=y - axle[1],
        head_turn_deg=proposal.headset_turn_deg,
    )


def _in_dropout(bike: Bike, proposal: Proposal) -> tuple[float, float]:
    position = bike.position(proposal.position) if proposal.position else None
    x, y = bike.rear_axle
    x, y = x + proposal.rear_shift_x_mm, y + proposal.rear_shift_y_mm
    return (x + position.x_mm, y + position.y_mm) if position else (x, y)


def _shock_rise(bike: Bike, proposal: Proposal) -> float:
    """Return how far a longer shock or link lets the axle rise in the frame: less than none."""
    shock, rise = bike.suspension.shock, 0.0
    if proposal.shock_mm is not None:
        if shock.length_mm is None or shock.leverage is None:
            raise OutOfRange(
                "Another shock needs the old one's length and its leverage ratio on the sheet.",
                field="shock_mm",
                expected="eye-to-eye length and leverage ratio as found",
            )
        rise -= (proposal.shock_mm - shock.length_mm) * shock.leverage
    if proposal.link_longer_mm:
        if shock.link_lifts is None:
            raise OutOfRange(
                "Another link needs its ratio on the sheet: mm at the axle for one at the link.",
                field="link_longer_mm",
                expected="the link's ratio as found",
            )
        rise -= proposal.link_longer_mm * shock.link_lifts
    return rise


def _change_in_state(found: PlanResult, wheels: Wheels, proposal: Proposal) -> PoseChange:
    """Return the change in the frame of the state the machine stands in."""
    bike, state = found.measured, found.bike.suspension.measured
    change = change_of(bike, wheels, proposal)
    if found.settled is None:
        return change
    suspension = bike.suspension
    down = suspension.down_from_measured_mm("rear", state) or 0.0
    x, y = bike.rear_axle
    planned = swing(
        axle=(x + change.rear_shift_x_mm, y + change.rear_shift_y_mm),
        pivot=suspension.pivot_place,
        rise_mm=down,
    )
    here = swing(axle=(x, y), pivot=suspension.pivot_place, rise_mm=down)
    shift = turned((float(planned[0] - here[0]), float(planned[1] - here[1])), found.settled)
    return replace(
        change,
        fork_longer_mm=change.fork_longer_mm - _fork_further_down(suspension, proposal, state),
        rear_shift_x_mm=shift[0],
        rear_shift_y_mm=shift[1],
    )


def _fork_further_down(suspension: Suspension, proposal: Proposal, state: State) -> float:
    """Return how much further down than the old fork another travel goes in a state.

    The sag of a fork with another travel is taken in proportion until it is set and measured.
    """
    old, travel = suspension.front, proposal.fork_travel_mm
    if travel is None or not old.travel_mm:
        return 0.0
    share = travel / old.travel_mm
    new = Travel(travel, None if old.sag_mm is None else old.sag_mm * share)
    other = replace(suspension, front=new)
    now = other.down_from_measured_mm("front", state) or 0.0
    return now - (suspension.down_from_measured_mm("front", state) or 0.0)


@dataclass(frozen=True, slots=True)
class _Settled:
    """The machine settled on a proposal's wheels, before anything is judged."""

    planned: Wheels
    change: PoseChange
    touching: Bike
    chassis: Chassis
    figures: Geometry
    pose: Pose


def _settled(result: PlanResult, proposal: Proposal) -> _Settled:
    bike = result.bike
    planned = proposal.wheels(bike)
    change = _change_in_state(result, planned, proposal)
    chassis, touching = result.chassis, bike
    if proposal.contact != UNTOUCHED:
        touching = moved(bike, proposal.contact)
        chassis = touching.chassis()
    figures, pose = geometry(chassis, change)
    return _Settled(planned, change, touching, chassis, figures, pose)


def outcome_of(result: PlanResult, proposal: Proposal) -> Outcome:
    """Return what one proposal makes of the machine; refuses one that cannot stand."""
    bike, there = result.bike, _settled(result, proposal)
    case = _case(result, proposal, there)
    return Outcome(
        proposal,
        there.change,
        there.pose,
        case.after,
        judge(case),
        tuple(end for end in ENDS if bike.wheels.at(end).is_another(getattr(proposal, end))),
        bike.speedometer.end if bike.speedometer else None,
    )


def case_of(result: PlanResult, proposal: Proposal) -> Case:
    """Return one proposal beside the machine as found, judged by no rule yet."""
    return _case(result, proposal, _settled(result, proposal))


def _case(result: PlanResult, proposal: Proposal, there: _Settled) -> Case:
    figures = _figures(result, proposal, there)
    return Case(result.bike, proposal, result.figures, figures, result.policy, result.on)


def _figures(result: PlanResult, proposal: Proposal, there: _Settled) -> MachineFigures:
    """Return every figure of the machine as a proposal leaves it."""
    bike, found = proposal.without_lost_guards(result.bike), result.chassis.axles
    planned, change, pose = there.planned, there.change, there.pose
    bracket = there.chassis.bottom_bracket
    touched = contact(
        there.touching, there.figures, None if bracket is None else pose.place(bracket)
    )
    full = _at_full(result, there.touching, proposal, change, pose)
    return MachineFigures(
        planned,
        there.figures,
        touched,
        _speed(
            bike,
            proposal,
            change.front_radius_mm / found.front_radius_mm,
            change.rear_radius_mm / found.rear_radius_mm,
        ),
        parked(
            bike,
            planned,
            touched=touched,
            lean_deg=_stand_lean(bike, pose),
            pose=pose,
            wind_kmh=result.policy.lean.wind_kmh,
        ),
        center_stand_gap(bike, planned, pose),
        _clearances(result, bike, proposal, planned, change, pose, full),
        full,
        _room(bike, planned, result.policy, shifts_of(bike, change)),
    )


def _room(bike: Bike, wheels: Wheels, policy: Policy, shifts: Shifts) -> tuple[Gap, ...]:
    return tuple(gap for end in ENDS for gap in gaps(bike, wheels.at(end), end, policy, shifts))


def shifts_of(bike: Bike, change: PoseChange) -> Shifts:
    """Return how far a change takes the axles from the lines of the room around them.

    The rear axle along the chain stay, level where no one measured it; the front along the blades.
    """
    x, y, along = float(change.rear_shift_x_mm), float(change.rear_shift_y_mm), (1.0, 0.0)
    stay, height = bike.frame.chainstay_mm, bike.frame.bb_height_mm
    if (x or y) and stay is not None and height is not None:
        rise = (height - bike.rear_axle[1]) / stay
        along = math.sqrt(1.0 - rise**2), rise
    return Shifts(
        rear=-(x * along[0] + y * along[1]),
        fork=float(change.fork_longer_mm),
        cup=float(change.cup_mm),
    )


def widest_of(result: PlanResult, outcome: Outcome | None = None) -> tuple[Widest, ...]:
    """Return the widest tire of each bead seat at each end with lines, as found or as proposed."""
    shifts = AS_FOUND if outcome is None else shifts_of(result.bike, outcome.change)
    return widest_tires(result.bike, result.policy, shifts)


def _stand_lean(bike: Bike, pose: Pose) -> float | None:
    stand = bike.side_stand
    if stand is None:
        return None
    lean = lean_on_stand(
        lean_deg=stand.lean_deg, foot_out_mm=stand.foot_out_mm, foot_x_mm=stand.foot_x_mm, pose=pose
    )
    return float(lean)


def _speed(bike: Bike, proposal: Proposal, front_ratio: Values, rear_ratio: Values) -> Speed:
    return speed(
        front_ratio=front_ratio,
        rear_ratio=rear_ratio,
        meter=bike.speedometer,
        corrected_percent=proposal.corrected_percent,
        teeth_ratio=teeth_ratio(bike.gearing, proposal.front_sprocket, proposal.rear_sprocket),
    )


def _at_full(
    found: PlanResult, touching: Bike, proposal: Proposal, change: PoseChange, pose: Pose
) -> FullTravel | None:
    """Return a proposal at full travel; None on a rigid machine."""
    suspension = found.bike.suspension
    if not (suspension.front.travel_mm or suspension.rear.travel_mm):
        return None
    _, ways = _to_full(found.bike, proposal, pose)
    down = at_full_travel(found, proposal, change, pose)
    if down is None or ways["rear"] is None:
        return FullTravel(ways, {}, None)
    rear, low = ways["rear"][-1], settle(found.chassis.axles, down)
    points = {point.name: (point.x_mm, point.height_mm) for point in touching.frame.points}
    heights = {name: float(low.place(point)[1]) for name, point in points.items()}
    saddle = touching.place_of(PointRole.SADDLE, points)
    if saddle is None:
        return FullTravel(ways, heights, None)
    apart = math.hypot(saddle[0] - rear[0], saddle[1] - rear[1])
    return FullTravel(ways, heights, apart - float(change.rear_radius_mm))


def at_full_travel(
    found: PlanResult, proposal: Proposal, change: PoseChange, pose: Pose
) -> PoseChange | None:
    """Return a change with the suspension all the way down; None where its way is not known.

    The radii of the change may be arrays: the ways of the axles do not depend on them.
    """
    dives, ways = _to_full(found.bike, proposal, pose)
    if ways["front"] is None or ways["rear"] is None:
        return None
    axle, rear = found.bike.rear_axle, ways["rear"][-1]
    return replace(
        change,
        fork_longer_mm=change.fork_longer_mm - dives,
        rear_shift_x_mm=rear[0] - axle[0],
        rear_shift_y_mm=rear[1] - axle[1],
    )


def _to_full(
    bike: Bike, proposal: Proposal, pose: Pose
) -> tuple[float, dict[End, tuple[Point, ...] | None]]:
    """Return how far the fork dives in mm, and each axle's way to full travel where known."""
    suspension = bike.suspension
    down = {end: suspension.down_from_measured_mm(end, State.FULL) for end in ENDS}
    ways: dict[End, tuple[Point, ...] | None] = {"front": None, "rear": None}
    dives = 0.0
    if down["front"] is not None:
        dives = down["front"] + _fork_further_down(suspension, proposal, State.FULL)
        head = math.radians(bike.frame.head_angle_deg + proposal.headset_turn_deg)
        x, y = pose.front_axle
        ways["front"] = tuple(
            (x - dives * share * math.cos(head), y + dives * share * math.sin(head))
            for share in _SHARES
        )
    if down["rear"] is not None:
        rises = (down["rear"] * share for share in _SHARES)
        ways["rear"] = tuple(
            swing(axle=pose.rear_axle, pivot=suspension.pivot_place, rise_mm=rise) for rise in rises
        )
    return dives, ways


_SHARES = tuple(step / 8 for step in range(9))  # of the way to full travel


def _clearances(
    found: PlanResult,
    bike: Bike,
    proposal: Proposal,
    planned: Wheels,
    change: PoseChange,
    pose: Pose,
    full: FullTravel | None,
) -> tuple[PredictedClearance, ...]:
    if not bike.clearances:
        return ()
    moves = _axle_moves(found, proposal, change, pose, full)
    return tuple(
        predict_clearance(
            place,
            bike=bike,
            found=bike.wheels.at(place.wheel),
            planned=planned.at(place.wheel),
            moves=moves,
            policy=found.policy,
            read_mm=proposal.gaps_mm.get(place.name),
        )
        for place in bike.clearances
    )


def _axle_moves(
    found: PlanResult, proposal: Proposal, change: PoseChange, pose: Pose, full: FullTravel | None
) -> AxleMoves:
    """Return what moves an axle against the frame, as found, as planned and down to full travel."""
    bike, axles = found.bike, found.chassis.axles
    return AxleMoves(
        fork_changed=bool(change.fork_longer_mm or change.offset_more_mm),
        another_fork=bool(change.offset_more_mm),
        fork_longer_mm=float(change.fork_longer_mm),
        head_moved=bool(change.cup_mm or change.head_turn_deg),
        rear_shifted=change.rear_shift_x_mm != 0 or change.rear_shift_y_mm != 0,
        rear_in_dropout=_in_dropout(bike, proposal) != bike.rear_axle,
        found={
            "front": (float(axles.wheelbase_mm), float(axles.front_radius_mm)),
            "rear": bike.rear_axle,
        },
        planned={"front": pose.front_axle, "rear": pose.rear_axle},
        to_full=full.ways if full else {"front": (pose.front_axle,), "rear": (pose.rear_axle,)},
        found_to_full=found.figures.full.ways
        if found.figures.full
        else {"front": None, "rear": None},
        steering=Steering(
            head_angle_deg=float(axles.head_angle_deg + change.head_turn_deg),
            offset_mm=float(axles.fork_offset_mm + change.offset_more_mm),
            lock_deg=bike.frame.steering_lock_deg,
        ),
    )


def difference(now: Geometry, then: Geometry) -> dict[str, Values | dict[str, Point] | None]:
    """Return now minus then for every key; None where either is unknown."""
    delta: dict[str, Values | dict[str, Point] | None] = {}
    for name in Geometry.__dataclass_fields__:
        new, old = getattr(now, name), getattr(then, name)
        if name == "points":
            delta[name] = {
                point: (x - old[point][0], y - old[point][1]) for point, (x, y) in new.items()
            }
        else:
            delta[name] = None if new is None or old is None else new - old
    return delta
