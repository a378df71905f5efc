"""The edges of rules about gaps, stands and heights: at zero, at the least, just beyond."""

from dataclasses import replace
from datetime import date
from typing import Any

import pytest

from jentrik.core.amounts import in_plain
from jentrik.exchange.plan_document import plan_from_json
from tests.core.rules.rule_parts import BODY, GAP, MOTOR_GAP, lower, travel
from tests.documents import MOTORCYCLE, plan, raw


def findings_of(document: dict[str, Any]) -> dict[str, Any]:
    findings = plan_from_json(raw(document)).outcomes[0].findings
    return {
        finding.variant: replace(
            finding, headline=in_plain(finding.headline), message=in_plain(finding.message)
        )
        for finding in findings
    }


def crown(tire: str, **place: Any) -> dict[str, Any]:
    return plan({"front": {"tire": tire}}, clearances=[{**GAP[0], **place}])


@pytest.mark.parametrize(
    ("tire", "headline"),  # 14 mm at the crown, less what the radius grows
    [
        ("51-622", "crown: 0 mm left"),
        ("52-622", "crown: fouls by 1 mm"),
        ("50-622", "crown: 1 mm left"),
    ],
)
def test_a_gap_below_its_minimum_is_left_or_fouls(tire: str, headline: str) -> None:
    assert findings_of(crown(tire, minimum_mm=6))["below_minimum"].headline == headline


@pytest.mark.parametrize(
    ("tire", "check"),
    [
        ("51-622", "below_the_standard"),
        ("52-622", "fouls"),
        ("46-622", "below_the_standard"),
        ("45-622", None),
    ],
)
def test_without_a_minimum_the_standard_holds_down_to_nought(tire: str, check: str | None) -> None:
    spoke = findings_of(crown(tire)).keys() & {"below_the_standard", "below_the_usual", "fouls"}
    assert spoke == ({check} if check else set())


@pytest.mark.parametrize(
    ("gap", "top", "check"),
    # 10 mm are kept; a bias tire grows 10 mm at 200 km/h, 2.5 at 100.
    [
        (20, 200, None),
        (19.9, 200, "growth"),
        (10, 100, "growth"),
        (9.9, 100, "below_the_usual"),
        (12.5, 100, None),
        (12.4, 100, "growth"),
    ],
)
def test_growth_speaks_between_the_least_and_what_it_takes(
    gap: float, top: int, check: str | None
) -> None:
    places = [{**MOTOR_GAP[0], "gap_mm": gap}]
    spoke = findings_of(plan({}, base=MOTORCYCLE, clearances=places, top_speed_kmh=top))
    assert spoke.keys() & {"growth", "below_the_usual"} == ({check} if check else set())
    if check == "growth" and gap == 12.4:
        assert "grows about 2.5 mm" in spoke["growth"].message
        assert spoke["growth"].headline == "crown: 10 mm left at speed"


@pytest.mark.parametrize(
    ("radius_more", "check"),
    # 60 mm to the body, 59 of travel: 1 mm of room as found.
    [
        (0, None),
        (1, None),
        (2, "meets_at_full_travel"),
        (60, "meets_at_full_travel"),
        (61, None),
        (-2, None),
    ],
)
def test_full_travel_is_judged_where_the_place_is_clear_at_rest(
    radius_more: int, check: str | None
) -> None:
    change = {"front": {"overall_diameter_mm": 696 + 2 * radius_more}}
    spoke = findings_of(plan(change, clearances=BODY, suspension=travel(59)))
    names = {"meets_at_full_travel", "met_at_full_travel_before"}
    assert spoke.keys() & names == ({check} if check else set())
    if radius_more == 2:
        assert "touches 1 mm before the stop" in spoke["meets_at_full_travel"].message


def test_more_room_than_as_found_at_full_travel_is_no_stop() -> None:
    # As found 4 mm short; 2 mm less radius leaves 2 mm short, 5 mm more 9.
    for radius_more, check in ((-2, "met_at_full_travel_before"), (5, "meets_at_full_travel")):
        change = {"front": {"overall_diameter_mm": 696 + 2 * radius_more}}
        spoke = findings_of(plan(change, clearances=BODY, suspension=travel(64)))
        assert check in spoke


@pytest.mark.parametrize(("seat", "speaks"), [(850, True), (849, False), (None, False)])
def test_a_machine_is_tall_by_its_seat_too(seat: int | None, speaks: bool) -> None:
    points = [{"name": "seat", "x_mm": 400, "height_mm": seat}] if seat else []
    spoke = findings_of(plan({"front": {"tire": "110/80-18 58H"}}, base=MOTORCYCLE, points=points))
    assert ("high_speed_weave" in spoke) == speaks


