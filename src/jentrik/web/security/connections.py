"""Connections that send nothing, or half a request: bounded in number and in time.

A newcomer always gets in: where too many are open, the oldest that has not sent a whole request
yet is closed for it.
"""

import asyncio
import logging
import resource
import time

from uvicorn.protocols.http.h11_impl import H11Protocol

MOST_CONNECTIONS = 300
HEAD_S, BODY_S = 10.0, 30.0  # for a whole head; between two pieces of a body
SAID_AGAIN_S = 60.0
_FILES = 4096  # open files we ask of the system: connections, database, photos


class BoundedConnection(H11Protocol):
    """A connection of the server that must send its request in time."""

    _unfinished: dict["BoundedConnection", None] = {}  # the oldest first  # noqa: RUF012
    _timer: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Take a connection in, and close the oldest unfinished one where there are too many."""
        super().connection_made(transport)
        self._unfinished[self] = None
        self._timer = self.loop.call_later(HEAD_S, self._give_up)
        if len(self.connections) > MOST_CONNECTIONS:
            next(iter(self._unfinished))._give_up()

    def data_received(self, data: bytes) -> None:
        """Take a piece of a request, and give the next piece its time."""
        super().data_received(data)
        cycle = self.cycle
        if cycle is None or cycle.response_complete:
            self._unfinished.setdefault(self)
            if self._timer is None:  # the head of a next request on the same connection
                self._timer = self.loop.call_later(HEAD_S, self._give_up)
            return
        self._stop_timer()
        if cycle.more_body:
            self._timer = self.loop.call_later(BODY_S, self._give_up)
        else:
            self._unfinished.pop(self, None)

    def connection_lost(self, exc: Exception | None) -> None:
        """Forget a connection."""
        self._stop_timer()
        self._unfinished.pop(self, None)
        super().connection_lost(exc)

    def _stop_timer(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None

    def _give_up(self) -> None:
        self._unfinished.pop(self, None)
        self.transport.abort()


class SaidOnce(logging.Filter):
    """Lets a line through once a minute, however often it is said."""

    def __init__(self) -> None:
        super().__init__()
        self._said: dict[str, float] = {}

    def filter(self, record: logging.LogRecord) -> bool:
        """Whether to write a line."""
        now, line = time.monotonic(), f"{record.levelno}{record.msg}"
        if now - self._said.get(line, -SAID_AGAIN_S) < SAID_AGAIN_S:
            return False
        if len(self._said) > 1000:
            self._said.clear()
        self._said[line] = now
        return True


def prepare() -> None:
    """Ask the system for room for connections, and let no line of the log be said over and over."""
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = _FILES if hard == resource.RLIM_INFINITY else min(_FILES, hard)
    resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))
    for name in ("uvicorn.error", "asyncio", "jentrik"):
        logging.getLogger(name).addFilter(SaidOnce())
