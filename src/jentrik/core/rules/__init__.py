"""All rules, in the order a page shows them, and how a case is judged by them."""

from types import ModuleType
from typing import Any

from jentrik.core.machine.declared import ENDS
from jentrik.core.rules import (
    allowed,
    brakes,
    condition,
    feet,
    frame_limits,
    handling,
    hubs,
    instruments,
    kinds,
    parking,
    rim,
    room,
    room_by_distance,
    steering,
    tire,
)
from jentrik.core.rules.case import Case, Finding, PlaceCase, Rule, Severity, WheelCase, Words

SUBJECTS: dict[ModuleType, str] = {  # in the order a page shows them
    rim: "Tire and rim",
    tire: "Tire and machine",
    allowed: "Load, speed and the maker's sheet",
    condition: "Age, tread and pressure",
    brakes: "Brakes",
    hubs: "Hub, rotor and sensor",
    room: "Clearance",
    room_by_distance: "Clearance",
    frame_limits: "Fork and frame limits",
    parking: "Stands",
    handling: "Steering and handling",
    steering: "Steering and handling",
    feet: "Feet and ground",
    kinds: "Kinds of machine",
    instruments: "Speed, distance and gearing",
}
RULES: tuple[Rule, ...] = tuple(
    value
    for module in SUBJECTS
    for value in vars(module).values()
    if isinstance(value, Rule) and value.module == module.__name__
)
SUBJECT_OF: dict[str, str] = {module.__name__: name for module, name in SUBJECTS.items()}
TITLES: dict[str, str] = {rule.id: rule.title for rule in RULES if rule.title}

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
        _finding(rule, where, words, case)
        for rule in RULES
        for where, subject in subjects[rule.per]
        if (words := rule.check(subject)) is not None
    ]
    return tuple(sorted(findings, key=lambda finding: _WEIGHT[finding.severity]))


def _finding(rule: Rule, where: Any, words: Words, case: Case) -> Finding:
    """Return what a rule found; a caution of assumed figures alone only asks to measure."""
    figures, severity = rule.figures(where), rule.severity
    if severity is Severity.CAUTION and figures and case.found.assumed.issuperset(figures):
        severity = Severity.NOTE
        words = Words(
            f"Measure first: {words.headline[:1].lower()}{words.headline[1:]}",
            f"Every figure behind this is assumed. {words.message}",
        )
    return Finding(
        rule.id,
        severity,
        where,
        words.headline,
        words.message,
        str(rule.source_for(case.found.kind)),
        figures,
        rule.policy,
        rule.law,
        rule.variant,
    )
