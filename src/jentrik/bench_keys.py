"""How long a hand waits in the browser: from a key to the redrawn bench.

The page is the demo's bench; the last letter of a tire code is typed, and the time is taken from
that key to the drawing that answers it, the field's own pause for more letters included.
"""

from jentrik.bench_browser import can_browse, demo_page

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
    if not can_browse():
        return None
    times = []
    with demo_page() as page:
        page.goto("/jobs/1?station=propose&proposal=A")
        for number in range(TIMES + 4):
            took = page.evaluate(_UNTIL_DRAWN, CODES[(number + 1) % len(CODES)])
            page.wait_for_timeout(60)
            if number >= 4:  # the first ones fill the browser's caches
                times.append(float(took))
    return sorted(times)
