"""Every screen at five widths: nothing sideways, covered or too small, nothing axe names."""

from collections.abc import Callable
from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

PAGES = [
    "/jobs",
    "/jobs/1",
    "/jobs/6?view=road&magnify=3",
    "/jobs/5?station=read",
    "/jobs/1?station=measure",
    "/jobs/11?station=check",
    "/jobs/1?station=fit",
    "/machines",
    "/machines/4",
    "/shelf",
    "/read?code=26 x 1 3/8",
    "/api/docs",
    "/jobs/9/ways?proposal=A",
    "/jobs/9/compare?load=45&rim=x",
    "/jobs/9?state=full+travel",
    "/logbook",
    "/machines/6/log",
    "/jobs/9?station=ride",
    "/jobs/10?more=front&proposal=B",
    "/jobs/1/order",
    "/shop",
    "/machines/10",
    "/shop/gauges",
    "/words",
    "/rules",
    "/shop/backups",
    "/shop/people",
    "/shop/keys",
    "/handbook/measure",
    "/handbook/figures",
    "/jobs/1/order/suppliers",
    "/jobs/1/tag",
    "/machines/6/paper",
    "/jobs/1?drawings",
    "/machines/10/choose",
    "/machines/1/tires",
    "/machines/4/sizes",
    "/machines/1/widths",
    "/machines/9/photographs",
    "/machines/9/photographs/1",
    "/practice",
    "/practice/session?minutes=5&kind=arrow&seed=3",
    "/practice/session?minutes=5&kind=find-mark&seed=7",
    "/practice/exam?seed=3",
    "/shelf/tires/7",
    "/shelf/labels",
    "/session",
    "/machines/6/speed",
    "/jobs/12?station=fit",
    "/jobs/12/card",
    "/read?code=120/70+ZR+17+58W%0ADOT+1523&rim=WM2+x+19",
]

# What a click in its middle would not reach: something else lies over it.  Points of a map lie as
# near as their sizes; the list beside it holds the same.
COVERED = """() => [...document.querySelectorAll("a, button, input, select, textarea, summary")]
  .filter(one => !one.matches(".skip, .size-map a"))
  .filter(one => one.checkVisibility({visibilityProperty: true}))
  .filter(one => {
    one.scrollIntoView({block: "center", inline: "center"});
    const box = one.getClientRects()[0];
    if (!box || box.width < 2 || box.height < 2) return false;
    const hit = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
    return !hit || !(one.contains(hit) || hit.contains(one) || one.labels?.[0]?.contains(hit));
  }).map(one => one.outerHTML.slice(0, 90))"""


ONLY_FAULTS = {"resultTypes": ["violations"]}  # what holds is counted, not listed
WIDTHS = (320, 390, 768, 1024, 1280)
HIT_WIDTHS = (390, 768, 1280)  # where every button is tried: one for each layout
WITHOUT_FONTS = """() => { for (const sheet of document.styleSheets)
  for (let place = sheet.cssRules.length - 1; place >= 0; place--)
    if (sheet.cssRules[place].cssText.includes("woff2")) sheet.deleteRule(place); }"""
TOO_SMALL = """() => [...document.querySelectorAll(
    ".button, .switch a, .proposal-tabs a, .stations a, .tabs-row .quiet, summary, .input, select")]
  .filter(one => one.checkVisibility({visibilityProperty: true}))
  .filter(one => one.getBoundingClientRect().height < 43.5)
  .map(one => one.outerHTML.slice(0, 90))"""
LETTERS = """() => [...document.querySelectorAll("svg text")]
  .filter(one => one.checkVisibility() && one.getBoundingClientRect().width)
  .map(one => [one.textContent.slice(0, 20),
    Math.round(10 * parseFloat(getComputedStyle(one).fontSize) * one.getScreenCTM().a) / 10])
  .filter(([, px]) => px < 12)"""


@pytest.mark.parametrize("path", PAGES)
def test_at_every_width_and_without_our_fonts_nothing_scrolls_sideways_or_is_covered(
    look_at: Callable[..., Any], path: str
) -> None:
    page = look_at(path, width=1280)
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("document.documentElement.scrollWidth") <= width, width
        assert page.evaluate(LETTERS) == [], width
        if width in HIT_WIDTHS:
            assert page.evaluate(COVERED) == [], width
        if width == 390:
            assert page.evaluate(TOO_SMALL) == []
    page.evaluate(WITHOUT_FONTS)
    for width in (320, 768):  # the tightest, in whatever letters the machine has
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("document.documentElement.scrollWidth") <= width, width


@pytest.mark.parametrize("job_id", range(1, 12))
def test_the_whole_answer_stands_on_the_first_screen(
    open_page: Callable[..., Any], job_id: int
) -> None:
    page = open_page(f"/jobs/{job_id}", viewport={"width": 1280, "height": 800})
    shown = ".input.code, .bench-drawing, .what-moves > .ledger, .finding summary, .job-strip"
    bottoms = page.evaluate(
        f"[...document.querySelectorAll('{shown}')].map(n => n.getBoundingClientRect().bottom)"
    )
    assert len(bottoms) > 4
    assert max(bottoms) <= 800
    page.set_viewport_size({"width": 390, "height": 844})
    top = page.evaluate("document.querySelector('.work').getBoundingClientRect().top")
    assert top <= 170
    foot = page.evaluate("document.querySelector('.stations').getBoundingClientRect().bottom")
    assert foot == pytest.approx(844, abs=1)


