"""Every rule fires, holds at its limit and is silent without its figure; the heaviest first."""

from dataclasses import replace
from datetime import date
from typing import Any

import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.errors import Refusal
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.rules import RULES
from jentrik.core.work.policy import DEFAULT_POLICY, AgeSchool, SpeedSchool
from jentrik.exchange.plan_document import plan_from_json, read_bike, read_proposal
from tests.core.rules.rule_cases import CASES
from tests.core.rules.rule_parts import (
    APPROVED,
    BRAKE,
    CAR,
    FRONT,
    both,
    both_travels,
    both_wheels,
    found,
    front,
    made,
    rules,
)
from tests.documents import MOTORCYCLE, PLAN, plan, raw


def fired(document: dict[str, Any]) -> set[Any]:
    return {finding.variant for finding in plan_from_json(raw(document)).outcomes[0].findings}


@pytest.mark.parametrize("check", CASES)
def test_a_check_fires_holds_at_its_limit_and_is_silent_without_its_figure(check: str) -> None:
    fires, at_limit, unknown = CASES[check]
    assert check in fired(fires)
    assert check not in fired(at_limit)
    assert check not in fired(unknown)


def test_every_check_of_every_rule_has_cases_and_a_source() -> None:
    # Age needs a day to count to, which no plan states, and a reading kept with an earlier set-up
    # stands in none: they have tests of their own below.
    assert {rule.variant for rule in RULES} == {*CASES, "older_than_policy", "readings_disagree"}
    assert all(rule.limit for rule in RULES)
    for rule in RULES:
        assert str(rule.source)
        assert rule.check.__doc__


def test_a_bigger_wheel_in_the_small_wheels_position_is_a_stop() -> None:
    small = [{"name": "low", "x_mm": 0, "y_mm": 0, "bead_seat_diameter_mm": 584}]
    assert ("position-without-its-wheel", "stop", "bike") in found({}, positions=small)


def test_the_pair_of_the_sheet_says_what_each_of_its_tires_must_be() -> None:
    pairs = [
        *APPROVED,
        {
            "name": "second",
            "front": {"tire": "110/80 R 18 58V"},
            "rear": {"tire": "150/70 R 17 69V"},
        },
    ]
    change = both_wheels("110/80 R 18 54H", "150/70 R 17 69V")
    fired_ = found(change, base=MOTORCYCLE, approved=pairs)
    assert ("load-index-below-spec", "stop", "front") in fired_
    assert ("speed-symbol-below-spec", "stop", "front") in fired_
    assert not {rule for rule, _, where in fired_ if where == "rear"} & {
        "load-index-below-spec",
        "construction-differs-from-spec",
    }
    asked = made("Gull A", "Gull B")  # two models, but the very pair the sheet names
    assert "makes-mixed" not in rules(asked, base=MOTORCYCLE, approved=APPROVED)


def test_a_tire_that_may_not_carry_its_axle_at_speed_is_a_stop() -> None:
    # 95 % of 212 kg is 201.4.
    for axle, weight in ((202, "stop"), (201, "note")):
        there = {"front": {**FRONT, "axle_load_kg": axle}, "top_speed_kmh": 220}
        fired_ = found(front("90/90-21 54V"), base=MOTORCYCLE, **there)
        assert ("load-near-top-speed", weight, "front") in fired_


@pytest.mark.parametrize(
    ("made_in", "school", "weight"),
    [
        ("4716", AgeSchool.YEARS, "stop"),  # Sunday 20 November 2016: ten years and some days
        ("4816", AgeSchool.YEARS, "caution"),
        ("4421", AgeSchool.YEARS, "caution"),
        ("4821", AgeSchool.YEARS, None),
        ("4726", AgeSchool.YEARS, None),
        ("5026", AgeSchool.YEARS, "caution"),  # still to come
        ("4421", AgeSchool.CONDITION, "caution"),
        ("4712", AgeSchool.CONDITION, "caution"),
        ("4821", AgeSchool.CONDITION, None),
    ],
)
def test_a_tire_to_be_mounted_is_judged_by_the_shops_school_of_age(
    made_in: str, school: AgeSchool, weight: str | None
) -> None:
    there = as_measured(
        read_bike(PLAN["bike"]),
        on=date(2026, 11, 25),
        policy=DEFAULT_POLICY.having({"rubber.age_school": school}),
    )
    change = {"name": "A", "front": {"tire": "42-622", "fitted": {"made": made_in}}}
    judged = [
        f for f in outcome_of(there, read_proposal(change)).findings if f.rule == "age-over-policy"
    ]
    assert [finding.severity.value for finding in judged] == ([weight] if weight else [])
    # Sunday 31 October 2021 is 5 years and 25 days before the day.
    headline = {"4421": "5.1 years old", "5026": "Made in the future", "4716": "10.0 years old"}
    if weight and made_in in headline:
        assert judged[0].headline == headline[made_in]


