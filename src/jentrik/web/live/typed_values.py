"""What someone typed into one field, as it is kept; refused where the field cannot hold it."""

from collections.abc import Callable

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import About
from jentrik.core.machine.gearing import teeth_of
from jentrik.core.machine.readings import read_named, read_readings
from jentrik.core.machine.sheet import ROWS_OF_TEETH
from jentrik.core.tire.sidewall import known_code
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH

LONGEST_NAME, LONGEST_WORDS, LONGEST_NOTE = 80, 60, 300
Holds = str | tuple[str, ...] | Callable[[str], str]  # a unit, words to choose from, or a reader


def words(typed: str, *, most: int = LONGEST_WORDS) -> str:
    """Return a few words of the shop's own; refuses more than a field holds."""
    if len(typed) > most:
        raise OutOfRange(
            f"That is {len(typed)} characters; at most {most} stand here.", expected="fewer words"
        )
    return typed


def noted(typed: object) -> str:
    """Return a note as it is kept; refuses one longer than a note."""
    return words(" ".join(str(typed).split()), most=LONGEST_NOTE)


def checked_name(typed: str) -> str:
    """Return a name someone typed; refuses none, and one too long to read on a tag."""
    name = " ".join(typed.split())
    if not name:
        raise OutOfRange("Say what it is, in a few words.", field="name", expected="a name")
    if len(name) > LONGEST_NAME:
        raise OutOfRange(
            f"That is {len(name)} characters; a name has at most {LONGEST_NAME}.",
            field="name",
            expected="a shorter name",
        )
    return name


def figure_value(known: About, typed: str) -> tuple[float | str, float | None, tuple[float, ...]]:
    """Return a typed figure, its ± and the readings it is the middle of.

    Refuses what that field cannot hold.
    """
    if known.choices:
        if typed not in known.choices:
            raise OutOfRange(
                f"“{typed[:40]}” is not one of {', '.join(known.choices)}.",
                expected=", ".join(known.choices),
            )
        return typed, None, ()
    if known.words:
        return words(typed), None, ()
    if known.key.endswith(".tire"):
        known_code(typed)
        return typed, None, ()
    if known.key.removeprefix("gearing.") in ROWS_OF_TEETH:
        teeth_of(typed)
        return typed, None, ()
    if known.key.endswith("speed_symbol"):
        if typed.upper() not in SPEED_KMH and typed.upper() != "ZR":
            raise OutOfRange(f"“{typed[:20]}” is not a speed symbol.", expected="a letter like H")
        return typed.upper(), None, ()
    taken = read_readings(typed, unit=known.unit, key=known.key)
    whole = taken.mean.is_integer() and 0 <= taken.mean <= 279
    if known.key.endswith("load_index") and not whole:
        raise OutOfRange(f"{typed} is not a load index.", expected="a whole number from 0 to 279")
    return taken.mean, taken.plus_minus, taken.readings if len(taken.readings) > 1 else ()


def held(holds: Holds, typed: str, *, key: str = "") -> float | str:
    """Return what was typed for a key where a unit, a choice or a reader says what can stand."""
    if isinstance(holds, str):
        return read_named(key, typed, unit=holds)
    if not isinstance(holds, tuple):
        return holds(typed)
    if typed not in holds:
        raise OutOfRange(f"Choose one of {', '.join(holds)}.", expected=", ".join(holds))
    return typed