def test_what_brings_the_old_lean_back_is_said() -> None:
    # A foot 34 mm nearer the ground stands 34 cos 11 = 33.4 too high at the old lean; 18 mm
    # further away it wants 18 cos 11 = 17.7 under it.
    assert "33 mm too high for the old lean" in findings_of(lower(34))["tips_on_a_slope"].message
    assert "A puck of 18 mm" in findings_of(lower(-18))["leans_too_far"].message
    pivot = {
        "lean_deg": 11.0,
        "foot_out_mm": 240,
        "foot_x_mm": 520,
        "pivot_height_mm": 300,
        "pivot_out_mm": 90,
    }
    assert (
        "mm shorter brings it back"
        in findings_of(lower(34, side_stand=pivot))["tips_on_a_slope"].message
    )
    assert (
        "mm longer brings it back"
        in findings_of(lower(-18, side_stand=pivot))["leans_too_far"].message
    )


@pytest.mark.parametrize(
    ("asked", "symbol", "words"),
    # In the order of the regulation S T U H V W: two above are fine, more is allowed; ZR is V.
    [
        ("T", "H", "A step or two is fine"),
        ("S", "H", "More is allowed"),
        ("H", "W", "A step or two is fine"),
        ("U", "W", "More is allowed"),
    ],
)
def test_what_a_faster_symbol_costs(asked: str, symbol: str, words: str) -> None:
    spec = {"front": {"load_index": 54, "speed_symbol": asked}}
    spoke = findings_of(
        plan({"front": {"tire": f"90/90-21 54{symbol}"}}, base=MOTORCYCLE, spec=spec)
    )
    assert words in spoke["speed_symbol_above_spec"].message


@pytest.mark.parametrize(
    ("asked", "words"), [("H", "A step or two is fine"), ("T", "More is allowed")]
)
def test_a_bare_zr_counts_as_v(asked: str, words: str) -> None:
    spec = {"front": {"speed_symbol": asked}}
    spoke = findings_of(plan({"front": {"tire": "90/90ZR21"}}, base=MOTORCYCLE, spec=spec))
    assert words in spoke["speed_symbol_above_spec"].message


@pytest.mark.parametrize(
    ("index", "words"), [(56, "A step or two is fine"), (57, "More is allowed")]
)
def test_what_more_load_index_costs(index: int, words: str) -> None:
    spoke = findings_of(plan({"front": {"tire": f"90/90-21 {index}H"}}, base=MOTORCYCLE))
    message = spoke["load_index_above_spec"].message
    assert words in message
    # ISO 4000-1: 54 is 212 kg, 56 is 224, 57 is 230.
    assert message.startswith(f"It carries {(224 if index == 56 else 230) - 212} kg more")


@pytest.mark.parametrize(
    ("travel_mm", "checks"),
    # 60 mm to the body, mud takes 6: with 55 of travel 1 mm short together, with 54 none; with 61
    # the travel alone says it, and it is not said twice.
    [(54, set()), (55, {"mud_fills"}), (61, {"met_at_full_travel_before"})],
)
def test_what_the_road_takes_together_is_said_once(travel_mm: int, checks: set[Any]) -> None:
    spoke = findings_of(plan({}, clearances=BODY, suspension=travel(travel_mm), ground="mud"))
    assert spoke.keys() & {"mud_fills", "met_at_full_travel_before"} == checks


@pytest.mark.parametrize(
    ("mass", "variant"),
    [({}, "stand_changes"), ({"kg": 180, "center_x_mm": 700, "center_height_mm": 540}, None)],
)
def test_a_changed_lean_is_said_without_a_center_of_mass_too(
    mass: dict[str, Any], variant: str | None
) -> None:
    spoke = findings_of(lower(10, mass=mass or None))
    message = spoke["stand_changes"].message
    assert ("center of mass" in message) == (variant is not None)
    # tan of the lean: tan 11 less 10 / (240 cos 11)
    assert spoke["stand_changes"].headline == "Stands 2.4° more upright"


@pytest.mark.parametrize(
    ("crown_mm", "check"),
    # As found 90 over 130 mm; 99 is 10 % more, 98.9 is not; 81 is 10 % less.
    [(100, "flatter"), (98, None), (80, "rounder"), (82, None)],
)
def test_crown_against_crown(crown_mm: int, check: str | None) -> None:
    spoke = findings_of(plan({"front": {"tire": f"{crown_mm}/90-21"}}, base=MOTORCYCLE))
    said = spoke.get("crown_profile")
    assert (said is not None) == (check is not None)
    assert check is None or check in said.headline


def test_both_wheels_to_one_size_is_not_a_wheel_alone() -> None:
    # Found 622 in front and 584 behind; the front becomes 584 too.
    mixed = {"rear": {"tire": "47-584"}}
    spoke = findings_of(plan({"front": {"tire": "47-584"}}, **mixed))["design_size_left"]
    assert "makes both wheels one size" in spoke.message
    other = findings_of(plan({"front": {"tire": "47-559"}}, **mixed))["design_size_left"]
    assert "wheel alone" in other.message


