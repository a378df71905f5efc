"""The door, request by request."""

import asyncio
import base64
import time
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from urllib.parse import parse_qs, urlsplit

import pytest
from fastapi.testclient import TestClient
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import PlainTextResponse
from starlette.routing import Route

from jentrik.store.access_keys import Purpose
from jentrik.web.security import passphrase
from jentrik.web.security.guard import (
    LARGEST_BODY_BYTES,
    SECURITY_HEADERS,
    TOKEN_COOKIE,
    Guard,
    Guarding,
    token_holds,
)
from jentrik.web.security.passphrase import MOST_WAITING, SESSION_COOKIE, Passphrase, Slowdown


async def answer(request: Request) -> PlainTextResponse:
    held = token_holds(request, request.headers.get("x-given", ""))
    return PlainTextResponse(f"{request.state.csrf_token} {held}")


def holder(key: str, purpose: Purpose) -> str | None:
    return {("good", Purpose.PROGRAM): "Till", ("days", Purpose.CALENDAR): "Wall"}.get(
        (key, purpose)
    )


def client(*, passphrase: str | None = None, base_url: str = "http://127.0.0.1:8765") -> TestClient:
    inner = Starlette(routes=[Route("/{rest:path}", answer, methods=["GET", "POST"])])
    known = Passphrase(passphrase) if passphrase else None
    guarding = Guarding(known, holder, lambda *_: None, lambda _: True)
    return TestClient(Guard(inner, guarding=guarding), base_url=base_url)


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("127.0.0.1", 200),
        ("127.0.0.1:8765", 200),
        ("localhost:1", 200),
        ("[::1]:8765", 200),
        ("shop.example", 400),
        ("127.0.0.1.example", 400),
        ("localhost.example:80", 400),
        ("", 400),
    ],
)
def test_only_loopback_names_are_answered_on_loopback(host: str, status: int) -> None:
    assert client().get("/", headers={"Host": host}).status_code == status


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),  # a program, no browser
        ({"Sec-Fetch-Site": "same-origin"}, 200),
        ({"Sec-Fetch-Site": "none"}, 200),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
        ({"Origin": "http://127.0.0.1:8765"}, 200),
        ({"Origin": "http://127.0.0.1:9999"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "cross-site", "Origin": "http://127.0.0.1:8765"}, 403),
    ],
)
def test_where_a_write_may_come_from(headers: dict[str, Any], status: int) -> None:
    assert client().post("/", headers=headers).status_code == status
    assert client().get("/", headers=headers).status_code == 200


def test_a_page_gets_a_token_once_and_keeps_it() -> None:
    shop = client()
    first = shop.get("/")
    cookie = first.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    again = shop.get("/")
    assert "set-cookie" not in again.headers
    assert again.text == first.text
    assert client().get("/").text != first.text


def test_the_token_holds_only_when_it_is_the_cookies() -> None:
    shop = client()
    token = shop.get("/").text.split()[0]
    assert shop.get("/", headers={"X-Given": token}).text.endswith("True")
    assert shop.get("/", headers={"X-Given": token[:-1]}).text.endswith("False")
    assert shop.get("/", headers={"X-Given": ""}).text.endswith("False")
    assert client().get("/", headers={"X-Given": token}).text.endswith("False")


def test_a_short_cookie_someone_planted_is_not_taken_for_a_token() -> None:
    shop = client()
    shop.cookies.set(TOKEN_COOKIE, "x")
    answered = shop.get("/", headers={"X-Given": "x"})
    assert answered.text.endswith("False")
    assert TOKEN_COOKIE in answered.headers["set-cookie"]


@pytest.mark.parametrize("phrase", [None, "low tide at noon"])
@pytest.mark.parametrize(
    ("path", "key", "status"),
    [
        ("/api/jobs", "good", 200),
        ("/api/jobs", "days", 401),
        ("/api/jobs", "bad", 401),
        ("/logbook/due.ics?key=days", "", 200),
        ("/logbook/due.ics?key=good", "", 401),
    ],
)
def test_a_key_opens_what_it_was_made_for(
    monkeypatch: pytest.MonkeyPatch, phrase: str | None, path: str, key: str, status: int
) -> None:
    monkeypatch.setattr(passphrase, "FIRST_DELAY_S", 0)
    headers = {"Authorization": f"Bearer {key}"} if key else {}
    assert client(passphrase=phrase).get(path, headers=headers).status_code == status


