"""What findings say in either direction, and the figures they name, worked by hand."""

from typing import Any

import pytest

from tests.core.rules.rule_parts import (
    BRAKE,
    CHIP,
    FRONT,
    LONGEST_405,
    PEG,
    SUMP,
    both,
    both_travels,
    front,
    lower,
    ring,
    travel,
)
from tests.core.rules.test_rule_edges import findings_of
from tests.documents import MOTORCYCLE, plan


def motor(change: dict[str, Any], **bike: Any) -> dict[str, Any]:
    return plan(change, base=MOTORCYCLE, **bike)


def end(name: str, **figures: Any) -> dict[str, Any]:
    return {name: figures}


def brake(mount: str | None) -> dict[str, Any]:
    named = {"mount": mount} if mount else {}
    return {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52, **named}}


def size(front_mm: float | None = None, rear_mm: float | None = None) -> dict[str, Any]:
    pairs = (("front", front_mm), ("rear", rear_mm))
    return {name: {"overall_diameter_mm": mm} for name, mm in pairs if mm}


LINE = {"tire": "37-622", "hub": {"chain_line_mm": 43.5}}
SIX_OVER = {"wheel": "front", "reads_over_percent": 6}
WIDE_STAND = {"lean_deg": 11.0, "foot_out_mm": 500, "foot_x_mm": 520}
PIPE = {"name": "pipe", "x_mm": 700, "height_mm": 72}
WIDE_PIPE = {"name": "pipe", "x_mm": 600, "height_mm": 330, "out_mm": 400}
GEARS = {"gearing": {"front_sprocket": 15, "rear_sprocket": 45}}

