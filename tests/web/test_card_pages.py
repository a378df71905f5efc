"""The job card in the browser's words: made, ticked, refused, printed, closed."""

import io
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from PIL import Image

from jentrik.core.work.card import Card, CardStep
from jentrik.core.work.display_units import METRIC
from jentrik.exchange.photo import LARGEST_PHOTO_BYTES
from jentrik.store import cards, jobs

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
