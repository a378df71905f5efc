"""Standard tire designations: marks alone; every figure of a size is computed from its mark.

Source: the column of each row.  The list is open: a missing size is a row to add, and none
claims that any maker sells it today.
"""

import csv
from importlib.resources import files

_ROWS = (files(__package__) / "standard_sizes.csv").read_text(encoding="utf-8").splitlines()

MARKS: dict[str, str] = {row["mark"]: row["source"] for row in csv.DictReader(_ROWS)}
