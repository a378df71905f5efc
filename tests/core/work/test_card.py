"""Job cards: the text of a template, and what a proposal adds to it."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.amounts import in_plain
from jentrik.core.errors import DocumentError
from jentrik.core.machine.machine import Bike
from jentrik.core.plan.plan import Outcome, as_measured, outcome_of
from jentrik.core.work.assembly import assembled
from jentrik.core.work.card import Card, CardStep, card_steps
from jentrik.core.work.carry_over import Fate, PartLine, parts_of
from jentrik.core.work.template import UNITS, StepPlan, built_in, steps_of, text_of
from jentrik.exchange.plan_document import read_bike, read_proposal
from tests.documents import MOTORCYCLE, PLAN

WORDS = st.text("abc äöé,;“”’-", min_size=1, max_size=30).map(str.strip).filter(bool)
STEPS = st.builds(
    StepPlan,
    text=WORDS,
    stop=st.booleans(),
    tools=WORDS | st.just(""),
    supplies=WORDS | st.just(""),
    fastener=WORDS | st.just(""),
    caution=WORDS | st.just(""),
    qualified=st.booleans(),
    reading=st.just("gap"),
    unit=st.sampled_from(UNITS),
)


@given(st.lists(STEPS, min_size=1, max_size=5).map(tuple))
def test_what_is_written_reads_back_the_same(steps: tuple[Any, ...]) -> None:
    assert steps_of(text_of(steps)) == steps


def test_the_parts_of_a_card_are_all_readable_and_read_back_the_same() -> None:
    result = built_in()
    assert next(iter(result)) == "Start"
    assert {"Wheel out", "Chip", "Fork", "Tire on", "Wheel in"} <= set(result)
    for text in result.values():
        steps = steps_of(text)
        assert text_of(steps) == "\n".join(line.strip() for line in text.splitlines())


def test_a_shops_own_template_stands_in_place_of_the_parts() -> None:
    text = "Axle out\nChain set | only: rear wheel\nWheel in | only: front wheel"
    front = card_steps(*made({"front": {"tire": "40-622"}}), built_in(), text)
    result = [step.text for step in front]
    assert "Wheel in" in result
    assert "Chain set" not in result
    assert "Start" not in result
    fork = card_steps(*made({"fork": {"length_mm": 405}}), built_in(), text)
    assert not {"Wheel in", "Chain set"} & {step.text for step in fork}


def lines_and_actions(
    changes: dict[str, Any], base: dict[str, Any], **bike: Any
) -> tuple[int, int]:
    """Return how many lines a card has when folded, and the presses and figures to be done."""
    there, outcome = made(changes, base, **bike)
    plans = card_steps(there, outcome, built_in())
    steps = tuple(CardStep(place, place, plan) for place, plan in enumerate(plans))
    groups = [group for group in Card(1, 1, "A", "", datetime(2026, 1, 1), steps).groups]
    alone = [plan for plan in plans if plan.stands_out]
    folded = sum(bool(group.plain) for group in groups)
    typed = sum(bool(plan.reading) + bool(plan.fastener) for plan in alone)
    return folded + len(alone), folded + len(alone) + typed


def test_a_card_folds_to_what_a_mechanic_ticks() -> None:
    lines, actions = lines_and_actions({"rear": {"tire": "40-622"}}, PLAN)
    assert lines <= 12
    assert actions <= 15  # and one for who ticks
    chip = {"positions": [{"name": "low", "x_mm": 0, "y_mm": 6}], "suspension": SPRUNG}
    wheel = {"position": "low", "rear": {"tire": "47-584"}}
    lines, actions = lines_and_actions(wheel, PLAN, gears="derailleur", **chip)
    assert lines <= 20
    assert actions <= 29


def test_what_the_work_does_not_touch_is_not_proved_and_what_is_far_holds_nothing() -> None:
    gaps = [
        {"name": name, "wheel": end, "direction": "radial", "gap_mm": gap}
        for name, end, gap in (
            ("crown", "front", 12),
            ("bridge", "rear", 12),
            ("sump", "rear", 364),
        )
    ]
    bike, outcome = made({"rear": {"tire": "40-622"}}, PLAN, clearances=gaps)
    proved = [s.measures for s in card_steps(bike, outcome, built_in()) if s.reading == "clearance"]
    assert proved == ["place:bridge"]
    bike, outcome = made({"rear": {"tire": "40-622"}}, PLAN, clearances=gaps[:1])
    (by_hand,) = [s for s in card_steps(bike, outcome, built_in()) if s.group == "Proved by hand"]
    assert by_hand.stop


def test_a_shop_writes_a_part_of_its_own() -> None:
    parts = {**built_in(), "Start": "Tag tied to the bar"}
    result = [step.text for step in card_steps(*made({"rear": {"tire": "40-622"}}), parts)]
    assert "Tag tied to the bar" in result
    assert not [text for text in result if text.startswith("Maker's sheet")]


def test_no_template_supplies_a_torque() -> None:
    for text in built_in().values():
        for step in steps_of(text):
            assert not any(mark.isdigit() for mark in step.fastener)
            assert "N·m" not in text
            assert "Nm" not in text


@pytest.mark.parametrize(
    ("text", "line"),
    [
        ("", None),
        ("\n \n", None),
        ("One\n| tools: x", 2),
        ("A | torque", 1),
        ("A | colour: red", 1),
        ("A | reading: gap", 1),
        ("A | reading: gap, inch", 1),
        ("x" * 301, 1),
        ("!", 1),
        ("a\n" * 61, None),
    ],
)
def test_a_template_that_cannot_be_read_names_its_line(text: str, line: int | None) -> None:
    with pytest.raises(DocumentError) as refused:
        steps_of(text)
    assert refused.value.position == line


def made(changes: dict[str, Any], base: dict[str, Any] = PLAN, **bike: Any) -> tuple[Bike, Outcome]:
    """Return a machine with discs and a chain, unless it is said otherwise, and what changes."""
    values = {"drive": "chain", **base["bike"], **bike}
    for end in ("front", "rear"):
        values[end] = {"brake": "disc", **values[end]}
    there = as_measured(read_bike(values))
    outcome = outcome_of(there, read_proposal({"name": "A", **changes}))
    return there.bike, outcome


def words(steps: Iterator[Any] | tuple[StepPlan, ...]) -> list[str]:
    """Return the beginnings of a card's steps, as far as a comma or semicolon."""
    return [step.text.replace(";", ",").partition(",")[0] for step in steps]


