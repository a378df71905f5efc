"""A person sees and types figures in their own units; what is kept, files and the API stay."""

import json
import re
from html import unescape

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import JOINER, THIN
from jentrik.store import cards, costs, logbook, machines
from jentrik.store.own_units import own_units
from jentrik.web.live.fields import FIELDS_HEADER, LIVE_HEADER
from tests.web.walk import entries

INCHES = {"length": "in", "speed": "mph", "pressure": "psi", "mass": "lb", "torque": "lbf·ft"}
LIVE = {LIVE_HEADER: "1", "HX-Request": "true"}


@pytest.fixture(name="pat")
def _pat(client: TestClient) -> TestClient:
    """Return the client of a person who reads inches and miles."""
    answer = client.post("/shop/units", data={"who": "Pat", **INCHES}, follow_redirects=False)
    assert answer.status_code == 303
    return client


def typed(client: TestClient, path: str, name: str, text: str) -> tuple[Response, dict[str, str]]:
    answer = client.post(path, data={name: text}, headers=LIVE)
    return answer, json.loads(answer.headers[FIELDS_HEADER])[name]


def value_of(page: str, name: str) -> str:
    return re.search(rf'name="{re.escape(name)}" value="([^"]*)"', page)[1]


def test_a_choice_is_the_persons_and_survives_their_next_visit(pat: TestClient) -> None:
    assert own_units("PAT") == INCHES
    assert "in · mph · psi" in pat.get("/jobs").text
    pat.cookies.delete("jentrik_who")
    assert "mm · km/h · bar" in pat.get("/jobs").text
    pat.cookies.set("jentrik_who", "pat")
    assert "in · mph · psi" in pat.get("/jobs").text
    pat.post("/shop/units", data={**INCHES, "length": "", "speed": "furlong"})
    assert own_units("pat") == {one: INCHES[one] for one in INCHES if one != "length"}


def test_without_a_name_there_is_no_ones_choice(client: TestClient) -> None:
    answer = client.post("/shop/units", data=INCHES)
    assert answer.status_code == 422
    assert "whose units" in answer.text


def test_the_shops_choice_holds_for_who_made_none(client: TestClient) -> None:
    answer = client.post("/shop/answer", data={"policy:units.length": "in"}, headers=LIVE)
    assert answer.status_code == 200
    assert "−0.31" in answer.text  # the accepted change of the trail, in inches at once
    assert re.search(r'id="units-seen"[^>]*hx-swap-oob="true">in · km/h · bar<', answer.text)
    assert "in · km/h · bar" in client.get("/machines").text


def test_figures_are_seen_and_typed_in_the_chosen_unit(pat: TestClient) -> None:
    page = pat.get("/jobs/1?station=propose&proposal=A").text
    assert re.search(r"Wheelbase</a> <span class=\"unit\">in</span>.*?>41.18<", page, re.DOTALL)
    answer, became = typed(pat, "/jobs/1/answer", "sheet:wheelbase_mm", "41.5")
    assert answer.status_code == 200
    assert machines.sheet(1).figures["wheelbase_mm"].value == pytest.approx(1054.1)
    assert became == {"state": "stored", "text": "41.5", "why": ""}
    typed(pat, "/jobs/1/answer", "sheet:wheelbase_mm", "1049 mm; 41 3/8")
    assert machines.sheet(1).figures["wheelbase_mm"].readings == pytest.approx((1049, 1050.925))


def test_what_stands_there_sent_again_changes_nothing(pat: TestClient) -> None:
    page = pat.get("/machines/1").text
    shown = value_of(page, "sheet:bb_height_mm")
    before = machines.sheet(1).figures["bb_height_mm"]
    assert shown == "11.18"  # 284 mm
    _, became = typed(pat, "/machines/1/answer", "sheet:bb_height_mm", shown)
    assert became["text"] == shown
    assert machines.sheet(1).figures["bb_height_mm"] == before


def test_a_refusal_speaks_in_the_unit_seen_and_keeps_what_was_typed(pat: TestClient) -> None:
    answer, became = typed(pat, "/jobs/1/answer", "sheet:wheelbase_mm", "4000")
    assert answer.status_code == 422
    assert "4000.00 in is outside 11.81 in to 157.48 in" in became["why"].replace(THIN, " ")
    assert "4000" in answer.text
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1046


def test_a_bead_seat_stays_in_mm(pat: TestClient) -> None:
    typed(pat, "/jobs/1/answer", "sheet:front.rim.bead_seat_diameter_mm", "622")
    assert machines.sheet(1).figures["front.rim.bead_seat_diameter_mm"].value == 622
    page = pat.get("/machines/1").text
    assert value_of(page, "sheet:front.rim.bead_seat_diameter_mm") == "622"
    assert "bead seat 584 mm, found 622" in pat.get("/jobs/1?station=check").text


def test_the_log_the_card_and_the_order_take_the_chosen_units(pat: TestClient) -> None:
    look = {"end": "front", "look": "at intervals", "pressure_kpa": "32"}
    treads = {f"tread_{place}_mm": "0.125" for place in ("left", "middle", "right")}
    assert pat.post("/machines/6/log/look", data=look | treads).status_code == 200
    newest = logbook.log(6).looks[-1].look
    assert newest.tread_mm == pytest.approx((3.175, 3.175, 3.175))
    assert newest.pressure_kpa == pytest.approx(220.63, abs=0.01)  # 32 psi
    pat.post("/jobs/6/order", data={"km-a-year": "3000 mi"})
    assert costs.entries(6)["km-a-year"] == "4828"
    assert value_of(pat.get("/jobs/6/order").text, "km-a-year") == "3000"


def test_a_torque_is_kept_in_newton_metres(pat: TestClient) -> None:
    pat.post("/jobs/6/card", data={"proposal": "A"})
    steps = cards.card_of(6).steps
    step = next(one for one in steps if one.plan.fastener)
    form = {"torque_nm": "48", "torque_source": "maker's manual", "version": str(step.version)}
    answer = pat.post(f"/jobs/6/card/steps/{step.id}", data=form | {"act": "keep"})
    assert answer.status_code == 200
    kept = next(one for one in cards.card_of(6).steps if one.id == step.id)
    assert kept.torque_nm == pytest.approx(48 * 1.3558, abs=0.01)
    assert value_of(answer.text, "torque_nm") == "48"


def test_files_and_the_api_stay_in_their_units(pat: TestClient) -> None:
    plan = pat.get("/api/jobs/1").json()
    found = [one["message"] for one in plan["proposals"][0]["findings"]]
    assert any(re.search(r"\d mm\b", message) for message in found)
    assert THIN not in json.dumps(plan, ensure_ascii=False)
    assert pat.get("/api/read?code=130/80R18 66W").json()["load_kg"] == 300
    assert THIN not in pat.get("/logbook/due.ics").text


def test_no_mark_is_left_on_any_page(app: FastAPI, pat: TestClient) -> None:
    pages = [
        entry
        for entry in entries(app)
        if entry.method == "GET" and not entry.path.startswith("/api")
    ]
    assert len(pages) > 20
    for page in pages:
        answer = pat.get(page.filled())
        if "text/html" not in answer.headers.get("content-type", ""):
            continue
        text = unescape(answer.text)
        assert not {JOINER, "⁅"} & set(text), page.path
        assert not re.search(rf"{THIN}(mm|km/h|km|kPa|bar|kg|N·m)(?![\w/²³·])", text), page.path
