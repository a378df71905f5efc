"""Set-ups of machines: queries that return core values, and the ways one follows another."""

import json
from collections.abc import Iterable, Mapping
from datetime import date
from functools import lru_cache
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.setup import Parts, Setup, part_of, stance_of
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

FIRST = "As it came"


def figure_of(row: Mapping[str, Any]) -> Figure:
    """Return the figure of a row of measurements."""
    return _figure(
        row["value"], row["provenance"], row["taken_on"], row["plus_minus"], row["readings"]
    )


@lru_cache(maxsize=8192)
def _figure(
    value: str, provenance: str, taken_on: str, plus_minus: float | None, readings: str
) -> Figure:
    """Return a figure of its columns, remembered: the same row reads the same."""
    return Figure(
        json.loads(value),
        Provenance(provenance),
        date.fromisoformat(taken_on),
        plus_minus,
        tuple(json.loads(readings)) if readings != "[]" else (),
    )


def figure_columns(figure: Figure) -> dict[str, Any]:
    """Return the columns a figure is kept in."""
    return {
        "value": json.dumps(figure.value, ensure_ascii=False),
        "provenance": figure.provenance.value,
        "taken_on": figure.taken_on.isoformat(),
        "plus_minus": figure.plus_minus,
        "readings": json.dumps(figure.readings),
    }


def setup_of(
    row: Mapping[str, Any],
    measured: Iterable[Mapping[str, Any]],
    positions: Iterable[Mapping[str, Any]],
) -> Setup:
    """Return the set-up of a row, its parts out of the rows measured in it.

    Where it names no rear position it is in the one the positions were measured from.
    """
    parts: dict[str, Figure] = {}
    for position in positions:
        if not position["x_mm"] and not position["y_mm"]:
            provenance, taken_on = Provenance(position["provenance"]), position["taken_on"]
            parts["set.position"] = Figure(
                position["name"], provenance, date.fromisoformat(taken_on)
            )
    parts |= {line["key"]: figure_of(line) for line in measured if part_of(line["key"])}
    until, sealed = row["until_on"], row["sealed_on"]
    return Setup(
        row["id"],
        row["name"],
        parts,
        date.fromisoformat(row["since_on"]),
        date.fromisoformat(until) if until else None,
        sealed is not None,
        bool(row["reconstructed"]),
        row["job_id"],
    )


def setups(machine_id: int) -> list[Setup]:
    """Return the set-ups of a machine, the oldest first; three queries."""
    measured: dict[int, list[dict[str, Any]]] = {}
    for line in rows("SELECT * FROM measurement WHERE machine_id = ? ORDER BY id", machine_id):
        measured.setdefault(line["setup_id"], []).append(line)
    positions = rows("SELECT * FROM position WHERE machine_id = ?", machine_id)
    return [
        setup_of(row, measured.get(row["id"], ()), positions)
        for row in rows(
            "SELECT * FROM setup WHERE machine_id = ? ORDER BY since_on, id", machine_id
        )
    ]


def names(machine_id: int) -> list[tuple[int, str, date]]:
    """Return id, name and first day of a machine's set-ups, the newest first; one query."""
    return [
        (row["id"], row["name"], date.fromisoformat(row["since_on"]))
        for row in rows(
            "SELECT id, name, since_on FROM setup WHERE machine_id = ?"
            " ORDER BY since_on DESC, id DESC",
            machine_id,
        )
    ]


def setup(machine_id: int, setup_id: int | None) -> Setup:
    """Return one set-up of a machine; refuses one that is not there."""
    for one in setups(machine_id):
        if one.id == setup_id:
            return one
    raise StoreError("There is no such set-up of this machine.", expected="one of its set-ups")


def standing_alike(machine_id: int, setup_id: int) -> tuple[int, ...]:
    """Return the set-ups of a machine in which it stands as in this one, itself among them."""
    known = {one.id: stance_of(one.parts) for one in setups(machine_id)}
    return tuple(one for one, stance in known.items() if stance == known[setup_id])


def current_row(machine_id: int) -> dict[str, Any]:
    """Return the row of what a machine is set up as now; refuses a machine that is gone."""
    row = first_row(
        "SELECT setup.* FROM setup JOIN machine ON machine.setup_id = setup.id"
        " WHERE machine.id = ?",
        machine_id,
    )
    if row is None:
        raise StoreError("There is no such machine.", expected="a machine of this shop")
    return row


def open_first(taken: journal.Step, machine_id: int, *, on: date) -> int:
    """Give a new machine its first set-up within a step and return its id."""
    setup_id = taken.insert(
        models.SetupTable, machine=machine_id, name=FIRST, since_on=on.isoformat()
    )
    taken.update(models.MachineTable, machine_id, setup_id=setup_id)
    return setup_id


def seal(taken: journal.Step, machine_id: int, *, on: date) -> int:
    """Seal what a machine is set up as within a step: it was ridden, logged or handed over."""
    row = current_row(machine_id)
    if row["sealed_on"] is None:
        taken.update(models.SetupTable, row["id"], sealed_on=on.isoformat())
    return int(row["id"])


def follow(
    taken: journal.Step,
    machine_id: int,
    parts: Parts,
    *,
    name: str,
    on: date,
    sealed: bool,
    job_id: int | None = None,
) -> int:
    """Let another set-up follow the current one within a step, from a day on; return its id."""
    before = current_row(machine_id)
    day = max(on.isoformat(), before["since_on"])
    taken.update(
        models.SetupTable,
        before["id"],
        until_on=day,
        **({} if before["sealed_on"] else {"sealed_on": day}),
    )
    setup_id = taken.insert(
        models.SetupTable,
        machine=machine_id,
        name=free_name(machine_id, name),
        since_on=day,
        sealed_on=day if sealed else None,
        job=job_id,
    )
    for key, figure in parts.items():
        taken.insert(
            models.MeasurementTable,
            machine=machine_id,
            setup=setup_id,
            key=key,
            **figure_columns(figure),
        )
    taken.update(models.MachineTable, machine_id, setup_id=setup_id)
    return setup_id


def free_name(machine_id: int, name: str) -> str:
    """Return a name no set-up of a machine has, as near as can be."""
    names = {
        row["name"].casefold()
        for row in rows("SELECT name FROM setup WHERE machine_id = ?", machine_id)
    }
    tries = (name, *(f"{name} ({number})" for number in range(2, len(names) + 3)))
    return next(one for one in tries if one.casefold() not in names)


def rename(taken: journal.Step, machine_id: int, setup_id: int, name: str) -> None:
    """Give a set-up another name within a step; refuses one that is taken."""
    known = setup(machine_id, setup_id)
    if known.name == name:
        return
    if free_name(machine_id, name) != name and known.name.casefold() != name.casefold():
        raise StoreError(
            f"There is a set-up called “{name}” already.",
            field="name",
            expected="a name of its own",
        )
    taken.update(models.SetupTable, setup_id, name=name)
