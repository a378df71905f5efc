"""Proposals made of what is there: another proposal, an earlier set-up, wheels, a shelf tire."""

from dataclasses import dataclass
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.job.job import Job
from jentrik.core.machine.suspension import ENDS
from jentrik.store import documents, jobs, setups, shelf, wheels
from jentrik.store.bench_data import ProposalParts
from jentrik.store.journal import Step
from jentrik.store.proposing import propose_set, propose_setup, propose_wheels
from jentrik.web.shop import Shop
from jentrik.web.typed_values import whole_number


@dataclass(frozen=True, slots=True)
class ProposalSource:
    """Something a proposal can be made of: how a form names it, and in words."""

    key: str
    words: str


def sources_of(job: Job, parts: ProposalParts) -> list[tuple[str, list[ProposalSource]]]:
    """Return what a proposal of a job can be made of, in groups."""
    groups = [
        (
            "Copy",
            [ProposalSource(f"copy:{one.name}", f"proposal {one.name}") for one in job.proposals],
        ),
        ("Wheel sets", [ProposalSource(f"set:{one.id}", one.name) for one in parts.sets]),
        (
            "Wheels",
            [ProposalSource(f"wheel:{one.id}", f"{one.name}: {one.says}") for one in parts.wheels],
        ),
        (
            "Set-ups before",
            [
                ProposalSource(f"setup:{setup_id}", f"{name}, from {since:%d %b %Y}")
                for setup_id, name, since in parts.setups
            ],
        ),
        (
            "Tires on the shelf",
            [
                ProposalSource(f"{end}-tire:{one.id}", f"{end}: {one.code}")
                for one in parts.tires
                for end in ENDS
            ],
        ),
    ]
    return [(name, found) for name, found in groups if found]


def propose_from(step: Step, job_id: int, source: str) -> str:
    """Add a proposal made of what a form names within a step, and return its name.

    Refuses what is not there any more.
    """
    kind, _, rest = source.partition(":")
    job = jobs.job(job_id)
    if not kind:
        return jobs.add_proposal(step, job_id, {})
    if kind == "copy":
        copied = job.proposal(rest)
        if copied is None:
            raise StoreError("That proposal is not there any more.", expected="a proposal")
        return jobs.add_proposal(step, job_id, copied.changes, takes=copied.takes)
    number = whole_number(rest)
    if kind == "setup":
        return propose_setup(step, job_id, job.machine_id, setups.setup(job.machine_id, number))
    if kind == "set":
        return propose_set(step, job_id, job.machine_id, wheels.wheel_set(job.machine_id, number))
    if kind == "wheel" and number is not None:
        wheel = wheels.wheel(number)
        return propose_wheels(step, job_id, job.machine_id, {wheel.end: wheel}, None)
    if kind in ("front-tire", "rear-tire"):
        tire = shelf.tire(number)
        if tire is not None:
            wheel_change: dict[str, Any] = {"tire": tire.code}
            if tire.week is not None and tire.year is not None:
                wheel_change["fitted"] = {"made": f"{tire.week:02d}{tire.year % 100:02d}"}
            return jobs.add_proposal(step, job_id, {kind.partition("-")[0]: wheel_change})
    raise StoreError("That is not there any more; check the list again.", expected="a source")


def job_to_go_on_with(step: Step, shop: Shop, job: Job, *, wanted: str) -> int:
    """Return the job, or within a step another one of its machine where it was fitted."""
    if documents.document(job.id) is None:
        return job.id
    return jobs.add_job(step, machine_id=job.machine_id, wanted=wanted, at=shop.now())
