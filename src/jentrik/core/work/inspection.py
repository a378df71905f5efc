"""A look at one tire and wheel: before it is mounted, or at intervals; what it comes to, and why.

Wear over three places tells its likely cause; what the eye finds weighs by what it can do.
Sources: common practice; the common rule's tread and the shop's schools stand in its policy.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum
from typing import Literal

from jentrik.core.amounts import bar, mm
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import End, check_attribute
from jentrik.core.machine.wheel import Fitted
from jentrik.core.tire.dates import date_of
from jentrik.core.work.policy import AgeSchool, Policy, PressureSchool


class Look(StrEnum):
    """Which look it is."""

    RECEIVING = "before mounting"
    PERIODIC = "at intervals"


class Result(StrEnum):
    """What becomes of the tire."""

    KEEP = "keep"
    WATCH = "watch"
    MEND = "mend before riding"
    REPLACE = "replace"


_WEIGHT = {Result.KEEP: 0, Result.WATCH: 1, Result.MEND: 2, Result.REPLACE: 3}


@dataclass(frozen=True, slots=True)
class Sign:
    """Something an eye or a hand finds: in which look, what it comes to, and why."""

    name: str
    looks: tuple[Look, ...]
    result: Result
    why: str


_BOTH, _NEW, _WORN = (Look.RECEIVING, Look.PERIODIC), (Look.RECEIVING,), (Look.PERIODIC,)
NOTHING_FOUND = "nothing found"
SIGNS: tuple[Sign, ...] = (
    Sign("bead uneven or torn", _BOTH, Result.REPLACE, "It cannot seat all round."),
    Sign("bubble or blister", _BOTH, Result.REPLACE, "Air or water between the plies."),
    Sign("missing rubber inside", _NEW, Result.REPLACE, "The casing shows: a fault of the mould."),
    Sign("matt-black painted patch", _NEW, Result.REPLACE, "A hidden repair."),
    Sign("trimmed bubble", _NEW, Result.REPLACE, "A hidden repair."),
    Sign("cut to the casing", _BOTH, Result.REPLACE, "The cords are open to water and load."),
    Sign("cut in the rubber only", _WORN, Result.WATCH, "Look again whether it opens."),
    Sign("turns against its arrow", _BOTH, Result.MEND, "Turn it round before it is ridden."),
    Sign("marked for the other end", _BOTH, Result.WATCH, "Only where its maker allows both ends."),
    Sign("moulding whiskers", _NEW, Result.KEEP, "Harmless; they wear off."),
    Sign("cracks between the blocks", _WORN, Result.WATCH, "Rubber has hardened."),
    Sign("cracks on the sidewall", _WORN, Result.REPLACE, "It flexes there with every turn."),
    Sign("foreign body", _WORN, Result.WATCH, "Unscrew it, do not pull, and read the hole."),
    Sign(
        "separation, a wobble felt",
        _WORN,
        Result.REPLACE,
        "In the bars: front; in the seat: rear. Cured rubber does not shift: a defect.",
    ),
    Sign("spokes loose or broken", _WORN, Result.WATCH, "True the wheel before it goes on."),
    Sign("wheel bearing rough or loose", _WORN, Result.WATCH, "Bearings before the next ride."),
    Sign(NOTHING_FOUND, _BOTH, Result.KEEP, "Looked over all round."),
)
SIGN = {one.name: one for one in SIGNS}
UNEVEN_MM, UNEVEN_SHARE = 0.5, 0.2  # beyond both, a wear has a shape (common practice)


@dataclass(frozen=True, slots=True)
class Inspection:
    """One look: tread left, middle, right in mm, what was found, cold pressure in kPa.

    `made` is week and year; `km` the odometer as it stood; `tire_id` the number of the tire,
    where it has one.
    """

    end: End
    look: Look
    on: date
    tire: str
    tread_mm: tuple[float, float, float] | None = None
    signs: tuple[str, ...] = ()
    pressure_kpa: float | None = None
    made: str | None = None
    km: float | None = None
    by: str = ""
    note: str = ""
    tire_id: int | None = None
    simulated: bool = False  # its figures are a stand-in's, no measurement

    def __post_init__(self) -> None:
        for figure in self.tread_mm or ():
            check_attribute(Fitted, "tread_mm", figure)
        check_attribute(Fitted, "pressure_kpa", self.pressure_kpa)
        unknown = [name for name in self.signs if name not in SIGN]
        if unknown:
            raise OutOfRange(
                f"“{unknown[0][:40]}” is nothing a look can find here.",
                field="signs",
                expected="signs of the list",
            )
        if NOTHING_FOUND in self.signs and len(self.signs) > 1:
            raise OutOfRange(
                "Nothing was found, and something was: tick one or the other.",
                field="signs",
                expected="signs, or that there are none",
            )
        if self.made is not None and date_of(self.made) is None:
            raise OutOfRange(
                f"“{self.made[:20]}” is no week and year.",
                field="made",
                expected="week and year like 1523",
            )

    @property
    def least_tread_mm(self) -> float | None:
        """The least of the three places."""
        return None if self.tread_mm is None else min(self.tread_mm)


@dataclass(frozen=True, slots=True)
class Reason:
    """Why a tire is kept, watched or replaced."""

    result: Result
    says: str


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a look comes to: the heaviest of its reasons."""

    reasons: tuple[Reason, ...]

    @property
    def result(self) -> Result:
        """What becomes of the tire."""
        heaviest = max(
            (reason.result for reason in self.reasons),
            key=lambda r: _WEIGHT[r],
            default=Result.KEEP,
        )
        return heaviest


