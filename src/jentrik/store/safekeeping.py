"""Backing up and restoring from the command line, whether the shop is served meanwhile or not."""

from contextlib import suppress
from datetime import datetime
from pathlib import Path

from jentrik.core.errors import DocumentError, StoreError
from jentrik.store.backups import Holds, backup, restore
from jentrik.store.database import FILE_NAME, close_database, open_database
from jentrik.store.files import ServedAlready, held_alone


def backup_from_outside(data: Path, file: Path, *, now: datetime) -> Holds:
    """Back up a folder; refuses one without a shop, and a place that cannot be written."""
    if not (data / FILE_NAME).is_file():
        raise StoreError(f"There is no shop in {data}.", expected="a folder with a shop")
    try:
        _write_log_back(data)
        return backup(data, file.resolve(), now=now)
    except OSError as error:
        raise _cannot("written", file, error) from None


def _write_log_back(data: Path) -> None:
    """Bring a shop that was stopped hard into order before it is read; one served is in order."""
    with suppress(ServedAlready), held_alone(data):
        close_database(open_database(data))


def restore_from_outside(
    file: Path, data: Path, *, now: datetime, replace: bool
) -> tuple[Holds, Path | None]:
    """Restore a backup into a folder; refuses where the folder is being served."""
    if not file.is_file():
        raise DocumentError(f"There is no file {file}.", field="backup", expected="a backup")
    data = data.resolve()
    try:
        if not data.is_dir():
            return restore(file, data, now=now, replace=replace)
        with held_alone(data):
            return restore(file, data, now=now, replace=replace)
    except OSError as error:
        raise _cannot("restored", file, error) from None


def _cannot(done: str, file: Path, error: OSError) -> StoreError:
    reason = (error.strerror or "unknown reason").lower()
    return StoreError(f"{file} cannot be {done}: {reason}.", expected="room and the right to write")
