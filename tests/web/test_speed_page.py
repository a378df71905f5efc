"""One machine's instrument: pairs typed, a ride uploaded, the line put on the sheet."""

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.store import machines, speeds
from jentrik.web.security.guard import LARGEST_UPLOADS
from tests.exchange.test_gpx_track import STEPS, shown_lines, track

HERE = "/machines/6/speed"


@pytest.fixture(autouse=True)
def _ready(app: FastAPI) -> None:
    app.state.shop.ready()


def pair(client: TestClient, true: str, shown: str) -> Response:
    return client.post(f"{HERE}/pairs", data={"true": true, "shown": shown})


def upload(client: TestClient, gpx: bytes, listed: bytes = b"", typed: str = "") -> Response:
    files = {"track": ("ride.gpx", gpx, "application/gpx+xml")}
    if listed:
        files["list"] = ("shown.csv", listed, "text/csv")
    return client.post(f"{HERE}/track", data={"typed": typed}, files=files)


def test_pairs_give_a_line_and_the_line_goes_onto_the_sheet(client: TestClient) -> None:
    assert "two speeds at least" in pair(client, "50", "54").text
    page = pair(client, "100", "106,5").text
    assert "At a true 50 km/h it shows 54.0" in in_plain(page)
    client.post(f"{HERE}/use")
    sheet = machines.sheet(6)
    # (100, 106.5) and (50, 54): slope 1.05, offset 1.5.
    assert sheet.figures["speedometer.reads_over_percent"].value == pytest.approx(5.0)
    assert sheet.figures["speedometer.offset_kmh"].value == pytest.approx(1.5)
    assert "was 106.5" in client.get("/jobs/6?station=check").text


def test_two_pairs_have_no_distance_from_their_line(client: TestClient) -> None:
    pair(client, "50", "54")
    two = pair(client, "100", "106,5").text
    assert "Two pairs leave nothing to check the line by." in two
    assert "Off the line" not in two
    # The middle of three, 1.5 over the line of the outer two, lies 1.0 off the line of all.
    three = pair(client, "75", "81,75").text
    assert "Off the line" in three
    assert "<td>+1.0</td>" in three


@pytest.mark.parametrize(("true", "shown"), [("fast", "50"), ("50", ""), ("2", "3"), ("50", "900")])
def test_a_refused_pair_stays_as_typed_and_keeps_nothing(
    client: TestClient, true: str, shown: str
) -> None:
    answer = pair(client, true, shown)
    assert answer.status_code == 422
    assert f'value="{true}"' in answer.text
    assert speeds.pairs(6) == []


def test_a_ride_gives_pairs_and_says_what_was_left_out(client: TestClient) -> None:
    answer = upload(client, track(STEPS), shown_lines().encode())
    assert answer.status_code == 200
    assert "stops" in answer.text
    assert len(speeds.pairs(6)) > 30
    client.post(f"{HERE}/drop", data={"pair": "all"})
    assert speeds.pairs(6) == []
    client.post("/machines/6/undo")
    assert len(speeds.pairs(6)) > 30


def test_a_bad_ride_keeps_nothing_and_keeps_what_was_typed(client: TestClient) -> None:
    lines = shown_lines()
    for gpx, listed in ((b"", b""), (b"<gpx>", b""), (track(STEPS), b"\0\0\0")):
        answer = upload(client, gpx, listed, typed=lines)
        assert answer.status_code == 422
        assert "time;shown km/h" in answer.text
    assert speeds.pairs(6) == []


def test_too_much_at_once_is_refused_before_it_is_read(client: TestClient) -> None:
    big = {"content-length": str(200_000_000), "content-type": "multipart/form-data; boundary=x"}
    assert client.post(f"{HERE}/track", headers=big).status_code == 413
    assert LARGEST_UPLOADS["/speed/track"] < 200_000_000
    slow = {"transfer-encoding": "chunked", "content-type": "multipart/form-data; boundary=x"}
    assert client.post(f"{HERE}/track", headers=slow, content=iter([b"x"])).status_code == 411


def test_one_pair_is_taken_off_and_a_machine_that_is_not_there_is_said_so(
    client: TestClient,
) -> None:
    pair(client, "50", "54")
    pair(client, "100", "106")
    client.post(f"{HERE}/drop", data={"pair": str(speeds.pairs(6)[0].id)})
    assert [kept.pair.true_kmh for kept in speeds.pairs(6)] == [100]
    assert client.post(f"{HERE}/use").status_code == 422
    assert client.get("/machines/999/speed").status_code == 404
