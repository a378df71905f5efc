"""Backups: the database and every photo as one file, verified, kept by days and weeks.

The file is a ZIP of `backup.json` (what it holds, each file's SHA-256), the database and the
photos.  Zip and SQLite's own online backup are in Python's standard library, so any program can
open one.
"""

import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterable
from contextlib import closing
from dataclasses import asdict, dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Any

import peewee

from jentrik import __version__
from jentrik.core.errors import DocumentError, StoreError
from jentrik.store import photo_files
from jentrik.store.database import (
    FILE_NAME,
    OURS_MODE,
    check_file,
    connection,
    log_of,
    make_folder,
    migrate,
    schema_version,
)
from jentrik.store.files import written_whole
from jentrik.store.migrations import MIGRATIONS
from jentrik.store.rows import first_row, rows, writing_paused

FORMAT, MANIFEST, FOLDER = "jentrik-backup", "backup.json", "backups"
RESTORE_PREFIX, BACKUP_PREFIX = ".restore-", ".backup-"  # folders swept at start
LARGEST_BYTES = 8_000_000_000  # unpacked; more is no shop's
_LARGEST_MANIFEST = 40_000_000
_DAILY = re.compile(r"jentrik-(\d{4}-\d{2}-\d{2})\.zip")
NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,80}\.zip")
_CHUNK = 1 << 20


@dataclass(frozen=True, slots=True)
class Holds:
    """What a backup holds: when and by which version it was made, and how much is in it."""

    made_at: datetime
    version: str
    schema: int
    machines: int
    jobs: int
    photos: int
    missing_photos: int


@dataclass(frozen=True, slots=True)
class Kept:
    """A backup in the data folder."""

    name: str
    made_at: datetime
    size_bytes: int


def backup(
    data: Path, target: Path, *, now: datetime, live: sqlite3.Connection | None = None
) -> Holds:
    """Write everything a shop has into one file and verify it; while it is served, too.

    `live` is a connection to the shop where its file no longer stands in the folder.
    """
    if live is None and not (data / FILE_NAME).is_file():
        raise StoreError(f"There is no shop in {data}.", expected="a folder with a shop")
    if target.parent.name == FOLDER:
        make_folder(target.parent)
    if not target.parent.is_dir():
        raise StoreError(f"There is no folder {target.parent}.", expected="a folder to write into")
    with tempfile.TemporaryDirectory(dir=target.parent, prefix=BACKUP_PREFIX) as aside:
        copy = Path(aside) / FILE_NAME
        if live is not None:
            _copy_database(live, copy)
        else:
            with closing(sqlite3.connect(data / FILE_NAME)) as source:
                _copy_database(source, copy)
        files = [(FILE_NAME, copy)]
        names, missing = _photos_of(copy, data)
        files += [
            (f"{photo_files.FOLDER}/{name}", data / photo_files.FOLDER / name) for name in names
        ]
        holds = holds_in(copy, now, len(names), missing)
        with written_whole(target) as file:
            _write_zip(file, files, holds)
            file.flush()
            _verified(file, Path(aside))
    return holds


def _copy_database(source: sqlite3.Connection, copy: Path) -> None:
    """Copy a database as of one moment; the copy is closed and needs no log."""
    with closing(sqlite3.connect(copy)) as still:
        source.backup(still)
        still.execute("UPDATE shop_state SET value = 'no' WHERE key = 'open'")
        still.commit()
        still.execute("PRAGMA journal_mode = delete")
    check_file(copy)


def _photos_of(copy: Path, data: Path) -> tuple[list[str], int]:
    """Return the photos a database refers to that are there, and how many are missing."""
    with closing(sqlite3.connect(copy)) as raw:
        named = {row[0] for row in raw.execute(photo_files.NAMED) if row[0]}
    there = sorted(one for one in named if (data / photo_files.FOLDER / one).is_file())
    return there, len(named) - len(there)


