"""What a figure rests on, found by moving one figure of a machine at a time."""

from typing import Any

import pytest

from jentrik.core.geometry.figures import Geometry
from jentrik.core.machine.depends import CHASSIS, FOUND, rests_on
from jentrik.core.plan.plan import compute
from jentrik.exchange.plan_document import read_bike, read_proposal

BIKE: dict[str, Any] = {
    "name": "x",
    "kind": "bicycle",
    "wheelbase_mm": 1046.0,
    "head_angle_deg": 71.5,
    "chainstay_mm": 445.0,
    "bb_height_mm": 284.0,
    "seat_angle_deg": 72.5,
    "stack_mm": 577.0,
    "reach_mm": 381.0,
    "fork": {"length_mm": 393.0, "offset_mm": 50.0},
    "front": {"overall_diameter_mm": 696.0},
    "rear": {"overall_diameter_mm": 690.0},
}
CHANGES = {
    "name": "A",
    "front": {"overall_diameter_mm": 678.0},
    "rear": {"overall_diameter_mm": 684.0},
    "fork": {"length_mm": 405.0, "offset_mm": 46.0},
}
INPUTS = (
    "wheelbase_mm",
    "head_angle_deg",
    "chainstay_mm",
    "bb_height_mm",
    "seat_angle_deg",
    "stack_mm",
    "reach_mm",
    "fork.length_mm",
    "fork.offset_mm",
    "front.overall_diameter_mm",
    "rear.overall_diameter_mm",
)


def figures(**moved: float) -> tuple[Geometry, Geometry]:
    """Return the figures as found and planned of the machine with some of it moved."""
    values = {key: dict(part) if isinstance(part, dict) else part for key, part in BIKE.items()}
    for key, by in moved.items():
        *into, leaf = key.split(".")
        part = values[into[0]] if into else values
        part[leaf] += by
    result = compute(read_bike(values), (read_proposal(CHANGES),))
    return result.figures.geometry, result.outcomes[0].figures.geometry


@pytest.mark.parametrize("planned", [False, True])
@pytest.mark.parametrize("key", INPUTS)
def test_a_figure_moves_with_what_it_rests_on_and_with_nothing_else(
    key: str, planned: bool
) -> None:
    base, moved = figures()[planned], figures(**{key: 0.5})[planned]
    for figure in FOUND:
        if figure not in Geometry.__dataclass_fields__:
            continue
        move = abs(float(getattr(moved, figure)) - float(getattr(base, figure)))
        assert (move > 1e-9) <= (key in rests_on(figure, planned=planned)), figure
        if not planned:
            assert (move > 1e-9) >= (key in rests_on(figure, planned=False)), figure


def test_as_planned_every_figure_rests_on_the_chassis() -> None:
    assert FOUND
    for figure in FOUND:
        assert set(CHASSIS) <= set(rests_on(figure, planned=True))
