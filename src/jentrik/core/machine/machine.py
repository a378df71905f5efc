"""A bicycle or motorcycle as found, and what a proposal changes on it: plain values.

Lengths mm, angles degrees, measured on the machine at rest; None is not known.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal, TypeVar

from jentrik.core.amounts import mm
from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.figures import Chassis
from jentrik.core.geometry.frame import bottom_bracket
from jentrik.core.geometry.pose import Axles
from jentrik.core.machine.build import AS_USUAL, BRAKE_AND_DRIVE, UPRIGHT, Build
from jentrik.core.machine.declared import (
    BICYCLE,
    MOTORCYCLE,
    About,
    Declared,
    End,
    Guide,
    Part,
    check_figures,
)
from jentrik.core.machine.gearing import UNGEARED, Gearing
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.room_line import RoomLine
from jentrik.core.machine.suspension import RIGID, Position, Suspension
from jentrik.core.machine.wheel import ApprovedPair, Wheel, Wheels, WheelSpec

P = TypeVar("P")
Kind = Literal["bicycle", "motorcycle"]
VehicleClass = Literal["bicycle", "pedelec", "pedelec-45", "moped", "motorcycle", "car"]
ASSISTED: tuple[VehicleClass, ...] = ("pedelec", "pedelec-45")
InstrumentKind = Literal["type-approved", "computer"]
Use = Literal["city", "trekking", "mountain", "youth", "child", "racing"]
FrameMaterial = Literal["steel", "aluminium", "carbon", "titanium"]
Outfit = Literal["solo", "sidecar", "trailer"]
Pedals = Literal["flat", "foot retention"]
Ground = Literal["paved", "unpaved", "mud"]
_STAND, USED, MAKERS_SHEET = "Instruments and stand", "How it is used", "Maker's sheet"


@dataclass(frozen=True, slots=True)
class Speedometer(Declared, path="speedometer", group=_STAND):
    """What feeds the instrument: a wheel, or the gearbox in front of the rear one.

    `reads_over_percent` and `offset_kmh` say what it shows beyond the truth; the three figures
    behind them how well that is known: ± km/h at one speed, growing by a percentage away from it.
    A computer is set to what its wheel rolls in a turn, `setting_mm`.
    """

    wheel: Annotated[
        Literal["front", "rear", "gearbox"],
        About(
            "Instrument driven by",
            None,
            "what the instrument will show",
            guide=Guide(
                23,
                "eyes",
                "Which wheel, or the gearbox, feeds the instrument: follow the cable or the "
                "sensor.",
                "meter",
            ),
        ),
    ]
    reads_over_percent: Annotated[
        float | None,
        About(
            "Speedometer reads high by",
            (-50, 100),
            "what the instrument will show",
            of_frame=True,
            guide=Guide(
                24,
                "satellite speed",
                "Three steady speeds against a satellite speed; the middle of what it shows too "
                "much.",
                "meter",
            ),
        ),
    ] = None
    offset_kmh: Annotated[
        float, About("Counts from an offset of", (-20, 20), "what the instrument shows when slow")
    ] = 0.0
    within_kmh: Annotated[
        float | None,
        About("Speed pairs: reading known to ±", (0, 50), "whether an error is larger than its ±"),
    ] = None
    within_at_kmh: Annotated[
        float | None,
        About("Speed pairs: that ± holds at", (0, 400), "how the ± grows away from the pairs"),
    ] = None
    within_percent: Annotated[
        float | None,
        About("Speed pairs: ± grows by", (0, 50), "how the ± grows away from the pairs"),
    ] = None
    kind: InstrumentKind | None = None
    setting_mm: Annotated[
        float | None,
        About(
            "Instrument set to a circumference of",
            (250, 6000),
            "how much it reads high with this wheel",
            set_up_key="set.instrument_mm",
            part=Part.INSTRUMENT,
            after="speedometer.wheel",
        ),
    ] = None
    corrected_percent: Annotated[float, About(between=(-50, 100))] = 0.0  # its signal, set faster

    @property
    def end(self) -> End:
        """The wheel whose size it depends on: the gearbox turns the rear one."""
        return "front" if self.wheel == "front" else "rear"

    def plus_minus_kmh(self, true_kmh: float) -> float:
        """Return how far the shown speed may be off its line at a true speed, km/h."""
        away = abs(true_kmh - (self.within_at_kmh or 0.0)) * (self.within_percent or 0.0) / 100
        return math.hypot(self.within_kmh or 0.0, away)


# A gap as a person reads it; worked out for another tire it may be less than nothing.
MEASURED_GAP = About(key="gap_mm", unit="mm", between=(0, 1000))


@dataclass(frozen=True, slots=True)
class Clearance(Declared):
    """A gap at a named place with the tire as found, mm; worked out, it may be negative.

    `bearing_deg` is the direction from the axle to the place, from straight ahead, up positive;
    `from_axle_mm` how far out a side gap was taken; `moves_with` whether the place goes with the
    wheel when the suspension goes down, or stays with the body.
    """

    name: str
    wheel: End
    direction: Literal["radial", "side"]
    gap_mm: Annotated[float, About(between=(-1000, 1000))]
    minimum_mm: Annotated[float | None, About(between=(0, 1000))] = None
    on: Literal["frame", "fork"] = "frame"
    bearing_deg: Annotated[float | None, About(between=(-180, 360))] = None
    from_axle_mm: Annotated[float | None, About(between=(20, 1000))] = None
    moves_with: Literal["wheel", "body"] | None = None

    def __post_init__(self) -> None:
        check_figures(self)
        if self.on == "fork" and self.wheel == "rear":
            raise OutOfRange(
                "No place on the fork has a clearance to the rear wheel.",
                field="on",
                expected="“frame” for the rear wheel",
            )


@dataclass(frozen=True, slots=True)
class SideStand(Declared, path="side_stand", group=_STAND, kinds=MOTORCYCLE):
    """Lean as it stands, the foot's distance from the contact line and from the rear axle.

    `pivot_height_mm`, with the machine upright, and `pivot_out_mm` tell which way the leg lies.
    """

    lean_deg: Annotated[
        float,
        About(
            "Lean on the side stand",
            (0, 45),
            "the lean after",
            of_frame=True,
            gauge="angle",
            guide=Guide(
                25,
                "angle finder",
                "On its side stand, level floor: finder across the frame, from upright.",
                "stand",
            ),
        ),
    ]
    foot_out_mm: Annotated[
        float,
        About(
            "Stand foot, out from the tires",
            (10, 1500),
            "the lean after",
            of_frame=True,
            guide=Guide(26, "tape", "Level from the line of the tires out to the foot.", "stand"),
        ),
    ]
    foot_x_mm: Annotated[
        float,
        About(
            "Stand foot, ahead of the rear axle",
            (-2000, 5000),
            "the lean after",
            of_frame=True,
            guide=Guide(
                27, "tape", "Along the floor from below the rear axle forward to the foot.", "stand"
            ),
        ),
    ]
    pivot_height_mm: Annotated[
        float | None,
        About(
            "Stand pivot, above ground",
            (0, 1500),
            "how much longer or shorter a leg",
            of_frame=True,
        ),
    ] = None
    pivot_out_mm: Annotated[
        float | None,
        About("Stand pivot, out from the middle", (0, 600), "how much longer or shorter a leg"),
    ] = None


@dataclass(frozen=True, slots=True)
class CenterStand(Declared, path="center_stand", group=_STAND, kinds=MOTORCYCLE):
    """A center stand: the wheel it lifts, how far, and its feet ahead of the rear axle, mm."""

    gap_mm: Annotated[
        float,
        About(
            "Center stand lifts the wheel by", (0, 1000), "whether it still lifts it", of_frame=True
        ),
    ]
    feet_x_mm: Annotated[
        float,
        About(
            "Its feet, ahead of the rear axle",
            (-500, 2000),
            "whether it still lifts the wheel",
            of_frame=True,
        ),
    ]
    lifts: Annotated[
        End, About("It lifts the wheel", None, "which wheel hangs", choices=("rear", "front"))
    ] = "rear"


@dataclass(frozen=True, slots=True)
class Mass(Declared, path="mass", group=_STAND, kinds=MOTORCYCLE):
    """The machine ready to ride without its rider: kg, and where its center of mass is, mm."""

    kg: Annotated[
        float | None,
        About("Machine ready to ride, no rider", (3, 1000), "what a gust does to it parked"),
    ] = None
    center_x_mm: Annotated[
        float | None,
        About(
            "Its center of mass, ahead of the rear axle",
            (-500, 3000),
            "how far it may go before it tips",
        ),
    ] = None
    center_height_mm: Annotated[
        float | None,
        About("Its center of mass, above ground", (50, 1500), "how far it may go before it tips"),
    ] = None


@dataclass(frozen=True, slots=True)
class Sidecar(Declared, path="sidecar", group=BRAKE_AND_DRIVE, kinds=MOTORCYCLE):
    """A sidecar's own wheel: its tire, how far it leads the rear axle, and its toe-in, mm."""

    tire: Annotated[
        str | None, About("Sidecar's tire", None, "what its own wheel carries", words=True)
    ] = None
    lead_mm: Annotated[
        float | None,
        About(
            "Sidecar's lead, ahead of the rear axle",
            (-200, 800),
            "how the outfit is aligned",
            guide=Guide(
                30,
                "straight edge and tape",
                "Along the floor from below the rear axle forward to below the sidecar's axle.",
                "wheelbase",
            ),
        ),
    ] = None
    toe_in_mm: Annotated[
        float | None,
        About(
            "Sidecar's toe-in, over its wheel and the machine's",
            (-50, 100),
            "how the outfit is aligned",
            guide=Guide(
                31,
                "two straight edges",
                "Straight edges along both wheels: how much nearer they come in front.",
                "wheelbase",
            ),
        ),
    ] = None


