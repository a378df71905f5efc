"""Plan documents: what comes back for what goes in, and every refusal with its place."""

import json
import math
from typing import Any

import pytest

from jentrik.core.errors import Refusal
from jentrik.core.machine.machine import Design
from jentrik.core.machine.suspension import Pivot
from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json, read_bike
from jentrik.exchange.strict_json import TooLargeError
from tests.documents import MOTORCYCLE, PLAN, plan, raw


def computed(document: dict[str, Any]) -> dict[str, Any]:
    return result_document(plan_from_json(raw(document)))


def first(document: dict[str, Any]) -> Any:
    return computed(document)["proposals"][0]


def test_the_baseline_is_what_was_measured() -> None:
    geometry = computed(plan())["baseline"]["geometry"]
    # By hand: trail (348 cos 71 - 50) / sin 71; drop 348 - 275; front center by Pythagoras.
    assert geometry["trail_mm"] == pytest.approx(66.945, abs=0.001)
    assert geometry["bb_drop_mm"] == 73
    assert geometry["front_center_mm"] == pytest.approx(
        math.hypot(1050 - math.sqrt(445**2 - 73**2), 73)
    )
    assert geometry["pitch_deg"] == 0
    assert geometry["points"] == [{"name": "saddle", "x_mm": 120, "height_mm": 980}]


def test_both_ends_to_47_584_lower_the_machine_level() -> None:
    # Radii 348 -> 339: nine millimetres down, nothing turns.
    answer = first(plan({"front": {"tire": "47-584"}, "rear": {"tire": "47-584"}}))
    assert answer["delta"]["bb_height_mm"] == pytest.approx(-9)
    assert answer["delta"]["head_angle_deg"] == pytest.approx(0, abs=1e-12)
    assert answer["speed"]["circumference_ratio_front"] == pytest.approx(678 / 696)
    assert answer["speed"]["indicated_at_100_kmh"] == pytest.approx(104 * 696 / 678)
    assert answer["speed"]["front_rear_ratio_change_percent"] == pytest.approx(0)


def test_a_measured_diameter_wins_and_another_tire_drops_it() -> None:
    measured = {"tire": "37-622", "overall_diameter_mm": 690}
    document = plan(
        {}, {"front": {"tire": "47-584"}}, {"front": {"overall_diameter_mm": 700}}, front=measured
    )
    radii = [p["geometry"]["front_radius_mm"] for p in computed(document)["proposals"]]
    assert radii == [345, 339, 350]


def test_gaps_follow_radius_width_and_fork() -> None:
    change = {"front": {"tire": "47-584"}, "rear": {"tire": "47-584"}}
    longer = {**change, "fork": {"length_mm": 405}, "rear_axle_shift_mm": {"y": -8}}
    answers = computed(plan(change, longer, {"lower_cup_mm": 12}))["proposals"]
    crown, stays = answers[0]["clearances"]
    assert crown["predicted_gap_mm"] == pytest.approx(14 + 9)
    assert stays["predicted_gap_mm"] == pytest.approx(9 - 5)
    assert (crown["ok"], stays["ok"]) == (True, False)
    crown, stays = answers[1]["clearances"]
    assert crown["predicted_gap_mm"] == pytest.approx(14 + 9 + 10)
    assert stays["predicted_gap_mm"] is stays["ok"] is None
    assert "measure" in stays["note"]
    assert answers[2]["clearances"][0]["predicted_gap_mm"] == 14  # a cup moves the fork whole


def test_a_place_on_the_frame_cannot_be_predicted_where_the_fork_changes() -> None:
    place = {"name": "down tube", "wheel": "front", "direction": "radial", "gap_mm": 20}
    answers = computed(
        plan({"lower_cup_mm": 5}, {"fork": {"offset_mm": 40}}, {}, clearances=[place])
    )["proposals"]
    assert [a["clearances"][0]["predicted_gap_mm"] for a in answers] == [None, None, 20]


def test_what_is_not_known_is_null_and_every_key_is_there() -> None:
    bare = {"chainstay_mm": None, "stack_mm": None, "seat_angle_deg": None, "speedometer": None}
    document = computed(plan({"rear": {"tire": "47-584"}}, **bare))
    answer = document["proposals"][0]
    assert answer["geometry"].keys() == document["baseline"]["geometry"].keys()
    assert answer["delta"].keys() == answer["geometry"].keys()
    for key in ("bb_height_mm", "front_center_mm", "stack_mm", "reach_mm", "seat_angle_deg"):
        assert answer["geometry"][key] is answer["delta"][key] is None
    assert answer["speed"]["indicated_at_100_kmh"] is None
    assert answer["stand"] == {"lean_deg": None}


