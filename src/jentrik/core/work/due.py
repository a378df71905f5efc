"""What is due and when: jobs, looks at tires, tread and age limits, machines that stand.

Each line has a day, a reason and a key that stays the same while the matter does, so that a
calendar moves an event instead of adding one.  Source: common practice, the shop's policy.
"""

from dataclasses import dataclass
from datetime import date, datetime

from jentrik.core.days import days_after


@dataclass(frozen=True, slots=True)
class Revision:
    """How often something of a machine changed, and when it last did."""

    times: int
    at: datetime


@dataclass(frozen=True, slots=True)
class Due:
    """One thing due: its key, the day, what, why, and the machine it belongs to."""

    key: str
    on: date
    what: str
    why: str
    machine_id: int
    machine: str
    job_id: int | None = None

    def late(self, today: date) -> bool:
        """Whether its day is past."""
        return self.on < today

    def this_week(self, today: date) -> bool:
        """Whether it is late or falls before the end of the ISO week of a day."""
        return self.on <= days_after(today, 7 - today.isoweekday())


def next_look(last: date, months: float) -> date:
    """Return the day the next look at a tire is due."""
    return days_after(last, months * 365.2425 / 12)


def next_move(since: date, weeks: float, today: date) -> date:
    """Return the next day a standing machine's wheels are to be moved."""
    step = max(round(weeks * 7), 1)
    turns = max((today - since).days // step, 0)
    there = days_after(since, step * turns)
    return there if there >= today and turns else days_after(since, step * (turns + 1))
