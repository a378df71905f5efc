"""A whole plan: a machine as found and proposals in, every figure and finding out.

Each proposal is judged against the machine as found; figures stay unrounded.
"""

from dataclasses import dataclass, replace

from jentrik.core.clearance import AxleMoves, PredictedClearance, predict_clearance
from jentrik.core.errors import blamed_on
from jentrik.core.geometry.figures import Chassis, Geometry, as_found, geometry
from jentrik.core.geometry.frame import Point, Values
from jentrik.core.geometry.pose import Change, Pose
from jentrik.core.geometry.stand import lean_on_stand
from jentrik.core.machine import Bike, Proposal, Wheels
from jentrik.core.rules import judge
from jentrik.core.rules.case import Case, Finding
from jentrik.core.rules.limits import DEFAULT_LIMITS, ShopLimits
from jentrik.core.speed import Speed, speed


@dataclass(frozen=True, slots=True)
class Outcome:
    """One proposal computed: the wheels it leaves, what that changes, and how it stands."""

    proposal: Proposal
    wheels: Wheels
    change: Change
    pose: Pose
    geometry: Geometry
    speed: Speed
    stand_lean_deg: Values | None
    clearances: tuple[PredictedClearance, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class PlanResult:
    """The machine as found and every proposal's outcome, in the order given."""

    bike: Bike
    chassis: Chassis
    baseline: Geometry
    speed: Speed
    outcomes: tuple[Outcome, ...]


def compute(
    bike: Bike, proposals: tuple[Proposal, ...], *, limits: ShopLimits = DEFAULT_LIMITS
) -> PlanResult:
    """Return the whole plan; refuses a machine or proposal that cannot stand.

    A refusal's field names the place: `bike...` or `proposals[0]...`.
    """
    with blamed_on("bike"):
        found = as_measured(bike)
    outcomes = []
    for place, proposal in enumerate(proposals):
        with blamed_on(f"proposals[{place}]"):
            outcomes.append(outcome_of(found, proposal, limits=limits))
    return replace(found, outcomes=tuple(outcomes))


def as_measured(bike: Bike) -> PlanResult:
    """Return the machine as found, with no proposal yet; refuses one that cannot stand."""
    chassis = bike.chassis()
    with blamed_on("wheelbase_mm"):
        baseline = as_found(chassis)
    return PlanResult(bike, chassis, baseline, _speed(bike, 1.0, 1.0), ())


def change_of(bike: Bike, wheels: Wheels, proposal: Proposal) -> Change:
    """Return what a proposal does to the axles; refuses a wheel of unknown diameter."""
    length, offset = proposal.fork_length_mm, proposal.fork_offset_mm
    return Change(
        front_radius_mm=wheels.radius_mm("front"),
        rear_radius_mm=wheels.radius_mm("rear"),
        fork_longer_mm=0.0 if length is None else length - bike.fork_length_mm,
        offset_more_mm=0.0 if offset is None else offset - bike.fork_offset_mm,
        cup_mm=proposal.lower_cup_mm,
        rear_shift_x_mm=proposal.rear_shift_x_mm,
        rear_shift_y_mm=proposal.rear_shift_y_mm,
    )


def outcome_of(
    result: PlanResult, proposal: Proposal, *, limits: ShopLimits = DEFAULT_LIMITS
) -> Outcome:
    """Return what one proposal makes of the machine; refuses one that cannot stand."""
    bike = result.bike
    planned = proposal.wheels(bike)
    change = change_of(bike, planned, proposal)
    figures, pose = geometry(result.chassis, change)
    found = result.chassis.axles
    speeds = _speed(
        bike,
        change.front_radius_mm / found.front_radius_mm,
        change.rear_radius_mm / found.rear_radius_mm,
    )
    lean = _stand_lean(bike, pose)
    clearances = _clearances(bike, planned, change)
    case = Case(
        found=bike,
        planned=planned,
        baseline=result.baseline,
        geometry=figures,
        speed=speeds,
        stand_lean_deg=lean,
        clearances=clearances,
        limits=limits,
    )
    return Outcome(proposal, planned, change, pose, figures, speeds, lean, clearances, judge(case))


def _stand_lean(bike: Bike, pose: Pose) -> Values | None:
    stand = bike.side_stand
    if stand is None:
        return None
    return lean_on_stand(
        lean_deg=stand.lean_deg,
        foot_out_mm=stand.foot_out_mm,
        foot_x_mm=stand.foot_x_mm,
        pose=pose,
    )


def _speed(bike: Bike, front_ratio: Values, rear_ratio: Values) -> Speed:
    meter = bike.speedometer
    return speed(
        front_ratio=front_ratio,
        rear_ratio=rear_ratio,
        wheel=meter.wheel if meter else None,
        reads_over_percent=meter.reads_over_percent if meter else None,
    )


def _clearances(bike: Bike, planned: Wheels, change: Change) -> tuple[PredictedClearance, ...]:
    moves = AxleMoves(
        fork_changed=change.fork_longer_mm != 0 or change.offset_more_mm != 0,
        fork_longer_mm=float(change.fork_longer_mm),
        cup_mm=float(change.cup_mm),
        rear_shifted=change.rear_shift_x_mm != 0 or change.rear_shift_y_mm != 0,
    )
    return tuple(
        predict_clearance(
            place, found=bike.wheels.at(place.wheel), planned=planned.at(place.wheel), moves=moves
        )
        for place in bike.clearances
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
