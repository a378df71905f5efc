"""The shop's file: whose it is, whether it is whole, and that what is stored stays stored."""

import json
import os
import random
import shutil
import signal
import socket
import sqlite3
import stat
import subprocess
import sys
import time
from pathlib import Path
from subprocess import Popen

import pytest

from jentrik.core.errors import StoreError
from jentrik.store import machines
from jentrik.store.database import APPLICATION_ID, FILE_NAME, close_database, log_of, open_database
from jentrik.store.files import ServedAlready, held_alone
from jentrik.store.leftovers import sweep
from jentrik.store.migrations import MIGRATIONS
from jentrik.store.photo_files import keep_photo
from jentrik.web.shop import Shop

KILLS = int(os.environ.get("JENTRIK_KILLS", "8"))


@pytest.fixture(name="kept")
def _kept(tmp_path: Path) -> Path:
    """Return the file of a shop with one machine, stopped properly."""
    database = open_database(tmp_path)
    database.execute_sql(
        "INSERT INTO machine (id, name, name_key, kind, drawn_as, created_at)"
        " VALUES (7, 'Red', 'red', 'bicycle', 'diamond frame', '2026-01-01')"
    )
    database.execute_sql(
        "INSERT INTO setup (id, machine_id, name, since_on)"
        " VALUES (3, 7, 'As it came', '2026-01-01')"
    )
    database.execute_sql("UPDATE machine SET setup_id = 3")
    close_database(database)
    return tmp_path / FILE_NAME


def test_commits_are_durable_and_the_file_carries_our_mark(tmp_path: Path) -> None:
    database = open_database(tmp_path)
    assert database.execute_sql("PRAGMA synchronous").fetchone() == (2,)  # FULL
    assert database.execute_sql("PRAGMA application_id").fetchone() == (APPLICATION_ID,)
    database.close()


def test_what_the_program_writes_is_its_owners_alone(tmp_path: Path) -> None:
    database = open_database(tmp_path / "shop")
    keep_photo(tmp_path / "shop", b"a photo")
    for there in (tmp_path / "shop").rglob("*"):
        mode = stat.S_IMODE(there.stat().st_mode)
        assert mode == (0o700 if there.is_dir() else 0o600), there
    assert stat.S_IMODE((tmp_path / "shop").stat().st_mode) == 0o700
    database.close()


def test_after_a_stop_the_file_alone_is_the_whole_shop(kept: Path, tmp_path: Path) -> None:
    (tmp_path / "copy").mkdir()
    shutil.copyfile(kept, tmp_path / "copy" / FILE_NAME)
    database = open_database(tmp_path / "copy")
    assert machines.sheet(7).name == "Red"
    database.close()


@pytest.mark.parametrize(
    "made",
    ["CREATE TABLE note (text TEXT)", "PRAGMA application_id = 5", "PRAGMA user_version = 3"],
)
def test_another_programs_database_is_refused_and_left_as_it_is(tmp_path: Path, made: str) -> None:
    raw = sqlite3.connect(tmp_path / FILE_NAME)
    raw.execute(made)
    raw.execute("CREATE TABLE other (x)")
    raw.commit()
    raw.close()
    before = (tmp_path / FILE_NAME).read_bytes()
    with pytest.raises(StoreError, match="not a database of this program"):
        open_database(tmp_path)
    assert (tmp_path / FILE_NAME).read_bytes() == before
    assert not log_of(tmp_path / FILE_NAME).exists()


def test_an_empty_file_beside_a_log_or_photos_is_reported_and_not_adopted(
    kept: Path, tmp_path: Path
) -> None:
    kept.write_bytes(b"")
    log_of(kept).write_bytes(b"x" * 100)
    with pytest.raises(StoreError, match="other parts of a shop"):
        open_database(tmp_path)
    log_of(kept).unlink()
    (tmp_path / "photos").mkdir()
    with pytest.raises(StoreError, match="other parts of a shop"):
        open_database(tmp_path)
    assert kept.read_bytes() == b""


def test_a_log_that_went_missing_is_noticed(kept: Path, tmp_path: Path) -> None:
    database = open_database(tmp_path)
    database.execute_sql("UPDATE machine SET name = 'Blue' WHERE id = 7")
    (tmp_path / "copy").mkdir()
    shutil.copyfile(kept, tmp_path / "copy" / FILE_NAME)  # while it is open: without its log
    database.close()
    with pytest.raises(StoreError, match=r"jentrik.sqlite3-wal is missing"):
        open_database(tmp_path / "copy")
    database = open_database(tmp_path / "copy", without_log=True)
    assert machines.sheet(7).name == "Red"
    database.close()


