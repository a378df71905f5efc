"""Does the tire clear frame, fork and guards at every distance from the axle?"""

from jentrik.core.amounts import Amount, mm, rounded
from jentrik.core.figures.clearance import PredictedClearance
from jentrik.core.figures.room import Gap
from jentrik.core.rules.case import THE_SHOPS, PlaceCase, Severity, WheelCase, Words, rule
from jentrik.core.sources import COMMON_PRACTICE, DERIVED

_LINES = ("room",)
_USUAL = (
    "room.bicycle_mm",
    "room.racing_mm",
    "room.motorcycle_tread_mm",
    "room.motorcycle_side_mm",
)
_SAME_ROOM_MM = 0.05  # below it nothing was lost
TAPE_AND_LINES_MM = 3.0  # common practice: how far a taped gap and the lines may lie apart


def _tenths(gap_mm: float) -> Amount:
    return mm(rounded(gap_mm, 1))


@rule(
    "room-below-minimum",
    Severity.STOP,
    title="Room at a distance from the axle",
    source=DERIVED,
    needs=_LINES,
    only_with=_LINES,
    limit=f"{mm(0)}, or the minimum stated for the part",
)
def too_wide(wheel: WheelCase) -> Words | None:
    """Name the part that a tire touches, or where less than its stated minimum is left."""
    gap = _tightest(wheel)
    if gap is None or not (gap.gap_mm < 0 or gap.stated) or _no_worse(wheel, gap):
        return None
    return _words(wheel, gap, "A narrower tire, or another wheel size.")


@rule(
    "room-below-minimum",
    Severity.CAUTION,
    source=COMMON_PRACTICE,
    needs=_LINES,
    only_with=_LINES,
    policy=_USUAL,
    limit=f"{THE_SHOPS}, or no less than as found",
)
def little_room(wheel: WheelCase) -> Words | None:
    """Name the part where less than the shop's clearance is left, or no more than as found."""
    gap = _tightest(wheel)
    if gap is None or too_wide(wheel) is not None:
        return None
    as_found = "As found there is no more. " if _no_worse(wheel, gap) else ""
    return _words(wheel, gap, f"{as_found}Measure it with the tire in.")


def _words(wheel: WheelCase, gap: Gap, cure: str) -> Words:
    where = f"{mm(gap.from_axle_mm):.0f} from the axle"
    asked = f"{mm(gap.least_mm):g} {'are asked for there' if gap.stated else 'is kept'}"
    if gap.gap_mm < 0:
        by = _tenths(-gap.gap_mm)
        said = f"Touches the {gap.name}", f"is {by} too wide for the {gap.name}, {where}"
        if gap.direction == "radial":
            said = said[0], f"stands {by} into the {gap.name}"
    else:
        left = f"{_tenths(gap.gap_mm)}{' a side' if gap.direction == 'side' else ''}"
        said = f"{gap.name}: {left} left", f"leaves {left} at the {gap.name}, {where}; {asked}"
    headline = f"{said[0][:1].upper()}{said[0][1:]}"
    return Words(headline, f"The {wheel.end} tire {said[1]}. {cure}")


@rule(
    "room-worst-case",
    Severity.STOP,
    title="Room at a distance from the axle, ridden",
    source=COMMON_PRACTICE,
    needs=_LINES,
    only_with=_LINES,
    policy=("room.flex_bicycle_mm", "room.flex_motorcycle_mm"),
    limit=f"{mm(0)} after all the road takes",
)
def touches_when_ridden(wheel: WheelCase) -> Words | None:
    """Name a part that the tire clears at rest and touches when ridden, other than as found."""
    for gap in _judged(wheel):
        if gap.gap_mm >= 0 > gap.on_the_road_mm and not _no_worse(wheel, gap):
            takes = ", ".join(f"{take.name} {mm(take.mm):.0f}" for take in gap.takes)
            return Words(
                f"{gap.name[:1].upper()}{gap.name[1:]}: touches on the road",
                f"The {wheel.end} tire leaves {_tenths(gap.gap_mm)} at the {gap.name}, "
                f"{mm(gap.from_axle_mm):.0f} from the axle; the road takes {takes}.",
            )
    return None


@rule(
    "room-readings-disagree",
    Severity.CAUTION,
    title="A taped clearance and the lines of the room disagree",
    source=COMMON_PRACTICE.at("two readings of one gap"),
    needs=(*_LINES, "places"),
    only_with=_LINES,
    limit=f"{mm(TAPE_AND_LINES_MM):g}",
)
def tape_and_lines_disagree(spot: PlaceCase) -> Words | None:
    """Name a gap taped with the tire in that does not go with the lines of the same part."""
    place = spot.place
    follows = next(
        (gap.gap_mm for gap in spot.case.before.room if _is_of(gap, spot.clearance)), None
    )
    if follows is None or abs(follows - place.gap_mm) <= TAPE_AND_LINES_MM:
        return None
    return Words(
        f"{place.name}: tape and lines disagree",
        f"{mm(place.gap_mm):g} were taped there with the tire in, but {_tenths(follows)} follow "
        "from the widths measured at their distances. The tape is believed: measure both again.",
    )


def _is_of(gap: Gap, spot: PredictedClearance) -> bool:
    place = spot.place
    return gap.key == (place.name.strip().casefold(), place.wheel, place.direction)


def _judged(wheel: WheelCase) -> tuple[Gap, ...]:
    return tuple(gap for gap in wheel.case.after.room_untaped if gap.wheel == wheel.end)


def _tightest(wheel: WheelCase) -> Gap | None:
    """Return the gap that is shortest of what is asked for; None where all have enough."""
    return next((gap for gap in _judged(wheel) if gap.short_mm > 0), None)


def _no_worse(wheel: WheelCase, gap: Gap) -> bool:
    """Whether the machine as found has no more room there."""
    before = next((known for known in wheel.case.before.room if known.key == gap.key), None)
    return before is not None and gap.gap_mm >= before.gap_mm - _SAME_ROOM_MM
