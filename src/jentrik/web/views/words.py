"""What a proposal changes and when a job is due, in a few words."""

from collections.abc import Mapping
from datetime import date

from jentrik.core.job.job import Job, KeptProposal
from jentrik.core.sheet.sheet import Sheet


def change_in_words(sheet: Sheet, changes: Mapping[str, object]) -> str:
    """Return what a proposal changes, in a few words."""
    said = []
    for end in ("front", "rear"):
        wheel = changes.get(end)
        if isinstance(wheel, Mapping) and wheel.get("tire"):
            said.append(f"{end} {sheet.text(f'{end}.tire') or '?'} → {wheel['tire']}")
        elif isinstance(wheel, Mapping) and wheel.get("overall_diameter_mm"):
            said.append(f"{end} measured {wheel['overall_diameter_mm']:g} mm")
    others = [name for name in changes if name not in ("front", "rear")]
    if others:
        said.append(", ".join(_other_change(name, changes[name]) for name in others))
    return "; ".join(said) or "nothing changed yet"


def what_changes(job: Job, sheet: Sheet, kept: KeptProposal) -> str:
    """Return what a proposal of a job changes in a few words, or changed, once it is done."""
    if job.done is not None and job.done.proposal == kept.name:
        return job.done.summary
    return change_in_words(sheet, kept.changes)


_WORDS = {
    "fork": "fork",
    "lower_cup_mm": "lower cup",
    "rear_axle_shift_mm": "rear axle",
    "headset_turn_deg": "headset",
    "shock_mm": "shock",
    "link_longer_mm": "link",
    "contact": "contact points",
}


def _other_change(name: str, value: object) -> str:
    return f"position {value}" if name == "position" else _WORDS.get(name, name)


def due_in_words(due: date | None, today: date) -> tuple[str, str]:
    """Return when a job is due in words, and whether that is late or soon."""
    if due is None:
        return "", ""
    days = (due - today).days
    if days < 0:
        return f"{-days} day{'s' if days < -1 else ''} late", "stop"
    if days <= 1:
        return ("today", "caution") if days == 0 else ("tomorrow", "caution")
    return f"{due:%a %d %b}", ""
