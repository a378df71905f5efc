"""Who works here and what may ask: people's own settings, keys of programs, sessions.

PATCH /api/people/{id}     initials, hours, units, another program's key    DELETE   off the list
GET /api/keys, POST, DELETE /api/keys/{id}     not for a key itself
GET /api/sessions, DELETE /api/sessions/{id}   not for a key itself
GET /api/webhooks, POST, DELETE …              not for a key itself
"""

from collections.abc import Callable
from typing import Annotated, Any

from fastapi import APIRouter, Depends
from pydantic import Field
from starlette.responses import Response

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.text import external_key
from jentrik.core.work.display_units import CHOICES
from jentrik.store import people
from jentrik.store.access_keys import Purpose, access_keys, make_key, revoke_key
from jentrik.store.own_units import choose_unit, own_units
from jentrik.store.sessions import end_session, sessions
from jentrik.store.webhooks import add_webhook, end_webhook, webhooks
from jentrik.web.api import documents as documented
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import AProgram, NotForAKey, Program, as_text, marked
from jentrik.web.live.command import Body, ExternalId, Name
from jentrik.web.pages.people.route import SUBJECT
from jentrik.web.shop import Shop

router = APIRouter(prefix="/api", tags=["shop"], dependencies=[KNOWN_ONLY])


def _without_a_key(program: AProgram) -> Program:
    """Return the program, asked from the shop's own machine or from a session."""
    if getattr(program.request.state, "program", ""):
        raise NotForAKey("A key opens no keys, no sessions and no backups.", field="Authorization")
    return program


RunsTheShop = Annotated[Program, Depends(_without_a_key)]


class PersonChange(Body):
    """What changes of a person who works here; what is absent stays."""

    initials: str | None = None
    hours_a_day: float | None = Field(default=None, ge=0.5, le=24)
    external_id: ExternalId | None = None
    units: dict[str, str] = Field(
        default_factory=dict,
        examples=[{"length": "in"}],
        description=f"Of {', '.join(CHOICES)}; an empty text takes the shop's again",
    )

    def carry_out(self, shop: Shop, person_id: int) -> None:
        """Write it in one step; refuses a person who has a passphrase, and a unit there is not."""
        known = _without_passphrase(person_id)
        with shop.step(f"{known.name} changed", SUBJECT) as step:
            if self.initials is not None:
                people.set_initials(step, known, self.initials)
            if self.hours_a_day is not None:
                people.set_hours(step, known, as_text(self.hours_a_day))
            if self.external_id is not None:
                people.set_external_id(step, known, external_key(self.external_id))
            for quantity, unit in self.units.items():
                units = list(CHOICES.get(quantity, ()))
                if not units or (unit and unit not in units):
                    raise OutOfRange(
                        f"“{unit[:20]}” is no unit of {quantity[:20]}.",
                        field=f"units.{quantity[:20]}",
                        expected=", ".join(units or CHOICES),
                    )
                choose_unit(step, known.name, quantity, unit)


def _known(person_id: int) -> people.Person:
    known = people.person_of(person_id)
    if known is None:
        raise StoreError("They are not on the list any more.")
    return known


def _without_passphrase(person_id: int) -> people.Person:
    known = _known(person_id)
    if known.locked:
        raise OutOfRange(
            f"{known.name} has a passphrase: what is kept of {known.name} is changed at a screen.",
            field="person_id",
            expected="a person without a passphrase",
        )
    return known


def _person(person_id: int) -> dict[str, Any]:
    known = _known(person_id)
    return {**documented.plain_fields(known, "secret"), "units": own_units(known.name)}


@router.get("/people/{person_id}")
def one_person(person_id: int) -> Response:
    """Return a person who works here, with the units they see figures in."""
    return marked(_person(person_id))


