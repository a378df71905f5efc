"""The answer: verdict, what decides, cures and nearest, each against plans judged on their own."""

import copy
import json
import random
from typing import Any

import pytest

from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json
from tests.documents import MOTORCYCLE, PLAN, raw

PADS = {"pad_reach_mm": 52, "slot_mm": [47, 57], "mount": "bolt above"}
RIM = {"tire": "37-622", "rim_brake": PADS}
DISC, DRUM = ({"tire": "37-622", "brake": brake} for brake in ("disc", "drum"))
ROOMY = [
    {"name": name, "wheel": end, "direction": direction, "gap_mm": gap}
    for end in ("front", "rear")
    for name, direction, gap in ((f"{end} tread", "radial", 30), (f"{end} side", "side", 20))
]


def asked(change: dict[str, Any], base: dict[str, Any] = PLAN, **bike: Any) -> dict[str, Any]:
    document = copy.deepcopy(base)
    document["bike"] |= bike
    document["proposals"] = [{"name": "A", **change}]
    document["advise"] = True
    answer = result_document(plan_from_json(raw(document)))["proposals"][0]["answer"]
    assert isinstance(answer, dict)
    return answer


def merged(change: dict[str, Any], more: dict[str, Any]) -> dict[str, Any]:
    """Return a proposal with a cure put on top of it."""
    out = copy.deepcopy(change)
    for name, value in more.items():
        out[name] = merged(out.get(name, {}), value) if isinstance(value, dict) else value
    return out


def stops(change: dict[str, Any], base: dict[str, Any] = PLAN, **bike: Any) -> set[Any]:
    document = copy.deepcopy(base)
    document["bike"] |= bike
    document["proposals"] = [{"name": "A", **change}]
    outcome = plan_from_json(raw(document)).outcomes[0]
    return {(f.rule, f.where) for f in outcome.findings if f.severity == "stop"}


def both(tire: str) -> dict[str, Any]:
    return {"front": {"tire": tire}, "rear": {"tire": tire}}


# What a mechanic answers at the counter, by hand.
COUNTERS = [
    # 52 + 19 = 71 mm, the slot ends at 57: no, unless a longer caliper or discs.
    (both("47-584"), PLAN, {"front": RIM, "rear": RIM, "clearances": ROOMY}, "does not go", "71"),
    # Nobody looked which brake it has.
    (both("47-584"), PLAN, {"clearances": ROOMY}, "measure first", "brake"),
    (
        both("47-584"),
        PLAN,
        {"front": {"tire": "37-622", "brake": "disc"}, "rear": {"tire": "37-622", "brake": "disc"}}
        | {"clearances": ROOMY},
        "goes",
        "Goes",
    ),
    # One size wider with room enough.
    ({"rear": {"tire": "40-622"}}, PLAN, {"clearances": ROOMY}, "goes", "Goes"),
    # 9 mm each side, 6 asked for: 43 is the most.
    ({"rear": {"tire": "50-622"}}, PLAN, {}, "does not go", "42-622"),
    # Wider and taller where no one held a tape.
    ({"rear": {"tire": "50-622"}}, PLAN, {"clearances": []}, "measure first", "clearance"),
    # Narrower needs no tape.
    ({"rear": {"tire": "32-622"}}, PLAN, {"clearances": []}, "goes", "Goes"),
    # A load the maker does not allow, and the same size that carries it.
    ({"front": {"tire": "110/80-18 40H"}}, MOTORCYCLE, {}, "does not go", "54H"),
    # Small wheels into a frame for big ones: the pedals come down by 103 mm.
    (
        both("47-406"),
        PLAN,
        {"front": DISC, "rear": DISC, "clearances": ROOMY},
        "does not go",
        "pedals reach the ground",
    ),
    # The same caliper two sizes down: 52 + 31.5 = 84 mm.
    (both("47-559"), PLAN, {"front": RIM, "rear": RIM, "clearances": ROOMY}, "does not go", "84"),
    # A rim 8 mm larger: the pads, 52 - 4 = 48, stay in the slot; what the fork is made for decides.
    (
        both("32-630"),
        PLAN,
        {"front": RIM, "rear": RIM, "clearances": ROOMY},
        "measure first",
        "the fork is made for",
    ),
    # Front alone two sizes down: head angle and trail are out, nothing stops.
    ({"front": {"tire": "47-559"}}, PLAN, {"front": DISC, "clearances": ROOMY}, "with care", "ead"),
    # The same tire as before is no change to be asked about.
    ({"rear": {"tire": "37-622"}}, PLAN, {"clearances": []}, "goes", "Goes"),
    # A bicycle tire on a motorcycle.
    ({"front": {"tire": "47-584"}}, MOTORCYCLE, {}, "does not go", "bicycle"),
    # A motorcycle tire on a bicycle.
    ({"front": {"tire": "110/80-18 58H"}}, PLAN, {}, "does not go", "motorcycle"),
    # A speed symbol below what the maker asks.
    ({"rear": {"tire": "140/80-17 69J"}}, MOTORCYCLE, {}, "does not go", "J"),
    # No one knows which brake, one rim size down: the brake decides, nothing else.
    (both("40-584"), PLAN, {"clearances": ROOMY}, "measure first", "brake"),
    # Drum brakes do not care where the rim is.
    (
        both("40-584"),
        PLAN,
        {"front": DRUM, "rear": DRUM, "clearances": ROOMY},
        "with care",
        "bottom bracket",
    ),
    # A mudguard no one measured over a tire 10 mm wider.
    (
        {"rear": {"tire": "47-622"}},
        PLAN,
        {"rear": {"tire": "37-622", "guard": "mudguard"}, "clearances": ROOMY},
        "measure first",
        "mudguard",
    ),
    # A car tire on two wheels.
    ({"rear": {"tire": "145/70 R13"}}, MOTORCYCLE, {}, "does not go", "car"),
]


