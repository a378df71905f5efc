"""Figures that are missing, and the rules that need them."""

from collections.abc import Container, Iterable
from dataclasses import dataclass

from jentrik.core.machine.declared import ENDS, End, Kind
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.rules import TITLES
from jentrik.core.rules.case import Rule

PLANNED = {  # what a proposal says of a wheel, in words
    "load_index": "load index on the planned {end} tire",
    "speed_symbol": "speed symbol on the planned {end} tire",
    "rim.inner_width_mm": "inner width of the planned {end} rim",
    "rim.tube": "whether the planned {end} rim is tubeless",
    "fitted.make": "make and model of the planned {end} tire",
    "fitted.made": "week and year on the planned {end} tire",
    "fitted.tread_mm": "tread of the planned {end} tire",
    "fitted.pressure_kpa": "pressure of the planned {end} tire",
    "fitted.most_load_kg": "load limit on the planned {end} tire's sidewall",
    "fitted.rated_kmh": "speed the planned {end} tire is rated for on assisted cycles",
    "rim.valve_hole_mm": "valve hole of the planned {end} rim",
    "rim.tape_mm": "rim tape of the planned {end} wheel",
    "hub.spacing_mm": "hub width of the planned {end} wheel",
    "hub.axle_mm": "axle diameter of the planned {end} wheel",
    "hub.rotor_mm": "rotor of the planned {end} wheel",
    "hub.rotor_thickness_mm": "thickness of the planned {end} wheel's rotor",
    "hub.rotor_minimum_mm": "minimum marked on the planned {end} wheel's rotor",
    "pads_mm": "lining left on the {end} brake pads",
    "hub.rotor_mount": "how the planned {end} wheel's rotor mounts",
    "hub.driver": "what carries the sprockets of the planned {end} wheel",
    "hub.chain_line_mm": "chain line of the planned {end} wheel",
}
_LISTS = {
    "approved": "the pairs of tires on the maker's sheet",
    "points.out_mm": "how far a peg or another place stands out to the side",
    "places": "a clearance at the tires",
    "room": "the width inside at two distances from the axle",
    "points": "a place on the chassis, such as the seat",
}


@dataclass(frozen=True, slots=True)
class MissingFigures:
    """Figures that are not known, in words too, and the ids of the rules that need them."""

    keys: tuple[str, ...]
    label: str
    rules: tuple[str, ...]

    @property
    def titles(self) -> tuple[tuple[str, str], ...]:
        """Each rule's id with its title."""
        return tuple((rule, TITLES[rule]) for rule in self.rules)


def missing_figures(
    rules: Iterable[Rule], *, kind: Kind, known: Container[str], changed: Container[End]
) -> tuple[MissingFigures, ...]:
    """Return the missing figures by the rules that need them, the most needed first.

    `known` are the keys that hold a figure; a rule about a wheel waits only where it is changed.
    """
    waiting: dict[str, list[str]] = {}
    for rule in rules:
        if kind not in rule.kinds:
            continue
        ends = [end for end in ENDS if end in changed] if rule.per == "wheel" else ["bike"]
        for end in ends:
            if all(key.replace("{end}", end) in known for key in rule.only_with):
                for key in rule.figures(end):
                    if key not in known and rule.id not in waiting.setdefault(key, []):
                        waiting[key].append(rule.id)
    by_rules: dict[tuple[str, ...], list[str]] = {}
    for key, ids in waiting.items():
        by_rules.setdefault(tuple(ids), []).append(key)
    found = [
        MissingFigures(tuple(keys), "; ".join(figure_label(key) for key in keys), ids)
        for ids, keys in by_rules.items()
    ]
    return tuple(sorted(found, key=lambda one: (not _decides(one.keys), -len(one.rules))))


def _decides(keys: tuple[str, ...]) -> bool:
    """Whether a figure turns on all that follows: which brake it is."""
    return any(key.endswith(".brake") for key in keys)


def figure_label(key: str) -> str:
    """Return a figure's name in words; `{end}` in a key is spoken of as the wheel."""
    if key in _LISTS:
        return _LISTS[key]
    if key.startswith("planned."):
        _, end, name = key.split(".", 2)
        return PLANNED[name].replace("{end} ", "" if "{" in end else f"{end} ")
    known = FIELD_BY_KEY.get(key) or FIELD_BY_KEY.get(key.replace("{end}", "front"))
    if known is None:  # a range kept as its two ends
        known = FIELD_BY_KEY[key.replace("{end}", "front").replace("_mm", "_least_mm")]
    label = (
        known.label.removesuffix(", minimum").removesuffix(", maximum")
        if "rim_width" in key
        else known.label
    )
    label = label[:1].lower() + label[1:]
    if "{end}" in key:
        return label.replace(", front", "").replace(" front", "")
    for end in ENDS:
        if key.startswith((f"{end}.", f"spec.{end}.")) and end not in label:
            return f"{label}, {end}"
    return label
