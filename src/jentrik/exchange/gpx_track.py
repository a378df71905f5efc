"""A ride as a GPX file, and the speeds an instrument showed as CSV beside it.

The GPX is read with gpxpy, once defusedxml has seen that it holds no document type and no
entity.  The CSV may come from another country: semicolons or tabs between, commas in figures.
"""

import csv
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

import gpxpy
import gpxpy.gpx
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from jentrik.core.errors import DocumentError
from jentrik.core.figures.geodesy import way_m
from jentrik.core.figures.track import Fix, ShownSpeed

LARGEST_TRACK_BYTES = 8_000_000
MOST_FIXES = 100_000
MOST_SHOWN = 20_000
_KMH = {"km/h": 1.0, "kmh": 1.0, "kph": 1.0, "mph": 1.609344, "mi/h": 1.609344}
_CLOCK = re.compile(r"(?:(\d{1,2}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)", re.ASCII)
TRACK, SHOWN = "track", "shown"


def read_track(raw: bytes) -> tuple[Fix, ...]:
    """Return the fixes of a GPX file, times in seconds since 1970.

    Refuses what is not GPX, is cut off, holds entities, has no times, or is too large.
    """
    if len(raw) > LARGEST_TRACK_BYTES:
        raise _refused(
            f"The track is larger than {LARGEST_TRACK_BYTES // 1_000_000} MB.", "one ride"
        )
    if not raw.strip():
        raise _refused("The track is empty.", "a GPX file")
    track = parsed_gpx(raw)
    try:
        fixes = tuple(_fixes(track))
    except (ValueError, OverflowError) as error:
        if isinstance(error, DocumentError):
            raise
        raise _refused(
            "A fix of the track has a time or a place that cannot be.",
            "times since 1970 and places on Earth",
        ) from None
    if len(fixes) < 3:
        raise _refused("The track has fewer than three fixes with a time.", "a recorded ride")
    return fixes


def parsed_gpx(raw: bytes) -> gpxpy.gpx.GPX:
    """Return a GPX file as gpxpy reads it; refuses what is not GPX and what holds entities."""
    try:
        fromstring(raw, forbid_dtd=True)
        return gpxpy.parse(raw)
    except DefusedXmlException:
        raise _refused(
            "The track holds a document type or entities and is not read.", "a plain GPX file"
        ) from None
    except (ParseError, gpxpy.gpx.GPXException, ValueError, LookupError):
        raise _refused(
            "The track cannot be read: it is cut off or not a GPX file.", "a whole GPX file"
        ) from None


def _fixes(track: gpxpy.gpx.GPX) -> Iterator[Fix]:
    along, last, count = 0.0, None, 0
    for ride in track.tracks:
        for segment in ride.segments:
            last = None  # the way between two segments was not recorded
            for point in segment.points:
                if point.time is None:
                    continue
                count += 1
                if count > MOST_FIXES:
                    raise _refused(f"The track has more than {MOST_FIXES} fixes.", "one ride")
                if not (abs(point.latitude) <= 90 and abs(point.longitude) <= 180):
                    raise ValueError
                if last is not None:
                    along += way_m(
                        latitude_deg=last.latitude,
                        longitude_deg=last.longitude,
                        to_latitude_deg=point.latitude,
                        to_longitude_deg=point.longitude,
                    )
                last = point
                yield Fix(point.time.timestamp(), along, point.horizontal_dilution)


@dataclass(frozen=True, slots=True)
class ShownSpeeds:
    """What an instrument showed, and whether its clock is its own rather than the day's."""

    speeds: tuple[ShownSpeed, ...]
    own_clock: bool


