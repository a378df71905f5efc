"""Figures measured after fitting: queries that return core values, and the sheet made anew."""

from dataclasses import dataclass
from datetime import date

from jentrik.core.job.confront import Expectation, NewSheet, SizeAgainstMark, new_sheet
from jentrik.core.logbook.inspection import Inspection, Look
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.suspension import ENDS
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.sheet.sheet import Sheet
from jentrik.store import journal, logbook, machines, models
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
            taken.delete(models.Confronted, known["id"])
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
        taken.insert(models.Confronted, job=job_id, key=expected.key, **fields)
    else:
        taken.update(models.Confronted, known["id"], **fields)


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


def put_on_sheet(
    taken: journal.Step,
    job_id: int,
    sheet: Sheet,
    found: PlanResult,
    outcome: Outcome,
    *,
    summary: str,
    on: date,
    by: str,
) -> None:
    """Make a machine's sheet within a step what a job fitted, and note it in the logbook.

    A new tire whose mark was read goes on with its age, as a receiving look.
    """
    measured = {key: one.measured for key, one in measured_of(job_id).items()}
    new = new_sheet(found, outcome, measured, sheet.places, sheet.points)
    _write_sheet(taken, sheet.id, new, on)
    proposal = outcome.proposal
    front, rear = (
        tire.text if tire else None for tire in (proposal.front.tire, proposal.rear.tire)
    )
    logbook.add_fitting(
        taken,
        sheet.id,
        job_id=job_id,
        on=on,
        summary=summary,
        front_tire=front,
        rear_tire=rear,
        sensed_ratio=new.sensed_ratio,
        by=by,
    )
    for end, tire in zip(ENDS, (front, rear), strict=True):
        made = getattr(proposal, end).fitted.made
        if tire is not None and made is not None:
            look = Inspection(end, Look.RECEIVING, on, tire, made=made, by=by)
            logbook.add_look(taken, sheet.id, look, today=on)


def _write_sheet(taken: journal.Step, machine_id: int, new: NewSheet, on: date) -> None:
    for key in new.gone:
        machines.clear_figure(taken, machine_id, key)
    sheet = machines.sheet(machine_id)
    for key in [key for key in sheet.figures if key.startswith("cross.")]:
        machines.clear_figure(taken, machine_id, key)  # held the machine as it was
    for key, (value, measured) in new.figures.items():
        provenance = Provenance.MEASURED if measured else Provenance.ASSUMED
        machines.set_figure(taken, machine_id, key, Figure(value, provenance, on))
    for position in sheet.positions:
        x, y = new.positions.get(position.name, (position.x_mm, position.y_mm))
        if (x, y) != (position.x_mm, position.y_mm):
            taken.update(models.Position, position.id, x_mm=round(x, 2), y_mm=round(y, 2))
    for place, gap, measured in new.places:
        if gap is None:
            machines.drop_line(taken, "place", place.id)
            continue
        provenance = Provenance.MEASURED if measured else Provenance.ASSUMED
        taken.update(
            models.Place,
            place.id,
            gap_mm=round(gap, 1),
            provenance=provenance.value,
            taken_on=on.isoformat(),
        )
    for point, x, height in new.points:
        taken.update(
            models.Point,
            point.id,
            x_mm=round(x, 1),
            height_mm=round(height, 1),
            taken_on=on.isoformat(),
        )
