"""Is there room for the tire, at rest and on the road?

ISO 4210-2 (from memory): 6 mm between tire and any frame or fork part, front mudguard or its
bolts on city, trekking, mountain and youth bicycles, 4 mm on racing bicycles.
"""

from jentrik.core.amounts import Amount, mm, rounded
from jentrik.core.figures.clearance import GROWTH, TRAVEL, TURNED, PredictedClearance
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHOPS,
    Case,
    PlaceCase,
    Severity,
    WheelCase,
    Words,
    magnitude,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, ISO_4210_2

STATED = COMMON_PRACTICE.at("the minimum clearance stated for the place")
CLEARANCES = ISO_4210_2.at("wheel and tire clearance")
PROVE = "Prove it at full travel by hand."
TWO_TAPES_MM = 3.0  # common practice: how far two careful readings of one gap may lie apart


_SAME_ROOM_MM = 0.05  # below it nothing was lost
_HERE = ("places",)
_UNDER_THE_GUARD = ("{end}.guard_inside_mm",)
GUARD_SIDE_MM = 5.0  # common practice: the room of a tire at each side of its mudguard
_FLEXES = ("room.flex_bicycle_mm", "room.flex_motorcycle_mm", "room.chain_mm")


def _tenths(gap_mm: float) -> Amount:
    return mm(rounded(gap_mm, 1))


@rule(
    "clearance-below-minimum",
    Severity.STOP,
    title="Clearance below its minimum",
    source=STATED,
    needs=_HERE,
    limit="the minimum stated for the place",
)
def below_minimum(spot: PlaceCase) -> Words | None:
    """Name a place where less than the minimum stated for it would be left."""
    place, gap = spot.place, spot.clearance.predicted_gap_mm
    if spot.clearance.ok is not False or gap is None:
        return None
    if gap < 0:
        headline = f"{place.name}: fouls by {mm(spot.clearance.fouls_by(gap))}"
    else:
        headline = f"{place.name}: {mm(spot.clearance.left(gap))} left"
    return Words(
        headline,
        f"{mm(place.gap_mm):g} are there now; the {place.wheel} tire would leave {_tenths(gap)}, "
        f"and at least {mm(place.minimum_mm):g} are asked for. Choose a smaller tire or another "
        "way.",
    )


@rule(
    "clearance-fouls",
    Severity.STOP,
    title="Tire touches at rest",
    source=DERIVED,
    needs=_HERE,
    limit=f"{mm(0)}",
)
def fouls(spot: PlaceCase) -> Words | None:
    """Name a place the tire would touch at rest, where no least gap is stated."""
    place, gap = spot.place, spot.clearance.predicted_gap_mm
    if place.minimum_mm is not None or gap is None or gap >= 0:
        return None
    return Words(
        f"{place.name}: fouls by {mm(spot.clearance.fouls_by(gap))}",
        f"{mm(place.gap_mm):g} are there now; the {place.wheel} tire needs {mm(magnitude(gap, 1))} "
        "more than that. Choose a smaller tire or another way.",
    )


@rule(
    "tire-under-guard",
    Severity.STOP,
    title="Tire and mudguard",
    source=COMMON_PRACTICE,
    needs=_UNDER_THE_GUARD,
    only_with=("{end}.guard",),
    kinds=BICYCLES,
    limit="the guard's inside width",
)
def wider_than_the_guard(wheel: WheelCase) -> Words | None:
    """Name a tire as wide as the mudguard it would run under, or wider."""
    widths = _tire_and_guard(wheel)
    if widths is None or widths[0] < widths[1]:
        return None
    return Words(
        f"{wheel.end.capitalize()} tire {mm(widths[0]):g} wide, guard {mm(widths[1]):g} inside",
        f"The {wheel.end} mudguard is {mm(widths[1]):g} wide inside; a tire of "
        f"{mm(widths[0]):g} does not go under it. Choose a tire of "
        f"{mm(widths[1] - 2 * GUARD_SIDE_MM):g} or less, a wider guard, or ride without.",
    )