def marked(steps: Iterator[StepPlan]) -> list[str]:
    """Return the beginnings of steps, those that hold the job marked as a template marks them."""
    return [f"{'! ' if step.stop else ''}{words((step,))[0]}" for step in steps]


# Hand-written from the handbook's order (section 7): the machine safe, then one wheel at a time:
# out, worked on, arrow, bead, in, torqued, its brake tried, its pressure; then what proves it.
WHEEL_WITH_NEW_TIRE_IN = [
    "Rear wheel in",
    "! Rear axle to its torque",
    "! Rear wheel spins free and true",
    "! Rear pressure set cold",
]
REAR_TIRE = [
    "Maker's sheet at hand",
    "Rear wheel out",
    "Old rear tire off",
    "New rear tire looked over before it is mounted: bead even all round by hand",
    "Rear rim and bead seat clean",
    "Rear rim tape on",
    "! Rear tire: rotation arrow",
    "! Rear tire mounted",
    *WHEEL_WITH_NEW_TIRE_IN,
]
CHIP_TURNED = [
    "Wheel out and rear end supported",
    "Shock free at its lower end: air out of an air shock",
    "Bolts of the chip eased in order",
    "Mark on the chip read and photographed before it is turned",
    "Chip and seats cleaned",
    "Chip turned",
    "! Position recorded",
    "! Each bolt of the chip to its torque",
]
CHIP = [
    "Maker's sheet at hand",
    "Rear wheel out",
    *CHIP_TURNED,
    "Rear wheel in",
    "! Rear axle to its torque",
    "! Rear wheel spins free",
    "Shock pressure or preload set anew until the sag is right",
]
WHEEL_WITH_CHIP = [
    "Maker's sheet at hand",
    "Rear wheel out",
    *CHIP_TURNED,
    "New rear wheel: every spoke sounded",
    "Rear rotor over",
    "Old rear tire to an approved taker",
    "New rear tire looked over before it is mounted: bead even all round by hand",
    "Rear rim tape on",
    "! Rear tire: rotation arrow",
    "! Rear tire mounted",
    "Rear wheel in",
    "! Rear axle to its torque",
    "Rear caliper set over the rotor",
    *WHEEL_WITH_NEW_TIRE_IN[2:],
    "Shock pressure or preload set anew until the sag is right",
]
MOTORCYCLE_WHEELS = [
    "Maker's sheet at hand",
    "Front caliper hung aside",
    "Front wheel out",
    "! New front wheel: no crack at spoke roots and hub",
    "Front rotor over",
    "Bearings",
    "Old front tire to an approved taker",
    "New front tire looked over before it is mounted: bead even all round by hand",
    "Front valve and seal looked at",
    "! Front tire: rotation arrow",
    "! Front tire mounted",
    "Front wheel balanced",
    "Front wheel in",
    "! Front axle to its torque",
    "! Front caliper on",
    "! Fork pumped on the brake",
    "! Front wheel spins free and true",
    "Front tread before the first ride",
    "! Front pressure set cold",
    "Rear caliper hung aside",
    "Chain off the sprocket",
    "Rear wheel out",
    "! New rear wheel: no crack at spoke roots and hub",
    "Rear rotor over",
    "Sprocket and carrier over",
    "Bearings",
    "Old rear tire to an approved taker",
    "New rear tire looked over before it is mounted: bead even all round by hand",
    "Rear valve and seal looked at",
    "! Rear tire: rotation arrow",
    "! Rear tire mounted",
    "Rear wheel balanced",
    "Rear wheel in",
    "Chain slack and line set before the axle is tight",
    "! Rear axle to its torque",
    "! Chain adjusters snug against the axle",
    "! Rear caliper on",
    "! Rear wheel spins free and true",
    "Rear tread before the first ride",
    "! Rear pressure set cold",
]
FORK = [
    "Maker's sheet at hand",
    "Front wheel out",
    "Maker's sheet at hand: longest fork",
    "Axle to crown of the old fork and of the new one",
    "Fork out",
    "Crown race on",
    "Fork in",
    "Hose and cable long enough lock to lock",
    "Front wheel in",
    "! Front axle to its torque",
    "! Front wheel spins free",
]
TUBES_UP = [
    "Maker's sheet at hand",
    "Front end held on a jack under the engine",
    "Height of both tubes above the upper clamp noted",
    "Clamp bolts of one tube eased",
    "! Both tubes at one height above the clamp",
    "! Clamp bolts to their torque in turn",
    "! Tire to lower clamp and mudguard at full travel",
    "Hoses",
]
SPRUNG = {"rear": {"travel_mm": 140, "sag_mm": 40}}
BOTH = {"front": {"tire": "110/80-18 58H TL"}, "rear": {"tire": "150/60-18 70H TL"}}


