"""A tire and a wheel as things: received, told apart, reserved, taken onto a job, and come back."""

import json
from io import BytesIO
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from PIL import Image

from jentrik.core.amounts import in_plain
from jentrik.core.work.shelf import ShelfTire
from jentrik.store import costs, jobs, machines, setups, shelf, wheels

CODE = "42-622"


def _only(code: str) -> ShelfTire:
    (found,) = [tire for tire in shelf.tires() if tire.code == code]
    return found


def _job(client: TestClient) -> int:
    """Return a new job of the green tourer."""
    made = client.post("/api/jobs", json={"machine": "Green tourer"})
    assert made.status_code == 201, made.text
    return int(made.json()["id"])


@pytest.fixture(name="received")
def _received(app: FastAPI, client: TestClient) -> ShelfTire:
    """Return four new tires as they were received on one line."""
    app.state.shop.ready()
    form = {"code": f"{CODE} DOT AB 2026", "pieces": "4", "price": "31,50", "place": "hook 9"}
    assert client.post("/shelf", data=form).status_code == 200
    return _only(CODE)


def test_a_line_is_received_with_pieces_price_and_place(received: ShelfTire) -> None:
    assert (received.pieces, received.made, received.place) == (4, "2026", "hook 9")
    assert f"{received.price:f}" == "31.50"


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [("pieces", "none", "no whole number"), ("price", "dear", "no amount"), ("code", "x", "")],
)
def test_a_refused_line_keeps_everything_typed_and_changes_nothing(
    client: TestClient, app: FastAPI, field: str, text: str, says: str
) -> None:
    app.state.shop.ready()
    before = shelf.tires()
    form = {"code": CODE, "pieces": "2", "price": "20", "place": "hook 9", field: text}
    refused = client.post("/shelf", data=form)
    assert refused.status_code == 422
    assert says in refused.text
    assert all(f'value="{value}"' in refused.text for value in form.values())
    assert f'id="{field}-complaint"' in refused.text
    assert shelf.tires() == before


def test_each_field_is_written_for_itself_and_taken_back(
    client: TestClient, received: ShelfTire
) -> None:
    live = {"X-Live": "1", "HX-Request": "true"}
    path = f"/shelf/tires/{received.id}"
    form = {"thing:make": "Skerry Grip", "thing:tread_mm": "x", "fact:void_percent": "85"}
    answer = client.post(f"{path}/answer", data=form, headers=live)
    became = {key: one["state"] for key, one in json.loads(answer.headers["X-Fields"]).items()}
    assert became == {
        "thing:make": "stored",
        "thing:tread_mm": "refused",
        "fact:void_percent": "refused",
    }
    client.post(f"{path}/answer", data={"fact:life_km": "6000", "fact:compound": "hard"})
    known = _only(CODE)
    assert (known.make, known.facts.life_km, known.facts.compound) == ("Skerry Grip", 6000, "hard")
    client.post(f"{path}/undo")
    assert _only(CODE).facts.values() == {}


def test_a_look_over_it_weighs_as_an_inspection_does(
    client: TestClient, received: ShelfTire
) -> None:
    path = f"/shelf/tires/{received.id}"
    page = client.post(f"{path}/look", data={"signs": ["bubble or blister"]})
    assert 'aria-label="stop"' in page.text.split("Where it can go")[0]
    refused = client.post(f"{path}/look", data={"signs": ["bubble or blister", "nothing found"]})
    assert (refused.status_code, "tick one or the other" in refused.text) == (422, True)
    assert _only(CODE).signs == ("bubble or blister",)


def test_reserved_pieces_become_a_line_of_their_own(
    client: TestClient, received: ShelfTire
) -> None:
    job = _job(client)
    path = f"/shelf/tires/{received.id}/reserve"
    assert client.post(path, data={"job": str(job), "pieces": "5"}).status_code == 422
    page = client.post(path, data={"job": str(job), "pieces": "1"})
    assert f"Reserved for tag {jobs.job(job).tag}" in page.text
    lines = sorted((tire.pieces, tire.job_id) for tire in shelf.tires() if tire.code == CODE)
    assert lines == [(1, job), (3, None)]
    assert f"reserved for tag {jobs.job(job).tag}" in client.get(f"/shelf?find={CODE}").text
    assert list(jobs.reserved_tags()) == [job]  # of all that are open
    client.post("/shelf/undo")
    assert [(tire.pieces, tire.job_id) for tire in shelf.tires() if tire.code == CODE] == [
        (4, None)
    ]


def _fitted(client: TestClient, job: int) -> None:
    """Make a job's card of its last proposal, fit it and close it."""
    named, name = {"Jentrik-Person": "Bo"}, jobs.job(job).proposals[-1].name
    for path, body in (("card", {"proposal": name}), ("fitted", None), ("close", {"why": "shown"})):
        answer = client.post(f"/api/jobs/{job}/{path}", json=body, headers=named)
        assert answer.is_success, answer.text


