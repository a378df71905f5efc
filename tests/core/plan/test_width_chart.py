"""The rows of the width chart: rim and room each limit an end, by hand."""

from typing import Any

from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.plan.width_chart import WidthRow, in_words, width_rows
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.core.rules.rule_parts import rear_tire, sides
from tests.documents import PLAN


def rows_of(
    rims_mm: dict[Any, float], *proposals: dict[str, Any], **bike: Any
) -> tuple[dict[int, WidthRow], str]:
    there = as_measured(read_bike(PLAN["bike"] | sides(56, minimum_mm=6) | bike))
    outcomes = {
        name: outcome_of(there, read_proposal({"name": name, **change}))
        for name, change in zip("AB", proposals, strict=False)
    }
    rows = width_rows(there, outcomes, rims_mm)
    return {row.bead_seat_diameter_mm: row for row in rows}, in_words(rows, outcomes)


def test_the_rim_that_is_on_it_says_the_narrowest_and_the_room_the_widest() -> None:
    # 19 mm: 28 to 62 by the older table; sides 56 apart less 6 each: 44.
    rim = {"tire": "37-622", "rim": {"inner_width_mm": 19}}
    rows, words = rows_of({}, rear=rim)
    row = rows[622]
    assert (row.narrowest_mm, row.widest_mm, row.missing) == (28, 44, "")
    assert row.narrowest_by.startswith("rim from 28")
    assert [tick.name for tick in row.ticks] == ["on it"]
    assert [size.text for size in row.sizes][-1] == "44-622"
    assert words.startswith("622: 44")


def test_a_narrow_rim_limits_before_the_frame_does() -> None:
    # 13 mm: 18 to 25 by the table.
    rows, _ = rows_of({}, rear={"tire": "25-622", "rim": {"inner_width_mm": 13}})
    assert rows[622].widest_mm == 25
    assert rows[622].limited_by.startswith("rim to 25")


def test_a_rim_no_one_measured_is_named_until_a_kept_wheel_says_its_width() -> None:
    rows, _ = rows_of({})
    assert "rim not measured" in rows[584].missing
    rows, _ = rows_of({("rear", 584.0): 23.0})
    assert (rows[584].missing, rows[584].narrowest_mm) == ("", 40)


def test_proposals_stand_on_the_chart_as_they_go_or_do_not() -> None:
    rows, words = rows_of({}, rear_tire("44-584"), rear_tire("47-584"))
    ticks = {tick.name: tick.goes for tick in rows[584].ticks}
    assert ticks == {"A": True, "B": False}
    assert "584: 44" in words
