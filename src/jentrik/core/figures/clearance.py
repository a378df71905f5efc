r"""What another tire leaves of a gap measured with the tire as found, at rest and on the road.

    radial gap' = |P - A'| - R'             side gap' = gap + w(r) - w'(r')

P is the measured place in the chassis's frame, A' the axle as the proposal leaves it there, R' the
outer radius, w the half width of the tire at the place's distance r from the axle.  With the axle
where it was, the first is gap - change of outer radius; for a side place whose distance no one
measured the widest parts are compared: gap - half the width change.  A radial place on the fork
goes with it: a fork longer by dL takes its crown dL further from the axle.  A place that moves
with the wheel (arch, brace and fender on the lower legs, hugger on the swingarm) keeps its distance
to the axle whatever travel, tubes in the clamps, shock or link do; another fork, known by its
offset, means measuring again.  Where the axle moves and no one said in which direction the place
lies, the gap must be measured again too.

The worst case takes off what the road takes: the width on this very rim, growth with speed, flex,
mud, a slack chain, the tightest spot on the way to full travel where the place stays with the
body, and the turned bar where a place on the frame lies beside or behind the front wheel.  A
chain line further out takes the chain with it.
Sources: arithmetic; the trade's way of measuring; UN R75 for width on rims.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from jentrik.core.amounts import MINUS, Shown, rounded
from jentrik.core.geometry.frame import Point
from jentrik.core.geometry.turned_wheel import turned_room
from jentrik.core.machine.declared import End
from jentrik.core.machine.machine import Bike, Clearance
from jentrik.core.machine.wheel import Wheel
from jentrik.core.tire.tables import rim_width
from jentrik.core.tire.tire_on_rim import measured_on_mm
from jentrik.core.work.policy import Policy

MEASURE_AGAIN = "The axle moves relative to this place: measure the clearance again."
WIDTH_UNKNOWN = "A nominal width is unknown: measure the clearance again with the new tire."
GROWN_FULLY_KMH = 200.0  # common practice: what the growth figures are stated for


@dataclass(frozen=True, slots=True)
class Take:
    """What the road takes of a gap: its name and mm; less than none gives room."""

    name: str
    mm: float


@dataclass(frozen=True, slots=True)
class PredictedClearance:
    """A measured place and the gap predicted there, mm; None where it cannot be predicted.

    `takes` lead to the worst case; `not_counted` says what no one gave a figure for.
    """

    place: Clearance
    predicted_gap_mm: float | None
    note: str | None = None
    least_mm: float | None = None
    takes: tuple[Take, ...] = ()
    not_counted: tuple[str, ...] = ()
    full_travel_found_mm: float | None = None  # the room at full travel as found
    touches_found_mm: float | None = None  # what the tire itself leaves on the road as found
    follows_mm: float | None = None  # what follows from now, where it was read with this set-up

    @property
    def ok(self) -> bool | None:
        """Whether the predicted gap keeps the stated minimum; None where either is unknown."""
        if self.predicted_gap_mm is None or self.place.minimum_mm is None:
            return None
        return self.predicted_gap_mm >= self.place.minimum_mm

    @property
    def worst_case_gap_mm(self) -> float | None:
        """What is left on the road, of everything that is known."""
        if self.predicted_gap_mm is None:
            return None
        return self.predicted_gap_mm - sum(take.mm for take in self.takes)

    @property
    def touches_mm(self) -> float | None:
        """What the tire itself leaves on the road: of all it takes but the mud between."""
        worst = self.worst_case_gap_mm
        return None if worst is None else worst + self.taken_by(MUD)

    @property
    def below_least(self) -> bool:
        """Whether less is predicted than the minimum stated, else the usual one, asks for."""
        gap, least = self.predicted_gap_mm, self.least_mm
        return gap is not None and least is not None and gap < least

    def left(self, gap_mm: float) -> str:
        """Return a gap in mm as text: whole, or to 0.1 where rounding would hide what is short."""
        whole = round(gap_mm)
        hidden = self.least_mm is not None and gap_mm < self.least_mm <= whole
        hidden = hidden or (gap_mm < 0 <= whole)
        return rounded(gap_mm, 1 if hidden else 0)

    def fouls_by(self, gap_mm: float) -> str:
        """Return how far in mm a tire goes into a place, as text."""
        return Shown(self.left(gap_mm).lstrip(MINUS), abs(gap_mm))

    def taken_by(self, name: str) -> float:
        """Return what one thing takes in mm; nothing where it takes none."""
        return sum(take.mm for take in self.takes if take.name == name)


GROWTH, TRAVEL, FLEX, MUD, CHAIN, RIM, TURNED = (
    "growth with speed",
    "full travel",
    "flex",
    "mud",
    "slack chain",
    "width on this rim",
    "bar turned",
)


@dataclass(frozen=True, slots=True)
class Steering:
    """The steering as a proposal leaves it: degrees, mm; how far the bar turns to each side."""

    head_angle_deg: float
    offset_mm: float
    lock_deg: float | None = None


@dataclass(frozen=True, slots=True)
class AxleMoves:
    """How a proposal moves the axles: by fork, by headset, in the frame; the axles themselves.

    Axles in the chassis's frame: as found, as planned, and the planned one's way to full travel
    (None unknown).
    """

    fork_changed: bool
    another_fork: bool
    fork_longer_mm: float
    head_moved: bool  # by a cup, or by a headset that turns the axis
    rear_shifted: bool
    rear_in_dropout: bool  # against the swingarm or the stays, not with them
    found: dict[str, Point]
    planned: dict[str, Point]
    to_full: Mapping[End, tuple[Point, ...] | None]
    found_to_full: Mapping[End, tuple[Point, ...] | None]
    steering: Steering


def predict_clearance(
    place: Clearance,
    *,
    bike: Bike,
    found: Wheel,
    planned: Wheel,
    moves: AxleMoves,
    policy: Policy,
    read_mm: float | None = None,
) -> PredictedClearance:
    """Return the gap predicted at one place; a negative figure fouls and is not clamped.

    A gap that was read with this very set-up on, `read_mm`, is taken as it was read.
    """
    gap, note = _gap_at(place, found, planned, moves, moves.planned[place.wheel])
    follows = None
    if read_mm is not None:
        gap, note, follows = read_mm, None, gap
    least = place.minimum_mm
    if least is None:
        least = usual_least(bike, place.direction, policy)
    if gap is None:
        return PredictedClearance(place, None, note, least)
    takes, not_counted = _takes(place, bike, found, planned, moves, policy, gap)
    now = PredictedClearance(place, gap, note, least, takes, not_counted, follows_mm=follows)
    touches = now.touches_mm or 0.0
    if touches >= 0 and not now.taken_by(TRAVEL):
        return now
    as_found = replace(moves, planned=moves.found, to_full=moves.found_to_full)
    before = place.gap_mm
    known, _ = _takes(place, bike, found, found, as_found, policy, before)
    then = PredictedClearance(place, before, None, least, known)
    travels = any(take.name == TRAVEL for take in known)
    return replace(
        now,
        full_travel_found_mm=before - then.taken_by(TRAVEL) if travels else None,
        touches_found_mm=then.touches_mm,
    )


def usual_least(bike: Bike, direction: str, policy: Policy) -> float:
    """Return the least gap in mm where no one stated one: the shop's, by kind and direction."""
    room = policy.room
    if bike.kind == "bicycle":
        return room.racing_mm if bike.riding.use == "racing" else room.bicycle_mm
    return room.motorcycle_tread_mm if direction == "radial" else room.motorcycle_side_mm