@pytest.mark.parametrize(
    ("changes", "base", "bike", "expected"),
    [
        ({"rear": {"tire": "40-622"}}, PLAN, {}, REAR_TIRE),
        (
            {"position": "low"},
            PLAN,
            {"positions": [{"name": "low", "x_mm": 0, "y_mm": 6}], "suspension": SPRUNG},
            CHIP,
        ),
        (
            {"position": "low", "rear": {"tire": "47-584"}},
            PLAN,
            {"positions": [{"name": "low", "x_mm": 0, "y_mm": 6}], "suspension": SPRUNG},
            WHEEL_WITH_CHIP,
        ),
        (BOTH, MOTORCYCLE, {}, MOTORCYCLE_WHEELS),
        ({"fork": {"length_mm": 405}}, PLAN, {}, FORK),
        ({"fork": {"tubes_up_mm": 10}}, MOTORCYCLE, {}, TUBES_UP),
    ],
    ids=["rear tire", "chip", "wheel with its chip", "both wheels", "fork", "tubes up"],
)
def test_a_card_is_made_of_what_changes_in_the_order_of_the_bench(
    changes: dict[str, Any], base: dict[str, Any], bike: dict[str, Any], expected: list[str]
) -> None:
    there, outcome = made(changes, base, **bike)
    assert marked(assembled(there, outcome, built_in())) == expected


