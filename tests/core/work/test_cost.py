"""Costs in exact decimals, and how long a tire lasts, by hand."""

import math
import re
from dataclasses import replace
from decimal import Decimal
from typing import Any

import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.errors import OutOfRange
from jentrik.core.work.carry_over import Fate, PartLine
from jentrik.core.work.cost import (
    Bought,
    WheelSource,
    money,
    parts_for,
    tire_years,
    total,
    usual_hours,
    ways_of,
)
from jentrik.core.work.order_entries import OrderState
from jentrik.core.work.ordering import by_supplier, ordered_parts
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN

RING = {"tire": "90/90-21 54H", "tone_ring_slots": 48}
BUY = tuple(PartLine(name, "", Fate.BUY) for name in ("a", "b", "c"))


@pytest.mark.parametrize(
    ("typed", "amount"),
    [("34,90", "34.90"), ("34.905", "34.91"), ("0", "0.00"), (" 1000 ", "1000.00")],
)
def test_an_amount_is_kept_in_hundredths(typed: str, amount: str) -> None:
    assert money(typed) == Decimal(amount)


@pytest.mark.parametrize("typed", ["", "free", "-5", "1e9", "nan", "inf", "2000000", "1.2.3"])
def test_what_is_no_amount_is_refused(typed: str) -> None:
    with pytest.raises(OutOfRange):
        money(typed)


def test_a_total_adds_up_to_the_cent_and_names_what_has_no_price() -> None:
    # 3 x 0.10 is 0.30 exactly, which binary floats miss; 1.25 h at 59.99 are 74.9875.
    bought = {"a": Bought(Decimal("0.10"), 3), "b": Bought(in_stock=True)}
    result = total(BUY, bought, hours=Decimal("1.25"), rate=Decimal("59.99"))
    assert (result.parts, result.labour, result.whole) == (
        Decimal("0.30"),
        Decimal("74.99"),
        Decimal("75.29"),
    )
    assert result.unpriced == ("c",)
    kept = (PartLine("a", "", Fate.KEEP), PartLine("b", "", Fate.ASK))
    assert total(kept, bought, hours=Decimal(0), rate=Decimal(60)).whole == 0


def test_what_must_be_found_out_stands_apart_and_makes_the_total_a_range() -> None:
    lines = (PartLine("tire", "", Fate.BUY), PartLine("rotor", "", Fate.ASK))
    bought = {"tire": Bought(Decimal("40.00")), "rotor": Bought(Decimal("55.00"))}
    result = total(lines, bought, hours=Decimal(1), rate=Decimal(60))
    assert (result.whole, result.at_most) == (Decimal("100.00"), Decimal("155.00"))


def test_every_part_in_doubt_adds_to_the_range_and_one_without_a_price_adds_nothing() -> None:
    lines = tuple(PartLine(name, "", Fate.ASK) for name in ("rotor", "ring", "bolt"))
    lines += (PartLine("kept", "", Fate.KEEP), PartLine("tire", "", Fate.BUY))
    bought = {"rotor": Bought(Decimal("55")), "ring": Bought(Decimal("20")), "tire": Bought()}
    result = total(lines, bought, hours=Decimal(0), rate=Decimal(60))
    assert (result.perhaps, result.parts, result.unpriced) == (Decimal(75), 0, ("tire",))


def test_spokes_and_rim_are_those_of_the_end_that_is_laced() -> None:
    change = {"front": {"tire": "110/80-18 58H"}, "rear": {"tire": "140/80-17"}}
    laced = fates(WheelSource.RELACE, change, MOTORCYCLE, rear={"tire": "130/80-18"})
    assert "front rim, bead seat 457 mm" in laced
    assert "rear rim, bead seat 432 mm" in laced
    hub = {
        "left_circle_mm": 58,
        "right_circle_mm": 58,
        "left_flange_mm": 30,
        "right_flange_mm": 20,
        "spokes": 32,
        "crossings": 3,
    }
    found = read_bike(PLAN["bike"] | {"rear": {"tire": "37-622", "hub": hub}})
    wheel = {"tire": "47-584", "rim": {"bead_seat_diameter_mm": 584, "effective_mm": 560}}
    both = read_proposal({"name": "A", "front": {"tire": "47-584"}, "rear": wheel})
    spokes = {
        line.end: line.why
        for line in parts_for(found, both, WheelSource.RELACE)
        if line.name == "spokes and nipples"
    }

    # Rim radius 280, hub 29 at 3 x 360 / 16 = 67.5 degrees: the left flange lies further out.
    def length(flange: float) -> float:
        return math.sqrt(280**2 + 29**2 + flange**2 - 2 * 280 * 29 * math.cos(math.radians(67.5)))

    left, right = (float(one) for one in re.findall(r"[\d.]+(?= mm)", in_plain(spokes["rear"])))
    assert left - right == pytest.approx(length(30) - length(20), abs=0.15)
    assert "hub, lacing" in spokes["front"]  # the front hub was not measured


def test_a_tube_that_would_stay_is_bought_for_a_second_set_alone() -> None:
    change = {"front": {"tire": "47-584"}, "rear": {"tire": "40-622"}}
    tubed = {"rear": {"tire": "37-622", "rim": {"tube": "tube-type"}}}
    exchange, second, _ = (fates(way, change, PLAN, **tubed) for way in WheelSource)
    assert (exchange["rear tube"], second["rear tube"]) == (Fate.KEEP, Fate.BUY)
    assert second["rear wheel"] is Fate.KEEP  # it stays where it is
    assert second["front tube"] is Fate.ASK