WEIGHTLESS, NO_SIDECAR = Mass(), Sidecar()


@dataclass(frozen=True, slots=True)
class NamedPoint(Declared):
    """A place on the chassis: forward of the rear axle, above the ground, out to the side, mm."""

    name: str
    x_mm: Annotated[float, About(between=(-2000, 5000))]
    height_mm: Annotated[float, About(between=(-500, 3000))]
    out_mm: Annotated[float | None, About(between=(0, 1500))] = None
    role: PointRole = PointRole.OTHER


@dataclass(frozen=True, slots=True)
class Frame(Declared, path="", group="Chassis"):
    """The frame as it stands: measured in one state on level ground."""

    wheelbase_mm: Annotated[
        float,
        About(
            "Wheelbase",
            (300, 4000),
            "everything",
            needed=True,
            of_frame=True,
            guide=Guide(
                4,
                "tape",
                "Bar straight, axle center to axle center along the floor; plumb both down and "
                "measure between the marks.",
                "wheelbase",
            ),
        ),
    ]
    head_angle_deg: Annotated[
        float,
        About(
            "Head angle",
            (20, 90),
            "everything",
            needed=True,
            of_frame=True,
            kinds=BICYCLE,
            gauge="angle",
            guide=Guide(
                5,
                "angle finder",
                "On level floor, finder on the head tube or a stanchion; zero it on the floor "
                "first. A rigid fork's legs lie off the axis: 45 of offset over 390 are 6.6°.",
                "head",
            ),
        ),
        About(
            "Rake",
            (0, 70),
            "everything",
            needed=True,
            of_frame=True,
            key="rake_deg",
            kinds=MOTORCYCLE,
            gauge="angle",
            guide=Guide(
                6,
                "angle finder",
                "On level floor, finder on the fork tube, read from upright; zero it on the floor "
                "first.",
                "head",
            ),
        ),
    ]
    steering_lock_deg: Annotated[
        float | None, About("Bar turns to each side by", (5, 90), "what the turned wheel meets")
    ] = None
    chainstay_mm: Annotated[
        float | None,
        About(
            "Chain stay",
            (100, 2000),
            "where the bottom bracket goes",
            of_frame=True,
            kinds=BICYCLE,
            guide=Guide(
                11, "tape", "Bottom-bracket center straight to the rear axle center.", "chainstay"
            ),
        ),
    ] = None
    bb_height_mm: Annotated[
        float | None,
        About(
            "Bottom-bracket height",
            (0, 1500),
            "where the bottom bracket goes",
            of_frame=True,
            kinds=BICYCLE,
            guide=Guide(
                12,
                "square",
                "Floor to the center of the crank axle, tires pumped up, without a rider.",
                "bb-height",
            ),
        ),
    ] = None
    seat_angle_deg: Annotated[
        float | None,
        About(
            "Seat angle",
            (20, 110),
            "the seat angle after",
            of_frame=True,
            kinds=BICYCLE,
            gauge="angle",
            guide=Guide(17, "angle finder", "Finder on the seat tube, machine level.", "seat"),
        ),
    ] = None
    stack_mm: Annotated[
        float | None,
        About(
            "Stack",
            (100, 1500),
            "stack and reach after",
            of_frame=True,
            kinds=BICYCLE,
            guide=Guide(
                15,
                "square and tape",
                "Straight up from the crank axle to the height of the head tube's top.",
                "stack",
            ),
        ),
    ] = None
    reach_mm: Annotated[
        float | None,
        About(
            "Reach",
            (-200, 1000),
            "stack and reach after",
            of_frame=True,
            kinds=BICYCLE,
            guide=Guide(
                16,
                "plumb and tape",
                "Level from a plumb line over the crank axle to the head tube's top center.",
                "reach",
            ),
        ),
    ] = None
    captain_ahead_mm: Annotated[
        float | None,
        About(
            "Tandem: captain's cranks ahead of the stoker's",
            (300, 1200),
            "the captain's toe room",
            group=USED,
            kinds=BICYCLE,
            guide=Guide(
                28, "tape", "Level, from one crank axle's middle to the other's.", "front-center"
            ),
        ),
    ] = None
    fold_wheel_mm: Annotated[
        float | None,
        About(
            "Largest wheel it folds with, across",
            (150, 800),
            "whether it still folds",
            group=USED,
            kinds=BICYCLE,
            guide=Guide(
                29,
                "tape",
                "Fold it slowly: from the axle to the nearest part the wheel passes, twice that.",
                "rear-diameter",
            ),
        ),
    ] = None
    material: Annotated[
        FrameMaterial | None,
        About(
            "Frame made of",
            None,
            "whether a hub a little wider can go in",
            group=USED,
            key="frame_material",
            kinds=BICYCLE,
            after="riding.style",
        ),
    ] = None
    points: tuple[NamedPoint, ...] = ()
    positions: tuple[Position, ...] = ()


