r"""The date mark: week first, then year; old marks have three digits.

    dot   =  "DOT" { group } date          DOT AB12 CDE 1523, DOTAB12CDE1523: it ends in its date
    date  =  week year                     1523: week 15 of 2023; 158: before 2000

Weeks run Sunday to Saturday and week 01 is the year's first full one, so a year has as many weeks
as Sundays: 53 in 2000, 2006, 2012, 2017 and 2023.  These are not the weeks of ISO 8601.  Age runs
from the Sunday of the week.  Source: 49 CFR 574.5, from memory.
"""

import re
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import takewhile
from typing import Literal

from jentrik.core.sources import CFR_574_5
from jentrik.core.tire.tokens import Cursor, Token

SOURCE = CFR_574_5
DAYS_A_YEAR = 365.2425  # the mean Gregorian year
OLD_NOTE = "Three digits: made before 2000, in an unknown decade. Older than any tire should ride."
_ISO_SUNDAY = 7

_GROUPS = re.compile(
    r"DOT[ \t]?(?P<groups>(?:[ \t]*[A-Z0-9]+(?:-[A-Z0-9]+)*(?![^\s,;)\]])){0,6})",
    re.IGNORECASE | re.ASCII,
)
# An approval mark and its number, over a line's end too: E4 75R-0001424, E11 75R-00 0424, 30R-0021.
_NUMBER = r"[0-9]{2}\s+[0-9]{4,6}(?![0-9A-Z/.,])|[0-9]{2,8}(?![0-9A-Z/.,])"
_SERIES = r"[0-9]{2,3}R(?:[ \t]?-[ \t]?|(?![0-9A-Z])(?=\s*[0-9]{4,8}(?![0-9A-Z/.,])))"
APPROVAL = re.compile(
    rf"(?<![0-9A-Z])(?:E[ \t]?[0-9]{{1,2}}(?![0-9A-Z/.,-])(?:\s+{_SERIES}(?:\s*(?:{_NUMBER}))?"
    rf"|\s+[0-9]{{4,8}}(?![0-9A-Z/.,-])|\s+[0-9]{{2}}\s+[0-9]{{4,6}}(?![0-9A-Z/.,-]))?"
    rf"|[0-9]{{2,3}}R[ \t]?-[ \t]?(?:{_NUMBER})|[0-9]{{2,3}}R\s+[0-9]{{5,8}}(?![0-9A-Z/.,-]))",
    re.IGNORECASE | re.ASCII,
)
_RUN = re.compile(r"[A-Z0-9-]+", re.IGNORECASE | re.ASCII)
# A group of a DOT mark: figures and letters mixed, or a few letters; no word, no load and speed.
_CODE = re.compile(r"(?=[A-Z]*[0-9])(?=[0-9]*[A-Z])[A-Z0-9]{2,4}|[A-Z]{2,4}", re.IGNORECASE)
_ENDS = frozenset({"MAX", "LOAD", "TL", "TT", "TUBE", "TUBELESS", "FRONT", "REAR", "M", "MADE"})
_SERVICE = re.compile(r"[0-9]{2,3}[A-Y]", re.IGNORECASE)


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
    def first_day(self) -> date | None:
        """The Sunday the week of making began on; None where the year is unknown."""
        return None if self.year is None else first_day_of(self.week, self.year)

    def age_years(self, on: date) -> float | None:
        """Return the age on a day in years, negative for a mark in the future."""
        return None if self.first_day is None else (on - self.first_day).days / DAYS_A_YEAR


def first_day_of(week: int, year: int) -> date:
    """Return the Sunday on which a week of the date mark begins."""
    new_year = date(year, 1, 1)
    first_sunday = new_year + timedelta(days=_ISO_SUNDAY - new_year.isoweekday())
    return first_sunday + timedelta(weeks=week - 1)


def weeks_of(year: int) -> int:
    """Return how many weeks a year has in date marks: as many as Sundays, 52 or 53."""
    return 53 if first_day_of(53, year).year == year else 52


_WEEK_53 = re.compile(r"(?<![0-9])53(?P<year>[0-9]{2})(?![0-9])", re.ASCII)


def doubted_week(line: str) -> str | None:
    """Return what speaks for a week 53 that the regulation's year has not, and against it.

    None where a line names no such week.  Source: ISO 8601, whose years have other weeks.
    """
    found = _WEEK_53.search(line)
    if found is None:
        return None
    year = 2000 + int(found["year"])
    if weeks_of(year) == 53 or date(year, 12, 28).isocalendar().week != 53:
        return None
    return (
        f"Week 53 of {year} is in doubt: {year} has 52 weeks by the regulation, 53 by ISO 8601. "
        f"Read the mark again; if it says 53, the tire was made about the end of {year}."
    )


