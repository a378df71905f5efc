"""Every figure of a machine by the key of its sheet, as the classes of its parts declare it.

A figure that is new on a part is here, on the sheet, in the limits, in the guides and in the plan
document without another line.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, get_args

from jentrik.core.machine.build import BRAKE_AND_DRIVE
from jentrik.core.machine.declared import ENDS, About, Declared, End, Guide, Part, attributes, check
from jentrik.core.machine.machine import MAKERS_SHEET, USED, Bike, Design
from jentrik.core.machine.wheel import WheelSpec

GROUPS = (
    BRAKE_AND_DRIVE,
    "Front wheel",
    "Rear wheel",
    "Hubs and brakes",
    "Chassis",
    "Cross-checks",
    "Rider",
    "Suspension",
    "Instruments and stand",
    "Gearing",
    USED,
    MAKERS_SHEET,
    "",  # what no sheet asks
)
_GROUP = {name: place for place, name in enumerate(GROUPS)}


@dataclass(frozen=True, slots=True)
class CrossChecks(Declared, path="cross", group="Cross-checks"):
    """What is compared with the other figures and is no part of the machine."""

    bb_drop_mm: Annotated[
        float | None,
        About(
            "Bottom-bracket drop",
            (-500, 500),
            "whether the sheet agrees with itself",
            kinds=("bicycle",),
            guide=Guide(
                13,
                "straight edge",
                "Straight edge across both axles, down to the crank axle; equal wheels only.",
                "bb-drop",
            ),
        ),
    ] = None
    front_center_mm: Annotated[
        float | None,
        About(
            "Front center",
            (100, 3000),
            "whether the sheet agrees with itself",
            kinds=("bicycle",),
            guide=Guide(
                14,
                "tape",
                "Bottom-bracket center straight to the front axle center, bar straight.",
                "front-center",
            ),
        ),
    ] = None
    trail_mm: Annotated[
        float | None,
        About(
            "Trail, as stated or measured",
            (-300, 500),
            "the fork offset, or whether the sheet agrees with itself",
            guide=Guide(
                10,
                "plumb and straight edge",
                "Steering axis down to the floor, to the point below the front axle. Makers state "
                "it; it gives the offset.",
                "trail",
            ),
        ),
    ] = None
    head_tube_mm: Annotated[
        float | None,
        About(
            "Crown seat to head tube top",
            (30, 800),
            "the fork length, or whether the sheet agrees with itself",
            kinds=("bicycle",),
            guide=Guide(
                8,
                "tape",
                "Crown seat to the top of the head tube, along it. With stack and reach it checks "
                "the fork.",
                "head-tube",
            ),
        ),
    ] = None


@dataclass(frozen=True, slots=True)
class Rider(Declared, path="rider", group="Rider"):
    """The rider, against the seat and the ground."""

    inseam_mm: Annotated[
        float | None,
        About(
            "Rider's inseam, in riding boots",
            (200, 1300),
            "how the feet reach the ground, stand-over and saddle",
        ),
    ] = None
    height_mm: Annotated[
        float | None,
        About("Rider's height", (600, 2500), "the inseam to start from, until it is measured"),
    ] = None


_SUITS = "which tire of one size suits it"


@dataclass(frozen=True, slots=True)
class YearOfRiding(Declared, path="riding", group=USED):
    """How it is ridden over a year: what a tire's life and cost are worked out from."""

    gravel_percent: Annotated[float | None, About("Of 100 km, gravel", (0, 100), _SUITS)] = None
    mud_percent: Annotated[float | None, About("Of 100 km, mud", (0, 100), _SUITS)] = None
    wet_percent: Annotated[float | None, About("Of 100 km, wet", (0, 100), _SUITS)] = None
    cold_percent: Annotated[float | None, About("Of 100 km, below 7 °C", (0, 100), _SUITS)] = None
    km_a_year: Annotated[
        float | None,
        About(
            "Ridden a year",
            (10, 300_000),
            "how long a tire lasts and what it costs a year",
            unit="km",
        ),
    ] = None
    speed_kmh: Annotated[
        float | None,
        About(
            "Usual top speed",
            (5, 150),
            "whether a tire's speed symbol covers it",
            kinds=("bicycle",),
        ),
    ] = None
    style: Annotated[
        str | None,
        About(
            "How they ride",
            None,
            "what is said of a tire's life and sidewall",
            choices=("gently", "as most do", "hard"),
        ),
    ] = None


def _walk(of: type[Declared], end: End | None = None) -> Iterator[About]:
    """Yield what is known of each figure of a part and of the parts in it, in order."""
    for attribute in attributes(of):
        inner = [part for part in (attribute.type, *get_args(attribute.type)) if _is_part(part)]
        for part in inner:
            at = next((known for known in ENDS if known == attribute.name), end)
            yield from _walk(part, at)
        if not inner:
            yield from _keys(of, attribute.about, end)


def _is_part(of: object) -> bool:
    return isinstance(of, type) and issubclass(of, Declared) and bool(of.path or of.common.group)


def _keys(of: type[Declared], known: tuple[About, ...], end: End | None) -> Iterator[About]:
    for about in known:
        if about.end in (None, end):
            path = f"{of.path}." if of.path else ""
            key = (about.set_up_key or path + about.key).replace("{end}", end or "")
            yield _at(replace(about, key=key), end) if end else replace(about, key=key)


def _at(about: About, end: End) -> About:
    """Return what is known of a figure as it is of one end."""
    guide = about.guide
    return replace(
        about,
        label=about.label.replace("{end}", end),
        group=about.group.replace("{End}", end.capitalize()),
        guide=replace(guide, shows=guide.shows.replace("{end}", end)) if guide else None,
    )


def _in_order(known: list[About]) -> dict[str, About]:
    """Return the figures group by group, those that stand behind another where they belong."""
    by_key = {about.key: about for about in known}
    order = [about.key for about in known if not about.after]
    for about in known:
        if about.after:
            order.insert(order.index(about.after) + 1, about.key)
    return {key: by_key[key] for key in sorted(order, key=lambda key: _GROUP[by_key[key].group])}


_ROOTS: tuple[tuple[type[Declared], End | None], ...] = (
    (Bike, None),
    (Design, None),
    (CrossChecks, None),
    (Rider, None),
    (YearOfRiding, None),
    (WheelSpec, "front"),
    (WheelSpec, "rear"),
)
KNOWN: dict[str, About] = _in_order([about for of, end in _ROOTS for about in _walk(of, end)])


def check_key(key: str, figure: float) -> None:
    """Refuse a figure no machine has, by the key of its sheet."""
    if key in KNOWN:
        check(KNOWN[key], figure)


@lru_cache(maxsize=4096)
def part_of_figure(key: str) -> tuple[Part, End | None] | None:
    """Return which part of a set-up a figure of the sheet belongs to and at which end."""
    about = KNOWN.get(key)
    if about is None or about.part is None:
        return None
    return about.part, next((end for end in ENDS if key.startswith(f"{end}.")), None)
