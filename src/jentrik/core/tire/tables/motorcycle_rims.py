"""Which rims a motorcycle tire is measured on and may go on, in inches as stamped.

Source: the standards' published tables, from memory; the tire maker's own list comes first.  The
same width has other rims at another aspect: width alone decides nothing.  A row with a rim code
holds for that rim alone.
"""

import csv
from dataclasses import dataclass
from importlib.resources import files
from typing import Literal

from jentrik.core.sources import RIM_TABLES
from jentrik.core.units import MM_PER_INCH

SOURCE = RIM_TABLES.at("motorcycle tires, measuring and permitted rims")

Series = Literal["inch", "metric", "letter"]


@dataclass(frozen=True, slots=True)
class RimsInches:
    """The rim a tire is measured on, the narrowest and the widest it may go on, inches."""

    measured_on: float
    least: float
    most: float


def _table() -> dict[tuple[str, str, str, str], RimsInches]:
    lines = (files(__package__) / "motorcycle_rims.csv").read_text(encoding="utf-8").splitlines()
    return {
        (row["series"], row["width"], row["aspect_percent"], row["rim_code"]): RimsInches(
            float(row["measured_on_in"]), float(row["least_in"]), float(row["most_in"])
        )
        for row in csv.DictReader(lines)
    }


RIMS = _table()
STAMPED = sorted(
    {inches for row in RIMS.values() for inches in (row.measured_on, row.least, row.most)}
)
NEAR_MM = 0.5  # a rim typed in whole millimetres is still the stamped one


def rims_of(series: Series, width: str, aspect: str, rim_code: str) -> RimsInches | None:
    """Return the rims of a tire as its mark gives it; None where the tables have no row."""
    return RIMS.get((series, width, aspect, rim_code)) or RIMS.get((series, width, aspect, ""))


def as_stamped(rim_mm: float) -> str:
    """Return a rim's width in mm as it is stamped, in inches: the nearest code, else the figure."""
    inches = rim_mm / MM_PER_INCH
    near = min(STAMPED, key=lambda one: abs(one - inches))
    return f"{near if abs(near - inches) * MM_PER_INCH <= NEAR_MM else inches:.2f}"


def tire_widths(rim_mm: float) -> tuple[float, float] | None:
    """Return the narrowest and widest metric tire that may go on a rim of that width, mm."""
    widths = [
        float(width)
        for (series, width, _, _), row in RIMS.items()
        if series == "metric"
        and row.least * MM_PER_INCH - NEAR_MM <= rim_mm <= row.most * MM_PER_INCH + NEAR_MM
    ]
    return (min(widths), max(widths)) if widths else None


def tires_for(rim_mm: float) -> tuple[list[str], list[str]]:
    """Return the tires measured on a rim of that inner width, and others that may go on it."""
    measured: list[str] = []
    others: list[str] = []
    for (series, width, aspect, code), row in RIMS.items():
        name = f"{width}/{aspect}" if aspect else f"{width}{90 if series == 'letter' else ''}"
        name += f"-{code}" if code else ""
        if not (row.least * MM_PER_INCH - NEAR_MM <= rim_mm <= row.most * MM_PER_INCH + NEAR_MM):
            continue
        on = abs(row.measured_on * MM_PER_INCH - rim_mm) <= NEAR_MM
        (measured if on else others).append(name)
    return measured, others
