"""The logbook in the browser's words: looks, odometer, punctures, what is due, bin, history."""

from datetime import date, timedelta
from pathlib import Path
from typing import Any

import icalendar
import peewee
import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.store import jobs, logbook, machines
from jentrik.store.database import FILE_NAME, migrate, open_database
from tests.conftest import A_MONDAY

M = 6
TODAY = A_MONDAY.date()


@pytest.fixture(autouse=True)
def _ready(app: FastAPI) -> None:
    app.state.shop.ready()


def post(client: TestClient, kind: str, **form: Any) -> Response:
    return client.post(f"/machines/{M}/log/{kind}", data=form)


def ago(days: int) -> str:
    return (TODAY - timedelta(days=days)).isoformat()


def tread(mm: float) -> dict[str, str]:
    return {"tread_left_mm": f"{mm}", "tread_middle_mm": f"{mm}", "tread_right_mm": f"{mm}"}


def mine(kind: str) -> list[Any]:
    return [one for one in getattr(logbook.log(M), kind) if one.machine_id == M]


def shop_of(client: TestClient) -> Any:
    """Return the shop behind a client, for what no page writes."""
    return client.app.state.shop  # type: ignore[attr-defined]


def cleared(client: TestClient) -> None:
    """Take away what the demo noted of this machine."""
    for table in ("inspection", "odometer", "odometer_check", "fitting", "puncture"):
        shop_of(client).database.execute_sql(f"DELETE FROM {table}")


def test_looks_wear_into_a_projected_day_and_a_due_line(client: TestClient) -> None:
    cleared(client)
    for days, km, mm in ((200, "10000", 7), (100, "13000", 5.5)):
        answer = post(
            client,
            "look",
            end="rear",
            look="at intervals",
            on=ago(days),
            km=km,
            made="1224",
            **tread(mm),
        )
        assert answer.status_code == 200
    # 1.5 mm on 3000 km: 0.5 for 1000; 2.5 mm to the shop's 3 mm are 5000 km at 30 a day: 166 days.
    page = client.get(f"/machines/{M}/log").text
    assert "Wears 0.50" in page
    assert "3.0\u2009mm (shop) in about 5000\u2009km" in page
    day = date.fromisoformat(ago(100)) + timedelta(days=166)
    assert "rear tire worn to 3 mm" in in_plain(client.get("/logbook").text)
    assert f"{day:%d %b %Y}" in in_plain(client.get("/logbook").text)
    assert "Wears out first" in page
    client.post(f"/machines/{M}/undo")
    assert len(mine("looks")) == 1


def test_a_tread_without_the_odometer_moves_the_expected_day(client: TestClient) -> None:
    cleared(client)
    for days, km, mm in ((200, "10000", 7), (100, "13000", 5.5), (10, "", 4.5)):
        post(client, "look", end="rear", look="at intervals", on=ago(days), km=km, **tread(mm))
    # 0.5 for 1000 as before; from 4.5 on 1.5 mm to the shop's 3 are 3000 km.
    page = client.get(f"/machines/{M}/log").text
    assert "Wears 0.50" in page
    assert "3.0\u2009mm (shop) in about 3000\u2009km" in page


@pytest.mark.parametrize(
    ("what", "form", "said"),
    [
        ("look", {"on": "2027-01-01"}, "still to come"),
        ("look", {"on": "soon"}, "not a day"),
        ("look", {"tread_left_mm": "5"}, "three places"),
        ("look", {"made": "9923"}, "no week"),
        ("look", {"signs": "ghosts"}, "nothing a look can find"),
        ("look", tread(9.0), "would have grown"),
        ("odometer", {"km": "900"}, "swapped"),
        ("odometer", {"km": "lots"}, "not a figure"),
        ("odometer", {"km": "-5"}, "no odometer"),
        ("odometer", {"km": "30000", "on": ago(60)}, "stood there later"),
        ("check", {"counted_km": "10", "true_km": "20"}, "more than a third"),
        ("puncture", {"end": "front", "what": "", "done": "x"}, "what was found"),
        ("puncture", {"end": "side", "what": "nail", "done": "x"}, "not one of front or rear"),
        ("stand", {"on": "2027-01-01"}, "still to come"),
    ],
)
def test_a_refused_entry_keeps_nothing_and_what_was_typed(
    client: TestClient, what: str, form: dict[str, str], said: str
) -> None:
    cleared(client)
    post(client, "odometer", km="1000", on=ago(90))
    post(client, "odometer", km="2000", on=ago(30))
    post(client, "look", end="front", look="at intervals", on=ago(90), **tread(6.0))
    before = repr(logbook.log(M))
    answer = post(client, what, **({"end": "front"} if what == "look" else {}) | form)
    assert answer.status_code == 422
    assert said in answer.text.replace("&#39;", "'")
    for value in form.values():
        if value not in ("front", "side", "ghosts", "x", ""):
            assert f'value="{value}"' in answer.text
    assert repr(logbook.log(M)) == before


def test_another_instrument_starts_anew_and_a_wheel_change_corrects_the_count(
    client: TestClient,
) -> None:
    cleared(client)
    post(client, "odometer", km="9000", on=ago(50))
    post(client, "odometer", km="12", on=ago(40), swapped="yes")
    post(client, "check", true_km="20", counted_km="20.8", on=ago(40))
    with shop_of(client).step("fitted", "test", machine_id=M) as step:
        logbook.add_fitting(
            step,
            M,
            job_id=None,
            on=TODAY - timedelta(days=20),
            summary="x",
            front_tire="100/90-19",
            rear_tire=None,
            sensed_ratio=1.02,
            by="",
        )
    result = logbook.log(M).corrections(M)
    assert [one.true_per_counted for one in result] == pytest.approx([20 / 20.8, 1.02 * 20 / 20.8])
    assert "reads 2.0 % high" in client.get(f"/machines/{M}/log").text


