"""What a rider will notice of a change, figure by figure, the most felt first, and of the tires.

Each change is given in steps of what a rider notices; what stays below one step is hardly felt.
Effects belong to one figure and one direction; how it steers on the whole, where figures speak
against each other, is the finding `handling`.  Source: common practice.
"""

from dataclasses import dataclass

from jentrik.core.amounts import mm
from jentrik.core.figures.contact import figure_of
from jentrik.core.machine.declared import ENDS, End, Kind
from jentrik.core.plan.plan import Outcome, PlanResult

TIRE_SHARE = 0.12  # of its width: from here on a rider feels the other tire (common practice)
_TIRE_FEELS: dict[tuple[Kind, bool], str] = {  # by whether it is wider (common practice)
    ("bicycle", True): "softer, slower to accelerate, quieter on gravel",
    ("bicycle", False): "firmer, quicker to accelerate, more of the road comes through",
    ("motorcycle", True): "wants more of a push to lean, more rubber on the road",
    ("motorcycle", False): "leans in more easily, less rubber on the road",
}
_LENGTHS = ("more", "less")


@dataclass(frozen=True, slots=True)
class EffectWords:
    """One figure in words: name, unit, decimals, the word for up and down, and how each feels."""

    name: str
    unit: str
    digits: int
    up: str
    down: str
    up_feels: str
    down_feels: str


EFFECT_WORDS: dict[str, EffectWords] = {
    "head_angle_deg": EffectWords(
        "Head angle", "°", 1, "steeper", "slacker", "", "flops and wanders when slow"
    ),
    "trail_mm": EffectWords("Trail", "mm", 0, *_LENGTHS, "", ""),
    "bb_height_mm": EffectWords(
        "Bottom bracket",
        "mm",
        0,
        "higher",
        "lower",
        "pedals clear more, the rider sits taller",
        "pedals strike earlier, easier to lean",
    ),
    "wheelbase_mm": EffectWords(
        "Wheelbase", "mm", 0, "longer", "shorter", "wants more room to turn", "turns in less room"
    ),
    "reach_mm": EffectWords(
        "Reach", "mm", 0, "longer", "shorter", "the bar is further away", "the bar is nearer"
    ),
    "seat_height_mm": EffectWords(
        "Seat",
        "mm",
        0,
        "higher",
        "lower",
        "feet reach the ground later",
        "feet reach the ground sooner",
    ),
    "feet_height_mm": EffectWords(
        "Pegs",
        "mm",
        0,
        "higher",
        "lower",
        "they strike later in a bend",
        "they strike earlier in a bend",
    ),
}


@dataclass(frozen=True, slots=True)
class Effect:
    """One figure's change: by how much, and how many times what a rider notices."""

    key: str
    by: float
    times: float

    @property
    def words(self) -> EffectWords:
        """The words of this figure."""
        return EFFECT_WORDS[self.key]

    @property
    def way(self) -> str:
        """Up or down, in the figure's own word."""
        return self.words.up if self.by > 0 else self.words.down

    @property
    def feels(self) -> str:
        """How it feels."""
        return self.words.up_feels if self.by > 0 else self.words.down_feels


def tire_feels(found: PlanResult, outcome: Outcome) -> tuple[str, ...]:
    """Return how tires of another width ride, both ends in one sentence where they are alike."""
    said: dict[tuple[float, float], list[End]] = {}
    for end in ENDS:
        old, new = (wheels.at(end).tire for wheels in (found.bike.wheels, outcome.figures.wheels))
        if old is None or new is None or not old.width_mm or not new.width_mm:
            continue
        if abs(new.width_mm / old.width_mm - 1) >= TIRE_SHARE:
            said.setdefault((old.width_mm, new.width_mm), []).append(end)
    return tuple(
        f"{'Tires' if len(ends) > 1 else f'{ends[0].capitalize()} tire'} {old:g} to {mm(new)}: "
        f"{_TIRE_FEELS[found.bike.kind, new > old]}."
        for (old, new), ends in said.items()
    )


def effects(found: PlanResult, outcome: Outcome) -> tuple[Effect, ...]:
    """Return the change of every figure that is known, the most felt first.

    A bicycle's saddle stays out: it is set anew for its rider.
    """
    felt = []
    for key in EFFECT_WORDS:
        old = figure_of(key, found.figures.geometry, found.figures.contact)
        new = figure_of(key, outcome.figures.geometry, outcome.figures.contact)
        set_anew = key == "seat_height_mm" and found.bike.kind == "bicycle"
        if old is not None and new is not None and not set_anew:
            felt.append(Effect(key, new - old, abs(new - old) / found.policy.noticeable[key]))
    return tuple(sorted(felt, key=lambda effect: -effect.times))
