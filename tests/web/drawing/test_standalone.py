"""A drawing as a file: nothing beside it is needed, and its pixels are those a browser makes."""

import io
import re
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from jentrik.web.drawing.standalone import drawings_in

SVG = "{http://www.w3.org/2000/svg}"
PAGES = (
    "/jobs/1?station=propose&view=road&magnify=3",
    "/jobs/6?station=check",
    "/jobs/6?station=read",
    "/machines/6",
    "/machines/6/log",
    "/jobs/1/compare",
    "/words",
)


def _with(path: str, more: str) -> str:
    return f"{path}{'&' if '?' in path else '?'}{more}"


@pytest.mark.parametrize("path", PAGES)
def test_every_drawing_of_a_page_is_offered_as_a_file(client: TestClient, path: str) -> None:
    page = client.get(path).text
    assert "drawings" in page
    found, listed = drawings_in(page), client.get(_with(path, "drawings")).text
    assert found
    assert listed.count(">PNG</a>") == len(found)
    assert _with(path, f"drawing={len(found) - 1}").replace("&", "&amp;") in listed
    for place in {0, len(found) // 2, len(found) - 1}:
        answer = client.get(_with(path, f"drawing={place}"))
        assert answer.headers["content-type"] == "image/svg+xml"
        root = ET.fromstring(answer.text)
        assert root.tag == f"{SVG}svg"
        assert not re.search(r'class=|href=|var\(|hx-|data-(?!:)|url\("?http', answer.text)
        shapes = [one for one in root.iter() if one.tag in (f"{SVG}path", f"{SVG}circle")]
        drawn = [shape for shape in shapes if re.search(r"stroke|fill", shape.get("style", ""))]
        assert drawn or root.find(f".//{SVG}text") is not None
        pixels = client.get(_with(path, f"drawing={place}&as=png"))
        picture = Image.open(io.BytesIO(pixels.content))
        assert picture.width == 1600
        assert len(picture.convert("RGB").getcolors(1_000_000) or ()) > 3


def test_a_drawing_is_as_it_is_seen(client: TestClient) -> None:
    two = [
        client.get(f"/jobs/1?view={view}&magnify=3&drawing=0&as=png").content
        for view in ("road", "stand")
    ]
    assert two[0] != two[1]
    there = client.get("/jobs/1?magnify=3&drawing=0")
    assert "Differences drawn ×3" in there.text
    assert "green-tourer" in there.headers["content-disposition"]


@pytest.mark.parametrize("place", ["99", "-1", "x", "9" * 400, "²"])
def test_a_drawing_there_is_none_of_is_refused(client: TestClient, place: str) -> None:
    assert client.get("/jobs/1", params={"drawing": place}).status_code == 404
    assert client.get("/jobs/999", params={"drawing": place}).status_code == 404


def test_the_pixels_of_a_line_lie_where_it_is_drawn(client: TestClient) -> None:
    # By hand: the ground of the bench drawing is level; its blue row spans most of the width.
    raw = client.get("/jobs/1?drawing=0&as=png").content
    pixels = np.asarray(Image.open(io.BytesIO(raw)).convert("RGB"), dtype=int)
    blue = np.abs(pixels - np.array([0x17, 0x4A, 0x8B])).sum(axis=2) < 30
    assert blue.sum(axis=1).max() > 0.85 * pixels.shape[1]
