"""The verdict on a proposal: the machine found, what a proposal comes to, its findings counted."""

from dataclasses import dataclass, replace
from datetime import date

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import About
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.suspension import State
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.rules.case import Finding
from jentrik.core.rules.joined import JoinedFinding, count_in_words, joined
from jentrik.core.work.job import Job, KeptProposal
from jentrik.core.work.policy import Policy
from jentrik.exchange.plan_document import read_kept
from jentrik.web.parts.address import Address
from jentrik.web.parts.words import what_changes


@dataclass(frozen=True, slots=True)
class Verdict:
    """What one proposal came to: its findings, or why it cannot be drawn."""

    name: str
    href: str
    says: str
    findings: tuple[Finding, ...] = ()
    refusal: str = ""
    changed: bool = True

    @property
    def count(self) -> str:
        """How many stops and cautions there are, in words."""
        return "" if self.refusal else count_in_words(self.findings, changed=self.changed)

    @property
    def shown(self) -> tuple[JoinedFinding, ...]:
        """The findings, those that say the same of both wheels joined."""
        return joined(self.findings)


@dataclass(frozen=True, slots=True)
class Known:
    """What one proposal comes to on a sheet, worked out already."""

    sheet: Sheet
    found: PlanResult
    kept: KeptProposal
    outcome: Outcome


def found_of(
    sheet: Sheet, missing: tuple[About, ...], policy: Policy, today: date, state: str = ""
) -> tuple[PlanResult | None, str]:
    """Return the machine as found, in a state it knows, or why it cannot stand."""
    if missing:
        return None, ""
    try:
        bike = machine_of(sheet)
        asked = State(state) if state in bike.suspension.states else None
        return as_measured(bike, asked, policy=policy, on=today), ""
    except Refusal as refusal:
        return None, refusal.message


def judged(found: PlanResult | None, kept: KeptProposal) -> Outcome | str:
    """Return what a kept proposal comes to, or why it cannot stand."""
    if found is None:
        return ""
    if not kept.readable:
        return f"What proposal {kept.name} changes cannot be read: remove it, or restore a backup."
    try:
        outcome = outcome_of(found, read_kept(kept))
    except Refusal as refusal:
        return refusal.message
    return outcome if kept.judged is None else replace(outcome, findings=kept.judged)


def verdict_of(
    job: Job, sheet: Sheet, kept: KeptProposal, outcome: Outcome | str, address: Address
) -> Verdict:
    """Return the verdict on a kept proposal from what it comes to."""
    says = what_changes(job, sheet, kept)
    href = address.at(station="propose", proposal=kept.name)
    if isinstance(outcome, Outcome):
        return Verdict(kept.name, href, says, outcome.findings, changed=bool(kept.changes))
    return Verdict(kept.name, href, says, refusal=outcome)
