"""Figures as a page shows them: rounded, a true minus sign, no false precision."""

from typing import Any

from jentrik.core.machine.figure import Figure

MINUS = "\u2212"


def fixed(value: Any, digits: int = 0) -> str:
    """Return a rounded figure; unknown is a dash, and zero never has a sign."""
    if value is None:
        return "–"
    text = f"{float(value):.{digits}f}"
    if float(text) == 0:
        text = text.removeprefix("-")
    return text.replace("-", MINUS)


def change(value: Any, digits: int = 0) -> str:
    """Return a difference with its sign; a difference that rounds to nothing is a bare 0."""
    if value is None:
        return "–"
    text = fixed(value, digits)
    if float(text.replace(MINUS, "-")) == 0:
        return "0"
    return text if text.startswith(MINUS) else f"+{text}"


def plain(value: Any) -> str:
    """Return a stored figure as someone would type it, word or number."""
    if isinstance(value, str):
        return value
    return f"{value:.10g}".replace("-", MINUS)


def as_typed(figure: Figure) -> str:
    """Return a kept figure as someone would type it again, readings and ± included."""
    said = "; ".join(plain(one) for one in figure.readings) or plain(figure.value)
    return said if figure.plus_minus is None else f"{said} ± {plain(figure.plus_minus)}"
