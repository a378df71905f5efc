"""Items about codes: what a part says, which rim, how old, what it carries, how fast.

Codes are printed from parts and read back by the reader: the answer is the reader's.
"""

import random
from datetime import date, timedelta

from jentrik.core.practice.item import Item
from jentrik.core.tire.dates import first_day_of, week_in_words, weeks_of
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.load_index import SOURCE as LOAD_SOURCE
from jentrik.core.tire.tables.speed_symbol import SOURCE as SPEED_SOURCE
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH

DERIVED = "derived: bead seat + 2 x width x aspect"
DATE_SOURCE = "49 CFR 574.5: week and year, weeks from Sunday to Saturday"
_RIMS = (10, 12, 16, 17, 18, 19, 21)
_PLAIN_SYMBOLS = tuple(one for one in SPEED_KMH if len(one) == 1 and one.isalpha())
USUAL_INDEX = range(36, 81)
# Codes that name one rim, and one only.
_NICKNAMES = (
    "700 x 38C",
    "27.5 x 2.10",
    "26 x 1.75",
    "26 x 1 1/2",
    "26 x 1 3/4",
    "28 x 1 1/2",
    "28 x 1 3/8",
    "28 x 1 5/8 x 1 3/8",
    "27 x 1 1/4",
    "20 x 1.75",
    "24 x 1.75",
    "16 x 1.75",
    "650 x 38B",
    "650 x 38A",
    "650 x 28C",
    "29 x 2.25",
    "700 x 38B",
)
_SEATS = (305, 349, 355, 406, 451, 507, 540, 547, 559, 571, 584, 590, 597, 622, 630, 635, 642)


def motorcycle_code(chance: random.Random) -> str:
    """Return a metric motorcycle code printed from its parts."""
    width = chance.choice((80, 90, 100, 110, 120, 130, 140, 150, 160, 180))
    aspect = chance.choice((60, 70, 80, 90) if width < 150 else (55, 60, 70))
    built = chance.choice(("-", "R", "B"))
    rim = chance.choice(_RIMS[2:])
    index, symbol = chance.choice(list(USUAL_INDEX)), chance.choice("JKLMNPQRSTH")
    joint = {"-": "-", "R": " R ", "B": " B "}[built]
    return f"{width}/{aspect}{joint}{rim} M/C {index}{symbol} TL"


def part_of_code(chance: random.Random, name: str) -> Item:
    """Ask for a figure that follows from a code and does not stand in it."""
    code = motorcycle_code(chance)
    read = read_code(code)
    asked, value, why = chance.choice(_parts(read))
    return Item(
        name,
        "code-part",
        f"{code}: {asked}?",
        round(value, 1),
        why,
        DERIVED if "height" in asked or "diameter" in asked else "UN R75",
        1 if "bead" in asked else 2,
        tolerance=max(1.0, 0.005 * value),
        unit="mm",
        code=code,
    )


def _parts(read: Reading) -> list[tuple[str, float, str]]:
    seat, height = read.bead_seat_diameter_mm, read.section_height_mm or 0.0
    width, aspect = read.width_mm or 0.0, read.aspect_percent or 0.0
    whole = read.overall_diameter_mm or 0.0
    return [
        (
            "how high is the section, in mm",
            height,
            f"The middle figure is a percentage: {width:g} x {aspect:g} % = {height:.1f} mm.",
        ),
        (
            "how large is the bead seat, in mm",
            float(seat),
            f"Rim code {read.rim_code} inches x 25.4, whole millimetres: {seat}.",
        ),
        (
            "how tall is the tire, in mm",
            whole,
            f"{seat} + 2 x {height:.1f} = {whole:.0f} mm by its mark.",
        ),
    ]


def which_rim(chance: random.Random, name: str) -> Item:
    """Ask which bead seat a nickname means."""
    code = chance.choice(_NICKNAMES)
    seat = read_code(code).bead_seat_diameter_mm
    near = sorted((one for one in _SEATS if one != seat), key=lambda one: abs(one - seat))[:6]
    choices = [str(seat), *(str(one) for one in chance.sample(near, 3))]
    chance.shuffle(choices)
    return Item(
        name,
        "which-rim",
        f"A tire says {code}. On which bead seat does it go, in mm?",
        str(seat),
        f"{code} is a nickname of the bead seat {seat} mm; only the ISO mark says it outright.",
        "ISO 5775-1 and -2, from memory",
        2,
        choices=tuple(choices),
        code=code,
    )


