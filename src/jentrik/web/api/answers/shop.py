"""What the API answers of the shop: people, keys, limits, backups, the bin, what happened."""

from pydantic import BaseModel, RootModel

from jentrik.core.tire.tables.glossary import Term
from jentrik.core.work.due import Due
from jentrik.store.access_keys import AccessKey
from jentrik.store.backups import Differences, Holds, Kept
from jentrik.store.happenings import Happened
from jentrik.store.people import Person
from jentrik.store.records import Binned as BinnedThing
from jentrik.store.sessions import Session
from jentrik.store.webhooks import Webhook
from jentrik.web.api.answers.base import Listed, Severity, fields_of


class PersonHere(fields_of(Person, "secret")):  # type: ignore[misc]
    """A person who works here."""


class People(Listed):
    """A page of who works here."""

    people: list[PersonHere]


class PersonAdded(People, PersonHere):
    """The person who was added, and everyone who works here."""


class PersonWithUnits(PersonHere):
    """A person who works here, with the units they see figures in."""

    units: dict[str, str]


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


class InTheBin(fields_of(BinnedThing)):  # type: ignore[misc]
    """A machine or a job in the bin."""


class Binned(BaseModel):
    """What lies in the bin."""

    binned: list[InTheBin]


class Backups(BaseModel):
    """The backups the shop keeps."""

    backups: list[Kept]


class Verified(fields_of(Holds, "schema")):  # type: ignore[misc]
    """What a backup holds: when and by which version it was made, and how much is in it."""


class Restore(BaseModel):
    """What a backup holds, and which people and keys it brings and takes."""

    dry_run: bool
    holds: Verified
    differs: Differences


class Lines(BaseModel):
    """How many lines of a table came in."""

    lines: int


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


class Word(fields_of(Term, "shows")):  # type: ignore[misc]
    """A term of the trade."""


class Words(BaseModel):
    """The terms of the trade."""

    words: list[Word]


class Change(fields_of(Happened, "machine_id", "screen")):  # type: ignore[misc]
    """What happened: its place in the order, when, by whom, of what."""


class Changes(BaseModel):
    """What happened after a place in the order; `next` is where to go on."""

    changes: list[Change]
    next: int
