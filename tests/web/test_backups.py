"""Backups on the Shop page, and what a page says where the disk does not take a write."""

import io
import re
import sqlite3
import zipfile
from pathlib import Path
from typing import Any

import peewee
import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.store import jobs, machines
from jentrik.store.backups import kept_backups
from jentrik.store.database import close_database
from jentrik.web.app import create_app
from jentrik.web.live.fields import LIVE_HEADER
from jentrik.web.security.guard import TOKEN_HEADER
from tests.conftest import A_MONDAY
from tests.web.conftest import with_token


def test_a_newcomer_finds_makes_downloads_and_restores_a_backup(
    client: TestClient, app: FastAPI
) -> None:
    shop = client.get("/shop").text
    assert "No backup yet" in shop
    assert "/shop/backups" in shop
    page = client.post("/shop/backups/make").text
    (kept,) = kept_backups(app.state.shop.folder)
    assert f"/shop/backups/{kept.name}" in page
    assert "Last backup" in client.get("/shop").text
    raw = client.get(f"/shop/backups/{kept.name}").content
    assert "jentrik.sqlite3" in zipfile.ZipFile(io.BytesIO(raw)).namelist()
    client.post("/jobs", data={"what": "Blue racer", "tire": "28-622"})
    asked = client.get(f"/shop/backups/{kept.name}/restore").text
    assert re.search(r"Machines</th><td>11</td><td>12</td>", asked)
    client.post(f"/shop/backups/{kept.name}/restore")
    assert len(machines.sheets()) == 11
    assert len(kept_backups(app.state.shop.folder)) == 2  # what was there is backed up first


def test_a_backup_brought_as_a_file_is_shown_first_and_another_file_is_refused(
    client: TestClient, app: FastAPI
) -> None:
    client.post("/shop/backups/make")
    name = kept_backups(app.state.shop.folder)[0].name
    raw = client.get(f"/shop/backups/{name}").content
    brought = client.post("/shop/backups", files={"backup": ("shop.zip", raw, "application/zip")})
    assert "In the backup" in brought.text
    wrong = client.post("/shop/backups", files={"backup": ("shop.zip", b"PK\x03\x04", "x/y")})
    assert (wrong.status_code, "not a backup" in wrong.text) == (422, True)
    for path in ("/shop/backups/..%2Fjentrik.sqlite3", "/shop/backups/nothing.zip/restore"):
        assert client.get(path).status_code == 404
    app.state.shop.folder.joinpath("backups", "made-x.zip").write_bytes(b"no zip")
    assert client.get("/shop/backups/made-x.zip/restore").status_code == 422


def test_a_full_disk_says_so_and_keeps_what_was_typed(demo: Path) -> None:
    app = create_app(demo, now=lambda: A_MONDAY)
    database = app.state.shop.database
    pages = database.execute_sql("PRAGMA page_count").fetchone()[0]
    database.pragma("max_page_count", pages, permanent=True)  # no page more, as on a full disk
    with TestClient(app, base_url="http://127.0.0.1") as client:
        page = client.get("/jobs").text
        client.headers[TOKEN_HEADER] = re.search(f'{TOKEN_HEADER}": "([^"]+)"', page).group(1)
        for number in range(400):
            name = f"{number} {'x' * 70}"
            answer = client.post("/jobs", data={"what": name, "tire": "28-622"})
            if answer.status_code != 200:
                break
        assert answer.status_code == 507
        assert "The disk is full" in answer.text
        assert name in answer.text
        assert name not in {sheet.name for sheet in machines.sheets()}
        live = client.post(
            "/jobs/1/answer",
            data={"job:wanted": "y" * 80},
            headers={LIVE_HEADER: "1", "HX-Request": "true"},
        )
        assert live.status_code in (200, 507)
        assert client.get("/jobs").status_code == 200


def test_a_damaged_page_says_so_and_the_rest_goes_on(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: int, **__: Any) -> None:
        raise peewee.DatabaseError("database disk image is malformed")

    with monkeypatch.context() as patched:
        patched.setattr(jobs, "job", broken)
        answer = client.post("/jobs/1/answer", data={"job:wanted": "as typed"})
        assert (answer.status_code, "as typed" in answer.text) == (503, True)
        assert "cannot be read or written" in answer.text
    assert client.get("/jobs/1").status_code == 200


def test_a_failure_of_the_program_keeps_what_was_typed(
    app: FastAPI, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: int, **__: Any) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(jobs, "job", broken)
    with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        with_token(client)
        answer = client.post("/jobs/1/answer", data={"job:wanted": "as typed"})
        assert (answer.status_code, "as typed" in answer.text) == (500, True)
        assert "Traceback" not in answer.text
        live = client.post("/jobs/1/answer", data={"job:wanted": "x"}, headers={LIVE_HEADER: "1"})
        assert live.json()["error"]["message"]


def test_a_daily_backup_that_fails_is_told_on_the_page_and_tried_again(
    app: FastAPI, client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: Path, **__: Any) -> None:
        raise sqlite3.OperationalError("database or disk is full")

    keeper = app.state.keeper
    with monkeypatch.context() as patched:
        patched.setattr("jentrik.store.backups._copy_database", full)
        keeper.back_up()
        assert "disk is full" in client.get("/shop/backups").text
    keeper.back_up()
    assert keeper.trouble == ""
    assert len(kept_backups(app.state.shop.folder)) == 1


@pytest.mark.parametrize("stops", [1, 2])
def test_the_server_makes_the_days_backup_and_closes_the_shop(demo: Path, stops: int) -> None:
    for _ in range(stops):
        app = create_app(demo, now=lambda: A_MONDAY, keeps_itself=True)
        with TestClient(app, base_url="http://127.0.0.1"):
            app.state.keeper.stop()
            app.state.keeper.back_up()
    assert [backup.name for backup in kept_backups(demo)] == ["jentrik-2026-11-23.zip"]
    state = app.state.shop.database
    state.connect(reuse_if_open=True)
    assert state.execute_sql("SELECT value FROM shop_state WHERE key = 'open'").fetchone() == (
        "no",
    )
    close_database(state)
