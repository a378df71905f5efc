"""What a proposal changes, in a few words."""

from collections.abc import Mapping

from jentrik.core.amounts import mm
from jentrik.core.machine.sheet import Sheet


def change_in_words(sheet: Sheet, changes: Mapping[str, object]) -> str:
    """Return what a proposal changes, in a few words."""
    said = []
    for end in ("front", "rear"):
        wheel = changes.get(end)
        if isinstance(wheel, Mapping) and wheel.get("tire"):
            said.append(f"{end} {sheet.text(f'{end}.tire') or '?'} → {wheel['tire']}")
        elif isinstance(wheel, Mapping) and wheel.get("overall_diameter_mm"):
            said.append(f"{end} measured {mm(wheel['overall_diameter_mm']):g}")
        if isinstance(wheel, Mapping) and wheel.get("guard") == "none":
            said.append(f"{end} mudguard off")
        elif isinstance(wheel, Mapping) and wheel.get("guard_inside_mm"):
            said.append(f"{end} mudguard {mm(wheel['guard_inside_mm']):g} inside")
    others = [name for name in changes if name not in ("front", "rear")]
    if others:
        said.append(", ".join(_other_change(name, changes[name]) for name in others))
    return "; ".join(said) or "nothing changed yet"


_WORDS = {
    "fork": "fork",
    "lower_cup_mm": "lower cup",
    "rear_axle_shift_mm": "rear axle",
    "headset_turn_deg": "headset",
    "shock_mm": "shock",
    "link_longer_mm": "link",
    "contact": "contact points",
    "speedometer": "instrument",
}


def _other_change(name: str, value: object) -> str:
    return f"position {value}" if name == "position" else _WORDS.get(name, name)
