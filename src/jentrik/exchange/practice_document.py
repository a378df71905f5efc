"""Practice items as plain values."""

from typing import Any

from jentrik.core.practice.item import Item
from jentrik.core.practice.make import items


def item_document(item: Item) -> dict[str, Any]:
    """Return an item as plain values, its answer with it."""
    return {
        "id": item.id,
        "kind": item.kind,
        "question": item.question,
        "drawing": item.drawing,
        "choices": None if item.choices is None else list(item.choices),
        "answer": item.answer,
        "tolerance": item.tolerance,
        "unit": item.unit or None,
        "why": item.why,
        "source": item.source,
        "level": item.level,
    }


def items_document(seed: int, count: int) -> list[dict[str, Any]]:
    """Return so many items of a seed as plain values."""
    return [item_document(item) for item in items(seed, count)]
