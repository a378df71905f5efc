"""Reads a spreadsheet saved as CSV: what its columns are called, and its lines with their numbers.

Comma, semicolon or tab part the columns, whichever the head line has most of; the text is UTF-8,
or Windows-1252 as older spreadsheets write it.
"""

import csv
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from jentrik.core.errors import DocumentError
from jentrik.exchange.strict_json import TooLargeError

LARGEST_BYTES, MOST_LINES, MOST_COLUMNS, LONGEST_CELL = 5_000_000, 20_000, 60, 500
_UNIT = re.compile(r"[,(\[/]\s*(mm|cm|m|in|inch|inches|km/h|mph|km|mi|miles)\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class SpreadsheetLine:
    """A line with the number it has in the file."""

    number: int
    cells: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Spreadsheet:
    """The heads of the columns and every line that has something in it."""

    heads: tuple[str, ...]
    lines: tuple[SpreadsheetLine, ...]

    def unit(self, column: int) -> str:
        """Return the unit a head names, as in “Wheelbase, in”; "" where it names none."""
        found = _UNIT.search(self.heads[column])
        return found[1] if found else ""


def read_spreadsheet(raw: bytes) -> Spreadsheet:
    """Return the lines of a CSV file; refuses what is none, with the line."""
    if len(raw) > LARGEST_BYTES:
        raise TooLargeError("A table has at most 5 MB.", expected="a smaller table")
    text = _text(raw)
    first = next((line for line in text.splitlines() if line.strip()), "")
    between = max((";", "\t", ","), key=first.count)
    lines: list[SpreadsheetLine] = []
    reader = csv.reader(text.splitlines(keepends=True), delimiter=between, strict=True)
    try:
        for row in reader:
            cells = tuple(" ".join(cell.split()) for cell in row)
            if any(cells):
                lines.append(SpreadsheetLine(reader.line_num, cells))
            if len(lines) > MOST_LINES or len(cells) > MOST_COLUMNS:
                raise DocumentError(
                    f"A table has at most {MOST_LINES} lines and {MOST_COLUMNS} columns.",
                    expected="a smaller table",
                )
            if any(len(cell) > LONGEST_CELL for cell in cells):
                raise DocumentError(f"Line {reader.line_num} has a cell longer than any of ours.")
    except csv.Error:
        raise DocumentError(
            f"Line {reader.line_num} cannot be read as a table.", expected="a CSV file"
        ) from None
    if len(lines) < 2:
        raise DocumentError(
            "The table has no line below its heads.", expected="heads and at least a line"
        )
    return Spreadsheet(lines[0].cells, tuple(lines[1:]))


def _text(raw: bytes) -> str:
    if b"\x00" in raw:
        raise DocumentError("This is no text.", expected="a spreadsheet saved as CSV")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("cp1252", "replace")


def matched(heads: Iterable[str], names: Mapping[str, Iterable[str]]) -> dict[str, int]:
    """Return which column each field likely is: by a name of it that begins the head."""
    bare = [re.sub(r"[\W_]+", " ", head.casefold()).strip() for head in heads]
    found: dict[str, int] = {}
    for field, called in names.items():
        for name in called:
            places = [
                n for n, head in enumerate(bare) if head == name or head.startswith(f"{name} ")
            ]
            free = [place for place in places if place not in found.values()]
            if free:
                found[field] = free[0]
                break
    return found
