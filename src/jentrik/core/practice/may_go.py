"""Items of fit: what speaks against a tire in its code, in a fork, on a rim.

The code alone never clears a tire, and no answer says that one fits.
"""

import random
from typing import Any

from jentrik.core.practice.codes import USUAL_INDEX
from jentrik.core.practice.item import Item
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.rim_width import SOURCE as RIM_SOURCE
from jentrik.core.tire.tables.rim_width import bicycle_tire_widths


def may_go(chance: random.Random, name: str) -> Item:
    """Ask what speaks against a tire: in its code, in the room a fork leaves, in a rim's width."""
    way = chance.random()
    if way < 0.5:
        return _in_the_fork(chance, name) if way < 0.25 else _on_the_rim(chance, name)
    symbols = "JKLMNPQRSTUH"
    index, speed = chance.choice(list(USUAL_INDEX)), chance.choice(symbols[2:-2])
    place = symbols.index(speed)
    built = chance.choice(("R", "-"))
    fault = chance.choice(("none", "load", "speed", "construction"))
    mine: dict[str, Any] = {
        "index": index - chance.randint(1, 6) if fault == "load" else index + chance.randint(0, 4),
        "speed": symbols[place - chance.randint(1, 2)]
        if fault == "speed"
        else symbols[min(place + chance.randint(0, 2), len(symbols) - 1)],
        "built": {"R": "-", "-": "R"}[built] if fault == "construction" else built,
    }
    size = chance.choice(("120/70", "110/80", "130/80", "140/80"))
    rim = chance.choice((17, 18))
    joints = {"R": " R ", "-": "-"}
    asked = f"{size}{joints[built]}{rim} {index}{speed}"
    there = f"{size}{joints[mine['built']]}{rim} {mine['index']}{mine['speed']}"
    answers = {
        "none": "nothing in the code",
        "load": "the load index",
        "speed": "the speed symbol",
        "construction": "the construction",
    }
    one, other = read_code(asked), read_code(there)
    assert one.load_kg is not None
    assert other.load_kg is not None
    return Item(
        name,
        "may-it-go",
        f"The maker asks for {asked}. The tire says {there}. What in the code speaks against it?",
        answers[fault],
        f"Asked: {one.load_kg:g} kg, {one.speed_kmh} km/h, {one.construction}. There: "
        f"{other.load_kg:g} kg, {other.speed_kmh} km/h, {other.construction}. Index and "
        "symbol may be higher, never lower; the construction is the maker's. A code alone never "
        "clears a tire.",
        "UN R75; the vehicle maker's sheet",
        3,
        choices=tuple(answers.values()),
        code=there,
    )


_ROOM_MM = 6.0  # ISO 4210-2, city, trekking and mountain bicycles


def _in_the_fork(chance: random.Random, name: str) -> Item:
    width, seat = chance.choice((37, 42, 47, 50, 54, 57, 60)), chance.choice((559, 584, 622))
    read = read_code(f"{width}-{seat}")
    radius = (read.overall_diameter_mm or 0.0) / 2
    enough = chance.random() < 0.5
    crown = round(radius + (chance.randint(7, 12) if enough else chance.randint(-2, 4)))
    left = crown - radius
    return Item(
        name,
        "may-it-go",
        f"A trekking bicycle's fork crown sits {crown} mm above the axle. Does a {width}-{seat} "
        "leave the room there that the standard asks for?",
        "yes" if left >= _ROOM_MM else "no",
        f"{seat} / 2 + {width} = {radius:.0f} mm by its mark: {left:.0f} mm are left, and "
        f"{_ROOM_MM:g} are asked for. Measure the tire on its rim before you say yes.",
        "ISO 4210-2, from memory",
        3,
        choices=("yes", "no"),
        code=f"{width}-{seat}",
    )


_WIDTHS = (20, 23, 25, 28, 32, 37, 42, 47, 54, 60, 66, 75)


def _on_the_rim(chance: random.Random, name: str) -> Item:
    rim = chance.choice((13, 15, 17, 19, 21, 23))
    widths = bicycle_tire_widths(rim)
    assert widths is not None
    low, high = widths
    goes = chance.choice([one for one in _WIDTHS if low <= one <= high])
    others = chance.sample([one for one in _WIDTHS if not low <= one <= high], 3)
    choices = [f"{one}-622" for one in (goes, *others)]
    chance.shuffle(choices)
    return Item(
        name,
        "may-it-go",
        f"A 622 rim is {rim} mm wide inside. Which of these does the standard's table of rims and "
        "tires put on it?",
        f"{goes}-622",
        f"On {rim} mm it puts tires from {low} to {high} mm. It is an older edition: today's "
        "wider rims go with narrower tires too, and the tire maker's list comes first.",
        str(RIM_SOURCE),
        3,
        choices=tuple(choices),
        code=f"{goes}-622",
    )
