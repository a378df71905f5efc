"""What a proposal can change besides the two tire codes: key, words, unit, on which machine.

Keys are the paths of a plan document's proposal; a fork's straight length alone is not kept but
worked out of the one along the axis.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from jentrik.core.machine.build import BRAKES
from jentrik.core.machine.declared import ENDS, End, Kind
from jentrik.core.machine.fields import STRAIGHT_FORK
from jentrik.core.machine.sheet import Sheet

Group = Literal["more", "front", "rear"]
GROUPS: dict[Group, str] = {"more": "More changes", "front": "Front wheel", "rear": "Rear wheel"}


@dataclass(frozen=True, slots=True)
class ProposalField:
    """One thing a proposal can change.

    `choices` makes it a word out of a list, `words` a few words of the shop's own, `made` a week
    and year; `needs` is the figure a sheet must hold before the change can be computed.
    """

    key: str
    label: str
    unit: str
    group: Group
    kinds: tuple[Kind, ...] = ("bicycle", "motorcycle")
    choices: tuple[str, ...] = ()
    words: bool = False
    range: bool = False  # two ends, such as 57-73
    needs: str | None = None
    on_a_motorcycle: str = ""

    def label_on(self, kind: Kind) -> str:
        """Return its words on a machine of that kind."""
        return self.on_a_motorcycle or self.label if kind == "motorcycle" else self.label


_BICYCLE: tuple[Kind, ...] = ("bicycle",)
_MOTORCYCLE: tuple[Kind, ...] = ("motorcycle",)


# Of a wheel: "{end}" stands for its end in keys, and the group is that of the end.
_WHEEL: tuple[ProposalField, ...] = (
    ProposalField("{end}.overall_diameter_mm", "Diameter, measured", "mm", "front"),
    ProposalField("{end}.brake", "Brake", "", "front", _BICYCLE, choices=BRAKES["bicycle"]),
    ProposalField(
        "{end}.rim_brake.slot_mm",
        "Another caliper, slot",
        "mm",
        "front",
        _BICYCLE,
        needs="{end}.rim_brake.pad_reach_mm",
        range=True,
    ),
    ProposalField("{end}.guard", "Mudguard", "", "front", _BICYCLE, choices=("mudguard", "none")),
    ProposalField(
        "{end}.guard_inside_mm",
        "Another mudguard, inside width",
        "mm",
        "front",
        _BICYCLE,
        needs="{end}.guard",
    ),
    ProposalField("{end}.fitted.make", "Make and model", "", "front", words=True),
    ProposalField("{end}.fitted.made", "Made, week and year", "", "front", words=True),
    ProposalField("{end}.fitted.tread_mm", "Tread", "mm", "front", _MOTORCYCLE),
    ProposalField(
        "{end}.fitted.arrow", "Turns", "", "front", choices=("with the arrow", "against the arrow")
    ),
    ProposalField("{end}.fitted.pressure_kpa", "Pressure, cold", "kPa", "front"),
    ProposalField("{end}.fitted.two_up_kpa", "Pressure with two up", "kPa", "front"),
    ProposalField("{end}.fitted.most_kpa", "Max pressure on sidewall", "kPa", "front"),
    ProposalField("{end}.rim.inner_width_mm", "Rim inner width", "mm", "front"),
    ProposalField("{end}.rim.tube", "Rim made for", "", "front", choices=("tubeless", "tube-type")),
    ProposalField(
        "{end}.rim.build", "Wheel is", "", "front", _MOTORCYCLE, choices=("laced", "cast")
    ),
    ProposalField("{end}.rim.hooks", "Rim", "", "front", _BICYCLE, choices=("hooked", "hookless")),
    ProposalField("{end}.rim.most_kpa", "Max pressure of the rim", "kPa", "front", _BICYCLE),
    ProposalField("{end}.rim.most_kpa_at_mm", "Stated for a tire of", "mm", "front", _BICYCLE),
    ProposalField("{end}.rim.valve_hole_mm", "Valve hole", "mm", "front", _BICYCLE),
    ProposalField("{end}.rim.tape_mm", "Rim tape, width", "mm", "front", _BICYCLE),
    ProposalField(
        "{end}.rim.effective_mm", "Effective rim diameter", "mm", "front", needs="{end}.hub.spokes"
    ),
    ProposalField("{end}.fitted.valve", "Valve", "", "front", _BICYCLE, choices=("narrow", "wide")),
    ProposalField(
        "{end}.fitted.most_load_kg",
        "Max load on sidewall",
        "kg",
        "front",
        _BICYCLE,
        needs="rider_kg",
    ),
    ProposalField(
        "{end}.fitted.rated_kmh",
        "Rated for assisted cycles to",
        "km/h",
        "front",
        _BICYCLE,
        needs="class",
    ),
    ProposalField("{end}.hub.runout_mm", "Rim runs out", "mm", "front"),
    ProposalField("{end}.hub.spacing_mm", "Hub width", "mm", "front", needs="{end}.hub.spacing_mm"),
    ProposalField("{end}.hub.axle_mm", "Axle diameter", "mm", "front", needs="{end}.hub.axle_mm"),
    ProposalField("{end}.hub.rotor_mm", "Rotor", "mm", "front", needs="{end}.hub.rotor_mm"),
    ProposalField(
        "{end}.hub.rotor_mount",
        "Rotor mounts by",
        "",
        "front",
        words=True,
        needs="{end}.hub.rotor_mount",
    ),
    ProposalField(
        "rear.hub.driver", "Sprockets carried by", "", "front", words=True, needs="rear.hub.driver"
    ),
    ProposalField(
        "rear.hub.chain_line_mm", "Chain line", "mm", "front", needs="rear.hub.chain_line_mm"
    ),
    ProposalField(
        "{end}.tone_ring_slots",
        "Tone ring slots",
        "",
        "front",
        _MOTORCYCLE,
        needs="{end}.tone_ring_slots",
    ),
    ProposalField(
        "{end}.sensor.face",
        "Ring's mounting face",
        "",
        "front",
        _MOTORCYCLE,
        choices=("same", "other"),
        needs="{end}.tone_ring_slots",
    ),
    ProposalField(
        "{end}.sensor.kind",
        "Sensor type, voltage",
        "",
        "front",
        _MOTORCYCLE,
        choices=("same", "other"),
        needs="{end}.tone_ring_slots",
    ),
    ProposalField(
        "{end}.sensor.runout_mm",
        "Tone ring runs out",
        "mm",
        "front",
        _MOTORCYCLE,
        needs="{end}.tone_ring_slots",
    ),
    ProposalField(
        "{end}.sensor.holes",
        "Bolt circle to be made, holes",
        "",
        "front",
        _MOTORCYCLE,
        needs="{end}.tone_ring_slots",
    ),
    ProposalField(
        "{end}.sensor.circle_mm",
        "Bolt circle to be made",
        "mm",
        "front",
        _MOTORCYCLE,
        needs="{end}.tone_ring_slots",
    ),
    ProposalField(
        "{end}.sensor.hole_mm",
        "Each hole",
        "mm",
        "front",
        _MOTORCYCLE,
        needs="{end}.tone_ring_slots",
    ),
)


_OF_THE_REAR = ("rear.hub.driver", "rear.hub.chain_line_mm")


def _at(end: End) -> tuple[ProposalField, ...]:
    """Return what a proposal can change of the wheel at one end."""
    return tuple(
        replace(
            field,
            key=field.key.replace("{end}", end),
            group=end,
            needs=field.needs.replace("{end}", end) if field.needs else None,
        )
        for field in _WHEEL
        if end == "rear" or field.key not in _OF_THE_REAR
    )


PROPOSAL_FIELDS: tuple[ProposalField, ...] = (
    ProposalField(
        "fork.length_mm",
        "Fork, along the axis",
        "mm",
        "more",
        on_a_motorcycle="Axle to lower clamp",
    ),
    ProposalField(STRAIGHT_FORK, "Fork, axle to crown straight", "mm", "more", _BICYCLE),
    ProposalField(
        "fork.offset_mm", "Fork offset", "mm", "more", on_a_motorcycle="Clamp and axle offset"
    ),
    ProposalField("fork.tubes_up_mm", "Fork tubes up in the clamps", "mm", "more", _MOTORCYCLE),
    ProposalField(
        "fork.rated_bead_seat_mm", "New fork made for a wheel up to", "mm", "more", _BICYCLE
    ),
    ProposalField("lower_cup_mm", "Lower headset cup", "mm", "more", _BICYCLE),
    ProposalField("rear_axle_shift_mm.x", "Rear axle forward", "mm", "more"),
    ProposalField("rear_axle_shift_mm.y", "Rear axle up in the frame", "mm", "more"),
    ProposalField("headset_turn_deg", "Headset turned steeper", "°", "more", _BICYCLE),
    ProposalField(
        "fork.travel_mm", "Fork travel", "mm", "more", needs="suspension.front.travel_mm"
    ),
    ProposalField("shock_mm", "Shock, eye to eye", "mm", "more", needs="suspension.rear.leverage"),
    ProposalField(
        "link_longer_mm", "Link longer", "mm", "more", needs="suspension.rear.link_ratio"
    ),
    ProposalField(
        "gearing.front_sprocket",
        "Front sprocket",
        "teeth",
        "more",
        _MOTORCYCLE,
        needs="gearing.front_sprocket",
    ),
    ProposalField(
        "gearing.rear_sprocket",
        "Rear sprocket",
        "teeth",
        "more",
        _MOTORCYCLE,
        needs="gearing.rear_sprocket",
    ),
    ProposalField(
        "speedometer.corrected_percent",
        "Instrument's signal corrected by",
        "%",
        "more",
        needs="speedometer.reads_over_percent",
    ),
    ProposalField("contact.spacers_mm", "Spacers below the bar", "mm", "more", _BICYCLE),
    ProposalField("contact.bar_rise_mm", "Bar higher", "mm", "more"),
    ProposalField(
        "contact.saddle_rise_mm", "Saddle higher", "mm", "more", on_a_motorcycle="Seat higher"
    ),
    ProposalField("contact.crank_mm", "Crank length", "mm", "more", needs="crank_mm"),
    *(one for end in ENDS for one in _at(end)),
)
PROPOSAL_FIELD = {one.key: one for one in PROPOSAL_FIELDS}


def proposal_fields(sheet: Sheet, group: Group) -> tuple[ProposalField, ...]:
    """Return the changes of a group that this machine's sheet can tell."""
    return tuple(
        one
        for one in PROPOSAL_FIELDS
        if one.group == group
        and sheet.kind in one.kinds
        and (one.needs is None or one.needs in sheet.figures)
    )


