"""Inches as marked: 2.4, 26, 1 3/8, 1-3/8, 1½."""

from typing import NamedTuple

from jentrik.core.tire.tokens import Cursor

_DENOMINATORS = frozenset({"2", "4", "8", "16"})


class Inches(NamedTuple):
    """A length in inches: its value, its plain spelling and how many pieces it takes."""

    inches: float
    spelling: str
    pieces: int

    @property
    def decimal(self) -> bool:
        """Whether it is written with a point."""
        return "." in self.spelling


def fraction_ahead(cursor: Cursor) -> Inches | None:
    """Return the inches that come next, without taking them."""
    first = cursor.peek("figure")
    if first is None:
        return None
    if " " in first or "/" in first:  # a vulgar sign inside the figure: 1½
        return Inches(_value(first), first, 1)
    dashed = 1 if cursor.peek("sign", 1) == "-" else 0
    second = cursor.peek("figure", 1 + dashed)
    if second is not None and first.isdigit():
        if "/" in second and " " not in second:  # 1 ½
            spelling = f"{first} {second}"
            return Inches(_value(spelling), spelling, 2 + dashed)
        bottom = cursor.peek("figure", 3 + dashed)
        if cursor.peek("sign", 2 + dashed) == "/" and bottom in _DENOMINATORS and second.isdigit():
            spelling = f"{first} {second}/{bottom}"
            return Inches(_value(spelling), spelling, 4 + dashed)
    return Inches(_value(first), first, 1)


def _value(spelling: str) -> float:
    """Return whole and fraction added up; halves to sixteenths are exact as floats."""
    total = 0.0
    for part in spelling.split(" "):
        top, _, bottom = part.partition("/")
        total += float(top) / float(bottom) if bottom else float(top)
    return total
