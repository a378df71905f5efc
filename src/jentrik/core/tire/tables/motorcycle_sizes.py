"""How motorcycle and car size marks turn into millimetres.

Sources: UN Regulation 75 for rim codes and the low-section series; the letter widths are the
trade's, from memory.
"""

from jentrik.core.sources import UN_R75
from jentrik.core.units import inches_to_mm

SOURCE = UN_R75.at("annex, tire-size designation and dimensions")

LETTER_WIDTH_MM = {
    "MH": 80.0,
    "MJ": 90.0,
    "MM": 100.0,
    "MN": 110.0,
    "MP": 120.0,
    "MR": 120.0,
    "MT": 130.0,
    "MU": 140.0,
    "MV": 150.0,
}

# Inch codes: section height as a share of section width, where no aspect is marked.
FULL_SECTION_PERCENT = 100.0
LOW_SECTION_PERCENT = 82.0
LOW_SECTION_WIDTHS = frozenset({"3.10", "3.60", "4.10", "4.60", "5.10", "6.10"})

RIM_CODES = (*range(8, 22), 23)  # common practice: the rims that motorcycles and scooters have
SMALLEST_RIM_CODE, LARGEST_RIM_CODE = 4.0, 30.0


def bead_seat_of_rim_code(code: float) -> int:
    """Return the nominal rim diameter in whole mm: the code in inches, rounded."""
    return round(inches_to_mm(code))
