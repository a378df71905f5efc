"""The customer's sheet: what changes, what they will notice, what to mind, what it costs.

Before the work it is an estimate, after it a hand-over; one page, to be printed.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.answer import answer_of
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.joined import JoinedFinding, joined
from jentrik.core.work.card import HOW_SETTLED, first_ride
from jentrik.core.work.cost import ways_of
from jentrik.core.work.job import Job
from jentrik.core.work.look_again import in_words
from jentrik.core.work.order_entries import total_of
from jentrik.store import look_again
from jentrik.store.documents import OnBench
from jentrik.web.pages.jobs.compare import noticed
from jentrik.web.parts.address import Link
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.parts.words import what_changes

DECIDES = (
    "Figures advise. The vehicle's and the tires' makers, the local rules and whoever signs the "
    "job decide. Type approval, registration and insurance may depend on the size of the tires: "
    "ask before riding."
)


# Rules whose caution is of a change that "what you will notice" names.
_NOTICED = frozenset(
    {"head-angle-shift", "trail-shift", "bb-low", "bb-high", "reach-shift", "seat-height-shift"}
)


@dataclass(frozen=True, slots=True)
class CustomerSheet:
    """Everything the customer's page shows; empty where nothing can be said yet."""

    job: Job
    sheet: Sheet
    on: date
    done_on: date | None
    tabs: list[Link]
    name: str
    changes: str
    notices: list[str]
    warned: list[JoinedFinding]
    costs: str
    not_in: str
    ride: list[str]
    waits: str = ""
    local_rules: str = ""
    decides: str = DECIDES
    answer: str = ""  # whether it goes, before the work
    settled: tuple[str, ...] = ()  # how the stops of a job that is done were settled
    again: str = ""  # when the shop looks at it again

    @property
    def stops(self) -> bool:
        """Whether a stop stands, so that nothing may be signed and no price is whole."""
        stops = sum(finding.severity is Severity.STOP for finding in self.warned)
        return stops > len(self.settled)

    @property
    def title(self) -> str:
        """What the page is: an estimate before the work, a hand-over after it."""
        return "Hand-over" if self.done_on else "Estimate"


def customer_sheet(
    there: OnBench, entries: Mapping[str, str], name: str, path: str
) -> CustomerSheet:
    """Return the sheet of one proposal of a job; of a job that was fitted, of what was fitted."""
    job, sheet, policy = there.job, there.sheet, there.policy
    fitted = job.done.proposal if job.done else ""
    kept = job.proposal(fitted or name) or job.about
    missing = missing_of(sheet)
    found, impossible = found_of(sheet, missing, policy, there.today)
    waits = impossible or ("The machine is not measured yet." if missing else "")
    outcome = judged(found, kept) if kept is not None else "Nothing is proposed yet."
    if isinstance(outcome, str):
        waits = waits or outcome
    said = found is not None and isinstance(outcome, Outcome)
    costs, not_in = ("", "")
    if found is not None and isinstance(outcome, Outcome):
        costs, not_in = _costs(found, outcome, entries, policy.money.labour_an_hour)
    return CustomerSheet(
        job=job,
        sheet=sheet,
        on=there.today,
        done_on=job.done.on if job.done else None,
        tabs=[]
        if job.done
        else [
            Link(proposal.name, f"{path}?proposal={proposal.name}", proposal is kept)
            for proposal in job.proposals
        ],
        name=kept.name if kept else "",
        changes=what_changes(job, sheet, kept) if kept else "",
        notices=_notices(found, outcome),
        warned=_warned(outcome.findings) if isinstance(outcome, Outcome) else [],
        costs=f"{costs} {policy.money.currency}" if costs else "",
        not_in=not_in,
        ride=first_ride(sheet.kind) if said else [],
        waits=waits,
        local_rules=policy.local_rules,
        answer=_answer(found, outcome) if kept and kept.changes and not job.done else "",
        settled=_settled(there) if job.done else (),
        again=in_words(look_again.day_of(sheet.id) if job.done else None) if said else "",
    )


def _answer(found: PlanResult | None, outcome: Outcome | str) -> str:
    if found is None or not isinstance(outcome, Outcome):
        return ""
    return answer_of(found, outcome, with_nearest=False).sentence


def _settled(there: OnBench) -> tuple[str, ...]:
    """Return how the stops of a job were settled: what its sealed card says, by whom."""
    card = there.document.values.get("card") if there.document else None
    return tuple(
        f"{step['text']} ({step['reading']}, {step['done_by']})"
        for step in (card or {"steps": ()})["steps"]
        if step["reads"] == HOW_SETTLED and step["done_at"] and step["reading"]
    )


def _notices(found: PlanResult | None, outcome: Outcome | str) -> list[str]:
    """Return what a rider feels, and what the instruments show otherwise."""
    if found is None or not isinstance(outcome, Outcome):
        return []
    said = noticed(found, outcome)
    return said or ["Nothing a rider would notice in these figures."]


def _warned(findings: Iterable[Finding]) -> list[JoinedFinding]:
    """Return the stops and cautions.

    A caution about a figure that is among what will be noticed is not said again.
    """
    return [
        finding
        for finding in joined(findings)
        if finding.severity is Severity.STOP
        or (finding.severity is Severity.CAUTION and finding.rule not in _NOTICED)
    ]


def _costs(
    found: PlanResult, outcome: Outcome, entries: Mapping[str, str], rate: float
) -> tuple[str, str]:
    """Return what the work costs as a range, and the parts no one has priced yet.

    Of the ways to come by the wheels the one counts that leaves the fewest parts without a price,
    of those the cheapest.
    """
    bike, proposal = found.bike, outcome.proposal
    labour = Decimal(str(rate))
    totals = [total_of(bike, proposal, way, entries, labour) for way in ways_of(bike, proposal)]
    if not totals:
        return "", ""
    best = min(totals, key=lambda one: (len(one.unpriced), one.whole))
    said = f"{best.whole:.2f}"
    if best.at_most > best.whole:
        said += f"–{best.at_most:.2f}"
    return said, ", ".join(best.unpriced)
