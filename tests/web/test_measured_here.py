"""Readings are believed within limits, belong where they were taken, and are never invented."""

from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.machine.figure import Provenance
from jentrik.core.work.card import CardStep
from jentrik.store import cards, jobs, machines, setups
from tests.conftest import A_MONDAY


@pytest.fixture(autouse=True)
def _ready(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    client.post("/who", data={"who": "Ida", "back": "/jobs"})


def step_of(job: int, measures: str) -> CardStep:
    return next(step for step in cards.card_of(job).steps if step.plan.measures == measures)


def tick(client: TestClient, job: int, measures: str, **form: str) -> int:
    step = step_of(job, measures)
    sent = {"version": str(step.version), "act": "tick", **form}
    status: int = client.post(f"/jobs/{job}/card/steps/{step.id}", data=sent).status_code
    return status


def figure(machine: int, key: str) -> Any:
    kept = machines.sheet(machine).figures.get(key)
    return kept and (kept.value, kept.provenance)


@pytest.mark.parametrize(
    ("measures", "beyond", "within"),
    [
        ("front.seating_kpa", "900", "390"),  # 9 bar; a motorcycle's bead seats with 4
        ("front.fitted.pressure_kpa", "40", "180"),  # 0.4 bar; maker and plan ask for 1.9
        ("front.fitted.pressure_kpa", "300", "200"),
        ("front.rim_runout_mm", "5", "0.4"),
        ("chain_slack_mm", "0", "30"),
        ("front.rim.inner_width_mm", "5", "47"),
        ("place:Fork legs", "3", "9"),
    ],
)
def test_a_reading_that_cannot_be_is_asked_about_and_both_are_kept(
    client: TestClient, measures: str, beyond: str, within: str
) -> None:
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    assert tick(client, 6, measures, reading=beyond) == 422
    assert step_of(6, measures).open
    assert tick(client, 6, measures, reading=beyond, why="gauge read twice") == 200
    kept = step_of(6, measures)
    assert (kept.reading, kept.done_by) == (beyond, "Ida")
    assert "gauge read twice (Ida)" in kept.reason
    assert tick(client, 6, measures, act="open") == 200
    assert tick(client, 6, measures, reading=within) == 200
    assert step_of(6, measures).reason is None


def test_every_reading_of_every_card_knows_what_it_may_be(client: TestClient) -> None:
    seen = 0
    for job in jobs.jobs():
        if job.proposals:
            client.post(f"/jobs/{job.id}/card", data={"proposal": job.proposals[-1].name})
        card = cards.card_of(job.id)
        for step in card.steps if card else ():
            if step.plan.reading and step.plan.unit not in ("", "words"):
                assert step.plan.at_least is not None, step
                assert step.plan.limits_from
                seen += 1
    assert seen > 60


def test_without_a_tool_nothing_reads_and_a_stand_in_never_measures(
    client: TestClient, app: FastAPI
) -> None:
    client.post("/jobs/6/card", data={"proposal": "A", "template": "What changes"})
    pages = ("/machines/1", "/jobs/6/card", "/logbook", "/machines/6/log")
    assert any("from gauge" in client.get(page).text for page in pages)

    gauge = {"gauge": "head_angle_deg"}
    assert client.post("/machines/1/gauge", data=gauge).status_code == 200
    simulated = figure(1, "head_angle_deg")
    assert simulated[1] is Provenance.SIMULATED
    assert "<option selected>simulated" in client.get("/machines/1").text
    claimed = client.post("/machines/1/answer", data={"from:head_angle_deg": "measured"})
    assert (claimed.status_code, figure(1, "head_angle_deg")) == (422, simulated)
    assert tick(client, 6, "place:Fork legs", act="gauge") == 200
    step = step_of(6, "place:Fork legs")
    assert (step.open, step.simulated) == (True, True)

    client.post("/shop/answer", data={"policy:stand_ins": "off"})
    for page in pages:
        assert "from gauge" not in client.get(page).text, page
    assert client.post("/machines/1/gauge", data=gauge).status_code == 422
    assert figure(1, "head_angle_deg") == simulated
    assert tick(client, 6, "place:Swingarm sides", act="gauge") == 422


def test_what_is_typed_today_belongs_to_todays_set_up(client: TestClient) -> None:
    def answer(name: str, value: str) -> int:
        status: int = client.post("/machines/1/answer", data={f"sheet:{name}": value}).status_code
        return status

    assert answer("wheelbase_mm", "1060") == 200
    assert answer("fork.offset_mm", "51") == 422  # corrected, or changed?
    assert figure(1, "fork.offset_mm") == (50.0, Provenance.MEASURED)
    before = len(setups.setups(1))
    assert answer("fork.offset_mm", "50.5 corrected") == 200
    assert (figure(1, "fork.offset_mm")[0], len(setups.setups(1))) == (50.5, before)
    assert answer("fork.offset_mm", "51 changed") == 200
    assert (figure(1, "fork.offset_mm")[0], len(setups.setups(1))) == (51.0, before + 1)
    assert figure(1, "wheelbase_mm") == (1060.0, Provenance.MEASURED)
    assert answer("fork.offset_mm", "52") == 200  # the set-up that is on is not sealed
    assert figure(1, "wheelbase_mm") == (1060.0, Provenance.MEASURED)


def test_a_fork_typed_straight_stays_as_typed(client: TestClient) -> None:
    client.post("/machines/4/answer", data={"sheet:fork.axle_to_crown_mm": "507"})
    assert figure(4, "fork.axle_to_crown_mm") == (507.0, Provenance.MEASURED)
    client.post("/machines/4/answer", data={"sheet:fork.offset_mm": "44"})
    assert figure(4, "fork.axle_to_crown_mm") == (507.0, Provenance.MEASURED)
    length, _ = figure(4, "fork.length_mm")
    assert length == pytest.approx((507.0**2 - 44.0**2) ** 0.5, abs=0.05)


def test_an_assumed_value_typed_is_measured_and_the_makers_group_is_the_makers(
    client: TestClient,
) -> None:
    client.post("/jobs", data={"what": "Pier single", "tire": "28-622"})
    new = next(sheet.id for sheet in machines.sheets() if sheet.name == "Pier single")
    assert figure(new, "crank_mm") == (170.0, Provenance.ASSUMED)
    client.post(
        f"/machines/{new}/answer", data={"sheet:crank_mm": "170", "visit:sheet:crank_mm": "v1"}
    )
    assert figure(new, "crank_mm") == (170.0, Provenance.MEASURED)
    client.post("/machines/1/answer", data={"sheet:fork.longest_mm": "420"})
    assert figure(1, "fork.longest_mm") == (420.0, Provenance.MAKER)


def test_a_clearance_measured_on_the_card_goes_to_the_sheet_though_nothing_was_predicted(
    client: TestClient,
) -> None:
    client.post("/jobs/9/card", data={"proposal": "B", "template": "What changes"})
    for step in cards.card_of(9).steps:
        plan = step.plan
        words = {"reading": "left 3, right 3"} if plan.unit == "words" else {}
        if plan.measures == "place:Chain stays":
            words = {"reading": "9"}
        elif plan.reading and not words:
            least, most = plan.at_least or 0.0, plan.at_most
            words = {"reading": f"{least if most is None else (least + most) / 2:g}"}
        if plan.fastener:
            words |= {"torque_nm": "12", "torque_source": "maker's manual"}
        sent = {"version": str(step.version), "act": "tick", **words}
        assert client.post(f"/jobs/9/card/steps/{step.id}", data=sent).status_code == 200, step
    client.post("/jobs/9/fitted", data={"back": "/jobs/9"})
    sheet = machines.sheet(jobs.job(9).machine_id)
    stays = next(clearance for clearance in sheet.clearances if clearance.name == "Chain stays")
    assert (stays.gap_mm, stays.provenance, stays.taken_on) == (
        9.0,
        Provenance.MEASURED,
        A_MONDAY.date(),
    )
