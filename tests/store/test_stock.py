"""What a job takes from the shelf: one piece an end, its own line first, free again at the end."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime
from typing import Any

import pytest

from jentrik.core.work.carry_over import tire_line
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.plan_document import read_kept
from jentrik.store import costs, jobs, journal, shelf, stock, wheels
from jentrik.store.journal import Author
from jentrik.web.shop import Shop

NOON, DAY, CODE = datetime(2026, 11, 23, 12), date(2026, 11, 23), "43-584"  # none on the shelf


def write(shop: Shop, act: Callable[[journal.Step], Any]) -> Any:
    with journal.step(
        shop.database, now=NOON, label="x", subject="x", author=Author("Ida", "bench"), job_id=1
    ) as step:
        return act(step)


def put(shop: Shop, pieces: int = 1, *, code: str = CODE, **known: Any) -> int:
    number: int = write(
        shop, lambda step: shelf.add_tire(step, code, on=DAY, pieces=pieces, place="A", **known)
    )
    return number


def in_stock(shop: Shop, kept: KeptProposal, *ends: str, line: int | None = None) -> None:
    proposal = read_kept(kept)

    def entries(step: journal.Step) -> None:
        for end in ends:
            key = tire_line(end, getattr(proposal, end)).key
            costs.set_entry(step, 1, f"source:{key}", "in stock")
            costs.set_entry(step, 1, f"line:{key}", "" if line is None else str(line))

    write(shop, entries)


def proposal(shop: Shop, changes: dict[str, Any]) -> KeptProposal:
    name = write(shop, lambda step: jobs.add_proposal(step, 1, changes))
    return next(one for one in jobs.job(1).proposals if one.name == name)


@pytest.fixture(name="kept")
def _kept(shop: Shop) -> KeptProposal:
    return proposal(shop, {"front": {"tire": CODE}, "rear": {"tire": CODE}})


def test_two_ends_never_take_one_tire_twice(shop: Shop, kept: KeptProposal) -> None:
    in_stock(shop, kept, "front", "rear")
    alone = put(shop)
    assert {end: one.id for end, one in stock.from_stock(1, kept).items()} == {"front": alone}
    put(shop, 1)
    taken = stock.from_stock(1, kept)
    assert len({one.id for one in taken.values()}) == 2


def test_a_line_of_two_serves_both_ends_and_no_third(shop: Shop, kept: KeptProposal) -> None:
    in_stock(shop, kept, "front", "rear")
    pair = put(shop, 2)
    assert [one.id for one in stock.from_stock(1, kept).values()] == [pair, pair]
    write(shop, lambda step: stock.take_for(step, 1, kept))
    assert shelf.tire(pair) is None
    assert stock.from_stock(1, kept) == {}


def test_only_what_the_order_list_says_is_in_stock_is_taken(shop: Shop, kept: KeptProposal) -> None:
    put(shop, 5)
    assert stock.from_stock(1, kept) == {}
    in_stock(shop, kept, "rear")
    assert list(stock.from_stock(1, kept)) == ["rear"]


def test_a_line_put_aside_for_the_job_comes_first_then_the_one_it_was_made_of(
    shop: Shop, kept: KeptProposal
) -> None:
    first, second, third = put(shop), put(shop), put(shop)
    in_stock(shop, kept, "front", line=second)
    assert stock.from_stock(1, kept)["front"].id == second
    write(shop, lambda step: shelf.reserve(step, third, 1, pieces=1))
    assert stock.from_stock(1, kept)["front"].id == third
    write(shop, lambda step: shelf.reserve(step, first, 2, pieces=1))
    assert first not in {one.id for one in stock.from_stock(1, kept).values()}


def test_week_and_make_of_the_proposal_choose_the_line(shop: Shop) -> None:
    old = put(shop, week=10, year=2020, make="Gull Coaster")
    new = put(shop, week=20, year=2026, make="Gull Coaster")
    other = put(shop, week=20, year=2026, make="Tern Plain")
    fitted = {"made": "2026", "make": "Gull Coaster"}
    values = {"front": {"tire": CODE, "fitted": fitted}}
    kept = proposal(shop, values)
    in_stock(shop, kept, "front")
    assert stock.from_stock(1, kept)["front"].id == new
    assert {old, other} & {one.id for one in stock.from_stock(1, kept).values()} == set()


def test_a_wheel_that_was_reserved_is_free_once_it_is_fitted(shop: Shop) -> None:
    number = next(one.id for one in wheels.on_shelf() if one.job_id is None)
    kept = replace(jobs.job(1).proposals[0], takes={"rear": number})
    write(shop, lambda step: stock.reserve_for(step, 1, kept))
    assert wheels.wheel(number).job_id == 1
    write(shop, lambda step: stock.take_for(step, 1, kept))
    assert wheels.wheel(number).job_id is None