def test_a_key_opens_no_page(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(passphrase, "FIRST_DELAY_S", 0)
    shop, good = client(passphrase="low tide at noon"), {"Authorization": "Bearer good"}
    assert shop.get("/jobs", headers=good).status_code == 401
    assert shop.get("/jobs?key=days").status_code == 401


def test_assets_and_the_interface_set_no_cookie() -> None:
    for path in ("/static/x.css", "/api/health"):
        assert "set-cookie" not in client().get(path).headers


@pytest.mark.parametrize("length", [str(LARGEST_BODY_BYTES + 1), "-1", "many"])
def test_a_body_too_large_or_of_no_length_is_refused_unread(length: str) -> None:
    refused = client().post("/", headers={"Content-Length": length})
    assert refused.status_code == 413
    assert refused.json()["error"]["message"]


def basic(text: str) -> dict[str, str]:
    return {"Authorization": "Basic " + base64.b64encode(text.encode()).decode()}


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 401),
        (basic("anybody:low tide at noon"), 200),
        (basic("x:low tide"), 401),
        (basic("low tide at noon"), 401),
        ({"Authorization": "Basic !!!"}, 401),
        ({"Authorization": "Bearer low tide at noon"}, 401),
        ({"Authorization": "Basic " + base64.b64encode(b"\xff\xfe:x").decode()}, 401),
    ],
)
def test_the_passphrase_is_needed_for_everything_on_another_address(
    monkeypatch: pytest.MonkeyPatch, headers: dict[str, Any], status: int
) -> None:
    monkeypatch.setattr(passphrase, "FIRST_DELAY_S", 0)
    shop = client(passphrase="low tide at noon", base_url="http://shop.example")
    for path in ("/jobs", "/logbook/due.ics", "/api/health"):
        answered = shop.get(path, headers=headers)
        assert answered.status_code == status
        assert ("www-authenticate" in answered.headers) == (status == 401)


def test_a_browser_is_sent_to_the_page_that_asks_and_a_field_is_told_in_place() -> None:
    shop = client(passphrase="low tide at noon", base_url="http://shop.example")
    sent = shop.get("/jobs", headers={"Accept": "text/html"}, follow_redirects=False)
    assert (sent.status_code, sent.headers["location"]) == (303, "/session?to=/jobs")
    sent = shop.get(
        "/jobs/5?station=ride&a=%26", headers={"Accept": "text/html"}, follow_redirects=False
    )
    to = parse_qs(urlsplit(sent.headers["location"]).query)["to"]
    assert to == ["/jobs/5?station=ride&a=%26"]
    field = shop.post("/jobs/1/answer", headers={"HX-Request": "true"})
    assert (field.status_code, "www-authenticate" in field.headers) == (401, False)


def test_a_session_opens_and_ends_and_cannot_be_made_up() -> None:
    known = Passphrase("low tide at noon", secret=b"s" * 32)
    cookie = known.session("ab12", now_s=1000)
    assert known.opened(cookie, now_s=1000 + 29 * 86_400) == "ab12"
    assert not known.opened(cookie.replace("ab12", "ab13"), now_s=1000)
    assert not known.opened(cookie, now_s=1000 + 31 * 86_400)
    assert not Passphrase("another one", secret=b"s" * 32).opened(cookie, now_s=1000)
    for made_up in ("", ".", "9" * 400 + ".x", cookie[:-1], f"9{cookie}", "²." + cookie[11:]):
        assert not known.opened(made_up, now_s=1000)
    shop = client(passphrase="low tide at noon", base_url="http://shop.example")
    shop.cookies.set(SESSION_COOKIE, cookie)
    assert shop.get("/jobs").status_code == 401  # signed by another shop


def test_wrong_passphrases_wait_their_turn_and_lock_no_one_out(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(passphrase, "FIRST_DELAY_S", 0.05)

    async def guess() -> Any:
        slowdown = Slowdown()
        tries = [asyncio.ensure_future(slowdown.wrong("10.0.0.1")) for _ in range(MOST_WAITING)]
        await asyncio.sleep(0)
        assert slowdown.full("10.0.0.1")
        assert not slowdown.full("10.0.0.2")
        await asyncio.gather(*tries)
        assert not slowdown.full("10.0.0.1")

    started = time.monotonic()
    with ThreadPoolExecutor(1) as hand:  # a browser of another test may hold this thread's loop
        hand.submit(lambda: asyncio.run(guess())).result()
    assert time.monotonic() - started >= 0.05 * 2 ** (MOST_WAITING - 1) * 0.9


def test_a_refusal_carries_the_policy_too() -> None:
    refused = client().get("/", headers={"Host": "elsewhere.example"})
    for name, value in SECURITY_HEADERS.items():
        assert refused.headers[name] == value


def test_the_policy_lets_nothing_in_from_outside() -> None:
    policy = SECURITY_HEADERS["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert "http" not in policy
    assert "*" not in policy
