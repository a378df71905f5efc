"""Whether the file that a shop was opened from still stands where it was opened.

Another file in its place would leave every write in one that no name leads to any more, and the
log of the first beside the second.
"""

import shutil
import sqlite3
import threading
from collections.abc import Callable
from contextlib import closing, suppress
from datetime import datetime
from pathlib import Path

import peewee

from jentrik.core.errors import StoreError
from jentrik.store.backups import FOLDER, backup
from jentrik.store.database import FILE_NAME, close_database, log_of, make_folder, marked_open
from jentrik.store.rows import writers_waiting


class FileReplaced(StoreError):
    """Another file stands where the shop's stood, or none: nothing is stored any more."""


class Standing:
    """The file of a shop that is served, as it was when it was opened."""

    def __init__(
        self, data: Path, database: peewee.SqliteDatabase, now: Callable[[], datetime]
    ) -> None:
        self._data, self._file, self._database, self._now = data, data / FILE_NAME, database, now
        self._own = sqlite3.connect(self._file, check_same_thread=False)
        self._mark = marked_open(self._own)
        self._place, self._written = self._seen()
        self._lock = threading.Lock()
        self._refusal: FileReplaced | None = None

    def look(self) -> None:
        """Refuse with `FileReplaced` where the file was replaced or taken away."""
        if self._refusal is None:
            place, written = self._seen()
            if (place, written) == (self._place, self._written):
                return
            if place == self._place and self._is_ours():
                self._written = written
                return
            with self._lock:
                self._refusal = self._refusal or self._let_go()
        raise self._refusal

    def close(self) -> None:
        """Close the shop: its log is written back, but never into another file."""
        if self._refusal is None:
            with suppress(FileReplaced):
                self.look()
        self._own.close()
        if self._refusal is None:
            close_database(self._database)
        else:
            self._database.close()

    def _seen(self) -> tuple[tuple[int, int], tuple[int, int]]:
        try:
            seen = self._file.stat()
        except OSError:
            return (0, 0), (0, 0)
        return (seen.st_dev, seen.st_ino), (seen.st_mtime_ns, seen.st_size)

    def _is_ours(self) -> bool:
        """Whether the file itself, without its log, carries the mark of this opening."""
        if self._mark_there() == self._mark:
            return True
        with writers_waiting(self._database):  # the log may have been on its way into the file
            return self._mark_there() == self._mark

    def _mark_there(self) -> str:
        with (
            suppress(sqlite3.Error),
            closing(sqlite3.connect(f"{self._file.as_uri()}?immutable=1", uri=True)) as raw,
        ):
            return marked_open(raw)
        return ""

    def _let_go(self) -> FileReplaced:
        """Keep what was done so far, part the log from the file that stands there now."""
        name = f"replaced-{self._now():%Y-%m-%d-%H%M%S}"
        kept = self._data / FOLDER / f"{name}.zip"
        words = "was taken away"
        if self._file.exists():
            words = "was replaced by another"
        try:
            make_folder(kept.parent)
            log = log_of(self._file)
            if log.exists():
                shutil.copyfile(log, kept.with_name(f"{name}-wal"))
            backup(self._data, kept, now=self._now(), live=self._own)
            what = f"What was done until then is kept in {kept}."
        except (OSError, sqlite3.Error, StoreError):
            what = f"Of what was done until then, only the log could be kept, in {kept.parent}."
        with suppress(OSError), log_of(self._file).open("r+b") as left:
            left.truncate(0)  # not a page of it may come into another file when this one is closed
        return FileReplaced(
            f"The shop's file {words} while it was served: nothing is stored any more. Stop the "
            f"program, and start it again with the file that shall count. {what}",
            field="shop",
            expected="the file that was opened",
        )
