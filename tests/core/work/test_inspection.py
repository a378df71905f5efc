"""Looks at tires: shapes of wear, signs, age, tread and pressure, by hand."""

from datetime import date
from typing import Any

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.rules import RULES
from jentrik.core.rules.case import Severity
from jentrik.core.work.inspection import (
    SIGNS,
    Inspection,
    Judgement,
    Look,
    Result,
    Sign,
    TireDemands,
    as_it_stands,
    judge_look,
    wanted_kpa,
    wear_shape,
)
from jentrik.core.work.policy import DEFAULT_POLICY, AgeSchool, Policy, PressureSchool

TODAY = date(2026, 11, 25)


def look(**more: Any) -> Inspection:
    return Inspection(**({"end": "rear", "look": Look.PERIODIC, "on": TODAY, "tire": "x"} | more))


def judged(
    asked: TireDemands | None = None, policy: Policy = DEFAULT_POLICY, **more: Any
) -> Judgement:
    return judge_look(look(**more), asked or TireDemands(), policy)


@pytest.mark.parametrize(
    ("tread", "shape"),
    [
        ((5, 5, 5), "even"),
        ((5, 3.9, 5), "middle"),
        ((5, 4.6, 5), "even"),
        ((3, 5, 3.2), "both edges"),
        ((2.5, 4.6, 5), "left edge"),
        ((5, 4.6, 2.5), "right edge"),
        ((1.0, 0.7, 1.0), "even"),  # a third less, but 0.3 mm is nothing
    ],
)
def test_wear_has_a_shape_beyond_half_a_millimetre_and_a_fifth(
    tread: tuple[Any, ...], shape: str
) -> None:
    assert wear_shape(tread) == shape


@pytest.mark.parametrize("sign", SIGNS, ids=lambda one: one.name)
def test_every_sign_comes_to_what_it_says(sign: Sign) -> None:
    outcome = judged(signs=(sign.name,))
    assert outcome.result is sign.result
    assert sign.why in outcome.reasons[0].says


def test_the_heaviest_reason_decides_and_stands_first() -> None:
    outcome = judged(signs=("moulding whiskers", "foreign body", "cut to the casing"))
    assert outcome.result is Result.REPLACE
    assert [reason.result for reason in outcome.reasons] == ["replace", "watch", "keep"]
    assert judged().result is Result.KEEP


@pytest.mark.parametrize(
    ("least", "rule", "result"),
    # 1.6 mm is the common rule for motorcycles in several countries, 3 mm the shop's own.
    [
        (1.5, 1.6, "replace"),
        (1.6, 1.6, "watch"),
        (2.9, 1.6, "watch"),
        (3.0, 1.6, "keep"),
        (0.5, None, "keep"),
    ],
)
def test_tread_against_the_common_rule_and_the_shop(
    least: float, rule: float | None, result: str
) -> None:
    outcome = judged(TireDemands(rule_tread_mm=rule), tread_mm=(least, least, least))
    assert outcome.result == result


@pytest.mark.parametrize(
    ("made", "which", "school", "result"),
    [
        ("4716", Look.PERIODIC, AgeSchool.YEARS, "replace"),  # ten years and two days
        ("4816", Look.PERIODIC, AgeSchool.YEARS, "watch"),
        ("4821", Look.PERIODIC, AgeSchool.YEARS, "keep"),  # 29 November 2021
        ("4721", Look.PERIODIC, AgeSchool.YEARS, "watch"),
        ("4721", Look.RECEIVING, AgeSchool.YEARS, "replace"),
        ("4716", Look.PERIODIC, AgeSchool.CONDITION, "watch"),
        ("158", Look.PERIODIC, AgeSchool.CONDITION, "replace"),
    ],
)
def test_age_by_the_shops_school(made: str, which: Look, school: AgeSchool, result: str) -> None:
    policy = DEFAULT_POLICY.having({"rubber.age_school": school})
    assert judged(policy=policy, made=made, look=which).result == result


