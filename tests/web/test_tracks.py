"""A ride's track on the page: kept with the ride, its waypoints in the log, and out again."""

import gpxpy
import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.exchange.ride_gpx import read_ride, ride_gpx
from jentrik.store import jobs, logbook, rides
from tests.exchange.test_ride_gpx import ENTRIES, recorded


@pytest.fixture(name="ride")
def _ride(app: FastAPI, client: TestClient) -> tuple[int, int, int]:
    """Return a job, its machine and a ride of 20 November."""
    app.state.shop.ready()
    machine_id = jobs.job(1).machine_id
    setup = client.get(f"/api/machines/{machine_id}").json()["setups"][-1]
    body = {"setup": setup["id"], "weather": "dry", "ground": "firm", "form": "rested"}
    client.post("/api/jobs/1/rides", json={**body, "on": "2026-11-20"})
    return 1, machine_id, rides.rides(machine_id)[-1].id


def sent(client: TestClient, ride: tuple[int, int, int], raw: bytes) -> int:
    path = f"/jobs/{ride[0]}/rides/{ride[2]}/gpx-track"
    return client.post(path, files={"track": ("ride.gpx", raw)}).status_code


def test_a_track_stays_with_its_ride(client: TestClient, ride: tuple[int, int, int]) -> None:
    text = ride_gpx(read_ride(recorded(361)).gpx, "x", "", ENTRIES)
    assert sent(client, ride, text.encode()) == 200
    assert "3.6 km in 0:06 h" in in_plain(client.get("/jobs/1?station=ride").text)
    out = client.get(f"/machines/{ride[1]}/rides/{ride[2]}.gpx")
    assert [waypoint.name for waypoint in gpxpy.parse(out.text).waypoints] == [
        one.name for one in ENTRIES
    ]
    assert "ride-2026-11-20.gpx" in out.headers["content-disposition"]
    assert client.get(f"/api/machines/{ride[1]}/rides/{ride[2]}/track").text == out.text
    assert len(logbook.log(ride[1]).punctures) == 1
    assert sent(client, ride, text.encode()) == 200  # again: nothing stands twice
    assert len(logbook.log(ride[1]).punctures) == 1
    client.post(f"/machines/{ride[1]}/undo")
    client.post(f"/machines/{ride[1]}/undo")
    assert rides.track(ride[2]) is None
    assert logbook.log(ride[1]).punctures == ()


def test_a_track_comes_by_the_api(client: TestClient, ride: tuple[int, int, int]) -> None:
    path = f"/api/machines/{ride[1]}/rides/{ride[2]}/track"
    (kept,) = client.put(path, json={"gpx": recorded(361).decode()}).json()["rides"]
    assert (kept["seconds"], round(kept["km"], 1)) == (360, 3.6)
    document = client.get("/api/export").json()
    assert len(document["ride_tracks"]) == 1


def test_another_ones_track_is_refused(client: TestClient, ride: tuple[int, int, int]) -> None:
    other = recorded().decode().replace("2026-11-20", "2025-01-02").encode()
    for raw in (other, b"", b"no gpx"):
        assert sent(client, ride, raw) == 422
    assert sent(client, (1, ride[1], 999), recorded()) == 422
    assert rides.track(ride[2]) is None
    assert client.get(f"/machines/{ride[1]}/rides/{ride[2]}.gpx").status_code == 404
