"""Items by a seed: the same seed gives the same ones, another one others."""

import random
import re
from collections.abc import Sequence

from jentrik.core.errors import OutOfRange
from jentrik.core.practice.item import Item
from jentrik.core.practice.skills import SKILL, SKILLS

MOST_ITEMS, MOST_TRIES = 200, 60
_TAG = re.compile(r"<[^>]+>")


def item_of(kind: str, seed: int) -> Item:
    """Return the item of a kind and a seed; refuses a kind there is not."""
    skill = SKILL.get(kind)
    if skill is None:
        raise OutOfRange(
            f"There is no practice called “{kind[:40]}”.", field="kind", expected=", ".join(SKILL)
        )
    for turn in range(MOST_TRIES):
        one = skill.make(random.Random(f"{kind}:{seed}:{turn}"), f"{kind}-{seed}")  # noqa: S311
        if is_fair(one):
            return one
    raise AssertionError(f"no fair item of {kind} for {seed}")


def items(seed: int, count: int, kinds: Sequence[str] = ()) -> list[Item]:
    """Return so many items, of the kinds named or of all, none alike."""
    if not 1 <= count <= MOST_ITEMS:
        raise OutOfRange(
            f"From 1 to {MOST_ITEMS} items are made at once.", field="count", expected="fewer items"
        )
    chance = random.Random(seed)  # noqa: S311
    pool = list(kinds) or [one.kind for one in SKILLS]
    found: list[Item] = []
    asked: set[tuple[str, str | None, tuple[str, ...] | None]] = set()
    order: list[str] = []
    while len(found) < count:
        if not order:
            order = chance.sample(pool, len(pool))
        one = item_of(order.pop(), chance.randrange(1 << 40))
        key = (one.question, one.drawing, one.choices)
        if key not in asked or len(asked) > 20 * len(pool):
            asked.add(key)
            found.append(one)
    return found


def is_fair(one: Item) -> bool:
    """Whether an item has one right answer, and none that stands in what is shown."""
    seen = f"{one.question} {_TAG.sub(' ', one.drawing or '')}"
    if one.choices is not None:
        alike = [choice.casefold() for choice in one.choices]
        stands_there = re.search(rf"\b{re.escape(str(one.answer))}\b", seen, re.IGNORECASE)
        one_of_them = len(set(alike)) == len(alike) > 1 and one.answer in one.choices
        return one_of_them and not stands_there
    figures = {float(figure) for figure in re.findall(r"(?<![\d.])\d+(?:\.\d+)?", seen)}
    return float(one.answer) not in figures
