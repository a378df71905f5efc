r"""The date mark: week first, then year; old marks have three digits.

    dot   =  "DOT" { group } date          DOT AB12 CDE 1523: the last group is the date
    date  =  week year                     1523: week 15 of 2023; 158: before 2000

Week 53 exists in the years that ISO 8601 gives one.  Age runs from the Monday of that week.
Source: 49 CFR 574.5, from memory; the calendar is ISO 8601's.
"""

from dataclasses import dataclass
from datetime import date
from typing import Literal

from jentrik.core.sources import CFR_574_5
from jentrik.core.tirecode.tokens import Cursor, Piece, Token

SOURCE = CFR_574_5
DAYS_A_YEAR = 365.2425  # the mean Gregorian year
OLD_NOTE = "Three digits: made before 2000, in an unknown decade. Older than any tire should ride."
MOST_GROUPS = 5


@dataclass(frozen=True, slots=True)
class DateReading:
    """A date mark: week of the year and year; the year of an old mark is None."""

    text: str
    week: int
    year: int | None
    tokens: tuple[Token, ...]
    notes: tuple[str, ...] = ()
    family: Literal["date"] = "date"
    vehicle: None = None

    @property
    def monday(self) -> date | None:
        """The first day of the week of making; None where the year is unknown."""
        return None if self.year is None else date.fromisocalendar(self.year, self.week, 1)

    def age_years(self, on: date) -> float | None:
        """Return the age on a day in years, negative for a mark in the future."""
        return None if self.monday is None else (on - self.monday).days / DAYS_A_YEAR


def weeks_of(year: int) -> int:
    """Return how many weeks the ISO calendar gives a year: 52 or 53."""
    return date(year, 12, 28).isocalendar().week


def week_and_year(digits: str) -> tuple[int, int | None] | None:
    """Return week and year of three or four digits; None where no such week exists."""
    if not digits.isdigit() or len(digits) not in (3, 4):
        return None
    week, year = int(digits[:2]), 2000 + int(digits[2:]) if len(digits) == 4 else None
    last = 53 if year is None else weeks_of(year)
    return (week, year) if 1 <= week <= last else None


def date_of(digits: str) -> DateReading | None:
    """Return the date of three or four digits that stand alone; None where there is no such."""
    found = week_and_year(digits.strip())
    return None if found is None else DateReading(digits.strip(), *found, tokens=())


def read_date(cursor: Cursor) -> DateReading | None:
    """Read a DOT line up to its date, or a date that stands alone."""
    start, first_token = cursor.position, len(cursor.tokens)
    if cursor.peek("word") == "DOT":
        dated = _last_group(cursor)
        if dated is None:
            cursor.want("a date of four digits in the DOT line")
            return None
        cursor.take("the DOT mark opens the maker's code", "DOT line")
        while cursor.index < dated:
            cursor.take("the maker's plant, size or type code; not a tire size", "maker's code")
    figure = cursor.peek("figure")
    found = week_and_year(figure) if figure else None
    if figure is None or found is None:
        cursor.want("a date like 1523: week 15 of 2023")
        return None
    week, year = found
    cursor.take(_means(week, year), f"week {week}")
    end = cursor.pieces[cursor.index - 1].end
    return DateReading(
        text=cursor.text[start:end],
        week=week,
        year=year,
        tokens=tuple(cursor.tokens[first_token:]),
        notes=(OLD_NOTE,) if year is None else (),
    )


def _means(week: int, year: int | None) -> str:
    if year is None:
        return f"made in week {week} of a year before 2000; not a day, a week"
    return f"made in week {week} of {year}: the first pair is the week, not a day"


def _last_group(cursor: Cursor) -> int | None:
    """Return the index of the date among the groups that follow DOT on its line."""
    best, groups, place = None, 0, cursor.index + 1
    previous: Piece = cursor.pieces[cursor.index]
    while place < len(cursor.pieces) and groups <= MOST_GROUPS:
        piece = cursor.pieces[place]
        between = cursor.text[previous.end : piece.start]
        if "\n" in between or piece.kind == "sign":
            break
        if between or place == cursor.index + 1:
            groups += 1
            alone = place + 1 == len(cursor.pieces) or (cursor.pieces[place + 1].start > piece.end)
            if piece.kind == "figure" and alone and week_and_year(piece.value):
                best = place
        previous = piece
        place += 1
    return best