@router.patch("/people/{person_id}")
def change_person(program: AProgram, person_id: int, body: PersonChange) -> Response:
    """Change what is kept of a person."""
    return program.write(
        lambda: body.carry_out(program.shop, person_id),
        lambda _: _person(person_id),
        sent=body,
        now=lambda: _person(person_id),
    )


@router.delete("/people/{person_id}")
def remove_person(program: AProgram, person_id: int) -> Response:
    """Take a person off the list; what they wrote keeps their name."""

    def act() -> None:
        known = _without_passphrase(person_id)
        with program.shop.step(f"{known.name} off the list", SUBJECT) as step:
            people.remove_person(step, known.id)

    return program.write(
        act, lambda _: documented.people_document(), now=lambda: _person(person_id)
    )


class NewKey(Body):
    """A key for a program, or for a calendar alone."""

    name: Name = Field(examples=["booking"])
    purpose: Purpose = Purpose.PROGRAM


def _keys() -> dict[str, Any]:
    return {"keys": [documented.plain_fields(one) for one in access_keys()]}


@router.get("/keys")
def keys(program: RunsTheShop) -> Response:
    """Return the keys of the shop, none of them itself."""
    return marked(_keys())


@router.post("/keys", status_code=201)
def add_key(program: RunsTheShop, body: NewKey) -> Response:
    """Make a key; it is shown in this answer and never again."""
    shop = program.shop
    return _made(
        program,
        body,
        "key",
        lambda: make_key(shop.database, body.name, body.purpose, at=shop.now(), by=shop.who),
        _keys,
    )


@router.delete("/keys/{key_id}")
def end_key(program: RunsTheShop, key_id: int) -> Response:
    """Revoke a key for good."""
    shop = program.shop
    return _ended(program, lambda: revoke_key(shop.database, key_id, at=shop.now()), _keys)


def _sessions() -> dict[str, Any]:
    return {"sessions": [documented.plain_fields(one) for one in sessions()]}


@router.get("/sessions")
def open_sessions(program: RunsTheShop) -> Response:
    """Return the sessions that go on, the last used first."""
    return marked(_sessions())


@router.delete("/sessions/{session_id}")
def end_one_session(program: RunsTheShop, session_id: str) -> Response:
    """End a session: its browser is asked for the passphrase again."""
    shop = program.shop
    return _ended(program, lambda: end_session(shop.database, session_id, at=shop.now()), _sessions)


class NewWebhook(Body):
    """An address that is notified of what happens."""

    address: str = Field(examples=["https://accounts.example/jentrik"])


def _webhooks() -> dict[str, Any]:
    return {"webhooks": [documented.plain_fields(one) for one in webhooks()]}


@router.get("/webhooks")
def list_webhooks(program: RunsTheShop) -> Response:
    """Return the addresses that are notified, and how the last notice went."""
    return marked(_webhooks())


@router.post("/webhooks", status_code=201)
def add_address(program: RunsTheShop, body: NewWebhook) -> Response:
    """Notify an address from now on; the key of its notices is in this answer alone."""
    shop = program.shop
    return _made(
        program,
        body,
        "secret",
        lambda: add_webhook(shop.database, body.address, at=shop.now(), by=shop.who),
        _webhooks,
    )


@router.delete("/webhooks/{webhook_id}")
def end_address(program: RunsTheShop, webhook_id: int) -> Response:
    """Stop notifying an address."""
    shop = program.shop
    return _ended(program, lambda: end_webhook(shop.database, webhook_id, at=shop.now()), _webhooks)


def _made(
    program: Program, body: Body, name: str, act: Callable[[], str], now: Callable[[], Any]
) -> Response:
    """Make what has a key of its own, which is in this answer alone, under that name."""
    return program.write(
        act, lambda key: {name: key, **now()}, sent=body, status=201, now=None, shown_once=name
    )


def _ended(program: Program, act: Callable[[], None], now: Callable[[], Any]) -> Response:
    return program.write(act, lambda _: now(), now=now)
