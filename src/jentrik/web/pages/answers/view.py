"""The answer to a proposal as a page shows it: the sentence, what to measure, what cures it."""

import json
from dataclasses import dataclass
from typing import Any

from markupsafe import Markup

from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.answer import Answer, Decides, Near, Verdict
from jentrik.core.work.job import Job, KeptProposal
from jentrik.store.documents import OnBench
from jentrik.web.drawing.measure import measure_drawing
from jentrik.web.parts.address import Address

TONES = {
    Verdict.NOT: "stop",
    Verdict.MEASURE: "caution",
    Verdict.CARE: "caution",
    Verdict.GOES: "note",
}


@dataclass(frozen=True, slots=True)
class ToMeasure:
    """A figure that decides: its words, where it turns, its field's address, how it is taken."""

    label: str
    turns: str
    href: str
    drawing: Markup | None
    how: str


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
    on: OnBench, kept: KeptProposal, answer: Answer, titles: dict[str, str], address: Address
) -> AnswerView:
    """Return an answer as it is shown; `titles` are those of the rules."""
    cures: dict[str, list[Offered]] = {}
    for cure in answer.cures:
        offered = Offered(cure.says, cure.worst, json.dumps(cure.change))
        where = f", {cure.where}" if cure.where in ("front", "rear") else ""
        cures.setdefault(f"{titles.get(cure.rule, cure.rule)}{where}", []).append(offered)
    return AnswerView(
        on.job,
        kept,
        TONES[answer.verdict],
        answer.sentence,
        [_to_measure(one, on.sheet, address) for one in answer.decides],
        list(cures.items()),
        [_near(near) for near in answer.nearest],
    )


def _to_measure(one: Decides, sheet: Sheet, address: Address) -> ToMeasure:
    guide = FIELD_BY_KEY[one.key].guide if one.key else None
    drawing = None
    if guide:
        drawing = measure_drawing(guide.shows, sheet.kind, f"Where it is taken: {one.label}")
    side = "below" if one.stops_below else "above"
    turns = f"{side} {one.turn} it does not go"
    if not isinstance(one.turns_at, float):
        turns = f"with “{one.turn}” it may not go"
    href = address.at(station="measure", field=one.key)
    if not one.key:
        href = f"{href}#clearances"
    return ToMeasure(one.label, turns, href, drawing, guide.how if guide else "")


def _near(near: Near) -> Offered:
    change: dict[str, Any] = {
        end: {"tire": code} for end, code in (("front", near.front), ("rear", near.rear)) if code
    }
    codes = [code for code in (near.front, near.rear) if code]
    both = len(codes) == 2 and codes[0] == codes[1]
    says = f"{codes[0]} at both ends" if both else " / ".join(codes)
    return Offered(says, near.worst, json.dumps(change))
