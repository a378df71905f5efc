"""The shop's data: schema, journal, undo, and sheets that come back as they went in."""

import sqlite3
from datetime import datetime
from pathlib import Path

import pytest

from jentrik.core.errors import StoreError
from jentrik.store import jobs, machines, sheets
from jentrik.store.database import FILE_NAME, close_database, migrate, open_database, schema_version
from jentrik.store.journal import Author
from jentrik.store.migrations import MIGRATIONS
from jentrik.store.rows import Kept, Row, first_row, rows
from jentrik.store.undo import Scope, last_change
from jentrik.web.shop import Shop

NOON = datetime(2026, 11, 23, 12, 0)


def test_a_new_database_has_the_newest_schema_wal_and_foreign_keys(tmp_path: Path) -> None:
    database = open_database(tmp_path)
    assert schema_version(database) == len(MIGRATIONS)
    assert database.execute_sql("PRAGMA journal_mode").fetchone() == ("wal",)
    assert database.execute_sql("PRAGMA foreign_keys").fetchone() == (1,)
    assert database.execute_sql("PRAGMA busy_timeout").fetchone()[0] >= 1000
    database.close()


def test_every_version_before_comes_up_to_the_newest(tmp_path: Path) -> None:
    for version in range(len(MIGRATIONS)):
        database = open_database(tmp_path / str(version))
        database.close()
        (tmp_path / str(version) / FILE_NAME).unlink()
        raw = sqlite3.connect(tmp_path / str(version) / FILE_NAME)
        raw.create_function("casefold", 1, str.casefold)
        for number, statements in enumerate(MIGRATIONS[:version], start=1):
            for statement in statements:
                raw.execute(statement)
            raw.execute(f"PRAGMA user_version = {number}")
        raw.commit()
        raw.close()
        database = open_database(tmp_path / str(version))
        assert schema_version(database) == len(MIGRATIONS)
        migrate(database)  # once more changes nothing
        database.close()


def test_names_and_cards_that_stood_twice_are_told_apart_by_the_migration(tmp_path: Path) -> None:
    raw = sqlite3.connect(tmp_path / FILE_NAME)
    raw.create_function("casefold", 1, str.casefold)
    for statements in MIGRATIONS[:13]:
        for statement in statements:
            raw.execute(statement)
    raw.executescript("""
        PRAGMA user_version = 13;
        INSERT INTO machine (id, name, kind, drawn_as, created_at, binned_at) VALUES
          (1, 'Straße', 'bicycle', 'diamond frame', '2026-01-01', NULL),
          (2, 'STRASSE', 'bicycle', 'diamond frame', '2026-01-01', NULL),
          (3, 'Straße', 'bicycle', 'diamond frame', '2026-01-01', '2026-01-02');
        INSERT INTO job (id, tag, machine_id, wanted, created_at) VALUES (1, 1, 1, '', '2026');
        INSERT INTO card (id, job_id, proposal, template, made_at) VALUES
          (1, 1, 'A', 't', '2026-01-01'), (2, 1, 'A', 't', '2026-01-01'),
          (3, 1, 'A', 't', '2026-01-01');
        INSERT INTO card_step (card_id, place, plan, done_at) VALUES (2, 0, 'x', '2026-01-01');
        INSERT INTO change (at, machine_id, subject, label, entries) VALUES
          ('2026-01-01', 1, 'x', 'x', '[{"table": "point", "id": 41, "before": null}]');
    """)
    raw.commit()
    raw.close()
    database = open_database(tmp_path)
    assert [row["name"] for row in rows("SELECT name FROM machine ORDER BY id")] == [
        "Straße",
        "STRASSE (2)",
        "Straße",
    ]
    assert rows("SELECT id FROM card") == [{"id": 2}]  # the one with work on it
    assert first_row("SELECT id FROM last_id WHERE name = 'point'") == {"id": 41}
    assert machines.named("strasse") == 1
    database.close()


def test_a_database_of_a_newer_program_is_refused(tmp_path: Path) -> None:
    close_database(open_database(tmp_path))
    raw = sqlite3.connect(tmp_path / FILE_NAME)
    raw.execute("PRAGMA user_version = 999")
    raw.commit()
    raw.close()
    with pytest.raises(StoreError, match="newer version"):
        open_database(tmp_path)


def test_a_file_that_is_no_database_is_refused(tmp_path: Path) -> None:
    (tmp_path / FILE_NAME).write_bytes(b"not a database" * 100)
    with pytest.raises(StoreError, match="not a database"):
        open_database(tmp_path)


def test_a_refused_write_leaves_nothing_behind(shop: Shop) -> None:
    before = machines.sheet(1)
    values = {
        "name": before.clearances[0].name.upper(),
        "wheel": "front",
        "direction": "side",
        "part": "frame",
        "gap_mm": 5.0,
        "minimum_mm": None,
        "provenance": "measured",
    }

    def two_writes() -> None:
        with shop.step("two", "two", machine_id=1) as step:
            machines.clear_figure(step, 1, "stack_mm")
            machines.set_clearance(step, 1, None, values, on=shop.today)

    with pytest.raises(StoreError):
        two_writes()
    assert machines.sheet(1) == before
    assert last_change(Scope(machine_id=1), Author()) is None


def test_tags_and_letters_are_the_first_free_ones(shop: Shop) -> None:
    with shop.step("job", "job") as step:
        job_id = jobs.add_job(step, machine_id=1, wanted="", at=NOON)
        names = [jobs.add_proposal(step, job_id, {}) for _ in range(3)]
    assert jobs.job(job_id).tag == 1
    assert names == ["A", "B", "C"]
    with shop.step("less", "less", job_id=job_id) as step:
        jobs.drop_proposal(step, jobs.job(job_id).proposals[1].id)
        assert jobs.add_proposal(step, job_id, {}) == "B"


def test_what_is_not_there_is_refused(shop: Shop) -> None:
    for look in (lambda: machines.sheet(999), lambda: jobs.job(999)):
        with pytest.raises(StoreError):
            look()


def test_a_sheet_is_read_at_one_moment_while_another_writes(
    shop: Shop, monkeypatch: pytest.MonkeyPatch
) -> None:
    machine_id = machines.names()[0][0]
    before = machines.sheet(machine_id)
    file = shop.database.database
    asked: list[str] = []

    def rows_while_another_writes(sql: str, *parameters: object) -> list[Row]:
        found = rows(sql, *parameters)
        asked.append(sql)
        if len(asked) == 1:
            other = sqlite3.connect(file)
            other.create_function("casefold", 1, str.casefold)
            other.execute("UPDATE setup SET id = id + 5000 WHERE machine_id = ?", (machine_id,))
            other.execute("UPDATE measurement SET setup_id = setup_id + 5000")
            other.execute("UPDATE machine SET setup_id = setup_id + 5000")
            other.commit()
            other.close()
        return found

    Kept.forget()
    monkeypatch.setattr(sheets, "rows", rows_while_another_writes)
    assert machines.sheet(machine_id) == before
    assert len(asked) > 1
