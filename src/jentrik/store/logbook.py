"""The logbook of machines: looks, odometer, fittings, punctures, standing; queries and changes."""

import json
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import date
from typing import Any

from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.units import read_figure
from jentrik.core.work.card import ODOMETER
from jentrik.core.work.inspection import Inspection, Look, as_it_stands
from jentrik.core.work.wear import DistanceCorrection, Mounted, Odometer, distances, run_on
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

GROWN_MM = 0.3  # of tread: what a gauge and another place on the tire make of it


@dataclass(frozen=True, slots=True)
class KeptLook:
    """A look at a tire with its row."""

    id: int
    machine_id: int
    look: Inspection


@dataclass(frozen=True, slots=True)
class Fitting:
    """What was fitted, from which job, and the ratio of the sensed wheel's circumference."""

    id: int
    machine_id: int
    job_id: int | None
    on: date
    summary: str
    front_tire: str | None
    rear_tire: str | None
    sensed_ratio: float
    by: str

    def tire(self, end: str) -> str | None:
        """Return the tire that was fitted at one end; None where it stayed."""
        return self.front_tire if end == "front" else self.rear_tire


@dataclass(frozen=True, slots=True)
class Puncture:
    """A puncture: what was found, what was done."""

    id: int
    machine_id: int
    end: str
    on: date
    what: str
    done: str
    by: str


@dataclass(frozen=True, slots=True)
class Log:
    """Everything the logbook holds, of one machine or of all, oldest first."""

    looks: tuple[KeptLook, ...]
    odometer: dict[int, tuple[Odometer, ...]]
    checks: dict[int, tuple[DistanceCorrection, ...]]
    fittings: tuple[Fitting, ...]
    punctures: tuple[Puncture, ...]
    standing: dict[int, date]
    mounted: dict[int, tuple[Mounted, ...]]  # of each numbered tire

    def corrections(self, machine_id: int) -> tuple[DistanceCorrection, ...]:
        """Return what a counted km was in truth from each day on: checks, and wheel changes since.

        A bigger sensed wheel goes further for each counted km, by its circumference ratio.
        """
        checked = list(self.checks.get(machine_id, ()))
        for fitting in self.fittings:
            if fitting.machine_id != machine_id or fitting.sensed_ratio == 1.0:
                continue
            before = max(
                (c for c in checked if c.since <= fitting.on),
                key=lambda c: c.since,
                default=DistanceCorrection(fitting.on, 1.0),
            )
            checked.append(
                DistanceCorrection(fitting.on, before.true_per_counted * fitting.sensed_ratio)
            )
            checked.sort(key=lambda c: c.since)
        return tuple(checked)

    def counted(self, machine_id: int) -> list[float]:
        """Return what the odometer showed at each reading, in their order."""
        readings = self.odometer.get(machine_id, ())
        return [reading.km for reading in sorted(readings, key=lambda one: one.on)]

    def run_km(self, machine_id: int, number: int) -> tuple[float, bool] | None:
        """Return the true km a numbered tire ran on a machine, to its last odometer reading.

        And whether readings cover all of it; None where they cover nothing.
        """
        mounted = self.mounted.get(number, ())
        driven = distances(self.odometer.get(machine_id, ()), self.corrections(machine_id))
        if not mounted or len(driven) < 2:
            return None
        run = run_on(driven[-1][0], driven, mounted, self.counted(machine_id))
        whole = all(stay.since >= driven[0][0] for stay in mounted)
        return None if run is None else (run, whole)


# The last so many of each wheel or machine: wear is worked out from no more.
LATEST, LATEST_OF_ALL = 24, 10


def last_km(machine_id: int) -> float | None:
    """Return what stood on a machine's odometer last; None where none was ever read."""
    row = first_row(
        "SELECT km FROM odometer WHERE machine_id = ? ORDER BY taken_on DESC, id DESC LIMIT 1",
        machine_id,
    )
    return row["km"] if row else None


def log(machine_id: int | None = None) -> Log:
    """Return the logbook of one machine, or of all with only the latest of each machine.

    Seven queries however long it is.
    """
    one, asked = ("", ()) if machine_id is None else (" WHERE machine.id = ?", (machine_id,))
    most = LATEST_OF_ALL if machine_id is None else LATEST

    def of(table: str, wheel: str = "") -> list[dict[str, Any]]:
        # Table and wheel are words of ours, never typed; the inner query walks an index.
        only = f" AND wheel = '{wheel}'" if wheel else ""
        return rows(
            f"SELECT line.* FROM machine JOIN {table} AS line ON line.id IN"  # noqa: S608
            f" (SELECT id FROM {table} WHERE machine_id = machine.id{only}"
            f" ORDER BY taken_on DESC, id DESC LIMIT ?){one} ORDER BY line.taken_on, line.id",
            most,
            *asked,
        )

    looks = [*of("inspection", "front"), *of("inspection", "rear")]
    return _log_of(of, looks=looks, mounted=_mounted(machine_id))