ROWS = [
    # The chassis turns by asin(20 / 1050) = 1.091 degrees.
    ("head_angle_shift", plan(size(rear_mm=656)), "Head angle 1.1° slacker", "accepts 0.8°"),
    ("head_angle_shift", plan(size(rear_mm=736)), "Head angle 1.1° steeper", "accepts 0.8°"),
    # Trail goes with the offset over sin 71: 8 mm of it are 8.46, and the nose moves.
    ("trail_shift", plan({"fork": {"offset_mm": 40}}), "mm more", "accepts 8 mm"),
    ("trail_shift", plan({"fork": {"offset_mm": 60}}), "mm less", "accepts 8 mm"),
    (
        "wheelbase_shift",
        plan({"rear_axle_shift_mm": {"x": -20}}),
        "20 mm more",
        "more room to turn",
    ),
    ("wheelbase_shift", plan({"rear_axle_shift_mm": {"x": 20}}), "20 mm less", "less room"),
    ("reach_shift", plan(size(rear_mm=656)), "Reach 11 mm less", "nose up: saddle forward"),
    ("reach_shift", plan(size(rear_mm=736)), "Reach 11 mm more", "nose down: saddle back"),
    ("seat_height_shift", plan(both(640)), "28 mm less", "sooner"),
    ("seat_height_shift", plan(both(752)), "28 mm more", "later"),
    (  # 21 to 17 inch: trail and wheel speak for quicker, width and crown against it
        "handling",
        motor(front("110/80-17")),
        "Steering quicker",
        "gyroscope of the front wheel; against it",
    ),
    (
        "handling",
        motor(front("110/80-17"), outfit="sidecar"),
        "Steering quicker",
        "gyroscope of the front wheel.",  # it does not lean: no width, no crown
    ),
    ("handling", plan({"fork": {"offset_mm": 40}}), "Steering calmer", "more trail."),
    ("handling", motor(front("100/90-21")), "Steering calmer", "11 % flatter"),
    ("bb_low", plan(both(672)), "12 mm lower", "accepts 10 mm"),
    ("bb_high", plan(both(728)), "16 mm higher", "accepts 15 mm"),
    # Hubs and brakes.
    (
        "chain_line_differs",
        plan(end("rear", hub={"chain_line_mm": 46}), rear=LINE),
        "2.5 mm further out",
        "askew",
    ),
    (
        "chain_line_differs",
        plan(end("rear", hub={"chain_line_mm": 41}), rear=LINE),
        "2.5 mm further in",
        "askew",
    ),
    (
        "rotor_over_makers_limit",
        plan(end("front", hub={"rotor_mm": 203}), spec={"front": {"rotor_most_mm": 180}}),
        "the fork takes 180",
        "203 mm loads",
    ),
    (
        "rotor_over_makers_limit",
        plan(end("rear", hub={"rotor_mm": 203}), spec={"rear": {"rotor_most_mm": 180}}),
        "the frame takes 180",
        "203 mm loads",
    ),
    ("out_of_true", plan(end("front", hub={"runout_mm": 1.1}), front=BRAKE), "1.1 mm", "1 mm at"),
    ("brake_to_measure", plan(front("47-584"), front=BRAKE), "move 19 mm", "19 mm lower"),
    ("brake_to_measure", plan(front("35-630"), front=BRAKE), "move 4 mm", "4 mm higher"),
    # 52 + 19 is in a slot up to 71; without a slot the mount says which way.
    ("brake_to_measure", plan(front("47-584"), front=BRAKE), "19 mm", "at 71 mm they are inside"),
    (
        "brake_to_measure",
        plan(front("47-584"), front=brake("bolt above")),
        "19 mm",
        "lower: a caliper bolted above the rim must reach 71 mm, 19 mm further down. Measure",
    ),
    (
        "brake_to_measure",
        plan(front("35-630"), front=brake("boss below")),
        "4 mm",
        "higher: an arm on a boss below the rim would meet it that much further from its boss.",
    ),
    ("brake_to_measure", plan(front("47-584"), front=brake(None)), "19 mm", "nearer to its boss"),
    # The frame.
    ("fork_too_long", plan({"lower_cup_mm": 11}, fork=LONGEST_405), "1 mm over", "a 11 mm cup"),
    (
        "fork_too_long",
        plan({"fork": {"length_mm": 410}}, fork=LONGEST_405),
        "5 mm over",
        "410 mm long;",
    ),
    ("design_size_left", plan(end("front", tire="47-584")), "Front wheel", "A smaller front"),
    ("design_size_left", plan(end("front", tire="32-630")), "Front wheel", "A bigger front"),
    ("design_size_left", plan(end("rear", tire="47-584")), "Rear wheel", "A smaller rear"),
    # Instruments: the front feeds it, 4 % over.
    ("odometer_drift", motor(size(front_mm=695 * 0.9)), "111 km in 1000 km more", "1111 km stand"),
    ("odometer_drift", motor(size(front_mm=695 * 1.1)), "91 km in 1000 km less", "909 km stand"),
    (
        "gearing_shift",
        motor(size(rear_mm=640 * 0.949), **GEARS),
        "Gears 5.1 % shorter",
        "changes by −5.1 %",
    ),
    (
        "gearing_shift",
        motor(size(rear_mm=640 * 1.051), **GEARS),
        "Gears 5.1 % taller",
        "changes by +5.1 %",
    ),
    # 45 x 14 / 15 is 42.
    (
        "gearing_shift",
        motor(size(rear_mm=640 * 14 / 15), **GEARS),
        "6.7 % shorter",
        "15 and 42 teeth",
    ),
    (
        "gearing_shift",
        plan(size(rear_mm=696 * 0.9), gearing={"chainrings": [48, 32]}),
        "10.0 % shorter",
        "48 like 43.2 and 32 like 28.8",
    ),
    ("computer_setting", plan(size(front_mm=626.4)), "counts 11.1 % long", "1968 mm"),
    ("computer_setting", plan(size(front_mm=765.6)), "counts 9.1 % short", "2405 mm"),
    # 1 / 0.95 turns 5.3 % faster.
    ("wheel_speed_ratio", motor(size(front_mm=695 * 0.95)), "off by 5.0 %", "5.3 % faster"),
    ("wheel_speed_ratio", motor(size(front_mm=695 * 1.05)), "off by 5.0 %", "4.8 % slower"),
    (
        "assist_cut_off",
        plan(size(front_mm=696 * 0.95), **{"class": "pedelec"}),
        "23.8 km/h",
        "2077 mm",
    ),
    (
        "assist_cut_off",
        plan(size(rear_mm=696 * 0.9), speedometer=None, **{"class": "pedelec"}),
        "22.5 km/h",
        "1968 mm",
    ),
    # 104 x 695 / 730 shows 99.0 at 100: 1.0 % low.
    ("motor_under_reads", motor(size(front_mm=730)), "1.0 % low", "40 km/h it shows 39.6"),
    # 104 x 695 / 850 shows 85.0 at 100.
    ("motor_under_reads", motor(size(front_mm=850)), "15.0 % low", "shows 34.0"),
    ("over_policy", motor(size(front_mm=688), speedometer=SIX_OVER), "7.1 % high", "true 100 km/h"),
    (
        "over_policy",
        motor(size(front_mm=688), speedometer=SIX_OVER, top_speed_kmh=60),
        "7.1 % high",
        "true 60 km/h it shows 64.2",
    ),
    (
        "gearing_shift",
        motor(size(rear_mm=600), gearing={"front_sprocket": 15}),
        "6.2 % shorter",
        "every gear is 6.2 % shorter.",
    ),
    (
        "computer_setting",
        plan(size(front_mm=626.4), **{"class": "pedelec"}),
        "11.1 % long",
        "The motor's cut-off moves",
    ),
    (
        "cycle_under_reads",
        plan(size(front_mm=731), **{"class": "pedelec-45"}),
        "1.0 % low",
        "40 km/h it shows 39.6",
    ),
    ("assist_cut_off", plan(size(front_mm=731), **{"class": "pedelec-45"}), "47.3 km/h", "45"),
    ("motor_over_limit", motor(size(front_mm=695 * 0.88)), "18.2 % high", "allows 140"),
    # Ring 48 to 50 on the same wheel: 4.17 % more pulses.
    (
        "tone_ring",
        motor(ring(50, 695), front={**FRONT, "tone_ring_slots": 48}),
        "+4.2 %",
        "4.2 % faster",
    ),
    (
        "tone_ring",
        motor(ring(46, 695), front={**FRONT, "tone_ring_slots": 48}),
        "−4.2 %",
        "4.2 % slower",
    ),
    (
        "tone_ring",
        motor(ring(46, 695), front={**FRONT, "tone_ring_slots": 48}),
        "−4.2 %",
        "48 front slots leave +0.00 %",
    ),
    ("speed_symbol_below_spec", motor(front("90/90-21 54S")), "Speed symbol S", "made for 180"),
    # 90 of 130 mm is 0.692, of 150 it is 0.6: 13 % less.
    ("crown_profile", motor(end("rear", tire="150/80-17")), "13 % rounder", "0.60 of the rear"),
    # Found on 584 with a frame made for 622, and nothing else changed.
    (
        "design_size_left",
        plan({}, front={"tire": "47-584"}, spec={"front": {"tire": "37-622"}}),
        "Front wheel",
        "A smaller front",
    ),
    (
        "set_sag_again",
        plan(
            {"shock_mm": 215},
            suspension={
                "front": {"travel_mm": 100, "sag_mm": 20},
                "rear": {"travel_mm": 120, "sag_mm": 30, "shock_mm": 210, "leverage": 2.5},
            },
        ),
        "sag and pressure",
        "Another link or shock",
    ),
    # The stand: 9 mm over 240 turn it 2.1 degrees; 16 over 500 only 1.8, but that is over 15 mm.
    ("stand_changes", lower(-9), "2.1° further over", "by 9 mm. A puck of 9 mm"),
    ("stand_changes", lower(16, side_stand=WIDE_STAND), "1.8° more upright", "by 16 mm"),
    # Of two places that lose, the one that loses most.
    ("touches_earlier", lower(40, points=[*PEG, WIDE_PIPE]), "pipe:", "pipe meets"),
    ("touches_earlier", lower(40, points=[WIDE_PIPE, *PEG]), "pipe:", "pipe meets"),
    (
        "on_the_ground_at_full_travel",
        lower(40, points=[*SUMP, PIPE], suspension=both_travels(80)),
        "pipe reaches",
        "below",
    ),
    ("car_tire", motor(end("rear", tire="T130/80-17")), "A car tire", "temporary spare"),
    ("car_tire", motor(end("rear", tire="ST145/80R17")), "A car tire", "trailers only"),
    ("car_tire", motor(end("rear", tire="145/80R17")), "A car tire", "machine that leans. Choose"),
    (
        "width_differs",
        motor(front("90/90-21"), spec={"front": {"tire": "80/90-21"}}),
        "10 mm wider than the maker's",
        "not more grip by itself",
    ),
    ("width_differs", motor(front("80/90-21")), "10 mm narrower than the one as found", "less air"),
    ("width_differs", plan(front("42-622")), "5 mm wider than the one as found", "needs the rim"),
    (  # 2155 x 0.9 on a computer that reads 2 % over: 1901.5
        "computer_setting",
        plan(
            size(front_mm=626.4),
            speedometer={"wheel": "front", "reads_over_percent": 2, "setting_mm": 2155},
        ),
        "counts 11.1 % long",
        "to 1901 mm in place of 2155 mm",
    ),
]