@rule(
    "tire-under-guard",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=_UNDER_THE_GUARD,
    only_with=("{end}.guard",),
    kinds=BICYCLES,
    limit=f"{mm(GUARD_SIDE_MM):g} at each side",
)
def close_to_the_guard(wheel: WheelCase) -> Words | None:
    """Name a tire with little room at the sides of its mudguard."""
    widths = _tire_and_guard(wheel)
    if widths is None or not 0 < widths[1] - widths[0] < 2 * GUARD_SIDE_MM:
        return None
    return Words(
        f"{wheel.end.capitalize()} guard leaves {mm((widths[1] - widths[0]) / 2):.1f} a side",
        f"The {wheel.end} mudguard is {mm(widths[1]):g} wide inside and the tire "
        f"{mm(widths[0]):g}: about {mm(GUARD_SIDE_MM):g} at each side keep mud and a bent stay "
        "off it. Measure at the narrowest and turn the wheel by hand.",
    )


def _tire_and_guard(wheel: WheelCase) -> tuple[float, float] | None:
    """Return the width of a tire that is new there and of the guard over it, mm."""
    change, guard = wheel.change, wheel.wheel.guard_inside_mm
    tire = wheel.wheel.tire if change.guard_inside_mm is not None else change.tire
    if tire is None or tire.width_mm is None or guard is None:
        return None
    return tire.width_mm, guard


@rule(
    "clearance-below-standard",
    Severity.CAUTION,
    title="Clearance below the bicycle standard",
    source=CLEARANCES,
    needs=_HERE,
    policy=("room.bicycle_mm", "room.racing_mm"),
    kinds=BICYCLES,
    limit=THE_SHOPS,
)
def below_the_standard(spot: PlaceCase) -> Words | None:
    """Name a gap below the standard's for bicycles, where no least gap is stated."""
    return _below_usual(spot, "bicycle", "the bicycle standard asks for")


