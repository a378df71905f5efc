"""Days: as they are typed, and counted on from one another within the calendar."""

from datetime import date, datetime, time

from jentrik.core.errors import OutOfRange


def read_day(text: str) -> date:
    """Return the day of a text like 2026-11-30; refuses anything else."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        raise OutOfRange(
            f"“{text.strip()[:20]}” is not a day; write it like 2026-11-30.", expected="a day"
        ) from None


def read_time(text: str) -> str:
    """Return an hour like 9:00 as 09:00, "" where none is said; refuses anything else."""
    if not text.strip():
        return ""
    try:
        hour, _, minute = text.strip().replace(".", ":").partition(":")
        return time(int(hour), int(minute or 0)).isoformat("minutes")
    except ValueError:
        raise OutOfRange(
            f"“{text.strip()[:20]}” is not an hour; write it like 16:00.", expected="an hour"
        ) from None


def with_offset(moment: datetime | str) -> str:
    """Return a moment kept in this place's time as outside programs read it, with its offset."""
    kept = datetime.fromisoformat(moment) if isinstance(moment, str) else moment
    return (kept if kept.tzinfo else kept.astimezone()).isoformat()


def kept_moment(said: str) -> str:
    """Return a moment as it is kept, in this place's time; one without an offset is of here.

    Refuses what is no moment.
    """
    try:
        moment = datetime.fromisoformat(said.strip())
    except ValueError:
        raise OutOfRange(
            f"“{said.strip()[:30]}” is no moment; write it like 2026-11-26T09:00:00+01:00.",
            expected="a day, or a moment with its offset",
        ) from None
    return (moment.astimezone().replace(tzinfo=None) if moment.tzinfo else moment).isoformat()


def days_after(day: date, days: float) -> date:
    """Return the day so many days after another, or before; the calendar's ends stop it."""
    whole = round(min(max(days, date.min.toordinal() - date.max.toordinal()), date.max.toordinal()))
    there = min(max(day.toordinal() + whole, date.min.toordinal()), date.max.toordinal())
    return date.fromordinal(there)
