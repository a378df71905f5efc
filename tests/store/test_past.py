"""The journal in words: one row changed, added, taken away; nothing of the database shows."""

import json
from typing import Any

import pytest

from jentrik.core.amounts import in_plain
from jentrik.store import records
from jentrik.store.past import moved_by
from jentrik.web.shop import Shop


def entry(
    table: str, before: dict[str, Any] | None = None, after: dict[str, Any] | None = None
) -> dict[str, Any]:
    return {"table": table, "id": 1, "before": before, "after": after}


def figure(
    value: float | str, provenance: str = "measured", key: str = "wheelbase_mm"
) -> dict[str, str]:
    return {"key": key, "value": json.dumps(value), "provenance": provenance}


STEP = {
    "card_id": 1,
    "plan": "Wheel in | torque: axle",
    "torque_nm": None,
    "torque_source": None,
    "reading": None,
    "done_by": None,
    "done_at": None,
    "waived": None,
}
DONE = {"torque_nm": 65.0, "torque_source": "on the part", "done_by": "Ida", "done_at": "2026-11"}
JOB = {
    "tag": 29,
    "wanted": "New tire",
    "due_on": "2026-11-27",
    "closed_at": None,
    "binned_at": None,
}
PROPOSAL = {"name": "B", "changes": '{"rear": {"tire": "50-559", "hub": {"spacing_mm": 135}}}'}


@pytest.mark.parametrize(
    ("one", "result"),
    [
        (
            entry("measurement", figure(1415.0, "assumed"), figure(1420.0)),
            ("Wheelbase", "1415 mm (assumed)", "1420 mm (measured)"),
        ),
        (
            entry("measurement", None, figure("50-559", key="rear.tire")),
            ("Tire code, rear", "", "50-559 (measured)"),
        ),
        (
            entry("measurement", figure(95.0, key="rear.overall_diameter_mm")),
            ("Measured diameter, rear", "95 mm (measured)", ""),
        ),
        (entry("job", None, JOB), ("Tag 29", "", "wanted New tire, promised 27 Nov 2026")),
        (
            entry("job", JOB, JOB | {"closed_at": "2026-11-27T17:00:00"}),
            ("Tag 29: closed", "", "27 Nov 2026"),
        ),
        (
            entry("proposal", PROPOSAL, PROPOSAL | {"changes": '{"rear": {"tire": "50-559"}}'}),
            ("Proposal B: rear hub spacing", "135", ""),
        ),
        (
            entry("card_step", STEP, STEP | DONE),
            ("Wheel in", "open", "65 N·m on the part, done by Ida"),
        ),
        (
            entry("card_step", STEP, STEP | {"waived": "no such bolt (Bo)"}),
            ("Wheel in", "open", "left out: no such bolt (Bo)"),
        ),
        (
            entry(
                "inspection",
                None,
                {
                    "wheel": "rear",
                    "tire": "50-559",
                    "tread": "[5.3, 4.2, 5.3]",
                    "signs": '["cut in the rubber only"]',
                    "pressure_kpa": 195.0,
                    "made": "1023",
                    "note": "",
                },
            ),
            (
                "Look at the tire, rear",
                "",
                "50-559, cut in the rubber only, tread mm 5.3/4.2/5.3, kPa 195, made 1023",
            ),
        ),
        (
            entry("approved_pair", {"name": "Spoked", "front_tire": "90/90-19", "rear_tire": "x"}),
            ("Maker's pair, Spoked", "front 90/90-19, rear x", ""),
        ),
    ],
)
def test_one_row_is_told_in_the_words_of_the_bench(
    one: dict[str, Any], result: tuple[str, str, str]
) -> None:
    (moved,) = moved_by([one])
    assert tuple(map(in_plain, (moved.what, moved.before, moved.after))) == result


def test_a_new_card_is_one_line_and_what_did_not_move_is_none() -> None:
    card = entry("card", None, {"proposal": "A", "template": "Tire swap"})
    steps = [entry("card_step", None, STEP), entry("card_step", STEP, STEP | DONE)]
    same = entry("measurement", figure(1415.0), figure(1415.0))
    assert [one.what for one in moved_by([card, *steps, same])] == ["Job card", "Wheel in"]
    assert [one.what for one in moved_by([entry("card_step", None, STEP | {"card_id": 9})])] == [
        "Wheel in"
    ]


def test_the_demos_changes_all_have_words(shop: Shop) -> None:
    for machine in range(1, 12):
        result = records.history(machine)
        assert all(change.moved and change.by in ("Ida", "Bo") for change in result)
        assert [change.at for change in result] == sorted((c.at for c in result), reverse=True)
        words = " ".join(
            f"{m.what} {m.before} {m.after}" for change in result for m in change.moved
        )
        assert not [mark for mark in ("_", "{", "[", '"', "None") if mark in words]
