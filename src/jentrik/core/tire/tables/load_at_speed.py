"""What a fast motorcycle tire may carry near its top speed, percent of its load index.

Source: UN Regulation 75, annex on load capacity against speed; straight lines between the rows.
Below the first row the whole load; beyond the last the tire is not made for it.  The maker's
figure wins, and ZR or Y without one is the maker's word alone.
"""

from itertools import pairwise

from jentrik.core.sources import UN_R75

SOURCE = UN_R75.at("load capacity at speed, symbols V and W")

# speed symbol -> (km/h, percent of the load)
LOAD_PERCENT = {
    "V": ((210, 100), (220, 95), (230, 90), (240, 85)),
    "W": ((240, 100), (250, 95), (260, 85), (270, 75)),
}


def load_percent(symbol: str, kmh: float) -> float | None:
    """Return the share of the load in percent; None where the table does not tell."""
    rows = LOAD_PERCENT.get(symbol)
    if rows is None or kmh > rows[-1][0]:
        return None
    if kmh <= rows[0][0]:
        return float(rows[0][1])
    for (slow, more), (fast, less) in pairwise(rows):
        if kmh <= fast:
            return more + (less - more) * (kmh - slow) / (fast - slow)
    return None