@pytest.mark.parametrize(
    ("check", "document", "headline", "words"),
    ROWS,
    ids=[f"{number}-{row[0]}" for number, row in enumerate(ROWS)],
)
def test_a_finding_says_which_way_and_how_much(
    check: str, document: dict[str, Any], headline: str, words: str
) -> None:
    spoke = findings_of(document)
    assert check in spoke
    assert headline in spoke[check].headline
    assert words in spoke[check].message


SILENT = [
    # An upright axis without offset has no trail, and none of it is negative.
    ("negative_trail", plan({"fork": {"offset_mm": 0}}, head_angle_deg=90)),
    ("fork_too_long", plan({"fork": {"offset_mm": 44}}, fork={**LONGEST_405, "length_mm": 410})),
    ("position_without_its_wheel", plan({"rear": {"tire": "47-584"}}, positions=CHIP)),
    ("position_without_its_wheel", plan({}, positions=CHIP)),
    ("position_to_turn", plan({"position": "low", "rear": {"tire": "47-584"}}, positions=CHIP)),
    # Trail lost without the nose going down: the offset grows, the fork with it.
    (
        "high_speed_weave",
        motor({"fork": {"offset_mm": 80, "length_mm": 760}}, suspension=travel(200)),
    ),
    ("high_speed_weave", motor(size(front_mm=690), suspension=travel(200))),  # nose down, 2 mm
    ("cycle_under_reads", motor(size(front_mm=760))),
    ("motor_under_reads", plan(size(front_mm=760))),
    ("cycle_under_reads", plan(size(front_mm=760))),  # a computer was approved by no one
    ("cycle_under_reads", plan(size(front_mm=760), **{"class": "pedelec"})),
    ("motor_under_reads", motor(size(front_mm=760), speedometer={**SIX_OVER, "kind": "computer"})),
    ("gearing_shift", plan(size(rear_mm=696 * 0.97))),
    ("crown_profile", motor(end("rear", tire="150/80-17"), outfit="sidecar")),  # nothing leans
    (  # the chip position made for it gives nothing away
        "design_size_left",
        plan({"rear": {"tire": "47-584"}, "position": "low"}, positions=CHIP),
    ),
    ("over_policy", motor(size(front_mm=695 * 0.88))),  # the common rule has said it
    (
        "over_policy",
        motor(size(rear_mm=600), speedometer={"wheel": "front", "reads_over_percent": 7}),
    ),  # as found
    # 7 % over is 7 km/h at 100, and known to 8.
    ("over_policy", motor(size(front_mm=688), speedometer={**SIX_OVER, "within_kmh": 8})),
    ("over_policy", plan(size(front_mm=626.4))),  # a bicycle's is set, not judged
    ("rim_name_unclear", plan({"front": {"tire": "37-590"}}, front={"tire": "37-590"})),
    ("another_rim_by_name", motor(front("26 x 1.75"))),
    ("another_rim_by_name", plan({"front": {"tire": "90/90-21"}}, front={"tire": "26 x 1.75"})),
    ("stand_changes", lower(15, side_stand=WIDE_STAND)),
    ("crown_profile", motor(end("rear", tire="26 x 1.75"))),  # a bicycle tire has no say here
    ("crown_profile", motor(end("rear", tire="145/80R17"))),  # nor has a car's, which is flat
    (
        "spacing_to_cold_set",
        plan(
            {"front": {"hub": {"spacing_mm": 104}}},
            frame_material="steel",
            front={"tire": "37-622", "hub": {"spacing_mm": 100}},
        ),
    ),
]


@pytest.mark.parametrize(
    ("check", "document"), SILENT, ids=[f"{n}-{row[0]}" for n, row in enumerate(SILENT)]
)
def test_a_check_is_silent_where_it_has_nothing_to_say(
    check: str, document: dict[str, Any]
) -> None:
    assert check not in findings_of(document)


@pytest.mark.parametrize(("offset", "fires"), [(-1.9, True), (-1.7, False)])
def test_a_slow_machine_is_judged_at_four_fifths_of_its_top_speed(
    offset: float, fires: bool
) -> None:
    # 8 % over at 24 of 30 km/h adds 1.92; 1.9 less is the truth and a little, 1.92 under it.
    meter = {"wheel": "front", "reads_over_percent": 7.5, "offset_kmh": offset}
    spoke = findings_of(motor({}, speedometer=meter, top_speed_kmh=30))
    assert ("motor_under_reads" in spoke) == fires


def test_a_spare_or_a_trailer_tire_stays_a_stop_beside_a_sidecar() -> None:
    for tire in ("T125/70D15 95M", "ST205/75R14", "AT25x8-12"):
        spoke = findings_of(motor(front(tire), outfit="sidecar"))
        assert "car_tire" in spoke
        assert "car_tire_on_outfit" not in spoke
