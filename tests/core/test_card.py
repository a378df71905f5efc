"""Job cards: the text of a template, and what a proposal adds to it."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.card.card import Card, CardStep, card_steps, usual_template
from jentrik.core.card.template import UNITS, StepPlan, built_in, steps_of, text_of
from jentrik.core.errors import DocumentError
from jentrik.core.plan.plan import as_measured, outcome_of
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
def test_what_is_written_reads_back_the_same(steps):
    assert steps_of(text_of(steps)) == steps


def test_the_templates_of_the_trade_are_all_there_and_readable():
    told = built_in()
    assert list(told) == [
        "Tire swap",
        "Wheel set, bicycle with rim brakes",
        "Wheel set, bicycle with disc brakes",
        "Wheel set, motorcycle with spoked wheels",
        "Wheel set, motorcycle with cast wheels",
        "Mixed sizes with chip or link",
        "Fork or air spring",
        "Dropouts",
        "Inch to metric, motorcycle",
        "Tube to tubeless",
        "Side stand",
        "Instrument calibration",
    ]
    for text in told.values():
        steps = steps_of(text)
        assert any(step.stop for step in steps)
        assert text_of(steps) == "\n".join(line.strip() for line in text.splitlines())


def test_a_card_leaves_out_what_is_of_the_other_wheel_only():
    steps = steps_of("Axle out\nChain set | only: rear wheel\nWheel in | only: front wheel")
    front = card_steps(*made({"front": {"tire": "40-622"}}), steps)
    told = [step.text for step in front]
    assert "Wheel in" in told
    assert "Chain set" not in told
    fork = [step.text for step in card_steps(*made({"fork": {"length_mm": 405}}), steps)]
    assert not {"Wheel in", "Chain set"} & set(fork)


def test_no_template_supplies_a_torque():
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
def test_a_template_that_cannot_be_read_names_its_line(text, line):
    with pytest.raises(DocumentError) as refused:
        steps_of(text)
    assert refused.value.position == line


def made(changes, base=PLAN, **bike):
    there = as_measured(read_bike({**base["bike"], **bike}))
    outcome = outcome_of(there, read_proposal({"name": "A", **changes}))
    return there.bike, outcome


@pytest.mark.parametrize(
    ("changes", "base", "template"),
    [
        ({"rear": {"tire": "40-622"}}, PLAN, "Tire swap"),
        ({"rear": {"tire": "47-584"}}, PLAN, "Wheel set, bicycle with disc brakes"),
        ({"front": {"tire": "110/80-18"}}, MOTORCYCLE, "Wheel set, motorcycle with cast wheels"),
        ({"fork": {"length_mm": 405}}, PLAN, "Fork or air spring"),
        ({"rear_axle_shift_mm": {"y": -8.0}}, PLAN, "Dropouts"),
    ],
)
def test_a_proposal_has_its_usual_template(changes, base, template):
    assert usual_template(*made(changes, base)) == template
    assert template in built_in()


def test_inch_tires_for_metric_ones_and_chips_have_templates_of_their_own():
    inch = {"front": {"tire": "3.25-19 54S"}, "rear": {"tire": "4.00-18 64S"}}
    bike, outcome = made({"front": {"tire": "90/90-19 52H"}}, MOTORCYCLE, **inch)
    assert usual_template(bike, outcome) == "Inch to metric, motorcycle"
    braked = {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52}}
    bike, outcome = made({"rear": {"tire": "47-584"}}, rear=braked)
    assert usual_template(bike, outcome) == "Wheel set, bicycle with rim brakes"
    spoked = {"front": {"tire": "110/80-18", "rim": {"tube": "tube-type"}}}
    told = usual_template(*made(spoked, MOTORCYCLE))
    assert told == "Wheel set, motorcycle with spoked wheels"
    chip = [{"name": "low", "x_mm": 0, "y_mm": 6}]
    assert usual_template(*made({"position": "low"}, positions=chip)).startswith("Mixed")


def test_a_card_adds_parts_proofs_and_what_must_be_settled():
    bike, outcome = made({"rear": {"tire": "47-584"}, "front": {"tire": "47-584"}})
    steps = card_steps(bike, outcome, steps_of("Do it"))
    texts = [step.text for step in steps]
    assert "rear wheel or rim, bead seat 584 mm" in texts[0]
    assert "Do it" in texts
    gaps = [step for step in steps if step.reading == "gap"]
    assert len(gaps) == 2
    assert all(step.stop for step in gaps)
    assert any(
        "Settled before it leaves: chain stays" in text.lower() or "Settled" in text
        for text in texts
    )
    assert texts[-1].startswith("A person qualified")
    other = {"front": {"tire": "110/80-18", "sensor": {"face": "other"}}}
    machined = card_steps(*made(other, MOTORCYCLE), ())
    (shop,) = [step for step in machined if step.text.startswith("Machine shop")]
    assert (shop.stop, shop.qualified, shop.reading) == (True, True, "ring runout after")


def test_a_step_says_what_is_missing_and_a_card_what_holds_it():
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
