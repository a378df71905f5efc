"""How it steers on the whole: trail, width, crown and the turning wheel weighed against each other.

    more trail                      calmer          less          quicker
    wider front, flatter crown      slower to turn  narrower      quicker
    heavier or faster-turning rim   calmer          lighter       quicker

Each counts in steps of what a rider notices, four at most; the sum decides, and what speaks
against it stands in the same sentence.  A machine that does not lean has no crown to climb on:
there the trail and the wheel alone count.  Source: common practice, the masses from memory.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from jentrik.core.amounts import mm
from jentrik.core.figures.character import Masses, character
from jentrik.core.figures.wheel_mass import about_masses
from jentrik.core.machine.wheel import Wheel, Wheels
from jentrik.core.rules.case import MOTORCYCLES, Case, Severity, Words, magnitude, rule
from jentrik.core.sources import COMMON_PRACTICE

MOST_STEPS = 4.0  # further steps of one figure weigh no more
DECIDED = 0.5  # steps: below it the sum says nothing either way
WIDTH_STEP_MM = {"bicycle": 5.0, "motorcycle": 10.0}  # of the front tire
CROWN_STEP_PERCENT = 10.0  # what a change of one width at one end makes
MOMENTUM_STEP = 0.08  # of the front wheel's


@dataclass(frozen=True, slots=True)
class Argument:
    """One figure's part: steps towards calmer (above zero) or quicker, and its words."""

    steps: float
    words: str


@rule(
    "handling",
    Severity.NOTE,
    title="How it steers on the whole",
    source=COMMON_PRACTICE,
    policy=("noticeable.trail_mm",),
    limit=(
        f"a step of any: the shop's of trail, {mm(5)} or {mm(10)} of width, "
        f"{CROWN_STEP_PERCENT:g} % of crown, {MOMENTUM_STEP * 100:g} % of gyroscope"
    ),
)
def handling(case: Case) -> Words | None:
    """Say in one sentence whether it steers quicker or calmer, with what speaks against it."""
    arguments = [argument for argument in _arguments(case) if abs(argument.steps) >= 1]
    if not arguments:
        return None
    whole = sum(max(-MOST_STEPS, min(MOST_STEPS, argument.steps)) for argument in arguments)
    calmer = [argument for argument in arguments if argument.steps > 0]
    quicker = [argument for argument in arguments if argument.steps < 0]
    if abs(whole) < DECIDED:
        return Words(
            "Steering about as before",
            f"{_listed(calmer)}, and {_listed(quicker)} against it, about cancel out.",
        )
    headline, feels, reasons, against = (
        ("Steering calmer", "steadier at speed, heavier when slow", calmer, quicker)
        if whole > 0
        else ("Steering quicker", "answers sooner, less settled at speed", quicker, calmer)
    )
    but = f"; against it {_listed(against)}" if against else ""
    return Words(headline, f"On the whole it {_is(feels)}: {_listed(reasons)}{but}.")


def _is(feels: str) -> str:
    return feels if feels.startswith("answers") else f"gets {feels}"


def _listed(arguments: Sequence[Argument]) -> str:
    words = [one.words for one in sorted(arguments, key=lambda one: -abs(one.steps))]
    return " and ".join((", ".join(words[:-1]), words[-1]) if words[1:] else words)


def _arguments(case: Case) -> Iterator[Argument]:
    grown = case.shift("trail_mm") or 0.0
    way = "more" if grown > 0 else "less"
    steps = grown / case.policy.noticeable["trail_mm"]
    yield Argument(steps, f"{mm(magnitude(grown, 0))} {way} trail")
    if case.found.leans:
        yield from _of_the_tire(case)
    old, new = (_momentum(case, wheels.front) for wheels in (case.found.wheels, case.after.wheels))
    if old and new:
        by = new / old - 1
        word = "more" if by > 0 else "less"
        said = f"about {magnitude(100 * by, 0)} % {word} gyroscope of the front wheel"
        yield Argument(by / MOMENTUM_STEP, said)


def _of_the_tire(case: Case) -> Iterator[Argument]:
    """Yield the front tire's width, or its crown against the rear's where that moves more."""
    found, planned = case.found.wheels, case.after.wheels
    old, new = found.front.width_mm, planned.front.width_mm
    wider = 0.0 if old is None or new is None else new - old
    width = Argument(
        wider / WIDTH_STEP_MM[case.found.kind],
        f"a front tire {mm(magnitude(wider, 0))} {'wider' if wider > 0 else 'narrower'}",
    )
    flatter = crown_change_percent(case)
    crown = Argument(
        (flatter or 0.0) / CROWN_STEP_PERCENT,
        f"a crown {magnitude(flatter or 0.0, 0)} % {'flatter' if (flatter or 0) > 0 else 'rounder'}"
        " against the rear's",
    )
    if width.steps * crown.steps > 0:
        yield max(width, crown, key=lambda one: abs(one.steps))
    else:
        yield width
        yield crown


def _momentum(case: Case, wheel: Wheel) -> float | None:
    """Return a front wheel's momentum at one speed, of assumed masses; None of no known tire."""
    if wheel.tire is None or wheel.width_mm is None:
        return None
    seat = wheel.tire.bead_seat_diameter_mm
    masses: Masses = about_masses(case.found.kind, bead_seat_mm=seat, width_mm=wheel.width_mm)
    return character(
        wheel, step_mm=1, load_kg=None, pressure_kpa=None, speed_kmh=25, masses=masses
    ).momentum_nms


@rule(
    "crown-profile",
    Severity.NOTE,
    title="Crown of the tire",
    source=COMMON_PRACTICE,
    kinds=MOTORCYCLES,
    limit=f"{CROWN_STEP_PERCENT:g} % of the front's width over the rear's",
)
def crown_profile(case: Case) -> Words | None:
    """Say of a motorcycle whose front crown gets clearly rounder or flatter against the rear's."""
    by = crown_change_percent(case)
    if by is None or not case.found.leans or abs(by) < CROWN_STEP_PERCENT:
        return None
    found, planned = _crowns(case.found.wheels), _crowns(case.after.wheels)
    return Words(
        f"Front crown {abs(by):.0f} % {'flatter' if by > 0 else 'rounder'} against the rear",
        f"By half their widths the front's crown goes from {found:.2f} to {planned:.2f} of the "
        "rear's. Profiles differ within a size: compare the two tires by eye.",
    )


def crown_change_percent(case: Case) -> float | None:
    """Return by how much the front's crown gets flatter against the rear's; None not known."""
    found, planned = _crowns(case.found.wheels), _crowns(case.after.wheels)
    if case.found.kind != "motorcycle" or found is None or planned is None:
        return None
    return (planned / found - 1) * 100


def _crowns(wheels: Wheels) -> float | None:
    """Return the front's crown radius over the rear's, each half the section width.

    A car tire is flat and a bicycle tire does not belong there; a width by hand is taken as round.
    """
    ends = (wheels.front, wheels.rear)
    if any(wheel.tire is not None and wheel.tire.vehicle != "motorcycle" for wheel in ends):
        return None
    front, rear = (wheel.width_mm for wheel in ends)
    return None if not front or not rear else front / rear