def read_shown(text: str, *, unit: str = "km/h") -> ShownSpeeds:
    """Return the speeds of a CSV or of typed lines: a time, then what was shown.

    Times carry a date and a zone, or are a clock of their own: seconds, minutes:seconds, the
    time of day.  One unit for all, `unit` unless a head line or a row says another.  Refuses
    mixed units and rows that cannot be read.
    """
    rows = [row for row in _rows(text) if any(cell.strip() for cell in row)]
    factor, named = _KMH[unit], None
    speeds: list[ShownSpeed] = []
    dated: set[bool] = set()
    for number, row in enumerate(rows, start=1):
        cells = [cell.strip() for cell in row if cell.strip()]
        said = _unit_of(cells)
        if said is not None:
            if named is not None and said != named:
                raise _shown_refused(number, "names another unit than the rows before it")
            named, factor = said, _KMH[said]
        figures = [cell for cell in cells if cell.casefold() not in _KMH]
        if len(figures) < 2 or not re.search(r"\d", figures[0]):
            if number == 1:
                continue  # the head line
            raise _shown_refused(number, "has no time and speed")
        at, has_date = _time_of(figures[0], number)
        dated.add(has_date)
        speeds.append(ShownSpeed(at, _figure(figures[1], number) * factor))
        if len(speeds) > MOST_SHOWN:
            raise _shown_refused(number, f"is beyond {MOST_SHOWN} rows")
    return _ordered(speeds, dated)


def _ordered(speeds: list[ShownSpeed], dated: set[bool]) -> ShownSpeeds:
    """Return the speeds read; refuses too few, two kinds of time, and times that run backwards."""
    if len(speeds) < 3:
        raise DocumentError(
            "Fewer than three shown speeds stand there.",
            field=SHOWN,
            expected="lines of time and shown speed",
        )
    if len(dated) > 1:
        raise DocumentError(
            "Some times carry a date and a zone, others do not.",
            field=SHOWN,
            expected="one kind of time in all lines",
        )
    if any(b.at_s <= a.at_s for a, b in pairwise(speeds)):
        raise DocumentError(
            "The times of the shown speeds run backwards.",
            field=SHOWN,
            expected="lines in the order they were taken",
        )
    return ShownSpeeds(tuple(speeds), own_clock=not dated.pop())


def _rows(text: str) -> list[list[str]]:
    first = next((line for line in text.splitlines() if line.strip()), "")
    between = next((mark for mark in (";", "\t") if mark in first), ",")
    if between == "," and "," not in first:
        return [line.split() for line in text.splitlines()]
    try:
        return list(csv.reader(text.splitlines(), delimiter=between))
    except csv.Error:
        raise DocumentError(
            "The shown speeds cannot be read as a table.",
            field=SHOWN,
            expected="lines of time and shown speed",
        ) from None


def _unit_of(cells: list[str]) -> str | None:
    """Return the unit a row names, in a cell of its own or within its head; None without one."""
    for cell in cells:
        for name in _KMH:
            if re.search(rf"(?<![a-z]){re.escape(name)}(?![a-z])", cell.casefold()):
                return "mph" if _KMH[name] > 1 else "km/h"
    return None


def _time_of(cell: str, number: int) -> tuple[float, bool]:
    """Return a time in seconds, and whether it carries a date."""
    clock = _CLOCK.fullmatch(cell)
    if clock:
        hours, minutes, seconds = clock.groups()
        at = int(hours or 0) * 3600 + int(minutes) * 60 + float(seconds.replace(",", "."))
        return at, False
    if re.fullmatch(r"\d{1,7}(?:[.,]\d+)?", cell, re.ASCII):
        return float(cell.replace(",", ".")), False
    try:
        moment = datetime.fromisoformat(cell)
    except ValueError:
        raise _shown_refused(number, f"has no time that can be read: “{cell[:30]}”") from None
    try:
        return moment.timestamp(), moment.tzinfo is not None
    except (ValueError, OverflowError):
        raise _shown_refused(number, f"has no time that can be: “{cell[:30]}”") from None


def _figure(cell: str, number: int) -> float:
    bare = re.sub(r"\s*(km/h|kmh|kph|mph|mi/h)$", "", cell.casefold())
    if not re.fullmatch(r"\d{1,3}(?:[.,]\d+)?", bare, re.ASCII):
        raise _shown_refused(number, f"has no speed that can be read: “{cell[:30]}”")
    return float(bare.replace(",", "."))


def _refused(said: str, expected: str) -> DocumentError:
    return DocumentError(said, field=TRACK, expected=expected)


def _shown_refused(number: int, said: str) -> DocumentError:
    return DocumentError(
        f"Line {number} of the shown speeds {said}.",
        field=SHOWN,
        expected="time and speed, like 12:31:05; 63",
    )