def test_the_sidewall_is_a_wall_in_every_school() -> None:
    for school in PressureSchool:
        policy = DEFAULT_POLICY.having({"rubber.pressure_school": school})
        outcome = judged(TireDemands(sidewall_kpa=280), policy, pressure_kpa=290)
        assert "above the sidewall" in outcome.reasons[0].says


def test_pressure_by_placard_by_load_and_by_feel() -> None:
    asked = TireDemands(placard_kpa=250, sidewall_kpa=290, axle_load_kg=150, load_kg=200)
    assert wanted_kpa(asked, PressureSchool.PLACARD) == (250, "by the maker's placard")
    # 290 kPa carry 200 kg; 150 kg need three quarters.
    assert wanted_kpa(asked, PressureSchool.LOAD)[0] == pytest.approx(217.5)
    assert wanted_kpa(asked, PressureSchool.FEEL)[0] == pytest.approx(217.5)
    assert wanted_kpa(TireDemands(), PressureSchool.LOAD)[0] is None
    # Ten percent short is what a cold night makes of it.
    assert judged(asked, pressure_kpa=225).result is Result.KEEP
    assert judged(asked, pressure_kpa=224).result is Result.WATCH


def test_a_pressure_clearly_over_what_is_wanted_is_remarked() -> None:
    asked = TireDemands(placard_kpa=250, sidewall_kpa=400)
    assert judged(asked, pressure_kpa=287).result is Result.KEEP  # 15 % over is 287.5
    outcome = judged(asked, pressure_kpa=288)
    assert outcome.result is Result.WATCH
    assert "let air out" in outcome.reasons[0].says


def test_causes_of_a_machine_that_leans_and_of_one_that_does_not() -> None:
    worn = (3.0, 5.0, 3.2)
    assert "cornering" in judged(tread_mm=worn).reasons[0].says
    assert "cornering" not in judged(TireDemands(leans=False), tread_mm=worn).reasons[0].says


def test_signs_once_seen_stay_until_looked_at_again() -> None:
    cracked = look(signs=("cracks on the sidewall",), tread_mm=(5, 5, 5), made="4820")
    pumped = look(pressure_kpa=250)
    standing = as_it_stands([cracked, pumped])
    assert (standing.signs, standing.tread_mm, standing.made) == (cracked.signs, (5, 5, 5), "4820")
    assert standing.pressure_kpa == 250
    worn = look(tread_mm=(4, 4, 4))  # a tread alone does not mend a crack
    again = as_it_stands([cracked, pumped, worn])
    assert (again.signs, again.tread_mm) == (cracked.signs, (4, 4, 4))
    over = as_it_stands([cracked, worn, look(signs=("nothing found",))])
    judgement = judge_look(over, TireDemands(), DEFAULT_POLICY)
    assert [reason.says for reason in judgement.reasons if reason.result is Result.REPLACE] == []
    assert as_it_stands([]) is None


def test_an_arrow_and_a_wrong_end_weigh_here_as_on_the_bench() -> None:
    against = next(one for one in RULES if one.id == "rotation-direction")
    other_end = next(one for one in RULES if one.id == "position-mismatch")
    assert (against.severity, judged(signs=("turns against its arrow",)).result) == (
        Severity.STOP,
        Result.MEND,
    )
    assert (other_end.severity, judged(signs=("marked for the other end",)).result) == (
        Severity.CAUTION,
        Result.WATCH,
    )


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"tread_mm": (5, -1, 5)}, "tread_mm"),
        ({"signs": ("ghosts",)}, "signs"),
        ({"signs": ("nothing found", "foreign body")}, "signs"),
        ({"made": "6023"}, "made"),
        ({"pressure_kpa": 5000}, "pressure_kpa"),
    ],
)
def test_what_no_look_finds_is_refused(more: dict[str, Any], field: str) -> None:
    with pytest.raises(OutOfRange) as refused:
        look(**more)
    assert refused.value.field == field
