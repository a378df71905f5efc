"""What the API answers with, as named models: each operation's answer and the one form of refusal.

The answers are made of core values elsewhere; a model of one takes its fields from that value's
own class and says only what the answer has otherwise.  A value that is not
known is null, a day is a date, a moment has its offset, an amount of money is text in hundredths.
"""

from dataclasses import fields
from datetime import date, datetime
from typing import Any, Literal, get_type_hints

from pydantic import BaseModel, Field, RootModel, create_model

from jentrik.core.machine.kept_wheel import WheelSet
from jentrik.core.plan.answer import Near
from jentrik.core.plan.cures import Worst
from jentrik.core.rules.case import Finding
from jentrik.core.tire.tables.glossary import Term
from jentrik.core.work.after_fitting import Expectation
from jentrik.core.work.day import Next, Stage
from jentrik.core.work.due import Due
from jentrik.core.work.inspection import Inspection
from jentrik.core.work.order_entries import OrderState
from jentrik.core.work.ride import Ride
from jentrik.core.work.shelf import ShelfTire
from jentrik.core.work.wear import DistanceCorrection, Odometer
from jentrik.exchange.plan_parts import PlanDocument
from jentrik.store.access_keys import AccessKey
from jentrik.store.backups import Differences, Holds, Kept
from jentrik.store.cards import KeptPhoto
from jentrik.store.listing import JobLine, MachineLine
from jentrik.store.logbook import Fitting, Puncture
from jentrik.store.people import Person
from jentrik.store.records import Binned as BinnedThing
from jentrik.store.records import PastChange
from jentrik.store.sessions import Session
from jentrik.store.webhooks import Webhook
from jentrik.web.api.document_answers import DOCUMENT_ANSWERS
from jentrik.web.api.documents import NOT_SHOWN, SHOWN_IN_WORDS
from jentrik.web.pages.things.where import WhereRow
from jentrik.web.plain_json import REFUSED_HEADER

Figures = dict[str, Any]  # keys as in a plan document, values with the unit in the key
Severity = Literal["stop", "caution", "note", ""]


def _fields_of(of: type, *without: str) -> type[BaseModel]:
    """Return a model with the fields of a dataclass of ours, which its answer is made of."""
    hints = get_type_hints(of)
    named = {one.name: (hints[one.name], ...) for one in fields(of) if one.name not in without}
    model: type[BaseModel] = create_model(f"{of.__name__}Fields", **named)  # type: ignore[call-overload]
    return model


class Refused(BaseModel):
    """Why a request was refused: a sentence, the place in what was sent, what was expected."""

    message: str
    field: str | None
    position: int | None
    expected: str | None
    suggestions: list[str]


class Error(BaseModel):
    """A refusal."""

    error: Refused


class Health(BaseModel):
    """That the program runs, which version, its database, disk and last backup."""

    status: Literal["ok"]
    version: str
    database: Literal["ok"]
    disk_free_mb: int
    last_backup_at: datetime | None


class Listed(BaseModel):
    """A page of a list."""

    more: bool = Field(description="Whether there is another page")
    total: int = Field(description="How many there are on all pages")


class JobRow(_fields_of(JobLine, *NOT_SHOWN)):  # type: ignore[misc]
    """One job in a list, with what the day asks of it."""

    state: Literal["open", "done", "binned"]
    stage: Stage
    next: Next
    severity: Severity
    promised_at: str | None = Field(description="A moment, or the day where no hour is said")


class JobList(Listed):
    """A page of jobs."""

    jobs: list[JobRow]


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


class JobPhoto(_fields_of(KeptPhoto)):  # type: ignore[misc]
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


class JobTag(BaseModel):
    """A job on the bench, by id and tag."""

    id: int
    tag: int


class SetName(BaseModel):
    """A wheel set that is off, by number and name."""

    id: int
    name: str


class MachineRow(_fields_of(MachineLine, *NOT_SHOWN, *SHOWN_IN_WORDS)):  # type: ignore[misc]
    """One machine in a list; what is not known of it is null."""

    front: str | None
    rear: str | None
    wheelbase_mm: float | None
    head_angle_deg: float | None
    rake_deg: float | None
    jobs: list[JobTag]
    sets: list[SetName]


