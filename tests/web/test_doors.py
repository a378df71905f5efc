"""What comes in by any door: bodies within their size, seen text, figures that are figures."""

import hashlib
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import machines, people
from jentrik.web.app import create_app
from jentrik.web.security.guard import LARGEST_BODY_BYTES
from tests.conftest import A_MONDAY

JSON = {"Content-Type": "application/json"}


@pytest.mark.parametrize(
    "path", ["/api/jobs", "/api/plan", "/api/shelf", "/api/machines", "/api/find"]
)
def test_a_body_of_no_stated_length_is_bounded_too(client: TestClient, path: str) -> None:
    sent = 0

    def endless() -> Iterator[bytes]:
        nonlocal sent
        yield b'{"name": "'
        while sent < 40_000_000:
            sent += 1_000_000
            yield b"x" * 1_000_000

    answer = client.post(path, content=endless(), headers=JSON)
    assert answer.status_code == 413, answer.text
    assert "MB" in answer.json()["error"]["message"]
    assert sent <= LARGEST_BODY_BYTES + 2_000_000 or sent == 40_000_000  # a client may run ahead


@pytest.mark.parametrize("digits", [2001, 4301, 100_000])
@pytest.mark.parametrize("path", ["/api/jobs", "/api/plan", "/api/import"])
def test_more_digits_than_any_figure_has_are_refused_before_a_parser(
    client: TestClient, path: str, digits: int
) -> None:
    body = b'{"version": ' + b"1" * digits + b"}"
    answer = client.post(path, content=body, headers=JSON)
    assert answer.status_code == 422, answer.text
    assert "digits" in answer.json()["error"]["message"]


@pytest.mark.parametrize("hidden", ["\0", "\u200b", "\u202e", "\x07", "\u2066"])
def test_characters_that_are_not_seen_stay_outside(
    client: TestClient, app: FastAPI, hidden: str
) -> None:
    refused = client.patch("/api/machines/1", json={"name": f"Green{hidden} tourer"})
    assert refused.status_code == 422
    client.post("/machines/1/answer", data={"machine:note": f"bell{hidden} loose"})
    app.state.shop.ready()
    assert machines.sheet(1).note == "bell loose"
    assert machines.sheet(1).name == "Green tourer"


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/machines/1/log/odometer", {"km": True}),
        ("/api/jobs/1/proposals", {"changes": {"lower_cup_mm": True}}),
        ("/api/shelf", {"code": "37-622", "pieces": True}),
        ("/api/machines/1/log/odometer-checks", {"counted_km": 1.0, "true_km": False}),
    ],
)
def test_true_is_no_figure_no_price_and_no_count(
    client: TestClient, path: str, body: dict[str, Any]
) -> None:
    answer = client.post(path, json=body)
    assert answer.status_code == 422


@pytest.mark.parametrize(
    ("header", "name"), [("J%C3%B6rg", "Jörg"), ("Ida%20Holm", "Ida Holm"), ("1", "")]
)
def test_a_person_in_a_header_is_percent_encoded_or_an_id(
    client: TestClient, app: FastAPI, header: str, name: str
) -> None:
    app.state.shop.ready()
    if not name:
        with app.state.shop.step("added", "stays people") as step:
            added = people.add_person(step, "Tove")
        header, name = str(added.id), "Tove"
    body = {"end": "rear", "what": "glass", "done": "new tube"}
    sent = client.post(
        "/api/machines/1/log/punctures", json=body, headers={"Jentrik-Person": header}
    )
    assert sent.status_code == 201
    assert name in client.get("/machines/1/log").text


def test_a_raw_name_in_a_header_is_refused(client: TestClient) -> None:
    body = {"end": "rear", "what": "glass", "done": "new tube"}
    answer = client.post(
        "/api/machines/1/log/punctures", json=body, headers={b"Jentrik-Person": "Jörg".encode()}
    )
    assert answer.status_code == 422
    assert "percent-encoded" in answer.json()["error"]["message"]


def test_two_spellings_of_one_name_are_one_person(app: FastAPI) -> None:
    app.state.shop.ready()
    with app.state.shop.step("added", "stays people") as step:
        tove = people.add_person(step, "Tove Lund")
        for spelled in ("tove  lund", "TOVE LUND", "Tove\u200b Lund", "Tove\u00a0Lund"):
            assert people.add_person(step, spelled).id == tove.id


@pytest.mark.parametrize(
    "path", ["/jobs", "/jobs/1", "/machines/1", "/api/jobs", "/logbook/due.ics", "/static/mark.svg"]
)
def test_head_answers_where_get_does(client: TestClient, path: str) -> None:
    got, head = client.get(path), client.head(path)
    assert (head.status_code, head.content) == (200, b"")
    assert head.headers["content-type"] == got.headers["content-type"]


@pytest.mark.parametrize(
    ("method", "path", "allowed"),
    [
        ("DELETE", "/jobs", "GET, HEAD, POST"),
        ("GET", "/jobs/1/answer", "POST"),
        ("PUT", "/api/machines/1", "DELETE, GET, HEAD, PATCH"),
        ("POST", "/static/mark.svg", "GET, HEAD"),
        ("HEAD", "/jobs/1/answer", "POST"),
    ],
)
def test_an_address_says_which_requests_it_takes(
    client: TestClient, method: str, path: str, allowed: str
) -> None:
    answer = client.request(method, path)
    assert (answer.status_code, answer.headers["allow"]) == (405, allowed)


def test_the_letters_are_fetched_once_a_year(client: TestClient) -> None:
    page = client.get("/jobs").text
    preloaded = re.findall(r'rel="preload" href="(/static/fonts/[^"]+)"', page)
    theme = client.get(re.findall(r'href="(/static/css/theme[^"]+)"', page)[0]).text
    assert sorted(preloaded) == sorted(
        f"/static/{one}" for one in re.findall(r"fonts/[^\"]+", theme)
    )
    for one in preloaded:
        kept = client.get(one)
        assert one.endswith(f"?v={hashlib.sha256(kept.content).hexdigest()[:12]}")
        assert "immutable" in kept.headers["cache-control"]


def test_behind_a_proxy_that_passes_host_and_origin_writes_come_through(demo: Path) -> None:
    outside = "https://bench.example"
    app = create_app(demo, now=lambda: A_MONDAY, passphrase="low tide at noon")
    with TestClient(app, base_url=outside) as client:
        page = client.get("/session")
        assert page.status_code == 200
        form = {"csrf_token": client.cookies["jentrik_token"], "passphrase": "low tide at noon"}
        came = client.post("/session", data=form, headers={"Origin": outside})
        assert came.url.path == "/jobs"
        assert "Secure" in came.history[0].headers["set-cookie"]
        form |= {"what": "Proxied", "tire": "28-622"}
        elsewhere = {"Origin": "http://127.0.0.1:8765"}
        assert client.post("/jobs", data=form, headers=elsewhere).status_code == 403
        assert client.post("/jobs", data=form, headers={"Origin": outside}).status_code == 200
    recipe = (Path(__file__).parents[2] / "deploy" / "nginx.conf").read_text("utf-8")
    assert "proxy_set_header Host $http_host;" in recipe
    assert "proxy_set_header Origin" not in recipe
    assert "auth_basic" not in recipe