@pytest.mark.parametrize(
    ("suspension", "words"),
    [
        (travel(100), "Set sag again"),
        ({"rear": {"travel_mm": 120, "sag_mm": 30}}, "sag and pressure"),
    ],
)
def test_shock_pressure_only_where_there_is_a_shock(
    suspension: dict[str, dict[str, int]], words: str
) -> None:
    spoke = findings_of(plan({"rear": {"tire": "47-584"}}, suspension=suspension))["set_sag_again"]
    assert words in spoke.headline


@pytest.mark.parametrize(
    ("ground", "speaks"), [(None, True), ("paved", True), ("unpaved", False), ("mud", False)]
)
def test_a_tire_not_for_the_highway_may_go_on_a_machine_that_stays_off_it(
    ground: str | None, speaks: bool
) -> None:
    spoke = findings_of(
        plan({"front": {"tire": "80/100-21 51M NHS"}}, base=MOTORCYCLE, ground=ground)
    )
    assert ("not_for_highway" in spoke) == speaks


@pytest.mark.parametrize(
    ("asked", "marked", "expected"),
    [
        ("ZR", "V", "speed_symbol_below_spec"),  # V ends at 240, where ZR begins
        ("ZR", "W", None),
        ("ZR", "ZR", None),
        ("V", "ZR", None),  # above 240 is above what V asks
        ("W", "ZR", "open_speed_symbol"),  # above 240: how far, its maker says
        ("W", "V", "speed_symbol_below_spec"),
        ("H", "U", "speed_symbol_below_spec"),  # 200 against 210
    ],
)
def test_zr_begins_where_v_ends(asked: str, marked: str, expected: str | None) -> None:
    code = "90/90ZR21" if marked == "ZR" else f"90/90-21 54{marked}"
    said = findings_of(
        plan({"front": {"tire": code}}, base=MOTORCYCLE, spec={"front": {"speed_symbol": asked}})
    )
    spoke = {"speed_symbol_below_spec", "open_speed_symbol"} & set(said)
    assert spoke == ({expected} if expected else set())


@pytest.mark.parametrize(
    ("found", "planned", "said"),
    [  # kg of ISO 4000-1 by hand: 41 145, 38 132; 50 190, 44 160; 51 195
        ("3.00-18 41P", "3.00-18 38P", {"load_index_below_found": "13 kg more"}),
        ("3.50-18 50P", "3.50-18 44P", {"load_index_below_found": "30 kg more"}),
        ("120/70-12 51L", "120/70-12 51J M+S", {"speed_symbol_below_found": "names 100 km/h"}),
        ("120/70-12 51L", "120/70-12 51J", {"speed_symbol_below_found": "120 km/h"}),
        ("3.50-10 51J", "120/70-12 51L", {}),
        ("4.00-18 64H", "110/90R18 61H", {"construction_changed": "radial tube"}),
        ("110/90-18 61H", "110/90-18 61H M+S", {}),
    ],
)
def test_without_a_sheet_what_is_on_is_what_is_asked(
    found: str, planned: str, said: dict[str, str]
) -> None:
    bike = {"front": {"tire": found}, "spec": {}}
    spoke = findings_of(plan({"front": {"tire": planned}}, base=MOTORCYCLE, **bike))
    if "construction_changed" in said:
        spoke.pop("load_index_below_found", None)
    for check in ("load_index_below_found", "speed_symbol_below_found", "construction_changed"):
        assert (check in spoke) == (check in said), check
        if check in said:
            assert said[check] in in_plain(spoke[check].message)
    named = "label in the rider's view" in str(spoke)
    assert named == ("M+S" in planned and "speed_symbol_below_found" in said)


def test_age_counts_to_the_day_of_the_call_or_the_one_the_document_names() -> None:
    document = plan({"front": {"tire": "42-622", "fitted": {"made": "1015"}}})

    def fires(**more: Any) -> bool:
        result = plan_from_json(raw({**document, **more}), on=date(2026, 12, 1))
        return "age-over-policy" in {finding.rule for finding in result.outcomes[0].findings}

    assert fires()  # week 10 of 2015, eleven years before
    assert not fires(on="2018-01-01")


def test_a_fork_of_the_limits_own_length_is_allowed_and_a_straight_limit_is_compared_straight() -> (
    None
):
    def over(length_mm: float, **limit: float) -> bool:
        fork = {"length_mm": 390, "offset_mm": 45, **limit}
        said = findings_of(plan({"fork": {"length_mm": length_mm}}, fork=fork))
        return "fork_too_long" in said

    assert not over(400, longest_mm=400)
    assert not over(400.4, longest_mm=400)  # 400 in whole millimetres
    assert over(401, longest_mm=400)
    # Along the axis 400 and 45 across it are 402.52 straight.
    assert over(400, longest_axle_to_crown_mm=402)
    assert not over(400, longest_axle_to_crown_mm=403)
