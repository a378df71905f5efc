"""What every route works with: the shop's database, the clock, and a checked form."""

import hashlib
import hmac
import time
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import AbstractContextManager
from dataclasses import dataclass, replace
from datetime import date, datetime
from pathlib import Path
from typing import Annotated
from urllib.parse import quote, unquote, urlsplit

import peewee
from fastapi import Depends, Request
from python_multipart.multipart import parse_options_header
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import FormData
from starlette.formparsers import MultiPartException
from starlette.responses import Response

from jentrik.core.errors import DocumentError
from jentrik.core.text import seen_text
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.core.work.policy import Policy
from jentrik.store import journal
from jentrik.store.journal import Author
from jentrik.store.once import AT_WORK, refuse_replay
from jentrik.store.own_units import units_for
from jentrik.store.people import Person, initials_of, person
from jentrik.store.policy import stored_policy
from jentrik.store.standing import Standing
from jentrik.web.security.guard import (
    ONCE_FIELD,
    TOKEN_COOKIE,
    TOKEN_FIELD,
    TOKEN_HEADER,
    token_holds,
)

MOST_FIELDS, MOST_FILES = 400, 2
WHO_COOKIE, PROOF_COOKIE, LONGEST_WHO = "jentrik_who", "jentrik_who_proof", 40


@dataclass(frozen=True, slots=True)
class Shop:
    """One shop: its database, its clock, its folder."""

    database: peewee.SqliteDatabase
    now: Callable[[], datetime]
    folder: Path
    who: str = ""  # the name of the person at this screen
    screen: str = ""  # which browser it is
    units: DisplayUnits = METRIC  # what they see figures in, and type them in
    secret: bytes = b""  # what proofs are signed with; in no backup
    wait: Callable[[float], None] = time.sleep  # what a simulated gauge takes its time with
    standing: Standing | None = None  # of the file it was opened from, where it is served

    @property
    def today(self) -> date:
        """The day on the wall."""
        return self.now().date()

    @property
    def policy(self) -> Policy:
        """The shop's policy, as it stands now."""
        return stored_policy()

    def figure(self, typed: str, *, unit: str) -> float:
        """Return a typed figure in the unit it is kept in; without one it is in the unit seen."""
        return read_figure(self.units.in_kept(typed.strip(), unit), unit=unit)

    def ready(self) -> None:
        """Open this thread's connection if it is not open; it stays open for the next request.

        Refuses with `FileReplaced` where the file it was opened from does not stand there any more.
        """
        if self.standing is not None:
            self.standing.look()
        self.database.connect(reuse_if_open=True)

    @property
    def author(self) -> Author:
        """Who writes here."""
        return Author(self.who, self.screen)

    def step(
        self,
        label: str,
        subject: str,
        *,
        machine_id: int | None = None,
        job_id: int | None = None,
        scope: Mapping[str, int] | None = None,
        visit: str = "",
    ) -> AbstractContextManager[journal.Step]:
        """Open one change in the journal; read what it depends on within it."""
        of = {"machine_id": machine_id, "job_id": job_id, **(scope or {})}
        return journal.step(
            self.database,
            now=self.now(),
            label=label,
            subject=subject,
            author=replace(self.author, visit=visit),
            **of,
        )


class ForgedFormError(DocumentError):
    """A form without the token of one of our pages."""


def opened_shop(request: Request) -> Shop:
    """Return the shop, its database open for this request's thread."""
    shop: Shop = request.app.state.shop
    shop.ready()
    who = unquote(request.cookies.get(WHO_COOKIE, ""))[:LONGEST_WHO].strip()
    known = person(who) if who else None
    if known is not None and not hmac.compare_digest(
        proof_of(known, shop.secret), request.cookies.get(PROOF_COOKIE, "") if known.locked else ""
    ):
        who, known = "", None
    request.state.units = units = units_for(who)
    request.state.who, request.state.initials = who, known.initials if known else initials_of(who)
    token = request.state.csrf_token.encode()
    request.state.screen = screen = hashlib.sha256(token).hexdigest()[:16]
    if request.method == "GET" and TOKEN_COOKIE in request.cookies:  # else it is no screen yet
        station = request.query_params.get("station", "")
        request.app.state.feed.note(screen, who, request.url.path, station)
    return replace(shop, who=who, screen=screen, units=units)


