"""Effects in words, figures through the travel, the rider's contact points."""

import math
from typing import Any

import pytest

from jentrik.core.figures.contact import Contact, moved
from jentrik.core.machine.proposal import ContactChange, Proposal
from jentrik.core.machine.suspension import State
from jentrik.core.plan.effects import EFFECT_WORDS, Effect, effects, tire_feels
from jentrik.core.plan.plan import PlanResult, as_measured, compute, outcome_of
from jentrik.core.plan.sweep import sweep
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN

POINTS = [
    {"name": "Saddle", "x_mm": 150, "height_mm": 980},
    {"name": "Bar", "x_mm": 750, "height_mm": 1000},
]


def found(base: dict[str, Any] = PLAN, **figures: Any) -> PlanResult:
    return as_measured(read_bike(base["bike"] | figures))


def effects_of(machine: PlanResult, **changes: Any) -> tuple[Effect, ...]:
    return effects(machine, outcome_of(machine, read_proposal({"name": "A"} | changes)))


def test_a_smaller_rear_is_lower_and_slacker_the_most_felt_first() -> None:
    felt = effects_of(found(), rear={"tire": "42-584"})
    ways = {effect.key: effect.way for effect in felt}
    assert (ways["bb_height_mm"], ways["head_angle_deg"]) == ("lower", "slacker")
    assert [effect.times for effect in felt] == sorted((e.times for e in felt), reverse=True)
    # 14 mm lower at the axle, the bracket 439 of 1050 mm ahead: 14 x (1 - 439 / 1050) = 8.1 mm
    bracket = next(effect for effect in felt if effect.key == "bb_height_mm")
    assert bracket.times == pytest.approx(8.14 / 5, abs=0.05)
    assert "strike earlier" in bracket.feels


@pytest.mark.parametrize(
    ("changes", "key", "way"),
    [
        ({"front": {"tire": "42-584"}}, "head_angle_deg", "steeper"),
        ({"rear": {"tire": "60-622"}}, "head_angle_deg", "steeper"),
        ({"rear": {"tire": "60-622"}}, "bb_height_mm", "higher"),
        ({"fork": {"offset_mm": 40}}, "trail_mm", "more"),
    ],
)
def test_each_figure_is_told_in_its_own_direction(
    changes: dict[str, Any], key: str, way: str
) -> None:
    assert {e.key: e.way for e in effects_of(found(), **changes)}[key] == way


def test_a_motorcycles_seat_and_pegs_are_told_and_a_bicycles_saddle_is_not() -> None:
    points = [
        {"name": "Seat", "x_mm": 500, "height_mm": 890},
        {"name": "Pegs", "x_mm": 610, "height_mm": 390},
    ]
    keys = {
        e.key for e in effects_of(found(MOTORCYCLE, points=points), front={"tire": "110/80-18"})
    }
    assert {"seat_height_mm", "feet_height_mm", "trail_mm"} <= keys
    assert "seat_height_mm" not in {e.key for e in effects_of(found(points=POINTS))}
    assert keys <= set(EFFECT_WORDS)


def test_the_fork_at_full_travel_is_the_end_of_its_sweep() -> None:
    hardtail = {"front": {"travel_mm": 100, "sag_mm": 25}}
    machine = found(suspension=hardtail)
    longer = read_proposal({"name": "A", "fork": {"length_mm": 405}})
    dive = sweep(machine, longer, "front")
    for state, place in ((State.UNLADEN, 0), (State.FULL, -1)):
        there = compute(machine.bike, (longer,), state=state).outcomes[0].figures.geometry
        for name in ("head_angle_deg", "trail_mm", "bb_height_mm", "wheelbase_mm"):
            assert getattr(dive.figures, name)[place] == pytest.approx(getattr(there, name)), name
    assert sweep(machine, longer, "rear") is None


def test_contact_figures_by_hand() -> None:
    touched = found(points=POINTS).figures.contact
    bracket = math.sqrt(445**2 - (348 - 275) ** 2)
    assert touched.saddle_to_bar_mm == 600
    assert touched.bar_above_saddle_mm == 20
    assert touched.pedal_height_mm == pytest.approx(275 - 172.5 - 10)
    angle = math.degrees(math.atan2(980 - 275, bracket - 150))
    assert touched.seat_angle_at_saddle_deg == pytest.approx(angle)
    share = (150 + 750 + bracket) / 3 / 1050 * 100
    assert touched.front_share_percent == pytest.approx(share)


def test_contact_changes_move_points_and_leave_the_chassis() -> None:
    machine = found(points=POINTS)
    change = {"bar_rise_mm": 5, "spacers_mm": 10, "saddle_rise_mm": 20, "crank_mm": 165}
    outcome = outcome_of(machine, read_proposal({"name": "A", "contact": change}))
    assert outcome.figures.geometry.head_angle_deg == pytest.approx(71.0)
    rise = outcome.figures.contact.bar_above_saddle_mm - machine.figures.contact.bar_above_saddle_mm
    by_hand = 5 + 10 * math.sin(math.radians(71)) - 20 * math.sin(math.radians(73))
    assert rise == pytest.approx(by_hand)
    level = outcome.figures.contact.saddle_to_bar_mm - machine.figures.contact.saddle_to_bar_mm
    by_hand = -10 * math.cos(math.radians(71)) + 20 * math.cos(math.radians(73))
    assert level == pytest.approx(by_hand)
    assert outcome.figures.contact.pedal_height_mm == pytest.approx(275 - 165 - 10)
    assert moved(machine.bike, ContactChange()).frame.points == machine.bike.frame.points


def test_what_no_one_measured_is_not_told() -> None:
    bare = found(crank_mm=None, points=[])
    assert set(vars_of(bare.figures.contact).values()) == {None}
    assert outcome_of(bare, Proposal("A")).figures.contact.pedal_height_mm is None


def vars_of(value: Contact) -> dict[str, None]:
    return {name: getattr(value, name) for name in value.__dataclass_fields__}


def test_another_width_is_felt_of_itself_from_an_eighth_on() -> None:
    machine = found()

    def feels(**changes: Any) -> tuple[str, ...]:
        return tire_feels(machine, outcome_of(machine, read_proposal({"name": "A"} | changes)))

    wide = {"tire": "57-622"}
    (said,) = feels(front=wide, rear=wide)
    assert said.startswith("Tires 37 to 57")
    assert "quieter on gravel" in said
    front, rear = feels(front={"tire": "28-622"}, rear=wide)
    assert (front.startswith("Front tire"), "quicker to accelerate" in front) == (True, True)
    assert rear.startswith("Rear tire")
    assert feels(front={"tire": "40-622"}) == ()  # 8 % wider
