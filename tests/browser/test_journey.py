"""One job from Read to Ride in the browser, without leaving the flow."""

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect


def station(page: Page, name: str) -> None:
    page.locator(".stations a", has_text=name).first.click()
    expect(page.locator(".stations a[aria-current]")).to_contain_text(name)


def limits_of(step: Locator) -> str:
    """Return what a step says its reading may be."""
    said = step.locator(".step-entry > .hint")
    return said.first.inner_text().replace("\u2212", "-") if said.count() else ""


def tick(page: Page, step: Locator) -> None:
    """Write down what a step asks for and tick it, as someone at the machine would."""
    torque, reading = step.locator("[name=torque_nm]"), step.locator("input[name=reading]")
    if torque.count():
        torque.fill("40")
    if reading.count():
        limits = [float(one) for one in re.findall(r"-?\d+(?:\.\d+)?", limits_of(step))]
        reading.fill(f"{sum(limits[:2]) / 2:g}" if len(limits) > 1 else "12")
    step.locator(".step-entry > .button").first.click()


def tick_all(page: Page) -> None:
    """Tick a whole card: what goes together by one press, what stands out one by one."""
    for _ in range(60):
        following = page.locator(".card-group.is-next, .card-step.is-next").first
        if not following.count():
            return
        number = following.get_attribute("id")
        if following.evaluate("one => one.matches('.card-group')"):
            following.locator(".group-together > form > .button").click()
        else:
            tick(page, following)
        expect(page.locator(f"#{number}")).not_to_have_class(re.compile("is-next"))


def test_a_job_goes_from_read_to_ride(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs")
    page.get_by_text("+ Job", exact=True).click()
    page.get_by_label("Bike or motorcycle").fill("Pier tourer")
    page.get_by_label("Front tire now").fill("37-622")
    page.get_by_role("button", name="Start the job").click()
    station(page, "Read")
    expect(page.locator(".strip").first).to_contain_text("622")
    station(page, "Measure")
    page.locator(".asked-list a", has_text="Bottom-bracket height").click()
    height = page.locator("#sheet-bb_height_mm")
    height.fill("281")
    expect(page.locator(".undo")).to_contain_text("bottom-bracket height")
    station(page, "Propose")
    page.locator("#proposal-rear-tire").fill("40-622")
    expect(page.locator(".codes")).to_contain_text("702\u2009mm tall")  # 622 + 2 x 40
    page.get_by_role("link", name="Rear wheel").click()
    page.get_by_label("Made, week and year").fill("0826")
    expect(page.get_by_role("link", name=re.compile("Rear wheel"))).to_contain_text("(1)")
    station(page, "Check")
    expect(page.locator("#parts")).to_contain_text("Tire 40-622")
    page.get_by_role("link", name="Order list").click()
    price = page.get_by_label("rear tire 40-622: price")
    price.fill("31,50")
    price.press("Tab")
    # Half an hour at 60 an hour beside it.
    expect(page.locator(".order-total")).to_contain_text("61.50")
    page.locator(".crumb a").click()
    station(page, "Fit")
    page.get_by_role("button", name="Make the card").click()
    page.get_by_label("Who is at the bench?").fill("Ida")
    page.get_by_label("Who is at the bench?").press("Enter")
    expect(page.get_by_label("Who is at the bench?")).to_have_value("Ida")
    page.get_by_role("button", name="Close the job").click()
    expect(page.locator(".close-job .complaint")).to_contain_text("stop-level steps are open")
    tick_all(page)
    expect(page.locator(".step-state").last).to_contain_text("Ida")
    page.get_by_label("Rear tire, diameter, measured").fill("701")
    page.get_by_role("button", name="Save measurements").click()
    expect(page.locator("#after-fitting")).to_contain_text("agrees")
    page.get_by_role("button", name="Fitted", exact=True).click()
    expect(page.locator("#after-fitting")).to_contain_text("Fitted and in the logbook")
    page.get_by_role("button", name="Close the job").click()
    expect(page.locator(".fit")).to_contain_text("Closed")
    station(page, "Ride")
    expect(page.locator(".ride")).to_contain_text("Go easy")
    page.get_by_label("Rear grip").fill("4")
    page.get_by_role("button", name="Save ride").click()
    expect(page.locator(".stations")).to_contain_text("1 ride")
    page.get_by_role("link", name="Logbook").click()
    expect(page.locator(".time-line")).to_contain_text("rear 37-622 → 40-622")
    expect(page.locator(".time-line")).to_contain_text("rear grip 4")


def test_the_longest_demo_card_prints_on_two_pages(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/10?station=fit&proposal=B")
    page.get_by_role("button", name="Make the card").click()
    page.get_by_role("link", name="Print", exact=True).click()
    expect(page.locator(".sign-lines")).to_be_visible()
    page.wait_for_load_state("networkidle")  # the styles count, not only the words
    pdf = page.pdf(format="A4")
    assert len(re.findall(rb"/Type\s*/Page\b", pdf)) == 2


@pytest.mark.parametrize("paper", ["A4", "Letter"])
@pytest.mark.parametrize("path", ["/machines/6/paper", "/machines/1/paper", "/jobs/6/tag"])
def test_one_page_does_on_either_paper(
    open_page: Callable[..., Any], path: str, paper: str
) -> None:
    assert _pages(open_page, path, paper) == 1


@pytest.mark.parametrize("paper", ["A4", "Letter"])
@pytest.mark.parametrize("path", ["/jobs/10/customer?proposal=A", "/jobs/6/customer?proposal=A,B"])
def test_an_offer_has_two_pages_at_most(
    open_page: Callable[..., Any], path: str, paper: str
) -> None:
    assert _pages(open_page, path, paper) <= 2


def _pages(open_page: Callable[..., Any], path: str, paper: str) -> int:
    page = open_page(path)
    page.wait_for_load_state("networkidle")
    margin = dict.fromkeys(("top", "bottom", "left", "right"), "12mm")
    pdf = page.pdf(format=paper, margin=margin)
    return len(re.findall(rb"/Type\s*/Page\b", pdf))
