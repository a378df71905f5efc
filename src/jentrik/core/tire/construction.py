r"""How the casing is built: the letters or the dash between size and rim code.

    middle  =  [ "-" ] [ speed ] ( "R" | "B" | "D" ) [ "-" ]  |  speed [ "-" ]  |  "-" | cross | "/"

R wins over a dash beside it.  A cross or a slash stands for the dash: a radial tire would carry
its R.  A speed letter alone in the middle (4.00 H 18) is the old style
of a bias tire; before R or B it is that tire's speed symbol.  Source: UN Regulation 75, from
memory.
"""

from functools import cache
from typing import NamedTuple

from jentrik.core.amounts import kmh
from jentrik.core.tire.sizes import Construction
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH, ZR_ABOVE_KMH
from jentrik.core.tire.tokens import Cursor

_BUILDS: dict[str, Construction] = {"R": "radial", "B": "bias-belted", "D": "bias"}
_MEANS = {
    "radial": "radial casing",
    "bias-belted": "bias casing with a belt under the tread",
    "bias": "bias casing",
}


class Middle(NamedTuple):
    """Construction and, where one stands there, the speed symbol of the middle."""

    construction: Construction
    speed: str | None
    sign: str  # "-", "B", "D", "R" or "speed": what it was read from


def read_middle(cursor: Cursor, *, dash: bool = True) -> Middle | None:
    """Read what stands between the size and the rim code; None where it is nothing known."""
    word = cursor.peek("word")
    if word is None or word == "X":
        behind = cursor.peek("word", 1)
        if dash and cursor.peek("sign") == "-" and behind is not None and _of_word(behind):
            cursor.index += 1
            word = behind
        elif dash and (cursor.sign("-", "/") or cursor.cross()):
            return Middle("bias", None, "-")
        else:
            cursor.want("R, B or a dash before the rim code")
            return None
    middle = _of_word(word)
    if middle is None:
        cursor.want("R, ZR, B or a dash before the rim code")
        return None
    cursor.take(*_described(middle))
    cursor.sign("-")
    return middle


def _of_word(word: str) -> Middle | None:
    if word == "ZR":
        return Middle("radial", "ZR", "R")
    if word in SPEED_KMH and word not in _BUILDS:
        return Middle("bias", word, "speed")
    build = _BUILDS.get(word[-1])
    speed = word[:-1] or None
    if build is None or (speed is not None and speed not in SPEED_KMH):
        return None
    return Middle(build, speed, word[-1])


@cache
def _described(middle: Middle) -> tuple[str, str]:
    """Return what a middle means, and its caption."""
    built, speed = _MEANS[middle.construction], middle.speed
    caption = middle.construction.removeprefix("bias-")
    if speed is None:
        return built, caption
    most = SPEED_KMH.get(speed)
    said = (
        f"Z: made for above {kmh(ZR_ABOVE_KMH)}"
        if most is None
        else f"speed letter {speed}: {kmh(most)}"
    )
    return f"{built}; {said}", f"{speed} {caption}"
