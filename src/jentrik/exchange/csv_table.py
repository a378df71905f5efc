"""A table as CSV for a spreadsheet: UTF-8, units in the headings, no text that runs as a formula.

With a decimal comma the columns are parted by semicolons, as spreadsheets there expect.
Source: RFC 4180; a leading apostrophe keeps a text from being a formula (common practice).
"""

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from jentrik.core.amounts import in_plain

Cell = str | float | int | bool | date | None
Decimals = Literal["point", "comma"]
_RUNS = ("=", "+", "-", "@", "\t", "\r", "\n")


@dataclass(frozen=True, slots=True)
class CsvTable:
    """A table: its name, its headings, each with its unit, and its rows."""

    name: str
    heads: Sequence[str]
    rows: Iterable[Sequence[Cell]]


def as_csv(table: CsvTable, decimals: Decimals = "point", *, marked: bool = False) -> str:
    """Return a table as the text of a CSV file.

    `marked` with a byte-order mark, by which spreadsheets know UTF-8.
    """
    file = io.StringIO(newline="")
    if marked:
        file.write("\ufeff")
    written = csv.writer(file, delimiter="," if decimals == "point" else ";")
    written.writerow(table.heads)
    for row in table.rows:
        written.writerow([_said(cell, decimals) for cell in row])
    return file.getvalue()


def _said(cell: Cell, decimals: Decimals) -> str:
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, int | float):
        said = f"{cell:.10g}"
        return said if decimals == "point" else said.replace(".", ",")
    if isinstance(cell, date):
        return cell.isoformat()
    text = in_plain(cell)
    return f"'{text}" if text.startswith(_RUNS) else text


def figure(text: str) -> Cell:
    """Return a figure as a page shows it as a number again; a dash is nothing, a word itself."""
    bare = text.replace("\u2212", "-").replace("\u2009", "")
    if bare in ("", "–"):
        return None
    try:
        return float(bare)
    except ValueError:
        return text
