"""Who works here: a screen keeps its person, and a passphrase keeps a name to its owner."""

import pytest
from fastapi.testclient import TestClient

from jentrik.store import people
from jentrik.web import passphrase


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
    assert [(one.name, one.initials) for one in people.people()] == [("Ida Quay", "IQ")]
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
