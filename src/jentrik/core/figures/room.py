r"""How wide a tire may be, and the room it has at every distance from the axle.

        \         /      two sides: half their inside width runs straight from line to line,
         \  ___  /       b = p + q d, the least clearance taken off
          \/   \/
           |   |         the tire: an ellipse, w wide and a w high, from the bead seat out
        ---+---+---      d = 0 at the bead seat

Half the tire's width at d is sqrt(d (a w - d)) / a, so it clears b there as long as

    w <= d / a + a b^2 / d        least at  d = a |p| / sqrt(1 + a^2 q^2),  convex in d

and a limit straight ahead at L as long as  bead seat radius + a w <= L less the least clearance.

Source: derived; the tests find the same widths by bisection on points of the ellipse.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from jentrik.core.figures.clearance import (
    FLEX,
    GROWTH,
    MUD,
    Take,
    growth_mm,
    over_usual_rim_mm,
    usual_least,
)
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.room_line import RoomLine
from jentrik.core.machine.wheel import Wheel
from jentrik.core.tire.tables.iso5775 import BEAD_SEATS_MM
from jentrik.core.tire.tables.motorcycle_sizes import RIM_CODES, bead_seat_of_rim_code
from jentrik.core.tire.tables.rim_width import SECTION_PER_RIM_MM
from jentrik.core.work.policy import Policy

_HAIR_MM = 1e-9  # what arithmetic may lose of a width that just goes


@dataclass(frozen=True, slots=True)
class Shifts:
    """How far each axle went from the places along its stays or blades, mm.

    A fork that becomes longer may take the wheel past a place of the frame, so that of the front
    axle against the frame only what comes nearer counts.
    """

    rear: float = 0.0
    fork: float = 0.0
    cup: float = 0.0

    def of(self, line: RoomLine) -> float:
        """Return how far the axle went from a line."""
        if line.wheel == "rear":
            return self.rear
        return self.fork if line.on == "fork" else min(self.fork + self.cup, 0.0)


AS_FOUND = Shifts()


@dataclass(frozen=True, slots=True)
class Side:
    """One stretch between two lines of one name: distances from the axle, half widths, minima."""

    name: str
    start: RoomLine
    end: RoomLine
    least: tuple[float, float]

    def half_inside_mm(self, from_axle_mm: float) -> float:
        """Return half the inside width at a distance from the axle."""
        first, last = self.start.inside_mm or 0.0, self.end.inside_mm or 0.0
        return self._between(first, last, from_axle_mm) / 2

    def least_mm(self, from_axle_mm: float) -> float:
        """Return the least clearance at a distance from the axle."""
        return self._between(*self.least, from_axle_mm)

    def _between(self, first: float, last: float, at: float) -> float:
        length = self.end.from_axle_mm - self.start.from_axle_mm
        share = (at - self.start.from_axle_mm) / length if length else 0.0
        return first + share * (last - first)


@dataclass(frozen=True, slots=True)
class Room:
    """What surrounds one wheel: stretches of its sides, and limits ahead with their minima."""

    sides: tuple[Side, ...]
    ahead: tuple[tuple[RoomLine, float], ...]

    def reaches(self, from_axle_mm: float) -> bool:
        """Whether any side is known at a distance from the axle."""
        return any(
            side.start.from_axle_mm <= from_axle_mm <= side.end.from_axle_mm for side in self.sides
        )


def room_of(bike: Bike, end: End, policy: Policy, shifts: Shifts = AS_FOUND) -> Room:
    """Return the room around one wheel, its distances as an axle that moved leaves them."""
    lines = [
        replace(line, from_axle_mm=max(line.from_axle_mm + shifts.of(line), _HAIR_MM))
        if shifts.of(line)
        else line
        for line in bike.room
        if line.wheel == end
    ]
    by_name: dict[str, list[RoomLine]] = {}
    for line in lines:
        if line.inside_mm is not None:
            by_name.setdefault(line.name.strip().casefold(), []).append(line)
    beside, ahead = (usual_least(bike, way, policy) for way in ("side", "radial"))
    sides = []
    for there in by_name.values():
        there.sort(key=lambda line: line.from_axle_mm)
        for start, stop in pairwise(there if len(there) > 1 else there * 2):
            least = _least(start, beside), _least(stop, beside)
            sides.append(Side(start.name, start, stop, least))
    limits = tuple((line, _least(line, ahead)) for line in lines if line.inside_mm is None)
    return Room(tuple(sides), limits)


def _least(line: RoomLine, usual: float) -> float:
    return usual if line.minimum_mm is None else line.minimum_mm


@dataclass(frozen=True, slots=True)
class Widest:
    """The widest tire of one bead seat that clears everywhere, mm, and what limits it where.

    None where no side is known at that tire's widest place.
    """

    wheel: End
    bead_seat_diameter_mm: float
    width_mm: float | None
    limited_by: str
    from_axle_mm: float | None


def widest(room: Room, end: End, seats: Sequence[float], aspect: float) -> Iterator[Widest]:
    """Yield the widest nominal width of each bead seat; `aspect` is height over width."""
    stretches = [*map(_stretch, room.sides)]
    ahead = [(line.from_axle_mm - least, line) for line, least in room.ahead]
    for seat in seats:
        radius = seat / 2
        limits = [limit for one in stretches for limit in _of_sides(one, radius, aspect)]
        limits += [((at - radius) / aspect, line.name, line.from_axle_mm) for at, line in ahead]
        if not limits:
            yield Widest(end, seat, None, "", None)
            continue
        width, name, at = min(limits)
        known = width <= 0 or room.reaches(radius + aspect * width / 2)
        tenths = max(math.floor(width * 10 + _HAIR_MM * 10) / 10, 0.0)
        yield Widest(end, seat, tenths if known else None, name, at)


_Stretch = tuple[str, float, float, float, float]  # name, start, end, room at the start, slope


def _stretch(side: Side) -> _Stretch:
    """Return a stretch with what is left of its half width once the least clearance is off."""
    start, stop = side.start.from_axle_mm, side.end.from_axle_mm
    first, last = (side.half_inside_mm(at) - side.least_mm(at) for at in (start, stop))
    return side.name, start, stop, first, (last - first) / (stop - start) if stop > start else 0.0


def _of_sides(
    stretch: _Stretch, radius: float, aspect: float
) -> Iterator[tuple[float, str, float]]:
    """Yield the widths a stretch leaves where it may be tightest: its ends and its lowest point."""
    name, start, stop, room, slope = stretch
    foot = room - slope * (start - radius)  # at the bead seat
    places = [start, stop, radius + aspect * abs(foot) / math.sqrt(1 + (aspect * slope) ** 2)]
    if start < radius:
        places[0] = radius
    if slope:
        places.append(radius - foot / slope)  # where nothing is left between the sides
    for at in places:
        d = at - radius
        if start <= at <= stop and d >= 0:
            b = max(foot + slope * d, 0.0)
            if d or not b:  # at the bead seat itself any tire is as narrow as none
                yield d / aspect + (aspect * b**2 / d if b else 0.0), name, at


def standard_seats(bike: Bike) -> tuple[float, ...]:
    """Return the standard bead seats of a kind of machine, and those that are on it, mm."""
    standard = (
        BEAD_SEATS_MM
        if bike.kind == "bicycle"
        else tuple(bead_seat_of_rim_code(code) for code in RIM_CODES)
    )
    on_it = [wheel.tire.bead_seat_diameter_mm for wheel in (bike.front, bike.rear) if wheel.tire]
    return tuple(sorted({*standard, *on_it}))


def widest_tires(bike: Bike, policy: Policy, shifts: Shifts = AS_FOUND) -> tuple[Widest, ...]:
    """Return the widest tire at each end with lines, for every standard bead seat.

    A bicycle tire is as high as wide, a motorcycle tire as the one found is; without it nothing
    is said of a motorcycle.
    """
    found: list[Widest] = []
    for end in ENDS:
        aspect = aspect_of(bike, end)
        if aspect is not None and any(line.wheel == end for line in bike.room):
            found += widest(room_of(bike, end, policy, shifts), end, standard_seats(bike), aspect)
    return tuple(found)


def aspect_of(bike: Bike, end: End) -> float | None:
    """Return height over width of the tires looked for at an end; None where it is not known."""
    tire = bike.wheels.at(end).tire
    if bike.kind == "bicycle":
        return 1.0
    if tire is None or not tire.width_mm or not tire.section_height_mm:
        return None
    return tire.section_height_mm / tire.width_mm


@dataclass(frozen=True, slots=True)
class Gap:
    """The least room a tire has at one side or limit: where, how much, and what is asked there."""

    name: str
    wheel: End
    direction: str
    from_axle_mm: float
    gap_mm: float
    least_mm: float
    stated: bool  # whether the least was stated for it, or is the shop's
    takes: tuple[Take, ...] = ()

    @property
    def key(self) -> tuple[str, End, str]:
        """What tells it from the others: its name as names are compared, wheel and direction."""
        return self.name.strip().casefold(), self.wheel, self.direction

    @property
    def short_mm(self) -> float:
        """How far the gap is below its least; less than nothing where it is not."""
        return self.least_mm - self.gap_mm

    @property
    def on_the_road_mm(self) -> float:
        """What is left when ridden."""
        return self.gap_mm - sum(take.mm for take in self.takes)


def gaps(bike: Bike, wheel: Wheel, end: End, policy: Policy, shifts: Shifts) -> tuple[Gap, ...]:
    """Return the least gap of a wheel at each name, the tightest against its least first."""
    if not bike.room or wheel.tire is None or wheel.width_mm is None:
        return ()
    tightest: dict[tuple[str, End, str], Gap] = {}
    for gap in _gaps(room_of(bike, end, policy, shifts), wheel, end):
        known = tightest.get(gap.key)
        if known is None or gap.short_mm > known.short_mm:
            tightest[gap.key] = gap
    there = [replace(gap, takes=_takes(bike, wheel, gap, policy)) for gap in tightest.values()]
    return tuple(sorted(there, key=lambda gap: -gap.short_mm))


def _gaps(room: Room, wheel: Wheel, end: End) -> Iterator[Gap]:
    width = section_mm(wheel)
    assert wheel.tire is not None
    assert width is not None
    seat, outer = wheel.tire.bead_seat_diameter_mm / 2, wheel.diameter_mm / 2
    height = outer - seat
    for side in room.sides:
        start, stop = max(side.start.from_axle_mm, seat), min(side.end.from_axle_mm, outer)
        if stop < start:
            continue
        spread = [side.half_inside_mm(at) - side.least_mm(at) for at in (start, stop)]
        slope = (spread[1] - spread[0]) / (stop - start) if stop > start else 0.0
        lean = slope * height / width
        lowest = seat + height / 2 * (1 - lean / math.sqrt(1 + lean**2))
        for at in {start, stop, min(max(lowest, start), stop)}:
            half = math.sqrt(max((at - seat) * (outer - at), 0.0)) * width / height
            least = side.least_mm(at)
            stated = side.start.minimum_mm is not None and side.end.minimum_mm is not None
            yield Gap(side.name, end, "side", at, side.half_inside_mm(at) - half, least, stated)
    for line, least in room.ahead:
        stated = line.minimum_mm is not None
        at = line.from_axle_mm
        yield Gap(line.name, end, "radial", at, at - outer, least, stated)


def section_mm(wheel: Wheel) -> float | None:
    """Return a tire's width in mm: nominal, or as it sits on its rim where that is known."""
    width, over = wheel.width_mm, over_usual_rim_mm(wheel)
    return width if width is None or over is None else width + SECTION_PER_RIM_MM * over


def _takes(bike: Bike, wheel: Wheel, gap: Gap, policy: Policy) -> tuple[Take, ...]:
    """Return what the road takes of a gap; the width on the rim is in it already."""
    motor, room = bike.kind == "motorcycle", policy.room
    takes: Mapping[str, float | None] = {
        MUD: room.mud_mm if bike.riding.ground == "mud" else None,
        FLEX: (room.flex_motorcycle_mm if motor else room.flex_bicycle_mm)
        if gap.direction == "side"
        else None,
        GROWTH: growth_mm(wheel, top_speed_kmh=bike.riding.top_speed_kmh, policy=policy)
        if motor and gap.direction == "radial"
        else None,
    }
    return tuple(Take(name, taken) for name, taken in takes.items() if taken)