def test_a_tire_goes_onto_a_job_and_comes_back_with_its_wear(
    client: TestClient, received: ShelfTire
) -> None:
    job = _job(client)
    client.post(f"/jobs/{job}/proposals", data={"from": f"front-tire:{received.id}"})
    entries = costs.entries(job)
    assert entries[f"source:front tire {CODE}"] == "in stock"
    assert entries[f"price:front tire {CODE}"] == "31.50"
    _fitted(client, job)
    assert _only(CODE).pieces == 3
    now = setups.setups(1)[-1].parts
    assert (now["set.front.price"].value, now["front.fitted.made"].value) == (31.5, "2026")

    number = int(float(now["set.front.tire_id"].value))
    look = {"end": "front", "look": "at intervals", "signs": ["cut in the rubber only"]}
    looked = client.post("/api/machines/1/log/inspections", json=look)
    assert looked.is_success, looked.text
    other = _job(client)
    client.post(f"/api/jobs/{other}/proposals", json={"changes": {"front": {"tire": "37-622"}}})
    _fitted(client, other)
    assert _off(client) != []
    assert client.post(f"/machines/1/tires/{number}/shelf").status_code == 200
    back = next(tire for tire in shelf.tires() if tire.tire_id == number)
    assert (back.code, back.made, back.price) == (CODE, "2026", received.price)
    assert (back.whose, back.signs) == ("Ada Fairlead", ("cut in the rubber only",))
    assert client.post(f"/machines/1/tires/{number}/shelf").status_code == 404
    assert number not in _off(client)

    again = _job(client)
    client.post(f"/jobs/{again}/proposals", data={"from": f"rear-tire:{back.id}"})
    _fitted(client, again)
    parts = setups.setups(1)[-1].parts
    assert int(float(parts["set.rear.tire_id"].value)) == number
    assert all(tire.tire_id != number for tire in shelf.tires())


def _off(client: TestClient) -> list[int]:
    """Return the numbers of the tires that a machine's page offers for the shelf."""
    page = client.get("/machines/1").text
    return [int(one.split("/")[0]) for one in page.split("/machines/1/tires/")[1:]]


def test_a_card_reserves_what_its_proposal_takes(client: TestClient, received: ShelfTire) -> None:
    job = _job(client)
    for end in ("front", "rear"):
        source = f"{end}-tire:{received.id}"
        client.post(f"/jobs/{job}/proposals", data={"from": source})
    client.post(f"/api/jobs/{job}/card", json={"proposal": jobs.job(job).proposals[-1].name})
    lines = sorted((tire.pieces, tire.job_id) for tire in shelf.tires() if tire.code == CODE)
    assert lines == [(1, job), (3, None)]


def test_a_wheel_has_a_place_a_price_and_a_photograph(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    wheel = next(
        one
        for sheet in machines.sheets()
        for one in wheels.wheels_of(sheet)
        if one.kept != "machine"
    )
    picture = BytesIO()
    Image.new("RGB", (64, 48), "white").save(picture, "JPEG")
    path = f"/wheels/{wheel.id}"
    client.post(f"{path}/answer", data={"thing:place": "hook 2", "thing:price": "80"})
    client.post(f"{path}/photo", files={"photo": ("w.jpg", picture.getvalue(), "image/jpeg")})
    assert client.post(f"{path}/photo", files={"photo": ("w", b"x", "")}).status_code == 422
    known = wheels.wheel(wheel.id)
    assert (known.place, f"{known.price:f}") == ("hook 2", "80.00")
    assert client.get(f"/photos/{known.photo}").status_code == 200
    asked: dict[str, Any] = client.get(f"/api/wheels/{wheel.id}").json()
    assert (asked["place"], asked["price"], asked["photo"]) == ("hook 2", "80.00", known.photo)


def test_labels_of_a_page_of_the_shelf_name_each_tire(client: TestClient) -> None:
    page = in_plain(client.get("/shelf/labels?find=40-622").text)
    assert page.count('class="paper-label"') == 3
    assert "hook 5" in page
    assert "Tidewall Ferry" in page
    assert "No tire on the shelf" in client.get("/shelf/labels?find=zeppelin").text


def test_programs_do_the_same(client: TestClient) -> None:
    body = {"code": CODE, "pieces": 3, "price": "30", "make": "Skerry Grip"}
    tire = client.post("/api/shelf", json=body).json()
    path = f"/api/shelf/{tire['id']}"
    changed = client.patch(path, json={"fields": {"life_km": 7000, "place": "bin 1"}})
    assert (changed.json()["facts"], changed.json()["place"]) == ({"life_km": 7000}, "bin 1")
    refused = client.patch(path, json={"fields": {"plies": 99, "place": "bin 8"}})
    assert refused.json()["error"]["field"] == "fields.plies"
    assert client.get(path).json()["place"] == "bin 1"
    machine = client.get(f"{path}/where?find=tourer").json()["machines"][0]
    assert [one["end"] for one in machine["ends"]] == ["front", "rear"]
    assert client.get("/api/shelf/99999").status_code == 404


def test_where_it_goes_names_what_it_takes_and_counts_the_rest(client: TestClient) -> None:
    client.get("/shelf")
    number = next(one.id for one in shelf.tires() if one.code == "47-584")
    page = in_plain(client.get(f"/shelf/tires/{number}").text)
    table, rest = page.split('id="where"')[1].split('class="where-not"')
    assert "a caliper that reaches 70 mm at the front" in table
    assert "Breakwater twin" not in table
    assert "a bicycle tire on a motorcycle (5)" in rest
    asked = client.get(f"/api/shelf/{number}/where").json()["machines"]
    assert {one["machine"] for one in asked} > {"Breakwater twin", "Green tourer"}


def test_a_wheel_on_its_machine_is_judged_by_its_figures_of_now(client: TestClient) -> None:
    on_it = next(one for one in wheels.wheels_of(machines.sheet(1)) if one.kept == "machine")
    told = client.get(f"/api/wheels/{on_it.id}").json()
    assert told["tire"] == "37-622"
    rows = client.get(f"/api/wheels/{on_it.id}/where").json()["machines"]
    says = {row["machine"]: row["ends"][0]["says"] for row in rows if row["ends"]}
    assert says["Green tourer"] == "as it is now"
    assert says["Breakwater twin"] != "as it is now"
