"""Sentences that say the opposite of each other never stand beside each other."""

import random
import re
from typing import Any

import pytest

from jentrik.core.plan.effects import effects
from jentrik.core.plan.sizes import standard_sizes
from jentrik.exchange.plan_document import plan_from_json
from tests.documents import MOTORCYCLE, PLAN, plan, raw

OPPOSITES = [
    (r"answers sooner|[Qq]uicker", r"calmer|[Ss]teadier|slower to turn|heavier when slow"),
    (r"turns in less room", r"more room to turn"),
    (r"a longer stem", r"a shorter stem"),
    (r"stem", r"saddle (forward|back)"),
    (r"reach the ground later", r"reach the ground sooner"),
    (r"strike earlier", r"clear more|strike later"),
    (r"two big wheels it gives away", r"makes both wheels one size"),
    (r"reads [\d.]+ % low", r"reads [\d.]+ % high"),
    (r"counts [\d.]+ % short", r"counts [\d.]+ % long"),
    (r"more upright", r"further over|leans further"),
    (r"is fine", r"Below the maker's|below the maker's"),
    (r"nothing left in mud", r"touches on the road"),
]
BASES = {
    "bicycle": (PLAN, {}),
    "motorcycle": (MOTORCYCLE, {}),
    "outfit": (MOTORCYCLE, {"outfit": "sidecar"}),
    "pedelec-45": (PLAN, {"class": "pedelec-45"}),
}


def proposals(kind: str, chance: random.Random) -> list[dict[str, Any]]:
    sizes = [
        size.text for size in standard_sizes("bicycle" if kind in PLAN_KINDS else "motorcycle")
    ]
    made = []
    for number in range(60):
        change: dict[str, Any] = {"name": f"P{number}"}
        for end in ("front", "rear"):
            if chance.random() < 0.6:
                change[end] = {"tire": chance.choice(sizes)}
        if chance.random() < 0.3:
            offset = PLAN["bike"]["fork"]["offset_mm"] + chance.uniform(-12, 12)
            change["fork"] = {"offset_mm": offset}
        made.append(change)
    return made


PLAN_KINDS = ("bicycle", "pedelec-45")


@pytest.mark.parametrize("kind", BASES)
def test_what_speaks_against_itself_never_meets(kind: str) -> None:
    base, more = BASES[kind]
    chance = random.Random(kind)
    said = 0
    for change in proposals(kind, chance):
        document = plan(change, base=base, **more)
        document["proposals"][0]["name"] = change["name"]
        try:
            result = plan_from_json(raw(document))
        except ValueError:
            continue  # the wheels overlap
        (outcome,) = result.outcomes
        texts = [f"{finding.headline} {finding.message}" for finding in outcome.findings]
        texts += [effect.feels for effect in effects(result, outcome) if effect.times >= 1]
        # A judgement on the whole holds its own counter-argument.
        text = " ".join(one.split("; against it")[0] for one in texts)
        for one, other in OPPOSITES:
            assert not (re.search(one, text) and re.search(other, text)), (change, one, other)
        said += len(texts)
        if kind == "outfit":
            assert not re.search(r"easier to lean|crown|to turn in", text), text
    assert said > 200