def latest(most: int, words: str = "") -> Log:
    """Return the latest lines of each kind over all machines, or those whose words are found.

    When each tire was on its machine is not asked: wear is worked out machine by machine.
    """

    def of(table: str) -> list[dict[str, Any]]:
        found = " WHERE machine_id IN (SELECT rowid FROM machine_words WHERE machine_words MATCH ?)"
        return rows(
            f"SELECT * FROM {table}{found if words else ''}"  # noqa: S608  # words of ours
            " ORDER BY taken_on DESC, id DESC LIMIT ?",
            *((words,) if words else ()),
            most,
        )

    return _log_of(of, looks=of("inspection"))


def _mounted(machine_id: int | None) -> dict[int, tuple[Mounted, ...]]:
    """Return the days each numbered tire was on its machine, of one machine or of all."""
    one, asked = ("", ()) if machine_id is None else (" AND setup.machine_id = ?", (machine_id,))
    stays: dict[int, list[Mounted]] = {}
    on_km, off_km = _km_of_changes(machine_id)
    for row in rows(
        "SELECT setup.id, value, since_on, until_on FROM measurement JOIN setup"  # noqa: S608
        " ON setup.id = setup_id WHERE key IN ('set.front.tire_id', 'set.rear.tire_id')"
        f"{one} ORDER BY since_on, setup.id",
        *asked,
    ):
        until = date.fromisoformat(row["until_on"]) if row["until_on"] else None
        since, number = date.fromisoformat(row["since_on"]), row["id"]
        stay = Mounted(since, until, on_km.get(number), off_km.get(number))
        stays.setdefault(int(float(json.loads(row["value"]))), []).append(stay)
    return {number: tuple(kept) for number, kept in stays.items()}


def _km_of_changes(machine_id: int | None) -> tuple[dict[int, float], dict[int, float]]:
    """Return by set-up what the odometer showed when it went on, and when it came off."""
    one, asked = ("", ()) if machine_id is None else (" AND setup.machine_id = ?", (machine_id,))
    on_km: dict[int, float] = {}
    off_km: dict[int, float] = {}
    last: tuple[int, int] | None = None
    for row in rows(
        "SELECT setup.id, setup.machine_id, card_step.reading FROM setup"  # noqa: S608  # our own
        " LEFT JOIN card ON card.job_id = setup.job_id LEFT JOIN card_step ON card_id = card.id"
        f" AND plan LIKE ? AND reading IS NOT NULL WHERE 1{one}"
        " ORDER BY setup.machine_id, since_on, setup.id",
        f"%measures: {ODOMETER}%",
        *asked,
    ):
        if row["reading"] is not None:
            with suppress(Refusal):  # words, or a figure no odometer has
                on_km[row["id"]] = read_figure(row["reading"], unit="km")
        if last is not None and last[0] == row["machine_id"] and row["id"] in on_km:
            off_km[last[1]] = on_km[row["id"]]
        last = (row["machine_id"], row["id"])
    return on_km, off_km


def _log_of(
    of: Callable[[str], list[dict[str, Any]]],
    *,
    looks: list[dict[str, Any]],
    mounted: dict[int, tuple[Mounted, ...]] | None = None,
) -> Log:
    looks = sorted(looks, key=lambda row: (row["taken_on"], row["id"]))
    odometer: dict[int, list[Odometer]] = {}
    for row in of("odometer"):
        odometer.setdefault(row["machine_id"], []).append(
            Odometer(date.fromisoformat(row["taken_on"]), row["km"], bool(row["swapped"]))
        )
    checks: dict[int, list[DistanceCorrection]] = {}
    for row in of("odometer_check"):
        factor = row["true_km"] / row["counted_km"]
        checks.setdefault(row["machine_id"], []).append(
            DistanceCorrection(date.fromisoformat(row["taken_on"]), factor)
        )
    standing = rows("SELECT id, stands_since FROM machine WHERE stands_since IS NOT NULL")
    return Log(
        looks=tuple(_look(row) for row in looks),
        odometer={key: tuple(lines) for key, lines in odometer.items()},
        checks={key: tuple(lines) for key, lines in checks.items()},
        fittings=tuple(_fitting(row) for row in of("fitting")),
        punctures=tuple(_puncture(row) for row in of("puncture")),
        standing={row["id"]: date.fromisoformat(row["stands_since"]) for row in standing},
        mounted=mounted or {},
    )


