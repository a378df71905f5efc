"""The job card in the browser's words: made, ticked, refused, printed, closed."""

import io
from datetime import date
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from PIL import Image

from jentrik.core.work.card import Card, CardStep
from jentrik.core.work.display_units import METRIC
from jentrik.core.work.look_again import WANTED
from jentrik.exchange.photo import LARGEST_PHOTO_BYTES
from jentrik.store import cards, jobs, logbook, machines, people

DEMO_PHOTOGRAPHS = ("enduro.jpg", "enduro-bad.jpg")  # there before
JOB = 6


@pytest.fixture(autouse=True)
def _ready(app: FastAPI) -> None:
    app.state.shop.ready()


@pytest.fixture(name="card")
def _card(client: TestClient) -> Any:
    client.post(f"/jobs/{JOB}/card", data={"proposal": "A", "template": "What changes"})
    return cards.card_of(JOB)


def here(client: TestClient, who: str = "Ida") -> None:
    client.post("/who", data={"who": who, "back": "/jobs"})


def write(client: TestClient, step: CardStep, act: str = "tick", **form: Any) -> Response:
    form = {"version": str(step.version), "act": act, **form}
    return client.post(f"/jobs/{JOB}/card/steps/{step.id}", data=form)


def fresh(step: CardStep) -> CardStep:
    return next(one for one in cards.card_of(JOB).steps if one.id == step.id)


def picture(size: tuple[int, int] = (40, 30), kind: str = "JPEG", **options: Any) -> bytes:
    raw = io.BytesIO()
    Image.new("RGB", size, (120, 90, 60)).save(raw, kind, **options)
    return raw.getvalue()


def upload(client: TestClient, raw: bytes, name: str = "p.jpg") -> Response:
    return client.post(
        f"/jobs/{JOB}/card/photos",
        data={"caption": "Left side"},
        files={"photo": (name, raw, "image/jpeg")},
    )


def test_a_tick_needs_someone_a_torque_and_its_source(client: TestClient, card: Card) -> None:
    step = next(one for one in card.steps if one.plan.fastener)
    assert "who is at the bench" in write(client, step).text
    here(client)
    assert "the torque of front axle" in write(client, step).text
    refused = write(client, step, torque_nm="900", torque_source="on the part")
    assert refused.status_code == 422
    assert 'value="900"' in refused.text
    assert "the torque of front axle" in write(client, step, torque_nm="60").text  # from where?
    assert fresh(step).version == 0
    write(client, step, torque_nm="60", torque_source="maker's manual")
    done = fresh(step)
    assert (done.done_by, done.torque_nm, done.torque_source) == ("Ida", 60.0, "maker's manual")
    write(client, done, act="open")
    assert fresh(step).open
    assert fresh(step).torque_nm == 60.0


def test_who_is_asked_in_the_step_and_the_tick_goes_through(client: TestClient, card: Card) -> None:
    client.post("/shop/people", data={"act": "add", "name": "Bo"})
    step = next(one for one in card.steps if one.plan.fastener)
    form = {"version": "0", "act": "tick", "torque_nm": "60", "torque_source": "on the part"}
    asked = client.post(f"/jobs/{JOB}/card/steps/{step.id}", data=form).text
    assert '<button class="button" name="who" value="Bo">' in asked
    said = form | {"who": "Bo", "said_source": "on the part"}
    del said["torque_source"], said["act"]
    client.post(f"/jobs/{JOB}/card/steps/{step.id}", data=said)
    assert (fresh(step).done_by, fresh(step).torque_source) == ("Bo", "on the part")
    other = next(one for one in card.steps if one.plan.stop and not one.missing())
    write(client, other)
    assert fresh(other).done_by == "Bo"  # asked once for this screen
    number = next(one.id for one in people.people() if one.name == "Bo")
    secret = {"act": "passphrase", "person": str(number), "passphrase": "tide and pier"}
    client.post("/shop/people", data=secret)
    third = next(one for one in card.steps if one.plan.stop and one.open and one != other)
    refused = client.post(f"/jobs/{JOB}/card/steps/{third.id}", data={"version": "0", "who": "Bo"})
    assert (refused.status_code, "Bo has a passphrase" in refused.text) == (422, True)


def test_a_group_is_ticked_at_once_and_leaves_what_stands_out(
    client: TestClient, card: Card
) -> None:
    here(client)
    group = next(one for one in card.groups if len(one.plain) > 1 and one.plain != one.steps)
    seen = [f"{one.id}:{one.version}" for one in group.plain]
    stale = client.post(
        f"/jobs/{JOB}/card/groups",
        data={"group": "group-1", "step": [*seen[:-1], f"{group.plain[-1].id}:7"]},
    )
    assert (stale.status_code, "Another person wrote" in stale.text) == (422, True)
    assert all(fresh(one).open for one in group.steps)  # all or none
    client.post(f"/jobs/{JOB}/card/groups", data={"group": "group-1", "step": seen})
    assert [fresh(one).open for one in group.steps] == [one.plan.stands_out for one in group.steps]
    empty = client.post(f"/jobs/{JOB}/card/groups", data={"group": "group-1"})
    assert empty.status_code == 422


