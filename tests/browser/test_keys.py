"""Keys outside a field: a burst is a code, a held key acts once, and they can be turned off."""

from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

HELD = """() => {
  for (let turn = 0; turn < 9; turn += 1) {
    document.body.dispatchEvent(
      new KeyboardEvent("keydown", { key: "n", bubbles: true, repeat: turn > 0 }));
  }
}"""


def state(page: Page) -> Any:
    """Return job 1 as the API says it: its proposals, and what was taken back."""
    return page.request.get("/api/jobs/1").json()


def test_a_code_typed_outside_a_field_is_read_and_changes_nothing(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs/1?station=propose")
    before = state(page)
    page.keyboard.type("37-622 z", delay=90)
    page.wait_for_url("**/read?code=37-622+z")
    assert state(page) == before
    expect(page.locator("#reading")).to_contain_text("622")
    page.goto("/jobs/1?station=measure")
    page.keyboard.type("MT90B16")  # a scanner is a fast hand
    page.keyboard.press("Enter")
    page.wait_for_url("**/read?code=MT90B16")


def test_a_held_key_makes_one_proposal_and_pressed_twice_it_acts_twice(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs/1?station=propose")
    count = len(state(page)["proposals"])
    page.evaluate(HELD)
    expect(page.locator("[data-proposals] a")).to_have_count(count + 1)
    page.wait_for_timeout(600)
    assert len(state(page)["proposals"]) == count + 1
    page.keyboard.press("z")
    expect(page.locator("[data-proposals] a")).to_have_count(count)


def test_single_keys_are_turned_off_for_a_screen(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/1?station=measure")
    page.keyboard.press("?")
    page.get_by_label("No single-letter keys").check()
    page.keyboard.press("Escape")
    page.keyboard.press("3")
    page.wait_for_timeout(1200)
    assert "station=measure" in page.url