def test_a_motorcycle_with_a_rake() -> None:
    answer = first(plan({"front": {"tire": "110/80-18 58H"}}, base=MOTORCYCLE))
    assert answer["geometry"]["rake_deg"] == pytest.approx(
        90 - answer["geometry"]["head_angle_deg"]
    )
    # Front radius 347.5 -> 316.5: nose down by about asin(31 / 1490).
    assert answer["geometry"]["pitch_deg"] == pytest.approx(-1.19, abs=0.01)
    assert answer["stand"]["lean_deg"] < 11


def test_the_trade_cross_check_of_a_sensed_front_wheel() -> None:
    # Common practice: 19 -> 17 with 120/70 reads about 8.5 % high: 651 / 600.
    meter = {"wheel": "front", "reads_over_percent": 0}
    answer = first(
        plan(
            {"front": {"tire": "120/70-17"}},
            base=MOTORCYCLE,
            speedometer=meter,
            front={"tire": "120/70-19"},
        )
    )
    assert answer["speed"]["indicated_at_100_kmh"] == pytest.approx(100 * 651 / 600)


def test_extremes_that_can_exist_are_computed() -> None:
    penny = plan(
        {},
        front={"tire": "50-787"},
        rear={"tire": "37-305"},
        wheelbase_mm=1000,
        bb_height_mm=None,
        clearances=[],
    )
    assert first(penny)["geometry"]["front_radius_mm"] == 443.5
    chopper = plan({}, base=MOTORCYCLE, rake_deg=45, fork={"length_mm": 900, "offset_mm": -20})
    assert first(chopper)["geometry"]["trail_mm"] > 300
    negative = plan({}, fork={"length_mm": 395, "offset_mm": 180})
    assert first(negative)["geometry"]["trail_mm"] < 0
    high = plan({}, bb_height_mm=400)
    assert first(high)["geometry"]["bb_drop_mm"] == -52


REFUSED = [
    ({"format": "other"}, "format"),
    ({"version": 2}, "version"),
    ({"version": True}, "version"),
    ({"surplus": 1}, "surplus"),
    ({"bike": {"wheelbase_mm": "1050"}}, "bike.wheelbase_mm"),
    ({"bike": {"wheelbase_mm": True}}, "bike.wheelbase_mm"),
    ({"bike": {"wheelbase_mm": 10**400}}, "bike.wheelbase_mm"),
    ({"bike": {"wheelbase_mm": 99999}}, "bike.wheelbase_mm"),
    ({"bike": {"wheelbase_mm": 600}}, "bike.wheelbase_mm"),
    ({"bike": {"head_angle_deg": 19.9}}, "bike.head_angle_deg"),
    ({"bike": {"head_angle_deg": 90.1}}, "bike.head_angle_deg"),
    ({"bike": {"rake_deg": 20}}, "bike.rake_deg"),
    ({"bike": {"chainstay_mm": 60}}, "bike.chainstay_mm"),
    ({"bike": {"chainstay_mm": 100, "bb_height_mm": 240}}, "bike.chainstay_mm"),
    ({"bike": {"front": {"tire": "37-623"}}}, "bike.front.tire"),
    ({"bike": {"front": {"tire": "700C"}}}, "bike.front.tire"),
    ({"bike": {"front": {}}}, "bike.front"),
    ({"bike": {"name": "  "}}, "bike.name"),
    ({"bike": {"fork": {"length_mm": 395}}}, "bike.fork.offset_mm"),
    ({"bike": {"points": [{"name": "a", "x_mm": 1, "height_mm": 1}] * 2}}, "bike.points[1].name"),
    ({"bike": {"spec": {"front": {"speed_symbol": "?"}}}}, "bike.spec.front.speed_symbol"),
    (
        {"bike": {"side_stand": {"lean_deg": 80, "foot_out_mm": 240, "foot_x_mm": 1}}},
        "bike.side_stand.lean_deg",
    ),
    ({"proposals": [{"name": "A"}, {"name": "A"}]}, "proposals[1].name"),
    ({"proposals": [{"name": ""}]}, "proposals[0].name"),
    (
        {"proposals": [{"name": "A"}, {"name": "B", "rear": {"tire": "47-58x"}}]},
        "proposals[1].rear.tire",
    ),
    ({"proposals": [{"name": "A", "rear_axle_shift_mm": {"x": 450}}]}, "proposals[0]"),
    ({"proposals": [{"name": "A", "fork": {"length_mm": 1}}]}, "proposals[0].fork.length_mm"),
]


@pytest.mark.parametrize(("change", "field"), REFUSED)
def test_a_refusal_names_the_place_in_one_sentence(change: dict[str, Any], field: str) -> None:
    document = plan()
    bike = document["bike"] | change.get("bike", {})
    with pytest.raises(Refusal) as refused:
        plan_from_json(raw(document | change | {"bike": bike}))
    assert refused.value.field == field
    assert refused.value.message.count(".") >= 1
    assert "\n" not in refused.value.message