def same_rim(chance: random.Random, name: str) -> Item:
    """Ask whether two names mean one rim."""
    while True:
        one, other = chance.sample(_NICKNAMES, 2)
        seats = [read_code(code).bead_seat_diameter_mm for code in (one, other)]
        near = abs(seats[0] - seats[1]) < 40
        if near:
            break
    same = seats[0] == seats[1]
    return Item(
        name,
        "same-rim",
        f"Does a {one} tire go on the rim of a {other} tire?",
        "yes" if same else "no",
        f"{one} sits on {seats[0]} mm, {other} on {seats[1]} mm. The bead seat must match exactly; "
        "never force a bead.",
        "ISO 5775-1 and -2, from memory",
        3,
        choices=("yes", "no"),
        code=one,
    )


def load_of_index(chance: random.Random, name: str) -> Item:
    """Ask what a load index carries, or which one carries a load."""
    index = chance.choice(list(USUAL_INDEX))
    load = LOAD_KG[index]
    if chance.random() < 0.5:
        others = {LOAD_KG[one] for one in (index - 4, index - 2, index + 3, index + 5)}
        choices = [f"{load:g} kg", *(f"{one:g} kg" for one in sorted(others - {load})[:3])]
        chance.shuffle(choices)
        question, answer = f"How much does one tire with load index {index} carry?", f"{load:g} kg"
    else:
        wanted = round((LOAD_KG[index - 1] + load) / 2, 1)
        near = chance.sample([index - 3, index - 2, index - 1], 2)
        choices = [str(one) for one in (index, *near)]
        chance.shuffle(choices)
        question = f"An axle weighs {wanted:g} kg. Which of these load indices carries it?"
        answer = str(index)
    return Item(
        name,
        "load-index",
        question,
        answer,
        f"Index {index} is {load:g} kg for one tire at its stated pressure; {index - 1} is "
        f"{LOAD_KG[index - 1]:g}. The index is one tire's load, never the machine's weight.",
        str(LOAD_SOURCE),
        2,
        choices=tuple(choices),
    )


def speed_of_symbol(chance: random.Random, name: str) -> Item:
    """Ask how fast a symbol goes."""
    symbol = chance.choice("GJKLMNPQRSTUH")
    speed = SPEED_KMH[symbol]
    others = sorted(
        {SPEED_KMH[one] for one in _PLAIN_SYMBOLS} - {speed}, key=lambda one: abs(one - speed)
    )
    choices = [f"{speed} km/h", *(f"{one} km/h" for one in chance.sample(others[:5], 3))]
    chance.shuffle(choices)
    trap = " H stands between U and V, not after G." if symbol == "H" else ""
    return Item(
        name,
        "speed-symbol",
        f"Up to what speed is a tire with speed symbol {symbol} made?",
        f"{speed} km/h",
        f"{symbol} is {speed} km/h at full load and the stated pressure.{trap}",
        str(SPEED_SOURCE),
        1,
        choices=tuple(choices),
    )


def first_day(chance: random.Random, name: str) -> Item:
    """Ask on which day the week of a date mark began."""
    year = chance.randint(2012, 2026)
    week = chance.randint(1, weeks_of(year))
    day = first_day_of(week, year)
    wrong = [day + timedelta(days=7 * one) for one in (-1, 1)] + [day + timedelta(days=1)]
    choices = [_said(one) for one in (day, *wrong)]
    chance.shuffle(choices)
    return Item(
        name,
        "date-mark",
        f"A date mark ends in {week:02d}{year % 100:02d}. On which day did its week begin?",
        _said(day),
        f"It is {week_in_words(week, year)}: the first pair is the week, and week 01 is the "
        "year's first full one, Sunday to Saturday.",
        DATE_SOURCE,
        3,
        choices=tuple(choices),
    )


def how_old(chance: random.Random, name: str) -> Item:
    """Ask how old a tire is on a day."""
    year = chance.randint(2015, 2024)
    week = chance.randint(1, 52)
    on = date(chance.randint(year + 1, 2026), chance.randint(1, 12), chance.randint(1, 28))
    age = (on - first_day_of(week, year)).days / 365.2425
    return Item(
        name,
        "tire-age",
        f"The date mark says {week:02d}{year % 100:02d}. How many years old is the tire on "
        f"{_said(on)}?",
        round(age, 1),
        f"From {_said(first_day_of(week, year))} it is {age:.1f} years. Three digits would mean "
        "before 2000; no mark means unknown, not new.",
        DATE_SOURCE,
        2,
        tolerance=0.3,
        unit="",
    )


def _said(day: date) -> str:
    return f"{day.day} {day:%B %Y}"
