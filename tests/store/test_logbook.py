"""The logbook's rows: order, limits, what is due, and the demo's believable past."""

from datetime import date, timedelta
from typing import Any

import pytest

from jentrik.core.work.due import Due
from jentrik.core.work.inspection import Inspection, Look
from jentrik.core.work.policy import DEFAULT_POLICY, AgeSchool, Policy
from jentrik.core.work.wear import Odometer
from jentrik.store import cards, jobs, logbook, machines, records, rides
from jentrik.web.parts.tires_in_use import due_of_machine, tires_in_use
from jentrik.web.shop import Shop

M = 3  # the folder: nothing noted but that it stands


def note(
    shop: Shop,
    days: int,
    tread: tuple[float, float, float] | None = None,
    km: int | None = None,
    **more: Any,
) -> None:
    on = shop.today - timedelta(days=days)
    look = Inspection("front", Look.PERIODIC, on, "40-305", tread, **more)
    with shop.step("look", f"look {days}", machine_id=M) as step:
        logbook.add_look(step, M, look, today=shop.today)
        if km is not None:
            logbook.add_odometer(step, M, Odometer(on, km), today=shop.today)


def due(shop: Shop, policy: Policy = DEFAULT_POLICY) -> dict[str, Due]:
    result = [
        one
        for sheet in machines.sheets()
        for one in due_of_machine(
            sheet, jobs.open_jobs_of(sheet.id), logbook.log(sheet.id), policy, shop.today
        )
    ]
    assert len({one.key for one in result}) == len(result)
    return {one.key: one for one in result}


def test_one_machine_and_all_agree_on_the_latest(shop: Shop) -> None:
    for days in range(40, 0, -1):
        note(shop, days)
    one = [kept.look.on for kept in logbook.log(M).looks]
    every = [kept.look.on for kept in logbook.log().looks if kept.machine_id == M]
    assert len(one) == logbook.LATEST
    assert every == one[-logbook.LATEST_OF_ALL :]
    assert one == sorted(one)


def test_a_bicycles_tread_is_watched_but_no_rule_makes_it_due(shop: Shop) -> None:
    note(shop, 100, (4.0, 4.0, 4.0), 1000)
    note(shop, 0, (3.0, 3.0, 3.0), 3000)
    result = due(shop)
    assert f"tread-{M}-front" not in result
    assert result[f"look-{M}-front"].on == shop.today + timedelta(days=183)  # six months
    (front, _) = tires_in_use(machines.sheet(M), logbook.log(M), DEFAULT_POLICY)
    assert front.rate(3.0).mm_per_1000_km == pytest.approx(0.5)
    assert front.pace_km_a_day == pytest.approx(20)


def test_age_is_due_by_years_and_not_by_condition(shop: Shop) -> None:
    note(shop, 10, made="4816")
    # Sunday 27 November 2016 and ten mean years.
    assert due(shop)[f"age-{M}-front"].on == date(2026, 11, 27)
    by_condition = DEFAULT_POLICY.having({"rubber.age_school": AgeSchool.CONDITION})
    assert f"age-{M}-front" not in due(shop, by_condition)


def test_a_tire_judged_to_be_replaced_is_due_now(shop: Shop) -> None:
    note(shop, 10, signs=("cut to the casing",))
    assert due(shop)[f"judged-{M}-front"].on == shop.today - timedelta(days=10)
    assert due(shop)[f"judged-{M}-front"].what == "replace the front tire"


def test_another_tire_begins_anew(shop: Shop) -> None:
    note(shop, 100, (2.0, 2.0, 2.0), 1000)
    with shop.step("fitted", "fitted", machine_id=M) as step:
        logbook.add_fitting(
            step,
            M,
            job_id=None,
            on=shop.today - timedelta(days=50),
            summary="new",
            front_tire="40-305",
            rear_tire=None,
            sensed_ratio=1.0,
            by="",
        )
    note(shop, 10, (4.0, 4.0, 4.0))  # grows, and may: it is a new one
    front, rear = tires_in_use(machines.sheet(M), logbook.log(M), DEFAULT_POLICY)
    assert [look.least_tread_mm for look in front.looks] == [4.0]
    assert rear.looks == ()


