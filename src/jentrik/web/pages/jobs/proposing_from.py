"""Proposals made of what is there: another proposal, an earlier set-up, wheels, a shelf tire."""

from dataclasses import dataclass
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.text import counted
from jentrik.core.work.carry_over import tire_line
from jentrik.core.work.job import Job
from jentrik.core.work.shelf import ShelfTire
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import costs, documents, jobs, setups, shelf, wheels
from jentrik.store.bench_data import ProposalParts
from jentrik.store.journal import Step
from jentrik.store.proposing import propose_set, propose_setup, propose_wheels
from jentrik.web.shop import Shop


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
            [
                ProposalSource(f"copy:{proposal.name}", f"proposal {proposal.name}")
                for proposal in job.proposals
            ],
        ),
        ("Wheel sets", [ProposalSource(f"set:{set_.id}", set_.name) for set_ in parts.sets]),
        (
            "Wheels",
            [
                ProposalSource(f"wheel:{wheel.id}", f"{wheel.name}: {wheel.says}")
                for wheel in parts.wheels
            ],
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
                ProposalSource(f"{end}-tire:{tire.id}", f"{end}: {_shelf_words(tire, job)}")
                for tire in parts.tires
                for end in ENDS
            ],
        ),
    ]
    return [(name, found) for name, found in groups if found]


def _shelf_words(tire: ShelfTire, job: Job) -> str:
    """Return a tire of the shelf in words: its code, how many, where, and whether it is taken."""
    said = [tire.code, *([tire.make] if tire.make else [])]
    said += [f"{tire.pieces} pieces"] if tire.pieces > 1 else []
    said += [tire.place] if tire.place else []
    if tire.job_id is not None:
        said.append("reserved for this job" if tire.job_id == job.id else "reserved")
    return ", ".join(said)


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
    number = counted(rest)
    if kind == "setup":
        return propose_setup(step, job_id, job.machine_id, setups.setup(job.machine_id, number))
    if kind == "set":
        return propose_set(step, job_id, job.machine_id, wheels.wheel_set(job.machine_id, number))
    if kind == "wheel" and number is not None:
        wheel = wheels.wheel(number)
        return propose_wheels(step, job_id, job.machine_id, {wheel.end: wheel}, None)
    if kind in ("front-tire", "rear-tire"):
        end, tire = kind.partition("-")[0], shelf.known_tire(number)
        return propose_tire(step, job_id, "front" if end == "front" else "rear", tire)
    raise StoreError("That is not there any more; check the list again.", expected="a source")


def propose_tire(
    step: Step, job_id: int, end: End, tire: ShelfTire, name: str | None = None
) -> str:
    """Add a proposal of a tire of the shelf within a step, and write it on the order list."""
    changes: dict[str, Any] = {end: tire.change()}
    line = tire_line(end, getattr(read_proposal({"name": "x", **changes}), end))
    for key, value in _written_of(tire).items():
        costs.set_entry(step, job_id, f"{key}:{line.key}", value)
    return jobs.add_proposal(step, job_id, changes, name=name)


def _written_of(tire: ShelfTire) -> dict[str, str]:
    """Return what stands on the order list of a tire of the shelf, by kind."""
    written = {"line": str(tire.id), **({"source": "in stock"} if tire.pieces else {})}
    if tire.price is not None:
        written["price"] = f"{tire.price:f}"
    if tire.facts.life_km is not None:
        written["life"] = f"{tire.facts.life_km:.0f}"
    return written


def job_to_go_on_with(step: Step, shop: Shop, job: Job, *, wanted: str) -> int:
    """Return the job, or within a step another one of its machine where it was fitted."""
    if documents.document(job.id) is None:
        return job.id
    return jobs.add_job(step, machine_id=job.machine_id, wanted=wanted, at=shop.now())
