"""Practice out of the shop's own life: machines, shelf, and how done jobs turned out.

The answer is what was measured or read here.  Nothing is asked that the shop does not hold.
"""

import random
from collections.abc import Callable
from datetime import date

from jentrik.core.errors import Refusal
from jentrik.core.practice.item import Item
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code
from jentrik.store import after_fitting, machines, practice, shelf
from jentrik.web.figures import fixed

OWN = "own-shop"
_MOST_MACHINES = 40  # looked at for one question
_AS_EXPECTED, _MORE, _LESS = "as expected", "more", "less"


def own_item(seed: int, today: date) -> Item | None:
    """Return an item of what was measured or lies here; None where there is nothing yet."""
    chance = random.Random(seed)  # noqa: S311
    ways: list[Callable[[random.Random, str, date], Item | None]] = [
        _done_job,
        _against_mark,
        _rim_of_a_machine,
        _age_on_the_shelf,
    ]
    chance.shuffle(ways)
    for way in ways:
        found = way(chance, f"{OWN}-{seed}", today)
        if found is not None:
            return found
    return None


def _done_job(chance: random.Random, name: str, _: date) -> Item | None:
    """Ask how a figure of a done job turned out, within what was promised."""
    known = practice.turned_out()
    if not known:
        return None
    one = chance.choice(known)
    off = one.measured - one.predicted
    unit = f" {one.unit}" if one.unit else ""
    answer = _AS_EXPECTED if abs(off) <= one.plus_minus else _MORE if off > 0 else _LESS
    return Item(
        name,
        OWN,
        f"Tag {one.tag}, {one.machine}: {one.wanted}. {one.label} was expected at "
        f"{fixed(one.predicted, 1)} ± {fixed(one.plus_minus, 1)}{unit}. What did it turn out to "
        "be?",
        answer,
        f"Measured: {fixed(one.measured, 1)}{unit}, {off:+.1f} from what was expected. Whoever "
        "measures after the job learns how far to trust the next forecast.",
        "this shop's own measurement",
        3,
        choices=(_LESS, _AS_EXPECTED, _MORE),
    )


def _against_mark(chance: random.Random, name: str, _: date) -> Item | None:
    """Ask what the tape said of a tire whose mark is known."""
    measured = after_fitting.sizes_against_marks()
    if not measured:
        return None
    one = chance.choice(measured)
    return Item(
        name,
        OWN,
        f"A {one.tire} was fitted here. By its mark its {one.what} is "
        f"{one.nominal_mm:.0f} mm. What did the tape say, in mm?",
        round(one.measured_mm, 1),
        f"Measured after fitting: {one.measured_mm:.1f} mm, "
        f"{one.measured_mm - one.nominal_mm:+.1f} from its mark. Marks are names; "
        "the rim's width and the maker decide.",
        "this shop's own measurement",
        3,
        tolerance=max(1.0, 0.004 * one.measured_mm),
        unit="mm",
        code=one.tire,
    )


def _rim_of_a_machine(chance: random.Random, name: str, _: date) -> Item | None:
    """Ask which of the shop's machines' tires shares a rim with one of its shelf."""
    named = dict(machines.names())
    some = chance.sample(sorted(named), min(len(named), _MOST_MACHINES))
    sheets = machines.brief(some, ["rear.tire"]).values()
    rides = [
        (sheet.id, str(sheet.figures["rear.tire"].value))
        for sheet in sheets
        if "rear.tire" in sheet.figures
    ]
    hang = [(one.code, read) for one in shelf.tires() if (read := _read(one.code))]
    pairs: dict[bool, list[tuple[int, str, float, str, float]]] = {True: [], False: []}
    for machine_id, tire in rides:
        mine = _read(tire)
        for code, other in hang:
            if mine is not None and mine.vehicle == other.vehicle and code != tire:
                seats = mine.bead_seat_diameter_mm, other.bead_seat_diameter_mm
                pairs[seats[0] == seats[1]].append((machine_id, tire, seats[0], code, seats[1]))
    kinds = [those for those in pairs.values() if those]
    if not kinds:
        return None
    machine_id, tire, seat, code, hung = chance.choice(chance.choice(kinds))
    return Item(
        name,
        OWN,
        f"{named[machine_id]} rides on {tire} at the rear. On the shelf hangs a {code}. Is it for "
        "the same bead seat?",
        "yes" if seat == hung else "no",
        f"{tire} sits on {seat:g} mm, {code} on {hung:g} mm. One bead seat is asked for "
        "first; width, room, load and speed come after.",
        "this shop's sheet and shelf; ISO 5775-1, from memory",
        2,
        choices=("yes", "no"),
        code=code,
    )


def _read(code: str) -> Reading | None:
    try:
        return read_code(code)
    except Refusal:
        return None


def _age_on_the_shelf(chance: random.Random, name: str, today: date) -> Item | None:
    """Ask how old a tire on the shelf is."""
    dated = [one for one in shelf.tires() if one.age_years(today) is not None]
    if not dated:
        return None
    tire = chance.choice(dated)
    age = tire.age_years(today)
    assert age is not None
    return Item(
        name,
        OWN,
        f"On the shelf hangs a {tire.code} with the date mark {tire.made}. How many years old "
        "is it today?",
        round(age, 1),
        f"It is {age:.1f} years old today; the first pair is the week.",
        "49 CFR 574.5, this shop's shelf",
        2,
        tolerance=0.3,
        code=tire.code,
    )
