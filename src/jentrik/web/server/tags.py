"""Answers that a reader has already: 304 for a tag it names, and tags for what goes out packed.

A packed answer has other bytes than the plain one: its tag is weak (RFC 9110, 8.8.1).
"""

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

_STAYS = ("etag", "cache-control", "vary", "date", "set-cookie", "content-security-policy")


def bare_tags(named: str) -> set[str]:
    """Return the tags a header names, without the mark of weak ones."""
    return {tag.strip().removeprefix("W/") for tag in named.split(",") if tag.strip()}


class Tags:
    """ASGI middleware: the outermost, so that it sees what is packed."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, and answer that nothing changed where that is so."""
        if scope["type"] != "http" or scope["method"] not in ("GET", "HEAD"):
            await self.app(scope, receive, send)
            return
        named = bare_tags(Headers(scope=scope).get("if-none-match", ""))
        same = False

        async def tagged(message: Message) -> None:
            nonlocal same
            if message["type"] != "http.response.start":
                if not same:
                    await send(message)
                elif not message.get("more_body", False):
                    await send({"type": "http.response.body"})
                return
            headers = MutableHeaders(scope=message)
            tag = headers.get("etag", "")
            if tag and "content-encoding" in headers and not tag.startswith("W/"):
                headers["etag"] = f"W/{tag}"
            known = bool(tag) and bool({tag.removeprefix("W/"), "*"} & named)
            same = known and message["status"] == 200
            if same:
                kept = [(name, value) for name, value in headers.items() if name in _STAYS]
                raw = [(name.encode(), value.encode()) for name, value in kept]
                message = {"type": message["type"], "status": 304, "headers": raw}
            await send(message)

        await self.app(scope, receive, tagged)