@pytest.mark.parametrize(
    "text",
    [
        b"",
        b"{",
        b"[]",
        b"null",
        b"\xff\xfe",
        b'{"format": NaN}',
        b'{"a": 1, "a": 2}',
        b"[" * 100_000,
        raw(PLAN).replace(b"1050", b"1e400"),
        raw(PLAN).replace(b"1050", b"NaN"),
    ],
)
def test_what_is_no_document_is_refused(text: bytes) -> None:
    with pytest.raises(Refusal):
        plan_from_json(text)


def test_a_document_over_a_megabyte_is_refused_before_it_is_read() -> None:
    with pytest.raises(TooLargeError):
        plan_from_json(b" " * 1_000_001)


def test_a_tire_code_keeps_its_position_through_the_document() -> None:
    with pytest.raises(Refusal) as refused:
        plan_from_json(raw(plan({"front": {"tire": "47-585"}})))
    answer = refused.value.as_document()["error"]
    assert (answer["field"], answer["position"]) == ("proposals[0].front.tire", 3)
    assert answer["suggestions"][0] == "47-584"
    assert json.dumps(answer)


SUSPENDED = {
    "front": {"travel_mm": 150, "sag_mm": 30},
    "rear": {
        "travel_mm": 140,
        "sag_mm": 40,
        "shock_mm": 210,
        "leverage": 2.5,
        "link_ratio": 2.0,
        "pivot_x_mm": 420,
        "pivot_height_mm": 390,
    },
}


def test_suspension_positions_and_design_reach_the_machine() -> None:
    values = PLAN["bike"] | {
        "suspension": SUSPENDED,
        "design": {"rake_deg": 19.5, "trail_mm": 66},
        "positions": [{"name": "low", "x_mm": 1, "y_mm": 6, "bead_seat_diameter_mm": 584}],
        "fork": {"length_mm": 395, "offset_mm": 50, "longest_mm": 420},
    }
    bike = read_bike(values)
    assert bike.suspension.shock.leverage == 2.5
    assert bike.suspension.pivot == Pivot(420, 390)
    assert bike.position("low").bead_seat_diameter_mm == 584
    assert bike.maker.design == Design(head_angle_deg=70.5, trail_mm=66)
    assert bike.fork.longest_mm == 420


@pytest.mark.parametrize(
    ("bike", "proposal", "field"),
    [
        (
            {"suspension": {"front": {"travel_mm": 100, "sag_mm": 120}}},
            {},
            "bike.suspension.front.sag_mm",
        ),
        ({"suspension": {"rear": {"leverage": 50}}}, {}, "bike.suspension.rear.leverage"),
        ({"suspension": {"measured": "upside down"}}, {}, "bike.suspension.measured"),
        ({"suspension": {"rear": {"shock": 210}}}, {}, "bike.suspension.rear.shock"),
        ({"positions": [{"name": "low", "x_mm": 300, "y_mm": 0}]}, {}, "bike.positions[0].x_mm"),
        ({"positions": [{"name": " ", "x_mm": 0, "y_mm": 0}]}, {}, "bike.positions[0].name"),
        ({"design": {"wheelbase_mm": 12}}, {}, "bike.design.wheelbase_mm"),
        ({}, {"position": "low"}, "proposals[0].position"),
        ({}, {"shock_mm": 205}, "proposals[0].shock_mm"),
        ({}, {"link_longer_mm": 3}, "proposals[0].link_longer_mm"),
        ({}, {"headset_turn_deg": 9}, "proposals[0].headset_turn_deg"),
        ({}, {"contact": {"crank_mm": 5}}, "proposals[0].contact.crank_mm"),
        ({}, {"fork": {"travel_mm": -3}}, "proposals[0].fork.travel_mm"),
    ],
)
def test_what_a_suspended_machine_cannot_have_is_refused_at_its_path(
    bike: dict[str, Any], proposal: dict[str, Any], field: str
) -> None:
    with pytest.raises(Refusal) as refused:
        plan_from_json(raw(plan(proposal, **bike)))
    assert refused.value.field == field


def test_an_answer_tells_where_the_rider_touches() -> None:
    answer = result_document(plan_from_json(raw(plan({"contact": {"crank_mm": 165}}))))
    assert answer["baseline"]["contact"]["pedal_height_mm"] == pytest.approx(275 - 172.5 - 10)
    assert answer["proposals"][0]["contact"]["pedal_height_mm"] == pytest.approx(275 - 165 - 10)
    assert answer["proposals"][0]["contact"]["saddle_to_bar_mm"] is None
