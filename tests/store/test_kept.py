"""Sheets and policy are kept between reads, and never after a write of either."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from peewee import SqliteDatabase

from jentrik.core.machine.figure import Figure, Provenance
from jentrik.demo.harbour import fill
from jentrik.store import journal, machines
from jentrik.store.database import close_database, connection, open_database
from jentrik.store.policy import set_policy, stored_policy
from jentrik.store.rows import rows, writing
from jentrik.store.undo import Scope, undo
from tests.conftest import A_MONDAY


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[SqliteDatabase]:
    database = open_database(tmp_path)
    fill(database, tmp_path, now=A_MONDAY)
    yield database
    close_database(database)


def wheelbase() -> float:
    return float(machines.sheet(1).figures["wheelbase_mm"].value)


def write(database: SqliteDatabase, mm: float) -> None:
    with journal.step(database, now=A_MONDAY, label="x", subject="x", machine_id=1) as step:
        figure = Figure(mm, Provenance.MEASURED, A_MONDAY.date())
        machines.set_figure(step, 1, "wheelbase_mm", figure)


def test_a_sheet_read_twice_is_the_same_and_after_a_write_another(shop: SqliteDatabase) -> None:
    first = machines.sheet(1)
    assert machines.sheet(1) is first
    write(shop, 1066)
    assert wheelbase() == 1066
    undo(shop, None, Scope(machine_id=1), journal.NO_ONE, now=A_MONDAY)
    assert machines.sheet(1) == first


def test_a_write_past_the_program_is_seen(shop: SqliteDatabase, tmp_path: Path) -> None:
    wheelbase()
    elsewhere = connection(tmp_path / "jentrik.sqlite3")
    elsewhere.execute_sql("UPDATE measurement SET value = '1077.0' WHERE key = 'wheelbase_mm'")
    elsewhere.close()
    assert wheelbase() == 1077


def test_what_was_read_in_a_write_that_was_taken_back_is_forgotten(shop: SqliteDatabase) -> None:
    before = wheelbase()

    def fail() -> None:
        write(shop, 1088)
        assert wheelbase() == 1088
        raise ZeroDivisionError

    with writing(shop):  # a write within a write, as of a program that asks for several
        with pytest.raises(ZeroDivisionError), shop.atomic(), writing(shop):
            fail()
        assert wheelbase() == before
    write(shop, 1099)
    assert wheelbase() == 1099


def test_the_policy_follows_what_the_shop_sets(shop: SqliteDatabase) -> None:
    assert stored_policy() is stored_policy()
    with journal.step(shop, now=A_MONDAY, label="x", subject="policy") as step:
        set_policy(step, "room.racing_mm", 5.0, on=A_MONDAY.date())
    assert stored_policy().at("room.racing_mm") == 5
    counted = rows("SELECT id FROM last_id WHERE name = 'sheets'")[0]["id"]
    with journal.step(shop, now=A_MONDAY, label="x", subject="policy") as step:
        set_policy(step, "room.racing_mm", 5.0, on=A_MONDAY.date())
    assert rows("SELECT id FROM last_id WHERE name = 'sheets'")[0]["id"] == counted + 1
