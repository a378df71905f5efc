"""Exact conversions, one a line, and what counts as one number typed by hand."""

import re

from jentrik.core.errors import OutOfRange

MM_PER_INCH = 25.4  # exact, international inch
KMH_PER_MPH = 1.609344  # exact, international mile
KG_PER_POUND = 0.45359237  # exact, international pound
KPA_PER_BAR = 100.0  # exact
KPA_PER_PSI = 6.894757293168  # pound-force on a square inch, from the exact pound and inch

_NUMBER = re.compile(r"[+\-\u2212]?(?:\d{1,7}(?:[.,]\d{1,6})?|[.,]\d{1,6})", re.ASCII)
_GROUPED = re.compile(
    r"[+\-\u2212]?\d{1,3}(?:[ \u00a0\u2009\u202f]\d{3})+(?:[.,]\d{1,6})?", re.ASCII
)


def inches_to_mm(inches: float) -> float:
    """Return a length in mm."""
    return inches * MM_PER_INCH


def read_figure(text: str, *, unit: str = "") -> float:
    """Return the number a person typed: comma or point, a true minus, thin spaces, its own unit.

    Refuses anything else with `OutOfRange`; the range itself is the caller's matter.
    """
    bare = text.strip().removesuffix(unit).strip()
    if _GROUPED.fullmatch(bare):
        bare = re.sub(r"\s", "", bare)
    if not _NUMBER.fullmatch(bare):
        like = f", like 12.5{' ' if unit.isalpha() else ''}{unit}" if unit else ", like 12.5"
        raise OutOfRange(
            f"“{text.strip()[:40]}” is not a figure; a plain number is wanted{like}.",
            expected=f"a number{f' in {unit}' if unit else ''}",
        )
    return float(bare.replace("\u2212", "-").replace(",", "."))