def test_the_sidewalls_most_is_a_wall_for_the_tire_it_stands_on(client: TestClient) -> None:
    cleared(client)
    client.post(f"/machines/{M}/answer", data={"sheet:rear.fitted.most_kpa": "290"})
    post(client, "look", end="rear", look="at intervals", on=ago(3), pressure_kpa="3 bar")
    assert "3.0 bar is above the sidewall" in in_plain(client.get(f"/machines/{M}/log").text)
    post(
        client,
        "look",
        end="rear",
        look="before mounting",
        on=ago(2),
        pressure_kpa="3 bar",
        tire="120/90-18 65H",
    )
    look = mine("looks")[-1].look
    assert (look.tire, look.look.value) == ("120/90-18 65H", "before mounting")
    answer = post(client, "look", end="rear", look="before mounting", on=ago(2), tire="120/90-1x")
    assert answer.status_code == 422
    assert "120/90-1x" in answer.text


def test_a_puncture_and_a_machine_that_stands(client: TestClient) -> None:
    post(client, "puncture", end="rear", what="nail, 3 mm", done="tire replaced")
    assert mine("punctures")[-1].what == "nail, 3 mm"
    post(client, "stand", on=ago(10))
    assert "move or turn the wheels" in in_plain(client.get("/logbook").text)
    post(client, "stand", ridden="yes")
    assert "move or turn the wheels" not in client.get(f"/machines/{M}/log").text


def test_the_calendar_is_one_another_program_reads_and_keeps_its_events(client: TestClient) -> None:
    first = client.get("/logbook/due.ics")
    assert first.headers["content-type"].startswith("text/calendar")
    calendar = icalendar.Calendar.from_ical(first.content)
    events = calendar.walk("VEVENT")
    assert len(events) >= 11  # the demo's jobs
    raw = first.content.decode()
    assert raw.startswith("BEGIN:VCALENDAR\r\n")
    assert all(len(line.encode()) <= 75 for line in raw.split("\r\n"))  # RFC 5545, 3.1
    for event in events:
        assert {"UID", "DTSTAMP", "DTSTART", "SUMMARY"} <= set(event)
        assert event.decoded("dtend") - event.decoded("dtstart") == timedelta(days=1)
    client.post("/jobs/1/answer", data={"job:due_on": "2026-12-24"})
    again = icalendar.Calendar.from_ical(client.get("/logbook/due.ics").content)
    ids = {str(event["uid"]): event.decoded("dtstart") for event in events}
    moved = {str(event["uid"]): event.decoded("dtstart") for event in again.walk("VEVENT")}
    assert ids.keys() == moved.keys()
    (job,) = [on for uid, on in moved.items() if uid.startswith("job-1@")]
    assert job == date(2026, 12, 24)


def test_what_is_put_in_the_bin_comes_back(client: TestClient) -> None:
    assert "on the bench" in client.post(f"/machines/{M}/bin").text
    client.post("/jobs/6/bin")
    assert 6 not in {job.id for job in jobs.jobs()}
    assert client.get("/jobs/6").status_code == 404
    client.post(f"/machines/{M}/bin")
    assert M not in {sheet.id for sheet in machines.sheets()}
    assert client.get("/logbook").status_code == client.get("/jobs").status_code == 200
    refused = client.post("/bin/restore", data={"what": "job:6"})
    assert (refused.status_code, "machine is in the bin" in refused.text) == (422, True)
    client.post("/bin/restore", data={"what": f"machine:{M}"})
    client.post("/bin/restore", data={"what": "job:6"})
    assert 6 in {job.id for job in jobs.jobs()}


def test_every_change_says_who_when_from_and_to(client: TestClient) -> None:
    client.post("/who", data={"who": "Ida", "back": "/jobs"})
    client.post(f"/machines/{M}/answer", data={"sheet:wheelbase_mm": "1420"})
    client.post(f"/machines/{M}/undo")
    page = in_plain(client.get(f"/machines/{M}/history").text)
    assert "Ida" in page
    assert "<td>Wheelbase</td><td>1415 mm (measured)</td><td>1420 mm (measured)</td>" in page
    assert 'class="first taken-back"' in page


@pytest.mark.parametrize("version", range(6, 9))
def test_a_shop_of_a_version_before_the_logbook_keeps_its_jobs(
    tmp_path: Path, version: int
) -> None:
    folder = tmp_path / "old"
    folder.mkdir()
    old = peewee.SqliteDatabase(str(folder / FILE_NAME))
    old.connect()
    migrate(old, to=version)
    old.execute_sql(
        "INSERT INTO machine (id, name, kind, drawn_as, created_at)"
        " VALUES (1, 'old', 'bicycle', 'diamond frame', '2026-01-01')"
    )
    old.execute_sql(
        "INSERT INTO job (id, tag, machine_id, wanted, created_at)"
        " VALUES (1, 5, 1, 'tires', '2026-01-01')"
    )
    old.close()
    opened = open_database(folder)
    (job,) = jobs.jobs()
    assert (job.tag, job.closed_at) == (5, None)
    assert logbook.log().looks == ()
    opened.close()
