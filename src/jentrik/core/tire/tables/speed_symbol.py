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


def below(symbol: str | None, asked: str) -> bool:
    """Whether a tire's symbol is below the one asked for; a bare ZR is never, it is asked about.

    V ends where ZR begins.
    """
    if symbol is None or symbol == "ZR":
        return False
    if asked == "ZR":
        return SPEED_KMH[symbol] <= ZR_ABOVE_KMH
    return SPEED_KMH[symbol] < SPEED_KMH[asked]


MAKER_MUST_CONFIRM = frozenset({"V", "W", "Y", "ZR"})  # load allowed falls near top speed
