"""The wheels of a machine, as found, as the maker specifies them, and as a proposal leaves them.

Lengths mm, loads kg, pressures kPa; None is not known.  A measured figure always wins over the
tire's code.  What belongs to a tire goes with it, what belongs to a wheel goes when another bead
seat means another wheel, and what belongs to frame and fork stays.
"""

from dataclasses import dataclass, replace
from typing import Literal, TypeVar

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.machine.magnitudes import check_figures, check_range
from jentrik.core.machine.suspension import End
from jentrik.core.tirecode.dates import DateReading, date_of
from jentrik.core.tirecode.reading import Reading

Arrow = Literal["with the arrow", "against the arrow"]
Alike = Literal["same", "other"]

P = TypeVar("P", "Rim", "Fitted", "Hub", "Sensor", "WheelSpec")


def merged(old: P, new: P) -> P:
    """Return a value of parts with what the new one says over what the old one said."""
    said = {
        name: value
        for name in new.__dataclass_fields__
        if (value := getattr(new, name)) is not None
    }
    return replace(old, **said) if said else old


@dataclass(frozen=True, slots=True)
class Rim:
    """A rim: bead seat, inner width, how it holds air and bead, how it is built, what it takes."""

    bead_seat_diameter_mm: float | None = None
    inner_width_mm: float | None = None
    tube: Literal["tubeless", "tube-type"] | None = None
    hooks: Literal["hooked", "hookless"] | None = None
    build: Literal["laced", "cast"] | None = None
    most_kpa: float | None = None
    most_kpa_at_mm: float | None = None  # the tire width its maker states that pressure for
    valve_hole_mm: float | None = None
    tape_mm: float | None = None  # width of the rim tape
    effective_mm: float | None = None  # diameter at the seats of the nipples

    def __post_init__(self) -> None:
        check_figures(
            self,
            "bead_seat_diameter_mm",
            "inner_width_mm",
            "most_kpa",
            "most_kpa_at_mm",
            "valve_hole_mm",
            "tape_mm",
            "effective_mm",
        )


@dataclass(frozen=True, slots=True)
class RimBrake:
    """A brake on the rim: bolt or boss to pad as it stands, and the slot, mm.

    A caliper hangs from a bolt above the rim, a cantilever stands on a boss below it.
    """

    pad_reach_mm: float | None = None
    slot_mm: tuple[float, float] | None = None
    mount: Literal["bolt above", "boss below"] | None = None

    def __post_init__(self) -> None:
        check_figures(self, "pad_reach_mm")
        check_range(self.slot_mm, "slot_mm", least=10, most=200)


@dataclass(frozen=True, slots=True)
class Fitted:
    """What is known of one tire beyond its code: who made it and when, tread, arrow, air."""

    make: str | None = None
    made: str | None = None  # week and year, as on the sidewall
    tread_mm: float | None = None
    arrow: Arrow | None = None
    pressure_kpa: float | None = None
    most_kpa: float | None = None  # as on the sidewall: a limit, never a setting
    most_load_kg: float | None = None  # as on the sidewall, where no load index stands
    rated_kmh: float | None = None  # what its maker rates it for on assisted cycles
    valve: Literal["narrow", "wide"] | None = None

    def __post_init__(self) -> None:
        check_figures(self, "tread_mm", "pressure_kpa", "most_kpa", "most_load_kg", "rated_kmh")
        if self.made is not None and self.date is None:
            raise OutOfRange(
                f"“{self.made[:20]}” is no week and year.",
                field="made",
                expected="week and year like 1523: week 15 of 2023",
            )

    @property
    def date(self) -> DateReading | None:
        """The week it was made in."""
        return None if self.made is None else date_of(self.made)


@dataclass(frozen=True, slots=True)
class Hub:
    """What a hub needs of frame, fork and brake, and what it carries.

    Rotor mount and driver (what carries the sprockets) are given in the shop's own words.
    """

    spacing_mm: float | None = None
    axle_mm: float | None = None
    rotor_mm: float | None = None
    rotor_mount: str | None = None
    driver: str | None = None
    chain_line_mm: float | None = None  # from the wheel's middle to the middle of the sprockets
    runout_mm: float | None = None  # of the rim, at its worst
    left_circle_mm: float | None = None  # of the spoke holes of a flange
    right_circle_mm: float | None = None
    left_flange_mm: float | None = None  # from the wheel's middle
    right_flange_mm: float | None = None
    spokes: float | None = None
    crossings: float | None = None

    def __post_init__(self) -> None:
        check_figures(
            self,
            "spacing_mm",
            "axle_mm",
            "rotor_mm",
            "chain_line_mm",
            "runout_mm",
            "left_circle_mm",
            "right_circle_mm",
            "left_flange_mm",
            "right_flange_mm",
            "spokes",
            "crossings",
        )
        for name, step in (("spokes", 2), ("crossings", 1)):
            count = getattr(self, name)
            if count is not None and count % step:
                raise OutOfRange(
                    f"{count:g} is no number of {name}.",
                    field=name,
                    expected="an even number" if step == 2 else "a whole number",
                )


