"""The wheels of a machine, as found, as the maker specifies them, and as a proposal leaves them.

Lengths mm, loads kg, pressures kPa; None is not known.  A measured figure always wins over the
tire's code.  What belongs to a tire goes with it, what belongs to a wheel goes when another bead
seat means another wheel, and what belongs to frame and fork stays.
"""

from dataclasses import dataclass, replace
from typing import Annotated, Literal, TypeVar

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.machine.build import BRAKE_AND_DRIVE, Brake
from jentrik.core.machine.declared import (
    BICYCLE,
    MOTORCYCLE,
    About,
    Declared,
    End,
    Guide,
    Part,
    about,
    check_figures,
    check_range,
)
from jentrik.core.tire.dates import DateReading, date_of
from jentrik.core.tire.reading import Reading

Arrow = Literal["with the arrow", "against the arrow"]
Alike = Literal["same", "other"]
Guard = Literal["mudguard", "none"]

P = TypeVar("P", "Rim", "RimBrake", "Fitted", "Hub", "Sensor", "WheelSpec")


def merged(old: P, new: P) -> P:
    """Return a value of parts with what the new one says over what the old one said."""
    said = {
        name: value
        for name in new.__dataclass_fields__
        if (value := getattr(new, name)) is not None
    }
    return replace(old, **said) if said else old


@dataclass(frozen=True, slots=True)
class Rim(Declared, path="{end}.rim", group="{End} wheel", part=Part.WHEEL):
    """A rim: bead seat, inner width, how it holds air and bead, how it is built, what it takes."""

    bead_seat_diameter_mm: Annotated[
        float | None,
        About(
            "Rim bead seat, {end}",
            (80, 900),
            "whether tire and rim belong together",
            guide=Guide(
                2,
                "tape round the rim",
                "The tire's name fits several rims. Tire off, tape round the bead seat, divided "
                "by 3.1416.",
                "{end}-rim",
            ),
        ),
    ] = None
    inner_width_mm: Annotated[
        float | None,
        About(
            "Rim inner width",
            (5, 400),
            "whether tire width and rim go together",
            gauge="short length",
        ),
    ] = None
    tube: Annotated[
        Literal["tubeless", "tube-type"] | None, About("Rim made for", None, "tubeless or tube")
    ] = None
    build: Annotated[
        Literal["laced", "cast"] | None,
        About("Wheel is", None, "whether the card has spokes and tape", kinds=MOTORCYCLE),
    ] = None
    hooks: Annotated[
        Literal["hooked", "hookless"] | None,
        About("Rim holds the bead by", None, "how much air the rim takes", kinds=BICYCLE),
    ] = None
    most_kpa: Annotated[
        float | None,
        About("Max pressure of the rim", (10, 1500), "how much air the rim takes", kinds=BICYCLE),
    ] = None
    most_kpa_at_mm: Annotated[
        float | None,
        About(
            "Tire width that pressure is stated for",
            (10, 200),
            "how much air the rim takes with a wider tire",
            kinds=BICYCLE,
        ),
    ] = None
    valve_hole_mm: Annotated[
        float | None, About("Valve hole", (3, 15), "whether the valve goes through", kinds=BICYCLE)
    ] = None
    tape_mm: Annotated[  # width of the rim tape
        float | None,
        About("Rim tape, width", (5, 150), "whether it covers the rim's bed", kinds=BICYCLE),
    ] = None
    locks: Annotated[
        Literal["none", "one", "two"] | None,
        About("Rim locks", None, "whether the card has the locks' steps", kinds=MOTORCYCLE),
    ] = None
    # Diameter at the seats of the nipples.
    effective_mm: Annotated[float | None, About(between=(80, 900))] = None


CALIPERS_REACH_MM = (35.0, 120.0)  # calipers that are made, from bolt to pad (from memory)


