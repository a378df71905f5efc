"""The API: a job through all six stations, each write done once, keys, and what a page can do."""

import json
import re
from io import BytesIO
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from openapi_spec_validator import validate
from PIL import Image

from jentrik.web.pages.card.view import TORQUE_SOURCES
from tests.web.walk import entries

# A page's write -> what a program asks for the same.
TWINS = {
    "new_job": "POST /api/jobs",
    "answer": "PATCH /api/jobs/{job_id}",
    "change_day": "POST /api/jobs/{job_id}/day",
    "part_arrived": "POST /api/jobs/{job_id}/arrived",
    "set_sign": "PATCH /api/policy",
    "set_agreed": "POST /api/jobs/{job_id}/agreed",
    "add_proposal": "POST /api/jobs/{job_id}/proposals",
    "name_proposal": "PATCH /api/jobs/{job_id}/proposals/{name}",
    "drop_proposal": "DELETE /api/jobs/{job_id}/proposals/{name}",
    "job_add_line": "POST /api/machines/{machine_id}/lines/{which}",
    "take_cure": "POST /api/jobs/{job_id}/proposals",
    "widths_add": "POST /api/machines/{machine_id}/lines/{which}",
    "widths_drop": "DELETE /api/machines/{machine_id}/lines/{kind}/{line}",
    "widths_answer": "PATCH /api/machines/{machine_id}",
    "job_drop_line": "DELETE /api/machines/{machine_id}/lines/{kind}/{line}",
    "undo": "POST /api/jobs/{job_id}/undo",
    "take_way": "POST /api/jobs/{job_id}/proposals/{name}/ways",
    "make_card": "POST /api/jobs/{job_id}/card",
    "add_step": "POST /api/jobs/{job_id}/card/steps",
    "write_step": "POST /api/jobs/{job_id}/card/steps/{step_id}",
    "write_group": "POST /api/jobs/{job_id}/card/steps",
    "set_on": "POST /api/jobs/{job_id}/card/steps",
    "add_photo": "POST /api/jobs/{job_id}/photos",
    "drop_photo": "DELETE /api/jobs/{job_id}/photos/{photo_id}",
    "close_job": "POST /api/jobs/{job_id}/close",
    "open_job": "POST /api/jobs/{job_id}/open",
    "correct_job": "POST /api/jobs/{job_id}/corrections",
    "measure_after_fitting": "POST /api/jobs/{job_id}/measured",
    "put_on_sheet": "POST /api/jobs/{job_id}/fitted",
    "set_order": "PATCH /api/jobs/{job_id}/order",
    "set_suppliers": "PATCH /api/jobs/{job_id}/order",
    "undo_order": "POST /api/jobs/{job_id}/undo",
    "add_setup": "POST /api/jobs/{job_id}/setups",
    "add_ride": "POST /api/jobs/{job_id}/rides",
    "add_ride_track": "PUT /api/machines/{machine_id}/rides/{ride_id}/track",
    "ride_outcome": "POST /api/jobs/{job_id}/outcome",
    "bin_job": "DELETE /api/jobs/{job_id}",
    "new_machine": "POST /api/machines",
    "copy_machine": "POST /api/machines/{machine_id}/copy",
    "machine_answer": "PATCH /api/machines/{machine_id}",
    "machine_add_line": "POST /api/machines/{machine_id}/lines/{which}",
    "machine_drop_line": "DELETE /api/machines/{machine_id}/lines/{kind}/{line}",
    "take_reading": "POST /api/machines/{machine_id}/gauge",
    "machine_undo": "POST /api/machines/{machine_id}/undo",
    "undo_change": "POST /api/machines/{machine_id}/undo",
    "bin_machine": "DELETE /api/machines/{machine_id}",
    "add_set": "POST /api/machines/{machine_id}/sets",
    "put_on_set": "POST /api/machines/{machine_id}/put-on",
    "go_back": "POST /api/machines/{machine_id}/go-back",
    "propose_choice": "POST /api/jobs/{job_id}/proposals",
    "set_machine_photo": "POST /api/machines/{machine_id}/photo",
    "name_setup": "PATCH /api/machines/{machine_id}/setups/{setup_id}",
    "move_wheel": "POST /api/machines/{machine_id}/wheels/{wheel_id}",
    "add_look": "POST /api/machines/{machine_id}/log/inspections",
    "add_odometer": "POST /api/machines/{machine_id}/log/odometer",
    "add_check": "POST /api/machines/{machine_id}/log/odometer-checks",
    "add_puncture": "POST /api/machines/{machine_id}/log/punctures",
    "set_standing": "POST /api/machines/{machine_id}/log/standing",
    "add_pair": "POST /api/machines/{machine_id}/speed/pairs",
    "gauge_pair": "POST /api/machines/{machine_id}/speed/gauge",
    "add_track": "POST /api/machines/{machine_id}/speed/track",
    "drop_pair": "POST /api/machines/{machine_id}/speed/drop",
    "use_line": "POST /api/machines/{machine_id}/speed/use",
    "add_to_shelf": "POST /api/shelf",
    "drop_from_shelf": "DELETE /api/shelf/{tire_id}",
    "undo_shelf": "POST /api/shelf/undo",
    "undo_tire": "POST /api/shelf/undo",
    "undo_wheel": "POST /api/shelf/undo",
    "answer_practice": "POST /api/practice/answers",
    "practice_on_bench": "POST /api/practice/jobs",
    "undo_practice": "POST /api/practice/undo",
    "add_photograph": "POST /api/machines/{machine_id}/photographs",
    "photo_answer": "PATCH /api/machines/{machine_id}/photographs/{photograph_id}",
    "name_photo_mark": "POST /api/machines/{machine_id}/photographs/{photograph_id}/name",
    "drop_photograph": "DELETE /api/machines/{machine_id}/photographs/{photograph_id}",
    "photographs_onto_sheet": "POST /api/machines/{machine_id}/photographs/sheet",
    "undo_photographs": "POST /api/machines/{machine_id}/undo",
    "use_answer": "PATCH /api/machines/{machine_id}",
    "propose_tires": "POST /api/jobs/{job_id}/proposals",
    "tire_answer": "PATCH /api/shelf/{tire_id}",
    "look_over_tire": "POST /api/shelf/{tire_id}/look",
    "reserve_tire": "POST /api/shelf/{tire_id}/reserve",
    "photograph_tire": "POST /api/shelf/{tire_id}/photo",
    "shelve_tire": "POST /api/machines/{machine_id}/tires/{number}/shelf",
    "wheel_answer": "PATCH /api/wheels/{wheel_id}",
    "reserve_wheel": "POST /api/wheels/{wheel_id}/reserve",
    "photograph_wheel": "POST /api/wheels/{wheel_id}/photo",
    "put_reading": "PATCH /api/machines/{machine_id}",
    "shop_answer": "PATCH /api/policy",
    "undo_policy": "POST /api/policy/undo",
    "set_card_template": "PUT /api/templates/{name}",
    "set_gauge": "POST /api/gauges/{tool}",
    "set_people": "POST /api/people",
    "make_backup": "POST /api/backups",
    "import_brought": "POST /api/import",
    "bring_table": "POST /api/tables",
    "import_table": "POST /api/tables",
    "restore_backup": "POST /api/backups/{name}/restore",
    "set_keys": "POST /api/keys",
    "set_webhook": "POST /api/webhooks",
    "end_session": "DELETE /api/sessions/{session_id}",
    "set_own_units": "PATCH /api/people/{person_id}",
    "restore": "POST /api/bin/restore",
}
# Writes that are of a screen, or that a program must not have.
OF_A_SCREEN = {
    "open_session": "a session is a browser's",
    "set_who": "who is at this screen; a program says Jentrik-Person",
    "gauge_look": "fills the form being typed; a program reads the gauge and sends",
    "open_demo": "fills an empty shop to look at",
    "bring_document": "shows what an import would do; a program asks for a dry run",
    "undo_table": "of the spreadsheet's page",
    "stop_import": "of the page that shows how far an import is",
    "bring_backup": "a file is put into the folder of backups",
}


