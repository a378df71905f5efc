"""A long import beside the pages: how far it is, how it ended, and a way to stop it.

It runs in a thread and within one transaction, so that stopping it leaves the shop as it was.
"""

import threading
from collections.abc import Callable

from jentrik.core.errors import Refusal, StoreError
from jentrik.store.shop_import import Progress, Report
from jentrik.web.shop import Shop

WAIT_S = 1.0  # a short one is waited for


class StoppedError(Refusal):
    """An import a person stopped."""


class Importing:
    """One import: lines read so far and of which list, then its report or why it was refused."""

    def __init__(self, name: str, *, dry_run: bool) -> None:
        self.name, self.dry_run = name, dry_run
        self.lines, self.of = 0, ""
        self.report: Report | None = None
        self.refusal: Refusal | None = None
        self._stop, self._done = threading.Event(), threading.Event()

    @property
    def done(self) -> bool:
        """Whether it has ended, one way or another."""
        return self._done.is_set()

    def stop(self) -> None:
        """Ask it to end; it takes everything back."""
        self._stop.set()

    def wait(self) -> bool:
        """Wait a little and say whether it has ended."""
        return self._done.wait(WAIT_S)

    def start(self, shop: Shop, run: Callable[[Progress], Report]) -> None:
        """Begin in a thread of its own."""
        thread = threading.Thread(target=self._run, args=(shop, run), name="import", daemon=True)
        thread.start()

    def _run(self, shop: Shop, run: Callable[[Progress], Report]) -> None:
        try:
            shop.ready()
            self.report = run(self._progress)
        except Refusal as refusal:
            self.refusal = refusal
        finally:
            if self.report is None and self.refusal is None:  # a page must hear of it
                self.refusal = StoreError("The program failed here, and nothing was imported.")
            self._done.set()
            shop.database.close()

    def _progress(self, of: str, lines: int) -> None:
        self.of, self.lines = of.replace("_", " "), lines
        if self._stop.is_set():
            raise StoppedError("The import was stopped; the shop is as it was.")


class Imports:
    """The one import that may be under way."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self.latest: Importing | None = None

    def begin(
        self, name: str, shop: Shop, run: Callable[[Progress], Report], *, dry_run: bool
    ) -> Importing:
        """Start an import; refuses a second one beside it."""
        with self._lock:
            if self.latest is not None and not self.latest.done:
                raise StoreError(
                    "Another document is being imported: wait for it, or stop it.", field="document"
                )
            self.latest = importing = Importing(name, dry_run=dry_run)
        importing.start(shop, run)
        return importing
