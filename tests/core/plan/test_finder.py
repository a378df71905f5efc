"""The finder against brute force: every combination as an ordinary proposal, rule by rule."""

import copy
import math
import random
from dataclasses import replace

import numpy as np
import pytest

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.machine.machine import Bike
from jentrik.core.plan import finder, one_end
from jentrik.core.plan.finder import MOST_PAIRS, Wanted, find, proposal_in
from jentrik.core.plan.one_end import CANNOT_STAND, CLEAR, PLACE, STOPS, Size
from jentrik.core.plan.plan import as_measured, compute, outcome_of
from jentrik.core.plan.ranking import Weights, apart_of, by_load, load_counts
from jentrik.core.plan.sizes import sizes_of, standard_sizes
from jentrik.core.rules import RULES
from jentrik.core.rules.case import Severity
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.exchange.plan_document import read_bike
from tests.documents import MOTORCYCLE as MOTORCYCLE_PLAN
from tests.documents import PLAN

BICYCLE, MOTORCYCLE = PLAN["bike"], MOTORCYCLE_PLAN["bike"]


SPRUNG = {
    **BICYCLE,
    "suspension": {
        "front": {"travel_mm": 140, "sag_mm": 30},
        "rear": {"travel_mm": 260, "sag_mm": 40},
    },
}
STANDING = {
    **MOTORCYCLE,
    "front": {"tire": "90/90-21 54H", "rim": {"inner_width_mm": 47}},
    "mass": {"center_x_mm": 680, "center_height_mm": 560, "kg": 190},
}
APPROVED = {
    **MOTORCYCLE,
    "approved": [
        {
            "name": "wide",
            "front": {"tire": "100/90-19", "load_index": 90, "speed_symbol": "H"},
            "rear": {"tire": "130/80-17"},
        }
    ],
}


def bike_of(values: dict[str, object], **changes: object) -> Bike:
    return read_bike({**copy.deepcopy(values), **changes})


def first_stops(bike: Bike, wanted: Wanted) -> dict[tuple[int, int], int]:
    """Return the first stop in page order of every pair, each judged whole; its own place."""
    found, first = as_measured(bike), {}
    for i, front in enumerate(wanted.front or (None,)):
        for j, rear in enumerate(wanted.rear or (None,)):
            try:
                findings = outcome_of(found, proposal_in(bike, front, rear, None, 0.0)).findings
                stops = [
                    PLACE[finding.rule] for finding in findings if finding.severity is Severity.STOP
                ]
                first[i, j] = min(stops, default=CLEAR)
            except Refusal:
                first[i, j] = PLACE[CANNOT_STAND]
    return first


@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize(
    "values",
    [BICYCLE, MOTORCYCLE, SPRUNG, STANDING, APPROVED],
    ids=["bicycle", "motorcycle", "sprung", "standing", "approved"],
)
def test_the_counts_are_those_of_the_rules_applied_one_by_one(
    values: dict[str, object], seed: int
) -> None:
    chance, bike = random.Random(seed), bike_of(values)
    other = "motorcycle" if bike.kind == "bicycle" else "bicycle"
    near = [size for size in standard_sizes(bike.kind) if 540 < size.overall_diameter_mm < 740]
    fronts = [*chance.sample(near, 16), chance.choice(standard_sizes(other))]
    rears = chance.sample(near, 12)
    fronts += sizes_of(["100/90-19 57H"]) if bike.kind == "motorcycle" else []
    rears += sizes_of(["130/80-17 65H"]) if bike.kind == "motorcycle" else []
    wanted = Wanted(tuple(fronts), tuple(rears), limit=30)
    found, first = find(bike, wanted), first_stops(bike, wanted)
    left = wanted.count
    for place, (rule, after) in enumerate(found.left):
        left -= sum(one == place for one in first.values())
        assert (rule, after) == (STOPS[place], left)
    assert found.grid is not None
    assert {key: found.grid.first_stop[key] for key in first} == first
    assert len(found.pairs) == min(30, left)


def test_each_shown_pair_is_exactly_what_a_plan_says_of_it() -> None:
    bike = bike_of(BICYCLE)
    found = find(bike, Wanted(standard_sizes("bicycle"), standard_sizes("bicycle"), limit=12))
    assert len(found.pairs) == 12
    for pair in found.pairs:
        (alone,) = compute(bike, (pair.outcome.proposal,)).outcomes
        assert alone == pair.outcome
        assert all(finding.severity is not Severity.STOP for finding in alone.findings)
        assert pair.worst in ("none", "note", "caution")
    scores = [pair.score for pair in found.pairs]
    assert scores == sorted(scores)