def test_a_torque_is_typed_once_in_a_machines_life(client: TestClient, card: Card) -> None:
    here(client)
    step = next(one for one in card.steps if one.plan.fastener == "front axle")
    write(client, step, torque_nm="65", torque_source="maker's manual")
    job = jobs.job(JOB)
    there = ask_api(client, "/jobs", {"machine": machines.sheet(job.machine_id).name})
    changed = {"name": "Same", "changes": job.proposals[0].changes}
    ask_api(client, f"/jobs/{there['id']}/proposals", changed)
    again = ask_api(client, f"/jobs/{there['id']}/card", {"proposal": "Same"})
    (axle,) = [one for one in again["steps"] if one["fastener"] == "front axle"]
    assert (axle["torque_nm"], axle["torque_source"], axle["state"]) == (
        65,
        "maker's manual",
        "open",
    )
    (pinch,) = [one for one in again["steps"] if one["fastener"] == "front pinch bolts"]
    assert pinch["torque_nm"] is None


def ask_api(client: TestClient, path: str, body: Any) -> Any:
    answer = client.post(f"/api{path}", json=body)
    assert answer.status_code < 300, answer.text
    return answer.json()


def test_what_was_fitted_is_looked_at_again_by_itself(client: TestClient, card: Card) -> None:
    here(client)
    machine = jobs.job(JOB).machine_id
    before = {job.id for job in jobs.open_jobs_of(machine)}
    client.post(f"/jobs/{JOB}/close", data={"why": "a test"})
    (look,) = [job for job in jobs.open_jobs_of(machine) if job.id not in before]
    assert look.wanted == WANTED
    there = cards.card_of(look.id)
    assert there is not None
    assert len(there.steps) == 5
    assert look.due_on is not None
    assert look.due_on > date(2026, 11, 23)
    paper = client.get(f"/jobs/{JOB}/customer").text
    assert f"On {look.due_on:%d %b %Y}, or after 100 to 500 km" in paper
    last = logbook.log(machine).odometer[machine][-1].km
    client.post(f"/machines/{machine}/log/odometer", data={"km": str(last + 60)})
    assert jobs.job(look.id).due_on == look.due_on
    client.post(f"/machines/{machine}/log/odometer", data={"km": str(last + 200)})
    assert jobs.job(look.id).due_on < look.due_on  # 100 km since
    client.post(f"/jobs/{look.id}/close", data={"why": "not yet ridden in"})
    assert jobs.job(look.id).closed_at
    assert not jobs.job(look.id).done  # nothing was fitted


def test_two_people_on_one_step_see_both(client: TestClient, card: Card) -> None:
    step = next(one for one in card.steps if one.plan.reading and one.plan.unit == "kPa")
    here(client)
    write(client, step, reading="210")
    here(client, "Bo")
    late = write(client, step, reading="250")
    assert late.status_code == 422
    assert "Another person wrote" in late.text
    assert "Theirs: Ida" in late.text
    assert "250" in late.text
    assert fresh(step).reading == "210"


def test_a_card_with_work_on_it_is_not_made_anew(client: TestClient, card: Card) -> None:
    again = {"proposal": "A", "template": "What changes"}
    assert client.post(f"/jobs/{JOB}/card", data=again).status_code == 200  # nothing lost yet
    here(client)
    step = next(one for one in cards.card_of(JOB).steps if not one.plan.fastener)
    write(client, step, reading="1")
    refused = client.post(f"/jobs/{JOB}/card", data=again | {"proposal": "B"})
    assert (refused.status_code, "work on this job" in refused.text) == (422, True)
    assert fresh(step).done_by == "Ida"


def test_a_stop_step_holds_the_job_until_done_or_waived_with_a_reason(
    client: TestClient, card: Card
) -> None:
    here(client)
    assert "stop-level steps are open" in client.post(f"/jobs/{JOB}/close").text
    for step in card.holding:
        assert "Say in a few words" in write(client, step, act="waive").text
        write(client, step, act="waive", reason="bare frame")
    assert fresh(card.holding[0]).waived == "bare frame (Ida)"
    client.post(f"/jobs/{JOB}/close")
    assert JOB not in {job.id for job in jobs.jobs()}
    assert jobs.closed_jobs()[0].id == JOB
    assert "Open it again" in client.get(f"/jobs/{JOB}?station=fit").text
    client.post(f"/jobs/{JOB}/open")
    assert JOB in {job.id for job in jobs.jobs()}


