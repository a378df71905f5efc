"""Opening and closing the shop's one SQLite file: the newest schema, and what is stored stays.

Commits are durable (`synchronous=FULL`).  While the shop is open the file says so, so that a log
that went missing is noticed; on closing the log is written back, so that the file alone is whole.
"""

import secrets
import sqlite3
from contextlib import closing, suppress
from pathlib import Path
from urllib.parse import quote

import peewee

from jentrik.core.errors import StoreError
from jentrik.store.chain import adopt
from jentrik.store.files import reason_of
from jentrik.store.migrations import MIGRATIONS
from jentrik.store.models import TABLES
from jentrik.store.reconstruct import reconstruct
from jentrik.store.rows import Kept

FILE_NAME = "jentrik.sqlite3"
WITH_CHAIN = 25  # the schema from which documents are chained
WITH_DOCUMENTS = 16  # the schema from which jobs that are done have a document
APPLICATION_ID = 1246647378  # "JNTR" in the file's header: a file of this program
OURS_MODE, FOLDER_MODE = 0o600, 0o700  # customers' data: for its owner's eyes
_PRAGMAS = {
    "journal_mode": "wal",
    "foreign_keys": 1,
    "busy_timeout": 5000,  # ms; a second writer waits instead of failing
    "synchronous": "full",  # with WAL: a commit is on the disk before it is answered
}
OPEN = "yes"  # and what marks this opening: another file in its place does not carry it
_FIRST_OF_OURS = {"machine", "measurement", "proposal", "change"}  # before files had our mark


def open_database(folder: Path, *, without_log: bool = False) -> peewee.SqliteDatabase:
    """Return the database in that folder, made or brought up to date, models bound to it.

    Refuses a file that is another program's, damaged, or without the log it needs; `without_log`
    goes on with what the file holds.
    """
    file = folder / FILE_NAME
    open_folder(folder)
    try:
        if not _is_new(file):
            check_file(file, without_log=without_log)
        file.touch(OURS_MODE)
        file.chmod(OURS_MODE)
        Kept.forget()
        database = connection(file)
        database.connect()
        before = schema_version(database)
        _keep_before_upgrade(database, file)
        migrate(database)
        _note_state(database, f"{OPEN} {secrets.token_hex(8)}")
        database.bind(TABLES)
        if 0 < before < WITH_DOCUMENTS:
            reconstruct(database)
        if 0 < before < WITH_CHAIN:
            adopt(database)
    except (peewee.DatabaseError, sqlite3.DatabaseError, OSError) as error:
        raise StoreError(
            f"{file} cannot be opened: {reason_of(error, file)}.",
            expected="room, and the right to read and write it",
        ) from None
    return database


def open_folder(folder: Path) -> None:
    """Make the data folder where it is not there yet; refuses where it cannot be made."""
    try:
        make_folder(folder)
    except OSError as error:
        raise StoreError(
            f"The data folder {folder} cannot be made: {reason_of(error, folder)}.",
            expected="a folder that can be written",
        ) from None


def connection(file: Path) -> peewee.SqliteDatabase:
    """Return a way to a database file with our settings; nothing is opened yet."""
    database = peewee.SqliteDatabase(str(file), pragmas=_PRAGMAS)
    database.register_function(str.casefold, "casefold", 1)
    return database


def make_folder(folder: Path) -> None:
    """Make a folder that only its owner reads, where it is not there; mend its rights else."""
    folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    with suppress(PermissionError):  # another owner's folder that we may write in
        folder.chmod(FOLDER_MODE)


def close_database(database: peewee.SqliteDatabase) -> None:
    """Write the log back into the file and close: the file alone is the whole shop from here."""
    database.connect(reuse_if_open=True)
    with suppress(peewee.OperationalError):  # another program reads it: the log stays beside it
        _note_state(database, "no")
    database.close()


