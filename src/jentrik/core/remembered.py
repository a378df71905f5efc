"""What was made of frozen values, kept as long as the same values come again."""

from collections.abc import Callable
from datetime import date
from functools import wraps
from typing import ParamSpec, TypeVar

P = ParamSpec("P")
T = TypeVar("T")
MOST_REMEMBERED = 64


def remembered(make: Callable[P, T]) -> Callable[P, T]:
    """Keep what a function made of the values it was given last.

    Words, figures and days are the same where they are equal, everything else where it is the
    same object; none of it may change.
    """
    known: dict[object, tuple[object, T]] = {}

    @wraps(make)
    def kept(*args: P.args, **named: P.kwargs) -> T:
        key = (*map(_same, args), *((name, _same(value)) for name, value in named.items()))
        found = known.get(key)
        if found is None:
            found = (args, named), make(*args, **named)  # with what it was made of, by object
            if len(known) >= MOST_REMEMBERED:
                known.clear()
            known[key] = found
        return found[1]

    return kept


def _same(value: object) -> object:
    return value if isinstance(value, (str, int, float, date, type(None))) else id(value)
