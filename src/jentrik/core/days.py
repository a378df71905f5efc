"""A day as somebody types it."""

from datetime import date

from jentrik.core.errors import OutOfRange


def read_day(text: str) -> date:
    """Return the day of a text like 2026-11-30; refuses anything else."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        raise OutOfRange(
            f"“{text.strip()[:20]}” is not a day; write it like 2026-11-30.", expected="a day"
        ) from None
