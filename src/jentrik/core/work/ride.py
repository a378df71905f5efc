"""Rides on set-ups of one machine, and whether two of them say anything about a change.

One change at a time, same tires, pressures, controls and trail; the first ride after a change is
always odd, so judge after several.  The guard names what differed besides the change and says when
a comparison says nothing.  Source: common practice; the counts are the shop's policy.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import mean

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import End, Kind
from jentrik.core.machine.setup import Setup
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.what_differs import what_differs
from jentrik.core.work.policy import Policy

SCORES = (
    "corner entry",
    "stability",
    "climbing",
    "roll-over",
    "rear grip",
    "jumping or lifting",
    "braking",
)
LOWEST, HIGHEST = 1, 5
WEATHER = ("dry", "damp", "wet")
GROUND = ("firm", "loose", "deep")
FORM = ("rested", "as usual", "tired")
LONG_BETWEEN_DAYS = 21  # common practice: a rider forgets how it was
FELT = 0.5  # of a score: less is nothing (common practice)


@dataclass(frozen=True, slots=True)
class SetupField:
    """One thing a rider sets between rides: key of the set-up, words, unit ("" for words)."""

    key: str
    label: str
    unit: str = ""
    kinds: tuple[Kind, ...] = ("bicycle", "motorcycle")


SETUP_FIELDS: tuple[SetupField, ...] = (
    SetupField("front.tire", "Front tire"),
    SetupField("rear.tire", "Rear tire"),
    SetupField("front.fitted.pressure_kpa", "Front pressure", "kPa"),
    SetupField("rear.fitted.pressure_kpa", "Rear pressure", "kPa"),
    SetupField("set.front.insert", "Front insert", "", ("bicycle",)),
    SetupField("set.rear.insert", "Rear insert", "", ("bicycle",)),
    SetupField("set.front.casing", "Front casing"),
    SetupField("set.rear.casing", "Rear casing"),
    SetupField("set.front.compound", "Front compound"),
    SetupField("set.rear.compound", "Rear compound"),
    SetupField("suspension.front.sag_mm", "Front sag", "mm"),
    SetupField("suspension.rear.sag_mm", "Rear sag", "mm"),
    SetupField("set.shock_kpa", "Shock pressure", "kPa", ("bicycle",)),
    SetupField("set.position", "Chip or dropout"),
)
_SPRUNG_END: dict[str, End] = {
    "suspension.front.sag_mm": "front",
    "suspension.rear.sag_mm": "rear",
    "set.shock_kpa": "rear",
}


def setup_fields(sheet: Sheet) -> Iterator[SetupField]:
    """Yield what a rider sets on one machine: no sag where nothing is sprung."""
    for one in SETUP_FIELDS:
        end = _SPRUNG_END.get(one.key)
        rigid = end is not None and not sheet.sprung(end)
        if sheet.kind in one.kinds and not rigid and (one.key != "set.position" or sheet.positions):
            yield one


@dataclass(frozen=True, slots=True)
class Ride:
    """One ride: set-up, day, what it was like, scores of 1 to 5, and in words."""

    id: int
    setup_id: int
    on: date
    weather: str
    ground: str
    form: str
    rider: str
    trail: str
    scores: Mapping[str, int]
    outcome: str = ""
    note: str = ""
    by: str = ""
    job_id: int | None = None

    def __post_init__(self) -> None:
        for value, choices in ((self.weather, WEATHER), (self.ground, GROUND), (self.form, FORM)):
            if value not in choices:
                raise OutOfRange(
                    f"“{value[:20]}” is not one of {', '.join(choices)}.",
                    field="ride",
                    expected=", ".join(choices),
                )
        for name, score in self.scores.items():
            if name not in SCORES or not LOWEST <= score <= HIGHEST:
                raise OutOfRange(
                    f"A score is {LOWEST} to {HIGHEST}.",
                    field="ride",
                    expected="a whole number from 1 to 5",
                )


@dataclass(frozen=True, slots=True)
class Comparison:
    """What two setups and their rides say: what was changed, what else differed, the scores."""

    changed: tuple[str, ...]
    besides: tuple[str, ...]
    nothing: tuple[str, ...]  # why it says nothing; empty where it says something
    scores: Mapping[str, tuple[float, float]]

    @property
    def felt(self) -> tuple[str, ...]:
        """The scores that moved by more than nothing, in words."""
        return tuple(
            f"{name} {'better' if now > then else 'worse'} ({then:.1f} to {now:.1f})"
            for name, (then, now) in self.scores.items()
            if abs(now - then) >= FELT
        )


def compare(
    before: Setup,
    then: Sequence[Ride],
    after: Setup,
    now: Sequence[Ride],
    policy: Policy,
    paired: Mapping[str, float] | None = None,
) -> Comparison:
    """Return what two set-ups' rides say about the change between them.

    `paired` is the bead seat diameter each rear position is made for.
    """
    changed = tuple(
        difference.words for difference in what_differs(before.parts, after.parts, paired)
    )
    besides = tuple(_besides(then, now))
    wanted = policy.comparing
    nothing = []
    if not changed:
        nothing.append("The two set-ups are the same.")
    if len(changed) > wanted.changes_at_once:
        nothing.append(f"{len(changed)} things changed at once: which one was felt?")
    for name, rides in ((before.name, then), (after.name, now)):
        if len(rides) < wanted.rides_before_judging:
            nothing.append(
                f"“{name}” has {len(rides)} of the {wanted.rides_before_judging:g} rides to judge "
                "by; the first is always odd."
            )
    if len(besides) > 1:
        nothing.append("More than one thing differed besides.")
    scores = {}
    for name in SCORES:
        old = [ride.scores[name] for ride in then if name in ride.scores]
        new = [ride.scores[name] for ride in now if name in ride.scores]
        if old and new:
            scores[name] = (mean(old), mean(new))
    return Comparison(changed, besides, tuple(nothing), scores)


def _besides(then: Sequence[Ride], now: Sequence[Ride]) -> list[str]:
    """Return what differed besides the change: weather, ground, trail, rider, form, time."""
    differences = []
    for label, key in (
        ("weather", "weather"),
        ("ground", "ground"),
        ("trail", "trail"),
        ("rider", "rider"),
        ("rider's form", "form"),
    ):
        old = {getattr(ride, key).casefold() for ride in then if getattr(ride, key)}
        new = {getattr(ride, key).casefold() for ride in now if getattr(ride, key)}
        if old and new and not old & new:
            differences.append(f"{label}: {', '.join(sorted(old))}, then {', '.join(sorted(new))}")
    if then and now:
        between = (min(ride.on for ride in now) - max(ride.on for ride in then)).days
        if between > LONG_BETWEEN_DAYS:
            differences.append(f"{between} days between")
    return differences
