"""Room by distance: the free width between two sides, or a limit ahead of the tread, mm.

Measured once, with any wheel in or none: how far from the axle, and how wide inside there.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import About, Declared, End, check_figures


@dataclass(frozen=True, slots=True)
class RoomPart:
    """A part that leaves room: its name, what it is on, whether it lies ahead of the tread."""

    name: str
    on: Literal["frame", "fork"]
    ahead: bool = False


PARTS: dict[End, tuple[RoomPart, ...]] = {  # common practice: what a tape is held to
    "front": (
        RoomPart("Fork blades", "fork"),
        RoomPart("Fork crown", "fork", ahead=True),
        RoomPart("Front mudguard", "fork"),
        RoomPart("Down tube", "frame", ahead=True),
    ),
    "rear": (
        RoomPart("Chain stays", "frame"),
        RoomPart("Seat stays", "frame"),
        RoomPart("Swingarm", "frame"),
        RoomPart("Seat-stay bridge", "frame", ahead=True),
        RoomPart("Rear mudguard", "frame"),
    ),
}


def at_guard(name: str) -> bool:
    """Whether a place is named for a mudguard: what was measured there goes with it."""
    return "mudguard" in name.casefold()


@dataclass(frozen=True, slots=True)
class RoomLine(Declared):
    """The inside width of frame, fork or mudguard at a distance from the axle as it stands.

    Lines of one name are joined by straight lines.  One without `inside_mm` is a limit straight
    ahead of the tread, such as a bridge or a crown.
    """

    name: str
    wheel: End
    from_axle_mm: Annotated[float, About("From the axle", (20, 1000))]
    inside_mm: Annotated[float | None, About("Inside width", (5, 500))] = None
    minimum_mm: Annotated[float | None, About("Minimum clearance", (0, 100))] = None
    on: Literal["frame", "fork"] = "frame"

    def __post_init__(self) -> None:
        check_figures(self)
        if self.on == "fork" and self.wheel == "rear":
            raise OutOfRange(
                "No part of the fork stands beside the rear wheel.",
                field="on",
                expected="“frame” for the rear wheel",
            )