def ask(client: TestClient, method: str, path: str, body: Any = None, **headers: str) -> Any:
    answer = client.request(method, f"/api{path}", json=body, headers=headers)
    assert answer.status_code < 300, answer.text
    return answer.json()


def test_every_write_of_a_page_has_its_like_for_programs(app: FastAPI) -> None:
    names = {
        route.name
        for route in _routes(app)
        if "POST" in (getattr(route, "methods", None) or ())
        and not str(route.path).startswith("/api/")
    }
    known = {f"{entry.method} {entry.path}" for entry in entries(app)}
    assert names == TWINS.keys() | OF_A_SCREEN.keys()
    assert set(TWINS.values()) <= known


def _routes(app: FastAPI) -> list[Any]:
    routes = list(app.routes)
    found = []
    while routes:
        route = routes.pop()
        inner = getattr(route, "original_router", None)
        routes += inner.routes if inner else []
        found += [] if inner else [route]
    return found


def _ticked(step: dict[str, Any]) -> dict[str, Any]:
    body: dict[str, Any] = {"act": "tick", "version": step["version"]}
    if step["fastener"]:
        body |= {"torque_nm": 12, "torque_source": TORQUE_SOURCES[0]}
    if reading := step["reading"]:
        limits = [one for one in (reading["at_least"], reading["at_most"]) if one is not None]
        body["reading"] = "done" if reading["unit"] in ("", "words") else (limits or [10])[0]
    return body


