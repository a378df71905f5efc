"""What is due as an iCalendar file, one all-day event each, for any calendar to follow.

Written with the icalendar library, which knows the standard's folding and escaping.
Source: RFC 5545.
"""

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime

from icalendar import Calendar, Event

from jentrik.core.amounts import in_plain
from jentrik.core.days import days_after
from jentrik.core.work.due import Due, Revision


def due_calendar(
    due: Iterable[Due], revisions: Mapping[int, Revision], *, now: datetime, shop: str
) -> bytes:
    """Return the calendar of a shop, by its mark: what is due in two shops are two events.

    An event keeps its identity while what is due stays the same, and is stamped with the last
    change of its machine; without one, with `now`.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Jentrik//What is due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "What is due")
    for one in due:
        event = Event()
        event.add("uid", f"{one.key}@{shop}.jentrik.invalid")
        revised = revisions.get(one.machine_id, Revision(0, now))
        event.add("dtstamp", revised.at.astimezone(UTC))
        event.add("last-modified", revised.at.astimezone(UTC))
        event.add("sequence", revised.times)
        event.add("dtstart", one.on)
        event.add("dtend", days_after(one.on, 1))
        event.add("summary", in_plain(f"{one.machine}: {one.what}"))
        event.add("description", in_plain(one.why))
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
