"""Station Ride in the browser's words."""

from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.store import jobs, rides, setups
from tests.conftest import A_MONDAY

JOB = 6
USUAL = {"weather": "dry", "ground": "firm", "form": "as usual"}


@pytest.fixture(autouse=True)
def _ready(app: FastAPI) -> None:
    app.state.shop.ready()


def setup(client: TestClient, name: str, **parts: Any) -> Response:
    return client.post(f"/jobs/{JOB}/setups", data={"name": name, **parts})


def ridden(client: TestClient, setup_id: int, **more: Any) -> Response:
    return client.post(f"/jobs/{JOB}/rides", data={"setup": str(setup_id), **USUAL, **more})


def test_first_rides_open_with_the_brief_until_someone_rode(client: TestClient) -> None:
    assert "Never ride to test a clearance" in client.get(f"/jobs/{JOB}?station=ride").text
    page = client.get("/jobs/9?station=ride").text
    assert "rear grip better" in page.lower()
    assert "Rear pressure 1.65 → 1.45 bar".lower() in in_plain(page).lower()


def test_setups_and_rides_are_kept_compared_and_lead_to_a_proposal(client: TestClient) -> None:
    tires = {"front.tire": "3.25-19 54S", "rear.tire": "4.00-18 64S"}
    setup(client, "Inch", **tires)
    setup(client, "Metric", **tires | {"front.tire": "90/90-19 52H"})
    first, second = setups.setups(JOB)
    ridden(client, second.id, **{"score:stability": "4", "note": "steady"})
    page = client.get(f"/jobs/{JOB}?station=ride").text
    assert "This comparison says nothing yet" in page
    assert "front tire 3.25-19 54S → 90/90-19 52H" in page
    assert "steady" in page
    assert "1 ride" in page
    assert "steady" in client.get("/logbook").text
    many = len(jobs.job(JOB).proposals)
    client.post(f"/jobs/{JOB}/outcome", data={"outcome": "go back", "setup": str(first.id)})
    back = jobs.job(JOB).proposals[-1]
    assert back.changes["front"]["tire"] == "3.25-19 54S"  # the metric tire is on it now
    client.post(f"/jobs/{JOB}/outcome", data={"outcome": "adjust"})
    assert len(jobs.job(JOB).proposals) == many + 2
    client.post(f"/jobs/{JOB}/outcome", data={"outcome": "keep"})
    assert jobs.job(JOB).wanted.endswith("(kept)")
    assert first.name == "Inch"


@pytest.mark.parametrize(
    ("kind", "form", "said"),
    [
        ("setups", {"name": ""}, "Say what it is"),
        ("setups", {"name": "x", "front.tire": "58-5"}, ""),
        ("setups", {"name": "x", "rear.fitted.pressure_kpa": "soft"}, "not a figure"),
        ("rides", {"score:braking": "9"}, "1 to 5"),
        ("rides", {"score:braking": "good"}, "score"),
        ("rides", {"setup": "999"}, "set-up that was ridden"),
        ("rides", {"weather": "hail"}, "dry"),
        ("rides", {"on": "2027-01-01"}, "still to come"),
        ("rides", {"on": "soon"}, "not a day"),
        ("rides", {"note": "x" * 301}, "at most 300"),
    ],
)
def test_what_is_refused_keeps_nothing_and_what_was_typed(
    client: TestClient, kind: str, form: dict[str, str], said: str
) -> None:
    setup(client, "Inch")
    known = str(setups.setups(JOB)[0].id)
    data = ({"setup": known, **USUAL} if kind == "rides" else {}) | form
    answer = client.post(f"/jobs/{JOB}/{kind}", data=data)
    assert answer.status_code == 422
    assert said in answer.text
    assert (len(setups.setups(JOB)), rides.rides(JOB)) == (1, [])
    for name, value in form.items():
        if name not in ("setup", "weather") and value:
            assert f'value="{value}"' in answer.text


def test_a_ride_of_another_day_than_today_is_kept_there(client: TestClient) -> None:
    setup(client, "Inch")
    ridden(client, setups.setups(JOB)[0].id, on="2026-11-20")
    assert rides.rides(JOB)[0].on.isoformat() == "2026-11-20"
    assert rides.rides(JOB)[0].on < A_MONDAY.date()
