"""Measuring on photographs: marks as fields, figures onto the sheet, planned wheels over it."""

import importlib
import json
import math
import re
from io import BytesIO
from typing import Any

import numpy as np
import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from PIL import Image

from jentrik.core.amounts import in_plain
from jentrik.core.machine.figure import Provenance
from jentrik.exchange.photo import LONGEST_TO_MEASURE, read_to_measure
from jentrik.store import machines, photographs
from jentrik.web.pages.photographs.view import understood

DEMO: Any = importlib.import_module("scripts.demo_photographs")
MACHINE, PATH = 9, "/machines/9/photographs"
LIVE = {"X-Live": "1", "HX-Request": "true"}


def _at(x: float, y: float, z: float = 0.0) -> str:
    camera = DEMO.camera(11.0, 0.05)
    (place,) = DEMO.picture_places(camera, np.array([(x, y - DEMO.TIRE / 2, z)]))
    return f"{place[0]:.1f},{place[1]:.1f}"


def _edge(x: float) -> str:
    turns = [0.3 + one * math.pi / 4 for one in range(8)]
    radius = DEMO.RIM / 2
    return " ".join(
        _at(x + radius * math.cos(a), DEMO.TIRE / 2 + radius * math.sin(a), 17.0) for a in turns
    )


MARKS = {
    "photo:rear.edge_px": _edge(0.0),
    "photo:front.edge_px": _edge(DEMO.BASE),
    "photo:rear.axle_px": _at(0.0, DEMO.TIRE / 2),
    "photo:front.axle_px": _at(DEMO.BASE, DEMO.TIRE / 2),
    "photo:point.bottom bracket": _at(*DEMO.BRACKET),
    "photo:point.crown seat": _at(*DEMO.on_axis(DEMO.FORK)),
    "photo:point.head tube top": _at(*DEMO.on_axis(DEMO.FORK + 105)),
    "photo:line.steering axis": " ".join(
        _at(*DEMO.on_axis(DEMO.FORK + up)) for up in (-240.0, 20.0, 150.0)
    ),
}


@pytest.fixture(name="picture")
def _picture(app: FastAPI, client: TestClient) -> str:
    """Return the path of the demo's good photograph, its shop open."""
    app.state.shop.ready()
    assert client.get(PATH).status_code == 200
    return f"{PATH}/{photographs.photographs(MACHINE)[0].id}"


def test_the_demo_picture_gives_the_demo_machine_within_its_plus_minus(
    client: TestClient, picture: str
) -> None:
    assert "Mark 5 more round the rear wheel" in client.get(picture).text
    page = in_plain(client.post(f"{picture}/answer", data=MARKS).text)
    measured = understood(machines.sheet(MACHINE), photographs.photographs(MACHINE)[0]).measured
    assert measured is not None
    known = {
        "wheelbase_mm": 1196,
        "head_angle_deg": 66,
        "bb_height_mm": 342,
        "chainstay_mm": 436,
        "fork_length_mm": 541,
        "fork_offset_mm": 44,
        "stack_mm": 580,
        "reach_mm": 457,
    }
    for name, true in known.items():
        one = measured.figures[name]
        assert abs(one.value - true) <= one.plus_minus + 1, name
    assert page.count("agree") >= 4
    assert "4.0 m away" in page or "3.9 m away" in page
    assert "° off square, towards the front" in page  # the front wheel is the larger one


def test_the_bad_picture_is_refused_with_its_reason(client: TestClient, picture: str) -> None:
    bad = f"{PATH}/{photographs.photographs(MACHINE)[1].id}"
    assert bad != picture
    half = " ".join(
        f"{2250 + 130 * math.cos(a):.0f},{1000 + 330 * math.sin(a):.0f}"
        for a in np.linspace(1.7, 4.5, 8)
    )
    rear = " ".join(
        f"{1450 + 270 * math.cos(a):.0f},{1000 + 272 * math.sin(a):.0f}"
        for a in np.linspace(0.2, 6, 8)
    )
    form = {"photo:rear.edge_px": rear, "photo:front.edge_px": half}
    page = in_plain(client.post(f"{bad}/answer", data=form).text)
    status = re.findall(r'role="status">([^<]+)<', page)
    assert any("turned about" in statu or "off; move it" in statu for statu in status), status
    assert half.split()[0] in page  # the marks stay


