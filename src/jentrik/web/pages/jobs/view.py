"""The list of jobs: what is on the bench, what changes, the main problem, when it is due."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date

from markupsafe import Markup

from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.plan.plan import Outcome
from jentrik.core.rules.case import Finding
from jentrik.core.rules.joined import NO_FINDING, NOTHING_TO_CHECK, count_in_words
from jentrik.core.work.job import Job
from jentrik.core.work.policy import Policy
from jentrik.store.listing import JobLine, Page, Wanted
from jentrik.web.drawing.silhouette import kept_silhouette
from jentrik.web.parts.address import STATIONS
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.parts.paging import Paging
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.parts.words import due_in_words

BOARD = "board"  # the state of the list that shows it by station
MOST_JUDGED = 40  # open jobs that are judged before and after a limit is changed


@dataclass(frozen=True, slots=True)
class JobRow:
    """One job in the list."""

    line: JobLine
    changes: str
    due: str
    due_tone: str
    picture: Markup
    waits: str = ""  # for how many parts it waits


@dataclass(frozen=True, slots=True)
class JobsView:
    """The list, and the fields of a new job."""

    rows: list[JobRow]
    board: list[tuple[str, list[JobRow]]]  # the same by station, where a board is asked for
    paging: Paging
    names: list[str]
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)
    builds: tuple[str, ...] = tuple(build.value for build in DrawnAs)


def jobs_view(
    listed: Page[JobLine],
    wanted: Wanted,
    names: list[str],
    path: str,
    today: date,
    *,
    typed: Typed = NOTHING_TYPED,
) -> JobsView:
    """Return a page of jobs as it is shown."""
    rows = [_row(line, today) for line in listed.rows]
    return JobsView(
        rows=rows,
        board=_board(rows) if wanted.state == BOARD else [],
        paging=Paging(path, wanted, more=listed.more, usual="due"),
        names=names,
        typed=typed.values,
        complaints=typed.complaints(),
    )


def _board(rows: list[JobRow]) -> list[tuple[str, list[JobRow]]]:
    """Return the jobs under the station they are at, each station's earliest due first."""
    return [
        (station.capitalize(), [row for row in rows if row.line.station == station])
        for station in STATIONS
    ]


def _row(line: JobLine, today: date) -> JobRow:
    due, tone = due_in_words(line.due_on, today)
    if line.closed_at is not None:
        due, tone = f"closed {line.closed_at:%d %b %Y}", "was"
    picture = kept_silhouette(line.picture)
    waits = "" if line.closed_at or not line.waits else f"waits for {parts_in_words(line.waits)}"
    return JobRow(line, line.wanted or line.changes, due, tone, picture, waits)


def parts_in_words(count: int) -> str:
    """Return a number of parts in words."""
    return f"{count} part{'s' if count > 1 else ''}"


def reached(job: Job, sheet: Sheet, ticked: tuple[int, int, int] | None) -> tuple[str, str]:
    """Return the station where a job goes on, and how far it is there."""
    missing = len(missing_of(sheet))
    if job.done is not None:
        return "ride", "first ride"
    if ticked is not None:
        return "fit", f"{ticked[0]} of {ticked[1]}"
    if missing:
        return "measure", f"{missing} missing"
    return ("check", "") if job.proposals else ("propose", "")


def jobs_judged(there: Iterable[tuple[Job, Sheet]], policy: Policy, today: date) -> dict[str, str]:
    """Return what jobs come to under a policy, in words, by tag."""
    verdicts = {}
    for job, sheet in there:
        findings, says = judged_job(job, sheet, policy, today)
        verdicts[f"tag {job.tag}"] = says or count_in_words(
            findings, changed=any(kept.changes for kept in job.proposals)
        )
    return verdicts


def judged_job(job: Job, sheet: Sheet, policy: Policy, today: date) -> tuple[list[Finding], str]:
    """Return the findings of every proposal, the heaviest first, and a word where none."""
    missing = missing_of(sheet)
    if missing:
        return [], "waits for figures"
    found, impossible = found_of(sheet, missing, policy, today)
    if found is None:
        return [], impossible
    findings: list[Finding] = []
    for kept in job.proposals:
        outcome = judged(found, kept)
        if not isinstance(outcome, Outcome):
            return findings, outcome
        findings += outcome.findings
    order = {"stop": 0, "caution": 1, "note": 2}
    findings.sort(key=lambda finding: order[finding.severity])
    if findings:
        return findings, ""
    if job.done:
        return findings, "sheet updated"
    changed = any(kept.changes for kept in job.proposals)
    return findings, NO_FINDING if changed else NOTHING_TO_CHECK
