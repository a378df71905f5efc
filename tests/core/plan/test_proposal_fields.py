"""Every change a page offers is one the plan document knows, and reads back the same."""

from typing import Any

import pytest

from jentrik.core.machine.declared import Kind
from jentrik.core.machine.fields import STRAIGHT_FORK
from jentrik.core.plan.proposal_fields import (
    GROUPS,
    PROPOSAL_FIELD,
    PROPOSAL_FIELDS,
    ProposalField,
    change_name,
    proposal_fields,
)
from jentrik.exchange.plan_document import proposal_document, read_proposal
from jentrik.store import machines
from jentrik.web.live.answers import changed
from jentrik.web.shop import Shop

LIKELY = {  # the end of a key -> a figure such a change can have
    "overall_diameter_mm": 660.0,
    "fork.length_mm": 400.0,
    "crank_mm": 165.0,
    "shock_mm": 210.0,
    "made": "1523",
    "make": "Gull",
    "rotor_mount": "six bolts",
    "driver": "spline",
    "rotor_mm": 180.0,
    "axle_mm": 12.0,
    "spacing_mm": 110.0,
    "_kpa": 220.0,
    "turn_deg": 1.0,
    "slots": 44.0,
    "holes": 6.0,
    "circle_mm": 94.0,
    "inner_width_mm": 21.0,
    "guard_inside_mm": 50.0,
    "chain_line_mm": 45.5,
    "_at_mm": 28.0,
    "effective_mm": 560.0,
    "rated_bead_seat_mm": 584.0,
    "sprocket": 15.0,
}


def likely(known: ProposalField) -> Any:
    if known.choices:
        return known.choices[-1]
    if known.range:
        return [57.0, 73.0]
    return next((value for end, value in LIKELY.items() if known.key.endswith(end)), 8.0)


KEPT = [one for one in PROPOSAL_FIELDS if one.key != STRAIGHT_FORK]  # worked out, never kept


@pytest.mark.parametrize("known", KEPT, ids=lambda one: one.key)
def test_a_change_reads_back_the_same_and_comes_out_again(known: ProposalField) -> None:
    value = likely(known)
    changes = changed({}, known.key, value)
    proposal = read_proposal({"name": "A", **changes})
    document = proposal_document(proposal)
    for step in known.key.split("."):
        document = document[step]
    assert document == value
    assert changed(changes, known.key, None) == {}


def test_another_tire_drops_what_was_known_of_the_one_before_and_keeps_the_wheel() -> None:
    changes = {
        "front": {
            "tire": "47-584",
            "fitted": {"made": "1523"},
            "hub": {"axle_mm": 12.0},
            "overall_diameter_mm": 676.0,
        }
    }
    after = changed(changes, "front.tire", "50-584")
    assert after == {"front": {"tire": "50-584", "hub": {"axle_mm": 12.0}}}
    assert changes["front"]["fitted"] == {"made": "1523"}  # the kept one is not touched


def test_keys_are_single_and_every_group_has_words() -> None:
    assert len(PROPOSAL_FIELD) == len(PROPOSAL_FIELDS)
    assert {one.group for one in PROPOSAL_FIELDS} == set(GROUPS)
    for one in PROPOSAL_FIELDS:
        assert one.label
        assert one.label_on("motorcycle")


def test_only_what_a_sheet_can_tell_is_offered(shop: Shop) -> None:
    tourer, single = machines.sheet(1), machines.sheet(10)
    front = {field.key for field in proposal_fields(tourer, "front")}
    assert "front.hub.spacing_mm" in front  # on its sheet
    assert not front & {"front.hub.rotor_mm", "front.tone_ring_slots", "front.sensor.kind"}
    assert "lower_cup_mm" in {field.key for field in proposal_fields(tourer, "more")}
    motor = {field.key for field in proposal_fields(single, "more")}
    assert not motor & {"lower_cup_mm", "headset_turn_deg", "contact.spacers_mm"}
    assert "link_longer_mm" in motor
    assert "front.sensor.holes" in {field.key for field in proposal_fields(single, "front")}


@pytest.mark.parametrize(
    ("key", "kind", "name"),
    [
        ("rear_axle_shift_mm.x", "bicycle", "rear axle forward"),
        ("rear.hub.rotor_mm", "bicycle", "rear rotor"),
        ("front.tire", "motorcycle", "front tire"),
    ],
)
def test_a_change_is_called_by_its_words_and_its_end(key: str, kind: Kind, name: str) -> None:
    assert change_name(key, kind) == name