# By the handbook, section 14: what each brake and drive asks, from the wheel coming out to the
# brake's trial. Stay and split pin on drums, the arm of a coaster, free play after the chain.
DRUM_REAR = [
    "Rear brake rod or cable off",
    "Chain off the sprocket",
    "Rear wheel out",
    "Rear wheel in",
    "Chain slack and line set before the axle is tight",
    "! Rear axle to its torque",
    "! Chain adjusters snug against the axle",
    "! Rear torque stay on: bolt to its torque",
    "Rear brake rod or cable: free play set",
    "! Rear wheel spins free and true",
]
DRUM_FRONT = [
    "Front brake rod or cable off",
    "Front wheel out",
    "Front wheel in",
    "! Front axle to its torque",
    "! Front torque stay on: bolt to its torque",
    "! Fork pumped on the brake",
    "Front brake rod or cable: free play set",
    "! Front wheel spins free and true",
]
COASTER = [
    "Rear coaster arm off the chain stay",
    "Gear cable off at its mark",
    "Rear wheel out",
    "Rear wheel in",
    "Chain slack and wheel line set before the axle is tight",
    "! Rear axle to its torque",
    "! Coaster arm clipped to the chain stay",
    "Anti-turn washers in their slots",
    "! Rear wheel spins free and true",
]
RIM_DERAILLEUR = [
    "Rear wheel out",
    "Rear wheel in",
    "! Rear axle to its torque",
    "! Rear pads still whole on the brake track",
    "! Rear wheel spins free and true",
]
SCOOTER = [
    "Silencer off where it covers the axle nut",
    "Rear brake rod or cable off",
    "Rear wheel out",
    "Rear wheel in",
    "! Rear axle to its torque",
    "! Rear torque stay on: bolt to its torque",
    "Silencer on",
    "Rear brake rod or cable: free play set",
    "! Rear wheel spins free and true",
]
SHAFT = [
    "Rear caliper hung aside",
    "Rear wheel out",
    "Rear wheel in",
    "Splines clean and greased",
    "! Rear axle to its torque",
    "! Rear caliper on",
    "! Rear wheel spins free and true",
]
NO_ONE_SAID = [
    "! Rear brake looked at before anything comes apart: rim",
    "Rear wheel out",
    "Rear wheel in",
    "Chain or belt slack and line set before the axle is tight",
    "! Rear axle to its torque",
    "! Rear wheel spins free and true",
]


@pytest.mark.parametrize(
    ("end", "base", "brake", "more", "expected"),
    [
        ("rear", MOTORCYCLE, "drum", {}, DRUM_REAR),
        ("front", MOTORCYCLE, "drum", {}, DRUM_FRONT),
        ("rear", PLAN, "coaster", {"gears": "hub"}, COASTER),
        ("rear", PLAN, "rim", {"gears": "derailleur"}, RIM_DERAILLEUR),
        ("rear", MOTORCYCLE, "drum", {"drive": "variator"}, SCOOTER),
        ("rear", MOTORCYCLE, "disc", {"drive": "shaft"}, SHAFT),
        ("rear", MOTORCYCLE, None, {"drive": None}, NO_ONE_SAID),
    ],
    ids=["drum", "front drum", "coaster", "rim", "scooter", "shaft", "no one said"],
)
def test_the_card_is_of_the_brake_and_drive_that_are_there(
    end: str, base: dict[str, Any], brake: str | None, more: dict[str, Any], expected: list[str]
) -> None:
    wheel = {**base["bike"][end], "brake": brake}
    tire = {"front": "100/90-21 57H", "rear": "140/80-17 69H"} if base is MOTORCYCLE else None
    code = tire[end] if tire else "40-622"
    bike, outcome = made({end: {"tire": code}}, base, **{end: wheel}, **more)
    parts = {name: built_in()[name] for name in ("Wheel out", "Wheel in")}
    others = dict.fromkeys(built_in(), "Nothing")
    steps = [step for step in assembled(bike, outcome, others | parts) if step.text != "Nothing"]
    held = [step.text for step in steps if "brake held on meanwhile" in step.text]
    assert len(held) == (brake == "drum")
    tread = [f"{end.capitalize()} tread before the first ride"] if base is MOTORCYCLE else []
    assert marked(iter(steps)) == [*expected, *tread, f"! {end.capitalize()} pressure set cold"]


def test_a_rim_lock_is_loose_for_the_tire_and_tight_once_the_bead_is_seated() -> None:
    there = {"rear": {"tire": "130/80-17 65H", "rim": {"locks": "one"}}}
    steps = words(
        assembled(*made({"rear": {"tire": "140/80-17 69H"}}, MOTORCYCLE, **there), built_in())
    )
    loose, tight = "Rim lock loose", "Rim lock to its torque once the bead is seated"
    balanced = "Rear wheel balanced with its rim lock on"
    places = [steps.index(step) for step in (loose, "Rear tire mounted", tight, balanced)]
    assert places == sorted(places)


