"""Two wheel sets over a year of swaps: km by tire against a plain ledger, nothing half done."""

import random
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jentrik.store import cards, jobs, logbook, wheels
from jentrik.web.app import create_app
from tests.web.conftest import with_token

SINGLE = 10
SAME = {"front_tire": "90/90-21 54S", "rear_tire": "130/80-17 65S"}  # a km counts as before


def put_on(client: TestClient, name: str) -> None:
    (known,) = [set_ for set_ in wheels.sets_of(SINGLE) if set_.name == name]
    to = client.post(
        f"/machines/{SINGLE}/put-on", data={"set": str(known.id)}, follow_redirects=False
    ).headers["location"]
    job_id = int(to.split("/")[2].split("?")[0])
    form: dict[str, str] = {}
    for step in cards.card_of(job_id).steps:
        if step.plan.fastener:
            form |= {f"torque:{step.id}": "60", f"source:{step.id}": "on the part"}
        if step.plan.reading:
            least, most = step.plan.at_least or 0.0, step.plan.at_most
            words = "left thin" if step.plan.unit == "words" else ""
            read = least if most is None else (least + most) / 2
            form[f"reading:{step.id}"] = words or f"{read:g} {step.plan.unit}"
    answer = client.post(f"/jobs/{job_id}/card/set-on", data=form, follow_redirects=False)
    assert answer.status_code == 303
    assert jobs.job(job_id).closed_at


@pytest.mark.parametrize("seed", [1, 2])
def test_each_tire_has_the_km_of_a_plain_ledger(demo: Path, seed: int) -> None:
    clock, dice = [datetime(2026, 11, 23, 8, 0)], random.Random(seed)
    app = create_app(demo, now=lambda: clock[0])
    with TestClient(app, base_url="http://127.0.0.1") as client:
        with_token(client)
        client.post("/who", data={"who": "Ida", "back": "/jobs"})
        client.post(f"/machines/{SINGLE}/sets", data={"which": "on", "name": "Road"})
        client.post(f"/machines/{SINGLE}/sets", data={"which": "new", "name": "Other", **SAME})
        app.state.shop.ready()
        km = logbook.log(SINGLE).odometer[SINGLE][-1].km
        client.post(f"/machines/{SINGLE}/log/odometer", data={"km": f"{km:g}"})
        road = logbook.tire_on(SINGLE, "rear")
        before = logbook.log(SINGLE).run_km(SINGLE, road)[0]
        ledger: dict[int, float] = {}
        for turn in range(9):
            clock[0] += timedelta(days=dice.choice([0, 0, 9, 33]))  # several a day, too
            ridden, on = float(dice.randint(20, 900)), logbook.tire_on(SINGLE, "rear")
            ledger[on] = ledger.get(on, 0.0) + ridden
            km += ridden
            client.post(f"/machines/{SINGLE}/log/odometer", data={"km": f"{km:g}"})
            put_on(client, ("Other", "Road")[turn % 2])
        log = logbook.log(SINGLE)
        (other,) = set(ledger) - {road}
        true = {other: log.run_km(SINGLE, other)[0], road: log.run_km(SINGLE, road)[0] - before}
        factor = sum(true.values()) / sum(ledger.values())  # of a counted km, by its checks
        assert 0.9 < factor < 1.1
        for number, counted in ledger.items():
            assert true[number] == pytest.approx(counted * factor, abs=0.5)
        app.state.shop.database.close()
