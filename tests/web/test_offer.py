"""The offer: a paper whose lines add up, signed only without a stop, kept as it was shown."""

import re
from pathlib import Path

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.store import chain, jobs
from jentrik.store.models import TABLES
from jentrik.web.app import create_app
from tests.conftest import A_MONDAY

LIGHTHOUSE, TOURER = 10, 1  # one that goes with care, one whose brakes do not reach


def price(client: TestClient, job: int, proposal: str = "A") -> None:
    """Price every part of an offer that has no price."""
    offer = client.get(f"/api/jobs/{job}/offer?proposal={proposal}").json()
    entries = {f"price:{one['key']}": "10" for one in offer["lines"] if one["sum"] is None}
    client.patch(f"/api/jobs/{job}/order", json={"entries": entries})


def agree(client: TestClient, job: int, **said: str) -> Response:
    body = {"proposal": "A", "by": "Ada Fairlead", "how": "phone", **said}
    return client.post(f"/api/jobs/{job}/agreed", json=body)


def test_the_lines_of_an_offer_add_up_and_name_what_has_no_price(client: TestClient) -> None:
    offer = client.get(f"/api/jobs/{LIGHTHOUSE}/offer?proposal=A").json()
    assert offer["total"] is None
    assert set(offer["not_priced"]) == {x["part"] for x in offer["lines"] if x["sum"] is None}
    price(client, LIGHTHOUSE)
    offer = client.get(f"/api/jobs/{LIGHTHOUSE}/offer?proposal=A").json()
    lines = [*offer["lines"], *offer["work"]]
    assert float(offer["total"]) == pytest.approx(sum(float(one["sum"]) for one in lines))
    assert offer["valid_until"] == "2026-12-07"  # a fortnight from the day of the demo
    paper = in_plain(client.get(f"/jobs/{LIGHTHOUSE}/customer?proposal=A").text)
    assert f'In all</th><td colspan="2"><b class="customer-cost">{offer["total"]} EUR' in paper
    assert all(one["part"] in paper for one in offer["lines"])


def test_nothing_is_signed_over_a_stop(client: TestClient) -> None:
    offer = client.get(f"/api/jobs/{TOURER}/offer?proposal=A").json()
    assert (offer["signable"], offer["agreed"]) == (False, None)
    refused = agree(client, TOURER)
    assert refused.status_code == 422
    assert offer["stops"][0] in refused.json()["error"]["message"]
    page = client.post(
        f"/jobs/{TOURER}/agreed", data={"proposal": "A", "by": "Ada", "state": "agreed"}
    )
    assert page.status_code == 422
    assert 'value="Ada"' in page.text
    paper = client.get(f"/jobs/{TOURER}/customer?proposal=A").text
    assert "To be decided first" in paper
    assert "signatures" not in paper
    assert client.get("/api/jobs?find=17").json()["jobs"][0]["stage"] == "waits"


def test_an_offer_that_changes_nothing_is_none(client: TestClient) -> None:
    job = next(job for job in jobs.jobs() if not any(kept.changes for kept in job.proposals))
    client.post(f"/api/jobs/{job.id}/proposals", json={})
    name = jobs.job(job.id).proposals[-1].name
    assert not client.get(f"/api/jobs/{job.id}/offer?proposal={name}").json()["signable"]
    assert agree(client, job.id, proposal=name).status_code == 422
    assert "Nothing is proposed yet" in client.get(f"/jobs/{job.id}/customer").text


