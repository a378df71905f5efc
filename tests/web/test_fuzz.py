"""Every route, asked with what no sane person types: a sentence or a page, never a crash."""

import json
import os
import random
from datetime import datetime
from pathlib import Path
from typing import Any

import pytest
from fastapi import Depends
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import cards, jobs, machines
from jentrik.web.app import create_app
from jentrik.web.live.fields import LIVE_HEADER
from jentrik.web.security.guard import TOKEN_FIELD, TOKEN_HEADER
from jentrik.web.shop import checked_form
from tests.documents import plan, raw
from tests.web.conftest import with_token
from tests.web.walk import Entry, entries

REQUESTS = int(os.environ.get("JENTRIK_REQUESTS", "1500"))
NASTY = (
    "",
    " ",
    "0",
    "-1",
    "1",
    "2",
    "1e400",
    "1e308",
    "nan",
    "NaN",
    "∞",
    "٣",
    "²",
    "1,2,3",
    "9" * 400,
    "9" * 5000,
    "None",
    "true",
    "null",
    "'; DROP TABLE job; --",
    "<script>alert(1)</script>",
    "\x00",
    "\u202e",
    "é" * 300,
    "{{ 7*7 }}",
    "%s%s%s",
    "\ufffe",
    "../../etc/passwd",
    "2026-02-30",
    "0000-00-00",
    "99999-01-01",
    "0001-01-01",
    "9999-12-31",
    "A\nB",
    "±",
    "1 ± -1",
    "x:" + "9" * 5000,
    "fork:²",
    "0.0000001",
    "-0",
    "1; 2; 3 ± 4",
    "+5",
    "28-622",
    "100-622",
    "37-622 (700x35C)",
    "12:00:01;5\r12:00:02;6",
    "0001-01-01T00:00:00Z;5",
    ",".join("9" * 300),
    "B" * 140_000,
    "\U0001f6b2",
    "ﬁ½",
)
FIELDS = (
    "pieces",
    "price",
    "place",
    "signs",
    "job",
    "thing:made",
    "thing:tread_mm",
    "fact:void_percent",
    "fact:compound",
    "limits.trail_mm.high",
    "set",
    "which",
    "from",
    "why",
    "correction",
    "first",
    "second",
    "after",
    "build",
    "rear",
    "front_rotor",
    "rear_kpa",
    "machine:phone",
    "machine:note",
    "front.fitted.pressure_kpa",
    "set.position",
    "what",
    "tire",
    "name",
    "code",
    "text",
    "where",
    "rim",
    "gap_mm",
    "wheel",
    "direction",
    "on",
    "x_mm",
    "height_mm",
    "y_mm",
    "bead_seat_diameter_mm",
    "front_tire",
    "rear_tire",
    "front_rim_mm",
    "place",
    "point",
    "position",
    "pair",
    "true",
    "shown",
    "typed",
    "proposal",
    "template",
    "act",
    "version",
    "torque_nm",
    "torque_source",
    "reading",
    "reason",
    "who",
    "back",
    "caption",
    "photo",
    "end",
    "look",
    "tread_left_mm",
    "tread_middle_mm",
    "tread_right_mm",
    "signs",
    "pressure_kpa",
    "made",
    "km",
    "swapped",
    "counted_km",
    "true_km",
    "done",
    "ridden",
    "setup",
    "weather",
    "ground",
    "form",
    "rider",
    "trail",
    "score:braking",
    "note",
    "outcome",
    "gauge",
    "tool",
    "steps",
    "sought",
    "sheet:wheelbase_mm",
    "sheet:front.tire",
    "sheet:gearing.sprockets",
    "change",
    "sheet:side_stand.lean_deg",
    "sheet:side_stand.foot_out_mm",
    "insist",
    "passphrase",
    "to",
    "from:wheelbase_mm",
    "assume:seat_angle_deg",
    "proposal:front.tire",
    "proposal:position",
    "proposal:front.fitted.made",
    "proposal:rear.hub.driver",
    "place:1:gap_mm",
    "point:1:x_mm",
    "pair:1:front_tire",
    "machine:name",
    "job:due_on",
    "policy:limits.trail_mm.low",
    "backup",
    "policy:money.currency",
    "policy:rubber.age_school",
    "measured:bb_height_mm",
    "measured:front.rolled_mm",
    "price:front tire",
    "quantity:x",
    "source:x",
    "hours:A:x",
    "km-a-year",
    "years",
    "life:x",
    "rear_kpa",
    "seen:sheet:wheelbase_mm",
    "visit:sheet:wheelbase_mm",
)
QUERIES = (
    "station",
    "proposal",
    "view",
    "magnify",
    "state",
    "more",
    "before",
    "after",
    "code",
    "rim",
    "near",
    "base",
    "over",
    "load",
    "without",
    "name",
    "to",
    "find",
    "sort",
    "page",
    "vehicle",
    "on",
    "step",
)