@pytest.mark.parametrize(("change", "base", "bike", "verdict", "says"), COUNTERS)
def test_the_counter_gets_a_mechanics_answer(
    change: dict[str, Any], base: dict[str, Any], bike: dict[str, Any], verdict: str, says: str
) -> None:
    answer = asked(change, base, **bike)
    assert answer["verdict"] == verdict, answer["sentence"]
    assert says in answer["sentence"]
    assert "fits" not in json.dumps(answer)
    assert "legal" not in json.dumps(answer)


def test_a_slot_decides_at_the_reach_the_rim_needs() -> None:
    brake = {"pad_reach_mm": 52, "mount": "bolt above"}
    front = {"tire": "37-622", "rim_brake": brake}
    answer = asked({"front": {"tire": "47-584"}}, front=front, clearances=ROOMY)
    (slot,) = answer["decides"]
    assert slot["figure"] == "bike.front.rim_brake.slot_mm"
    assert slot["turns_at"] == pytest.approx(71.0, abs=0.1)
    assert slot["rules"] == ["rim-brake-reach"]
    assert answer["sentence"].endswith("from 71\u2009mm on it goes.")


def test_what_decides_turns_where_it_says() -> None:
    change = {"rear": {"tire": "50-622"}}
    answer = asked(change, clearances=[])
    assert len(answer["decides"]) == 2
    for one in answer["decides"]:
        direction = "radial" if "tread" in one["label"] else "side"
        for off, there in ((-0.3, True), (0.3, False)):
            gap = {"name": "tightest place", "wheel": "rear", "direction": direction}
            gap |= {"gap_mm": one["turns_at"] + off}
            assert bool(stops(change, clearances=[gap])) is there


@pytest.mark.parametrize("seed", range(60))
def test_each_cure_removes_its_stop_and_adds_none_and_nearest_has_none(seed: int) -> None:
    dice = random.Random(seed)
    base = dice.choice([PLAN, MOTORCYCLE])
    if base is PLAN:
        sizes = [f"{dice.randint(23, 62)}-{dice.choice([559, 571, 584, 622, 630])}"] * 2
        bike: dict[str, Any] = {"front": dice.choice([RIM, {"tire": "37-622", "brake": "disc"}])}
    else:
        sizes = [dice.choice(["110/80-18 58H", "90/90-19 40P"]), dice.choice(["150/70-17 69H"])]
        bike = {}
    change = {end: {"tire": size} for end, size in zip(("front", "rear"), sizes, strict=True)}
    answer, before = asked(change, base, **bike), stops(change, base, **bike)
    assert (answer["verdict"] == "does not go") is bool(before)
    for cure in answer["cures"]:
        after = stops(merged(change, cure["change"]), base, **bike)
        assert (cure["for"], cure["where"]) in before - after
        assert after <= before
    for near in answer["nearest"]:
        named = {end: {"tire": near[end]} for end in ("front", "rear") if near[end]}
        assert not stops(named, base, **bike)


def test_nearest_is_what_walking_every_pair_finds() -> None:
    # 9 mm at the stays as found, 6 asked for: up to 43 at the rear, whatever is in front.
    answer = asked({"rear": {"tire": "50-622"}})
    widths = [near["rear"] for near in answer["nearest"]]
    assert widths == ["42-622", "40-622", "35-622", "34-622", "32-622"]
    assert all(near["front"] is None for near in answer["nearest"])


def test_the_same_machine_gets_the_same_answer() -> None:
    first, again = (asked(both("47-584"), front=RIM, rear=RIM) for _ in range(2))
    assert first == again


RIM_UNSEEN = {"tire": "37-622", "brake": "rim"}


def test_a_rim_that_no_caliper_of_any_reach_serves_does_not_go() -> None:
    # 547 falls 37.5 mm: a usual caliper at 52 would have to reach 89, and no slot is that long.
    answer = asked({"front": {"tire": "32-547"}}, front=RIM_UNSEEN, clearances=ROOMY)
    assert (answer["verdict"], answer["because"]) == ("does not go", ["rim-brake-reach"])
    assert "no usual longest reach" in answer["sentence"]
    assert not any(digit.isdigit() for digit in answer["sentence"].split(".")[0])
    assert answer["decides"] == []
    assert not any("rim_brake" in cure["change"].get("front", {}) for cure in answer["cures"])
    assert any(cure["change"] == {"front": {"brake": "disc"}} for cure in answer["cures"])


def test_a_rim_beyond_the_bolt_is_answered_without_a_caliper() -> None:
    small = {"tire": "47-406", "rim_brake": PADS}
    answer = asked(both("47-622"), front=small, rear=small, clearances=ROOMY)
    assert answer["verdict"] == "does not go"
    assert "rim lies beyond its bolt" in answer["sentence"]
    assert not any("caliper" in cure["says"] for cure in answer["cures"])


def test_cures_in_the_sentence_never_set_one_tire_twice() -> None:
    answer = asked(both("47-406"), front=RIM_UNSEEN | {"brake": "disc"}, clearances=[])
    sentence = answer["sentence"]
    assert sentence.count(" at the rear") + sentence.count("both ends") <= 1, sentence
