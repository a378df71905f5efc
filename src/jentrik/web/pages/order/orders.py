"""What is ordered over all jobs: found by a word or a scanned code, and said to be here."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from jentrik.core.work.order_entries import OrderState
from jentrik.store import costs, jobs
from jentrik.store.costs import WaitedFor
from jentrik.web.pages.jobs.view import day_in_words

LONGEST_FIND = 80


@dataclass(frozen=True, slots=True)
class OrderedRow:
    """One part that is waited for, with since when in words."""

    part: WaitedFor
    name: str
    since: str


@dataclass(frozen=True, slots=True)
class OrdersView:
    """The page: what is waited for, and what the last arrival freed."""

    rows: Sequence[OrderedRow]
    find: str
    waits: int  # over all jobs
    said: str  # which job an arrival frees, or what it still waits for
    freed: int | None


def orders_view(
    waited: Sequence[WaitedFor], find: str, today: date, freed: int | None
) -> OrdersView:
    """Return the parts that have every word looked for, as they are shown."""
    find = " ".join(find.split())[:LONGEST_FIND]
    words = [word.casefold() for word in find.split()]
    rows = [
        OrderedRow(
            one,
            one.key[:1].upper() + one.key[1:],
            day_in_words(one.since, today) if one.since else "",
        )
        for one in waited
        if all(word in _searched(one) for word in words)
    ]
    return OrdersView(rows, find, len(waited), _freed(freed, waited), freed)


def _searched(one: WaitedFor) -> str:
    return f"{one.key} tag {one.tag} {one.machine} {one.supplier}".casefold()


def _freed(job_id: int | None, waited: Sequence[WaitedFor]) -> str:
    if job_id is None:
        return ""
    job = jobs.job(job_id)
    entries = costs.entries(job_id)
    last = max(
        (key for key, value in entries.items() if _is_here(key, value)),
        key=lambda key: entries.get(f"since:{key.partition(':')[2]}", ""),
        default="",
    ).partition(":")[2]
    place = entries.get(f"place:{last}", "")
    left = [one.key for one in waited if one.job_id == job_id]
    lies = f" It lies at {place}." if place else ""
    if left:
        return f"Here for tag {job.tag}.{lies} The job still waits for {', '.join(left)}."
    return f"Here: tag {job.tag} can go on.{lies}"


def _is_here(key: str, value: str) -> bool:
    return key.startswith("state:") and value == OrderState.ARRIVED
