"""What can go on a machine, as a page: the map, the list, and a pair made a proposal."""

import re

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import jobs


@pytest.mark.parametrize("machine", range(1, 12))
def test_every_demo_machine_shows_a_pair_and_why_the_rest_is_out(
    client: TestClient, machine: int
) -> None:
    page = client.get(f"/machines/{machine}/choose").text
    assert 'class="size-map' in page
    assert page.count("<li") > 3
    assert "Propose " in page
    counts = re.findall(r"</th><td>([^<]+)</td></tr>", page)
    left = [int(re.sub(r"\D", "", count)) for count in counts]
    assert "What remains, rule by rule" in page
    assert left == sorted(left, reverse=True)
    assert 'class="map-mark found"' in page


def test_a_pair_becomes_a_proposal_of_a_new_job_or_an_open_one(client: TestClient) -> None:
    page = client.get("/machines/1/choose").text
    pair = re.search(r'name="pair" value="([^"]+)"', page)[1]
    there = client.post("/machines/1/choose", data={"pair": pair, "job": ""})
    job_id = int(re.search(r"/jobs/(\d+)", str(there.url))[1])
    front, rear, _, _ = pair.split("|")
    (kept,) = jobs.job(job_id).proposals
    assert kept.changes == {"front": {"tire": front}, "rear": {"tire": rear}}
    before = len(jobs.job(1).proposals)
    client.post("/machines/1/choose", data={"pair": pair, "job": "1"})
    assert len(jobs.job(1).proposals) == before + 1
    for bad in ("", "rubber|37-622||0", "37-622|37-622|nowhere|0"):
        assert client.post("/machines/1/choose", data={"pair": bad, "job": "1"}).status_code >= 400
    assert len(jobs.job(1).proposals) == before + 1


def test_a_weight_ranks_anew_and_what_is_typed_is_tried(client: TestClient) -> None:
    fragment = {"HX-Request": "true"}
    first = client.get("/machines/1/choose?geometry=3&choice=0", headers=fragment).text
    other = client.get("/machines/1/choose?geometry=0&choice=3", headers=fragment).text
    names = [re.findall(r"<b>([^<]+)</b></a>", one) for one in (first, other)]
    assert len(names[0]) == len(names[1]) == 12
    assert names[0] != names[1]
    typed = client.get("/machines/1/choose?sizes=typed&codes=37-622,+42-622").text
    assert "Best of 4" in typed
    wrong = client.get("/machines/1/choose?sizes=typed&codes=37-622,+rubber")
    assert (wrong.status_code, 'value="37-622, rubber"' in wrong.text) == (422, True)


def test_moving_a_weight_judges_no_size_again(app: FastAPI, client: TestClient) -> None:
    client.get("/machines/5/choose")
    kept = app.state.searches._kept
    (first,) = kept.values()
    for weight in ("0", "1.5", "3"):
        client.get(f"/machines/5/choose?room={weight}")
    assert list(kept.values()) == [first]
    assert len(first.maps) == 1
    client.post("/machines/5/answer", data={"sheet:fork.offset_mm": "41"})
    client.get("/machines/5/choose")
    assert len(kept) == 2  # another machine by its figures


def test_a_point_of_the_map_is_judged_though_it_is_not_among_the_best(client: TestClient) -> None:
    page = client.get("/machines/10/choose?room=2").text
    listed = set(re.findall(r'href="/machines/10/choose\?[^"]*pair=([^"&]+)"', page))
    points = re.findall(r'<a href="(\?[^"]*pair=([^"&]+))" tabindex', page)
    assert len(points) > 100
    href = next(one for one, pair in points if pair not in listed)
    chosen = client.get(f"/machines/10/choose{href.replace('&amp;', '&')}").text
    assert ", from the chart" in chosen
    assert "room=2" in href
    rings = [_ring(one) for one in (page, chosen)]  # the best of the list, then the one clicked
    assert rings[0] != rings[1]
    place = rf'href="[^"]*{re.escape(href.split("pair=")[1])}"[^>]*><title>[^<]*</title>(<[^>]+>)'
    x, y = rings[1]
    assert re.search(place, chosen)[1].startswith(
        (f'<circle cx="{x}" cy="{y}"', f'<path class="map-point beyond" d="M{x} ')
    )
    nowhere = client.get("/machines/10/choose?pair=37-622|37-622||0").text
    assert ("map-mark chosen" in nowhere, "@chosen@" in nowhere) == (False, False)


def _ring(page: str) -> tuple[str, str]:
    ring = next(one for one in re.findall(r"<circle[^>]*>", page) if "map-mark chosen" in one)
    return re.search(r'cx="([^"]+)"', ring)[1], re.search(r'cy="([^"]+)"', ring)[1]


def test_a_machine_without_its_figures_waits_for_them(app: FastAPI, client: TestClient) -> None:
    app.state.shop.ready()
    app.state.shop.database.execute_sql(
        "DELETE FROM measurement WHERE machine_id = 1 AND key = 'wheelbase_mm'"
    )
    assert "The search waits for wheelbase" in client.get("/machines/1/choose").text


def test_a_limit_moved_on_the_map_redraws_it_and_stores_nothing(client: TestClient) -> None:
    before = client.get("/machines/1/choose").text
    moved = client.get("/machines/1/choose?limits.trail_mm.high=2&limits.trail_mm.low=-2").text
    assert "trail +2<" in moved
    assert "trail +2<" not in before
    assert moved.count("map-point beyond") > before.count("map-point beyond")
    assert "nothing is stored" in moved
    assert "trail +2<" not in client.get("/machines/1/choose?limits.trail_mm.high=wide").text
    left = [re.findall(r"choose-left.*?</table>", one, re.DOTALL) for one in (before, moved)]
    assert left[0] == left[1]


def test_a_moved_limit_becomes_the_shops(client: TestClient) -> None:
    client.post("/shop/answer", data={"policy:limits.trail_mm.high": "2"})
    assert "trail +2<" in client.get("/machines/1/choose").text


def test_the_shelf_is_ranked_by_its_prices(client: TestClient) -> None:
    zero = "&".join(f"{one}=0" for one in ("geometry", "speed", "room", "choice", "load"))
    page = client.get(f"/machines/1/choose?sizes=shelf&ends=front&{zero}&cost=3").text
    assert "40-622" in page.split('class="choose-pairs"')[1].split("</li>")[0]


def test_what_the_use_asks_for_comes_first(client: TestClient) -> None:
    first = {}
    for feel in ("same", "wide", "light"):
        page = client.get(f"/machines/4/choose?feel={feel}&rims=kept").text
        first[feel] = [int(one) for one in re.findall(r"<b>(\d+)-559 / ", page.split("<ol")[1])]
    assert first["wide"][0] > first["light"][0]
    assert min(first["wide"][:3]) > max(first["light"][:3])


def test_a_press_on_a_bar_draws_the_other_end_anew_and_rims_are_listed(client: TestClient) -> None:
    page = client.get("/machines/1/choose").text
    values = re.findall(r'<button name="pair" value="([^"]+)"', page)
    assert len(values) > 6
    other = next(one for one in values if one.split("|")[0] != values[0].split("|")[0])
    chosen = client.get("/machines/1/choose", params={"pair": other}).text
    assert f"Propose {' / '.join(other.split('|')[:2])}" in chosen
    assert "chosen" in chosen.split('aria-label="How wide at the front')[1].split("</svg>")[0]
    rims = page.split("By rim size")[1].split("</ul>")[0]
    assert "<b>622</b>" in rims
    assert "nothing: reach of the brake pads" in rims
