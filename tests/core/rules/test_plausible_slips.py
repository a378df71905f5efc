"""Slips of one token that once passed unseen: each figure here comes from outside the code."""

import math
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.figures.character import Masses, character
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.gearing import sprockets_back
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan import search
from jentrik.core.plan.plan import Outcome, as_measured
from jentrik.core.plan.uncertainty import tells
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.inspection import TireDemands, wanted_kpa
from jentrik.core.work.policy import DEFAULT_POLICY, PressureSchool
from jentrik.core.work.tire_age import too_old
from jentrik.core.work.wear import Odometer, distances
from jentrik.exchange.plan_document import plan_from_json, read_bike, read_proposal
from tests.core.rules.rule_parts import rules
from tests.documents import MOTORCYCLE, PLAN, plan, raw

DAY = date(2026, 11, 26)
HEADSET = search._MOVES.index("head_turn_deg")


def outcome(*proposals: Any, base: dict[str, Any] = PLAN, **bike: Any) -> Outcome:
    return plan_from_json(raw(plan(*proposals, base=base, **bike))).outcomes[0]


def test_a_nose_that_comes_up_slackens_the_seat_angle() -> None:
    # Rear 20 mm lower over 1050 mm: the chassis turns nose up by asin(20 / 1050), 1.091 degrees.
    figures = outcome({"rear": {"overall_diameter_mm": 696 - 40}}).figures.geometry
    assert figures.seat_angle_deg == pytest.approx(73 - 1.091, abs=0.001)


def test_the_drop_of_the_bottom_bracket_is_below_the_axle_as_it_is_now() -> None:
    # Both wheels 20 mm smaller in radius: bracket and axle come down together, the drop stays 73.
    both = {end: {"overall_diameter_mm": 656} for end in ("front", "rear")}
    figures = outcome(both).figures.geometry
    assert figures.bb_drop_mm == pytest.approx(348 - 275)
    assert figures.bb_height_mm == pytest.approx(255)


def test_a_larger_wheel_lets_the_motor_help_to_a_higher_speed() -> None:
    # 5 % more way for each counted turn: 25 becomes 26.25 km/h.
    change = {"front": {"overall_diameter_mm": 696 * 1.05}}
    findings = outcome(change, **{"class": "pedelec"}).findings
    (cut_off,) = [finding for finding in findings if finding.rule == "assist-cut-off"]
    assert in_plain(cut_off.headline) == "Motor cuts off at 26.2 km/h"


@pytest.mark.parametrize(
    ("vehicle", "percent", "over"),
    # UN R39 as built, from memory: 10 % and 4 (mopeds, at 40), 6 (cars), 8 km/h (motorcycles) at
    # 120: 48/40, 138/120 and 140/120.
    [
        ("moped", 19.9, False),
        ("moped", 20.1, True),
        ("car", 14.9, False),
        ("car", 15.1, True),
        ("motorcycle", 16.6, False),
        ("motorcycle", 16.7, True),
    ],
)
def test_how_much_a_class_may_read_over(vehicle: str, percent: float, over: bool) -> None:
    there = {"speedometer": {"wheel": "front", "reads_over_percent": percent}, "class": vehicle}
    assert ("speedometer-over-limit" in rules({}, base=MOTORCYCLE, **there)) == over


@pytest.mark.parametrize(
    ("pedals", "use", "diameter", "asked"),
    # ISO 4210-2 and 8098, from memory. Straight room 94.9 - dR: 442.9 - R, R the front radius.
    [
        ("flat", None, 698, True),
        ("foot retention", None, 698, False),
        ("foot retention", None, 707, False),
        ("foot retention", None, 709, True),
        ("flat", "child", 707, False),
        ("flat", "child", 709, True),
    ],
)
def test_toe_room_with_and_without_foot_retention(
    pedals: str, use: str | None, diameter: int, asked: bool
) -> None:
    # The frame turns as the front comes up, and the center stays: 615.4 - 172.5 - R.
    change = {"front": {"overall_diameter_mm": diameter}}
    assert ("toe-overlap" in rules(change, pedals=pedals, use=use)) == asked


