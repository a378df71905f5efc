"""Tone rings: how many slots each choice has, what ABS and the instrument make of it.

    front against rear   (slots / circumference, front) / (the same, rear), against as found
    instrument           shown x slots' / slots where the ring also feeds it

ABS comes first: the neutral count is the old one times the circumference ratio, in whole slots.
A count that cancels the instrument's own error moves front against rear by that error.
Sources: arithmetic; common practice.
"""

from dataclasses import dataclass

from jentrik.core.suspension import End


@dataclass(frozen=True, slots=True)
class RingChoice:
    """One count: why it is named, what 100 km/h reads with it, how front against rear moves."""

    slots: int
    why: str
    indicated_at_100_kmh: float | None
    ratio_change_percent: float


def neutral_slots(slots: int, circumference_ratio: float) -> int:
    """Return the count that leaves ABS what it knew, in whole slots."""
    return round(slots * circumference_ratio)


def ring_choices(
    *,
    end: End,
    slots: int,
    front_ratio: float,
    rear_ratio: float,
    indicated_at_100_kmh: float | None,
) -> tuple[RingChoice, ...]:
    """Return the counts worth weighing for the ring of one wheel, the fewest slots first.

    `indicated_at_100_kmh` is what it shows with the old count on the planned wheel; None where
    this ring does not feed the instrument.
    """
    ratio = front_ratio if end == "front" else rear_ratio
    neutral = neutral_slots(slots, ratio)
    named = {slots: "as it is", neutral: "neutral for ABS"}
    if slots == neutral:
        named[neutral] = "as it is, neutral for ABS"
    if indicated_at_100_kmh is not None:
        exact = round(slots * 100.0 / indicated_at_100_kmh)
        named.setdefault(exact, "makes the instrument exact")
    for near in (neutral - 1, neutral + 1):
        named.setdefault(near, "one beside neutral")
    return tuple(
        RingChoice(
            count,
            why,
            None if indicated_at_100_kmh is None else indicated_at_100_kmh * count / slots,
            _ratio_change(end, count / slots, front_ratio, rear_ratio),
        )
        for count, why in sorted(named.items())
        if count > 0
    )


def _ratio_change(end: End, more_slots: float, front_ratio: float, rear_ratio: float) -> float:
    """Return how pulses front against rear change, percent."""
    front, rear = 1.0 / front_ratio, 1.0 / rear_ratio
    if end == "front":
        front *= more_slots
    else:
        rear *= more_slots
    return (front / rear - 1.0) * 100.0
