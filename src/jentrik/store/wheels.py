"""Wheels and wheel sets: queries that return core values, and how wheels change places."""

import json
from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.declared import ENDS, End, Part
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet, wheel_in, wheel_parts, with_wheel
from jentrik.core.machine.setup import CORRECTED, Parts, Setup, part_of
from jentrik.core.machine.sheet import Sheet
from jentrik.exchange.sheet_document import parts_document, parts_of
from jentrik.store import journal, logbook, models, setups, speeds
from jentrik.store.rows import first_row, rows


def wheels_of(sheet: Sheet) -> list[KeptWheel]:
    """Return the wheels of a machine: those on it with their figures of now, then the others."""
    assert sheet.setup is not None
    on = {wheel_in(sheet.setup.parts, end): end for end in ENDS}
    found = []
    for row in rows(
        "SELECT * FROM wheel WHERE machine_id = ? AND binned_at IS NULL ORDER BY id", sheet.id
    ):
        end = on.get(row["id"])
        now = wheel_parts(sheet.setup.parts, end) if end else None
        found.append(_wheel(row, now))
    return sorted(found, key=lambda one: (one.kept != "machine", one.id))


def on_shelf() -> list[KeptWheel]:
    """Return the wheels on the shelf, the newest first."""
    return [one for one, _ in on_shelf_of()]


def on_shelf_of() -> list[tuple[KeptWheel, str]]:
    """Return the wheels on the shelf, the newest first, each with its machine's name."""
    return [
        (_wheel(row, None), row["machine_name"])
        for row in rows(
            "SELECT wheel.*, machine.name AS machine_name FROM wheel"
            " JOIN machine ON machine.id = wheel.machine_id"
            " WHERE kept = 'shelf' AND wheel.binned_at IS NULL ORDER BY wheel.id DESC"
        )
    ]


def wheel(wheel_id: int) -> KeptWheel:
    """Return one wheel as it was put away; refuses one that is gone."""
    row = first_row("SELECT * FROM wheel WHERE id = ? AND binned_at IS NULL", wheel_id)
    if row is None:
        raise StoreError("There is no such wheel any more.", expected="a wheel of this shop")
    return _wheel(row, None)


def wheel_now(wheel_id: int) -> KeptWheel:
    """Return one wheel with its figures of now: those of the set-up while it is on a machine."""
    known = wheel(wheel_id)
    if known.kept != "machine" or known.machine_id is None:
        return known
    now = setups.current_row(known.machine_id)["id"]
    parts = setups.setup(known.machine_id, now).parts
    return replace(known, parts=wheel_parts(parts, known.end))


def _wheel(row: Mapping[str, Any], now: Mapping[str, Figure] | None) -> KeptWheel:
    parts = parts_of(json.loads(row["parts"])) if now is None else now
    return KeptWheel(
        row["id"],
        row["name"],
        row["wheel"],
        row["kept"],
        parts,
        row["machine_id"],
        row["place"],
        Decimal(row["price"]) if row["price"] else None,
        row["job_id"],
        row["photo"],
    )


def sets_of(machine_id: int) -> list[WheelSet]:
    """Return the wheel sets of a machine, by name."""
    return [
        WheelSet(row["id"], row["name"], row["front_wheel_id"], row["rear_wheel_id"])
        for row in rows("SELECT * FROM wheel_set WHERE machine_id = ? ORDER BY name", machine_id)
    ]


def wheel_set(machine_id: int, set_id: int | None) -> WheelSet:
    """Return one wheel set of a machine; refuses one that is not there."""
    for set_ in sets_of(machine_id):
        if set_.id == set_id:
            return set_
    raise StoreError("There is no such wheel set.", expected="a wheel set of this machine")


OF_A_SET = (Part.INSTRUMENT, Part.SAG, Part.SPROCKETS)  # what a set has its own of, beside wheels
_OF_THE_MACHINE = ("gearing.front_sprocket", "gearing.chainrings")  # stays, whatever wheels go in


def last_on(machine_id: int, takes: Mapping[str, int]) -> Setup | None:
    """Return the last set-up of a machine in which wheels were on; None where they never were."""
    return next(
        (
            one
            for one in reversed(setups.setups(machine_id))
            if all(wheel_in(one.parts, end) == takes[end] for end in ENDS if end in takes)
        ),
        None,
    )


def with_wheels(parts: Parts, machine_id: int, takes: Mapping[str, int], *, on: date) -> Parts:
    """Return a set-up with wheels in it, and with what was set for them when they were on."""
    then = last_on(machine_id, takes)
    for end in ENDS:
        if end in takes and takes[end] != wheel_in(parts, end):
            parts = with_wheel(parts, end, wheel(takes[end]), on=on)
    if then is None:
        return parts
    own = {
        key: figure
        for key, figure in then.parts.items()
        if (of := part_of(key)) and of[0] in OF_A_SET and key not in _OF_THE_MACHINE
    }
    kept = {key: figure for key, figure in parts.items() if key != CORRECTED}
    return {**kept, **own}


def add_wheel(
    taken: journal.Step,
    machine_id: int | None,
    *,
    end: End,
    name: str,
    kept: str,
    parts: Mapping[str, Figure],
    on: date,
) -> int:
    """Put a wheel in the owner's keeping or on the shelf within a step and return its number."""
    return taken.insert(
        models.WheelTable,
        machine=machine_id,
        name=name,
        kept=kept,
        wheel=end,
        parts=json.dumps(parts_document(parts), ensure_ascii=False),
        added_on=on.isoformat(),
    )


