"""The calendar file against RFC 5545, by reading its bytes and by the library's own reader."""

from datetime import UTC, date, datetime, timedelta
from typing import Any

import icalendar

from jentrik.core.work.due import Due, Revision
from jentrik.exchange.calendar import due_calendar

NOW = datetime(2026, 11, 25, 9, 0, tzinfo=UTC)
DUE = [
    Due(
        "look-6-rear",
        date(2026, 12, 24),
        "look at the rear tire",
        "Last look; long ago, too.",
        6,
        "Breakwater, twin",
    ),
    Due(
        "age-6-front",
        date(2024, 2, 29),
        "front tire 10 years old",
        "This shop replaces by years, and says so in a sentence that is longer than a line of the "
        "file may be: seventy-five octets — ö, ä and ü count twice.",
        6,
        "Möwe",
    ),
]
REVISIONS = {6: Revision(14, datetime(2026, 11, 20, 8, 30, tzinfo=UTC))}


def events() -> Any:
    return icalendar.Calendar.from_ical(
        due_calendar(DUE, REVISIONS, now=NOW, shop="0a1b2c3d")
    ).walk("VEVENT")


def test_lines_are_folded_at_75_octets_and_end_in_both_marks() -> None:
    raw = due_calendar(DUE, REVISIONS, now=NOW, shop="0a1b2c3d")
    assert raw.endswith(b"END:VCALENDAR\r\n")
    lines = raw.split(b"\r\n")
    assert b"\n" not in b"".join(lines)
    assert max(len(line) for line in lines) <= 75
    assert b"VERSION:2.0" in lines


def test_commas_and_semicolons_come_back_as_they_were() -> None:
    first, second = events()
    assert str(first["summary"]) == "Breakwater, twin: look at the rear tire"
    assert str(first["description"]) == "Last look; long ago, too."
    assert str(second["description"]) == DUE[1].why


def test_an_event_is_a_whole_day_and_keeps_its_identity() -> None:
    first, second = events()
    assert (first.decoded("dtstart"), first.decoded("dtend")) == (
        date(2026, 12, 24),
        date(2026, 12, 25),
    )
    assert second.decoded("dtend") == date(2024, 3, 1)  # a leap day
    later = due_calendar(DUE, REVISIONS, now=NOW + timedelta(days=3), shop="0a1b2c3d")
    again = icalendar.Calendar.from_ical(later).walk("VEVENT")
    assert [one["uid"] for one in again] == [event["uid"] for event in events()]
    assert {str(one["sequence"]) for one in again} == {"14"}
    assert {one.decoded("dtstamp") for one in again} == {REVISIONS[6].at}  # not when it was asked
    assert {one.decoded("last-modified") for one in again} == {REVISIONS[6].at}
    other = icalendar.Calendar.from_ical(due_calendar(DUE, REVISIONS, now=NOW, shop="4e5f6071"))
    assert not {one["uid"] for one in other.walk("VEVENT")} & {one["uid"] for one in again}


def test_nothing_due_is_still_a_calendar() -> None:
    empty = icalendar.Calendar.from_ical(due_calendar([], {}, now=NOW, shop="0a1b2c3d"))
    assert empty.walk("VEVENT") == []
    assert str(empty["version"]) == "2.0"
