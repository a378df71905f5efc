"""A ride as GPX with the shown speeds beside it, against tracks of known speed."""

from datetime import UTC, datetime, timedelta
from typing import Any

import gpxpy.gpx
import pytest

from jentrik.core.errors import DocumentError, OutOfRange
from jentrik.core.figures.track import aligned, paces_of
from jentrik.exchange.gpx_track import LARGEST_TRACK_BYTES, read_shown, read_track

START = datetime(2026, 11, 1, 10, 0, tzinfo=UTC)
METERS_A_DEGREE = 111_194.93  # a mean earth's circumference over 360, along a meridian
STEPS = ((50, 60), (0, 20), (90, 60), (120, 60))  # km/h, seconds


def track(speeds: tuple[Any, ...], *, hdop: int | None = None, jump_at: int | None = None) -> bytes:
    """Return a ride straight north at known speeds, a fix a second, written by the library."""
    ride = gpxpy.gpx.GPXTrackSegment()
    north, second = 54.0, 0
    for kmh, seconds in speeds:
        for _ in range(seconds):
            place = north + (0.01 if jump_at == second else 0)
            ride.points.append(
                gpxpy.gpx.GPXTrackPoint(
                    place, 10.0, time=START + timedelta(seconds=second), horizontal_dilution=hdop
                )
            )
            north += kmh / 3.6 / METERS_A_DEGREE
            second += 1
    whole = gpxpy.gpx.GPX()
    whole.tracks.append(gpxpy.gpx.GPXTrack())
    whole.tracks[0].segments.append(ride)
    return whole.to_xml().encode()


def shown_lines(
    *, slope: float = 1.06, offset: float = 1.5, late: int = 0, mark: str = ";", comma: bool = False
) -> str:
    lines = ["time;shown km/h".replace(";", mark)]
    second = 0
    for kmh, seconds in STEPS:
        for step in range(0, seconds, 4):
            at = second + step - late
            if kmh and at > 0:
                value = f"{kmh * slope + offset:.2f}"
                lines.append(f"{at}{mark}{value.replace('.', ',') if comma else value}")
        second += seconds
    return "\n".join(lines)


def test_known_speeds_come_back_and_stops_are_left_out() -> None:
    result = paces_of(read_track(track(STEPS)))
    assert {round(pace.kmh) for pace in result.paces} == {50, 90, 120}
    assert result.left_out["stops"] > 10


@pytest.mark.parametrize("late", [0, 37])
def test_offset_and_slope_come_back_whatever_the_instruments_clock_said(late: int) -> None:
    paces = paces_of(read_track(track(STEPS))).paces
    shown = read_shown(shown_lines(late=late, mark=";", comma=True))
    assert shown.own_clock
    found = aligned(paces, shown.speeds, own_clock=True)
    assert found.calibration.slope == pytest.approx(1.06, abs=0.004)
    assert found.calibration.offset_kmh == pytest.approx(1.5, abs=0.4)


def test_poor_fixes_and_jumps_are_left_out() -> None:
    assert paces_of(read_track(track(STEPS, hdop=9))).left_out["poor fixes"] == 199
    result = paces_of(read_track(track(((60, 60),), jump_at=30)))
    assert result.left_out["jumps"] >= 1
    assert max(pace.kmh for pace in result.paces) < 70


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "empty"),
        (b"   ", "empty"),
        (b"not xml", "cut off or not a GPX"),
        (track(STEPS)[:4000], "cut off"),
        (b"<html></html>", "GPX|fewer than three"),
        (track(((50, 2),)), "fewer than three"),
        (b"x" * (LARGEST_TRACK_BYTES + 1), "larger than 8 MB"),
        (b'<!DOCTYPE g [<!ENTITY a "aaaa">]><gpx>&a;</gpx>', "entities"),
        (b'<!DOCTYPE g SYSTEM "file:///etc/passwd"><gpx/>', "document type"),
        (b"\xff\xfe\x00garbage", "cut off"),
    ],
)
def test_what_is_no_track_is_refused_in_a_sentence(raw: bytes, said: str) -> None:
    with pytest.raises(DocumentError, match=said) as refused:
        read_track(raw)
    assert refused.value.field == "track"


def test_times_that_run_backwards_are_refused() -> None:
    turned = track(STEPS).replace(b"T10:00:05Z", b"T09:59:05Z")
    with pytest.raises(OutOfRange, match="run backwards"):
        paces_of(read_track(turned))


@pytest.mark.parametrize("mark", [";", ",", "\t", " "])
def test_lists_of_other_countries_say_the_same(mark: str) -> None:
    result = read_shown(shown_lines(mark=mark, comma=mark in ";\t"))
    assert result.speeds[0].kmh == pytest.approx(54.5)
    assert len(result.speeds) == 44


def test_miles_are_turned_and_times_of_the_day_are_read() -> None:
    result = read_shown("12:00:05, 40 mph\n12:00:09, 50 mph\n12:01:00, 60 mph")
    assert [round(speed.kmh, 2) for speed in result.speeds] == [64.37, 80.47, 96.56]
    assert result.speeds[2].at_s - result.speeds[0].at_s == 55
    dated = read_shown(
        "2026-11-01T10:00:05+00:00,40\n2026-11-01T10:00:09+00:00,50\n2026-11-01T10:00:19+00:00,60"
    )
    assert not dated.own_clock
    assert dated.speeds[0].at_s == (START + timedelta(seconds=5)).timestamp()


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "Fewer than three"),
        ("1;50\n2;60", "Fewer than three"),
        ("1;50 km/h\n2;60 mph\n3;70", "another unit"),
        ("1;50\n2;fast\n3;70", "Line 2"),
        ("5;50\n2;60\n3;70", "run backwards"),
        ("1;50\nnoon;60\n3;70", "Line 2"),
        ("2026-11-01T10:00:00+00:00;50\n2;60\n3;70", "others do not"),
    ],
)
def test_a_list_that_cannot_be_read_names_the_line(text: str, said: str) -> None:
    with pytest.raises(DocumentError, match=said) as refused:
        read_shown(text)
    assert refused.value.field == "shown"


def test_a_track_that_never_meets_the_list_is_refused() -> None:
    paces = paces_of(read_track(track(STEPS))).paces
    dated = read_shown(
        "2026-12-01T10:00:05+00:00,40\n2026-12-01T10:00:09+00:00,50\n2026-12-01T10:00:19+00:00,60"
    )
    with pytest.raises(OutOfRange, match="do not meet in time"):
        aligned(paces, dated.speeds, own_clock=False)
    with pytest.raises(OutOfRange, match="no steady speed"):
        aligned((), dated.speeds, own_clock=False)
