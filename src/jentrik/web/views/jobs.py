"""The list of jobs: what is on the bench, what changes, the worst of it, when it is due."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from jentrik.core.errors import Refusal
from jentrik.core.job import Job
from jentrik.core.plan import as_measured, outcome_of
from jentrik.core.rules.case import Finding
from jentrik.core.sheet import Sheet, missing_of
from jentrik.exchange.plan_document import read_bike, read_proposal
from jentrik.store import jobs, machines
from jentrik.web.views.bench import change_in_words, due_in_words
from jentrik.web.views.fields import NOTHING_TYPED, Complaint, Typed


@dataclass(frozen=True, slots=True)
class JobRow:
    """One job in the list."""

    job: Job
    machine: str
    changes: str
    proposals: str
    worst: Finding | None
    stops: int
    cautions: int
    says: str
    due: str
    due_tone: str


@dataclass(frozen=True, slots=True)
class JobsView:
    """The list, and the two fields of a new job."""

    rows: list[JobRow]
    names: list[str]
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)


def jobs_view(today: date, *, typed: Typed = NOTHING_TYPED) -> JobsView:
    """Return every job, judged, the one due first on top."""
    sheets = {sheet.id: sheet for sheet in machines.sheets()}
    return JobsView(
        rows=[_row(job, sheets[job.machine_id], today) for job in jobs.jobs()],
        names=sorted(sheet.name for sheet in sheets.values()),
        typed=typed.values,
        complaints=typed.complaints(),
    )


def _row(job: Job, sheet: Sheet, today: date) -> JobRow:
    findings, says = _judged(job, sheet)
    due, tone = due_in_words(job.due_on, today)
    first = job.proposals[0].changes if job.proposals else {}
    return JobRow(
        job=job,
        machine=sheet.name,
        changes=job.wanted or change_in_words(sheet, first),
        proposals=" ".join(kept.name for kept in job.proposals),
        worst=findings[0] if findings else None,
        stops=sum(finding.severity == "stop" for finding in findings),
        cautions=sum(finding.severity == "caution" for finding in findings),
        says=says,
        due=due,
        due_tone=tone,
    )


def _judged(job: Job, sheet: Sheet) -> tuple[list[Finding], str]:
    """Return the findings of every proposal, the heaviest first, and a word where none."""
    if missing_of(sheet):
        return [], "waits for figures"
    findings: list[Finding] = []
    try:
        found = as_measured(read_bike(sheet.bike_values()))
        for kept in job.proposals:
            findings += outcome_of(found, read_proposal(kept.values())).findings
    except Refusal as refusal:
        return findings, refusal.message
    order = {"stop": 0, "caution": 1, "note": 2}
    findings.sort(key=lambda finding: order[finding.severity])
    return findings, "" if findings else "nothing found yet"