def holds_in(copy: Path, now: datetime, photos: int, missing: int) -> Holds:
    """Return what a database holds, counted in it."""
    with closing(sqlite3.connect(copy)) as raw:

        def count(sql: str) -> int:
            return int(raw.execute(sql).fetchone()[0])

        return Holds(
            made_at=now.replace(microsecond=0),
            version=__version__,
            schema=count("PRAGMA user_version"),
            machines=count("SELECT COUNT(*) FROM machine WHERE binned_at IS NULL"),
            jobs=count("SELECT COUNT(*) FROM job WHERE binned_at IS NULL"),
            photos=photos,
            missing_photos=missing,
        )


def _write_zip(file: Any, files: list[tuple[str, Path]], holds: Holds) -> None:
    marks = {name: _mark_of(path) for name, path in files}
    about = asdict(holds) | {"made_at": holds.made_at.isoformat()}
    manifest = {"format": FORMAT, "version": 1, "holds": about, "sha256": marks}
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as packed:
        packed.writestr(MANIFEST, json.dumps(manifest, indent=1))
        for name, path in files:
            stored = zipfile.ZIP_STORED if name.endswith(".jpg") else zipfile.ZIP_DEFLATED
            packed.write(path, name, compress_type=stored)


def _mark_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def holds_now(now: datetime) -> Holds:
    """Return what the open shop holds, as a backup would say it."""
    row = first_row(
        "SELECT (SELECT COUNT(*) FROM machine WHERE binned_at IS NULL) AS machines,"
        " (SELECT COUNT(*) FROM job WHERE binned_at IS NULL) AS jobs"
    )
    assert row is not None
    photos = sum(one["file"] is not None for one in rows(photo_files.NAMED))
    return Holds(now, __version__, len(MIGRATIONS), **row, photos=photos, missing_photos=0)


def holds_of(file: Any) -> Holds:
    """Return what a backup holds, by its own word; refuses a file that is no backup."""
    with _opened(file) as packed:
        return _manifest(packed)[0]


def _opened(file: Any) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(file)
    except (zipfile.BadZipFile, OSError, ValueError):
        raise _no_backup() from None


def _no_backup(
    said: str = "That is not a backup of this program, or it is cut off.",
) -> DocumentError:
    return DocumentError(said, field="backup", expected="a file “jentrik backup” wrote")


def _manifest(packed: zipfile.ZipFile) -> tuple[Holds, dict[str, str]]:
    """Return what a backup says of itself; refuses one that says anything else."""
    try:
        entry = packed.getinfo(MANIFEST)
        if entry.file_size > _LARGEST_MANIFEST:
            raise _no_backup()
        read = json.loads(packed.read(entry))
        about, marks = read["holds"], dict(read["sha256"])
        if read["format"] != FORMAT or read["version"] != 1:
            raise _no_backup()
        made_at = datetime.fromisoformat(about["made_at"])
        holds = Holds(**{**about, "made_at": made_at})
        numbers = (holds.schema, holds.machines, holds.jobs, holds.photos, holds.missing_photos)
        if not all(isinstance(number, int) for number in numbers) or not isinstance(
            holds.version, str
        ):
            raise _no_backup()
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError, zipfile.BadZipFile):
        raise _no_backup() from None
    if holds.schema > len(MIGRATIONS):
        raise _no_backup("A newer version of the program made this backup; restore it with that.")
    return holds, marks


def _verified(file: Any, folder: Path) -> Holds:
    """Unpack a backup into a folder and check every file; refuses where anything is amiss."""
    with _opened(file) as packed:
        holds, marks = _manifest(packed)
        entries = {entry.filename: entry for entry in packed.infolist()}
        if set(entries) != {MANIFEST, *marks} or FILE_NAME not in marks:
            raise _no_backup("The backup is not whole: files are missing or stand in addition.")
        if sum(entry.file_size for entry in entries.values()) > LARGEST_BYTES:
            raise _no_backup("The backup unpacks to more than any shop has.")
        for name, mark in marks.items():
            known = name == FILE_NAME or photo_files.NAME.fullmatch(
                name.removeprefix(f"{photo_files.FOLDER}/")
            )
            if not known:
                raise _no_backup()
            _unpack(packed, entries[name], folder / "unpacked" / name, mark)
    check_file(folder / "unpacked" / FILE_NAME)
    return holds


