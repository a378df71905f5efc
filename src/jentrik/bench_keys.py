"""How long a hand waits in the browser: from a key to the redrawn bench.

The page is the demo's bench; the last letter of a tire code is typed, and the time is taken from
that key to the drawing that answers it, the field's own pause for more letters included.  Needs
the tools of the browser tests; without them the figures are left out.
"""

import importlib.util
import os
import tempfile
from pathlib import Path

from jentrik.web.app import create_app
from jentrik.web.served import served

TIMES = 60
CODES = ("47-584", "50-584")
_UNTIL_DRAWN = """(code) => new Promise((drawn) => {
  const field = document.querySelector("[name='proposal:front.tire']");
  const watch = new MutationObserver(() => {
    if (document.querySelector(".bench-drawing")?.getAttribute("aria-label") === before) return;
    watch.disconnect();
    drawn(performance.now() - pressed);
  });
  const before = document.querySelector(".bench-drawing").getAttribute("aria-label");
  watch.observe(document.body, {subtree: true, childList: true, attributes: true});
  const pressed = performance.now();
  field.focus();
  field.value = code;
  field.dispatchEvent(new Event("input", {bubbles: true}));
})"""


def key_to_redraw_ms() -> list[float] | None:
    """Return the times from a key to the redraw in ms, the shortest first; None unmeasured."""
    if importlib.util.find_spec("playwright") is None:
        return None
    # A contributor's tool, not there in a shop.
    from playwright.sync_api import sync_playwright  # noqa: PLC0415

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        with served(app, log_level="error") as address, sync_playwright() as playwright:
            path = os.environ.get("JENTRIK_CHROMIUM", "/usr/bin/chromium")
            browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox"])
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{address}/jobs/1?station=propose&proposal=A")
            times = []
            for number in range(TIMES + 4):
                took = page.evaluate(_UNTIL_DRAWN, CODES[(number + 1) % len(CODES)])
                page.wait_for_timeout(60)
                if number >= 4:  # the first ones fill the browser's caches
                    times.append(float(took))
            browser.close()
    return sorted(times)
