"""What a rule sees and what it answers."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Any, Literal, get_type_hints

from jentrik.core.amounts import rounded
from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.figures.machine_figures import MachineFigures
from jentrik.core.machine.declared import ENDS, End, Kind
from jentrik.core.machine.machine import Bike, Clearance
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.suspension import State
from jentrik.core.machine.wheel import NO_SPEC, ApprovedPair, Wheel, WheelChange, WheelSpec, merged
from jentrik.core.sources import Source
from jentrik.core.work.policy import Policy, ShopLimits


class Severity(StrEnum):
    """How much a finding weighs: stop before caution before note."""

    STOP = "stop"
    CAUTION = "caution"
    NOTE = "note"


@dataclass(frozen=True, slots=True)
class Case:
    """One proposal beside the machine as found, with every figure of both."""

    found: Bike
    proposal: Proposal
    before: MachineFigures
    after: MachineFigures
    policy: Policy
    on: date | None = None

    @property
    def fitted(self) -> Bike:
        """The machine as found, without what comes off with its mudguards."""
        return self.proposal.without_lost_guards(self.found)

    @property
    def limits(self) -> ShopLimits:
        """The changes the shop accepts."""
        return self.policy.limits

    @property
    def pair(self) -> ApprovedPair | None:
        """The pair of the maker's sheet these tires are, by size; None for another."""
        return next(
            (pair for pair in self.found.maker.pairs if pair.names(self.after.wheels)), None
        )

    def asked(self, end: End) -> WheelSpec:
        """Return what the maker asks of one wheel: of this very pair, else of the machine.

        An empty sheet asks nothing.
        """
        sheet = self.found.maker.wheels.get(end, NO_SPEC)
        pair = self.pair
        return sheet if pair is None else merged(sheet, pair.at(end))

    @property
    def heights_at_full(self) -> Mapping[str, float]:
        """How high each named place is at full travel; empty where that is not known."""
        return self.after.full.heights if self.after.full else {}

    @property
    def sinks_mm(self) -> float:
        """How far the bottom bracket comes down with the rider on: by both ends' sag, mm.

        Nothing on a rigid machine, or on a sheet measured with the rider on.
        """
        suspension, bike = self.found.suspension, self.found
        down = {end: suspension.down_from_measured_mm(end, State.SAG) or 0.0 for end in ENDS}
        head = math.radians(float(self.before.geometry.head_angle_deg))
        share = min(max((bike.frame.chainstay_mm or 0.0) / bike.frame.wheelbase_mm, 0.0), 1.0)
        return down["rear"] * (1 - share) + down["front"] * math.sin(head) * share

    @property
    def saddle_room_mm(self) -> float | None:
        """The room between saddle and rear tire at full travel."""
        return self.after.full.saddle_room_mm if self.after.full else None

    def shift(self, figure: str) -> float | None:
        """Return how far a geometry figure moves; None where it is not known."""
        new, old = getattr(self.after.geometry, figure), getattr(self.before.geometry, figure)
        return None if new is None or old is None else float(new - old)

    def contact_shift(self, figure: str) -> float | None:
        """Return how far a contact figure moves; None where it is not known."""
        new, old = getattr(self.after.contact, figure), getattr(self.before.contact, figure)
        return None if new is None or old is None else float(new - old)


@dataclass(frozen=True, slots=True)
class WheelCase:
    """One end of a case: the wheel as planned and as found, what the proposal says of it, and
    what the maker asks (an empty sheet asks nothing).
    """

    end: End
    case: Case
    wheel: Wheel
    found: Wheel
    change: WheelChange
    spec: WheelSpec

    @classmethod
    def of(cls, end: End, case: Case) -> "WheelCase":
        """Return one end of a case."""
        return cls(
            end,
            case,
            wheel=case.after.wheels.at(end),
            found=case.found.wheels.at(end),
            change=case.proposal.front if end == "front" else case.proposal.rear,
            spec=case.asked(end),
        )


@dataclass(frozen=True, slots=True)
class PlaceCase:
    """One measured place of a case."""

    clearance: PredictedClearance
    case: Case

    @property
    def place(self) -> Clearance:
        """The place as measured."""
        return self.clearance.place


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
    figures: tuple[str, ...] = ()  # keys of the sheet and of the proposal it was found from
    policy: tuple[str, ...] = ()  # keys of the policy it went by
    law: bool = False  # a common rule stands behind it: the local one decides
    variant: str = ""  # which check of the rule spoke


THE_SHOPS = "the shop's figure"  # limits that many rules share, in words
THE_SHEETS = "the maker's figure on the sheet"
ANY_DIFFERENCE = "any difference"

BICYCLES: tuple[Kind, ...] = ("bicycle",)
MOTORCYCLES: tuple[Kind, ...] = ("motorcycle",)
BOTH_KINDS: tuple[Kind, ...] = (*BICYCLES, *MOTORCYCLES)


def band_keys(figure: str) -> tuple[str, str]:
    """Return the policy keys of an accepted change."""
    return f"limits.{figure}.low", f"limits.{figure}.high"


Per = Literal["wheel", "pair", "bike", "clearance"]


@dataclass(frozen=True, slots=True)
class Rule:
    """One rule: what it is called, how much it weighs, where it comes from, and its check.

    `per` says what the check is given: a `WheelCase` for each end, the `Case` for the pair or
    the whole machine, or a `PlaceCase` for each measured gap.  `needs` are the keys of the
    figures without which it is silent, those of a proposal under "planned"; `{end}` stands for
    the wheel.  It asks for them only on machines of its `kinds` that have every figure named in
    `only_with`.  Several checks may share an id: the first of them holds its `title`.
    """

    id: str
    severity: Severity
    per: Per
    check: Callable[[Any], Words | None]
    source: Source
    limit: str
    title: str = ""
    needs: tuple[str, ...] = ()
    policy: tuple[str, ...] = ()
    only_with: tuple[str, ...] = ()
    kinds: tuple[Kind, ...] = BOTH_KINDS
    law: bool = False
    motorcycle_source: Source | None = None  # where motorcycles have another than bicycles

    def __call__(self, subject: Any) -> Words | None:
        """Return what the check says of a subject."""
        return self.check(subject)

    def source_for(self, kind: Kind) -> Source:
        """Return where the rule comes from on a kind of machine."""
        return (self.motorcycle_source if kind == "motorcycle" else None) or self.source

    @property
    def variant(self) -> str:
        """The name of its check: a rule of one name may have several."""
        return self.check.__name__

    @property
    def module(self) -> str:
        """The module it stands in: what it is about."""
        return self.check.__module__

    def figures(self, where: str) -> tuple[str, ...]:
        """Return the keys of its figures at one end of the machine."""
        return tuple(key.replace("{end}", where) for key in self.needs)


def rule(
    id: str, severity: Severity, *, per: Per | None = None, **more: Any
) -> Callable[[Callable[[Any], Words | None]], Rule]:
    """Make a check a rule; what it is given follows from its argument unless `per` says "pair".

    `more` are the other attributes of `Rule`: `source` and `limit` always, `title` with the first
    check of an id.
    """

    def of(check: Callable[[Any], Words | None]) -> Rule:
        (subject,) = (kind for name, kind in get_type_hints(check).items() if name != "return")
        return Rule(id, severity, per or _PER[subject], check, **more)

    return of


def magnitude(value: float, digits: int) -> str:
    """Return a rounded figure without its sign."""
    return rounded(abs(value), digits)


_PER: Mapping[type, Per] = {Case: "bike", WheelCase: "wheel", PlaceCase: "clearance"}
