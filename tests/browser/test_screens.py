"""Every screen on a phone and a desk: nothing sideways or covered, nothing axe calls serious."""

from collections.abc import Callable
from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe

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
    "/shop/gauges",
    "/shop/backups",
    "/session",
    "/machines/6/speed",
    "/jobs/12?station=fit",
    "/jobs/12/card",
    "/read?code=120/70+ZR+17+58W%0ADOT+1523&rim=WM2+x+19",
]

# What a click in its middle would not reach: something else lies over it.
COVERED = """() => [...document.querySelectorAll("a, button, input, select, textarea, summary")]
  .filter(one => !one.matches(".skip") && one.checkVisibility({visibilityProperty: true}))
  .filter(one => {
    one.scrollIntoView({block: "center", inline: "center"});
    const box = one.getClientRects()[0];
    if (!box || box.width < 2 || box.height < 2) return false;
    const hit = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
    return !hit || !(one.contains(hit) || hit.contains(one) || one.labels?.[0]?.contains(hit));
  }).map(one => one.outerHTML.slice(0, 90))"""


@pytest.mark.parametrize("path", PAGES)
def test_no_page_scrolls_sideways_on_a_phone_and_axe_finds_nothing_serious(
    open_page: Callable[..., Any], path: str
) -> None:
    page = open_page(path, viewport={"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    covered = page.evaluate(COVERED)
    for scheme in ("light", "dark"):
        page.emulate_media(color_scheme=scheme)
        page.wait_for_timeout(400)  # colors fade over
        found = [
            (fault["id"], [node["target"] for node in fault["nodes"]][:3])
            for fault in Axe().run(page).response["violations"]
            if fault["impact"] in ("serious", "critical")
        ]
        assert found == [], scheme
    page.set_viewport_size({"width": 1280, "height": 800})
    assert covered + page.evaluate(COVERED) == []
