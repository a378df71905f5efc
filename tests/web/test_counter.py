"""The counter's questions: asked first, answered by a press, never asked twice."""

import re

from fastapi.testclient import TestClient

from jentrik.store import jobs, machines


def new_job(client: TestClient, **more: str) -> int:
    answer = client.post("/jobs", data={"what": "Grey commuter", "tire": "37-622", **more})
    found = re.search(r"/jobs/(\d+)", str(answer.url))
    assert found is not None
    return int(found[1])


def test_brake_and_drive_are_asked_first_and_the_answer_names_the_brake(client: TestClient) -> None:
    job = new_job(client)
    page = client.get(f"/jobs/{job}?station=propose").text
    assert page.index("At the counter") < page.index('name="proposal:front.tire"')
    assert page.count('name="sheet:front.brake" value=') == 5
    assert 'value="variator"' not in page  # no bicycle has one
    both = {"proposal:front.tire": "47-584"}
    said = client.post(f"/jobs/{job}/answer?proposal=A", data=both).text
    assert "Which brake does it have?" in said
    for brake, says in (("rim", "Rim brake pads move"), ("drum", "Drum and its stay")):
        said = client.post(f"/jobs/{job}/answer?proposal=A", data={"sheet:front.brake": brake}).text
        assert says in said
        assert "Which brake does it have?" not in said
    page = client.get(f"/jobs/{job}?station=propose").text
    assert 'name="sheet:front.brake"' not in page  # it is known, and not asked again
    check = client.get(f"/jobs/{job}?station=check").text
    assert "brake, front" not in check.lower() or "Drum" in check


def test_the_rear_is_the_same_with_one_press(client: TestClient) -> None:
    job = new_job(client)
    page = client.post(
        f"/jobs/{job}/answer?proposal=A", data={"proposal:front.tire": "47-584"}
    ).text
    assert "Rear the same: 47-584" in page
    client.post(f"/jobs/{job}/answer?proposal=A", data={"proposal:rear.tire": "47-584"})
    (kept,) = jobs.job(job).proposals
    assert kept.changes["rear"]["tire"] == "47-584"
    assert "Rear the same" not in client.get(f"/jobs/{job}?station=propose").text


def test_a_guard_that_is_there_asks_for_its_width(client: TestClient) -> None:
    job = new_job(client)
    tire = {"proposal:front.tire": "47-622"}
    client.post(f"/jobs/{job}/answer?proposal=A", data=tire)
    for guard, asked in (("mudguard", True), ("none", False)):
        client.post(f"/jobs/{job}/answer", data={"sheet:front.guard": guard})
        check = client.get(f"/jobs/{job}?station=check").text.lower()
        assert ("mudguard, inside width, front" in check) is asked


def test_every_build_starts_in_one_press_and_says_what_is_not_judged(client: TestClient) -> None:
    job = new_job(client, build="tricycle, two wheels in front")
    tire = {"proposal:front.tire": "47-622"}
    page = client.post(f"/jobs/{job}/answer?proposal=A", data=tire).text
    assert "Not judged of this kind" in page
    assert 'class="twin"' in page
    assert "second wheel" in client.get(f"/jobs/{job}/order").text


def test_what_the_card_read_of_a_brake_is_on_the_sheet_after_fitting(client: TestClient) -> None:
    job = new_job(client)
    client.post(f"/jobs/{job}/answer?proposal=A", data={"proposal:front.tire": "40-622"})
    client.post(f"/jobs/{job}/card", data={"proposal": "A"})
    card = client.get(f"/api/jobs/{job}/card").json()
    step = next(step for step in card["steps"] if "brake looked at" in step["text"])
    client.headers["Jentrik-Person"] = "Ida"
    body = {"act": "tick", "version": step["version"], "reading": "Drum"}
    answer = client.post(f"/api/jobs/{job}/card/steps/{step['id']}", json=body)
    assert answer.status_code == 200, answer.text
    assert client.post(f"/api/jobs/{job}/fitted", json={"proposal": "A"}).status_code == 200
    sheet = machines.sheet(jobs.job(job).machine_id)
    assert sheet.text("front.brake") == "drum"