def add_set(
    taken: journal.Step, machine_id: int, *, name: str, wheels: Mapping[End, int | None]
) -> int:
    """Name a pair of wheels within a step; refuses a name that is taken."""
    if any(set_.name.casefold() == name.casefold() for set_ in sets_of(machine_id)):
        raise StoreError(
            f"There is a wheel set called “{name}” already.",
            field="set",
            expected="a name of its own",
        )
    return taken.insert(
        models.WheelSetTable,
        machine=machine_id,
        name=name,
        front_wheel=wheels.get("front"),
        rear_wheel=wheels.get("rear"),
    )


def number_wheels(taken: journal.Step, machine_id: int, *, name: str, on: date) -> None:
    """Give wheels and tires that are on a machine their numbers within a step, where they lack.

    A number is no part that is set otherwise: the set-up stays the one it is.  Looks and speed
    pairs taken so far are of what is on.
    """
    current = setups.setup(machine_id, setups.current_row(machine_id)["id"])
    for end in ENDS:
        if wheel_in(current.parts, end) is None:
            wheel_id = add_wheel(
                taken, machine_id, end=end, name=f"{name}, {end}", kept="machine", parts={}, on=on
            )
            _number(taken, machine_id, current.id, f"set.{end}.wheel", wheel_id, on)
        if f"set.{end}.tire_id" not in current.parts and f"{end}.tire" in current.parts:
            tire_id = next_tire_id()
            _number(taken, machine_id, current.id, f"set.{end}.tire_id", tire_id, on)
            since = logbook.last_fitted(machine_id, end)
            logbook.number_looks(taken, machine_id, end, tire_id, since=since)
    sensed = speeds.sensed_wheel(machine_id)
    if sensed is not None:
        speeds.number_pairs(taken, machine_id, sensed)


def next_tire_id() -> int:
    """Return a number no tire ever had."""
    row = first_row(
        "INSERT INTO last_id (name, id) VALUES ('tire', 1)"
        " ON CONFLICT (name) DO UPDATE SET id = id + 1 RETURNING id"
    )
    assert row is not None
    return int(row["id"])


def use_tire_ids_up_to(number: int) -> None:
    """Note that tires up to that number came from elsewhere: the next one gets a higher one."""
    models.MachineTable._meta.database.execute_sql(
        "INSERT INTO last_id (name, id) VALUES ('tire', ?)"
        " ON CONFLICT (name) DO UPDATE SET id = MAX(id, excluded.id)",
        (number,),
    )


def _number(
    taken: journal.Step, machine_id: int, setup_id: int, key: str, number: int, on: date
) -> None:
    taken.insert(
        models.MeasurementTable,
        machine=machine_id,
        setup=setup_id,
        key=key,
        **setups.figure_columns(numbered(number, on)),
    )


def numbered(number: int, on: date) -> Figure:
    """Return a number as a set-up keeps it."""
    return Figure(float(number), Provenance.MEASURED, on)


def change_places(
    taken: journal.Step, machine_id: int, before: Parts, after: Parts, *, name: str, on: date
) -> dict[str, Figure]:
    """Put away within a step what came off a machine, and put on what went in.

    Returns the parts of the new set-up, each wheel and tire with its number.  A wheel that came
    off goes into its owner's keeping as it was.
    """
    new = dict(after)
    for end in ENDS:
        old, now = wheel_in(before, end), wheel_in(after, end)
        if now is None:
            now = add_wheel(
                taken, machine_id, end=end, name=f"{name}, {end}", kept="machine", parts={}, on=on
            )
            new[f"set.{end}.wheel"] = numbered(now, on)
        if f"set.{end}.tire_id" not in new and f"{end}.tire" in new:
            new[f"set.{end}.tire_id"] = numbered(next_tire_id(), on)
        if now == old:
            continue
        taken.update(models.WheelTable, now, kept="machine", machine=machine_id)
        if old is not None:
            off = {k: v for k, v in wheel_parts(before, end).items() if k != "set.wheel"}
            parts = json.dumps(parts_document(off), ensure_ascii=False)
            taken.update(models.WheelTable, old, kept="owner", parts=parts)
    return new


def drop_wheel(taken: journal.Step, wheel_id: int, *, at: str) -> None:
    """Put a wheel that is off in the bin within a step."""
    if wheel(wheel_id).kept == "machine":
        raise StoreError(
            "This wheel is on the machine.", field="wheel", expected="a wheel that is off"
        )
    taken.update(models.WheelTable, wheel_id, binned_at=at)


def keep_where(taken: journal.Step, wheel_id: int, kept: str) -> None:
    """Move a wheel that is off between its owner's keeping and the shelf within a step."""
    if wheel(wheel_id).kept == "machine" or kept not in ("owner", "shelf"):
        raise StoreError(
            "This wheel is on the machine.", field="wheel", expected="a wheel that is off"
        )
    taken.update(models.WheelTable, wheel_id, kept=kept)


def set_wheel(taken: journal.Step, wheel_id: int, **columns: Any) -> None:
    """Write columns of a wheel's row within a step; refuses one that is gone."""
    taken.update(models.WheelTable, wheel(wheel_id).id, **columns)


def rename_wheel(taken: journal.Step, wheel_id: int, name: str) -> None:
    """Give a wheel another name within a step."""
    set_wheel(taken, wheel_id, name=name)
