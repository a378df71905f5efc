"""What a shop can set: words, unit, why the default is what it is, and what other shops hold.

Source of every default that names none: common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.geometry.frame import within
from jentrik.core.shop.policy import (
    DEFAULT_POLICY,
    AgeSchool,
    LoweringSchool,
    PressureSchool,
    PunctureSchool,
    SpeedSchool,
)

LONGEST_RULE_TEXT = 600


@dataclass(frozen=True, slots=True)
class PolicyField:
    """One thing a shop sets: its key, words, unit, reason, other schools and what it can be.

    `school` makes it a choice, `letters` a code of so many letters; without limits and choices it
    is a text of the shop's own.
    """

    key: str
    label: str
    unit: str
    group: str
    why: str
    others: str = ""
    least: float | None = None
    most: float | None = None
    school: type[StrEnum] | None = None
    letters: int | None = None

    @property
    def line(self) -> str:
        """What it is about: the two ends of an accepted change share it."""
        return self.label.removesuffix(", less by").removesuffix(", more by")

    @property
    def id(self) -> str:
        """The name of its place on a page."""
        return self.key.replace(".", "-").replace("_", "-")

    @property
    def choices(self) -> tuple[str, ...]:
        """The words to choose from; none where it is a figure or a text."""
        return tuple(one.value for one in self.school) if self.school else ()


_BANDS = (
    (
        "head_angle_deg",
        "Head angle",
        "°",
        5.0,
        "Half a degree is felt; nearly a degree changes how the machine steers.",
        "Trail riders accept a degree; makers of road machines hardly half of one.",
    ),
    (
        "trail_mm",
        "Ground trail",
        "mm",
        60.0,
        "Five are felt; eight go with a head angle at its limit.",
        "Some judge by mechanical trail or wheel flop.",
    ),
    (
        "bb_height_mm",
        "Bottom-bracket height",
        "mm",
        80.0,
        "Lower strikes pedals; higher is only less planted, so it may go further.",
        "Fixed-gear and mountain riders accept less below.",
    ),
    (
        "pedal_height_mm",
        "Pedal height",
        "mm",
        80.0,
        "As the bottom bracket it turns in; shorter cranks give it back.",
        "",
    ),
    (
        "wheelbase_mm",
        "Wheelbase",
        "mm",
        100.0,
        "Felt late; beyond it turning and stability change together.",
        "",
    ),
    (
        "reach_mm",
        "Reach",
        "mm",
        60.0,
        "A stem gives back about this much.",
        "Fitters of road bicycles accept five.",
    ),
    (
        "seat_height_mm",
        "Seat height",
        "mm",
        120.0,
        "An inch decides whether both feet reach the ground.",
        "",
    ),
    (
        "front_rear_ratio_percent",
        "Front against rear",
        "%",
        15.0,
        "ABS and traction control compare the wheels; two or three percent is where makers object.",
        "Some makers state a tolerance of their own: it wins.",
    ),
)


def _band(
    key: str, label: str, unit: str, reach: float, why: str, others: str
) -> tuple[PolicyField, PolicyField]:
    group = "Accepted changes"
    return (
        PolicyField(f"limits.{key}.low", f"{label}, less by", unit, group, why, others, -reach, 0),
        PolicyField(f"limits.{key}.high", f"{label}, more by", unit, group, why, others, 0, reach),
    )


def _felt(key: str, label: str, unit: str, most: float) -> PolicyField:
    return PolicyField(
        f"noticeable.{key}",
        label,
        unit,
        "What a rider notices",
        "Orders the words on a comparison, and weighs the ways back; earns no caution by itself.",
        "",
        0.1,
        most,
    )


def _gap(key: str, label: str, why: str, others: str = "", most: float = 60.0) -> PolicyField:
    return PolicyField(f"room.{key}", label, "mm", "Room for the tire", why, others, 0, most)


POLICY_FIELDS: tuple[PolicyField, ...] = (
    *(one for band in _BANDS for one in _band(*band)),
    _felt("head_angle_deg", "Head angle", "°", 5),
    _felt("trail_mm", "Trail", "mm", 60),
    _felt("bb_height_mm", "Bottom bracket", "mm", 80),
    _felt("pedal_height_mm", "Pedals", "mm", 80),
    _felt("feet_height_mm", "Pegs", "mm", 80),
    _felt("reach_mm", "Reach", "mm", 60),
    _felt("seat_height_mm", "Seat", "mm", 120),
    _felt("wheelbase_mm", "Wheelbase", "mm", 100),
    _gap(
        "bicycle_mm",
        "Least gap, bicycles",
        "ISO 4210-2, from memory: 6 mm to frame, fork, mudguard and its bolts on city, trekking, "
        "mountain and youth bicycles.",
        "A gap stated for a place always wins.",
    ),
    _gap("racing_mm", "Least gap, racing bicycles", "ISO 4210-2, from memory: 4 mm."),
    _gap(
        "motorcycle_tread_mm",
        "Least gap at the tread, motorcycles",
        "Kept after the tire has grown; the maker's figure wins.",
        "Some keep 15 for mud.",
    ),
    _gap(
        "motorcycle_side_mm",
        "Least gap at each side, motorcycles",
        "Room for flex and a tire that is wider than its mark.",
    ),
    _gap(
        "bias_growth_mm",
        "Bias tire grows at the tread by",
        "A casing without a belt gains about 20 mm in diameter at 200 km/h; between, with the "
        "square of speed.",
        "Some makers state the grown size: it wins.",
    ),
    _gap("belted_growth_mm", "Belted or radial tire grows by", "A belt holds it: a few mm."),
    _gap(
        "flex_bicycle_mm",
        "Flex at the side, bicycles",
        "Wheel, axle and stays lean under a rider who stands up.",
    ),
    _gap(
        "flex_motorcycle_mm",
        "Flex at the side, motorcycles",
        "Wheel bearings, axle and swingarm in a bend.",
    ),
    _gap(
        "mud_mm",
        "Mud takes",
        "Only on machines whose sheet says they ride in mud.",
        "Some want 10 in clay.",
    ),
    _gap("chain_mm", "A slack chain takes", "Only at places whose name says chain."),
    PolicyField(
        "instruments.school",
        "A speed reading that is off",
        "",
        "Instruments",
        "Within the common rule an error does no harm; drivers who watch cameras want it exact.",
        "Both are practised.",
        school=SpeedSchool,
    ),
    PolicyField(
        "instruments.leave_below_percent",
        "Leave it below",
        "%",
        "Instruments",
        "About what worn against new tires make of it.",
        "Some make anything exact; some live with 10 while it reads high.",
        0,
        10,
    ),
    PolicyField(
        "instruments.assist_until_kmh",
        "An assisted cycle's motor helps until",
        "km/h",
        "Instruments",
        "25 km/h in much of Europe; from memory. The local rule decides.",
        "32 and 45 km/h elsewhere and for faster classes.",
        5,
        60,
    ),
    PolicyField(
        "lean.stand_change_deg",
        "Lean on the side stand may change by",
        "°",
        "Lean and stand",
        "What is seen, and felt when lifting, without a centre of mass.",
        "",
        0.2,
        15,
    ),
    PolicyField(
        "lean.stand_height_mm",
        "Height over the side stand may change by",
        "mm",
        "Lean and stand",
        "About what a stand or a puck takes up.",
        "",
        1,
        80,
    ),
    PolicyField(
        "rubber.age_school",
        "Old tires are judged",
        "",
        "Tires to be mounted",
        "Rubber hardens unseen; a date is sure.",
        "By condition alone, with a yearly look after five.",
        school=AgeSchool,
    ),
    PolicyField(
        "rubber.mount_younger_than_years",
        "Never mount one older than",
        "years",
        "Tires to be mounted",
        "It will stay on for years more.",
        "Four or seven with others.",
        0.5,
        30,
    ),
    PolicyField(
        "rubber.look_yearly_from_years",
        "Look yearly from",
        "years",
        "Tires to be mounted",
        "Cracks begin between the blocks.",
        "Some from the first year.",
        0.5,
        30,
    ),
    PolicyField(
        "rubber.replace_at_years",
        "Replace at",
        "years",
        "Tires to be mounted",
        "Ten at most is what most makers say; some vehicle classes have a ban.",
        "Four, five, five to seven.",
        1,
        30,
    ),
    PolicyField(
        "rubber.rule_tread_mm",
        "Tread the common rule asks, motorcycles",
        "mm",
        "Tires to be mounted",
        "1.6 mm in several countries, 1.0 mm in the UK, 0.8 mm "
        "wear bars under FMVSS 119; from memory. The local rule decides.",
        "",
        0,
        5,
    ),
    PolicyField(
        "rubber.rule_moped_tread_mm",
        "Tread the common rule asks, mopeds",
        "mm",
        "Tires to be mounted",
        "1.0 mm or a visible pattern, by country; from memory.",
        "",
        0,
        5,
    ),
    PolicyField(
        "rubber.own_tread_mm",
        "Tread below which this shop mounts none",
        "mm",
        "Tires to be mounted",
        "From 3 mm down the way to stop in the wet grows.",
        "Some ride down to the rule.",
        0,
        8,
    ),
    PolicyField(
        "rubber.pressure_school",
        "A cold pressure is compared with",
        "",
        "Tires in use",
        "The vehicle's maker tried it with this machine.",
        "By the weighed axle and the tire maker's table; softer by feel.",
        school=PressureSchool,
    ),
    PolicyField(
        "rubber.pressure_short_percent",
        "Pressure may be short by",
        "%",
        "Tires in use",
        "About what a gauge and a cold night make of it.",
        "",
        0,
        40,
    ),
    PolicyField(
        "rubber.pressure_over_percent",
        "Pressure may be over by",
        "%",
        "Tires in use",
        "A warm day and a careful pump; beyond it the middle wears.",
        "Some set more for a loaded tour.",
        0,
        60,
    ),
    PolicyField(
        "rubber.puncture_school",
        "A punctured tire is",
        "",
        "Tires in use",
        "No one sees what the hole did inside.",
        "Repaired by an accepted method in the tread; the tire maker and local rules decide.",
        school=PunctureSchool,
    ),
    PolicyField(
        "upkeep.look_months",
        "A look at every tire each",
        "months",
        "Tires in use",
        "Twice a year finds what a season did.",
        "Every service; once a year.",
        0.5,
        36,
    ),
    PolicyField(
        "upkeep.move_weeks",
        "A machine that stands is moved each",
        "weeks",
        "Tires in use",
        "Rubber that never flexes hardens, and its first flex opens cracks.",
        "Off the ground all winter.",
        0.5,
        52,
    ),
    PolicyField(
        "money.currency", "Currency", "", "Money", "Three letters of ISO 4217.", "", letters=3
    ),
    PolicyField(
        "money.labour_an_hour",
        "Labour, an hour",
        "",
        "Money",
        "A figure to start from: set your own.",
        "",
        0,
        1000,
    ),
    PolicyField(
        "lean.pedal_deg",
        "Lean before a pedal touches",
        "°",
        "Lean and stand",
        "ISO 4210-2, from memory: about 25° with the suspension loaded.",
        "",
        5,
        60,
    ),
    PolicyField(
        "lean.lost_deg",
        "Lean that may be lost before something touches",
        "°",
        "Lean and stand",
        "A rider who knows the machine meets the ground sooner.",
        "",
        0.1,
        20,
    ),
    PolicyField(
        "lean.park_slope_deg",
        "Slope a parked machine must stand",
        "°",
        "Lean and stand",
        "A cambered street or a ferry's deck.",
        "",
        0,
        15,
    ),
    PolicyField(
        "lean.wind_kmh",
        "Gust a parked machine must stand",
        "km/h",
        "Lean and stand",
        "A harbour front on a windy day.",
        "",
        0,
        150,
    ),
    PolicyField(
        "lean.park_most_deg",
        "Most lean on the side stand",
        "°",
        "Lean and stand",
        "Further over it is hard to lift, and loads the stand.",
        "",
        5,
        30,
    ),
    PolicyField(
        "lowering",
        "A machine is lowered by",
        "",
        "Schools",
        "Wheels and seat leave the suspension its travel.",
        "Suspension first: wheels and speed reading stay the maker's.",
        school=LoweringSchool,
    ),
    PolicyField(
        "comparing.changes_at_once",
        "Changes at once in a fair comparison",
        "",
        "Schools",
        "With two changes no one knows which one was felt.",
        "",
        1,
        10,
    ),
    PolicyField(
        "comparing.rides_before_judging",
        "Rides before judging",
        "",
        "Schools",
        "The first ride after a change is always odd.",
        "",
        1,
        20,
    ),
    PolicyField(
        "backups.days",
        "Daily backups kept",
        "days",
        "Backups",
        "A slip is noticed within a week.",
        "",
        1,
        60,
    ),
    PolicyField(
        "backups.weeks",
        "Then weekly backups kept",
        "weeks",
        "Backups",
        "A damaged figure is noticed at the next service, weeks later.",
        "",
        0,
        60,
    ),
    PolicyField(
        "local_rules",
        "Local rules, in the shop's own words",
        "",
        "Local rules",
        "The program knows common rules only and decides nothing: what applies here "
        "stands with every finding about a rule.",
        "Inspection, registration and insurance differ by country.",
    ),
)

POLICY_FIELD = {field.key: field for field in POLICY_FIELDS}


def checked_policy(key: str, value: float | str) -> float | str:
    """Return a value a policy can hold under that key; refuses any other."""
    known = POLICY_FIELD.get(key)
    if known is None:
        raise OutOfRange(f"“{key[:40]}” is not a thing a shop sets.", expected="a policy")
    if known.school is not None:
        if value not in known.choices:
            raise OutOfRange("Choose one of the schools in the list.", expected="a school")
        return known.school(value)
    if known.letters is not None:
        code = str(value).strip().upper()
        if len(code) != known.letters or not (code.isascii() and code.isalpha()):
            raise OutOfRange(f"{known.label} is {known.letters} letters.", expected="like EUR")
        return code
    if isinstance(value, str):
        if known.least is not None:
            raise OutOfRange(f"{known.label} is a figure.", expected=f"a figure in {known.unit}")
        if len(value) > LONGEST_RULE_TEXT:
            raise OutOfRange(
                f"That is {len(value)} characters; {LONGEST_RULE_TEXT} are kept.",
                expected="a shorter text",
            )
        return value
    if known.least is None or known.most is None:
        raise OutOfRange(f"{known.label} is a text.", expected="words")
    within(known.label.lower(), value, least=known.least, most=known.most, unit=known.unit)
    return value


def default_of(key: str) -> float | str:
    """Return what common practice has under that key."""
    value = DEFAULT_POLICY.at(key)
    assert isinstance(value, float | int | str)
    return value


def known_policy(values: Mapping[str, Any]) -> dict[str, float | str]:
    """Return what was set of a policy, without what this program does not know."""
    known = {}
    for key, value in values.items():
        try:
            known[key] = checked_policy(key, value)
        except Refusal:
            continue
    return known
