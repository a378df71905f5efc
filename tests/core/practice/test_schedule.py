"""When a skill comes again: what sits, what is due, and what waits a turn."""

from datetime import datetime, timedelta

import pytest

from jentrik.core.practice.item import Verdict
from jentrik.core.practice.schedule import Practised, next_kind, reviewed
from jentrik.core.practice.skills import SKILLS

NOW = datetime(2026, 11, 2, 8, 0).astimezone()
FIRST, SECOND, THIRD, *_ = (one.kind for one in SKILLS if not one.needs)


def practised(kind: str, *verdicts: Verdict, ago: timedelta = timedelta(0)) -> Practised:
    card = None
    for verdict in verdicts:
        card = reviewed(card, verdict, NOW - ago)
    assert card is not None
    return Practised(kind, card, tuple(one.value for one in verdicts))


@pytest.mark.parametrize(
    ("verdicts", "sits", "share"),
    [
        ((), False, 0.0),
        (("right", "right"), False, 1.0),
        (("right", "right", "right"), True, 1.0),
        (("wrong", "right", "right", "right"), True, 0.75),
        (("right", "right", "right", "near"), False, 0.75),
    ],
)
def test_three_right_answers_in_a_row_sit(
    verdicts: tuple[str, ...], sits: bool, share: float
) -> None:
    one = Practised("x", "", verdicts)
    assert (one.sits, one.right_share) == (sits, share)


def test_of_what_is_due_the_least_likely_known_comes_first() -> None:
    weak = practised(FIRST, Verdict.WRONG, ago=timedelta(days=30))
    strong = practised(SECOND, Verdict.RIGHT, Verdict.RIGHT, ago=timedelta(days=30))
    assert weak.recall(NOW) < strong.recall(NOW)
    known = {one.kind: one for one in (strong, weak)}
    assert next_kind(known, NOW) == FIRST
    assert next_kind(known, NOW, [FIRST]) == SECOND  # what was just asked waits


def test_without_anything_due_a_new_skill_comes_and_then_what_is_due_first() -> None:
    fresh = {FIRST: practised(FIRST, Verdict.RIGHT)}
    assert next_kind(fresh, NOW) not in fresh
    every = {
        one.kind: practised(one.kind, Verdict.RIGHT, Verdict.RIGHT, Verdict.RIGHT) for one in SKILLS
    }
    soon = practised(THIRD, Verdict.WRONG)
    known = every | {THIRD: soon}
    assert min(known.values(), key=lambda one: one.due).kind == THIRD
    assert next_kind(known, NOW) == THIRD
    assert next_kind({THIRD: soon} | {"gone": practised("gone", Verdict.WRONG)}, NOW) != "gone"


def test_a_wrong_answer_comes_sooner_than_a_near_one_and_that_than_a_right_one() -> None:
    after = [
        practised(FIRST, Verdict.RIGHT, one).due
        for one in (Verdict.WRONG, Verdict.NEAR, Verdict.RIGHT)
    ]
    assert after == sorted(after)
    assert after[0] < after[2]
