"""Does another wheel go into this machine: hub, rotor, driver, sensor, and does it run true?

ISO 4210-2 (from memory): a bicycle rim runs out 1 mm at most with rim brakes, 2 mm with others.
"""

from typing import Any

from jentrik.core.amounts import mm
from jentrik.core.rules.case import (
    BICYCLES,
    MOTORCYCLES,
    THE_SHEETS,
    Severity,
    WheelCase,
    Words,
    rule,
)
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, ISO_4210_2

TRUTH = ISO_4210_2.at("rim run-out; on motorcycles common practice")
RIM_BRAKE_RUNOUT_MM, OTHER_RUNOUT_MM = 1.0, 2.0
RING_RUNOUT_MM = 0.5  # common practice; the maker's figure wins
CHAIN_LINE_MM = 2.0  # common practice; chains of derailleur gears bear more
COLD_SET_MM = 10.0  # common practice: what a steel rear triangle is cold-set by at most
WIDE_VALVE_MM = 8.5  # common practice: the hole of a wide valve
WIDE_FROM_MM = WIDE_VALVE_MM - 0.5  # a hole drilled a little tight still takes it
CLOSE_MM = 0.5  # hubs this near are one size


_OF_HUBS = f"a difference above {mm(CLOSE_MM):g}"


def _hub(name: str, end: str = "{end}") -> dict[str, Any]:
    """Return what a comparison of a hub's figure needs, found and planned."""
    needs = (f"{end}.hub.{name}", f"planned.{end}.hub.{name}")
    return {"needs": needs, "only_with": (f"planned.{end}.another", needs[0])}


@rule(
    "hub-spacing-differs",
    Severity.STOP,
    title="Hub width",
    source=DERIVED,
    **_hub("spacing_mm"),
    limit=_OF_HUBS,
)
def spacing_differs(wheel: WheelCase) -> Words | None:
    """Name a hub wider or narrower than frame or fork."""
    if _may_be_cold_set(wheel):
        return None
    return _differs(
        wheel, "spacing_mm", "Hub", "takes", "Another hub or its end caps; never spread or squeeze."
    )


@rule(
    "hub-spacing-differs",
    Severity.CAUTION,
    source=DERIVED,
    **_hub("spacing_mm"),
    limit=f"up to {mm(COLD_SET_MM):g} at the rear of a steel frame",
)
def spacing_to_cold_set(wheel: WheelCase) -> Words | None:
    """Name a rear hub a little wider or narrower than a frame of steel."""
    if not _may_be_cold_set(wheel):
        return None
    cure = (
        "A frame of steel can be cold-set by a qualified person, dropouts aligned after; other "
        "shops fit another hub. Never spread it over the axle."
    )
    return _differs(wheel, "spacing_mm", "Hub", "takes", cure)


def _may_be_cold_set(wheel: WheelCase) -> bool:
    """Whether a rear triangle of steel is asked to take a few mm more or less."""
    old, new = wheel.found.hub.spacing_mm, wheel.wheel.hub.spacing_mm
    if wheel.end != "rear" or wheel.case.found.frame.material != "steel":
        return False
    return old is not None and new is not None and abs(new - old) <= COLD_SET_MM


@rule(
    "rotor-over-makers-limit",
    Severity.STOP,
    title="Rotor larger than the maker allows",
    source=COMMON_PRACTICE.at("the fork or frame maker's limit on the sheet"),
    needs=("spec.{end}.rotor_most_mm", "planned.{end}.hub.rotor_mm"),
    only_with=("planned.{end}.hub.rotor_mm",),
    limit=THE_SHEETS,
)
def rotor_over_makers_limit(wheel: WheelCase) -> Words | None:
    """Name a rotor larger than fork or frame are made for."""
    most, rotor = wheel.spec.rotor_most_mm, wheel.wheel.hub.rotor_mm
    if most is None or rotor is None or rotor <= most:
        return None
    whose = "fork" if wheel.end == "front" else "frame"
    return Words(
        f"Rotor {mm(rotor):g}, the {whose} takes {mm(most):g}",
        f"The {whose}'s maker allows a rotor of {mm(most):g} at most; {mm(rotor):g} loads its legs "
        "and mount beyond what they were made for. A smaller rotor.",
    )


