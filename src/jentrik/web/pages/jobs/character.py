"""Wheel character on the comparison: what was weighed and pumped, and what follows from it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from markupsafe import Markup

from jentrik.core.figures.character import Character, Masses, character
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.web.drawing.edge import edge_drawing
from jentrik.web.figures import between, fixed
from jentrik.web.parts.asked import Askable, AskedField, asked_figures

_ASKED = {
    "step": Askable("Edge", "mm", 60.0, 1, 1000),
    "load": Askable("Load on this wheel", "kg", None, 1, 1000),
    "pressure": Askable("Pressure", "kPa", None, 20, 2000),
    "speed": Askable("At", "km/h", None, 1, 400),
    "rim": Askable("Rim, as found", "g", None, 1, 50000),
    "tire": Askable("Tire, as found", "g", None, 1, 50000),
    "tube": Askable("Tube, as found", "g", None, 0, 20000),
    "new_rim": Askable("Rim, planned", "g", None, 1, 50000),
    "new_tire": Askable("Tire, planned", "g", None, 1, 50000),
    "new_tube": Askable("Tube, planned", "g", None, 0, 20000),
}
_USUAL_SPEED = {"bicycle": 25.0, "motorcycle": 90.0}
_ROWS = (
    ("Attack angle on the edge", "attack_deg", "°", 1),
    ("Push to climb it from a stand, of the load", "push_ratio", "×", 2),
    ("Contact patch, area", "patch_mm2", "mm²", 0),
    ("Contact patch, length", "patch_length_mm", "mm", 0),
    ("Rim, tire and tube", "rotating_mass_kg", "kg", 2),
    ("Rotating inertia", "inertia_kgm2", "kg·m²", 3),
    ("Mass it feels like when sped up", "effective_mass_kg", "kg", 2),
    ("Gyroscopic momentum", "momentum_nms", "N·m·s", 1),
)


@dataclass(frozen=True, slots=True)
class CharacterRow:
    """One figure of the wheel, as found and planned."""

    label: str
    unit: str
    found: str
    planned: str
    moved: str


@dataclass(frozen=True, slots=True)
class CharacterView:
    """The whole section: which wheel, what is asked, what follows, the edge."""

    end: End
    ends: tuple[End, ...]
    asked: list[AskedField]
    rows: list[CharacterRow]
    edge: Markup


def character_view(
    found: PlanResult, outcome: Outcome, query: Mapping[str, str], units: DisplayUnits = METRIC
) -> CharacterView:
    """Return the character of one wheel, as found and as a proposal has it.

    What is asked for without a unit is in one of `units`.
    """
    changed = [end for end in ENDS if found.bike.wheels.at(end) != outcome.figures.wheels.at(end)]
    usual = changed[0] if changed else "front"
    end: End = next((end for end in ENDS if query.get("wheel") == end), usual)
    speed = replace(_ASKED["speed"], usual=_USUAL_SPEED[found.bike.kind])
    values, asked = asked_figures(query, _ASKED | {"speed": speed}, units)
    old, new = found.bike.wheels.at(end), outcome.figures.wheels.at(end)

    def of_wheel(wheel: Wheel, rim: str, tire: str, tube: str) -> Character:
        return character(
            wheel,
            step_mm=values["step"] or 60.0,
            load_kg=values["load"],
            pressure_kpa=values["pressure"],
            speed_kmh=values["speed"] or _USUAL_SPEED[found.bike.kind],
            masses=Masses(values[rim], values[tire], values[tube]),
        )

    before, after = (
        of_wheel(old, "rim", "tire", "tube"),
        of_wheel(new, "new_rim", "new_tire", "new_tube"),
    )
    return CharacterView(
        end=end,
        ends=ENDS,
        asked=asked,
        rows=[row for line in _ROWS if (row := _row(before, after, *line)) is not None],
        edge=edge_drawing(
            found_mm=old.diameter_mm / 2,
            planned_mm=new.diameter_mm / 2,
            step_mm=values["step"] or 60.0,
        ),
    )


def _row(
    before: Character, after: Character, label: str, key: str, unit: str, digits: int
) -> CharacterRow | None:
    old, new = getattr(before, key), getattr(after, key)
    if old is None and new is None:
        return None
    moved = between(old, new, digits)
    return CharacterRow(label, unit, fixed(old, digits), fixed(new, digits), moved)
