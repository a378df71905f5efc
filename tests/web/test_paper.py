"""What is printed and hung on things."""

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.store import wheels


def test_a_machines_sheet_says_what_was_not_measured(client: TestClient) -> None:
    page = in_plain(client.get("/machines/6/paper").text)
    for line in ("<td>1415 mm", "<td>27° <i>maker</i>", "24 mm, at least 10 mm", "3.25-19 54S"):
        assert line in page
    assert "Print the sheet" in client.get("/machines/6").text


def test_every_demo_machine_has_a_sheet_to_print(client: TestClient) -> None:
    for machine in range(1, 12):
        assert client.get(f"/machines/{machine}/paper").status_code == 200


def test_a_wheel_carries_its_code_its_bead_seat_and_its_machine(
    app: FastAPI, client: TestClient
) -> None:
    app.state.shop.ready()
    client.post(
        "/machines/1/sets",
        data={"name": "Winter", "which": "new", "front_tire": "35-622", "front_rotor": "160"},
    )
    kept = next(wheel for wheel, _ in wheels.on_shelf_of() or [(wheels.wheel(1), None)])
    page = in_plain(client.get(f"/wheels/{kept.id}/label").text)
    assert kept.text("tire") in page
    assert "bead seat" in page
    assert f"/wheels/{kept.id}/label" in client.get(f"/machines/{kept.machine_id}").text
    assert client.get("/wheels/99999/label").status_code == 404


def test_a_tag_carries_number_machine_and_work(client: TestClient) -> None:
    page = client.get("/jobs/1/tag").text
    for words in ('<p class="tag-number">17</p>', "Green tourer", "700C to 650B, both ends"):
        assert words in page


@pytest.mark.parametrize("path", ["/machines/999/paper", "/jobs/999/tag"])
def test_nothing_is_printed_of_what_is_not_there(client: TestClient, path: str) -> None:
    assert client.get(path).status_code == 404