def test_an_age_at_the_limit_is_replaced_and_at_the_other_mounted() -> None:
    assert too_old(10.0, DEFAULT_POLICY).stops
    assert not too_old(9.999, DEFAULT_POLICY).stops
    assert too_old(5.0, DEFAULT_POLICY) is None
    assert too_old(5.001, DEFAULT_POLICY) is not None
    assert too_old(0.0, DEFAULT_POLICY) is None
    assert too_old(None, DEFAULT_POLICY) is None


def test_the_center_of_mass_comes_down_with_the_machine() -> None:
    # Both axles 20 mm lower, the foot too: tan of the lean from (240 sin 11 - 20) / (240 cos 11);
    # the center 540 mm up becomes 520: over its contacts it stands by crown radius and lean.
    lower = {"front": {"overall_diameter_mm": 695 - 40}, "rear": {"overall_diameter_mm": 640 - 40}}
    mass = {"kg": 180, "center_x_mm": 700, "center_height_mm": 540}
    now = outcome(lower, base=MOTORCYCLE, mass=mass).figures.parked
    lean = math.atan((240 * math.sin(math.radians(11)) - 20) / (240 * math.cos(math.radians(11))))
    crown = (130 + (90 - 130) * 520 / 1490) / 2  # between the wheels, where the foot stands
    side = (520 - crown) * math.sin(lean)
    up = crown + (520 - crown) * math.cos(lean)
    assert now.lean_deg == pytest.approx(math.degrees(lean), abs=0.01)
    assert now.tips_away_deg == pytest.approx(math.degrees(math.atan2(side, up)), abs=0.02)


def test_a_planned_tire_stands_on_its_own_crown() -> None:
    # The same diameters, only the widths grow: the round lean is that of the new crown.
    mass = {"kg": 180, "center_x_mm": 700, "center_height_mm": 540}
    wide = {
        "front": {"tire": "110/90-21 54H", "overall_diameter_mm": 695},
        "rear": {"tire": "150/80-17 65H", "overall_diameter_mm": 640},
    }
    tips = []
    for change, widths in (({}, (90, 130)), (wide, (110, 150))):
        now = outcome(change, base=MOTORCYCLE, mass=mass).figures.parked
        crown = (widths[1] + (widths[0] - widths[1]) * 520 / 1490) / 2
        lean = math.radians(11)
        up = crown + (540 - crown) * math.cos(lean)
        by_hand = math.degrees(math.atan2((540 - crown) * math.sin(lean), up))
        assert now.tips_away_deg == pytest.approx(by_hand, abs=0.02)
        tips.append(now.tips_away_deg)
    assert tips[1] < tips[0] - 0.1


def test_sprockets_are_looked_for_within_two_and_six_teeth() -> None:
    for ratio in (0.8, 0.93, 1.0, 1.07, 1.25):
        wanted = 45 / 15 * ratio
        best = min(
            abs(rear / front / wanted - 1) for front in range(13, 18) for rear in range(39, 52)
        )
        first = sprockets_back(15, 45, circumference_ratio=ratio)[0]
        assert 13 <= first.front <= 17
        assert 39 <= first.rear <= 51
        assert abs(first.off_percent) / 100 == pytest.approx(best, abs=6e-4)


def test_a_comma_in_a_low_section_width_keeps_its_height() -> None:
    # UN R75, from memory: 4.60 is a low section, 82 % high: 116.84 x 0.82.
    for text in ("4.60-18", "4,60-18"):
        assert read_code(text).section_height_mm == pytest.approx(95.8088)


def test_a_swapped_instrument_that_stands_higher_counts_at_the_pace() -> None:
    readings = [
        Odometer(DAY, 1000),
        Odometer(DAY + timedelta(days=9), 8000, swapped=True),
        Odometer(DAY + timedelta(days=19), 8100),
    ]
    assert [km for _, km in distances(readings)] == [0, 90, 190]  # 10 a day, never 7000


