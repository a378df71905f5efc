"""Offers: exact sums, tax and rounding in three currencies, and what is in no sum."""

from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.work.offer import Offer, in_money, moved_since, offer_of
from jentrik.core.work.policy import Money, MoneyWritten, RoundTo, TaxSchool
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import PLAN

BIKE = read_bike(PLAN["bike"])
FRONT, REAR = "front tire 42-622", "rear tire 42-622"
PRICES = {f"price:{FRONT}": "34.90", f"price:{REAR}": "39.95", f"quantity:{REAR}": "1"}


USUAL = Money()


def offer(entries: dict[str, str], money: Money = USUAL, **changes: object) -> Offer:
    proposal = {"name": "A", "front": {"tire": "42-622"}, "rear": {"tire": "42-622"}, **changes}
    return offer_of(BIKE, read_proposal(proposal), entries, money)


def test_every_part_that_is_bought_is_a_line_with_its_size_and_the_work_is_by_wheel() -> None:
    said = offer(PRICES)
    lines = {line.key: line for line in said.lines}
    assert (lines[FRONT].part, lines[FRONT].size) == ("Front tire", "42-622")
    assert [(line.what, line.hours, line.sum) for line in said.work] == [
        ("Front wheel", Decimal("0.5"), Decimal("30.00")),
        ("Rear wheel", Decimal("0.5"), Decimal("30.00")),
    ]
    assert "Front wheel" in said.kept


def test_without_a_price_there_is_no_total_but_what_is_priced_so_far() -> None:
    said = offer({f"price:{FRONT}": "34.90"})
    assert said.total is None
    assert said.not_priced == ("Rear tire",)
    assert said.priced_so_far == Decimal("94.90")
    assert offer(PRICES).total == Decimal("134.85")


def test_typed_hours_are_shared_by_the_usual_ones_and_lose_no_cent() -> None:
    said = offer({**PRICES, "hours:A:wheels exchanged": "0.85"}, Money(labour_an_hour=59.99))
    assert sum(line.hours for line in said.work) == Decimal("0.85")
    assert said.work_sum == Decimal("50.99")  # 0.85 x 59.99 = 50.9915


@pytest.mark.parametrize(
    ("money", "taxes", "total", "written"),
    [
        # 74.85 of parts hold 7 %: 4.90; 60.00 of work hold 19 %: 9.58.
        (
            Money("EUR", 60, TaxSchool.WITHIN, 7, 19),
            [("7", "69.95", "4.90"), ("19", "50.42", "9.58")],
            "134.85",
            "134.85 EUR",
        ),
        # 8.1 % added to 134.85 is 10.92285: 145.77, in Swiss coins 145.75.
        (
            Money("CHF", 60, TaxSchool.ADDED, 8.1, 8.1, RoundTo.TWENTIETH, MoneyWritten.BEFORE),
            [("8.1", "134.85", "10.92")],
            "145.75",
            "CHF 145.75",
        ),
        # 10 % within, to the whole: 134.85 is 135; 12.26 of it is tax.
        (
            Money("JPY", 60, TaxSchool.WITHIN, 10, 10, RoundTo.WHOLE, MoneyWritten.COMMA),
            [("10", "122.59", "12.26")],
            "135",
            "135 JPY",
        ),
    ],
)
def test_tax_and_rounding_are_exact_in_each_currency(
    money: Money, taxes: list[tuple[str, str, str]], total: str, written: str
) -> None:
    said = offer(PRICES, money)
    assert [(f"{t.percent.normalize():f}", str(t.net), str(t.tax)) for t in said.taxes] == taxes
    assert str(said.total) == total
    assert said.written(said.total or Decimal(0)) == written


def test_what_lies_in_the_shop_is_sold_at_its_price_and_without_one_given() -> None:
    stock = {**PRICES, f"source:{FRONT}": "in stock", f"source:{REAR}": "in stock"}
    assert offer(stock).parts_sum == Decimal("74.85")
    del stock[f"price:{REAR}"]
    assert (offer(stock).parts_sum, offer(stock).not_priced) == (Decimal("34.90"), ())


def test_another_wheel_size_is_had_the_way_that_is_written() -> None:
    wheels = {end: {"tire": "47-584"} for end in ("front", "rear")}
    usual = offer({}, **wheels)
    laced = offer({"way:A": "old hubs laced anew"}, **wheels)
    assert usual.way.value == "wheels exchanged"
    assert any("spokes" in line.part for line in laced.lines)
    assert [line.what for line in laced.work] == [
        "Front wheel, laced anew",
        "Rear wheel, laced anew",
    ]


def test_what_moved_since_it_was_agreed_is_said_to_the_cent() -> None:
    dearer = {**PRICES, f"price:{FRONT}": "47.30"}
    moved = moved_since(Decimal("74.85"), Decimal("60.00"), offer(dearer))
    assert moved == (("Parts", Decimal("12.40")),)
    assert moved_since(Decimal("74.85"), Decimal("60.00"), offer(PRICES)) == ()
    assert in_money(Decimal("-3.10"), Money(written=MoneyWritten.COMMA)) == "−3,10 EUR"


AMOUNTS = st.integers(0, 10**7).map(lambda cents: Decimal(cents) / 100)


@given(
    prices=st.tuples(AMOUNTS, AMOUNTS),
    percents=st.tuples(st.sampled_from([0, 5.5, 7, 8.1, 19, 25]), st.sampled_from([0, 7, 20])),
    school=st.sampled_from(TaxSchool),
    coin=st.sampled_from(RoundTo),
)
def test_tax_of_any_offer_is_within_half_a_cent_of_the_exact_fraction(
    prices: tuple[Decimal, Decimal], percents: tuple[float, float], school: TaxSchool, coin: RoundTo
) -> None:
    money = Money("EUR", 60, school, percents[0], percents[1], coin)
    entries = {f"price:{key}": str(one) for key, one in zip((FRONT, REAR), prices, strict=True)}
    said = offer(entries, money)
    exact = Fraction(0)  # by whole fractions, which know no rounding
    for gross, percent in ((sum(prices), percents[0]), (Decimal(60), percents[1])):
        rate = Fraction(str(percent)) / 100
        exact += Fraction(gross) * rate / (1 if school is TaxSchool.ADDED else 1 + rate)
    taxes = sum((one.tax for one in said.taxes), Decimal(0))
    assert abs(Fraction(taxes) - exact) <= Fraction(len(said.taxes), 200)
    if school is TaxSchool.WITHIN:
        paid = Fraction(sum(prices)) + 60
        assert all(one.net + one.tax <= Decimal(str(float(paid))) for one in said.taxes)
    else:
        paid = Fraction(sum(prices)) + 60 + Fraction(taxes)
    assert said.total is not None
    assert abs(Fraction(said.total) - paid) <= Fraction(coin) / 2
    assert Fraction(said.total) % Fraction(coin) == 0