Shape = Literal["even", "middle", "both edges", "left edge", "right edge"]

# Of machines that lean; a sidecar outfit wears like a car.
CAUSES: dict[Shape, str] = {
    "middle": "Worn in the middle: straight roads, motorways above all, or too much air.",
    "both edges": "Worn at both shoulders: cornering, or too little air.",
    "left edge": "Worn at the left shoulder: the road's camber, or wheels out of line; mend that "
    "before the new tire goes on.",
    "right edge": "Worn at the right shoulder: the road's camber, or wheels out of line; mend that "
    "before the new tire goes on.",
}
CAUSES_UPRIGHT: dict[Shape, str] = {
    "middle": "Worn in the middle: too much air.",
    "both edges": "Worn at both edges: too little air.",
    "left edge": "Worn at the left edge: alignment; mend it before the new tire goes on.",
    "right edge": "Worn at the right edge: alignment; mend it before the new tire goes on.",
}


def wear_shape(tread_mm: tuple[float, float, float]) -> Shape:
    """Return how a tread is worn across."""
    left, middle, right = tread_mm

    def clearly_less(worn: float, other: float) -> bool:
        return other - worn >= UNEVEN_MM and other - worn >= UNEVEN_SHARE * other

    if clearly_less(middle, min(left, right)):
        return "middle"
    if clearly_less(left, right) and clearly_less(left, max(middle, right)):
        return "left edge"
    if clearly_less(right, left) and clearly_less(right, max(middle, left)):
        return "right edge"
    if clearly_less(max(left, right), middle):
        return "both edges"
    return "even"


@dataclass(frozen=True, slots=True)
class TireDemands:
    """What a tire on this machine must hold: the common rule's tread (None has none), pressures
    and load in kPa and kg; None not known.
    """

    rule_tread_mm: float | None = None
    placard_kpa: float | None = None
    sidewall_kpa: float | None = None
    axle_load_kg: float | None = None
    load_kg: float | None = None
    leans: bool = True


def as_it_stands(looks: Sequence[Inspection]) -> Inspection | None:
    """Return the last look with what earlier ones saw and it did not look at; None without any.

    Signs once seen stay until the tire is looked over again: a tread or a pressure alone does not
    take a bubble away.  Tread and date stay until the next ones.
    """
    if not looks:
        return None
    last = looks[-1]
    seen = next((look for look in reversed(looks) if look.signs), last)
    worn = next((look for look in reversed(looks) if look.tread_mm), last)
    dated = next((look.made for look in reversed(looks) if look.made), None)
    return replace(last, signs=seen.signs, tread_mm=worn.tread_mm, made=dated)


def judge_look(look: Inspection, asked: TireDemands, policy: Policy) -> Judgement:
    """Return what a look comes to under the shop's policy."""
    reasons = [
        Reason(SIGN[name].result, f"{name.capitalize()}: {SIGN[name].why}") for name in look.signs
    ]
    reasons += _tread(look, asked, policy)
    reasons += _age(look, policy)
    reasons += _pressure(look, asked, policy)
    return Judgement(tuple(sorted(reasons, key=lambda one: -_WEIGHT[one.result])))