@dataclass(frozen=True, slots=True)
class RimBrake(Declared, path="{end}.rim_brake", group="{End} wheel", kinds=BICYCLE):
    """A brake on the rim: bolt or boss to pad as it stands, and the slot, mm.

    A caliper hangs from a bolt above the rim, a cantilever stands on a boss below it.
    """

    pad_reach_mm: Annotated[
        float | None,
        About(
            "Rim brake, bolt or boss to pad",
            (10, 200),
            "how far the brake pads must move",
            of_frame=True,
            gauge="short length",
            guide=Guide(
                22, "tape", "Only with rim brakes: bolt to the middle of the pad.", "brake"
            ),
        ),
    ] = None
    mount: Annotated[
        Literal["bolt above", "boss below"] | None,
        About("Rim brake mount", None, "which way the pads must move"),
    ] = None
    slot_mm: Annotated[
        tuple[float, float] | None,
        About(
            "Caliper slot, minimum",
            (10, 200),
            "whether the pads reach the new rim",
            key="slot_least_mm",
            gauge="short length",
            guide=Guide(
                22, "calipers", "Bolt to the middle of the pad at the top of its slot.", "brake"
            ),
        ),
        About(
            "Caliper slot, maximum",
            (10, 200),
            "whether the pads reach the new rim",
            key="slot_most_mm",
            gauge="short length",
            guide=Guide(
                22, "calipers", "Bolt to the middle of the pad at the foot of its slot.", "brake"
            ),
        ),
    ] = None

    def __post_init__(self) -> None:
        check_figures(self)
        check_range(RimBrake, "slot_mm", self.slot_mm)

    def needed_reach_mm(self, falls_mm: float | None) -> float | None:
        """Return how far the pads must sit from bolt or boss on a rim nearer to the hub, mm."""
        if falls_mm is None or self.pad_reach_mm is None:
            return None
        return self.pad_reach_mm + (-falls_mm if self.mount == "boss below" else falls_mm)

    def caliper_reach_mm(self, falls_mm: float | None) -> float | None:
        """Return the reach of a caliper that would serve the rim; None where none is made."""
        needed = self.needed_reach_mm(falls_mm)
        if needed is None or self.mount == "boss below":
            return None
        least, most = CALIPERS_REACH_MM
        return needed if least <= needed <= most else None


