"""Where a tire or a wheel can go: each machine judged as a plan judges it."""

import re

from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import compute
from jentrik.core.rules.case import Severity
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import machines, shelf, wheels
from jentrik.store.policy import stored_policy
from tests.conftest import A_MONDAY


def test_each_machine_says_what_a_plan_says_of_it(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    (tire,) = [one for one in shelf.tires() if one.code.startswith("110/80-18")]
    rows = {
        row["machine_id"]: row["ends"]
        for row in client.get(f"/api/shelf/{tire.id}/where").json()["machines"]
    }
    assert len(rows) == len(machines.sheets())
    page = client.get(f"/shelf/tires/{tire.id}").text.split('id="where"')[1]
    shown = {int(one) for one in re.findall(r'href="/machines/(\d+)"', page)}
    stopped = {
        number
        for number, ends in rows.items()
        if all(end["severity"] == "stop" and not end["cure"] for end in ends)
    }
    assert shown == rows.keys() - stopped
    assert f"does not go on {len(stopped)} more" in page
    for sheet in machines.sheets():
        made = f"{tire.week:02d}{tire.year % 100:02d}"
        change = {"front": {"tire": tire.code, "fitted": {"made": made}}}
        proposal = read_proposal({"name": "x", **change})
        (alone,) = compute(
            machine_of(sheet), (proposal,), policy=stored_policy(), on=A_MONDAY.date()
        ).outcomes
        front = rows[sheet.id][0]["says"]
        first = next(
            (
                finding
                for severity in Severity
                for finding in alone.findings
                if finding.severity is severity
            ),
            None,
        )
        says = first.headline if first else "no rule speaks against it"
        assert in_plain(says) == in_plain(front)


def test_a_wheel_goes_to_its_own_end_alone(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    kept = next(
        wheel
        for sheet in machines.sheets()
        for wheel in wheels.wheels_of(sheet)
        if wheel.id and wheel.kept != "machine"
    )
    page = client.get(f"/wheels/{kept.id}").text
    assert f"<h1>{kept.name}</h1>" in page
    assert client.get("/wheels/99999").status_code == 404
    assert client.get("/shelf/tires/99999").status_code == 404
    assert "No machine has these words" in client.get(f"/wheels/{kept.id}?find=zeppelin").text


def test_the_shelf_leads_there(client: TestClient) -> None:
    assert "/shelf/tires/1#where" in client.get("/shelf").text
