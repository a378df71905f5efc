"""The day at the bench: how far a job is, what it waits for, the one next thing, and its hours.

Stages follow one another as the work does: offered, agreed, parts waited for, worked on, ready,
handed over.  A stage follows from what was written and is never typed.  Source: common practice.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from jentrik.core.work.order_entries import OrderState, written


class Stage(StrEnum):
    """How far a job is."""

    TO_OFFER = "to offer"
    OFFERED = "offered"
    AGREED = "agreed"
    WAITS = "waits"
    CAN_START = "can start"
    IN_WORK = "in work"
    READY = "ready"
    HANDED_OVER = "handed over"


class Next(StrEnum):
    """The one thing a job asks for next."""

    MEASURE = "Measure"
    PROPOSE = "Propose"
    CURE = "Cure"
    OFFER = "Offer"
    ASK = "Ask"
    RING = "Ring"
    ORDER = "Order"
    ARRIVED = "Arrived"
    FIT = "Fit"
    GO_ON = "Go on"
    HAND_OVER = "Hand over"
    NOTHING = ""


class OfferState(StrEnum):
    """What became of an offer."""

    OFFERED = "offered"
    AGREED = "agreed"
    DECLINED = "declined"
    ASKED = "asked for a price"


@dataclass(frozen=True, slots=True)
class PartsState:
    """Parts of a job: to order still, waited for since a day, arrived."""

    to_order: tuple[str, ...] = ()
    waits: tuple[tuple[str, date | None], ...] = ()
    arrived: int = 0
    lies: tuple[str, ...] = ()  # where what arrived was put

    @property
    def first(self) -> tuple[str, date | None]:
        """The part that is waited for longest; "" where none is."""
        return min(self.waits, key=lambda one: one[1] or date.max, default=("", None))


@dataclass(frozen=True, slots=True)
class JobFacts:
    """What a stage follows from."""

    changes: bool  # whether a proposal changes anything
    missing: bool = False  # whether figures of the machine are missing
    stops: bool = False  # whether a stop stands on what would be offered
    offer: OfferState | None = None
    moved: bool = False  # whether what was agreed is another offer by now
    parts: PartsState = PartsState()
    ticked: tuple[int, int] | None = None  # of a card: done, all
    fitted: bool = False
    rung: bool = False
    phone: bool = False
    closed: bool = False


def stage_of(job: JobFacts) -> tuple[Stage, Next]:
    """Return how far a job is, and the one next thing it asks for."""
    if job.closed:
        return Stage.HANDED_OVER, Next.NOTHING
    done, steps = job.ticked or (0, 0)
    if job.fitted or (steps and done == steps):
        return Stage.READY, Next.RING if job.phone and not job.rung else Next.HAND_OVER
    if done:
        return Stage.IN_WORK, Next.GO_ON
    if not job.changes:
        return _with_nothing_proposed(job)
    if job.offer not in (None, OfferState.ASKED):
        return _with_an_offer(job)
    if job.parts.waits:
        return Stage.WAITS, Next.ARRIVED
    if steps:
        return Stage.CAN_START, Next.FIT
    if job.missing:
        return Stage.TO_OFFER, Next.MEASURE
    return Stage.TO_OFFER, Next.CURE if job.stops else Next.OFFER


def _with_nothing_proposed(job: JobFacts) -> tuple[Stage, Next]:
    if job.ticked is not None:  # a card of its own, as of a look again
        return Stage.CAN_START, Next.FIT
    return Stage.TO_OFFER, Next.MEASURE if job.missing else Next.PROPOSE


def _with_an_offer(job: JobFacts) -> tuple[Stage, Next]:
    if job.offer is OfferState.DECLINED:
        return Stage.OFFERED, Next.HAND_OVER
    if job.offer is OfferState.AGREED and not job.moved:
        return _agreed(job)
    asked = Next.RING if job.phone else Next.ASK
    return Stage.OFFERED, Next.CURE if job.stops else asked


def _agreed(job: JobFacts) -> tuple[Stage, Next]:
    if job.stops:  # found since it was agreed
        return Stage.AGREED, Next.CURE
    if job.parts.waits:
        return Stage.WAITS, Next.ARRIVED
    if job.parts.to_order:
        return Stage.AGREED, Next.ORDER
    return Stage.CAN_START, Next.FIT


def parts_state(lines: Iterable[tuple[str, str]], entries: Mapping[str, str]) -> PartsState:
    """Return how far parts are that must be had, each given as its key and its name."""
    to_order, waits, arrived, lies = [], [], 0, dict[str, None]()
    for key, name in lines:
        state = written(entries, "state", key, OrderState.OPEN)
        if state == OrderState.ORDERED:
            since = written(entries, "since", key)
            waits.append((name, date.fromisoformat(since) if since else None))
        elif state == OrderState.ARRIVED:
            arrived += 1
            lies[written(entries, "place", key)] = None
        elif state == OrderState.OPEN and written(entries, "source", key) != "in stock":
            to_order.append(name)
    return PartsState(tuple(to_order), tuple(waits), arrived, tuple(one for one in lies if one))


HOURS_A_STEP = 0.1  # of a card that carries out no proposal; common practice
HOURS_UNKNOWN = {"bicycle": 1.0, "motorcycle": 2.0}  # before anything is proposed; common practice


@dataclass(frozen=True, slots=True)
class DayOf:
    """What one person has promised for a day, and the hours they are there; "" is open."""

    who: str
    promised: float
    there: float


def first_day_with_room(
    days: Iterable[date], promised: Mapping[date, float], hours: float, there: float
) -> date | None:
    """Return the first of some days on which work of so many hours still has room.

    A job longer than a day has room on a day on which nothing is promised.
    """
    for day in days:
        taken = promised.get(day, 0.0)
        if taken + hours <= there or not taken:
            return day
    return None
