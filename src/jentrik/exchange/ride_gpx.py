"""A ride as a GPX file with its log entries as waypoints, out and in again.

The track is kept thinned, without what a recorder adds about its rider (heart, power, device).  A
waypoint of ours is named in words, with a type (`puncture` or `odometer`) and its day as the
comment; it stands where the ride began, as a log knows days, no hours and no places.  gpxpy reads
and writes the files.
"""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime

import gpxpy.gpx

from jentrik.core.days import read_day
from jentrik.core.errors import DocumentError, OutOfRange
from jentrik.exchange.gpx_track import TRACK, parsed_gpx, read_track

MOST_POINTS, MOST_WAYPOINTS = 5000, 200
PUNCTURE, ODOMETER = "puncture", "odometer"
_END = re.compile(r"Puncture, (front|rear)")
_KM = re.compile(r"Odometer (\d+(?:\.\d+)?) km")


@dataclass(frozen=True, slots=True)
class LogWaypoint:
    """A log entry as a waypoint: its day, its type, its name and its words."""

    on: date
    type: str
    name: str
    words: str = ""

    @property
    def end(self) -> str | None:
        """Which end a puncture was at; None where it says none."""
        found = _END.fullmatch(self.name) if self.type == PUNCTURE else None
        return found[1] if found else None

    @property
    def km(self) -> float | None:
        """What stood on the odometer; None where it says nothing of it."""
        found = _KM.fullmatch(self.name) if self.type == ODOMETER else None
        return float(found[1]) if found else None


def puncture_waypoint(on: date, end: str, what: str, done: str) -> LogWaypoint:
    """Return a puncture as a waypoint."""
    return LogWaypoint(on, PUNCTURE, f"Puncture, {end}", f"{what}; {done}")


def odometer_waypoint(on: date, km: float) -> LogWaypoint:
    """Return a reading of the odometer as a waypoint."""
    return LogWaypoint(on, ODOMETER, f"Odometer {km:g} km")


@dataclass(frozen=True, slots=True)
class RideTrack:
    """Where a ride went: its day, km and seconds under way, log entries, and the track as GPX."""

    on: date
    km: float
    seconds: float
    entries: tuple[LogWaypoint, ...]
    others: int  # waypoints that are no entries of ours
    gpx: str


def read_ride(raw: bytes) -> RideTrack:
    """Return a ride read from a GPX file; refuses what is none, or has no times."""
    fixes = read_track(raw)
    parsed = parsed_gpx(raw)
    day = datetime.fromtimestamp(fixes[0].at_s, UTC).date()
    found = [_entry(waypoint, day) for waypoint in parsed.waypoints[:MOST_WAYPOINTS]]
    entries = tuple(one for one in found if one.end or one.km is not None)
    return RideTrack(
        day,
        round(fixes[-1].along_m / 1000, 3),
        round(fixes[-1].at_s - fixes[0].at_s, 1),
        entries,
        len(parsed.waypoints) - len(entries),
        _thinned(parsed),
    )


def _entry(one: gpxpy.gpx.GPXWaypoint, day: date) -> LogWaypoint:
    try:
        on = read_day(one.comment or "")
    except OutOfRange:
        on = one.time.date() if one.time else day
    return LogWaypoint(on, one.type or "", (one.name or "")[:100], (one.description or "")[:400])


def _thinned(parsed: gpxpy.gpx.GPX) -> str:
    """Return the track alone: places, heights and times, of many points every so many."""
    count = sum(1 for _ in _points(parsed))
    step = -(-count // MOST_POINTS)
    kept = gpxpy.gpx.GPX()
    kept.creator = "Jentrik"
    track = gpxpy.gpx.GPXTrack()
    kept.tracks.append(track)
    for ride in parsed.tracks:
        for segment in ride.segments:
            timed = [point for point in segment.points if point.time is not None]
            part = gpxpy.gpx.GPXTrackSegment()
            for place, one in enumerate(timed):
                if place % step == 0 or place == len(timed) - 1:
                    part.points.append(
                        gpxpy.gpx.GPXTrackPoint(
                            one.latitude,
                            one.longitude,
                            elevation=one.elevation,
                            time=_utc(one.time),
                        )
                    )
            if part.points:
                track.segments.append(part)
    return str(kept.to_xml(version="1.1"))


def _utc(moment: datetime | None) -> datetime | None:
    """Return a moment in UTC, as the standard has it; one without a zone is taken for that."""
    if moment is None or moment.tzinfo is None:
        return moment
    return moment.astimezone(UTC)


def _points(parsed: gpxpy.gpx.GPX) -> Iterator[gpxpy.gpx.GPXTrackPoint]:
    for ride in parsed.tracks:
        for segment in ride.segments:
            yield from segment.points


def ride_gpx(kept: str, name: str, words: str, entries: Iterable[LogWaypoint]) -> str:
    """Return a kept track as a GPX file with a name, words and log entries as waypoints."""
    there = parsed_gpx(kept.encode())
    start = next(_points(there), None)
    if start is None:
        raise DocumentError("The track of this ride has no point.", field=TRACK)
    there.name = there.tracks[0].name = name
    there.description = words or None
    for entry in entries:
        there.waypoints.append(
            gpxpy.gpx.GPXWaypoint(
                start.latitude,
                start.longitude,
                comment=entry.on.isoformat(),
                name=entry.name,
                description=entry.words or None,
                type=entry.type,
            )
        )
    return str(there.to_xml(version="1.1"))