def test_a_program_takes_a_job_through_all_six_stations(client: TestClient) -> None:
    client.headers["Jentrik-Person"] = "Till"
    job = ask(client, "POST", "/jobs", {"machine": "Pier tourer", "front_tire": "37-622"})  # Read
    path = f"/jobs/{job['id']}"
    (machine,) = ask(client, "GET", "/machines?find=Pier+tourer")["machines"]
    at = f"/machines/{machine['id']}"
    measured = {"wheelbase_mm": {"value": 1052, "plus_minus": 2, "provenance": "measured"}}
    ask(client, "PATCH", at, {"figures": measured})  # Measure
    gap = {"gap_mm": 14, "minimum_mm": 6, "wheel": "front", "direction": "radial", "on": "fork"}
    sheet = ask(client, "POST", f"{at}/lines/places", {"name": "fork crown", "columns": gap})
    assert sheet["sheet"]["figures"]["wheelbase_mm"]["value"] == 1052
    wider = {"front": {"tire": "42-622"}, "rear.tire": "42-622"}
    made = ask(client, "POST", f"{path}/proposals", {"name": "Wider", "changes": wider})  # Propose
    assert made["proposal"] == "Wider"
    (found,) = [one for one in ask(client, "GET", path)["proposals"] if one["name"] == "Wider"]
    # By hand: 42 mm of tire for 37 lift both axles, and with them the bottom bracket, by 5 mm.
    there = job["found"]["geometry"]["bb_height_mm"]
    assert found["geometry"]["bb_height_mm"] - there == pytest.approx(5)  # Check
    card = ask(client, "POST", f"{path}/card", {"proposal": "Wider"})  # Fit
    in_groups = [step for group in card["groups"] for step in group["steps"]]
    assert [step["id"] for step in card["steps"]] == in_groups
    ticks = [{"id": step["id"], **_ticked(step)} for step in card["steps"]]
    far = {**ticks[-2], "act": "gauge"}
    answer = client.post(f"/api{path}/card/steps", json={"steps": [*ticks[:-2], far]})
    assert answer.status_code == 422
    assert answer.json()["error"]["field"] == f"steps[{len(ticks) - 2}].act"
    assert ask(client, "GET", f"{path}/card") == card  # none of them
    for body, field in (({}, "steps"), ({"steps": [{"act": "tick"}]}, "steps.0.id")):
        answer = client.post(f"/api{path}/card/steps", json=body)
        assert (answer.status_code, answer.json()["error"]["field"]) == (422, field)
    ask(client, "POST", f"{path}/card/steps", {"steps": ticks[1:]})
    first = card["steps"][0]
    ask(client, "POST", f"{path}/card/steps/{first['id']}", _ticked(first))
    fitted = ask(client, "POST", f"{path}/fitted")
    done = ask(client, "POST", f"{path}/close", {})
    assert (fitted["fitted"] is not None, done["state"]) == (True, "done")
    assert done == ask(client, "GET", path)
    now = ask(client, "GET", at)["setups"][-1]
    ride = {"setup": now["id"], "weather": "dry", "ground": "firm", "form": "rested"}
    (ridden,) = ask(client, "POST", f"{path}/rides", {**ride, "score": {"stability": 4}})["rides"]
    assert (ridden["scores"], ridden["by"]) == ({"stability": 4}, "Till")  # Ride
    assert "Till" in client.get(f"/machines/{machine['id']}/history").text


