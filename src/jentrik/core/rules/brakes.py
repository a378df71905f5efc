"""Does the brake go with another wheel: does it find the rim, its rotor, its stay?

    bolt above    needed reach = reach now + fall of the rim     (half the change of bead seat)
    boss below    the pad sits as much lower on its arm, nearer to the boss

Sources: derived; common practice for what drums and coasters ask for.
"""

from jentrik.core.amounts import bare, mm
from jentrik.core.machine.build import Brake
from jentrik.core.rules.case import (
    ANY_DIFFERENCE,
    BICYCLES,
    Severity,
    WheelCase,
    Words,
    magnitude,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED

_PADS = ("{end}.rim_brake.pad_reach_mm",)
_SLOT = ("{end}.rim_brake.slot_least_mm", "{end}.rim_brake.slot_most_mm", *_PADS)
_BRAKE, _ANOTHER = ("{end}.brake",), ("planned.{end}.another",)
ARM_MOST_MM = 8.0  # common practice: what the slot of an arm on a boss lets its pad move
LEVERAGE_PERCENT = 10.0  # common practice: what a hand tells of a brake


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
    needed, brake = _needed_reach(wheel), wheel.wheel.rim_brake
    if needed is None or brake is None or brake.slot_mm is None:
        return None
    boss = brake.mount == "boss below"
    least, most = brake.slot_mm
    if least <= needed <= most:
        return None
    none = "arm" if boss else "caliper"
    cure = f"No {none} does: a wheel of the old size, or disc wheels where the frame takes a disc."
    if brake.caliper_reach_mm(pad_fall_mm(wheel)) is not None:
        cure = f"A caliper that reaches {mm(needed):.0f}, or another wheel size."
    headline = (
        f"Rim brake does not reach: needs {mm(needed):.0f}, has {bare(f'{least:g}–{most:g}', 'mm')}"
    )
    if needed <= 0:
        where = "boss" if boss else "bolt"
        headline = f"Rim brake does not reach: the rim lies beyond its {where}"
        return Words(headline, f"No brake at this {wheel.end} reaches such a rim. {cure}")
    return Words(
        headline,
        f"The {wheel.end} {'arms reach' if boss else 'caliper reaches'} {mm(least):g} to "
        f"{mm(most):g} from {'boss' if boss else 'bolt'} to pad; the new rim needs "
        f"{mm(needed):.0f}. {cure}",
    )


@rule(
    "rim-brake-reach",
    Severity.STOP,
    source=COMMON_PRACTICE.at("arms on bosses below the rim"),
    needs=_PADS,
    only_with=_PADS,
    kinds=BICYCLES,
    limit=f"{mm(ARM_MOST_MM):g} on an arm whose slot is not measured",
)
def boss_on_another_rim(wheel: WheelCase) -> Words | None:
    """Name arms on bosses below the rim that would meet a rim far above or below their own."""
    moved, brake = pad_fall_mm(wheel), wheel.wheel.rim_brake
    if moved is None or brake is None or brake.mount != "boss below" or brake.slot_mm is not None:
        return None
    if abs(moved) <= ARM_MOST_MM:
        return None
    needed = _needed_reach(wheel)
    where = "" if needed is None else f", {mm(needed):.0f} above its boss"
    return Words(
        f"Rim brake on bosses: the rim sits {mm(magnitude(moved, 0))} "
        f"{'lower' if moved > 0 else 'higher'}",
        f"The {wheel.end} pads would sit {mm(magnitude(moved, 0))} "
        f"{'lower' if moved > 0 else 'higher'} on their arms{where}: no arm does. A wheel of the "
        "old size, or disc wheels where the frame takes a disc.",
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
    moved, needed, brake = pad_fall_mm(wheel), _needed_reach(wheel), wheel.wheel.rim_brake
    if moved is None or brake_out_of_reach(wheel) or boss_on_another_rim(wheel):
        return None
    lower = "lower" if moved > 0 else "higher"
    if needed is not None and brake is not None and brake.slot_mm is not None:
        what = f"at {mm(needed):.0f} they are inside the slot: move them, and try the brake"
    else:
        mount = brake.mount if brake is not None else None
        reach = "" if needed is None else f"{mm(needed):.0f}, "
        ways = {
            "bolt above": f"a caliper bolted above the rim must reach {reach}"
            f"{mm(magnitude(moved, 0))} {'further down' if moved > 0 else 'less'}",
            "boss below": "an arm on a boss below the rim would meet it that much "
            f"{'nearer to' if moved > 0 else 'further from'} its boss",
        }
        known = [ways[mount]] if mount in ways else list(ways.values())
        what = f"{'; '.join(known)}. Measure bolt or boss to pad, and the slot, before ordering"
    return Words(
        f"Rim brake pads move {mm(magnitude(moved, 0))}",
        f"The {wheel.end} rim's brake track sits {mm(magnitude(moved, 0))} {lower}: {what}.",
    )


@rule(
    "brake-not-known",
    Severity.CAUTION,
    title="Which brake it has",
    source=COMMON_PRACTICE,
    needs=_BRAKE,
    only_with=_ANOTHER,
    limit="another bead seat, and no brake on the sheet",
)
def brake_not_known(wheel: WheelCase) -> Words | None:
    """Say what another rim size means for each brake where the sheet names none."""
    fall = _rim_falls_mm(wheel)
    if fall is None or wheel.wheel.brakes_by is not None:
        return None
    drum = "a drum keeps its shoes, and the new hub needs its stay and rod"
    if wheel.case.found.kind == "motorcycle":
        ways = f"On a disc, rotor and caliper must go with the new hub; {drum}"
    else:
        ways = (
            f"If it brakes on the rim, the pads must move {mm(magnitude(fall, 0))} and may not "
            f"reach; on a disc nothing changes; {drum}, a coaster its arm"
        )
    return Words("Which brake does it have?", f"{ways}. Look at the {wheel.end}, and say it first.")


_NEEDS: dict[Brake, str] = {
    "rim": "a bolt or bosses for it on fork or frame, a rim with a brake track, lever and cable",
    "disc": "a mount for its caliper on fork or frame, a hub for its rotor, caliper, lever and "
    "hose or cable; a mount cannot be added by bolting",
    "drum": "a hub with its plate, a place for its stay on fork or frame, lever and cable or rod",
    "coaster": "a hub with its arm, a chain without tensioner, and a second brake in front",
}


@rule(
    "brake-changed",
    Severity.CAUTION,
    title="Another kind of brake",
    source=COMMON_PRACTICE,
    limit=ANY_DIFFERENCE,
)
def brake_changed(wheel: WheelCase) -> Words | None:
    """Name what a planned brake of another kind needs of frame, fork, hub and controls."""
    old, new = wheel.found.brakes_by, wheel.change.brake
    if new is None or new == old:
        return None
    if new == "none":
        return Words(
            "No brake planned",
            f"At the {wheel.end}. Local rules ask for two brakes that work on their own on most "
            "machines: find out which must stay.",
        )
    was = f" in place of the {old} brake" if old not in (None, "none") else ""
    return Words(
        f"{new.capitalize()} brake planned",
        f"A {new} brake at the {wheel.end}{was} needs {_NEEDS[new]}. Seen on the machine before it "
        "is ordered.",
    )


@rule(
    "hub-brake-carry-over",
    Severity.CAUTION,
    title="Drum or coaster on another wheel",
    source=COMMON_PRACTICE,
    limit="another wheel with a drum or coaster brake",
)
def hub_brake_to_look_at(wheel: WheelCase) -> Words | None:
    """Name what a drum or coaster asks of another wheel: its stay forgotten, it locks the wheel."""
    brake = wheel.wheel.brakes_by
    if brake not in ("drum", "coaster") or not wheel.found.is_another(wheel.change):
        return None
    stay = "its stay" if brake == "drum" else "its arm"
    what = "plate, shoes, rod or cable" if brake == "drum" else "arm, clip and sprocket"
    return Words(
        f"{brake.capitalize()} and {stay} on another hub",
        f"Before another {wheel.end} wheel is bought: does the new hub have a {brake} with the "
        f"same {what}, and does {stay} reach its place? Without it the brake turns with the hub "
        "and locks the wheel.",
    )


@rule(
    "brake-leverage",
    Severity.NOTE,
    title="What a hub brake does at the road",
    source=DERIVED,
    limit=f"{LEVERAGE_PERCENT:g} %",
)
def leverage(wheel: WheelCase) -> Words | None:
    """Say how much harder or softer a brake in the hub works at the road on another wheel."""
    if wheel.wheel.brakes_by not in ("disc", "drum", "coaster"):
        return None
    percent = (wheel.found.diameter_mm / wheel.wheel.diameter_mm - 1.0) * 100.0
    if abs(percent) < LEVERAGE_PERCENT:
        return None
    more = "more" if percent > 0 else "less"
    return Words(
        f"The same pull brakes {magnitude(percent, 0)} % {more}",
        f"The {wheel.end} brake works in the hub: the same pull at the lever brakes "
        f"{magnitude(percent, 0)} % {more} at the road on a wheel of this size.",
    )


def _needed_reach(wheel: WheelCase) -> float | None:
    """Return how far in mm the pads must sit from bolt or boss; None where that is not known."""
    brake = wheel.found.rim_brake
    return None if brake is None else brake.needed_reach_mm(pad_fall_mm(wheel))


def pad_fall_mm(wheel: WheelCase) -> float | None:
    """Return how far the pads go towards the hub in mm; None without a rim brake or a move."""
    return _rim_falls_mm(wheel) if wheel.wheel.brakes_by == "rim" else None


def _rim_falls_mm(wheel: WheelCase) -> float | None:
    """Return how far the rim comes nearer to the hub in mm; None where it does not move."""
    return wheel.found.rim_falls_mm(wheel.wheel)
