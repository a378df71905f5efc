"""Jobs for programs: what the bench does from Read to Ride; the card stands beside it.

Each write is the step of the page beside it, with a typed body; it returns the job as it stands.
"""

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from pydantic import Field
from starlette.responses import Response

from jentrik.core.errors import StoreError
from jentrik.core.work.order_entries import KINDS as ORDER_KINDS
from jentrik.exchange.plan_answer import answer_document
from jentrik.store import costs, documents, jobs, machines
from jentrik.store.listing import JOB_SORTS, jobs_listed
from jentrik.store.offers import last_offer
from jentrik.store.undo import Scope
from jentrik.web.api import documents as documented
from jentrik.web.api.field_changes import JobChange, Nested, change_fields, of_job, of_proposal
from jentrik.web.api.listed import KNOWN_ONLY, AList, one_of, sorted_by
from jentrik.web.api.program import AProgram, Program, fields_named, marked
from jentrik.web.live.answers import Answers
from jentrik.web.live.command import Body, ExternalId, MaybeCode, Words
from jentrik.web.live.fields import Sent
from jentrik.web.live.undoing import Undoing, must_stand, take_back
from jentrik.web.pages.answers.route import answered
from jentrik.web.pages.jobs.bench_page import bench_seen
from jentrik.web.pages.jobs.day_commands import DayChanged, PartArrived
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.jobs.newcomer import start_job
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.jobs.proposing_from import propose_from
from jentrik.web.pages.jobs.route import drop_proposal_of, name_proposal_of
from jentrik.web.pages.offer.commands import OfferAnswered
from jentrik.web.pages.offer.offered import offer_document, offered
from jentrik.web.pages.order.route import OrderAnswers
from jentrik.web.pages.records.commands import bin_job
from jentrik.web.pages.ride.commands import NewRide, Outcome, RideSetup
from jentrik.web.pages.ways.commands import WayTaken
from jentrik.web.parts.address import Address
from jentrik.web.parts.paging import LONGEST_FIND
from jentrik.web.shop import AShop, Shop
from jentrik.web.templating import drawing_file

router = APIRouter(prefix="/api/jobs", tags=["jobs"], dependencies=[KNOWN_ONLY])


class NewJob(Body):
    """A job to start: a machine the shop knows by its name, or a new one by its tires."""

    machine: Words = Field(examples=["Harbour tourer"])
    front_tire: MaybeCode = Field(default="", examples=["37-622"], description="Of a new machine")
    rear_tire: MaybeCode = Field(default="", description="Where it is another one than the front")
    build: Words = Field(default="", description="What a new machine is built like")
    same: Literal["", "same", "another"] = Field(
        default="",
        description="Whether a known name with other tires is the same machine, or another one",
    )
    external_id: ExternalId = Field(default="", description="Another program's own key of the job")


class NewProposal(Body):
    """A proposal to add: empty, made of what is there, or with its changes."""

    made_of: str = Field(
        default="", description="copy:A, set:3, wheel:4, setup:2, front-tire:7 or rear-tire:7"
    )
    name: Words | None = None
    changes: dict[str, Nested] = Field(
        default_factory=dict, examples=[{"front": {"tire": "47-584"}, "rear": {"tire": "47-584"}}]
    )


class ProposalChange(Body):
    """What changes on a proposal, keys as in a plan; null is as found again."""

    name: Words | None = None
    changes: dict[str, Nested] = Field(default_factory=dict, examples=[{"front.tire": "50-584"}])


class OrderChange(Body):
    """What is written on an order list, by the keys its lines are under; "" clears."""

    entries: dict[str, str | float] = Field(
        examples=[{"price:front tire 47-584": "38.50", "state:front tire 47-584": "ordered"}]
    )


@router.get("")
def list_jobs(
    shop: AShop,
    listed: AList,
    state: Annotated[
        Literal["open", "today", "mine", "waits", "ready", "done", "all", "any"] | None,
        Query(description="Else open ones; of a key or a moment any, in the bin too"),
    ] = None,
    find: Annotated[str, Query(max_length=LONGEST_FIND)] = "",
    sort: Annotated[str, one_of(JOB_SORTS)] = "",
) -> Response:
    """Return a page of jobs, those promised first."""
    refresh(shop)
    wanted = replace(
        sorted_by(listed, sort, JOB_SORTS),
        state=state or ("any" if listed.external_id or listed.changed_since else "open"),
        find=" ".join(find.split()),
        who=shop.who,
        today=shop.today,
    )
    return marked(documented.jobs_document(jobs_listed(wanted)))


@router.get("/{job_id}/answer")
def answer(
    shop: AShop,
    job_id: int,
    proposal: Annotated[str, Query(description="Its name; else the one the job is about")] = "",
) -> Response:
    """Return whether a proposal goes, what decides it, what cures it and what goes nearest."""
    _, kept, said = answered(shop, job_id, proposal)
    return marked({"proposal": kept.name, **answer_document(said)})


