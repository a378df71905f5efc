"""What a job takes from the shelf: put aside with its card, off the shelf once it is fitted.

A tire is the shelf's where the order list says “in stock”: the line the proposal was made of, one
reserved for the job, else one that is free and as the proposal says it.
"""

from collections.abc import Iterator, Mapping

from jentrik.core.machine.declared import ENDS, End
from jentrik.core.work.carry_over import tire_line
from jentrik.core.work.job import KeptProposal
from jentrik.core.work.order_entries import written
from jentrik.core.work.shelf import ShelfTire
from jentrik.exchange.plan_document import read_kept
from jentrik.store import costs, journal, shelf, wheels
from jentrik.store.rows import rows


def from_stock(job_id: int, kept: KeptProposal) -> dict[End, ShelfTire]:
    """Return the tires of the shelf that a proposal of a job takes, by end."""
    entries, found = costs.entries(job_id), {}
    taken: dict[int, int] = {}
    proposal = read_kept(kept)
    for end in ENDS:
        change = getattr(proposal, end)
        if change.tire is None or end in proposal.owned:
            continue
        key = tire_line(end, change).key
        if written(entries, "source", key) != "in stock":
            continue
        first = int(written(entries, "line", key, "0"))
        for line in sorted(
            _lines(job_id, change.tire.text),
            key=lambda one: (one.job_id != job_id, one.id != first),
        ):
            fitted = change.fitted
            alike = fitted.made in (None, line.made) and fitted.make in ("", None, line.make)
            if alike and taken.get(line.id, 0) < line.pieces:
                taken[line.id] = taken.get(line.id, 0) + 1
                found[end] = line
                break
    return found


def lines_of(job_id: int, kept: KeptProposal) -> dict[End, ShelfTire]:
    """Return the lines of the shelf a proposal was made of, in stock or to order, by end."""
    entries, found = costs.entries(job_id), {}
    proposal = read_kept(kept)
    for end in ENDS:
        change = getattr(proposal, end)
        if change.tire is None:
            continue
        number = written(entries, "line", tire_line(end, change).key)
        line = shelf.tire(int(number)) if number else None
        if line is not None and line.code == change.tire.text:
            found[end] = line
    return found


def _lines(job_id: int, code: str) -> Iterator[ShelfTire]:
    """Give the lines of that code: those put aside for the job first, then the free ones."""
    for row in rows(
        "SELECT shelf_tire.* FROM shelf_tire LEFT JOIN job ON job.id = shelf_tire.job_id"
        " WHERE code = ? AND (job.id IS NULL OR job.id = ? OR job.closed_at IS NOT NULL"
        " OR job.binned_at IS NOT NULL) ORDER BY job.id IS NOT ?, shelf_tire.id",
        code,
        job_id,
        job_id,
    ):
        yield shelf.tire_of(row)


def reserve_for(taken: journal.Step, job_id: int, kept: KeptProposal) -> None:
    """Reserve within a step the tires and wheels that a proposal of a job takes."""
    for tire in from_stock(job_id, kept).values():
        now = shelf.tire(tire.id)  # the other end may have split the line
        if now is not None and now.job_id != job_id:
            shelf.reserve(taken, tire.id, job_id, pieces=1)
    for end in ENDS:
        number = kept.takes.get(end)
        if number is not None:
            shelf.refuse_taken(wheels.wheel(number).job_id, job_id)
            wheels.set_wheel(taken, number, job=job_id)


def take_for(taken: journal.Step, job_id: int, kept: KeptProposal) -> Mapping[End, ShelfTire]:
    """Take off the shelf within a step what a job fitted; return the tires, by end."""
    found = from_stock(job_id, kept)
    for tire in found.values():
        shelf.take_out(taken, tire.id)
    for end in ENDS:
        number = kept.takes.get(end)
        if number is not None:
            wheels.set_wheel(taken, number, job=None)
    return found
