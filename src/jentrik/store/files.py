"""Files that are whole or not there: written aside, synced, renamed, and their folder synced."""

import errno
import os
import secrets
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager, suppress
from pathlib import Path
from typing import BinaryIO

from jentrik.core.errors import StoreError

try:
    import fcntl
except ImportError:  # a system without advisory locks does not notice two servers
    fcntl = None  # type: ignore[assignment]

PART = ".part"  # what is being written ends so; whatever is left of it is swept at start
LOCK_FILE = "jentrik.lock"
_OURS_MODE = 0o600
_BESIDE = ("-wal", "-shm")  # what SQLite keeps beside a database file


class ServedAlready(StoreError):
    """Another program holds the folder."""


class DiskError(OSError):
    """A file of the shop that could not be written."""


@contextmanager
def written_whole(there: Path) -> Iterator[BinaryIO]:
    """Give a file to write; it stands under its name once all of it is on the disk, or not at all.

    What is there and no file, a pipe or a device, is written as it is.  Refuses with `DiskError`
    where the disk does not take it.
    """
    if there.exists() and not there.is_file():
        with open(there, "wb") as file:
            yield file
        return
    aside = there.with_name(f"{there.name}.{secrets.token_hex(4)}{PART}")  # others may write it too
    try:
        with open(aside, "w+b", opener=_for_us_only) as file:
            yield file
            file.flush()
            os.fsync(file.fileno())
        aside.replace(there)
        sync_folder(there.parent)
    except OSError as error:
        raise DiskError(error.errno, error.strerror, str(there)) from error
    finally:
        with suppress(OSError):
            aside.unlink(missing_ok=True)


def _for_us_only(path: str, flags: int) -> int:
    return os.open(path, flags, _OURS_MODE)


def sync_folder(folder: Path) -> None:
    """Bring the names of a folder onto the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def is_full(error: BaseException) -> bool:
    """Whether a write failed because there is no room left.

    SQLite ends a transaction by itself then, so that the error may lie behind that of the rollback.
    """
    here: BaseException | None = error
    while here is not None:
        if getattr(here, "errno", None) in (errno.ENOSPC, errno.EDQUOT) or "is full" in str(here):
            return True
        here = here.__cause__ or here.__context__
    return False


def reason_of(error: BaseException, place: Path) -> str:
    """Return in words why a file, or the folder it lies in, could not be read or written."""
    if is_full(error):
        return "the disk is full"
    if isinstance(error, OSError) and error.strerror:
        return error.strerror.lower()
    for one in (place, *(place.with_name(place.name + beside) for beside in _BESIDE), place.parent):
        if one.exists() and not os.access(one, os.R_OK):
            return f"{one} may not be read by this user"
        if one.exists() and not os.access(one, os.W_OK):
            return f"{one} may not be written by this user, or lies on a disk that is read-only"
    return str(error) or "unknown reason"


@contextmanager
def held_alone(folder: Path) -> Iterator[None]:
    """Hold the folder of a shop for one program; refuses where another one has it."""
    with ExitStack() as held:
        try:
            lock = held.enter_context(open(folder / LOCK_FILE, "a", opener=_for_us_only))
            if fcntl is not None:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise ServedAlready(
                f"Jentrik serves or copies {folder} already. Use that one, or stop it first.",
                expected="a folder that nothing serves",
            ) from None
        except OSError as error:
            raise StoreError(
                f"{folder} cannot be held for this program: {reason_of(error, folder)}.",
                expected="a folder that can be written",
            ) from None
        yield
