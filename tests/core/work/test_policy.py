"""What a shop can set: every leaf of the policy has a field, a reason and a range."""

from dataclasses import fields, is_dataclass
from typing import Any

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.rules import RULES
from jentrik.core.rules.missing import figure_label, missing_figures
from jentrik.core.work.policy import DEFAULT_POLICY, AgeSchool, Band
from jentrik.core.work.policy_fields import POLICY_FIELD, checked_policy, default_of
from jentrik.core.work.policy_table import POLICY_FIELDS


def leaves(branch: Any, path: str = "") -> list[str]:
    if isinstance(branch, dict):
        return [leaf for key, value in branch.items() for leaf in leaves(value, f"{path}{key}.")]
    if is_dataclass(branch):
        return [
            leaf
            for field in fields(branch)
            for leaf in leaves(getattr(branch, field.name), f"{path}{field.name}.")
        ]
    return [path[:-1]]


def test_every_leaf_can_be_set_and_every_field_is_a_leaf() -> None:
    assert sorted(leaves(DEFAULT_POLICY)) == sorted(POLICY_FIELD)
    assert len(POLICY_FIELD) == len(POLICY_FIELDS)


@pytest.mark.parametrize("key", POLICY_FIELD)
def test_a_default_is_allowed_reasoned_and_set_anew_by_its_own_key(key: str) -> None:
    known = POLICY_FIELD[key]
    assert known.why
    assert checked_policy(key, default_of(key)) == default_of(key)
    changed = known.most if known.most is not None else (known.choices or ("words",))[-1]
    assert DEFAULT_POLICY.having({key: changed}).at(key) == changed


def test_only_what_was_set_differs() -> None:
    policy = DEFAULT_POLICY.having({"limits.trail_mm.low": -4.0, "noticeable.trail_mm": 3.0})
    assert policy.limits.trail_mm == Band(-4, 8)
    assert policy.having({"limits.trail_mm.low": -8, "noticeable.trail_mm": 5}) == DEFAULT_POLICY


@pytest.mark.parametrize(
    ("key", "value"),
    [
        ("limits.trail_mm.low", 3.0),
        ("limits.trail_mm.low", float("nan")),
        ("room.mud_mm", "much"),
        ("rubber.age_school", "by feel"),
        ("local_rules", "x" * 601),
        ("nothing", 1.0),
    ],
)
def test_what_no_shop_goes_by_is_refused(key: str, value: float | str) -> None:
    with pytest.raises(OutOfRange):
        checked_policy(key, value)
    assert isinstance(checked_policy("rubber.age_school", AgeSchool.YEARS.value), AgeSchool)


def test_every_policy_a_rule_names_can_be_set_and_every_figure_has_words() -> None:
    for rule in RULES:
        assert set(rule.policy) <= set(POLICY_FIELD), rule.id
        for key in rule.needs:
            assert figure_label(key), rule.id
            assert "{" not in figure_label(key)


def test_a_rule_waits_only_for_the_wheel_that_changes_and_only_where_it_applies() -> None:
    def waiting(kind: str, known: set[Any], changed: set[str]) -> dict[str, Any]:
        result = missing_figures(RULES, kind=kind, known=known, changed=changed)
        return {key: one.rules for one in result for key in one.keys}

    front = waiting("motorcycle", set(), {"front"})
    assert "load-index-below-spec" in front["spec.front.load_index"]
    assert "spec.rear.load_index" not in front
    assert "bb_height_mm" not in front
    assert "spec.front.load_index" not in waiting(
        "motorcycle", {"spec.front.load_index"}, {"front"}
    )
    assert "speedometer.reads_over_percent" not in waiting("bicycle", set(), {"front"})
    assert "speedometer.reads_over_percent" not in waiting(
        "bicycle", {"speedometer.wheel"}, {"front"}
    )  # a computer is set, not judged
    asked = waiting("bicycle", {"speedometer.wheel", "class"}, {"front"})
    assert asked["speedometer.reads_over_percent"] == (
        "speedometer-under-reads",
        "speedometer-over-limit",
    )
