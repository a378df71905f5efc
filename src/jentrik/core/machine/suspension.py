"""Suspension and adjustable rear ends: travel, sag, shock, pivot, chips and dropouts.

Lengths mm; None is not known.  Fork travel runs along the steering axis; rear travel is the
axle's rise in the frame, as makers state it.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from jentrik.core.amounts import mm
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.magnitudes import check_figure, check_figures

End = Literal["front", "rear"]
ENDS: tuple[End, End] = ("front", "rear")


class State(StrEnum):
    """How far the suspension is down; every figure belongs to one of them."""

    UNLADEN = "unladen"
    SAG = "rider on"
    FULL = "full travel"


@dataclass(frozen=True, slots=True)
class Travel:
    """The travel of one end in mm, and how much of it the rider's weight takes."""

    travel_mm: float | None = None
    sag_mm: float | None = None

    def __post_init__(self) -> None:
        check_figures(self, "travel_mm", "sag_mm")
        known = self.sag_mm is not None and self.travel_mm is not None
        if known and self.sag_mm > self.travel_mm:  # type: ignore[operator]  # both are figures
            raise OutOfRange(
                f"A sag of {mm(self.sag_mm):g} is more than the travel of {mm(self.travel_mm):g}.",
                field="sag_mm",
                expected="a sag within the travel",
            )

    def down_mm(self, state: State) -> float | None:
        """Return how far this end is down from unladen; None where it is not known."""
        if state is State.UNLADEN or not self.travel_mm:
            return 0.0
        return self.sag_mm if state is State.SAG else self.travel_mm


@dataclass(frozen=True, slots=True)
class Shock:
    """The rear shock: eye to eye in mm, and mm at the axle for one at the shock or the link."""

    length_mm: float | None = None
    leverage: float | None = None
    link_ratio: float | None = None

    def __post_init__(self) -> None:
        check_figure("shock_mm", self.length_mm)
        check_figures(self, "leverage", "link_ratio")


@dataclass(frozen=True, slots=True)
class Suspension:
    """The suspension of a machine, the state its sheet was measured in, the swingarm's pivot.

    The pivot is forward of the rear axle and above the ground, as found; fork travel runs along
    the steering axis, rear travel is the axle's rise in the frame.
    """

    measured: State = State.UNLADEN
    front: Travel = Travel()
    rear: Travel = Travel()
    shock: Shock = Shock()
    pivot: tuple[float, float] | None = None

    def __post_init__(self) -> None:
        if self.pivot is not None:
            check_figure("pivot_x_mm", self.pivot[0])
            check_figure("pivot_height_mm", self.pivot[1])

    def at(self, end: End) -> Travel:
        """Return the travel of that end."""
        return self.front if end == "front" else self.rear

    @property
    def states(self) -> tuple[State, ...]:
        """The states whose figures can be computed; one alone for a rigid machine."""
        if not (self.front.travel_mm or self.rear.travel_mm):
            return (self.measured,)
        known = [
            state
            for state in State
            if state is self.measured
            or all(self.down_from_measured_mm(end, state) is not None for end in ENDS)
        ]
        return tuple(known)

    def down_from_measured_mm(self, end: End, state: State) -> float | None:
        """Return how much further down than as measured that end is in a state."""
        now, then = self.at(end).down_mm(state), self.at(end).down_mm(self.measured)
        return None if now is None or then is None else now - then


RIGID = Suspension()


@dataclass(frozen=True, slots=True)
class Position:
    """A named position of the rear axle: a chip or dropout, and the wheel its maker pairs with it.

    The shift is in the chassis's frame as found, so the position now fitted has none.
    """

    name: str
    x_mm: float
    y_mm: float
    bead_seat_diameter_mm: float | None = None

    def __post_init__(self) -> None:
        check_figure("x_mm", self.x_mm, limit="position_shift_mm")
        check_figure("y_mm", self.y_mm, limit="position_shift_mm")
        check_figures(self, "bead_seat_diameter_mm")

    @property
    def fitted(self) -> bool:
        """Whether this is the position as found."""
        return self.x_mm == 0 and self.y_mm == 0
