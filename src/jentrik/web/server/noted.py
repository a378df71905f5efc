"""What is noted of each request: how many were answered how, and, where asked, a line of a log."""

import json
import logging
import time
from collections import Counter
from datetime import datetime
from typing import Literal

from starlette.types import ASGIApp, Message, Receive, Scope, Send

Lines = Literal["none", "lines", "json"]
_access = logging.getLogger("jentrik.access")


class Noted:
    """ASGI middleware, around everything else."""

    def __init__(self, app: ASGIApp, *, answered: Counter[tuple[str, int]]) -> None:
        self.app = app
        self.answered = answered

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, and note how it was answered."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        status, began = 500, time.perf_counter()

        async def noted(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        try:
            await self.app(scope, receive, noted)
        finally:
            self.answered[scope["method"], status] += 1
            if _access.isEnabledFor(logging.INFO):
                said = {
                    "from": (scope.get("client") or ("",))[0],
                    "method": scope["method"],
                    "path": scope["path"],  # never the query: a calendar's key stands there
                    "status": status,
                    "ms": round((time.perf_counter() - began) * 1000, 1),
                }
                words = "{from} {method} {path} {status} {ms} ms".format_map(said)
                _access.info("%s", words, extra={"said": said})


class AsJson(logging.Formatter):
    """A line of the log as one JSON object."""

    def format(self, record: logging.LogRecord) -> str:
        """Return the line."""
        said = getattr(record, "said", None) or {"message": record.getMessage()}
        at = datetime.fromtimestamp(record.created).astimezone().isoformat("T", "milliseconds")
        line = {"at": at, "level": record.levelname.lower(), "logger": record.name, **said}
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


def log_as(lines: Lines) -> None:
    """Write the log on standard error, each request with it; with "none" faults alone."""
    if lines == "none":
        return
    handler = logging.StreamHandler()
    plain = logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s")
    handler.setFormatter(AsJson() if lines == "json" else plain)
    for name in ("jentrik", "uvicorn"):
        logger = logging.getLogger(name)
        logger.handlers, logger.propagate = [handler], False
        logger.setLevel(logging.INFO)
