"""Half-open connections: many of them stop no one, and none stays for ever."""

import logging
import socket
from collections.abc import Iterator
from pathlib import Path
from urllib.request import urlopen

import pytest

from jentrik.web.app import create_app
from jentrik.web.security import connections
from jentrik.web.security.connections import BoundedConnection, SaidOnce
from jentrik.web.server.served import served


@pytest.fixture(name="port")
def _port(demo: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    monkeypatch.setattr(connections, "MOST_CONNECTIONS", 20)
    app = create_app(demo)
    with served(app, timeout_keep_alive=1, http=BoundedConnection) as address:
        yield int(address.rpartition(":")[2])


def opened(port: int, sent: bytes = b"") -> socket.socket:
    there = socket.create_connection(("127.0.0.1", port), timeout=20)
    there.sendall(sent)
    return there


def is_closed(there: socket.socket) -> bool:
    """Read what still comes until the other side ends it."""
    try:
        while there.recv(65536):
            pass
    except ConnectionError:
        pass
    return True


HALVES = (
    b"",
    b"GET /jobs HTTP/1.1\r\nHost: 127.0.0.1\r\n",
    b"POST /jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900\r\n\r\nwhat=",
)


@pytest.mark.parametrize("half", HALVES)
def test_many_half_requests_keep_no_one_out(port: int, half: bytes) -> None:
    hogs = [opened(port, half) for _ in range(120)]
    with urlopen(f"http://127.0.0.1:{port}/api/health", timeout=20) as answer:
        assert answer.status == 200
    assert sum(is_closed(there) for there in hogs[:90]) == 90  # the oldest made room
    for there in hogs:
        there.close()


@pytest.mark.parametrize("half", HALVES)
def test_half_a_request_is_given_up_in_time(
    port: int, monkeypatch: pytest.MonkeyPatch, half: bytes
) -> None:
    monkeypatch.setattr(connections, "HEAD_S", 1.5)
    monkeypatch.setattr(connections, "BODY_S", 1.5)
    there = opened(port, half)
    assert is_closed(there)
    there.close()
    second = opened(port, b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\nGET /slow")
    assert second.recv(12) == b"HTTP/1.1 200"
    assert is_closed(second)
    second.close()


def test_a_line_of_the_log_is_said_once() -> None:
    once, record = SaidOnce(), logging.LogRecord("x", 30, "", 1, "out of files %s", (1,), None)
    assert [once.filter(record) for _ in range(1000)] == [True] + [False] * 999
