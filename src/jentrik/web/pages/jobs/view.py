"""The list of jobs: what is on the bench, what changes, the main problem, when it is due."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date

from markupsafe import Markup

from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.plan.plan import Outcome
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.joined import NO_FINDING, NOTHING_TO_CHECK, count_in_words, of_severity
from jentrik.core.work.day import DayOf, Next, Stage
from jentrik.core.work.job import Job
from jentrik.core.work.policy import Policy
from jentrik.store.listing import JobLine, Page, Wanted
from jentrik.web.drawing.silhouette import kept_silhouette
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.parts.paging import Paging
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.parts.words import due_in_words

MOST_JUDGED = 40  # open jobs that are judged before and after a limit is changed
FILTERS = ("today", "mine", "waits", "ready", "open", "done", "all")
_LABELS = {"open": "on the bench"}


@dataclass(frozen=True, slots=True)
class JobRow:
    """One job in the list: two lines, when it is promised, and its one next thing."""

    line: JobLine
    changes: str
    says: str
    tone: str  # of what it says: stop, caution or nothing
    due: str
    due_tone: str
    picture: Markup
    opens: str  # the station its next thing is at; "" where it is another page


@dataclass(frozen=True, slots=True)
class Filter:
    """One filter of the list: its words, how many jobs it holds, its address."""

    label: str
    count: int | None
    href: str
    current: bool


@dataclass(frozen=True, slots=True)
class JobsView:
    """The list, its filters, the day's strip, and the fields of a new job."""

    rows: list[JobRow]
    filters: list[Filter]
    day: list[DayOf]
    arrived: int
    paging: Paging
    names: list[str]
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)
    builds: tuple[str, ...] = tuple(build.value for build in DrawnAs)

    @property
    def promised(self) -> float:
        """The hours promised for today."""
        return sum(one.promised for one in self.day)

    @property
    def there(self) -> float:
        """The hours people are there today."""
        return sum(one.there for one in self.day)


def jobs_view(
    listed: Page[JobLine],
    wanted: Wanted,
    names: list[str],
    path: str,
    counts: Mapping[str, int],
    day: list[DayOf],
    *,
    typed: Typed = NOTHING_TYPED,
) -> JobsView:
    """Return a page of jobs as it is shown."""
    paging = Paging(path, wanted, more=listed.more, usual="due")
    return JobsView(
        rows=[_row(line, wanted.today) for line in listed.rows],
        filters=[
            Filter(
                _LABELS.get(state, state),
                counts.get(state),
                paging.at(state=state, sort=""),
                wanted.state == state,
            )
            for state in FILTERS
        ],
        day=day,
        arrived=counts.get("arrived", 0),
        paging=paging,
        names=names,
        typed=typed.values,
        complaints=typed.complaints(),
    )


_STATIONS = {
    Next.MEASURE: "measure",
    Next.PROPOSE: "propose",
    Next.CURE: "propose",
    Next.FIT: "fit",
    Next.GO_ON: "fit",
    Next.HAND_OVER: "fit",
}


def _row(line: JobLine, today: date) -> JobRow:
    due, tone = due_in_words(line.due_on, today)
    if line.due_on == today and line.promised_time:
        due = line.promised_time
    elif line.due_on:
        soon = 1 < (line.due_on - today).days < 7
        due = f"{f'{line.due_on:%a}' if soon else due} {line.promised_time}".strip()
    if line.closed_at is not None:
        due, tone = f"closed {line.closed_at:%d %b %Y}", "was"
    says, weighs = _says(line, today)
    if line.severity == "stop" and line.closed_at is None and line.headline not in says:
        says, weighs = f"{says}; does not go: {line.headline}", "stop"
    elif _tells_why(line) and line.says not in says:
        says = f"{says}; {line.says}"
    opens = _STATIONS.get(Next(line.next), "") if line.next else ""
    picture = kept_silhouette(line.picture)
    return JobRow(line, line.wanted or line.changes, says, weighs, due, tone, picture, opens)


def _tells_why(line: JobLine) -> bool:
    """Whether an open job could not be judged, and its line says why."""
    judged = line.headline or line.says in ("", NO_FINDING, NOTHING_TO_CHECK, "sheet updated")
    return line.closed_at is None and not judged


