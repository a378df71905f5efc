"""Marks on a photograph by mouse and by keys; the loupe; a choice that outlasts a redraw."""

from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

PATH = "/machines/9/photographs/1"


@pytest.fixture(name="page")
def _page(open_page: Callable[..., Any]) -> Page:
    """Return the demo's photograph, open at the desk."""
    page: Page = open_page(PATH)
    return page


def _click(page: Page, across: float, down: float) -> None:
    box = page.locator("[data-photo] img").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + across * box["width"], box["y"] + down * box["height"])


def _pixels(page: Page, key: str) -> Any:
    return page.locator(f'[name="photo:{key}"]')


def test_clicks_set_marks_that_are_kept_and_drawn(page: Page) -> None:
    for across, down in ((0.2, 0.5), (0.3, 0.4), (0.4, 0.5)):
        _click(page, across, down)
        page.wait_for_timeout(200)
    expect(page.locator('[data-mark="rear.edge_px"]')).to_have_count(3)
    expect(
        page.locator("[role=status]", has_text="Mark 2 more round the rear wheel")
    ).to_be_visible()
    page.reload()
    expect(page.locator('[data-mark="rear.edge_px"]')).to_have_count(3)
    expect(_pixels(page, "rear.edge_px")).to_have_value("480,900 720,720 960,900")


def test_a_point_set_goes_on_to_the_next_and_outlasts_a_redraw(page: Page) -> None:
    page.locator('[data-target][value="point.bottom bracket"]').check()
    _click(page, 0.5, 0.5)
    expect(page.locator('[data-target][value="line.steering axis"]')).to_be_checked()
    expect(page.locator('[data-mark="point.bottom bracket"]')).to_have_count(1)
    expect(page.locator('[data-target][value="line.steering axis"]')).to_be_checked()
    expect(_pixels(page, "point.bottom bracket")).to_have_value("1200,900")


def test_keys_set_and_move_a_mark_by_a_pixel_and_a_tenth(page: Page) -> None:
    page.locator('[data-target][value="rear.axle_px"]').check()
    page.locator("[data-photo]").focus()
    page.keyboard.press("Enter")
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowDown"):
        page.keyboard.press(key)
    expect(_pixels(page, "rear.axle_px")).to_have_value("1202,900.1")
    expect(page.locator('[data-mark="rear.axle_px"]')).to_have_count(1)
    page.keyboard.press("Delete")
    expect(page.locator('[data-mark="rear.axle_px"]')).to_have_count(0)


def test_a_drag_moves_a_mark_under_the_loupe(page: Page) -> None:
    page.locator('[data-target][value="front.axle_px"]').check()
    _click(page, 0.7, 0.55)
    expect(page.locator('[data-mark="front.axle_px"]')).to_have_count(1)
    page.locator('[data-target][value="front.axle_px"]').check()
    box = page.locator("[data-photo] img").bounding_box()
    assert box is not None
    x, y = box["x"] + 0.7 * box["width"], box["y"] + 0.55 * box["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 41, y)
    expect(page.locator("[data-loupe]")).to_be_visible()
    page.mouse.up()
    expect(page.locator("[data-loupe]")).to_be_hidden()
    moved = float(_pixels(page, "front.axle_px").input_value().split(",")[0])
    assert abs(moved - (1680 + 41 * 2400 / box["width"])) < 2


def test_a_redraw_that_comes_back_in_a_drag_waits_for_the_hand(page: Page) -> None:
    page.evaluate(
        """() => {
          const plain = window.fetch;
          window.fetch = async (...asked) => {
            const answer = await plain(...asked);
            await new Promise((done) => setTimeout(done, 400));
            return answer;
          };
        }"""
    )
    page.locator('[data-target][value="front.axle_px"]').check()
    _click(page, 0.7, 0.55)
    expect(page.locator('[data-mark="front.axle_px"]')).to_have_count(1)
    page.locator('[data-target][value="rear.axle_px"]').check()
    _click(page, 0.3, 0.55)
    page.locator('[data-target][value="front.axle_px"]').check()
    box = page.locator("[data-photo] img").bounding_box()
    assert box is not None
    x, y = box["x"] + 0.7 * box["width"], box["y"] + 0.55 * box["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 41, y)
    held = _pixels(page, "front.axle_px").input_value()
    page.wait_for_timeout(700)  # the answer to the click has come back
    mark = page.locator('[data-mark="front.axle_px"]')
    assert page.locator("[data-loupe]").is_visible()
    drawn = float((mark.get_attribute("d") or "").split()[0].removeprefix("M"))
    assert abs(drawn + 15 - float(held.split(",")[0])) < 0.1
    page.mouse.up()
    expect(page.locator("[data-loupe]")).to_be_hidden()
    expect(_pixels(page, "front.axle_px")).to_have_value(held)
    page.reload()
    expect(_pixels(page, "front.axle_px")).to_have_value(held)


def test_a_wrong_pixel_is_refused_where_it_was_typed(page: Page) -> None:
    page.locator('[data-target][value="rear.axle_px"]').check()
    field = _pixels(page, "rear.axle_px")
    field.fill("99999,1")
    field.blur()
    expect(page.locator(".complaint", has_text="outside the picture")).to_be_visible()
    expect(field).to_have_value("99999,1")


def test_a_larger_picture_takes_marks_in_its_own_pixels(page: Page) -> None:
    page.locator('[data-zoom="in"]').click()
    page.locator('[data-target][value="front.axle_px"]').check()
    _click(page, 0.25, 0.25)
    expect(_pixels(page, "front.axle_px")).to_have_value("600,450")
