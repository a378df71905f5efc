"""The fair-compare guard: what differed, and when a comparison says nothing."""

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.setup import Setup
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.core.work.ride import Comparison, Ride, compare

D = date(2026, 10, 1)


def parts(**values: Any) -> dict[str, Figure]:
    named = {"front": "front.tire", "rear": "rear.tire", "kpa": "rear.fitted.pressure_kpa"}
    usual = {"front": "58-584", "rear": "58-584", "kpa": 165.0} | values
    return {named[key]: Figure(value, Provenance.MEASURED, D) for key, value in usual.items()}


BEFORE = Setup(1, "old", parts(), D)
AFTER = replace(BEFORE, id=2, name="new", parts=parts(kpa=145.0))


def ride(days: int, **more: Any) -> Ride:
    usual = {
        "weather": "dry",
        "ground": "firm",
        "form": "as usual",
        "rider": "Bo",
        "trail": "ridge",
        "scores": {"rear grip": 3},
    }
    return Ride(id=0, setup_id=1, on=D + timedelta(days=days), **(usual | more))


THEN = [ride(day) for day in (0, 2, 4)]
NOW = [ride(day, scores={"rear grip": 4}) for day in (7, 9, 11)]


def compared(
    before: Setup = BEFORE,
    then: list[Any] = THEN,
    after: Setup = AFTER,
    now: list[Ride] = NOW,
    policy: Policy = DEFAULT_POLICY,
) -> Comparison:
    answer = compare(before, then, after, now, policy)
    return replace(answer, changed=tuple(in_plain(one) for one in answer.changed))


def test_one_change_over_enough_like_rides_says_what_was_felt() -> None:
    answer = compared()
    assert answer.changed == ("rear pressure 165 → 145 kPa",)
    assert (answer.besides, answer.nothing) == ((), ())
    assert answer.felt == ("rear grip better (3.0 to 4.0)",)
    same = compared(now=[ride(day, scores={"rear grip": 3}) for day in (7, 9, 11)])
    assert same.felt == ()


def test_a_tire_and_its_own_pressure_are_one_change() -> None:
    both = parts(rear="58-559", kpa=145.0)
    assert compared(after=replace(AFTER, parts=both)).changed == (
        "rear tire 58-584 → 58-559; rear pressure 165 → 145 kPa",
    )


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"after": BEFORE}, "are the same"),
        ({"after": replace(AFTER, parts=parts(front="60-584", kpa=145.0))}, "at once"),
        ({"now": NOW[:2]}, "2 of the 3 rides"),
        ({"then": []}, "0 of the 3 rides"),
        ({"now": [replace(one, weather="wet", rider="Ida") for one in NOW]}, "More than one"),
    ],
)
def test_a_comparison_that_says_nothing_says_why(change: dict[str, Any], said: str) -> None:
    assert any(said in one for one in compared(**change).nothing)


def test_what_differed_besides_is_named() -> None:
    wet = compared(now=[replace(one, weather="wet") for one in NOW])
    assert wet.besides == ("weather: dry, then wet",)
    assert wet.nothing == ()
    late = compared(now=[replace(one, on=one.on + timedelta(days=20)) for one in NOW])
    assert late.besides == ("23 days between",)
    mixed = compared(
        then=[*THEN, ride(5, weather="wet")], now=[replace(one, weather="wet") for one in NOW]
    )
    assert mixed.besides == ()  # both saw rain


def test_the_shop_says_how_many_rides_and_changes_are_fair() -> None:
    policy = DEFAULT_POLICY.having({"comparing.rides_before_judging": 2.0})
    assert compared(then=THEN[:2], now=NOW[:2], policy=policy).nothing == ()


@pytest.mark.parametrize(
    "more",
    [
        {"weather": "snow"},
        {"form": "ill"},
        {"scores": {"rear grip": 6}},
        {"scores": {"speed": 3}},
        {"ground": ""},
    ],
)
def test_what_no_ride_is_scored_on_is_refused(more: dict[str, Any]) -> None:
    with pytest.raises(OutOfRange):
        ride(0, **more)