def _gap_at(
    place: Clearance, found: Wheel, planned: Wheel, moves: AxleMoves, axle: Point
) -> tuple[float | None, str | None]:
    """Return the gap with the axle somewhere in the chassis's frame, or why it is not known."""
    start = moves.found[place.wheel]
    if place.direction == "side":
        return _side_gap(place, found, planned, moves, start, axle)
    grown = (planned.diameter_mm - found.diameter_mm) / 2
    if place.moves_with == "wheel":
        return (None, MEASURE_AGAIN) if _moved(place, moves) else (place.gap_mm - grown, None)
    if place.on == "fork":
        return place.gap_mm - grown + moves.fork_longer_mm, None
    if place.bearing_deg is None:
        moved = _moved(place, moves)
        return (None, MEASURE_AGAIN) if moved else (place.gap_mm - grown, None)
    reach = found.diameter_mm / 2 + place.gap_mm
    return _distance(_spot(start, place.bearing_deg, reach), axle) - planned.diameter_mm / 2, None


def _moved(place: Clearance, moves: AxleMoves) -> bool:
    """Whether the proposal moves the axle relative to a place."""
    if place.moves_with == "wheel":
        return moves.rear_in_dropout if place.wheel == "rear" else moves.another_fork
    if place.wheel == "rear":
        return moves.rear_shifted
    if place.on == "fork":
        return moves.fork_changed
    return moves.fork_changed or moves.head_moved


