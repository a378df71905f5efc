"""Standard tire designations: marks alone; every figure of a size is computed from its mark.

Source: the column of each row.  The list is open: a missing size is a row to add, and none
claims that any maker sells it today.
"""

import csv
import re
from importlib.resources import files

_ROWS = (files(__package__) / "standard_sizes.csv").read_text(encoding="utf-8").splitlines()

_METRIC = re.compile(r"(\d+)/(\d+)[A-Z-]*(\d+)")
MARKS: dict[str, str] = {row["mark"]: row["source"] for row in csv.DictReader(_ROWS)}

# Width, aspect and rim code of every metric motorcycle size, as text.
METRIC: frozenset[tuple[str, str, str]] = frozenset(
    match.groups()  # type: ignore[misc]  # three groups
    for mark in MARKS
    if (match := _METRIC.fullmatch(mark))
)


def with_a_leading_one(width: str, aspect: str, rim: str) -> tuple[str, str, str] | None:
    """Return the standard size whose leading 1 is missing; None where this size is standard."""
    if (width, aspect, rim) in METRIC:
        return None
    for worn in ((f"1{width}", aspect, rim), (width, aspect, f"1{rim}")):
        if worn in METRIC:
            return worn
    return None
