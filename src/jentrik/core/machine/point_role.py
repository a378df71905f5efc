"""What a named point of a machine is: the saddle, the bar, the feet, the load, the stand-over.

A point carries its role; its name is only shown.  Where a point comes without one, in a plan
document or as someone adds it, its name says it once, at the door.
"""

import re
from enum import StrEnum


class PointRole(StrEnum):
    """What a point is to rider and load."""

    SADDLE = "saddle"
    BAR = "bar"
    FEET = "feet"
    LOAD = "load"
    STAND_OVER = "stand-over"
    OTHER = "other"


_NAMES = (
    (PointRole.SADDLE, re.compile(r"(saddle|seat)s?( top| height)?")),
    (PointRole.BAR, re.compile(r"(handle)?bars?( ends?)?|grips?")),
    (PointRole.LOAD, re.compile(r"box floor|(parcel )?rack|load( floor)?")),
    (PointRole.STAND_OVER, re.compile(r"top tube( middle)?|stand ?over( height)?")),
    (PointRole.FEET, re.compile(r"(foot ?)?pegs?|foot ?(boards?|rests?)")),
)


def role_named(name: str) -> PointRole:
    """Return the role of a point that is only named; a seat clamp is no seat."""
    words = " ".join(name.casefold().replace("-", " ").split())
    words = re.sub(r"^(the |front |rear |left |right |rider'?s )+", "", words)
    for role, pattern in _NAMES:
        if pattern.fullmatch(words):
            return role
    return PointRole.OTHER
