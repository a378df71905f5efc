"""The harbour-town workshop's past written into its shop: looks, odometers, jobs done, rides."""

from contextlib import AbstractContextManager
from datetime import date, datetime, timedelta

import peewee

from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.setup import Setup
from jentrik.core.plan.plan import Outcome
from jentrik.core.plan.uncertainty import tells
from jentrik.core.work.after_fitting import expectations
from jentrik.core.work.card import CardStep, card_steps, outside
from jentrik.core.work.inspection import Inspection, Look
from jentrik.core.work.order_entries import OrderState
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.core.work.ride import SCORES, Ride
from jentrik.core.work.template import StepPlan, built_in
from jentrik.core.work.wear import Odometer
from jentrik.demo.logged import (
    BO,
    DONE,
    IDA,
    LOOKS,
    MEASURED_AFTER,
    ORDERED_BEFORE,
    PAID,
    PRICED,
    RIDES,
    SETUPS,
    SMALL_REAR,
    WHOSE,
    WINTER_WHEELS,
)
from jentrik.store import (
    after_fitting,
    cards,
    costs,
    documents,
    jobs,
    journal,
    logbook,
    machines,
    records,
    rides,
    setups,
    wheels,
)
from jentrik.store.fitting import fit_job, worked_out
from jentrik.store.proposing import propose_set, propose_setup


def done_before(database: peewee.SqliteDatabase, ids: dict[str, int], *, now: datetime) -> None:
    """Write the jobs that were done before today, machine by machine."""
    for line in DONE:
        _done(database, ids[line[0]], line, now)
    _swapped(database, ids["Lighthouse single"], now)


def write_history(database: peewee.SqliteDatabase, *, now: datetime) -> None:
    """Write the logbook, and the jobs under way, into a shop with its machines."""
    ids = {sheet.name: sheet.id for sheet in machines.sheets()}
    for name, days, km, end, tread, signs, kpa, made, by in LOOKS:
        on = (now - timedelta(days=days)).date()
        tire = machines.sheet(ids[name]).text(f"{end}.tire") or ""
        look = Inspection(end, Look.PERIODIC, on, tire, tread, signs, kpa, made, km, by)
        with demo_step(database, ids[name], now - timedelta(days=days), by=by) as step:
            logbook.add_look(step, ids[name], look, today=now.date())
            if km is not None:
                logbook.add_odometer(step, ids[name], Odometer(on, km), today=now.date())
    _noted(database, ids, now)
    _ridden(database, ids["Slipway enduro"], now)
    _gone_back(database, ids["Slipway enduro"], now)
    tags = {job.tag: job.id for job in jobs.jobs()}
    _under_way(database, tags[21], now)
    _came_in(database, ids["Low Tide cruiser"], now)
    _fitted(database, ids["Fish-quay cargo bike"], now)
    _thrown_away(database, ids["Ferry folder"], now)
    for tag, entries in PRICED.items():
        with demo_step(database, jobs.job(tags[tag]).machine_id, now, by=IDA) as step:
            for key, value in entries.items():
                costs.set_entry(step, tags[tag], key, value)
                if value == OrderState.ORDERED:
                    since, ordered = f"since:{key.partition(':')[2]}", now - ORDERED_BEFORE
                    costs.set_entry(step, tags[tag], since, ordered.date().isoformat())
    _promised(database, now)


def _promised(database: peewee.SqliteDatabase, now: datetime) -> None:
    """Say whose jobs are and for which hour they are promised."""
    for job in jobs.jobs():
        if job.tag in WHOSE:
            with demo_step(database, job.machine_id, now, by=IDA) as step:
                whose, time = WHOSE[job.tag]
                jobs.give_to(step, job.id, whose)
                jobs.set_due(step, job.id, job.due_on, time)


def demo_step(
    database: peewee.SqliteDatabase, machine_id: int | None, then: datetime, *, by: str = ""
) -> AbstractContextManager[journal.Step]:
    """Open a change of the demo's past; undo passes over it."""
    return journal.step(
        database,
        now=then,
        label="demo",
        subject=f"{journal.STAYS} demo",
        machine_id=machine_id,
        author=journal.Author(by),
    )


def _noted(database: peewee.SqliteDatabase, ids: dict[str, int], now: datetime) -> None:
    today = now.date()
    with demo_step(database, ids["Harbour scooter"], now - timedelta(days=77), by=BO) as step:
        logbook.add_puncture(
            step,
            ids["Harbour scooter"],
            end="rear",
            on=_ago(now, 77),
            by=BO,
            today=today,
            what="oyster shell, 4 mm, middle of the tread",
            done="tire replaced",
        )
    with demo_step(database, ids["Ferry folder"], now - timedelta(days=24), by=BO) as step:
        logbook.stand(step, ids["Ferry folder"], _ago(now, 24), today=today)
    with demo_step(database, ids["Breakwater twin"], now - timedelta(days=410), by=BO) as step:
        logbook.add_check(
            step,
            ids["Breakwater twin"],
            on=_ago(now, 410),
            counted_km=20.4,
            true_km=20.0,
            today=today,
        )


