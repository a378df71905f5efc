"""One practice item: a question, its answer out of the core, and how an answer is judged.

A number counts as right within its tolerance, as near within four times that; a choice is right or
wrong.  The source is that of the figure or rule the answer comes from.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.units import read_figure

NEAR = 4.0  # times the tolerance


class Verdict(StrEnum):
    """How an answer was."""

    RIGHT = "right"
    NEAR = "near"
    WRONG = "wrong"


@dataclass(frozen=True, slots=True)
class Item:
    """A question with its answer: a number in `unit` with a tolerance, or one of `choices`.

    `drawing` is SVG without the answer in its text; `shows` opens the thing on the bench.
    """

    id: str
    kind: str
    question: str
    answer: float | str
    why: str
    source: str
    level: int
    choices: tuple[str, ...] | None = None
    tolerance: float | None = None
    unit: str = ""
    drawing: str | None = None
    places: tuple[tuple[float, float], ...] = ()  # of the choices on the drawing, shares of it
    code: str = ""  # of the tire it is about, to open it
    machine: Mapping[str, Any] = field(default_factory=dict)  # it is about, as a plan has it
    changes: Mapping[str, Any] = field(default_factory=dict)  # to it, as a proposal has them


def judged(item: Item, typed: str) -> tuple[Verdict, str]:
    """Return how an answer is, and the answer as it was understood; refuses what is none."""
    text = " ".join(typed.split())
    if not text:
        raise OutOfRange("Answer first, even if it is a guess.", expected="an answer")
    if item.choices is not None:
        chosen = _chosen(item.choices, text)
        return (Verdict.RIGHT if chosen == item.answer else Verdict.WRONG), chosen
    try:
        value = read_figure(text, unit=item.unit)
    except Refusal:
        raise OutOfRange(
            f"“{text[:30]}” is no figure; a number is wanted"
            f"{f' in {item.unit}' if item.unit else ''}.",
            expected="a number",
        ) from None
    off = abs(value - float(item.answer))
    tolerance = (item.tolerance or 0.0) + 1e-9
    verdict = Verdict.RIGHT if off <= tolerance else Verdict.WRONG
    if verdict is Verdict.WRONG and off <= NEAR * max(tolerance, 0.01 * abs(float(item.answer))):
        verdict = Verdict.NEAR
    return verdict, f"{value:g}"


def _chosen(choices: tuple[str, ...], text: str) -> str:
    """Return the choice a text means: its words, or its number from 1."""
    for choice in choices:
        if choice.casefold() == text.casefold():
            return choice
    if text.isascii() and text.isdecimal() and 1 <= int(text) <= len(choices):
        return choices[int(text) - 1]
    raise OutOfRange("Choose one of the answers.", expected="one of the answers, or its number")
