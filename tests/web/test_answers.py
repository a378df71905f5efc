"""The answer on the bench, its cures a press away, and the same for programs."""

import html
import re

from fastapi.testclient import TestClient

from jentrik.store import jobs
from jentrik.store.listing import Wanted, jobs_listed


def test_the_answer_comes_beside_the_bench_and_is_asked_anew_for_another_size(
    client: TestClient,
) -> None:
    first = client.get("/jobs/1").text
    place = re.search(r'id="(answer-[0-9a-f]{8})" hx-get="([^"]+)"', first)
    assert place is not None
    part = client.get(html.unescape(place[2]), headers={"HX-Request": "true"}).text
    assert "Does not go: rim brake does not reach" in part
    assert "<html" not in part
    assert "<html" in client.get(html.unescape(place[2])).text  # without scripts a page
    client.post("/jobs/1/answer?proposal=A", data={"proposal:rear.tire": "40-622"})
    again = re.search(r'id="(answer-[0-9a-f]{8})"', client.get("/jobs/1").text)
    assert again is not None
    assert again[1] != place[1]


def test_a_cure_becomes_a_proposal_on_top_of_the_one_it_was_said_of(client: TestClient) -> None:
    part = client.get("/jobs/1/advice?proposal=A").text
    change = html.unescape(re.findall(r'name="change" value="([^"]+)"', part)[0])
    before = jobs.job(1).proposals
    client.post("/jobs/1/advice", data={"proposal": "A", "change": change})
    new = jobs.job(1).proposals[-1]
    assert len(jobs.job(1).proposals) == len(before) + 1
    assert new.changes["front"]["tire"] == before[0].changes["front"]["tire"]
    assert new.changes != before[0].changes
    for wrong in ("", "[1]", "{", '{"boat": 1}', '{"front": {"tire": "nonsense"}}'):
        refused = client.post("/jobs/1/advice", data={"proposal": "A", "change": wrong})
        assert refused.status_code in (404, 422), wrong
    assert (
        client.post("/jobs/1/advice", data={"proposal": "Z", "change": change}).status_code == 404
    )
    assert len(jobs.job(1).proposals) == len(before) + 1


def test_program_paper_and_comparison_lead_with_the_same_sentence(client: TestClient) -> None:
    said = client.get("/api/jobs/1/answer?proposal=A").json()
    assert said["verdict"] == "does not go"
    assert said["because"][0] == "rim-brake-reach"
    assert {"for", "where", "change", "says", "worst", "cost"} == said["cures"][0].keys()
    start = said["sentence"][:24]
    for path in ("/jobs/1/customer?proposal=A", "/jobs/1/compare", "/jobs/1/advice?proposal=A"):
        assert start in html.unescape(client.get(path).text), path
    assert client.get("/api/jobs/999/answer").status_code == 404


def test_a_fitted_job_asks_for_no_answer(client: TestClient) -> None:
    done = jobs_listed(Wanted(state="done")).rows[0].id
    assert 'id="answer-' not in client.get(f"/jobs/{done}?station=propose").text