def test_the_best_are_the_best_of_all() -> None:
    bike = bike_of(BICYCLE)
    wanted = Wanted(standard_sizes("bicycle")[:60], standard_sizes("bicycle")[40:100], limit=400)
    many = find(bike, wanted)
    few = find(bike, replace(wanted, limit=5))
    assert [pair.score for pair in few.pairs] == [pair.score for pair in many.pairs[:5]]


def test_a_weight_of_nothing_leaves_that_out() -> None:
    bike, sizes = bike_of(BICYCLE), standard_sizes("bicycle")
    alone = find(bike, Wanted(sizes, None, weights=Weights(1, 0, 0, 0), limit=40)).pairs
    off = [abs(one.outcome.figures.geometry.trail_mm) for one in alone]
    assert len(off) > 5
    by_choice = find(bike, Wanted(sizes, None, weights=Weights(0, 0, 0, 1), limit=400)).pairs
    likes = [one.sizes_like_it for one in by_choice]
    assert likes == sorted(likes, reverse=True)


def test_one_end_alone_leaves_the_other_as_found() -> None:
    bike = bike_of(MOTORCYCLE)
    found = find(bike, Wanted(None, sizes_of(["120/80-18", "130/80-17"])))
    assert found.tried == 2
    assert all(pair.outcome.proposal.front.tire is None for pair in found.pairs)


def test_wheels_that_would_meet_cannot_stand() -> None:
    bike = bike_of(BICYCLE, wheelbase_mm=760)
    wanted = Wanted(sizes_of(["37-622", "100-622"]), sizes_of(["37-622", "120-622"]))
    found, first = find(bike, wanted), first_stops(bike, wanted)
    assert PLACE[CANNOT_STAND] in first.values()
    assert found.left[0] == (CANNOT_STAND, 4 - list(first.values()).count(0))


def test_blocks_of_any_size_find_the_same(monkeypatch: pytest.MonkeyPatch) -> None:
    bike, sizes = bike_of(BICYCLE), standard_sizes("bicycle")[:70]
    whole = find(bike, Wanted(sizes, sizes))
    monkeypatch.setattr(finder, "BLOCK", 200)
    parts = find(bike, Wanted(sizes, sizes))
    assert (parts.left, parts.one_mm_more) == (whole.left, whole.one_mm_more)
    assert [pair.score for pair in parts.pairs] == [pair.score for pair in whole.pairs]
    assert whole.grid is not None
    assert parts.grid is not None
    assert np.array_equal(parts.grid.first_stop, whole.grid.first_stop)


def test_a_millimetre_of_room_lets_back_in_what_lacks_no_more() -> None:
    # By hand: 37-622 has 12.5 mm at the crown and 12 are asked; 38-622 lacks half a millimetre,
    # 39-622 one and a half.
    place = {"name": "fork crown", "wheel": "front", "direction": "radial", "on": "fork"}
    bike = bike_of(BICYCLE, clearances=[{**place, "gap_mm": 12.5, "minimum_mm": 12}])
    found = find(bike, Wanted(sizes_of(["37-622", "38-622", "39-622"]), None))
    assert dict(found.left)["clearance-below-minimum"] == 1
    assert found.one_mm_more == 1


def test_every_stop_is_judged_somewhere() -> None:
    known = {*one_end._TOGETHER, *one_end._OF_THE_FRONT, *one_end._OF_THE_REAR}
    known |= one_end._OF_THE_INSTRUMENT
    of_both = {
        rule.id for rule in RULES if rule.severity is Severity.STOP and rule.per in ("bike", "pair")
    }
    assert of_both == known


