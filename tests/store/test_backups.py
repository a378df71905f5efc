"""Backups: everything comes back, equal row by row and byte by byte; nothing half is taken."""

import hashlib
import json
import sqlite3
import threading
import time
import zipfile
from collections.abc import Callable
from contextlib import closing
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from jentrik.core.errors import DocumentError, Refusal, StoreError
from jentrik.store import jobs, machines
from jentrik.store.access_keys import Purpose, access_keys, key_holder, make_key, revoke_key
from jentrik.store.backups import (
    MANIFEST,
    backup,
    daily_backup,
    days_kept,
    differences,
    holds_of,
    kept_backups,
    restore,
    restore_serving,
)
from jentrik.store.database import FILE_NAME, open_database
from jentrik.store.models import TABLES
from jentrik.store.photo_files import keep_photo
from jentrik.store.rows import rows
from jentrik.web.shop import Shop
from tests.conftest import A_MONDAY


@pytest.fixture(name="rich")
def _rich(shop: Shop) -> Shop:
    """Return a demo shop with two photos, one of them only in the journal any more."""
    for caption in ("left", "gone"):
        name = keep_photo(shop.folder, f"photo {caption}".encode() * 99)
        with shop.step("photo", "photo", job_id=1) as step:
            photo = next(table for table in TABLES if table._meta.table_name == "photo")
            row = step.insert(
                photo, job=1, file=name, caption=caption, taken_at="2026-11-23", by=""
            )
    with shop.step("off", "off", job_id=1) as step:
        step.delete(photo, row)
    return shop


