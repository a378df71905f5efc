"""Items of the bench: arrows, wear, a card with a fault, units, misbeliefs."""

import csv
import random
from importlib.resources import files

from jentrik.core.practice.codes import motorcycle_code
from jentrik.core.practice.item import Item
from jentrik.core.tire.dates import weeks_of
from jentrik.core.units import KG_PER_POUND, KMH_PER_MPH, KPA_PER_BAR, KPA_PER_PSI
from jentrik.core.work.inspection import CAUSES, wear_shape

_TEXT = files("jentrik.core.tire.tables").joinpath("misbeliefs.csv").read_text(encoding="utf-8")
MISBELIEFS = tuple(csv.DictReader(_TEXT.splitlines()))


# Where on a wheel that rolls to the right: how the rim moves there, right and up.
_ROLLING = {"top": (1, 0), "front edge": (0, -1), "bottom": (-1, 0), "rear edge": (0, 1)}


def arrow(chance: random.Random, name: str) -> Item:
    """Ask whether a wheel turns with its tire's arrow, or which side of the machine it shows."""
    if chance.random() < 1 / 3:
        return _lying(chance, name)
    side, over = chance.choice(("right", "left")), chance.choice(tuple(_ROLLING))
    with_it = chance.random() < 0.5
    right, up = _ROLLING[over]
    right = right if side == "right" else -right  # it faces the side it is seen from
    way = (right, up) if with_it else (-right, -up)
    points = {(1, 0): "right", (-1, 0): "left", (0, 1): "up", (0, -1): "down"}[way]
    return Item(
        name,
        "arrow",
        f"You look at the machine from its {side} side; it faces {side}. At the {over} of the tire "
        f"the arrow points {points}. Does the tire turn with its arrow?",
        "yes" if with_it else "no",
        "Riding, the top of a wheel moves the way the machine does, the bottom against it, the "
        "front edge down and the rear edge up. Trust the arrow, not how the tread looks.",
        "common practice",
        2,
        choices=("yes", "no"),
        drawing=_arrow_drawing(side, over, way),
    )


def _lying(chance: random.Random, name: str) -> Item:
    way = chance.choice(("clockwise", "against the clock"))
    end, top = chance.choice(("front", "rear")), chance.choice(("top", "bottom"))
    to_right = (way == "clockwise") == (top == "top")
    code = motorcycle_code(chance)
    return Item(
        name,
        "arrow",
        f"A {end} tire, {code}, lies before you. At the {top} edge of what you see its arrow "
        f"points {'right' if to_right else 'left'}. Which side of the machine will the side you "
        "see be on?",
        "its right side" if way == "clockwise" else "its left side",
        f"So it turns {way} as you see it. Rolling forward a wheel turns clockwise seen from the "
        "machine's right side, against the clock seen from its left.",
        "common practice",
        2,
        choices=("its right side", "its left side"),
        code=code,
    )


def _arrow_drawing(side: str, over: str, way: tuple[int, int]) -> str:
    ahead = 1 if side == "right" else -1
    out = {"top": (0, -86), "bottom": (0, 86), "front edge": (86 * ahead, 0)}
    x, y = out.get(over, (-86 * ahead, 0))
    x, y, dx, dy = 120 + x, 120 + y, way[0], -way[1]
    tip = (x + 22 * dx, y + 22 * dy)
    barbs = "".join(
        f"M{tip[0]} {tip[1]}L{tip[0] - 10 * dx + across * dy} {tip[1] - 10 * dy - across * dx}"
        for across in (8, -8)
    )
    return (
        '<svg class="practice-drawing" viewBox="0 0 240 240" role="img" aria-label="A wheel from '
        f'the {side} side, with an arrow at its {over}"><circle class="rubber-line" cx="120" '
        'cy="120" r="86"/><circle class="rim-line" cx="120" cy="120" r="64"/>'
        f'<path class="frame-line" d="M120 120L{120 - 44 * ahead} 4"/>'
        f'<path class="arrow-line" d="M{x - 22 * dx} {y - 22 * dy}L{tip[0]} {tip[1]}{barbs}"/>'
        f'<text class="ahead" x="{120 + 12 * ahead}" y="160" text-anchor="middle">'
        f"{'ahead →' if ahead > 0 else '← ahead'}</text></svg>"
    )


_SAYS = {
    "middle": "straight roads, or too much air",
    "both edges": "cornering, or too little air",
    "left edge": "the road's camber, or wheels out of line",
    "right edge": "the road's camber, or wheels out of line",
}


_WORN = {
    "middle": "worn in the middle",
    "both edges": "worn at both edges",
    "left edge": "worn at the left edge",
    "right edge": "worn at the right edge",
    "even": "worn evenly",
}


