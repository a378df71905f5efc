"""What a rule sees and what it answers."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Literal

from jentrik.core.clearance import PredictedClearance
from jentrik.core.contact import Contact
from jentrik.core.geometry.figures import Geometry
from jentrik.core.geometry.frame import Values
from jentrik.core.machine import Bike, Proposal, Wheel, Wheels, WheelSpec
from jentrik.core.rules.limits import ShopLimits
from jentrik.core.sources import Source
from jentrik.core.speed import Speed
from jentrik.core.suspension import End


class Severity(StrEnum):
    """How much a finding weighs: stop before caution before note."""

    STOP = "stop"
    CAUTION = "caution"
    NOTE = "note"


@dataclass(frozen=True, slots=True)
class Case:
    """One proposal beside the machine as found, with everything computed about both."""

    found: Bike
    proposal: Proposal
    planned: Wheels
    baseline: Geometry
    geometry: Geometry
    contact_found: Contact
    contact: Contact
    speed: Speed
    stand_lean_deg: Values | None
    clearances: tuple[PredictedClearance, ...]
    limits: ShopLimits

    def shift(self, figure: str) -> float | None:
        """Return how far a geometry figure moves; None where it is not known."""
        new, old = getattr(self.geometry, figure), getattr(self.baseline, figure)
        return None if new is None or old is None else float(new - old)

    def contact_shift(self, figure: str) -> float | None:
        """Return how far a contact figure moves; None where it is not known."""
        new, old = getattr(self.contact, figure), getattr(self.contact_found, figure)
        return None if new is None or old is None else float(new - old)


@dataclass(frozen=True, slots=True)
class WheelCase:
    """One end of a case."""

    end: End
    case: Case

    @property
    def wheel(self) -> Wheel:
        """The wheel as planned."""
        return self.case.planned.at(self.end)

    @property
    def found(self) -> Wheel:
        """The wheel as found."""
        return self.case.found.wheels.at(self.end)

    @property
    def spec(self) -> WheelSpec:
        """What the maker asks of this wheel; an empty sheet asks nothing."""
        return (self.case.found.spec or {}).get(self.end, WheelSpec())


@dataclass(frozen=True, slots=True)
class Words:
    """What a rule says: a headline of a few words, and the whole of it in sentences."""

    headline: str
    message: str


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing to know before ordering."""

    rule: str
    severity: Severity
    where: str
    headline: str
    message: str
    source: str


@dataclass(frozen=True, slots=True)
class Rule:
    """One rule: what it is called, how much it weighs, where it comes from, and its check.

    `per` says what the check is given: a `WheelCase` for each end, the `Case` for the pair or
    the whole machine, or each `PredictedClearance`.
    """

    id: str
    severity: Severity
    per: Literal["wheel", "pair", "bike", "clearance"]
    check: Callable[[Any], Words | None]
    source: Source


def magnitude(value: float, digits: int) -> str:
    """Return a rounded figure without its sign."""
    return f"{abs(value):.{digits}f}"
