"""What one kind of machine asks: tandem, recumbent, three wheels, outfit, folding, child's.

What no rule here can judge of a kind is said, not skipped.
"""

from jentrik.core.amounts import mm
from jentrik.core.figures.strikes import straight_toe
from jentrik.core.machine.build import Layout
from jentrik.core.rules.case import (
    ANY_DIFFERENCE,
    BICYCLES,
    MOTORCYCLES,
    Case,
    Severity,
    Words,
    magnitude,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED

HEEL_ROOM_MM = 180.0  # common practice: from the pedal's axle back to the heel
CHILD_RISE_MM = 10.0  # common practice: what a child on tiptoe loses
NOTICED_MM = 3.0  # common practice: of ride height, for an outfit to be aligned again
_LEAST_CHANGE_MM = 0.05  # below it nothing was lost


@rule(
    "heel-overlap",
    Severity.CAUTION,
    title="Heel and front wheel",
    source=COMMON_PRACTICE.at("recumbents, their cranks ahead of the front wheel"),
    needs=("crank_mm", "chainstay_mm", "bb_height_mm"),
    only_with=("built.recumbent",),
    kinds=BICYCLES,
    limit=f"{mm(HEEL_ROOM_MM):g}; only where it gets worse",
)
def heel_overlap(case: Case) -> Words | None:
    """Name a recumbent's front wheel that comes nearer to the rider's heels."""
    if case.found.build.layout != "recumbent":
        return None
    crank = case.proposal.contact.crank_mm or case.found.cranks.length_mm
    now = straight_toe(case.fitted, case.after.geometry, crank)
    before = straight_toe(case.found, case.before.geometry, case.found.cranks.length_mm)
    if now is None or before is None or now >= HEEL_ROOM_MM or now > before - _LEAST_CHANGE_MM:
        return None
    return Words(
        f"Heel room {mm(now):.0f}",
        f"Between pedal axle and front tire {mm(now):.0f} are left, {mm(before):.0f} before; a "
        f"heel takes about {mm(HEEL_ROOM_MM):g}. Heels can meet the tire, in a turn first: "
        "shorter cranks, the boom further out, or a smaller front wheel.",
    )


@rule(
    "folds-no-more",
    Severity.CAUTION,
    title="Whether it still folds",
    source=DERIVED,
    needs=("fold_wheel_mm",),
    only_with=("built.folding",),
    kinds=BICYCLES,
    limit="the largest wheel across that goes into the fold",
)
def folds_no_more(case: Case) -> Words | None:
    """Name a wheel larger than the fold takes."""
    most = case.found.frame.fold_wheel_mm
    if most is None:
        return None
    wheels = case.after.wheels
    largest = max(wheels.front.diameter_mm, wheels.rear.diameter_mm)
    if largest <= most:
        return None
    return Words(
        f"Too large to fold by {mm(magnitude(largest - most, 0))}",
        f"Folded, this machine takes wheels up to {mm(most):.0f} across; the larger one would be "
        f"{mm(largest):.0f}. Fold it with the tire in before it is promised.",
    )


@rule(
    "foot-to-ground",
    Severity.CAUTION,
    title="Child's foot and ground",
    source=COMMON_PRACTICE,
    needs=("points",),
    only_with=("built.child",),
    kinds=BICYCLES,
    limit=f"{mm(CHILD_RISE_MM):g} higher",
)
def child_off_the_ground(case: Case) -> Words | None:
    """Name a child's saddle that comes up further from the ground."""
    if case.found.riding.use != "child":
        return None
    up = case.contact_shift("seat_height_mm")
    if up is None or up <= CHILD_RISE_MM:
        return None
    return Words(
        f"Saddle {mm(magnitude(up, 0))} higher for a child",
        f"The saddle comes up by {mm(magnitude(up, 0))}. Try with the child: both balls of the "
        "feet on the ground, or the saddle lower.",
    )


@rule(
    "outfit-set-again",
    Severity.CAUTION,
    title="Sidecar level, lead and toe-in",
    source=COMMON_PRACTICE,
    needs=("sidecar.toe_in_mm", "sidecar.lead_mm"),
    only_with=("built.sidecar",),
    kinds=MOTORCYCLES,
    limit=f"{mm(NOTICED_MM):g} of either axle's height",
)
def outfit_to_set_again(case: Case) -> Words | None:
    """Say of an outfit whose machine comes up or down that it is to be aligned again."""
    if not case.found.has_sidecar:
        return None
    moved = max(
        abs(case.after.wheels.at(end).diameter_mm - case.found.wheels.at(end).diameter_mm) / 2
        for end in ("front", "rear")
    )
    if moved < NOTICED_MM:
        return None
    sidecar = case.found.sidecar
    known = [
        f"{name} {mm(figure):g}"
        for name, figure in (("lead", sidecar.lead_mm), ("toe-in", sidecar.toe_in_mm))
        if figure is not None
    ]
    now = f" As found: {', '.join(known)}." if known else ""
    return Words(
        "Sidecar to be aligned again",
        f"An axle comes up or down by {mm(magnitude(moved, 0))}: the machine stands askew to its "
        f"sidecar. Level, lean-out and toe-in are set again on a flat floor.{now}",
    )


@rule(
    "twin-wheels-alike",
    Severity.NOTE,
    title="Two wheels on one axle",
    source=COMMON_PRACTICE,
    limit=ANY_DIFFERENCE,
)
def twins_alike(case: Case) -> Words | None:
    """Remind that both wheels of one end are changed together."""
    end = case.found.build.twin_end
    if end is None or (case.proposal.front if end == "front" else case.proposal.rear).tire is None:
        return None
    return Words(
        f"Both {end} wheels alike",
        f"It has two {end} wheels: both get the same tire, of one make, age and pressure, or it "
        "pulls to one side. The order and the card count both.",
    )


_NOT_JUDGED: dict[Layout, str] = {
    "tadpole": "Camber, toe and the two steering axes of the front wheels, and how it tips in a "
    "bend, are not judged here: trail and head angle are those of one wheel.",
    "delta": "How it tips in a bend, and which rear wheel drives, is not judged here.",
    "sidecar": "Lead, lean-out, toe-in and what the third wheel carries are not judged here.",
    "recumbent": "Chain line over its idlers, reach of the legs and steering behind the cranks "
    "are not judged here.",
    "tandem": "What two riders flex, and the timing chain, are not judged here.",
}


@rule(
    "kind-not-judged",
    Severity.NOTE,
    title="What is not judged of a kind of machine",
    source=COMMON_PRACTICE,
    limit="a layout of its own",
)
def not_judged(case: Case) -> Words | None:
    """Say what no rule here judges of a tandem, a recumbent or a machine on three wheels."""
    build = case.found.build
    said = _NOT_JUDGED.get(build.layout)
    if said is None and build.wheel_count == 3:
        said = "The linkage that lets its two front wheels lean is not judged here."
    if said is None and case.found.has_sidecar:
        said = _NOT_JUDGED["sidecar"]
    return None if said is None else Words("Not judged of this kind", f"{said} Look by hand.")
