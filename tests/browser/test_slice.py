"""The slice by hand: what only a screen shows."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import expect

FRONT, REAR = "#proposal-front-tire", "#proposal-rear-tire"


def test_two_tire_codes_in_a_changed_machine_out(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs")
    page.get_by_text("+ Job", exact=True).click()
    page.get_by_label("Bike or motorcycle").fill("Grey courier")
    page.get_by_label("Front tire now").fill("37-622")
    page.get_by_role("button", name="Start the job").click()
    expect(page.locator(".bench-drawing")).to_be_visible()
    rear = page.locator(REAR)
    rear.press_sequentially("47-584", delay=25)
    drawing = page.locator(".bench-drawing")
    # Rear radius 348 -> 339 on a 1050 mm wheelbase: asin(9 / 1050) = 0.5 degrees slacker.
    expect(drawing).to_contain_text("70.5°")
    expect(page.locator(".ledger").first).to_contain_text("−0.5")
    expect(rear).to_be_focused()
    expect(rear).to_have_value("47-584")
    page.reload()
    expect(page.locator(REAR)).to_have_value("47-584")
    expect(page.locator(".bench-drawing")).to_contain_text("70.5°")
    page.locator("body").press("z")
    expect(page.locator(REAR)).to_have_value("")
    expect(page.locator(".undo-said [role=status]")).to_contain_text("Taken back")


def test_a_wrong_code_marks_the_character_and_the_last_good_drawing_stays(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs/1")
    front = page.locator(FRONT)
    front.fill("47-585")
    complaint = page.locator(".complaint")
    expect(complaint).to_contain_text("bead seat")
    expect(complaint.locator("mark")).to_have_text("5")
    expect(front).to_have_value("47-585")
    expect(page.locator(".bench-drawing")).to_be_visible()
    complaint.get_by_role("button", name="47-584").click()
    expect(page.locator(".complaint")).to_have_count(0)
    expect(front).to_have_value("47-584")


def test_a_sidewall_is_explained_while_typed_and_goes_onto_the_shelf(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs")
    page.locator("body").press("/")
    field = page.locator("#code")
    expect(field).to_be_focused()
    field.press_sequentially("47-585", delay=15)
    expect(page.locator("#reading .complaint mark")).to_have_text("5")
    page.get_by_role("button", name="47-584", exact=True).click()
    expect(page.locator("#reading")).to_contain_text("bead seat diameter in mm")
    field.press("End")
    field.press_sequentially("\nDOT AB12 1525", delay=15)
    expect(page.locator(".figures-list")).to_contain_text("week 15 of 2025")
    expect(field).to_be_focused()
    page.reload()
    expect(page.locator(".figures-list")).to_contain_text("week 15 of 2025")
    page.locator("#rim").fill("622x19C")
    expect(page.locator(".rim")).to_contain_text("never force a bead")
    page.get_by_role("button", name="Put 47-584").click()
    expect(page.get_by_role("heading", name="Wheel shelf")).to_be_visible()
    expect(page.locator("tbody tr").first).to_contain_text("week 15 of 2025")


def test_what_is_typed_cannot_become_markup(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/1?station=read")
    page.get_by_label("What is wanted").fill('"><img src=x onerror=alert(1)>')
    page.wait_for_timeout(500)
    page.goto("/jobs")
    expect(page.locator(".row-changes", has_text="onerror")).to_be_visible()
    assert page.locator("img").count() == 0


def test_the_keys_work_and_none_fires_while_typing(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/1")
    body = page.locator("body")
    body.press("v")
    expect(page.get_by_role("link", name="On the road")).to_have_attribute("aria-current", "true")
    body.press("m")
    expect(page.locator(".bench-drawing")).to_contain_text("×3")
    body.press("]")
    expect(page.locator("[data-proposals] [aria-current]")).to_have_text("B")
    body.press("2")
    expect(page.get_by_role("heading", name="For this job")).to_be_visible()
    body.press("3")
    front = page.locator(FRONT)
    front.focus()
    front.press("End")
    front.press("m")
    expect(page.locator(".bench-drawing")).to_contain_text("×3")
    front.blur()
    body.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    body.press("g")
    body.press("m")
    expect(page.get_by_role("heading", name="Machines")).to_be_visible()
    page.go_back()
    expect(page.locator(".bench-drawing")).to_be_visible()


def test_a_measurement_redraws_and_an_impossible_one_is_refused_in_place(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs/1?station=measure")
    height = page.get_by_label("Bottom-bracket height", exact=True)
    height.fill("300")
    expect(page.locator(".bench-drawing")).to_contain_text("300")
    height.fill("900")
    expect(page.locator(".complaint")).to_contain_text("chain stay")
    expect(height).to_have_value("900")
    page.reload()
    expect(page.get_by_label("Bottom-bracket height", exact=True)).to_have_value("300")


def test_a_way_back_is_searched_and_becomes_a_proposal(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/10")
    page.get_by_role("link", name="Restore geometry").click()
    expect(page.locator(".says").first).to_contain_text("combinations")
    page.get_by_text("Leave remedies out").click()
    page.get_by_label("other fork clamps").check()
    expect(page.locator(".ways")).not_to_contain_text("clamp offset")
    expect(page.get_by_label("other fork clamps")).to_be_visible()  # the list stays open
    page.get_by_label("the rider's own figures").check()
    wanted = page.get_by_label("Trail wanted")
    wanted.fill("100")
    expect(page.locator(".aims")).to_contain_text("−13")
    expect(wanted).to_be_focused()
    page.get_by_role("button", name="Make it a proposal").first.click()
    expect(page.locator("[data-proposals] [aria-current]")).to_have_text("C")
    page.get_by_role("link", name="Compare and print").click()
    expect(page.locator(".felt-columns section")).to_have_count(3)
    page.get_by_role("textbox", name="Edge").fill("80")
    expect(page.locator(".edge-drawing")).to_contain_text("Edge 80 mm")


def test_readings_and_a_state_reach_the_drawing(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/9?station=measure")
    base = page.locator("#sheet-wheelbase_mm")
    base.fill("")
    base.press_sequentially("1190; 1194; 1192", delay=40)
    expect(page.locator(".figure-field", has=base)).to_contain_text("mean 1192.0")
    expect(base).to_be_focused()
    stack = page.locator("#sheet-stack_mm")
    stack.fill("582")
    expect(page.locator(".undo")).to_contain_text("stack 580 → 582")
    expect(stack).to_be_visible()  # the part someone opened stays open
    page.locator("[data-station='3']").click()
    rider_on = page.locator("[data-states] a", has_text="Rider on")
    rider_on.click()
    expect(rider_on).to_have_attribute("aria-current", "true")


def test_enter_keeps_a_figure_and_opens_the_next_that_is_missing(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/jobs/1?station=measure&field=front.overall_diameter_mm")
    field = page.locator("[data-open-field] input:not([type=hidden])")
    field.fill("690")
    field.press("Enter")
    expect(page.locator("[data-open-field] label")).to_have_text("Measured diameter, rear")
    expect(field).to_be_focused()
    expect(page.locator(".asked-list")).to_contain_text("690\u2009mm")
    field.fill("9999")
    field.press("Enter")  # refused: it stays where it is, as typed
    expect(page.locator("[data-open-field] .complaint")).to_be_visible()
    expect(field).to_have_value("9999")
    page.locator(".mark-label", has_text="Wheelbase").click()
    expect(page.locator("[data-open-field] label")).to_have_text("Wheelbase")
    expect(page.locator("#sheet-wheelbase_mm")).to_be_focused()


def test_two_tabs_do_not_undo_each_other(open_page: Callable[..., Any]) -> None:
    first, second = open_page("/jobs/1"), open_page("/jobs/1")
    first.locator(FRONT).fill("50-584")
    expect(first.locator(".strip").first).to_contain_text("50")
    second.locator(REAR).fill("44-584")
    expect(second.locator(".strip").nth(1)).to_contain_text("44")
    first.reload()
    expect(first.locator(FRONT)).to_have_value("50-584")
    expect(first.locator(REAR)).to_have_value("44-584")


def test_without_scripts_forms_still_submit(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/1", java_script_enabled=False)
    page.locator(FRONT).fill("50-584")
    page.get_by_role("button", name="Show what it does").click()
    expect(page.locator(".strip").first).to_contain_text("50")
    page.locator(FRONT).fill("50-58")
    page.get_by_role("button", name="Show what it does").click()
    expect(page.locator(".complaint")).to_contain_text("bead seat")
    page.get_by_role("link", name="On the road").click()
    expect(page.locator(".bench-drawing")).to_contain_text("Chassis comes down")


def test_a_press_on_a_width_chart_chooses_that_pair_and_keeps_what_was_asked(
    open_page: Callable[..., Any],
) -> None:
    page = open_page("/machines/1/choose")
    page.get_by_label("Fork").select_option("free")
    expect(page).to_have_url(re.compile("fork=free"))
    for end, name in (("front", "Choose 40-622, front"), ("rear", "Choose 42-622, rear")):
        page.get_by_role("button", name=name).click()
        expect(page.locator(".choose-it button")).to_contain_text(name.split()[1].strip(","))
        assert "fork=free" in page.url, end
    expect(page.locator(".choose-it button")).to_have_text("Propose 40-622 / 42-622")
    page.locator(".choose-it button").click()
    expect(page.locator(".answer b").first).to_contain_text("oes")