WHOLE_MM = 0.5  # a length over a limit by less is the limit, in whole millimetres


def length_along_axis(*, axle_to_crown_mm: float, offset_mm: float) -> float:
    """Return a fork's length along the steering axis, mm, from the straight one.

    The straight length is the longer side of a triangle whose other sides are this length and the
    offset.  Refuses a straight length that is no longer than the offset.
    """
    if axle_to_crown_mm <= abs(offset_mm):
        raise OutOfRange(
            f"Axle to crown, {mm(axle_to_crown_mm):g}, is not longer than the offset of "
            f"{mm(offset_mm):g}.",
            field="fork.axle_to_crown_mm",
            expected="a length above the offset",
        )
    return math.sqrt(axle_to_crown_mm**2 - offset_mm**2)


@dataclass(frozen=True, slots=True)
class Fork(Declared, path="fork", group="Chassis"):
    """The fork: along the steering axis, and square to it."""

    length_mm: Annotated[
        float,
        About(
            "Fork length along the axis",
            (50, 2000),
            "everything",
            needed=True,
            part=Part.FORK,
            after="rake_deg",
            guide=Guide(
                7,
                "tape",
                "Along the steering axis from the crown seat (lower clamp) to square with the "
                "axle, not straight across to it.",
                "fork",
            ),
        ),
        About(
            "Fork, axle to crown straight",
            None,
            "the fork length along the axis",
            key="axle_to_crown_mm",
            kinds=BICYCLE,
            part=Part.FORK,
            after="fork.length_mm",
        ),
    ]
    offset_mm: Annotated[
        float,
        About(
            "Fork offset",
            (-300, 300),
            "everything",
            needed=True,
            part=Part.FORK,
            after="fork.axle_to_crown_mm",
            guide=Guide(
                9,
                "straight edge",
                "Straight edge along the steering axis, square to the axle center. Trail and head "
                "angle give it too.",
                "offset",
            ),
        ),
    ]
    longest_mm: Annotated[
        float | None,
        About(
            "Longest fork the frame's maker allows, along the axis",
            (50, 2000),
            "whether a longer fork is allowed",
            group=MAKERS_SHEET,
            after="design.seat_height_mm",
            guide=Guide(35, "maker's sheet", "As the frame's maker states it.", "fork"),
        ),
    ] = None
    longest_straight_mm: Annotated[
        float | None,
        About(
            "Longest fork the frame's maker allows, axle to crown straight",
            (50, 2000),
            "whether a longer fork is allowed",
            group=MAKERS_SHEET,
            key="longest_axle_to_crown_mm",
            kinds=BICYCLE,
            after="fork.longest_mm",
        ),
    ] = None
    rated_bead_seat_mm: Annotated[
        float | None,
        About(
            "Fork made for a wheel up to, bead seat",
            (80, 900),
            "whether a larger front wheel is allowed",
            group=MAKERS_SHEET,
            kinds=BICYCLE,
            part=Part.FORK,
            after="fork.longest_axle_to_crown_mm",
            guide=Guide(
                34, "maker's sheet", "The largest wheel the fork's maker names for it.", "crown"
            ),
        ),
    ] = None

    def longer_than_allowed(self, length_mm: float, offset_mm: float) -> tuple[float, float] | None:
        """Return a fork's length and the frame maker's limit it is over, both along or straight.

        None where it is over none; lengths are stated in whole millimetres.
        """
        straight = math.hypot(length_mm, offset_mm)
        for length, limit in ((length_mm, self.longest_mm), (straight, self.longest_straight_mm)):
            if limit is not None and length - limit > WHOLE_MM:
                return length, limit
        return None


