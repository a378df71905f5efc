"""Items about machines: which way a figure goes, how far, what is shown, what brings it back.

Every machine is made up by the seed, and every answer is what a plan says of it.
"""

import math
import random
from dataclasses import dataclass
from typing import Any

from jentrik.core.machine.building import bike_of
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.wheel import WheelChange
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.practice.item import Item
from jentrik.core.tire.sidewall import read_code

DERIVED = "derived: a rigid chassis on two circles, as every plan"
_BICYCLE_TIRES = ("28-622", "37-622", "47-622", "47-584", "57-584", "50-559", "57-559", "40-559")
_MOTOR_FRONT = ("90/90-21", "100/90-19", "110/80-19", "120/70-17", "110/70-17", "90/90-18")
_MOTOR_REAR = ("130/80-17", "140/80-17", "150/70-17", "120/90-18", "130/80-18", "110/90-18")


@dataclass(frozen=True, slots=True)
class _Change:
    """A machine, what is changed on it, and what comes of it."""

    values: dict[str, Any]
    changes: dict[str, Any]
    bike: Bike
    end: str  # that gets another tire
    more_mm: float  # of its diameter
    words: str
    found: PlanResult
    outcome: Outcome


def a_bicycle(chance: random.Random) -> dict[str, Any]:
    """Return the figures of a bicycle that can be."""
    tire = chance.choice(_BICYCLE_TIRES)
    return {
        "name": "practice",
        "kind": "bicycle",
        "wheelbase_mm": chance.randint(1010, 1180),
        "head_angle_deg": chance.choice((66.0, 68.5, 70.0, 71.5, 72.5)),
        "fork": {"length_mm": chance.randint(390, 520), "offset_mm": chance.randint(40, 52)},
        "chainstay_mm": chance.randint(430, 455),
        "bb_height_mm": chance.randint(268, 320),
        "front": {"tire": tire},
        "rear": {"tire": tire},
        "speedometer": {"wheel": "front", "reads_over_percent": 0.0},
    }


def a_motorcycle(chance: random.Random) -> dict[str, Any]:
    """Return the figures of a motorcycle that can be."""
    return {
        "name": "practice",
        "kind": "motorcycle",
        "wheelbase_mm": chance.randint(1380, 1560),
        "rake_deg": chance.choice((24.5, 26.0, 27.5, 29.0)),
        "fork": {"length_mm": chance.randint(640, 800), "offset_mm": chance.randint(40, 65)},
        "front": {"tire": chance.choice(_MOTOR_FRONT)},
        "rear": {"tire": chance.choice(_MOTOR_REAR)},
        "speedometer": {"wheel": "front", "reads_over_percent": float(chance.randint(2, 8))},
        "side_stand": {"lean_deg": 11.0, "foot_out_mm": 240.0, "foot_x_mm": 520.0},
    }


def _changed(chance: random.Random, kind: str) -> _Change:
    """Return a machine with another tire at one end."""
    values = a_bicycle(chance) if kind == "bicycle" else a_motorcycle(chance)
    bike = bike_of(values)
    end = chance.choice(("front", "rear"))
    pool = _BICYCLE_TIRES if kind == "bicycle" else _MOTOR_FRONT if end == "front" else _MOTOR_REAR
    old = values[end]["tire"]
    sizes = [one for one in pool if abs(_tall(one) - _tall(old)) > 12]
    new = chance.choice(sizes)
    change = WheelChange(tire=read_code(new))
    proposal = Proposal("A", front=change) if end == "front" else Proposal("A", rear=change)
    found = as_measured(bike)
    more = _tall(new) - _tall(old)
    steers = ("rake", "rake_deg") if "rake_deg" in values else ("head angle", "head_angle_deg")
    words = (
        f"A {kind}, {steers[0]} {values[steers[1]]:g}°, "
        f"wheelbase {values['wheelbase_mm']} mm. The {end} tire goes from {old} to {new}, "
        f"{abs(more):.0f} mm {'taller' if more > 0 else 'lower'}."
    )
    changes = {end: {"tire": new}}
    return _Change(values, changes, bike, end, more, words, found, outcome_of(found, proposal))


def _tall(code: str) -> float:
    return read_code(code).overall_diameter_mm or 0.0


_FIGURES = (
    ("head_angle_deg", "the head angle", "steeper", "slacker", "°", 0.15, 1),
    ("trail_mm", "the trail", "longer", "shorter", "mm", 2.0, 0),
    ("bb_height_mm", "the bottom bracket", "higher", "lower", "mm", 2.0, 0),
)


def which_way(chance: random.Random, name: str) -> Item:
    """Ask whether a figure grows or shrinks."""
    changed, label, up, down, moved, unit, digits, _ = _figure(chance)
    return Item(
        name,
        "which-way",
        f"{changed.words} What does it do to {label}?",
        up if moved > 0 else down,
        _why(changed, label, moved, unit, digits, up if moved > 0 else down),
        DERIVED,
        2,
        choices=(up, down),
        machine=changed.values,
        changes=changed.changes,
    )


def how_much(chance: random.Random, name: str) -> Item:
    """Ask how much a figure changes."""
    changed, label, up, down, moved, unit, digits, tolerance = _figure(chance)
    return Item(
        name,
        "how-much",
        f"{changed.words} By how much does {label} become {up if moved > 0 else down}, in "
        f"{'degrees' if unit == '°' else unit}?",
        round(abs(moved), digits),
        _why(changed, label, moved, unit, digits, up if moved > 0 else down),
        DERIVED,
        4,
        tolerance=max(tolerance, 0.15 * abs(moved)),
        unit=unit,
        machine=changed.values,
        changes=changed.changes,
    )


