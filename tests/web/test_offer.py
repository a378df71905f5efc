"""The offer: a paper whose lines add up, signed only without a stop, kept as it was shown."""

import html
import re
from pathlib import Path
from typing import Any

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
    assert "changed since agreed A today: ask again" in client.get("/jobs").text
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
    policy = sealed.headers["Content-Security-Policy"]
    assert "sandbox allow-same-origin" in policy
    assert "script-src" not in policy
    assert "What it takes" in sealed.text
    assert "<form" not in sealed.text


def questions(one: dict[str, Any], tag: int, machine: str) -> dict[str, str]:
    """Return what a customer asks of a paper, and the words that answer it."""
    lines, work = one["lines"], one["work"]
    asked = {
        "whose paper is it": "Quay Lane Cycles",
        "where is the shop": "3 Quay Lane",
        "whom do I ring": "555 0101",
        "is there a tax number": "tax no. 00-000",
        "which tag hangs on it": f"<b>{tag}</b>",
        "which machine": machine,
        "what did I ask for": "You asked for:",
        "does it go": one["sentence"],
        "until when": "valid to 07 Dec 2026",
        "what will I feel": "What you will feel",
        "how does it look": "bench-drawing",
        "what was measured": "easured on this machine",
        "what about the room": "We prove the room by hand",
        "what comes after": "Afterwards",
        "when do you look again": "After 100 to 500 km or the first 2 rides",
        "who decides": "local rules come first",
        "what are your terms": "Paid on collection",
        "what is the sum": f"{one['priced_so_far']} EUR",
        "is that all of it": "In all" if one["total"] and not one["stops"] else "Priced so far",
        "how is tax": "In it: tax 19 %" if work else "What it takes",
    }
    asked |= {f"what is {line['part']}": line["part"] for line in lines}
    asked |= {f"how long for {line['what']}": line["what"] for line in work}
    asked |= {f"is {name} in it": name.lower() for name in one["not_priced"]}
    asked |= {f"what about: {stop}": stop for stop in one["stops"]}
    return asked


def test_the_paper_of_every_demo_job_answers_what_a_customer_asks(client: TestClient) -> None:
    head = {"name": "Quay Lane Cycles", "address": "3 Quay Lane", "phone": "555 0101"}
    head |= {"tax_number": "00-000", "terms": "Paid on collection"}
    shop = {f"policy:head.{key}": value for key, value in head.items()}
    shop |= {f"policy:money.tax_{what}_percent": "19" for what in ("parts", "work")}
    assert client.post("/shop/answer", data=shop).status_code == 200
    read = 0
    for row in client.get("/api/jobs").json()["jobs"]:
        for name in row["proposals"].split() if row["stage"] != "ready" else ():
            one = client.get(f"/api/jobs/{row['id']}/offer?proposal={name}").json()
            text = client.get(f"/jobs/{row['id']}/customer?proposal={name}").text
            paper = in_plain(html.unescape(text))
            for question, answer in questions(one, row["tag"], row["machine"]).items():
                assert in_plain(answer) in paper, (row["id"], name, question)
            assert ("signatures" in text) is one["signable"], (row["id"], name)
            read += 1
    assert read > 15


def test_the_sign_of_the_shop_is_cleaned_kept_and_removed(client: TestClient) -> None:
    picture = (Path(__file__).parents[2] / "docs" / "screenshots" / "jobs-phone.png").read_bytes()
    client.post("/shop/sign", files={"sign": ("sign.png", picture, "image/png")})
    paper = client.get(f"/jobs/{LIGHTHOUSE}/customer").text
    file = re.search(r'<header class="paper-head">\s*<img src="(/photos/[0-9a-f]{32}.jpg)"', paper)
    assert client.get(file.group(1)).headers["content-type"] == "image/jpeg"
    refused = client.post("/shop/sign", files={"sign": ("sign.png", b"<svg/>", "image/png")})
    assert refused.status_code == 422
    client.post("/shop/sign", data={"act": "remove"}, files={"none": ("x", b"")})
    assert '<header class="paper-head">\n    <img' not in client.get("/jobs/10/customer").text


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
    for row in client.get("/api/jobs?state=done").json()["jobs"]:
        paper = client.get(f"/jobs/{row['id']}/customer").text
        calendar = f"/jobs/{row['id']}/look-again.ics"
        assert (calendar in paper) == (client.get(calendar).status_code == 200)