def verified(file: Path, data: Path) -> Holds:
    """Return what a backup holds, every file in it unpacked and compared; refuses others."""
    with (
        tempfile.TemporaryDirectory(dir=data, prefix=RESTORE_PREFIX) as aside,
        file.open("rb") as packed,
    ):
        return _checked(packed, Path(aside))


def _checked(file: Any, folder: Path) -> Holds:
    """Unpack a backup that is to be restored into a folder; refuses what is not all ours."""
    holds = _verified(file, folder)
    _refuse_foreign_schema(folder / "unpacked" / FILE_NAME)
    return holds


def _refuse_foreign_schema(file: Path) -> None:
    """Refuse a database that holds a table, index, view or trigger that is none of ours."""
    with closing(sqlite3.connect(file)) as raw:
        version = int(raw.execute("PRAGMA user_version").fetchone()[0])
        there = _schema_of(raw.execute(_SCHEMA))
    reference = connection(Path(":memory:"))
    reference.connect()
    try:
        migrate(reference, to=version)
        ours = _schema_of(reference.execute_sql(_SCHEMA))
    finally:
        reference.close()
    foreign = there - ours
    if foreign:
        kind, name, _ = min(foreign)
        raise _no_backup(
            f"The backup's database holds a {kind} “{name[:40]}” that is none of this program's."
        )


_SCHEMA = "SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'"


def _schema_of(rows: Iterable[tuple[str, str, str | None]]) -> set[tuple[str, str, str]]:
    """Return type and name of everything in a schema, of triggers and views what they do too."""
    return {
        (kind, name, "" if kind in ("table", "index") else " ".join((sql or "").split()))
        for kind, name, sql in rows
    }


def _unpack(packed: zipfile.ZipFile, entry: zipfile.ZipInfo, there: Path, mark: str) -> None:
    there.parent.mkdir(parents=True, exist_ok=True)
    digest, left = hashlib.sha256(), entry.file_size
    try:
        with packed.open(entry) as source, there.open("wb") as target:
            while chunk := source.read(_CHUNK):
                left -= len(chunk)
                if left < 0:
                    raise _no_backup()
                digest.update(chunk)
                target.write(chunk)
    except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError):
        raise _no_backup("The backup is damaged.") from None
    if digest.hexdigest() != mark:
        raise _no_backup("The backup is damaged: a file in it is not the one that was put in.")


def restore(
    file: Path, data: Path, *, now: datetime, replace: bool = False
) -> tuple[Holds, Path | None]:
    """Make a folder the shop a backup holds; return what it holds and where the old one lies.

    Refuses a folder that holds a shop unless `replace`; then the old folder is kept beside it.
    """
    there = (data / FILE_NAME).exists() or log_of(data / FILE_NAME).exists()
    if there and not replace:
        raise StoreError(
            f"{data} holds a shop already. Choose another folder, or add --replace: the old one "
            "is kept beside it.",
            expected="a folder without a shop",
        )
    data.parent.mkdir(parents=True, exist_ok=True)
    prefix = f"{RESTORE_PREFIX}{data.name}-"
    with tempfile.TemporaryDirectory(dir=data.parent, prefix=prefix) as aside:
        holds = _checked(file, Path(aside))
        unpacked = Path(aside) / "unpacked"
        old = None
        if there:
            old = data.with_name(f"{data.name}-before-{now:%Y%m%d-%H%M%S}")
            data.rename(old)
        make_folder(data)
        make_folder(data / photo_files.FOLDER)
        for photo in (unpacked / photo_files.FOLDER).glob("*.jpg"):
            photo.chmod(OURS_MODE)
            photo.replace(data / photo_files.FOLDER / photo.name)
        (unpacked / FILE_NAME).chmod(OURS_MODE)
        (unpacked / FILE_NAME).replace(data / FILE_NAME)
        os.sync()
    return holds, old