def test_marks_save_for_themselves_and_undo_takes_one_back(
    client: TestClient, picture: str
) -> None:
    form = {"photo:point.bottom bracket": "100,200", "photo:rear.edge_px": "1,2 3,nothing"}
    answer = client.post(f"{picture}/answer", data=form, headers=LIVE)
    became = {key: one["state"] for key, one in json.loads(answer.headers["X-Fields"]).items()}
    assert became == {"photo:point.bottom bracket": "stored", "photo:rear.edge_px": "refused"}
    outside = client.post(f"{picture}/answer", data={"photo:rear.axle_px": "9000,1"}, headers=LIVE)
    assert "outside the picture" in outside.text
    assert photographs.photographs(MACHINE)[0].marks["points"][0]["px"] == [100, 200]
    number = picture.rpartition("/")[2]
    client.post(f"{PATH}/undo?photograph={number}")
    assert photographs.photographs(MACHINE)[0].marks["points"] == []


def test_a_point_that_lies_nearer_and_a_line_of_known_length_are_corrected(
    client: TestClient, picture: str
) -> None:
    client.post(f"{picture}/answer", data=MARKS)

    def measured() -> Any:
        known = understood(machines.sheet(MACHINE), photographs.photographs(MACHINE)[0]).measured
        assert known is not None
        return known.figures

    before = measured()
    pedal = {
        "photo:point.bottom bracket": _at(DEMO.BRACKET[0], DEMO.BRACKET[1], 90.0)
    }  # marked on the crank's end
    client.post(f"{picture}/answer", data=pedal)
    assert abs(measured()["chainstay_mm"].value - before["chainstay_mm"].value) > 3
    client.post(f"{picture}/answer", data={"photo:nearer.bottom bracket": "90"})
    assert measured()["chainstay_mm"].value == pytest.approx(before["chainstay_mm"].value, abs=0.3)
    client.post(f"{picture}/name", data={"name": "stick", "kind": "line"})
    stick = f"{_at(0.0, 60.0)} {_at(1000.0, 60.0)}"
    form = {"photo:line.stick": stick, "photo:length.stick": "1000"}
    client.post(f"{picture}/answer", data=form)
    assert measured()["wheelbase_mm"].plus_minus < 0.9 * before["wheelbase_mm"].plus_minus


def test_figures_go_onto_the_sheet_and_leave_what_was_taped(
    client: TestClient, picture: str
) -> None:
    page = client.post(f"{picture}/answer", data=MARKS).text
    boxes = dict(re.findall(r'name="figure" value="(\w+)"[^>]*?(checked)?>', page))
    assert boxes["head_angle_deg"] == "checked"  # the maker's
    assert boxes["wheelbase_mm"] == ""  # taped
    number = picture.rpartition("/")[2]
    form = {"photograph": number, "figure": ["head_angle_deg", "seat_angle_deg"]}
    client.post(f"{PATH}/sheet", data=form)
    sheet = machines.sheet(MACHINE)
    figure = sheet.figures["head_angle_deg"]
    assert figure.provenance is Provenance.PHOTOGRAPH
    assert figure.plus_minus is not None
    assert sheet.figures["seat_angle_deg"].provenance is Provenance.MAKER  # no mark tells it
    assert sheet.figures["wheelbase_mm"].value == 1196
    assert client.post(f"{PATH}/sheet", data={"figure": "nothing"}).status_code >= 400
    client.post("/machines/9/undo")
    assert machines.sheet(MACHINE).figures["head_angle_deg"].provenance is Provenance.MAKER


def test_a_motorcycles_angle_is_kept_as_its_rake(client: TestClient, picture: str) -> None:
    source = photographs.photographs(MACHINE)[0]
    client.post(f"{picture}/answer", data=MARKS)
    marks = photographs.photographs(MACHINE)[0].marks
    for wheel in marks["wheels"].values():
        wheel |= {"mark": "another circle", "diameter_mm": DEMO.RIM, "nearer_mm": 17.0}
    shop = client.app.state.shop  # type: ignore[attr-defined]
    with shop.step("copied", "machine 10 photographs", machine_id=10) as step:
        photographs.add_photograph(
            step,
            10,
            file=source.file,
            size=source.size,
            focal_px=source.focal_px,
            at=shop.now(),
            by="",
            marks=marks,
        )
    page = in_plain(client.get("/machines/10/photographs").text)
    rake = page.split('scope="row">Rake')[1].split("</tr>")[0]
    assert re.search(r"2\d\.\d° ±", rake)


def test_planned_wheels_stand_on_the_photographed_machine(client: TestClient, picture: str) -> None:
    client.post(f"{picture}/answer", data=MARKS)
    page = client.get(picture).text
    key = re.search(r'<option value="(\d+:[^"]+)"', page)[1]
    plain, big, road = (
        client.get(f"{picture}?over={key}{more}").text for more in ("", "&times=6", "&view=road")
    )
    rings = [re.findall(r'class="photo-planned" d="([^"]+)"', one) for one in (plain, big, road)]
    assert [len(ring) for ring in rings] == [2, 2, 2]
    assert rings[0] != rings[1] != rings[2]
    assert "differences drawn 6 times as large" in big
    assert "the ground stays" in road
    assert 'class="photo-planned' not in page


