"""How wide it may be, on its page: the chart, its lines, a press on a width."""

import re

from fastapi.testclient import TestClient

from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured, widest_of
from jentrik.store import jobs, machines

PAGE = "/machines/1/widths"


def test_the_page_says_how_wide_in_words_drawing_and_text(client: TestClient) -> None:
    page = client.get(PAGE).text
    assert page.count('class="plot width-chart"') == 2
    assert "chain stays" in page
    row = re.search(r"<li><b>622</b>: 28 to ([\d.]+) mm", page)
    assert row is not None
    known = {
        (one.wheel, one.bead_seat_diameter_mm): one.width_mm
        for one in widest_of(as_measured(machine_of(machines.sheet(1))))
    }
    assert float(row[1]) == known["front", 622]


def test_a_press_on_a_width_proposes_it_at_both_ends_or_one(client: TestClient) -> None:
    for ends, front in (("", "40-622"), ("free", None)):
        page = client.get(f"{PAGE}?ends={ends}&job=1").text
        value = "40-622|40-622" if ends == "" else "|40-622"
        assert f'value="{value}"' in page
        client.post("/machines/1/choose", data={"pair": value, "job": "1"})
        changes = jobs.job(1).proposals[-1].changes
        assert changes["rear"]["tire"] == "40-622"
        assert changes.get("front", {}).get("tire") == front


def test_lines_come_change_and_go_and_what_is_refused_is_said(client: TestClient) -> None:
    before = len(machines.sheet(4).room)
    line = {"wheel": "front", "name": "Fork blades", "from_axle_mm": "300", "inside_mm": "72"}
    assert client.post("/machines/4/widths/lines", data=line).status_code == 200
    (new,) = [line for line in machines.sheet(4).room if line.wheel == "front"]
    assert (new.on, new.inside_mm) == ("fork", 72)
    answer = client.post("/machines/4/widths/answer", data={f"room:{new.id}:inside_mm": "7 cm"})
    assert answer.status_code == 200
    assert next(one for one in machines.sheet(4).room if one.id == new.id).inside_mm == 70
    for wrong, says in (
        ({**line, "inside_mm": ""}, "how wide it is inside there is missing"),
        ({**line, "from_axle_mm": "5"}, "5"),
        ({**line, "wheel": "side"}, "Choose one of"),
    ):
        refused = client.post("/machines/4/widths/lines", data=wrong)
        assert (refused.status_code, says in refused.text) == (422, True)
    client.post("/machines/4/widths/lines/drop", data={"room": str(new.id)})
    assert len(machines.sheet(4).room) == before