@pytest.mark.parametrize("path", PAGES)
def test_axe_finds_nothing_in_light_and_dark_on_desk_and_phone(
    look_at: Callable[..., Any], path: str
) -> None:
    page = look_at(path, width=390, height=844)
    for scheme, width in (("light", 390), ("dark", 1280)):
        page.set_viewport_size({"width": width, "height": 844})
        page.emulate_media(color_scheme=scheme, reduced_motion="reduce")  # no color fades over
        page.wait_for_timeout(100)
        found = [
            (fault["id"], [node["target"] for node in fault["nodes"]][:3])
            for fault in Axe().run(page, options=ONLY_FAULTS).response["violations"]
        ]
        assert found == [], (scheme, width)


def test_one_thumb_ticks_step_after_step_where_it_lies(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/5?station=fit", viewport={"width": 390, "height": 844})
    page.get_by_label("Who is at the bench?").fill("Ida")
    page.get_by_label("Who is at the bench?").press("Enter")
    page.wait_for_load_state("networkidle")
    page.locator(".card-group.is-next form > .button").click()  # what goes together
    page.locator(".card-step.is-next").wait_for()
    card = page.locator(".is-next")
    first = card.get_attribute("id")
    done = card.get_by_role("button", name="Done")
    before = done.bounding_box()
    for reading in card.locator("[name=reading]").all():
        reading.fill("12")
    done.click()
    page.locator(f"#{first}.is-done").wait_for(state="attached")
    assert page.locator(".is-next").get_attribute("id") != first
    after = page.locator(".is-next").bounding_box()
    assert after["y"] <= before["y"] <= after["y"] + after["height"]
    assert page.evaluate("document.querySelector('.is-next').getBoundingClientRect().top") > 0
    page.reload()
    assert page.locator(f"#{first}.is-done").count() == 1


UNDER_ANOTHER = """() => {
  const one = document.activeElement, box = one.getBoundingClientRect();
  if (one === document.body || !box.width || one.matches(".skip, .camera input")) return null;
  const down = Math.min(box.height / 2, 20);
  const hit = document.elementFromPoint(box.x + box.width / 2, box.y + down);
  const free = hit && (one.contains(hit) || hit.contains(one) || one.labels?.[0]?.contains(hit));
  return free ? null : one.outerHTML.slice(0, 80);
}"""


@pytest.mark.parametrize("width", [390, 1280])
@pytest.mark.parametrize("path", ["/jobs/5?station=fit", "/jobs/10", "/jobs/1?station=measure"])
def test_focus_is_never_under_another_part(
    open_page: Callable[..., Any], path: str, width: int
) -> None:
    page = open_page(path, viewport={"width": width, "height": 800})
    covered = []
    for _ in range(60):
        page.keyboard.press("Tab")
        covered.append(page.evaluate(UNDER_ANOTHER))
    assert [one for one in covered if one] == []


def test_six_stations_have_six_titles_and_say_what_changed(open_page: Callable[..., Any]) -> None:
    page = open_page("/jobs/10")
    titles = set()
    for number in "123456":
        page.locator("body").press(number)
        page.locator(f"[data-station='{number}'][aria-current]").wait_for()
        titles.add(page.title())
    assert len(titles) == 6
    page.locator("body").press("3")
    page.locator("#proposal-front-tire").fill("100/90-19 57S")
    said = page.locator("#live-said")
    expect(said).to_contain_text("caution")
    expect(said).to_contain_text("Rake")


@pytest.mark.parametrize("path", ["/jobs", "/jobs/10", "/machines/10", "/jobs/5?station=fit"])
def test_nothing_shifts_while_a_page_comes_and_forced_colors_keep_what_is_chosen(
    open_page: Callable[..., Any], path: str
) -> None:
    page = open_page("/rules", forced_colors="active")
    page.add_init_script(
        "window.shifted = 0; new PerformanceObserver(list => { for (const one of list.getEntries())"
        " window.shifted += one.value; }).observe({type: 'layout-shift', buffered: true})"
    )
    page.goto(path)
    page.wait_for_load_state("networkidle")
    assert page.evaluate("window.shifted") < 0.02
    chosen = page.evaluate(
        "[...document.querySelectorAll('[aria-current]')].filter(n => n.checkVisibility())"
        ".map(n => getComputedStyle(n).outlineStyle)"
    )
    assert chosen
    assert set(chosen) == {"solid"}


A4_PX = 718  # 210 mm less the margins Chromium prints with
ASTRAY = """() => [...document.querySelectorAll("table")].flatMap(table => {
  const heads = [...(table.tHead?.rows[0]?.cells || [])].map(one => one.getBoundingClientRect());
  return [...(table.tBodies[0]?.rows || [])].filter(row => row.cells.length === heads.length)
    .flatMap(row => [...row.cells].filter((cell, place) => {
      const box = cell.getBoundingClientRect();
      return box.left < heads[place].left - 1 || box.right > heads[place].right + 1;
    })).map(cell => cell.textContent.trim().slice(0, 40));
})"""


@pytest.mark.parametrize("path", ["/jobs/1/compare", "/jobs/1/order?columns=0.2.4.5"])
def test_on_paper_every_column_stands_under_its_head(
    open_page: Callable[..., Any], path: str
) -> None:
    page = open_page(path, viewport={"width": A4_PX, "height": 1000})
    page.emulate_media(media="print")
    assert page.locator("table thead").count()
    wide = "[...document.querySelectorAll('main, .wide-table')].map(one => one.scrollWidth)"
    assert max(page.evaluate(wide)) <= A4_PX
    assert page.evaluate(ASTRAY) == []
