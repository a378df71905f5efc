"""The answer to a proposal: whether it goes, what decides it, what cures it, what goes nearest.

    does not go     a stop stands, whatever the missing figures are
    measure first   none stands on what was measured, but a missing or assumed figure, somewhere
                    inside its plausible range, makes one
    goes with care  cautions are left           goes    notes at most

Every statement is a plan that was judged by the rules; the same machine gets the same answer.
Source: derived; plausible ranges and what is tried as a cure are common practice.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from itertools import islice
from typing import Any

from jentrik.core.amounts import Amount
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import WheelChange
from jentrik.core.plan.cures import (
    Cure,
    Worst,
    cures_of,
    sets_of,
    sizes_near,
    stops_of,
    together,
    worst_of,
)
from jentrik.core.plan.plan import Outcome, PlanResult, measured_anew, outcome_of
from jentrik.core.plan.plausible import Unknown, Value, unknowns
from jentrik.core.rules import TITLES
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.joined import JoinedFinding, joined
from jentrik.core.tire.reading import Reading

MOST_NEAREST, MOST_WALKED, MOST_REASONS = 5, 80, 2
_HALVINGS = 12
_CALIPERS = {f"{end}.rim_brake" for end in ENDS}
_Stops = frozenset[tuple[str, str]]


class Verdict(StrEnum):
    """What a proposal comes to."""

    GOES = "goes"
    CARE = "with care"
    MEASURE = "measure first"
    NOT = "does not go"


@dataclass(frozen=True, slots=True)
class Decides:
    """A figure that can turn the verdict: its path and words, the rules, and where it turns.

    `stops_below` says on which side of `turns_at` the stop stands; None of a word.
    """

    figure: str
    label: str
    unit: str
    rules: tuple[str, ...]
    turns_at: Value | None
    share: float  # of its range that stops
    stops_below: bool | None = None

    @property
    def turn(self) -> str:
        """Where it turns, with its unit."""
        turns = f"{self.turns_at:g}" if isinstance(self.turns_at, float) else str(self.turns_at)
        return str(Amount(turns, self.unit)) if self.unit else turns

    @property
    def key(self) -> str:
        """The figure of a machine's sheet that is to be taken; "" for a clearance."""
        key = self.figure.removeprefix("bike.")
        if key.endswith("slot_mm"):
            key = key.replace("slot_mm", "slot_most_mm" if self.stops_below else "slot_least_mm")
        return key if key in FIELD_BY_KEY else ""


@dataclass(frozen=True, slots=True)
class Near:
    """A pair of standard sizes that no stop speaks against."""

    front: str | None
    rear: str | None
    worst: Worst


@dataclass(frozen=True, slots=True)
class Answer:
    """What is said of a proposal, with the rules behind it."""

    verdict: Verdict
    sentence: str
    because: tuple[str, ...]
    decides: tuple[Decides, ...]
    cures: tuple[Cure, ...]
    nearest: tuple[Near, ...]


def answer_of(found: PlanResult, outcome: Outcome, *, with_nearest: bool = True) -> Answer:
    """Return the answer to a proposal that was judged, with the pairs nearest to it on demand."""
    stops = [f for f in outcome.findings if f.severity is Severity.STOP]
    firm = [finding for finding in stops if not _rests_on_assumed(found, finding)]
    decides: tuple[Decides, ...] = ()
    certain: _Certain | None = None
    if not firm:
        decides, certain = _tried(found, outcome)
    verdict = _verdict(outcome, stops, firm, decides)
    if not stops and certain is not None:
        verdict, decides, found, outcome = Verdict.NOT, (), certain.found, certain.outcome
    cures = cures_of(found, outcome) if stops or certain else ()
    if certain and not stops:  # a reach no one measured names no caliper
        cures = tuple(one for one in cures if not sets_of(one.change) & _CALIPERS)
    asked = with_nearest and verdict is Verdict.NOT
    nearest = nearest_of(found, outcome) if asked else ()
    reasons = _reasons(outcome, verdict)
    because = tuple(dict.fromkeys(one.rule for one in reasons))
    if verdict is Verdict.MEASURE:
        because = tuple(dict.fromkeys(rule for one in decides for rule in one.rules))
    words = _by_rule(reasons) if stops or certain is None else [certain.says]
    cured = _cure_in_words(found, outcome, reasons, cures)
    sentence = _sentence(verdict, words, decides, cured)
    return Answer(verdict, sentence, because, decides, cures, nearest)