class MachineList(Listed):
    """A page of machines."""

    machines: list[MachineRow]


class Wheel(BaseModel):
    """A wheel: where it is kept, and its figures."""

    id: int
    name: str
    end: Literal["front", "rear"]
    kept: Literal["machine", "owner", "shelf"]
    place: str
    price: str | None
    reserved_for: int | None
    photo: str
    sources: dict[str, str]


class Machine(BaseModel):
    """A machine: its sheet, its set-ups with the oldest first, its wheels and wheel sets."""

    id: int
    name: str
    kind: Literal["bicycle", "motorcycle"]
    owner: str
    phone: str
    note: str
    external_id: str
    sheet: Figures
    setups: list[Figures]
    wheels: list[Wheel]
    sets: list[WheelSet]


class History(BaseModel):
    """A page of the changes of a machine, the last first."""

    changes: list[PastChange]


class InspectionKept(_fields_of(Inspection)):  # type: ignore[misc]
    """An inspection of a tire: tread left, middle, right in mm."""

    id: int
    tread_mm: list[float] | None


class Log(BaseModel):
    """A machine's logbook."""

    inspections: list[InspectionKept]
    odometer: list[Odometer]
    odometer_checks: list[DistanceCorrection]
    fittings: list[Fitting]
    punctures: list[Puncture]
    stands_since: date | None


class RideKept(_fields_of(Ride)):  # type: ignore[misc]
    """A ride on one set-up."""

    km: float | None
    seconds: float | None


class Rides(BaseModel):
    """The rides of a machine."""

    rides: list[RideKept]


class ShownSpeed(BaseModel):
    """A true speed and what the instrument showed."""

    id: int
    true_kmh: float
    shown_kmh: float


class SpeedPairs(BaseModel):
    """The pairs of true and shown speed of a machine."""

    pairs: list[ShownSpeed]


class TireOnShelf(_fields_of(ShelfTire, "facts", "job_id", "tire_id")):  # type: ignore[misc]
    """A tire on the shelf, or so many that are alike."""

    price: str | None
    reserved_for: int | None
    facts: Figures


class ShelfList(Listed):
    """A page of the tires on the shelf."""

    tires: list[TireOnShelf]


class WhereMachine(_fields_of(WhereRow)):  # type: ignore[misc]
    """A machine with what the rules say of a thing at each end."""


class Where(BaseModel):
    """A page of machines with what the rules say of a thing at each end."""

    machines: list[WhereMachine]
    more: bool


class PersonHere(_fields_of(Person, "secret")):  # type: ignore[misc]
    """A person who works here."""


class People(Listed):
    """A page of who works here."""

    people: list[PersonHere]


class PersonAdded(People, PersonHere):
    """The person who was added, and everyone who works here."""


class Policy(RootModel[dict[str, float | str]]):
    """What the shop judges by, key by key."""


class Templates(BaseModel):
    """The templates of job cards, each as its text."""

    templates: dict[str, str]


class Gauge(BaseModel):
    """A gauge as it lies in its drawer."""

    tool: str
    name: str
    quantity: str
    on: bool
    zero_error: float
    battery_percent: float


class Gauges(BaseModel):
    """The gauges as they lie in their drawers."""

    gauges: list[Gauge]


class DueList(BaseModel):
    """What is due, the earliest first."""

    due: list[Due]


class InTheBin(_fields_of(BinnedThing)):  # type: ignore[misc]
    """A machine or a job in the bin."""


class Binned(BaseModel):
    """What lies in the bin."""

    binned: list[InTheBin]


class Backups(BaseModel):
    """The backups the shop keeps."""

    backups: list[Kept]


class Verified(_fields_of(Holds, "schema")):  # type: ignore[misc]
    """What a backup holds: when and by which version it was made, and how much is in it."""


class Restore(BaseModel):
    """What a backup holds, and which people and keys it brings and takes."""

    dry_run: bool
    holds: Verified
    differs: Differences


class Lines(BaseModel):
    """How many lines of a table came in."""

    lines: int


class TiresAdded(BaseModel):
    """The lines that are on the shelf now."""

    tires: list[TireOnShelf]