@dataclass(frozen=True, slots=True)
class Cranks(Declared, path="", group=USED, kinds=BICYCLE):
    """The cranks and what is on them."""

    length_mm: Annotated[
        float | None,
        About(
            "Crank length",
            (50, 300),
            "the cranks in the drawing",
            group="Chassis",
            key="crank_mm",
            part=Part.CRANKS,
        ),
    ] = None
    pedal_edge_mm: Annotated[
        float | None,
        About(
            "Pedal, outer edge from the middle",
            (40, 400),
            "the lean at which a pedal touches, and the toe room in a turn",
            after="frame_material",
        ),
    ] = None
    pedals: Annotated[
        Pedals | None, About("Pedals", None, "the toe room of the standard", after="pedal_edge_mm")
    ] = None


@dataclass(frozen=True, slots=True)
class Riding(Declared, path="", group=USED):
    """What the machine is ridden for, how fast, and with what on it."""

    top_speed_kmh: Annotated[
        float | None,
        About(
            "Top speed it is ridden at",
            (5, 400),
            "how much the tires grow, and the load they may carry then",
            kinds=MOTORCYCLE,
        ),
    ] = None
    use: Annotated[
        Use | None, About("Made as", None, "the minimum clearance of the standard", kinds=BICYCLE)
    ] = None
    ground: Annotated[
        Ground | None, About("Ridden on", None, "what mud takes of the clearances")
    ] = None
    rider_kg: Annotated[
        float | None,
        About("Rider's mass", (5, 300), "whether the tires carry rider and luggage", kinds=BICYCLE),
    ] = None
    stoker_kg: Annotated[
        float | None,
        About(
            "Second rider's mass", (5, 300), "whether the tires carry both riders", kinds=BICYCLE
        ),
    ] = None
    luggage_kg: Annotated[
        float | None,
        About("Luggage", (0, 300), "whether the tires carry rider and luggage", kinds=BICYCLE),
    ] = None
    outfit: Annotated[
        Outfit | None,
        About("Ridden with", None, "whether it leans, and which tires go on", kinds=MOTORCYCLE),
    ] = None


