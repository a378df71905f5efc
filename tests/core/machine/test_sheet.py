"""Sheets: keys that are a plan document's paths, and figures that may be half there."""

from datetime import date
from typing import Any

import pytest

from jentrik.core.machine.assumed import assumed_figures
from jentrik.core.machine.fields import FIELD_BY_KEY, FIELDS, fields_of, missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import BUILDS, DrawnAs, Sheet
from jentrik.core.plan.plan import as_measured
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.job import KeptProposal, next_name
from jentrik.exchange.plan_document import read_bike

TODAY = date(2026, 11, 23)
BARE = {
    "front.tire": "37-622",
    "rear.tire": "37-622",
    "wheelbase_mm": 1050.0,
    "head_angle_deg": 71.0,
    "fork.length_mm": 395.0,
    "fork.offset_mm": 50.0,
}


def sheet(kind: str = "bicycle", **figures: Any) -> Sheet:
    named = {key.replace("__", "."): value for key, value in figures.items()}
    kept = {key: Figure(value, Provenance.MEASURED, TODAY) for key, value in named.items()}
    return Sheet(1, "tourer", kind, DrawnAs.DIAMOND, kept)


def full(**more: Any) -> Sheet:
    return sheet(**{key.replace(".", "__"): value for key, value in BARE.items()}, **more)


def test_a_sheet_with_the_needed_figures_is_a_machine() -> None:
    assert missing_of(full()) == ()
    assert as_measured(machine_of(full())).figures.geometry.wheelbase_mm == 1050


def test_what_is_missing_is_named_in_the_order_of_the_work() -> None:
    labels = [field.label for field in missing_of(sheet(front__tire="37-622"))]
    assert labels == [
        "Tire code",
        "Wheelbase",
        "Head angle",
        "Fork length along the axis",
        "Fork offset",
    ]


@pytest.mark.parametrize(
    "half",
    [
        {"speedometer__reads_over_percent": 4.0},
        {"side_stand__lean_deg": 11.0},
        {"side_stand__lean_deg": 11.0, "side_stand__foot_x_mm": 500.0},
        {"front__rim_brake__slot_least_mm": 47.0},
        {"spec__front__rim_width_most_mm": 23.0},
    ],
)
def test_half_a_group_of_figures_says_nothing_yet_and_breaks_nothing(
    half: dict[str, float],
) -> None:
    bike = machine_of(full(**half))
    assert bike.speedometer is bike.side_stand is None
    assert bike.front.rim_brake is None or bike.front.rim_brake.slot_mm is None


def test_whole_groups_come_through() -> None:
    values = full(
        speedometer__wheel="rear",
        speedometer__reads_over_percent=2.0,
        side_stand__lean_deg=11.0,
        side_stand__foot_out_mm=240.0,
        side_stand__foot_x_mm=520.0,
        front__rim_brake__pad_reach_mm=52.0,
        front__rim_brake__slot_least_mm=47.0,
        front__rim_brake__slot_most_mm=57.0,
        spec__rear__load_index=54.0,
    ).bike_values()
    bike = read_bike(values)
    assert (bike.speedometer.wheel, bike.side_stand.foot_x_mm) == ("rear", 520)
    assert bike.front.rim_brake.slot_mm == (47, 57)
    assert bike.maker.wheels["rear"].load_index == 54


LIKELY = {
    "pads_mm": 3.0,
    "rotor_thickness_mm": 4.0,
    "rotor_minimum_mm": 4.0,
    "captain_ahead_mm": 700.0,
    "fold_wheel_mm": 450.0,  # the end of a key -> a figure such a field can hold
    "speed_symbol": "H",
    "wheelbase_mm": 1000.0,
    "chainstay_mm": 1000.0,
    "stack_mm": 1000.0,
    "fork.length_mm": 1000.0,
    "seat_height_mm": 1000.0,
    "overall_diameter_mm": 600.0,
    "bead_seat_diameter_mm": 600.0,
    "leverage": 2.5,
    "link_ratio": 2.5,
    "rolled_mm": 2000.0,
    "chainrings": "50/34",
    "sprockets": "11-13-15",
    "gear_ratios": "2.5-1",
    "_ratio": 2.5,
    "_sprocket": 17.0,
    "offset_kmh": 2.0,
    "most_rpm": 9000.0,
    "make": "Gull",
    "rotor_mount": "six bolts",
    "driver": "spline",
    "axle_mm": 12.0,
    "rotor_mm": 180.0,
    "rotor_most_mm": 180.0,
    "valve_hole_mm": 8.5,
    "within_kmh": 2.0,
    "within_percent": 1.0,
    "hub.spokes": 32.0,
    "crossings": 3.0,
    "rated_bead_seat_mm": 622.0,
}


def test_every_key_of_the_form_is_one_the_plan_document_knows() -> None:
    for field in FIELDS:
        kind = field.kinds[0]
        figures = dict(BARE)
        if kind == "motorcycle":
            figures.pop("head_angle_deg")
            figures["rake_deg"] = 19.0
        likely = [value for end, value in LIKELY.items() if field.key.endswith(end)]
        usual = 50.0 if field.key.startswith("spec.") else 60.0
        figures.setdefault(field.key, (*field.choices, *likely, usual)[0])
        kept = {key.replace(".", "__"): figure for key, figure in figures.items()}
        machine_of(sheet(kind, **kept))


def test_every_field_says_what_it_unlocks_and_keys_are_single() -> None:
    assert len(FIELD_BY_KEY) == len(FIELDS)
    for field in FIELDS:
        assert field.label
        assert field.unlocks
        assert field.group


def test_each_kind_has_its_own_steering_angle_and_builds() -> None:
    bicycle = {field.key for field in fields_of("bicycle")}
    motorcycle = {field.key for field in fields_of("motorcycle")}
    assert "head_angle_deg" in bicycle - motorcycle
    assert "rake_deg" in motorcycle - bicycle
    assert {*BUILDS["bicycle"], *BUILDS["motorcycle"]} == set(DrawnAs)
    assert not set(BUILDS["bicycle"]) & set(BUILDS["motorcycle"])


@pytest.mark.parametrize(
    "code", ["28-622", "62-622", "40-305", "37-349", "60-203", "120/70 R 17", "3.50-10", "MT90B16"]
)
def test_assumed_figures_make_a_machine_that_stands(code: str) -> None:
    reading = read_code(code)
    figures = assumed_figures(reading.vehicle, reading) | {"front.tire": code, "rear.tire": code}
    kept = {key.replace(".", "__"): value for key, value in figures.items()}
    assumed = sheet(reading.vehicle, **kept)
    assert missing_of(assumed) == ()
    # Common practice: every machine people ride has some trail and a head angle of 60 to 75.
    baseline = as_measured(machine_of(assumed)).figures.geometry
    assert baseline.trail_mm > 10
    assert 60 <= baseline.head_angle_deg <= 75


def test_names_of_proposals_go_on_after_z() -> None:
    assert next_name(()) == "A"
    assert next_name(("A", "C")) == "B"
    alphabet = tuple("ABCDEFGHIJKLMNOPQRSTUVWXYZ")
    assert next_name(alphabet) == "A2"


def test_a_kept_proposal_is_a_documents_proposal() -> None:
    kept = KeptProposal(3, "B", {"rear": {"tire": "47-584"}})
    assert kept.values() == {"name": "B", "rear": {"tire": "47-584"}}