def proof_of(known: Person, secret: bytes) -> str:
    """Return what a screen keeps of a passphrase that was right; "" where there is none.

    It is signed with what no backup holds.
    """
    if known.secret is None:
        return ""
    said = f"at this screen: {known.id} {known.secret}"
    return hmac.new(secret, said.encode(), "sha256").hexdigest()


def remember_who(response: Response, who: str, secret: bytes) -> None:
    """Keep who is at this screen for a year, or forget them where it is no one."""
    known = person(who) if who else None
    proof = proof_of(known, secret) if known else ""
    kept = {WHO_COOKIE: quote(who[:LONGEST_WHO]), PROOF_COOKIE: proof}
    for name, value in kept.items():
        age = 31_536_000 if value else 0
        response.set_cookie(name, value, max_age=age, httponly=True, samesite="strict")


async def checked_form(request: Request) -> FormData:
    """Return the form of a write; refuses one that does not come from a page of ours."""
    return await _form_of(request, files=0)


async def checked_upload(request: Request) -> AsyncIterator[FormData]:
    """Give a form that may bring files, closed afterwards; the guard bounds how much may come."""
    form = await _form_of(request, files=MOST_FILES)
    try:
        yield form
    finally:
        await form.close()


def came_from(request: Request) -> str:
    """Return the page of ours that a form was sent from."""
    came = urlsplit(request.headers.get("referer", ""))
    ours = came.netloc == request.headers.get("host") and came.path.startswith("/")
    return f"{came.path}?{came.query}".rstrip("?") if ours else "/"


async def _form_of(request: Request, *, files: int) -> FormData:
    _, options = parse_options_header(request.headers.get("content-type", ""))
    if options.get(b"charset", b"utf-8").lower() not in (b"utf-8", b"utf8"):
        raise DocumentError("This form is not in UTF-8.", field="form", expected="a form in UTF-8")
    try:
        form = await request.form(max_files=files, max_fields=MOST_FIELDS)
    except MultiPartException:
        raise DocumentError(
            "This form cannot be read; it has too many fields or a file.",
            expected="a form of one of our pages",
        ) from None
    form = FormData(
        [
            (seen_text(name), seen_text(value) if isinstance(value, str) else value)
            for name, value in form.multi_items()
        ]
    )
    request.state.typed = form.multi_items()  # for the page that says it could not be stored
    await _once(request, form)
    given = request.headers.get(TOKEN_HEADER) or str(form.get(TOKEN_FIELD, ""))
    if not token_holds(request, given):
        await form.close()
        raise ForgedFormError(
            "This page was open too long or came from elsewhere: load it again, then repeat.",
            expected="a form of one of our pages",
        )
    return form


async def _once(request: Request, form: FormData) -> None:
    """Name the write by the id its form carries and what it says; refuses one done before."""
    writes, made = AT_WORK.get(), form.get(ONCE_FIELD)
    if writes is None or not isinstance(made, str) or not made:
        return
    said = [
        (name, value) for name, value in form.multi_items() if name not in (ONCE_FIELD, TOKEN_FIELD)
    ]
    if any(not isinstance(value, str) for _, value in said):
        return  # a file is stored under its own digest
    whole = repr((made, request.url.path, said))
    writes.once = hashlib.sha256(whole.encode("utf-8", "replace")).hexdigest()

    def check() -> None:
        request.app.state.shop.ready()
        refuse_replay(writes.once)

    await run_in_threadpool(check)


AShop = Annotated[Shop, Depends(opened_shop)]
AForm = Annotated[FormData, Depends(checked_form)]
AnUpload = Annotated[FormData, Depends(checked_upload)]
