"""The width charts of a search: every size that may be pressed goes as a plan."""

import copy
from typing import Any

import numpy as np
import pytest

from jentrik.core.machine.machine import Bike
from jentrik.core.plan.finder import Found, Wanted, find, proposal_in
from jentrik.core.plan.groups import closed_rims, groups_of
from jentrik.core.plan.one_end import CLEAR
from jentrik.core.plan.pair_chart import pair_rows
from jentrik.core.plan.plan import outcome_of
from jentrik.core.plan.sizes import marks_on, standard_sizes, usual_sizes
from jentrik.core.tire.sidewall import read_code
from jentrik.exchange.plan_document import read_bike
from tests.documents import MOTORCYCLE, PLAN


def searched(base: dict[str, Any], *, one_rim: bool) -> Found:
    bike: Bike = read_bike(copy.deepcopy(base["bike"]))
    sizes = standard_sizes(bike.kind)
    fronts, rears = (usual_sizes(bike, end, sizes) for end in ("front", "rear"))
    return find(bike, Wanted(fronts, rears, limit=5, one_rim=one_rim, without=marks_on(bike)))


@pytest.mark.parametrize(("base", "one_rim"), [(PLAN, True), (PLAN, False), (MOTORCYCLE, False)])
@pytest.mark.parametrize("place", [None, 0, 7])
def test_every_size_on_a_bar_goes_beside_what_is_chosen(
    base: dict[str, Any], one_rim: bool, place: int | None
) -> None:
    found = searched(base, one_rim=one_rim)
    grid = found.grid
    assert grid is not None
    goes = [(int(i), int(j)) for i, j in np.argwhere(grid.first_stop == CLEAR)]
    rows = pair_rows(found, None if place is None else goes[place])
    assert {one.row.end for one in rows} == {"front", "rear"}
    for one in rows:
        for code, (front, rear) in one.pairs.items():
            assert code == (front if one.row.end == "front" else rear)
            proposal = proposal_in(found.found.bike, read_code(front), read_code(rear), None, 0.0)
            stops = [f for f in outcome_of(found.found, proposal).findings if f.severity == "stop"]
            assert stops == [], (front, rear)
            seats = {read_code(mark).bead_seat_diameter_mm for mark in (front, rear)}
            assert not one_rim or len(seats) == 1
        width = [size.width_mm or 0.0 for size in one.row.sizes]
        assert (min(width), max(width)) == (one.row.narrowest_mm, one.row.widest_mm)


def test_a_size_beside_another_chosen_has_another_bar() -> None:
    found = searched(MOTORCYCLE, one_rim=False)
    grid = found.grid
    assert grid is not None
    bars = set()
    for rear in range(0, len(grid.rears), 7):
        rows = pair_rows(found, (0, rear))
        bars.add(tuple(r.row.widest_mm for r in rows if r.row.end == "front"))
        beside = {pair[1] for r in rows if r.row.end == "front" for pair in r.pairs.values()}
        assert beside == {grid.rears[rear].text} or not beside
    assert len(bars) > 1


def test_a_rim_size_is_open_or_closed_never_both() -> None:
    found = searched(PLAN, one_rim=True)
    groups = groups_of(found)
    closed = closed_rims(found, groups)
    assert closed
    assert not {seat for seat, _ in closed} & {one.bead_seat_diameter_mm for one in groups}
    named = dict(found.left)
    assert all(rule in named for _, rule in closed)
