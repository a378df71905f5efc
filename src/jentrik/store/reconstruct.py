"""Documents of jobs that were done before there were documents, out of the journal.

The journal keeps each row before and after every change, so a machine's rows as they stood before
and after a fitting are today's rows with every later change taken back.  What is put together so
is marked reconstructed; where the journal is silent, only the tires of the fitting are known.
"""

import json
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, datetime
from typing import Any

import peewee

from jentrik.core.errors import Refusal
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.setup import Setup, part_of
from jentrik.core.machine.sheet import Sheet
from jentrik.exchange.job_document import found_document, state_document
from jentrik.exchange.sheet_document import sheet_document
from jentrik.store import journal, models, setups
from jentrik.store.jobs import any_job
from jentrik.store.policy import set_otherwise, stored_policy
from jentrik.store.rows import Row, first_row, rows, writing
from jentrik.store.sheets import sheet_from

_KEPT = ("measurement", "place", "point", "position", "approved_pair", "room_line")


def reconstruct(database: peewee.SqliteDatabase) -> int:
    """Write the documents and earlier set-ups of jobs done so far; return how many documents."""
    made = 0
    with writing(database):
        for fitting in rows("SELECT * FROM fitting WHERE job_id IS NOT NULL ORDER BY taken_on, id"):
            known = first_row(
                "SELECT id FROM job_document WHERE job_id = ? AND kind = 'job'", fitting["job_id"]
            )
            if known is None:
                _reconstruct(fitting)
                made += 1
    return made


def _reconstruct(fitting: Row) -> None:
    job, _ = any_job(fitting["job_id"])
    day = date.fromisoformat(fitting["taken_on"])
    machine = first_row("SELECT * FROM machine WHERE id = ?", fitting["machine_id"])
    if machine is None:
        return
    policy = stored_policy()
    before, after = _states(machine, fitting)
    if before is None or after is None:
        before = after = _bare(machine, day)
        after = _with_tires(after, fitting, day)
    else:
        _keep_setup(machine["id"], job.tag, before, day)
    before, after = _marked(before, "As found"), _marked(after, "As fitted")
    values = {
        **found_document(job, before, policy, day),
        "policy": dict(set_otherwise()),
        "reconstructed": True,
        "carried_out": job.done.proposal if job.done else "",
        "fitted_on": day.isoformat(),
        "fitted": state_document(after, policy, day),
        "fitted_sheet": sheet_document(after),
    }
    if job.closed_at is not None:
        values |= {"done_on": job.closed_at.date().isoformat(), "by": fitting["by"]}
    journal.insert_row(
        models.JobDocumentTable,
        {
            "job_id": job.id,
            "made_at": datetime.combine(day, datetime.min.time()).isoformat(),
            "by": fitting["by"],
            "document": json.dumps(values, ensure_ascii=False, sort_keys=True),
        },
    )


def _states(machine: Row, fitting: Row) -> tuple[Sheet | None, Sheet | None]:
    """Return a machine's sheet before a fitting and with it, as far as the history has them."""
    change = first_row(
        "SELECT change.id FROM change, json_each(change.entries) AS entry WHERE undone_at IS NULL"
        " AND json_extract(entry.value, '$.table') = 'fitting'"
        " AND json_extract(entry.value, '$.id') = ? ORDER BY change.id DESC LIMIT 1",
        fitting["id"],
    )
    if change is None:
        return None, None
    with_it = _sheet_at(machine, change["id"], with_it=True)
    return _sheet_at(machine, change["id"], with_it=False), with_it