@dataclass(frozen=True, slots=True)
class Design(
    Declared, path="design", group=MAKERS_SHEET, unlocks="how to restore the maker's geometry"
):
    """The machine as it left the works, as its maker states it."""

    head_angle_deg: Annotated[
        float | None,
        About("Head angle as made", (20, 90), kinds=BICYCLE),
        About("Rake as made", (0, 70), key="rake_deg", kinds=MOTORCYCLE),
    ] = None
    trail_mm: Annotated[float | None, About("Trail as made", (-300, 500))] = None
    wheelbase_mm: Annotated[float | None, About("Wheelbase as made", (300, 4000))] = None
    bb_height_mm: Annotated[
        float | None, About("Bottom-bracket height as made", (0, 1500), kinds=BICYCLE)
    ] = None
    seat_height_mm: Annotated[
        float | None, About("Seat height as made", (100, 2000), kinds=MOTORCYCLE)
    ] = None


@dataclass(frozen=True, slots=True)
class MakersSheet:
    """What the maker says: of each wheel, of pairs that are allowed, and of the whole machine."""

    wheels: Mapping[End, WheelSpec] = field(default_factory=dict)
    pairs: tuple[ApprovedPair, ...] = ()
    design: Design = Design()


NO_CRANKS = Cranks()
NOT_SAID = Riding()
NO_SHEET = MakersSheet()


