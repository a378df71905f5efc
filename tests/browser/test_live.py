"""Fields that save as they change: at any pace, over a bad network, by two people at once."""

import time
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from jentrik.store import jobs, machines
from jentrik.web.security.guard import TOKEN_COOKIE
from jentrik.web.security.passphrase import SESSION_COOKIE

PASSPHRASE = "low tide at noon"
MEASURE = "/jobs/1?station=measure"
ANSWERS = "**/answer*"


def field(page: Page, label: str) -> Locator:
    return page.get_by_label(label, exact=True)


def stored(key: str, machine_id: int = 1) -> Any:
    figure = machines.sheet(machine_id).figures.get(key)
    return None if figure is None else figure.value


def until(holds: Callable[..., Any]) -> None:
    """Wait until something holds in the shop's data."""
    deadline = time.monotonic() + 20
    while not holds():
        assert time.monotonic() < deadline
        time.sleep(0.05)


def slowly(route: Any) -> None:
    time.sleep(0.2)
    route.continue_()


@pytest.mark.parametrize(("pace", "late"), [(20, False), (60, True)])
def test_figures_typed_with_tab_between_them_are_all_stored(
    open_page: Callable[..., Any], pace: int, late: bool
) -> None:
    page = open_page("/jobs/9?more=more&proposal=A")
    if late:
        page.route(ANSWERS, slowly)
    names = page.evaluate("[...document.querySelectorAll('.more-fields input')].map(f => f.name)")
    typed = {name: f"{3 + place % 4}.5" for place, name in enumerate(names)}
    page.locator(f"[name='{names[0]}']").focus()
    for text in typed.values():
        page.keyboard.press("Control+A")
        page.keyboard.type(text, delay=pace)
        page.keyboard.press("Tab")
    expect(page.locator(".field-state", has_text="saving")).to_have_count(0)
    expect(page.locator("#busy.htmx-request")).to_have_count(0)
    refused = page.evaluate(
        "[...document.querySelectorAll('.field-state')].map(s => s.previousElementSibling.name)"
    )
    changes = jobs.job(9).proposals[0].changes
    assert len(names) > 8
    for name, text in typed.items():
        branch = changes
        for part in name.partition(":")[2].split("."):
            branch = branch.get(part, {}) if isinstance(branch, dict) else {}
        shown = page.locator(f"[name='{name}']")
        assert branch == float(text) or (name in refused and shown.input_value() == text), name
    assert len(refused) < len(names) / 2


