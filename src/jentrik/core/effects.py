"""What a rider will notice of a change, figure by figure, the most felt first.

Each change is told in steps of what a rider notices; what stays below one step is hardly felt.
Effects belong to one figure and one direction, never to a package.  Source: common practice.
"""

from dataclasses import dataclass

from jentrik.core.contact import FEET, Contact, named
from jentrik.core.geometry.figures import Geometry
from jentrik.core.plan import Outcome, PlanResult
from jentrik.core.rules.limits import NOTICEABLE

_LENGTHS = ("more", "less")


@dataclass(frozen=True, slots=True)
class Told:
    """One figure in words: name, unit, decimals, the word for up and down, and how each feels."""

    name: str
    unit: str
    digits: int
    up: str
    down: str
    up_feels: str
    down_feels: str


TOLD: dict[str, Told] = {
    "head_angle_deg": Told(
        "Head angle", "°", 1, "steeper", "slacker", "quicker to turn, less settled at speed",
        "calmer at speed, flops and wanders when slow"),
    "trail_mm": Told(
        "Trail", "mm", 0, *_LENGTHS, "steadier at speed, heavier when slow",
        "quicker to steer, less settled at speed"),
    "bb_height_mm": Told(
        "Bottom bracket", "mm", 0, "higher", "lower", "pedals clear more, the rider sits taller",
        "pedals strike earlier, easier to lean"),
    "wheelbase_mm": Told(
        "Wheelbase", "mm", 0, "longer", "shorter", "steadier straight on, wider to turn",
        "turns in shorter, less steady"),
    "reach_mm": Told(
        "Reach", "mm", 0, "longer", "shorter", "the bar is further away", "the bar is nearer"),
    "seat_height_mm": Told(
        "Seat", "mm", 0, "higher", "lower", "feet reach the ground later",
        "feet reach the ground sooner"),
    "feet_mm": Told(
        "Pegs", "mm", 0, "higher", "lower", "they strike later in a bend",
        "they strike earlier in a bend"),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Effect:
    """One figure's change: by how much, and how many times what a rider notices."""

    key: str
    by: float
    times: float

    @property
    def told(self) -> Told:
        """The words of this figure."""
        return TOLD[self.key]

    @property
    def way(self) -> str:
        """Up or down, in the figure's own word."""
        return self.told.up if self.by > 0 else self.told.down

    @property
    def feels(self) -> str:
        """How it feels."""
        return self.told.up_feels if self.by > 0 else self.told.down_feels


def effects(found: PlanResult, outcome: Outcome) -> tuple[Effect, ...]:
    """Return the change of every figure that is known, the most felt first."""
    told = []
    for key in TOLD:
        old = _value(key, found.baseline, found.contact)
        new = _value(key, outcome.geometry, outcome.contact)
        if old is not None and new is not None:
            step = NOTICEABLE["bb_height_mm" if key == "feet_mm" else key]
            told.append(Effect(key, new - old, abs(new - old) / step))
    return tuple(sorted(told, key=lambda effect: -effect.times))


def _value(key: str, figures: Geometry, touched: Contact) -> float | None:
    if key == "feet_mm":
        points = {name: (float(x), float(y)) for name, (x, y) in figures.points.items()}
        feet = named(points, FEET)
        return feet[1] if feet else None
    if key == "seat_height_mm" and figures.bb_height_mm is not None:
        return None  # a bicycle's saddle is set anew
    value = getattr(touched, key, None)
    value = getattr(figures, key, None) if value is None else value
    return None if value is None else float(value)
