"""What the harbour-town workshop's logbook held before today: looks, odometers, jobs done.

Invented, and agreeing with itself: tread and odometer go one way, ages are those of the marks.
"""

from datetime import date, datetime, timedelta

import peewee

from jentrik.core.card import CardStep
from jentrik.core.card_text import built_in, steps_of
from jentrik.core.inspection import Inspection, Look
from jentrik.core.ride import SCORES, Ride
from jentrik.core.suspension import End
from jentrik.core.wear import Odometer
from jentrik.store import cards, costs, jobs, journal, logbook, machines, rides

IDA, BO = "Ida", "Bo"

# machine, days ago, km, and of a wheel: left/middle/right mm, signs, cold kPa, week and year
LOOKS: tuple[
    tuple[str, int, float | None, End, tuple[float, float, float] | None, tuple[str, ...],
          float | None, str | None, str], ...
] = (
    ("Breakwater twin", 410, 38_120, "rear", (7.0, 7.1, 7.0), (), 220, "1023", IDA),
    ("Breakwater twin", 410, None, "front", (5.2, 5.4, 5.2), (), 190, "4221", IDA),
    ("Breakwater twin", 225, 41_060, "rear", (6.1, 5.4, 6.0), (), 215, "1023", BO),
    ("Breakwater twin", 60, 43_310, "rear", (5.3, 4.2, 5.3), (), 195, "1023", IDA),
    ("Breakwater twin", 60, None, "front", (4.3, 4.4, 4.3), (), 188, "4221", IDA),
    ("Lighthouse single", 300, 11_400, "rear", (9.0, 8.6, 9.0), (), 210, "3322", BO),
    ("Lighthouse single", 90, 14_900, "rear", (6.1, 4.9, 6.0), ("cut in the rubber only",), 205,
     "3322", BO),
    ("Parcel runner", 180, 22_700, "rear", (4.2, 3.3, 4.1), (), 235, "0823", IDA),
    ("Parcel runner", 35, 28_900, "rear", (2.9, 1.9, 2.8), ("foreign body",), 210, "0823", BO),
    ("Low Tide cruiser", 200, 17_350, "rear", (5.0, 5.1, 5.0), (), 250, "2617", IDA),
    ("Low Tide cruiser", 20, 17_900, "rear", (4.9, 5.0, 4.9), ("cracks between the blocks",), 230,
     "2617", IDA),
    ("Green tourer", 120, 6_420, "rear", None, (), 400, None, BO),
    ("Slipway enduro", 45, None, "rear", (3.6, 2.4, 3.5), (), 160, None, BO),
)  # fmt: skip
DONE = (  # machine, tag, days ago, for what, template, front and rear tire fitted
    ("Lighthouse single", 11, 330, "New rear tire", "Tire swap", None, "130/80-17 65S"),
    ("Green tourer", 12, 140, "New tires before the tour", "Tire swap", "37-622", "37-622"),
    ("Harbour scooter", 14, 75, "Puncture, rear", "Tire swap", None, "3.50-10 51J"),
)


# machine, setup, what is mounted
SETUPS: tuple[tuple[str, str, dict[str, str | float]], ...] = (
    ("Slipway enduro", "As it came", {"front_tire": "58-584", "rear_tire": "58-584",
     "front_kpa": 150.0, "rear_kpa": 165.0, "front_sag_mm": 38.0, "rear_sag_mm": 42.0}),
    ("Slipway enduro", "Less air", {"front_tire": "58-584", "rear_tire": "58-584",
     "front_kpa": 150.0, "rear_kpa": 145.0, "front_sag_mm": 38.0, "rear_sag_mm": 42.0}),
)  # fmt: skip
RIDES = (  # setup, days ago, ground, scores, in words
    ("As it came", 52, "firm", (3, 4, 3, 4, 2, 3, 4), "steps out in the roots"),
    ("As it came", 49, "firm", (3, 4, 3, 4, 2, 3, 4), ""),
    ("As it came", 47, "loose", (3, 4, 2, 4, 2, 3, 4), ""),
    ("Less air", 44, "firm", (4, 4, 4, 4, 4, 3, 4), "odd at first, then holds"),
    ("Less air", 41, "firm", (4, 4, 4, 4, 4, 3, 4), ""),
    ("Less air", 38, "firm", (4, 3, 4, 4, 3, 3, 4), "rim felt once on the slip"),
)  # fmt: skip
PRICES = (  # tag, part, price
    (17, "front tire 47-584", "34.90"), (17, "rear tire 47-584", "34.90"),
    (17, "front tire 54-584", "39.50"), (17, "rear tire 54-584", "39.50"),
    (17, "front rim tape", "6.50"), (17, "rear rim tape", "6.50"),
    (17, "front wheel or rim, bead seat 584 mm", "148.00"),
    (17, "rear wheel or rim, bead seat 584 mm", "179.00"), (17, "rear sprockets", "42.00"),
    (17, "front rim, bead seat 584 mm", "54.00"), (17, "rear rim, bead seat 584 mm", "54.00"),
    (17, "front spokes and nipples", "28.00"), (17, "rear spokes and nipples", "28.00"),
    (22, "front tire 90/90-19 52h", "92.00"), (22, "rear tire 110/90-18 61h", "108.00"),
    (22, "front tire 100/90-19 57h tl", "104.00"), (22, "rear tire 120/90-18 65h tl", "121.00"),
    (22, "front tube", "14.00"), (22, "rear tube", "15.00"),
)  # fmt: skip


