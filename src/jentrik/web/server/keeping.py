"""What the server does by itself: the daily backup, and lines of lists that are stale."""

import logging
import sqlite3
import threading
import time
from pathlib import Path

import peewee

from jentrik.core.errors import Refusal
from jentrik.store.backups import copy_elsewhere, daily_backup
from jentrik.store.chain import verify
from jentrik.store.practised import is_due, last_practised, practise
from jentrik.store.rows import first_row
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.shop import Shop

_TROUBLES = (Refusal, OSError, sqlite3.Error, peewee.PeeweeException)  # tried again later
LOOK_EVERY_S, BACKUP_EVERY_S, LINES_AT_ONCE = 2.0, 600.0, 40
_log = logging.getLogger("jentrik")


class Keeper:
    """A thread that keeps the shop in order; what went wrong last is for the Shop page to show."""

    def __init__(self, shop: Shop, second: Path | None = None) -> None:
        self._shop, self.second = shop, second
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="keeper", daemon=True)
        self._backed_up_at = -BACKUP_EVERY_S
        self.trouble = ""

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """End, after what is being made."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(timeout=30)

    def back_up(self) -> None:
        """Make today's backup if there is none; a failure is kept for the page and tried again."""
        try:
            self._shop.ready()
            if first_row("SELECT id FROM machine LIMIT 1") is not None:
                policy = self._shop.policy.backups
                daily_backup(
                    self._shop.folder,
                    now=self._shop.now(),
                    days=int(policy.days),
                    weeks=int(policy.weeks),
                )
                if is_due(self._shop.now()):
                    practise(self._shop.database, self._shop.folder, now=self._shop.now())
            verify(self._shop.database, at=self._shop.now())
            if self.second is not None:
                copy_elsewhere(self._shop.folder, self.second)
            tried = last_practised()
            no_good = tried.trouble if tried else ""
            self.trouble = f"{tried.name} is no good: {no_good}" if tried and no_good else ""
        except _TROUBLES as error:
            said = error.message if isinstance(error, Refusal) else str(error)
            _log.warning("The daily backup failed: %s", said)
            self.trouble = f"{self._shop.now():%d %b %H:%M}: {said.rstrip('.')}"

    def _run(self) -> None:
        while not self._stop.is_set():
            if time.monotonic() - self._backed_up_at >= BACKUP_EVERY_S:
                self._backed_up_at = time.monotonic()
                self.back_up()
            self._stop.wait(0.05 if self._lines_are_left() else LOOK_EVERY_S)

    def _lines_are_left(self) -> bool:
        try:
            self._shop.ready()
            return refresh(self._shop, most=LINES_AT_ONCE)
        except _TROUBLES as error:
            _log.warning("Lists were not made anew: %s", error)
            return False
