"""Jobs and their proposals: queries that return core values, and the ways a job changes."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.work.job import Done, Job, KeptProposal, next_name
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows


def jobs(*, most: int = -1) -> list[Job]:
    """Return the open jobs with their proposals, what is due first on top; two queries."""
    return _jobs_of(f"{_WITH_DONE} WHERE {_OPEN} {_ORDER} LIMIT ?", most)


def open_jobs_of(machine_id: int) -> list[Job]:
    """Return the open jobs of one machine, what is due first on top."""
    return _jobs_of(f"{_WITH_DONE} WHERE job.machine_id = ? AND {_OPEN} {_ORDER}", machine_id)


def job(job_id: int) -> Job:
    """Return one job; refuses one that is not there, or in the bin."""
    found = _jobs_of(f"{_WITH_DONE} WHERE job.id = ? AND job.binned_at IS NULL", job_id)
    if not found:
        raise StoreError("There is no such job.", expected="a job of this shop")
    return found[0]


def stands(job_id: int) -> bool:
    """Whether a job is there, and not in the bin."""
    return bool(first_row("SELECT id FROM job WHERE id = ? AND binned_at IS NULL", job_id))


def any_job(job_id: int) -> tuple[Job, str]:
    """Return one job and its state: open, done or binned; refuses one that is not there."""
    found = _jobs_of(f"{_WITH_DONE} WHERE job.id = ?", job_id)
    if not found:
        raise StoreError("There is no such job.", expected="a job of this shop")
    row = first_row("SELECT binned_at FROM job WHERE id = ?", job_id)
    binned = row is not None and row["binned_at"] is not None
    state = "binned" if binned else "done" if found[0].closed_at else "open"
    return found[0], state


_WITH_DONE = """SELECT job.*, fitting.taken_on AS done_on, fitting.summary,
       card.proposal AS carded,
       EXISTS (SELECT 1 FROM job_document WHERE job_id = job.id AND kind = 'job') AS documented
       FROM job JOIN machine ON machine.id = job.machine_id
       LEFT JOIN fitting ON fitting.job_id = job.id
       LEFT JOIN card ON card.job_id = job.id"""
_OPEN = "job.closed_at IS NULL AND job.binned_at IS NULL AND machine.binned_at IS NULL"
PROMISED = "job.due_on IS NULL, job.due_on, job.promised_time = '', job.promised_time, job.tag"
_ORDER = f"ORDER BY {PROMISED}"


def _jobs_of(sql: str, *asked: int) -> list[Job]:
    found = rows(sql, *asked)
    ids = [row["id"] for row in found]
    marks = ", ".join("?" for _ in ids)
    grouped: dict[int, list[KeptProposal]] = {}
    for row in rows(
        f"SELECT * FROM proposal WHERE job_id IN ({marks}) ORDER BY id",  # noqa: S608
        *ids,
    ):
        grouped.setdefault(row["job_id"], []).append(_proposal(row))
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
            documented=bool(row["documented"]),
            promised_time=row["promised_time"],
            whose=row["whose"],
            external_id=row["external_id"],
            rung_at=datetime.fromisoformat(row["rung_at"]) if row["rung_at"] else None,
        )
        for row in found
    ]


def _proposal(row: dict[str, Any]) -> KeptProposal:
    try:
        changes = json.loads(row["changes"])
        if not isinstance(changes, dict):
            raise ValueError
    except ValueError:
        return KeptProposal(row["id"], row["name"], {}, readable=False)
    return KeptProposal(row["id"], row["name"], changes, takes=json.loads(row["takes"]))


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
        models.JobTable,
        tag=tag,
        machine=machine_id,
        wanted=wanted,
        due_on=due_on.isoformat() if due_on else None,
        created_at=at.isoformat(),
    )


def want(taken: journal.Step, job_id: int, wanted: str) -> None:
    """Change what a job is for, within a step."""
    taken.update(models.JobTable, job_id, wanted=wanted)


def set_due(taken: journal.Step, job_id: int, due_on: date | None, at: str = "") -> None:
    """Change the day a job is promised for, and the hour of it, within a step."""
    day = due_on.isoformat() if due_on else None
    taken.update(models.JobTable, job_id, due_on=day, promised_time=at if due_on else "")


def give_to(taken: journal.Step, job_id: int, whose: str) -> None:
    """Change who does a job within a step; "" leaves it open."""
    taken.update(models.JobTable, job_id, whose=whose)


def set_external_id(taken: journal.Step, job_id: int, key: str) -> None:
    """Change a job's key in another program within a step."""
    taken.update(models.JobTable, job_id, external_id=key)