def wear(chance: random.Random, name: str) -> Item:
    """Ask what the tread over three places says."""
    base = chance.choice((3.0, 3.5, 4.0, 4.5))
    shapes = {
        "middle": (0.0, -1.4, 0.0),
        "both edges": (-1.5, 0.0, -1.5),
        "left edge": (-1.6, 0.0, 0.0),
        "right edge": (0.0, 0.0, -1.6),
        "even": (0.0, 0.1, 0.0),
    }
    wanted = chance.choice(tuple(shapes))
    left, middle, right = (
        round(base + off + chance.choice((0.0, 0.1)), 1) for off in shapes[wanted]
    )
    shape = wear_shape((left, middle, right))
    across = (
        f"A motorcycle's rear tire has tread of {left}, {middle} and {right} mm: left, middle, "
        "right."
    )
    if shape in _SAYS and chance.random() < 0.5:
        return Item(
            name,
            "wear",
            f"{across} What does it say?",
            _SAYS[shape],
            CAUSES[shape],
            "common practice",
            2,
            choices=tuple(dict.fromkeys(_SAYS.values())),
        )
    return Item(
        name,
        "wear",
        f"{across} How is it worn?",
        _WORN[shape],
        CAUSES.get(shape, "Worn alike all over: nothing to mend."),
        "common practice",
        2,
        choices=tuple(_WORN.values()),
    )


def card_fault(chance: random.Random, name: str) -> Item:
    """Ask which line of a job card cannot be right."""
    year = chance.choice((2018, 2019, 2020, 2021, 2022, 2024))
    most = chance.choice((280, 290, 350))
    seat = chance.choice((559, 584, 622))
    good = {
        "date": f"Tire date mark {chance.randint(1, 52):02d}{year % 100:02d} noted",
        "air": f"Inflated to {most - 40} kPa, sidewall max {most} kPa",
        "rim": f"Tire 47-{seat} onto the rim marked {seat}",
        "torque": "Axle nut tightened to the maker's figure, written down",
    }
    other = {559: 571, 584: 590, 622: 630}[seat]
    bad = {
        "date": (
            f"Tire date mark {weeks_of(year) + 1:02d}{year % 100:02d} noted",
            f"{year} had {weeks_of(year)} weeks in date marks.",
        ),
        "air": (
            f"Inflated to {most + 30} kPa, sidewall max {most} kPa",
            "The sidewall's figure is a limit, also while the bead seats.",
        ),
        "rim": (
            f"Tire 47-{seat} onto the rim marked {other}",
            f"{other} is not {seat}: the bead seat must match exactly.",
        ),
        "torque": (
            "Axle nut tightened to the usual figure for its thread",
            "Torque comes from the maker of machine or part, never from a thread.",
        ),
    }
    fault = chance.choice(tuple(bad))
    lines = [bad[key][0] if key == fault else words for key, words in good.items()]
    chance.shuffle(lines)
    return Item(
        name,
        "card-fault",
        "One line of this job card cannot stand. Which?",
        bad[fault][0],
        bad[fault][1],
        "49 CFR 574.5" if fault == "date" else "common practice",
        3,
        choices=tuple(lines),
    )


_UNITS: tuple[tuple[str, str, float, tuple[int, ...]], ...] = (
    ("kg", "pounds", 1 / KG_PER_POUND, (40, 75, 120, 180, 236, 300)),
    ("pounds", "kg", KG_PER_POUND, (100, 165, 250, 400, 550)),
    ("km/h", "mph", 1 / KMH_PER_MPH, (50, 80, 100, 130, 210)),
    ("mph", "km/h", KMH_PER_MPH, (30, 55, 70, 99, 130)),
    ("psi", "bar", KPA_PER_PSI / KPA_PER_BAR, (22, 29, 36, 42, 60, 80)),
    ("bar", "psi", KPA_PER_BAR / KPA_PER_PSI, (2, 3, 4, 5, 6)),
)


def units(chance: random.Random, name: str) -> Item:
    """Ask for a conversion in the head."""
    start, into, factor, amounts = chance.choice(_UNITS)
    amount = chance.choice(amounts) + chance.randint(0, 9)
    value = amount * factor
    digits = 1 if into == "bar" else 0
    return Item(
        name,
        "units",
        f"About how many {into} are {amount} {start}?",
        round(value, digits),
        f"{amount} {start} x {factor:.4g} = {value:.{digits}f} {into}. In the head: "
        f"{_IN_THE_HEAD[start]}.",
        "exact definitions of inch, pound and mile",
        1,
        tolerance=max(0.04 * value, 0.05),
    )


_IN_THE_HEAD = {
    "kg": "double it and a tenth more",
    "pounds": "half of it and a tenth less",
    "km/h": "six tenths and a little",
    "mph": "half as much again and a tenth",
    "psi": "seven hundredths: divide by 14.5",
    "bar": "fourteen and a half times",
}


def misbelief(chance: random.Random, name: str) -> Item:
    """Ask whether what is said at the bench is true."""
    row = chance.choice(MISBELIEFS)
    return Item(
        name,
        "misbelief",
        f"“{row['says']}” Does that hold?",
        "it holds" if row["true"] == "yes" else "it does not",
        row["why"],
        row["source"],
        1,
        choices=("it holds", "it does not"),
    )
