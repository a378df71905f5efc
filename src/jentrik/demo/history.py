"""What the harbour-town workshop's logbook held before today: looks, odometers, jobs done.

Invented, and agreeing with itself: tread and odometer go one way, ages are those of the marks.
"""

from contextlib import AbstractContextManager
from datetime import date, datetime, timedelta

import peewee

from jentrik.core.card.card import CardStep
from jentrik.core.card.template import built_in, steps_of
from jentrik.core.job.confront import expectations
from jentrik.core.logbook.inspection import Inspection, Look
from jentrik.core.logbook.ride import SCORES, Ride
from jentrik.core.logbook.wear import Odometer
from jentrik.core.machine.suspension import End
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.plan.uncertainty import tells
from jentrik.exchange.plan_document import read_bike, read_proposal
from jentrik.store import cards, confronted, costs, jobs, journal, logbook, machines, records, rides

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
DONE = (  # machine, tag, days ago, for what, template, front and rear tire fitted
    ("Lighthouse single", 11, 330, "New rear tire", "Tire swap", None, "130/80-17 65S"),
    ("Green tourer", 12, 140, "New tires before the tour", "Tire swap", "37-622", "37-622"),
    ("Harbour scooter", 14, 75, "Puncture, rear", "Tire swap", None, "3.50-10 51J"),
)
# of the cargo bike with its new rear tire
MEASURED_AFTER = {
    "rear.overall_diameter_mm": 655.0,
    "rear.width_mm": 48.5,
    "bb_height_mm": 291.0,
    "place:Chain stays": 9.5,
}

# of the enduro: setup, what is mounted
SETUPS: tuple[tuple[str, dict[str, str | float]], ...] = (
    (
        "As it came",
        {
            "front_tire": "58-584",
            "rear_tire": "58-584",
            "front_kpa": 150.0,
            "rear_kpa": 165.0,
            "front_sag_mm": 38.0,
            "rear_sag_mm": 42.0,
        },
    ),
    (
        "Less air",
        {
            "front_tire": "58-584",
            "rear_tire": "58-584",
            "front_kpa": 150.0,
            "rear_kpa": 145.0,
            "front_sag_mm": 38.0,
            "rear_sag_mm": 42.0,
        },
    ),
)
RIDES = (  # setup, days ago, ground, scores, in words
    ("As it came", 52, "firm", (3, 4, 3, 4, 2, 3, 4), "steps out in the roots"),
    ("As it came", 49, "firm", (3, 4, 3, 4, 2, 3, 4), ""),
    ("As it came", 47, "loose", (3, 4, 2, 4, 2, 3, 4), ""),
    ("Less air", 44, "firm", (4, 4, 4, 4, 4, 3, 4), "odd at first, then holds"),
    ("Less air", 41, "firm", (4, 4, 4, 4, 4, 3, 4), ""),
    ("Less air", 38, "firm", (4, 3, 4, 4, 3, 3, 4), "rim felt once on the slip"),
)
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


def tell(database: peewee.SqliteDatabase, *, now: datetime) -> None:
    """Write the logbook and the jobs that were done into a shop with its machines."""
    ids = {sheet.name: sheet.id for sheet in machines.sheets()}
    for line in DONE:
        _done(database, ids[line[0]], line, now)
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
    for name, parts in SETUPS:
        with demo_step(database, machine_id, now - timedelta(days=55), by=BO) as step:
            setups[name] = rides.add_setup(step, machine_id, name, parts, on=_ago(now, 55))
    for name, days, ground, scores, note in RIDES:
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
    line: tuple[str, int, int, str, str, str | None, str | None],
    now: datetime,
) -> None:
    _, tag, days, wanted, template, front, rear = line
    then = now - timedelta(days=days)
    with demo_step(database, machine_id, then, by=IDA) as step:
        job_id = jobs.add_job(step, machine_id=machine_id, wanted=wanted, at=then, tag=tag)
        changes = {end: {"tire": tire} for end, tire in (("front", front), ("rear", rear)) if tire}
        jobs.add_proposal(step, job_id, changes)
        _card_done(step, job_id, template, then)
        summary = f"{wanted}: " + ", ".join(tire for tire in (front, rear) if tire)
        logbook.add_fitting(
            step,
            machine_id,
            job_id=job_id,
            on=then.date(),
            summary=summary,
            front_tire=front,
            rear_tire=rear,
            sensed_ratio=1.0,
            by=IDA,
        )
        jobs.close(step, job_id, at=then)


def _card_done(
    step: journal.Step, job_id: int, template: str, then: datetime, *, most: int | None = None
) -> None:
    """Make a card of a template and tick its first steps, or all."""
    plans = steps_of(built_in()[template])
    cards.make_card(step, job_id, proposal="A", template=template, steps=plans, at=then)
    card = cards.card_of(job_id)
    assert card is not None
    for one in card.steps[:most]:
        cards.write_step(step, one, seen_version=0, **_ticked(one, then))


def _under_way(database: peewee.SqliteDatabase, job_id: int, now: datetime) -> None:
    """Make a card that is half done: the wheels are out, the new tire waits for its rim tape."""
    then = now - timedelta(hours=2)
    with demo_step(database, jobs.job(job_id).machine_id, then, by=BO) as step:
        _card_done(step, job_id, "Tire swap", then, most=5)


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
        _card_done(step, job_id, "Tire swap", then)
        sheet = machines.sheet(machine_id)
        found = as_measured(read_bike(sheet.bike_values()), on=then.date())
        outcome = outcome_of(found, read_proposal(jobs.job(job_id).proposals[0].values()))
        asked = expectations(found, outcome, tells(sheet, found, outcome.proposal))
        for one in asked:
            if one.key in MEASURED_AFTER:
                confronted.set_measured(
                    step, job_id, one, MEASURED_AFTER[one.key], on=then.date(), by=IDA
                )
        confronted.put_on_sheet(
            step, job_id, sheet, found, outcome, on=then.date(), by=IDA, summary="rear 50-559, new"
        )


def _thrown_away(database: peewee.SqliteDatabase, machine_id: int, now: datetime) -> None:
    """Add a job someone thought better of: it lies in the bin."""
    then = now - timedelta(days=6)
    with demo_step(database, machine_id, then, by=BO) as step:
        job_id = jobs.add_job(
            step, machine_id=machine_id, wanted="Written down twice, see tag 19", at=then, tag=13
        )
        records.bin_job(step, job_id, at=then)


_READ = {"kPa": "220", "mm": "0.6", "words": "thin one left, long one right"}


def _ticked(step: CardStep, then: datetime) -> dict[str, object]:
    """Return how a step was ticked; no torque is invented for these machines."""
    if step.plan.fastener:
        return {"waived": "torqued by the manual, figure on the paper card (Ida)"}
    return {"done_by": IDA, "done_at": then.isoformat(), "reading": _READ.get(step.plan.unit)}
