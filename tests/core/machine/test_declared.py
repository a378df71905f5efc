"""What a class says of its figures: limits, keys, units and what all of them share."""

from dataclasses import dataclass
from typing import Annotated, Literal

import pytest

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.catalogue import KNOWN, check_key
from jentrik.core.machine.declared import (
    MOTORCYCLE,
    About,
    Declared,
    Part,
    about,
    attributes,
    check_attribute,
    check_range,
)


@dataclass(frozen=True, slots=True)
class Box(Declared, path="{end}.box", group="Boxes", kinds=MOTORCYCLE, part=Part.SEAT):
    """A part no machine has: only for its declaration."""

    depth_mm: Annotated[float | None, About("Depth, {end}", (10, 90), "what goes in")] = None
    lid: Annotated[Literal["flat", "round"] | None, About("Lid", part=Part.BAR)] = None
    angle_deg: Annotated[
        float | None,
        About("Angle", (0, 60)),
        About("Slope", (30, 90), key="slope_deg", of_frame=True),
    ] = None
    span_mm: Annotated[
        tuple[float, float] | None,
        About("Span, minimum", (5, 50), key="span_least_mm"),
        About("Span, maximum", (5, 50), key="span_most_mm"),
    ] = None
    turns: Annotated[float | None, About(between=(1, 9), counted="turns")] = None


def test_unit_choices_and_what_the_class_says_reach_every_figure() -> None:
    depth, lid = about(Box, "depth_mm"), about(Box, "lid")
    assert (depth.unit, depth.group, depth.kinds, depth.part) == (
        "mm",
        "Boxes",
        MOTORCYCLE,
        Part.SEAT,
    )
    assert (lid.choices, lid.unit, lid.part) == (("flat", "round"), "", Part.BAR)
    assert (about(Box, "slope_deg").spoken_unit, about(Box, "turns").spoken_unit) == (
        "degrees",
        "turns",
    )
    assert about(Box, "slope_deg").of_frame
    assert not about(Box, "angle_deg").of_frame
    with pytest.raises(KeyError):
        about(Box, "colour")


def test_a_figure_said_in_two_ways_has_two_keys_and_a_range_one() -> None:
    keys = {attribute.name: attribute.keys for attribute in attributes(Box)}
    assert keys["angle_deg"] == ("angle_deg", "slope_deg")
    assert keys["span_mm"] == ("span_mm",)


def test_a_figure_outside_is_refused_by_its_key_and_the_limits_are_inside() -> None:
    assert Box(depth_mm=10, turns=9) == Box(depth_mm=10.0, turns=9.0)
    for wrong, key in (({"depth_mm": 9.9}, "depth_mm"), ({"turns": 9.1}, "turns")):
        with pytest.raises(OutOfRange) as refused:
            Box(**wrong)
        assert refused.value.field == key
    with pytest.raises(OutOfRange, match="30"):
        check_attribute(Box, "slope_deg", 29.0)
    with pytest.raises(OutOfRange, match="backwards"):
        check_range(Box, "span_mm", (20, 10))
    with pytest.raises(OutOfRange) as outside:
        check_range(Box, "span_mm", (4, 10))
    assert outside.value.field == "span_mm"


def test_the_catalogue_goes_by_the_keys_of_the_sheet_for_both_ends() -> None:
    assert KNOWN["spec.rear.rim_width_least_mm"].label == "Rim width rear, minimum"
    assert KNOWN["set.instrument_mm"].part is Part.INSTRUMENT
    assert "front.hub.driver" not in KNOWN
    assert list(KNOWN).index("chainstay_mm") == list(KNOWN).index("steering_lock_deg") + 1
    with pytest.raises(OutOfRange) as refused:
        check_key("front.rim.inner_width_mm", 4.0)
    assert refused.value.field == "front.rim.inner_width_mm"
    check_key("nothing.known_mm", 4.0)
