"""What a shop can set, by key: looked up, checked, at its default."""

import re
from collections.abc import Mapping
from typing import Any

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.geometry.frame import within
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.core.work.policy_field import PolicyField
from jentrik.core.work.policy_table import POLICY_FIELDS

LONGEST_RULE_TEXT, LONGEST_LINE = 600, 120
_TEXTS = {  # what a text on one line may be, and what is asked for
    "line": (re.compile(r"[^\n]*"), "words on one line"),
    "site": (re.compile(r"(https?://[^\s/?#@]+)?"), "like http://192.168.1.20:8000"),
    "picture": (re.compile(r"([0-9a-f]{32}\.jpg)?"), "a picture that was sent"),
}

POLICY_FIELD = {field.key: field for field in POLICY_FIELDS}


def checked_policy(key: str, value: float | str) -> float | str:
    """Return a value a policy can hold under that key; refuses any other."""
    known = POLICY_FIELD.get(key)
    if known is None:
        raise OutOfRange(f"“{key[:40]}” is not a thing a shop sets.", expected="a policy")
    if known.school is not None:
        if value not in known.choices:
            raise OutOfRange("Choose one of the schools in the list.", expected="a school")
        return known.school(value)
    if known.letters is not None:
        code = str(value).strip().upper()
        if len(code) != known.letters or not (code.isascii() and code.isalpha()):
            raise OutOfRange(f"{known.label} is {known.letters} letters.", expected="like EUR")
        return code
    if isinstance(value, str):
        if known.least is not None:
            raise OutOfRange(f"{known.label} is a figure.", expected=f"a figure in {known.unit}")
        return _text(known, value)
    if known.least is None or known.most is None:
        raise OutOfRange(f"{known.label} is a text.", expected="words")
    within(known.label.lower(), value, least=known.least, most=known.most, unit=known.unit)
    return value


def _text(known: PolicyField, value: str) -> str:
    most = LONGEST_RULE_TEXT if known.text == "long" else LONGEST_LINE
    if len(value) > most:
        raise OutOfRange(
            f"That is {len(value)} characters; {most} are kept.", expected="a shorter text"
        )
    form, expected = _TEXTS.get(known.text, (None, ""))
    value = value if form is None else value.strip()
    if form is not None and not form.fullmatch(value):
        raise OutOfRange(f"{known.label} cannot be that.", expected=expected)
    return value


def default_of(key: str) -> float | str:
    """Return what common practice has under that key."""
    value = DEFAULT_POLICY.at(key)
    assert isinstance(value, float | int | str)
    return value


def known_policy(values: Mapping[str, Any]) -> dict[str, float | str]:
    """Return what was set of a policy, without what this program does not know."""
    known = {}
    for key, value in values.items():
        try:
            known[key] = checked_policy(key, value)
        except Refusal:
            continue
    return known