def tell(database: peewee.SqliteDatabase, *, now: datetime) -> None:
    """Write the logbook and the jobs that were done into a shop with its machines."""
    ids = {sheet.name: sheet.id for sheet in machines.sheets()}
    for line in DONE:
        _done(database, ids[line[0]], line, now)
    for name, days, km, end, tread, signs, kpa, made, by in LOOKS:
        on = (now - timedelta(days=days)).date()
        tire = machines.sheet(ids[name]).text(f"{end}.tire") or ""
        look = Inspection(end, Look.PERIODIC, on, tire, tread, signs, kpa, made, km, by)
        with journal.step(database, now=now, label="demo", subject=f"demo look {name}",
                          by=by) as step:  # fmt: skip
            logbook.add_look(step, ids[name], look, today=now.date())
            if km is not None:
                logbook.add_odometer(step, ids[name], Odometer(on, km), today=now.date())
    with journal.step(database, now=now, label="demo", subject="demo notes", by=BO) as step:
        scooter, folder = ids["Harbour scooter"], ids["Ferry folder"]
        logbook.add_puncture(step, scooter, end="rear", on=_ago(now, 77), by=BO, today=now.date(),
                             what="oyster shell, 4 mm, middle of the tread",
                             done="tire replaced")  # fmt: skip
        logbook.stand(step, folder, _ago(now, 24), today=now.date())
        twin = ids["Breakwater twin"]
        logbook.add_check(step, twin, on=_ago(now, 410), counted_km=20.4, true_km=20.0,
                          today=now.date())  # fmt: skip

    with journal.step(database, now=now, label="demo", subject="demo rides", by=BO) as step:
        kept = {
            name: (ids[machine], rides.add_setup(step, ids[machine], name, parts,
                                                 on=_ago(now, 55)))
            for machine, name, parts in SETUPS
        }  # fmt: skip
        for name, days, ground, scores, note in RIDES:
            machine_id, setup_id = kept[name]
            ride = Ride(0, setup_id, _ago(now, days), "dry", ground, "as usual", "Bo",
                        "Ridge above the slip", dict(zip(SCORES, scores, strict=True)),
                        note=note, by=BO)  # fmt: skip
            rides.add_ride(step, machine_id, ride, today=now.date())
    tags = {job.tag: job.id for job in jobs.jobs()}
    _under_way(database, tags[21], now)
    with journal.step(database, now=now, label="demo", subject="demo prices", by=IDA) as step:
        for tag, part, price in PRICES:
            costs.set_entry(step, tags[tag], f"price:{part}", price)
        for tire in ("front tire 47-584", "rear tire 47-584"):
            costs.set_entry(step, tags[17], f"life:{tire}", "6000")
        costs.set_entry(step, tags[22], "life:rear tire 110/90-18 61h", "9000")


def _ago(now: datetime, days: int) -> date:
    return (now - timedelta(days=days)).date()


def _done(
    database: peewee.SqliteDatabase, machine_id: int,
    line: tuple[str, int, int, str, str, str | None, str | None], now: datetime,
) -> None:  # fmt: skip
    _, tag, days, wanted, template, front, rear = line
    then = now - timedelta(days=days)
    with journal.step(database, now=then, label="demo", subject=f"demo done {tag}", by=IDA) as step:
        job_id = jobs.add_job(step, machine_id=machine_id, wanted=wanted, at=then, tag=tag)
        changes = {end: {"tire": tire} for end, tire in (("front", front), ("rear", rear)) if tire}
        jobs.add_proposal(step, job_id, changes)
        plans = steps_of(built_in()[template])
        cards.make_card(step, job_id, proposal="A", template=template, steps=plans, at=then)
        card = cards.card_of(job_id)
        assert card is not None
        for one in card.steps:
            cards.write_step(step, one, seen_version=0, **_ticked(one, then))
        summary = f"{wanted}: " + ", ".join(tire for tire in (front, rear) if tire)
        logbook.add_fitting(
            step, machine_id, job_id=job_id, on=then.date(), summary=summary, front_tire=front,
            rear_tire=rear, sensed_ratio=1.0, by=IDA,
        )  # fmt: skip
        jobs.close(step, job_id, at=then)


def _under_way(database: peewee.SqliteDatabase, job_id: int, now: datetime) -> None:
    """Make a card that is half done: the wheels are out, the new tire waits for its rim tape."""
    then = now - timedelta(hours=2)
    with journal.step(database, now=then, label="demo", subject="demo card", by=BO) as step:
        plans = steps_of(built_in()["Tire swap"])
        cards.make_card(step, job_id, proposal="A", template="Tire swap", steps=plans, at=then)
        card = cards.card_of(job_id)
        assert card is not None
        for one in card.steps[:5]:
            cards.write_step(step, one, seen_version=0, **_ticked(one, then))


_READ = {"kPa": "220", "mm": "0.6", "words": "thin one left, long one right"}


def _ticked(step: CardStep, then: datetime) -> dict[str, object]:
    """Return how a step was ticked; no torque is invented for these machines."""
    if step.plan.fastener:
        return {"waived": "torqued by the manual, figure on the paper card (Ida)"}
    return {"done_by": IDA, "done_at": then.isoformat(), "reading": _READ.get(step.plan.unit)}
