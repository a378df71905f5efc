"""Ways to bring geometry back: the steps they come in, what they cost and take, what to mind.

Costs are usual prices without labour in the shop's own currency, hours a practised hand's; both
order the list and promise nothing.  Source: the column of each row.
"""

import csv
from dataclasses import dataclass
from importlib.resources import files

_ROWS = (files(__package__) / "remedies.csv").read_text(encoding="utf-8").splitlines()


@dataclass(frozen=True, slots=True)
class RemedyRow:
    """One row: a remedy for bicycles, motorcycles or both, and its usual steps."""

    id: str
    kind: str
    name: str
    unit: str
    steps: tuple[float, ...]
    cost: float
    hours: float
    mind: str
    source: str


KEPT: tuple[RemedyRow, ...] = tuple(
    RemedyRow(
        row["id"],
        row["kind"],
        row["name"],
        row["unit"],
        tuple(float(step) for step in row["steps"].split(";") if step),
        float(row["cost"]),
        float(row["hours"]),
        row["mind"],
        row["source"],
    )
    for row in csv.DictReader(_ROWS)
)