def _fitting(row: dict[str, Any]) -> Fitting:
    return Fitting(
        row["id"],
        row["machine_id"],
        row["job_id"],
        date.fromisoformat(row["taken_on"]),
        row["summary"],
        row["front_tire"],
        row["rear_tire"],
        row["sensed_ratio"],
        row["by"],
    )


def _puncture(row: dict[str, Any]) -> Puncture:
    return Puncture(
        row["id"],
        row["machine_id"],
        row["wheel"],
        date.fromisoformat(row["taken_on"]),
        row["what"],
        row["done"],
        row["by"],
    )


def _look(row: dict[str, Any]) -> KeptLook:
    tread = json.loads(row["tread"]) if row["tread"] else None
    return KeptLook(
        row["id"],
        row["machine_id"],
        Inspection(
            end=row["wheel"],
            look=Look(row["look"]),
            on=date.fromisoformat(row["taken_on"]),
            tire=row["tire"],
            tread_mm=(tread[0], tread[1], tread[2]) if tread else None,
            signs=tuple(json.loads(row["signs"])),
            pressure_kpa=row["pressure_kpa"],
            made=row["made"],
            km=row["km"],
            by=row["by"],
            note=row["note"],
            tire_id=row["tire_id"],
            simulated=bool(row["simulated"]),
        ),
    )


def last_look(number: int) -> Inspection | None:
    """Return what the looks at a numbered tire come to, wherever it was on; None without one."""
    seen = rows("SELECT * FROM inspection WHERE tire_id = ? ORDER BY taken_on, id", number)
    return as_it_stands([_look(row).look for row in seen])


def add_look(taken: journal.Step, machine_id: int, look: Inspection, *, today: date) -> None:
    """Add a look within a step; refuses one in the future, and tread that grows on one tire.

    A look at the tire that is on is found by its number, where it has one.
    """
    _not_ahead(look.on, today)
    number = tire_on(machine_id, look.end) if look.look is Look.PERIODIC else None
    _must_not_have_grown(machine_id, look, number)
    taken.insert(
        models.InspectionTable,
        machine=machine_id,
        wheel=look.end,
        look=look.look.value,
        taken_on=look.on.isoformat(),
        tire=look.tire,
        tread=json.dumps(look.tread_mm) if look.tread_mm else None,
        signs=json.dumps(look.signs, ensure_ascii=False),
        pressure_kpa=look.pressure_kpa,
        made=look.made,
        km=look.km,
        by=look.by,
        note=look.note,
        tire_id=number,
        simulated=look.simulated,
    )


def _must_not_have_grown(machine_id: int, look: Inspection, number: int | None) -> None:
    """Refuse more tread than the same tire had at its last inspection."""
    if look.tread_mm is None or look.look is not Look.PERIODIC:
        return
    last = first_row(
        """SELECT * FROM inspection WHERE machine_id = ? AND wheel = ? AND tire = ?
           AND tread IS NOT NULL AND taken_on <= ? AND CASE WHEN ? IS NOT NULL AND
             tire_id IS NOT NULL THEN tire_id = ? ELSE taken_on >= COALESCE(
             (SELECT MAX(taken_on) FROM fitting WHERE machine_id = ? AND
              CASE WHEN ? = 'front' THEN front_tire ELSE rear_tire END IS NOT NULL), '') END
           ORDER BY taken_on DESC, id DESC LIMIT 1""",
        machine_id,
        look.end,
        look.tire,
        look.on.isoformat(),
        number,
        number,
        machine_id,
        look.end,
    )
    if last is None:
        return
    then = json.loads(last["tread"])
    grown = max(now - old for now, old in zip(look.tread_mm, then, strict=True))
    if grown > GROWN_MM:
        raise OutOfRange(
            f"The tread was {'/'.join(f'{mm:g}' for mm in then)} mm on {last['taken_on']} and "
            "would have grown: is it another tire, or a slip of the gauge?",
            field="tread",
            expected="less tread than at the last inspection, or a new tire fitted",
        )


def tire_on(machine_id: int, end: str) -> int | None:
    """Return the number of the tire that is on a machine now; None where it has none."""
    row = first_row(
        "SELECT value FROM measurement JOIN machine ON machine.setup_id = measurement.setup_id"
        " WHERE machine.id = ? AND key = ?",
        machine_id,
        f"set.{end}.tire_id",
    )
    return None if row is None else int(float(json.loads(row["value"])))


