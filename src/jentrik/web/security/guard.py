"""The door: who may ask, where a write may come from, and what a page may load.

Pure ASGI, outermost but for compression.  A write by a browser must come from our own pages
(`Sec-Fetch-Site`, or `Origin` against `Host`), and a form must carry the token that its page
was given; the token's cookie is SameSite=Strict.  Bound to loopback, only loopback names are
answered, so a foreign name that resolves to us learns nothing.  On another address every
request needs the shop's passphrase, or the session it opened; a program asks the API with a key
of its own, and a calendar program follows what is due with one that opens nothing else.
"""

import hmac
import secrets
import time
from collections.abc import Callable
from urllib.parse import parse_qs, quote, urlsplit

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request, cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jentrik.core.errors import StoreError
from jentrik.core.text import DocumentBytes
from jentrik.exchange.strict_json import TooLargeError
from jentrik.store.access_keys import Purpose
from jentrik.store.once import AT_WORK, RequestWrites
from jentrik.web.plain_json import refused_json
from jentrik.web.security.passphrase import SESSION_COOKIE, Passphrase, Slowdown, given_in

TOKEN_COOKIE = "jentrik_token"  # noqa: S105  # a name, not a secret
TOKEN_FIELD = "csrf_token"  # noqa: S105
TOKEN_HEADER = "X-CSRF-Token"  # noqa: S105
ONCE_FIELD = "once"  # the id a form carries, so that it is stored once
LARGEST_BODY_BYTES = 2_000_000
LARGEST_UPLOADS = {
    "/speed/track": 13_000_000,  # a track with the list beside it
    "/gpx-track": 9_000_000,  # a ride as GPX
    **dict.fromkeys(("/photo", "/photos", "/photographs"), 13_000_000),  # as a camera gives it
    "/shop/backups": 2_000_000_000,  # a backup with every photo
    "/shop/exchange": 95_000_000,  # a shop as a document
    "/api/import": 95_000_000,
    "/shop/exchange/table": 6_000_000,  # a spreadsheet
}
CALENDAR = "/logbook/due.ics"
_OPEN = ("/session", "/favicon.ico", "/robots.txt")  # what asks for no passphrase
SessionCheck = Callable[[str], bool]
Refused = tuple[int, str, dict[str, str]]
KeyHolder = Callable[[str, Purpose], str | None]
NoteAnswer = Callable[[str, int, str], None]  # the id of a form, the status, where it led
_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
_LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]"})

SECURITY_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; "
        "font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "geolocation=(), camera=(), microphone=()",
}


class Guarding:
    """What the guard and the page that asks for the passphrase share."""

    def __init__(
        self,
        passphrase: Passphrase | None,
        key_holder: KeyHolder,
        note_answer: NoteAnswer,
        session_goes_on: SessionCheck,
    ) -> None:
        self.passphrase = passphrase
        self.key_holder = key_holder
        self.note_answer = note_answer
        self.session_goes_on = session_goes_on
        self.slowdown = Slowdown()

    async def holder(self, scope: Scope, headers: Headers) -> tuple[str, str | None] | None:
        """Return the key a request shows and who holds it; None where it shows none."""
        path, scheme = scope["path"], headers.get("authorization", "").partition(" ")
        if path.startswith("/api/") and scheme[0].lower() == "bearer":
            key, purpose = scheme[2].strip(), Purpose.PROGRAM
        elif path == CALENDAR:
            given = parse_qs(scope["query_string"].decode("latin-1")).get("key", [""])
            key, purpose = given[0], Purpose.CALENDAR
        else:
            key = ""
        if not key:
            return None
        return key, await run_in_threadpool(self.key_holder, key, purpose)


