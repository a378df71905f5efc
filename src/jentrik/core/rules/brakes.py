"""Do the brakes still find the rim?"""

from jentrik.core.amounts import bare, mm
from jentrik.core.rules.case import BICYCLES, Severity, WheelCase, Words, magnitude, rule
from jentrik.core.sources import DERIVED

_PADS = ("{end}.rim_brake.pad_reach_mm",)
_SLOT = ("{end}.rim_brake.slot_least_mm", "{end}.rim_brake.slot_most_mm", *_PADS)


@rule(
    "rim-brake-reach",
    Severity.STOP,
    title="Reach of the brake pads",
    source=DERIVED,
    needs=_SLOT,
    only_with=_PADS,
    kinds=BICYCLES,
    limit="the slot; the pads move by half the change of the bead seat",
)
def brake_out_of_reach(wheel: WheelCase) -> Words | None:
    """Name rim-brake pads that the caliper's slot cannot bring to the new rim."""
    moved, needed, brake = _pad_move(wheel), _needed_reach(wheel), wheel.found.rim_brake
    if moved is None or needed is None or brake is None or brake.slot_mm is None:
        return None
    boss = brake.mount == "boss below"
    least, most = brake.slot_mm
    if least <= needed <= most:
        return None
    return Words(
        f"Rim brake does not reach: needs {mm(needed):.0f}, has "
        f"{bare(f'{least:g}–{most:g}', 'mm')}",
        f"The {wheel.end} {'arms reach' if boss else 'caliper reaches'} {mm(least):g} to "
        f"{mm(most):g} from {'boss' if boss else 'bolt'} to pad; the new rim needs "
        f"{mm(needed):.0f}. Another brake, or another wheel size.",
    )


@rule(
    "rim-brake-reach",
    Severity.CAUTION,
    source=DERIVED,
    needs=_PADS,
    only_with=_PADS,
    kinds=BICYCLES,
    limit="any move of the brake track",
)
def brake_to_measure(wheel: WheelCase) -> Words | None:
    """Say how far rim-brake pads must move where the slot holds or is not measured."""
    moved, needed, brake = _pad_move(wheel), _needed_reach(wheel), wheel.found.rim_brake
    if moved is None or brake is None or brake_out_of_reach(wheel) is not None:
        return None
    if needed is not None and brake.slot_mm is not None:
        what = f"at {mm(needed):.0f} they are inside the slot: move them, and try the brake"
    else:
        reach = {
            "bolt above": f"a caliper bolted above the rim must reach "
            f"{'further down' if moved > 0 else 'less far'}",
            "boss below": f"a caliper on a boss below the rim must reach "
            f"{'less far' if moved > 0 else 'further up'}",
        }
        known = [reach[brake.mount]] if brake.mount in reach else list(reach.values())
        what = f"{', '.join(known)}. Measure the slot before ordering"
    return Words(
        f"Rim brake pads move {mm(magnitude(moved, 0))}",
        f"The {wheel.end} rim's brake track sits {mm(magnitude(moved, 0))} "
        f"{'lower' if moved > 0 else 'higher'}: {what}.",
    )


def _needed_reach(wheel: WheelCase) -> float | None:
    """Return how far in mm the pads must sit from bolt or boss; None where that is not known."""
    moved, brake = _pad_move(wheel), wheel.found.rim_brake
    if moved is None or brake is None or brake.pad_reach_mm is None:
        return None
    return brake.pad_reach_mm + (-moved if brake.mount == "boss below" else moved)


def _pad_move(wheel: WheelCase) -> float | None:
    """Return how far the pads go towards the hub in mm; None without a rim brake or a move."""
    old, new = wheel.found.tire, wheel.wheel.tire
    if wheel.found.rim_brake is None or old is None or new is None:
        return None
    moved = (old.bead_seat_diameter_mm - new.bead_seat_diameter_mm) / 2
    return moved or None
