"""All rules, in the order a page shows them, and how a case is judged by them."""

from typing import Any

from jentrik.core.machine.suspension import ENDS
from jentrik.core.rules import (
    allowed,
    brakes,
    condition,
    feet,
    frame_limits,
    handling,
    hubs,
    instruments,
    parking,
    room,
    tire,
)
from jentrik.core.rules.case import Case, Finding, PlaceCase, Rule, Severity, WheelCase

RULES: tuple[Rule, ...] = (
    *tire.RULES,
    *allowed.RULES,
    *condition.RULES,
    *brakes.RULES,
    *hubs.RULES,
    *room.RULES,
    *frame_limits.RULES,
    *parking.RULES,
    *handling.RULES,
    *feet.RULES,
    *instruments.RULES,
)

_WEIGHT = {Severity.STOP: 0, Severity.CAUTION: 1, Severity.NOTE: 2}


def judge(case: Case) -> tuple[Finding, ...]:
    """Return every finding, the heaviest first, else in the order of the rules."""
    subjects: dict[str, list[tuple[str, Any]]] = {
        "wheel": [(end, WheelCase.of(end, case)) for end in ENDS],
        "clearance": [(spot.place.wheel, PlaceCase(spot, case)) for spot in case.after.clearances],
        "pair": [("pair", case)],
        "bike": [("bike", case)],
    }
    findings = [
        Finding(
            rule.id,
            rule.severity,
            where,
            words.headline,
            words.message,
            str(rule.source_for(case.found.kind)),
            rule.figures(where),
            rule.policy,
            rule.law,
            rule.variant,
        )
        for rule in RULES
        for where, subject in subjects[rule.per]
        if (words := rule.check(subject)) is not None
    ]
    return tuple(sorted(findings, key=lambda finding: _WEIGHT[finding.severity]))
