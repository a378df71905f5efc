"""Wheel sizes for a small and a tall rider, as a page and for programs."""

import re

import pytest
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain


def _row(page: str, label: str) -> list[str]:
    part = page.split('class="size-table"')[1].split(f">{label}")[1].split("</tr>")[0]
    return [re.sub(r"<[^>]+>", "", one).strip() for one in re.findall(r"<td[^>]*>(.*?)</td>", part)]


@pytest.mark.parametrize("machine", range(1, 12))
def test_every_machine_has_its_columns(client: TestClient, machine: int) -> None:
    page = in_plain(client.get(f"/machines/{machine}/sizes").text)
    assert "as found" in page
    columns = page.count('<th scope="col">') - 1  # the last says what each figure argues for
    assert columns >= 2 or "No other bead seat goes into this frame" in page
    assert "Where riders disagree" in page


def test_a_small_and_a_tall_rider_see_three_sizes(client: TestClient) -> None:
    page = in_plain(client.get("/machines/4/sizes").text)
    small = _row(page, "Crotch to rear tire on the slope, small rider")
    tall = _row(page, "Crotch to rear tire on the slope, tall rider")
    assert len(small) == len(tall) == 5  # as found, three sizes, what it argues for
    assert all(float(a) < float(b) for a, b in zip(small[:4], tall[:4], strict=True))
    own = _row(page, "Stand-over room, this rider")
    assert len(own) == 5
    assert "<b>" in page.split("Edge angle, front")[1].split("</tr>")[0] or "<b>" in page


def test_the_ground_the_riders_and_weighed_masses_move_the_figures(client: TestClient) -> None:
    first = in_plain(client.get("/machines/4/sizes").text)
    steep = in_plain(client.get("/machines/4/sizes?slope=35&step=100&small=800").text)
    for label in ("Crotch to rear tire on the slope, small rider", "Edge angle, front"):
        assert _row(first, label)[0] != _row(steep, label)[0]
    heavy = in_plain(client.get("/machines/4/sizes", params={"front_rim:as found": "3000"}).text)
    assert float(_row(heavy, "Both wheels")[0]) > float(_row(first, "Both wheels")[0])
    assert _row(heavy, "Both wheels")[1] == _row(first, "Both wheels")[1]


def test_wrong_input_keeps_what_was_typed_and_goes_on(client: TestClient) -> None:
    page = client.get("/machines/4/sizes?slope=steep&small=9000&at=nothing")
    assert page.status_code == 200
    assert 'value="steep"' in page.text
    assert 'value="9000"' in page.text
    assert page.text.count('aria-invalid="true"') == 2


def test_machines_made_for_a_size_keep_the_geometry(client: TestClient) -> None:
    page = in_plain(client.get("/machines/4/sizes?made=1&at=622-622&at=584-584").text)
    trail = _row(page, "Trail")
    assert trail[0] == trail[1] == trail[2]
    assert _row(page, "Edge angle, front")[0] != _row(page, "Edge angle, front")[1]
    assert "Rules on this frame" not in page


def test_a_program_reads_the_same(client: TestClient) -> None:
    asked = client.get("/api/machines/10/sizes?slope=10").json()
    assert asked["columns"][0]["name"] == "as found"
    assert len(asked["columns"]) == 4
    (edge,) = [one for one in asked["rows"] if one["label"].startswith("Edge angle")]
    assert len(edge["cells"]) == 4


def test_each_size_is_drawn_with_its_figures(client: TestClient) -> None:
    page = in_plain(client.get("/machines/4/sizes").text)
    drawn = re.findall(r'class="size-picture"[^>]*aria-label="([^"]*)"', page)
    behind = _row(page, "Crotch to rear tire on the slope, small rider")[:4]
    over = _row(page, "Stand-over room, tall rider")[:4]
    toe = _row(page, "Toe room, bar straight")[:4]
    assert len(drawn) == 4
    for said, *figures in zip(drawn, behind, over, toe, strict=True):
        assert f"slope, small rider: {figures[0]} mm" in said
        assert f"tall rider: +{figures[1]} mm" in said
        assert f"toe room {figures[2]} mm" in said
    assert page.index("size-pictures") < page.index('class="size-table"')
    argued = page.split("size-pictures")[1].split('class="size-table"')[0]
    assert "size-argues" in argued
