"""The handbook inside: whole, linked, searched, and made from the tables the rules are made of."""

import re

import pytest
from fastapi.testclient import TestClient

from jentrik.core.machine.fields import FIELDS
from jentrik.core.rules import RULES
from jentrik.web.pages.handbook.view import CHAPTERS, Chapter, computed_figures


@pytest.mark.parametrize("chapter", CHAPTERS, ids=lambda one: one.id)
def test_every_link_of_a_chapter_leads_somewhere(client: TestClient, chapter: Chapter) -> None:
    page = client.get(f"/handbook/{chapter.id}").text
    article = page[page.index('<article class="handbook') : page.index("</article>")]
    links = set(re.findall(r'href="([^"]+)"', article))
    places = {path: client.get(path).text for path in {link.partition("#")[0] for link in links}}
    for link in links:
        path, _, place = link.partition("#")
        assert "</html>" in places[path], link
        assert not place or f'id="{place}"' in places[path], link
    assert len(re.findall(r"<h1>", page)) == 1


def test_every_rule_and_every_figure_is_there(client: TestClient) -> None:
    check, measure = (client.get(f"/handbook/{one}").text for one in ("check", "measure"))
    assert all(f'/rules#{rule.id}"' in check for rule in RULES)
    assert all(f'id="{field.key}"' in measure for field in FIELDS)
    figures = client.get("/handbook/figures").text
    assert len(computed_figures()) > 15
    assert all(f'id="{figure.key}"' in figures for figure in computed_figures())


def test_a_search_leads_to_the_place(client: TestClient) -> None:
    page = client.get("/handbook?find=maker%27s+torque").text
    assert '/handbook/first-job#card"' in page
    page = client.get("/handbook?find=wheel+flop").text
    assert '/handbook/figures#wheel_flop_mm"' in page
    nothing = client.get("/handbook?find=submarine").text
    assert "Nothing in the handbook" in nothing
    assert '/rules?find=submarine"' in nothing
    part = client.get("/handbook?find=trail", headers={"HX-Request": "true"}).text
    assert part.lstrip().startswith('<div id="handbook-found"')


def test_each_station_leads_to_its_chapter(client: TestClient) -> None:
    for station in ("read", "measure", "propose", "check", "fit", "ride"):
        assert f'/handbook/{station}"' in client.get(f"/jobs/1?station={station}").text
    assert client.get("/handbook/boats").status_code == 404