@dataclass(frozen=True, slots=True)
class Sensor:
    """What someone found out of another wheel's speed sensor, against the one as found."""

    face: Alike | None = None  # the mounting face of ring and rotor
    kind: Alike | None = None  # sensor type and voltage, by model year
    runout_mm: float | None = None  # of the ring
    holes: float | None = None  # of the bolt circle the machine shop makes
    circle_mm: float | None = None
    hole_mm: float | None = None

    def __post_init__(self) -> None:
        check_figures(self, "runout_mm", "holes", "circle_mm", "hole_mm")
        if self.holes is not None and not float(self.holes).is_integer():
            raise OutOfRange("Holes are counted whole.", field="holes", expected="a whole number")


NEW_TIRE, NO_HUB, NO_SENSOR = Fitted(), Hub(), Sensor()


@dataclass(frozen=True, slots=True)
class Wheel:
    """A wheel: the tire as read, its measured overall diameter in mm, what it is made of."""

    tire: Reading | None = None
    overall_diameter_mm: float | None = None
    rim: Rim | None = None
    rim_brake: RimBrake | None = None
    rolled_mm: float | None = None  # circumference rolled out under the rider
    tone_ring_slots: float | None = None
    fitted: Fitted = NEW_TIRE
    hub: Hub = NO_HUB
    sensor: Sensor = NO_SENSOR
    axle_load_kg: float | None = None  # weighed, with rider and luggage

    def __post_init__(self) -> None:
        check_figures(self, "overall_diameter_mm", "rolled_mm", "tone_ring_slots", "axle_load_kg")

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

        Another tire drops the old measured diameter and what was known of the old tire; another
        bead seat drops the old rim and hub; a diameter alone keeps the tire.
        """
        tire = change.tire or self.tire
        diameter = change.overall_diameter_mm
        if diameter is None and change.tire is None:
            diameter = self.overall_diameter_mm
        moved = self.is_another(change)
        rim = change.rim if moved or self.rim is None else self.rim
        if change.rim is not None and rim is not None:
            rim = merged(rim, change.rim)
        slots = change.tone_ring_slots
        return Wheel(
            tire=tire,
            overall_diameter_mm=diameter,
            rim=rim,
            rim_brake=self.rim_brake,
            tone_ring_slots=self.tone_ring_slots if slots is None else slots,
            fitted=merged(NEW_TIRE if change.tire else self.fitted, change.fitted),
            hub=change.hub if moved else merged(self.hub, change.hub),
            sensor=change.sensor,
            axle_load_kg=self.axle_load_kg,
        )

    def is_another(self, change: "WheelChange") -> bool:
        """Whether a proposal means another wheel: its tire sits on another bead seat."""
        seat = self._bead_seat()
        return (
            change.tire is not None
            and seat is not None
            and change.tire.bead_seat_diameter_mm != seat
        )

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
    tone_ring_slots: float | None = None
    fitted: Fitted = NEW_TIRE
    hub: Hub = NO_HUB
    sensor: Sensor = NO_SENSOR

    def __post_init__(self) -> None:
        check_figures(self, "overall_diameter_mm", "tone_ring_slots")


UNCHANGED = WheelChange()


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
        try:
            return self.at(end).diameter_mm / 2
        except Refusal as refusal:
            raise refusal.under(end) from None


@dataclass(frozen=True, slots=True)
class WheelSpec:
    """What the vehicle maker asks of one wheel; None where the sheet is silent."""

    tire: Reading | None = None
    load_index: int | None = None
    speed_symbol: str | None = None
    construction: str | None = None
    rim_width_mm: tuple[float, float] | None = None
    make: str | None = None
    pressure_kpa: float | None = None  # cold
    most_load_kg: float | None = None  # on the axle
    rotor_most_mm: float | None = None  # of fork or frame

    def __post_init__(self) -> None:
        check_range(self.rim_width_mm, "rim_width_mm", least=5, most=400)
        check_figures(self, "pressure_kpa", "most_load_kg", "rotor_most_mm")


NO_SPEC = WheelSpec()


@dataclass(frozen=True, slots=True)
class ApprovedPair:
    """One pair of tires on the maker's sheet, and the rear position it goes with."""

    name: str
    front: WheelSpec
    rear: WheelSpec
    position: str | None = None

    def at(self, end: End) -> WheelSpec:
        """Return what this pair asks at one end."""
        return self.front if end == "front" else self.rear

    def names(self, wheels: Wheels) -> bool:
        """Whether it is the pair these wheels wear, by size."""
        return same_size(self.front.tire, wheels.front.tire) and same_size(
            self.rear.tire, wheels.rear.tire
        )


def same_size(one: Reading | None, other: Reading | None) -> bool:
    """Whether two marks name the same size: width, aspect and bead seat."""
    if one is None or other is None:
        return False
    return (one.width_mm, one.aspect_percent, one.bead_seat_diameter_mm) == (
        other.width_mm,
        other.aspect_percent,
        other.bead_seat_diameter_mm,
    )