def _tread(look: Inspection, asked: TireDemands, policy: Policy) -> list[Reason]:
    if look.tread_mm is None:
        return []
    least, reasons = min(look.tread_mm), []
    own = policy.rubber.own_tread_mm
    if asked.rule_tread_mm is not None and least < asked.rule_tread_mm:
        reasons.append(
            Reason(
                Result.REPLACE,
                f"Tread {mm(least):g}, the common rule asks {mm(asked.rule_tread_mm):g}.",
            )
        )
    elif asked.rule_tread_mm is not None and least < own:
        reasons.append(
            Reason(Result.WATCH, f"Tread {mm(least):g}; this shop changes from {mm(own):g}.")
        )
    shape = wear_shape(look.tread_mm)
    if shape != "even":
        causes = CAUSES if asked.leans else CAUSES_UPRIGHT
        reasons.append(Reason(Result.WATCH, causes[shape]))
    return reasons


def _age(look: Inspection, policy: Policy) -> list[Reason]:
    made = None if look.made is None else date_of(look.made)
    if made is None:
        return []
    if made.year is None:
        return [Reason(Result.REPLACE, "Made before 2000.")]
    age, rubber = made.age_years(look.on), policy.rubber
    assert age is not None
    if rubber.age_school is AgeSchool.YEARS and age >= rubber.replace_at_years:
        return [
            Reason(
                Result.REPLACE,
                f"{age:.1f} years old; this shop replaces at {rubber.replace_at_years:g}.",
            )
        ]
    if look.look is Look.RECEIVING and age > rubber.mount_younger_than_years:
        if rubber.age_school is AgeSchool.YEARS:
            return [
                Reason(
                    Result.REPLACE,
                    f"{age:.1f} years old; this shop mounts none older "
                    f"than {rubber.mount_younger_than_years:g}.",
                )
            ]
        return [Reason(Result.WATCH, f"{age:.1f} years old: look at it every year.")]
    if age >= rubber.look_yearly_from_years:
        return [Reason(Result.WATCH, f"{age:.1f} years old: look at it every year.")]
    return []


def _pressure(look: Inspection, asked: TireDemands, policy: Policy) -> list[Reason]:
    """Compare a cold pressure with the sidewall's limit, then with the shop's school."""
    kpa = look.pressure_kpa
    if kpa is None:
        return []
    if asked.sidewall_kpa is not None and kpa > asked.sidewall_kpa:
        return [
            Reason(
                Result.WATCH,
                f"{_bar(kpa)} is above the sidewall's {_bar(asked.sidewall_kpa)}: let air out now.",
            )
        ]
    wanted, whose = wanted_kpa(asked, policy.rubber.pressure_school)
    if wanted is not None and kpa > wanted * (1 + policy.rubber.pressure_over_percent / 100):
        return [
            Reason(
                Result.WATCH,
                f"{_bar(kpa)} cold, {_bar(wanted)} {whose}: let air out; too "
                "much wears the middle and grips less.",
            )
        ]
    if wanted is None or kpa >= wanted * (1 - policy.rubber.pressure_short_percent / 100):
        return []
    return [
        Reason(
            Result.WATCH,
            f"{_bar(kpa)} cold, {_bar(wanted)} {whose}: pump it up, and look whether it loses air.",
        )
    ]


def wanted_kpa(asked: TireDemands, school: PressureSchool) -> tuple[float | None, str]:
    """Return the shop's pressure, and in words by what.

    By load: the sidewall's pressure carries the index's load, less load needs less in proportion
    (common practice; the tire maker's table wins).  By feel there is only the load's need.
    """
    by_load = None
    if asked.sidewall_kpa and asked.axle_load_kg and asked.load_kg:
        by_load = asked.sidewall_kpa * min(asked.axle_load_kg / asked.load_kg, 1.0)
    if school is PressureSchool.PLACARD and asked.placard_kpa is not None:
        return asked.placard_kpa, "by the maker's placard"
    return by_load, "by the load it carries"


def _bar(kpa: float) -> str:
    return f"{bar(kpa):.1f}"
