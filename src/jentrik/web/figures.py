"""Figures as a page shows them: rounded, a true minus sign, no false precision."""

from typing import Any

from jentrik.core.amounts import MINUS, difference, rounded
from jentrik.core.machine.figure import Figure


def fixed(value: Any, digits: int = 0) -> str:
    """Return a rounded figure; unknown is a dash, and zero never has a sign."""
    return "–" if value is None else rounded(float(value), digits)


def change(value: Any, digits: int = 0) -> str:
    """Return a difference with its sign; a difference that rounds to nothing is a bare 0."""
    return between(0.0, value, digits)


def between(old: Any, new: Any, digits: int = 0) -> str:
    """Return the difference of two figures as they stand beside it, with its sign."""
    return "–" if old is None or new is None else difference(float(old), float(new), digits)


def plain(value: Any) -> str:
    """Return a stored figure as someone would type it, word or number."""
    if isinstance(value, str):
        return value
    if isinstance(value, list):  # a range
        return "-".join(plain(end) for end in value)
    return f"{value:.3f}".rstrip("0").rstrip(".").replace("-", MINUS)


def as_typed(figure: Figure) -> str:
    """Return a kept figure as someone would type it again, readings and ± included."""
    said = "; ".join(plain(reading) for reading in figure.readings) or plain(figure.value)
    return said if figure.plus_minus is None else f"{said} ± {plain(figure.plus_minus)}"
