"""All rules, in the order a page shows them, and how a case is judged by them."""

from collections.abc import Iterator

from jentrik.core.rules import frame, handling, instruments, room, tire
from jentrik.core.rules.case import Case, Finding, Rule, Severity, WheelCase, Words
from jentrik.core.suspension import ENDS

RULES: tuple[Rule, ...] = tire.RULES + room.RULES + frame.RULES + handling.RULES + instruments.RULES

_WEIGHT = {Severity.STOP: 0, Severity.CAUTION: 1, Severity.NOTE: 2}


def judge(case: Case) -> tuple[Finding, ...]:
    """Return every finding, the heaviest first, else in the order of the rules."""
    findings = [
        Finding(rule.id, rule.severity, where, words.headline, words.message, str(rule.source))
        for rule in RULES
        for where, words in _answers(rule, case)
    ]
    return tuple(sorted(findings, key=lambda finding: _WEIGHT[finding.severity]))


def _answers(rule: Rule, case: Case) -> Iterator[tuple[str, Words]]:
    match rule.per:
        case "wheel":
            asked = [(str(end), rule.check(WheelCase(end, case))) for end in ENDS]
        case "clearance":
            asked = [(spot.place.wheel, rule.check(spot)) for spot in case.clearances]
        case per:
            asked = [(per, rule.check(case))]
    for where, words in asked:
        if words is not None:
            yield where, words
