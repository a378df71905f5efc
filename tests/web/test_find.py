"""A search as a document: what comes back, and what is refused with a path."""

import copy
import json
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jentrik.cli import main
from jentrik.core.errors import DocumentError, Refusal
from jentrik.exchange.find_document import find_from_json
from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json
from tests.documents import MOTORCYCLE, PLAN, raw

KEYS = {
    "front",
    "rear",
    "position",
    "fork_longer_mm",
    "score",
    "worst",
    "head_angle_delta_deg",
    "trail_delta_mm",
    "bb_delta_mm",
    "indicated_at_100_kmh",
    "least_gap_mm",
    "sizes_like_it",
}


def asked(base: dict[str, Any] = PLAN, **search: Any) -> bytes:
    return raw({**copy.deepcopy(base), "search": search})


def test_pairs_are_what_the_plan_of_the_same_machine_says() -> None:
    answer = find_from_json(asked(limit=6))
    assert answer["tried"] > 500
    assert len(answer["pairs"]) == 6
    for pair in answer["pairs"]:
        assert pair.keys() == KEYS
        proposal = {"name": "x", "front": {"tire": pair["front"]}, "rear": {"tire": pair["rear"]}}
        (alone,) = result_document(plan_from_json(raw({**PLAN, "proposals": [proposal]})))[
            "proposals"
        ]
        assert pair["trail_delta_mm"] == alone["delta"]["trail_mm"]
        assert pair["bb_delta_mm"] == alone["delta"]["bb_height_mm"]
        assert pair["head_angle_delta_deg"] == alone["delta"]["head_angle_deg"]
        assert pair["indicated_at_100_kmh"] == alone["speed"]["indicated_at_100_kmh"]
        gaps = [one["predicted_gap_mm"] for one in alone["clearances"]]
        assert pair["least_gap_mm"] == min(gaps)


def test_rules_stand_in_page_order_and_only_take_away() -> None:
    left = find_from_json(asked(MOTORCYCLE, limit=1))["left"]
    counts = [one["after"] for one in left]
    assert len(left) > 15
    assert counts == sorted(counts, reverse=True)
    assert left[0]["rule"] == "rim-diameter-mismatch"


def test_rims_that_stay_leave_sizes_of_their_own_bead_seat() -> None:
    answer = find_from_json(asked(rims="kept", limit=500))
    assert all("622" in pair["front"] and "622" in pair["rear"] for pair in answer["pairs"])
    assert answer["pairs"]


@pytest.mark.parametrize(
    ("search", "field"),
    [
        ({"sizes": "shelf"}, "search.sizes"),
        ({"sizes": ["37-622", "rubber"]}, "search.sizes[1]"),
        ({"sizes": []}, "search.sizes"),
        ({"sizes": ["700C"]}, "search.sizes[0]"),
        ({"limit": 0}, "search.limit"),
        ({"limit": 2.5}, "search.limit"),
        ({"weights": {"taste": 1}}, "search.weights.taste"),
        ({"weights": {"room": -1}}, "search.weights.room"),
        ({"ends": "middle"}, "search.ends"),
        ({"fork_steps_mm": []}, "search.fork_steps_mm"),
    ],
)
def test_what_cannot_be_looked_for_is_refused(search: dict[str, Any], field: str) -> None:
    with pytest.raises(Refusal) as refused:
        find_from_json(asked(**search))
    assert refused.value.field == field


def test_a_search_with_proposals_is_refused() -> None:
    with pytest.raises(DocumentError, match="makes them"):
        find_from_json(raw({**PLAN, "proposals": [{"name": "A"}], "search": {}}))


def test_the_command_and_the_api_say_the_same(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], client: TestClient
) -> None:
    file = tmp_path / "search.json"
    file.write_bytes(asked(sizes=["37-622", "42-622", "47-584"], limit=3))
    assert main(["find", str(file), "--json"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert client.post("/api/find", content=file.read_bytes()).json() == said
    assert main(["find", str(file)]) == 0
    assert capsys.readouterr().out.startswith("9 combinations tried.")
    shelf = client.post("/api/find", content=asked(MOTORCYCLE, sizes="shelf")).json()
    codes = {one["code"] for one in client.get("/api/shelf").json()["tires"]}
    assert shelf["tried"] == len(codes) ** 2
    file.write_bytes(b"{")
    assert main(["find", str(file)]) == 2
    assert client.post("/api/find", content=b"{").status_code == 422
