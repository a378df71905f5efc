"""Figures measured after fitting: queries that return core values, and the sheet made anew."""

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import date

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.kept_wheel import wheel_in, with_wheel
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.setup import Parts, differences, part_of, with_differences
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome
from jentrik.core.plan.proposed_setup import proposed
from jentrik.core.work.after_fitting import Expectation, SizeAgainstMark, sensed_ratio
from jentrik.core.work.card import ODOMETER
from jentrik.core.work.carry_over import tire_line
from jentrik.core.work.inspection import Inspection, Look
from jentrik.core.work.job import Job, KeptProposal
from jentrik.core.work.order_entries import written
from jentrik.core.work.shelf import ShelfTire
from jentrik.core.work.wear import Odometer
from jentrik.store import cards, costs, journal, logbook, machines, models, setups, wheels
from jentrik.store import stock as stocked
from jentrik.store.rows import first_row, rows


@dataclass(frozen=True, slots=True)
class Measured:
    """One figure measured after fitting, and what was expected of it."""

    expected: Expectation
    measured: float
    on: date
    by: str


def measured_of(job_id: int) -> dict[str, Measured]:
    """Return what was measured after a job, by key."""
    return {
        row["key"]: Measured(
            Expectation(
                row["key"],
                row["label"],
                row["unit"],
                row["predicted"],
                row["plus_minus"],
                row["tire"],
            ),
            row["measured"],
            date.fromisoformat(row["taken_on"]),
            row["by"],
        )
        for row in rows("SELECT * FROM confronted WHERE job_id = ? ORDER BY id", job_id)
    }


def set_measured(
    taken: journal.Step,
    job_id: int,
    expected: Expectation,
    measured: float | None,
    *,
    on: date,
    by: str,
) -> None:
    """Write within a step what was measured; None takes it away."""
    known = first_row(
        "SELECT id FROM confronted WHERE job_id = ? AND key = ?", job_id, expected.key
    )
    if measured is None:
        if known is not None:
            taken.delete(models.ConfrontedTable, known["id"])
        return
    fields = {
        "label": expected.label,
        "unit": expected.unit,
        "predicted": expected.predicted,
        "plus_minus": expected.plus_minus,
        "measured": measured,
        "tire": expected.tire,
        "taken_on": on.isoformat(),
        "by": by,
    }
    if known is None:
        taken.insert(models.ConfrontedTable, job=job_id, key=expected.key, **fields)
    else:
        taken.update(models.ConfrontedTable, known["id"], **fields)


def sizes_against_marks() -> list[SizeAgainstMark]:
    """Return every tire measured after fitting against its mark, the last first."""
    return [
        SizeAgainstMark(
            row["tire"],
            "width" if row["key"].endswith("width_mm") else "diameter",
            row["predicted"],
            row["measured"],
        )
        for row in rows(
            "SELECT * FROM confronted WHERE tire != '' ORDER BY taken_on DESC, id DESC LIMIT 500"
        )
    ]


def fit(
    taken: journal.Step,
    job: Job,
    sheet: Sheet,
    kept: KeptProposal,
    outcome: Outcome,
    *,
    name: str,
    summary: str,
    on: date,
    by: str,
) -> None:
    """Let what a job fitted follow what was found within a step, and note it in the logbook.

    Figures measured after fitting are measured in the new set-up.  A new tire whose mark was
    read goes on with its age, as a receiving look.
    """
    assert sheet.setup is not None
    measured = {key: one.measured for key, one in measured_of(job.id).items()}
    read = cards.readings(job.id)
    wheels.number_wheels(taken, sheet.id, name=sheet.setup.name, on=on)
    before = setups.setup(sheet.id, sheet.setup.id).parts
    stock = stocked.take_for(taken, job.id, kept)
    asked = {**fitted_parts(sheet, before, kept, on), **_of_stock(stock, on)}
    asked |= _prices(job.id, outcome, on)
    parts = wheels.change_places(taken, sheet.id, before, asked, name=name, on=on)
    setups.follow(taken, sheet.id, parts, name=name, on=on, sealed=True, job_id=job.id)
    for key, value in measured.items():
        measure(taken, sheet, key, value, on)
    for key, one in read.items():
        if key == ODOMETER:
            with suppress(Refusal):  # one below the last stays on the card
                km = Odometer(on, float(one.value))
                logbook.add_odometer(taken, sheet.id, km, today=on)
        measure(
            taken, sheet, key, one.value, on, simulated=one.simulated, plus_minus=one.plus_minus
        )
    _log(taken, job, sheet, outcome, sensed_ratio(outcome, measured), summary, on, by, stock)