def test_an_amount_reaches_a_million_and_a_tire_that_is_too_old_lasts_no_year() -> None:
    assert money("1000000") == Decimal(1_000_000)
    old = tire_years(price=None, life_km=None, km_a_year=None, replace_at_years=6, age_years=7)
    assert old.by_age == 0


@pytest.mark.parametrize(
    ("source", "groups"),
    [("new", [("", ["rotor"]), ("Gull", ["tire"])]), ("in stock", [("", ["rotor"])])],
)
def test_parts_go_to_their_suppliers_and_what_is_in_stock_to_none(
    source: str, groups: list[tuple[str, list[str]]]
) -> None:
    fates_of = {"tire": Fate.BUY, "rotor": Fate.ASK, "hub": Fate.KEEP}
    lines = tuple(PartLine(name, "", fate) for name, fate in fates_of.items())
    entries = {
        "supplier:tire": "Gull",
        "quantity:tire": "2",
        "price:tire": "40",
        "state:tire": "ordered",
        "source:tire": source,
    }
    parts = ordered_parts(lines, entries)
    assert [(part.name, part.pieces, part.to_find_out) for part in parts] == [
        ("tire", 2, False),
        ("rotor", 1, True),
    ]
    assert parts[0].state is OrderState.ORDERED
    assert parts[0].cost == (0 if source == "in stock" else 80)
    assert [(name, [one.name for one in of]) for name, of in by_supplier(parts)] == groups


def test_machine_work_and_longer_bolts_are_lines_and_owned_wheels_are_not_bought() -> None:
    change = {"front": {"tire": "110/80-18 58H", "sensor": {"face": "other", "kind": "same"}}}
    lines = fates(WheelSource.EXCHANGE, change, MOTORCYCLE, front=RING)
    assert lines["front machine work on the hub"] is Fate.BUY
    assert lines["front longer bolts for rotor and ring"] is Fate.BUY
    bike = read_bike({**MOTORCYCLE["bike"], "front": RING})
    owned = replace(read_proposal({"name": "A", **change}), owned=("front",))
    assert [line.fate for line in parts_for(bike, owned, WheelSource.EXCHANGE)] == [Fate.KEEP]
    assert ways_of(bike, owned) == (WheelSource.EXCHANGE,)
    assert usual_hours(bike, owned, WheelSource.EXCHANGE) == Decimal("1.0")  # the swap itself
    chip = read_proposal({"name": "B", "position": "low"})
    assert usual_hours(bike, chip, WheelSource.EXCHANGE) == Decimal("0.5")


def fates(
    way: WheelSource, changes: dict[str, Any], base: dict[str, Any], **bike: Any
) -> dict[str, Fate]:
    found = read_bike({**base["bike"], **bike})
    lines = parts_for(found, read_proposal({"name": "A", **changes}), way)
    return {line.key: line.fate for line in lines}


def test_three_ways_to_another_wheel_size() -> None:
    change = {"front": {"tire": "110/80-18 58H"}}
    disc = {**RING, "brake": "disc"}
    exchange, second, laced = (fates(way, change, MOTORCYCLE, front=disc) for way in WheelSource)
    assert exchange["front rotor"] is Fate.ASK
    assert second["front rotor"] is second["front tone ring and sensor"] is Fate.BUY
    assert laced["front rotor"] is laced["front tone ring and sensor"] is Fate.KEEP
    assert laced["front spokes and nipples"] is laced["front rim, bead seat 457 mm"] is Fate.BUY
    assert "front wheel or rim, bead seat 457 mm" not in laced


def test_a_tire_alone_has_one_way_and_hours_follow_the_work() -> None:
    bike = read_bike(PLAN["bike"])
    tire = read_proposal({"name": "A", "rear": {"tire": "40-622"}})
    assert ways_of(bike, tire) == (WheelSource.EXCHANGE,)
    assert usual_hours(bike, tire, WheelSource.EXCHANGE) == Decimal("0.5")
    both = {"front": {"tire": "47-584"}, "rear": {"tire": "47-584"}, "fork": {"length_mm": 405}}
    wheels = read_proposal({"name": "B", **both})
    assert usual_hours(bike, wheels, WheelSource.EXCHANGE) == Decimal("2.0")  # two wheels, a fork
    assert usual_hours(bike, wheels, WheelSource.RELACE) == Decimal("6.0")


def test_wear_or_age_comes_first_and_what_a_year_costs() -> None:
    # 9000 km at 3000 a year: three years; ten years less two leave eight.
    worn = tire_years(
        price=Decimal("120"), life_km=9000, km_a_year=3000, replace_at_years=10, age_years=2
    )
    assert (worn.by_wear, worn.by_age, worn.first) == (3, 8, "wear")
    assert worn.cost_a_year == Decimal("40.00")
    aged = tire_years(
        price=Decimal("120"), life_km=9000, km_a_year=500, replace_at_years=10, age_years=2
    )
    assert (aged.first, aged.cost_a_year) == ("age", Decimal("15.00"))
    unknown = tire_years(price=None, life_km=None, km_a_year=None, replace_at_years=10, age_years=0)
    assert (unknown.first, unknown.cost_a_year) == ("age", None)
