"""The application: routes, the door in front of them, and one way for refusals to leave."""

import json
import logging
import sqlite3
from collections import Counter
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import peewee
from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from fastapi.responses import RedirectResponse
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.requests import ClientDisconnect, Request
from starlette.responses import Response
from starlette.routing import Match, Route
from starlette.staticfiles import StaticFiles
from starlette.types import Lifespan

from jentrik.core.errors import DocumentError, Refusal, StoreError
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.exchange.strict_json import TooLargeError
from jentrik.store.access_keys import Purpose, key_holder
from jentrik.store.database import FILE_NAME, open_database
from jentrik.store.files import is_full, reason_of
from jentrik.store.leftovers import sweep
from jentrik.store.once import AT_WORK, Replayed, note_answer
from jentrik.store.rows import ShopPaused
from jentrik.store.sessions import goes_on, note_use
from jentrik.store.standing import FileReplaced, Standing
from jentrik.web.api import access as api_access
from jentrik.web.api import card as api_card
from jentrik.web.api import description as api
from jentrik.web.api import events as api_events
from jentrik.web.api import jobs as api_jobs
from jentrik.web.api import machines as api_machines
from jentrik.web.api import photographs as api_photographs
from jentrik.web.api import practice as api_practice
from jentrik.web.api import reference as api_reference
from jentrik.web.api import safekeeping as api_safekeeping
from jentrik.web.api import shelf as api_shelf
from jentrik.web.api import shop as api_shop
from jentrik.web.api.program import ChangedSinceRead, NotForAKey, NotOfAProgram
from jentrik.web.live.feed import Feed
from jentrik.web.live.fields import is_live
from jentrik.web.pages.after_fitting import route as after_fitting
from jentrik.web.pages.answers import route as answers
from jentrik.web.pages.backups import route as backups
from jentrik.web.pages.card import route as card
from jentrik.web.pages.choose import route as choose
from jentrik.web.pages.exchange import route as exchange
from jentrik.web.pages.exchange.importing import Imports
from jentrik.web.pages.handbook import route as handbook
from jentrik.web.pages.jobs import route as jobs
from jentrik.web.pages.logbook import route as logbook
from jentrik.web.pages.machines import route as machines
from jentrik.web.pages.offer import route as offer
from jentrik.web.pages.order import route as order
from jentrik.web.pages.paper import route as paper
from jentrik.web.pages.people import route as people
from jentrik.web.pages.photographs import route as photographs
from jentrik.web.pages.practice import route as practice
from jentrik.web.pages.reading import route as reading
from jentrik.web.pages.records import route as records
from jentrik.web.pages.ride import route as ride
from jentrik.web.pages.session import route as session
from jentrik.web.pages.setups import route as setups
from jentrik.web.pages.shelf import route as shelf
from jentrik.web.pages.shop import route as shop
from jentrik.web.pages.speed import route as speed
from jentrik.web.pages.tables import route as tables
from jentrik.web.pages.things import route as things
from jentrik.web.pages.tire_use import route as tire_use
from jentrik.web.pages.tracks import route as tracks
from jentrik.web.pages.ways import route as ways
from jentrik.web.pages.wheel_sizes import route as wheel_sizes
from jentrik.web.pages.widths import route as widths
from jentrik.web.plain_json import refused_json
from jentrik.web.security.guard import (
    ONCE_FIELD,
    TOKEN_FIELD,
    Guard,
    Guarding,
    KeyHolder,
    NoteAnswer,
    SessionCheck,
)
from jentrik.web.security.passphrase import Passphrase, kept_secret
from jentrik.web.server import plumbing
from jentrik.web.server.keeping import Keeper
from jentrik.web.server.noted import Noted
from jentrik.web.server.notifying import Hooks, Notifier
from jentrik.web.server.tags import Tags
from jentrik.web.shop import ForgedFormError, Shop, came_from
from jentrik.web.templating import STATIC, page

