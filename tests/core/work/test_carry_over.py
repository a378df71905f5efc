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
