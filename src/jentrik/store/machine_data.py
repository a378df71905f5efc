"""What a machine's own pages and the logbook show, loaded once: the pages then query nothing."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from jentrik.core.errors import StoreError
from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet
from jentrik.core.machine.setup import Setup
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.tires_off import TireOff, tires_off
from jentrik.core.work.due import Due
from jentrik.core.work.job import Job
from jentrik.core.work.ride import Ride
from jentrik.store import (
    documents,
    jobs,
    list_rows,
    logbook,
    machines,
    rides,
    setups,
    shelf,
    wheels,
)
from jentrik.store.documents import JobDocument
from jentrik.store.jobs import ClosedJob
from jentrik.store.listing import matching
from jentrik.store.logbook import Log

Ridden = tuple[int, str, Ride]  # the machine, the set-up's name, the ride


@dataclass(frozen=True, slots=True)
class MachineData:
    """A machine with its open jobs, its set-ups, its wheels and sets, and its logbook."""

    sheet: Sheet
    jobs: tuple[Job, ...]
    setups: tuple[Setup, ...]
    wheels: tuple[KeptWheel, ...]
    sets: tuple[WheelSet, ...]
    log: Log
    off: tuple[TireOff, ...]  # tires that came off and lie nowhere we know


@dataclass(frozen=True, slots=True)
class LogData:
    """Entries of the logbook, with the machines they are of."""

    sheets: Mapping[int, Sheet]
    log: Log
    ridden: tuple[Ridden, ...]
    closed: tuple[ClosedJob, ...]
    open_jobs: tuple[Job, ...] = ()
    documents: tuple[JobDocument, ...] = ()


@dataclass(frozen=True, slots=True)
class DueData:
    """What is due of tires and jobs, and the machines that stand, each since its day."""

    due: tuple[Due, ...]
    standing: tuple[tuple[int, str, date], ...]


def machine_data(machine_id: int) -> MachineData:
    """Return a machine with what its page shows; refuses one that is not there."""
    sheet = machines.sheet(machine_id)
    known, there = setups.setups(machine_id), wheels.wheels_of(sheet)
    return MachineData(
        sheet,
        tuple(jobs.open_jobs_of(machine_id)),
        tuple(known),
        tuple(there),
        tuple(wheels.sets_of(machine_id)),
        logbook.log(machine_id),
        tuple(tires_off(known, shelf.numbers_on_shelf() | _on_wheels(there))),
    )


def _on_wheels(there: Iterable[KeptWheel]) -> set[int]:
    """Return the numbers of the tires that are on wheels."""
    return {
        int(float(one.parts["set.tire_id"].value)) for one in there if "set.tire_id" in one.parts
    }


def tire_that_came_off(machine_id: int, number: int) -> TireOff:
    """Return a tire that came off a machine and lies nowhere; refuses one that is somewhere."""
    for one in machine_data(machine_id).off:
        if one.number == number:
            return one
    raise StoreError(
        "That tire is on a wheel or on the shelf already.", expected="a tire that came off"
    )


def log_of_machine(machine_id: int, *, most: int) -> LogData:
    """Return everything in one machine's logbook; of closed jobs the last so many."""
    sheet, ridden = machines.sheet(machine_id), rides.rides(machine_id)
    return LogData(
        {machine_id: sheet},
        logbook.log(machine_id),
        tuple(
            (machine_id, setup.name, ride)
            for setup in setups.setups(machine_id)
            for ride in ridden
            if ride.setup_id == setup.id
        ),
        tuple(jobs.closed_jobs(machine_id, most=most)),
        tuple(jobs.open_jobs_of(machine_id)),
        tuple(documents.documents_of(machine_id)),
    )


def log_of_shop(most: int, *, find: str, figures: Collection[str]) -> LogData:
    """Return the latest entries of the shop's logbook that have the words looked for.

    The named figures are loaded of machines with a look at a tire alone: they judge it.
    """
    words = matching(find)
    log, ridden = logbook.latest(most, words), rides.latest_rides(most, words)
    closed = jobs.closed_jobs(most=most, words=words)
    ids = {look.machine_id for look in log.looks} | {job.machine_id for job in closed}
    ids |= {fitting.machine_id for fitting in log.fittings} | {
        puncture.machine_id for puncture in log.punctures
    }
    ids |= {*log.odometer, *log.checks, *(machine_id for machine_id, _, _ in ridden)}
    looked_at = {look.machine_id for look in log.looks}
    sheets = machines.brief(ids - looked_at, ()) | machines.brief(looked_at, figures)
    return LogData(sheets, log, tuple(ridden), tuple(closed))


def due_in_shop(*, most: int = 100_000) -> DueData:
    """Return what is due in the shop, so many of each kind, the earliest first."""
    due = [*list_rows.due_of_tires(most=most), *list_rows.due_of_jobs(most=most)]
    return DueData(tuple(due), tuple(list_rows.standing(most=most)))