def test_severity_and_place_of_the_ones_that_hurt() -> None:
    assert ("load-index-below-spec", "stop", "front") in found(
        front("90/90-21 40H"), base=MOTORCYCLE
    )
    low = {"front": {"overall_diameter_mm": 730}}
    assert ("speedometer-under-reads", "stop", "bike") in found(low, **{"class": "pedelec-45"})
    assert ("speedometer-under-reads", "stop", "bike") in found(low, base=MOTORCYCLE)
    assert ("rim-brake-reach", "caution", "front") in found(front("47-584"), front=BRAKE)


def test_the_heaviest_stands_first() -> None:
    result = plan_from_json(raw(plan(front(CAR), base=MOTORCYCLE)))
    weights = [finding.severity.value for finding in result.outcomes[0].findings]
    assert weights == sorted(weights, key=["stop", "caution", "note"].index)


def test_a_shop_that_makes_readings_exact_leaves_none() -> None:
    def fired(school: SpeedSchool, diameter: int) -> set[Any]:
        bike = read_bike(MOTORCYCLE["bike"])
        there = as_measured(bike, policy=DEFAULT_POLICY.having({"instruments.school": school}))
        proposal = read_proposal({"name": "A", "front": {"overall_diameter_mm": diameter}})
        return {finding.rule for finding in outcome_of(there, proposal).findings}

    assert "speed-over-policy" in fired(SpeedSchool.EXACT, 690)
    assert "speed-over-policy" not in fired(SpeedSchool.LEAVE, 690)
    assert "speed-over-policy" not in fired(SpeedSchool.EXACT, 695)  # nothing changed


def test_a_moped_is_judged_at_40_only() -> None:
    # 1.1 x 40 + 4 = 48 shown at a true 40: 20 % over is allowed, 20.1 % is not.
    moped = {"class": "moped", "speedometer": {"wheel": "front", "reads_over_percent": 20.1}}
    assert "speedometer-over-limit" in rules({}, base=MOTORCYCLE, **moped)
    moped["speedometer"] = {"wheel": "front", "reads_over_percent": 19.9}
    assert "speedometer-over-limit" not in rules({}, base=MOTORCYCLE, **moped)


def test_nothing_ever_says_that_it_fits_or_is_legal() -> None:
    for documents in CASES.values():
        for document in documents:
            for finding in plan_from_json(raw(document)).outcomes[0].findings:
                said = f"{finding.headline} {finding.message}".lower()
                assert " fits" not in said
                assert "legal" not in said


# ISO 5775-1, from memory: 26 x 1 3/4 is 571 mm, 20 x 1 3/8 is 451.
@pytest.mark.parametrize(
    ("old", "new", "weight", "figures"),
    [
        ("26 x 1 3/4", "26 x 1.75", "caution", ("571", "559")),
        ("20 x 1 3/8", "20 x 1.75", "caution", ("451", "406")),
        ("37-590 (26 x 1 3/8)", "26 x 1.75", "caution", ("590", "559")),
        ("37-590", "26 x 1.75", "caution", ("590", "559")),
        ("58-584", "58-559", "note", ("584", "559")),
        ("37-622", "47-584", "note", ("622", "584")),
    ],
)
@pytest.mark.parametrize("stated", [None, 622])
def test_another_rim_is_said_aloud_rim_stated_or_not(
    old: str, new: str, weight: str, figures: tuple[str, str], stated: int | None
) -> None:
    change = {"front": {"tire": new, "rim": stated and {"bead_seat_diameter_mm": stated}}}
    outcome = plan_from_json(raw(plan(change, front={"tire": old}))).outcomes[0]
    (finding,) = [one for one in outcome.findings if one.rule == "another-rim-diameter"]
    assert finding.severity.value == weight
    assert all(figure in finding.message for figure in figures)