def _figure(chance: random.Random) -> tuple[_Change, str, str, str, float, str, int, float]:
    """Return a change and one of its figures that plainly moves."""
    while True:
        changed = _changed(chance, chance.choice(("bicycle", "motorcycle")))
        rows = []
        for key, label, up, down, unit, least, digits in _FIGURES:
            old = getattr(changed.found.figures.geometry, key)
            new = getattr(changed.outcome.figures.geometry, key)
            if old is not None and new is not None and abs(new - old) > 2 * least:
                rows.append((label, up, down, float(new - old), unit, digits, least))
        if rows:
            return changed, *chance.choice(rows)


_TIPS = {
    ("front", True): "A taller front wheel lifts the nose: slacker, more trail, bracket up",
    ("front", False): "A lower front wheel drops the nose: steeper, less trail, bracket down",
    ("rear", True): "A taller rear wheel tips it forward: steeper, less trail, bracket up",
    ("rear", False): "A lower rear wheel lets it sit back: slacker, more trail, bracket down",
}


def _why(changed: _Change, label: str, moved: float, unit: str, digits: int, way: str) -> str:
    """Return what it comes to, what tips it, and the arithmetic that is good enough by head."""
    base = changed.values["wheelbase_mm"]
    tipped = math.degrees(math.atan(abs(changed.more_mm) / 2 / base))
    return (
        f"{label[0].upper()}{label[1:]} becomes {abs(moved):.{digits}f}{'' if unit == '°' else ' '}"
        f"{unit} {way}. {_TIPS[changed.end, changed.more_mm > 0]}. By head: half of "
        f"{abs(changed.more_mm):.0f} mm over {base} mm of wheelbase is {tipped:.1f}°."
    )


def what_is_shown(chance: random.Random, name: str) -> Item:
    """Ask what the instrument shows at a true speed."""
    while True:
        values = a_motorcycle(chance)
        new = chance.choice(_MOTOR_FRONT)
        grown = _tall(new) / _tall(values["front"]["tire"])
        if abs(grown - 1) > 0.015:
            break
    bike = bike_of(values)
    found = as_measured(bike)
    outcome = outcome_of(found, Proposal("A", front=WheelChange(tire=read_code(new))))
    shown = outcome.figures.speed.indicated_at_100_kmh
    assert shown is not None
    over = values["speedometer"]["reads_over_percent"]
    return Item(
        name,
        "speed-shown",
        f"A speedometer driven by the front wheel reads {over:g} % high with "
        f"{values['front']['tire']}. With {new} on, what does it show at a true 100 km/h?",
        round(float(shown), 1),
        f"The new wheel is {abs(grown - 1) * 100:.1f} % {'larger' if grown > 1 else 'smaller'} and "
        f"turns {'less' if grown > 1 else 'more'} often: 100 x {1 + over / 100:g} / {grown:.4f} = "
        f"{float(shown):.1f} km/h.",
        "derived: 100 x (1 + reads over) / circumference ratio",
        3,
        tolerance=0.6,
        unit="km/h",
        code=new,
    )


def the_stand(chance: random.Random, name: str) -> Item:
    """Ask what a lower machine does on its side stand."""
    while True:
        changed = _changed(chance, "motorcycle")
        old, new = changed.found.figures.stand_lean_deg, changed.outcome.figures.stand_lean_deg
        if old is not None and new is not None and abs(new - old) > 0.3:
            break
    return Item(
        name,
        "side-stand",
        f"{changed.words} It stood leaning 11° on its side stand. How does it stand now?",
        "more upright" if new < old else "leaning further",
        f"Its lean goes from {old:.1f}° to {new:.1f}°: what lowers the chassis pushes the machine "
        "up off its stand, what lifts it lets it lean. More upright tips over to the other side.",
        "derived: tan of the lean, foot and contact line",
        3,
        choices=("more upright", "leaning further"),
        machine=changed.values,
        changes=changed.changes,
    )


_WAYS = (
    ("a fork 15 mm longer", {"fork": 15.0}),
    ("a fork 15 mm shorter", {"fork": -15.0}),
    ("the fork's offset 15 mm more", {"offset": 15.0}),
)


def the_remedy(chance: random.Random, name: str) -> Item:
    """Ask which of some parts brings the head angle back."""
    while True:
        changed = _changed(chance, "bicycle")
        then = float(changed.found.figures.geometry.head_angle_deg)
        moved = float(changed.outcome.figures.geometry.head_angle_deg) - then
        if abs(moved) < 0.4:
            continue
        left = [(abs(_with(changed, way) - then), words) for words, way in _WAYS]
        left.sort()
        if left[1][0] - left[0][0] > 0.25 and left[0][0] < abs(moved) - 0.2:
            break
    return Item(
        name,
        "the-way-back",
        f"{changed.words} The head angle is now {abs(moved):.1f}° "
        f"{'steeper' if moved > 0 else 'slacker'}. Which of these brings it back best?",
        left[0][1],
        f"With {left[0][1]} it is {left[0][0]:.1f}° off, with {left[1][1]} {left[1][0]:.1f}°. A "
        "longer fork lifts the nose and slackens, a shorter one steepens; offset moves the trail.",
        DERIVED,
        4,
        choices=tuple(words for words, _ in _WAYS),
        machine=changed.values,
        changes=changed.changes,
    )


def _with(changed: _Change, way: dict[str, float]) -> float:
    fork = changed.bike.fork
    asked = changed.outcome.proposal
    proposal = Proposal(
        "B",
        front=asked.front,
        rear=asked.rear,
        fork_length_mm=fork.length_mm + way["fork"] if "fork" in way else None,
        fork_offset_mm=fork.offset_mm + way["offset"] if "offset" in way else None,
    )
    return float(outcome_of(changed.found, proposal).figures.geometry.head_angle_deg)
