"""Backing up and restoring from the command line, whether the shop is served meanwhile or not."""

from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager, suppress
from datetime import datetime
from pathlib import Path

from jentrik.core.errors import DocumentError, StoreError
from jentrik.store.backups import Holds, backup, restore
from jentrik.store.database import FILE_NAME, close_database, connection, make_folder, open_database
from jentrik.store.files import ServedAlready, held_alone, reason_of, written_whole
from jentrik.store.models import TABLES
from jentrik.store.shop_export import Wanted, export
from jentrik.store.shop_import import Progress, Report, import_shop


def backup_from_outside(data: Path, file: Path, *, now: datetime) -> Holds:
    """Back up a folder; refuses one without a shop, and a place that cannot be written."""
    if not (data / FILE_NAME).is_file():
        raise StoreError(f"There is no shop in {data}.", expected="a folder with a shop")
    try:
        with _in_order(data):
            return backup(data, file.resolve(), now=now)
    except OSError as error:
        raise _cannot("written", file, error) from None


@contextmanager
def _in_order(data: Path) -> Iterator[None]:
    """Hold a folder that nothing serves, the log of a hard stop written back first.

    One that is served is in order, and is read beside its server.
    """
    with ExitStack() as held:
        with suppress(ServedAlready):
            held.enter_context(held_alone(data))
            close_database(open_database(data))
        yield


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
    reason = reason_of(error, file)
    return StoreError(f"{file} cannot be {done}: {reason}.", expected="room and the right to write")


def export_from_outside(data: Path, file: Path, wanted: Wanted, *, now: datetime) -> None:
    """Write a folder's shop as a document; refuses one without a shop, and a place not written."""
    if not (data / FILE_NAME).is_file():
        raise StoreError(f"There is no shop in {data}.", expected="a folder with a shop")
    try:
        with _in_order(data), written_whole(file.resolve()) as written:
            database = connection(data / FILE_NAME)
            database.bind(TABLES)
            with closing(database):
                for piece in export(data, wanted, now=now):
                    written.write(piece.encode())
    except OSError as error:
        raise _cannot("written", file, error) from None


def import_from_outside(
    data: Path, file: Path, *, now: datetime, dry_run: bool, progress: Progress | None
) -> Report:
    """Bring a document into a folder's shop, made if it is not there; refuses one being served."""
    try:
        with file.open("rb") as document:
            make_folder(data)
            with held_alone(data):
                database = open_database(data)
                try:
                    return import_shop(
                        database, data, document, now=now, dry_run=dry_run, progress=progress
                    )
                finally:
                    close_database(database)
    except OSError as error:
        raise _cannot("brought in", file, error) from None