def test_a_look_before_mounting_is_of_the_tire_that_went_on_and_of_no_other(shop: Shop) -> None:
    def seen() -> list[Any]:
        (front, _) = tires_in_use(machines.sheet(M), logbook.log(M), DEFAULT_POLICY)
        return [(look.on, look.least_tread_mm, look.made) for look in front.looks]

    note(shop, 30, (2.0, 2.0, 2.0))
    for tire, made in (("40-305", "2026"), ("47-305", "0126")):
        new = Inspection(
            "front", Look.RECEIVING, shop.today - timedelta(days=9), tire, (5.0,) * 3, made=made
        )
        with shop.step("new", tire, machine_id=M) as step:
            logbook.add_look(step, M, new, today=shop.today)
    assert seen() == [(shop.today - timedelta(days=30), 2.0, None)]  # neither is on it yet
    on = shop.today - timedelta(days=7)
    with shop.step("fitted", "fitted", machine_id=M) as step:
        logbook.add_fitting(
            step,
            M,
            job_id=None,
            on=on,
            summary="new",
            front_tire="47 - 305",
            rear_tire=None,
            sensed_ratio=1.0,
            by="",
        )
    assert seen() == [(on, 5.0, "0126")]  # it begins on the day it went on


def test_a_standing_machine_is_moved_each_so_many_weeks(shop: Shop) -> None:
    often = DEFAULT_POLICY.having({"upkeep.move_weeks": 1.0})
    first, more = due(shop)[f"stand-{M}"], due(shop, often)[f"stand-{M}"]
    assert more.on <= first.on
    assert (more.on - shop.today).days < 7


def test_the_demos_past_agrees_with_itself(shop: Shop) -> None:
    log = logbook.log()
    worn: dict[tuple[int, str], list[float]] = {}
    for kept in log.looks:
        assert kept.look.on < shop.today
        if kept.look.least_tread_mm is not None:
            worn.setdefault((kept.machine_id, kept.look.end), []).append(kept.look.least_tread_mm)
    assert all(treads == sorted(treads, reverse=True) for treads in worn.values())
    for readings in log.odometer.values():
        assert [reading.km for reading in readings] == sorted(reading.km for reading in readings)
    for closed in jobs.closed_jobs():
        card = cards.card_of(closed.id)
        assert card.holding == ()
        assert all(step.torque_nm is None for step in card.steps)  # no torque is invented
        assert jobs.job(closed.id).done.on == closed.closed_at.date()
    under_way = [card for job in jobs.jobs() if (card := cards.card_of(job.id))]
    assert [card.done for card in under_way] == [len(under_way[0].steps), 5]
    assert all(ride.scores for _, _, ride in rides.latest_rides(100))


def test_history_comes_a_page_at_a_time_without_a_gap(shop: Shop) -> None:
    for turn in range(records.MOST_CHANGES + 5):
        with shop.step(f"note {turn}", f"note {turn}", machine_id=M) as step:
            machines.rename(step, M, f"Folder {turn}")
    first = records.history(M)
    rest = records.history(M, before=first[-1].id)
    labels = [one.label for one in (*first, *rest)]
    assert len(first) == records.MOST_CHANGES
    assert labels[: records.MOST_CHANGES + 5] == [
        f"note {turn}" for turn in reversed(range(records.MOST_CHANGES + 5))
    ]
    assert [(one.what, one.before, one.after) for one in first[0].moved] == [
        (
            "Machine: name",
            f"Folder {records.MOST_CHANGES + 3}",
            f"Folder {records.MOST_CHANGES + 4}",
        )
    ]