# What is checked each time a set goes on (handbook, sections 7 and 10): arrow and tread, axle,
# caliper, brake, pressure; then what another diameter changes.
SWAPPED = [
    "Carries over: front wheel",
    "Maker's sheet at hand",
    "Front wheel out",
    "Front wheel of the set looked over: rotation arrow",
    "Front wheel in",
    "Front axle to its torque",
    "Front caliper on",
    "Fork pumped on the brake",
    "Front wheel spins free",
    "Front pressure set cold",
    "Chain off the sprocket",
    "Rear wheel out",
    "Rear wheel of the set looked over: rotation arrow",
    "Rear wheel in",
    "Chain slack and line set before the axle is tight",
    "Rear axle to its torque",
    "Chain adjusters snug against the axle",
    "Rear caliper on",
    "Rear wheel spins free",
    "Rear pressure set cold",
    "Side stand set for the new height",
    "Instrument set or recalibrated",
    "A person qualified for it signs the job off. First ride brief given: go easy",
]


def test_a_wheel_set_that_is_there_makes_a_short_card() -> None:
    bike, outcome = made(BOTH, MOTORCYCLE)
    owned = replace(outcome, proposal=replace(outcome.proposal, owned=("front", "rear")))
    steps = card_steps(bike, owned, built_in())
    assert words(steps) == SWAPPED  # no clearance: it was proved when the wheels came
    assert [step.reading for step in steps if step.stop and "looked over" in step.text] == [
        "front tread, minimum",
        "rear tread, minimum",
    ]
    bike, outcome = made({"front": {"tire": "47-584"}, "rear": {"tire": "47-584"}})
    owned = replace(outcome, proposal=replace(outcome.proposal, owned=("front", "rear")))
    assert (
        len(card_steps(bike, owned, built_in())) < len(card_steps(bike, outcome, built_in())) * 0.6
    )


def test_inch_for_metric_and_tube_for_tubeless_bring_their_own_steps() -> None:
    inch = {"front": {"tire": "3.25-19 54S"}, "rear": {"tire": "4.00-18 64S"}}
    bike, outcome = made({"front": {"tire": "90/90-19 52H"}}, MOTORCYCLE, **inch)
    assert "Maker's rim list at hand: the metric sizes the front rim may carry" in words(
        assembled(bike, outcome, built_in())
    )
    tubed = {"front": {"tire": "110/80-19 59H", "rim": {"tube": "tube-type"}}}
    change = {"front": {"tire": "110/80-19 59H TL", "rim": {"tube": "tubeless"}}}
    result = words(assembled(*made(change, MOTORCYCLE, **tubed), built_in()))
    assert any(text.startswith("Front rim made for it") for text in result)
    assert "Front valve and seal looked at" in result


@pytest.mark.parametrize(
    ("tube", "build", "sounded"),
    [("tubeless", "laced", True), ("tube-type", "cast", False), ("tubeless", None, False)],
)
def test_spokes_are_sounded_only_where_the_wheel_has_them(
    tube: str, build: str | None, sounded: bool
) -> None:
    there = {"front": {"tire": "110/80-19 59H", "rim": {"tube": tube, "build": build}}}
    steps = assembled(*made({"front": {"tire": "100/90-19 57H"}}, MOTORCYCLE, **there), built_in())
    assert any("spokes sounded" in step.text for step in steps) is sounded


def test_a_card_adds_parts_proofs_and_what_must_be_settled() -> None:
    bike, outcome = made({"rear": {"tire": "47-584"}, "front": {"tire": "47-584"}})
    steps = card_steps(bike, outcome, built_in(), "Do it")
    texts = [step.text for step in steps]
    assert "rear wheel or rim, bead seat 584 mm" in texts[0]
    assert "Do it" in texts
    gaps = [step for step in steps if step.reading == "clearance"]
    assert len(gaps) == 2
    assert all(step.stop for step in gaps)
    assert any(
        "Settled before it leaves: chain stays" in text.lower() or "Settled" in text
        for text in texts
    )
    assert texts[-1].startswith("A person qualified")
    other = {"front": {"tire": "110/80-18", "sensor": {"face": "other"}}}
    machined = card_steps(*made(other, MOTORCYCLE), built_in())
    (shop,) = [step for step in machined if step.text.startswith("Machine shop")]
    assert (shop.stop, shop.qualified, shop.reading) == (True, True, "ring runout after")