def test_what_was_agreed_is_sealed_and_what_moves_afterwards_is_said(
    client: TestClient, app: FastAPI
) -> None:
    price(client, LIGHTHOUSE)
    said = agree(client, LIGHTHOUSE).json()["agreed"]
    assert (said["by"], said["how"], said["proposal"]) == ("Ada Fairlead", "phone", "A")
    assert re.fullmatch(r"[0-9a-f]{64}", said["sha256"])
    assert said["since"] == ""
    offer = client.get(f"/api/jobs/{LIGHTHOUSE}/offer?proposal=A").json()
    key = offer["lines"][0]["key"]
    client.patch(f"/api/jobs/{LIGHTHOUSE}/order", json={"entries": {f"price:{key}": "22.40"}})
    since = client.get(f"/api/jobs/{LIGHTHOUSE}/offer?proposal=A").json()["agreed"]["since"]
    assert since == "Since agreed: parts +12.40 EUR."
    assert "parts +12.40 EUR" in client.get(f"/jobs/{LIGHTHOUSE}/customer?proposal=A").text
    app.state.shop.ready()
    state = chain.verify(app.state.shop.database, at=app.state.shop.now())
    assert state.broken == ""
    edit = "UPDATE job_document SET document = replace(document, 'Ada', 'Eva') WHERE kind = 'offer'"
    app.state.shop.database.execute_sql(edit)
    assert (
        "is not as it was sealed"
        in chain.verify(app.state.shop.database, at=app.state.shop.now()).broken
    )


def test_the_page_keeps_the_paper_as_it_was_shown_and_it_can_do_nothing(client: TestClient) -> None:
    price(client, LIGHTHOUSE)
    answer = client.post(
        f"/jobs/{LIGHTHOUSE}/agreed",
        data={"proposal": "A", "by": "<b>Ada</b>", "how": "letter", "state": "agreed"},
    )
    assert answer.status_code == 200
    assert "&lt;b&gt;Ada" in answer.text
    assert "<b>Ada" not in answer.text
    client.post(f"/jobs/{LIGHTHOUSE}/undo")
    assert "as it was shown" not in client.get(f"/jobs/{LIGHTHOUSE}/customer").text
    client.post(
        f"/jobs/{LIGHTHOUSE}/agreed",
        data={"proposal": "A", "by": "Ada", "how": "here", "state": "agreed"},
    )
    path = re.search(r"/jobs/10/agreed/\d+", client.get(f"/jobs/{LIGHTHOUSE}/customer").text)
    sealed = client.get(path.group())
    assert "sandbox" in sealed.headers["Content-Security-Policy"]
    assert "What it takes" in sealed.text
    assert "<form" not in sealed.text


def test_declined_and_come_back_with_a_price_are_states_of_a_job(client: TestClient) -> None:
    for state in ("asked for a price", "offered", "declined"):
        assert agree(client, TOURER, state=state).status_code == 201
    text = client.get(f"/jobs/{TOURER}/customer").text
    assert all(f": {state}, proposal A" in text for state in ("declined", "asked for a price"))
    refused = agree(client, TOURER, state="declined", by="")
    assert refused.json()["error"]["field"] == "by"


def test_an_offer_comes_back_with_the_shop(
    client: TestClient, app: FastAPI, tmp_path: Path
) -> None:
    price(client, LIGHTHOUSE)
    agree(client, LIGHTHOUSE)
    export = client.get("/api/export").content
    other = create_app(tmp_path / "other", now=lambda: A_MONDAY)
    other.state.shop.database.bind(TABLES)  # the models belong to one shop at a time
    with TestClient(other, base_url="http://127.0.0.1") as there:
        assert there.post("/api/import", content=export).status_code == 200
        rows = there.get("/api/jobs?find=26").json()["jobs"]
        job = next(row for row in rows if row["tag"] == 26)
        offer = there.get(f"/api/jobs/{job['id']}/offer?proposal=A").json()
        assert (offer["agreed"]["by"], job["stage"]) == ("Ada Fairlead", "agreed")
    app.state.shop.database.bind(TABLES)


def test_a_hand_over_says_what_was_done_and_when_it_is_looked_at_again(client: TestClient) -> None:
    done = client.get("/api/jobs?state=done").json()["jobs"][0]["id"]
    paper = in_plain(client.get(f"/jobs/{done}/customer").text)
    assert "Hand-over" in paper
    assert "What was done" in paper
    assert "First ride" in paper or "go easy" in paper.lower()
