"""Does the machine still sit and steer within what the shop accepts?"""

from jentrik.core.amounts import mm
from jentrik.core.machine.declared import ENDS
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHOPS,
    Case,
    Severity,
    Words,
    band_keys,
    magnitude,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, SHOP_LIMIT
from jentrik.core.work.policy import Band

TALL_TRAVEL_MM, TALL_SEAT_MM = 180.0, 850.0  # common practice: what counts as a tall motorcycle


TURNED_DEG = 0.3  # common practice: a saddle is set anew from about there
_BOTH_ALIKE = "On a frame made for two sizes ask its maker which position and fork go with that."
_ONE_END = {
    ("front", "bigger"): "On a frame made for small wheels it usually helps: it rolls over more.",
    ("front", "smaller"): "The front comes down and steepens, and an edge catches it sooner. Few "
    "ask for it but for room or weight.",
    ("rear", "bigger"): "The rear comes up and the front steepens; room at the frame and behind "
    "the rider goes first.",
    ("rear", "smaller"): "On a frame made for two big wheels it gives away traction and roll-over; "
    "others ride it for room and quickness. Riders disagree.",
}
_PLACE_OF_BB = ("chainstay_mm", "bb_height_mm")


@rule(
    "bb-low",
    Severity.CAUTION,
    title="Bottom bracket lower",
    source=SHOP_LIMIT,
    needs=_PLACE_OF_BB,
    policy=band_keys("bb_height_mm")[:1],
    kinds=BICYCLES,
    limit=THE_SHOPS,
)
def bb_low(case: Case) -> Words | None:
    """Name a bottom bracket that comes down further than the shop accepts."""
    moved, low = case.shift("bb_height_mm"), case.limits.bb_height_mm.low
    if moved is None or moved >= low:
        return None
    return Words(
        f"Bottom bracket {mm(magnitude(moved, 0))} lower",
        f"It comes down {mm(magnitude(moved, 1))}; the shop accepts {mm(magnitude(low, 0))}. "
        "Pedals strike earlier: try shorter cranks or a taller tire.",
    )


@rule(
    "bb-high",
    Severity.CAUTION,
    title="Bottom bracket higher",
    source=SHOP_LIMIT,
    needs=_PLACE_OF_BB,
    policy=band_keys("bb_height_mm")[1:],
    kinds=BICYCLES,
    limit=THE_SHOPS,
)
def bb_high(case: Case) -> Words | None:
    """Name a bottom bracket that goes up further than the shop accepts."""
    moved, high = case.shift("bb_height_mm"), case.limits.bb_height_mm.high
    if moved is None or moved <= high:
        return None
    return Words(
        f"Bottom bracket {mm(magnitude(moved, 0))} higher",
        f"It goes up {mm(magnitude(moved, 1))}; the shop accepts {mm(magnitude(high, 0))}. The "
        "rider sits higher over the wheels and reaches the ground later: a smaller tire, "
        "or lower seat.",
    )


@rule(
    "head-angle-shift",
    Severity.CAUTION,
    title="Change of head angle",
    source=SHOP_LIMIT,
    policy=band_keys("head_angle_deg"),
    limit=THE_SHOPS,
)
def head_angle_shift(case: Case) -> Words | None:
    """Name a head angle that turns further than the shop accepts."""
    turned = case.shift("head_angle_deg")
    if turned is None or case.limits.head_angle_deg.holds(turned):
        return None
    way = "steeper" if turned > 0 else "slacker"
    band = case.limits.head_angle_deg
    return Words(
        f"Head angle {magnitude(turned, 1)}° {way}",
        f"It turns {magnitude(turned, 2)}° {way}; the shop accepts "
        f"{magnitude(band.high if turned > 0 else band.low, 1)}°.",
    )


@rule(
    "trail-shift",
    Severity.CAUTION,
    title="Change of trail",
    source=SHOP_LIMIT,
    policy=band_keys("trail_mm"),
    limit=THE_SHOPS,
)
def trail_shift(case: Case) -> Words | None:
    """Name a trail that grows or shrinks further than the shop accepts."""
    grown = case.shift("trail_mm")
    if grown is None or case.limits.trail_mm.holds(grown):
        return None
    way = "more" if grown > 0 else "less"
    band = case.limits.trail_mm
    return Words(
        f"Trail {mm(magnitude(grown, 0))} {way}",
        f"Ground trail goes from {mm(case.before.geometry.trail_mm):.0f} to "
        f"{mm(case.after.geometry.trail_mm):.0f}; the shop accepts "
        f"{mm(magnitude(band.high if grown > 0 else band.low, 0))}.",
    )