class LogOf(Log):
    """The logbook of a machine."""

    machine_id: int


class Logs(BaseModel):
    """The logbooks that entries went into."""

    logs: list[LogOf]


class PersonWithUnits(PersonHere):
    """A person who works here, with the units they see figures in."""

    units: dict[str, str]


class Keys(BaseModel):
    """The keys of the shop, none of them itself."""

    keys: list[AccessKey]


class KeyMade(Keys):
    """A key, shown once: null where the answer is given again."""

    key: str | None


class Webhooks(BaseModel):
    """The addresses that are notified of what happens."""

    webhooks: list[Webhook]


class WebhookMade(Webhooks):
    """An address, and the key of its notices, shown once."""

    secret: str | None


class Sessions(BaseModel):
    """The sessions that go on."""

    sessions: list[Session]


class RuleSaid(BaseModel):
    """A check of a rule: severity, what it asks for, its limit and source."""

    rule: str
    title: str
    severity: Severity
    kinds: list[str]
    figures: list[str]
    limits: list[str]
    limit: str
    source: str
    law: bool


class Rules(BaseModel):
    """Every check of every rule."""

    rules: list[RuleSaid]


class Word(_fields_of(Term, "shows")):  # type: ignore[misc]
    """A term of the trade."""


class Words(BaseModel):
    """The terms of the trade."""

    words: list[Word]


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


class Change(BaseModel):
    """What happened: its place in the order, when, by whom, of what."""

    n: int
    at: datetime
    by: str
    kind: str
    id: int | None
    what: str


class Changes(BaseModel):
    """What happened after a place in the order; `next` is where to go on."""

    changes: list[Change]
    next: int


class Done(BaseModel):
    """What a press of undo did, in words."""

    done: str


class OutcomeOfRide(BaseModel):
    """What became of a set-up after a ride: the machine, and its open jobs."""

    machine: str
    open_jobs: list[JobTag]


class Document(RootModel[dict[str, Any]]):
    """A document of ours; its keys are described beside the documents that are sent."""


class PracticeItem(BaseModel):
    """A practice item with its answer."""

    id: str
    kind: str
    question: str
    drawing: str | None
    choices: list[str] | None
    answer: str | float
    tolerance: float | None
    unit: str | None
    why: str
    source: str
    level: int | str


class PracticeItems(RootModel[list[PracticeItem]]):
    """Practice items with their computed answers."""


