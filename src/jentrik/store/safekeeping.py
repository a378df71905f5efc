"""Backing up and restoring from the command line, whether the shop is served meanwhile or not."""

import shutil
import sys
import tempfile
from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import BinaryIO

from jentrik.core.errors import DocumentError, StoreError
from jentrik.store.backups import Holds, backup, restore
from jentrik.store.database import FILE_NAME, close_database, connection, make_folder, open_database
from jentrik.store.files import ServedAlready, held_alone, reason_of, written_whole
from jentrik.store.models import TABLES
from jentrik.store.shop_export import Wanted, export
from jentrik.store.shop_import import Progress, Report, import_shop

STANDARD = Path("-")  # standard input or output in place of a file


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


@contextmanager
def _output(file: Path) -> Iterator[BinaryIO]:
    """Give what a document is written into: standard output, or a file that is whole or not."""
    if file == STANDARD:
        yield sys.stdout.buffer
    else:
        with written_whole(file.resolve()) as written:
            yield written


@contextmanager
def _input(file: Path) -> Iterator[BinaryIO]:
    """Give what a document is read from: a file, or all of standard input, kept aside."""
    if file != STANDARD:
        with file.open("rb") as document:
            yield document
        return
    with tempfile.TemporaryFile() as aside:
        shutil.copyfileobj(sys.stdin.buffer, aside)
        aside.seek(0)
        yield aside


def export_from_outside(data: Path, file: Path, wanted: Wanted, *, now: datetime) -> int:
    """Write a folder's shop as a document and return its bytes.

    Refuses one without a shop, and a place that is not written.
    """
    size = 0
    if not (data / FILE_NAME).is_file():
        raise StoreError(f"There is no shop in {data}.", expected="a folder with a shop")
    try:
        with _in_order(data), _output(file) as written:
            database = connection(data / FILE_NAME)
            database.bind(TABLES)
            with closing(database):
                for piece in export(data, wanted, now=now):
                    size += written.write(piece.encode())
    except OSError as error:
        if file == STANDARD:
            raise
        raise _cannot("written", file, error) from None
    return size


def import_from_outside(
    data: Path, file: Path, *, now: datetime, dry_run: bool, progress: Progress | None
) -> Report:
    """Bring a document into a folder's shop, made if it is not there; refuses one being served.

    A dry run makes no folder and no shop: where there is none, it is tried in one beside.
    """
    try:
        with ExitStack() as tried, _input(file) as document:
            if dry_run and not (data / FILE_NAME).exists():
                data = Path(tried.enter_context(tempfile.TemporaryDirectory()))
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
