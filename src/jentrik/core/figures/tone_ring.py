"""Tone rings of both ends together: what ABS and the instrument make of each pair of counts.

    front against rear   (slots / circumference, front) / (the same, rear), against as found
    instrument           shown x slots' / slots where that ring also feeds it

ABS compares front with rear, so the two rings are chosen together: the pair that keeps the old
front/rear ratio comes first.  A count that cancels the instrument's own error moves front against
rear by that error.  Sources: arithmetic; common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from jentrik.core.machine.declared import ENDS, End

Counts = Mapping[End, int | None]
BESIDE = (-1, 0, 1)  # counts looked at round the neutral one
MOST_PAIRS = 9


@dataclass(frozen=True, slots=True)
class RingPair:
    """Two counts, None for a ring no one counted: why they are named, what comes of them."""

    front: int | None
    rear: int | None
    why: str
    ratio_change_percent: float
    indicated_at_100_kmh: float | None


def neutral_slots(slots: int, circumference_ratio: float) -> int:
    """Return the count that leaves ABS what it knew of one wheel, in whole slots."""
    return max(round(slots * circumference_ratio), 1)


def ratio_change_percent(*, found: Counts, now: Counts, ratios: Mapping[End, float]) -> float:
    """Return how pulses front against rear change, percent.

    `ratios` are circumferences planned over found.  A ring no one counted stays as it is.
    """
    pulses = {}
    for end in ENDS:
        old, new = found[end], now[end]
        pulses[end] = (1.0 if old is None or new is None else new / old) / ratios[end]
    return (pulses["front"] / pulses["rear"] - 1.0) * 100.0


def ring_pairs(
    *,
    found: Counts,
    planned: Counts,
    ratios: Mapping[End, float],
    feeds: End | None,
    indicated_at_100_kmh: float | None,
) -> tuple[RingPair, ...]:
    """Return the pairs worth weighing, the nearest to the old front/rear ratio first.

    A count that is planned stands, and the other end's choices go with it.  `feeds` names the
    ring the instrument reads; `indicated_at_100_kmh` is what it shows with the old count on the
    planned wheel.
    """
    choices = {end: _choices(found[end], planned[end], ratios[end]) for end in ENDS}
    pairs = []
    for front in choices["front"]:
        for rear in choices["rear"]:
            now: Counts = {"front": front, "rear": rear}
            shown = None
            if feeds is not None and indicated_at_100_kmh is not None:
                old, new = found[feeds], now[feeds]
                slots_ratio = 1.0 if old is None or new is None else new / old
                shown = indicated_at_100_kmh * slots_ratio
            by = ratio_change_percent(found=found, now=now, ratios=ratios)
            pairs.append(RingPair(front, rear, _why(found, planned, now, ratios), by, shown))
    pairs.sort(key=lambda pair: abs(pair.ratio_change_percent))
    kept = pairs[:MOST_PAIRS]
    as_found = [pair for pair in pairs if (pair.front, pair.rear) == tuple(found[e] for e in ENDS)]
    return tuple(kept + [pair for pair in as_found if pair not in kept])


def _choices(found: int | None, planned: int | None, ratio: float) -> tuple[int | None, ...]:
    if planned is not None:
        return (planned,)
    if found is None:
        return (None,)
    neutral = neutral_slots(found, ratio)
    return tuple(sorted({found, *(neutral + step for step in BESIDE if neutral + step > 0)}))


def _why(found: Counts, planned: Counts, now: Counts, ratios: Mapping[End, float]) -> str:
    if any(planned[end] is not None for end in ENDS):
        return "with the planned ring"
    counted = [end for end in ENDS if found[end] is not None]
    if all(now[end] == found[end] for end in counted):
        return "as it is"
    if all(now[end] == neutral_slots(found[end] or 0, ratios[end]) for end in counted):
        return "each neutral for its wheel"
    return ""
