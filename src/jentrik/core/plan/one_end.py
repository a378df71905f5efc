"""What stops one size at one end of a machine, whatever the other end wears.

A stop of one wheel, of a place beside it or of what one wheel alone decides does not depend on the
other end.  The rules themselves say it; the first in the order of the page tells why.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import End, Kind
from jentrik.core.machine.proposal import Proposal
from jentrik.core.plan.plan import PlanResult, case_of
from jentrik.core.rules import RULES
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    Case,
    PlaceCase,
    Rule,
    Severity,
    WheelCase,
)

CANNOT_STAND = "cannot-stand"
STOPS = (CANNOT_STAND, *dict.fromkeys(rule.id for rule in RULES if rule.severity is Severity.STOP))
PLACE = {name: place for place, name in enumerate(STOPS)}
CLEAR = len(STOPS)  # the place of a pair that no stop speaks against
ASIDE = CLEAR + 1  # of one that is not looked for
_TOGETHER = frozenset(
    {"negative-trail", "cranks-into-ground", "strikes-at-full-travel", "side-stand-upright"}
)
_OWN: dict[Kind, tuple[Rule, ...]] = {
    kind: tuple(
        rule
        for rule in RULES
        if rule.severity is Severity.STOP and rule.id not in _TOGETHER and kind in rule.kinds
    )
    for kind in (*BICYCLES, *MOTORCYCLES)
}
_OF_THE_FRONT = frozenset({"fork-wheel-size", "fork-over-makers-limit"})
_OF_THE_REAR = frozenset({"saddle-meets-tire", "position-without-its-wheel"})
_OF_THE_INSTRUMENT = frozenset({"speedometer-under-reads", "speedometer-over-limit"})


@dataclass(frozen=True, slots=True)
class Size:
    """One size at one end of one context: first stop, radius, width, least gap, what it lacks."""

    first: int
    radius_mm: float
    width_mm: float
    gap_mm: float
    short_mm: float  # of room, where nothing else speaks against it; 0 where all is well
    likes: int = 1  # sizes of the search on its bead seat, itself too
    load: float = 0.0  # how far it falls short of the load margin wanted, 0 to 1
    cost: float = 0.0  # its price as a share of the dearest


_NEVER = Size(PLACE[CANNOT_STAND], 1.0, 0.0, np.inf, np.inf)


def size_at(plain: PlanResult, proposal: Proposal, end: End) -> Size:
    """Return what speaks against one size at one end, whatever the other end wears.

    `plain` is the machine as found, without the pairs that the maker's sheet names.
    """
    try:
        case = case_of(plain, proposal)
    except Refusal:
        return _NEVER
    stops = _stops(case, end)
    gaps = [
        (clearance.predicted_gap_mm, clearance.place.minimum_mm)
        for clearance in case.after.clearances
        if clearance.place.wheel == end and clearance.predicted_gap_mm is not None
    ]
    room = [gap for gap in case.after.room_untaped if gap.wheel == end]
    gaps += [(gap.gap_mm, gap.least_mm if gap.stated else None) for gap in room]
    short = 0.0
    if stops:
        lacks = [least - gap for gap, least in gaps if least is not None]
        only_room = stops <= {"clearance-below-minimum", "room-below-minimum"}
        short = max([0.0, *lacks]) if only_room else np.inf
    wheels = case.after.wheels
    return Size(
        min((PLACE[stop] for stop in stops), default=CLEAR),
        wheels.radius_mm(end),
        wheels.at(end).width_mm or np.nan,
        min((gap for gap, _ in gaps), default=np.inf),
        short,
    )


def _stops(case: Case, end: End) -> set[str]:
    """Return the stops that are decided at this end alone."""
    wheel = WheelCase.of(end, case)
    places = [
        PlaceCase(clearance, case)
        for clearance in case.after.clearances
        if clearance.place.wheel == end
    ]
    meter = case.found.speedometer
    sensed = meter is not None and meter.end == end
    stops = set()
    for rule in _OWN[case.found.kind]:
        subjects: Sequence[Any] = (wheel,)
        if rule.per == "clearance":
            subjects = places
        elif rule.per == "bike":
            subjects = (case,) if _is_of(rule.id, end, sensed=sensed) else ()
        if any(rule.check(subject) is not None for subject in subjects):
            stops.add(rule.id)
    return stops


def _is_of(rule: str, end: End, *, sensed: bool) -> bool:
    """Whether a stop of the whole machine is decided by the wheel of this end."""
    if rule in _OF_THE_INSTRUMENT:
        return sensed
    return rule in (_OF_THE_FRONT if end == "front" else _OF_THE_REAR)