def _side_gap(
    place: Clearance, found: Wheel, planned: Wheel, moves: AxleMoves, start: Point, axle: Point
) -> tuple[float | None, str | None]:
    moved = _moved(place, moves)
    known = place.from_axle_mm is not None and (not moved or place.bearing_deg is not None)
    fixed = place.on == "fork" or place.moves_with == "wheel"  # another fork has other legs
    if moved and (fixed or not known):
        return None, MEASURE_AGAIN
    if planned.width_mm is None or found.width_mm is None:
        return None, WIDTH_UNKNOWN
    gap = place.gap_mm + _chain_goes_out(place, found, planned)
    if place.from_axle_mm is None:
        return gap - (planned.width_mm - found.width_mm) / 2, None
    there = place.from_axle_mm
    if place.bearing_deg is not None and place.moves_with != "wheel":
        there = _distance(_spot(start, place.bearing_deg, place.from_axle_mm), axle)
    old, new = half_width(found, place.from_axle_mm), half_width(planned, there)
    return gap + old - new, None


def _at_chain(place: Clearance) -> bool:
    """Whether a side place is the chain itself, by its name."""
    name = place.name.casefold()
    return "chain" in name and "stay" not in name


def _chain_goes_out(place: Clearance, found: Wheel, planned: Wheel) -> float:
    """Return how far another hub takes the chain away from the tire, mm."""
    old, new = found.hub.chain_line_mm, planned.hub.chain_line_mm
    return new - old if _at_chain(place) and old is not None and new is not None else 0.0


def half_width(wheel: Wheel, from_axle_mm: float) -> float:
    """Return half a tire's width in mm at a distance from the axle; nothing beyond the tread.

    The section is taken as an oval as high as the tire; inside the bead seat, as at the bead.
    """
    width, tire = wheel.width_mm, wheel.tire
    if width is None or tire is None:
        return 0.0
    inner, outer = tire.bead_seat_diameter_mm / 2, wheel.diameter_mm / 2
    middle, half = (inner + outer) / 2, (outer - inner) / 2
    off = (from_axle_mm - middle) / half
    if off >= 1:
        return 0.0
    if off < 0:
        off = max(off, -_AT_BEAD)
    return width / 2 * math.sqrt(1 - off**2)


_AT_BEAD = 0.8  # of half the height: where the oval is as wide as the rim, 0.6 of the width


def _spot(axle: Point, bearing_deg: float, reach_mm: float) -> Point:
    bearing = math.radians(bearing_deg)
    return axle[0] + reach_mm * math.cos(bearing), axle[1] + reach_mm * math.sin(bearing)


def _distance(a: Point, b: Point) -> float:
    return math.hypot(float(a[0]) - float(b[0]), float(a[1]) - float(b[1]))


def growth_mm(wheel: Wheel, *, top_speed_kmh: float | None, policy: Policy) -> float | None:
    """Return what a motorcycle tire gains at the tread in mm at the top speed it is ridden at.

    With the square of speed, never beyond the tire's own symbol, never more than the full
    figure; None where casing or speed is not known.  Source: common practice, derived between.
    """
    tire = wheel.tire
    if tire is None or tire.construction is None:
        return None
    known = [speed for speed in (top_speed_kmh, tire.speed_kmh) if speed is not None]
    if not known:
        return None
    room = policy.room
    full = room.bias_growth_mm if tire.construction == "bias" else room.belted_growth_mm
    return full * min(min(known) / GROWN_FULLY_KMH, 1.0) ** 2