@dataclass(frozen=True, slots=True)
class Fitted(Declared, path="{end}.fitted", group="{End} wheel", part=Part.TIRE):
    """What is known of one tire beyond its code: who made it and when, tread, arrow, air."""

    valve: Annotated[
        Literal["narrow", "wide"] | None,
        About("Valve", None, "whether the valve goes through", kinds=BICYCLE),
    ] = None
    most_load_kg: Annotated[  # as on the sidewall, where no load index stands
        float | None,
        About(
            "Max load on sidewall",
            (5, 1000),
            "whether the tire carries rider and luggage",
            kinds=BICYCLE,
        ),
    ] = None
    rated_kmh: Annotated[  # by its maker
        float | None,
        About(
            "Rated for assisted cycles to",
            (5, 100),
            "whether the tire goes with the motor",
            kinds=BICYCLE,
        ),
    ] = None
    make: Annotated[
        str | None,
        About(
            "Make and model of the tire",
            None,
            "whether two makes are mixed",
            kinds=MOTORCYCLE,
            words=True,
        ),
    ] = None
    most_kpa: Annotated[  # a limit, never a setting
        float | None,
        About("Max pressure on sidewall", (10, 1500), "the wall no pressure goes beyond"),
    ] = None
    made: str | None = None  # week and year, as on the sidewall
    tread_mm: Annotated[float | None, About(between=(0, 40))] = None
    arrow: Arrow | None = None
    pressure_kpa: Annotated[float | None, About(between=(10, 1500), part=Part.PRESSURE)] = None
    two_up_kpa: Annotated[float | None, About(between=(10, 1500), part=Part.PRESSURE)] = None

    def __post_init__(self) -> None:
        check_figures(self)
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
class Hub(
    Declared,
    path="{end}.hub",
    group="Hubs and brakes",
    unlocks="the length of new spokes",
    part=Part.WHEEL,
):
    """What a hub needs of frame, fork and brake, and what it carries.

    Rotor mount and driver (what carries the sprockets) are given in the shop's own words.
    """

    spacing_mm: Annotated[
        float | None,
        About("Hub width, {end}", (40, 350), "whether another wheel goes in", gauge="short length"),
    ] = None
    axle_mm: Annotated[
        float | None,
        About(
            "Axle diameter, {end}", (4, 60), "whether another wheel goes in", gauge="short length"
        ),
    ] = None
    rotor_mm: Annotated[
        float | None,
        About(
            "Brake rotor, {end}",
            (80, 400),
            "whether the caliper meets another rotor",
            part=Part.ROTOR,
        ),
    ] = None
    rotor_thickness_mm: Annotated[
        float | None,
        About(
            "Rotor thickness at its thinnest, {end}",
            (0.5, 15),
            "whether the rotor is worn",
            part=Part.ROTOR,
            gauge="short length",
        ),
    ] = None
    rotor_minimum_mm: Annotated[
        float | None,
        About(
            "Minimum thickness marked on the rotor, {end}",
            (0.5, 15),
            "whether the rotor is worn",
            part=Part.ROTOR,
        ),
    ] = None
    rotor_mount: Annotated[
        str | None,
        About(
            "Rotor mounted by, {end}",
            None,
            "whether the rotor carries over",
            words=True,
            part=Part.ROTOR,
        ),
    ] = None
    left_circle_mm: Annotated[float | None, About("Spoke hole circle left, {end}", (15, 300))] = (
        None
    )
    left_flange_mm: Annotated[
        float | None, About("Left flange from the middle, {end}", (0, 120))
    ] = None
    right_circle_mm: Annotated[float | None, About("Spoke hole circle right, {end}", (15, 300))] = (
        None
    )
    right_flange_mm: Annotated[
        float | None, About("Right flange from the middle, {end}", (0, 120))
    ] = None
    spokes: Annotated[float | None, About("Spokes, {end}", (8, 144), counted="spokes")] = None
    crossings: Annotated[float | None, About("Crossings, {end}", (0, 6), counted="crossings")] = (
        None
    )
    driver: Annotated[
        str | None,
        About(
            "What carries the sprockets",
            None,
            "whether the sprockets carry over",
            words=True,
            end="rear",
        ),
    ] = None
    chain_line_mm: Annotated[
        float | None,
        About(
            "Chain line, wheel's middle to sprockets",
            (10, 250),
            "whether the chain runs straight, and clears the tire",
            end="rear",
        ),
    ] = None
    runout_mm: Annotated[float | None, About(between=(0, 50))] = None  # of the rim, at its worst

    def __post_init__(self) -> None:
        check_figures(self)
        for name, step in (("spokes", 2), ("crossings", 1)):
            count = getattr(self, name)
            if count is not None and count % step:
                raise OutOfRange(
                    f"{count:g} is no number of {name}.",
                    field=name,
                    expected="an even number" if step == 2 else "a whole number",
                )


@dataclass(frozen=True, slots=True)
class Sensor(Declared, path="{end}.sensor"):
    """What someone found out of another wheel's speed sensor, against the one as found."""

    face: Alike | None = None  # the mounting face of ring and rotor
    kind: Alike | None = None  # sensor type and voltage, by model year
    runout_mm: Annotated[float | None, About(between=(0, 50))] = None  # of the ring
    # Of the bolt circle the machine shop makes.
    holes: Annotated[float | None, About(between=(3, 16), counted="holes")] = None
    circle_mm: Annotated[float | None, About(between=(20, 400))] = None
    hole_mm: Annotated[float | None, About(between=(2, 20))] = None

    def __post_init__(self) -> None:
        check_figures(self)
        if self.holes is not None and not float(self.holes).is_integer():
            raise OutOfRange("Holes are counted whole.", field="holes", expected="a whole number")


