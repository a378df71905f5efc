"""The shop at eight: whose, promised when, what waits, what arrived, and the list by state."""

import re

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from tests.conftest import A_MONDAY

TOURER, CARGO, LIGHTHOUSE = 1, 20, 10


def line(client: TestClient, job: int) -> dict[str, object]:
    """Return the line of a job in the list."""
    rows = client.get("/api/jobs").json()["jobs"]
    return next(row for row in rows if row["id"] == job)


def test_a_job_is_taken_over_promised_and_rung(client: TestClient) -> None:
    client.post("/who", data={"who": "Pia", "back": "/jobs"})
    assert client.post(f"/jobs/{LIGHTHOUSE}/day", data={"act": "take"}).status_code == 200
    assert line(client, LIGHTHOUSE)["whose"] == "Pia"
    promise = {"act": "promise", "day": "2026-11-24", "time": "9.30"}
    client.post(f"/jobs/{LIGHTHOUSE}/day", data=promise)
    assert str(line(client, LIGHTHOUSE)["promised_at"]).startswith("2026-11-24T09:30:00+")
    for filtered, count in (("mine", 1), ("ready", 1), ("waits", 1)):
        assert len(client.get(f"/api/jobs?state={filtered}").json()["jobs"]) == count
    ready = line(client, CARGO)
    assert (ready["stage"], ready["next"]) == ("ready", "Ring")
    assert 'href="tel:5550117"' in client.get("/jobs?state=ready").text
    client.post(f"/jobs/{CARGO}/day", data={"act": "rung"})
    assert line(client, CARGO)["next"] == "Hand over"
    client.post(f"/jobs/{CARGO}/day", data={"act": "not rung"})
    assert line(client, CARGO)["next"] == "Ring"


def test_without_a_person_at_the_screen_taking_a_job_asks_who(client: TestClient) -> None:
    answer = client.post(f"/jobs/{LIGHTHOUSE}/day", data={"act": "take"}, follow_redirects=False)
    assert answer.headers["location"].startswith("/shop/people?back=")
    refused = client.post(f"/api/jobs/{LIGHTHOUSE}/day", json={"act": "take"})
    assert refused.json()["error"]["field"] == "who"
    refused = client.post(f"/api/jobs/{LIGHTHOUSE}/day", json={"act": "give", "whose": "Zeno"})
    assert refused.json()["error"]["field"] == "whose"
    assert line(client, LIGHTHOUSE)["whose"] == ""


def test_the_next_day_with_room_is_after_what_is_promised(client: TestClient) -> None:
    client.post("/shop/people", data={"act": "add", "name": "Pia"})
    number = client.get("/api/people").json()["people"][0]["id"]
    client.post("/shop/people", data={"act": "hours", "person": str(number), "hours": "1.5"})
    give = {"act": "give", "whose": "Pia"}
    taken = []
    for job in (LIGHTHOUSE, 6, 9):
        client.post(f"/api/jobs/{job}/day", json=give)
        client.post(f"/api/jobs/{job}/day", json={"act": "next day with room"})
        taken.append((line(client, job)["due_on"], line(client, job)["hours"]))
    monday, tuesday = A_MONDAY.date().isoformat(), "2026-11-24"
    assert taken == [(monday, 1.0), (tuesday, 2.0), (monday, 0.5)]
    strip = client.get("/jobs").text.partition('class="day-strip"')[2].partition("</ul>")[0]
    assert re.search(r"Pia</span> <meter[^>]*high=\"1.5\" value=\"1.5\"", strip), strip


@pytest.mark.parametrize("typed", ["25:00", "soon", "12:99"])
def test_an_hour_that_is_none_is_refused(client: TestClient, typed: str) -> None:
    said = {"act": "promise", "day": "2026-11-24", "time": typed}
    assert client.post(f"/api/jobs/{TOURER}/day", json=said).status_code == 422
    assert line(client, TOURER)["promised_time"] == "16:00"


def test_a_part_that_arrives_says_where_it_lies_and_which_job_it_frees(client: TestClient) -> None:
    orders = in_plain(client.get("/orders?find=47-584+tag+17").text)
    assert orders.count(">Arrived</button>") == 2
    assert "None of the 2 parts" in client.get("/orders?find=zeppelin").text
    part, rear = "front tire 47-584", "rear tire 47-584"
    first = client.post(f"/orders/{TOURER}/arrived", data={"part": part, "place": "hook 5"})
    assert "It lies at hook 5. The job still waits for rear tire 47-584" in in_plain(first.text)
    again = client.post(f"/orders/{TOURER}/arrived", data={"part": part})
    assert again.status_code == 422
    assert client.get("/orders?find=tag+1").text.count(">Arrived</button>") == 0  # no other tag's
    done = client.post(f"/orders/{TOURER}/arrived", data={"part": rear, "place": "hook 6"})
    assert "can go on. It lies at hook 6" in done.text
    assert line(client, TOURER)["waits_for"] == ""
    assert line(client, TOURER)["lies"] == "hook 5, hook 6"
    assert "Nothing is ordered" in client.get("/orders").text


def test_a_scanned_tag_or_label_opens_what_it_hangs_on(client: TestClient) -> None:
    client.post("/shelf", data={"code": "37-622"})
    tire = client.get("/api/shelf").json()["tires"][0]["id"]
    for code, there in (
        ("tag 17", "/jobs/1"),
        ("Machine 4", "/machines/4"),
        (f"Tire {tire}", f"/shelf/tires/{tire}"),
        ("http://192.168.1.20:8000/jobs/3", "/jobs/3"),
        ("tag 9999", "/read?code=tag+9999"),
        ("37-622", "/read?code=37-622"),
        ("http://elsewhere/jobs/3/../../x", "/read?code=http"),
    ):
        answer = client.get("/scan", params={"code": code}, follow_redirects=False)
        assert answer.headers["location"].startswith(there), code


def test_codes_on_paper_hold_an_address_only_where_the_shop_has_one(
    client: TestClient, app: FastAPI
) -> None:
    before = client.get("/jobs/1/tag").text
    assert 'class="qr-code"' in before
    client.post("/shop/answer", data={"policy:head.site": "http://192.168.1.20:8000"})
    assert client.get("/jobs/1/tag").text != before
    refused = client.post("/shop/answer", data={"policy:head.site": "javascript:alert(1)"})
    assert refused.status_code == 422


def test_what_happened_is_told_in_order_and_what_is_taken_back_too(client: TestClient) -> None:
    start = client.get("/api/changes?since=999999").json()["next"]
    last = 0
    while (page := client.get(f"/api/changes?since={last}").json())["changes"]:
        last = page["next"]
    assert start == 999999
    client.post(f"/jobs/{TOURER}/answer", data={"job:wanted": "quieter"})
    client.post(f"/jobs/{TOURER}/undo")
    told = client.get(f"/api/changes?since={last}").json()["changes"]
    assert [one["what"] for one in told] == ["wanted: quieter", "taken back: wanted: quieter"]
    assert {(one["kind"], one["id"]) for one in told} == {("job", TOURER)}
    assert all(re.search(r"[+-]\d\d:\d\d$", one["at"]) for one in told)