def _takes(
    place: Clearance,
    bike: Bike,
    found: Wheel,
    planned: Wheel,
    moves: AxleMoves,
    policy: Policy,
    gap: float,
) -> tuple[tuple[Take, ...], tuple[str, ...]]:
    takes: list[tuple[str, float | None]] = []
    if bike.riding.ground == "mud":
        takes.append((MUD, policy.room.mud_mm))
    if place.direction == "side":
        takes.append((RIM, _wider_on_rim(found, planned)))
        motor = bike.kind == "motorcycle"
        room = policy.room
        takes.append((FLEX, room.flex_motorcycle_mm if motor else room.flex_bicycle_mm))
        if _at_chain(place):
            takes.append((CHAIN, policy.room.chain_mm))
        if place.wheel == "front" and place.on == "frame":
            takes.append((TURNED, _turning_takes(place, found, planned, moves, gap)))
    else:
        if bike.kind == "motorcycle":
            takes.append(
                (GROWTH, growth_mm(planned, top_speed_kmh=bike.riding.top_speed_kmh, policy=policy))
            )
        if bike.suspension.at(place.wheel).travel_mm:
            takes.append((TRAVEL, _travel_takes(place, found, planned, moves, gap)))
    known = tuple(Take(name, mm) for name, mm in takes if mm)
    return known, tuple(name for name, mm in takes if mm is None)


def _travel_takes(
    place: Clearance, found: Wheel, planned: Wheel, moves: AxleMoves, gap: float
) -> float | None:
    """Return what the tightest spot to full travel takes in mm; None where it is unknown."""
    if place.moves_with == "wheel":
        return 0.0
    way = moves.to_full[place.wheel]
    if place.moves_with is None or place.bearing_deg is None or way is None:
        return None
    if place.on == "fork":  # a place of the crown, measured from where the planned wheel stands
        spot = _spot(moves.planned[place.wheel], place.bearing_deg, planned.diameter_mm / 2 + gap)
    else:
        reach = found.diameter_mm / 2 + place.gap_mm
        spot = _spot(moves.found[place.wheel], place.bearing_deg, reach)
    left = min(_distance(spot, axle) for axle in way) - planned.diameter_mm / 2
    return gap - left


def _turning_takes(
    place: Clearance, found: Wheel, planned: Wheel, moves: AxleMoves, gap: float
) -> float | None:
    """Return what the bar, turned as far as it goes, takes in mm; None where that is unknown."""
    steering, width = moves.steering, planned.width_mm
    if steering.lock_deg is None or place.bearing_deg is None or place.from_axle_mm is None:
        return None
    if width is None:
        return None
    x, y = _spot(moves.found["front"], place.bearing_deg, place.from_axle_mm)
    out = half_width(found, place.from_axle_mm) + place.gap_mm
    room = turned_room(
        np.array([[x, y, out]]),
        bar_deg=np.linspace(-steering.lock_deg, steering.lock_deg, _BAR_STEPS),
        front_axle=moves.planned["front"],
        head_angle_deg=steering.head_angle_deg,
        offset_mm=steering.offset_mm,
        radius_mm=planned.diameter_mm / 2,
        tire_width_mm=width,
    )
    return max(gap - float(room.min()), 0.0)


_BAR_STEPS = 49


def _wider_on_rim(found: Wheel, planned: Wheel) -> float | None:
    """Return what rims wider or narrower than the usual ones take of a side, mm.

    0.4 mm of section for each mm of rim, half of it at either side.  Source: UN R75 annex.
    """
    new = over_usual_rim_mm(planned)
    old = over_usual_rim_mm(found)
    if new is None or old is None:
        return None
    return rim_width.SECTION_PER_RIM_MM * (new - old) / 2


def over_usual_rim_mm(wheel: Wheel) -> float | None:
    """Return how much wider a wheel's rim is than its tire is usually measured on, mm."""
    tire, rim = wheel.tire, wheel.rim
    usual = None if tire is None else measured_on_mm(tire)
    if usual is None or rim is None or rim.inner_width_mm is None:
        return None
    return rim.inner_width_mm - usual
