"""The door: who may ask, where a write may come from, and what a page may load.

Pure ASGI, outermost but for compression.  A write by a browser must come from our own pages
(`Sec-Fetch-Site`, or `Origin` against `Host`), and a form must carry the token that its page
was given; the token's cookie is SameSite=Strict.  Bound to loopback, only loopback names are
answered, so a foreign name that resolves to us learns nothing.  On another address every
request needs the shop's passphrase.
"""

import base64
import binascii
import hmac
import json
import secrets
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request, cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

TOKEN_COOKIE = "jentrik_token"  # noqa: S105  # a name, not a secret
TOKEN_FIELD = "csrf_token"  # noqa: S105
TOKEN_HEADER = "X-CSRF-Token"  # noqa: S105
LARGEST_BODY_BYTES = 2_000_000
# A track with the list beside it; a photo as a camera gives it.
LARGEST_UPLOAD_BYTES, UPLOADS = 13_000_000, ("/speed/track", "/card/photos")
_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
_LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]", "testserver"})

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


class Guard:
    """ASGI middleware that refuses what must not come in and marks what goes out."""

    def __init__(self, app: ASGIApp, *, passphrase: str | None = None) -> None:
        self.app = app
        self.passphrase = passphrase

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or answer it here."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refused = self._refused(scope, headers)
        if refused is not None:
            await _answer(send, *refused)
            return
        known = cookie_parser(headers.get("cookie", "")).get(TOKEN_COOKIE, "")
        token = known if len(known) >= 32 else secrets.token_urlsafe(32)
        scope.setdefault("state", {})["csrf_token"] = token

        async def send_marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                marked = MutableHeaders(scope=message)
                for name, value in SECURITY_HEADERS.items():
                    marked.setdefault(name, value)
                marked.setdefault("Cache-Control", "no-store")
                if token != known and not scope["path"].startswith(("/static/", "/api/")):
                    marked.append(
                        "Set-Cookie",
                        f"{TOKEN_COOKIE}={token}; Path=/; HttpOnly; SameSite=Strict",
                    )
            await send(message)

        await self.app(scope, receive, send_marked)

    def _refused(self, scope: Scope, headers: Headers) -> tuple[int, str, dict[str, str]] | None:
        host = headers.get("host", "")
        if self.passphrase is None:
            if host.rpartition(":")[0] not in _LOOPBACK and host not in _LOOPBACK:
                return 400, "This address is not served here.", {}
        elif not _knows(headers.get("authorization", ""), self.passphrase):
            return (
                401,
                "The shop's passphrase is wanted.",
                {"WWW-Authenticate": 'Basic realm="Jentrik", charset="UTF-8"'},
            )
        if scope["method"] not in _SAFE and not _from_our_pages(headers, host):
            return 403, "A change must come from this shop's own pages.", {}
        if "transfer-encoding" in headers and not scope["path"].startswith("/api/"):
            return 411, "How much comes must be said before it comes.", {}
        upload = scope["path"].endswith(UPLOADS)
        most = LARGEST_UPLOAD_BYTES if upload else LARGEST_BODY_BYTES
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > most:
            said = f"That is more than {most // 1_000_000} MB at once; nothing was read."
            return 413, said, {}
        return None


def _knows(authorization: str, passphrase: str) -> bool:
    scheme, _, encoded = authorization.partition(" ")
    if scheme.lower() != "basic":
        return False
    try:
        given = base64.b64decode(encoded, validate=True).decode().partition(":")[2]
    except (binascii.Error, UnicodeDecodeError):
        return False
    return hmac.compare_digest(given.encode(), passphrase.encode())


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
    body = json.dumps(
        {
            "error": {
                "message": message, "field": None, "position": None,
                "expected": None, "suggestions": [],
            }
        }
    ).encode()  # fmt: skip
    headers = {"Content-Type": "application/json", **SECURITY_HEADERS, **extra}
    await send(
        {
            "type": "http.response.start",
            "status": status,
            "headers": [(name.encode(), value.encode()) for name, value in headers.items()],
        }
    )
    await send({"type": "http.response.body", "body": body})
