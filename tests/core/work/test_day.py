"""The day: every stage with the one next thing, what waits, and the next day with room."""

from dataclasses import replace
from datetime import date

import pytest

from jentrik.core.work.day import (
    JobFacts,
    Next,
    OfferState,
    PartsState,
    Stage,
    first_day_with_room,
    parts_state,
    stage_of,
)

JOB = JobFacts(changes=True)
AGREED = replace(JOB, offer=OfferState.AGREED)
WAITING = PartsState(waits=(("tire", date(2026, 11, 26)), ("tube", None)))


@pytest.mark.parametrize(
    ("job", "stage", "then"),
    [
        (JobFacts(changes=False, missing=True), Stage.TO_OFFER, Next.MEASURE),
        (JobFacts(changes=False), Stage.TO_OFFER, Next.PROPOSE),
        (JobFacts(changes=False, ticked=(0, 5)), Stage.CAN_START, Next.FIT),
        (JOB, Stage.TO_OFFER, Next.OFFER),
        (replace(JOB, stops=True), Stage.TO_OFFER, Next.CURE),
        (replace(JOB, offer=OfferState.ASKED), Stage.TO_OFFER, Next.OFFER),
        (replace(JOB, offer=OfferState.OFFERED), Stage.OFFERED, Next.ASK),
        (replace(JOB, offer=OfferState.OFFERED, phone=True), Stage.OFFERED, Next.RING),
        (AGREED, Stage.CAN_START, Next.FIT),
        (replace(JOB, offer=OfferState.ASKED, moved=True), Stage.TO_OFFER, Next.OFFER),
        (replace(JOB, offer=OfferState.DECLINED, phone=True), Stage.OFFERED, Next.HAND_OVER),
        (replace(AGREED, moved=True, phone=True), Stage.OFFERED, Next.RING),
        (replace(AGREED, stops=True), Stage.AGREED, Next.CURE),
        (replace(AGREED, parts=PartsState(("tire",))), Stage.AGREED, Next.ORDER),
        (replace(AGREED, parts=WAITING), Stage.WAITS, Next.ARRIVED),
        (replace(JOB, parts=WAITING), Stage.WAITS, Next.ARRIVED),
        (replace(AGREED, parts=WAITING, ticked=(1, 5)), Stage.IN_WORK, Next.GO_ON),
        (replace(JOB, ticked=(0, 5)), Stage.CAN_START, Next.FIT),
        (replace(AGREED, ticked=(5, 5), phone=True), Stage.READY, Next.RING),
        (replace(AGREED, fitted=True, phone=True, rung=True), Stage.READY, Next.HAND_OVER),
        (replace(AGREED, closed=True), Stage.HANDED_OVER, Next.NOTHING),
    ],
)
def test_a_stage_follows_from_what_was_written(job: JobFacts, stage: Stage, then: Next) -> None:
    assert stage_of(job) == (stage, then)


def test_parts_are_to_order_waited_for_since_a_day_or_arrived() -> None:
    lines = [("a", "Tire"), ("b", "Tube"), ("c", "Rim"), ("d", "Tape")]
    entries = {
        "state:a": "ordered",
        "since:a": "2026-11-26",
        "state:b": "arrived",
        "source:d": "in stock",
    }
    parts = parts_state(lines, entries)
    assert parts == PartsState(("Rim",), (("Tire", date(2026, 11, 26)),), 1)
    assert parts.first == ("Tire", date(2026, 11, 26))


def test_the_next_day_with_room_is_found_and_a_long_job_takes_an_empty_day() -> None:
    days = [date(2026, 12, day) for day in (1, 2, 3)]
    promised = {days[0]: 7.0, days[1]: 5.5}
    assert first_day_with_room(days, promised, 1.0, 8.0) == days[0]
    assert first_day_with_room(days, promised, 2.0, 8.0) == days[1]
    assert first_day_with_room(days, promised, 12.0, 8.0) == days[2]
    assert first_day_with_room(days[:1], promised, 2.0, 8.0) is None
