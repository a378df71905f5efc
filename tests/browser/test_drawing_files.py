"""A drawing as a file shows what the page shows, and its pixels are those a browser makes of it."""

import io
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page


def _pixels(raw: bytes) -> Any:
    return np.asarray(Image.open(io.BytesIO(raw)).convert("RGB"), dtype=int)


def _drawn(page: Page, svg: str, width: int, height: int) -> Any:
    """Return what a browser makes of a file at a size."""
    blank = page.context.new_page()
    blank.set_viewport_size({"width": width, "height": height})
    style = f"body {{ margin: 0; background: #fbfaf6 }} body > svg {{ width: {width}px }}"
    blank.set_content(f"<style>{style} svg {{ height: auto }}</style><body>{svg}</body>")
    blank.wait_for_function("document.fonts.ready.then(() => true)")
    return _pixels(blank.screenshot())


def _far(one: Any, other: Any) -> float:
    """Return the part of the pixels that differ: edges of letters do, a line elsewhere too."""
    assert one.shape == other.shape
    return float((np.abs(one - other).max(axis=2) > 80).mean())


@pytest.mark.parametrize("path", ["/jobs/1?view=road&drawing=0", "/jobs/6?station=check&drawing=0"])
def test_png_and_svg_show_the_same(open_page: Callable[..., Any], path: str) -> None:
    page = open_page("/rules")
    svg = page.context.request.get(path).text()
    mine = _pixels(page.context.request.get(f"{path}&as=png").body())
    theirs = _drawn(page, svg, mine.shape[1], mine.shape[0])
    assert _far(mine, theirs) < 0.004  # an arrow stands as a word in the pixels


def _ink(pixels: Any) -> float:
    """Return how much is drawn, darkness and colour, in a picture on our paper."""
    return float(np.abs(pixels - pixels[5, 5]).mean())


def test_the_file_has_the_lines_of_the_page(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/1?view=road", viewport={"width": 1280, "height": 1600})
    page.wait_for_load_state("networkidle")
    page.wait_for_function("document.fonts.ready.then(() => true)")
    shown = _pixels(page.locator("#bench-drawing").screenshot())
    svg = page.context.request.get("/jobs/1?view=road&drawing=0").text()
    file = _drawn(page, svg, shown.shape[1], shown.shape[0])
    assert _ink(file) == pytest.approx(_ink(shown), rel=0.06)