def everything(folder: Path) -> tuple[dict[str, list[Any]], dict[str, bytes]]:
    """Return every row of every table, and every photo."""
    raw = sqlite3.connect(folder / FILE_NAME)
    names = [row[0] for row in raw.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
    tables = {
        name: sorted(map(repr, raw.execute(f"SELECT * FROM {name}")))
        for name in names
        if name != "shop_state"
    }
    raw.close()
    photos = {file.name: file.read_bytes() for file in (folder / "photos").glob("*.jpg")}
    assert len(tables) >= len(TABLES)
    return tables, photos


def test_a_restored_backup_is_equal_row_by_row_and_byte_by_byte(rich: Shop, tmp_path: Path) -> None:
    file = tmp_path / "shop.zip"
    holds = backup(rich.folder, file, now=A_MONDAY)
    assert (holds.machines, holds.jobs, holds.photos) == (11, 20, 4)
    assert holds_of(file) == holds
    restore(file, tmp_path / "new", now=A_MONDAY)
    assert everything(tmp_path / "new") == everything(rich.folder)
    open_database(tmp_path / "new").close()
    assert len(machines.sheets()) == 11


def test_a_folder_with_a_shop_is_kept_beside_the_restored_one(rich: Shop, tmp_path: Path) -> None:
    file, there = tmp_path / "shop.zip", tmp_path / "there"
    backup(rich.folder, file, now=A_MONDAY)
    restore(file, there, now=A_MONDAY)
    with pytest.raises(StoreError, match="holds a shop already"):
        restore(file, there, now=A_MONDAY)
    _, old = restore(file, there, now=A_MONDAY, replace=True)
    assert old is not None
    assert everything(old) == everything(there)


def test_a_backup_is_restored_while_the_shop_is_served_and_can_be_taken_back(
    rich: Shop, tmp_path: Path
) -> None:
    file = tmp_path / "shop.zip"
    backup(rich.folder, file, now=A_MONDAY)
    before = everything(rich.folder)
    with rich.step("renamed", "x", machine_id=1) as step:
        machines.rename(step, 1, "Another name")
    changed = everything(rich.folder)
    restore_serving(file, rich.folder, rich.database, now=A_MONDAY)
    assert everything(rich.folder) == before
    assert machines.sheet(1).name == "Green tourer"
    (kept,) = kept_backups(rich.folder)
    restore_serving(
        rich.folder / "backups" / kept.name,
        rich.folder,
        rich.database,
        now=A_MONDAY + timedelta(seconds=1),
    )
    assert everything(rich.folder) == changed
    with rich.step("due", "x", job_id=1) as step:  # the shop goes on being written
        jobs.set_due(step, 1, date(2026, 12, 24))


def spoiled(file: Path, change: Callable[..., Any]) -> Path:
    """Return a copy of a backup with its files changed."""
    with zipfile.ZipFile(file) as packed:
        parts = {name: packed.read(name) for name in packed.namelist()}
    change(parts)
    there = file.with_name("spoiled.zip")
    with zipfile.ZipFile(there, "w") as packed:
        for name, contents in parts.items():
            packed.writestr(name, contents)
    return there


def without_photo(parts: dict[str, bytes]) -> None:
    parts.pop(next(name for name in parts if name.endswith(".jpg")))


def another_photo(parts: dict[str, bytes]) -> None:
    parts[next(name for name in parts if name.endswith(".jpg"))] = b"another"


def outside(parts: dict[str, bytes]) -> None:
    manifest = json.loads(parts[MANIFEST])
    manifest["sha256"]["../evil.jpg"] = hashlib.sha256(b"x").hexdigest()
    parts[MANIFEST] = json.dumps(manifest).encode()
    parts["../evil.jpg"] = b"x"


def newer(parts: dict[str, bytes]) -> None:
    manifest = json.loads(parts[MANIFEST])
    manifest["holds"]["schema"] = 9999
    parts[MANIFEST] = json.dumps(manifest).encode()


def not_ours(parts: dict[str, bytes]) -> None:
    parts[MANIFEST] = b'{"format": "other"}'


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (without_photo, "not whole"),
        (another_photo, "damaged"),
        (outside, "not a backup"),
        (newer, "newer version"),
        (not_ours, "not a backup"),
    ],
)
def test_a_backup_that_is_not_whole_is_refused_and_nothing_is_written(
    rich: Shop, tmp_path: Path, change: Callable[..., Any], said: str
) -> None:
    file = tmp_path / "shop.zip"
    backup(rich.folder, file, now=A_MONDAY)
    before = everything(rich.folder)
    with pytest.raises(Refusal, match=said):
        restore(spoiled(file, change), tmp_path / "new", now=A_MONDAY)
    assert not (tmp_path / "new").exists()
    with pytest.raises(Refusal, match=said):
        restore_serving(spoiled(file, change), rich.folder, rich.database, now=A_MONDAY)
    assert everything(rich.folder) == before
    assert not (tmp_path / "evil.jpg").exists()


def test_a_cut_off_backup_is_refused(rich: Shop, tmp_path: Path) -> None:
    file = tmp_path / "shop.zip"
    backup(rich.folder, file, now=A_MONDAY)
    file.write_bytes(file.read_bytes()[:-500])
    with pytest.raises(Refusal, match="cut off"):
        restore(file, tmp_path / "new", now=A_MONDAY)


def test_one_a_day_is_made_and_old_ones_go(rich: Shop) -> None:
    start = datetime(2026, 10, 11, 9)
    for day in range(40):
        now = start + timedelta(days=day)
        assert daily_backup(rich.folder, now=now, days=7, weeks=4)
        assert not daily_backup(rich.folder, now=now + timedelta(hours=3), days=7, weeks=4)
    names = sorted(one.name for one in kept_backups(rich.folder))
    assert len(names) == 11
    assert names[-1] == "jentrik-2026-11-19.zip"


