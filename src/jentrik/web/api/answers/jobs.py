"""What the API answers of jobs: proposals, answer, offer, order, card, ways, rides."""

from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel, Field, RootModel

from jentrik.core.plan.answer import Near
from jentrik.core.plan.cures import Worst
from jentrik.core.rules.case import Finding
from jentrik.core.work.after_fitting import Expectation
from jentrik.core.work.day import Next, Stage
from jentrik.core.work.order_entries import OrderState
from jentrik.store.cards import KeptPhoto
from jentrik.store.listing import JobLine
from jentrik.web.api.answers.base import Figures, Listed, Severity, fields_of
from jentrik.web.api.documents import NOT_SHOWN


class JobRow(fields_of(JobLine, *NOT_SHOWN)):  # type: ignore[misc]
    """One job in a list, with what the day asks of it."""

    state: Literal["open", "done", "binned"]
    stage: Stage
    next: Next
    severity: Severity
    promised_at: str | None = Field(description="A moment, or the day where no hour is said")


class JobList(Listed):
    """A page of jobs."""

    jobs: list[JobRow]


class JobTag(BaseModel):
    """A job on the bench, by id and tag."""

    id: int
    tag: int


class State(BaseModel):
    """A machine as it is set up: set-up, geometry (null where it cannot stand), findings."""

    setup: Figures
    geometry: Figures | None
    findings: list[Finding]


class Proposal(BaseModel):
    """A proposal of a job as it is judged."""

    name: str
    changes: Figures
    takes: Figures
    setup: Figures
    geometry: Figures | None
    findings: list[Finding]
    refused: str


class Job(BaseModel):
    """A job: what was found, every proposal, what was fitted."""

    id: int
    machine_id: int
    external_id: str
    tag: int
    machine: str
    wanted: str
    whose: str
    due_on: date | None
    promised_at: str | None
    state: Literal["open", "done", "binned"]
    judged_on: date
    found: State
    proposals: list[Proposal]
    fitted: State | None


class JobWithProposal(Job):
    """A job, and the proposal that was added."""

    proposal: str


class Decides(BaseModel):
    """A missing figure that can turn the verdict, and where it turns."""

    figure: str
    label: str
    unit: str
    rules: list[str]
    turns_at: float | str | None


class CureSaid(BaseModel):
    """What removes a stop and adds none."""

    of: str = Field(alias="for")
    where: str
    change: Figures
    says: str
    worst: Worst
    cost: float | None


class Advice(BaseModel):
    """Whether a proposal goes, what decides it, what cures it, what goes nearest."""

    proposal: str
    verdict: Literal["goes", "with care", "measure first", "does not go"]
    sentence: str
    because: list[str]
    decides: list[Decides]
    cures: list[CureSaid]
    nearest: list[Near]


class OfferLine(BaseModel):
    """One part that is offered, in the order of an accounting line."""

    key: str
    part: str
    size: str
    pieces: int
    unit_price: str | None
    sum: str | None
    tax_percent: str
    currency: str


class WorkLine(BaseModel):
    """Work that is offered."""

    what: str
    hours: str
    rate: str
    sum: str
    tax_percent: str


class TaxLine(BaseModel):
    """The tax of one rate."""

    percent: str
    net: str
    tax: str


class Agreed(BaseModel):
    """Who agreed to an offer, when, how, and what moved since."""

    by: str
    at: datetime
    how: Literal["here", "phone", "letter"]
    proposal: str
    sha256: str
    since: str


class Offer(BaseModel):
    """What a proposal is offered for."""

    proposal: str
    way: str
    verdict: str
    sentence: str
    stops: list[str]
    lines: list[OfferLine]
    maybe: list[OfferLine]
    kept: list[str]
    work: list[WorkLine]
    not_priced: list[str]
    parts_sum: str
    work_sum: str
    prices: str
    taxes: list[TaxLine]
    priced_so_far: str
    total: str | None
    currency: str
    valid_until: date
    measured: list[str]
    usual: list[str]
    signable: bool
    agreed: Agreed | None


class OrderLine(BaseModel):
    """A part that one way of one proposal needs, with what was written of it."""

    proposal: str
    way: str
    part: str
    name: str
    end: str
    fate: str
    price: str
    quantity: str
    source: str
    supplier: str
    state: OrderState | Literal[""]
    since: str
    place: str
    external_id: str


class Order(BaseModel):
    """The order list of a job."""

    lines: list[OrderLine]
    entries: dict[str, str]


class StepReading(BaseModel):
    """What a step reads, its limits, and what was read."""

    what: str
    unit: str
    at_least: float | None
    at_most: float | None
    limits_from: str = Field(alias="from")
    value: str | None
    plus_minus: float | None
    simulated: bool


class StepDone(BaseModel):
    """Who did a step, when, and why outside its limits."""

    by: str | None
    at: datetime
    why: str | None


class Step(BaseModel):
    """A step of a card."""

    id: int
    place: int
    text: str
    stop: bool
    caution: str
    fastener: str
    reading: StepReading | None
    state: Literal["open", "done", "waived"]
    torque_nm: float | None
    torque_source: str | None
    done: StepDone | None
    waived: str | None
    version: int


class StepGroup(BaseModel):
    """Steps that are done in one go, by their ids."""

    name: str
    steps: list[int]


class JobPhoto(fields_of(KeptPhoto)):  # type: ignore[misc]
    """A photograph of a job; the picture is at `/photos/{file}`."""


class Photos(BaseModel):
    """The photographs of a job."""

    photos: list[JobPhoto]


class Card(Photos):
    """A job's card."""

    id: int
    proposal: str
    template: str
    made_at: datetime
    groups: list[StepGroup]
    steps: list[Step]


class WayStep(BaseModel):
    """A step of a way, and what it makes of the proposal."""

    take: str
    words: str
    changes: Figures


class Remedy(BaseModel):
    """A way that could bring a proposal back to the geometry as found."""

    id: str
    name: str
    watch_out_for: str
    steps: list[WayStep]


class Ways(BaseModel):
    """What could bring a proposal back to the geometry as found."""

    remedies: list[Remedy]


class MeasuredFigure(BaseModel):
    """What was measured after fitting, and what the plan says."""

    measured: float | None
    expected: Expectation


class MeasuredAfter(RootModel[dict[str, MeasuredFigure]]):
    """What was measured after fitting, by key."""


class Moves(BaseModel):
    """How a proposal moves each figure, and how many findings of a kind it has."""

    name: str
    refused: str
    moves: dict[str, float]
    findings: dict[str, int]


class Compared(BaseModel):
    """Figures as found, and how each proposal moves them."""

    found: dict[str, float]
    proposals: list[Moves]


class OpenStep(BaseModel):
    """A step of the card that is not done yet."""

    id: int
    text: str
    stop: bool


class BeforeFitted(BaseModel):
    """What was measured of what was put on, and what still lacks."""

    measured: dict[str, float | None]
    lacks: list[Expectation]
    open_steps: list[OpenStep]


class OutcomeOfRide(BaseModel):
    """What became of a set-up after a ride: the machine, and its open jobs."""

    machine: str
    open_jobs: list[JobTag]
