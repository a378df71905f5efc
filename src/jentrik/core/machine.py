"""A bicycle or motorcycle as found, and what a proposal changes on it: plain values.

Lengths mm, angles degrees, measured on the machine at rest; None is not known.  Every value of
a wheel can come from the tire's code or from a measurement; a measurement always wins.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.geometry.figures import Chassis
from jentrik.core.geometry.frame import bottom_bracket
from jentrik.core.geometry.pose import Axles
from jentrik.core.magnitudes import check_figure, check_figures, check_range
from jentrik.core.suspension import RIGID, End, Position, Suspension
from jentrik.core.tirecode.reading import Reading

Kind = Literal["bicycle", "motorcycle"]
VehicleClass = Literal["bicycle", "pedelec", "moped", "motorcycle", "car"]


@dataclass(frozen=True, slots=True)
class Rim:
    """A rim: bead seat diameter and inner width in mm, and whether it holds air by itself."""

    bead_seat_diameter_mm: float | None = None
    inner_width_mm: float | None = None
    tube: Literal["tubeless", "tube-type"] | None = None

    def __post_init__(self) -> None:
        check_figures(self, "bead_seat_diameter_mm", "inner_width_mm")


@dataclass(frozen=True, slots=True)
class RimBrake:
    """A brake on the rim: bolt to pad as it stands, and the caliper's slot, mm."""

    pad_reach_mm: float | None = None
    slot_mm: tuple[float, float] | None = None

    def __post_init__(self) -> None:
        check_figures(self, "pad_reach_mm")
        check_range(self.slot_mm, "slot_mm", least=10, most=200)


@dataclass(frozen=True, slots=True)
class Wheel:
    """A wheel: the tire as read, its measured overall diameter in mm, the rim where known."""

    tire: Reading | None = None
    overall_diameter_mm: float | None = None
    rim: Rim | None = None
    rim_brake: RimBrake | None = None

    def __post_init__(self) -> None:
        check_figures(self, "overall_diameter_mm")

    @property
    def diameter_mm(self) -> float:
        """The overall diameter in mm, measured before nominal; refuses an unknown one."""
        nominal = self.tire.overall_diameter_mm if self.tire else None
        diameter = nominal if self.overall_diameter_mm is None else self.overall_diameter_mm
        if diameter is None:
            named = f"“{self.tire.text}” names no width" if self.tire else "No tire is named"
            raise OutOfRange(
                f"{named}, so the wheel's diameter is unknown: add the width or measure the wheel.",
                field="tire" if self.tire else None,
                expected="a tire code with a width, or a measured overall diameter",
            )
        return diameter

    @property
    def width_mm(self) -> float | None:
        """The nominal section width in mm."""
        return self.tire.width_mm if self.tire else None

    def changed_by(self, change: "WheelChange") -> "Wheel":
        """Return the wheel a proposal makes of this one.

        Another tire drops the old measured diameter; another bead seat drops the old rim; a
        diameter alone keeps the tire.
        """
        tire = change.tire or self.tire
        diameter = change.overall_diameter_mm
        if diameter is None and change.tire is None:
            diameter = self.overall_diameter_mm
        renamed = change.tire is not None and self._bead_seat() is not None
        moved = renamed and tire is not None and tire.bead_seat_diameter_mm != self._bead_seat()
        rim = change.rim or (None if moved else self.rim)
        return Wheel(tire=tire, overall_diameter_mm=diameter, rim=rim, rim_brake=self.rim_brake)

    def _bead_seat(self) -> float | None:
        if self.tire is not None:
            return self.tire.bead_seat_diameter_mm
        return self.rim.bead_seat_diameter_mm if self.rim else None


@dataclass(frozen=True, slots=True)
class WheelChange:
    """What a proposal says of one wheel; None says nothing."""

    tire: Reading | None = None
    overall_diameter_mm: float | None = None
    rim: Rim | None = None

    def __post_init__(self) -> None:
        check_figures(self, "overall_diameter_mm")


@dataclass(frozen=True, slots=True)
class Wheels:
    """The wheels of one machine, as found or as a proposal leaves them."""

    front: Wheel
    rear: Wheel

    def at(self, end: End) -> Wheel:
        """Return the wheel at that end."""
        return self.front if end == "front" else self.rear

    def radius_mm(self, end: End) -> float:
        """Return the unloaded radius in mm; refuses an unknown one, naming the end."""
        with blamed_on(end):
            return self.at(end).diameter_mm / 2


@dataclass(frozen=True, slots=True)
class WheelSpec:
    """What the vehicle maker asks of one wheel; None where the sheet is silent."""

    tire: Reading | None = None
    load_index: int | None = None
    speed_symbol: str | None = None
    construction: str | None = None
    rim_width_mm: tuple[float, float] | None = None

    def __post_init__(self) -> None:
        check_range(self.rim_width_mm, "rim_width_mm", least=5, most=400)