def test_a_damaged_file_is_reported_with_the_newest_backup(kept: Path, tmp_path: Path) -> None:
    (tmp_path / "backups").mkdir()
    (tmp_path / "backups" / "jentrik-2026-11-22.zip").write_bytes(b"")
    raw = bytearray(kept.read_bytes())
    for page in range(2, len(raw) // 4096):
        raw[page * 4096 : page * 4096 + 64] = b"\xa5" * 64
    kept.write_bytes(bytes(raw))
    with pytest.raises(StoreError, match=r"damaged.*jentrik-2026-11-22\.zip"):
        open_database(tmp_path)
    assert kept.read_bytes() == bytes(raw)


def test_a_database_from_before_files_were_marked_is_ours(tmp_path: Path) -> None:
    raw = sqlite3.connect(tmp_path / FILE_NAME)
    for statement in MIGRATIONS[0]:
        raw.execute(statement)
    raw.execute("PRAGMA user_version = 1")
    raw.commit()
    raw.close()
    database = open_database(tmp_path)
    assert database.execute_sql("PRAGMA application_id").fetchone() == (APPLICATION_ID,)
    database.close()


def test_a_photo_kept_already_is_not_written_and_what_nothing_refers_to_is_swept(
    shop: Shop,
) -> None:
    name = keep_photo(shop.folder, b"contents")
    there = shop.folder / "photos" / name
    before = there.stat().st_mtime_ns
    assert keep_photo(shop.folder, b"contents") == name
    assert there.stat().st_mtime_ns == before
    there.write_bytes(b"")  # as a hard stop left it
    keep_photo(shop.folder, b"contents")
    assert there.read_bytes() == b"contents"
    (shop.folder / "photos" / f"{name}.part").write_bytes(b"half")
    shop.database.execute_sql(
        "INSERT INTO photo (job_id, file, caption, taken_at, by) VALUES (1, ?, '', '2026', '')",
        (keep_photo(shop.folder, b"shown"),),
    )
    assert sweep(shop.folder) == 2
    left = {file.read_bytes() for file in (shop.folder / "photos").iterdir()}
    assert b"shown" in left
    assert not left & {b"contents", b"half"}


def test_one_program_holds_a_folder(tmp_path: Path) -> None:
    with held_alone(tmp_path), pytest.raises(ServedAlready), held_alone(tmp_path):
        pass
    with held_alone(tmp_path):
        pass


# Writes a figure, a proposal and a photo at a time and says so once they are acknowledged.
WRITER = """
import json, sys
from datetime import datetime
from pathlib import Path
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.store import cards, journal, machines
from jentrik.store.database import open_database
from jentrik.store.photo_files import keep_photo
folder, number = Path(sys.argv[1]), int(sys.argv[2])
database, now = open_database(folder), datetime(2026, 11, 23, 12)
while True:
    number += 1
    photo = keep_photo(folder, b"photo %d" % number * 2000)
    with journal.step(database, now=now, label="x", subject="x", machine_id=1) as step:
        figure = Figure(float(number), Provenance.MEASURED, now.date())
        machines.set_figure(step, 1, "rider.inseam_mm", figure)
        step.insert(cards.models.PhotoTable, job=1, file=photo, caption=str(number),
                    taken_at=now.isoformat(), by="")
    print(json.dumps([number, photo]), flush=True)
"""


def test_what_was_acknowledged_is_there_after_a_kill(demo: Path) -> None:
    photos: dict[str, bytes] = {}
    chance, number = random.Random(7), 0
    assert KILLS > 0
    for _ in range(KILLS):
        command = [sys.executable, "-c", WRITER, str(demo), str(number)]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as writer:
            lines = [writer.stdout.readline()]
            time.sleep(chance.random() * 0.15)
            writer.kill()
            lines += writer.stdout.readlines()
        result = [json.loads(line) for line in lines if line.endswith("\n")]
        photos |= {photo: count for count, photo in result}
        database = open_database(demo)
        kept = machines.sheet(1).figures["rider.inseam_mm"].value
        assert result[-1][0] <= kept <= result[-1][0] + 1  # the last may have been cut off unsaid
        shown = {row[0] for row in database.execute_sql("SELECT file FROM photo").fetchall()}
        assert shown >= set(photos)
        sweep(demo)
        for name in shown:
            assert len((demo / "photos" / name).read_bytes()) > 10_000
        number = int(kept)
        close_database(database)


def free_port() -> str:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return str(free.getsockname()[1])


def served(*arguments: str) -> Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-m", "jentrik", "serve", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )


def test_two_servers_at_once_leave_one_shop_and_one_sentence_and_a_stop_leaves_one_file(
    tmp_path: Path,
) -> None:
    ports = (free_port(), free_port())
    one, other = (served("--demo", "--port", port, "--data", str(tmp_path / "s")) for port in ports)
    with one, other:
        while one.poll() is None and other.poll() is None:
            time.sleep(0.05)
        refused, there = (one, other) if one.poll() is not None else (other, one)
        assert refused.returncode == 2
        assert "serves" in refused.stderr.read()
        assert there.stdout.readline().startswith("Jentrik: http://127.0.0.1:")
        time.sleep(0.3)
        there.send_signal(signal.SIGTERM)
        assert there.wait(timeout=30) in (0, -signal.SIGTERM)
    (tmp_path / "copy").mkdir()
    shutil.copyfile(tmp_path / "s" / FILE_NAME, tmp_path / "copy" / FILE_NAME)
    database = open_database(tmp_path / "copy")
    assert len(machines.sheets()) == 11
    database.close()
    assert not list(Path(tmp_path / "s").glob("*.part"))
