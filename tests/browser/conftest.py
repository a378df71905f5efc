"""A demo shop served on loopback and Debian's chromium to look at it with."""

import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from jentrik.web.app import create_app
from jentrik.web.server.served import served
from tests.conftest import A_MONDAY

CHROMIUM = os.environ.get("JENTRIK_CHROMIUM", "/usr/bin/chromium")
PATIENCE = 20_000  # ms; a busy machine is slow, not wrong
expect.set_options(timeout=PATIENCE)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(name="passphrase")
def _passphrase() -> None:
    return None


@pytest.fixture(name="served")
def _served(demo: Path, passphrase: str | None) -> Iterator[str]:
    app = create_app(demo, demo=True, now=lambda: A_MONDAY, passphrase=passphrase)
    with served(app) as address:
        yield address


@pytest.fixture(name="browser", scope="session")
def _browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture(name="open_page")
def _open_page(browser: Browser, served: str) -> Iterator[Callable[..., Any]]:
    """Return a way to open pages; a script error or a request to elsewhere fails the test."""
    contexts: list[BrowserContext] = []
    troubles: list[str] = []

    def open_page(path: str = "/jobs", **options: Any) -> Page:
        contexts.append(window(browser, served, options))
        page = watched(contexts[-1].new_page(), served, troubles)
        if "station=measure" in path or path.startswith("/machines/"):
            page.add_init_script(OPEN_GROUPS)  # the whole list of figures, on every load
        page.goto(path)
        return page

    yield open_page
    for context in contexts:
        context.close()
    assert troubles == []


@pytest.fixture(name="one_window", scope="module")
def _one_window(
    browser: Browser, filled: Path, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[tuple[Page, list[str]]]:
    """Return a page on one demo shop for a whole module, and what went wrong on it."""
    folder = tmp_path_factory.mktemp("looked") / "demo"
    shutil.copytree(filled.parent, folder)
    troubles: list[str] = []
    with served(create_app(folder, demo=True, now=lambda: A_MONDAY)) as address:
        context = window(browser, address, {})
        page = watched(context.new_page(), address, troubles)
        page.add_init_script(OPEN_GROUPS)
        yield page, troubles
        context.close()


@pytest.fixture(name="look_at")
def _look_at(one_window: tuple[Page, list[str]]) -> Iterator[Callable[..., Page]]:
    """Return a way to look at pages without writing: a new window for each costs seconds."""
    page, troubles = one_window

    def look_at(path: str, *, width: int, height: int = 800) -> Page:
        page.set_viewport_size({"width": width, "height": height})
        page.emulate_media(color_scheme="light", reduced_motion="no-preference")
        page.goto(path)
        return page

    yield look_at
    found = list(troubles)
    troubles.clear()
    assert found == []


def window(browser: Browser, address: str, options: dict[str, Any]) -> BrowserContext:
    """Return a window of its own on a shop, as on a bench unless something else is said."""
    return browser.new_context(
        base_url=address, **({"viewport": {"width": 1280, "height": 800}} | options)
    )


def watched(page: Page, address: str, troubles: list[str]) -> Page:
    """Return a page whose script errors and requests to elsewhere are written down."""
    page.set_default_timeout(PATIENCE)
    page.on("pageerror", lambda error: troubles.append(str(error)))
    page.on("console", lambda said: troubles.append(said.text) if unexpected(said) else None)
    page.on(
        "request",
        lambda request: (
            troubles.append(request.url) if not request.url.startswith(address) else None
        ),
    )
    return page


OPEN_GROUPS = """addEventListener("DOMContentLoaded", () => {
  for (const group of document.querySelectorAll(".group")) group.open = true;
})"""


def unexpected(said: Any) -> bool:
    """Whether a console line is a fault; the browser notes every refused or lost answer."""
    noted = ("422", "Failed to load resource")
    return said.type in ("error", "warning") and not any(one in said.text for one in noted)
