"""Practice on the page: sessions that end on time, answers kept for a person, exams, the bench."""

import random
import re
from datetime import datetime, timedelta
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.core.practice.item import Verdict
from jentrik.core.practice.make import item_of
from jentrik.core.practice.schedule import Practised, next_kind, reviewed
from jentrik.core.practice.skills import SKILL, SKILLS
from jentrik.store import jobs, practice
from jentrik.web.pages.practice.own import own_item
from tests.conftest import A_MONDAY

WHO = {"who": "Ida", "back": "/practice"}


def _answer(client: TestClient, kind: str, seed: int, answer: str, **more: Any) -> Any:
    form = {"kind": kind, "seed": str(seed), "answer": answer, "until": "2026-11-23T23:00:00"}
    return client.post("/practice/answer", data=form | more)


def test_an_answer_is_judged_explained_and_kept(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    client.post("/who", data=WHO)
    item = item_of("load-index", 5)
    wrong = next(choice for choice in item.choices or () if choice != item.answer)
    page = in_plain(_answer(client, "load-index", 5, wrong).text)
    assert "Not so." in page
    assert f"it is <b>{item.answer}</b>" in page
    assert "Right." in _answer(client, "load-index", 5, str(item.answer)).text  # seen: not kept
    assert in_plain(item.why.split(".")[0]) in page
    assert "Right." in _answer(client, "load-index", 6, str(item_of("load-index", 6).answer)).text
    known = practice.practised("Ida")["load-index"]
    assert known.verdicts == ("wrong", "right")
    assert practice.practised("") == {}
    client.post("/practice/undo")
    assert practice.practised("Ida")["load-index"].verdicts == ("wrong",)


def test_what_is_no_answer_is_kept_as_typed_and_not_counted(client: TestClient) -> None:
    refused = _answer(client, "units", 3, "about many")
    assert refused.status_code == 422
    assert 'value="about many"' in refused.text
    assert practice.practised("") == {}
    assert _answer(client, "flying", 3, "1").status_code >= 400


def test_a_near_miss_is_told_from_a_wild_one(client: TestClient) -> None:
    item = item_of("units", 9)
    near = float(item.answer) + 1.5 * float(item.tolerance or 0)
    assert "Near." in _answer(client, "units", 9, f"{near:.2f}").text
    wild = _answer(client, "units", 9, f"{float(item.answer) * 3:.1f}").text
    assert "Far off." in wild
    assert f"That is {2 * float(item.answer):.3g} too much." in wild


def test_a_session_ends_on_time_and_not_before(client: TestClient) -> None:
    page = client.get("/practice/session?minutes=5").text
    assert "5 min left" in in_plain(page)
    until = re.search(r'name="until" value="([^"]+)"', page)[1]
    assert datetime.fromisoformat(until) == A_MONDAY.replace(microsecond=0) + timedelta(minutes=5)
    assert 'name="answer"' in client.get(f"/practice/session?until={until}").text
    over = client.get("/practice/session?until=2026-01-01T00:00:00")
    assert "Time is up" in over.text
    assert "practice-question" in client.get("/practice/session?until=never").text


def test_a_machine_of_an_item_opens_on_the_bench(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    page = client.post("/practice/bench", data={"kind": "which-way", "seed": "4"})
    job_id = int(re.search(r"/jobs/(\d+)", str(page.url))[1])
    item = item_of("which-way", 4)
    (kept,) = [proposal for proposal in jobs.job(job_id).proposals if proposal.name == "A"]
    assert kept.changes == item.changes
    assert "bench-drawing" in page.text
    again = client.post("/practice/bench", data={"kind": "which-way", "seed": "4"})
    assert again.status_code == 200
    assert client.post("/practice/bench", data={"kind": "units", "seed": "4"}).status_code >= 400


def test_a_sheet_for_a_class_and_its_key_go_together(client: TestClient) -> None:
    sheet = client.get("/practice/exam?seed=12&count=10").text
    key = client.get("/practice/exam?seed=12&count=10&key=1").text
    questions = [re.findall(r"<li><p>(.*?)</p>", page) for page in (sheet, key)]
    assert questions[0] == questions[1]
    assert len(questions[0]) == 10
    assert "Sheet 12: key" in key
    assert client.get("/practice/exam?seed=x&count=9999").status_code == 200


def test_the_shops_own_life_is_asked_with_what_was_measured(client: TestClient) -> None:
    client.get("/practice")
    found = [own_item(seed, A_MONDAY.date()) for seed in range(60)]
    asked = [one for one in found if one is not None]
    assert len(asked) == len(found)
    assert {one.source.split(",")[-1].strip() for one in asked} >= {"this shop's shelf"}
    turned = [one for one in asked if "was expected at" in one.question]
    assert turned
    for one in turned:  # the whole of it stands in the words
        promised = re.search(r"at ([\d.−-]+) ± ([\d.]+)", one.question)
        measured = re.search(r"Measured: ([\d.−-]+)", one.why)
        assert promised
        assert measured
        off = float(measured[1]) - float(promised[1])
        within = abs(off) <= float(promised[2])
        assert one.answer == ("as expected" if within else "more" if off > 0 else "less")
    seed, item = 0, asked[0]
    page = _answer(client, "own-shop", seed, f"{item.answer}")
    assert "Right." in page.text


def test_what_changed_in_the_shop_since_it_was_asked_is_asked_anew(client: TestClient) -> None:
    item = own_item(3, A_MONDAY.date())
    assert item is not None
    page = _answer(client, "own-shop", 3, str(item.answer), asked="What hung here before?")
    assert page.status_code == 422
    assert "here it stands anew" in page.text
    assert "Right." in _answer(client, "own-shop", 3, str(item.answer), asked=item.question).text


@pytest.mark.parametrize("kind", ["own-shop", "misbelief"])
def test_nothing_is_asked_twice_of_late(client: TestClient, kind: str) -> None:
    random.seed(4)
    asked = []
    for _ in range(11):
        page = client.get(f"/practice/session?minutes=20&kind={kind}").text
        seed = re.search(r'name="seed" value="(\d+)"', page)
        question = re.search(r'id="question">(.*?)</h1>', page)
        assert seed
        assert question
        asked.append(question[1])
        _answer(client, kind, int(seed[1]), "1" if "data-choice" in page else "12")
    assert len(set(asked)) == len(asked)


def test_programs_answer_and_read_progress(client: TestClient) -> None:
    asked = client.get("/api/practice?seed=5&count=3").json()
    keys = "answer choices drawing id kind level question source tolerance unit why"
    assert sorted(asked[0]) == keys.split()
    assert asked == client.get("/api/practice?seed=5&count=3").json()
    assert asked != client.get("/api/practice?seed=6&count=3").json()
    item = item_of("arrow", 8)
    body = {"kind": "arrow", "seed": 8, "answer": item.answer}
    answer = client.post("/api/practice/answers", json=body, headers={"Jentrik-Person": "Till"})
    assert answer.json()["verdict"] == "right"
    progress = client.get("/api/practice/progress?person=Till").json()
    (arrow,) = [one for one in progress["skills"] if one["kind"] == "arrow"]
    assert arrow["verdicts"] == ["right"]
    assert client.get("/api/practice?count=0").status_code == 422


# The schedule, by the library's own example and by a simulated learner.


def test_the_schedule_is_the_librarys(client: TestClient) -> None:
    at = datetime(2022, 11, 29, 12, 30).astimezone()
    card, gaps = None, []
    verdicts = [Verdict.RIGHT] * 6 + [Verdict.WRONG] * 2 + [Verdict.RIGHT] * 5
    for verdict in verdicts:
        card = reviewed(card, verdict, at)
        due = Practised("x", card).due
        gaps.append((due - at).days)
        at = due.astimezone()
    # The published example of the scheduler: good six times, again twice, good five times.
    assert gaps == [0, 2, 11, 46, 163, 498, 0, 0, 2, 4, 7, 12, 21]


def test_a_learner_improves_and_one_that_guesses_does_not(client: TestClient) -> None:
    import random

    def week(learns: bool) -> dict[str, Practised]:
        chance = random.Random(4)
        known: dict[str, Practised] = {}
        verdicts: dict[str, list[str]] = {}
        lately: list[str] = []
        at = datetime(2026, 11, 2, 8, 0).astimezone()
        for _day in range(14):
            for minute in range(20):
                now = at + timedelta(minutes=minute)
                kind = next_kind(known, now, lately)
                recall = known[kind].recall(now) if kind in known and learns else 0.0
                # who learns knows what the scheduler says is known, and guesses the rest
                right = chance.random() < recall + (1 - recall) * 0.35
                verdict = Verdict.RIGHT if right else Verdict.WRONG
                before = known[kind].card if kind in known else None
                those = verdicts.setdefault(kind, [])
                those.append(verdict.value)
                known[kind] = Practised(kind, reviewed(before, verdict, now), tuple(those[-12:]))
                lately.append(kind)
            at += timedelta(days=1)
        return known

    learner, guesser = week(True), week(False)
    assert sum(one.sits for one in learner.values()) > sum(one.sits for one in guesser.values())
    shares = [
        sum(one.right_share for one in those.values()) / len(those) for those in (learner, guesser)
    ]
    assert shares[0] > 0.6 > shares[1]
    assert len(learner) > len(guesser)


@pytest.mark.parametrize("kind", [one.kind for one in SKILLS if one.needs])
def test_a_skill_waits_for_what_it_stands_on(kind: str) -> None:
    now = datetime(2026, 11, 2, 8, 0).astimezone()
    card = reviewed(None, Verdict.RIGHT, now)
    others = {
        one.kind: Practised(one.kind, card, ("right",))
        for one in SKILLS
        if one.kind not in (kind, *[later.kind for later in SKILLS if kind in later.needs])
    }
    assert next_kind(others, now) != kind
    sure = {need: Practised(need, card, ("right",) * 3) for need in SKILL[kind].needs}
    asked = {next_kind(others | sure, now, [other]) for other in others}
    assert kind in asked or next_kind(others | sure, now) == kind
