"""Every address that takes a write: sent twice and at once, stale, foreign, too large, unseen."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import cards
from jentrik.web.security.guard import ONCE_FIELD, largest_body
from tests.web.walk import Entry, entries

JSON = {"Content-Type": "application/json"}
WRITES_NOTHING = {"/api/plan", "/api/find", "/api/photo"}
TREAD = {"tread_left_mm": "4", "tread_middle_mm": "4", "tread_right_mm": "4"}
UNSEEN = "\0\u202e\u200b"
# What a page would send; addresses without a line here take no field, or are sent none.
FORMS: dict[str, dict[str, str]] = {
    "/jobs": {"what": "Walked", "tire": "28-622"},
    "/jobs/{job_id}/agreed": {"proposal": "A", "by": "Jorun Eide", "state": "offered"},
    "/jobs/{job_id}/day": {"act": "take"},
    "/jobs/{job_id}/answer": {"job:wanted": "quieter"},
    "/jobs/{job_id}/card": {"proposal": "A", "template": "What changes"},
    "/jobs/{job_id}/card/steps": {"steps": "Bell fixed", "after": "0"},
    "/jobs/{job_id}/card/steps/{step_id}": {"version": "0", "act": "tick"},
    "/jobs/{job_id}/order": {"price:front tire": "70"},
    "/jobs/{job_id}/proposals/drop": {"proposal": "A"},
    "/jobs/{job_id}/setups": {"name": "As ridden"},
    "/machines": {"name": "Walked twin", "build": "upright motorcycle", "tire": "90/90-19"},
    "/machines/{machine_id}/answer": {"machine:note": "bell loose"},
    "/machines/{machine_id}/copy": {"name": "Another twin"},
    "/machines/{machine_id}/gauge": {"gauge": "rake_deg"},
    "/machines/{machine_id}/lines/{which}": {
        "name": "As sold",
        "front_tire": "90/90-19",
        "rear_tire": "110/90-17",
    },
    "/machines/{machine_id}/log/check": {"counted_km": "10", "true_km": "10.2"},
    "/machines/{machine_id}/log/look": {"end": "rear", "look": "at intervals", **TREAD},
    "/machines/{machine_id}/log/odometer": {"km": "43400"},
    "/machines/{machine_id}/log/puncture": {"end": "rear", "what": "a nail", "done": "plugged"},
    "/machines/{machine_id}/log/stand": {"since": "2026-11-01"},
    "/machines/{machine_id}/sets": {"name": "Winter", "front_tire": "90/90-19"},
    "/machines/{machine_id}/speed/pairs": {"true": "50", "shown": "54"},
    "/read/put": {"code": "37-622", "where": "machine:1:front"},
    "/shelf": {"code": "37-622"},
    "/shelf/tires/{tire_id}/answer": {"thing:place": "rack 4"},
    "/shelf/tires/{tire_id}/look": TREAD,
    "/shelf/tires/{tire_id}/reserve": {"job": "1", "pieces": "1"},
    "/shop/answer": {"policy:money.currency": "DKK"},
    "/shop/gauges": {"tool": "tread", "act": "zero"},
    "/shop/keys": {"act": "make", "name": "till drawer", "purpose": "program"},
    "/shop/people": {"act": "add", "name": "Bo"},
    "/wheels/{wheel_id}/answer": {"thing:place": "hook 2"},
    "/wheels/{wheel_id}/reserve": {"job": "1"},
}
# What a program sends where the example of its description is of another machine, or not enough.
BODIES: dict[str, dict[str, Any]] = {
    "/api/gauges/{tool}": {"act": "zero"},
    "/api/machines/{machine_id}": {"note": "bell loose"},
    "/api/machines": {"name": "Walked twin", "front_tire": "90/90-19"},
    "/api/machines/{machine_id}/copy": {"name": "Another twin"},
    "/api/machines/{machine_id}/gauge": {"gauge": "rake_deg"},
    "/api/machines/{machine_id}/log/inspections": {"end": "rear", "pressure_kpa": 220},
    "/api/machines/{machine_id}/log/odometer": {"km": 43400},
    "/api/machines/{machine_id}/log/odometer-checks": {"counted_km": 10, "true_km": 10.2},
    "/api/machines/{machine_id}/log/punctures": {"end": "rear", "what": "nail", "done": "plug"},
    "/api/templates/{name}": {"text": "Bell fixed"},
    "/api/wheels/{wheel_id}": {"fields": {"place": "hook 2"}},
}
_LAST = ("drop", "close", "undo", "fitted", "open", "who")  # what ends a job or a machine
_MADE_ANEW = ("line", "words", "stale", "kept_answer", "session", "shop_state", "last_id")


@pytest.fixture(autouse=True)
def _quick(app: FastAPI, client: TestClient) -> None:
    object.__setattr__(app.state.shop, "wait", lambda seconds: None)
    app.state.shop.ready()
    client.post("/who", data={"who": "Ida", "back": "/jobs"})


def writes(app: FastAPI) -> list[Entry]:
    """Return every way in that writes, those last that take away what others write to."""
    found = [
        entry
        for entry in entries(app)
        if entry.method != "GET" and entry.path not in WRITES_NOTHING
    ]
    return sorted(found, key=_ends)


def _ends(one: Entry) -> tuple[bool, bool]:
    whole = one.path.endswith("bin") or (one.method == "DELETE" and one.path.count("/") == 3)
    return whole, one.method == "DELETE" or one.path.endswith(_LAST)


SHOWN_ONCE = {"/api/keys": "key", "/api/webhooks": "secret"}


def pages_of(app: FastAPI) -> list[Entry]:
    return [write for write in writes(app) if not write.path.startswith("/api/")]


def api_of(app: FastAPI) -> list[Entry]:
    return [write for write in writes(app) if write.path.startswith("/api/")]


def stored(app: FastAPI) -> dict[str, list[Any]]:
    """Return every row of the shop but those made anew from others."""
    database = app.state.shop.database
    names = [
        row[0]
        for row in database.execute_sql("SELECT name FROM sqlite_master WHERE type = 'table'")
        if not any(one in row[0] for one in _MADE_ANEW)
    ]
    return {name: database.execute_sql(f"SELECT * FROM {name}").fetchall() for name in names}


def filled(one: Entry) -> str:
    card = cards.card_of(6)
    return one.filled(**({"step_id": str(card.steps[0].id)} if card else {}))


def test_a_form_sent_twice_at_once_is_stored_once(app: FastAPI, client: TestClient) -> None:
    done = 0
    for number, one in enumerate(pages_of(app)):
        if "photo" in one.path or "exchange" in one.path or "restore" in one.path:
            continue  # files are kept by what is in them
        form = {**FORMS.get(one.path, {}), ONCE_FIELD: f"walk-{number:08}"}
        path, before = filled(one), len(stored(app)["change"])
        with ThreadPoolExecutor(2) as both:
            sent = [both.submit(client.post, path, data=form) for _ in range(2)]
            answers = [*(one.result() for one in sent), client.post(path, data=form)]
        assert all(answer.status_code < 500 for answer in answers), one
        added = len(stored(app)["change"]) - before
        most = 3 if one.path.endswith("gauge") else 1  # figure, and what each battery lost
        assert added <= most, (one, added)
        done += added
    assert done > 25


def test_a_form_from_elsewhere_or_too_large_changes_nothing(
    app: FastAPI, client: TestClient
) -> None:
    before = stored(app)
    for one in (*pages_of(app), *api_of(app)):
        path, form = filled(one), FORMS.get(one.path, {})
        for foreign in ({"Origin": "https://other.example"}, {"Sec-Fetch-Site": "cross-site"}):
            answer = client.request(one.method, path, data=form, headers=foreign)
            assert answer.status_code == 403, one
        large = {"Content-Length": str(largest_body(path) + 1)}
        answer = client.request(one.method, path, content=b"x", headers=large)
        assert answer.status_code == 413, one
    assert stored(app) == before


def test_what_is_not_seen_is_stored_nowhere(app: FastAPI, client: TestClient) -> None:
    for one in pages_of(app):
        form = {name: f"{UNSEEN}{text}{UNSEEN}" for name, text in FORMS.get(one.path, {}).items()}
        assert client.post(filled(one), data=form).status_code < 500, one
    for one, body in bodies(app):
        sent = {name: unseen(value) for name, value in body.items()}
        answer = client.request(one.method, filled(one), json=sent)
        assert answer.status_code < 500, one
        if sent != body:
            assert answer.status_code == 422, (one, sent)
    kept = repr(stored(app))
    assert not any(f"\\x{ord(one):02x}" in kept or f"\\u{ord(one):04x}" in kept for one in UNSEEN)


def unseen(value: Any) -> Any:
    return f"{value}{UNSEEN}" if isinstance(value, str) else value


def bodies(app: FastAPI) -> Iterator[tuple[Entry, dict[str, Any]]]:
    """Yield each write of the API with a body made of the examples it is described with."""
    described = app.openapi()
    for one in api_of(app):
        about = described["paths"][one.path][one.method.lower()]
        content = about.get("requestBody", {}).get("content", {}).get("application/json", {})
        name = content.get("schema", {}).get("$ref", "").rpartition("/")[2]
        known = described["components"]["schemas"].get(name, {}).get("properties", {})
        body = {key: of["examples"][0] for key, of in known.items() if of.get("examples")}
        yield one, BODIES.get(one.path, body) if one.method != "DELETE" else {}


def test_a_program_sends_twice_stale_or_of_a_wrong_type(app: FastAPI, client: TestClient) -> None:
    done = 0
    for number, (one, body) in enumerate(bodies(app)):
        path, before = filled(one), stored(app)
        stale = client.request(one.method, path, json=body, headers={"If-Match": '"stale"'})
        assert stale.status_code in (404, 412, 422), (one, stale.text)
        wrong = client.request(one.method, path, json=dict.fromkeys(body, True))
        assert wrong.status_code in (404, 415, 422) or not body, (one, wrong.text)
        for odd in ("[]", "true", '"x"', "1"):
            answer = client.request(one.method, path, content=odd, headers=JSON)
            assert answer.status_code in (404, 415, 422) or not body, (one, answer.text)
        if body:
            assert stored(app) == before, one
        key = {"Idempotency-Key": f"walk-{number}"}
        first = client.request(one.method, path, json=body, headers=key)
        between = stored(app)
        again = client.request(one.method, path, json=body, headers=key)
        assert first.status_code < 500, one
        if first.status_code < 300:
            if one.path in SHOWN_ONCE:
                name = SHOWN_ONCE[one.path]
                assert (bool(first.json()[name]), again.json()[name]) == (True, None)
            else:
                assert again.content == first.content, one
            assert stored(app) == between, one
            done += between != before
    assert done > 15