def test_every_write_needs_its_token(app: FastAPI, client: TestClient) -> None:
    assert _open_writes(app, client) == []
    assert len(jobs.jobs()) == 13


def test_a_write_left_open_is_found(app: FastAPI, client: TestClient) -> None:
    @app.post("/left-open")
    def left_open() -> dict[Any, Any]:
        return {}

    @app.post("/guarded")
    def guarded(form: Any = Depends(checked_form)) -> Any:  # noqa: B008
        return {}

    assert _open_writes(app, client) == ["/left-open"]


def _open_writes(app: FastAPI, client: TestClient) -> list[Any]:
    """Return the addresses that take a write without the token of one of our pages."""
    writes = [entry for entry in entries(app) if entry.method != "GET"]
    assert len(writes) > 40
    client.headers.pop(TOKEN_HEADER, None)
    return [
        write.path
        for write in writes
        # Those of a document write nothing, or take it from our own pages alone.
        if write.path not in ("/api/plan", "/api/find", "/api/photo", "/api/import")
        and client.request(write.method, write.filled(), data={TOKEN_FIELD: "x" * 40}).status_code
        != (415 if write.path.startswith("/api/") else 403)
    ]


def _body(app: FastAPI, one: Entry, chance: random.Random) -> dict[str, Any]:
    """Return a body with what a program is asked to send, each value as it should be or nasty."""
    described = app.openapi()
    about = described["paths"].get(one.path, {}).get(one.method.lower(), {})
    content = about.get("requestBody", {}).get("content", {}).get("application/json", {})
    name = content.get("schema", {}).get("$ref", "").rpartition("/")[2]
    known = described["components"]["schemas"].get(name, {}).get("properties", {})
    body: dict[str, Any] = {}
    for key, of in known.items():
        fine = of.get("examples", of.get("enum", [of.get("default", "A")]))
        text = chance.choice(NASTY)
        odd = (text, [text], {text[:60]: text}, 1e308, -1, 10**30, True, None, 2.5)
        if chance.random() < 0.8:
            body[key] = chance.choice(fine) if chance.random() < 0.6 else chance.choice(odd)
    return body


