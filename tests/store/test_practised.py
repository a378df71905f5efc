"""Backups that are tried by themselves, and copied to a second place."""

import lzma
from datetime import timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jentrik.core.errors import StoreError
from jentrik.store.backups import FOLDER, backup, copy_elsewhere, daily_backup
from jentrik.store.database import FILE_NAME
from jentrik.store.practised import is_due, last_practised, practise
from jentrik.web.app import create_app
from jentrik.web.server.keeping import Keeper
from jentrik.web.shop import Shop
from tests.conftest import A_MONDAY

WRITTEN = sorted(Path(__file__).with_name("databases").glob("*.sqlite3.xz"))
NEXT_WEEK = A_MONDAY + timedelta(days=7)


def kept(shop: Shop) -> Path:
    """Make a backup and return its file."""
    there = shop.folder / FOLDER / "made-now.zip"
    backup(shop.folder, there, now=A_MONDAY)
    return there


def test_a_backup_is_restored_aside_counted_and_tried_again_in_a_week(shop: Shop) -> None:
    assert practise(shop.database, shop.folder, now=A_MONDAY) is None
    kept(shop)
    before = sorted(shop.folder.rglob("*"))
    found = practise(shop.database, shop.folder, now=A_MONDAY)
    assert found is not None
    assert (found.machines, found.trouble) == (11, "")
    assert found.documents > 5
    assert found == last_practised()
    assert sorted(shop.folder.rglob("*")) == before  # nothing stays of the try
    assert not is_due(NEXT_WEEK - timedelta(hours=1))
    assert is_due(NEXT_WEEK)


def test_a_backup_that_is_no_good_is_named(shop: Shop) -> None:
    shop.database.execute_sql(
        "UPDATE job_document SET document = replace(document, 'rear', 'read')"
    )
    kept(shop)
    found = practise(shop.database, shop.folder, now=A_MONDAY)
    assert found is not None
    assert "is not as it was sealed" in found.trouble
    file = kept(shop)
    file.write_bytes(file.read_bytes()[:-3000])
    found = practise(shop.database, shop.folder, now=A_MONDAY)
    assert found is not None
    assert "cut off" in found.trouble


def test_a_backup_of_an_earlier_version_is_brought_up_to_date_before_it_is_looked_at(
    shop: Shop, tmp_path: Path
) -> None:
    earlier = tmp_path / "earlier"
    earlier.mkdir()
    (earlier / FILE_NAME).write_bytes(lzma.decompress(WRITTEN[13].read_bytes()))
    (shop.folder / FOLDER).mkdir(exist_ok=True)
    backup(earlier, shop.folder / FOLDER / "brought-then.zip", now=A_MONDAY)
    found = practise(shop.database, shop.folder, now=A_MONDAY)
    assert found is not None
    assert (found.name, found.trouble) == ("brought-then.zip", "")
    assert found.machines > 0


def test_daily_backups_are_copied_and_let_go_together(shop: Shop, tmp_path: Path) -> None:
    place = tmp_path / "disk"
    with pytest.raises(StoreError, match="is not there"):
        copy_elsewhere(shop.folder, place)
    place.mkdir()
    (place / "holiday.jpg").write_bytes(b"x")
    for day in range(4):
        daily_backup(shop.folder, now=A_MONDAY + timedelta(days=day), days=2, weeks=0)
        copy_elsewhere(shop.folder, place)
    here = {one.name: one.read_bytes() for one in (shop.folder / FOLDER).iterdir()}
    there = {one.name: one.read_bytes() for one in place.glob("*.zip")}
    assert (len(there), there) == (2, here)
    assert (place / "holiday.jpg").exists()


def test_a_second_place_that_fails_is_said_on_every_page(demo: Path, tmp_path: Path) -> None:
    app = create_app(demo, now=lambda: A_MONDAY, second=tmp_path / "not mounted")
    keeper: Keeper = app.state.keeper
    with TestClient(app, base_url="http://127.0.0.1") as client:
        keeper.back_up()
        page = client.get("/machines").text
        assert "Backups fail" in page
        assert "not mounted is not there" in page
        (tmp_path / "not mounted").mkdir()
        keeper.back_up()
        assert "Backups fail" not in client.get("/machines").text
        assert "Restored to try it on 23 Nov 2026: 11 machines" in client.get("/shop/backups").text
