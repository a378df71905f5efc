"""`If-Match` on every write, and what is taken already."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

STALE = {"If-Match": '"0123456789abcdef0123456789abcdef"'}


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("POST", "/api/shelf/1/reserve", {"job": 1, "pieces": 1}),
        ("DELETE", "/api/shelf/1", None),
        ("DELETE", "/api/machines/5", None),
        ("DELETE", "/api/jobs/2", None),
        ("PUT", "/api/templates/Short", {"text": "Wheel in"}),
        ("POST", "/api/machines/1/undo", {}),
        ("POST", "/api/bin/restore", {"kind": "machine", "id": 5}),
        ("POST", "/api/jobs", {"machine": "New one", "front_tire": "37-622"}),
        ("PATCH", "/api/machines/1", {"note": "bell"}),
        ("POST", "/api/jobs/1/proposals", {}),
    ],
)
def test_a_stale_tag_is_refused_and_nothing_is_written(
    client: TestClient, method: str, path: str, body: Any
) -> None:
    before = client.get("/api/export").content
    answer = client.request(method, path, json=body, headers=STALE)
    assert answer.status_code == 412, answer.text
    kept = client.get("/api/export").content
    assert len(kept) == len(before)


def test_a_tag_covers_note_and_phone_and_lists_and_any_are_taken(client: TestClient) -> None:
    tag = client.get("/api/machines/1").headers["ETag"]
    client.patch("/api/machines/1", json={"note": "bell loose"})
    noted = client.get("/api/machines/1")
    assert noted.headers["ETag"] != tag
    assert noted.json()["note"] == "bell loose"
    refused = client.patch("/api/machines/1", json={"phone": "1"}, headers={"If-Match": tag})
    assert refused.status_code == 412
    several = {"If-Match": f"{tag}, {noted.headers['ETag']}"}
    assert client.patch("/api/machines/1", json={"phone": "12"}, headers=several).status_code == 200
    any_tag = {"If-Match": "*"}
    assert client.patch("/api/machines/1", json={"phone": "13"}, headers=any_tag).status_code == 200


def test_an_undo_that_does_nothing_is_a_refusal(client: TestClient) -> None:
    client.patch("/api/machines/1", json={"note": "bell"})
    assert client.post("/api/machines/1/undo", json={}).status_code == 200
    nothing = client.post("/api/machines/1/undo", json={"change": 999_999})
    assert nothing.status_code == 422
    assert nothing.json()["error"]["field"] == "change"


def test_the_last_tire_is_reserved_for_one_job(client: TestClient) -> None:
    (tire,) = [
        one for one in client.get("/api/shelf?find=37-349").json()["tires"] if one["pieces"] == 1
    ]
    answers = [
        client.post(f"/api/shelf/{tire['id']}/reserve", json={"job": job, "pieces": 1})
        for job in (1, 2, 3)
    ]
    assert [answer.status_code for answer in answers] == [200, 422, 422]
    assert "Green tourer" in answers[1].json()["error"]["message"]
    freed = client.post(f"/api/shelf/{tire['id']}/reserve", json={"job": None, "pieces": 1})
    assert freed.status_code == 200
    again = client.post(f"/api/shelf/{tire['id']}/reserve", json={"job": 2, "pieces": 1})
    assert again.status_code == 200


def test_a_set_that_is_being_put_on_leads_to_its_job(client: TestClient) -> None:
    single = next(
        one["id"]
        for one in client.get("/api/machines?find=single").json()["machines"]
        if client.get(f"/api/machines/{one['id']}").json()["sets"]
    )
    sets = client.get(f"/api/machines/{single}").json()["sets"]
    answers = [
        client.post(f"/api/machines/{single}/put-on", json={"set": set_["id"]})
        for set_ in sets
        for _ in range(3)
    ]
    jobs = {answer.json()["id"] for answer in answers if answer.status_code == 201}
    assert len(jobs) == 1
