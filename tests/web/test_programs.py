"""Lists for programs: pages, what changed since, their own keys; moments with their offset."""

import re
from typing import Any

import pytest
from fastapi.testclient import TestClient

LISTS = {"jobs": "jobs", "machines": "machines", "shelf": "tires", "people": "people"}
MOMENT = re.compile(r"^\d{4}-\d\d-\d\dT\d\d:\d\d")


def moments(value: Any) -> list[str]:
    """Return every moment in a document."""
    if isinstance(value, dict):
        return [one for part in value.values() for one in moments(part)]
    if isinstance(value, list):
        return [one for part in value for one in moments(part)]
    return [value] if isinstance(value, str) and MOMENT.match(value) else []


@pytest.mark.parametrize(("path", "name"), LISTS.items())
def test_a_list_is_asked_by_pages_and_says_how_many_there_are(
    client: TestClient, path: str, name: str
) -> None:
    for person in ("Pia", "Jo", "Una"):
        client.post("/api/people", json={"name": person})
    whole = client.get(f"/api/{path}?size=200").json()
    assert whole["total"] == len(whole[name]) > 2
    seen = []
    for number in range(1, whole["total"] + 1):
        page = client.get(f"/api/{path}?size=1&page={number}").json()
        assert (len(page[name]), page["total"]) == (1, whole["total"])
        assert page["more"] is (number < whole["total"])
        seen += page[name]
    assert seen == whole[name]
    for asked in ("size=0", "size=201", "page=0", "changed_since=soon", "colour=red"):
        refused = client.get(f"/api/{path}?{asked}")
        assert refused.status_code == 422, asked
        assert refused.json()["error"]["field"] == asked.partition("=")[0]


def test_what_changed_since_a_moment_is_listed_and_what_is_taken_back_too(
    client: TestClient,
) -> None:
    # The demo's clock stands: what is written now is of that very moment, in any offset.
    later = "2026-11-23T23:00:00+00:00"
    assert client.get("/api/jobs", params={"changed_since": later}).json()["total"] == 0
    now = client.patch("/api/jobs/5", json={"external_id": "b-5"})
    assert now.json()["external_id"] == "b-5"
    for path in LISTS:
        answer = client.get(f"/api/{path}", params={"changed_since": "2026-11-23"}).json()
        assert isinstance(answer["total"], int)
    client.delete("/api/jobs/6")  # what went into the bin is listed, and says so
    asked = {"changed_since": "2026-11-23", "size": "200"}
    states = {
        row["id"]: row["state"] for row in client.get("/api/jobs", params=asked).json()["jobs"]
    }
    assert (states[5], states[6]) == ("open", "binned")
    client.post("/api/jobs/5/close", json={"act": "unfitted", "why": "sold"})
    assert client.get("/api/jobs", params={"external_id": "b-5"}).json()["total"] == 1


def test_a_thing_is_found_by_another_programs_own_key(client: TestClient) -> None:
    key = "booking:77/ä"
    job = client.post(
        "/api/jobs", json={"machine": "Brick", "front_tire": "37-622", "external_id": key}
    ).json()
    assert (job["external_id"], job["machine_id"]) == (key, job["machine_id"])
    machine = client.patch(f"/api/machines/{job['machine_id']}", json={"external_id": key}).json()
    person = client.post("/api/people", json={"name": "Pia", "external_id": key}).json()
    tire = client.post("/api/shelf", json={"code": "37-622", "external_id": key}).json()
    assert [machine["external_id"], tire["external_id"]] == [key, key]
    assert [one["external_id"] for one in person["people"]] == [key]
    for path, name in LISTS.items():
        found = client.get(f"/api/{path}", params={"external_id": key}).json()
        assert (found["total"], len(found[name])) == (1, 1), path
        assert client.get(f"/api/{path}", params={"external_id": "none"}).json()["total"] == 0
    twice = client.post("/api/shelf", json={"code": "37-622", "external_id": key})
    assert twice.status_code == 422
    long = client.patch(f"/api/jobs/{job['id']}", json={"external_id": "x" * 101})
    assert long.json()["error"]["field"] == "external_id"
    part = "front tire 47-584"
    order = client.patch("/api/jobs/1/order", json={"entries": {f"external_id:{part}": "sku-9"}})
    assert "sku-9" in [line["external_id"] for line in order.json()["lines"]]


def test_every_moment_of_every_answer_has_its_offset(client: TestClient) -> None:
    done = client.get("/api/jobs?state=done").json()["jobs"][0]["id"]
    client.post("/api/jobs/10/agreed", json={"proposal": "A", "by": "Ada"})
    count = 0
    for path in (
        *("/api/jobs?state=all&size=200", "/api/jobs/5", "/api/jobs/5/card", "/api/bin"),
        *(f"/api/jobs/{done}", f"/api/jobs/{done}/card", "/api/changes?since=0", "/api/backups"),
        *("/api/jobs/10/offer", "/api/machines/9/rides", "/api/machines/6/log", "/api/export"),
        *("/api/machines/9/photographs", "/api/machines/6/history", "/api/due"),
    ):
        answer = client.get(path).json()
        answer.pop("job_documents", None)  # what is sealed stays as it was written
        for moment in moments(answer):
            assert re.search(r"([+-]\d\d:\d\d|Z)$", moment), (path, moment)
            count += 1
    assert count > 100
