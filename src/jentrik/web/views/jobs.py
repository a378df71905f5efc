"""The list of jobs: what is on the bench, what changes, the worst of it, when it is due."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from jentrik.core.job import Job
from jentrik.core.plan import Outcome
from jentrik.core.policy import Policy
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.sheet import Sheet
from jentrik.core.sheet_fields import missing_of
from jentrik.store import cards, jobs, machines
from jentrik.store.jobs import ClosedJob
from jentrik.web.views.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.views.verdict import count_in_words, counted, found_of, judged
from jentrik.web.views.words import due_in_words, what_changes

MOST_CLOSED = 12  # on the list; the logbook holds them all


@dataclass(frozen=True, slots=True)
class JobRow:
    """One job in the list."""

    job: Job
    machine: str
    changes: str
    proposals: str
    worst: Finding | None
    others: int  # stops and cautions besides the worst
    says: str
    station: str  # as the bench's address says it
    so_far: str
    due: str
    due_tone: str


@dataclass(frozen=True, slots=True)
class JobsView:
    """The list, and the two fields of a new job."""

    rows: list[JobRow]
    names: list[str]
    closed: list[tuple[ClosedJob, str]]
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)


def jobs_view(policy: Policy, today: date, *, typed: Typed = NOTHING_TYPED) -> JobsView:
    """Return every job, judged, the one due first on top."""
    sheets = {sheet.id: sheet for sheet in machines.sheets()}
    ticked = cards.progress()
    rows = []
    for job in jobs.jobs():
        sheet = sheets[job.machine_id]
        reached = _reached(job, sheet, ticked.get(job.id))
        rows.append(_row(job, sheet, policy, today, reached))
    return JobsView(
        rows=rows,
        names=sorted(sheet.name for sheet in sheets.values()),
        closed=[
            (one, sheets[one.machine_id].name)
            for one in jobs.closed_jobs(most=MOST_CLOSED)
            if one.machine_id in sheets
        ],
        typed=typed.values,
        complaints=typed.complaints(),
    )


def _row(
    job: Job, sheet: Sheet, policy: Policy, today: date, reached: tuple[str, str]
) -> JobRow:  # fmt: skip
    findings, says = _judged(job, sheet, policy, today)
    due, tone = due_in_words(job.due_on, today)
    first = next(iter(job.proposals), None)
    return JobRow(
        job=job,
        machine=sheet.name,
        changes=job.wanted or (what_changes(job, sheet, first) if first else "nothing changed yet"),
        proposals=" ".join(kept.name for kept in job.proposals),
        worst=findings[0] if findings else None,
        others=counted(findings, Severity.STOP) + counted(findings, Severity.CAUTION) - 1,
        says=says,
        station=reached[0],
        so_far=reached[1],
        due=due,
        due_tone=tone,
    )


def _reached(
    job: Job, sheet: Sheet, ticked: tuple[int, int, int] | None
) -> tuple[str, str]:  # fmt: skip
    """Return the station where a job goes on, and how far it is there."""
    missing = len(missing_of(sheet))
    if job.done is not None:
        return "ride", "first ride"
    if ticked is not None:
        return "fit", f"{ticked[0]} of {ticked[1]}"
    if missing:
        return "measure", f"{missing} missing"
    return ("check", "") if job.proposals else ("propose", "")


def jobs_judged(policy: Policy, today: date) -> dict[str, str]:
    """Return what each open job comes to under a policy, in words, by its tag."""
    sheets = {sheet.id: sheet for sheet in machines.sheets()}
    judged = {}
    for job in jobs.jobs():
        findings, says = _judged(job, sheets[job.machine_id], policy, today)
        judged[f"tag {job.tag}"] = says or count_in_words(tuple(findings))
    return judged


def _judged(job: Job, sheet: Sheet, policy: Policy, today: date) -> tuple[list[Finding], str]:
    """Return the findings of every proposal, the heaviest first, and a word where none."""
    missing = missing_of(sheet)
    if missing:
        return [], "waits for figures"
    found, impossible = found_of(sheet, missing, policy, today)
    if found is None:
        return [], impossible
    findings: list[Finding] = []
    for kept in job.to_judge(sheet):
        outcome = judged(found, kept)
        if not isinstance(outcome, Outcome):
            return findings, outcome
        findings += outcome.findings
    order = {"stop": 0, "caution": 1, "note": 2}
    findings.sort(key=lambda finding: order[finding.severity])
    if findings:
        return findings, ""
    return findings, "on the sheet" if job.done else "nothing found yet"
