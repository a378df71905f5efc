"""Set-ups, wheel sets and done jobs in the browser's words."""

import json
import random
import re
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.core.work.card import CardStep
from jentrik.core.work.template import StepPlan
from jentrik.store import after_fitting, cards, documents, jobs, logbook, machines, setups, wheels

SINGLE = 10  # the tall motorcycle
ENDURO = 9


@pytest.fixture(autouse=True)
def _ready(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    client.post("/who", data={"who": "Ida", "back": "/jobs"})


def winter(client: TestClient, **more: Any) -> Response:
    """Name the wheels that are on, and add a second set."""
    client.post(f"/machines/{SINGLE}/sets", data={"which": "on", "name": "Road wheels"})
    form = {
        "which": "new",
        "name": "Snow wheels",
        "front_tire": "100/90-19 57S TL",
        "rear_tire": "130/80-17 65S TL",
        "front_rotor": "300",
        "front_kpa": "200",
        "front_two_up": "230",
        **more,
    }
    return client.post(f"/machines/{SINGLE}/sets", data=form)


def within(plan: StepPlan) -> str:
    """Return a reading that a step takes without a reason."""
    if plan.unit == "words":
        return "left thin"
    if plan.unit == "km":
        return f"{plan.at_least or 0:g}"
    least, most = plan.at_least or 0.0, plan.at_most or 150.0
    return f"{(least + most) / 2:g} {plan.unit}"


def put_on(client: TestClient, name: str) -> int:
    """Put a set on, tick its card and close the job; return the job's number."""
    (known,) = [set_ for set_ in wheels.sets_of(SINGLE) if set_.name == name]
    answer = client.post(
        f"/machines/{SINGLE}/put-on", data={"set": str(known.id)}, follow_redirects=False
    )
    job_id = int(answer.headers["location"].split("/")[2].split("?")[0])
    for step in cards.card_of(job_id).steps:
        form = {"version": str(step.version), "act": "tick"}
        if step.plan.fastener:
            form |= {"torque_nm": "60", "torque_source": "maker's manual"}
        if step.plan.reading:
            form["reading"] = within(step.plan)
        answer = client.post(f"/jobs/{job_id}/card/steps/{step.id}", data=form)
        assert answer.status_code == 200, step.plan.text
    closed = client.post(f"/jobs/{job_id}/close", follow_redirects=False)
    assert closed.status_code == 303
    return job_id


def stays(key: str) -> bool:
    """Whether a figure is as it was there and back: tread and pressure are read each time."""
    return not key.startswith("set.") and not key.endswith(("tread_mm", "pressure_kpa"))


def test_two_wheel_sets_are_swapped_three_times_and_nothing_is_bought(client: TestClient) -> None:
    found = machines.sheet(SINGLE)
    winter(client)
    jobs_done = [put_on(client, name) for name in ("Snow wheels", "Road wheels", "Snow wheels")]
    names = [setup.name for setup in setups.setups(SINGLE)]
    assert names[-3:] == ["Snow wheels", "Road wheels", "Snow wheels (2)"]
    road, cold = setups.setups(SINGLE)[-2:]
    # What a set-up was stays: there and back again changes no figure.
    before = found.setup.parts
    kept = {key: figure.value for key, figure in road.parts.items() if stays(key)}
    assert kept == {key: figure.value for key, figure in before.items() if stays(key)}
    assert cold.parts["front.tire"].value == "100/90-19 57S TL"
    assert cold.parts["front.hub.rotor_mm"].value == 300
    order = client.get(f"/jobs/{jobs_done[0]}/order").text
    assert 'name="price:' not in order  # no part has a price to write: none is bought
    page = client.get(f"/machines/{SINGLE}").text
    assert page.count("Put on</button>") == 3  # this one is on
    assert "in the owner&#39;s keeping" in page or "in the owner's keeping" in page


def short_card(client: TestClient, name: str) -> tuple[int, list[CardStep]]:
    (known,) = [set_ for set_ in wheels.sets_of(SINGLE) if set_.name == name]
    put = {"set": str(known.id)}
    first, again = (
        client.post(f"/machines/{SINGLE}/put-on", data=put, follow_redirects=False).headers[
            "location"
        ]
        for _ in range(2)
    )
    assert first == again  # pressed twice it is the same change
    job_id = int(first.split("/")[2].split("?")[0])
    return job_id, list(cards.card_of(job_id).steps)


def test_a_set_that_was_on_goes_on_again_by_one_press_and_what_is_read(client: TestClient) -> None:
    assert client.get(f"/machines/{SINGLE}").text.count("Standard") == 0
    winter(client)
    for name in ("Snow wheels", "Road wheels"):
        put_on(client, name)  # the first time with its whole card
    job_id, steps = short_card(client, "Snow wheels")
    assert 5 <= len(steps) <= 9
    assert steps[0].plan.text == "Kilometres now"
    assert any("front 2.00 bar (two up 2.30 bar)" in in_plain(one.plan.text) for one in steps)
    settled = [one for one in steps if one.plan.text.startswith("As settled before")]
    asked = [one for one in steps if one.plan.reading]
    assert [one.plan.unit for one in asked] == ["km", "mm", "mm"]
    assert not any(one.plan.stop for one in settled)
    at = f"/jobs/{job_id}/card/set-on"
    less = {f"reading:{asked[0].id}": "1"}
    refused = client.post(at, data=less)
    assert (refused.status_code, "is below the" in in_plain(refused.text)) == (422, True)
    assert 'value="1"' in refused.text
    assert all(one.open for one in cards.card_of(job_id).steps)  # all or nothing
    read = {f"reading:{asked[0].id}": within(asked[0].plan)}
    read |= {f"reading:{one.id}": "4.5" for one in asked[1:]}
    before = machines.sheet(SINGLE)
    assert client.post(at, data=read, follow_redirects=False).status_code == 303
    assert jobs.job(job_id).closed_at
    now = machines.sheet(SINGLE)
    assert now.setup.parts["front.tire"].value == "100/90-19 57S TL"
    assert now.figures["front.fitted.tread_mm"].value == 4.5
    km = logbook.log(SINGLE).odometer[SINGLE]
    assert f"{km[-1].km:g}" == within(asked[0].plan)
    client.post(f"/machines/{SINGLE}/undo")
    assert machines.sheet(SINGLE).setup.name == before.setup.name  # taken back whole
    assert not jobs.stands(job_id)


def test_a_set_brings_back_its_dampers_and_a_reading_keeps_its_plus_minus(
    client: TestClient,
) -> None:
    winter(client)
    clicks = "sheet:suspension.front.rebound_clicks"
    for name, turned in (("Snow wheels", "12"), ("Road wheels", "8")):
        put_on(client, name)
        client.post(f"/machines/{SINGLE}/answer", data={clicks: turned})
    job_id, steps = short_card(client, "Snow wheels")
    (damper,) = [one for one in steps if one.plan.text.startswith("Suspension of this set")]
    assert in_plain(damper.plan.text).endswith("fork rebound, clicks out 12")
    read = {f"reading:{one.id}": within(one.plan) for one in steps if one.plan.reading}
    tread = next(one for one in steps if one.plan.reading == "front tread, minimum")
    read[f"reading:{tread.id}"] = "4.5 ± 0.3"
    client.post(f"/jobs/{job_id}/card/set-on", data=read)
    now = machines.sheet(SINGLE).figures
    assert now["suspension.front.rebound_clicks"].value == 12
    kept = now["front.fitted.tread_mm"]
    assert (kept.value, kept.plus_minus) == (4.5, 0.3)
    document = client.get(f"/api/jobs/{job_id}").json()["card"]
    assert any(one["plus_minus"] == 0.3 for one in document["steps"])


def test_the_wheels_that_are_on_are_the_standard_once_there_are_others(client: TestClient) -> None:
    form = {"which": "new", "name": "Snow", "front_tire": "50-584"}
    for name in ("Snow", "Gravel"):
        client.post(f"/machines/{ENDURO}/sets", data=form | {"name": name})
    assert [one.name for one in wheels.sets_of(ENDURO)] == ["Gravel", "Snow", "Standard"]


def test_a_scanned_wheel_puts_its_set_on_and_going_back_names_what_is_gone(
    client: TestClient,
) -> None:
    winter(client)
    (snow,) = [set_ for set_ in wheels.sets_of(SINGLE) if set_.name == "Snow wheels"]
    page = client.get(f"/wheels/{snow.rear_id}").text
    assert "Put “Snow wheels” on" in page
    assert "Put “Snow wheels” on" in client.get("/machines").text
    put_on(client, "Snow wheels")
    for path in (f"/wheels/{snow.rear_id}", "/machines"):
        assert "Put “Snow wheels” on" not in client.get(path).text
    put_on(client, "Road wheels")
    assert client.get(f"/machines/{SINGLE}").text.count('class="setup-strip"') == 1
    earlier = next(one for one in setups.setups(SINGLE) if one.name == "Snow wheels")
    asked = {"setup": str(earlier.id)}
    same = client.post(f"/machines/{SINGLE}/go-back", data=asked, follow_redirects=False)
    assert "station=fit" in same.headers["location"]  # only wheels differ: as a set is put on
    again = client.post(f"/machines/{SINGLE}/go-back", data=asked, follow_redirects=False)
    job_id = int(same.headers["location"].split("/")[2].split("?")[0])
    assert again.headers["location"] == same.headers["location"]
    assert cards.card_of(job_id).template == "Set on"
    client.post(f"/jobs/{job_id}/bin")
    client.post(f"/machines/{SINGLE}/wheels/{snow.rear_id}", data={"act": "bin"})
    client.post(f"/machines/{SINGLE}/go-back", data={"setup": str(earlier.id)})
    (back,) = [job for job in jobs.open_jobs_of(SINGLE) if "Back to" in job.wanted]
    assert back.wanted == "Find first: rear wheel. Back to Snow wheels"


def test_what_a_set_was_given_of_its_own_comes_back_with_it(client: TestClient) -> None:
    winter(client)
    put_on(client, "Snow wheels")
    client.post(f"/machines/{SINGLE}/answer", data={"sheet:suspension.rear.sag_mm": "41"})
    front = {"sheet:gearing.front_sprocket": "14"}
    client.post(f"/machines/{SINGLE}/answer", data=front)
    assert machines.sheet(SINGLE).figures["gearing.front_sprocket"].value == 14
    put_on(client, "Road wheels")
    there = machines.sheet(SINGLE).figures
    assert there["gearing.front_sprocket"].value == 14  # it is no wheel's
    client.post(f"/machines/{SINGLE}/answer", data={"sheet:suspension.rear.sag_mm": "35"})
    put_on(client, "Snow wheels")
    assert machines.sheet(SINGLE).figures["suspension.rear.sag_mm"].value == 41


def test_back_on_its_own_wheels_every_figure_is_as_it_was(client: TestClient) -> None:
    then = machines.sheet(SINGLE)
    winter(client)
    put_on(client, "Snow wheels")
    there = machines.sheet(SINGLE)
    assert there.figures["rake_deg"].measured_in == "As it came"
    assert there.figures["rake_deg"].value != then.figures["rake_deg"].value
    put_on(client, "Road wheels")
    now = machines.sheet(SINGLE)
    for key, figure in then.figures.items():
        if stays(key):
            assert now.figures[key].value == figure.value, key
            assert now.figures[key].provenance is figure.provenance, key
    assert [place.gap_mm for place in now.clearances] == [place.gap_mm for place in then.clearances]


def test_wear_goes_with_the_tire_through_swaps(client: TestClient, app: FastAPI) -> None:
    log = client.get(f"/machines/{SINGLE}/log").text
    winter(client)
    looks = [look for look in logbook.log(SINGLE).looks if look.look.end == "rear"]
    number = logbook.tire_on(SINGLE, "rear")
    put_on(client, "Snow wheels")
    assert logbook.tire_on(SINGLE, "rear") != number
    cold = client.get(f"/machines/{SINGLE}/log").text
    assert "mm for 1000 km" not in cold.partition("130/80-17 65S TL")[2][:400]
    put_on(client, "Road wheels")
    assert logbook.tire_on(SINGLE, "rear") == number
    assert {look.look.tire_id for look in logbook.log(SINGLE).looks if look.look.end == "rear"} >= {
        number
    }
    assert len([look for look in logbook.log(SINGLE).looks if look.look.end == "rear"]) == len(
        looks
    )
    again = client.get(f"/machines/{SINGLE}/log").text
    assert ("mm for 1000 km" in again) == ("mm for 1000 km" in log)


def test_what_a_tire_cost_goes_with_it_from_wheel_to_wheel_set(client: TestClient) -> None:
    tire = machines.sheet(ENDURO).text("rear.tire")
    kept = next(proposal for proposal in jobs.job(ENDURO).proposals if proposal.name == "B")
    new = kept.changes["rear"]["tire"]
    assert new != tire
    client.post(f"/jobs/{ENDURO}/order", data={f"price:rear tire {new.casefold()}": "58.90"})
    fit(client, ENDURO, "B")
    on = machines.sheet(ENDURO).setup.parts
    assert on["set.rear.price"].value == 58.9
    assert "set.front.price" not in on
    form = {"which": "new", "name": "Spare", "front_tire": tire, "rear_tire": tire}
    client.post(f"/machines/{ENDURO}/sets", data=form)
    (spare,) = [set_ for set_ in wheels.sets_of(ENDURO) if set_.name == "Spare"]
    client.post(f"/machines/{ENDURO}/put-on", data={"set": str(spare.id)})
    job = jobs.open_jobs_of(ENDURO)[-1]
    fit(client, job.id, job.proposals[0].name)
    assert "set.rear.price" not in machines.sheet(ENDURO).setup.parts
    (off,) = [
        wheel for wheel in wheels.wheels_of(machines.sheet(ENDURO)) if "set.price" in wheel.parts
    ]
    assert off.parts["set.price"].value == 58.9


def test_a_wheel_on_the_shelf_is_listed_there_and_offered_once(client: TestClient) -> None:
    winter(client)
    machine = client.get(f"/machines/{SINGLE}").text
    assert re.search(r"[0-9]\s?km to \d\d \w{3} 20\d\d", machine)  # what the road tires have run
    (front, _) = [
        wheel for wheel in wheels.wheels_of(machines.sheet(SINGLE)) if "Snow" in wheel.name
    ]
    client.post(f"/machines/{SINGLE}/wheels/{front.id}", data={"act": "shelf"})
    page = client.get("/shelf").text
    assert front.name in page
    assert f'/machines/{SINGLE}#setups"' in page
    job = next(one.id for one in jobs.open_jobs_of(SINGLE))
    closed, opened = (client.get(f"/jobs/{job}{asks}").text for asks in ("", "?made_of=yes"))
    assert f'value="wheel:{front.id}"' not in closed
    assert opened.count(f'value="wheel:{front.id}"') == 1


def test_a_wheel_is_renamed_and_says_how_it_is_built(client: TestClient) -> None:
    winter(client, front_make="Slipgrip ice", front_build="cast")
    (front, _) = [
        wheel for wheel in wheels.wheels_of(machines.sheet(SINGLE)) if "Snow" in wheel.name
    ]
    assert front.text("fitted.make") == "Slipgrip ice"
    assert front.text("rim.build") == "cast"
    url = f"/machines/{SINGLE}/wheels/{front.id}"
    client.post(url, data={"act": "name", "name": "Cast ice front"})
    assert wheels.wheel(front.id).name == "Cast ice front"
    assert client.post(url, data={"act": "name", "name": " "}).status_code == 422
    assert wheels.wheel(front.id).name == "Cast ice front"


def test_a_computers_setting_is_of_the_set_up_and_comes_back_with_it(client: TestClient) -> None:
    known = {"sheet:speedometer.wheel": "front", "sheet:set.instrument_mm": "2199"}
    for name, value in known.items():
        client.post(f"/machines/{ENDURO}/answer", data={name: value})
    first = machines.sheet(ENDURO)
    other = {"sheet:set.instrument_mm": "2121"}
    client.post(f"/machines/{ENDURO}/answer", data=other)
    assert machines.sheet(ENDURO).setup.id != first.setup.id  # the one before was ridden
    assert "instrument set to 2199 → 2121 mm" in in_plain(client.get(f"/machines/{ENDURO}").text)


def test_a_set_without_a_tire_or_with_a_taken_name_is_refused_and_kept_as_typed(
    client: TestClient,
) -> None:
    refused = winter(client, front_tire="", rear_tire="")
    assert refused.status_code == 422
    assert "at least one wheel" in refused.text
    assert 'value="Snow wheels"' in refused.text
    winter(client)
    assert winter(client).status_code == 422
    assert len(wheels.sets_of(SINGLE)) == 4


def fit(client: TestClient, job_id: int, proposal: str) -> Response:
    client.post(f"/jobs/{job_id}/card", data={"proposal": proposal, "template": "What changes"})
    return client.post(f"/jobs/{job_id}/fitted")


def test_going_back_brings_the_whole_set_up_chip_and_all(client: TestClient) -> None:
    then = machines.sheet(ENDURO)
    fit(client, ENDURO, "B")
    assert machines.sheet(ENDURO).figures["set.position"].value == "Small wheel"
    back = client.post(
        f"/machines/{ENDURO}/go-back", data={"setup": str(then.setup.id)}, follow_redirects=False
    )
    job_id = int(back.headers["location"].split("/")[2].split("?")[0])
    (kept,) = jobs.job(job_id).proposals
    assert kept.changes["rear"]["tire"] == then.figures["rear.tire"].value
    assert kept.changes["position"] == "Big wheel"
    order = client.get(f"/jobs/{job_id}/order").text
    assert "58-584" not in order.partition("<tbody>")[2].partition("</tbody>")[0]
    assert fit(client, job_id, kept.name).status_code == 200
    now = machines.sheet(ENDURO)
    for key in ("wheelbase_mm", "head_angle_deg", "bb_height_mm", "chainstay_mm"):
        assert now.figures[key] == then.figures[key]
    assert setups.setups(ENDURO)[-1].parts["set.position"].value == "Big wheel"


def shown(client: TestClient, job_id: int) -> bytes:
    return client.get(f"/api/jobs/{job_id}").content


def test_what_was_found_and_fitted_stays_whatever_is_written_later(
    client: TestClient, app: FastAPI
) -> None:
    fit(client, ENDURO, "B")
    client.post(f"/jobs/{ENDURO}/close", data={"why": "the customer waited"})
    assert jobs.job(ENDURO).closed_at is not None
    done = {job_id: shown(client, job_id) for job_id in (ENDURO, 12, 13, 14)}
    pages = {job_id: client.get(f"/jobs/{job_id}?station=check").text for job_id in done}
    rng = random.Random(7)
    for machine_id in (ENDURO, SINGLE, 1, 6):
        sheet = machines.sheet(machine_id)
        fields = {
            key: f"{figure.value * rng.uniform(0.99, 1.01):.2f}"
            for key, figure in sheet.figures.items()
            if isinstance(figure.value, float | int) and key.endswith(("_mm", "_deg"))
        }
        for key, text in fields.items():
            client.post(f"/machines/{machine_id}/answer", data={f"sheet:{key}": text})
        client.post(
            f"/machines/{machine_id}/answer", data={"machine:name": f"Renamed {machine_id}"}
        )
    client.post("/shop", data={"policy:limits.head_angle_deg.low": "-0.1"})
    winter(client)
    put_on(client, "Snow wheels")
    client.post(f"/jobs/{ENDURO}/proposals")
    client.post(f"/jobs/{ENDURO}/proposals/drop?proposal=A")
    client.post(f"/jobs/{ENDURO}/answer?proposal=A", data={"proposal:rear.tire": "47-584"})
    client.post(f"/jobs/{ENDURO}/answer", data={"sheet:wheelbase_mm": "1000"})
    client.post(f"/jobs/{ENDURO}/corrections", data={"correction": "The rear was 0.2 bar softer."})
    for job_id, before in done.items():
        assert shown(client, job_id) == before
        now = client.get(f"/jobs/{job_id}?station=check").text
        for part in ("<svg", 'class="findings"'):
            assert (part in now) == (part in pages[job_id])
        assert verdict(now) == verdict(pages[job_id])
    assert "0.2 bar softer" in client.get(f"/jobs/{ENDURO}?station=fit").text


def verdict(text: str) -> str:
    return text.partition('<section class="work">')[2].partition("</section>")[0]


def test_closing_with_open_stops_or_without_a_card_asks_and_records_the_answer(
    client: TestClient,
) -> None:
    refused = client.post("/jobs/3/close")
    assert refused.status_code == 422
    assert "No card was made" in refused.text
    client.post("/jobs/3/close", data={"why": "lent to the sailing club"})
    assert jobs.job(3).closed_at is not None
    (answer,) = documents.document(3).values["answers"]
    assert (answer["answer"], answer["by"]) == ("lent to the sailing club", "Ida")
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    assert "stop-level steps" in client.post("/jobs/6/close").text
    client.post("/jobs/6/close", data={"act": "unfitted", "why": "the rider changed her mind"})
    kept = json.loads(shown(client, 6))
    assert kept["fitted"] is None
    assert kept["state"] == "done"
    assert len(kept["answers"]) == 2


def test_a_reading_outside_its_limits_is_ticked_only_with_a_reason(client: TestClient) -> None:
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    step = next(one for one in cards.card_of(6).steps if one.plan.measures.startswith("place:"))
    form = {"version": "0", "act": "tick", "reading": "1"}
    refused = client.post(f"/jobs/6/card/steps/{step.id}", data=form)
    assert refused.status_code == 422
    assert "below the" in refused.text
    client.post(f"/jobs/6/card/steps/{step.id}", data={**form, "why": "fender bent up after"})
    done = next(one for one in cards.card_of(6).steps if one.id == step.id)
    assert "fender bent up after (Ida)" in done.reason
    # The gap read on the card stands in the check after fitting.
    assert step.plan.measures in after_fitting.measured_of(6)


def test_steps_are_added_anywhere_moved_and_split(client: TestClient) -> None:
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    first, second = cards.card_of(6).steps[:2]
    client.post("/jobs/6/card/steps", data={"text": "Tag tied on", "after": str(first.id)})
    result = [step.plan.text for step in cards.card_of(6).steps]
    assert result[:3] == [first.plan.text, "Tag tied on", second.plan.text]
    client.post(f"/jobs/6/card/steps/{second.id}", data={"act": "up"})
    assert [step.id for step in cards.card_of(6).steps][1] == second.id
    client.post(
        f"/jobs/6/card/steps/{first.id}",
        data={"act": "split", "first": "Parts laid out", "second": "Parts counted"},
    )
    assert [step.plan.text for step in cards.card_of(6).steps][:2] == [
        "Parts laid out",
        "Parts counted",
    ]


def test_a_proposal_is_copied_named_and_made_of_a_shelf_tire(client: TestClient) -> None:
    client.post("/jobs/1/proposals", data={"from": "copy:A"})
    client.post("/jobs/1/proposals/name?proposal=C", data={"name": "Summer"})
    (copy,) = [proposal for proposal in jobs.job(1).proposals if proposal.name == "Summer"]
    assert copy.changes == jobs.job(1).proposal("A").changes
    client.post("/jobs/1/proposals", data={"from": "front-tire:1"})
    assert jobs.job(1).proposals[-1].changes["front"]["tire"] == "47-584"
    assert client.post("/jobs/1/proposals", data={"from": "set:99"}).status_code == 404


def test_a_part_set_otherwise_makes_another_set_up_and_the_figures_follow(
    client: TestClient,
) -> None:
    before = machines.sheet(ENDURO)
    client.post(f"/machines/{ENDURO}/answer", data={"sheet:rear.tire": "58-559 changed"})
    after = machines.sheet(ENDURO)
    assert after.setup.id != before.setup.id
    assert after.figures["bb_height_mm"].value < before.figures["bb_height_mm"].value
    assert setups.setup(ENDURO, before.setup.id).parts["rear.tire"].value == "58-584"


def test_the_api_shows_a_machine_with_its_set_ups_and_wheels(client: TestClient) -> None:
    winter(client)
    shown_machine = client.get(f"/api/machines/{SINGLE}").json()
    assert [one["to"] for one in shown_machine["setups"]][-1] is None
    assert shown_machine["setups"][0]["from"] <= shown_machine["setups"][-1]["from"]
    assert {one["kept"] for one in shown_machine["wheels"]} == {"machine", "owner"}
    assert shown_machine["sheet"]["figures"]["wheelbase_mm"]["value"] == 1492
