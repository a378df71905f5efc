"""The look again after a fitting: a job of its own with a card of five lines, brought forward by
what was ridden since.
"""

from dataclasses import dataclass
from datetime import date, datetime

from jentrik.core.work.look_again import PART, WANTED, is_due, look_again_on
from jentrik.core.work.template import steps_of
from jentrik.core.work.wear import distance_on, distances, km_a_day
from jentrik.store import cards, jobs, journal, logbook
from jentrik.store.rows import first_row


def set_down(taken: journal.Step, machine_id: int, *, at: datetime) -> int:
    """Open the job of a look again within a step and return its id; one that is open stays."""
    known = _open_look(machine_id)
    if known is not None:
        return known.job_id
    there = logbook.log(machine_id)
    driven = distances(there.odometer.get(machine_id, ()), there.corrections(machine_id))
    due_on = look_again_on(at.date(), km_a_day(driven))
    job_id = jobs.add_job(taken, machine_id=machine_id, wanted=WANTED, at=at, due_on=due_on)
    steps = steps_of(cards.templates()[PART])
    cards.make_card(taken, job_id, proposal="", template=PART, steps=steps, at=at)
    return job_id


def day_of(machine_id: int) -> date | None:
    """Return the day a machine's look again is due; None where none is open."""
    known = _open_look(machine_id)
    return known.due_on if known else None


def bring_forward(taken: journal.Step, machine_id: int, today: date) -> None:
    """Make the look again of a machine due now where enough was ridden since, within a step."""
    known = _open_look(machine_id)
    if known is None or (known.due_on is not None and known.due_on <= today):
        return
    if is_due(_km_since(machine_id, known.since), _rides_since(machine_id, known.since)):
        jobs.set_due(taken, known.job_id, today)


@dataclass(frozen=True, slots=True)
class _Look:
    job_id: int
    since: date
    due_on: date | None


def _open_look(machine_id: int) -> _Look | None:
    row = first_row(
        "SELECT job.id, created_at, due_on FROM job JOIN card ON card.job_id = job.id"
        " WHERE machine_id = ? AND template = ? AND closed_at IS NULL AND binned_at IS NULL",
        machine_id,
        PART,
    )
    if row is None:
        return None
    due_on = date.fromisoformat(row["due_on"]) if row["due_on"] else None
    return _Look(row["id"], datetime.fromisoformat(row["created_at"]).date(), due_on)


def _km_since(machine_id: int, since: date) -> float | None:
    """Return the true km from the first reading of a day to the last there is; None unknown."""
    there = logbook.log(machine_id)
    driven = distances(there.odometer.get(machine_id, ()), there.corrections(machine_id))
    start = distance_on(since, driven, first=True)
    return None if start is None else driven[-1][1] - start


def _rides_since(machine_id: int, since: date) -> int:
    row = first_row(
        "SELECT COUNT(*) AS many FROM ride WHERE machine_id = ? AND taken_on >= ?",
        machine_id,
        since.isoformat(),
    )
    return row["many"] if row else 0
