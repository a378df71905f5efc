"""Rows of a fixed, parameterised query, and the one way to open a write.

The pages that redraw while someone types read through here: peewee takes longer to put one of
these queries together than SQLite to answer it.
"""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, ClassVar, Generic, TypeVar
from weakref import WeakKeyDictionary

import peewee

from jentrik.core.errors import StoreError
from jentrik.store.models import MachineTable

LARGEST = 2**63 - 1

Row = dict[str, Any]  # column -> value


def rows(sql: str, *parameters: Any) -> list[Row]:
    """Return every row of a query as column -> value; a number beyond SQLite's is no row's."""
    if any(isinstance(parameter, int) and abs(parameter) > LARGEST for parameter in parameters):
        return []
    cursor = MachineTable._meta.database.execute_sql(sql, parameters)
    names = [column[0] for column in cursor.description]
    return [dict(zip(names, row, strict=True)) for row in cursor.fetchall()]


def first_row(sql: str, *parameters: Any) -> Row | None:
    """Return the first row of a query, None where there is none."""
    found = rows(sql, *parameters)
    return found[0] if found else None


class ShopPaused(StoreError):
    """The shop takes no write for a moment: a backup is being restored into it."""


T = TypeVar("T")
MOST_KEPT = 200


class Kept(Generic[T]):
    """What was read of sheets and policy, by a name, as long as no write of either is counted.

    A write that was taken back may have been read on the way: then everything is read anew.
    """

    all: ClassVar[list["Kept[Any]"]] = []

    def __init__(self) -> None:
        self.known: dict[object, tuple[int, T]] = {}
        Kept.all.append(self)

    def get(self, name: object, read: Callable[[], T]) -> T:
        """Return what was kept under a name, or what `read` returns, which is kept from now."""
        with one_moment():
            database = MachineTable._meta.database
            key, count = (database.database, name), counted_writes()
            kept = self.known.get(key)
            if kept is None or kept[0] != count:
                kept = count, read()
                if len(self.known) >= MOST_KEPT:
                    self.known.clear()
                self.known[key] = kept
            return kept[1]

    @classmethod
    def forget(cls) -> None:
        """Read everything anew."""
        for kept in cls.all:
            kept.known.clear()


class _Write(threading.local):
    """How deep in writes this thread is, and what it counted there after how many rows written."""

    depth = 0
    counted: tuple[int, int] | None = None


_write = _Write()


def counted_writes() -> int:
    """Return how many writes of sheets and policy there were.

    Within a write no one else writes: it is asked for again only after rows were written.
    """
    written = MachineTable._meta.database.connection().total_changes if _write.depth else -1
    if not _write.depth or _write.counted is None or _write.counted[0] != written:
        row = first_row("SELECT id FROM last_id WHERE name = 'sheets'")
        _write.counted = written, int(row["id"]) if row else -1
    return _write.counted[1]


_paused: dict[int, int] = {}  # of a database, by its id -> the thread that may write meanwhile
_writers: WeakKeyDictionary[peewee.SqliteDatabase, threading.RLock] = WeakKeyDictionary()


@contextmanager
def writing(database: peewee.SqliteDatabase) -> Iterator[None]:
    """Open an immediate transaction: what is read within it stays so until it ends.

    The writers of this program wait for one another in line: SQLite's own waiting is a matter of
    luck, and under load the luckless one would be sent away.
    """
    if _paused.get(id(database), threading.get_ident()) != threading.get_ident():
        raise ShopPaused(
            "A backup is being restored: nothing was stored. Try again in a moment.",
            field="shop",
            expected="a moment's patience",
        )
    try:
        with writers_waiting(database), database.atomic("IMMEDIATE"):
            if not _write.depth:
                _write.counted = None
            _write.depth += 1
            try:
                yield
            finally:
                _write.depth -= 1
    except BaseException:
        _write.counted = None
        Kept.forget()
        raise


def writers_waiting(database: peewee.SqliteDatabase) -> threading.RLock:
    """Return what holds every other writer of this program until the end of a block."""
    return _writers.setdefault(database, threading.RLock())


@contextmanager
def writing_paused(database: peewee.SqliteDatabase) -> Iterator[None]:
    """Let the writes at work end, and take no other until the end of the block."""
    with writers_waiting(database):
        _paused[id(database)] = threading.get_ident()
        try:
            yield
        finally:
            del _paused[id(database)]


@contextmanager
def one_moment() -> Iterator[None]:
    """Read what belongs together as it stands at one moment, whatever others write meanwhile.

    Within a write nothing is needed: it is one moment already.
    """
    database = MachineTable._meta.database
    if database.in_transaction():
        yield
        return
    with database.atomic():
        yield