USED_WITHIN = timedelta(minutes=5)  # a session used again sooner is not noted
_log = logging.getLogger("jentrik")


class KeptStaticFiles(StaticFiles):
    """Files we ship: an address that carries the contents' mark may be kept for a year."""

    async def get_response(self, path: str, scope: Any) -> Response:
        """Return the file, with how long it may be kept."""
        response = await super().get_response(path, scope)
        if b"v=" in scope.get("query_string", b""):
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response


_PARTS = (
    jobs,
    ways,
    card,
    after_fitting,
    paper,
    order,
    offer,
    logbook,
    records,
    ride,
    tracks,
    choose,
    machines,
    reading,
    session,
    setups,
    shelf,
    shop,
    handbook,
    people,
    photographs,
    practice,
    speed,
    things,
    tire_use,
    wheel_sizes,
    widths,
    answers,
    backups,
    exchange,
    tables,
    plumbing,
    api,
    api_access,
    api_card,
    api_events,
    api_jobs,
    api_machines,
    api_photographs,
    api_practice,
    api_reference,
    api_safekeeping,
    api_shelf,
    api_shop,
)


class Described(FastAPI):
    """The application; its description holds the documents' schemas, made when it is asked for."""

    def openapi(self) -> dict[str, Any]:
        """Return the description, the same each time."""
        if self.openapi_schema is None:
            described = super().openapi()
            described["components"]["schemas"].update(api.document_schemas())
            stream = described["paths"]["/api/events"]["get"]["responses"]["200"]["content"]
            stream["text/event-stream"] = {"schema": {"type": "string"}}  # 3.1 knows no stream
            # Sixty models that only the description needs.
            from jentrik.web.api.described import with_answers  # noqa: PLC0415

            with_answers(described)
        assert self.openapi_schema is not None
        return self.openapi_schema


def create_app(
    data: Path,
    *,
    demo: bool = False,
    now: Callable[[], datetime] = datetime.now,
    passphrase: str | None = None,
    without_log: bool = False,
    keeps_itself: bool = False,
    metrics: bool = False,
    hooks: Hooks = "off",
    second: Path | None = None,
) -> FastAPI:
    """Return the application on the shop kept in that folder; stopping it closes the shop."""
    database = open_database(data, without_log=without_log)
    sweep(data)
    if demo:
        _fill(database, data, now())
    secret = kept_secret(data)
    standing = Standing(data, database, now)
    kept_shop = Shop(database, now, data, secret=secret, standing=standing)
    keeper, notifier = Keeper(kept_shop, second), Notifier(kept_shop, hooks)
    app = Described(
        **api.ABOUT,
        lifespan=_running(standing, (keeper, notifier) if keeps_itself else ()),
        # As they stand: `include_router` would read every signature again at the first request.
        routes=[route for part in _PARTS for route in part.router.routes],
    )
    app.state.shop, app.state.keeper, app.state.paths = kept_shop, keeper, {}
    app.state.feed = Feed(kept_shop)
    app.state.metrics, app.state.answered, app.state.hooks = metrics, Counter(), hooks
    app.state.imports, app.state.searches = Imports(), choose.Searches()
    app.state.guarding = Guarding(
        Passphrase(passphrase, secret=secret) if passphrase else None,
        _key_holder(kept_shop),
        _note_answer(kept_shop),
        _session_check(kept_shop),
    )
    _put_around(app)
    return app


def _fill(database: peewee.SqliteDatabase, data: Path, now: datetime) -> None:
    # The harbour workshop's whole history, for the demonstration alone.
    from jentrik.demo.harbour import fill  # noqa: PLC0415

    fill(database, data, now=now)


