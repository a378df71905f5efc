"""Do the feet and the machine's sides stay clear: of the front tire, and of the ground in a lean?

ISO 4210-2 (from memory): a pedal stays 100 mm from the front tire or mudguard, 89 mm with foot
retention; a pedal leans about 25 degrees before it touches, the suspension loaded.  ISO 8098 for
child bicycles (from memory): 89 mm and 20 degrees.
"""

from jentrik.core.amounts import mm, published
from jentrik.core.figures.strikes import leans, pedal_lean, straight_toe, toe_room
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHOPS,
    Case,
    Severity,
    Words,
    magnitude,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, ISO_4210_2, ISO_8098

TOE = ISO_4210_2.at(f"toe clearance; {ISO_8098.title} for child bicycles")
PEDAL = ISO_4210_2.at(f"pedal ground clearance; {ISO_8098.title} for child bicycles")
TOE_ROOM_MM, HELD_TOE_ROOM_MM = 100.0, 89.0
CHILD_TOE_ROOM_MM, CHILD_PEDAL_DEG = 89.0, 20.0
_LEAST_CHANGE_DEG = _LEAST_CHANGE_MM = 0.05  # below it nothing was lost


@rule(
    "toe-overlap",
    Severity.CAUTION,
    title="Toe overlap",
    source=TOE,
    needs=("crank_mm", "chainstay_mm", "bb_height_mm"),
    kinds=BICYCLES,
    limit=(
        f"{published(TOE_ROOM_MM, 'mm')}, "
        f"{published(HELD_TOE_ROOM_MM, 'mm')} with foot retention "
        "and on child bicycles; only where it gets worse"
    ),
)
def toe_overlap(case: Case) -> Words | None:
    """Name a pedal that comes nearer to the front tire than the bicycle standard asks."""
    bike, proposal = case.fitted, case.proposal
    if not bike.build.toes_meet_wheel:
        return None
    crank = proposal.contact.crank_mm or bike.cranks.length_mm
    room = straight_toe(bike, case.after.geometry, crank)
    before = straight_toe(case.found, case.before.geometry, bike.cranks.length_mm)
    asked = HELD_TOE_ROOM_MM if bike.cranks.pedals == "foot retention" else TOE_ROOM_MM
    if bike.riding.use == "child":
        asked = CHILD_TOE_ROOM_MM
    if room is None or before is None or room >= asked or room > before - _LEAST_CHANGE_MM:
        return None
    offset = bike.fork.offset_mm if proposal.fork_offset_mm is None else proposal.fork_offset_mm
    now = toe_room(bike, case.after.wheels, case.after.geometry, crank_mm=crank, offset_mm=offset)
    assert now is not None
    turned = ""
    if now.turned is not None:
        turned = (
            f" With the bar turned {now.turned.bar_deg:.0f}° it is "
            f"{mm(now.turned.room_mm):.0f}.".replace("-", "−")
        )
    return Words(
        f"Toe room {mm(now.straight_mm):.0f}",
        f"Between pedal axle and front tire or mudguard {mm(now.straight_mm):.0f} are left, "
        f"{mm(before):.0f} before; the standard asks {mm(asked):g}.{turned} Toes can meet "
        "the tire in a tight turn: shorter cranks, or a smaller front tire.",
    )


@rule(
    "pedal-strike",
    Severity.CAUTION,
    title="Pedal and ground in a turn",
    source=PEDAL,
    needs=("pedal_edge_mm", "crank_mm", "bb_height_mm"),
    policy=("lean.pedal_deg",),
    kinds=BICYCLES,
    limit=(
        f"{THE_SHOPS}, {CHILD_PEDAL_DEG:g}° for child bicycles, with the rider on; "
        "only where it gets worse"
    ),
)
def pedal_strike(case: Case) -> Words | None:
    """Name a pedal that touches at less lean than the bicycle standard asks."""
    if not case.found.leans:
        return None
    sinks = case.sinks_mm
    now = pedal_lean(
        case.found, case.after.wheels, case.after.geometry, case.after.contact, sinks_mm=sinks
    )
    before = pedal_lean(
        case.found, case.found.wheels, case.before.geometry, case.before.contact, sinks_mm=sinks
    )
    least = case.policy.lean.pedal_deg
    if case.found.riding.use == "child":
        least = CHILD_PEDAL_DEG
    if now is None or before is None or now >= least or now > before - _LEAST_CHANGE_DEG:
        return None
    return Words(
        f"Pedal touches at {magnitude(now, 1)}° of lean",
        f"The inner pedal meets the ground at {magnitude(now, 1)}° of lean, "
        f"{magnitude(before, 1)}° before; {least:g}° are wanted. Shorter cranks, or a taller tire.",
    )


@rule(
    "touches-earlier",
    Severity.CAUTION,
    title="Ground contact in a turn",
    source=COMMON_PRACTICE,
    needs=("points.out_mm",),
    policy=("lean.lost_deg",),
    kinds=MOTORCYCLES,
    limit=THE_SHOPS,
)
def touches_earlier(case: Case) -> Words | None:
    """Name a peg or another place on the side that meets the ground at clearly less lean."""
    if case.found.kind != "motorcycle" or not case.found.leans:
        return None
    before = leans(case.found, case.found.wheels, case.before.geometry)
    now = leans(case.found, case.after.wheels, case.after.geometry)
    lost = {name: before[name] - now[name] for name in now if name in before}
    worst = max(lost, key=lambda name: lost[name], default=None)
    if worst is None or lost[worst] < case.policy.lean.lost_deg:
        return None
    return Words(
        f"{worst}: touches {lost[worst]:.1f}° earlier",
        f"{worst} meets the ground at {now[worst]:.1f}° of lean, {before[worst]:.1f}° before. "
        "Tell the rider, who knows the machine by its old lean.",
    )


@rule(
    "strikes-at-full-travel",
    Severity.STOP,
    title="Ground contact at full travel",
    source=DERIVED,
    needs=("points", "suspension.rear.travel_mm"),
    only_with=("suspension.rear.travel_mm",),
    limit=f"{mm(0)}, and no higher than as found",
)
def on_the_ground_at_full_travel(case: Case) -> Words | None:
    """Name a place of the chassis that reaches the ground at full travel."""
    heights = case.heights_at_full
    before = case.before.full.heights if case.before.full else {}
    low = {
        name: height
        for name, height in heights.items()
        if height <= 0 and height <= before.get(name, height)
    }
    if not low:
        return None
    worst = min(low, key=lambda name: low[name])
    return Words(
        f"{worst} reaches the ground at full travel",
        f"With the suspension down, {worst} would be {mm(magnitude(low[worst], 0))} below the "
        "ground: it strikes before the stop. Less travel, or bigger wheels.",
    )