def test_a_heavier_axle_asks_no_more_than_the_sidewall() -> None:
    asked = TireDemands(sidewall_kpa=290, axle_load_kg=260, load_kg=200)
    assert wanted_kpa(asked, PressureSchool.LOAD)[0] == 290


@pytest.mark.parametrize("block", [3, 7, 64])
def test_the_best_is_the_best_of_all_blocks(monkeypatch: pytest.MonkeyPatch, block: int) -> None:
    # 40 rows: far from the target but for one row in the middle and a nearer one at the end.
    machine = as_measured(read_bike(PLAN["bike"]))
    target = search.target_of(machine, "as found", {"head_angle_deg": 71.0})
    space = search.space_of(machine, Proposal("A"), target, ())
    rows = np.zeros((40, 11))
    rows[:, HEADSET] = 4.0
    rows[20, HEADSET], rows[37, HEADSET] = 0.2, 0.1
    parts = search.sums
    monkeypatch.setattr(search, "sums", lambda tables: parts(tables, block=block))
    assert search.nearest(space, (rows,))[1] == 37


@pytest.mark.parametrize(("gap", "room"), [(8.0, True), (7.9, False)])
def test_a_way_back_keeps_the_minimum_to_the_millimetre(gap: float, room: bool) -> None:
    # A front tire 2 mm larger in radius needs 8 mm where 6 must stay.
    crown = [
        {
            "name": "crown",
            "wheel": "front",
            "direction": "radial",
            "on": "fork",
            "gap_mm": gap,
            "minimum_mm": 6,
        }
    ]
    grown = outcome({"front": {"overall_diameter_mm": 700}}, clearances=crown)
    assert grown.figures.clearances[0].ok == room


def test_the_doubt_of_a_fork_that_is_replaced_is_not_the_new_ones() -> None:
    # Only the fork's length is in doubt, by 10 mm. Replaced by one of a known length, the change
    # is in doubt by all of it; left alone, hardly.
    figures = {
        key: Figure(value, Provenance.MEASURED, DAY, 0.0)
        for key, value in (("wheelbase_mm", 1050.0), ("head_angle_deg", 71.0))
    }
    figures["fork.length_mm"] = Figure(395.0, Provenance.MEASURED, DAY, 10.0)
    figures["fork.offset_mm"] = Figure(50.0, Provenance.MEASURED, DAY, 0.0)
    figures["front.overall_diameter_mm"] = Figure(696.0, Provenance.MEASURED, DAY, 0.0)
    sheet = Sheet(1, "tourer", "bicycle", DrawnAs.DIAMOND, figures)
    wheels = {end: {"overall_diameter_mm": 696.0} for end in ("front", "rear")}
    machine = as_measured(read_bike(PLAN["bike"] | wheels))
    other = tells(sheet, machine, read_proposal({"name": "A", "fork": {"length_mm": 405}}))
    # 10 mm along an axis of 71 degrees lift the front by 9.46: 0.51 degrees over 1050 mm.
    assert other["head_angle_deg"] == pytest.approx(math.degrees(9.455 / 1050), rel=0.05)
    alone = tells(sheet, machine, read_proposal({"name": "B", "lower_cup_mm": 5}))
    assert alone["head_angle_deg"] < 0.1


def test_the_mass_of_a_tire_sits_above_the_middle_of_its_section() -> None:
    # Common practice: at 0.6 of the section height. 1 kg at 311 + 0.6 x 57 mm: 0.1192 kg m2.
    wheel = Wheel(tire=read_code("57-622"))
    rim_g = Masses(rim_g=0.001, tire_g=1000.0)
    result = character(
        wheel, step_mm=50, load_kg=None, pressure_kpa=None, speed_kmh=18, masses=rim_g
    )
    assert result.inertia_kgm2 == pytest.approx(0.3452**2, rel=1e-4)
