"""Suspension and adjustable rear ends: travel, sag, shock, pivot, chips and dropouts.

Lengths mm; None is not known.  Fork travel runs along the steering axis; rear travel is the
axle's rise in the frame, as makers state it.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Literal

from jentrik.core.amounts import mm
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import ENDS, About, Declared, End, Guide, Part, check_figures


class State(StrEnum):
    """How far the suspension is down; every figure belongs to one of them."""

    UNLADEN = "unladen"
    SAG = "rider on"
    FULL = "full travel"


def _damper(label: str, end: End) -> About:
    return About(
        f"{label}, clicks out",
        (0, 99),
        "what a wheel set's dampers are set to",
        counted="clicks",
        end=end,
        part=Part.SAG,
    )


@dataclass(frozen=True, slots=True)
class Travel(Declared, path="suspension.{end}", group="Suspension"):
    """The travel of one end in mm, and how much of it the rider's weight takes."""

    travel_mm: Annotated[
        float | None,
        About(
            "Fork travel",
            (0, 500),
            "the machine with the rider on, and at full travel",
            end="front",
            part=Part.TRAVEL,
            guide=Guide(18, "maker's sheet", "As the maker states it, along the fork.", "travel"),
        ),
        About(
            "Rear wheel travel",
            (0, 500),
            "the machine with the rider on, and at full travel",
            end="rear",
            part=Part.SHOCK,
            guide=Guide(20, "maker's sheet", "As the maker states it, at the axle.", "rear-travel"),
        ),
    ] = None
    sag_mm: Annotated[
        float | None,
        About(
            "Fork sag with the rider on",
            (0, 500),
            "the machine with the rider on",
            end="front",
            part=Part.SAG,
            guide=Guide(
                19,
                "ring on the stanchion",
                "Rider in place with all gear: ring down, off again gently, read the stanchion.",
                "travel",
            ),
        ),
        About(
            "Rear wheel sag with the rider on",
            (0, 500),
            "the machine with the rider on",
            end="rear",
            part=Part.SAG,
            guide=Guide(
                21,
                "tape",
                "Axle straight up to a mark on the frame, unladen less with the rider on.",
                "rear-travel",
            ),
        ),
    ] = None
    compression_clicks: Annotated[
        float | None, _damper("Fork compression", "front"), _damper("Rear compression", "rear")
    ] = None
    rebound_clicks: Annotated[
        float | None, _damper("Fork rebound", "front"), _damper("Rear rebound", "rear")
    ] = None

    def __post_init__(self) -> None:
        check_figures(self)
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
class Shock(Declared, path="suspension.rear", group="Suspension"):
    """The rear shock: eye to eye in mm, and mm at the axle for one at the shock or the link."""

    length_mm: Annotated[
        float | None,
        About(
            "Shock, eye to eye",
            (50, 1000),
            "what another shock does",
            key="shock_mm",
            part=Part.SHOCK,
        ),
    ] = None
    leverage: Annotated[
        float | None,
        About(
            "Leverage: mm at the axle for 1 at the shock",
            (0.2, 10),
            "what another shock does",
            counted="mm for 1",
            part=Part.LINK,
        ),
    ] = None
    link_ratio: Annotated[
        float | None,
        About(
            "Link 1 mm longer: rear end moves by",
            (-10, 10),
            "what another ride-height link does",
            counted="mm for 1",
            part=Part.LINK,
        ),
    ] = None
    link_works: Annotated[
        Literal["longer lowers the rear", "longer lifts the rear"] | None,
        About(
            "How its link works",
            None,
            "which way another ride-height link moves it",
            guide=Guide(
                32,
                "hands",
                "By hand, once for this machine: with a longer link, does the wheel go up "
                "against the frame (the rear comes down) or down?",
                "rear-travel",
            ),
        ),
    ] = None

    @property
    def link_lifts(self) -> float | None:
        """How far the rear end comes up for a link 1 mm longer, mm; less than none lowers it.

        As tried by hand, else by the sign of the ratio.
        """
        if self.link_ratio is None or self.link_works is None:
            return self.link_ratio
        lowers = self.link_works == "longer lowers the rear"
        return -abs(self.link_ratio) if lowers else abs(self.link_ratio)


@dataclass(frozen=True, slots=True)
class Pivot(
    Declared,
    path="suspension.rear",
    group="Suspension",
    unlocks="the path of the rear axle",
    of_frame=True,
):
    """The swingarm's pivot: forward of the rear axle and above the ground, as found."""

    x_mm: Annotated[
        float, About("Swingarm pivot, ahead of the rear axle", (50, 1500), key="pivot_x_mm")
    ]
    height_mm: Annotated[
        float, About("Swingarm pivot, above ground", (0, 1500), key="pivot_height_mm")
    ]


@dataclass(frozen=True, slots=True)
class Suspension(Declared, path="suspension", group="Suspension"):
    """The suspension of a machine, the state its sheet was measured in, the swingarm's pivot.

    Fork travel runs along the steering axis, rear travel is the axle's rise in the frame.
    """

    front: Travel = Travel()
    rear: Travel = Travel()
    measured: Annotated[
        State,
        About(
            "Sheet measured",
            None,
            "which state the figures belong to",
            choices=(State.UNLADEN, State.SAG),
        ),
    ] = State.UNLADEN
    shock: Shock = Shock()
    pivot: Pivot | None = None

    @property
    def pivot_place(self) -> tuple[float, float] | None:
        """The swingarm's pivot as a point; None where no one measured it."""
        return None if self.pivot is None else (self.pivot.x_mm, self.pivot.height_mm)

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
class Position(Declared):
    """A named position of the rear axle: a chip or dropout, and the wheel its maker pairs with it.

    The shift is in the chassis's frame as found, so the position now fitted has none.
    """

    name: str
    x_mm: Annotated[float, About(between=(-100, 100))]
    y_mm: Annotated[float, About(between=(-100, 100))]
    bead_seat_diameter_mm: Annotated[float | None, About(between=(80, 900))] = None

    @property
    def fitted(self) -> bool:
        """Whether this is the position as found."""
        return self.x_mm == 0 and self.y_mm == 0
