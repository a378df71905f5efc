"""What the harbour-town workshop's logbook held before today: looks, odometers, jobs done.

Invented, and agreeing with itself: tread and odometer go one way, ages are those of the marks.
"""

from contextlib import AbstractContextManager
from datetime import date, datetime, timedelta

import peewee

from jentrik.core.card.card import CardStep, card_steps
from jentrik.core.card.template import StepPlan, built_in
from jentrik.core.job.after_fitting import expectations
from jentrik.core.logbook.inspection import Inspection, Look
from jentrik.core.logbook.ride import SCORES, Ride
from jentrik.core.logbook.wear import Odometer
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.setup import Setup
from jentrik.core.machine.suspension import ENDS, End
from jentrik.core.plan.uncertainty import tells
from jentrik.core.shop.policy import DEFAULT_POLICY
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

IDA, BO = "Ida", "Bo"

# machine, days ago, km, and of a wheel: left/middle/right mm, signs, cold kPa, week and year
LOOKS: tuple[
    tuple[
        str,
        int,
        float | None,
        End,
        tuple[float, float, float] | None,
        tuple[str, ...],
        float | None,
        str | None,
        str,
    ],
    ...,
] = (
    ("Breakwater twin", 410, 38_120, "rear", (7.0, 7.1, 7.0), (), 220, "1023", IDA),
    ("Breakwater twin", 410, None, "front", (5.2, 5.4, 5.2), (), 190, "4221", IDA),
    ("Breakwater twin", 225, 41_060, "rear", (6.1, 5.4, 6.0), (), 215, "1023", BO),
    ("Breakwater twin", 60, 43_310, "rear", (5.3, 4.2, 5.3), (), 195, "1023", IDA),
    ("Breakwater twin", 60, None, "front", (4.3, 4.4, 4.3), (), 188, "4221", IDA),
    ("Lighthouse single", 300, 11_400, "rear", (9.0, 8.6, 9.0), (), 210, "3322", BO),
    (
        "Lighthouse single",
        90,
        14_900,
        "rear",
        (6.1, 4.9, 6.0),
        ("cut in the rubber only",),
        205,
        "3322",
        BO,
    ),
    ("Parcel runner", 180, 22_700, "rear", (4.2, 3.3, 4.1), (), 235, "0823", IDA),
    ("Parcel runner", 35, 28_900, "rear", (2.9, 1.9, 2.8), ("foreign body",), 210, "0823", BO),
    ("Low Tide cruiser", 200, 17_350, "rear", (5.0, 5.1, 5.0), (), 250, "2617", IDA),
    (
        "Low Tide cruiser",
        20,
        17_900,
        "rear",
        (4.9, 5.0, 4.9),
        ("cracks between the blocks",),
        230,
        "2617",
        IDA,
    ),
    ("Green tourer", 120, 6_420, "rear", None, (), 400, None, BO),
    ("Slipway enduro", 45, None, "rear", (3.6, 2.4, 3.5), (), 160, None, BO),
)
DONE = (  # machine, tag, days ago, for what, front and rear tire fitted
    ("Lighthouse single", 11, 330, "New rear tire", None, "130/80-17 65S"),
    ("Green tourer", 12, 140, "New tires before the tour", "37-622", "37-622"),
    ("Harbour scooter", 14, 75, "Puncture, rear", None, "3.50-10 51J"),
)
# of the cargo bike with its new rear tire
MEASURED_AFTER = {
    "rear.overall_diameter_mm": 655.0,
    "rear.width_mm": 48.5,
    "bb_height_mm": 291.0,
    "place:Chain stays": 9.5,
}

