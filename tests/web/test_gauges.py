"""Readings taken into fields: value, ± and provenance, or one sentence why not."""

import json

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.machine.figure import Provenance
from jentrik.devices.port import Taken
from jentrik.store import cards, gauges, logbook, machines, speeds


@pytest.fixture(autouse=True)
def _quick(app: FastAPI) -> None:
    shop = app.state.shop
    object.__setattr__(shop, "wait", lambda seconds: None)  # a test need not wait for a tool
    shop.ready()


def test_a_reading_fills_a_figure_with_its_plus_minus_and_where_it_came_from(
    client: TestClient,
) -> None:
    before = machines.sheet(6).figures["rake_deg"]
    there = client.post(
        "/machines/6/gauge", data={"gauge": "rake_deg", "back": "/jobs/6"}, follow_redirects=False
    )
    assert there.headers["location"] == "/jobs/6"
    after = machines.sheet(6).figures["rake_deg"]
    assert abs(after.value - before.value) < 1
    assert (after.plus_minus, after.provenance) == (0.15, Provenance.SIMULATED)
    client.post("/machines/6/gauge", data={"gauge": "side_stand.lean_deg"})
    assert gauges.gauge("angle").battery_percent == 96


def test_a_tool_that_is_off_or_flat_says_so_and_changes_nothing(client: TestClient) -> None:
    before = machines.sheet(6)
    client.post("/shop/gauges", data={"tool": "angle", "act": "switch"})
    off = client.post("/machines/6/gauge", data={"gauge": "rake_deg"})
    assert (off.status_code, "switched off" in off.text) == (422, True)
    client.post("/shop/gauges", data={"tool": "angle", "act": "switch"})
    for _ in range(50):
        client.post("/machines/6/gauge", data={"gauge": "side_stand.lean_deg"})
    flat = client.post("/machines/6/gauge", data={"gauge": "rake_deg"})
    assert "battery is flat" in flat.text
    assert machines.sheet(6).figures["rake_deg"] == before.figures["rake_deg"]
    client.post("/shop/gauges", data={"tool": "angle", "act": "charge"})
    client.post("/shop/gauges", data={"tool": "angle", "act": "zero"})
    tool = gauges.gauge("angle")
    assert (tool.on, tool.battery_percent, tool.zero_error) == (True, 100, 0)
    assert client.post("/machines/6/gauge", data={"gauge": "wheelbase_mm"}).status_code == 404
    assert client.post("/shop/gauges", data={"tool": "hammer", "act": "zero"}).status_code == 404
    assert "Digital angle finder" in client.get("/shop/gauges").text


def test_a_look_is_filled_before_it_is_kept(client: TestClient) -> None:
    data = {"end": "rear", "look": "at intervals", "gauge": "tread", "note": "by hand"}
    page = client.post("/machines/6/log/look/gauge", data=data).text
    many = len(logbook.log(6).looks)
    values = [
        page.split(f'name="tread_{one}_mm" value="')[1].split('"')[0]
        for one in ("left", "middle", "right")
    ]
    assert all(3 < float(value) < 6 for value in values)
    assert 'value="by hand"' in page
    page = client.post("/machines/6/log/look/gauge", data=data | {"gauge": "pressure"}).text
    assert 1.8 < float(page.split('name="pressure_kpa" value="')[1].split('"')[0]) < 2.3
    assert len(logbook.log(6).looks) == many
    unknown = client.post("/machines/2/log/look/gauge", data={"end": "front", "gauge": "tread"})
    assert (unknown.status_code, "nothing to measure" in unknown.text) == (422, True)


def test_a_card_takes_gaps_by_calipers_and_a_torque_by_wrench_only_after_the_makers(
    client: TestClient,
) -> None:
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    card = cards.card_of(6)
    gap = next(step for step in card.steps if step.plan.measures == "place:Fork legs")
    client.post(f"/jobs/6/card/steps/{gap.id}", data={"version": "0", "act": "gauge"})
    result = next(step for step in cards.card_of(6).steps if step.id == gap.id)
    assert abs(float(result.reading) - 9.8) < 2  # 10 mm were predicted
    axle = next(step for step in card.steps if step.plan.fastener == "front axle")
    none = client.post(f"/jobs/6/card/steps/{axle.id}", data={"version": "0", "act": "gauge"})
    assert "maker&#39;s torque first" in none.text
    form = {"version": "0", "act": "gauge", "torque_nm": "65", "torque_source": "maker's manual"}
    client.post(f"/jobs/6/card/steps/{axle.id}", data=form)
    result = next(step for step in cards.card_of(6).steps if step.id == axle.id)
    assert abs(float(result.reading) - 65) < 3
    assert result.torque_nm == 65


def test_logger_and_reader_give_pairs_that_make_a_line(client: TestClient) -> None:
    client.post("/machines/6/speed/gauge")
    client.post("/machines/6/speed/gauge")
    assert [round(pair.pair.true_kmh, -1) for pair in speeds.pairs(6)] == [50, 90]
    assert "Shown =" in client.get("/machines/6/speed").text
    assert "nothing to measure" in client.post("/machines/4/speed/gauge").text


def test_a_real_tool_is_read_in_place_of_its_stand_in(
    app: FastAPI, client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    tool = {"driver": "serial text", "name": "Bench level", "quantity": "angle", "plus_minus": 0.2}
    file = app.state.shop.folder / "gauges.json"
    file.write_text(json.dumps({"tools": [{**tool, "device": "/dev/none"}]}))
    page = client.get("/shop/gauges").text
    assert "Bench level" in page
    assert "Digital angle finder" not in page
    refused = client.post("/machines/6/gauge", data={"gauge": "rake_deg"})
    assert (refused.status_code, "no answer at /dev/none" in refused.text) == (422, True)
    read = Taken(27.4, 0.2, "Bench level")
    monkeypatch.setattr("jentrik.devices.serial_text.SerialText.read", lambda self, place: read)
    client.post("/machines/6/gauge", data={"gauge": "rake_deg"})
    rake = machines.sheet(6).figures["rake_deg"]
    assert (rake.value, rake.plus_minus, rake.provenance) == (27.4, 0.2, Provenance.MEASURED)
    file.write_text("{")
    assert "gauges.json cannot be read" in client.get("/shop/gauges").text
    assert client.post("/machines/6/gauge", data={"gauge": "rake_deg"}).status_code == 422
