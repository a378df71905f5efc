"""Two people at once: no one's figure is lost, and nothing is made twice."""

import threading
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.store import cards, jobs, machines
from jentrik.store.rows import rows
from jentrik.web.live.fields import LIVE_HEADER
from tests.web.conftest import with_token

TURNS = 12


@pytest.fixture(name="together")
def _together(app: FastAPI) -> Iterator[Callable[..., Any]]:
    """Return a way to send several writes at the same moment, each from a browser of its own."""
    with TestClient(app, base_url="http://127.0.0.1") as first:
        clients = [with_token(first)]
        for _ in range(7):
            clients.append(with_token(TestClient(app, base_url="http://127.0.0.1")))

        def together(*sent: Any) -> list[Response]:
            gate = threading.Barrier(len(sent))
            answers: list[Any] = [None] * len(sent)

            def send(place: int, client: TestClient, path: str, form: dict[str, str]) -> None:
                gate.wait()
                answers[place] = client.post(path, data=form, headers={"HX-Request": "true"})

            threads = [
                threading.Thread(target=send, args=(place, client, *one))
                for place, (client, one) in enumerate(zip(clients, sent, strict=False))
            ]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            return answers

        yield together


def test_two_figures_of_one_proposal_are_both_kept(together: Callable[..., Any]) -> None:
    for turn in range(TURNS):
        length, offset = str(400 + turn), str(40 + turn)
        together(
            ("/jobs/1/answer?proposal=A", {"proposal:fork.length_mm": length}),
            ("/jobs/1/answer?proposal=A", {"proposal:fork.offset_mm": offset}),
        )
        fork = jobs.job(1).proposals[0].changes["fork"]
        assert fork == {"length_mm": float(length), "offset_mm": float(offset)}


def test_words_and_day_of_a_job_and_both_figures_of_a_point_are_kept(
    together: Callable[..., Any],
) -> None:
    point = machines.sheet(1).points[0].id
    for turn in range(TURNS):
        together(
            ("/jobs/1/answer", {"job:wanted": f"turn {turn}"}),
            ("/jobs/1/answer", {"job:due_on": f"2026-12-{turn + 1:02d}"}),
            ("/machines/1/answer", {f"point:{point}:x_mm": str(100 + turn)}),
            ("/jobs/1/answer", {f"point:{point}:height_mm": str(900 + turn)}),
        )
        job, now = jobs.job(1), machines.sheet(1).points[0]
        assert (job.wanted, job.due_on.day) == (f"turn {turn}", turn + 1)
        assert (now.x_mm, now.height_mm) == (100 + turn, 900 + turn)


def test_one_card_of_a_job_and_one_machine_of_a_name(together: Callable[..., Any]) -> None:
    form = {"proposal": "A", "template": "What changes"}
    together(*[("/jobs/6/card", form)] * 8)
    assert len(rows("SELECT id FROM card WHERE job_id = 6")) == 1
    steps = len(cards.card_of(6).steps)
    assert len(rows("SELECT id FROM card_step WHERE card_id = ?", cards.card_of(6).id)) == steps
    together(*[("/jobs", {"what": "Blue racer", "tire": "28-622"})] * 8)
    assert len(rows("SELECT id FROM machine WHERE name = 'Blue racer'")) == 1
    tags = [row["tag"] for row in rows("SELECT tag FROM job")]
    assert len(set(tags)) == len(tags)
    together(*[("/machines", {"what": "Red racer", "tire": "28-622"})] * 8)
    assert len(rows("SELECT id FROM machine WHERE name = 'Red racer'")) == 1


def test_the_same_figure_from_two_is_stored_once_and_refused_once(
    together: Callable[..., Any],
) -> None:
    before = machines.sheet(1).figures["wheelbase_mm"].value
    forms = [
        {"sheet:wheelbase_mm": text, "seen:sheet:wheelbase_mm": f"{before:g}"}
        for text in ("1050", "1060")
    ]
    answers = together(*[("/machines/1/answer", form) for form in forms])
    assert sorted(answer.status_code for answer in answers) == [200, 422]
    refused = next(answer for answer in answers if answer.status_code == 422)
    assert "1050" in refused.text
    assert "1060" in refused.text


def test_a_machine_cannot_take_anothers_name(client: TestClient) -> None:
    refused = client.post("/machines", data={"what": "green TOURER", "tire": "28-622"})
    assert (refused.status_code, "There is a machine called" in refused.text) == (422, True)
    renamed = client.post(
        "/machines/2/answer",
        data={"machine:name": "Green tourer"},
        headers={"HX-Request": "true", LIVE_HEADER: "1"},
    )
    assert (renamed.status_code, "There is a machine called" in renamed.text) == (422, True)
    client.post("/jobs/1/bin")
    client.post("/machines/1/bin")
    assert (
        client.post("/machines", data={"what": "Green tourer", "tire": "28-622"}).status_code == 200
    )
    back = client.post("/bin/restore", data={"what": "machine:1"})
    assert (back.status_code, "another machine of that name" in back.text) == (422, True)


def test_any_change_of_the_past_is_taken_back_from_the_page_of_changes(client: TestClient) -> None:
    for text in ("1050", "1060"):
        client.post("/machines/1/answer", data={"sheet:wheelbase_mm": text})
    page = client.get("/machines/1/history").text
    first = page.index("Undo wheelbase 1046 → 1050")
    number = page[:first].rpartition('value="')[2].split('"')[0]
    asked = in_plain(client.post("/machines/1/history/undo", data={"change": number}).text)
    assert "now <b>1060 mm" in asked
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1060
    mark = asked.partition('name="insist" value="')[2].split('"')[0]
    client.post("/machines/1/history/undo", data={"change": number, "insist": mark})
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1046
    client.post("/machines/1/history/undo", data={"change": number, "act": "redo"})
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1050
