"""Notified programs: signed, once, later where it fails, never just anywhere."""

import hashlib
import hmac
import json
import threading
from collections.abc import Iterator
from datetime import timedelta
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.errors import OutOfRange
from jentrik.store import webhooks
from jentrik.store.happenings import last_happened
from jentrik.web.server.notifying import SIGNATURE, Notifier, post


class Program(HTTPServer):
    """A program that listens, and answers as it is set to."""

    def __init__(self) -> None:
        super().__init__(("127.0.0.1", 0), Answering)
        self.answers, self.received = [200], list[tuple[str, bytes]]()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.server_port}/jentrik?of=quay"


class Answering(BaseHTTPRequestHandler):
    server: Program

    def do_POST(self) -> None:  # the library's name
        body = self.rfile.read(int(self.headers["Content-Length"]))
        self.server.received.append((self.headers[SIGNATURE], body))
        answers = self.server.answers
        self.send_response(answers.pop(0) if len(answers) > 1 else answers[0])
        self.send_header("Location", "/elsewhere")
        self.end_headers()

    def log_message(self, *_: Any) -> None:
        """Say nothing."""


@pytest.fixture(name="program")
def _program() -> Iterator[Program]:
    with Program() as program:
        threading.Thread(target=program.serve_forever, daemon=True).start()
        yield program
        program.shutdown()


def test_a_program_is_notified_of_each_change_once_and_signed(
    app: FastAPI, client: TestClient, program: Program
) -> None:
    made = client.post("/api/webhooks", json={"address": program.address}).json()
    notifier, now = Notifier(app.state.shop, "own"), app.state.shop.now()
    notifier.notify_due(now)
    assert program.received == []  # what happened before is no news
    client.patch("/api/jobs/1", json={"wanted": "calmer steering"})
    notifier.notify_due(now)
    notifier.notify_due(now)
    ((signed, body),) = program.received
    known = client.get(f"/api/changes?since={last_happened() - 1}").json()["changes"][0]
    assert json.loads(body)["changes"] == [known]
    stamp, _, mark = signed.removeprefix("t=").partition(",v1=")
    own = hmac.new(made["secret"].encode(), f"{stamp}.".encode() + body, hashlib.sha256)
    assert mark == own.hexdigest()
    assert client.get("/api/webhooks").json()["webhooks"][0]["sent_to"] == known["n"]
    client.delete("/api/webhooks/1")
    client.patch("/api/jobs/1", json={"wanted": "quicker steering"})
    notifier.notify_due(now)
    assert len(program.received) == 1


def test_what_does_not_arrive_is_sent_later_and_after_three_days_no_more(
    app: FastAPI, client: TestClient, program: Program
) -> None:
    client.post("/api/webhooks", json={"address": program.address})
    notifier, now = Notifier(app.state.shop, "own"), app.state.shop.now()
    program.answers = [500, 302, 200]
    client.patch("/api/jobs/1", json={"wanted": "calmer steering"})
    notifier.notify_due(now)
    (hook,) = webhooks.webhooks()
    assert (hook.failures, hook.said) == (1, "It answered 500.")
    notifier.notify_due(now)  # not before its time
    assert len(program.received) == 1
    for wait, failures in ((11, 2), (40, 0)):  # a redirect is not followed
        now += timedelta(seconds=wait)
        notifier.notify_due(now)
        assert webhooks.webhooks()[0].failures == failures
    assert {body for _, body in program.received} == {program.received[0][1]}
    program.answers = [404]
    client.patch("/api/jobs/1", json={"wanted": "x"})
    notifier.notify_due(now)
    notifier.notify_due(now + timedelta(days=4))
    (hook,) = webhooks.webhooks()
    assert (hook.ended_at is not None, hook.said) == (True, "It answered 404.")


@pytest.mark.parametrize(
    "address",
    [
        "http://127.0.0.1:{port}/",
        "http://localhost:{port}/",
        "http://[::ffff:127.0.0.1]:{port}/",
        "http://0.0.0.0:{port}/",
        "http://169.254.169.254/latest",
        "http://224.0.0.1/",
    ],
)
def test_own_and_link_local_addresses_are_not_reached(program: Program, address: str) -> None:
    with pytest.raises(OutOfRange, match="own"):
        post(address.format(port=program.server_port), b"{}", "", "others")
    assert program.received == []


@pytest.mark.parametrize("address", ["ftp://a.example", "quay", "http://", "http://u:p@a.example"])
def test_what_is_no_address_of_a_program_is_refused(client: TestClient, address: str) -> None:
    refused = client.post("/api/webhooks", json={"address": address})
    assert refused.json()["error"]["field"] == "address"
    page = client.post("/shop/keys/webhooks", data={"address": address})
    assert "is no address" in page.text


def test_a_restored_backup_changes_no_one_who_is_notified(client: TestClient) -> None:
    name = client.post("/api/backups").json()["backups"][0]["name"]
    client.post("/api/webhooks", json={"address": "https://accounts.example/"})
    client.post(f"/api/backups/{name}/restore")
    (hook,) = webhooks.webhooks()
    last = client.get("/api/changes?since=0").json()["changes"]
    assert (hook.address, hook.sent_to) == (
        "https://accounts.example/",
        len(last) and last[-1]["n"],
    )