_JOB, _M = "/api/jobs/{job_id}", "/api/machines/{machine_id}"
ANSWERS: dict[str, type[BaseModel]] = {
    **DOCUMENT_ANSWERS,
    "DELETE /api/shelf/{tire_id}": TireOnShelf,
    "GET /api/health": Health,
    "GET /api/jobs": JobList,
    "POST /api/jobs": Job,
    f"GET {_JOB}": Job,
    f"PATCH {_JOB}": Job,
    f"DELETE {_JOB}": Binned,
    f"GET {_JOB}/answer": Advice,
    f"GET {_JOB}/offer": Offer,
    f"POST {_JOB}/agreed": Offer,
    f"POST {_JOB}/arrived": Order,
    f"GET {_JOB}/order": Order,
    f"PATCH {_JOB}/order": Order,
    f"POST {_JOB}/day": Job,
    f"GET {_JOB}/card": Card,
    f"POST {_JOB}/card": Card,
    f"POST {_JOB}/card/steps": Card,
    f"POST {_JOB}/card/steps/{{step_id}}": Card,
    f"POST {_JOB}/close": Job,
    f"POST {_JOB}/open": Job,
    f"POST {_JOB}/corrections": Job,
    f"POST {_JOB}/fitted": Job,
    f"GET {_JOB}/measured": MeasuredAfter,
    f"POST {_JOB}/measured": MeasuredAfter,
    f"POST {_JOB}/outcome": OutcomeOfRide,
    f"POST {_JOB}/photos": Photos,
    f"DELETE {_JOB}/photos/{{photo_id}}": Photos,
    f"POST {_JOB}/proposals": JobWithProposal,
    f"PATCH {_JOB}/proposals/{{name}}": Job,
    f"DELETE {_JOB}/proposals/{{name}}": Job,
    f"GET {_JOB}/proposals/{{name}}/ways": Ways,
    f"POST {_JOB}/proposals/{{name}}/ways": Job,
    f"POST {_JOB}/rides": Rides,
    f"POST {_JOB}/setups": Machine,
    f"POST {_JOB}/undo": Done,
    "GET /api/machines": MachineList,
    "POST /api/machines": Machine,
    f"GET {_M}": Machine,
    f"PATCH {_M}": Machine,
    f"DELETE {_M}": Binned,
    f"POST {_M}/copy": Machine,
    f"POST {_M}/gauge": Machine,
    f"POST {_M}/go-back": Job,
    f"POST {_M}/put-on": Job,
    f"GET {_M}/history": History,
    f"DELETE {_M}/lines/{{kind}}/{{line}}": Machine,
    f"POST {_M}/lines/{{which}}": Machine,
    f"GET {_M}/log": Log,
    f"POST {_M}/log/inspections": Log,
    f"POST {_M}/log/odometer": Log,
    f"POST {_M}/log/odometer-checks": Log,
    f"POST {_M}/log/punctures": Log,
    f"POST {_M}/log/standing": Log,
    f"POST {_M}/photo": Machine,
    f"GET {_M}/rides": Rides,
    f"PUT {_M}/rides/{{ride_id}}/track": Rides,
    f"POST {_M}/sets": Machine,
    f"PATCH {_M}/setups/{{setup_id}}": Machine,
    f"GET {_M}/speed": SpeedPairs,
    f"POST {_M}/speed/drop": SpeedPairs,
    f"POST {_M}/speed/pairs": SpeedPairs,
    f"POST {_M}/speed/track": SpeedPairs,
    f"POST {_M}/tires/{{number}}/shelf": Machine,
    f"POST {_M}/undo": Done,
    f"POST {_M}/wheels/{{wheel_id}}": Machine,
    "GET /api/shelf": ShelfList,
    "POST /api/shelf": TireOnShelf,
    "GET /api/shelf/{tire_id}": TireOnShelf,
    "PATCH /api/shelf/{tire_id}": TireOnShelf,
    "POST /api/shelf/{tire_id}/look": TireOnShelf,
    "POST /api/shelf/{tire_id}/photo": TireOnShelf,
    "POST /api/shelf/{tire_id}/reserve": TireOnShelf,
    "GET /api/shelf/{tire_id}/where": Where,
    "POST /api/shelf/undo": Done,
    "GET /api/wheels/{wheel_id}": Wheel,
    "PATCH /api/wheels/{wheel_id}": Wheel,
    "POST /api/wheels/{wheel_id}/photo": Wheel,
    "POST /api/wheels/{wheel_id}/reserve": Wheel,
    "GET /api/wheels/{wheel_id}/where": Where,
    "GET /api/people": People,
    "POST /api/people": PersonAdded,
    "GET /api/policy": Policy,
    "PATCH /api/policy": Policy,
    "POST /api/policy/undo": Done,
    "GET /api/templates": Templates,
    "PUT /api/templates/{name}": Templates,
    "GET /api/gauges": Gauges,
    "POST /api/gauges/{tool}": Gauges,
    "GET /api/due": DueList,
    "GET /api/bin": Binned,
    "POST /api/bin/restore": Binned,
    "GET /api/backups": Backups,
    "POST /api/backups": Backups,
    "POST /api/backups/{name}/verify": Verified,
    "POST /api/backups/{name}/restore": Restore,
    "POST /api/tables": Lines,
    "POST /api/shelf/lines": TiresAdded,
    "POST /api/log": Logs,
    "GET /api/people/{person_id}": PersonWithUnits,
    "PATCH /api/people/{person_id}": PersonWithUnits,
    "DELETE /api/people/{person_id}": People,
    "GET /api/keys": Keys,
    "POST /api/keys": KeyMade,
    "DELETE /api/keys/{key_id}": Keys,
    "GET /api/webhooks": Webhooks,
    "POST /api/webhooks": WebhookMade,
    "DELETE /api/webhooks/{webhook_id}": Webhooks,
    "GET /api/sessions": Sessions,
    "DELETE /api/sessions/{session_id}": Sessions,
    "GET /api/rules": Rules,
    "GET /api/words": Words,
    f"GET {_JOB}/compare": Compared,
    f"GET {_JOB}/before-fitted": BeforeFitted,
    "GET /api/changes": Changes,
    "GET /api/practice": PracticeItems,
    "POST /api/practice/jobs": Job,
    "POST /api/practice/undo": Done,
}
FILES: dict[str, tuple[str, ...]] = {  # what is no JSON document, by the end of its address
    ".csv": ("text/csv",),
    ".vcf": ("text/vcard",),
    "GET /drawing": ("image/svg+xml", "image/png"),
    "GET /track": ("application/gpx+xml",),
    "/photos/{file}": ("image/jpeg",),
    "/backups/{name}": ("application/zip",),
}
STATUSES = {
    "401": "A key, a session or the passphrase is needed.",
    "403": "It must come from this shop's own pages, or a key does not open this.",
    "404": "What it names is not there.",
    "412": "It has changed since it was read.",
    "413": "It is larger than is taken.",
    "415": "It is no JSON.",
    "422": "What was sent, or what stands there, does not allow it.",
    "429": "Too many wrong keys or passphrases at once.",
    "503": "The shop takes no request for a moment.",
}
_REFUSED = {
    "description": "What the refusal is about: what was sent, or how things stand in the shop",
    "schema": {"type": "string", "enum": ["code", "range", "document", "state"]},
}
_READS = ("401", "403", "404", "422", "429", "503")


