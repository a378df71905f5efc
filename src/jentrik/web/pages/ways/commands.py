"""A way back taken."""

from pydantic import Field

from jentrik.core.errors import StoreError
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.plan.plan import as_measured
from jentrik.core.plan.remedies import remedies_of
from jentrik.core.plan.seek import KNOBS, seek
from jentrik.core.text import counted
from jentrik.core.work.job import Job, KeptProposal
from jentrik.exchange.plan_document import proposal_document, read_proposal
from jentrik.store import documents, jobs
from jentrik.web.live.command import Command
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.shop import Shop

GONE = "That combination is not there any more; check the list again."


class WayTaken(Command):
    """A way back to the geometry: steps of remedies, or one figure sought with one part."""

    steps: list[str] = Field(default_factory=list, examples=[["longer-fork:0"]])
    knob: str = ""
    figure: str = ""
    wanted: float | None = None

    def carry_out(self, shop: Shop, job_id: int, proposal: str) -> str:
        """Make it a new proposal and return its name; refuses a way that is not offered."""
        there = on_bench(shop, job_id)
        kept = proposal_of(there.job, proposal)
        bike = machine_of(there.sheet)
        changed = read_proposal(kept.values())
        if self.wanted is not None:
            if self.knob not in KNOBS:
                raise StoreError(GONE)
            sought = seek(as_measured(bike), changed, KNOBS[self.knob], self.figure, self.wanted)
            return _kept(shop, there.job, sought.on(changed))
        offered = {remedy.id: remedy.steps for remedy in remedies_of(bike, changed)}
        for step in self.steps:
            remedy, _, place = step.partition(":")
            steps, number = offered.get(remedy, ()), counted(place)
            if number is None or number >= len(steps):
                raise StoreError(GONE)
            changed = steps[number].on(changed)
        return _kept(shop, there.job, changed)


def _kept(shop: Shop, job: Job, proposal: Proposal) -> str:
    changes = proposal_document(proposal)
    changes.pop("name")
    with shop.step("restored geometry as a proposal", f"job {job.id} way", job_id=job.id) as step:
        documents.must_be_open(job.id)
        return jobs.add_proposal(step, job.id, changes)


def proposal_of(job: Job, name: str) -> KeptProposal:
    """Return a proposal of a job by its name, else the one it is about; refuses a job without."""
    found = job.proposal(name) or job.about
    if found is None:
        raise StoreError("This job has no proposal yet.", expected="a proposal")
    return found