@dataclass(frozen=True, slots=True)
class Bike(Declared):
    """A machine as found, measured in one state on level ground."""

    name: str
    kind: Kind
    vehicle_class: Annotated[
        VehicleClass,
        About(
            "Class of vehicle",
            None,
            "which speed rule applies",
            group=_STAND,
            key="class",
            choices=("moped", "motorcycle", "pedelec", "pedelec-45"),
            after="mass.center_height_mm",
        ),
    ]
    frame: Frame
    fork: Fork
    front: Wheel
    rear: Wheel
    suspension: Suspension = RIGID
    cranks: Cranks = NO_CRANKS
    speedometer: Speedometer | None = None
    side_stand: SideStand | None = None
    center_stand: CenterStand | None = None
    mass: Mass = WEIGHTLESS
    gearing: Gearing = UNGEARED
    riding: Riding = NOT_SAID
    build: Build = AS_USUAL
    sidecar: Sidecar = NO_SIDECAR
    clearances: tuple[Clearance, ...] = ()
    room: tuple[RoomLine, ...] = ()
    maker: MakersSheet = NO_SHEET
    assumed: frozenset[str] = frozenset()  # keys of the figures no one measured

    def place_of(self, role: PointRole, places: Mapping[str, P]) -> P | None:
        """Return where the point of a role is among named places; None where it has none."""
        for point in self.frame.points:
            if point.role is role and point.name in places:
                return places[point.name]
        return None

    @property
    def instrument_kind(self) -> InstrumentKind:
        """Whether rules of approval speak of the instrument: unless stated, by the class."""
        if self.speedometer is not None and self.speedometer.kind is not None:
            return self.speedometer.kind
        return "computer" if self.vehicle_class in ("bicycle", "pedelec") else "type-approved"

    @property
    def has_sidecar(self) -> bool:
        """Whether a sidecar is on it."""
        return "sidecar" in (self.riding.outfit, self.build.layout)

    @property
    def leans(self) -> bool:
        """Whether it leans in a bend: not with a sidecar, nor on three wheels abreast."""
        return not self.has_sidecar and self.build.layout not in UPRIGHT

    @property
    def wheels(self) -> Wheels:
        """Both wheels as found."""
        return Wheels(self.front, self.rear)

    @property
    def rear_axle(self) -> tuple[float, float]:
        """The rear axle's place as found."""
        return 0.0, self.wheels.radius_mm("rear")

    def position(self, name: str | None) -> Position | None:
        """Return the named position, or without a name the one fitted; None where there is none.

        Refuses a name that is not on the sheet.
        """
        for position in self.frame.positions:
            if position.name == name or (name is None and position.fitted):
                return position
        if name is None:
            return None
        raise OutOfRange(
            f"This machine has no position called “{name[:40]}”.",
            field="position",
            expected=" or ".join(p.name for p in self.frame.positions) or "a position on its sheet",
        )

    def chassis(self) -> Chassis:
        """Return the rigid chassis; refuses a machine that cannot stand as measured."""
        radius = {"front": self.wheels.radius_mm("front"), "rear": self.wheels.radius_mm("rear")}
        axles = Axles(
            wheelbase_mm=self.frame.wheelbase_mm,
            head_angle_deg=self.frame.head_angle_deg,
            front_radius_mm=radius["front"],
            rear_radius_mm=radius["rear"],
            fork_length_mm=self.fork.length_mm,
            fork_offset_mm=self.fork.offset_mm,
        )
        place = None
        if self.frame.chainstay_mm is not None and self.frame.bb_height_mm is not None:
            place = bottom_bracket(
                rear_radius_mm=radius["rear"],
                chainstay_mm=self.frame.chainstay_mm,
                bb_height_mm=self.frame.bb_height_mm,
            )
        return Chassis(
            axles=axles,
            bottom_bracket=place,
            bb_height_mm=self.frame.bb_height_mm,
            seat_angle_deg=self.frame.seat_angle_deg,
            stack_mm=self.frame.stack_mm,
            reach_mm=self.frame.reach_mm,
            points={point.name: (point.x_mm, point.height_mm) for point in self.frame.points},
        )
