"""The plan document the tests start from, and small ways to vary it."""

import copy
import json
from typing import Any

PLAN = {
    "format": "jentrik-plan",
    "version": 1,
    "bike": {
        "name": "tourer",
        "kind": "bicycle",
        "wheelbase_mm": 1050,
        "head_angle_deg": 71.0,
        "fork": {"length_mm": 395, "offset_mm": 50},
        "chainstay_mm": 445,
        "bb_height_mm": 275,
        "seat_angle_deg": 73.0,
        "stack_mm": 600,
        "reach_mm": 385,
        "crank_mm": 172.5,
        "front": {"tire": "37-622"},
        "rear": {"tire": "37-622"},
        "points": [{"name": "saddle", "x_mm": 120, "height_mm": 980}],
        "speedometer": {"wheel": "front", "reads_over_percent": 4.0},
        "clearances": [
            {
                "name": "fork crown",
                "wheel": "front",
                "direction": "radial",
                "on": "fork",
                "gap_mm": 14,
                "minimum_mm": 6,
            },
            {
                "name": "chain stays",
                "wheel": "rear",
                "direction": "side",
                "gap_mm": 9,
                "minimum_mm": 6,
            },
        ],
    },
    "proposals": [],
}

MOTORCYCLE = {
    "format": "jentrik-plan",
    "version": 1,
    "bike": {
        "name": "single",
        "kind": "motorcycle",
        "wheelbase_mm": 1490,
        "rake_deg": 27.5,
        "fork": {"length_mm": 730, "offset_mm": 62},
        "front": {"tire": "90/90-21 54H"},
        "rear": {"tire": "130/80-17 65H"},
        "spec": {
            "front": {"load_index": 54, "speed_symbol": "H", "construction": "bias"},
            "rear": {"load_index": 65, "speed_symbol": "H", "construction": "bias"},
        },
        "speedometer": {"wheel": "front", "reads_over_percent": 4.0},
        "side_stand": {"lean_deg": 11.0, "foot_out_mm": 240, "foot_x_mm": 520},
    },
    "proposals": [],
}


def plan(*proposals: Any, base: dict[str, Any] = PLAN, **bike: Any) -> dict[str, Any]:
    """Return a plan with these proposals, keys of its bike replaced; None takes a key out."""
    document = copy.deepcopy(base)
    document["bike"] |= bike
    document["bike"] = {key: value for key, value in document["bike"].items() if value is not None}
    document["proposals"] = [
        {"name": chr(65 + place), **changes} for place, changes in enumerate(proposals)
    ]
    return document


def raw(document: dict[str, Any]) -> bytes:
    """Return a document as it goes over the wire."""
    return json.dumps(document).encode()