class Guard:
    """ASGI middleware that refuses what must not come in and marks what goes out."""

    def __init__(self, app: ASGIApp, *, guarding: Guarding) -> None:
        self.app = app
        self.guarding = guarding

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or answer it here."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        cookies = cookie_parser(headers.get("cookie", ""))
        refused = self._refused(scope, headers) or await self._locked(scope, headers, cookies)
        if refused is not None:
            await _answer(send, *refused)
            return
        known = cookies.get(TOKEN_COOKIE, "")
        token = known if len(known) >= 32 else secrets.token_urlsafe(32)
        scope.setdefault("state", {})["csrf_token"] = token

        writes = RequestWrites()
        AT_WORK.set(writes)

        async def send_marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                if writes.claimed and writes.stored:
                    led = Headers(raw=message["headers"]).get("location", "")
                    note = self.guarding.note_answer
                    await run_in_threadpool(note, writes.once, message["status"], led)
                marked = MutableHeaders(scope=message)
                for name, value in SECURITY_HEADERS.items():
                    marked.setdefault(name, value)
                marked.setdefault("Cache-Control", "no-store")
                if token != known and not scope["path"].startswith(("/static/", "/api/")):
                    marked.append(
                        "Set-Cookie", f"{TOKEN_COOKIE}={token}; Path=/; HttpOnly; SameSite=Strict"
                    )
            await send(message)

        sent: Send = send_marked
        if scope["method"] == "HEAD":  # what GET answers, without the body
            scope, sent = {**scope, "method": "GET"}, _headers_of(send_marked)
        await self.app(scope, _bounded(scope["path"], headers, receive), sent)

    def _refused(self, scope: Scope, headers: Headers) -> Refused | None:
        host = headers.get("host", "")
        loopback = host.rpartition(":")[0] in _LOOPBACK or host in _LOOPBACK
        if self.guarding.passphrase is None and not loopback:
            return 400, "This address is not served here.", {}
        if scope["method"] not in _SAFE and not _from_our_pages(headers, host):
            return 403, "A change must come from this shop's own pages.", {}
        if "transfer-encoding" in headers and not scope["path"].startswith("/api/"):
            return 411, "The request must state its length.", {}
        most = largest_body(scope["path"])
        length = headers.get("content-length", "0")
        if not (length.isascii() and length.isdigit() and len(length) < 19 and int(length) <= most):
            return 413, _too_large(most), {}
        return None

    async def _locked(
        self, scope: Scope, headers: Headers, cookies: dict[str, str]
    ) -> Refused | None:
        """Return the refusal of one who does not show the passphrase, a session or a key."""
        passphrase, slowdown = self.guarding.passphrase, self.guarding.slowdown
        path, shown = scope["path"], await self.guarding.holder(scope, headers)
        if shown is not None:
            return await self._by_key(scope, shown[1])
        if passphrase is None or path.startswith("/static/") or path in _OPEN:
            return None
        session = passphrase.opened(cookies.get(SESSION_COOKIE, ""), now_s=time.time())
        if session:
            goes_on: bool = await run_in_threadpool(self.guarding.session_goes_on, session)
            if goes_on:
                scope.setdefault("state", {})["session"] = session
                return None
        given = given_in(headers.get("authorization", ""))
        if given is not None:
            address = (scope.get("client") or ("",))[0]
            if slowdown.full(address):
                return 429, "Too many wrong passphrases at once: wait a little.", {}
            if passphrase.is_it(given):
                slowdown.right(address)
                return None
            await slowdown.wrong(address)
        elif "text/html" in headers.get("accept", "") and scope["method"] in _SAFE:
            query = scope["query_string"].decode("latin-1")
            to = f"{path}?{query}" if query else path
            return 303, "", {"Location": f"/session?to={quote(to)}"}
        basic = {"WWW-Authenticate": 'Basic realm="Jentrik", charset="UTF-8"'}
        accepts = headers.get("accept", "")
        of_a_page = any(kind in accepts for kind in ("text/html", "text/event-stream"))
        asked_in_place = "hx-request" in headers or of_a_page
        return 401, "The shop's passphrase is needed.", {} if asked_in_place else basic

    async def _by_key(self, scope: Scope, holder: str | None) -> Refused | None:
        """Let the holder of a key in; one that is none is answered late."""
        address, slowdown = (scope.get("client") or ("",))[0], self.guarding.slowdown
        if holder is not None:
            scope.setdefault("state", {})["program"] = holder
            return None
        if slowdown.full(address):
            return 429, "Too many wrong keys at once: wait a little.", {}
        await slowdown.wrong(address)
        asks_for = {"WWW-Authenticate": 'Bearer realm="Jentrik"'}
        return 401, "That key is not one of this shop's, or it was revoked.", asks_for


def _headers_of(send: Send) -> Send:
    """Return what sends an answer on without its body."""

    async def headers_alone(message: Message) -> None:
        if message["type"] == "http.response.start":
            await send(message)
        elif not message.get("more_body", False):
            await send({"type": "http.response.body"})

    return headers_alone


def largest_body(path: str) -> int:
    """Return how many bytes a request to an address may bring."""
    ends = (most for ends, most in LARGEST_UPLOADS.items() if path.endswith(ends))
    return next(ends, LARGEST_BODY_BYTES)


def _too_large(most: int) -> str:
    return f"That is more than {most // 1_000_000} MB at once; nothing was stored."


def _bounded(path: str, headers: Headers, receive: Receive) -> Receive:
    """Return what receives a body no larger than it may be, whatever length it states, and a
    document without more digits in a row than a parser takes.
    """
    most, taken, digits = largest_body(path), 0, DocumentBytes()
    is_json = "json" in headers.get("content-type", "")

    async def bounded() -> Message:
        nonlocal taken
        message = await receive()
        body = message.get("body", b"")
        taken += len(body)
        if taken > most:
            raise TooLargeError(_too_large(most), expected=f"at most {most // 1_000_000} MB")
        if is_json:
            digits.look(body)
        return message

    return bounded


def _from_our_pages(headers: Headers, host: str) -> bool:
    """Whether a write may come from where it comes; a program that is no browser says nothing."""
    site = headers.get("sec-fetch-site")
    if site is not None:
        return site in ("same-origin", "none")
    origin = headers.get("origin")
    return origin is None or urlsplit(origin).netloc == host


def token_holds(request: Request, given: str) -> bool:
    """Whether a form's token is the one its page was given."""
    kept = request.cookies.get(TOKEN_COOKIE, "")
    return len(kept) >= 32 and hmac.compare_digest(kept.encode(), given.encode())


async def _answer(send: Send, status: int, message: str, extra: dict[str, str]) -> None:
    answer = refused_json(StoreError(message), status, {**SECURITY_HEADERS, **extra})
    await send({"type": "http.response.start", "status": status, "headers": answer.raw_headers})
    await send({"type": "http.response.body", "body": answer.body})