def _put_around(app: FastAPI) -> None:
    """Put around the routes what every request passes, the innermost first, and our own files."""
    app.add_api_route("/", _home, include_in_schema=False)
    app.mount("/static", KeptStaticFiles(directory=STATIC), name="static")
    app.add_middleware(Guard, guarding=app.state.guarding)
    app.add_middleware(GZipMiddleware, minimum_size=600, compresslevel=2)
    app.add_middleware(Tags)
    app.add_middleware(Noted, answered=app.state.answered)
    for error, handler in _HANDLERS.items():
        app.add_exception_handler(error, handler)


def _key_holder(shop: Shop) -> KeyHolder:
    """Return what looks a key up in the shop."""

    def holder(key: str, purpose: Purpose) -> str | None:
        shop.ready()
        return key_holder(key, purpose)

    return holder


def _session_check(shop: Shop) -> SessionCheck:
    """Return what says whether a session goes on, and notes now and then that it is used."""
    noted: dict[str, datetime] = {}

    def check(session_id: str) -> bool:
        shop.ready()
        if not goes_on(session_id):
            return False
        now, last = shop.now(), noted.get(session_id)
        if last is None or now - last > USED_WITHIN:
            noted[session_id] = now
            note_use(shop.database, session_id, at=now)
        return True

    return check


def _note_answer(shop: Shop) -> NoteAnswer:
    """Return what notes where the answer to a form led."""

    def note(once: str, status: int, address: str) -> None:
        shop.ready()
        note_answer(shop.database, once, status, address)

    return note


def _home(request: Request) -> Response:
    return RedirectResponse(request.app.url_path_for("jobs_page"))


def _running(standing: Standing, threads: tuple[Keeper | Notifier, ...]) -> Lifespan[FastAPI]:
    """Return what holds while the application runs: its threads, where it has any, and the shop."""

    @asynccontextmanager
    async def opened(app: FastAPI) -> AsyncIterator[None]:
        for one in threads:
            one.start()
        yield
        for one in threads:
            one.stop()
        app.state.feed.stop()
        standing.close()

    return opened


def _status_of(refusal: Refusal) -> int:
    if isinstance(refusal, TooLargeError):
        return 413
    if isinstance(refusal, (ForgedFormError, NotForAKey)):
        return 403
    if isinstance(refusal, ChangedSinceRead):
        return 412
    if isinstance(refusal, NotOfAProgram):
        return 415
    if isinstance(refusal, (ShopPaused, FileReplaced)):
        return 503
    return 404 if isinstance(refusal, StoreError) and refusal.field is None else 422


def _wants_json(request: Request) -> bool:
    return request.url.path.startswith("/api/") or is_live(request)


async def _refused(request: Request, error: Exception) -> Response:
    assert isinstance(error, Refusal)
    status = _status_of(error)
    if is_live(request):
        units: DisplayUnits = getattr(request.state, "units", METRIC)
        return Response(
            units.restated(json.dumps(error.as_document(), ensure_ascii=False)),
            status_code=status,
            media_type="application/json",
        )
    if _wants_json(request):
        return refused_json(error, status, _later(status))
    if status == 503:
        return page(
            request,
            "not_stored.html",
            status=status,
            message=error.message,
            typed=_typed(request),
            not_stored=True,
        )
    return page(request, "refused.html", status=status, message=error.message)


def _later(status: int) -> dict[str, str]:
    """Return the header that says when to try again."""
    return {"Retry-After": "5"} if status == 503 else {}


async def _not_stored(request: Request, error: Exception) -> Response:
    """Say what became of a write the disk did not take, with what was typed."""
    reason = reason_of(error, request.app.state.shop.folder / FILE_NAME)
    if is_full(error):
        why, then = "The disk is full", "Make room, then send it again."
    elif "locked" in str(error):
        why, then = "Another program holds the shop's data", "Send it again."
    else:
        why = f"The shop's data cannot be read or written ({reason})"
        then = "Look at the disk, and restore a backup if it is damaged."
    _log.error("%s %s: %s", request.method, request.url.path, error)
    return _failed(request, 507 if is_full(error) else 503, why, then)