def _log(
    taken: journal.Step,
    job: Job,
    sheet: Sheet,
    outcome: Outcome,
    ratio: float,
    summary: str,
    on: date,
    by: str,
    stock: Mapping[End, ShelfTire],
) -> None:
    """Note a fitting in the logbook within a step, each new tire with its receiving look."""
    proposal = outcome.proposal
    front, rear = (
        tire.text if tire else None for tire in (proposal.front.tire, proposal.rear.tire)
    )
    logbook.add_fitting(
        taken,
        sheet.id,
        job_id=job.id,
        on=on,
        summary=summary,
        front_tire=front,
        rear_tire=rear,
        sensed_ratio=ratio,
        by=by,
    )
    for end, tire in zip(ENDS, (front, rear), strict=True):
        line = stock.get(end)
        made = getattr(proposal, end).fitted.made or (line.made if line else None)
        signs = line.signs if line else ()
        if tire is not None and (made is not None or signs):
            look = Inspection(end, Look.RECEIVING, on, tire, made=made, signs=signs, by=by)
            logbook.add_look(taken, sheet.id, look, today=on)


def _of_stock(stock: Mapping[End, ShelfTire], on: date) -> dict[str, Figure]:
    """Return what goes onto a machine with tires of the shelf: the number of each, its price."""
    parts = {}
    for end, tire in stock.items():
        if tire.tire_id is not None:
            parts[f"set.{end}.tire_id"] = wheels.numbered(tire.tire_id, on)
        if tire.price is not None:
            parts[f"set.{end}.price"] = Figure(float(tire.price), Provenance.MEASURED, on)
    return parts


def _prices(job_id: int, outcome: Outcome, on: date) -> dict[str, Figure]:
    """Return what each new tire cost by the job's order list: it goes with the tire from here."""
    entries, prices = costs.entries(job_id), {}
    for end in ENDS:
        change = getattr(outcome.proposal, end)
        price = written(entries, "price", tire_line(end, change).key) if change.tire else ""
        if price:
            prices[f"set.{end}.price"] = Figure(float(price), Provenance.MEASURED, on)
    return prices


def fitted_parts(sheet: Sheet, before: Parts, kept: KeptProposal, on: date) -> Parts:
    """Return the set-up a proposal leads to from one.

    One that was made of an earlier set-up, or of wheels that are there, is just that, but for what
    was changed in it since.
    """
    asked = proposed(before, kept.changes, on=on, turned_deg=sheet.turned_deg)
    if not kept.takes:
        return asked
    started = proposed(before, kept.takes["changes"], on=on, turned_deg=sheet.turned_deg)
    return with_differences(taken_parts(sheet, before, kept, on), differences(started, asked))


def taken_parts(sheet: Sheet, before: Parts, kept: KeptProposal, on: date) -> Parts:
    """Return the set-up a proposal takes: an earlier one, or this one with other wheels in it."""
    earlier = kept.takes.get("setup")
    parts: Parts = before if earlier is None else setups.setup(sheet.id, earlier).parts
    if earlier is None:
        takes: dict[str, int] = {
            end: kept.takes[end] for end in ENDS if kept.takes.get(end) is not None
        }
        return wheels.with_wheels(parts, sheet.id, takes, on=on)
    for end in ENDS:
        number = wheel_in(parts, end)
        if number is not None and number != wheel_in(before, end):
            parts = with_wheel(parts, end, wheels.wheel(number), on=on)
    return parts


def measure(
    taken: journal.Step,
    sheet: Sheet,
    key: str,
    value: float | str,
    on: date,
    *,
    simulated: bool = False,
    plus_minus: float | None = None,
) -> None:
    """Write what was measured after fitting as measured in the set-up that is on now.

    What is no figure of a sheet or of its set-up is left to the card.
    """
    if key.startswith("place:"):
        name = key.removeprefix("place:")
        key = next(
            (
                f"line.place.{clearance.id}.gap_mm"
                for clearance in sheet.clearances
                if clearance.name == name
            ),
            "",
        )
    elif key == "seat_height_mm":
        key = next(
            (
                f"line.point.{point.id}.height_mm"
                for point in sheet.points
                if point.role is PointRole.SADDLE
            ),
            "",
        )
    if key.startswith("line.") or key in FIELD_BY_KEY or part_of(key) is not None:
        source = Provenance.SIMULATED if simulated else Provenance.MEASURED
        figure = Figure(value, source, on, plus_minus)
        machines.set_figure(taken, sheet.id, key, figure, how=machines.How.READ)