@pytest.mark.parametrize("part", range(3))
def test_no_route_breaks_on_what_no_one_types(app: FastAPI, client: TestClient, part: int) -> None:
    object.__setattr__(app.state.shop, "wait", lambda seconds: None)
    app.state.shop.ready()
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    client.post("/who", data={"who": "Ida", "back": "/jobs"})
    steps = [str(step.id) for step in cards.card_of(6).steps]
    chance = random.Random(part if REQUESTS < 10_000 else None)
    ways = entries(app)
    for turn in range(REQUESTS // 3):
        one = ways[turn % len(ways)]
        ids = (
            {}
            if chance.random() < 0.7
            else dict.fromkeys(
                (
                    *("job_id", "machine_id", "step_id", "change_id", "setup_id", "wheel_id"),
                    *("tire_id", "number"),
                ),
                chance.choice(("0", "1", "999", "9" * 30, "-1", "²", "9" * 19)),
            )
        )
        path = one.filled(**{"step_id": chance.choice(steps), **ids})
        values = {name: chance.choice(NASTY)[:3000] for name in chance.sample(QUERIES, 3)}
        fields = {
            name: chance.choice(NASTY) for name in chance.sample(FIELDS, chance.randint(0, 30))
        }
        headers = chance.choice(
            ({}, {"HX-Request": "true"}, {LIVE_HEADER: "1"}, {"Accept": "text/html"})
        )
        if one.path.startswith("/api/") and one.method != "GET":
            sent = _body(app, one, chance)
            answer = client.request(one.method, path, json=sent)
            fields = {"": str(sent)}
        elif one.method == "GET":
            answer = client.get(path, params=values, headers=headers)
        elif chance.random() < 0.2:
            files = {
                name: (name, chance.choice(NASTY).encode("utf-8", "replace"), "x/y")
                for name in ("photo", "track", "list", "backup")
            }
            answer = client.post(path, data=fields, files=files, headers=headers)
        else:
            answer = client.post(path, params=values, data=fields, headers=headers)
        assert answer.status_code < 500, (one, path, values, fields)
        assert "Traceback" not in answer.text
        if "json" not in answer.headers.get("content-type", ""):  # JSON is no page
            assert "<script>alert" not in answer.text
    for sheet in machines.sheets():  # whatever was stored can be looked at
        for page in (
            f"/machines/{sheet.id}",
            f"/machines/{sheet.id}/log",
            f"/machines/{sheet.id}/history",
            f"/machines/{sheet.id}/speed",
        ):
            assert client.get(page).status_code == 200, page
    for page in ("/jobs", "/machines", "/logbook", "/logbook/due.ics", "/shop", "/shelf", "/rules"):
        assert client.get(page).status_code == 200, page


@pytest.mark.parametrize(
    ("path", "form"),
    [
        ("/machines/6/speed/drop", {"pair": "²"}),
        ("/machines/6/speed/drop", {"pair": "9" * 5000}),
        ("/jobs/6/ways/take", {"proposal": "A", "steps": "x:" + "9" * 5000}),
        ("/jobs/6/rides", {"setup": "9" * 5000}),
        ("/jobs/6/rides", {"score:braking": "9" * 5000}),
        ("/jobs/1/order", {"quantity:x": "9" * 5000}),
        ("/jobs/1/order", {"life:x": "9" * 5000}),
        ("/jobs/1/order", {"km-a-year": "9" * 5000}),
        ("/jobs/0/open", {}),
        (f"/jobs/{'9' * 30}/open", {}),
        (f"/jobs/{'9' * 30}/undo", {}),
        ("/machines/6/undo", {"change": "9" * 5000}),
        ("/read/put", {"where": "machine:²:front"}),
        ("/read/put", {"where": f"proposal:{'9' * 5000}:A:front"}),
    ],
)
def test_figures_beyond_any_figure_are_refused(
    client: TestClient, path: str, form: dict[str, Any]
) -> None:
    assert client.post(path, data=form).status_code < 500


@pytest.mark.parametrize(
    "charset",
    ["unicode_escape", "raw_unicode_escape", "punycode", "undefined", "utf-16", "nothing"],
)
@pytest.mark.parametrize("path", ["/jobs", "/machines/1/answer", "/jobs/1/card/photos"])
def test_a_form_in_another_alphabet_is_refused_or_read(
    client: TestClient, charset: str, path: str
) -> None:
    body = (
        b'--x\r\nContent-Disposition: form-data; name="machine:name"\r\n\r\n'
        b"\\ud800\\N{nothing}\r\n--x--\r\n"
    )
    kind = f"multipart/form-data; boundary=x; charset={charset}"
    assert client.post(path, content=body, headers={"Content-Type": kind}).status_code < 500


@pytest.mark.parametrize(
    "gpx",
    [
        '<trkpt lat="1" lon="1"><time>0001-01-01T00:00:00</time></trkpt>' * 4,
        '<trkpt lat="inf" lon="nan"><time>2026-01-01T00:00:00Z</time></trkpt>' * 4,
        '<trkpt lat="1" lon="1"><time>2026-01-01T00:00:00+99:99</time></trkpt>' * 4,
        '<trkpt lat="1e308" lon="1e308"><time>2026-01-01T00:00:00Z</time></trkpt>' * 4,
        '<trkpt lat="1" lon="1"><time>9999-12-31T23:59:59-12:00</time></trkpt>' * 4,
    ],
)
@pytest.mark.parametrize(
    "listed",
    [
        b"12:00:01;5\r12:00:02;6\r12:00:03;7\r12:00:04;8",
        b"0001-01-01T00:00:00;5\n" * 4,
        b"0001-01-01T00:00:00+14:00,5\n0001-01-01T00:00:01+14:00,5\n" * 2,
        b'1,"' + b"9" * 140_000 + b'"\n',
        b'1,"9\n',
    ],
)
def test_tracks_and_lists_beyond_any_ride_are_refused(
    client: TestClient, gpx: str, listed: bytes
) -> None:
    head = '<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
    track = f"{head}{gpx}</trkseg></trk></gpx>".encode()
    answer = client.post(
        "/machines/6/speed/track", files={"track": ("t.gpx", track), "list": ("l.csv", listed)}
    )
    assert answer.status_code == 422


@pytest.mark.parametrize("odd", ["\ud800", "x\udfffy"])
def test_half_characters_are_refused_in_documents(client: TestClient, odd: str) -> None:
    named = plan({"rear": {"tire": "47-584"}})
    named["bike"]["name"] = odd
    unknown = plan({"rear": {"tire": "47-584"}}) | {odd: 1}
    for document in (named, unknown):
        body = raw(document).decode().encode("ascii", "backslashreplace")
        answer = client.post("/api/plan", content=body)
        assert answer.status_code == 422
        assert answer.json()["error"]["message"]


def test_a_stand_that_cannot_carry_its_machine_has_no_figure(client: TestClient) -> None:
    form = {"sheet:side_stand.lean_deg": "0.5", "sheet:side_stand.foot_out_mm": "10"}
    client.post("/machines/6/answer", data=form)
    for front in ("100-622", "120/90-18"):
        page = client.post("/jobs/6/answer", data={"proposal:front.tire": front})
        assert page.status_code in (200, 422)
        for station in ("propose", "check"):
            assert client.get(f"/jobs/6?station={station}").status_code == 200


@pytest.mark.parametrize("year", [1, 9999])
def test_a_wrong_clock_breaks_no_page(demo: Path, year: int) -> None:
    app = create_app(demo, now=lambda: datetime(year, 12, 31, 23, 59))
    with TestClient(app, base_url="http://127.0.0.1") as client:
        with_token(client)
        for entry in entries(app):
            if entry.method == "GET":
                assert client.get(entry.filled()).status_code < 500, entry
        writes = {
            "/jobs": {"what": "Late", "tire": "28-622"},
            "/shop/backups/make": {},
            "/shelf": {"code": "37-622"},
        }
        for path, form in writes.items():
            assert client.post(path, data=form).status_code < 500, path


def test_a_list_shows_what_it_can_and_marks_what_it_cannot(
    client: TestClient, app: FastAPI
) -> None:
    database = app.state.shop.database
    database.connect(reuse_if_open=True)
    database.execute_sql("UPDATE proposal SET changes = '{\"front\"' WHERE job_id = 1")
    page = client.get("/jobs")
    assert page.status_code == 200
    assert "cannot be read" in page.text
    assert "Breakwater twin" in page.text
    assert client.get("/shop").status_code == 200
    assert client.get("/jobs/1").status_code == 200


def test_a_job_whose_machine_is_in_the_bin_breaks_no_list(client: TestClient, app: FastAPI) -> None:
    done = jobs.closed_jobs()[0]
    for job in jobs.jobs():
        if job.machine_id == done.machine_id:
            client.post(f"/jobs/{job.id}/bin")
    client.post(f"/machines/{done.machine_id}/bin")
    refused = client.post(f"/jobs/{done.id}/open")
    assert refused.status_code == 404
    database = app.state.shop.database
    database.execute_sql("UPDATE job SET closed_at = NULL WHERE id = ?", (done.id,))
    for path in ("/jobs", "/shop", "/logbook", "/machines", "/read"):
        assert client.get(path).status_code == 200, path


def test_no_document_breaks_an_import(client: TestClient) -> None:
    whole = client.get("/api/export").json()
    lists = [name for name, rows in whole.items() if isinstance(rows, list) and rows]
    chance = random.Random(7 if REQUESTS < 10_000 else None)
    odd: tuple[Any, ...] = (
        *NASTY,
        True,
        None,
        [],
        {},
        -1,
        1e308,
        10**30,
        2.5,
        ["x"],
        {"a": 1},
        "\ud800",
    )
    for _ in range(REQUESTS // 300):
        document = {**whole, **{name: [dict(row) for row in whole[name]] for name in lists}}
        for _ in range(chance.randint(1, 3)):
            row = chance.choice(document[chance.choice(lists)])
            row[chance.choice([*row, "unknown"])] = chance.choice(odd)
        body = json.dumps(document)
        for path in ("/api/import?dry_run=true", "/api/import"):
            answer = client.post(path, content=body, headers={"Content-Type": "application/json"})
            assert answer.status_code in (200, 422), answer.text[:300]
            if answer.status_code == 422:
                assert answer.json()["error"]["message"]
    for page in ("/jobs", "/machines", "/logbook", "/shop", "/shelf"):
        assert client.get(page).status_code == 200, page


def test_no_reading_breaks_a_card(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    client.post("/who", data={"who": "Ida", "back": "/jobs"})
    chance = random.Random(7 if REQUESTS < 10_000 else None)
    read = [step.id for step in cards.card_of(6).steps if step.plan.reading]
    for _ in range(REQUESTS // 25):
        asked = chance.choice(read)
        step = next(one for one in cards.card_of(6).steps if one.id == asked)
        form = {
            "version": str(step.version),
            "act": chance.choice(("tick", "keep", "open", "waive", "gauge", "split")),
            "reading": chance.choice((*NASTY, "2.2 bar", "30 psi", "5", "0", "1,5", "900")),
            "why": chance.choice(NASTY),
            "torque_nm": chance.choice(NASTY),
        }
        assert client.post(f"/jobs/6/card/steps/{step.id}", data=form).status_code < 500, form
    assert client.get("/jobs/6/card").status_code == 200
    assert client.get("/jobs/6?station=fit").status_code == 200