PADS_LEAST_MM = 1.0  # common practice; the maker's figure wins


@rule(
    "rotor-worn",
    Severity.STOP,
    title="Rotor worn to its minimum",
    source=COMMON_PRACTICE.at("the minimum its maker marks on the rotor"),
    needs=("planned.{end}.hub.rotor_thickness_mm", "planned.{end}.hub.rotor_minimum_mm"),
    only_with=("planned.{end}.hub.rotor_thickness_mm",),
    limit="the minimum marked on the rotor",
)
def rotor_worn(wheel: WheelCase) -> Words | None:
    """Name a rotor as thin as its maker allows, or thinner."""
    left, least = wheel.wheel.hub.rotor_thickness_mm, wheel.wheel.hub.rotor_minimum_mm
    if left is None or least is None or left > least:
        return None
    return Words(
        f"{wheel.end.capitalize()} rotor worn: {mm(left)}, minimum {mm(least)}",
        f"At its thinnest the {wheel.end} rotor is {mm(left)}; its maker marks {mm(least)} as the "
        "minimum. Another rotor before it is ridden, and pads with it.",
    )


@rule(
    "pads-worn",
    Severity.STOP,
    title="Brake pads worn out",
    source=COMMON_PRACTICE.at("the maker's minimum wins"),
    needs=("planned.{end}.pads_mm",),
    only_with=("planned.{end}.pads_mm",),
    limit=f"{mm(PADS_LEAST_MM):g} of lining",
)
def pads_worn(wheel: WheelCase) -> Words | None:
    """Name brake pads with hardly any lining left."""
    left = wheel.wheel.pads_mm
    if left is None or left > PADS_LEAST_MM:
        return None
    return Words(
        f"{wheel.end.capitalize()} pads worn: {mm(left)} of lining left",
        f"Below {mm(PADS_LEAST_MM):g} the backing soon meets the rotor or the rim. New pads.",
    )


@rule(
    "valve-hole",
    Severity.STOP,
    title="Valve hole",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.rim.valve_hole_mm",),
    only_with=("planned.{end}.fitted.valve",),
    kinds=BICYCLES,
    limit=f"a hole below {mm(WIDE_FROM_MM):g} for a wide valve",
)
def valve_hole_wrong(wheel: WheelCase) -> Words | None:
    """Name a valve that does not go through the rim's hole."""
    valve, hole = wheel.wheel.fitted.valve, _hole(wheel)
    if valve != "wide" or hole is None or hole >= WIDE_FROM_MM:
        return None
    return Words(
        f"Wide valve, hole of {mm(hole):g}",
        f"A wide valve needs a hole of about {mm(WIDE_VALVE_MM):g}; the {wheel.end} rim has "
        f"{mm(hole):g}. A tube with a narrow valve; drilling is the rim maker's word.",
    )


@rule(
    "valve-hole",
    Severity.NOTE,
    source=COMMON_PRACTICE,
    needs=("planned.{end}.rim.valve_hole_mm",),
    only_with=("planned.{end}.fitted.valve",),
    kinds=BICYCLES,
    limit=f"a hole from {mm(WIDE_FROM_MM):g} on for a narrow valve",
)
def valve_hole_wide(wheel: WheelCase) -> Words | None:
    """Say of a narrow valve in a wide hole that it needs a sleeve."""
    valve, hole = wheel.wheel.fitted.valve, _hole(wheel)
    if valve != "narrow" or hole is None or hole < WIDE_FROM_MM:
        return None
    return Words(
        f"Narrow valve, hole of {mm(hole):g}",
        f"The {wheel.end} valve stands loose in a hole of {mm(hole):g} and can chafe through: a "
        "sleeve in the hole.",
    )


def _hole(wheel: WheelCase) -> float | None:
    return wheel.wheel.rim.valve_hole_mm if wheel.wheel.rim else None


