"""One thing a shop can set."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

Text = Literal["long", "line", "site", "picture"]


@dataclass(frozen=True, slots=True)
class PolicyField:
    """One thing a shop sets: its key, words, unit, reason, other schools and what it can be.

    `school` makes it a choice, `letters` a code of so many letters; without limits and choices it
    is a text of the shop's own: long, on one line, an address, or the file of a picture.
    """

    key: str
    label: str
    unit: str
    group: str
    why: str
    others: str = ""
    least: float | None = None
    most: float | None = None
    school: type[StrEnum] | None = None
    letters: int | None = None
    text: Text = "long"

    @property
    def line(self) -> str:
        """What it is about: the two ends of an accepted change share it."""
        return self.label.removesuffix(", from").removesuffix(", to")

    @property
    def id(self) -> str:
        """The name of its place on a page."""
        return self.key.replace(".", "-").replace("_", "-")

    @property
    def choices(self) -> tuple[str, ...]:
        """The words to choose from; none where it is a figure or a text."""
        return tuple(one.value for one in self.school) if self.school else ()