def test_a_write_sent_again_is_done_once(client: TestClient) -> None:
    body, key = {"machine": "Sent twice", "front_tire": "37-622"}, {"Idempotency-Key": "a"}
    first = client.post("/api/jobs", json=body, headers=key)
    again = client.post("/api/jobs", json=body, headers=key)
    assert again.content == first.content
    assert (again.status_code, again.headers["Idempotent-Replay"]) == (201, "true")
    assert len(ask(client, "GET", "/jobs?find=Sent+twice")["jobs"]) == 1
    other = client.post("/api/jobs", json={**body, "machine": "Another"}, headers=key)
    assert (other.status_code, other.json()["error"]["field"]) == (422, "Idempotency-Key")
    refused = {"machine": "Never", "front_tire": "rubbish"}
    for _ in range(2):  # what was refused did nothing: it may be put right under its key
        answer = client.post("/api/jobs", json=refused, headers={"Idempotency-Key": "b"})
        assert answer.json()["error"]["field"] == "front_tire"
    good = client.post(
        "/api/jobs", json={**refused, "front_tire": "37-622"}, headers={"Idempotency-Key": "b"}
    )
    assert good.status_code == 201


def test_a_change_of_what_changed_since_is_refused(client: TestClient) -> None:
    seen = client.get("/api/machines/1").headers["ETag"]
    body = {"figures": {"wheelbase_mm": 1000}}
    assert client.patch("/api/machines/1", json=body, headers={"If-Match": seen}).is_success
    body = {"figures": {"wheelbase_mm": 1001}}
    late = client.patch("/api/machines/1", json=body, headers={"If-Match": seen})
    assert late.status_code == 412
    stands = client.get("/api/machines/1")
    assert stands.json()["sheet"]["figures"]["wheelbase_mm"]["value"] == 1000
    seen = stands.headers["ETag"]
    assert client.patch("/api/machines/1", json=body, headers={"If-Match": seen}).is_success


_F, _HIGH = "changes.front", "limits.trail_mm.high"


@pytest.mark.parametrize(
    ("method", "path", "body", "field"),
    [
        ("PATCH", "/machines/1", {"figures": {"wheelbase_mm": "long"}}, "figures.wheelbase_mm"),
        ("PATCH", "/machines/1", {"figures": {"wings": 2}}, "figures.wings"),
        ("PATCH", "/machines/1", {"lines": {"wing:1:span_mm": 2}}, "lines"),
        ("PATCH", "/machines/1", {"wheels": 3}, "wheels"),
        (
            "PATCH",
            "/jobs/1/proposals/A",
            {"changes": {"front": {"tire": "x"}}},
            "changes.front.tire",
        ),
        ("PATCH", "/jobs/1/order", {"entries": {"wish:tire": "1"}}, "entries"),
        ("POST", "/jobs", {"machine": "x"}, "front_tire"),
        ("POST", "/shelf", {"code": "no tire"}, None),
        (
            "PATCH",
            "/policy",
            {"limits": {"limits.trail_mm.high": -400}},
            "limits.limits.trail_mm.high",
        ),
        ("POST", "/jobs/1/rides", {"setup": 1}, "weather"),
    ],
)
def test_what_cannot_stand_is_refused_at_its_field(
    client: TestClient, method: str, path: str, body: Any, field: str | None
) -> None:
    before = client.get("/api/export").json()
    answer = client.request(method, f"/api{path}", json=body)
    assert answer.status_code == 422, answer.text
    assert answer.json()["error"]["field"] == field
    after = client.get("/api/export").json()
    assert {**after, "exported_at": ""} == {**before, "exported_at": ""}


