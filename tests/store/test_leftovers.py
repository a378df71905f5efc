"""What a hard stop, a full disk, a lost right or another program's hand does to a shop's files."""

import json
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.error import HTTPError
from urllib.request import Request, urlopen

import pytest

from jentrik.core.errors import StoreError
from jentrik.store import machines
from jentrik.store.backups import restore
from jentrik.store.database import FILE_NAME, close_database, log_of, open_database
from jentrik.store.files import reason_of
from jentrik.store.leftovers import sweep
from tests.conftest import A_MONDAY
from tests.store.test_database import free_port, served


def test_what_a_hard_stop_left_half_made_is_swept_and_nothing_else(demo: Path) -> None:
    database = open_database(demo)
    left = [
        demo / "secret.part",
        demo / "backups" / "jentrik-2026-11-23.zip.part",
        demo / "backups" / ".backup-x7" / FILE_NAME,
        demo / ".restore-q2" / "unpacked" / FILE_NAME,
        demo.parent / f".restore-{demo.name}-q3" / FILE_NAME,
    ]
    stays = [demo / "backups" / "jentrik-2026-11-22.zip", demo.parent / ".restore-other-q4" / "x"]
    for one in left + stays:
        one.parent.mkdir(parents=True, exist_ok=True)
        one.write_bytes(b"half")
    assert sweep(demo) == len(left)
    assert not any(one.exists() for one in left)
    assert all(one.exists() for one in [*stays, demo / FILE_NAME])
    close_database(database)


def test_an_older_program_leaves_a_newer_database_and_its_log_untouched(
    demo: Path, tmp_path: Path
) -> None:
    database = open_database(demo)
    database.execute_sql("PRAGMA user_version = 99")
    there = tmp_path / "stopped hard"
    there.mkdir()
    for one in (demo / FILE_NAME, log_of(demo / FILE_NAME)):
        shutil.copyfile(one, there / one.name)
    before = {one.name: one.read_bytes() for one in there.iterdir()}
    assert before[log_of(demo / FILE_NAME).name]
    with pytest.raises(StoreError, match="newer version"):
        open_database(there)
    assert {name: (there / name).read_bytes() for name in before} == before
    database.close()


def test_the_real_reason_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = tmp_path / FILE_NAME
    file.write_bytes(b"")
    unable = sqlite3.OperationalError("unable to open database file")
    assert reason_of(sqlite3.OperationalError("database or disk is full"), file) == (
        "the disk is full"
    )
    assert reason_of(PermissionError(13, "Permission denied"), file) == "permission denied"
    for denied, said in ((os.R_OK, "may not be read"), (os.W_OK, "may not be written")):
        with monkeypatch.context() as rights:
            rights.setattr(os, "access", lambda _, asked, denied=denied: asked != denied)
            assert said in reason_of(unable, file)
    blocked = tmp_path / "a file"
    blocked.write_bytes(b"")
    with pytest.raises(StoreError, match=r"cannot be made: (not a directory|file exists)"):
        open_database(blocked / "shop")
    (tmp_path / "folder" / FILE_NAME).mkdir(parents=True)
    with pytest.raises(StoreError, match="cannot be opened: is a directory"):
        open_database(tmp_path / "folder")


@pytest.mark.parametrize("how", ["moved there", "written over", "taken away"])
def test_a_file_replaced_while_it_is_served_is_noticed_and_the_work_kept(
    tmp_path: Path, how: str
) -> None:
    other, shop, file = tmp_path / "other", tmp_path / "shop", tmp_path / "shop" / FILE_NAME
    close_database(open_database(other))
    port = free_port()
    jobs = f"http://127.0.0.1:{port}/api/jobs"
    with served("--data", str(shop), "--port", port) as server, killed_in_the_end(server):
        server.stdout.readline()
        while not listens(port):
            time.sleep(0.02)
        assert answer(jobs, {"machine": "Last", "front_tire": "28-622"})[0] == 201
        if how == "moved there":
            (other / FILE_NAME).replace(file)
        elif how == "written over":
            shutil.copyfile(other / FILE_NAME, file)
        else:
            file.unlink()
        for sent in ({"machine": "Lost", "front_tire": "28-622"}, None):
            status, said = answer(jobs, sent)
            assert (status, "while it was served" in said) == (503, True)
        server.send_signal(signal.SIGTERM)
        server.wait(timeout=30)
    if how == "taken away":
        assert not file.exists()
    else:  # what stands there now is whole, and of the first shop's log nothing came into it
        database = open_database(shop)
        assert machines.sheets() == []
        close_database(database)
    if how != "written over":
        (kept,) = (shop / "backups").glob("replaced-*.zip")
        restore(kept, tmp_path / "back", now=A_MONDAY)
        database = open_database(tmp_path / "back")
        assert [sheet.name for sheet in machines.sheets()] == ["Last"]
        close_database(database)


def listens(port: str) -> bool:
    with socket.socket() as asked:
        return asked.connect_ex(("127.0.0.1", int(port))) == 0


@contextmanager
def killed_in_the_end(server: subprocess.Popen[str]) -> Iterator[None]:
    try:
        yield
    finally:
        server.kill()


def answer(url: str, sent: dict[str, object] | None) -> tuple[int, str]:
    """Return the status and the words of an answer of a server in a process of its own."""
    body = None if sent is None else json.dumps(sent).encode()
    made = {"Content-Type": "application/json", "Idempotency-Key": uuid.uuid4().hex}
    try:
        with urlopen(Request(url, data=body, headers=made), timeout=20) as given:
            return given.status, given.read().decode()
    except HTTPError as error:
        return error.code, error.read().decode()
