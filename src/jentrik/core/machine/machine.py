"""A bicycle or motorcycle as found, and what a proposal changes on it: plain values.

Lengths mm, angles degrees, measured on the machine at rest; None is not known.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, TypeVar

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.figures import Chassis
from jentrik.core.geometry.frame import bottom_bracket
from jentrik.core.geometry.pose import Axles
from jentrik.core.machine.gearing import UNGEARED, Gearing
from jentrik.core.machine.magnitudes import check_figure, check_figures
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.suspension import RIGID, End, Position, Suspension
from jentrik.core.machine.wheel import (
    UNCHANGED,
    ApprovedPair,
    Wheel,
    WheelChange,
    Wheels,
    WheelSpec,
)

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


@dataclass(frozen=True, slots=True)
class Speedometer:
    """What feeds the instrument: a wheel, or the gearbox in front of the rear one.

    `reads_over_percent` and `offset_kmh` say what it shows beyond the truth; the three figures
    behind them how well that is known: ± km/h at one speed, growing by a percentage away from it.
    A computer is set to what its wheel rolls in a turn, `setting_mm`.
    """

    wheel: End | Literal["gearbox"]
    reads_over_percent: float | None = None
    offset_kmh: float = 0.0
    within_kmh: float | None = None
    within_at_kmh: float | None = None
    within_percent: float | None = None
    kind: InstrumentKind | None = None
    setting_mm: float | None = None

    def __post_init__(self) -> None:
        check_figure("set.instrument_mm", self.setting_mm)
        check_figures(
            self,
            "reads_over_percent",
            "offset_kmh",
            "within_kmh",
            "within_at_kmh",
            "within_percent",
        )

    @property
    def end(self) -> End:
        """The wheel whose size it depends on: the gearbox turns the rear one."""
        return "front" if self.wheel == "front" else "rear"

    def plus_minus_kmh(self, true_kmh: float) -> float:
        """Return how far the shown speed may be off its line at a true speed, km/h."""
        away = abs(true_kmh - (self.within_at_kmh or 0.0)) * (self.within_percent or 0.0) / 100
        return math.hypot(self.within_kmh or 0.0, away)


@dataclass(frozen=True, slots=True)
class Clearance:
    """A gap at a named place with the tire as found, mm; worked out, it may be negative.

    `bearing_deg` is the direction from the axle to the place, from straight ahead, up positive;
    `from_axle_mm` how far out a side gap was taken; `moves_with` whether the place goes with the
    wheel when the suspension goes down, or stays with the body.
    """

    name: str
    wheel: End
    direction: Literal["radial", "side"]
    gap_mm: float
    minimum_mm: float | None = None
    on: Literal["frame", "fork"] = "frame"
    bearing_deg: float | None = None
    from_axle_mm: float | None = None
    moves_with: Literal["wheel", "body"] | None = None

    def __post_init__(self) -> None:
        check_figure("gap_mm", self.gap_mm, limit="gap_worked_out_mm")
        check_figures(self, "minimum_mm", "bearing_deg", "from_axle_mm")
        if self.on == "fork" and self.wheel == "rear":
            raise OutOfRange(
                "No place on the fork has a clearance to the rear wheel.",
                field="on",
                expected="“frame” for the rear wheel",
            )


@dataclass(frozen=True, slots=True)
class SideStand:
    """Lean as it stands, the foot's distance from the contact line and from the rear axle.

    `pivot_height_mm`, with the machine upright, and `pivot_out_mm` tell which way the leg lies.
    """

    lean_deg: float
    foot_out_mm: float
    foot_x_mm: float
    pivot_height_mm: float | None = None
    pivot_out_mm: float | None = None

    def __post_init__(self) -> None:
        check_figures(
            self, "lean_deg", "foot_out_mm", "foot_x_mm", "pivot_height_mm", "pivot_out_mm"
        )


@dataclass(frozen=True, slots=True)
class CenterStand:
    """A center stand: the wheel it lifts, how far, and its feet ahead of the rear axle, mm."""

    lifts: End
    gap_mm: float
    feet_x_mm: float

    def __post_init__(self) -> None:
        check_figures(self, "gap_mm", "feet_x_mm")


@dataclass(frozen=True, slots=True)
class Mass:
    """The machine ready to ride without its rider: kg, and where its center of mass is, mm."""

    kg: float | None = None
    center_x_mm: float | None = None  # ahead of the rear axle
    center_height_mm: float | None = None

    def __post_init__(self) -> None:
        check_figures(self, "kg", "center_x_mm", "center_height_mm")


WEIGHTLESS = Mass()


@dataclass(frozen=True, slots=True)
class NamedPoint:
    """A place on the chassis: forward of the rear axle, above the ground, out to the side, mm."""

    name: str
    x_mm: float
    height_mm: float
    out_mm: float | None = None
    role: PointRole = PointRole.OTHER

    def __post_init__(self) -> None:
        check_figures(self, "x_mm", "height_mm", "out_mm")


@dataclass(frozen=True, slots=True)
class Frame:
    """The frame as it stands: measured in one state on level ground."""

    wheelbase_mm: float
    head_angle_deg: float
    chainstay_mm: float | None = None
    bb_height_mm: float | None = None
    seat_angle_deg: float | None = None
    stack_mm: float | None = None
    reach_mm: float | None = None
    material: FrameMaterial | None = None
    points: tuple[NamedPoint, ...] = ()
    positions: tuple[Position, ...] = ()

    def __post_init__(self) -> None:
        check_figures(
            self,
            "wheelbase_mm",
            "head_angle_deg",
            "chainstay_mm",
            "bb_height_mm",
            "seat_angle_deg",
            "stack_mm",
            "reach_mm",
        )


WHOLE_MM = 0.5  # a length over a limit by less is the limit, in whole millimetres


@dataclass(frozen=True, slots=True)
class Fork:
    """The fork: along the steering axis, and square to it; how far the bar turns it."""

    length_mm: float
    offset_mm: float
    longest_mm: float | None = None  # the longest the frame's maker allows, along the axis
    longest_straight_mm: float | None = None  # the same, axle to crown straight
    rated_bead_seat_mm: float | None = None  # the largest wheel the fork is made for
    lock_deg: float | None = None

    def __post_init__(self) -> None:
        for name in ("length_mm", "offset_mm", "longest_mm", "rated_bead_seat_mm"):
            check_figure(f"fork.{name}", getattr(self, name))
        check_figure("fork.longest_mm", self.longest_straight_mm)
        check_figure("steering_lock_deg", self.lock_deg)

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
class Cranks:
    """The cranks and what is on them."""

    length_mm: float | None = None
    pedal_edge_mm: float | None = None  # the pedal's outer edge, from the machine's middle
    pedals: Pedals | None = None

    def __post_init__(self) -> None:
        check_figure("crank_mm", self.length_mm)
        check_figures(self, "pedal_edge_mm")


@dataclass(frozen=True, slots=True)
class Riding:
    """What the machine is ridden for, how fast, and with what on it."""

    use: Use | None = None
    ground: Ground | None = None
    outfit: Outfit | None = None
    top_speed_kmh: float | None = None
    rider_kg: float | None = None
    luggage_kg: float | None = None

    def __post_init__(self) -> None:
        check_figures(self, "top_speed_kmh", "rider_kg", "luggage_kg")


@dataclass(frozen=True, slots=True)
class MakersSheet:
    """What the maker says: of each wheel, of pairs that are allowed, and its own figures by key."""

    wheels: Mapping[End, WheelSpec] = field(default_factory=dict)
    pairs: tuple[ApprovedPair, ...] = ()
    figures: Mapping[str, float] = field(default_factory=dict)


NO_CRANKS = Cranks()
NOT_SAID = Riding()
NO_SHEET = MakersSheet()


@dataclass(frozen=True, slots=True)
class Bike:
    """A machine as found, measured in one state on level ground."""

    name: str
    kind: Kind
    vehicle_class: VehicleClass
    frame: Frame
    fork: Fork
    front: Wheel
    rear: Wheel
    suspension: Suspension = RIGID
    cranks: Cranks = NO_CRANKS
    gearing: Gearing = UNGEARED
    mass: Mass = WEIGHTLESS
    riding: Riding = NOT_SAID
    side_stand: SideStand | None = None
    center_stand: CenterStand | None = None
    speedometer: Speedometer | None = None
    clearances: tuple[Clearance, ...] = ()
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
    def leans(self) -> bool:
        """Whether it leans in a bend: not with a sidecar."""
        return self.riding.outfit != "sidecar"

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


@dataclass(frozen=True, slots=True)
class ContactChange:
    """What a proposal does to the places the rider touches, mm; the chassis stays as it is.

    Spacers lift the bar along the steering axis, the other two along their own post or straight
    up; a crank is named by its new length.
    """

    bar_rise_mm: float = 0.0
    spacers_mm: float = 0.0
    saddle_rise_mm: float = 0.0
    crank_mm: float | None = None

    def __post_init__(self) -> None:
        for name in ("bar_rise_mm", "spacers_mm", "saddle_rise_mm"):
            check_figure(name, getattr(self, name), limit="lower_cup_mm")
        check_figures(self, "crank_mm")


UNTOUCHED = ContactChange()


@dataclass(frozen=True, slots=True)
class Proposal:
    """What someone would change; None or 0 leaves a thing as found."""

    name: str
    front: WheelChange = UNCHANGED
    rear: WheelChange = UNCHANGED
    fork_length_mm: float | None = None
    fork_offset_mm: float | None = None
    lower_cup_mm: float = 0.0
    rear_shift_x_mm: float = 0.0
    rear_shift_y_mm: float = 0.0
    position: str | None = None
    fork_travel_mm: float | None = None
    headset_turn_deg: float = 0.0
    shock_mm: float | None = None
    link_longer_mm: float = 0.0
    contact: ContactChange = UNTOUCHED
    front_sprocket: float | None = None
    rear_sprocket: float | None = None
    owned: tuple[End, ...] = ()  # ends whose wheel is there already: nothing is bought for it
    as_before: bool = False  # every part of it was on the machine before
    gaps_mm: Mapping[str, float] = field(default_factory=dict)  # by place, as read with it on

    def __post_init__(self) -> None:
        for name, limit, figure in (
            ("gearing.front_sprocket", "front_sprocket", self.front_sprocket),
            ("gearing.rear_sprocket", "rear_sprocket", self.rear_sprocket),
            ("fork.length_mm", "fork.length_mm", self.fork_length_mm),
            ("fork.offset_mm", "fork.offset_mm", self.fork_offset_mm),
            ("fork.travel_mm", "travel_mm", self.fork_travel_mm),
            ("headset_turn_deg", "headset_turn_deg", self.headset_turn_deg),
            ("shock_mm", "shock_mm", self.shock_mm),
            ("link_longer_mm", "lower_cup_mm", self.link_longer_mm),
            ("lower_cup_mm", "lower_cup_mm", self.lower_cup_mm),
            ("rear_axle_shift_mm.x", "rear_axle_shift_mm", self.rear_shift_x_mm),
            ("rear_axle_shift_mm.y", "rear_axle_shift_mm", self.rear_shift_y_mm),
        ):
            check_figure(name, figure, limit=limit)

    def wheels(self, bike: Bike) -> Wheels:
        """Return both wheels as the proposal leaves them."""
        return Wheels(front=bike.front.changed_by(self.front), rear=bike.rear.changed_by(self.rear))
