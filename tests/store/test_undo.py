"""Undo takes back one change by its id, only what it moved, and never another person's work."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

import pytest

from jentrik.core.errors import StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.work.template import steps_of
from jentrik.store import cards, jobs, journal, machines, records, shelf
from jentrik.store.journal import Author
from jentrik.store.listing import Wanted, jobs_listed
from jentrik.store.undo import ChangedSince, Scope, Undoable, last_change, last_undone, undo
from jentrik.web.shop import Shop

NOON = datetime(2026, 11, 23, 12, 0)
IDA, BO = Author("Ida", "bench"), Author("Bo", "tablet")
MACHINE = Scope(machine_id=1)
BENCH = Scope(machine_id=1, job_id=1)


def write(
    shop: Shop,
    author: Author,
    act: Callable[..., Any],
    *,
    at: datetime = NOON,
    label: str = "a change",
    subject: str = "x",
    **scope: Any,
) -> None:
    scope = scope or {"machine_id": 1}
    with journal.step(
        shop.database, now=at, label=label, subject=subject, author=author, **scope
    ) as step:
        act(step)


def wheelbase(
    shop: Shop, value: float, author: Author = IDA, *, machine_id: int = 1, **more: Any
) -> None:
    figure = Figure(value, Provenance.MEASURED, NOON.date())
    more |= {"label": f"wheelbase {value}", "subject": "wheelbase", "machine_id": machine_id}
    write(
        shop,
        author,
        lambda step: machines.set_figure(step, machine_id, "wheelbase_mm", figure),
        **more,
    )


def kept(machine_id: int = 1) -> Any:
    return machines.sheet(machine_id).figures["wheelbase_mm"].value


def back(
    shop: Shop,
    author: Author = IDA,
    change_id: int | None = None,
    scope: Scope = MACHINE,
    **more: Any,
) -> Undoable | None:
    return undo(shop.database, change_id, scope, author, now=NOON, **more)


def test_undo_goes_back_change_by_change_to_the_first_and_redo_forward_again(shop: Shop) -> None:
    start = kept()
    for value in (1050.0, 1060.0, 1070.0):
        wheelbase(shop, value)
    seen = []
    while back(shop) is not None:
        seen.append(kept())
    assert seen == [1060.0, 1050.0, start]
    assert last_undone(MACHINE, IDA).label == "wheelbase 1050.0"
    for expected in (1050.0, 1060.0, 1070.0):
        back(shop, again=True)
        assert kept() == expected
    assert last_undone(MACHINE, IDA) is None


def test_a_change_after_an_undo_ends_what_can_be_done_again(shop: Shop) -> None:
    wheelbase(shop, 1050.0)
    back(shop)
    wheelbase(shop, 1080.0, at=NOON + timedelta(seconds=1))
    assert last_undone(MACHINE, IDA) is None


def test_the_button_names_the_own_change_first_then_anybodys(shop: Shop) -> None:
    wheelbase(shop, 1050.0, IDA)
    write(shop, BO, lambda step: machines.clear_figure(step, 1, "stack_mm"), label="stack cleared")
    assert last_change(MACHINE, IDA).label == "wheelbase 1050.0"
    assert last_change(MACHINE, BO).label == "stack cleared"
    third = last_change(MACHINE, Author("", "phone"))
    assert (third.label, third.by, third.mine) == ("stack cleared", "Bo", False)


def test_keystrokes_join_within_one_visit_to_one_field_by_one_person(shop: Shop) -> None:
    start, visit = kept(), Author("Ida", "bench", "visit 1")
    for value in (1.0, 10.0, 105.0, 1050.0):
        wheelbase(shop, value, visit)
    back(shop)
    assert kept() == start


@pytest.mark.parametrize(
    "second",
    [
        Author("Ida", "bench", "visit 2"),
        Author("Bo", "bench", "visit 1"),
        Author("Ida", "phone", "visit 1"),
        Author("", "bench", "visit 1"),
        Author("Ida", "bench"),
    ],
)
def test_another_visit_person_or_screen_is_another_change(shop: Shop, second: Author) -> None:
    wheelbase(shop, 1050.0, Author("Ida", "bench", "visit 1"))
    wheelbase(shop, 1060.0, second)
    back(shop, second)
    assert kept() == 1050.0


def test_what_another_changed_since_is_not_taken_back_unless_insisted_on(shop: Shop) -> None:
    wheelbase(shop, 1050.0, IDA)
    mine = last_change(MACHINE, IDA).id
    wheelbase(shop, 1060.0, BO, at=NOON + timedelta(minutes=3))
    with pytest.raises(ChangedSince, match="Bo, on 23 Nov at 12:03") as refused:
        back(shop, IDA, mine)
    assert kept() == 1060.0
    (offer,) = refused.value.offers
    assert ("1060" in offer.before, "1046" in offer.after) == (True, True)
    with pytest.raises(ChangedSince):
        back(shop, IDA, mine, insist="another mark")
    back(shop, IDA, mine, insist=refused.value.insist)
    assert kept() == 1046.0


def test_undo_touches_only_the_columns_a_change_moved(shop: Shop) -> None:
    write(shop, IDA, lambda step: machines.rename(step, 1, "Grey tourer"), label="renamed")
    mine = last_change(MACHINE, IDA).id
    for job in jobs.jobs():
        if job.machine_id == 1:
            write(shop, BO, lambda step, job=job: jobs.close(step, job.id, at=NOON), job_id=job.id)
    write(shop, BO, lambda step: records.bin_machine(step, 1, at=NOON), subject="bin machine 1")
    back(shop, IDA, mine)
    with pytest.raises(StoreError):
        machines.sheet(1)  # it stays in the bin
    assert [one.name for one in records.binned() if one.kind == "machine"] == ["Green tourer"]


def test_two_figures_of_one_proposal_are_two_cells(shop: Shop) -> None:
    (first, *_) = jobs.job(1).proposals

    def change(author: Author, **values: Any) -> None:
        now = jobs.job(1).proposals[0].changes
        write(shop, author, lambda step: jobs.set_changes(step, first.id, now | values), job_id=1)

    change(IDA, fork={"length_mm": 400})
    change(BO, lower_cup_mm=8)
    back(shop, IDA, scope=BENCH)
    assert jobs.job(1).proposals[0].changes == first.changes | {"lower_cup_mm": 8}


def test_a_line_and_a_proposal_taken_away_come_back_even_after_new_ones(shop: Shop) -> None:
    before, job = machines.sheet(1), jobs.job(1)
    last = before.points[-1]
    write(shop, IDA, lambda step: machines.drop_line(step, "point", last.id))
    values = {"name": "Bell", "x_mm": 700, "height_mm": 1000, "provenance": "measured"}
    write(shop, BO, lambda step: machines.set_point(step, 1, None, values, on=NOON.date()))
    back(shop, IDA)
    assert machines.sheet(1).points[:-1] == before.points  # the new one has an id of its own
    write(shop, IDA, lambda step: jobs.drop_proposal(step, job.proposals[0].id), job_id=1)
    back(shop, IDA, scope=BENCH)
    assert jobs.job(1).proposals == job.proposals


def test_work_that_was_added_to_a_row_keeps_the_row(shop: Shop) -> None:
    steps = tuple(step.plan for step in cards.card_of(2).steps) if cards.card_of(2) else ()
    write(
        shop,
        IDA,
        lambda step: cards.make_card(
            step, 1, proposal="A", template="Tire swap", steps=steps, at=NOON
        ),
        job_id=1,
    )
    made = last_change(Scope(job_id=1), IDA).id
    card = cards.card_of(1)
    plan = steps_of("Bell back on")[0]
    write(shop, BO, lambda step: cards.add_step(step, card, plan), job_id=1)
    with pytest.raises(StoreError, match="other work was added"):
        back(shop, IDA, made, scope=Scope(job_id=1))
    assert len(cards.card_of(1).steps) == len(steps) + 1


def test_undo_of_one_machine_leaves_another_alone_and_takes_no_foreign_change(shop: Shop) -> None:
    other = kept(2)
    wheelbase(shop, 1111.0, machine_id=2)
    theirs = last_change(Scope(machine_id=2), IDA).id
    assert back(shop, change_id=theirs) is None
    assert kept(2) == 1111.0
    back(shop, scope=Scope(machine_id=2))
    assert kept(2) == other
    assert back(shop, change_id=theirs, scope=Scope(machine_id=2)) is None  # taken back already


def test_what_the_page_checks_keeps_the_change(shop: Shop) -> None:
    wheelbase(shop, 1050.0)

    def check() -> None:
        raise StoreError("It could not stand.")

    with pytest.raises(StoreError):
        back(shop, check=check)
    assert kept() == 1050.0
    assert last_change(MACHINE, IDA) is not None


def test_the_counter_of_a_step_only_goes_up(shop: Shop) -> None:
    plan = steps_of("Bell back on")
    write(
        shop,
        IDA,
        lambda step: cards.make_card(
            step, 1, proposal="A", template="Tire swap", steps=plan, at=NOON
        ),
        job_id=1,
    )
    (one,) = cards.card_of(1).steps
    write(
        shop, IDA, lambda step: cards.write_step(step, one, seen_version=0, reading="5"), job_id=1
    )
    back(shop, scope=Scope(job_id=1))
    (now,) = cards.card_of(1).steps
    assert (now.reading, now.version) == (None, 2)


def test_what_was_undone_first_is_done_again_last_whoever_undid_by_name_or_screen(
    shop: Shop,
) -> None:
    nameless = Author("", "tablet")
    for value in (1050.0, 1060.0):
        wheelbase(shop, value, nameless)
    assert last_change(MACHINE, nameless).mine
    assert not last_change(MACHINE, IDA).mine  # hers is none: the last of all
    back(shop, nameless)
    back(shop, nameless)
    assert last_undone(MACHINE, nameless).label == "wheelbase 1050.0"
    assert last_undone(MACHINE, nameless).mine
    assert last_undone(MACHINE, IDA) is None
    assert last_undone(MACHINE, Author("", "")) is None
    back(shop, nameless, again=True)
    assert last_undone(MACHINE, nameless).label == "wheelbase 1060.0"


def test_a_subjects_undo_reaches_its_own_changes_and_no_other(shop: Shop) -> None:
    for subject, label in (("policy a", "a"), ("shelf 7", "b")):
        with journal.step(
            shop.database, now=NOON, label=label, subject=subject, author=IDA
        ) as step:
            key, value = f"k{label}", "1"
            put_tire(step, key, value)
    policy = Scope(subject="policy")
    assert last_change(policy, IDA).label == "a"
    shelf_change = last_change(Scope(subject="shelf"), IDA)
    assert shelf_change.label == "b"
    assert back(shop, change_id=shelf_change.id, scope=policy) is None
    assert back(shop, scope=policy).label == "a"
    assert last_undone(policy, IDA).label == "a"
    assert back(shop, scope=policy, again=True).label == "a"


def put_tire(step: journal.Step, key: str, value: str) -> None:
    shelf.add_tire(step, f"37-622 {key}", on=NOON.date(), place=value)


def test_a_change_no_one_made_is_none(shop: Shop) -> None:
    assert back(shop, change_id=10**9) is None
    assert undo(shop.database, None, Scope(machine_id=99), IDA, now=NOON) is None


def test_a_row_made_and_moved_since_is_not_taken_away_unseen(shop: Shop) -> None:
    write(shop, IDA, lambda step: shelf.add_tire(step, "37-622", on=NOON.date(), place="A"))
    (made,) = [tire for tire in shelf.tires() if tire.place == "A" and tire.code == "37-622"]
    mine = last_change(MACHINE, IDA)
    write(shop, BO, lambda step: shelf.set_tire(step, made.id, place="B"))
    with pytest.raises(ChangedSince) as refused:
        back(shop, IDA, mine.id)
    assert "Bo" in refused.value.message
    assert shelf.tire(made.id).place == "B"
    assert back(shop, IDA, mine.id, insist=refused.value.insist) is not None
    assert shelf.tire(made.id) is None


def test_a_split_stop_step_keeps_its_stop_in_both_halves_and_its_place(shop: Shop) -> None:
    plans = steps_of("One\n! Bolts tight | reading: gap, mm\nThree")
    write(
        shop,
        IDA,
        lambda step: cards.make_card(step, 1, proposal="A", template="x", steps=plans, at=NOON),
        job_id=1,
    )
    card = cards.card_of(1)
    write(
        shop,
        IDA,
        lambda step: cards.split_step(step, card, card.steps[1], "Left", "Right"),
        job_id=1,
    )
    steps = cards.card_of(1).steps
    assert [one.plan.text for one in steps] == ["One", "Left", "Right", "Three"]
    assert [one.plan.stop for one in steps] == [False, True, True, False]
    assert [one.place for one in steps] == [0, 1, 2, 3]
    assert steps[1].plan.reading == "gap"
    write(shop, IDA, lambda step: cards.add_step(step, cards.card_of(1), plans[0]), job_id=1)
    assert [one.plan.text for one in cards.card_of(1).steps][-1] == "One"


def test_readings_are_those_of_steps_that_measure_and_were_not_waived(shop: Shop) -> None:
    assert cards.readings(2) == {}  # no card yet
    plans = steps_of(
        "A | reading: gap, mm | measures: place:Fork\nB | reading: word, words\n"
        "C | reading: lean, ° | measures: side_stand.lean_deg"
    )
    write(
        shop,
        IDA,
        lambda step: cards.make_card(step, 1, proposal="A", template="x", steps=plans, at=NOON),
        job_id=1,
    )
    first, second, third = cards.card_of(1).steps
    for one, text in ((first, "12"), (second, "left"), (third, "9.5")):
        write(
            shop,
            IDA,
            lambda step, one=one, text=text: cards.write_step(
                step, one, seen_version=one.version, reading=text
            ),
            job_id=1,
        )
    assert cards.readings(1) == {
        "place:Fork": cards.CardReading(12.0, False, None),
        "side_stand.lean_deg": cards.CardReading(9.5, False, None),
    }
    third = cards.card_of(1).steps[2]
    write(
        shop,
        IDA,
        lambda step: cards.write_step(step, third, seen_version=third.version, waived="none"),
        job_id=1,
    )
    assert cards.readings(1) == {"place:Fork": cards.CardReading(12.0, False, None)}
    gone = replace(third, id=10**6)
    with pytest.raises(StoreError):
        write(shop, IDA, lambda step: cards.write_step(step, gone, seen_version=0, reading="1"))


def test_jobs_without_a_promised_day_stand_last(shop: Shop) -> None:
    def listed() -> list[int]:
        return [row.id for row in jobs_listed(Wanted()).rows]

    first = listed()[0]
    write(shop, IDA, lambda step: jobs.set_due(step, first, None), job_id=first)
    assert listed()[-1] == first