def test_a_key_is_shown_once_opens_the_api_and_ends_when_revoked(client: TestClient) -> None:
    page = client.post("/shop/keys", data={"name": "Till", "purpose": "program"}).text
    key = page.split('class="key-made">')[1].split("<")[0]
    assert key not in client.get("/shop/keys").text
    with_key = {"Authorization": f"Bearer {key}"}
    body = {"code": "42-622"}
    assert client.post("/api/shelf", json=body, headers=with_key).status_code == 201
    client.post("/shop/keys", data={"revoke": "1"})
    assert client.post("/api/shelf", json=body, headers=with_key).status_code == 401
    assert len(ask(client, "GET", "/shelf?find=42-622")["tires"]) == 1


def test_a_calendar_follows_what_is_due_with_a_key_of_its_own(client: TestClient) -> None:
    page = client.post("/shop/keys", data={"name": "Wall", "purpose": "calendar"}).text
    key = page.split('class="key-made">')[1].split("<")[0]
    assert f"due.ics?key={key}" in page
    assert client.get(f"/logbook/due.ics?key={key}").text.startswith("BEGIN:VCALENDAR")
    assert client.get("/api/jobs", headers={"Authorization": f"Bearer {key}"}).status_code == 401


def test_the_description_is_valid_and_says_what_to_send(client: TestClient) -> None:
    described = client.get("/api/openapi.json").json()
    validate(described)
    schemas = described["components"]["schemas"]
    bodies = {
        body["$ref"].rpartition("/")[2]
        for methods in described["paths"].values()
        for about in methods.values()
        for content in about.get("requestBody", {}).get("content", {}).values()
        if "$ref" in (body := content["schema"])
    }
    assert len(bodies) > 30
    for name in bodies:
        assert schemas[name]["additionalProperties"] is False, name
        assert schemas[name]["description"], name


def test_every_reference_of_the_description_leads_to_a_schema(client: TestClient) -> None:
    described = client.get("/api/openapi.json").json()
    named = set(re.findall(r'"#/components/schemas/([^"]+)"', json.dumps(described)))
    assert {"PlanDocument", "FindDocument", "PhotoMarksDocument", "RimDocument"} <= named
    assert named <= set(described["components"]["schemas"])
    assert "$defs" not in json.dumps(described)


def test_a_photograph_is_sent_as_it_is(client: TestClient) -> None:
    ask(client, "POST", "/jobs/6/card", {"proposal": "A"})
    picture = BytesIO()
    Image.new("RGB", (64, 48), "white").save(picture, "JPEG")
    jpeg = {"Content-Type": "image/jpeg"}
    path, raw = "/api/jobs/6/photos?caption=as+it+came", picture.getvalue()
    sent = client.post(path, content=raw, headers=jpeg)
    (photo,) = sent.json()["photos"]
    assert photo["caption"] == "as it came"
    assert client.get(f"/photos/{photo['file']}").headers["content-type"] == "image/jpeg"
    refused = client.post("/api/jobs/6/photos", content=b"no picture", headers=jpeg)
    assert refused.status_code == 422
    assert ask(client, "DELETE", f"/jobs/6/photos/{photo['id']}") == {"photos": []}


@pytest.mark.parametrize("path", ["/jobs/1/drawing?view=road&magnify=3", "/machines/6/drawing"])
def test_a_side_view_comes_as_svg_and_png(client: TestClient, path: str) -> None:
    joint = "&" if "?" in path else "?"
    assert client.get(f"/api{path}").text.startswith("<svg")
    png = client.get(f"/api{path}{joint}kind=png")
    assert Image.open(BytesIO(png.content)).size[0] == 1600


def test_what_is_not_asked_after_fitting_and_a_job_without_a_document_are_refused(
    client: TestClient,
) -> None:
    refused = client.post("/api/jobs/5/measured", json={"measured": {"wheelbase": 1048}})
    assert (refused.status_code, "“wheelbase”" in refused.text) == (422, True)
    assert client.get("/api/jobs/5/measured").json() == {}
    refused = client.post("/api/jobs/5/corrections", json={"correction": "The front was softer."})
    assert refused.status_code >= 400
    assert "no document yet" in refused.text
