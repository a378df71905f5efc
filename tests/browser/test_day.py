"""The morning on a phone and at two screens: rows at arm's length, and what others do shows."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import expect

PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True}
LONG = "W" * 80
TOP_PX, ROW_PX, ROWS_PHONE, ROWS_DESK = 200, 84, 7, 10


def boxes(page: Any) -> list[dict[str, float]]:
    """Return where the rows of the list stand."""
    return [row.bounding_box() for row in page.locator(".job-row").all()]


def test_seven_jobs_stand_on_a_phone_and_ten_on_a_desk(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs", **PHONE)
    page.request.patch("/api/machines/3", data={"name": LONG, "owner": LONG})
    page.reload()
    expect(page.locator("#job-3")).to_contain_text(LONG)
    rows = boxes(page)
    assert rows[0]["y"] < TOP_PX
    assert all(row["height"] <= ROW_PX for row in rows)
    assert sum(row["y"] + row["height"] <= 844 for row in rows) >= ROWS_PHONE
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.set_viewport_size({"width": 1280, "height": 800})
    assert sum(row["y"] + row["height"] <= 800 for row in boxes(page)) >= ROWS_DESK


def test_what_one_screen_does_another_shows_and_no_hand_is_disturbed(
    open_page: Callable[..., Any],
) -> None:
    desk, phone = open_page("/jobs"), open_page("/orders", **PHONE)
    typing = open_page("/jobs/1?station=read")
    expect(desk.locator("#job-1 .row-says")).to_contain_text("waits: Front tire 47-584")
    wanted = typing.locator("#job-wanted")
    wanted.press_sequentially(" and", delay=20)
    for page in (desk, typing):
        page.wait_for_timeout(1600)  # it listens once the page stands
    place = phone.get_by_label("Front tire 47-584: where it lies")
    place.fill("hook 5")
    phone.get_by_role("button", name="Arrived").first.click()
    expect(phone.locator("#orders")).to_contain_text("It lies at hook 5")
    expect(desk.locator("#job-1 .row-says")).to_contain_text("waits: Rear tire 47-584")
    expect(wanted).to_be_focused()
    expect(wanted).to_have_value(re.compile("^ and"))
    desk.goto("/jobs/1?station=check")
    expect(typing.locator(".here-too")).to_have_text("Also here: another screen (check)")
    desk.goto("/jobs")
    expect(typing.locator(".here-too")).to_have_count(0)


def test_a_job_is_taken_over_without_loading_a_page(open_page: Callable[..., Any]) -> None:
    first, second = open_page("/jobs"), open_page("/jobs")
    first.request.post("/api/people", data={"name": "Pia"})
    first.goto("/shop/people")
    first.get_by_role("button", name="That is me").first.click()
    first.goto("/jobs")
    first.evaluate("window.here = true")
    first.wait_for_timeout(1600)
    first.locator("#job-10").get_by_role("button", name="take").click()
    expect(first.locator("#job-10 .row-when")).to_contain_text("Pia")
    expect(second.locator("#job-10 .row-when")).to_contain_text("Pia")
    assert first.evaluate("window.here")
    expect(first.locator(".job-filters")).to_contain_text("mine 1")


def test_a_hand_that_comes_while_a_part_is_fetched_keeps_what_it_types(
    open_page: Callable[..., Any],
) -> None:
    offer, other = open_page("/jobs/3/customer"), open_page("/jobs/3")
    fetched: list[Any] = []
    offer.wait_for_timeout(1600)
    offer.route("**/jobs/3/customer*", lambda route: fetched.append(route))  # the answer waits
    other.request.patch("/api/machines/3", data={"name": "Another name"})
    wait = 0
    while not fetched and (wait := wait + 1) < 200:
        offer.wait_for_timeout(50)
    offer.locator("[name=by]").press_sequentially("Anna")
    fetched[0].continue_()
    offer.wait_for_timeout(500)
    expect(offer.locator("[name=by]")).to_have_value(re.compile("^Anna"))
    offer.unroute("**/jobs/3/customer*")


def test_without_a_connection_a_line_says_so_and_everything_else_is_the_same(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs")
    page.route("**/api/events", lambda route: route.abort())
    page.reload()
    expect(page.locator("#not-live")).to_have_text(re.compile("Not live"))
    page.locator("#job-10 .row-name a").click()
    expect(page.locator("#bench")).to_be_visible()


def test_arrows_go_down_the_list_and_a_scanned_tag_opens_its_job(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    expect(page.locator(".job-row").nth(1).locator(".row-name a")).to_be_focused()
    page.locator("body").press_sequentially("tag 17", delay=5)
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"/jobs/1$"))
