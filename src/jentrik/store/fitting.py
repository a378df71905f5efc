"""Fitting a job's work: the set-up it leads to follows the one found, which is sealed."""

from datetime import date, datetime

from jentrik.core.errors import StoreError
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import UNCHANGED
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.work.change_words import change_in_words
from jentrik.core.work.job import Job, KeptProposal
from jentrik.exchange.plan_document import read_kept
from jentrik.store import after_fitting, cards, documents, look_again, machines
from jentrik.store.documents import OnBench
from jentrik.store.journal import Step

LONGEST_NAME = 80  # of a set-up


def carried_out(there: OnBench) -> KeptProposal:
    """Return the proposal on a job's card; refuses a job without a card, or fitted already."""
    card = cards.card_of(there.job.id)
    if card is None:
        raise StoreError(
            "There is no card yet: nothing was fitted.", field="card", expected="a job card"
        )
    if there.job.sealed:
        raise StoreError(
            "It was fitted already; measure on the machine's own sheet.",
            field="job",
            expected="the machine's sheet",
        )
    kept = there.job.proposal(card.proposal)
    if kept is None:
        raise StoreError(
            "The card's proposal is not there any more.", field="card", expected="a proposal"
        )
    return kept


def worked_out(there: OnBench, kept: KeptProposal) -> tuple[PlanResult, Outcome]:
    """Return the machine as found and what a proposal comes to; refuses one that cannot stand."""
    found = as_measured(machine_of(there.sheet), policy=there.policy, on=there.today)
    return found, outcome_of(found, read_kept(kept))


def _name(kept: KeptProposal, job: Job, on: date) -> str:
    """Return what the set-up is called: in the shop's own words, else by its day."""
    said = kept.name if len(kept.name) > 2 else job.wanted
    return (said or f"Fitted {on:%d %b %Y}")[:LONGEST_NAME]


def _only_own_wheels(proposal: Proposal) -> bool:
    """Whether all wheels that change were there already."""
    changed = [end for end in ENDS if getattr(proposal, end) != UNCHANGED]
    return bool(proposal.owned) and all(end in proposal.owned for end in changed)


def fit_job(step: Step, there: OnBench, *, at: datetime, by: str, run_in: bool = False) -> None:
    """Fit the proposal on a job's card within a step: seal what was found, and what follows.

    What has not `run_in` is looked at again.
    """
    kept = carried_out(there)
    _, outcome = worked_out(there, kept)
    job, sheet = there.job, there.sheet
    values = documents.found(job, sheet, there.policy, there.today)
    summary = change_in_words(sheet, kept.changes)
    after_fitting.fit(
        step,
        job,
        sheet,
        kept,
        outcome,
        name=_name(kept, job, at.date()),
        summary=summary,
        on=at.date(),
        by=by,
    )
    documents.write_fitted(
        step, job, values, carried_out=kept.name, policy=there.policy, at=at, by=by
    )
    if not run_in and not _only_own_wheels(outcome.proposal):  # those have run in
        look_again.set_down(step, job.machine_id, at=at)
    machines.sheet(job.machine_id)  # it must stand as written
