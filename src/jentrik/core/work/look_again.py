"""What is looked at again once the work has run in, and when it falls due.

Spokes, bolts, chain, rotor bolts, tire seat and pressure settle on the first rides: after 100 km,
or the first two rides of a bicycle, and at the latest after 500 km.  Source: common practice.
"""

from datetime import date

from jentrik.core.days import days_after

PART, WANTED = "Look again", "Look again after the first rides"
FIRST_KM, LAST_KM, RIDES = 100.0, 500.0, 2
USUAL_DAYS, SOON_DAYS = 14, 3  # where no one knows the machine's pace; the soonest it is set


def in_words(day: date | None) -> str:
    """Return when and what is looked at again, as a customer reads it."""
    when = f"On {day:%d %b %Y}, or after" if day else "After"
    return (
        f"{when} {FIRST_KM:.0f} to {LAST_KM:.0f} km or the first {RIDES} rides: spokes, axle and "
        "clamp bolts, chain, rotor bolts, seat of the tires, pressures."
    )


def look_again_on(fitted: date, pace_km_a_day: float | None) -> date:
    """Return the day the look is due: by the machine's pace where its log knows one."""
    if not pace_km_a_day:
        return days_after(fitted, USUAL_DAYS)
    days = FIRST_KM / pace_km_a_day
    return days_after(fitted, min(max(days, SOON_DAYS), LAST_KM / FIRST_KM * USUAL_DAYS))


def is_due(km: float | None, ridden: int) -> bool:
    """Whether what was ridden since brings it forward to now."""
    return ridden >= RIDES or (km is not None and km >= FIRST_KM)
