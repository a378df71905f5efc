"""Load index -> the greatest load of one tire, kg.

Source: ISO 4000-1 and the annex of UN Regulation 75.  An absent index is unknown, not zero.
"""

import csv
from importlib.resources import files

from jentrik.core.sources import UN_R75

SOURCE = UN_R75.at("annex, load-capacity indices; same series as ISO 4000-1")

_ROWS = (files(__package__) / "load_index.csv").read_text(encoding="utf-8").splitlines()

LOAD_KG: dict[int, float] = {
    int(row["load_index"]): float(row["load_kg"]) for row in csv.DictReader(_ROWS)
}
