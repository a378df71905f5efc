"""Opening the shop's one SQLite file: WAL, foreign keys on, a busy timeout, the newest schema."""

from pathlib import Path

import peewee

from jentrik.core.errors import StoreError
from jentrik.store.migrations import MIGRATIONS
from jentrik.store.models import TABLES

FILE_NAME = "jentrik.sqlite3"
_PRAGMAS = {
    "journal_mode": "wal",
    "foreign_keys": 1,
    "busy_timeout": 5000,  # ms; a second writer waits instead of failing
    "synchronous": "normal",  # with WAL: safe against a crash of the program
}


def open_database(folder: Path) -> peewee.SqliteDatabase:
    """Return the database in that folder, made or brought up to date, models bound to it."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        raise StoreError(
            f"The data folder {folder} cannot be made.", expected="a folder that can be written"
        ) from None
    database = peewee.SqliteDatabase(str(folder / FILE_NAME), pragmas=_PRAGMAS)
    try:
        database.connect()
        migrate(database)
    except peewee.DatabaseError:
        raise StoreError(
            f"{folder / FILE_NAME} is not a database of this program, or cannot be opened.",
            expected="a folder this program wrote, or an empty one",
        ) from None
    database.bind(TABLES)
    return database


def schema_version(database: peewee.SqliteDatabase) -> int:
    """Return the number of the last migration that was applied."""
    return int(database.execute_sql("PRAGMA user_version").fetchone()[0])


def migrate(database: peewee.SqliteDatabase, *, to: int = len(MIGRATIONS)) -> None:
    """Apply every migration not applied yet, each in a transaction of its own."""
    applied = schema_version(database)
    if applied > len(MIGRATIONS):
        raise StoreError(
            f"The data was written by a newer version of this program (schema {applied}, known "
            f"{len(MIGRATIONS)}).",
            expected="the newer version of the program",
        )
    for number, statements in enumerate(MIGRATIONS[:to], start=1):
        if number > applied:
            with database.atomic("IMMEDIATE"):
                for statement in statements:
                    database.execute_sql(statement)
                database.execute_sql(f"PRAGMA user_version = {number}")
