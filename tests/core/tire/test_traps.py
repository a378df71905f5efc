"""Each trap fires where it applies, and only there."""

from datetime import date
from typing import Any

import pytest

from jentrik.core.tire.checks import to_check
from jentrik.core.tire.sidewall import read_sidewall
from jentrik.core.tire.traps import TRAPS, traps_of

# trap -> marks it must warn of, marks it must leave alone
CASES = {
    "car-tire-on-two-wheels": (["205/55R16", "P130/80R18"], ["130/80 R 18", "205/55R16 M/C"]),
    "spare-or-trailer-tire": (["T125/70D15", "ST205/75R14"], ["P205/55R16", "120/70-17 TL"]),
    "several-rims": (
        ["26 x 1 3/8", "20 x 1 3/8", "700x38"],
        ["26x1.75", "26 x 1 3/8 (37-590)", "28 x 1 1/2"],
    ),
    "decimal-or-fraction": (
        ["26x1.75", "26 x 1 3/4", "20x1.75", "26 x 1 1/2", "26 x 1.5"],
        ["29x2.4", "47-559", "28 x 1 5/8 x 1 3/8", "26x2.1"],
    ),
    "car-size-too": (["5.60-15", "5.20-13", "6.40-15"], ["5.60-15 M/C", "5.00-16", "3.50-10"]),
    "worn-mark": (["80/55 ZR 17", "120/70 R 7"], ["180/55 ZR 17", "80/90-21", "190/55 ZR 17"]),
    "brackets": (["120/70 ZR 17 (58W)"], ["120/70 ZR 17 58W", "37-622 (700x35C)"]),
    "pressure-is-a-limit": (["37-622\n3.5 BAR"], ["37-622", "120/70-17\nMAX LOAD 236 KG"]),
    "name-not-measure": (["27.5x2.25"], ["57-584", "650B x 57", "29x2.4"]),
    "middle-is-a-ratio": (["130/80 R 18", "MT90B16"], ["3.25-19", "37-622", "205R14C"]),
    "letter-is-construction": (
        ["130/80 R 18", "MT90B16", "120/70 ZR 17"],
        ["120/70-17", "4.00 H 18", "37-622"],
    ),
    "index-is-not-kilograms": (["120/70-17 58H", "58H"], ["120/70-17", "37-622"]),
    "week-not-day": (["1523", "37-622\nDOT AB 1523"], ["37-622"]),
    "trust-the-arrow": (["120/70-17\nROTATION"], ["120/70-17"]),
}


def warned(text: str) -> set[Any]:
    return {trap.id for trap in traps_of(read_sidewall(text))}


@pytest.mark.parametrize("trap", CASES)
def test_a_trap_fires_where_it_applies_and_only_there(trap: str) -> None:
    fires, silent = CASES[trap]
    for text in fires:
        assert trap in warned(text), text
    for text in silent:
        assert trap not in warned(text), text


def test_every_trap_has_cases_a_source_and_says_what_it_is_for() -> None:
    assert {trap.id for trap in TRAPS} == set(CASES)
    for trap in TRAPS:
        assert str(trap.source)
        assert trap.check.__doc__


def test_the_heaviest_trap_stands_first() -> None:
    weights = [trap.weight for trap in traps_of(read_sidewall("T125/70D15 95M\n4 BAR"))]
    assert weights == sorted(weights, key=["stop", "caution", "note"].index)
    assert weights[0] == "stop"


def test_the_sentences_carry_the_figures() -> None:
    said = {trap.id: trap.says for trap in traps_of(read_sidewall("130/80 R 18 66H"))}
    assert "104 mm" in said["middle-is-a-ratio"]
    assert "300 kg" in said["index-is-not-kilograms"]
    said = {trap.id: trap.says for trap in traps_of(read_sidewall("26x1.75"))}
    assert "571 mm, not 559" in said["decimal-or-fraction"]


@pytest.mark.parametrize(
    ("text", "asked", "not_asked"),
    [
        ("26x1.75", "ISO mark", "TL or TT"),
        ("37-622", "arrow", "ISO mark"),
        ("120/70-17", "load index", "ISO mark"),
        ("120/70-17 58H TL FRONT\nDOT AB 1523", "diameters", "date"),
        ("700C", "width", "TL or TT"),
        ("58H", "size mark", "arrow"),
    ],
)
def test_what_to_look_at_on_the_real_tire(text: str, asked: str, not_asked: str) -> None:
    lines = " ".join(to_check(read_sidewall(text, on=date(2026, 11, 23))))
    assert asked in lines
    assert not_asked not in lines
