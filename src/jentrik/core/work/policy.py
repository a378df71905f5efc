"""The shop's policy: accepted changes, least gaps, schools of practice.

Three things never mixed: what a rider notices only orders the words; beyond what the shop accepts
a change earns a caution; what a maker forbids is a stop and stands on the machine's sheet.  Each
figure here has its reason and the other schools beside it in `policy_fields`.
Defaults: common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, is_dataclass, replace
from enum import StrEnum
from typing import Any

from jentrik.core.work.display_units import METRIC, DisplayUnits


@dataclass(frozen=True, slots=True)
class Band:
    """An accepted range of change, from `low` (negative) to `high`."""

    low: float
    high: float

    def holds(self, change: float) -> bool:
        """Whether a change lies inside; the ends belong to it."""
        return self.low <= change <= self.high

    def times(self, factor: float) -> "Band":
        """Return the band so much wider."""
        return Band(self.low * factor, self.high * factor)


@dataclass(frozen=True, slots=True)
class ShopLimits:
    """Accepted changes in mm, degrees and percent."""

    head_angle_deg: Band = Band(-0.8, 0.8)
    trail_mm: Band = Band(-8, 8)
    bb_height_mm: Band = Band(-10, 15)
    wheelbase_mm: Band = Band(-15, 15)
    reach_mm: Band = Band(-10, 10)
    seat_height_mm: Band = Band(-25, 25)
    pedal_height_mm: Band = Band(-10, 15)  # as the bottom bracket it turns in
    front_rear_ratio_percent: Band = Band(-2, 2)

    def times(self, factor: float) -> "ShopLimits":
        """Return every band so much wider."""
        return ShopLimits(
            **{one.name: getattr(self, one.name).times(factor) for one in fields(self)}
        )


# What a rider feels; a wheelbase is felt late, seat, pedals and pegs like a bottom bracket.
NOTICEABLE: dict[str, float] = {
    "head_angle_deg": 0.5,
    "trail_mm": 5.0,
    "bb_height_mm": 5.0,
    "reach_mm": 5.0,
    "seat_height_mm": 5.0,
    "wheelbase_mm": 15.0,
    "pedal_height_mm": 5.0,
    "feet_height_mm": 5.0,
}


@dataclass(frozen=True, slots=True)
class Room:
    """Least gaps where no one states one, and what the road takes of a gap; mm."""

    bicycle_mm: float = 6.0
    racing_mm: float = 4.0
    motorcycle_tread_mm: float = 10.0
    motorcycle_side_mm: float = 5.0
    bias_growth_mm: float = 10.0  # at the tread, at and above 200 km/h
    belted_growth_mm: float = 2.0
    flex_bicycle_mm: float = 2.0  # at a side: wheel, axle and stays or swingarm together
    flex_motorcycle_mm: float = 3.0
    mud_mm: float = 6.0
    chain_mm: float = 4.0


class SpeedSchool(StrEnum):
    """What is done about an instrument that is off but within the rule."""

    LEAVE = "leave a small error"
    EXACT = "make it exact"


class AgeSchool(StrEnum):
    """What an old tire is judged by."""

    YEARS = "by years"
    CONDITION = "by condition, looked at yearly"


class PressureSchool(StrEnum):
    """What a cold pressure is compared with; the sidewall's most is a wall in every school."""

    PLACARD = "the maker's placard"
    LOAD = "the measured axle load"
    FEEL = "the rider's feel, never below the load's need"


class PunctureSchool(StrEnum):
    """What becomes of a punctured tire."""

    REPLACE = "replaced"
    REPAIR = "repaired by an accepted method"


class LoweringSchool(StrEnum):
    """What is lowered first."""

    WHEELS = "wheels or seat first"
    SUSPENSION = "suspension first"


class StandIns(StrEnum):
    """Whether a tool the shop lacks has a stand-in that reads figures of its own."""

    OFF = "off"
    ON = "on"


@dataclass(frozen=True, slots=True)
class Instruments:
    """What is done about a speed reading that is off, percent; until when a motor may help."""

    school: SpeedSchool = SpeedSchool.LEAVE
    leave_below_percent: float = 5.0
    assist_until_kmh: float = 25.0


@dataclass(frozen=True, slots=True)
class Rubber:
    """Age and tread of the tires to be mounted: years and mm."""

    age_school: AgeSchool = AgeSchool.YEARS
    mount_younger_than_years: float = 5.0
    look_yearly_from_years: float = 5.0
    replace_at_years: float = 10.0
    rule_tread_mm: float = 1.6  # the common rule for motorcycles; the local one decides
    rule_moped_tread_mm: float = 1.0
    own_tread_mm: float = 3.0
    pressure_school: PressureSchool = PressureSchool.PLACARD
    pressure_over_percent: float = 15.0
    pressure_short_percent: float = 10.0
    puncture_school: PunctureSchool = PunctureSchool.REPLACE


