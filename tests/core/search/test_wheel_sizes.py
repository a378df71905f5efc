"""Sizes beside each other: the pairs a frame takes, and those of machines made for them."""

from itertools import pairwise

from jentrik.core.plan.plan import compute
from jentrik.core.rules.case import Severity
from jentrik.core.search.finder import Wanted, find
from jentrik.core.search.sizes import standard_sizes
from jentrik.core.search.wheel_sizes import LEAST_CHOICE, pairs_made_for, pairs_taken, usual_columns
from jentrik.exchange.plan_document import read_bike
from tests.documents import MOTORCYCLE, PLAN

BIKE, MOTOR = read_bike(PLAN["bike"]), read_bike(MOTORCYCLE["bike"])


def test_each_pair_a_frame_takes_is_stopped_by_no_rule() -> None:
    sizes = standard_sizes("bicycle")
    grid = find(BIKE, Wanted(sizes, sizes)).grid
    assert grid is not None
    pairs = pairs_taken(BIKE, grid)
    assert len({one.seats for one in pairs}) == len(pairs)
    assert all(one.seats[0] >= one.seats[1] for one in pairs)
    for one in usual_columns(BIKE, pairs):
        (outcome,) = compute(BIKE, [one.proposal(BIKE)]).outcomes
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
    seats = [one.seats for one in pairs if one.seats[0] == one.seats[1]]
    assert {(559, 559), (584, 584), (622, 622)} <= set(seats)
    assert all(one.choice >= LEAST_CHOICE for one in pairs)
    mixed = [one.seats for one in pairs if one.seats[0] != one.seats[1]]
    common = sorted(seat for seat, _ in seats)
    assert mixed == [(big, small) for small, big in pairwise(common)]


def test_three_columns_to_begin_with() -> None:
    for bike, kind in ((BIKE, "bicycle"), (MOTOR, "motorcycle")):
        columns = usual_columns(bike, pairs_made_for(bike, standard_sizes(kind)))
        assert 1 <= len(columns) <= 3
        assert len({one.seats for one in columns}) == len(columns)
