"""The document of a shop through the pages and the API; its command line."""

import io
import json
import re
import time
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from jsonschema import Draft202012Validator, FormatChecker

from jentrik.cli import main
from jentrik.exchange.shop_schema import json_schema
from jentrik.store import machines, shop_import
from jentrik.store.models import TABLES
from jentrik.web.app import create_app
from jentrik.web.pages.exchange import importing
from tests.conftest import A_MONDAY
from tests.web.conftest import with_token


@pytest.fixture(autouse=True)
def _patient(monkeypatch: pytest.MonkeyPatch) -> None:
    """Wait for an import to end: a busy machine takes longer than a page waits."""
    monkeypatch.setattr(importing, "WAIT_S", 60.0)


@pytest.fixture(name="other")
def _other(tmp_path: Path) -> FastAPI:
    return create_app(tmp_path / "other", now=lambda: A_MONDAY)


def test_the_document_leaves_by_the_api_and_comes_in_elsewhere(
    app: FastAPI, client: TestClient, other: FastAPI
) -> None:
    app.state.shop.database.bind(TABLES)  # the models belong to one shop at a time
    answer = client.get("/api/export")
    assert "attachment" in answer.headers["content-disposition"]
    document = answer.json()
    jsonschema.validate(document, client.get("/api/schema/jentrik-shop").json())
    assert client.get("/api/schema/boats").status_code in (404, 422)
    job = client.get("/api/jobs/11").content
    other.state.shop.database.bind(TABLES)
    with TestClient(other, base_url="http://127.0.0.1") as there:
        tried = there.post("/api/import?dry_run=true", content=answer.content).json()
        assert tried["dry_run"] is True
        assert tried["added"]["machines"] == 11
        assert there.get("/api/export").json().get("machines") == []
        done = there.post("/api/import", content=answer.content).json()
        assert done["added"] == tried["added"]
        back = there.get("/api/export").json()
        assert back | {"exported_at": ""} == document | {"exported_at": ""}
        assert there.get("/api/jobs/11").content == job
        for page in ("/jobs", "/machines/10", "/jobs/1", "/logbook", "/shelf"):
            assert there.get(page).status_code == 200
        refused = there.post("/api/import", content=b"{}")
        assert refused.status_code == 422
        assert "no jentrik-shop document" in refused.json()["error"]["message"]


def test_chosen_machines_and_lists(client: TestClient) -> None:
    part = client.get("/api/export?machine=6&group=machines").json()
    assert [line["id"].partition("-")[2] for line in part["machines"]] == ["6"]
    assert "jobs" not in part
    assert client.get("/api/export?machine=999").status_code == 404
    assert client.get("/api/export?group=boats").status_code == 422


def test_a_document_is_shown_before_it_comes_in(app: FastAPI, client: TestClient) -> None:
    document = client.get("/api/export").json()
    document["machines"][0]["note"] = "from elsewhere"
    brought = {"document": ("shop.json", io.BytesIO(json.dumps(document).encode()))}
    page = client.post("/shop/exchange", files=brought).text
    assert re.search(r"Machines</th><td>–</td><td>1</td><td>10</td>", page)
    assert machines.sheet(1).note != "from elsewhere"
    action = re.search(r'action="(/shop/exchange/[0-9a-f]{16})"', page)[1]
    client.post(action)
    assert machines.sheet(1).note == "from elsewhere"
    kept = [path.name for path in (app.state.shop.folder / "backups").iterdir()]
    assert any(name.startswith("before-import") for name in kept)
    assert client.post(action).status_code == 404  # once is enough


def test_a_file_that_is_no_document_is_refused_on_the_page(client: TestClient) -> None:
    answer = client.post("/shop/exchange", files={"document": ("x.json", io.BytesIO(b"[1"))})
    assert answer.status_code == 422
    assert "The document is cut off" in answer.text
    assert client.post("/shop/exchange").status_code == 422
    assert client.post("/shop/exchange/nothing").status_code == 404