def deciding(found: PlanResult, outcome: Outcome) -> tuple[Decides, ...]:
    """Return the missing figures that can turn the verdict; none where it stands whatever they are.

    The one that stops most often comes first.
    """
    stops = [f for f in outcome.findings if f.severity is Severity.STOP]
    if any(not _rests_on_assumed(found, finding) for finding in stops):
        return ()
    return _tried(found, outcome)[0]


def quick_verdict(outcome: Outcome) -> Verdict:
    """Return what the findings alone come to, with no missing figure tried."""
    severities = {finding.severity for finding in outcome.findings}
    if Severity.STOP in severities:
        return Verdict.NOT
    return Verdict.CARE if Severity.CAUTION in severities else Verdict.GOES


def _rests_on_assumed(found: PlanResult, finding: Finding) -> bool:
    """Whether any figure behind a finding is only assumed."""
    return any(key in found.bike.assumed for key in finding.figures)


def _verdict(
    outcome: Outcome, stops: list[Finding], firm: list[Finding], decides: tuple[Decides, ...]
) -> Verdict:
    if firm or (stops and not decides):
        return Verdict.NOT
    if decides:
        return Verdict.MEASURE
    return quick_verdict(outcome)


@dataclass(frozen=True, slots=True)
class _Certain:
    """A missing figure that stops whatever it is: in words, and the plan with one of its values.

    The words name no value: none was measured.
    """

    says: str
    found: PlanResult
    outcome: Outcome


def _tried(found: PlanResult, outcome: Outcome) -> tuple[tuple[Decides, ...], _Certain | None]:
    """Return the missing figures that can turn the verdict, and the first that cannot but stop.

    The one that stops most often comes first.
    """
    turning: list[Decides] = []
    certain: _Certain | None = None
    for unknown in unknowns(found.bike, outcome.proposal, outcome, found.policy):
        results = [_stops_with(found, outcome, unknown, value) for value in unknown.values]
        if all(results):
            if certain is None and unknown.alone:
                certain = _certain(found, outcome, unknown, results)
        elif any(results):
            turning.append(_turning(found, outcome, unknown, results))
    order = sorted(
        turning, key=lambda one: (not one.figure.endswith(".brake"), -one.share, one.figure)
    )
    return tuple(order), certain


def _certain(
    found: PlanResult, outcome: Outcome, unknown: Unknown, results: list[_Stops]
) -> _Certain:
    """Return what stops whatever a figure is, with the value that stops least filled in."""
    least = min(range(len(results)), key=lambda place: len(results[place]))
    rule = sorted(results[least])[0][0]
    says = f"{_small(TITLES[rule])}, whatever is measured as {unknown.label}"
    bike = unknown.fills(unknown.values[least])
    there = measured_anew(bike, policy=found.policy, on=found.on)
    return _Certain(says, there, outcome_of(there, outcome.proposal))


def _turning(
    found: PlanResult, outcome: Outcome, unknown: Unknown, results: list[_Stops]
) -> Decides:
    """Return how a figure turns the verdict."""
    stopped = [bool(stops) for stops in results]
    rules = tuple(dict.fromkeys(rule for stops in results for rule, _ in sorted(stops)))
    share = sum(stopped) / len(stopped)
    first = next(i for i in range(1, len(stopped)) if stopped[i] != stopped[i - 1])
    low, high = unknown.values[first - 1], unknown.values[first]
    if isinstance(low, str) or isinstance(high, str):
        word = next(value for value, stop in zip(unknown.values, stopped, strict=True) if stop)
        return Decides(unknown.figure, unknown.label, unknown.unit, rules, word, share)
    below = stopped[first - 1]
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if bool(_stops_with(found, outcome, unknown, middle)) == below:
            low = middle
        else:
            high = middle
    turns = round((low + high) / 2, 1)
    return Decides(unknown.figure, unknown.label, unknown.unit, rules, turns, share, below)