def test_steps_and_templates_of_the_shops_own(client: TestClient, card: Card) -> None:
    client.post(f"/jobs/{JOB}/card/steps", data={"text": "! Bell back on | torque: bell clamp"})
    assert cards.card_of(JOB).steps[-1].plan.fastener == "bell clamp"
    bad = client.post(f"/jobs/{JOB}/card/steps", data={"text": "Bell | color: red"})
    assert (bad.status_code, "no detail of a step" in bad.text) == (422, True)
    assert 'value="Bell | color: red"' in bad.text
    client.post("/shop/cards", data={"name": "Winter tires", "text": "Tires on\n! Bead seated"})
    assert "Winter tires" in client.get("/shop/cards").text
    refused = client.post("/shop/cards", data={"name": "Winter tires", "text": "| nothing"})
    assert (refused.status_code, "Line 1" in refused.text) == (422, True)
    assert "| nothing" in refused.text
    assert cards.templates()["Winter tires"].startswith("Tires on")
    client.post("/shop/cards", data={"name": "Winter tires", "text": ""})
    assert "Winter tires" not in cards.templates()


def test_the_printed_card_holds_every_step_and_its_blanks(client: TestClient, card: Card) -> None:
    page = client.get(f"/jobs/{JOB}/card").text
    for step in card.steps:
        assert METRIC.restated(step.plan.text).replace("'", "&#39;") in page
    assert page.count('class="blank"') == sum(
        bool(step.plan.fastener) + bool(step.plan.reading) for step in card.steps
    )
    assert "never from us" not in page


def test_a_photo_is_kept_small_and_without_what_the_camera_noted(
    client: TestClient, app: FastAPI, card: Card
) -> None:
    exif = Image.Exif()
    exif[0x010F] = "Camera of someone"
    here(client)
    upload(client, picture((3000, 2000), exif=exif))
    (kept,) = cards.photos(JOB)
    raw = client.get(f"/photos/{kept.file}").content
    small = Image.open(io.BytesIO(raw))
    assert max(small.size) == 1600
    assert not small.getexif()
    assert b"Camera of someone" not in raw
    assert (kept.caption, kept.by) == ("Left side", "Ida")
    client.post(f"/jobs/{JOB}/card/photos/drop", data={"photo": str(kept.id)})
    assert cards.photos(JOB) == []
    client.post(f"/jobs/{JOB}/undo")
    assert len(cards.photos(JOB)) == 1


BOMB = picture((9000, 9000), "PNG")


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "No photo"),
        (b"MZ\x90\0 an executable" * 50, "not a photo"),
        (picture()[:200], "not a photo"),
        (BOMB, "unpacks to more"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script>x</script></svg>", "not a photo"),
        (picture(kind="GIF"), "not a photo"),
        (b"\xff" * (LARGEST_PHOTO_BYTES + 1), "larger than"),
    ],
)
def test_what_is_no_photo_is_refused_in_a_sentence(
    client: TestClient, app: FastAPI, raw: bytes, said: str
) -> None:
    answer = upload(client, raw)
    assert answer.status_code == 422
    assert said in answer.text
    assert 'value="Left side"' in answer.text
    assert cards.photos(JOB) == []
    assert len(list((app.state.shop.folder / "photos").glob("*"))) == len(DEMO_PHOTOGRAPHS)


def test_fifty_megabytes_are_refused_before_they_are_read(client: TestClient) -> None:
    length = {"content-length": str(50_000_000), "content-type": "multipart/form-data; boundary=x"}
    assert client.post(f"/jobs/{JOB}/card/photos", headers=length).status_code == 413


def test_no_one_is_sent_elsewhere_and_no_file_but_a_photo_is_given(client: TestClient) -> None:
    for back in ("//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example"):
        there = client.post("/who", data={"who": "Ida", "back": back}, follow_redirects=False)
        assert there.headers["location"] == "/jobs"
    for file in ("..%2Fjentrik.sqlite3", "jentrik.sqlite3", "a" * 32 + ".jpg"):
        assert client.get(f"/photos/{file}").status_code == 404


def test_a_job_is_not_closed_over_open_stops_without_a_person_and_a_reason(
    client: TestClient,
) -> None:
    client.post(f"/jobs/{JOB}/card", data={"proposal": "A"})
    why = {"why": "the rider took it away"}
    assert client.post(f"/jobs/{JOB}/close", data=why).status_code == 422
    assert jobs.job(JOB).closed_at is None
    client.post("/who", data={"who": "Ida", "back": "/jobs"})
    assert client.post(f"/jobs/{JOB}/close", data={"why": "  "}).status_code == 422
    assert jobs.job(JOB).closed_at is None
    client.post(f"/jobs/{JOB}/close", data=why)
    assert jobs.job(JOB).closed_at is not None
