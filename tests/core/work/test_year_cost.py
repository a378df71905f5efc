"""What a way of a proposal costs by the swap and by the year, worked by hand."""

from dataclasses import replace
from decimal import Decimal

from jentrik.core.work.cost import Total, WheelSource
from jentrik.core.work.year_cost import LastingTire, a_year, swap_hours
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN

WHOLE = Total(Decimal("500"), Decimal(2), Decimal("120"), ())


def test_a_second_set_and_tires_alone_are_swapped_and_other_ways_have_nothing_to_swap_to() -> None:
    bike = read_bike(PLAN["bike"])
    both = {"front": {"tire": "47-584"}, "rear": {"tire": "47-584"}}
    wheels = read_proposal({"name": "A", **both, "fork": {"length_mm": 405}})
    # Two wheels in an hour and the fork another.
    hours = [swap_hours(bike, wheels, way) for way in WheelSource]
    assert hours == [None, Decimal("2.0"), None]
    tire = read_proposal({"name": "B", "rear": {"tire": "40-622"}})
    assert swap_hours(bike, tire, WheelSource.EXCHANGE) == Decimal("0.5")


def test_owned_wheels_go_in_and_out_though_they_are_of_another_size() -> None:
    bike = read_bike(MOTORCYCLE["bike"])
    change = {"front": {"tire": "110/80-18 58H"}}
    bought = read_proposal({"name": "A", **change})
    assert swap_hours(bike, bought, WheelSource.EXCHANGE) is None
    owned = replace(bought, owned=("front",))
    assert swap_hours(bike, owned, WheelSource.EXCHANGE) == Decimal("1.0")  # one wheel


def test_a_year_is_tires_by_their_life_the_rest_by_the_years_and_the_swaps() -> None:
    tires = [LastingTire(Decimal("100"), Decimal("40"))]
    # (620 - 100) / 5 + 40, and then twice sixty.
    assert a_year(WHOLE, tires, years=5, swaps=Decimal(0)) == Decimal("144.00")
    assert a_year(WHOLE, tires, years=5, swaps=Decimal(120)) == Decimal("264.00")
    assert a_year(WHOLE, [], years=3, swaps=Decimal(0)) == Decimal("206.67")
