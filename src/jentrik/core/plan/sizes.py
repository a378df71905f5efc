"""The sizes a search tries: standard designations, or codes that were given."""

from collections.abc import Iterable, Mapping
from functools import lru_cache

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.machine.declared import Kind
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.standard_sizes import MARKS

MOST_CODES = 2000


@lru_cache(maxsize=2)
def standard_sizes(kind: Kind) -> tuple[Reading, ...]:
    """Return the standard designations of a kind of machine whose diameter is known."""
    read = (read_code(mark) for mark in MARKS)
    return tuple(one for one in read if one.vehicle == kind and one.overall_diameter_mm is not None)


def sizes_of(codes: Iterable[str]) -> tuple[Reading, ...]:
    """Return sizes as given, each once; refuses a code that cannot be read or has no diameter."""
    found: dict[str, Reading] = {}
    for place, code in enumerate(codes):
        with blamed_on(f"[{place}]"):
            if place >= MOST_CODES:
                raise OutOfRange(f"At most {MOST_CODES} codes are tried.", expected="fewer codes")
            one = read_code(code)
            if one.overall_diameter_mm is None:
                raise OutOfRange(
                    f"“{code[:40]}” names no width; add it, like 700x38C.",
                    expected="a tire code with a width",
                )
            found.setdefault(one.text, one)
    return tuple(found.values())


def prices_of(priced: Mapping[str, float | None]) -> dict[str, float]:
    """Return the price of each size that has one, by its code as read; refuses what is no code."""
    return {read_code(code).text: price for code, price in priced.items() if price is not None}
