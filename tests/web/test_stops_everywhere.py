"""A stop reaches every page, print, table and answer of its job."""

import html

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.core.machine.fields import missing_of
from jentrik.core.plan.plan import Outcome
from jentrik.core.rules.case import Severity
from jentrik.store import jobs
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.verdict import found_of, judged

# Where the whole findings of one proposal stand, and where at least the first stop does.
OF_PROPOSAL = (
    "/jobs/{job}?station=propose&proposal={name}",
    "/jobs/{job}?station=check&proposal={name}",
    "/jobs/{job}/customer?proposal={name}",
    "/api/jobs/{job}/tables/findings.csv",
    "/api/jobs/{job}",
)


def text_of(client: TestClient, path: str) -> str:
    answer = client.get(path)
    assert answer.status_code == 200, (path, answer.text)
    if "json" in answer.headers["content-type"]:
        return str(answer.json())
    return in_plain(html.unescape(answer.text))


def stops_by_proposal(app: FastAPI, job_id: int) -> dict[str, list[str]]:
    """Return the headlines of the stops of each proposal, from the core alone."""
    bench = on_bench(app.state.shop, job_id)
    found, _ = found_of(bench.sheet, missing_of(bench.sheet), bench.policy, bench.today)
    outcomes = {kept.name: judged(found, kept) for kept in bench.job.proposals}
    return {
        name: [
            in_plain(finding.headline)
            for finding in outcome.findings
            if finding.severity is Severity.STOP
        ]
        for name, outcome in outcomes.items()
        if isinstance(outcome, Outcome)
    }


def test_every_page_of_every_demo_job_shows_the_same_stops(
    client: TestClient, app: FastAPI
) -> None:
    app.state.shop.ready()
    seen = 0
    listed = in_plain(html.unescape(client.get("/jobs?show=all").text))
    for job in jobs.jobs():
        if job.closed_at is not None:
            continue
        by_proposal = stops_by_proposal(app, job.id)
        everything = [stop for stops in by_proposal.values() for stop in stops]
        for name, stops in by_proposal.items():
            for path in OF_PROPOSAL:
                text = text_of(client, path.format(job=job.id, name=name))
                for stop in stops:
                    seen += 1
                    assert stop in text, (path, job.id, name)
            paper = client.get(f"/jobs/{job.id}/customer?proposal={name}").text
            assert ("signatures" in paper) is not bool(stops), (job.id, name)
        assert not everything or any(stop in listed for stop in everything), job.id
    assert seen > 20


@pytest.fixture(name="braked")
def _braked(client: TestClient) -> tuple[int, str]:
    """Return a job on a bicycle whose front brake cannot reach, its rear one to be measured."""
    job = client.post(
        "/api/jobs",
        json={"machine": "Brick tourer", "front_tire": "37-622", "build": "diamond frame"},
    ).json()
    figures = {
        "wheelbase_mm": 1050,
        "head_angle_deg": 71,
        "fork.length_mm": 395,
        "fork.offset_mm": 50,
        "front.rim_brake.mount": "bolt above",
        "front.rim_brake.pad_reach_mm": 52,
        "front.rim_brake.slot_least_mm": 47,
        "front.rim_brake.slot_most_mm": 57,
        "rear.rim_brake.mount": "boss below",
        "rear.rim_brake.pad_reach_mm": 25,
    }
    machine = client.get("/api/machines?find=Brick").json()["machines"][0]["id"]
    answer = client.patch(f"/api/machines/{machine}", json={"figures": figures})
    assert answer.status_code == 200, answer.text
    change = {"front.tire": "57-584", "rear.tire": "57-584"}
    answer = client.post(f"/api/jobs/{job['id']}/proposals", json={"changes": change})
    assert answer.status_code == 201, answer.text
    return job["id"], answer.json()["proposal"]


def test_a_later_caution_leaves_the_stop_of_the_other_end(
    client: TestClient, braked: tuple[int, str]
) -> None:
    # By hand: the rim falls (622 - 584) / 2 = 19 mm; 52 + 19 = 71 is beyond the slot's 57.
    for path in OF_PROPOSAL:
        text = text_of(client, path.format(job=braked[0], name=braked[1]))
        assert "does not reach: needs 71 mm, has 47–57" in text, path
    paper = client.get(OF_PROPOSAL[2].format(job=braked[0], name=braked[1])).text
    assert "nothing to sign" in paper
    assert "signatures" not in paper


def test_where_nothing_was_changed_nothing_is_found_to_be_fine(client: TestClient) -> None:
    there = client.post("/jobs", data={"what": "Untouched", "tire": "28-622"}).url.path
    client.post(f"{there}/proposals", data={})
    for page in (f"{there}?station=propose", f"{there}?station=check"):
        text = client.get(page).text.casefold()
        assert "nothing to check yet" in text, page
        assert "nothing found" not in text