def test_a_guard_and_a_corrected_instrument_have_their_steps_and_their_lines() -> None:
    guarded = {"tire": "37-622", "guard": "mudguard", "guard_inside_mm": 45}
    none = {"rear": {"tire": "47-622", "guard": "none"}}
    bike, outcome = made(none, rear=guarded)
    texts = [step.text for step in card_steps(bike, outcome, built_in())]
    assert sum("mudguard off" in text for text in texts) == 1
    assert not any("mudguard on" in text for text in texts)
    wider = made({"rear": {"tire": "47-622", "guard_inside_mm": 57}}, rear=guarded)
    (clear,) = [step for step in card_steps(*wider, built_in()) if "mudguard clear" in step.text]
    assert (clear.stop, clear.unit) == (True, "mm")
    assert "rear mudguard, 57 mm inside" in {in_plain(line.key) for line in _bought(wider)}
    bike, outcome = made({"speedometer": {"corrected_percent": -2.5}}, MOTORCYCLE)
    (step,) = [s for s in card_steps(bike, outcome, built_in()) if "s signal" in s.text]
    assert step.stop
    assert "by −2.5 % in all" in step.text
    assert any("signal corrector" in line.name for line in _bought((bike, outcome)))


def _bought(there: tuple[Bike, Outcome]) -> list[PartLine]:
    bike, outcome = there
    return [line for line in parts_of(bike, outcome.proposal) if line.fate is Fate.BUY]


def test_a_step_says_what_is_missing_and_a_card_what_holds_it() -> None:
    plan = StepPlan("Wheel in", stop=True, fastener="axle", reading="slack", unit="mm")
    step = CardStep(1, 0, plan)
    assert "torque of axle" in step.missing()
    torqued = CardStep(1, 0, plan, torque_nm=60.0, torque_source="on the part")
    assert "slack" in torqued.missing()
    assert not CardStep(1, 0, plan, 60.0, "on the part", "30").missing()
    card = Card(1, 1, "A", "x", None, (step, CardStep(2, 1, StepPlan("Look"))))
    assert (card.holding, card.done) == ((step,), 0)
    waived = CardStep(1, 0, plan, waived="no chain")
    assert Card(1, 1, "A", "x", None, (waived,)).holding == ()


def test_an_outfit_is_set_again_after_its_wheel_and_another_rotor_brings_its_adapter() -> None:
    outfit = {"outfit": "sidecar", "layout": "sidecar", "wheels": 3}
    tire = {"rear": {"tire": "140/80-17 69H"}}
    steps = marked(assembled(*made(tire, MOTORCYCLE, **outfit), built_in()))
    again = [
        "! Sidecar level",
        "! Toe-in set over both wheels",
        "Sidecar's own tire looked at: size",
    ]
    assert steps[-3:] == again
    rotor = {"front": {"tire": "42-622", "brake": "disc", "hub": {"rotor_mm": 203}}}
    found = {"front": {"tire": "37-622", "brake": "disc", "hub": {"rotor_mm": 160}}}
    steps = marked(assembled(*made(rotor, PLAN, **found), built_in()))
    adapter = steps.index("Front caliper adapter for the new rotor on")
    assert steps.index("! Front axle to its torque") < adapter
    assert adapter < steps.index("! Front wheel spins free and true")


def test_the_look_again_has_five_lines_by_the_handbook() -> None:
    # Section 14: spokes, axle and pinch bolts, chain, rotor bolts, tire seat and pressure.
    said = [step.text.casefold() for step in steps_of(built_in()["Look again"])]
    asked = (("spokes",), ("axles", "pinch"), ("rotor",), ("chain",), ("seated", "pressures"))
    assert len(said) == len(asked)
    for line, words_of_it in zip(said, asked, strict=True):
        assert all(word in line for word in words_of_it), line


def test_a_computer_is_set_and_its_km_are_read_where_the_log_knows_some() -> None:
    change = made({"front": {"tire": "40-622"}})
    for last_km, asked in ((None, []), (1200.0, [1200.0])):
        steps = card_steps(*change, built_in(), last_km=last_km)
        assert any(one.reading == "set to" for one in steps)
        read = [one for one in steps if one.reading == "odometer"]
        assert [one.at_least for one in read] == asked
        assert [one.group for one in read] == ["Before it leaves"] * len(asked)