def _stops_with(found: PlanResult, outcome: Outcome, unknown: Unknown, value: Value) -> _Stops:
    """Return the stops of the proposal on the machine with a figure filled in.

    A value with which the machine could not stand as it does is none that it can have.
    """
    try:
        bike = unknown.fills(value)
        there = measured_anew(bike, policy=found.policy, on=found.on)
        return stops_of(outcome_of(there, outcome.proposal))
    except Refusal:
        return frozenset()


def nearest_of(found: PlanResult, outcome: Outcome) -> tuple[Near, ...]:
    """Return up to five pairs of standard sizes around a wish, none with a stop, nearest first.

    The ends that the wish changes, on one rim size where it has one; by how far the bead seat is
    off, then by the widths.
    """
    proposal, wheels = outcome.proposal, outcome.figures.wheels
    ends = [end for end in ENDS if getattr(proposal, end).tire is not None]
    wishes = [wheels.at(end).tire for end in ends]
    if not ends or any(wish is None or wish.width_mm is None for wish in wishes):
        return ()
    tires = [wish for wish in wishes if wish is not None]
    pairs = sorted(_around(found, ends, tires), key=lambda pair: _far(pair, tires))
    good: list[Near] = []
    there = [wheel.tire.text if wheel.tire else "" for wheel in map(found.bike.wheels.at, ends)]
    others = (pair for pair in pairs if [size.text for size in pair] != there)
    for pair in islice(others, MOST_WALKED):
        changes: dict[str, Any] = {
            end: WheelChange(tire=tire) for end, tire in zip(ends, pair, strict=True)
        }
        try:
            judged = outcome_of(found, Proposal("nearest", **changes))
        except Refusal:
            continue
        if not stops_of(judged):
            named = {end: tire.text for end, tire in zip(ends, pair, strict=True)}
            good.append(Near(named.get("front"), named.get("rear"), worst_of(judged)))
        if len(good) == MOST_NEAREST:
            break
    return tuple(good)


def _alone(found: PlanResult, end: End, size: Reading) -> bool:
    """Whether no stop of this wheel or of the room beside it speaks against a size."""
    changes: dict[str, Any] = {end: WheelChange(tire=size)}
    try:
        judged = outcome_of(found, Proposal("alone", **changes))
    except Refusal:
        return True  # the other wheel decides whether it can stand
    return not any(where == end for _, where in stops_of(judged))


def _around(
    found: PlanResult, ends: list[End], wishes: list[Reading]
) -> Iterator[tuple[Reading, ...]]:
    """Yield the combinations of sizes around the wishes, on one rim where they share one."""
    near = [
        [size for size in (wish, *sizes_near(found, wish, end)) if _alone(found, end, size)]
        for end, wish in zip(ends, wishes, strict=True)
    ]
    if len(near) == 1:
        yield from ((size,) for size in near[0])
        return
    one_rim = len({wish.bead_seat_diameter_mm for wish in wishes}) == 1
    for front in near[0]:
        for rear in near[1]:
            if not one_rim or front.bead_seat_diameter_mm == rear.bead_seat_diameter_mm:
                yield front, rear


def _far(pair: tuple[Reading, ...], wishes: list[Reading]) -> tuple[float, float, tuple[str, ...]]:
    """Return how far a pair is from the wishes: by rim, then by width; its codes settle a tie."""
    rims = [
        abs(size.bead_seat_diameter_mm - wish.bead_seat_diameter_mm)
        for size, wish in zip(pair, wishes, strict=True)
    ]
    widths = [
        abs((size.width_mm or 0.0) - (wish.width_mm or 0.0))
        for size, wish in zip(pair, wishes, strict=True)
    ]
    return float(sum(rims)), float(sum(widths)), tuple(size.text for size in pair)