def _note_state(database: peewee.SqliteDatabase, state: str) -> None:
    database.execute_sql("INSERT OR REPLACE INTO shop_state VALUES ('open', ?)", (state,))
    database.execute_sql("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()


def _is_new(file: Path) -> bool:
    """Whether there is nothing to open; refuses what is left of a shop that was there."""
    log = log_of(file)
    size = file.stat().st_size if file.exists() else 0
    if size:
        return False
    left = log.exists() and log.stat().st_size > 0
    if left or (
        file.exists() and any((file.parent / one).exists() for one in ("photos", "backups"))
    ):
        raise StoreError(
            f"{file.name} is empty, yet other parts of a shop lie beside it. Nothing was touched: "
            "bring the file back, or restore a backup.",
            expected="the whole folder, or a backup",
        )
    return True


def log_of(file: Path) -> Path:
    """Return where SQLite keeps the log of a database file."""
    return file.with_name(f"{file.name}-wal")


def check_file(file: Path, *, without_log: bool = False) -> None:
    """Refuse a database that is not ours, was left open and lost its log, or is damaged.

    Nothing is written: neither the file nor its log.
    """
    log_there = log_of(file).exists()
    ours = _carries_our_mark(file)
    try:
        with closing(_for_reading(file, log_there=log_there)) as raw:
            if not ours and not _looks_like_ours(raw):
                raise _not_ours(file)
            _refuse_newer(int(raw.execute("PRAGMA user_version").fetchone()[0]))
            if not (log_there or without_log) and _was_left_open(raw):
                raise StoreError(
                    f"The program was stopped hard and {log_of(file).name} is missing since, so "
                    "the last work may be missing too, unless another program has written it "
                    "back. Bring it back beside the database or restore a backup; --without-log "
                    "goes on with what is there.",
                    expected="the log beside the database",
                )
            found = [row[0] for row in raw.execute("PRAGMA quick_check(3)")]
    except sqlite3.OperationalError as error:  # of the disk and the rights, not of what it holds
        raise StoreError(
            f"{file} cannot be read: {reason_of(error, file)}. Nothing was touched.",
            expected="the right to read it",
        ) from None
    except sqlite3.DatabaseError as error:
        if not ours:
            raise _not_ours(file) from None
        found = [str(error)]
    if found != ["ok"]:
        raise StoreError(
            f"{file.name} is damaged ({'; '.join(found)[:120]}). Nothing was touched: restore a "
            f"backup with “jentrik restore”{_newest_backup(file.parent)}.",
            expected="a database that is whole",
        )


def _carries_our_mark(file: Path) -> bool:
    """Whether the header of a file says that it is this program's database."""
    with file.open("rb") as raw:
        header = raw.read(100)
    return header[:16] == b"SQLite format 3\0" and int.from_bytes(header[68:72]) == APPLICATION_ID


def _for_reading(file: Path, *, log_there: bool) -> sqlite3.Connection:
    """Open a database so that not even its log is written back."""
    only = "mode=ro" if log_there else "immutable=1"
    return sqlite3.connect(f"file:{quote(str(file))}?{only}", uri=True, isolation_level=None)


def _looks_like_ours(raw: sqlite3.Connection) -> bool:
    """Whether a file without our mark was written before files had one, or holds nothing."""
    mark, version = (
        int(raw.execute(f"PRAGMA {name}").fetchone()[0])
        for name in ("application_id", "user_version")
    )
    names = {row[0] for row in raw.execute("SELECT name FROM sqlite_master")}
    return mark == 0 and (names >= _FIRST_OF_OURS if version else not names)


def _was_left_open(raw: sqlite3.Connection) -> bool:
    tables = raw.execute("SELECT 1 FROM sqlite_master WHERE name = 'shop_state'").fetchone()
    return bool(tables) and marked_open(raw).startswith(OPEN)


def marked_open(raw: sqlite3.Connection) -> str:
    """Return what a database says of being open: the mark of its opening, or that it is closed."""
    state = raw.execute("SELECT value FROM shop_state WHERE key = 'open'").fetchone()
    return str(state[0]) if state else ""


def _newest_backup(folder: Path) -> str:
    kept = sorted((folder / "backups").glob("*.zip"))
    return f", the newest is {kept[-1]}" if kept else ""


def _not_ours(file: Path) -> StoreError:
    return StoreError(
        f"{file} is not a database of this program, or cannot be opened.",
        expected="a folder this program wrote, or an empty one",
    )


def schema_version(database: peewee.SqliteDatabase) -> int:
    """Return the number of the last migration that was applied."""
    return int(database.execute_sql("PRAGMA user_version").fetchone()[0])


def _refuse_newer(schema: int) -> None:
    """Refuse what a newer version wrote, before anything of it is opened for writing."""
    if schema > len(MIGRATIONS):
        raise StoreError(
            f"The data was written by a newer version of this program (schema {schema}, known "
            f"{len(MIGRATIONS)}). Nothing was touched.",
            expected="the newer version of the program",
        )


def _keep_before_upgrade(database: peewee.SqliteDatabase, file: Path) -> None:
    """Keep the database as the version before wrote it, where the next steps change it."""
    applied = schema_version(database)
    if not 0 < applied < len(MIGRATIONS):
        return
    there = file.parent / "backups" / f"before-upgrade-from-{applied:02d}.sqlite3"
    make_folder(there.parent)
    with closing(sqlite3.connect(there)) as copy:
        database.connection().backup(copy)


def migrate(database: peewee.SqliteDatabase, *, to: int = len(MIGRATIONS)) -> None:
    """Apply every migration not applied yet, each in a transaction of its own."""
    applied = schema_version(database)
    for number, statements in enumerate(MIGRATIONS[:to], start=1):
        if number > applied:
            with database.atomic("IMMEDIATE"):
                for statement in statements:
                    database.execute_sql(statement)
                database.execute_sql(f"PRAGMA user_version = {number}")
