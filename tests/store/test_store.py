"""The shop's data: schema, journal, undo, and sheets that come back as they went in."""

import sqlite3
from datetime import datetime, timedelta

import pytest

from jentrik.core.errors import StoreError
from jentrik.core.sheet import Figure, Provenance
from jentrik.store import jobs, journal, machines
from jentrik.store.database import FILE_NAME, migrate, open_database, schema_version
from jentrik.store.migrations import MIGRATIONS

NOON = datetime(2026, 11, 23, 12, 0)


def wheelbase(shop, value, at, *, machine_id=1):
    with journal.step(
        shop.database, now=at, label=f"wheelbase {value}", subject="wheelbase",
        machine_id=machine_id,
    ) as step:  # fmt: skip
        figure = Figure(value, Provenance.MEASURED, at.date())
        machines.set_figure(step, machine_id, "wheelbase_mm", figure)


def kept(machine_id=1):
    return machines.sheet(machine_id).figures["wheelbase_mm"].value


def test_a_new_database_has_the_newest_schema_wal_and_foreign_keys(tmp_path):
    database = open_database(tmp_path)
    assert schema_version(database) == len(MIGRATIONS)
    assert database.execute_sql("PRAGMA journal_mode").fetchone() == ("wal",)
    assert database.execute_sql("PRAGMA foreign_keys").fetchone() == (1,)
    assert database.execute_sql("PRAGMA busy_timeout").fetchone()[0] >= 1000
    database.close()


def test_every_version_before_comes_up_to_the_newest(tmp_path):
    for version in range(len(MIGRATIONS)):
        database = open_database(tmp_path / str(version))
        database.close()
        (tmp_path / str(version) / FILE_NAME).unlink()
        raw = sqlite3.connect(tmp_path / str(version) / FILE_NAME)
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


def test_a_database_of_a_newer_program_is_refused(tmp_path):
    open_database(tmp_path).close()
    raw = sqlite3.connect(tmp_path / FILE_NAME)
    raw.execute("PRAGMA user_version = 999")
    raw.commit()
    raw.close()
    with pytest.raises(StoreError, match="newer version"):
        open_database(tmp_path)


def test_a_file_that_is_no_database_is_refused(tmp_path):
    (tmp_path / FILE_NAME).write_bytes(b"not a database" * 100)
    with pytest.raises(StoreError, match="not a database"):
        open_database(tmp_path)


def test_undo_goes_back_change_by_change_and_no_further(shop):
    start = kept()
    wheelbase(shop, 1050.0, NOON)
    wheelbase(shop, 1060.0, NOON + timedelta(minutes=1))
    assert journal.last_label(machine_id=1) == "wheelbase 1060.0"
    for expected in (1050.0, start, start):
        journal.undo(shop.database, now=NOON, machine_id=1)
        assert kept() == expected
    assert journal.undo(shop.database, now=NOON, machine_id=1) is None


def test_keystrokes_close_in_time_are_one_change(shop):
    start = kept()
    for second, value in enumerate((1.0, 10.0, 105.0, 1050.0)):
        wheelbase(shop, value, NOON + timedelta(seconds=second))
    journal.undo(shop.database, now=NOON, machine_id=1)
    assert kept() == start


def test_undo_of_one_machine_leaves_another_alone(shop):
    other = kept(2)
    wheelbase(shop, 1111.0, NOON, machine_id=2)
    wheelbase(shop, 1050.0, NOON)
    journal.undo(shop.database, now=NOON, machine_id=1)
    assert kept(2) == 1111.0
    journal.undo(shop.database, now=NOON, machine_id=2)
    assert kept(2) == other


def test_a_figure_taken_off_and_a_proposal_taken_away_come_back(shop):
    before, job = machines.sheet(1), jobs.job(1)
    with shop.step("off", "off", machine_id=1) as step:
        machines.clear_figure(step, 1, "stack_mm")
        machines.drop_line(step, "place", before.places[0].id)
        machines.drop_line(step, "point", before.points[0].id)
    assert "stack_mm" not in machines.sheet(1).figures
    journal.undo(shop.database, now=NOON, machine_id=1)
    assert machines.sheet(1) == before
    with shop.step("away", "away", job_id=1) as step:
        jobs.drop_proposal(step, job.proposals[0].id)
    journal.undo(shop.database, now=NOON, job_id=1)
    assert jobs.job(1) == job


def test_a_refused_write_leaves_nothing_behind(shop):
    before = machines.sheet(1)
    values = {"name": before.places[0].name.upper(), "wheel": "front", "direction": "side",
              "part": "frame", "gap_mm": 5.0, "minimum_mm": None,
              "provenance": "measured"}  # fmt: skip

    def two_writes():
        with shop.step("two", "two", machine_id=1) as step:
            machines.clear_figure(step, 1, "stack_mm")
            machines.set_place(step, 1, None, values, on=shop.today)

    with pytest.raises(StoreError):
        two_writes()
    assert machines.sheet(1) == before
    assert journal.last_label(machine_id=1) is None


def test_tags_and_letters_are_the_first_free_ones(shop):
    with shop.step("job", "job") as step:
        job_id = jobs.add_job(step, machine_id=1, wanted="", at=NOON)
        names = [jobs.add_proposal(step, job_id, {}) for _ in range(3)]
    assert jobs.job(job_id).tag == 1
    assert names == ["A", "B", "C"]
    with shop.step("less", "less", job_id=job_id) as step:
        jobs.drop_proposal(step, jobs.job(job_id).proposals[1].id)
        assert jobs.add_proposal(step, job_id, {}) == "B"


def test_what_is_not_there_is_refused(shop):
    for look in (lambda: machines.sheet(999), lambda: jobs.job(999)):
        with pytest.raises(StoreError):
            look()
