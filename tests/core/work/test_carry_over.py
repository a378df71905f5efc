"""What is bought, what carries over, what must be found out: by hand, case for case."""

from typing import Any

import pytest

from jentrik.core.work.carry_over import Fate, parts_of
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN

HUB = {"rotor_mm": 180, "rotor_mount": "six bolts", "driver": "nine-speed spline"}
RING = {"tire": "90/90-21 54H", "tone_ring_slots": 48}


def parts(changes: dict[str, Any], base: dict[str, Any] = PLAN, **bike: Any) -> dict[str, Any]:
    found = read_bike({**base["bike"], **bike})
    lines = parts_of(found, read_proposal({"name": "A", **changes}))
    assert len({line.key for line in lines}) == len(lines)
    return {line.key: line.fate for line in lines}


def test_a_tire_on_the_same_rim_needs_no_wheel() -> None:
    result = parts({"rear": {"tire": "40-622"}})
    assert result == {"rear tire 40-622": Fate.BUY, "rear tube": Fate.KEEP, "rear wheel": Fate.KEEP}
    assert parts({"rear": {"tire": "50-622"}})["rear tube"] is Fate.ASK  # a third wider


@pytest.mark.parametrize(
    ("planned", "rotor", "sprockets"),
    [
        ({}, Fate.ASK, Fate.ASK),
        (
            {"rotor_mm": 180, "rotor_mount": "Six bolts", "driver": "small spline"},
            Fate.KEEP,
            Fate.BUY,
        ),
        (
            {"rotor_mm": 160, "rotor_mount": "six bolts", "driver": "nine-speed  spline"},
            Fate.BUY,
            Fate.KEEP,
        ),
        ({"rotor_mount": "spline"}, Fate.BUY, Fate.ASK),
    ],
)
def test_another_wheel_asks_for_everything_on_its_hub(
    planned: dict[str, Any], rotor: Fate, sprockets: Fate
) -> None:
    rear = {"tire": "37-622", "hub": HUB}
    result = parts({"rear": {"tire": "47-584", "hub": planned}}, rear=rear)
    assert result["rear wheel or rim, bead seat 584 mm"] is Fate.BUY
    assert (result["rear rotor"], result["rear sprockets"]) == (rotor, sprockets)
    assert result["rear rim tape"] is Fate.BUY


def test_rim_brakes_have_no_rotor_and_tubeless_wheels_no_tube() -> None:
    front = {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52}}
    result = parts({"front": {"tire": "47-584", "rim": {"tube": "tubeless"}}}, front=front)
    assert "front rotor" not in result
    assert "front tube" not in result
    assert result["front valve"] is result["front rim tape and sealant"] is Fate.BUY


@pytest.mark.parametrize(
    ("brake", "known", "unknown"),
    [
        ("disc", {"front rotor"}, {"front brake"}),
        ("rim", set(), {"front rotor", "front brake"}),
        (
            "drum",
            {"front brake plate and shoes", "front split pin of the torque stay"},
            {"front rotor"},
        ),
        ("coaster", {"front coaster arm and its clip"}, {"front rotor"}),
        (None, {"front brake"}, {"front rotor"}),
    ],
)
def test_lines_are_of_the_brake_that_is_there(
    brake: str | None, known: set[str], unknown: set[str]
) -> None:
    result = parts({"front": {"tire": "47-584"}}, front={"tire": "37-622", "brake": brake})
    assert known <= result.keys()
    assert not unknown & result.keys()


def test_the_planned_rotor_comes_with_an_adapter_and_another_caliper_with_its_slot() -> None:
    bike = read_bike({**MOTORCYCLE["bike"], "front": {"tire": "90/90-21", "hub": HUB}})
    change = {"front": {"tire": "110/80-18", "hub": {"rotor_mm": 320}}}
    lines = {line.key: line for line in parts_of(bike, read_proposal({"name": "A", **change}))}
    assert lines["front rotor"].why.startswith("320")
    assert "rotor of 320" in lines["front caliper adapter"].why
    front = {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52, "slot_mm": [47, 57]}}
    caliper = {"front": {"tire": "47-584", "rim_brake": {"slot_mm": [57, 73]}}}
    assert "front brake caliper, reach 57 mm to 73 mm" in {
        key.replace("\u2009", " ").replace("\u202f", " ") for key in parts(caliper, front=front)
    }


def test_a_caliper_that_does_not_reach_is_ordered_with_the_reach_it_needs() -> None:
    # 52 to the pad and 19 down: 71; on a slot up to 73 nothing is bought.
    for most, bought in ((57, True), (73, False)):
        front = {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52, "slot_mm": [47, most]}}
        keys = parts({"front": {"tire": "47-584"}}, front=front)
        assert any(key.startswith("front brake caliper that reaches 71") for key in keys) is bought


def test_two_wheels_on_one_axle_are_had_twice() -> None:
    result = parts({"front": {"tire": "47-584"}}, layout="tadpole", wheels=3)
    assert result["front tire 47-584, second wheel"] is Fate.BUY
    assert result["front wheel or rim, bead seat 584 mm, second wheel"] is Fate.BUY
    assert not [key for key in parts({"rear": {"tire": "47-584"}}) if "second" in key]


def test_a_shaft_or_variator_has_no_sprocket() -> None:
    for drive, there in (("chain", True), ("shaft", False), ("variator", False)):
        lines = parts({"rear": {"tire": "130/80-18 66H"}}, base=MOTORCYCLE, drive=drive)
        assert ("rear sprocket and carrier" in lines) is there


def test_a_tone_ring_is_kept_only_where_face_and_sensor_are_the_same() -> None:
    def ring(**sensor: Any) -> Any:
        change = {"front": {"tire": "110/80-18 58H", "sensor": sensor}}
        result = parts(change, base=MOTORCYCLE, front=RING)
        return result.get("front tone ring and sensor") or result["front tone ring"]

    assert ring() is Fate.ASK
    assert ring(face="same", kind="same") is Fate.KEEP
    assert ring(face="other", kind="same") is Fate.BUY


def test_the_rest_of_the_machine_is_told_from_what_changes() -> None:
    result = parts({"fork": {"length_mm": 405}, "contact": {"crank_mm": 165}, "lower_cup_mm": 12})
    assert set(result) == {"fork", "cranks", "lower headset cup"}
    assert parts({}) == {}