async def _broken(request: Request, error: Exception) -> Response:
    """Say that the program itself failed, with what was typed; the log has the rest."""
    return _failed(request, 500, "The program failed here", "Send it again, or go on.")


def _failed(request: Request, status: int, why: str, then: str) -> Response:
    """Say why a request failed and what became of what it was to store: only what is so."""
    writes = AT_WORK.get()
    reads, stored = request.method in ("GET", "HEAD"), writes is not None and writes.stored
    if reads:
        message = f"{why} while this page was made. Nothing was changed."
    elif stored:
        message = (
            f"This was stored, but {why[0].lower()}{why[1:]} afterwards: do not send it again."
        )
    else:
        message = f"{why}: nothing of this was stored. {then}"
    if _wants_json(request):
        return refused_json(StoreError(message), status)
    return page(
        request,
        "not_stored.html",
        status=status,
        message=message,
        typed=[] if reads or stored else _typed(request),
        not_stored=not (reads or stored),
    )


async def _done_before(request: Request, error: Exception) -> Response:
    """Give the first answer to a form that was stored before."""
    assert isinstance(error, Replayed)
    answer = error.answer
    if "hx-request" in request.headers and not answer.body:
        return Response(headers={"HX-Refresh": "true"})
    return RedirectResponse(answer.body or came_from(request), status_code=303)


def _typed(request: Request) -> list[tuple[str, str]]:
    """Return what was typed in the form of a request."""
    return [
        (name, value)
        for name, value in getattr(request.state, "typed", ())
        if isinstance(value, str) and name not in (TOKEN_FIELD, ONCE_FIELD)
    ]


async def _gone(request: Request, error: Exception) -> Response:
    """End a request whose sender went away before it was whole; nothing was stored."""
    return Response(status_code=400)


async def _no_such_page(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    if isinstance(error.__cause__, Refusal):  # of a body, met while it was read
        return await _refused(request, error.__cause__)
    said = {
        404: "There is no such page.",
        405: "This address does not take that kind of request.",
    }.get(error.status_code, "The request could not be read.")
    status = 422 if error.status_code == 400 else error.status_code
    allowed = _allowed_at(request) if error.status_code == 405 else {}
    if _wants_json(request):
        return refused_json(DocumentError(said), status, allowed)
    answer = page(request, "refused.html", status=status, message=said)
    answer.headers.update(allowed)
    return answer


def _allowed_at(request: Request) -> dict[str, str]:
    """Return the header that says which kinds of request an address takes."""
    known = {"GET"} if request.url.path.startswith("/static/") else set[str]()
    for route in request.app.routes:
        if isinstance(route, Route) and route.matches(request.scope)[0] is not Match.NONE:
            known |= route.methods or set()
    return {"Allow": ", ".join(sorted(known | ({"HEAD"} if "GET" in known else set())))}


async def _bad_request(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    if request.url.path.startswith("/api/"):
        where, *path = (str(one) for one in first["loc"])
        name = ".".join(path) if where in ("body", "query", "path", "header") else where
        said = first.get("ctx", {}).get("error")
        known = said if isinstance(said, Refusal) else None
        refusal = DocumentError(
            known.message if known else f"“{name or where}” is missing or not what is wanted here.",
            field=name or (known.field if known else None) or None,
            expected=known.expected if known else first["msg"],
        )
        return refused_json(refusal, 422)
    return page(request, "refused.html", status=404, message="There is no such page.")


_HANDLERS: dict[type[Exception], Callable[[Request, Exception], Awaitable[Response]]] = {
    Replayed: _done_before,
    Refusal: _refused,
    peewee.DatabaseError: _not_stored,
    sqlite3.Error: _not_stored,
    OSError: _not_stored,
    ClientDisconnect: _gone,
    HTTPException: _no_such_page,
    RequestValidationError: _bad_request,
    Exception: _broken,
}
