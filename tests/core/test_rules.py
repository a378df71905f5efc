"""Every rule fires, holds at its limit and is silent without its figure; the heaviest first."""

from datetime import date

import pytest

from jentrik.core.plan import as_measured, outcome_of
from jentrik.core.policy import DEFAULT_POLICY, AgeSchool, SpeedSchool
from jentrik.core.rules import RULES
from jentrik.exchange.plan_document import plan_from_json, read_bike, read_proposal
from tests.core.rule_cases import (
    APPROVED,
    BRAKE,
    CAR,
    CASES,
    FRONT,
    both_wheels,
    found,
    front,
    made,
    rules,
)
from tests.documents import MOTORCYCLE, PLAN, plan, raw


def fired(document):
    return {finding.rule for finding in plan_from_json(raw(document)).outcomes[0].findings}


@pytest.mark.parametrize("rule", CASES)
def test_a_rule_fires_holds_at_its_limit_and_is_silent_without_its_figure(rule):
    fires, at_limit, unknown = CASES[rule]
    assert rule in fired(fires)
    assert rule not in fired(at_limit)
    assert rule not in fired(unknown)


def test_every_rule_has_cases_and_a_source():
    assert {rule.id for rule in RULES} == set(CASES)
    for rule in RULES:
        assert str(rule.source)
        assert rule.check.__doc__


def test_a_bigger_wheel_in_the_small_wheels_position_is_a_stop():
    small = [{"name": "low", "x_mm": 0, "y_mm": 0, "bead_seat_diameter_mm": 584}]
    assert ("position-without-its-wheel", "stop", "bike") in found({}, positions=small)


def test_the_pair_of_the_sheet_says_what_each_of_its_tires_must_be():
    pairs = [*APPROVED, {"name": "second", "front": {"tire": "110/80 R 18 58V"},
                         "rear": {"tire": "150/70 R 17 69V"}}]  # fmt: skip
    change = both_wheels("110/80 R 18 54H", "150/70 R 17 69V")
    fired_ = found(change, base=MOTORCYCLE, approved=pairs)
    assert ("load-index-below-spec", "stop", "front") in fired_
    assert ("speed-symbol-below-spec", "stop", "front") in fired_
    assert not {rule for rule, _, where in fired_ if where == "rear"} & {
        "load-index-below-spec", "construction-differs-from-spec"
    }  # fmt: skip
    asked = made("Gull A", "Gull B")  # two models, but the very pair the sheet names
    assert "makes-mixed" not in rules(asked, base=MOTORCYCLE, approved=APPROVED)


def test_a_tire_that_may_not_carry_its_axle_at_speed_is_a_stop():
    # 95 % of 212 kg is 201.4.
    for axle, weight in ((202, "stop"), (201, "note")):
        there = {"front": {**FRONT, "axle_load_kg": axle}, "top_speed_kmh": 220}
        fired_ = found(front("90/90-21 54V"), base=MOTORCYCLE, **there)
        assert ("load-near-top-speed", weight, "front") in fired_


@pytest.mark.parametrize(
    ("made_in", "school", "weight"),
    [
        ("4716", AgeSchool.YEARS, "stop"),  # Sunday 20 November 2016: ten years and some days
        ("4816", AgeSchool.YEARS, "caution"), ("4421", AgeSchool.YEARS, "caution"),
        ("4821", AgeSchool.YEARS, None), ("4726", AgeSchool.YEARS, None),
        ("5026", AgeSchool.YEARS, "caution"),  # still to come
        ("4421", AgeSchool.CONDITION, "caution"), ("4712", AgeSchool.CONDITION, "caution"),
        ("4821", AgeSchool.CONDITION, None),
    ],
)  # fmt: skip
def test_a_tire_to_be_mounted_is_judged_by_the_shops_school_of_age(made_in, school, weight):
    there = as_measured(
        read_bike(PLAN["bike"]), on=date(2026, 11, 25),
        policy=DEFAULT_POLICY.having({"rubber.age_school": school}),
    )  # fmt: skip
    change = {"name": "A", "front": {"tire": "42-622", "fitted": {"made": made_in}}}
    told = {f.severity.value for f in outcome_of(there, read_proposal(change)).findings
            if f.rule == "age-over-policy"}  # fmt: skip
    assert told == ({weight} if weight else set())


def test_severity_and_place_of_the_ones_that_hurt():
    assert ("load-index-below-spec", "stop", "front") in found(
        front("90/90-21 40H"), base=MOTORCYCLE
    )
    low = {"front": {"overall_diameter_mm": 730}}
    assert ("speedometer-under-reads", "caution", "bike") in found(low)
    assert ("speedometer-under-reads", "stop", "bike") in found(low, base=MOTORCYCLE)
    assert ("rim-brake-reach", "caution", "front") in found(front("47-584"), front=BRAKE)


def test_the_heaviest_stands_first():
    result = plan_from_json(raw(plan(front(CAR), base=MOTORCYCLE)))
    weights = [finding.severity.value for finding in result.outcomes[0].findings]
    assert weights == sorted(weights, key=["stop", "caution", "note"].index)


def test_a_shop_that_makes_readings_exact_leaves_none():
    def fired(school, diameter):
        bike = read_bike(MOTORCYCLE["bike"])
        there = as_measured(bike, policy=DEFAULT_POLICY.having({"instruments.school": school}))
        proposal = read_proposal({"name": "A", "front": {"overall_diameter_mm": diameter}})
        return {finding.rule for finding in outcome_of(there, proposal).findings}

    assert "speed-over-policy" in fired(SpeedSchool.EXACT, 690)
    assert "speed-over-policy" not in fired(SpeedSchool.LEAVE, 690)
    assert "speed-over-policy" not in fired(SpeedSchool.EXACT, 695)  # nothing changed


def test_a_moped_is_judged_at_40_only():
    # 1.1 x 40 + 4 = 48 shown at a true 40: 20 % over is allowed, 20.1 % is not.
    moped = {"class": "moped", "speedometer": {"wheel": "front", "reads_over_percent": 20.1}}
    assert "speedometer-over-limit" in rules({}, base=MOTORCYCLE, **moped)
    moped["speedometer"] = {"wheel": "front", "reads_over_percent": 19.9}
    assert "speedometer-over-limit" not in rules({}, base=MOTORCYCLE, **moped)


def test_nothing_ever_says_that_it_fits_or_is_legal():
    for documents in CASES.values():
        for document in documents:
            for finding in plan_from_json(raw(document)).outcomes[0].findings:
                said = f"{finding.headline} {finding.message}".lower()
                assert " fits" not in said
                assert "legal" not in said