def test_more_than_can_be_worked_is_refused() -> None:
    sizes = standard_sizes("bicycle")
    steps = tuple(float(one) for one in range(MOST_PAIRS // len(sizes) ** 2 + 1))
    with pytest.raises(OutOfRange, match="combinations"):
        find(bike_of(BICYCLE), Wanted(sizes, sizes, fork_steps_mm=steps))


def _sizes_in_order(found: finder.Found) -> list[str]:
    return [pair.outcome.proposal.front.tire.text for pair in found.pairs]


def test_price_and_load_margin_rank_where_they_are_known_and_nowhere_else() -> None:
    bike = bike_of(BICYCLE)
    sizes = sizes_of(["37-622", "38-622", "40-622"])
    alone = Weights(0, 0, 0, 0, 0, 1)
    dear = {"37-622": 40.0, "38-622": 10.0}
    priced = find(bike, Wanted(sizes, None, weights=alone, prices=dear))
    assert _sizes_in_order(priced) == ["38-622", "37-622", "40-622"]
    assert [pair.score for pair in priced.pairs] == [
        0.125,
        0.5,
        0.5,
    ]  # the rear costs nothing: half
    unpriced = find(bike, Wanted(sizes, None, weights=alone))
    assert {pair.score for pair in unpriced.pairs} == {0.0}


def test_load_margin_by_hand() -> None:
    # Load index 58 carries 236 kg, 52 200 kg; 180 kg weighed: margins 31 % and 11.1 % of 25 wanted.
    document = copy.deepcopy(MOTORCYCLE)
    document["front"]["axle_load_kg"] = 180
    bike = read_bike(document)
    sizes = sizes_of(["110/80-18 58S", "110/80-18 52S", "110/80-18"])
    ranked = find(bike, Wanted(sizes, None, weights=Weights(0, 0, 0, 0, 1, 0)))
    scores = {
        name: one.score for name, one in zip(_sizes_in_order(ranked), ranked.pairs, strict=True)
    }
    assert scores.get("110/80-18 58S", 0.0) == 0.0
    for text, expected in (("110/80-18 52S", 1 - (200 / 180 - 1) / 0.25), ("110/80-18", 1.0)):
        if text in scores:
            assert scores[text] == pytest.approx(expected)


def test_moved_limits_move_cautions_and_no_stop() -> None:
    bike, sizes = bike_of(BICYCLE), standard_sizes("bicycle")[:40]
    search = finder.prepared(bike, Wanted(sizes, sizes))
    first = search.ranked(Weights(), 10)
    wide = DEFAULT_POLICY.having({"limits.trail_mm.low": -40.0, "limits.trail_mm.high": 40.0})
    search.judge_by(wide)
    again, fresh = search.ranked(Weights(), 10), find(bike, Wanted(sizes, sizes), policy=wide)
    assert again.left == first.left == fresh.left
    assert [pair.worst for pair in again.pairs] == [pair.worst for pair in fresh.pairs[:10]]


def test_how_far_a_pair_lies_by_hand() -> None:
    # Head angle 1 of 0.5 and trail 5 of 5 noticed: sqrt((4 + 1) / 2).  The front, which feeds the
    # instrument, 2 % larger: 2 % of speed and 2 % of front against rear.
    found = as_measured(bike_of(MOTORCYCLE))
    axles = found.chassis.axles
    one = Size(0, 1.02 * axles.front_radius_mm, 90, 4.0, 0, likes=2, load=0.2, cost=0.2)
    other = Size(0, axles.rear_radius_mm, 130, 30.0, 0, likes=4, load=0.7, cost=0.6)
    radius = (np.array([[one.radius_mm]]), np.array([[other.radius_mm]]))
    moved = (np.array([[1.0]]), np.array([[-5.0]]), None)
    apart = apart_of(found, found.policy, [one], [other], radius, moved)
    by_hand = (math.sqrt(2.5), 4.0, 0.6, 0.5, 0.7, 0.4, 0.0)
    assert [float(part[0, 0]) for part in apart] == pytest.approx(by_hand)
    fed_behind = as_measured(bike_of(MOTORCYCLE, speedometer={"wheel": "rear"}))
    speed = apart_of(fed_behind, found.policy, [one], [other], radius, moved)[1]
    assert float(speed[0, 0]) == pytest.approx(2.0)


def test_room_beyond_what_is_wanted_and_load_no_one_weighed_count_nothing() -> None:
    light, heavy, silent = sizes_of(["110/80-18 52S", "110/80-18 58S", "110/80-18"])
    apart = by_load(180.0, [light, heavy, silent])  # 200, 236 kg: margins 11.1 and 31.1 %
    by_hand = (1 - (200 / 180 - 1) / 0.25, 0.0, 1.0)
    assert [apart(size) for size in (light, heavy, silent)] == pytest.approx(by_hand)
    assert by_load(260.0, [light])(light) == 1.0  # less than the axle: never below none
    assert by_load(None, [light])(light) == by_load(180.0, [silent])(silent) == 0.0
    assert load_counts([None, 180.0], [silent, light])
    assert not load_counts([None, None], [light])
    assert not load_counts([180.0], [silent])