_ENDURO: dict[str, str | float] = {
    "front.tire": "58-584",
    "rear.tire": "58-584",
    "front.fitted.pressure_kpa": 150.0,
    "suspension.front.sag_mm": 38.0,
    "suspension.rear.sag_mm": 42.0,
}
# of the enduro: set-up, how it is set
SETUPS: dict[str, dict[str, str | float]] = {
    "As it came": {**_ENDURO, "rear.fitted.pressure_kpa": 165.0},
    "Less air": {**_ENDURO, "rear.fitted.pressure_kpa": 145.0},
}
RIDES = (  # setup, days ago, ground, scores, in words
    ("As it came", 52, "firm", (3, 4, 3, 4, 2, 3, 4), "steps out in the roots"),
    ("As it came", 49, "firm", (3, 4, 3, 4, 2, 3, 4), ""),
    ("As it came", 47, "loose", (3, 4, 2, 4, 2, 3, 4), ""),
    ("Less air", 44, "firm", (4, 4, 4, 4, 4, 3, 4), "odd at first, then holds"),
    ("Less air", 41, "firm", (4, 4, 4, 4, 4, 3, 4), ""),
    ("Less air", 38, "firm", (4, 3, 4, 4, 3, 3, 4), "rim felt once on the slip"),
)
# Of the tall single: its second set.
WINTER_WHEELS: dict[End, dict[str, str | float]] = {
    "front": {
        "tire": "90/90-21 54S TT",
        "fitted.make": "Skerry Nail",
        "rim.bead_seat_diameter_mm": 533.0,
        "hub.rotor_mm": 300.0,
        "tone_ring_slots": 48.0,
        "fitted.pressure_kpa": 190.0,
    },
    "rear": {
        "tire": "120/90-17 64S TT",
        "fitted.make": "Skerry Nail",
        "rim.bead_seat_diameter_mm": 432.0,
        "tone_ring_slots": 44.0,
        "fitted.pressure_kpa": 210.0,
    },
}
SMALL_REAR = {"rear": {"tire": "58-559"}, "position": "Small wheel"}
PRICED = {  # by tag: prices and how far a tire goes, as typed in the order list
    17: {
        "price:front tire 47-584": "34.90",
        "price:rear tire 47-584": "34.90",
        "price:front tire 54-584": "39.50",
        "price:rear tire 54-584": "39.50",
        "price:front rim tape": "6.50",
        "price:rear rim tape": "6.50",
        "price:front wheel or rim, bead seat 584 mm": "148.00",
        "price:rear wheel or rim, bead seat 584 mm": "179.00",
        "price:rear sprockets": "42.00",
        "price:front rim, bead seat 584 mm": "54.00",
        "price:rear rim, bead seat 584 mm": "54.00",
        "price:front spokes and nipples": "28.00",
        "price:rear spokes and nipples": "28.00",
        "life:front tire 47-584": "6000",
        "life:rear tire 47-584": "6000",
    },
    22: {
        "price:front tire 90/90-19 52h": "92.00",
        "price:rear tire 110/90-18 61h": "108.00",
        "price:front tire 100/90-19 57h tl": "104.00",
        "price:rear tire 120/90-18 65h tl": "121.00",
        "price:front tube": "14.00",
        "price:rear tube": "15.00",
        "life:rear tire 110/90-18 61h": "9000",
    },
}


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
        _card_done(step, job_id, then)
        _fit(step, job_id, then)
        documents.write_done(step, jobs.job(job_id), DEFAULT_POLICY, at=then, by=IDA)
        jobs.close(step, job_id, at=then)


def _fit(step: journal.Step, job_id: int, then: datetime) -> None:
    there = documents.on_bench(jobs.job(job_id), DEFAULT_POLICY, then.date())
    fit_job(step, there, at=then, by=IDA)


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
        cards.write_step(step, one, seen_version=0, **_ticked(one, then))


def _swapped(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Give the tall single its winter wheels, put them on last winter and the others in spring."""
    with demo_step(database, machine_id, now - timedelta(days=320), by=IDA) as step:
        on = _ago(now, 320)
        wheels.number_wheels(step, machine_id, name="Summer wheels", on=on)
        there = {
            one.end: one.id
            for one in wheels.wheels_of(machines.sheet(machine_id))
            if one.kept == "machine"
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
            known = next(one for one in wheels.sets_of(machine_id) if one.name == name)
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
            for one in wheels.wheels_of(machines.sheet(machine_id)):
                if one.kept == "owner":  # the small wheel was the workshop's to try
                    wheels.keep_where(step, one.id, "shelf")


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
        for one in expectations(found, outcome, tells(there.sheet, found, outcome.proposal)):
            if one.key in MEASURED_AFTER:
                after_fitting.set_measured(
                    step, job_id, one, MEASURED_AFTER[one.key], on=then.date(), by=IDA
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


def _read(plan: StepPlan) -> str | None:
    """Return what was read in a step."""
    if not plan.reading:
        return None
    if plan.at_least is not None:
        return f"{plan.at_least + 3:.0f}"
    if plan.reading.endswith("sensor gap"):
        return "0.8"
    return next((text for word, text in _READ.items() if word in plan.reading), "0.6")


def _ticked(step: CardStep, then: datetime) -> dict[str, object]:
    """Return how a step was ticked; no torque is invented for these machines."""
    if step.plan.fastener:
        return {"waived": "torqued by the manual, figure on the paper card (Ida)"}
    return {"done_by": IDA, "done_at": then.isoformat(), "reading": _read(step.plan)}