def _reasons(outcome: Outcome, verdict: Verdict) -> list[JoinedFinding]:
    weight = {Verdict.NOT: Severity.STOP, Verdict.CARE: Severity.CAUTION}.get(verdict)
    reasons = [one for one in joined(outcome.findings) if one.severity is weight]
    return sorted(reasons, key=lambda one: one.headline.endswith("?"))  # what is asked comes last


def _by_rule(reasons: Iterable[JoinedFinding]) -> list[str]:
    """Return the reasons in words, a rule once: its first headline, and every end it speaks of."""
    rules: dict[str, list[JoinedFinding]] = {}
    for one in reasons:
        rules.setdefault(one.rule, []).append(one)
    said = []
    for group in rules.values():
        ends = [end for end in ENDS if any(end in one.ends for one in group)]
        headline = _small(group[0].headline)
        named = [end for end in ENDS if end in headline]
        at = f", {' and '.join(ends)}" if ends and ends != named else ""
        asks = headline.endswith("?")
        said.append(f"{headline.removesuffix('?')}{at}{'?' if asks else ''}")
    return said


def _sentence(verdict: Verdict, words: list[str], decides: tuple[Decides, ...], cured: str) -> str:
    """Return the answer in one or two sentences, to be read aloud."""
    if verdict is Verdict.MEASURE:
        return f"Measure first: {_turn_in_words(*decides)}."
    if verdict is Verdict.GOES:
        return "Goes, by the figures there are."
    said, more = "; ".join(words[:MOST_REASONS]), len(words) - MOST_REASONS
    said += f"; and {more} more" if more > 0 else ""
    if verdict is Verdict.CARE:
        return f"Goes with care: {said}."
    return f"Does not go: {said}. {cured}"


def _small(headline: str) -> str:
    """Return a headline as it stands inside a sentence: codes and short forms keep their letter."""
    first, rest = headline[:1], headline[1:]
    keeps = rest[:1].isupper() or rest[:1].isdigit() or not first.isalpha()
    return headline if keeps else f"{first.lower()}{rest}"


def _turn_in_words(one: Decides, *others: Decides) -> str:
    """Return where the first figure turns the verdict, and which is to be measured after it."""
    after = f"; then {others[0].label}" if others else ""
    if isinstance(one.turns_at, str):
        return f"{one.label}; with “{one.turns_at}” it may not go{after}"
    if others:  # on the good side of this figure another may still stop it
        side = "below" if one.stops_below else "above"
        return f"{one.label}; {side} {one.turn} it does not go{after}"
    good = f"from {one.turn} on" if one.stops_below else f"up to {one.turn}"
    return f"{one.label}; {good} it goes"


def _cure_in_words(
    found: PlanResult, outcome: Outcome, reasons: Iterable[JoinedFinding], cures: tuple[Cure, ...]
) -> str:
    """Return what it goes with: the first cure of each stop, where all of them together do."""
    if not cures:
        return "Nothing that was tried cures it: sizes, brakes, forks, positions."
    whole = together(found, outcome, cures)
    if whole is None:
        rules = list(dict.fromkeys(one.rule for one in reasons))
        first = next(cure for rule in rules for cure in cures if cure.rule == rule)
        return f"One stop is cured by {first.says}."
    parts, judged = whole
    says = [cure.says for cure in parts]
    known = dict.fromkeys(_both_ends(says))
    care = " with care" if worst_of(judged) == "caution" else ""
    *most, last = known
    return f"With {', '.join(most)}{' and ' if most else ''}{last} it goes{care}."


def _both_ends(says: list[str]) -> Iterator[str]:
    """Yield cures in words, one that is of either end said once of both."""
    for one in says:
        front, rear = (one.replace("the rear", "the front"), one.replace("the front", "the rear"))
        both = front != rear and front in says and rear in says
        yield (
            one.replace("the front", "both ends").replace("the rear", "both ends") if both else one
        )