@router.post("", status_code=201)
def start(program: AProgram, body: NewJob) -> Response:
    """Start a job."""
    shop = program.shop

    def act() -> int:
        with fields_named({"name": "machine", "tire": "front_tire", "rear": "rear_tire"}):
            job_id = start_job(
                shop, body.machine, body.front_tire, body.rear_tire, body.build, body.same
            )
        if body.external_id:
            _change(shop, job_id, [Sent("job:external_id", body.external_id)])
        return job_id

    return program.write(
        act, lambda job_id: documented.job_document(shop, job_id), sent=body, status=201, now=None
    )


@router.get("/{job_id}")
def job(job_id: int, shop: AShop) -> Response:
    """Return a job: what was found, every proposal, what was fitted.

    Of a job that is done they are what they were on the day.
    """
    return marked(documented.job_document(shop, job_id))


def write_of_job(
    program: Program,
    job_id: int,
    act: Callable[[], object],
    sent: object = None,
    answer: Callable[[], Any] | None = None,
    *,
    status: int = 200,
) -> Response:
    """Write something of a job, and return the job, or what else is asked for."""

    def now() -> Any:
        return documented.job_document(program.shop, job_id)

    return program.write(act, lambda _: (answer or now)(), sent=sent, now=now, status=status)


@router.patch("/{job_id}")
def change(program: AProgram, job_id: int, body: JobChange) -> Response:
    """Change what a job is for and when it is due."""
    return write_of_job(program, job_id, lambda: _change(program.shop, job_id, of_job(body)), body)


def _change(shop: Shop, job_id: int, fields: list[Sent], proposal: str = "") -> None:
    def load() -> Answers:
        there = on_bench(shop, job_id)
        kept = there.job.proposal(proposal) if proposal else None
        return Answers(there.sheet, shop.today, kept, there.job, there.policy)

    change_fields(shop, fields, load)


@router.delete("/{job_id}")
def into_bin(program: AProgram, job_id: int) -> Response:
    """Put a job in the bin."""
    return program.write(
        lambda: bin_job(program.shop, job_id),
        lambda _: documented.bin_document(),
        now=lambda: documented.job_document(program.shop, job_id),
    )


@router.post("/{job_id}/undo")
def undo(program: AProgram, job_id: int, body: Undoing) -> Response:
    """Take one change of this job or its machine back, or do it again."""
    job = jobs.job(job_id)
    scope = Scope(machine_id=job.machine_id, job_id=job_id)
    return program.write(
        lambda: take_back(program.shop, body, scope, check=must_stand(job.machine_id)),
        lambda undone: undone.outcome,
        sent=body,
        now=lambda: documented.job_document(program.shop, job_id),
    )


@router.post("/{job_id}/proposals", status_code=201)
def add_proposal(program: AProgram, job_id: int, body: NewProposal) -> Response:
    """Add a proposal; the answer names it."""
    shop = program.shop

    def act() -> str:
        with shop.step("one more proposal", f"job {job_id} add proposal", job_id=job_id) as step:
            jobs.job(job_id)
            documents.must_be_open(job_id)
            name = propose_from(step, job_id, body.made_of)
        if body.name:
            name = name_proposal_of(shop, job_id, name, body.name)
        _change(shop, job_id, of_proposal(body.changes), name)
        return name

    def answer(name: str) -> Any:
        return {"proposal": name, **documented.job_document(shop, job_id)}

    return program.write(
        act, answer, sent=body, status=201, now=lambda: documented.job_document(shop, job_id)
    )


@router.patch("/{job_id}/proposals/{name}")
def change_proposal(program: AProgram, job_id: int, name: str, body: ProposalChange) -> Response:
    """Change a proposal."""
    shop = program.shop

    def act() -> None:
        _named(job_id, name)
        _change(shop, job_id, of_proposal(body.changes), name)
        if body.name:
            name_proposal_of(shop, job_id, name, body.name)

    return write_of_job(program, job_id, act, body)


@router.delete("/{job_id}/proposals/{name}")
def drop_proposal(program: AProgram, job_id: int, name: str) -> Response:
    """Take a proposal away; undo brings it back."""

    def act() -> None:
        _named(job_id, name)
        drop_proposal_of(program.shop, job_id, name)

    return write_of_job(program, job_id, act)


def _named(job_id: int, name: str) -> None:
    if jobs.job(job_id).proposal(name) is None:
        raise StoreError("That proposal is not there any more.")


@router.get("/{job_id}/proposals/{name}/ways")
def ways_back(job_id: int, name: str, shop: AShop) -> Response:
    """Return what could bring a proposal back to the geometry as found."""
    return marked(documented.ways_document(shop, job_id, name))


@router.post("/{job_id}/proposals/{name}/ways", status_code=201)
def take_way(program: AProgram, job_id: int, name: str, body: WayTaken) -> Response:
    """Make a way back a new proposal."""
    act = partial(body.carry_out, program.shop, job_id, name)
    return write_of_job(program, job_id, act, body, status=201)