def test_seven_days_then_the_newest_of_each_of_four_weeks() -> None:
    today = date(2026, 11, 25)
    known = [today - timedelta(days=back) for back in range(60)]
    # By hand, from a Wednesday: 0..6 days back, then that Wednesday's week ends 7 back, and the
    # Sundays before are 10, 17 and 24 back.
    backs = (0, 1, 2, 3, 4, 5, 6, 7, 10, 17, 24)
    kept = days_kept(known, today=today, days=7, weeks=4)
    assert kept == {today - timedelta(days=back) for back in backs}
    ahead = today + timedelta(days=400)
    assert ahead in days_kept([*known, ahead], today=today, days=1, weeks=0)


def test_each_acknowledged_write_is_in_the_shop_or_in_the_safety_copy(shop: Shop) -> None:
    kept = shop.folder / "before.zip"
    backup(shop.folder, kept, now=A_MONDAY)
    acknowledged: list[str] = []
    refused: list[str] = []
    stop = threading.Event()

    def write(hand: int) -> None:
        number = 0
        while not stop.is_set():
            number += 1
            name = f"wish {hand}-{number}"
            try:
                shop.ready()
                with shop.step(name, f"job 1 {name}", job_id=1) as step:
                    jobs.want(step, 1, name)
                acknowledged.append(name)
            except StoreError as refusal:
                refused.append(refusal.message)
        shop.database.close()

    hands = [threading.Thread(target=write, args=(hand,)) for hand in range(3)]
    for hand in hands:
        hand.start()
    while len(acknowledged) < 20:
        time.sleep(0.01)
    restore_serving(kept, shop.folder, shop.database, now=A_MONDAY)
    while len(acknowledged) < 40:
        time.sleep(0.01)
        assert any(hand.is_alive() for hand in hands)
    stop.set()
    for hand in hands:
        hand.join()
    (copy,) = (shop.folder / "backups").glob("before-restore-*.zip")
    there = {row["label"] for row in rows("SELECT label FROM change")}
    with zipfile.ZipFile(copy) as packed:
        packed.extract(FILE_NAME, shop.folder / "aside")
    with closing(sqlite3.connect(shop.folder / "aside" / FILE_NAME)) as raw:
        there |= {row[0] for row in raw.execute("SELECT label FROM change")}
    assert set(acknowledged) <= there
    assert all("being restored" in one for one in refused)


def test_a_key_revoked_since_the_backup_stays_revoked(shop: Shop) -> None:
    key = make_key(shop.database, "Till", Purpose.PROGRAM, at=A_MONDAY, by="Ida")
    kept = shop.folder / "before.zip"
    backup(shop.folder, kept, now=A_MONDAY)
    (known,) = access_keys()
    revoke_key(shop.database, known.id, at=A_MONDAY)
    later = make_key(shop.database, "Wall", Purpose.PROGRAM, at=A_MONDAY, by="Ida")
    differs = differences(kept, shop.folder)
    assert (differs.keys_stay_revoked, differs.keys_gone) == (("Till",), ("Wall",))
    restore_serving(kept, shop.folder, shop.database, now=A_MONDAY)
    assert key_holder(key, Purpose.PROGRAM) is None
    assert key_holder(later, Purpose.PROGRAM) is None


@pytest.mark.parametrize(
    ("foreign", "named"),
    [
        ("CREATE TRIGGER spy AFTER INSERT ON job BEGIN DELETE FROM person; END", "trigger “spy”"),
        ("CREATE TABLE loot (id INTEGER)", "table “loot”"),
        ("CREATE VIEW seen AS SELECT * FROM person", "view “seen”"),
    ],
)
def test_a_backup_with_a_schema_that_is_not_ours_is_refused(
    shop: Shop, tmp_path: Path, foreign: str, named: str
) -> None:
    shop.database.execute_sql(foreign)
    kept = tmp_path / "spoiled.zip"
    backup(shop.folder, kept, now=A_MONDAY)
    with pytest.raises(DocumentError, match=named):
        restore(kept, tmp_path / "new", now=A_MONDAY)
    with pytest.raises(DocumentError, match=named):
        restore_serving(kept, shop.folder, shop.database, now=A_MONDAY)
