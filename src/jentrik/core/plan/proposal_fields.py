"""What a proposal can change besides the two tire codes: key, words, unit, on which machine.

Keys are the paths of a plan document's proposal.
"""

from dataclasses import dataclass
from typing import Literal

from jentrik.core.machine.machine import Kind
from jentrik.core.machine.suspension import ENDS, End
from jentrik.core.sheet.sheet import Sheet

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
    needs: str | None = None
    on_a_motorcycle: str = ""

    def label_on(self, kind: Kind) -> str:
        """Return its words on a machine of that kind."""
        return self.on_a_motorcycle or self.label if kind == "motorcycle" else self.label


_BICYCLE: tuple[Kind, ...] = ("bicycle",)
_MOTORCYCLE: tuple[Kind, ...] = ("motorcycle",)


def _wheel(end: End) -> tuple[ProposalField, ...]:
    ring = f"{end}.tone_ring_slots"
    return (
        ProposalField(f"{end}.overall_diameter_mm", "Diameter, measured", "mm", end),
        ProposalField(f"{end}.fitted.make", "Make and model", "", end, words=True),
        ProposalField(f"{end}.fitted.made", "Made, week and year", "", end, words=True),
        ProposalField(f"{end}.fitted.tread_mm", "Tread", "mm", end, _MOTORCYCLE),
        ProposalField(
            f"{end}.fitted.arrow", "Turns", "", end, choices=("with the arrow", "against the arrow")
        ),
        ProposalField(f"{end}.fitted.pressure_kpa", "Pressure, cold", "kPa", end),
        ProposalField(f"{end}.fitted.most_kpa", "Sidewall's most", "kPa", end),
        ProposalField(f"{end}.rim.inner_width_mm", "Rim inner width", "mm", end),
        ProposalField(
            f"{end}.rim.tube", "Rim made for", "", end, choices=("tubeless", "tube-type")
        ),
        ProposalField(f"{end}.rim.hooks", "Rim", "", end, _BICYCLE, choices=("hooked", "hookless")),
        ProposalField(f"{end}.rim.most_kpa", "Rim's most", "kPa", end, _BICYCLE),
        ProposalField(f"{end}.rim.most_kpa_at_mm", "Stated for a tire of", "mm", end, _BICYCLE),
        ProposalField(f"{end}.rim.valve_hole_mm", "Valve hole", "mm", end, _BICYCLE),
        ProposalField(f"{end}.rim.tape_mm", "Rim tape, width", "mm", end, _BICYCLE),
        ProposalField(
            f"{end}.rim.effective_mm",
            "Effective rim diameter",
            "mm",
            end,
            needs=f"{end}.hub.spokes",
        ),
        ProposalField(
            f"{end}.fitted.valve", "Valve", "", end, _BICYCLE, choices=("narrow", "wide")
        ),
        ProposalField(
            f"{end}.fitted.most_load_kg",
            "Max load on sidewall",
            "kg",
            end,
            _BICYCLE,
            needs="rider_kg",
        ),
        ProposalField(
            f"{end}.fitted.rated_kmh",
            "Rated for assisted cycles to",
            "km/h",
            end,
            _BICYCLE,
            needs="class",
        ),
        ProposalField(f"{end}.hub.runout_mm", "Rim runs out", "mm", end),
        ProposalField(
            f"{end}.hub.spacing_mm", "Hub width", "mm", end, needs=f"{end}.hub.spacing_mm"
        ),
        ProposalField(f"{end}.hub.axle_mm", "Axle diameter", "mm", end, needs=f"{end}.hub.axle_mm"),
        ProposalField(f"{end}.hub.rotor_mm", "Rotor", "mm", end, needs=f"{end}.hub.rotor_mm"),
        ProposalField(
            f"{end}.hub.rotor_mount",
            "Rotor mounts by",
            "",
            end,
            words=True,
            needs=f"{end}.hub.rotor_mount",
        ),
        *(
            (
                ProposalField(
                    "rear.hub.driver",
                    "Sprockets carried by",
                    "",
                    end,
                    words=True,
                    needs="rear.hub.driver",
                ),
                ProposalField(
                    "rear.hub.chain_line_mm",
                    "Chain line",
                    "mm",
                    end,
                    needs="rear.hub.chain_line_mm",
                ),
            )
            if end == "rear"
            else ()
        ),
        ProposalField(ring, "Tone ring slots", "", end, _MOTORCYCLE, needs=ring),
        ProposalField(
            f"{end}.sensor.face",
            "Ring's mounting face",
            "",
            end,
            _MOTORCYCLE,
            choices=("same", "other"),
            needs=ring,
        ),
        ProposalField(
            f"{end}.sensor.kind",
            "Sensor type, voltage",
            "",
            end,
            _MOTORCYCLE,
            choices=("same", "other"),
            needs=ring,
        ),
        ProposalField(
            f"{end}.sensor.runout_mm", "Tone ring runs out", "mm", end, _MOTORCYCLE, needs=ring
        ),
        ProposalField(
            f"{end}.sensor.holes", "Bolt circle to be made, holes", "", end, _MOTORCYCLE, needs=ring
        ),
        ProposalField(
            f"{end}.sensor.circle_mm", "Bolt circle to be made", "mm", end, _MOTORCYCLE, needs=ring
        ),
        ProposalField(f"{end}.sensor.hole_mm", "Each hole", "mm", end, _MOTORCYCLE, needs=ring),
    )


PROPOSAL_FIELDS: tuple[ProposalField, ...] = (
    ProposalField(
        "fork.length_mm", "Fork length", "mm", "more", on_a_motorcycle="Axle to lower clamp"
    ),
    ProposalField(
        "fork.offset_mm", "Fork offset", "mm", "more", on_a_motorcycle="Clamp and axle offset"
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
    ProposalField("contact.spacers_mm", "Spacers below the bar", "mm", "more", _BICYCLE),
    ProposalField("contact.bar_rise_mm", "Bar higher", "mm", "more"),
    ProposalField(
        "contact.saddle_rise_mm", "Saddle higher", "mm", "more", on_a_motorcycle="Seat higher"
    ),
    ProposalField("contact.crank_mm", "Crank length", "mm", "more", needs="crank_mm"),
    *(one for end in ENDS for one in _wheel(end)),
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
