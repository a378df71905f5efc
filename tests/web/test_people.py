"""Who works here: a screen keeps its person, and a passphrase keeps a name to its owner."""

import re
import zipfile
from pathlib import Path

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import people
from jentrik.store.backups import backup
from jentrik.web.app import create_app
from jentrik.web.security import passphrase
from jentrik.web.shop import proof_of
from tests.conftest import A_MONDAY


def who(client: TestClient, name: str, **more: str) -> int:
    answer = client.post(
        "/who", data={"who": name, "back": "/jobs", **more}, follow_redirects=False
    )
    return answer.status_code


def here(client: TestClient) -> str:
    return client.get("/shop/people").text.split("At this screen: <b>")[1].split("</b>")[0]


@pytest.fixture(autouse=True)
def _at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(passphrase, "FIRST_DELAY_S", 0)


def test_a_name_new_to_the_shop_goes_onto_the_list_with_initials(client: TestClient) -> None:
    who(client, "Ida  Quay")
    assert [(person.name, person.initials) for person in people.people()] == [("Ida Quay", "IQ")]
    assert here(client) == "Ida Quay"
    who(client, "ida quay")  # the same person, however it is capitalised
    assert here(client) == "Ida Quay"
    assert 'class="who-seen"' in client.get("/jobs").text
    who(client, "")
    assert "No person is chosen" in client.get("/shop/people").text


def test_a_name_with_a_passphrase_is_taken_with_it_alone(client: TestClient) -> None:
    who(client, "Ida")
    client.post("/shop/people", data={"act": "passphrase", "person": "1", "passphrase": "low tide"})
    assert here(client) == "Ida"  # who sets it stays at the screen
    who(client, "Till")
    assert who(client, "Ida") == 303
    assert here(client) == "Till"
    assert who(client, "Ida", passphrase="high tide") == 422
    assert here(client) == "Till"
    who(client, "Ida", passphrase="low tide")
    assert here(client) == "Ida"
    client.cookies.delete("jentrik_who_proof")
    assert "No person is chosen" in client.get("/shop/people").text  # the name alone is no proof


def test_only_its_owner_changes_a_passphrase(client: TestClient) -> None:
    who(client, "Ida")
    new = {"act": "passphrase", "person": "1", "passphrase": "low tide"}
    client.post("/shop/people", data=new)
    for act in ("passphrase", "initials", "remove"):
        data = {"act": act, "person": "1", "passphrase": "", "initials": "X", "now": "high tide"}
        assert client.post("/shop/people", data=data).status_code == 422
    assert client.post("/shop/people", data={**new, "passphrase": "tide"}).status_code == 422
    (ida,) = people.people()
    assert (ida.initials, people.is_passphrase(ida, "low tide")) == ("I", True)
    client.post("/shop/people", data={"act": "remove", "person": "1", "now": "low tide"})
    assert people.people() == []


def test_a_program_does_not_write_as_one_with_a_passphrase(client: TestClient) -> None:
    who(client, "Ida")
    client.post("/shop/people", data={"act": "passphrase", "person": "1", "passphrase": "low tide"})
    as_ida = {"Jentrik-Person": "IDA"}
    refused = client.post("/api/shelf", json={"code": "37-622"}, headers=as_ida)
    assert refused.json()["error"]["field"] == "Jentrik-Person"


def test_a_passphrase_does_not_leave_the_shop(client: TestClient) -> None:
    who(client, "Ida")
    client.post("/shop/people", data={"act": "passphrase", "person": "1", "passphrase": "low tide"})
    (ida,) = people.people()
    assert ida.secret is not None
    assert "low tide" not in ida.secret
    assert ida.secret not in client.get("/api/export").text
    assert "secret" not in client.get("/api/people").text


def test_a_session_is_seen_and_ended_one_by_one(demo: Path) -> None:
    app = create_app(demo, now=lambda: A_MONDAY, passphrase="low tide at noon")
    with (
        TestClient(app, base_url="http://127.0.0.1", headers={"User-Agent": "the bench"}) as bench,
        TestClient(app, base_url="http://127.0.0.1", headers={"User-Agent": "a phone"}) as phone,
    ):
        for one in (bench, phone):
            one.get("/session")
            token = {"csrf_token": one.cookies["jentrik_token"]}
            opened = one.post("/session", data={**token, "passphrase": "low tide at noon"})
            assert opened.url.path == "/jobs"
        page = bench.get("/shop/people").text
        mark = re.search(r"a phone</b>.*?value=\"([0-9a-f]{16})\"", page, re.DOTALL)
        assert mark
        token = {"csrf_token": bench.cookies["jentrik_token"]}
        bench.post("/shop/sessions/end", data={**token, "session": mark[1]})
        assert phone.get("/jobs", headers={"Accept": "text/html"}).url.path == "/session"
        assert bench.get("/jobs").url.path == "/jobs"


def test_what_a_backup_holds_makes_no_proof(
    client: TestClient, app: FastAPI, tmp_path: Path
) -> None:
    who(client, "Ida")
    client.post("/shop/people", data={"act": "passphrase", "person": "1", "passphrase": "low tide"})
    shop = app.state.shop
    shop.ready()
    (ida,) = people.people()
    backup(shop.folder, tmp_path / "copy.zip", now=A_MONDAY)
    with zipfile.ZipFile(tmp_path / "copy.zip") as copy:
        files = [copy.read(name) for name in copy.namelist()]
    assert any(ida.secret.encode() in file for file in files)
    assert not any(shop.secret in file for file in files)
    right = client.cookies["jentrik_who_proof"]
    client.cookies.delete("jentrik_who_proof")
    forged = proof_of(ida, b"")  # with all that a thief of the backup has
    asked = {"Cookie": f"jentrik_who=Ida; jentrik_who_proof={forged}"}
    assert "No person is chosen" in client.get("/shop/people", headers=asked).text
    asked = {"Cookie": f"jentrik_who=Ida; jentrik_who_proof={right}"}
    assert "At this screen: <b>Ida" in client.get("/shop/people", headers=asked).text