@rule(
    "rim-tape-narrow",
    Severity.CAUTION,
    title="Rim tape width",
    source=COMMON_PRACTICE,
    needs=("planned.{end}.rim.tape_mm",),
    only_with=("planned.{end}.rim.tape_mm",),
    kinds=BICYCLES,
    limit="the rim's inner width",
)
def tape_narrow(wheel: WheelCase) -> Words | None:
    """Name a rim tape narrower than the rim's bed."""
    rim = wheel.wheel.rim
    if rim is None or rim.tape_mm is None or rim.inner_width_mm is None:
        return None
    if rim.tape_mm >= rim.inner_width_mm:
        return None
    return Words(
        f"Rim tape {mm(rim.tape_mm):g} on a {mm(rim.inner_width_mm):g} rim",
        f"The {wheel.end} rim is {mm(rim.inner_width_mm):g} wide inside: tape at least that wide, "
        "so that no spoke hole or edge is left open. Without a tube, a few mm more.",
    )


@rule(
    "axle-differs",
    Severity.STOP,
    title="Axle diameter",
    source=DERIVED,
    **_hub("axle_mm"),
    limit=_OF_HUBS,
)
def axle_differs(wheel: WheelCase) -> Words | None:
    """Name an axle of another diameter than frame or fork take."""
    return _differs(wheel, "axle_mm", "Axle", "takes", "Another hub, or the maker's own adapter.")


@rule(
    "rotor-size-differs",
    Severity.CAUTION,
    title="Rotor size",
    source=DERIVED,
    **_hub("rotor_mm"),
    limit=_OF_HUBS,
)
def rotor_differs(wheel: WheelCase) -> Words | None:
    """Name a rotor of another size than the caliper stands for."""
    return _differs(
        wheel,
        "rotor_mm",
        "Rotor",
        "caliper stands for",
        "The old rotor where it mounts, or the maker's adapter within what fork and frame allow.",
    )


def _differs(wheel: WheelCase, figure: str, name: str, does: str, cure: str) -> Words | None:
    old, new = getattr(wheel.found.hub, figure), getattr(wheel.wheel.hub, figure)
    if old is None or new is None or abs(new - old) <= CLOSE_MM:
        return None
    return Words(
        f"{name} {mm(new):g}, the machine {does} {mm(old):g}",
        f"The {wheel.end} wheel's {name.lower()} is {mm(new):g}; this machine {does} {mm(old):g}. "
        f"{cure}",
    )


@rule(
    "rotor-mount-differs",
    Severity.CAUTION,
    title="Different rotor mount",
    source=DERIVED,
    **_hub("rotor_mount"),
    limit="words that differ",
)
def rotor_mounts_otherwise(wheel: WheelCase) -> Words | None:
    """Name a hub the old rotor does not bolt to."""
    return _other_words(
        wheel,
        "rotor_mount",
        "Different rotor mount",
        "The old rotor does not carry over: buy one for this hub, in the old size.",
    )


@rule(
    "driver-differs",
    Severity.CAUTION,
    title="Sprocket driver",
    source=DERIVED,
    **_hub("driver", "rear"),
    limit="words that differ",
)
def driver_differs(wheel: WheelCase) -> Words | None:
    """Name a hub the old sprockets do not go on."""
    return _other_words(
        wheel,
        "driver",
        "The sprockets do not carry over",
        "Another driver body, or sprockets for this one; watch out for chain line and chain.",
    )


@rule(
    "chain-line-differs",
    Severity.CAUTION,
    title="Chain line",
    source=COMMON_PRACTICE,
    **_hub("chain_line_mm", "rear"),
    limit=f"{mm(CHAIN_LINE_MM):g}",
)
def chain_line_differs(wheel: WheelCase) -> Words | None:
    """Name a hub that takes the sprockets out of the chain's line."""
    old, new = wheel.found.hub.chain_line_mm, wheel.wheel.hub.chain_line_mm
    if old is None or new is None or abs(new - old) <= CHAIN_LINE_MM:
        return None
    by, way = abs(new - old), "out" if new > old else "in"
    return Words(
        f"Sprockets {mm(by):g} further {way}",
        f"As found the chain runs {mm(old):g} from the wheel's middle; on this hub the sprockets "
        f"stand at {mm(new):g}. The chain runs askew and wears, and its gap to the tire changes "
        "with it. A spacer of that much, or another carrier.",
    )