def week_and_year(digits: str) -> tuple[int, int | None] | None:
    """Return week and year of three or four digits; None where no such week exists."""
    if not (digits.isascii() and digits.isdigit()) or len(digits) not in (3, 4):
        return None
    week, year = int(digits[:2]), 2000 + int(digits[2:]) if len(digits) == 4 else None
    last = 53 if year is None else weeks_of(year)
    return (week, year) if 1 <= week <= last else None


def date_of(digits: str) -> DateReading | None:
    """Return the date of three or four digits that stand alone; None where there is no such."""
    found = week_and_year(digits.strip())
    return None if found is None else DateReading(digits.strip(), *found, tokens=())


def week_in_words(week: int, year: int | None) -> str:
    """Return a date mark's week and year, and the day that week began on."""
    if year is None:
        return f"week {week} of a year before 2000"
    began = first_day_of(week, year)
    return f"week {week} of {year}, from Sunday {began.day} {began:%B %Y}"


def read_dot(cursor: Cursor) -> DateReading | None:
    """Read a DOT mark that ends in its date; None where none of its groups is one."""
    line = cursor.line()
    approval = next((mark for mark in APPROVAL.finditer(line) if len(mark[0]) > _LONGEST_E), None)
    line = line[: approval.start()] if approval else line
    found = _GROUPS.match(line)
    if found is None:
        return None
    runs = list(takewhile(lambda run: run[0].upper() not in _ENDS, _RUN.finditer(found[0])))
    runs = [run for run in runs if run[0].upper() != "DOT"]
    for run in reversed(runs):
        digits = run[0] if run[0].isdigit() else run[0][-4:]
        old = len(digits) == 3 and run.end() == len(line.rstrip())
        if (len(digits) == 4 or old) and week_and_year(digits) is not None:
            return _dated(cursor, found[0], runs, run, digits)
    return None


_LONGEST_E = 4  # characters: E 11 alone may be a plant's code and ends no DOT mark


def _dated(
    cursor: Cursor, mark: str, runs: list[re.Match[str]], last: re.Match[str], digits: str
) -> DateReading:
    """Take the mark up to its date."""
    line_start, first_token = cursor.position, len(cursor.tokens)
    date_start = last.end() - len(digits)
    if mark[3:4].isspace():
        cursor.take_text(3, "the DOT mark opens the maker's code", "DOT line")
    code = "the maker's plant, size or type code; not a tire size"
    for run in runs:
        end = min(run.end(), date_start)
        if run.start() < end and run.start() <= date_start:
            cursor.take_text(end - run.start(), code, "maker's code", at=line_start + run.start())
    found = week_and_year(digits)
    assert found is not None
    _take_date(cursor, found, len(digits), at=line_start + date_start)
    return DateReading(
        text=cursor.text[line_start : line_start + last.end()],
        week=found[0],
        year=found[1],
        tokens=tuple(cursor.tokens[first_token:]),
        notes=(OLD_NOTE,) if found[1] is None else (),
    )


def read_date(cursor: Cursor) -> DateReading | None:
    """Read a date that stands alone on its line."""
    figure = cursor.peek("figure")
    found = week_and_year(figure) if figure else None
    if figure is None or found is None:
        return None
    first_token = len(cursor.tokens)
    _take_date(cursor, found, len(figure), at=cursor.position)
    return DateReading(
        text=figure,
        week=found[0],
        year=found[1],
        tokens=tuple(cursor.tokens[first_token:]),
        notes=(OLD_NOTE,) if found[1] is None else (),
    )


def _take_date(cursor: Cursor, found: tuple[int, int | None], length: int, *, at: int) -> None:
    means = f"made in {week_in_words(*found)}: the first pair is the week, not a day"
    cursor.take_text(length, means, f"week {found[0]}", at=at)


def undated_length(line: str) -> int:
    """Return how many characters of a line a DOT mark without its date takes."""
    end = len("DOT")
    for run in _RUN.finditer(line, end):
        between = line[end : run.start()]
        if between.strip(" \t") or not _CODE.fullmatch(run[0]) or _SERVICE.fullmatch(run[0]):
            break
        end = run.end()
    return end
