"""The answer to a proposal as a page shows it: the sentence, what to measure, what cures it."""

import json
from dataclasses import dataclass
from typing import Any

from jentrik.core.amounts import Amount
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.plan.answer import Answer, Decides, Near, Verdict
from jentrik.core.work.job import Job, KeptProposal
from jentrik.web.parts.address import Address

TONES = {
    Verdict.NOT: "stop",
    Verdict.MEASURE: "caution",
    Verdict.CARE: "caution",
    Verdict.GOES: "note",
}


@dataclass(frozen=True, slots=True)
class ToMeasure:
    """A figure that decides: its words, where it turns, and the address that opens its field."""

    label: str
    turns: str
    href: str


@dataclass(frozen=True, slots=True)
class Offered:
    """Something to propose instead: in words, how it would stand, and the change it sends."""

    says: str
    worst: str
    change: str


@dataclass(frozen=True, slots=True)
class AnswerView:
    """Everything the answer shows."""

    job: Job
    proposal: KeptProposal
    tone: str
    sentence: str
    measure: list[ToMeasure]
    cures: list[tuple[str, list[Offered]]]  # by the stop they cure
    nearest: list[Offered]


def answer_view(
    job: Job, kept: KeptProposal, answer: Answer, titles: dict[str, str], address: Address
) -> AnswerView:
    """Return an answer as it is shown; `titles` are those of the rules."""
    cures: dict[str, list[Offered]] = {}
    for cure in answer.cures:
        offered = Offered(cure.says, cure.worst, json.dumps(cure.change))
        where = f", {cure.where}" if cure.where in ("front", "rear") else ""
        cures.setdefault(f"{titles.get(cure.rule, cure.rule)}{where}", []).append(offered)
    return AnswerView(
        job,
        kept,
        TONES[answer.verdict],
        answer.sentence,
        [_to_measure(one, address) for one in answer.decides],
        list(cures.items()),
        [_near(near) for near in answer.nearest],
    )


def _to_measure(one: Decides, address: Address) -> ToMeasure:
    key = one.figure.removeprefix("bike.")
    if key.endswith("slot_mm"):
        key = key.replace("slot_mm", "slot_most_mm" if one.stops_below else "slot_least_mm")
    if key == "head_angle_deg" and key not in FIELD_BY_KEY:
        key = "rake_deg"
    known = key in FIELD_BY_KEY
    href = address.at(station="measure", field=key) if known else address.at(station="measure")
    if isinstance(one.turns_at, str) or one.turns_at is None:
        return ToMeasure(one.label, f"with “{one.turns_at}” it may not go", href)
    turns = Amount(f"{one.turns_at:g}", one.unit) if one.unit else f"{one.turns_at:g}"
    return ToMeasure(one.label, f"{'from' if one.stops_below else 'up to'} {turns}: goes", href)


def _near(near: Near) -> Offered:
    change: dict[str, Any] = {
        end: {"tire": code} for end, code in (("front", near.front), ("rear", near.rear)) if code
    }
    codes = [code for code in (near.front, near.rear) if code]
    both = len(codes) == 2 and codes[0] == codes[1]
    says = f"{codes[0]} at both ends" if both else " / ".join(codes)
    return Offered(says, near.worst, json.dumps(change))
