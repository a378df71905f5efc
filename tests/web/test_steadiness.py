"""Steadiness on the comparison: changes with bands, of bicycles alone."""

from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain


def test_a_bicycle_shows_changes_with_their_bands_and_never_a_speed(client: TestClient) -> None:
    page = in_plain(client.get("/jobs/1/compare").text)
    part = page[page.index('id="steadiness"') : page.index("Pencil: as found. Blue: A.")]
    assert (
        part.count(" lower (") + part.count(" higher (") == 5
    )  # four cells, and the plot in words
    assert "no hands, rigid rider of" in part
    assert "steadiness-plot" in part


def test_a_motorcycle_shows_none(client: TestClient) -> None:
    assert 'id="steadiness"' not in client.get("/jobs/6/compare").text