def change_name(key: str, kind: Kind) -> str:
    """Return what a change of a proposal is called, with its end: “rear rotor”, “bar higher”."""
    known = PROPOSAL_FIELD.get(key)
    if known is None:
        return key.replace(".", " ")  # a tire's code, the position
    name = known.label_on(kind)
    name = name if name.split(" ", 1)[0].isupper() else name[:1].lower() + name[1:]
    end = next((end for end in ENDS if key.startswith(f"{end}.")), "")
    return f"{end} {name}".strip()


def value_at(changes: Mapping[str, object], key: str) -> object:
    """Return what a proposal changes under a dotted key; None where it changes nothing there."""
    branch: object = changes
    for part in key.split("."):
        branch = branch.get(part) if isinstance(branch, Mapping) else None
    return branch


def proposed_value(sheet: Sheet, changes: Mapping[str, object], key: str) -> object:
    """Return what a proposal changes under a key; None where it changes nothing there.

    A fork's straight length is worked out of the one along the axis that is kept.
    """
    if key != STRAIGHT_FORK:
        return value_at(changes, key)
    length, offset = value_at(changes, "fork.length_mm"), proposed_offset(sheet, changes)
    return None if length is None or offset is None else math.hypot(float(str(length)), offset)


def proposed_offset(sheet: Sheet, changes: Mapping[str, object]) -> float | None:
    """Return the offset of the fork a proposal ends up with, mm; None where it is not known."""
    changed, found = value_at(changes, "fork.offset_mm"), sheet.figures.get("fork.offset_mm")
    if changed is not None:
        return float(str(changed))
    return None if found is None else float(str(found.value))