@rule(
    "clearance-below-standard",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=_HERE,
    policy=("room.motorcycle_tread_mm", "room.motorcycle_side_mm"),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def below_the_usual(spot: PlaceCase) -> Words | None:
    """Name a gap below what shops keep on motorcycles, where no least gap is stated."""
    return _below_usual(spot, "motorcycle", "the shop keeps")


def _below_usual(spot: PlaceCase, kind: str, asked: str) -> Words | None:
    place, gap, least = spot.place, spot.clearance.predicted_gap_mm, spot.clearance.least_mm
    if spot.case.found.kind != kind or place.minimum_mm is not None:
        return None
    if gap is None or least is None or not 0 <= gap < least:
        return None
    return Words(
        f"{place.name}: {mm(spot.clearance.left(gap))} left",
        f"{mm(place.gap_mm):g} are there now; the {place.wheel} tire would leave {_tenths(gap)}, "
        f"and {asked} {mm(least):g}. Choose a smaller tire, or measure and prove it.",
    )


@rule(
    "clearance-growth",
    Severity.CAUTION,
    title="Clearance with growth at speed",
    source=COMMON_PRACTICE,
    needs=(*_HERE, "top_speed_kmh"),
    policy=("room.bias_growth_mm", "room.belted_growth_mm"),
    kinds=MOTORCYCLES,
    limit=f"{THE_SHOPS} after growth with the square of speed",
)
def growth(spot: PlaceCase) -> Words | None:
    """Name a gap that growth with speed takes below its least."""
    place, gap, least = spot.place, spot.clearance.predicted_gap_mm, spot.clearance.least_mm
    grown = spot.clearance.taken_by(GROWTH)
    if gap is None or least is None or not grown or gap < least or gap - grown >= least:
        return None
    tire = spot.case.after.wheels.at(place.wheel).tire
    casing = tire.construction if tire else ""
    left = gap - grown
    return Words(
        f"{place.name}: {mm(left):.0f} left at speed",
        f"{_tenths(gap)} at rest; the {casing} tire grows about {_tenths(grown)} there at the "
        f"speed it is ridden at, and {mm(least):g} are wanted after that. Look for rub marks: they "
        "prove growth or bottoming.",
    )


def _over_at_full_travel(spot: PlaceCase) -> float | None:
    """Return how far in mm the tire goes into a place at full travel; None where it does not."""
    gap, takes = spot.clearance.predicted_gap_mm, spot.clearance.taken_by(TRAVEL)
    if gap is None or gap < 0 or not takes or gap - takes >= 0:
        return None
    return takes - gap


def _no_worse_than_found(spot: PlaceCase) -> bool:
    """Whether the machine as found has no more room there at full travel."""
    before, over = spot.clearance.full_travel_found_mm, _over_at_full_travel(spot)
    return before is not None and over is not None and -over >= before - _SAME_ROOM_MM


@rule(
    "clearance-full-travel",
    Severity.NOTE,
    source=DERIVED,
    needs=(*_HERE, "suspension.front.travel_mm"),
    limit=f"{mm(0)} at the tightest spot, and no less than as found",
)
def met_at_full_travel_before(spot: PlaceCase) -> Words | None:
    """Say of a place the tire meets at full travel that it did so as found, and no less."""
    over = _over_at_full_travel(spot)
    if over is None or not _no_worse_than_found(spot):
        return None
    return Words(
        f"{spot.place.name}: met at full travel as found, too",
        f"By the sheet's figures the tire touches {mm(over):.0f} before the stop, and as found no "
        f"later. Measure clearance and travel again. {PROVE}",
    )


@rule(
    "clearance-full-travel",
    Severity.STOP,
    title="Clearance at full travel",
    source=DERIVED,
    needs=(*_HERE, "suspension.front.travel_mm"),
    limit=f"{mm(0)} at the tightest spot of the travel, and less than as found",
)
def meets_at_full_travel(spot: PlaceCase) -> Words | None:
    """Name a place that meets the tire before full travel, with less room than as found."""
    place, gap = spot.place, spot.clearance.predicted_gap_mm
    takes = spot.clearance.taken_by(TRAVEL)
    if gap is None or _over_at_full_travel(spot) is None or _no_worse_than_found(spot):
        return None
    return Words(
        f"{place.name}: the tire meets it before full travel",
        f"{_tenths(gap)} at rest, but the way to full travel takes {mm(takes):.0f} there: it "
        f"touches {mm(magnitude(gap - takes, 0))} before the stop. Limit the travel, or "
        "another tire.",
    )


@rule(
    "clearance-turned",
    Severity.STOP,
    title="Clearance with the bar turned",
    source=DERIVED,
    needs=(*_HERE, "steering_lock_deg"),
    only_with=("steering_lock_deg",),
    limit=f"{mm(0)} before the bar's stop",
)
def meets_turned(spot: PlaceCase) -> Words | None:
    """Name a place the tire meets with the bar turned, though it clears it straight ahead."""
    place, gap = spot.place, spot.clearance.predicted_gap_mm
    takes = spot.clearance.taken_by(TURNED)
    if gap is None or gap < 0 or not takes or gap - takes >= 0:
        return None
    return Words(
        f"{place.name}: the turned tire meets it",
        f"{_tenths(gap)} with the bar straight, but before the bar's stop the tire reaches "
        f"{mm(magnitude(gap - takes, 0))} into it. A smaller tire, or a stop that turns less where "
        "the maker allows one.",
    )


@rule(
    "clearance-worst-case",
    Severity.STOP,
    title="Clearance in the worst case",
    source=COMMON_PRACTICE,
    needs=_HERE,
    policy=_FLEXES,
    limit=f"{mm(0)} after all the road takes, mud apart",
)
def touches_on_the_road(spot: PlaceCase) -> Words | None:
    """Name a place the tire touches when ridden, though at rest it clears it."""
    clear = spot.clearance
    if not _touches(spot) or _touched_before(spot):
        return None
    return Words(f"{spot.place.name}: touches on the road", f"{_taken(clear)} {PROVE}")


@rule(
    "clearance-worst-case",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=_HERE,
    policy=_FLEXES,
    limit="the same, and no less than as found",
)
def touched_on_the_road_before(spot: PlaceCase) -> Words | None:
    """Say of a place the tire touches when ridden that by the sheet it did so as found."""
    if not _touches(spot) or not _touched_before(spot):
        return None
    return Words(
        f"{spot.place.name}: touches on the road as found, too",
        f"{_taken(spot.clearance)} As found it is no better by the sheet's figures: measure the "
        f"clearance again. {PROVE}",
    )


def _touches(spot: PlaceCase) -> bool:
    """Whether the tire touches when ridden, and no finding of one cause alone has said so."""
    clear = spot.clearance
    gap, touches = clear.predicted_gap_mm, clear.touches_mm
    if gap is None or gap < 0 or touches is None or touches >= 0:
        return False
    return gap - max(clear.taken_by(TRAVEL), clear.taken_by(TURNED)) >= 0


def _touched_before(spot: PlaceCase) -> bool:
    found, now = spot.clearance.touches_found_mm, spot.clearance.touches_mm
    return found is not None and now is not None and found < 0 and now >= found - _SAME_ROOM_MM


def _taken(clear: PredictedClearance) -> str:
    gap, worst = clear.predicted_gap_mm or 0.0, clear.worst_case_gap_mm or 0.0
    takes = ", ".join(f"{take.name} {mm(take.mm):.0f}" for take in clear.takes)
    return f"{_tenths(gap)} at rest; on the road {mm(gap - worst):.0f} are taken: {takes}."


@rule(
    "clearance-worst-case",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=_HERE,
    policy=("room.mud_mm", *_FLEXES),
    only_with=("ground",),
    limit=f"{mm(0)} after all the road takes and mud",
)
def mud_fills(spot: PlaceCase) -> Words | None:
    """Name a place where mud, with all else the road takes, leaves nothing."""
    clear = spot.clearance
    gap, worst, touches = clear.predicted_gap_mm, clear.worst_case_gap_mm, clear.touches_mm
    if gap is None or worst is None or touches is None or not worst < 0 <= touches:
        return None
    return Words(f"{spot.place.name}: nothing left in mud", f"{_taken(clear)} {PROVE}")


@rule(
    "clearance-to-measure",
    Severity.NOTE,
    title="Clearance to measure again",
    source=DERIVED,
    needs=_HERE,
    limit="an axle that moves relative to the place",
)
def to_prove(spot: PlaceCase) -> Words | None:
    """Say of a place whose axle moves that its gap is to be measured again."""
    if spot.clearance.predicted_gap_mm is not None or spot.clearance.note is None:
        return None
    return Words(f"{spot.place.name}: measure again", spot.clearance.note)


@rule(
    "clearance-readings-disagree",
    Severity.CAUTION,
    title="Two readings of one clearance disagree",
    source=COMMON_PRACTICE.at("two readings of one gap"),
    needs=_HERE,
    limit=f"{mm(TWO_TAPES_MM):g}",
)
def readings_disagree(spot: PlaceCase) -> Words | None:
    """Name two readings of one place that do not go together: with this set-up, and now."""
    read, follows = spot.clearance.predicted_gap_mm, spot.clearance.follows_mm
    if read is None or follows is None or abs(read - follows) <= TWO_TAPES_MM:
        return None
    return Words(
        f"{spot.place.name}: two readings disagree",
        f"{_tenths(read)} were read there with this set-up on, but {_tenths(follows)} follow from "
        f"the {_tenths(spot.place.gap_mm)} read now. Measure it again before it is trusted.",
    )


@rule(
    "saddle-meets-tire",
    Severity.STOP,
    title="Saddle and rear tire at full travel",
    source=DERIVED,
    needs=("points", "suspension.rear.travel_mm"),
    only_with=("suspension.rear.travel_mm",),
    limit=f"{mm(0)} at full travel, and no more than as found",
)
def saddle_meets_tire(case: Case) -> Words | None:
    """Name a saddle that the rear tire reaches at full travel."""
    room = case.saddle_room_mm
    before = case.before.full.saddle_room_mm if case.before.full else None
    if room is None or room > 0 or (before is not None and room > before):
        return None
    return Words(
        "The rear tire reaches the saddle",
        f"At full travel the tire goes {mm(magnitude(room, 0))} past the saddle's height behind "
        "it. Less travel, a smaller wheel, or another seat.",
    )
