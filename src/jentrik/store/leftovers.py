"""What a hard stop leaves half made in the data folder, and who takes it away."""

import shutil
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from jentrik.store import backups, photo_files
from jentrik.store.files import PART
from jentrik.store.rows import rows


def sweep(data: Path) -> int:
    """Take away what a hard stop left half made, and photos nothing refers to; return how many.

    The folder is held alone, so nothing of it is at work.  What cannot be taken away stays.
    """
    count = 0
    for one in [*_half_made(data), *_photos_of_nothing(data / photo_files.FOLDER)]:
        with suppress(OSError):
            shutil.rmtree(one) if one.is_dir() else one.unlink()
            count += 1
    return count


def _half_made(data: Path) -> Iterator[Path]:
    """Files being written, and the folders in which backups were made, looked into and restored."""
    for folder in (data, data / backups.FOLDER):
        yield from folder.glob(f"*{PART}")
        yield from folder.glob(f"{backups.BACKUP_PREFIX}*")
        yield from folder.glob(f"{backups.RESTORE_PREFIX}*")
    yield from data.parent.glob(f"{backups.RESTORE_PREFIX}{data.name}-*")


def _photos_of_nothing(folder: Path) -> Iterator[Path]:
    known = {row["file"] for row in rows(photo_files.NAMED)}
    return (one for one in folder.glob("*") if one.is_file() and one.name not in known)
