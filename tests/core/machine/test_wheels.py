"""What goes with a tire, what with a wheel, and what stays with the machine."""

from collections.abc import Callable
from typing import Any

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.wheel import (
    ApprovedPair,
    Fitted,
    Hub,
    Rim,
    RimBrake,
    Sensor,
    Wheel,
    WheelChange,
    Wheels,
    WheelSpec,
    merged,
    same_size,
)
from jentrik.core.tire.sidewall import read_code
from jentrik.exchange.plan_document import read_bike
from tests.documents import PLAN

T622, T622_WIDE, T584 = (read_code(code) for code in ("37-622", "50-622", "47-584"))
FOUND = Wheel(
    T622,
    overall_diameter_mm=690.0,
    rim=Rim(622, 19, "tube-type"),
    rim_brake=RimBrake(52.0, slot_mm=(47.0, 57.0)),
    rolled_mm=2155.0,
    tone_ring_slots=48,
    fitted=Fitted(make="Gull", made="1523", tread_mm=4.0),
    hub=Hub(100, 9, 180, rotor_mount="six bolts"),
    axle_load_kg=60.0,
)


def test_nothing_changed_is_the_same_wheel_but_for_what_is_rolled_anew() -> None:
    same = FOUND.changed_by(WheelChange())
    assert (same.tire, same.fitted, same.hub, same.rim) == (
        FOUND.tire,
        FOUND.fitted,
        FOUND.hub,
        FOUND.rim,
    )
    assert same.axle_load_kg == 60


def test_another_tire_takes_the_old_ones_age_and_tread_with_it_and_leaves_the_hub() -> None:
    wider = FOUND.changed_by(WheelChange(T622_WIDE, fitted=Fitted(made="0826")))
    assert wider.fitted == Fitted(made="0826")
    assert wider.hub == FOUND.hub
    assert wider.diameter_mm == 722
    assert not FOUND.is_another(WheelChange(T622_WIDE))


def test_another_wheel_takes_rim_and_hub_with_it_and_leaves_brake_ring_and_load() -> None:
    change = WheelChange(T584, hub=Hub(spacing_mm=110))
    other = FOUND.changed_by(change)
    assert FOUND.is_another(change)
    assert (other.rim, other.hub) == (None, Hub(spacing_mm=110))
    assert (other.rim_brake, other.tone_ring_slots, other.axle_load_kg) == (FOUND.rim_brake, 48, 60)


def test_a_part_said_of_the_same_wheel_is_laid_over_what_is_known() -> None:
    trued = FOUND.changed_by(WheelChange(hub=Hub(runout_mm=0.4), rim=Rim(inner_width_mm=21)))
    assert trued.hub == Hub(100, 9, 180, rotor_mount="six bolts", runout_mm=0.4)
    assert trued.rim == Rim(622, 21, "tube-type")
    assert merged(FOUND.hub, Hub()) is FOUND.hub


@pytest.mark.parametrize(
    ("made", "week", "year"), [("1523", 15, 2023), ("5323", 53, 2023), ("158", 15, None)]
)
def test_a_tires_date_is_week_first(made: str, week: int, year: int | None) -> None:
    result = Fitted(made=made).date
    assert (result.week, result.year) == (week, year)


@pytest.mark.parametrize(
    ("build", "field"),
    [
        (lambda: Fitted(made="5320"), "made"),  # 2020 had 52 Sundays
        (lambda: Fitted(made="may 23"), "made"),
        (lambda: Fitted(tread_mm=-1.0), "tread_mm"),
        (lambda: Fitted(pressure_kpa=5.0), "pressure_kpa"),
        (lambda: Hub(axle_mm=900), "axle_mm"),
        (lambda: Sensor(holes=4.5), "holes"),
        (lambda: Sensor(holes=1), "holes"),
        (lambda: WheelSpec(most_load_kg=0.0), "most_load_kg"),
        (lambda: Rim(most_kpa=float("nan")), "most_kpa"),
    ],
)
def test_what_no_wheel_has_is_refused_by_name(build: Callable[..., Any], field: str) -> None:
    with pytest.raises(OutOfRange) as refused:
        build()
    assert refused.value.field == field


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("90/90-21 54H", "90/90-21 54S TL", True),
        ("90/90-21", "80/90-21", False),
        ("90/90-21", "90/100-21", False),
        ("90/90-21", "90/90-18", False),
        ("37-622", "700x37C", True),
        ("90/90-21", "90/90 R 21", True),
    ],
)
def test_a_size_is_width_aspect_and_bead_seat(one: str, other: str, same: bool) -> None:
    assert same_size(read_code(one), read_code(other)) is same
    assert not same_size(read_code(one), None)


def test_a_pair_of_the_sheet_names_both_wheels_or_none() -> None:
    pair = ApprovedPair("x", WheelSpec(read_code("90/90-21")), WheelSpec(read_code("130/80-17")))
    right = Wheels(Wheel(read_code("90/90-21 54H")), Wheel(read_code("130/80-17 65H")))
    half = Wheels(Wheel(read_code("90/90-21 54H")), Wheel(read_code("140/80-17 69H")))
    assert pair.names(right)
    assert not pair.names(half)
    assert pair.at("rear").tire.width_mm == 130


def test_a_mudguard_has_its_inside_width_and_stays_with_the_frame() -> None:
    found = Wheel(T622, guard_inside_mm=52.0)
    assert found.changed_by(WheelChange(T622_WIDE)).guard_inside_mm == 52
    with pytest.raises(OutOfRange) as refused:
        Wheel(guard_inside_mm=9.0)
    assert refused.value.field == "guard_inside_mm"
    field = FIELD_BY_KEY["rear.guard_inside_mm"]
    assert (field.label, field.unit, field.kinds) == ("Mudguard, inside width", "mm", ("bicycle",))
    values = {**PLAN["bike"], "rear": {"tire": "37-622", "guard_inside_mm": 52}}
    assert read_bike(values).rear.guard_inside_mm == 52