def with_answers(described: dict[str, Any]) -> None:
    """Put the model of its answer and every refusal into each operation of a description."""
    schemas = described["components"]["schemas"]
    for name in ("HTTPValidationError", "ValidationError"):
        schemas.pop(name, None)
    sent = set(schemas)
    models: set[type[BaseModel]] = {*ANSWERS.values(), Error, Document}
    for model in models:
        schema = model.model_json_schema(
            ref_template="#/components/schemas/{model}", mode="serialization"
        )
        named = {**schema.pop("$defs", {}), model.__name__: schema}
        twice = {one for one in named.keys() & sent if named[one] != schemas[one]}
        assert not twice, f"{twice} name what is sent and what is answered"
        schemas.update(named)
    described["components"]["responses"] = {
        f"Refused{status}": {
            "description": words,
            "content": _content(Error),
            "headers": {REFUSED_HEADER: _REFUSED},
        }
        for status, words in STATUSES.items()
    }
    described["components"]["securitySchemes"] = {"key": {"type": "http", "scheme": "bearer"}}
    described["security"] = [{}, {"key": []}]
    for path, methods in described["paths"].items():
        for method, operation in methods.items():
            _describe(f"{method.upper()} {path}", operation)


def _describe(name: str, operation: dict[str, Any]) -> None:
    called = operation["operationId"].partition("_api_")[0]
    operation["operationId"] = f"{operation['tags'][0].replace(' ', '_')}_{called}"
    answers = operation["responses"]
    for status, answer in answers.items():
        if status.startswith("2"):
            answer["content"] = _content_of(name, answer.get("content", {}))
    method = name.partition(" ")[0]
    if method == "GET":
        answers["304"] = {"description": "It is what the tag in If-None-Match names."}
    for status in _READS if method == "GET" else STATUSES:
        answers[status] = {"$ref": f"#/components/responses/Refused{status}"}


def _content_of(name: str, given: dict[str, Any]) -> dict[str, Any]:
    model = ANSWERS.get(name)
    if model is not None:
        return _content(model)
    if name.endswith("/plan"):
        return _content(PlanDocument)
    if "text/event-stream" in given:
        return given
    method, _, path = name.partition(" ")
    for ends, kinds in FILES.items():
        if name.endswith(ends) or f"{method} /{path.rpartition('/')[2]}" == ends:
            return {one: {"schema": {"type": "string"}} for one in kinds}
    return _content(Document)


def _content(model: type[BaseModel]) -> dict[str, Any]:
    return {"application/json": {"schema": {"$ref": f"#/components/schemas/{model.__name__}"}}}