def test_a_fork_of_another_travel_leaves_the_arch_where_it_is() -> None:
    # 8 mm at an arch, 37 to 47 mm: the radius grows 10; +20 of travel changes nothing there.
    arch = [
        {
            "name": "arch",
            "wheel": "front",
            "direction": "radial",
            "on": "fork",
            "moves_with": "wheel",
            "gap_mm": 8,
        }
    ]
    crown = [{**arch[0], "name": "crown", "moves_with": "body", "gap_mm": 60}]
    change = {"front": {"tire": "47-622"}, "fork": {"length_mm": 415}}
    spots = (
        plan_from_json(raw(plan(change, clearances=[*arch, *crown]))).outcomes[0].figures.clearances
    )
    assert [spot.predicted_gap_mm for spot in spots] == pytest.approx([-2, 70])
    other = {**change, "fork": {"length_mm": 415, "offset_mm": 44}}
    (spot,) = plan_from_json(raw(plan(other, clearances=arch))).outcomes[0].figures.clearances
    assert (spot.predicted_gap_mm, spot.ok) == (None, None)


@pytest.mark.parametrize(
    ("mount", "tire", "stop"),
    [  # 622 to 584 moves the track 19 mm down; 52 + 19 = 71, 52 - 19 = 33
        ("bolt above", "47-584", True),
        ("boss below", "47-584", True),
        (None, "47-584", True),
        ("boss below", "35-642", False),
        ("bolt above", "35-642", True),
    ],
)
def test_a_boss_below_the_rim_reaches_the_other_way(
    mount: str | None, tire: str, stop: bool
) -> None:
    # 622 to 642 moves it 10 mm up: 42 from a bolt above, 62 from a boss below; the slot 45 to 65.
    brake = {"pad_reach_mm": 52, "slot_mm": [45, 65], "mount": mount}
    fired_ = found(front(tire), front={"tire": "37-622", "rim_brake": brake})
    assert (("rim-brake-reach", "stop", "front") in fired_) == stop


def test_one_more_approved_pair_takes_nothing_from_the_sheets_own() -> None:
    own = {"front": {"tire": "90/90-21 54H"}, "rear": {"tire": "130/80-17 65H"}}
    other = [{"name": "wide", "front": {"tire": "110/80-18"}, "rear": {"tire": "150/70-17"}}]
    change = both_wheels("90/90-21 54H", "130/80-17 65H")
    assert "size-not-in-sheet" not in rules(change, base=MOTORCYCLE, spec=own, approved=other)
    assert "size-not-in-sheet" in rules(change, base=MOTORCYCLE, approved=other)


@pytest.mark.parametrize(
    ("material", "severity"),
    [("steel", "caution"), ("aluminium", "stop"), ("carbon", "stop"), (None, "stop")],
)
def test_only_a_steel_frame_may_be_cold_set(material: str | None, severity: str) -> None:
    rear = {"tire": "37-622", "hub": {"spacing_mm": 126}}
    fired_ = found({"rear": {"hub": {"spacing_mm": 130}}}, rear=rear, frame_material=material)
    assert ("hub-spacing-differs", severity, "rear") in fired_


def test_an_instrument_is_judged_only_at_speeds_the_machine_reaches() -> None:
    # + 12 % and 7 km/h: 40 shows 51.8 of at most 52; 80 shows 96.6 of 96; UN R39, from memory.
    meter = {"wheel": "front", "reads_over_percent": 12, "offset_kmh": 7}
    for top, judged in ((None, True), (80, True), (79, False), (30, False)):
        there = {"speedometer": meter, "top_speed_kmh": top}
        assert ("speedometer-over-limit" in rules({}, base=MOTORCYCLE, **there)) == judged
    slow = {"wheel": "front", "reads_over_percent": -1, "offset_kmh": 0}
    assert "speedometer-under-reads" in rules(
        {}, base=MOTORCYCLE, speedometer=slow, top_speed_kmh=30
    )