def _ridden(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    setups = {}
    for name, days, ground, scores, note in RIDES:
        if name not in setups:
            with demo_step(database, machine_id, now - timedelta(days=days + 1), by=BO) as step:
                setups[name] = rides.set_up(
                    step, machine_id, name, SETUPS[name], on=_ago(now, days + 1)
                )
        ride = Ride(
            0,
            setups[name],
            _ago(now, days),
            "dry",
            ground,
            "as usual",
            "Bo",
            "Ridge above the slip",
            dict(zip(SCORES, scores, strict=True)),
            note=note,
            by=BO,
        )
        with demo_step(database, machine_id, now - timedelta(days=days), by=BO) as step:
            rides.add_ride(step, machine_id, ride, today=now.date())


def _ago(now: datetime, days: int) -> date:
    return (now - timedelta(days=days)).date()


def _done(
    database: peewee.SqliteDatabase,
    machine_id: int,
    line: tuple[str, int, int, str, str | None, str | None],
    now: datetime,
) -> None:
    _, tag, days, wanted, front, rear = line
    then = now - timedelta(days=days)
    with demo_step(database, machine_id, then, by=IDA) as step:
        job_id = jobs.add_job(step, machine_id=machine_id, wanted=wanted, at=then, tag=tag)
        changes = {end: {"tire": tire} for end, tire in (("front", front), ("rear", rear)) if tire}
        jobs.add_proposal(step, job_id, changes)
        for key, value in PAID.get(tag, {}).items():
            costs.set_entry(step, job_id, key, value)
        _card_done(step, job_id, then)
        _fit(step, job_id, then)
        documents.write_done(step, jobs.job(job_id), DEFAULT_POLICY, at=then, by=IDA)
        jobs.close(step, job_id, at=then)


def _fit(step: journal.Step, job_id: int, then: datetime) -> None:
    there = documents.on_bench(jobs.job(job_id), DEFAULT_POLICY, then.date())
    fit_job(step, there, at=then, by=IDA, run_in=True)


def _card_done(step: journal.Step, job_id: int, then: datetime, *, most: int | None = None) -> None:
    """Make a job's card and tick its first steps, or all."""
    there = documents.on_bench(jobs.job(job_id), DEFAULT_POLICY, then.date())
    found, outcome = worked_out(there, there.job.proposals[0])
    plans = card_steps(found.bike, outcome, built_in())
    name = there.job.proposals[0].name
    cards.make_card(step, job_id, proposal=name, template="What changes", steps=plans, at=then)
    card = cards.card_of(job_id)
    assert card is not None
    for one in card.steps[:most]:
        cards.write_step(step, one, seen_version=0, **_ticked(one, then, outcome))


def _swapped(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Give the tall single its winter wheels, put them on last winter and the others in spring."""
    with demo_step(database, machine_id, now - timedelta(days=320), by=IDA) as step:
        on = _ago(now, 320)
        wheels.number_wheels(step, machine_id, name="Summer wheels", on=on)
        there = {
            wheel.end: wheel.id
            for wheel in wheels.wheels_of(machines.sheet(machine_id))
            if wheel.kept == "machine"
        }
        wheels.add_set(step, machine_id, name="Summer wheels", wheels=there)
        winter: dict[End, int | None] = {}
        for end in ENDS:
            parts = {
                key: Figure(value, Provenance.MEASURED, on)
                for key, value in WINTER_WHEELS[end].items()
            }
            winter[end] = wheels.add_wheel(
                step,
                machine_id,
                end=end,
                name=f"Winter wheels, {end}",
                kept="owner",
                parts=parts,
                on=on,
            )
        wheels.add_set(step, machine_id, name="Winter wheels", wheels=winter)
    for tag, days, name in ((15, 318, "Winter wheels"), (16, 230, "Summer wheels")):
        then = now - timedelta(days=days)
        with demo_step(database, machine_id, then, by=IDA) as step:
            job_id = jobs.add_job(
                step, machine_id=machine_id, wanted=f"{name} on", at=then, tag=tag
            )
            known = next(set_ for set_ in wheels.sets_of(machine_id) if set_.name == name)
            propose_set(step, job_id, machine_id, known)
            _card_done(step, job_id, then)
            _fit(step, job_id, then)
            documents.write_done(step, jobs.job(job_id), DEFAULT_POLICY, at=then, by=IDA)
            jobs.close(step, job_id, at=then)


def _gone_back(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Try the enduro's small rear wheel with its chip, then go back: it stepped out too early."""
    back: Setup | None = None
    for tag, days, wanted in ((9, 36, "Small rear wheel tried"), (10, 33, "Back to big wheels")):
        then = now - timedelta(days=days)
        with demo_step(database, machine_id, then, by=BO) as step:
            job_id = jobs.add_job(step, machine_id=machine_id, wanted=wanted, at=then, tag=tag)
            if back is None:
                number = setups.current_row(machine_id)["id"]
                back = setups.setup(machine_id, number)
                jobs.add_proposal(step, job_id, SMALL_REAR)
            else:
                propose_setup(step, job_id, machine_id, back)
            _card_done(step, job_id, then)
            _fit(step, job_id, then)
            documents.write_done(step, jobs.job(job_id), DEFAULT_POLICY, at=then, by=BO)
            jobs.close(step, job_id, at=then)
            for wheel in wheels.wheels_of(machines.sheet(machine_id)):
                if wheel.kept == "owner":  # the small wheel was the workshop's to try
                    wheels.keep_where(step, wheel.id, "shelf")


def _under_way(database: peewee.SqliteDatabase, job_id: int, now: datetime) -> None:
    """Make a card that is half done: the wheels are out, the new tire waits for its rim tape."""
    then = now - timedelta(hours=2)
    with demo_step(database, jobs.job(job_id).machine_id, then, by=BO) as step:
        _card_done(step, job_id, then, most=5)


def _came_in(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Add a job no one has proposed anything for yet."""
    with demo_step(database, machine_id, now, by=BO) as step:
        jobs.add_job(
            step,
            machine_id=machine_id,
            wanted="Rear tire cracks: which one instead?",
            at=now,
            tag=28,
            due_on=_ago(now, -14),
        )


def _fitted(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Add a job that is done, measured and on the sheet, and waits for its first ride."""
    then = now - timedelta(hours=20)
    with demo_step(database, machine_id, then, by=IDA) as step:
        job_id = jobs.add_job(
            step,
            machine_id=machine_id,
            wanted="Rear tire worn to the cord",
            at=then,
            tag=29,
            due_on=now.date(),
        )
        jobs.add_proposal(step, job_id, {"rear": {"tire": "50-559", "fitted": {"made": "1026"}}})
        _card_done(step, job_id, then)
        there = documents.on_bench(jobs.job(job_id), DEFAULT_POLICY, then.date())
        found, outcome = worked_out(there, there.job.proposals[0])
        for expectation in expectations(
            found, outcome, tells(there.sheet, found, outcome.proposal)
        ):
            if expectation.key in MEASURED_AFTER:
                after_fitting.set_measured(
                    step,
                    job_id,
                    expectation,
                    MEASURED_AFTER[expectation.key],
                    on=then.date(),
                    by=IDA,
                )
        _fit(step, job_id, then)


def _thrown_away(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Add a job someone thought better of: it lies in the bin."""
    then = now - timedelta(days=6)
    with demo_step(database, machine_id, then, by=BO) as step:
        job_id = jobs.add_job(
            step, machine_id=machine_id, wanted="Written down twice, see tag 19", at=then, tag=13
        )
        records.bin_job(step, job_id, at=then)


_READ = {
    "tread": "6.5",
    "slack": "32",
    "sag": "40",
    "length": "392",
    "travel": "160",
    "clearance": "12",
    "pressure": "220",
    "spacers": "thin one left, long one right",
    "position": "as asked for, both sides",
    "settled": "talked over with the rider",
}


def _read(plan: StepPlan, outcome: Outcome) -> str | None:
    """Return what was read in a step: what the plan says, else what such a machine has."""
    if not plan.reading:
        return None
    planned = _planned(plan, outcome)
    if planned is not None:
        return f"{planned:.1f}"
    usual = next((text for word, text in _READ.items() if word in plan.reading), "0.6")
    if plan.unit == "words" or not outside(plan, usual):
        return usual
    bounds = [one for one in (plan.at_least, plan.at_most) if one is not None]
    return f"{sum(bounds) / len(bounds):.1f}"


def _planned(plan: StepPlan, outcome: Outcome) -> float | None:
    """Return the figure the plan has for what a step measures; None where it has none."""
    for spot in outcome.figures.clearances:
        if plan.measures == f"place:{spot.place.name}" and spot.predicted_gap_mm is not None:
            return float(spot.predicted_gap_mm)
    known = {"side_stand.lean_deg": outcome.figures.stand_lean_deg}
    for end in ENDS:
        fitted = outcome.figures.wheels.at(end).fitted
        known[f"{end}.fitted.pressure_kpa"] = fitted.pressure_kpa
        known[f"{end}.fitted.tread_mm"] = fitted.tread_mm
    return known.get(plan.measures)


def _ticked(step: CardStep, then: datetime, outcome: Outcome) -> dict[str, object]:
    """Return how a step was ticked; no torque is invented for these machines."""
    if step.plan.fastener:
        return {"waived": "torqued by the manual, figure on the paper card (Ida)"}
    return {"done_by": IDA, "done_at": then.isoformat(), "reading": _read(step.plan, outcome)}
