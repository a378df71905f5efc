"""A ride as GPX: what is kept of a track, and the log's entries as waypoints there and back."""

from datetime import UTC, date, datetime, timedelta

import gpxpy
import gpxpy.gpx
import pytest

from jentrik.core.errors import DocumentError
from jentrik.exchange.ride_gpx import (
    MOST_POINTS,
    odometer_waypoint,
    puncture_waypoint,
    read_ride,
    ride_gpx,
)

START = datetime(2026, 11, 20, 9, tzinfo=UTC)
ENTRIES = [
    puncture_waypoint(date(2026, 11, 20), "rear", "glass & flint", "new tube"),
    odometer_waypoint(date(2026, 11, 20), 12400.5),
]


def recorded(points: int = 100, *, waypoints: int = 0) -> bytes:
    """Return a ride due north as a recorder writes it, a point a second, 10 m apart."""
    gpx, track, part = gpxpy.gpx.GPX(), gpxpy.gpx.GPXTrack(), gpxpy.gpx.GPXTrackSegment()
    gpx.tracks.append(track)
    track.segments.append(part)
    for place in range(points):
        # By hand: a minute of latitude is 1852 m nearly, so 10 m are 10 / 111120 of a degree.
        at = START + timedelta(seconds=place)
        part.points.append(gpxpy.gpx.GPXTrackPoint(54 + place * 10 / 111_120, 10.0, time=at))
    for place in range(waypoints):
        gpx.waypoints.append(gpxpy.gpx.GPXWaypoint(54, 10, name=f"Café {place}"))
    return gpx.to_xml().encode()


def test_a_ride_has_its_day_length_and_time() -> None:
    ride = read_ride(recorded(361))
    assert (ride.on, ride.seconds) == (date(2026, 11, 20), 360)
    assert ride.km == pytest.approx(3.6, rel=0.005)  # 360 times 10 m; the minute is no exact 1852


def test_log_entries_go_out_as_waypoints_and_come_in_again() -> None:
    kept = read_ride(recorded()).gpx
    text = ride_gpx(kept, "Ridge hardtail, 2026-11-20", "calm", ENTRIES)
    other = gpxpy.parse(text)
    assert [(waypoint.type, waypoint.name) for waypoint in other.waypoints] == [
        ("puncture", "Puncture, rear"),
        ("odometer", "Odometer 12400.5 km"),
    ]
    assert other.waypoints[0].description == "glass & flint; new tube"
    again = read_ride(text.encode())
    assert again.entries == tuple(ENTRIES)
    assert (again.entries[0].end, again.entries[1].km, again.others) == ("rear", 12400.5, 0)
    assert again.gpx == kept


def test_times_go_out_in_utc_and_a_day_of_the_log_has_no_hour() -> None:
    there = recorded().replace(b"2026-11-20T09:", b"2026-11-20T11:").replace(b"Z</", b"+02:00</")
    assert b"+02:00" in there
    ride = read_ride(there)
    text = ride_gpx(ride.gpx, "Quay", "", ENTRIES)
    other = gpxpy.parse(text)
    assert other.tracks[0].segments[0].points[0].time == START
    assert "+02:00" not in text
    assert all(waypoint.time is None for waypoint in other.waypoints)
    assert [one.on for one in read_ride(text.encode()).entries] == [one.on for one in ENTRIES]


def test_waypoints_of_another_program_are_no_entries() -> None:
    ride = read_ride(recorded(waypoints=3))
    assert (ride.entries, ride.others) == ((), 3)


def test_a_long_ride_is_kept_with_fewer_points_from_start_to_end() -> None:
    ride = read_ride(recorded(20_001))
    points = list(gpxpy.parse(ride.gpx).walk(only_points=True))
    assert len(points) <= MOST_POINTS + 1
    assert (points[0].time, points[-1].time) == (START, START + timedelta(seconds=20_000))


def test_what_a_recorder_adds_of_its_rider_is_not_kept() -> None:
    raw = recorded().decode().replace("</trkpt>", "<extensions><hr>171</hr></extensions></trkpt>")
    assert "171" not in read_ride(raw.encode()).gpx


@pytest.mark.parametrize(
    "raw", [b"", b"no gpx", recorded()[:300], b'<!DOCTYPE x [<!ENTITY a "b">]><gpx>&a;</gpx>']
)
def test_what_is_no_ride_is_refused(raw: bytes) -> None:
    with pytest.raises(DocumentError):
        read_ride(raw)
