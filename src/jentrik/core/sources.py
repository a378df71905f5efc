"""Every document the program leans on, named once.

A source says which of three kinds it is: a published text, common practice of the trade, or
a derivation that can be repeated.  `seen` is the day someone had the page open; without one
the source prints as "from memory", wherever it is shown.
"""

from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

Standing = Literal["published", "practice", "derived"]


@dataclass(frozen=True, slots=True)
class Source:
    """A document or practice, the place in it, and how well we know it."""

    title: str
    standing: Standing
    place: str | None = None
    seen: date | None = None

    def at(self, place: str, *, seen: date | None = None) -> "Source":
        """Return the same source with the place in it and the day it was read."""
        return replace(self, place=place, seen=seen)

    def __str__(self) -> str:
        if self.standing != "published":
            return f"{self.title}, {self.place}" if self.place else self.title
        where = f"{self.title}, {self.place}" if self.place else self.title
        return f"{where} ({f'read {self.seen:%Y-%m-%d}' if self.seen else 'from memory'})"


CFR_574_5 = Source("49 CFR 574.5", "published")
ISO_4210_2 = Source("ISO 4210-2", "published")
ISO_4249_3 = Source("ISO 4249-3", "published")
ISO_8098 = Source("ISO 8098", "published")
ISO_5775_1 = Source("ISO 5775-1", "published")
ISO_5775_2 = Source("ISO 5775-2", "published")
RIM_TABLES = Source("the standards' tables of rims and tires", "published")
UN_R39 = Source("UN Regulation 39", "published")
UN_R75 = Source("UN Regulation 75", "published")

COMMON_PRACTICE = Source("common practice", "practice")
SHOP_LIMIT = Source("shop limit, default from common practice", "practice")
LOCAL_LAW = Source("common rules of several countries, FMVSS 119 among them", "published")
DERIVED = Source("exact, from the stated figures", "derived")
