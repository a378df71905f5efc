"""One figure that a machine's sheet can hold."""

from dataclasses import dataclass

from jentrik.core.machine.machine import Kind


@dataclass(frozen=True, slots=True)
class SheetField:
    """A figure a sheet can hold: key, words, unit, for which kind, and what it unlocks.

    `choices` makes it a word out of a list, `words` a few words of the shop's own; `needed` marks
    what no answer comes without.
    """

    key: str
    label: str
    unit: str
    group: str
    unlocks: str
    kinds: tuple[Kind, ...] = ("bicycle", "motorcycle")
    needed: bool = False
    choices: tuple[str, ...] = ()
    words: bool = False


BICYCLE: tuple[Kind, ...] = ("bicycle",)
MOTORCYCLE: tuple[Kind, ...] = ("motorcycle",)