def note_rung(taken: journal.Step, job_id: int, at: datetime | None) -> None:
    """Note within a step when the customer was rung."""
    taken.update(models.JobTable, job_id, rung_at=at.isoformat() if at else None)


def close(taken: journal.Step, job_id: int, *, at: datetime | None) -> None:
    """Close a job within a step, or without a time open it again."""
    taken.update(models.JobTable, job_id, closed_at=at.isoformat() if at else None)


def must_not_be_done(job_id: int) -> None:
    """Refuse to change a job that is done: its document stands."""
    if job(job_id).closed_at is not None:
        raise StoreError(
            "This job is done and its document is sealed. Write a correction beside it.",
            field="job",
            expected="a correction",
        )


@dataclass(frozen=True, slots=True)
class ClosedJob:
    """A job that is done: what hung on the machine, for what, and when it was closed."""

    id: int
    tag: int
    machine_id: int
    wanted: str
    closed_at: datetime


def closed_jobs(
    machine_id: int | None = None, *, most: int = 200, words: str = ""
) -> list[ClosedJob]:
    """Return the jobs that are done, the last first: of all, of one machine, or of those found."""
    where, asked = ["closed_at IS NOT NULL", "binned_at IS NULL"], list[Any]()
    if machine_id is not None:
        where.append("machine_id = ?")
        asked.append(machine_id)
    elif words:
        where.append("machine_id IN (SELECT rowid FROM machine_words WHERE machine_words MATCH ?)")
        asked.append(words)
    return [
        ClosedJob(
            row["id"],
            row["tag"],
            row["machine_id"],
            row["wanted"],
            datetime.fromisoformat(row["closed_at"]),
        )
        for row in rows(
            f"SELECT * FROM job WHERE {' AND '.join(where)}"  # noqa: S608  # words of ours
            " ORDER BY closed_at DESC LIMIT ?",
            *asked,
            most,
        )
    ]


def open_tags(most: int) -> list[tuple[int, str]]:
    """Return the open jobs, so many at most, by tag: the id of each, its tag and machine."""
    return _tags("closed_at IS NULL ORDER BY tag LIMIT ?", most)


def reserved_tags() -> dict[int, str]:
    """Return the open jobs that a tire or wheel is reserved for: tag and machine, by id."""
    things = " UNION ".join(
        f"SELECT job_id FROM {table} WHERE job_id IS NOT NULL"  # noqa: S608  # words of ours
        for table in ("shelf_tire", "wheel")
    )
    return dict(_tags(f"closed_at IS NULL AND job.id IN ({things})"))


def _tags(which: str, *asked: int) -> list[tuple[int, str]]:
    return [
        (row["id"], f"tag {row['tag']}, {row['name']}")
        for row in rows(
            "SELECT job.id, tag, machine.name FROM job JOIN machine ON machine.id = machine_id"  # noqa: S608  # words of ours
            f" WHERE job.binned_at IS NULL AND {which}",
            *asked,
        )
    ]


def add_proposal(
    taken: journal.Step,
    job_id: int,
    changes: dict[str, Any],
    *,
    name: str | None = None,
    takes: Mapping[str, Any] | None = None,
) -> str:
    """Add a proposal within a step, on the next free letter, and return its name."""
    names = tuple(row["name"] for row in rows("SELECT name FROM proposal WHERE job_id = ?", job_id))
    name = name or next_name(names)
    taken.insert(
        models.ProposalTable,
        job=job_id,
        name=name,
        changes=_json(changes),
        takes=_json(takes or {}),
    )
    return name


def name_proposal(taken: journal.Step, job_id: int, kept: KeptProposal, name: str) -> None:
    """Give a proposal another name within a step; its job's card goes with it."""
    taken.update(models.ProposalTable, kept.id, name=name)
    card = first_row("SELECT id, proposal FROM card WHERE job_id = ?", job_id)
    if card is not None and card["proposal"] == kept.name:
        taken.update(models.CardTable, card["id"], proposal=name)


def set_changes(taken: journal.Step, proposal_id: int, changes: dict[str, Any]) -> None:
    """Write what a proposal changes within a step."""
    taken.update(models.ProposalTable, proposal_id, changes=_json(changes))


def drop_proposal(taken: journal.Step, proposal_id: int) -> None:
    """Take a proposal away within a step; the journal keeps it."""
    taken.delete(models.ProposalTable, proposal_id)


def _json(changes: Mapping[str, Any]) -> str:
    return json.dumps(changes, ensure_ascii=False, sort_keys=True)