@router.get("/{job_id}/drawing", response_class=Response)
def drawing(
    job_id: int,
    shop: AShop,
    proposal: str = "",
    view: Literal["stand", "road"] = "stand",
    magnify: Literal["1", "3", "6"] = "1",
    kind: Literal["svg", "png"] = "svg",
) -> Response:
    """Return the side view of a proposal, in the stand or on the road, as SVG or PNG."""
    address = Address("", proposal=proposal, view=view, magnify=int(magnify))
    drawn = bench_seen(shop, on_bench(shop, job_id), address).drawn.drawing
    if drawn is None:
        raise StoreError("The drawing waits for figures of the machine.", field="figures")
    return drawing_file(drawn, kind)


@router.get("/{job_id}/order")
def order_list(job_id: int, shop: AShop) -> Response:
    """Return the order list of a job."""
    return marked(documented.order_document(shop, job_id))


@router.patch("/{job_id}/order")
def write_order(program: AProgram, job_id: int, body: OrderChange) -> Response:
    """Write on the order list of a job."""
    shop = program.shop
    fields = [
        Sent(key, f"{value:.15g}" if isinstance(value, float) else value)
        for key, value in body.entries.items()
    ]
    for one in fields:
        if one.name.partition(":")[0] not in ORDER_KINDS:
            raise StoreError(
                f"“{one.name[:40]}” is not written on an order list.",
                field="entries",
                expected=f"a key that begins with {', '.join(ORDER_KINDS)}",
            )

    def load() -> OrderAnswers:
        return OrderAnswers(jobs.job(job_id).id, costs.entries(job_id), shop.today)

    return program.write(
        lambda: change_fields(shop, fields, load),
        lambda _: documented.order_document(shop, job_id),
        sent=body,
        now=lambda: documented.order_document(shop, job_id),
    )


@router.get("/{job_id}/offer")
def offer(
    shop: AShop,
    job_id: int,
    proposal: Annotated[str, Query(description="Its name; else the one the job is about")] = "",
) -> Response:
    """Return what a proposal is offered for, line by line, and what was agreed."""
    return marked(_offer(shop, job_id, proposal))


def _offer(shop: Shop, job_id: int, proposal: str) -> Any:
    one = offered(on_bench(shop, job_id), costs.entries(job_id), proposal)
    return offer_document(one, last_offer(job_id))


@router.post("/{job_id}/agreed", status_code=201)
def agreed(program: AProgram, job_id: int, body: OfferAnswered) -> Response:
    """Keep what became of an offer, sealed with what was shown; returns the offer."""
    shop = program.shop

    def answer(_: object) -> Any:
        return _offer(shop, job_id, body.proposal)

    return program.write(
        lambda: body.carry_out(shop, job_id),
        answer,
        sent=body,
        status=201,
        now=lambda: _offer(shop, job_id, body.proposal),
    )


@router.post("/{job_id}/day")
def day(program: AProgram, job_id: int, body: DayChanged) -> Response:
    """Take a job over, give it, promise it, or note that its customer was rung."""
    return write_of_job(program, job_id, lambda: body.carry_out(program.shop, job_id), body)


@router.post("/{job_id}/arrived")
def arrived(program: AProgram, job_id: int, body: PartArrived) -> Response:
    """Keep that a part which was ordered is here, and where it lies; returns the order list."""
    return program.write(
        lambda: body.carry_out(program.shop, job_id),
        lambda _: documented.order_document(program.shop, job_id),
        sent=body,
        now=lambda: documented.order_document(program.shop, job_id),
    )


@router.post("/{job_id}/setups", status_code=201)
def add_setup(program: AProgram, job_id: int, body: RideSetup) -> Response:
    """Keep a set-up under which rides are kept."""
    machine_id = jobs.job(job_id).machine_id
    return program.write(
        lambda: body.carry_out(program.shop, job_id),
        lambda _: documented.machine_document(machine_id),
        sent=body,
        status=201,
        now=lambda: documented.machine_document(machine_id),
    )


@router.post("/{job_id}/rides", status_code=201)
def add_ride(program: AProgram, job_id: int, body: NewRide) -> Response:
    """Keep a ride."""
    machine_id = jobs.job(job_id).machine_id
    return program.write(
        lambda: body.carry_out(program.shop, job_id),
        lambda _: documented.rides_document(machine_id),
        sent=body,
        status=201,
        now=lambda: documented.rides_document(machine_id),
    )


@router.post("/{job_id}/outcome")
def outcome(program: AProgram, job_id: int, body: Outcome) -> Response:
    """Keep it as it is, adjust it, or go back to a whole set-up; a fitted job gets a new one."""
    machine_id = jobs.job(job_id).machine_id

    def answer(_: object) -> Any:
        open_now = [{"id": one.id, "tag": one.tag} for one in jobs.open_jobs_of(machine_id)]
        return {"machine": machines.sheet(machine_id).name, "open_jobs": open_now}

    return program.write(
        lambda: body.carry_out(program.shop, job_id),
        answer,
        sent=body,
        now=lambda: documented.job_document(program.shop, job_id),
    )