def _says(line: JobLine, today: date) -> tuple[str, str]:
    """Return how far a job is in words, and how they weigh."""
    if line.closed_at is not None:
        return line.wanted or line.changes, ""
    if line.machine_binned:
        return "its machine is in the bin", "caution"
    rung = f", rung {line.rung_at:%a %H:%M}" if line.rung_at else ""
    since = f" since {day_in_words(line.waits_since, today)}" if line.waits_since else ""
    by_stage = {
        Stage.READY: (f"ready{rung}", ""),
        Stage.WAITS: (f"waits: {line.waits_for}{since}", "caution"),
        Stage.IN_WORK: (f"{line.station} {line.so_far}", ""),
    }
    return by_stage.get(Stage(line.stage)) or _before_work(line, today)


def _before_work(line: JobLine, today: date) -> tuple[str, str]:
    """Return how a job stands on which no work was done yet."""
    if line.stage == Stage.CAN_START and line.arrived:
        return f"parts are here{f', {line.lies}' if line.lies else ''}", ""
    if line.offer.startswith("agreed") and line.stage != Stage.OFFERED:
        return line.offer.rpartition(" ")[0], ""
    if line.severity == "stop":
        return f"does not go: {line.headline}", "stop"
    if line.stage == Stage.OFFERED:
        return _offered(line.offer, today), "caution"
    if line.offer.startswith("asked"):
        return "come back with a price", "caution"
    if line.severity == "caution":
        return f"with care: {line.headline}", "caution"
    if not line.headline and line.next == Next.PROPOSE:
        return "nothing proposed yet", ""
    return (f"goes: {line.headline}" if line.headline else line.says or line.changes), ""


def _offered(offer: str, today: date) -> str:
    words, _, day = offer.rpartition(" ")
    since = day_in_words(date.fromisoformat(day), today)
    if words.startswith("offered"):
        return f"offer {words.removeprefix('offered ')} given {since}, no answer"
    if words.startswith("agreed"):
        return f"changed since {words} {since}: ask again"
    return f"{words} {since}"


def day_in_words(day: date, today: date) -> str:
    """Return a day of the past as one says it: today, yesterday, Thu, 12 Nov."""
    ago = (today - day).days
    if 0 <= ago < 2:
        return ("today", "yesterday")[ago]
    return f"{day:%a}" if 0 <= ago < 7 else f"{day:%d %b}"


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
        verdict = judged_job(job, sheet, policy, today)
        verdicts[f"tag {job.tag}"] = verdict.says or count_in_words(
            verdict.findings, changed=any(kept.changes for kept in job.proposals)
        )
    return verdicts


@dataclass(frozen=True, slots=True)
class JobVerdict:
    """The findings of every proposal, the heaviest first, and a word where there is none."""

    findings: list[Finding]
    says: str
    free: frozenset[str] = frozenset()  # proposals that change something, with no stop on them


def judged_job(job: Job, sheet: Sheet, policy: Policy, today: date) -> JobVerdict:
    """Return what every proposal of a job comes to."""
    missing = missing_of(sheet)
    if missing:
        return JobVerdict([], "waits for figures")
    found, impossible = found_of(sheet, missing, policy, today)
    if found is None:
        return JobVerdict([], impossible)
    findings: list[Finding] = []
    free = frozenset[str]()
    for kept in job.proposals:
        outcome = judged(found, kept)
        if not isinstance(outcome, Outcome):
            return JobVerdict(findings, outcome, free)
        findings += outcome.findings
        if kept.changes and not of_severity(outcome.findings, Severity.STOP):
            free |= {kept.name}
    order = {"stop": 0, "caution": 1, "note": 2}
    findings.sort(key=lambda finding: order[finding.severity])
    if findings:
        return JobVerdict(findings, "", free)
    if job.done:
        return JobVerdict(findings, "sheet updated", free)
    changed = any(kept.changes for kept in job.proposals)
    return JobVerdict(findings, NO_FINDING if changed else NOTHING_TO_CHECK, free)
