"""What only pages could do, done by a program: plans, backups, tables, people, many at once."""

from collections import Counter
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import machines, people, shelf


def rules(findings: list[dict[str, Any]]) -> Counter[tuple[str, str]]:
    return Counter((one["rule"], one["severity"]) for one in findings)


@pytest.mark.parametrize("job", range(1, 12))
def test_a_jobs_plan_document_is_judged_as_the_job_is(client: TestClient, job: int) -> None:
    plan = client.get(f"/api/jobs/{job}/plan").json()
    shown = client.get(f"/api/jobs/{job}").json()
    if shown["state"] != "open":
        return
    answer = client.post("/api/plan", json=plan)
    assert answer.status_code == 200, answer.text
    assert answer.json()["baseline"]["geometry"] == shown["found"]["geometry"]
    for planned, kept in zip(answer.json()["proposals"], shown["proposals"], strict=True):
        assert planned["geometry"] == kept["geometry"]
        assert rules(planned["findings"]) == rules(kept["findings"])
    machine = client.get(f"/api/machines/{shown['machine_id']}/plan").json()
    assert machine == {**plan, "proposals": []}


def test_proposals_are_compared_figure_by_figure(client: TestClient) -> None:
    compared, job = client.get("/api/jobs/1/compare").json(), client.get("/api/jobs/1").json()
    for moved, kept in zip(compared["proposals"], job["proposals"], strict=True):
        trail = kept["geometry"]["trail_mm"] - job["found"]["geometry"]["trail_mm"]
        assert moved["moves"]["trail_mm"] == pytest.approx(trail, abs=1e-6)
        assert moved["findings"]["stop"] == sum(
            one["severity"] == "stop" for one in kept["findings"]
        )


def test_what_lacks_before_fitted_is_named_until_it_is_measured(client: TestClient) -> None:
    client.post("/api/jobs/1/card", json={"proposal": "A"})
    before = client.get("/api/jobs/1/before-fitted").json()
    asked = [one["key"] for one in before["lacks"]]
    assert asked
    assert before["open_steps"]
    assert before["measured"] == {}
    first = before["lacks"][0]
    client.post("/api/jobs/1/measured", json={"measured": {first["key"]: first["predicted"]}})
    after = client.get("/api/jobs/1/before-fitted").json()
    assert after["measured"] == {first["key"]: first["predicted"]}
    assert [one["key"] for one in after["lacks"]] == asked[1:]


def test_a_backup_is_fetched_verified_and_put_back(app: FastAPI, client: TestClient) -> None:
    name = client.post("/api/backups").json()["backups"][0]["name"]
    file = client.get(f"/api/backups/{name}")
    assert (file.content[:2], file.headers["content-type"]) == (b"PK", "application/zip")
    holds = client.post(f"/api/backups/{name}/verify").json()
    assert holds["machines"] == len(machines.names())
    client.patch("/api/machines/1", json={"name": "Another name"})
    asked = client.post(f"/api/backups/{name}/restore?dry_run=true").json()
    assert (asked["dry_run"], machines.sheet(1).name) == (True, "Another name")
    client.post("/api/people", json={"name": "Pia"})
    given = client.post(f"/api/backups/{name}/restore").json()
    assert given["differs"]["people_gone"] == ["Pia"]
    assert machines.sheet(1).name != "Another name"
    there = app.state.shop.folder / "backups" / name
    there.write_bytes(there.read_bytes()[:-2000])
    assert client.post(f"/api/backups/{name}/verify").status_code == 422


def test_a_key_opens_neither_keys_nor_sessions_nor_backups(client: TestClient) -> None:
    key = client.post("/api/keys", json={"name": "booking"}).json()["key"]
    name = client.post("/api/backups").json()["backups"][0]["name"]
    asked = {"Authorization": f"Bearer {key}"}
    assert client.get("/api/jobs", headers=asked).status_code == 200
    for method, path in (
        ("GET", "/keys"),
        ("POST", "/keys"),
        ("DELETE", "/keys/1"),
        ("GET", "/sessions"),
        ("GET", f"/backups/{name}"),
        ("POST", f"/backups/{name}/restore"),
    ):
        body = {"name": "more"} if method == "POST" else None
        answer = client.request(method, f"/api{path}", json=body, headers=asked)
        assert answer.status_code == 403, path
    assert [one["name"] for one in client.get("/api/keys").json()["keys"]] == ["booking"]
    ended = client.delete("/api/keys/1").json()["keys"][0]
    assert ended["revoked_at"]
    assert client.get("/api/jobs", headers=asked).status_code == 401


