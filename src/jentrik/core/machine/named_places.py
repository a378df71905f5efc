"""Places where a gap is worth measuring, by kind of machine, and how the gauge is held there.

Each lies in a usual direction from the axle, from straight ahead, up positive: enough to tell
what a moved axle or the suspension does to the gap, and changed on the sheet where a machine
differs.  Source: common practice.
"""

from dataclasses import dataclass

from jentrik.core.machine.declared import End, Kind
from jentrik.core.machine.sheet import Sheet


@dataclass(frozen=True, slots=True)
class NamedPlace:
    """A place: what it is called, how it lies to the wheel, and how the gauge is held."""

    name: str
    kind: Kind
    wheel: End
    direction: str
    on: str
    bearing_deg: float
    moves_with: str
    how: str


_CROWN, _LEGS = "Straight up the steering axis, under the crown.", "Widest part, both sides."
_PLACES = (
    # name, wheel, direction, on, bearing, moves with, how
    (
        "bicycle",
        (
            ("Fork crown", "front", "radial", "fork", 109, "body", _CROWN),
            (
                "Fork arch",
                "front",
                "radial",
                "fork",
                109,
                "wheel",
                "Under the arch of the lower legs.",
            ),
            ("Fork legs", "front", "side", "fork", 109, "wheel", _LEGS),
            (
                "Front mudguard",
                "front",
                "radial",
                "fork",
                75,
                "wheel",
                "At its tightest, stays and bolts too.",
            ),
            ("Down tube", "front", "radial", "frame", 160, "body", "Nearest point, bar straight."),
            ("Seat tube", "rear", "radial", "frame", 22, "body", "Nearest point behind it."),
            (
                "Chain-stay bridge",
                "rear",
                "radial",
                "frame",
                2,
                "wheel",
                "Behind the bottom bracket.",
            ),
            ("Seat-stay bridge", "rear", "radial", "frame", 68, "wheel", "Or the brake bridge."),
            ("Chain stays", "rear", "side", "frame", 5, "wheel", _LEGS),
            ("Seat stays", "rear", "side", "frame", 65, "wheel", _LEGS),
            (
                "Rear mudguard",
                "rear",
                "radial",
                "frame",
                110,
                "wheel",
                "At its tightest, stays and bolts too.",
            ),
            (
                "Front derailleur",
                "rear",
                "side",
                "frame",
                10,
                "body",
                "Cage shifted to the inner ring.",
            ),
            (
                "Chain, inner ring",
                "rear",
                "side",
                "frame",
                5,
                "wheel",
                "Chain on the innermost ring.",
            ),
            ("Toe or boot", "front", "radial", "frame", 190, "body", "Pedal forward, shoe on."),
        ),
    ),
    (
        "motorcycle",
        (
            ("Fork brace", "front", "radial", "fork", 117, "wheel", "Under the brace of the legs."),
            ("Lower clamp", "front", "radial", "fork", 117, "body", "Straight up the fork."),
            ("Fork legs", "front", "side", "fork", 117, "wheel", _LEGS),
            ("Front fender", "front", "radial", "fork", 80, "wheel", "At its tightest, bolts too."),
            ("Exhaust header", "front", "radial", "frame", 175, "body", "Bar straight."),
            (
                "Radiator or fairing",
                "front",
                "side",
                "frame",
                165,
                "body",
                "Sideways from the tire's middle, bar straight.",
            ),
            ("Belly", "front", "radial", "frame", 195, "body", "Sump, guard or fairing."),
            ("Swingarm front", "rear", "radial", "frame", 5, "wheel", "Ahead of the tire."),
            ("Swingarm sides", "rear", "side", "frame", 5, "wheel", "Widest part, both sides."),
            (
                "Chain or belt",
                "rear",
                "side",
                "frame",
                10,
                "wheel",
                "Slack run pushed to the tire.",
            ),
            ("Shock", "rear", "radial", "frame", 40, "body", "Spring and linkage."),
            ("Inner fender", "rear", "radial", "frame", 80, "body", "Under the seat."),
            (
                "Rear hugger",
                "rear",
                "radial",
                "frame",
                100,
                "wheel",
                "On the swingarm: between hugger and tread, bolts too.",
            ),
            ("Rear fender", "rear", "radial", "frame", 110, "body", "Bolts and wiring too."),
            ("Number-plate hanger", "rear", "radial", "frame", 150, "body", "At its lowest."),
            ("Exhaust", "rear", "side", "frame", 355, "body", "Silencer and its bracket."),
        ),
    ),
)

NAMED_PLACES: tuple[NamedPlace, ...] = tuple(
    NamedPlace(name, kind, wheel, direction, on, float(bearing), moves, how)  # type: ignore[arg-type]  # words of the table
    for kind, places in _PLACES
    for name, wheel, direction, on, bearing, moves, how in places
)


def named_place(kind: Kind, name: str) -> NamedPlace | None:
    """Return the place of that name on that kind of machine; None where it is a shop's own."""
    wanted = name.casefold()
    for place in NAMED_PLACES:
        if place.kind == kind and place.name.casefold() == wanted:
            return place
    return None


def still_to_measure(sheet: Sheet) -> tuple[NamedPlace, ...]:
    """Return the named places of a machine that have no gap yet."""
    known = {place.name.casefold() for place in sheet.clearances}
    return tuple(
        place
        for place in NAMED_PLACES
        if place.kind == sheet.kind and place.name.casefold() not in known
    )
