"""The shop for programs: the limits, templates, gauges, people, backups, the bin."""

from typing import Any

from fastapi import APIRouter
from pydantic import Field
from starlette.responses import Response

from jentrik.core.text import external_key
from jentrik.store import cards, gauges, people
from jentrik.store.backups import kept_backups
from jentrik.store.machine_data import due_in_shop
from jentrik.store.policy import SUBJECT, stored_policy
from jentrik.store.undo import Scope
from jentrik.web.api import documents as documented
from jentrik.web.api.field_changes import change_fields
from jentrik.web.api.listed import KNOWN_ONLY, AList
from jentrik.web.api.program import AProgram, as_text, marked
from jentrik.web.live.command import Body, ExternalId, Name
from jentrik.web.live.fields import Sent
from jentrik.web.live.undoing import Undoing, take_back
from jentrik.web.pages.backups.route import make_backup
from jentrik.web.pages.card.commands import set_card_template
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.logbook.view import shop_due
from jentrik.web.pages.records.commands import Restored
from jentrik.web.pages.shop.commands import GaugeSet
from jentrik.web.pages.shop.route import PolicyAnswers
from jentrik.web.shop import AShop

router = APIRouter(prefix="/api", tags=["shop"], dependencies=[KNOWN_ONLY])


class PolicyChange(Body):
    """What the shop judges by, key by key."""

    limits: dict[str, float | str] = Field(examples=[{"limits.trail_mm.high": 6}])


class Template(Body):
    """The text of a card's template; no text takes the shop's own away."""

    text: str


class NewPerson(Body):
    """A person who works here."""

    name: Name = Field(examples=["Pat Quay"])
    initials: str = ""
    external_id: ExternalId = Field(default="", description="Another program's own key")


@router.get("/due")
def due(shop: AShop) -> Response:
    """Return what is due of tires and jobs, the earliest first."""
    refresh(shop)
    found = shop_due(due_in_shop(), shop.policy, shop.today)
    return marked({"due": [documented.plain_fields(one) for one in found]})


@router.get("/policy")
def policy() -> Response:
    """Return what the shop judges by."""
    return marked(documented.policy_document())


@router.patch("/policy")
def set_limits(program: AProgram, body: PolicyChange) -> Response:
    """Set what the shop judges by, all of it or nothing."""
    shop = program.shop
    fields = [Sent(f"policy:{key}", as_text(value)) for key, value in body.limits.items()]
    return program.write(
        lambda: change_fields(shop, fields, lambda: PolicyAnswers(stored_policy(), shop.today)),
        lambda _: documented.policy_document(),
        sent=body,
        now=documented.policy_document,
    )


@router.post("/policy/undo")
def undo_policy(program: AProgram, body: Undoing) -> Response:
    """Take one change of the limits back, or do it again."""
    return program.write(
        lambda: take_back(program.shop, body, Scope(subject=SUBJECT)),
        lambda undone: undone.outcome,
        sent=body,
        now=documented.policy_document,
    )


@router.get("/templates")
def templates() -> Response:
    """Return the templates of job cards, each as its text."""
    return marked({"templates": cards.templates()})


@router.put("/templates/{name}")
def set_template(program: AProgram, name: str, body: Template) -> Response:
    """Write a template; no text takes the shop's own away."""
    return program.write(
        lambda: set_card_template(program.shop, name, body.text),
        lambda _: {"templates": cards.templates()},
        sent=body,
        now=lambda: {"templates": cards.templates()},
    )


@router.get("/gauges")
def all_gauges() -> Response:
    """Return the gauges of the shop, as they lie in their drawers."""
    return marked(documented.gauges_document(gauges.gauges()))


@router.post("/gauges/{tool}")
def gauge(program: AProgram, tool: str, body: GaugeSet) -> Response:
    """Switch a gauge on or off, zero it, or charge it."""
    return program.write(
        lambda: body.carry_out(program.shop, tool),
        lambda _: documented.gauges_document(gauges.gauges()),
        sent=body,
        now=lambda: documented.gauges_document(gauges.gauges()),
    )


@router.get("/people")
def all_people(listed: AList) -> Response:
    """Return a page of who works here, by name."""
    return marked(documented.people_document(listed))


@router.post("/people", status_code=201)
def add_person(program: AProgram, body: NewPerson) -> Response:
    """Add a person who works here; a passphrase is set at a screen."""

    def act() -> people.Person:
        with program.shop.step(f"{body.name} works here", "people") as step:
            known = people.add_person(step, body.name, body.initials)
            if body.external_id:
                people.set_external_id(step, known, external_key(body.external_id))
        return people.person_of(known.id) or known

    return program.write(
        act,
        lambda known: {**documented.plain_fields(known, "secret"), **documented.people_document()},
        sent=body,
        status=201,
        now=documented.people_document,
    )


@router.get("/backups")
def backups(shop: AShop) -> Response:
    """Return the backups the shop keeps."""
    return marked(documented.backups_document(kept_backups(shop.folder)))


@router.post("/backups", status_code=201)
def back_up(program: AProgram) -> Response:
    """Make a backup now."""

    def now() -> Any:
        return documented.backups_document(kept_backups(program.shop.folder))

    return program.write(
        lambda: make_backup(program.shop), lambda _: now(), now=now, status=201, long=True
    )


@router.get("/bin")
def binned() -> Response:
    """Return what lies in the bin."""
    return marked(documented.bin_document())


@router.post("/bin/restore")
def out_of_bin(program: AProgram, body: Restored) -> Response:
    """Bring one thing back out of the bin."""
    return program.write(
        lambda: body.carry_out(program.shop),
        lambda _: documented.bin_document(),
        sent=body,
        now=documented.bin_document,
    )
