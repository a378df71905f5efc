"""Speed symbol -> the greatest speed of a tire at its full load, km/h.

Source: UN Regulation 75, annex on speed symbols.  "ZR" in a size without a service description
means above 240; the maker states how far above.
"""

from jentrik.core.sources import UN_R75

SOURCE = UN_R75.at("speed categories")

SPEED_KMH = {
    "B": 50,
    "C": 60,
    "D": 65,
    "E": 70,
    "F": 80,
    "G": 90,
    "J": 100,
    "K": 110,
    "L": 120,
    "M": 130,
    "N": 140,
    "P": 150,
    "Q": 160,
    "R": 170,
    "S": 180,
    "T": 190,
    "U": 200,
    "H": 210,
    "V": 240,
    "W": 270,
    "Y": 300,
}
ZR_ABOVE_KMH = 240

MAKER_MUST_CONFIRM = frozenset({"V", "W", "Y", "ZR"})  # load allowed falls near top speed