def test_the_command_line_takes_away_and_brings_in(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, there = tmp_path / "shop.json", tmp_path / "there"
    assert main(["export", str(file), "--data", str(demo)]) == 0
    assert main(["import", str(file), "--data", str(there), "--dry-run"]) == 0
    assert "It would be" in capsys.readouterr().out
    assert main(["import", str(file), "--data", str(there), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["added"]["machines"] == 11
    again = tmp_path / "again.json"
    assert main(["export", str(again), "--data", str(there)]) == 0
    first, second = (json.loads(one.read_text(encoding="utf-8")) for one in (file, again))
    assert first | {"exported_at": ""} == second | {"exported_at": ""}
    file.write_text('{"format": "jentrik-shop", "version": 9}', encoding="utf-8")
    assert main(["import", str(file), "--data", str(there)]) == 2
    assert "version 9" in capsys.readouterr().err
    assert main(["import", str(tmp_path / "none.json"), "--data", str(there)]) == 2
    assert main(["export", str(file), "--data", str(tmp_path / "nowhere")]) == 2


def test_a_write_from_elsewhere_is_refused(client: TestClient) -> None:
    headers = {"Origin": "http://evil.invalid"}
    assert client.post("/api/import", content=b"{}", headers=headers).status_code == 403
    client.headers.pop("X-CSRF-Token")
    assert (
        client.post("/shop/exchange", files={"document": ("x", io.BytesIO(b"{}"))}).status_code
        == 403
    )
    with_token(client)


def test_owners_leave_for_an_address_book(client: TestClient) -> None:
    answer = client.get("/api/owners.vcf")
    assert answer.headers["content-type"] == "text/vcard; charset=utf-8"
    assert "FN:Lighthouse keeper\r\n" in answer.text
    assert answer.text.count("BEGIN:VCARD") == len({name for name, _, _ in machines.owners()})


def test_a_long_import_says_how_far_it_is_and_is_stopped_without_harm(
    app: FastAPI, client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    document = client.get("/api/export").json()
    document["machines"][0]["note"] = "from elsewhere"
    brought = {"document": ("shop.json", io.BytesIO(json.dumps(document).encode()))}
    page = client.post("/shop/exchange", files=brought).text
    action = re.search(r'action="(/shop/exchange/[0-9a-f]{16})"', page)[1]
    monkeypatch.setattr(importing, "WAIT_S", 0.05)
    monkeypatch.setattr(shop_import, "_EVERY", 1)
    slow = importing.Importing._progress

    def progress(self: importing.Importing, of: str, lines: int) -> None:
        time.sleep(0.05)
        slow(self, of, lines)

    monkeypatch.setattr(importing.Importing, "_progress", progress)
    there = client.post(action)
    assert there.url.path == "/shop/exchange/progress"
    assert "Stop it" in there.text
    while not app.state.imports.latest.lines:
        time.sleep(0.01)
    part = client.get("/shop/exchange/progress", headers={"HX-Request": "true"})
    assert "lines read" in part.text
    assert "HX-Redirect" not in part.headers
    second = client.post(action)
    assert "Another document is being imported" in second.text
    client.post("/shop/exchange/stop")
    while not app.state.imports.latest.done:
        time.sleep(0.01)
    part = client.get("/shop/exchange/progress", headers={"HX-Request": "true"})
    assert part.headers["HX-Redirect"] == "/shop/exchange/progress"
    assert "stopped; the shop is as it was" in client.get("/shop/exchange/progress").text
    app.state.shop.ready()
    assert machines.sheet(1).note != "from elsewhere"
    monkeypatch.setattr(importing.Importing, "_progress", slow)
    monkeypatch.setattr(importing, "WAIT_S", 60.0)
    client.post(action)  # it is still here, and comes in now
    assert machines.sheet(1).note == "from elsewhere"


def test_a_card_that_speaks_of_a_range_comes_in_again(client: TestClient) -> None:
    # “47 to 57 mm” says its unit once; the mark of that is ours, and no unseen character.
    for job in (1, 3, 4):
        client.post(f"/api/jobs/{job}/card", json={"proposal": "A"})
    there = client.get("/api/export").json()
    assert any("\u2060" in step["plan"] for step in there["card_steps"])
    brought = client.post("/api/import", json=there)
    assert brought.status_code == 200, brought.text
    again = client.get("/api/export").json()
    assert {**again, "exported_at": ""} == {**there, "exported_at": ""}
    there["card_steps"][0]["plan"] = "Spin\u2060 the wheel"
    assert client.post("/api/import", json=there).status_code == 422


def test_a_document_of_another_program_merges_by_its_own_ids(client: TestClient) -> None:
    figure = {"provenance": "measured", "taken_on": "2026-11-20"}
    theirs: dict[str, Any] = {
        "format": "jentrik-shop",
        "version": 1,
        "exported_at": "2026-11-20T10:00:00+00:00",
        "shop": {"name": "Quay booking"},
        "machines": [
            {
                "id": "b-17",
                "name": "Booked tourer",
                "kind": "bicycle",
                "drawn_as": "diamond frame",
                "setup": "found",
            }
        ],
        "setups": [{"id": "found", "machine": "b-17", "name": "As found"}],
        "jobs": [{"id": "job 4", "machine": "b-17", "wanted": "Wider tires"}],
        "measurements": [
            {
                "id": f"{key} of b-17",
                "machine": "b-17",
                "setup": "found",
                "key": key,
                "value": value,
                **figure,
            }
            for key, value in (
                ("front.tire", "37-622"),
                ("rear.tire", "37-622"),
                ("wheelbase_mm", 1050.0),
                ("head_angle_deg", 71.5),
            )
        ],
        "shelf_tires": [{"id": "sku 8", "code": "42-622", "pieces": 3, "price": "31.50"}],
    }
    taken = client.get("/api/shelf?size=1").json()["tires"][0]["id"]
    client.patch(f"/api/shelf/{taken}", json={"fields": {"external_id": "sku 9"}})
    theirs["shelf_tires"].append({"id": "sku 9", "code": "40-622", "pieces": 7})
    asked = client.post("/api/import?dry_run=true", json=theirs)
    assert asked.status_code == 200, asked.text
    added = {"machines": 1, "jobs": 1, "setups": 1, "measurements": 4, "shelf_tires": 1}
    assert asked.json()["added"] == added
    assert client.post("/api/import", json=theirs).status_code == 200
    (machine,) = client.get("/api/machines?external_id=b-17").json()["machines"]
    (job,) = client.get("/api/jobs?external_id=job 4").json()["jobs"]
    assert (job["machine_id"], machine["wheelbase_mm"]) == (machine["id"], 1050)
    assert job["tag"] > 0
    known = client.get(f"/api/shelf/{taken}").json()
    assert (known["code"], known["pieces"]) == ("40-622", 7)
    again = client.post("/api/import", json=theirs).json()
    assert (again["added"], again["changed"]) == ({}, {})
    theirs["machines"][0]["owner"] = "Ada Fairlead"
    assert client.post("/api/import", json=theirs).json()["changed"] == {"machines": 1}
    whole = client.get("/api/export").json()
    Draft202012Validator(json_schema(), format_checker=FormatChecker()).validate(whole)
    for wrong in ("Quay booking", {"name": ""}, {"name": "x", "id": 1}):
        answer = client.post("/api/import", json={**theirs, "shop": wrong})
        assert answer.json()["error"]["field"] == "shop"
