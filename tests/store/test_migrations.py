"""Databases as earlier versions of the program really wrote them, rows and all, come up whole.

Each file is the harbour-town workshop as that version filled it; versions 4 to 12 came in one
change and no program ever wrote them.
"""

import lzma
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from peewee import SqliteDatabase

from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import documents, jobs, machines, setups, shelf
from jentrik.store.database import FILE_NAME, close_database, open_database, schema_version
from jentrik.store.migrations import MIGRATIONS

WRITTEN = sorted(Path(__file__).with_name("databases").glob("*.sqlite3.xz"))
KEPT = (
    "machine",
    "measurement",
    "place",
    "point",
    "job",
    "proposal",
    "shelf_tire",
    "position",
    "approved_pair",
    "card",
    "card_step",
    "inspection",
    "odometer",
    "ride",
    "own_unit",
    "person",
    "access_key",
)


def test_there_is_a_database_of_the_first_version_and_one_of_the_last() -> None:
    versions = [int(path.name.split("-")[1].split(".")[0]) for path in WRITTEN]
    assert (versions[0], versions[-1]) == (1, len(MIGRATIONS))


@pytest.fixture(name="before", params=WRITTEN, ids=lambda path: path.name.split(".")[0])
def _before(
    request: pytest.FixtureRequest, tmp_path: Path
) -> Iterator[tuple[SqliteDatabase, dict[str, list[Any]]]]:
    """Return the rows of an earlier database by table, and open it as this version does."""
    file = tmp_path / FILE_NAME
    file.write_bytes(lzma.decompress(request.param.read_bytes()))
    old = sqlite3.connect(file)
    old.row_factory = sqlite3.Row
    there = {name for (name,) in old.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    rows = {
        name: [dict(row) for row in old.execute(f"SELECT * FROM {name} ORDER BY id")]
        for name in KEPT
        if name in there
    }
    old.close()
    database = open_database(tmp_path)
    yield database, rows
    close_database(database)


@pytest.mark.parametrize("written", WRITTEN[:-1], ids=lambda path: path.name.split(".")[0])
def test_what_an_earlier_version_wrote_is_kept_before_it_is_brought_up(
    written: Path, tmp_path: Path
) -> None:
    old = lzma.decompress(written.read_bytes())
    (tmp_path / FILE_NAME).write_bytes(old)
    close_database(open_database(tmp_path))
    close_database(open_database(tmp_path))  # once it is up to date nothing more is kept
    version = int(written.name.split("-")[1].split(".")[0])
    (kept,) = (tmp_path / "backups").iterdir()
    assert kept.name == f"before-upgrade-from-{version:02d}.sqlite3"
    as_written, as_kept = (tmp_path / "as-written.sqlite3"), sqlite3.connect(kept)
    as_written.write_bytes(old)
    before = sqlite3.connect(as_written)
    assert list(as_kept.iterdump()) == list(before.iterdump())
    as_kept.close()
    before.close()


def test_an_earlier_database_keeps_every_row_and_every_value(
    before: tuple[SqliteDatabase, dict[str, list[Any]]],
) -> None:
    database, rows = before
    assert schema_version(database) == len(MIGRATIONS)
    assert database.execute_sql("PRAGMA integrity_check").fetchone() == ("ok",)
    assert database.execute_sql("PRAGMA foreign_key_check").fetchall() == []
    assert len(rows["machine"]) == 11
    for table, kept in rows.items():
        cursor = database.execute_sql(f"SELECT * FROM {table} ORDER BY id")
        names = [column[0] for column in cursor.description]
        now = [dict(zip(names, row, strict=True)) for row in cursor.fetchall()]
        old = {was["id"] for was in kept}
        assert len(now) == len(kept) or table == "measurement", table  # rides' setups have parts
        now = [has for has in now if has["id"] in old]
        for was, has in zip(kept, now, strict=True):
            same = was.keys() & has.keys()
            assert {key: has[key] for key in same} == {key: was[key] for key in same}, table


def test_its_machines_stand_and_its_jobs_are_judged(
    before: tuple[SqliteDatabase, dict[str, list[Any]]],
) -> None:
    judged = 0
    for sheet in machines.sheets():
        if missing_of(sheet):
            continue
        found = as_measured(machine_of(sheet))
        for job in jobs.open_jobs_of(sheet.id):
            for kept in job.proposals:
                outcome = outcome_of(found, read_proposal(kept.values()))
                judged += len(outcome.findings)
    assert judged > 20
    assert all(tire.reading.bead_seat_diameter_mm for tire in shelf.tires())


def test_jobs_done_before_there_were_documents_get_one_out_of_the_journal(
    before: tuple[SqliteDatabase, dict[str, list[Any]]],
) -> None:
    _, rows = before
    done = [row for row in rows["job"] if row.get("closed_at")]
    for row in done:
        kept = documents.document(row["id"])
        assert kept is not None
        assert kept.values["found"]["setup"]["reconstructed"] == bool(
            kept.values.get("reconstructed")
        )
        assert kept.values["fitted"]["geometry"] is not None
        again = documents.on_bench(jobs.job(row["id"]), DEFAULT_POLICY, kept.made_at.date())
        assert not missing_of(again.sheet)
    machines_known = {row["id"] for row in rows["machine"]}
    for machine_id in machines_known:
        known = setups.setups(machine_id)
        assert known[-1].until is None
        assert all(one.until is not None for one in known[:-1])


def test_of_a_fitting_the_journal_gives_the_machine_before_and_after(
    before: tuple[SqliteDatabase, dict[str, list[Any]]],
) -> None:
    _, rows = before
    if not any(row["id"] == 16 for row in rows["job"]):
        pytest.skip("this version knew no fittings")
    values = documents.document(16).values
    if not values.get("reconstructed"):
        pytest.skip("this version wrote its documents itself")
    # 292 mm stood on the sheet before the rear tire, 291 were measured after it.
    assert values["found"]["geometry"]["bb_height_mm"] == 292
    assert values["fitted"]["geometry"]["bb_height_mm"] == 291
    assert values["found"]["setup"]["reconstructed"]
