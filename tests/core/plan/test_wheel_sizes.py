"""Sizes beside each other: the pairs a frame takes, and those of machines made for them."""

from itertools import pairwise

from jentrik.core.plan.finder import Wanted, find
from jentrik.core.plan.plan import compute
from jentrik.core.plan.sizes import standard_sizes
from jentrik.core.plan.wheel_sizes import LEAST_CHOICE, pairs_made_for, pairs_taken, usual_columns
from jentrik.core.rules.case import Severity
from jentrik.core.tire.sidewall import read_code
from jentrik.exchange.plan_document import read_bike
from tests.documents import MOTORCYCLE, PLAN

BIKE, MOTOR = read_bike(PLAN["bike"]), read_bike(MOTORCYCLE["bike"])


def test_each_pair_a_frame_takes_is_stopped_by_no_rule() -> None:
    sizes = standard_sizes("bicycle")
    grid = find(BIKE, Wanted(sizes, sizes)).grid
    assert grid is not None
    pairs = pairs_taken(BIKE, grid)
    assert len({pair.seats for pair in pairs}) == len(pairs)
    assert all(pair.seats[0] >= pair.seats[1] for pair in pairs)
    for column in usual_columns(BIKE, pairs):
        (outcome,) = compute(BIKE, [column.proposal(BIKE)]).outcomes
        assert not [rule for rule in outcome.findings if rule.severity is Severity.STOP]


def test_of_one_bead_seat_the_width_nearest_as_found_is_taken() -> None:
    sizes = standard_sizes("bicycle")
    grid = find(BIKE, Wanted(sizes, sizes)).grid
    assert grid is not None
    assert BIKE.front.tire is not None
    same = next(
        one
        for one in pairs_taken(BIKE, grid)
        if one.seats == (BIKE.front.tire.bead_seat_diameter_mm,) * 2
    )
    assert same.front.width_mm == BIKE.front.width_mm


def test_machines_made_for_a_size_come_in_every_common_one() -> None:
    pairs = pairs_made_for(BIKE, standard_sizes("bicycle"))
    seats = [pair.seats for pair in pairs if pair.seats[0] == pair.seats[1]]
    assert {(559, 559), (584, 584), (622, 622)} <= set(seats)
    assert all(pair.choice >= LEAST_CHOICE for pair in pairs)
    mixed = [pair.seats for pair in pairs if pair.seats[0] != pair.seats[1]]
    common = sorted(seat for seat, _ in seats)
    assert mixed == [(big, small) for small, big in pairwise(common)]


def test_three_columns_to_begin_with() -> None:
    for bike, kind in ((BIKE, "bicycle"), (MOTOR, "motorcycle")):
        columns = usual_columns(bike, pairs_made_for(bike, standard_sizes(kind)))
        assert 1 <= len(columns) <= 3
        assert len({column.seats for column in columns}) == len(columns)


def test_an_end_whose_bead_seat_stays_keeps_its_tire() -> None:
    cruiser = read_bike(MOTORCYCLE["bike"] | {"rear": {"tire": "130/80-17"}})
    pairs = pairs_made_for(cruiser, standard_sizes("motorcycle"))
    kept = [pair.rear.text for pair in pairs if pair.seats[1] == 432]  # 17 x 25.4
    assert kept
    assert set(kept) == {"130/80-17"}


def test_the_size_nearest_in_width_and_height_stands_for_a_bead_seat() -> None:
    # On 16 inches 130/80 is as wide and as high; 130/90 and 130/70 are as wide.
    cruiser = read_bike(MOTORCYCLE["bike"] | {"rear": {"tire": "130/80-17"}})
    sizes = [read_code(one) for one in ("130/90-16", "130/70-16", "140/80-16", "130/80-16")]
    spare = [read_code(f"{width}/90-16") for width in (100, 110, 120, 150)]
    (pair,) = pairs_made_for(cruiser, [*sizes, *spare])
    assert pair.rear.text == "130/80-16"
