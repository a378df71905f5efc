"""Jobs as documents: what was found and fitted, sealed on the day, and corrections beside it."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any, Literal

from jentrik.core.errors import StoreError
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.job import Job, KeptProposal
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.core.work.policy_fields import known_policy
from jentrik.exchange.job_document import findings_of, found_document, state_document
from jentrik.exchange.sheet_document import sheet_document, sheet_of
from jentrik.store import after_fitting, cards, costs, jobs, journal, machines, models
from jentrik.store.policy import set_otherwise
from jentrik.store.rows import first_row, rows
from jentrik.store.sheets import sheet_in

LONGEST_CORRECTION = 600


@dataclass(frozen=True, slots=True)
class JobDocument:
    """A job's document as kept: when and by whom it was made, and what it says."""

    id: int
    made_at: datetime
    by: str
    values: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Correction:
    """What was found to be otherwise of a job that is done."""

    at: datetime
    by: str
    text: str


@dataclass(frozen=True, slots=True)
class OnBench:
    """A job with what it is judged by: the machine as found, the shop's limits, the day.

    Of a job that was fitted they are those of its document, of an open one those of now.
    """

    job: Job
    sheet: Sheet
    policy: Policy
    today: date
    document: JobDocument | None = None


def document(job_id: int) -> JobDocument | None:
    """Return a job's document, the last one written; None where nothing was sealed yet."""
    row = first_row(
        "SELECT * FROM job_document WHERE job_id = ? AND kind = 'job' ORDER BY id DESC LIMIT 1",
        job_id,
    )
    if row is None:
        return None
    made_at = datetime.fromisoformat(row["made_at"])
    return JobDocument(row["id"], made_at, row["by"], json.loads(row["document"]))


def documents_of(machine_id: int) -> list[JobDocument]:
    """Return the documents of a machine's fitted jobs, each as it was written last."""
    return [
        JobDocument(
            row["id"],
            datetime.fromisoformat(row["made_at"]),
            row["by"],
            json.loads(row["document"]),
        )
        for row in rows(
            "SELECT * FROM job_document WHERE id IN (SELECT MAX(job_document.id)"
            " FROM job_document JOIN job ON job.id = job_id WHERE machine_id = ?"
            " AND kind = 'job' AND binned_at IS NULL GROUP BY job_id) ORDER BY id",
            machine_id,
        )
    ]


def on_bench(job: Job, policy: Policy, today: date) -> OnBench:
    """Return a job with what it is judged by; refuses one whose machine is gone."""
    kept = document(job.id) if job.documented else None
    if kept is None:
        return OnBench(job, machines.sheet(job.machine_id), policy, today)
    values = kept.values
    proposals = tuple(
        KeptProposal(
            -number,
            one["name"],
            one["changes"],
            judged=findings_of(one["findings"]),
            takes=one["takes"],
        )
        for number, one in enumerate(values["proposals"], start=1)
    )
    return OnBench(
        replace(job, proposals=proposals, sealed=True, wanted=values["wanted"]),
        sheet_of(values["found_sheet"]),
        DEFAULT_POLICY.having(known_policy(values["policy"])),
        date.fromisoformat(values["judged_on"]),
        kept,
    )


def found(job: Job, sheet: Sheet, policy: Policy, on: date) -> dict[str, Any]:
    """Return what of a job's document is settled before its work is fitted."""
    return {**found_document(job, sheet, policy, on), "policy": dict(set_otherwise())}


def write_fitted(
    taken: journal.Step,
    job: Job,
    values: dict[str, Any],
    *,
    carried_out: str,
    policy: Policy,
    at: datetime,
    by: str,
) -> None:
    """Seal within a step what was found, and what its machine is set up as from here."""
    sheet = machines.sheet(job.machine_id)
    seal(
        taken,
        job.id,
        {
            **values,
            "carried_out": carried_out,
            "fitted_on": at.date().isoformat(),
            **_fitted(sheet, policy, at.date()),
        },
        at=at,
        by=by,
    )


def _fitted(sheet: Sheet, policy: Policy, on: date) -> dict[str, Any]:
    return {"fitted": state_document(sheet, policy, on), "fitted_sheet": sheet_document(sheet)}