def test_several_pictures_are_weighed_together_and_disagreement_is_named(
    client: TestClient, picture: str
) -> None:
    client.post(f"{picture}/answer", data=MARKS)
    first, second = photographs.photographs(MACHINE)
    shop = client.app.state.shop  # type: ignore[attr-defined]
    with shop.step("same", "machine 9 photographs", machine_id=MACHINE) as step:
        photographs.set_marks(step, second.id, first.marks)
    alone = client.get(f"/api{PATH}/{first.id}").json()["measured"]["figures"]["wheelbase_mm"]
    both = client.get(f"/api{PATH}").json()["together"]
    assert both["figures"]["wheelbase_mm"]["plus_minus"] < alone["plus_minus"]
    assert "All 2 pictures together" in client.get(PATH).text
    wrong = {"photo:point.bottom bracket": _at(DEMO.BRACKET[0], DEMO.BRACKET[1] + 60)}
    client.post(f"{PATH}/{second.id}/answer", data=wrong)
    assert "do not agree on the bottom bracket" in client.get(PATH).text


def test_a_plumb_line_gives_angles_without_wheels(client: TestClient, picture: str) -> None:
    for name in ("plumb line", "leg"):
        client.post(f"{picture}/name", data={"name": name, "kind": "line"})
    lean = math.radians(12)
    form = {
        "photo:line.plumb line": "500,200 500,1200",
        "photo:line.leg": f"900,200 {900 + 1000 * math.tan(lean):.1f},1200",
    }
    page = in_plain(client.post(f"{picture}/answer", data=form).text)
    assert re.search(r"<b>leg</b> to the plumb line: 12\.0° ±", page)
    again = client.post(f"{picture}/name", data={"name": "Leg", "kind": "line"})
    assert (again.status_code, "marked here already" in again.text) == (422, True)


def _jpeg(size: tuple[int, int], film_mm: int | None = None) -> bytes:
    exif = Image.Exif()
    if film_mm:
        exif.get_ifd(0x8769)[0xA405] = film_mm
    written = BytesIO()
    Image.new("RGB", size, "grey").save(written, "JPEG", exif=exif)
    return written.getvalue()


def test_a_picture_comes_small_with_its_focal_length_and_no_more(client: TestClient) -> None:
    read = read_to_measure(_jpeg((6000, 4000), 50))
    assert read.size == (LONGEST_TO_MEASURE, round(LONGEST_TO_MEASURE * 2 / 3))
    assert read.focal_px == pytest.approx(50 / 43.27 * math.hypot(*read.size))
    assert read_to_measure(_jpeg((800, 600))).focal_px is None
    with Image.open(BytesIO(read.jpeg)) as written:
        assert not written.getexif()
    there = client.post(
        "/machines/1/photographs", files={"photo": ("a.jpg", _jpeg((900, 700)), "")}
    )
    assert "Mark 5 more" in there.text
    for wrong in (b"", b"no picture"):
        refused = client.post("/machines/1/photographs", files={"photo": ("a.jpg", wrong, "")})
        assert (refused.status_code, "photo-complaint" in refused.text) == (422, True)


def test_programs_mark_read_and_write(client: TestClient, picture: str) -> None:
    number = picture.rpartition("/")[2]
    path = f"/api{PATH}/{number}"
    fields = {key.removeprefix("photo:"): text for key, text in MARKS.items()}
    measured = client.patch(path, json={"fields": fields}).json()["measured"]
    assert measured["figures"]["wheelbase_mm"]["value"] == pytest.approx(1196, abs=6)
    refused = client.patch(path, json={"fields": {"rear.edge_px": "x"}})
    assert refused.json()["error"]["field"] == "fields.rear.edge_px"
    body = {"figure": ["stack_mm"], "photograph": int(number)}
    assert client.post(f"/api{PATH}/sheet", json=body).status_code == 200
    assert machines.sheet(MACHINE).figures["stack_mm"].provenance is Provenance.PHOTOGRAPH
    named = client.post(f"{path}/name", json={"name": "peg"})
    assert named.json()["marks"]["points"][-1] == {"name": "peg", "px": None}
    jpeg = {"Content-Type": "image/jpeg"}
    added = client.post(f"/api{PATH}", content=_jpeg((900, 700), 28), headers=jpeg).json()
    assert added["width_px"] == 900
    assert client.delete(f"/api{PATH}/{added['id']}").status_code == 200
    assert client.get(f"/api{PATH}/{added['id']}").status_code == 404
