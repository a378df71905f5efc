"""Tires of one size for a use: shares, lives, costs and margins by hand; never a winner."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.work.shelf import ShelfTire
from jentrik.core.work.tire_facts import COMPOUNDS, SIDEWALLS, TREADS, TireFacts, facts_of
from jentrik.core.work.tire_use import (
    ASPECTS,
    COMPOUND,
    SIDEWALL,
    TREAD_ON,
    Conditions,
    TireUse,
    tires_for,
    years_of,
)

DAY = date(2026, 11, 26)
THERE = Conditions(weighed_kg=None, replace_at_years=6.0, fitting=Decimal("30"))
USE = TireUse(20, 10, 30, 0, km_a_year=4000)
HARD = TireFacts("hard", "fine", "stiff", 12, 3, 690, 9000)
SOFT = TireFacts("soft", "slick", "supple", 2, 2, 410, 3500)
MIXED = TireFacts("medium", "blocks", "medium", 35, 3, 560, 5000)


def tire(number: int, facts: TireFacts, price: str | None, code: str = "40-622") -> ShelfTire:
    cost = Decimal(price) if price else None
    return ShelfTire(number, code, 20, 2026, DAY, price=cost, facts=facts)


THREE = [(tire(1, HARD, "38"), 0.5), (tire(2, SOFT, "52"), 0.3), (tire(3, MIXED, "46"), 1.9)]


def said(name: str, use: TireUse = USE, there: Conditions = THERE) -> list[str]:
    rows, _ = tires_for(THREE, use, there)
    (row,) = [one for one in rows if one.name == name]
    return [one.words for one in row.said]


def test_every_word_a_shop_can_choose_is_judged() -> None:
    assert set(TREADS) == set(TREAD_ON)
    assert set(COMPOUNDS) == set(COMPOUND)
    assert set(SIDEWALLS) == set(SIDEWALL)
    assert len({one.name for one in ASPECTS}) == len(ASPECTS)


def test_ground_is_counted_in_shares_of_the_way() -> None:
    # 70 road, 20 gravel, 10 mud: fine is right on road, passable on gravel, wrong in mud.
    assert said("Ground") == [
        "fine: right for 70 %, passable on 20 %, wrong for 10 %",
        "slick: right for 70 %, wrong for 30 %",
        "blocks: right for 20 %, passable on 80 %",
    ]


def test_life_and_cost_a_year_by_hand() -> None:
    # 9000 km at 4000 a year: 2.25 years, before 5.5 to the age limit; (38 + 30) / 2.25 = 30.22.
    years = [years_of(one, age, USE, THERE) for one, age in THREE]
    assert [year.by_wear for year in years if year] == [2.25, 0.875, 1.25]
    assert said("Cost a year, fitted") == ["30.22", "93.71", "60.80"]
    assert said("Lasts")[1] == "worn out in 0.9 years"
    slow = TireUse(km_a_year=1000)
    assert said("Lasts", slow)[0] == "too old in 5.5 years"
    assert said("Lasts", TireUse(km_a_year=4000, style="hard"))[0].endswith("sooner ridden hard")


@pytest.mark.parametrize(
    ("tread_mm", "km", "words"),
    [
        (None, None, "worn out in 2.2 years"),  # 9000 km at 4000 a year
        (4.0, 5000.0, "worn out in 1.0 years"),  # 4000 km are left of it
        (4.0, 12000.0, "worn out already"),
        (2.0, None, "worn out already"),  # under the shop's 3 mm
        (4.0, None, "worn, km unknown; too old in 5.5 years"),
    ],
)
def test_a_worn_tire_lasts_as_long_as_what_is_left(
    tread_mm: float | None, km: float | None, words: str
) -> None:
    worn = replace(tire(1, HARD, "38"), tread_mm=tread_mm, km=km)
    there = replace(THERE, least_tread_mm=3.0)
    rows, _ = tires_for([(worn, 0.5), (tire(2, SOFT, "52"), 0.3)], USE, there)
    assert next(row for row in rows if row.name == "Lasts").said[0].words == words


def test_what_is_only_less_bad_is_not_given() -> None:
    cold = TireUse(cold_percent=30, wet_percent=30, km_a_year=4000)
    _, found = tires_for(THREE, cold, THERE)
    assert all("grip in the cold" not in one.gives for one in found)  # none stays soft
    assert "grip in the cold" in found[0].gives_away
    winter = [*THREE, (tire(4, replace(SOFT, compound="winter"), "60"), 0.1)]
    rows, found = tires_for(winter, cold, THERE)
    assert "grip in the cold" in found[3].gives
    texts = [one.words for row in rows if row.name in ("Wet", "Cold") for one in row.said]
    assert not any("stiff" in text and "stays soft" in text for text in texts)
    muddy = TireUse(mud_percent=100)
    _, found = tires_for([(tire(1, HARD, "1"), 0.1), (tire(2, MIXED, "1"), 0.1)], muddy, THERE)
    assert all("the right tread" not in one.gives for one in found)  # both are wrong in mud


def test_a_tire_past_its_age_costs_nothing_a_year_and_says_so() -> None:
    old = [(tire(1, HARD, "38"), 6.0), (tire(2, SOFT, "52"), 0.3)]
    rows, found = tires_for(old, USE, THERE)
    assert found[0].years is None
    assert next(row for row in rows if row.name == "Lasts").said[0].words == "too old already"


def test_each_gives_and_gives_away_and_none_is_crowned() -> None:
    _, found = tires_for(THREE, USE, THERE)
    assert "a low cost a year" in found[0].gives
    assert "a light wheel" in found[0].gives_away
    assert {"grip in the wet", "a light wheel"} <= set(found[1].gives)
    assert "the right tread" not in found[0].gives_away
    assert "quiet running" in found[2].gives_away
    assert all(one.gives and one.gives_away for one in found)


def test_what_does_not_matter_or_is_known_of_none_is_left_out() -> None:
    bare = [(tire(1, TireFacts(), None), None), (tire(2, TireFacts(), None), None)]
    rows, found = tires_for(bare, TireUse(), THERE)
    assert [row.name for row in rows] == ["Lasts", "Age"]
    assert all(not one.gives and not one.gives_away for one in found)
    assert "Cold" not in [one.name for one in tires_for(THREE, USE, THERE)[0]]


def test_load_margin_by_hand() -> None:
    # Load index 58 carries 236 kg: 18 % more than 200 weighed.
    motor = [(tire(1, HARD, "90", "110/80-18 58S"), 0.5), (tire(2, SOFT, "90", "110/80-18"), 0.5)]
    rows, _ = tires_for(motor, USE, Conditions(200, 6, Decimal(60)))
    (row,) = [one for one in rows if one.name == "Load margin"]
    assert [one.words for one in row.said] == [
        "+18 % on what the axle weighs",
        "no load on its code",
    ]


def test_what_cannot_be_is_refused() -> None:
    with pytest.raises(OutOfRange, match="whole way"):
        TireUse(60, 50)
    for wrong in ({"compound": "sticky"}, {"void_percent": 81}, {"plies": 0}, {"life_km": 5}):
        with pytest.raises(OutOfRange):
            TireFacts(**wrong)
    assert facts_of({"life_km": 900, "colour": "red"}).values() == {"life_km": 900}
