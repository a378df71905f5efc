"""What is ordered over all jobs: found by a word or a scanned code, and said to be here."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from jentrik.store import costs, jobs
from jentrik.store.costs import WaitedFor
from jentrik.web.pages.jobs.view import day_in_words

LONGEST_FIND = 80
_TAG = re.compile(r"tag (\d{1,7})")


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
    waited: Sequence[WaitedFor], find: str, today: date, here: tuple[int, str] | None
) -> OrdersView:
    """Return the parts that have every word looked for, or are of one tag, as they are shown.

    `here` is what has just arrived: for which job, and the part.
    """
    find = " ".join(find.split())[:LONGEST_FIND]
    rows = [
        OrderedRow(
            one,
            one.key[:1].upper() + one.key[1:],
            day_in_words(one.since, today) if one.since else "",
        )
        for one in waited
        if _is_asked(one, find.casefold())
    ]
    return OrdersView(rows, find, len(waited), _freed(here, waited), here[0] if here else None)


def _is_asked(one: WaitedFor, find: str) -> bool:
    tag = _TAG.fullmatch(find)
    if tag:
        return one.tag == int(tag.group(1))
    searched = f"{one.key} tag {one.tag} {one.machine} {one.supplier}".casefold()
    return all(word in searched for word in find.split())


def _freed(here: tuple[int, str] | None, waited: Sequence[WaitedFor]) -> str:
    if here is None:
        return ""
    job_id, part = here
    job, place = jobs.job(job_id), costs.entries(job_id).get(f"place:{part}", "")
    left = [one.key for one in waited if one.job_id == job_id]
    lies = f" It lies at {place}." if place else ""
    if left:
        return f"Here for tag {job.tag}.{lies} The job still waits for {', '.join(left)}."
    return f"Here: tag {job.tag} can go on.{lies}"