def number_looks(
    taken: journal.Step, machine_id: int, end: str, number: int, *, since: date
) -> None:
    """Say within a step which tire the looks at one end were of, from a day on."""
    for row in rows(
        "SELECT id FROM inspection WHERE machine_id = ? AND wheel = ? AND look = ?"
        " AND tire_id IS NULL AND taken_on >= ?",
        machine_id,
        end,
        Look.PERIODIC.value,
        since.isoformat(),
    ):
        taken.update(models.InspectionTable, row["id"], tire_id=number)


def last_fitted(machine_id: int, end: str) -> date:
    """Return the day the tire at one end was fitted; the first of all days where none was."""
    row = first_row(
        "SELECT MAX(taken_on) AS day FROM fitting WHERE machine_id = ? AND"
        " CASE WHEN ? = 'front' THEN front_tire ELSE rear_tire END IS NOT NULL",
        machine_id,
        end,
    )
    return date.fromisoformat(row["day"]) if row and row["day"] else date.min


def add_odometer(taken: journal.Step, machine_id: int, reading: Odometer, *, today: date) -> None:
    """Add a reading within a step; refuses one that runs backwards on the same instrument."""
    _not_ahead(reading.on, today)
    if not 0 <= reading.km <= 2_000_000:
        raise OutOfRange(
            f"{reading.km:g} km is no odometer's reading.",
            field="km",
            expected="km as they stand there",
        )
    near = rows("SELECT * FROM odometer WHERE machine_id = ? ORDER BY taken_on, id", machine_id)
    before = [row for row in near if row["taken_on"] <= reading.on.isoformat()]
    after = [row for row in near if row["taken_on"] > reading.on.isoformat()]
    if before and reading.km < before[-1]["km"] and not reading.swapped:
        raise OutOfRange(
            f"{before[-1]['km']:g} km stood there on {before[-1]['taken_on']}: is it another "
            "instrument, or a slip in typing? Say so if it was swapped.",
            field="km",
            expected="more km than before, or the word that it was swapped",
        )
    if after and reading.km > after[0]["km"] and not after[0]["swapped"]:
        raise OutOfRange(
            f"{after[0]['km']:g} km stood there later, on {after[0]['taken_on']}.",
            field="km",
            expected="fewer km than on the later day",
        )
    taken.insert(
        models.OdometerTable,
        machine=machine_id,
        taken_on=reading.on.isoformat(),
        km=reading.km,
        swapped=reading.swapped,
    )


def add_check(
    taken: journal.Step,
    machine_id: int,
    *,
    on: date,
    counted_km: float,
    true_km: float,
    today: date,
) -> None:
    """Add a check of the odometer over a known distance within a step."""
    _not_ahead(on, today)
    if min(counted_km, true_km) < 1 or not 0.7 <= true_km / counted_km <= 1.4:
        raise OutOfRange(
            "Over a known distance of at least 1 km an odometer is not off by more than a third.",
            field="counted",
            expected="what was counted over the distance, both in km",
        )
    taken.insert(
        models.OdometerCheckTable,
        machine=machine_id,
        taken_on=on.isoformat(),
        counted_km=counted_km,
        true_km=true_km,
    )


def add_fitting(
    taken: journal.Step,
    machine_id: int,
    *,
    job_id: int | None,
    on: date,
    summary: str,
    front_tire: str | None,
    rear_tire: str | None,
    sensed_ratio: float,
    by: str,
) -> None:
    """Note within a step what was fitted."""
    taken.insert(
        models.FittingTable,
        machine=machine_id,
        job=job_id,
        taken_on=on.isoformat(),
        summary=summary,
        front_tire=front_tire,
        rear_tire=rear_tire,
        sensed_ratio=sensed_ratio,
        by=by,
    )


def add_puncture(
    taken: journal.Step,
    machine_id: int,
    *,
    end: str,
    on: date,
    what: str,
    done: str,
    by: str,
    today: date,
) -> None:
    """Note a puncture within a step."""
    _not_ahead(on, today)
    if end not in ("front", "rear"):
        raise StoreError("A puncture is in front or behind.", field="end", expected="a wheel")
    taken.insert(
        models.PunctureTable,
        machine=machine_id,
        wheel=end,
        taken_on=on.isoformat(),
        what=what,
        done=done,
        by=by,
    )


def stand(taken: journal.Step, machine_id: int, since: date | None, *, today: date) -> None:
    """Note within a step since when a machine stands, or that it is ridden again."""
    if since is not None:
        _not_ahead(since, today)
    taken.update(models.MachineTable, machine_id, stands_since=since.isoformat() if since else None)


def _not_ahead(day: date, today: date) -> None:
    if day > today:
        raise OutOfRange(
            f"{day.isoformat()} is still to come.", field="on", expected="today or a day before"
        )
