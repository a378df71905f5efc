"""What a search keeps to by default: what a mechanic would mount."""

import copy
import json
from typing import Any

from jentrik.core.tire.sidewall import known_code
from jentrik.exchange.find_document import find_from_json
from tests.documents import MOTORCYCLE, PLAN


def found(base: dict[str, Any] = PLAN, **search: Any) -> dict[str, Any]:
    document = copy.deepcopy(base)
    bike = search.pop("bike", {})
    document["bike"] |= bike
    document["search"] = search
    del document["proposals"]
    return find_from_json(json.dumps(document).encode())


def pairs(answer: dict[str, Any]) -> list[tuple[Any, Any]]:
    return [(known_code(pair["front"]), known_code(pair["rear"])) for pair in answer["pairs"]]


def test_by_default_one_rim_widths_near_what_is_on_and_not_what_is_on() -> None:
    answer = found(limit=500)
    there = pairs(answer)
    assert there
    for front, rear in there:
        assert front.bead_seat_diameter_mm == rear.bead_seat_diameter_mm
        for tire in (front, rear):  # 37 wide as found
            assert 0.75 * 37 <= tire.width_mm <= 1.5 * 37
    assert ("37-622", "37-622") not in [(front.text, rear.text) for front, rear in there]
    mixed = pairs(found(limit=500, mixed=True))
    assert any(f.bead_seat_diameter_mm != r.bead_seat_diameter_mm for f, r in mixed)


def test_a_machine_on_two_rims_may_stay_on_two() -> None:
    there = pairs(found(MOTORCYCLE, limit=500))
    assert any(f.bead_seat_diameter_mm != r.bead_seat_diameter_mm for f, r in there)
    for front, rear in there:  # family, casing and load of what is on
        assert {front.family, rear.family} == {"motorcycle-metric"}
        assert front.load_index >= 54
        assert rear.load_index >= 65


def test_widths_may_be_asked_for_and_a_list_is_taken_as_it_is() -> None:
    asked = pairs(found(limit=500, widths_mm=[30, 33]))
    assert {tire.width_mm for pair in asked for tire in pair} <= {30.0, 32.0, 33.0}
    codes = ["37-622", "23-571", "57-559"]
    listed = found(limit=500, sizes=codes)
    assert listed["tried"] == 9


def test_groups_name_the_widths_of_each_rim_and_the_rule_that_stops_the_next() -> None:
    # 9 mm at the stays, 6 asked for: 43, of the standard sizes 42.
    answer = found()
    group = next(one for one in answer["groups"] if one["bead_seat_diameter_mm"] == 622)
    assert (group["end"], group["widest_mm"]) == ("both", 42)
    assert group["limited_by"] == "clearance-below-minimum"
    rear = found(ends="rear")["groups"]
    assert {one["end"] for one in rear} == {"rear"}


def test_soft_ground_asks_for_wide_tires_first() -> None:
    def mean(ground: str) -> float:
        there = pairs(found(bike={"ground": ground}, limit=10))
        return float(sum(one.width_mm + two.width_mm for one, two in there)) / len(there)

    assert mean("unpaved") > mean("paved")
