"""What the tape can tell of a change: against hand working and against many drawn machines."""

import math
from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np
import pytest

from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.readings import OF_SECTION_HEIGHT
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.plan.plan import PlanResult, as_measured, outcome_of
from jentrik.core.plan.uncertainty import tells
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import PLAN

DAY = date(2026, 11, 23)
KEYS = ("wheelbase_mm", "head_angle_deg", "chainstay_mm", "bb_height_mm", "stack_mm", "reach_mm")
REAR = read_proposal({"name": "A", "rear": {"tire": "47-584"}})


def kept(**plus_minus: Any) -> Sheet:
    figures = {
        key: Figure(PLAN["bike"][key], Provenance.MEASURED, DAY, plus_minus.get(key))
        for key in KEYS
    }
    return Sheet(1, "tourer", "bicycle", DrawnAs.DIAMOND, figures)


def machine(**figures: Any) -> PlanResult:
    return as_measured(read_bike(PLAN["bike"] | figures))


def test_a_wheel_told_by_its_code_is_worth_a_twentieth_of_its_section() -> None:
    # Only the rear tire differs: 37 and 47 mm of section, each worth 5 %, over a 1050 mm base.
    still = dict.fromkeys(KEYS, 0.0)
    result = tells(kept(**still), machine(), REAR)
    old, new = OF_SECTION_HEIGHT * 37, OF_SECTION_HEIGHT * 47
    by_hand = math.degrees(math.hypot(old, new) / 1050)
    assert result["head_angle_deg"] == pytest.approx(by_hand, rel=0.03)


def test_the_wheelbase_hardly_matters_and_a_sheet_without_figures_tells_its_tires() -> None:
    still = dict.fromkeys(KEYS, 0.0)
    loose = tells(kept(**still | {"wheelbase_mm": 20.0}), machine(), REAR)
    tight = tells(kept(**still), machine(), REAR)
    # 9 mm over 1050 or 1070 mm: 0.491 against 0.482 degrees
    moved = math.sqrt(loose["head_angle_deg"] ** 2 - tight["head_angle_deg"] ** 2)
    assert moved == pytest.approx(math.degrees(9 / 1050 - 9 / 1070), rel=0.05)


def test_every_part_of_a_proposal_can_be_told() -> None:
    changed = read_proposal(
        {
            "name": "A",
            "front": {"tire": "47-584"},
            "headset_turn_deg": -1.0,
            "lower_cup_mm": 5.0,
            "fork": {"length_mm": 400.0, "offset_mm": 45.0},
            "rear_axle_shift_mm": {"x": 2, "y": -3},
        }
    )
    result = tells(kept(), machine(), changed)
    assert set(result) == {
        "head_angle_deg",
        "trail_mm",
        "bb_height_mm",
        "wheelbase_mm",
        "reach_mm",
        "stack_mm",
    }
    assert all(doubt > 0 for doubt in result.values())


def test_the_spread_of_many_machines_is_what_was_told() -> None:
    """Draw machines inside the ± and look at the spread of the change itself."""
    worth = {
        "wheelbase_mm": 3.0,
        "head_angle_deg": 0.4,
        "chainstay_mm": 2.0,
        "bb_height_mm": 2.0,
        "stack_mm": 2.0,
        "reach_mm": 2.0,
    }
    measured = {"tire": "37-622", "overall_diameter_mm": 696.0}
    wheels = {"front": measured, "rear": measured}
    planned = read_proposal({"name": "A", "rear": {"overall_diameter_mm": 678.0}})
    result = tells(kept(**worth), machine(**wheels), planned)
    rng = np.random.default_rng(3)
    changes = []
    for _ in range(1500):
        drawn = {key: PLAN["bike"][key] + rng.normal(0, pm) for key, pm in worth.items()}
        ends = {
            end: {"tire": "37-622", "overall_diameter_mm": 696 + rng.normal(0, 2.0)}
            for end in ("front", "rear")
        }
        there = machine(**drawn | ends)
        rear = replace(planned.rear, overall_diameter_mm=678 + rng.normal(0, 2.0))
        outcome = outcome_of(there, replace(planned, rear=rear))
        changes.append(
            [
                float(
                    getattr(outcome.figures.geometry, name) - getattr(there.figures.geometry, name)
                )
                for name in ("head_angle_deg", "trail_mm", "bb_height_mm")
            ]
        )
    spread = np.std(np.array(changes), axis=0)
    for name, seen in zip(("head_angle_deg", "trail_mm", "bb_height_mm"), spread, strict=True):
        assert result[name] == pytest.approx(seen, rel=0.12), name
