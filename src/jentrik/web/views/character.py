"""Wheel character on the comparison: what was weighed and pumped, and what follows from it."""

from collections.abc import Mapping
from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.amounts import Amount, bare
from jentrik.core.errors import Refusal
from jentrik.core.figures.character import Character, Masses, character
from jentrik.core.machine.suspension import ENDS, End
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.shop.display_units import METRIC, DisplayUnits
from jentrik.core.units import read_figure
from jentrik.web.drawing.edge import edge_drawing
from jentrik.web.views.figures import change, fixed, plain

# name in the address -> label, unit, usual value, least, most
_ASKED: dict[str, tuple[str, str, float | None, float, float]] = {
    "step": ("Edge", "mm", 60.0, 1, 1000),
    "load": ("Load on this wheel", "kg", None, 1, 1000),
    "pressure": ("Pressure", "kPa", None, 20, 2000),
    "speed": ("At", "km/h", None, 1, 400),
    "rim": ("Rim, as found", "g", None, 1, 50000),
    "tire": ("Tire, as found", "g", None, 1, 50000),
    "tube": ("Tube, as found", "g", None, 0, 20000),
    "new_rim": ("Rim, planned", "g", None, 1, 50000),
    "new_tire": ("Tire, planned", "g", None, 1, 50000),
    "new_tube": ("Tube, planned", "g", None, 0, 20000),
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
class CharacterField:
    """One figure someone may give: its name in the address, label, unit and text."""

    name: str
    label: str
    unit: str
    value: str
    complaint: str = ""


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
    asked: list[CharacterField]
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
    values, asked = _asked(query, _USUAL_SPEED[found.bike.kind], units)
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
    moved = change(None if old is None or new is None else new - old, digits)
    return CharacterRow(label, unit, fixed(old, digits), fixed(new, digits), moved)


def _asked(
    query: Mapping[str, str], usual_speed: float, units: DisplayUnits
) -> tuple[dict[str, float | None], list[CharacterField]]:
    """Return what was given by name, and the fields with what could not be read."""
    values: dict[str, float | None] = {}
    asked = []
    for name, (label, unit, usual, least, most) in _ASKED.items():
        usual = usual_speed if name == "speed" else usual
        text, complaint = query.get(name, "").strip(), ""
        values[name] = usual
        if text:
            try:
                figure = read_figure(units.in_kept(text, unit), unit=unit)
            except Refusal as refusal:
                complaint = refusal.message
            else:
                if least <= figure <= most:
                    values[name] = figure
                else:
                    complaint = (
                        f"{Amount(least, unit)} to {Amount(most, unit)} is what a wheel can have."
                    )
        shown = text or ("" if usual is None else bare(plain(usual), unit))
        asked.append(CharacterField(name, label, unit, shown, complaint))
    return values, asked