def test_a_tool_that_types_its_reading_and_enter_measures_figure_after_figure(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/machines/1?field=wheelbase_mm")
    open_field = page.locator("[data-open-field] input:not([type=hidden])").first
    open_field.focus()
    page.keyboard.press("Control+A")
    page.keyboard.type("+1047.50 mm")  # all of it at once, as such a tool does
    page.keyboard.press("Enter")
    until(lambda: stored("wheelbase_mm") == 1047.5)
    expect(page.locator(".field-state", has_text="not saved")).to_have_count(0)


def test_a_click_right_after_a_key_keeps_the_figure(open_page: Callable[..., Any]) -> None:
    page = open_page(MEASURE)
    page.route(ANSWERS, slowly)
    field(page, "Wheelbase").fill("1051")
    page.locator("[data-station='6']").click()
    expect(page.get_by_role("heading", name="Set-ups and rides")).to_be_visible()
    assert stored("wheelbase_mm") == 1051
    page.goto(MEASURE)
    field(page, "Wheelbase").fill("1052")
    page.get_by_role("link", name="Machines").click()
    expect(page.get_by_role("heading", name="Machines")).to_be_visible()
    until(lambda: stored("wheelbase_mm") == 1052)


def test_without_network_a_figure_stays_in_its_field_and_goes_as_soon_as_it_can(
    open_page: Callable[..., Any],
) -> None:
    page = open_page(MEASURE)
    page.route(ANSWERS, lambda route: route.abort())
    field(page, "Wheelbase").fill("1051")
    expect(page.locator(".field-state")).to_have_text("not saved, kept here")
    expect(page.locator("#unsaved")).to_contain_text("1 not saved: Wheelbase")
    expect(page.locator("#live-said")).to_contain_text("Wheelbase not saved, kept here")
    page.locator("[data-station='3']").click()
    expect(page.locator("#live-said")).to_contain_text("the page stays")
    expect(field(page, "Wheelbase")).to_have_value("1051")
    page.unroute(ANSWERS)
    page.evaluate("window.dispatchEvent(new Event('online'))")
    expect(page.locator("#live-said")).to_contain_text("Wheelbase saved")
    expect(page.locator("#unsaved")).to_be_hidden()
    assert stored("wheelbase_mm") == 1051


def test_what_was_not_sent_survives_a_reload_of_the_tab(open_page: Callable[..., Any]) -> None:
    page = open_page(MEASURE)
    page.on("dialog", lambda dialog: dialog.accept())
    page.route(ANSWERS, lambda route: route.fulfill(status=500, body="broken"))
    field(page, "Wheelbase").fill("1051")
    expect(page.locator("#unsaved")).to_contain_text("the server answered 500")
    page.reload()
    expect(field(page, "Wheelbase")).to_have_value("1051")
    page.unroute(ANSWERS)
    page.get_by_role("button", name="Try now").click()
    until(lambda: stored("wheelbase_mm") == 1051)


def test_a_refused_figure_keeps_its_text_and_reason_beside_other_work(
    open_page: Callable[..., Any],
) -> None:
    page = open_page(MEASURE)
    field(page, "Stack").evaluate("node => node.closest('details').open = true")
    field(page, "Stack").fill("tall")
    expect(page.locator(".complaint")).to_contain_text("not a figure")
    field(page, "Wheelbase").fill("1051")
    until(lambda: stored("wheelbase_mm") == 1051)
    expect(page.locator(".undo").first).to_contain_text("wheelbase")
    expect(field(page, "Stack")).to_have_value("tall")
    expect(page.locator(".complaint")).to_contain_text("not a figure")
    page.get_by_role("button", name="Discard").click()
    expect(field(page, "Stack")).to_have_value("577")


def test_a_lost_cookie_is_renewed_and_nothing_is_asked(open_page: Callable[..., Any]) -> None:
    page = open_page(MEASURE)
    page.context.clear_cookies(name=TOKEN_COOKIE)
    field(page, "Wheelbase").fill("1051")
    until(lambda: stored("wheelbase_mm") == 1051)


@pytest.mark.parametrize("passphrase", [PASSPHRASE])
def test_a_lost_session_asks_for_the_passphrase_in_place_and_goes_on(
    open_page: Callable[..., Any], passphrase: str
) -> None:
    page = open_page(MEASURE)
    page.get_by_label("Passphrase").first.fill(passphrase)
    page.get_by_role("button", name="Go on").first.click()
    page.goto(MEASURE)
    page.context.clear_cookies(name=SESSION_COOKIE)
    field(page, "Wheelbase").fill("1051")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Passphrase").fill("wrong")
    dialog.get_by_role("button").click()
    expect(dialog).to_contain_text("not the passphrase")
    dialog.get_by_label("Passphrase").fill(passphrase)
    dialog.get_by_role("button").click()
    until(lambda: stored("wheelbase_mm") == 1051)
    expect(field(page, "Wheelbase")).to_have_value("1051")


def test_two_people_on_one_figure_see_both_values(open_page: Callable[..., Any]) -> None:
    ida, bo = open_page(MEASURE), open_page(MEASURE)
    field(bo, "Wheelbase").focus()  # where a hand is, what others do is not shown yet
    field(ida, "Wheelbase").fill("1051")
    until(lambda: stored("wheelbase_mm") == 1051)
    field(bo, "Wheelbase").fill("1060")
    complaint = bo.locator(".complaint").first
    expect(complaint).to_contain_text("“1051”")
    expect(complaint).to_contain_text("“1060”")
    assert stored("wheelbase_mm") == 1051
    complaint.get_by_role("button", name="1060").click()
    until(lambda: stored("wheelbase_mm") == 1060)


def test_undo_names_one_change_and_takes_back_that_one(open_page: Callable[..., Any]) -> None:
    ida, bo = open_page(MEASURE), open_page(MEASURE)
    before = stored("crank_mm")
    field(ida, "Wheelbase").fill("1051")
    expect(ida.locator("[data-undo]")).to_contain_text("wheelbase 1046 → 1051")
    field(bo, "Crank length").evaluate("node => node.closest('details').open = true")
    field(bo, "Crank length").fill("165 changed")
    until(lambda: stored("crank_mm") == 165)
    ida.locator("[data-undo]").click()
    expect(ida.locator(".undo-said")).to_contain_text("Taken back: wheelbase")
    assert (stored("wheelbase_mm"), stored("crank_mm")) == (1046, 165)
    ida.locator("[data-redo]").click()
    until(lambda: stored("wheelbase_mm") == 1051)
    bo.locator("[data-undo]").click()
    until(lambda: stored("crank_mm") == before)


def test_undo_over_another_persons_change_asks_first(open_page: Callable[..., Any]) -> None:
    ida, bo = open_page(MEASURE), open_page(MEASURE)
    field(ida, "Wheelbase").fill("1051")
    until(lambda: stored("wheelbase_mm") == 1051)
    bo.reload()
    field(bo, "Wheelbase").fill("1060")
    until(lambda: stored("wheelbase_mm") == 1060)
    ida.locator("[data-undo]").click()
    said = ida.locator(".undo-said")
    expect(said).to_contain_text("now 1060 mm")
    expect(said).to_contain_text("would become 1046 mm")
    assert stored("wheelbase_mm") == 1060
    expect(said.get_by_role("button", name="Keep 1060 mm")).to_be_visible()
    said.get_by_role("button", name="Put 1046 mm").click()
    until(lambda: stored("wheelbase_mm") == 1046)


def test_what_stands_in_another_form_is_kept_while_one_is_sent(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs/5?station=fit")  # a card half done
    page.get_by_label("Who is at the bench?").fill("Ida")
    page.locator(".who-form button").click()
    asking = page.locator(".card-step").filter(has=page.locator("input[name=reading]"))
    assert asking.count() > 1
    asking.nth(1).locator("input[name=reading]").fill("0.7")
    asking.nth(0).locator("input[name=reading]").fill("1")
    asking.nth(0).get_by_role("button", name="Done").click()
    reading = page.locator("input[name=reading]").first
    expect(reading).to_have_value("0.7")
    page.get_by_role("link", name="Machines").click()
    page.go_back()
    expect(reading).to_have_value("0.7")