def write_done(
    taken: journal.Step,
    job: Job,
    policy: Policy,
    *,
    at: datetime,
    by: str,
    answers: tuple[dict[str, str], ...] = (),
) -> None:
    """Seal a whole job within a step: with its card, costs, photos and what was answered."""
    known = document(job.id)
    values = (
        known.values if known else found(job, machines.sheet(job.machine_id), policy, at.date())
    )
    if values["fitted"] is not None and "done_on" not in values:
        setup_id = values["fitted_sheet"]["setup"]["id"]
        values = values | _fitted(sheet_in(job.machine_id, setup_id), policy, at.date())
    done = {
        "done_on": at.date().isoformat(),
        "by": by,
        "whose": jobs.job(job.id).whose,
        "card": _card(job.id),
        "costs": costs.entries(job.id),
        "photos": _photos(job.id),
        "measured": _measured(job.id),
        "answers": list(answers),
    }
    seal(taken, job.id, {**values, **done}, at=at, by=by)


def _photos(job_id: int) -> list[dict[str, str]]:
    return [
        {
            "file": photo.file,
            "caption": photo.caption,
            "at": photo.taken_at.isoformat(),
            "by": photo.by,
        }
        for photo in cards.photos(job_id)
    ]


def _measured(job_id: int) -> list[dict[str, Any]]:
    return [
        {
            "key": one.expected.key,
            "label": one.expected.label,
            "unit": one.expected.unit,
            "predicted": one.expected.predicted,
            "plus_minus": one.expected.plus_minus,
            "measured": one.measured,
            "by": one.by,
        }
        for one in after_fitting.measured_of(job_id).values()
    ]


def _card(job_id: int) -> dict[str, Any] | None:
    card = cards.card_of(job_id)
    if card is None:
        return None
    return {
        "proposal": card.proposal,
        "template": card.template,
        "steps": [
            {
                "text": step.plan.text,
                "stop": step.plan.stop,
                "fastener": step.plan.fastener,
                "torque_nm": step.torque_nm,
                "torque_source": step.torque_source,
                "reading": step.reading,
                "plus_minus": step.plus_minus,
                "reads": step.plan.reading,
                "unit": step.plan.unit,
                "done_by": step.done_by,
                "done_at": step.done_at.isoformat() if step.done_at else None,
                "waived": step.waived,
                "reason": step.reason,
            }
            for step in card.steps
        ],
    }


def seal(
    taken: journal.Step,
    job_id: int,
    values: Mapping[str, Any],
    *,
    at: datetime,
    by: str,
    kind: Literal["job", "offer"] = "job",
) -> None:
    """Keep a document of a job within a step: no write changes it, and the chain holds it."""
    taken.insert(
        models.JobDocumentTable,
        job=job_id,
        made_at=at.isoformat(),
        by=by,
        document=json.dumps(values, ensure_ascii=False, sort_keys=True),
        kind=kind,
    )


def _has_document(job_id: int) -> bool:
    return bool(
        first_row("SELECT id FROM job_document WHERE job_id = ? AND kind = 'job' LIMIT 1", job_id)
    )


def is_done(job_id: int) -> bool:
    """Whether the document of a whole job is sealed: closing it again changes nothing of it."""
    kept = document(job_id)
    return kept is not None and "done_on" in kept.values


def must_be_open(job_id: int) -> None:
    """Refuse to change what a job that was fitted or is done has found and proposed."""
    if _has_document(job_id):
        raise StoreError(
            "This job was fitted: what was found and proposed stays as it was. Write a "
            "correction beside it, or start another job.",
            field="job",
            expected="a correction, or another job",
        )


def corrections(job_id: int) -> list[Correction]:
    """Return what was corrected of a job, the first one first."""
    return [
        Correction(datetime.fromisoformat(row["at"]), row["by"], row["text"])
        for row in rows("SELECT * FROM correction WHERE job_id = ? ORDER BY id", job_id)
    ]


def correct(taken: journal.Step, job_id: int, text: str, *, at: datetime, by: str) -> None:
    """Write a correction beside a job's document within a step; the document stays."""
    text = " ".join(text.split())
    if not text or len(text) > LONGEST_CORRECTION:
        raise StoreError(
            f"A correction says what is otherwise, in at most {LONGEST_CORRECTION} letters.",
            field="correction",
            expected="what is otherwise",
        )
    if not _has_document(jobs.job(job_id).id):
        raise StoreError(
            "This job has no document yet: change the job itself.", expected="a job that is done"
        )
    taken.insert(models.CorrectionTable, job=job_id, at=at.isoformat(), by=by, text=text)
