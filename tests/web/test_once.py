"""Each write once, and a failure page that says what became of it."""

import re

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import costs
from jentrik.store.rows import first_row
from jentrik.web.pages.logbook import view as logbook_view
from jentrik.web.pages.order import route as order


def count(app: FastAPI, table: str) -> int:
    app.state.shop.ready()
    return int(first_row(f"SELECT COUNT(*) AS n FROM {table}")["n"])


def once_of(page: str, action: str) -> str:
    """Return the id that the form of an address carries on a page."""
    form = page[page.index(f'action="{action}"') :]
    return re.search('name="once" value="([^"]+)"', form).group(1)


def test_a_form_pressed_three_times_is_stored_once(client: TestClient, app: FastAPI) -> None:
    there = "/machines/1/log/puncture"
    page = client.get("/machines/1/log").text
    sent = {"end": "rear", "what": "glass", "done": "new tube", "once": once_of(page, there)}
    before = count(app, "puncture")
    answers = [client.post(there, data=sent, follow_redirects=False) for _ in range(3)]
    assert [answer.status_code for answer in answers] == [303] * 3
    assert len({answer.headers["location"] for answer in answers}) == 1
    assert count(app, "puncture") == before + 1
    # Another content, or the next form, is a write of its own.
    client.post(there, data=sent | {"what": "a thorn"})
    client.post(there, data=sent | {"once": "another"})
    assert count(app, "puncture") == before + 3


def test_a_new_job_sent_again_leads_to_the_first(client: TestClient, app: FastAPI) -> None:
    sent = {"what": "Pier bicycle", "tire": "37-622", "once": "typed-here"}
    first = client.post("/jobs", data=sent, follow_redirects=False)
    again = client.post("/jobs", data=sent, follow_redirects=False)
    assert first.headers["location"] == again.headers["location"]
    assert count(app, "job WHERE machine_id = (SELECT MAX(id) FROM machine)") == 1


def test_a_refused_form_may_be_sent_again(client: TestClient, app: FastAPI) -> None:
    sent = {"what": "Pier bicycle", "tire": "37-62", "once": "typed-here"}
    for _ in range(2):
        assert client.post("/jobs", data=sent).status_code == 422
    assert client.post("/jobs", data=sent | {"tire": "37-622"}).status_code == 200


def test_a_programs_replay_in_another_name_is_answered_with_the_first(client: TestClient) -> None:
    body = {"end": "rear", "what": "glass", "done": "new tube"}
    answers = [
        client.post(
            "/api/machines/1/log/punctures",
            json=body,
            headers={"Idempotency-Key": "lost-answer", "Jentrik-Person": person},
        )
        for person in ("Ida", "Bo")
    ]
    assert answers[0].json() == answers[1].json()
    assert answers[1].headers["Idempotent-Replay"] == "true"


@pytest.fixture(name="soft")
def _soft(app: FastAPI) -> TestClient:
    return TestClient(app, base_url="http://127.0.0.1:8765", raise_server_exceptions=False)


def test_the_failure_page_says_whether_it_was_stored(
    client: TestClient, soft: TestClient, app: FastAPI, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*_: object, **__: object) -> None:
        raise ZeroDivisionError

    soft.headers, soft.cookies = client.headers, client.cookies
    monkeypatch.setattr(logbook_view, "log_strip", fails)
    read = soft.get("/machines/6/log")
    assert read.status_code == 500
    assert "Nothing was changed" in read.text
    assert "stored" not in read.text.lower()
    # The write is committed, then the page that answers it fails.
    monkeypatch.setattr(order, "order_view", fails)
    key = "price:front tire 47-584"
    written = soft.post("/jobs/1/order", data={key: "41.50"}, headers={"HX-Request": "true"})
    assert written.status_code == 500
    assert costs.entries(1)[key] == "41.50"
    assert "This was stored" in written.text
    assert "Send it again" not in written.text
    monkeypatch.setattr(order, "take_fields", fails)
    refused = soft.post("/jobs/1/order", data={key: "12"})
    assert "nothing of this was stored" in refused.text
    assert costs.entries(1)[key] == "41.50"
    assert 'value="12"' in refused.text or ">12</textarea>" in refused.text