@rule(
    "wheelbase-shift",
    Severity.CAUTION,
    title="Change of wheelbase",
    source=SHOP_LIMIT,
    policy=band_keys("wheelbase_mm"),
    limit=THE_SHOPS,
)
def wheelbase_shift(case: Case) -> Words | None:
    """Name a wheelbase that grows or shrinks further than the shop accepts."""
    feels = ("It wants more room to turn.", "It turns in less room.")
    return _length_shift(case.shift("wheelbase_mm"), case.limits.wheelbase_mm, "Wheelbase", *feels)


@rule(
    "reach-shift",
    Severity.CAUTION,
    title="Change of reach",
    source=SHOP_LIMIT,
    needs=("stack_mm", "reach_mm"),
    policy=band_keys("reach_mm"),
    kinds=BICYCLES,
    limit=THE_SHOPS,
)
def reach_shift(case: Case) -> Words | None:
    """Name a reach that grows or shrinks further than the shop accepts."""
    pitch = float(case.after.geometry.pitch_deg)
    feels = (
        "The bar is further away: a shorter stem or more spacers.",
        "The bar is nearer: a longer stem.",
    )
    if abs(pitch) >= TURNED_DEG:
        way, back, nose = ("up", "forward", "down") if pitch > 0 else ("down", "back", "up")
        turned = f"The whole frame turned nose {way}: saddle {back} and its nose {nose} come first."
        feels = (turned, turned)
    return _length_shift(case.shift("reach_mm"), case.limits.reach_mm, "Reach", *feels)


@rule(
    "seat-height-shift",
    Severity.CAUTION,
    title="Change of seat height",
    source=SHOP_LIMIT,
    needs=("points",),
    policy=band_keys("seat_height_mm"),
    limit=THE_SHOPS,
)
def seat_height_shift(case: Case) -> Words | None:
    """Name a seat that goes up or down further than the shop accepts."""
    moved, band = case.contact_shift("seat_height_mm"), case.limits.seat_height_mm
    feels = ("Feet reach the ground later.", "Feet reach the ground sooner.")
    return _length_shift(moved, band, "Seat height", *feels)


def _length_shift(moved: float | None, band: Band, name: str, more: str, less: str) -> Words | None:
    if moved is None or band.holds(moved):
        return None
    way, limit, feels = ("more", band.high, more) if moved > 0 else ("less", band.low, less)
    return Words(
        f"{name} {mm(magnitude(moved, 0))} {way}",
        f"{name} changes by {mm(magnitude(moved, 1))}; the shop accepts {mm(magnitude(limit, 0))}. "
        f"{feels}",
    )


@rule(
    "negative-trail",
    Severity.STOP,
    title="Negative trail",
    source=COMMON_PRACTICE,
    limit=f"{mm(0)}",
)
def negative_trail(case: Case) -> Words | None:
    """Name a front end that would no longer trail."""
    trail = float(case.after.geometry.trail_mm)
    if trail >= 0:
        return None
    return Words(
        "Trail is negative",
        f"The steering axis meets the ground {mm(magnitude(trail, 0))} behind the contact: the "
        "front no longer straightens itself. Bring the trail back before anyone rides it.",
    )


@rule(
    "high-speed-weave",
    Severity.CAUTION,
    title="Weave at speed",
    source=COMMON_PRACTICE,
    needs=("suspension.front.travel_mm",),
    policy=("noticeable.trail_mm",),
    kinds=MOTORCYCLES,
    limit=(
        f"nose down, with more trail lost than is noticed, on a machine of "
        f"{mm(TALL_TRAVEL_MM):g} travel or {mm(TALL_SEAT_MM):g} seat height"
    ),
)
def high_speed_weave(case: Case) -> Words | None:
    """Name a tall motorcycle that loses trail and goes nose down."""
    lost = case.shift("trail_mm")
    if case.found.kind != "motorcycle" or not _tall(case) or lost is None:
        return None
    if lost >= -case.policy.noticeable["trail_mm"] or float(case.after.geometry.pitch_deg) >= 0:
        return None
    return Words(
        "Weave at speed comes sooner",
        f"Nose down {magnitude(float(case.after.geometry.pitch_deg), 1)}° with "
        f"{mm(magnitude(lost, 0))} less trail: a weave at speed comes sooner. Ride slowly first, "
        "then faster in steps, and unloaded before loaded.",
    )


