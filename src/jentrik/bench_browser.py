"""The demo in a browser, for the figures that only a screen shows.

Needs the tools of the browser tests; without them those figures are left out.
"""

import importlib.util
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from jentrik.web.app import create_app
from jentrik.web.server.served import served


def can_browse() -> bool:
    """Whether the tools of the browser tests are there."""
    return importlib.util.find_spec("playwright") is not None


@contextmanager
def demo_page() -> Iterator[Any]:
    """Give a page of a browser, at the desk's width, beside a served demo shop."""
    # A contributor's tool, not there in a shop.
    from playwright.sync_api import sync_playwright  # noqa: PLC0415

    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        with served(app, log_level="error") as address, sync_playwright() as playwright:
            path = os.environ.get("JENTRIK_CHROMIUM", "/usr/bin/chromium")
            browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox"])
            yield browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
            browser.close()
