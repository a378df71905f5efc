"""The fitted machine against the plan, and the sheet made of what was fitted."""

from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.machine.figure import Provenance
from jentrik.store import after_fitting, jobs, logbook, machines, setups

JOB = 9  # the enduro: a smaller rear wheel with its chip position


@pytest.fixture(autouse=True)
def _ready(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    client.post("/who", data={"who": "Ida", "back": "/jobs"})
    client.post(f"/jobs/{JOB}/card", data={"proposal": "B", "template": "What changes"})


def measure(client: TestClient, **figures: Any) -> Response:
    fields = {f"measured:{key}": value for key, value in figures.items()}
    return client.post(f"/jobs/{JOB}/measured", data=fields)


def test_what_lies_within_the_plus_minus_agrees_and_the_rest_is_named(client: TestClient) -> None:
    page = measure(client, **{"bb_height_mm": "340", "rear.overall_diameter_mm": "668"}).text
    assert "disagrees with the plan: Rear tire, diameter" in page
    assert page.count(" agrees") >= 1
    kept = after_fitting.measured_of(JOB)
    # 559 + 2 x 58 = 675 by its mark.
    assert kept["rear.overall_diameter_mm"].expected.predicted == 675
    assert kept["rear.overall_diameter_mm"].by == "Ida"
    measure(client, **{"bb_height_mm": ""})
    assert "bb_height_mm" not in after_fitting.measured_of(JOB)


def test_a_figure_far_from_the_plan_is_asked_again_and_keeps_all_as_typed(
    client: TestClient,
) -> None:
    answer = measure(client, bb_height_mm="34", head_angle_deg="65.9")
    assert answer.status_code == 422
    assert "read it again" in answer.text
    assert 'value="34"' in answer.text
    assert after_fitting.measured_of(JOB) == {}


def test_the_sheet_becomes_what_was_fitted_and_undo_brings_the_old_one_back(
    client: TestClient,
) -> None:
    before = machines.sheet(JOB)
    measure(
        client, **{"bb_height_mm": "341", "rear.overall_diameter_mm": "672", "rear.width_mm": "57"}
    )
    client.post(f"/jobs/{JOB}/fitted")
    after = machines.sheet(JOB)
    figures = after.figures
    assert after.text("rear.tire") == "58-559"
    assert (figures["bb_height_mm"].value, figures["bb_height_mm"].provenance) == (
        341,
        Provenance.MEASURED,
    )
    assert figures["rear.overall_diameter_mm"].value == 672
    # The wheelbase moves with the position; no one measured it again: worked out from before.
    assert figures["wheelbase_mm"].provenance is Provenance.COMPUTED
    assert figures["wheelbase_mm"].measured_in == "As it came"
    assert figures["wheelbase_mm"].value != before.figures["wheelbase_mm"].value
    (fitted,) = [
        position.name for position in after.positions if (position.x_mm, position.y_mm) == (0, 0)
    ]
    assert fitted == "Small wheel"
    fitting = [one for one in logbook.log(JOB).fittings if one.machine_id == JOB][-1]
    assert (fitting.rear_tire, fitting.front_tire, fitting.by) == ("58-559", None, "Ida")
    assert [setup.name for setup in setups.setups(JOB)][-2:] == [
        "Less air (2)",
        jobs.job(JOB).wanted,
    ]
    assert "As fitted" in client.get(f"/jobs/{JOB}").text
    assert "Fitted and in the logbook" in client.get(f"/jobs/{JOB}?station=fit").text
    assert client.post(f"/jobs/{JOB}/fitted").status_code == 422  # not twice
    sizes = client.get("/logbook/sizes").text
    assert "<td>58-559</td><td>width</td><td>58</td><td>1</td><td>57.0</td><td>−1.7</td>" in sizes
    client.post(f"/machines/{JOB}/undo")
    assert machines.sheet(JOB) == before
    assert jobs.job(JOB).done is None


@pytest.mark.parametrize("job", range(1, 12))
def test_every_demo_machine_stands_once_its_proposals_are_fitted(
    client: TestClient, app: FastAPI, job: int
) -> None:
    for proposal in ("A", "B"):
        made = client.post(
            f"/jobs/{job}/card", data={"proposal": proposal, "template": "What changes"}
        )
        if made.status_code == 404:
            continue
        answer = client.post(f"/jobs/{job}/fitted")
        assert answer.status_code == 200
        assert client.get(f"/jobs/{job}?station=check").status_code == 200
        client.post(f"/machines/{job}/undo")


def test_without_a_card_nothing_was_fitted(client: TestClient) -> None:
    assert client.post("/jobs/1/measured", data={}).status_code == 422
    assert client.post("/jobs/1/fitted").status_code == 422
