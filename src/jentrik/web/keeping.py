"""The daily backup: a thread of the server that looks now and then whether it is time."""

import logging
import threading
from datetime import datetime

from jentrik.core.errors import Refusal
from jentrik.store.backups import daily_backup
from jentrik.store.rows import first_row
from jentrik.web.shop import Shop

LOOK_EVERY_S = 600.0
_log = logging.getLogger("jentrik")


class BackupKeeper:
    """Makes the day's backup by itself; what went wrong last is for the Shop page to show."""

    def __init__(self, shop: Shop) -> None:
        self._shop = shop
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="backups", daemon=True)
        self.trouble = ""

    def start(self) -> None:
        """Begin to look."""
        self._thread.start()

    def stop(self) -> None:
        """End, after a backup that is being made."""
        self._stop.set()
        self._thread.join(timeout=30)

    def look(self) -> None:
        """Make today's backup if it is time; a failure is kept for the page and tried again."""
        try:
            self._shop.ready()
            if first_row("SELECT id FROM machine LIMIT 1") is not None:
                policy = self._shop.policy.backups
                daily_backup(self._shop.folder, now=self._shop.now(), days=int(policy.days),
                             weeks=int(policy.weeks))  # fmt: skip
            self.trouble = ""
        except (Refusal, OSError) as error:
            said = error.message if isinstance(error, Refusal) else (error.strerror or "no room")
            if not self.trouble:
                _log.warning("The daily backup failed: %s", said)
            self.trouble = f"{datetime.now():%d %b %H:%M}: {said}"

    def _run(self) -> None:
        while not self._stop.is_set():
            self.look()
            self._stop.wait(LOOK_EVERY_S)
