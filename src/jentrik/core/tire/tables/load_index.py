"""Load index -> the greatest load of one tire, kg.

Source: ISO 4000-1 and the annex of UN Regulation 75.  An absent index is unknown, not zero.  The
rows were checked against the preferred numbers of ISO 3, series R80, which they follow but for
four published exceptions.
"""

import csv
from importlib.resources import files

from jentrik.core.sources import UN_R75

SOURCE = UN_R75.at(
    "annex, load-capacity indices; checked against series R80 of ISO 3, which it follows but for "
    "35, 61, 115 and 117"
)
OFF_THE_SERIES = (35, 61, 115, 117)

_ROWS = (files(__package__) / "load_index.csv").read_text(encoding="utf-8").splitlines()

LARGEST_INDEX = 279  # the series goes on to here; rows beyond the table are not known to us

LOAD_KG: dict[int, float] = {
    int(row["load_index"]): float(row["load_kg"]) for row in csv.DictReader(_ROWS)
}