def test_many_tires_and_entries_go_in_together_or_not_at_all(client: TestClient) -> None:
    there = client.get("/api/shelf").json()["total"]
    tires = [{"code": "37-622", "place": "hook 1"}, {"code": "no size", "place": "hook 2"}]
    refused = client.post("/api/shelf/lines", json={"tires": tires})
    assert refused.json()["error"]["field"].startswith("tires[1]")
    assert client.get("/api/shelf").json()["total"] == there
    tires[1]["code"] = "42-622 DOT 0824"
    added = client.post("/api/shelf/lines", json={"tires": tires}).json()["tires"]
    assert [(one["code"], one["place"]) for one in added] == [
        ("37-622", "hook 1"),
        ("42-622", "hook 2"),
    ]
    entries: list[dict[str, Any]] = [
        {"machine_id": 1, "odometer": {"km": 99_000, "swapped": False}},
        {"machine_id": 2, "puncture": {"end": "rear", "what": "glass", "done": ""}},
    ]
    refused = client.post("/api/log", json={"entries": entries})
    assert refused.json()["error"]["field"] == "entries[1].puncture"
    assert 99_000 not in [one["km"] for one in client.get("/api/machines/1/log").json()["odometer"]]
    entries[1]["puncture"]["done"] = "new tube"
    logs = client.post("/api/log", json={"entries": entries}).json()["logs"]
    assert logs[0]["odometer"][-1]["km"] == 99_000
    assert logs[1]["punctures"][-1]["done"] == "new tube"
    both = client.post("/api/log", json={"entries": [{"machine_id": 1}]})
    assert both.status_code == 422


def test_a_table_comes_in_by_its_heads_and_a_refused_line_is_named(client: TestClient) -> None:
    own = client.get("/api/tables/shelf.csv").text
    before = client.get("/api/shelf?size=200").json()
    assert client.post("/api/tables", json={"kind": "tires", "csv": own}).status_code == 201
    assert client.get("/api/shelf?size=200").json() == before
    table = "size,stock,price of one,made by\n40-622,2,31.50,Quayside\nwhat,1,,\n"
    refused = client.post("/api/tables", json={"kind": "tires", "csv": table}).json()["error"]
    assert "line 3" in refused["message"]
    good = {"kind": "tires", "csv": table.rpartition("what")[0], "columns": {"make": 3}}
    assert client.post("/api/tables", json=good).json() == {"lines": 1}
    newest = client.get("/api/shelf").json()["tires"][0]
    assert (newest["code"], newest["pieces"], newest["price"], newest["make"]) == (
        "40-622",
        2,
        "31.50",
        "Quayside",
    )
    assert shelf.known_tire(newest["id"]).make == "Quayside"


def test_people_are_changed_but_never_who_has_a_passphrase(
    app: FastAPI, client: TestClient
) -> None:
    pia = client.post("/api/people", json={"name": "Pia Sound"}).json()["id"]
    change = {"initials": "Pi", "hours_a_day": 4, "external_id": "p-7", "units": {"length": "in"}}
    changed = client.patch(f"/api/people/{pia}", json=change).json()
    assert {name: changed[name] for name in change} == change
    wrong = client.patch(f"/api/people/{pia}", json={"units": {"length": "ell"}})
    assert wrong.json()["error"]["field"] == "units.length"
    known = people.person_of(pia)
    assert known is not None
    with app.state.shop.step("", "people") as step:
        people.set_passphrase(step, known, "low tide")
    for method in ("PATCH", "DELETE"):
        body = {"initials": "X"} if method == "PATCH" else None
        assert client.request(method, f"/api/people/{pia}", json=body).status_code == 422
    assert client.get(f"/api/people/{pia}").json()["initials"] == "Pi"


def test_every_read_of_the_demo_is_as_it_is_described(client: TestClient) -> None:
    # The client holds each answer against the model that the description names for it.
    for code in ("37-622", "120/70 ZR 17 M/C (58W)", "DOT 0824", "MT3.50x17", "52T", "3.50-18"):
        client.get("/api/read", params={"code": code})
    for machine in range(1, 12):
        plan = client.get(f"/api/machines/{machine}/plan").json()
        if machine in (1, 6):
            assert client.post("/api/find", json={**plan, "search": {}}).status_code == 200
        for part in ("", "/photographs", "/log", "/rides", "/speed", "/history"):
            assert client.get(f"/api/machines/{machine}{part}").status_code == 200
    for job in range(1, 21):
        plan = client.get(f"/api/jobs/{job}/plan").json()
        client.post("/api/plan", json={**plan, "advise": True})
        for part in ("", "/answer", "/offer", "/order", "/compare", "/card", "/measured"):
            assert client.get(f"/api/jobs/{job}{part}").status_code < 500
    for path in (
        "practice?count=80",
        "practice/progress",
        "gauges",
        "due",
        "bin",
        "rules",
        "words",
    ):
        assert client.get(f"/api/{path}").status_code == 200
