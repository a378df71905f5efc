"""Jobs and their proposals: queries that return core values, and the ways a job changes."""

import json
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.job import Done, Job, KeptProposal, next_name
from jentrik.store import journal, models
from jentrik.store.rows import rows

MOST_PROPOSALS = 12  # side by side; more cannot be compared by anybody


def jobs() -> list[Job]:
    """Return every open job with its proposals, what is due first on top; two queries."""
    return _jobs_where(None)


def job(job_id: int) -> Job:
    """Return one job; refuses one that is not there."""
    found = _jobs_where(job_id)
    if not found:
        raise StoreError("There is no such job.", expected="a job of this shop")
    return found[0]


_WITH_DONE = """SELECT job.*, fitting.taken_on AS done_on, fitting.summary, card.proposal AS carded
       FROM job LEFT JOIN fitting ON fitting.job_id = job.id
       LEFT JOIN card ON card.job_id = job.id"""
_ONE = (
    f"{_WITH_DONE} WHERE job.id = ? AND binned_at IS NULL",
    "SELECT * FROM proposal WHERE job_id = ? ORDER BY id",
)
_ALL = (
    f"""{_WITH_DONE} WHERE closed_at IS NULL AND binned_at IS NULL
       ORDER BY due_on IS NULL, due_on, tag""",
    """SELECT * FROM proposal WHERE job_id IN
       (SELECT id FROM job WHERE closed_at IS NULL AND binned_at IS NULL) ORDER BY id""",
)


def _jobs_where(job_id: int | None) -> list[Job]:
    query, asked = (_ALL, ()) if job_id is None else (_ONE, (job_id,))
    grouped: dict[int, list[KeptProposal]] = {}
    for row in rows(query[1], *asked):
        kept = KeptProposal(row["id"], row["name"], json.loads(row["changes"]))
        grouped.setdefault(row["job_id"], []).append(kept)
    return [
        Job(
            id=row["id"],
            tag=row["tag"],
            machine_id=row["machine_id"],
            wanted=row["wanted"],
            due_on=date.fromisoformat(row["due_on"]) if row["due_on"] else None,
            proposals=tuple(grouped.get(row["id"], ())),
            closed_at=datetime.fromisoformat(row["closed_at"]) if row["closed_at"] else None,
            done=Done(row["carded"] or "", date.fromisoformat(row["done_on"]), row["summary"])
            if row["done_on"]
            else None,
        )
        for row in rows(query[0], *asked)
    ]


def add_job(
    taken: journal.Step,
    *,
    machine_id: int,
    wanted: str,
    at: datetime,
    tag: int | None = None,
    due_on: date | None = None,
) -> int:
    """Add a job within a step, on the next free tag, and return its id."""
    if tag is None:
        tags = {row["tag"] for row in rows("SELECT tag FROM job")}
        tag = next(number for number in range(1, len(tags) + 2) if number not in tags)
    return taken.insert(
        models.Job,
        tag=tag,
        machine=machine_id,
        wanted=wanted,
        due_on=due_on.isoformat() if due_on else None,
        created_at=at.isoformat(),
    )


def want(taken: journal.Step, job_id: int, wanted: str) -> None:
    """Change what a job is for, within a step."""
    taken.update(models.Job, job_id, wanted=wanted)


def set_due(taken: journal.Step, job_id: int, due_on: date | None) -> None:
    """Change when a job is due, within a step."""
    taken.update(models.Job, job_id, due_on=due_on.isoformat() if due_on else None)


def close(taken: journal.Step, job_id: int, *, at: datetime | None) -> None:
    """Close a job within a step, or without a time open it again."""
    taken.update(models.Job, job_id, closed_at=at.isoformat() if at else None)


@dataclass(frozen=True, slots=True)
class ClosedJob:
    """A job that is done: what hung on the machine, for what, and when it was closed."""

    id: int
    tag: int
    machine_id: int
    wanted: str
    closed_at: datetime


def closed_jobs(machine_id: int | None = None, *, most: int = 200) -> list[ClosedJob]:
    """Return the jobs that are done, the last first, of one machine or of all."""
    of = "" if machine_id is None else "AND machine_id = ?"
    asked = (most,) if machine_id is None else (machine_id, most)
    return [
        ClosedJob(row["id"], row["tag"], row["machine_id"], row["wanted"],
                  datetime.fromisoformat(row["closed_at"]))
        for row in rows(
            "SELECT * FROM job WHERE closed_at IS NOT NULL AND binned_at IS NULL "  # noqa: S608
            f"{of} ORDER BY closed_at DESC LIMIT ?", *asked
        )
    ]  # fmt: skip


def add_proposal(
    taken: journal.Step, job_id: int, changes: dict[str, Any], *, name: str | None = None
) -> str:
    """Add a proposal within a step, on the next free letter, and return its name."""
    names = tuple(row["name"] for row in rows("SELECT name FROM proposal WHERE job_id = ?", job_id))
    if len(names) >= MOST_PROPOSALS:
        raise StoreError(
            f"A job compares at most {MOST_PROPOSALS} proposals.",
            expected="one of the proposals taken away first",
        )
    name = name or next_name(names)
    taken.insert(models.Proposal, job=job_id, name=name, changes=_json(changes))
    return name


def set_changes(taken: journal.Step, proposal_id: int, changes: dict[str, Any]) -> None:
    """Write what a proposal changes within a step."""
    taken.update(models.Proposal, proposal_id, changes=_json(changes))


def drop_proposal(taken: journal.Step, proposal_id: int) -> None:
    """Take a proposal away within a step; the journal keeps it."""
    taken.delete(models.Proposal, proposal_id)


def _json(changes: dict[str, Any]) -> str:
    return json.dumps(changes, ensure_ascii=False, sort_keys=True)
