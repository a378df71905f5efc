"""Ways back and the comparison, on every job of the demo workshop."""

import re

import pytest
from fastapi.testclient import TestClient

from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.exchange.plan_document import proposal_document, read_proposal
from jentrik.store import jobs, machines


@pytest.mark.parametrize("job_id", range(1, 12))
def test_every_demo_proposal_has_an_honest_list_and_a_comparison(
    client: TestClient, job_id: int
) -> None:
    for name in ("A", "B"):
        answer = client.get(f"/jobs/{job_id}/ways?proposal={name}")
        assert answer.status_code == 200
        said = re.search(r'class="says" role="status">([^<]+)', answer.text).group(1)
        offers = len(re.findall(r'name="steps"', answer.text))
        assert "combinations" in said or "nothing to restore" in said
        assert bool(offers) == ("these" in said)
    compared = client.get(f"/jobs/{job_id}/compare")
    assert compared.status_code == 200
    assert "bench-drawing" in compared.text
    assert "Through the travel" in compared.text or job_id not in (4, 9, 10)


def test_a_way_taken_becomes_the_proposal_it_promised(client: TestClient) -> None:
    page = client.get("/jobs/10/ways?proposal=A").text
    steps = re.search(r'name="steps" value="([^"]+)"', page).group(1)
    left = re.search(r'data-head="Trail">([^<]+)<', page).group(1)
    there = client.post(
        "/jobs/10/ways/take", data={"proposal": "A", "steps": steps}, follow_redirects=False
    )
    assert there.headers["location"] == "/jobs/10?proposal=C"
    kept = jobs.job(10).proposals[-1]
    found = as_measured(machine_of(machines.sheet(10)))
    moved = outcome_of(found, read_proposal(kept.values())).figures.geometry.trail_mm
    promised = float(left.replace("\u2212", "-"))
    assert moved - found.figures.geometry.trail_mm == pytest.approx(promised, abs=0.51)
    client.post("/jobs/10/undo")
    assert len(jobs.job(10).proposals) == 2


def test_a_figure_sought_is_answered_and_taken(client: TestClient) -> None:
    page = client.get("/jobs/1/ways?proposal=A&knob=fork-length&figure=trail_mm&wanted=60").text
    answer = re.search(r"Fork length ([0-9.]+)\u2009mm [^<]+gives trail 60", page)
    sought = re.search(r'name="sought" value="([^"]+)"', page).group(1)
    client.post("/jobs/1/ways/take", data={"proposal": "A", "sought": sought})
    changes = jobs.job(1).proposals[-1].changes
    assert changes["fork"]["length_mm"] == pytest.approx(float(answer.group(1)), abs=0.06)
    far = client.get("/jobs/1/ways?proposal=A&knob=lower-cup&figure=head_angle_deg&wanted=80").text
    assert "Not within reach" in far
    assert 'name="sought"' not in far


@pytest.mark.parametrize(
    ("query", "said"),
    [
        ("wanted=wide", "is not a figure"),
        ("target=own&trail_mm=soft", "is not a figure"),
        ("target=elsewhere&knob=magic&figure=taste", "nothing to restore"),
    ],
)
def test_what_cannot_be_read_is_said_where_it_was_typed(
    client: TestClient, query: str, said: str
) -> None:
    answer = client.get(f"/jobs/1/ways?proposal=A&{query}")
    assert answer.status_code == 200
    assert said in answer.text


def test_the_riders_own_figures_are_a_target(client: TestClient) -> None:
    page = client.get("/jobs/1/ways?proposal=A&target=own&head_angle_deg=72.5").text
    assert 'name="head_angle_deg" value="72.5"' in page
    assert re.search(r'class="moved">\u22121.0', page)


def test_remedies_left_out_are_not_offered(client: TestClient) -> None:
    gone = "&".join(f"without={name}" for name in ("clamps", "clamp-offset", "fork-travel"))
    page = client.get(f"/jobs/10/ways?proposal=A&{gone}").text
    ways = re.findall(r'<th scope="row">([^<]+)', page)
    assert not any("clamp" in way.casefold() for way in ways)


