"""The answer to a plan document: every figure, unrounded, as plain values.

Keys end in their units; null is unknown.
"""

from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from jentrik.core.figures.room import Gap
from jentrik.core.figures.speed import Speed
from jentrik.core.geometry.figures import Geometry
from jentrik.core.plan.answer import Answer, answer_of
from jentrik.core.plan.plan import Outcome, PlanResult, difference, widest_of


def result_document(result: PlanResult) -> dict[str, Any]:
    """Return the answer to a plan document as plain values, unrounded."""
    return {
        "baseline": {
            "geometry": geometry_document(result.figures.geometry),
            "contact": asdict(result.figures.contact),
            "speed": _speed_document(result.figures.speed),
            "room": _room_document(result.figures.room),
            "widest": [asdict(one) for one in widest_of(result)],
        },
        "proposals": [_outcome_document(outcome, result) for outcome in result.outcomes],
    }


def _outcome_document(outcome: Outcome, result: PlanResult) -> dict[str, Any]:
    delta = difference(outcome.figures.geometry, result.figures.geometry)
    return {
        "name": outcome.proposal.name,
        **({"answer": answer_document(answer_of(result, outcome))} if result.advise else {}),
        "geometry": geometry_document(outcome.figures.geometry),
        "delta": _plain(delta),
        "contact": asdict(outcome.figures.contact),
        "speed": _speed_document(outcome.figures.speed),
        "stand": {"lean_deg": outcome.figures.stand_lean_deg},
        "clearances": [
            {
                "name": spot.place.name,
                "wheel": spot.place.wheel,
                "direction": spot.place.direction,
                "on": spot.place.on,
                "gap_mm": spot.place.gap_mm,
                "predicted_gap_mm": _float(spot.predicted_gap_mm),
                "minimum_mm": spot.place.minimum_mm,
                "ok": spot.ok,
                "note": spot.note,
                "least_gap_mm": spot.least_mm,
                "worst_case_gap_mm": _float(spot.worst_case_gap_mm),
                "takes": [{"name": take.name, "mm": float(take.mm)} for take in spot.takes],
                "not_counted": list(spot.not_counted),
            }
            for spot in outcome.figures.clearances
        ],
        "room": _room_document(outcome.figures.room),
        "widest": [asdict(one) for one in widest_of(result, outcome)],
        "findings": [
            {
                "rule": finding.rule,
                "severity": finding.severity.value,
                "where": finding.where,
                "message": finding.message,
                "source": finding.source,
                "headline": finding.headline,
            }
            for finding in outcome.findings
        ],
    }


def answer_document(answer: Answer) -> dict[str, Any]:
    """Return an answer as plain values: verdict, sentence, what decides, cures, what goes."""
    return {
        "verdict": answer.verdict.value,
        "sentence": answer.sentence,
        "because": list(answer.because),
        "decides": [
            {
                "figure": one.figure,
                "label": one.label,
                "unit": one.unit,
                "rules": list(one.rules),
                "turns_at": one.turns_at,
            }
            for one in answer.decides
        ],
        "cures": [
            {
                "for": cure.rule,
                "where": cure.where,
                "change": cure.change,
                "says": cure.says,
                "worst": cure.worst,
                "cost": cure.cost,
            }
            for cure in answer.cures
        ],
        "nearest": [asdict(near) for near in answer.nearest],
    }


def _room_document(gaps: Iterable[Gap]) -> list[dict[str, Any]]:
    """Return the least gap at each part that has lines; what the road takes is off the last."""
    return [
        {
            "name": gap.name,
            "wheel": gap.wheel,
            "direction": gap.direction,
            "from_axle_mm": gap.from_axle_mm,
            "gap_mm": gap.gap_mm,
            "least_gap_mm": gap.least_mm,
            "worst_case_gap_mm": gap.on_the_road_mm,
        }
        for gap in gaps
    ]


def geometry_document(figures: Geometry) -> dict[str, Any]:
    """Return every geometry key with its value or null."""
    return _plain({name: getattr(figures, name) for name in Geometry.__dataclass_fields__})


def _plain(figures: dict[str, Any]) -> dict[str, Any]:
    return {
        name: [
            {"name": point, "x_mm": float(x), "height_mm": float(y)}
            for point, (x, y) in value.items()
        ]
        if name == "points"
        else _float(value)
        for name, value in figures.items()
    }


def _speed_document(speed: Speed) -> dict[str, Any]:
    return {name: _float(getattr(speed, name)) for name in Speed.__dataclass_fields__}


def _float(value: Any) -> float | None:
    return None if value is None else float(value)