def _tall(case: Case) -> bool:
    travel, seat = case.found.suspension.front.travel_mm, case.before.contact.seat_height_mm
    return (travel or 0) >= TALL_TRAVEL_MM or (seat or 0) >= TALL_SEAT_MM


@rule(
    "cranks-into-ground",
    Severity.STOP,
    title="Cranks reach the ground",
    source=DERIVED,
    needs=("bb_height_mm", "crank_mm"),
    kinds=BICYCLES,
    limit=f"{mm(0)}",
)
def cranks_into_the_ground(case: Case) -> Words | None:
    """Name cranks longer than the bottom bracket is high."""
    height = case.after.contact.pedal_height_mm
    if height is None or height > 0:
        return None
    return Words(
        "The pedals reach the ground",
        f"At the bottom of the turn the pedal is {mm(magnitude(height, 0))} below the ground. "
        "Shorter cranks, or a higher bottom bracket.",
    )


@rule(
    "design-size-left",
    Severity.NOTE,
    title="One wheel alone changes size",
    source=COMMON_PRACTICE,
    limit="one end on another bead seat than the frame was made for",
)
def design_size_left(case: Case) -> Words | None:
    """Say which end leaves the size the frame was built for, or where unstated the size as found.

    Only where one end alone does.
    """
    gone = {}
    for end in ENDS:
        asked = case.found.maker.wheels.get(end)
        design = (asked.tire if asked else None) or case.found.wheels.at(end).tire
        planned = case.after.wheels.at(end).tire
        if design and planned and design.bead_seat_diameter_mm != planned.bead_seat_diameter_mm:
            gone[end] = planned.bead_seat_diameter_mm - design.bead_seat_diameter_mm
    if len(gone) != 1:
        return None
    ((end, by),) = gone.items()
    if end == "rear" and _in_its_position(case):
        return None
    size = "bigger" if by > 0 else "smaller"
    other = case.after.wheels.at("rear" if end == "front" else "front").tire
    planned = case.after.wheels.at(end).tire
    stated = case.found.maker.wheels.get(end)
    headline = f"{end.capitalize()} wheel alone changes size"
    if stated and stated.tire:
        headline = f"{end.capitalize()} wheel is not the frame's original size"
    if planned and other and planned.bead_seat_diameter_mm == other.bead_seat_diameter_mm:
        return Words(headline, f"A {size} {end} wheel makes both wheels one size. {_BOTH_ALIKE}")
    return Words(headline, f"A {size} {end} wheel alone. {_ONE_END[end, size]}")


def _in_its_position(case: Case) -> bool:
    """Whether the rear axle goes into the position the maker pairs with the planned rear wheel."""
    position, tire = case.found.position(case.proposal.position), case.after.wheels.rear.tire
    seat = None if position is None else position.bead_seat_diameter_mm
    return seat is not None and tire is not None and seat == tire.bead_seat_diameter_mm


@rule(
    "set-sag-again",
    Severity.NOTE,
    title="Sag and pressure to set again",
    source=COMMON_PRACTICE,
    limit="another bead seat, position, shock or link on a sprung machine",
)
def set_sag_again(case: Case) -> Words | None:
    """Remind of sag and pressure after a wheel, link or shock change on a suspended machine."""
    suspension, proposal = case.found.suspension, case.proposal
    if not (suspension.front.travel_mm or suspension.rear.travel_mm):
        return None
    linked = proposal.shock_mm is not None or bool(proposal.link_longer_mm)
    seats = [
        (old.bead_seat_diameter_mm, new.bead_seat_diameter_mm)
        for end in ENDS
        if (old := case.found.wheels.at(end).tire) and (new := case.after.wheels.at(end).tire)
    ]
    if not linked and not proposal.position and all(old == new for old, new in seats):
        return None
    link = (
        " Another link or shock also changes how the ratio runs through the travel, which a "
        "single figure cannot show."
    )
    shock = suspension.rear.travel_mm or suspension.shock.length_mm
    what = "sag and shock pressure" if shock else "sag"
    return Words(
        f"Set {'sag and pressure' if shock else 'sag'} again",
        f"After this change set {what} anew.{link if linked else ''}",
    )