@dataclass(frozen=True, slots=True)
class Lean:
    """Angles in degrees: pedals when leaning, and what a parked machine has to stand."""

    pedal_deg: float = 25.0
    lost_deg: float = 2.0
    park_slope_deg: float = 3.0
    stand_change_deg: float = 2.0
    stand_height_mm: float = 15.0
    park_most_deg: float = 15.0
    wind_kmh: float = 60.0


@dataclass(frozen=True, slots=True)
class Upkeep:
    """How often someone looks: months between looks, weeks between moves of what stands."""

    look_months: float = 6.0
    move_weeks: float = 4.0


class TaxSchool(StrEnum):
    """Whether the prices that are written hold the tax."""

    WITHIN = "prices include tax"
    ADDED = "tax is added"


class RoundTo(StrEnum):
    """The smallest coin of a sum."""

    HUNDREDTH = "0.01"
    TWENTIETH = "0.05"
    TENTH = "0.10"
    WHOLE = "1"


class MoneyWritten(StrEnum):
    """How an amount is written."""

    BEHIND = "1234.50 EUR"
    BEFORE = "EUR 1234.50"
    COMMA = "1234,50 EUR"


@dataclass(frozen=True, slots=True)
class Money:
    """What work costs: currency, an hour of labour, tax in percent, how sums are rounded."""

    currency: str = "EUR"
    labour_an_hour: float = 60.0
    tax: TaxSchool = TaxSchool.WITHIN
    tax_parts_percent: float = 0.0
    tax_work_percent: float = 0.0
    round_to: RoundTo = RoundTo.HUNDREDTH
    written: MoneyWritten = MoneyWritten.BEHIND
    offer_days: float = 14.0  # how long an offer is valid


@dataclass(frozen=True, slots=True)
class Head:
    """What stands at the head of every paper; `sign` is the file of a picture, `site` an address
    under which phones in the shop reach this program.
    """

    name: str = ""
    address: str = ""
    phone: str = ""
    tax_number: str = ""
    terms: str = ""
    site: str = ""
    sign: str = ""


@dataclass(frozen=True, slots=True)
class Day:
    """What a day at the bench holds."""

    hours: float = 8.0  # of one person


@dataclass(frozen=True, slots=True)
class Comparing:
    """What makes a comparison of rides fair."""

    changes_at_once: float = 1.0
    rides_before_judging: float = 3.0


@dataclass(frozen=True, slots=True)
class Backups:
    """How many daily backups stay, and then how many weekly ones."""

    days: float = 7.0
    weeks: float = 4.0


@dataclass(frozen=True, slots=True)
class Policy:
    """Everything a shop can set, with the defaults of common practice."""

    limits: ShopLimits = ShopLimits()
    noticeable: Mapping[str, float] = field(default_factory=lambda: dict(NOTICEABLE))
    room: Room = Room()
    instruments: Instruments = Instruments()
    rubber: Rubber = Rubber()
    lean: Lean = Lean()
    lowering: LoweringSchool = LoweringSchool.WHEELS
    comparing: Comparing = Comparing()
    upkeep: Upkeep = Upkeep()
    money: Money = Money()
    head: Head = Head()
    day: Day = Day()
    backups: Backups = Backups()
    units: DisplayUnits = METRIC
    local_rules: str = ""
    stand_ins: StandIns = StandIns.OFF

    def wider(self, factor: float) -> "Policy":
        """Return the policy with every accepted change so much wider."""
        return replace(self, limits=self.limits.times(factor))

    def at(self, key: str) -> Any:
        """Return what stands under a dotted key."""
        value: Any = self
        for step in key.split("."):
            value = value[step] if isinstance(value, Mapping) else getattr(value, step)
        return value

    def having(self, values: Mapping[str, Any]) -> "Policy":
        """Return the policy with other values under dotted keys."""
        policy: Any = self
        for key, value in values.items():
            policy = _with(policy, key.split("."), value)
        assert isinstance(policy, Policy)
        return policy


def _with(branch: Any, path: list[str], value: Any) -> Any:
    """Return a branch of the policy with one leaf of it replaced."""
    step, rest = path[0], path[1:]
    if isinstance(branch, Mapping):
        return {**branch, step: value}
    assert is_dataclass(branch)
    assert not isinstance(branch, type)
    return replace(branch, **{step: _with(getattr(branch, step), rest, value) if rest else value})


DEFAULT_POLICY = Policy()