NEW_TIRE, NO_HUB, NO_SENSOR = Fitted(), Hub(), Sensor()


@dataclass(frozen=True, slots=True)
class Wheel(Declared, path="{end}", group="{End} wheel"):
    """A wheel: the tire as read, its measured overall diameter in mm, what it is made of."""

    tire: Annotated[
        Reading | None,
        About(
            "Tire code",
            None,
            "everything",
            needed=True,
            part=Part.TIRE,
            guide=Guide(
                1,
                "eyes",
                "Read the whole size mark on the sidewall, brackets and letters too.",
                "tire",
            ),
        ),
    ] = None
    overall_diameter_mm: Annotated[
        float | None,
        About(
            "Measured diameter",
            (80, 2000),
            "the wheel as it is, not as its code says",
            part=Part.TIRE,
            guide=Guide(
                3,
                "two squares and a tape",
                "Pumped up and unloaded: floor to the top of the tread. A code alone is off by a "
                "few millimeters.",
                "{end}-diameter",
            ),
        ),
    ] = None
    rim: Rim | None = None
    fitted: Fitted = NEW_TIRE
    axle_load_kg: Annotated[
        float | None,
        About(
            "Axle weighed, rider and luggage on",
            (5, 1000),
            "whether the tire carries its axle",
            kinds=MOTORCYCLE,
            gauge="axle load",
        ),
    ] = None
    rolled_mm: Annotated[  # a turn
        float | None,
        About(
            "Rolled out under the rider",
            (250, 6000),
            "the wheel setting of a computer",
            of_frame=True,
        ),
    ] = None
    pads_mm: Annotated[
        float | None,
        About(
            "Lining left on the brake pads, {end}",
            (0, 30),
            "whether the brake pads are worn",
            gauge="short length",
        ),
    ] = None
    tone_ring_slots: Annotated[
        float | None,
        About(
            "Tone ring slots",
            (4, 400),
            "what ABS makes of another wheel",
            counted="slots",
            kinds=MOTORCYCLE,
            part=Part.TONE_RING,
        ),
    ] = None
    brake: Annotated[
        Brake | None,
        About(
            "Brake, {end}",
            None,
            "what the brake needs of another wheel",
            group=BRAKE_AND_DRIVE,
            part=Part.BRAKE,
            guide=Guide(
                22,
                "eyes",
                "Pads at the rim, a rotor or a drum at the hub, or neither.",
                "{end}-rim",
            ),
        ),
    ] = None
    rim_brake: RimBrake | None = None
    guard: Annotated[
        Guard | None,
        About(
            "Mudguard, {end}",
            None,
            "whether a guard limits the tire",
            kinds=BICYCLE,
            part=Part.GUARD,
        ),
    ] = None
    guard_inside_mm: Annotated[
        float | None,
        About(
            "Mudguard, inside width",
            (10, 300),
            "whether the tire goes under it",
            kinds=BICYCLE,
            part=Part.GUARD,
            gauge="short length",
            guide=Guide(
                33,
                "calipers",
                "Between its edges at the narrowest, where a stay or a bolt stands in too.",
                "{end}-guard",
            ),
        ),
    ] = None
    hub: Hub = NO_HUB
    sensor: Sensor = NO_SENSOR

    @property
    def brakes_by(self) -> Brake | None:
        """How it brakes: as said, else by what was measured of a brake; None is not known."""
        if self.brake is not None:
            return self.brake
        if self.rim_brake is not None:
            return "rim"
        return "disc" if self.hub.rotor_mm is not None or self.hub.rotor_mount else None

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
        slots, pads = change.tone_ring_slots, change.rim_brake
        if pads is not None:
            pads = merged(self.rim_brake or RimBrake(), pads)
        return replace(
            self,
            tire=tire,
            overall_diameter_mm=diameter,
            rim=rim,
            tone_ring_slots=self.tone_ring_slots if slots is None else slots,
            fitted=merged(NEW_TIRE if change.tire else self.fitted, change.fitted),
            brake=change.brake or self.brakes_by,
            rim_brake=pads or self.rim_brake,
            guard=change.guard or self.guard,
            guard_inside_mm=None
            if change.guard == "none"
            else change.guard_inside_mm or self.guard_inside_mm,
            hub=change.hub if moved else merged(self.hub, change.hub),
            sensor=change.sensor,
            rolled_mm=None,
        )

    def loses_guard(self, change: "WheelChange") -> bool:
        """Whether its mudguard comes off, for none or for another."""
        if self.guard == "none":
            return False
        another = change.guard_inside_mm not in (None, self.guard_inside_mm)
        return another or change.guard == "none"

    def rim_falls_mm(self, planned: "Wheel") -> float | None:
        """Return how much nearer to the hub the planned rim is, mm; None where it is not moved."""
        if self.tire is None or planned.tire is None:
            return None
        return (self.tire.bead_seat_diameter_mm - planned.tire.bead_seat_diameter_mm) / 2 or None

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
class WheelChange(Declared, path="{end}"):
    """What a proposal says of one wheel; None says nothing."""

    tire: Reading | None = None
    overall_diameter_mm: Annotated[float | None, about(Wheel, "overall_diameter_mm")] = None
    rim: Rim | None = None
    tone_ring_slots: Annotated[float | None, about(Wheel, "tone_ring_slots")] = None
    brake: Brake | None = None
    rim_brake: RimBrake | None = None
    guard: Annotated[Guard | None, about(Wheel, "guard")] = None
    guard_inside_mm: Annotated[float | None, about(Wheel, "guard_inside_mm")] = None
    fitted: Fitted = NEW_TIRE
    hub: Hub = NO_HUB
    sensor: Sensor = NO_SENSOR


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
class WheelSpec(Declared, path="spec.{end}", group="Maker's sheet"):
    """What the vehicle maker asks of one wheel; None where the sheet is silent."""

    tire: Reading | None = None
    load_index: Annotated[
        int | None,
        About(
            "Load index, {end}",
            (0, 279),
            "whether the tire carries enough",
            kinds=MOTORCYCLE,
            guide=Guide(36, "maker's sheet", "Beside the tire size in the papers.", "tire"),
        ),
    ] = None
    speed_symbol: Annotated[
        str | None,
        About("Speed symbol, {end}", None, "whether the tire is fast enough", kinds=MOTORCYCLE),
    ] = None
    construction: Annotated[
        str | None,
        About(
            "Construction, {end}",
            None,
            "whether the casing is the maker's",
            kinds=MOTORCYCLE,
            choices=("radial", "bias", "bias-belted"),
        ),
    ] = None
    most_load_kg: Annotated[
        float | None,
        About(
            "Max axle load, {end}", (5, 1000), "whether the tire carries its axle", kinds=MOTORCYCLE
        ),
    ] = None
    rotor_most_mm: Annotated[
        float | None,
        About(
            "Largest rotor allowed, {end}",
            (80, 400),
            "whether fork or frame take another rotor",
            guide=Guide(37, "maker's sheet", "As fork or frame maker states it.", "{end}-axle"),
        ),
    ] = None
    pressure_kpa: Annotated[
        float | None, About("Cold pressure, {end}", (10, 1500), "whether a pressure is too low")
    ] = None
    rim_width_mm: Annotated[
        tuple[float, float] | None,
        About(
            "Rim width {end}, minimum",
            (5, 400),
            "whether the maker allows this rim",
            key="rim_width_least_mm",
        ),
        About(
            "Rim width {end}, maximum",
            (5, 400),
            "whether the maker allows this rim",
            key="rim_width_most_mm",
        ),
    ] = None
    make: str | None = None

    def __post_init__(self) -> None:
        check_figures(self)
        check_range(WheelSpec, "rim_width_mm", self.rim_width_mm)


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