def _sheet_at(machine: Row, change_id: int, *, with_it: bool) -> Sheet | None:
    """Return a machine's sheet as it stood before a change, or with it; None where it cannot."""
    current = {
        table: {
            row["id"]: row
            for row in rows(
                f"SELECT * FROM {table} WHERE machine_id = ?",  # noqa: S608  # our own
                machine["id"],
            )
            if row.get("setup_id") in (None, machine["setup_id"])
        }
        for table in _KEPT
    }
    for entry in _later(machine["id"], change_id if with_it else change_id - 1):
        table, row_id, before = entry["table"], entry["id"], entry["before"]
        if table not in _KEPT:
            continue
        if before is None:
            current[table].pop(row_id, None)
        elif before["machine_id"] == machine["id"]:
            current[table][row_id] = {**_empty(table), **before, "setup_id": machine["setup_id"]}
    lines = {table: list(found.values()) for table, found in current.items()}
    lines["setup"] = rows("SELECT * FROM setup WHERE id = ?", machine["setup_id"])
    try:
        return sheet_from(lines, machine)
    except (Refusal, KeyError, ValueError):
        return None


def _empty(table: str) -> Row:
    """Return the columns of a table, empty: an entry of an earlier version lacks some."""
    return {row["name"]: None for row in rows(f"PRAGMA table_info({table})")} | (
        {"readings": "[]"} if table == "measurement" else {}
    )


def _later(machine_id: int, change_id: int) -> Iterator[dict[str, Any]]:
    """Yield the entries of a machine's changes after one, the last first."""
    for row in rows(
        "SELECT entries FROM change WHERE id > ? AND undone_at IS NULL AND (machine_id = ? OR"
        " job_id IN (SELECT id FROM job WHERE machine_id = ?)) ORDER BY id DESC",
        change_id,
        machine_id,
        machine_id,
    ):
        yield from reversed(json.loads(row["entries"]))


def _bare(machine: Row, day: date) -> Sheet:
    """Return a machine of which nothing is known for that day but what it is."""
    lines: dict[str, list[Row]] = {table: [] for table in _KEPT}
    lines["setup"] = rows("SELECT * FROM setup WHERE id = ?", machine["setup_id"])
    sheet = sheet_from(lines, machine)
    return replace(sheet, setup=Setup(0, "As found", {}, day, day, reconstructed=True))


def _with_tires(sheet: Sheet, fitting: Row, day: date) -> Sheet:
    parts = {
        f"{end}.tire": Figure(fitting[f"{end}_tire"], Provenance.MEASURED, day)
        for end in ("front", "rear")
        if fitting[f"{end}_tire"]
    }
    setup = Setup(0, "As fitted", parts, day, day, reconstructed=True)
    return replace(sheet, setup=setup, figures={**sheet.figures, **parts})


def _marked(sheet: Sheet, name: str) -> Sheet:
    assert sheet.setup is not None
    return replace(sheet, setup=replace(sheet.setup, name=name, reconstructed=True))


def _keep_setup(machine_id: int, tag: int, before: Sheet, day: date) -> None:
    """Keep what a machine was set up as before a fitting as a set-up of its own."""
    assert before.setup is not None
    earlier = first_row(
        "SELECT MAX(until_on) AS day FROM setup WHERE machine_id = ? AND until_on <= ?",
        machine_id,
        day.isoformat(),
    )
    created = first_row("SELECT date(created_at) AS day FROM machine WHERE id = ?", machine_id)
    since = (earlier or {}).get("day") or min((created or {})["day"], day.isoformat())
    row = first_row("SELECT MAX(id) + 1 AS id FROM setup")
    assert row is not None
    journal.insert_row(
        models.SetupTable,
        {
            "id": row["id"],
            "machine_id": machine_id,
            "name": setups.free_name(machine_id, f"Before job {tag}"),
            "since_on": since,
            "until_on": day.isoformat(),
            "sealed_on": day.isoformat(),
            "reconstructed": 1,
        },
    )
    for key, figure in before.setup.parts.items():
        if part_of(key) is not None:
            columns = setups.figure_columns(figure)
            if figure.provenance is Provenance.COMPUTED:
                continue
            journal.insert_row(
                models.MeasurementTable,
                {"machine_id": machine_id, "setup_id": row["id"], "key": key, **columns},
            )