def _other_words(wheel: WheelCase, name: str, headline: str, cure: str) -> Words | None:
    old, new = getattr(wheel.found.hub, name), getattr(wheel.wheel.hub, name)
    if old is None or new is None or old.casefold().split() == new.casefold().split():
        return None
    return Words(headline, f"“{new}” at the {wheel.end}, “{old}” as found. {cure}")


@rule(
    "wheel-out-of-true",
    Severity.CAUTION,
    title="Rim runout",
    source=TRUTH,
    limit=(f"{mm(RIM_BRAKE_RUNOUT_MM):g} with rim brakes, else {mm(OTHER_RUNOUT_MM):g}"),
)
def out_of_true(wheel: WheelCase) -> Words | None:
    """Name a rim that runs out more than it may."""
    runout = wheel.wheel.hub.runout_mm
    most = RIM_BRAKE_RUNOUT_MM if wheel.wheel.brakes_by == "rim" else OTHER_RUNOUT_MM
    if runout is None or runout <= most:
        return None
    return Words(
        f"Rim runs out {mm(runout):g}",
        f"At its worst the {wheel.end} rim is {mm(runout):g} off; {mm(most):g} at most. True it, "
        "or find out whether the rim is bent or cracked.",
    )


@rule(
    "sensor-not-read",
    Severity.STOP,
    title="Sensor of another kind",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit="what was found out about the sensor",
)
def sensor_not_read(wheel: WheelCase) -> Words | None:
    """Name a wheel whose speed sensor is of another kind than the control unit reads."""
    if wheel.wheel.sensor.kind != "other":
        return None
    return Words(
        "Another kind of wheel sensor",
        f"The {wheel.end} wheel's sensor type or voltage is another: the control unit may not "
        "read it, and ABS fails. Keep sensor and ring of this machine, or another wheel.",
    )


@rule(
    "sensor-ring-face",
    Severity.CAUTION,
    title="Mounting of the tone ring",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit="what was found out about the ring's face",
)
def ring_mounts_otherwise(wheel: WheelCase) -> Words | None:
    """Name a wheel the old tone ring does not bolt to as it is."""
    if wheel.wheel.sensor.face != "other":
        return None
    return Words(
        "The tone ring's face is another",
        f"Ring and rotor of the {wheel.end} wheel do not mount as they are. Drilling, tapping or "
        "turning a hub is machine-shop work: drawing, runout reading, and the sign-off of a "
        "qualified person.",
    )


@rule(
    "sensor-ring-runout",
    Severity.CAUTION,
    title="Runout of the tone ring",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit=f"{mm(RING_RUNOUT_MM):g}",
)
def ring_out_of_true(wheel: WheelCase) -> Words | None:
    """Name a tone ring that runs out too far to be read evenly."""
    runout = wheel.wheel.sensor.runout_mm
    if runout is None or runout <= RING_RUNOUT_MM:
        return None
    return Words(
        f"Tone ring runs out {mm(runout):g}",
        f"The {wheel.end} ring is off by {mm(runout):g}; {mm(RING_RUNOUT_MM):g} is usual at most, "
        "the maker's figure wins. The sensor's gap breathes and pulses drop out.",
    )


@rule(
    "sensor-carry-over",
    Severity.CAUTION,
    title="Wheel sensor on another wheel",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit="face, kind and run-out not all known while another wheel goes in",
)
def sensor_to_look_at(wheel: WheelCase) -> Words | None:
    """Name what is not checked yet where another wheel must feed the old sensor."""
    if wheel.found.tone_ring_slots is None or not wheel.found.is_another(wheel.change):
        return None
    sensor = wheel.wheel.sensor
    open_ = [
        question
        for answer, question in (
            (sensor.face, "does the ring's and rotor's mounting face match"),
            (sensor.kind, "is sensor type and voltage of that model year the same"),
            (sensor.runout_mm, "how true does the ring run"),
        )
        if answer is None
    ]
    if not open_:
        return None
    return Words(
        "Will the wheel sensor carry over?",
        f"Before another {wheel.end} wheel is bought: {'; '.join(open_)}? Wheels of other years "
        "can use sensors this control unit does not read.",
    )
