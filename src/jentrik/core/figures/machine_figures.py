"""Every figure of a machine on a pair of wheels: what was found and what is planned, side by side.

One value serves both, so that a rule, a page or a document compares like with like.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.figures.contact import Contact
from jentrik.core.figures.parking import Parked
from jentrik.core.figures.room import Gap
from jentrik.core.figures.speed import Speed
from jentrik.core.geometry.figures import Geometry
from jentrik.core.geometry.frame import Point
from jentrik.core.machine.declared import End
from jentrik.core.machine.wheel import Wheels


@dataclass(frozen=True, slots=True)
class FullTravel:
    """A machine at full travel; mm.

    Each axle's way there in the chassis's frame, None where not known; how high each named place
    then is, and the room between saddle and rear tire, where they can be computed.
    """

    ways: Mapping[End, tuple[Point, ...] | None]
    heights: Mapping[str, float]
    saddle_room_mm: float | None


@dataclass(frozen=True, slots=True)
class MachineFigures:
    """Geometry, contact points, speed, stands, clearances and full travel; None is not known.

    `parked` carries the lean on the side stand; clearances are those of the measured places, and
    `room` what the lines of frame, fork and guards leave.
    """

    wheels: Wheels
    geometry: Geometry
    contact: Contact
    speed: Speed
    parked: Parked | None = None
    center_stand_gap_mm: float | None = None
    clearances: tuple[PredictedClearance, ...] = ()
    full: FullTravel | None = None
    room: tuple[Gap, ...] = ()

    @property
    def room_untaped(self) -> tuple[Gap, ...]:
        """The gaps by lines, without those taped with the tire in: the tape says more."""
        taped = {
            (spot.place.name.strip().casefold(), spot.place.wheel, spot.place.direction)
            for spot in self.clearances
        }
        return tuple(gap for gap in self.room if gap.key not in taped)

    @property
    def least_gap_mm(self) -> float | None:
        """The least room anywhere, taped or by lines."""
        taped = [spot.predicted_gap_mm for spot in self.clearances]
        known = [gap for gap in taped if gap is not None]
        return min((*known, *(gap.gap_mm for gap in self.room_untaped)), default=None)

    @property
    def stand_lean_deg(self) -> float | None:
        """The lean on the side stand, degrees; None without one."""
        return self.parked.lean_deg if self.parked else None