def restore_serving(
    file: Path, data: Path, database: peewee.SqliteDatabase, *, now: datetime
) -> Holds:
    """Make the shop that is being served what a backup holds; the present one is backed up first.

    The backup is unpacked, checked and brought up to date aside.  Then no other write comes until
    the present shop is copied and the new one stands, so that each write that was acknowledged is
    in the one or the other.  Keys that were revoked stay revoked, sessions that ended stay ended.
    """
    with tempfile.TemporaryDirectory(dir=data, prefix=RESTORE_PREFIX) as aside:
        holds = _checked(file, Path(aside))
        unpacked = Path(aside) / "unpacked"
        newer = connection(unpacked / FILE_NAME)
        newer.connect()
        migrate(newer)
        assert schema_version(newer) == len(MIGRATIONS)
        newer.close()
        for photo in (unpacked / photo_files.FOLDER).glob("*.jpg"):
            photo_files.keep_photo(data, photo.read_bytes())
        database.connect(reuse_if_open=True)
        with writing_paused(database):
            backup(data, data / FOLDER / f"before-restore-{now:%Y-%m-%d-%H%M%S}.zip", now=now)
            _keep_revoked(data / FILE_NAME, unpacked / FILE_NAME)
            with (
                closing(sqlite3.connect(unpacked / FILE_NAME)) as source,
                closing(sqlite3.connect(data / FILE_NAME, timeout=10)) as live,
            ):
                source.backup(live)
            database.execute_sql("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
    return holds


def _keep_revoked(live: Path, newer: Path) -> None:
    """Keep what a backup must not bring back: revoked keys, sessions, who is notified."""
    with closing(sqlite3.connect(newer, isolation_level=None)) as raw:
        raw.execute("ATTACH DATABASE ? AS live", (str(live),))
        raw.execute(
            "UPDATE access_key SET revoked_at = (SELECT now.revoked_at FROM live.access_key AS now"
            " WHERE now.digest = access_key.digest) WHERE digest IN"
            " (SELECT digest FROM live.access_key WHERE revoked_at IS NOT NULL)"
        )
        raw.execute(
            "UPDATE shop_state SET value = (SELECT value FROM live.shop_state WHERE key = 'open')"
            " WHERE key = 'open'"  # it is this opening that goes on
        )
        raw.execute("DELETE FROM webhook")  # who is notified stays, of what happens from now on
        raw.execute("INSERT INTO webhook SELECT * FROM live.webhook")
        raw.execute("UPDATE webhook SET sent_to = (SELECT IFNULL(MAX(n), 0) FROM happened)")
        raw.execute("DELETE FROM session")
        raw.execute("INSERT INTO session SELECT * FROM live.session")


@dataclass(frozen=True, slots=True)
class Differences:
    """Who and what a restore brings and takes: names of people and of keys of programs."""

    people_back: tuple[str, ...]
    people_gone: tuple[str, ...]
    keys_back: tuple[str, ...]
    keys_gone: tuple[str, ...]
    keys_stay_revoked: tuple[str, ...]


def differences(file: Path, data: Path) -> Differences:
    """Return which people and keys a restore of a backup would bring and take."""
    with tempfile.TemporaryDirectory(dir=data, prefix=RESTORE_PREFIX) as aside:
        with file.open("rb") as packed:
            _checked(packed, Path(aside))
        then = _people_and_keys(Path(aside) / "unpacked" / FILE_NAME)
    now = _people_and_keys(data / FILE_NAME)
    kept_keys = {digest: name for digest, (name, ended) in then[1].items() if not ended}
    live_keys = {digest: name for digest, (name, ended) in now[1].items() if not ended}
    revoked = {digest for digest, (_, ended) in now[1].items() if ended}
    return Differences(
        tuple(sorted(then[0] - now[0])),
        tuple(sorted(now[0] - then[0])),
        tuple(sorted(kept_keys[one] for one in kept_keys.keys() - live_keys.keys() - revoked)),
        tuple(sorted(live_keys[one] for one in live_keys.keys() - kept_keys.keys())),
        tuple(sorted(kept_keys[one] for one in kept_keys.keys() & revoked)),
    )


def _people_and_keys(file: Path) -> tuple[set[str], dict[str, tuple[str, bool]]]:
    with closing(sqlite3.connect(file)) as raw:
        there = {row[0] for row in raw.execute("SELECT name FROM sqlite_master")}
        people: set[str] = set()
        keys: dict[str, tuple[str, bool]] = {}
        if "person" in there:
            people = {row[0] for row in raw.execute("SELECT name FROM person")}
        if "access_key" in there:
            of_keys = raw.execute("SELECT digest, name, revoked_at IS NOT NULL FROM access_key")
            keys = {digest: (name, bool(ended)) for digest, name, ended in of_keys}
    return people, keys


def kept_backups(data: Path) -> list[Kept]:
    """Return the backups in the data folder, the newest first."""
    folder = data / FOLDER
    found = [
        Kept(file.name, datetime.fromtimestamp(file.stat().st_mtime), file.stat().st_size)
        for file in (folder.iterdir() if folder.is_dir() else ())
        if NAME.fullmatch(file.name) and file.is_file()
    ]
    return sorted(found, key=lambda one: (one.made_at, one.name), reverse=True)


def daily_backup(data: Path, *, now: datetime, days: int, weeks: int) -> bool:
    """Make today's backup where there is none yet, and let old ones go; return whether it did."""
    today = data / FOLDER / f"jentrik-{now:%Y-%m-%d}.zip"
    if today.exists():
        return False
    make_folder(today.parent)
    backup(data, today, now=now)
    of_day = {
        date.fromisoformat(known[1]): one.name
        for one in kept_backups(data)
        if (known := _DAILY.fullmatch(one.name))
    }
    stay = days_kept(of_day, today=now.date(), days=days, weeks=weeks)
    for day, name in of_day.items():
        if day not in stay:
            (data / FOLDER / name).unlink()
    return True


def copy_elsewhere(data: Path, place: Path) -> None:
    """Copy the daily backups to a second place, and let go there what is let go here.

    Refuses a place that is not there, as a disk that is not mounted, or takes no more.
    """
    if not place.is_dir():
        raise StoreError(f"{place} is not there.", expected="a folder that is mounted")
    daily = {one.name: one for one in kept_backups(data) if _DAILY.fullmatch(one.name)}
    for name, one in daily.items():
        there = place / name
        if there.is_file() and there.stat().st_size == one.size_bytes:
            continue
        with (data / FOLDER / name).open("rb") as source, written_whole(there) as target:
            shutil.copyfileobj(source, target)
    for old in place.iterdir():
        if _DAILY.fullmatch(old.name) and old.name not in daily:
            old.unlink(missing_ok=True)


def days_kept(known: Iterable[date], *, today: date, days: int, weeks: int) -> set[date]:
    """Return the days whose backup stays: the last `days` of them, then the newest of each week.

    Weeks are the calendar's, so that the Sunday of a week stays while its other days go.
    """
    known = list(known)
    newest = sorted((day for day in known if day <= today), reverse=True)
    of_week: dict[tuple[int, int], date] = {}
    for day in newest[days:]:
        of_week.setdefault(day.isocalendar()[:2], day)
    ahead = {day for day in known if day > today}  # a clock that was wrong deletes nothing
    return {*newest[:days], *list(of_week.values())[:weeks], *ahead}