@dataclass(frozen=True, slots=True)
class Speedometer:
    """Which wheel feeds the instrument, and by how much it reads over the truth, percent."""

    wheel: End
    reads_over_percent: float | None = None

    def __post_init__(self) -> None:
        check_figures(self, "reads_over_percent")


@dataclass(frozen=True, slots=True)
class Clearance:
    """A gap measured at a named place with the tire as found, mm."""

    name: str
    wheel: End
    direction: Literal["radial", "side"]
    gap_mm: float
    minimum_mm: float | None = None
    on: Literal["frame", "fork"] = "frame"

    def __post_init__(self) -> None:
        check_figures(self, "gap_mm", "minimum_mm")
        if self.on == "fork" and self.wheel == "rear":
            raise OutOfRange(
                "No place on the fork has a gap to the rear wheel.",
                field="on",
                expected="“frame” for the rear wheel",
            )


@dataclass(frozen=True, slots=True)
class SideStand:
    """Lean as it stands, the foot's distance from the contact line and from the rear axle."""

    lean_deg: float
    foot_out_mm: float
    foot_x_mm: float

    def __post_init__(self) -> None:
        check_figures(self, "lean_deg", "foot_out_mm", "foot_x_mm")


@dataclass(frozen=True, slots=True)
class NamedPoint:
    """A place on the chassis: forward of the rear axle, and above the ground, mm."""

    name: str
    x_mm: float
    height_mm: float

    def __post_init__(self) -> None:
        check_figures(self, "x_mm", "height_mm")


@dataclass(frozen=True, slots=True)
class Bike:
    """A machine as found, measured in one state on level ground."""

    name: str
    kind: Kind
    wheelbase_mm: float
    head_angle_deg: float
    fork_length_mm: float
    fork_offset_mm: float
    front: Wheel
    rear: Wheel
    vehicle_class: VehicleClass
    chainstay_mm: float | None = None
    bb_height_mm: float | None = None
    seat_angle_deg: float | None = None
    stack_mm: float | None = None
    reach_mm: float | None = None
    crank_mm: float | None = None
    points: tuple[NamedPoint, ...] = ()
    spec: dict[End, WheelSpec] | None = None
    speedometer: Speedometer | None = None
    clearances: tuple[Clearance, ...] = ()
    side_stand: SideStand | None = None
    suspension: Suspension = RIGID
    positions: tuple[Position, ...] = ()
    fork_longest_mm: float | None = None
    design: Mapping[str, float] = field(default_factory=dict)  # the maker's own figures, by key

    def __post_init__(self) -> None:
        check_figures(
            self, "wheelbase_mm", "head_angle_deg", "fork.length_mm", "fork.offset_mm",
            "fork.longest_mm", "chainstay_mm", "bb_height_mm",
            "seat_angle_deg", "stack_mm", "reach_mm", "crank_mm",
        )  # fmt: skip

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
        for position in self.positions:
            if position.name == name or (name is None and position.fitted):
                return position
        if name is None:
            return None
        raise OutOfRange(
            f"This machine has no position called “{name[:40]}”.",
            field="position",
            expected=" or ".join(p.name for p in self.positions) or "a position on its sheet",
        )

    def chassis(self) -> Chassis:
        """Return the rigid chassis; refuses a machine that cannot stand as measured."""
        radius = {"front": self.wheels.radius_mm("front"), "rear": self.wheels.radius_mm("rear")}
        axles = Axles(
            wheelbase_mm=self.wheelbase_mm,
            head_angle_deg=self.head_angle_deg,
            front_radius_mm=radius["front"],
            rear_radius_mm=radius["rear"],
            fork_length_mm=self.fork_length_mm,
            fork_offset_mm=self.fork_offset_mm,
        )
        place = None
        if self.chainstay_mm is not None and self.bb_height_mm is not None:
            place = bottom_bracket(
                rear_radius_mm=radius["rear"],
                chainstay_mm=self.chainstay_mm,
                bb_height_mm=self.bb_height_mm,
            )
        return Chassis(
            axles=axles,
            bottom_bracket=place,
            bb_height_mm=self.bb_height_mm,
            seat_angle_deg=self.seat_angle_deg,
            stack_mm=self.stack_mm,
            reach_mm=self.reach_mm,
            points={point.name: (point.x_mm, point.height_mm) for point in self.points},
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
    """What somebody would change; None or 0 leaves a thing as found."""

    name: str
    front: WheelChange = WheelChange()
    rear: WheelChange = WheelChange()
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

    def __post_init__(self) -> None:
        for name, limit, figure in (
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

    def wheels(self, bike: Bike) -> "Wheels":
        """Return both wheels as the proposal leaves them."""
        return Wheels(front=bike.front.changed_by(self.front), rear=bike.rear.changed_by(self.rear))