def test_an_error_below_the_fits_plus_minus_is_none() -> None:
    # 1 % under is 1.2 km/h at 120, 0.4 at 40; known to 0.5 there, growing 1 % away from 40: at
    # 80 0.8 of 0.64 allowed by hypot(0.5, 0.4), at 120 1.2 of 0.94.
    meter = {"wheel": "front", "reads_over_percent": -1.0, "within_kmh": 0.5, "within_at_kmh": 40}
    for percent, fires in ((1.0, True), (3.0, False)):
        there = {"speedometer": {**meter, "within_percent": percent}}
        assert ("speedometer-under-reads" in rules({}, base=MOTORCYCLE, **there)) == fires


def test_a_straight_axle_to_crown_length_becomes_the_one_along_the_axis() -> None:
    fork = {"axle_to_crown_mm": 398.152, "offset_mm": 50}  # 395^2 + 50^2 = 398.152^2
    found_ = plan_from_json(raw(plan({}, fork=fork))).bike
    assert found_.fork.length_mm == pytest.approx(395, abs=0.001)
    with pytest.raises(Refusal, match=r"bike.fork|along the axis"):
        plan_from_json(raw(plan({}, fork={**fork, "length_mm": 380})))


def test_a_mudguard_counts_in_the_toe_room_and_stays_where_it_is() -> None:
    # Front center: hypot(1050 - sqrt(445^2 - 73^2), 73) = 615.4; 615.4 - 175 - 348 = 92.4 without;
    # a guard 15 mm off and 2 thick takes 17.
    guard = [
        {
            "name": "Front mudguard",
            "wheel": "front",
            "direction": "radial",
            "on": "fork",
            "gap_mm": 15,
            "moves_with": "wheel",
        }
    ]
    longer = {"contact": {"crank_mm": 175}}
    outcome = plan_from_json(raw(plan(longer, clearances=guard))).outcomes[0]
    (finding,) = [one for one in outcome.findings if one.rule == "toe-overlap"]
    assert in_plain(finding.headline) == "Toe room 75 mm"
    assert "toe-overlap" not in rules({"front": {"overall_diameter_mm": 700}}, clearances=guard)


def test_a_pedals_lean_is_judged_with_the_rider_on() -> None:
    # 200 mm out touches at 24.5 degrees on 690 mm wheels, unladen; sag brings it lower.
    sprung = {"suspension": both_travels(100), "pedal_edge_mm": 190}
    assert "pedal-strike" not in rules(both(690), pedal_edge_mm=190)
    assert "pedal-strike" in rules(both(690), **sprung)
    ridden = {**sprung["suspension"], "measured": "rider on"}
    assert "pedal-strike" not in rules(both(690), pedal_edge_mm=190, suspension=ridden)


def test_a_reading_kept_with_a_set_up_counts_and_two_that_disagree_are_named() -> None:
    # 14 mm now at the crown, 37 -> 47 on the same rim: 4 mm would follow.
    document = plan({"front": {"tire": "47-622"}})
    found = as_measured(read_bike(document["bike"]))
    asked = read_proposal(document["proposals"][0])

    def findings(gaps: dict[str, float]) -> dict[str, str]:
        proposal = replace(asked, gaps_mm=gaps)
        return {
            finding.rule: in_plain(finding.message)
            for finding in outcome_of(found, proposal).findings
        }

    assert "clearance-below-minimum" in findings({})
    kept = findings({"fork crown": 14.0})
    assert "clearance-below-minimum" not in kept
    assert (
        "14.0 mm were read there with this set-up on, but 4.0 mm follow"
        in kept["clearance-readings-disagree"]
    )
    assert "clearance-readings-disagree" not in findings({"fork crown": 7.0})  # 3 mm apart
    assert "clearance-readings-disagree" in findings({"fork crown": 7.1})
    assert "clearance-below-minimum" in findings({"fork crown": -2.0})  # never clamped


def test_a_pair_that_is_on_the_machine_already_is_not_newly_cautioned() -> None:
    # 110/90-18 on 1.85 inches is outside its row (2.15 to 3.00), as found and as it stays.
    rim = {"inner_width_mm": 47}
    found_so = {"front": {"tire": "110/90-18", "rim": rim}}

    def fires(code: str, **more: Any) -> bool:
        said = rules({"front": {"tire": code, **more}}, base=MOTORCYCLE, **found_so)
        return "rim-width-out-of-range" in said

    assert not fires("110/90-18 61H")
    assert fires("110/80-18")
    assert fires("110/90-18", rim={"inner_width_mm": 46})