@pytest.mark.parametrize(
    "form",
    [
        {"steps": "clamps:99"},
        {"steps": "magic:0"},
        {"steps": ""},
        {"sought": "magic|x|1"},
        {"sought": "fork-length|trail_mm|nan"},
        {"sought": "fork-length|taste|1"},
    ],
)
def test_a_way_that_is_not_there_changes_nothing(client: TestClient, form: dict[str, str]) -> None:
    answer = client.post("/jobs/1/ways/take", data={"proposal": "A"} | form)
    assert answer.status_code in (404, 422)
    assert len(jobs.job(1).proposals) == 2


def test_a_job_without_a_proposal_says_so(client: TestClient) -> None:
    for name in ("A", "B"):
        client.post(f"/jobs/1/proposals/drop?proposal={name}")
    assert client.get("/jobs/1/ways").status_code == 404
    assert "No proposal to compare" in client.get("/jobs/1/compare").text


def test_one_proposal_is_laid_over_another(client: TestClient) -> None:
    over = client.get("/jobs/9/compare?base=A&over=B&view=road&magnify=3").text
    # B's position brings the bottom bracket back up: the pencil figure is A's.
    assert re.search(r">334</tspan>.*?>340</tspan>", over, re.DOTALL)
    assert "Differences drawn ×3" in over


WHOLE = {
    "name": "A",
    "front": {"tire": "47-584", "rim": {"bead_seat_diameter_mm": 584.0}},
    "rear": {"overall_diameter_mm": 660.0},
    "fork": {"length_mm": 400.0, "travel_mm": 120.0},
    "lower_cup_mm": 5.0,
    "rear_axle_shift_mm": {"x": 0.0, "y": -4.0},
    "position": "low",
    "headset_turn_deg": -1.0,
    "shock_mm": 205.0,
    "link_longer_mm": 3.0,
    "contact": {"crank_mm": 165.0, "spacers_mm": 10.0},
}


def test_a_proposal_written_reads_back_the_same() -> None:
    assert proposal_document(read_proposal(WHOLE)) == WHOLE
    assert proposal_document(read_proposal({"name": "A"})) == {"name": "A"}


def test_wheel_character_tells_what_was_given_and_complains_beside_the_rest(
    client: TestClient,
) -> None:
    weighed = "rim=480&tire=700&new_rim=500&new_tire=780&load=45&pressure=200"
    page = client.get(f"/jobs/4/compare?{weighed}").text
    assert "Rotating inertia" in page
    assert re.search(r"Contact patch, area.*?>2206<", page, re.DOTALL)  # 45 x 9.80665 / 0.2
    bad = client.get("/jobs/4/compare?step=high&load=-3&rim=soft").text
    assert bad.count('class="complaint"') == 3
    assert "Rotating inertia" not in bad


def test_narrower_limits_leave_fewer_ways_that_hold(client: TestClient) -> None:
    off = {}
    for width in ("half", "", "twice"):
        page = client.get(f"/jobs/10/ways?proposal=A&limits={width}").text
        off[width] = page.count("still outside") / max(page.count('name="steps"'), 1)
    assert off["half"] >= off[""] >= off["twice"]
    assert off["half"] > off["twice"]
    assert "brings inside: " in client.get("/jobs/10/ways?proposal=A").text


def test_a_scooter_is_not_offered_clamps(client: TestClient) -> None:
    page = client.get("/jobs/7/ways?proposal=A").text
    assert "clamps" not in page
    assert "fork tubes" not in page
    assert "seat height" in page


def test_a_comparison_answers_first_then_shows_what_differs_and_folds_the_rest(
    client: TestClient,
) -> None:
    page = client.get("/jobs/1/compare").text
    places = [page.index(one) for one in ("compare-answers", 'class="board"', "felt-columns")]
    places += [page.index("Figures that differ"), page.index("compare-same")]
    assert places == sorted(places)
    assert page.count("Does not go") == 2
    differing, same = page.split('id="figures"')[1].split("compare-same")
    assert '<span class="moved">0</span>' not in differing.replace("+", "") or "−" in differing
    assert "Bottom-bracket height" in differing
    assert "Head angle" in same
