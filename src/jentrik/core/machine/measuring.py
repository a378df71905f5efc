"""How each figure is taken with the machine standing there, in the order a person does it.

Only what matters for the job is asked first: what every answer needs, what the proposals touch,
and what the machine's kind adds.  Source: common practice.
"""

from collections.abc import Iterable, Mapping
from typing import Any

from jentrik.core.machine.catalogue import KNOWN
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code

# The figures with a way to take them, in the order they are taken.
TAKEN: tuple[str, ...] = tuple(
    key
    for _, key in sorted(
        (known.guide.turn, key) for key, known in KNOWN.items() if known.guide is not None
    )
)


_OF_A_BUILD = {
    DrawnAs.FOLDING: {"fold_wheel_mm"},
    DrawnAs.TANDEM: {"captain_ahead_mm"},
    DrawnAs.OUTFIT: {"sidecar.lead_mm", "sidecar.toe_in_mm"},
}


def wanted(sheet: Sheet, proposals: Iterable[Mapping[str, Any]]) -> tuple[str, ...]:
    """Return the figures that matter for a job, in the order they are taken."""
    bicycle = sheet.kind == "bicycle"
    keys = {
        "front.tire",
        "rear.tire",
        "wheelbase_mm",
        "fork.length_mm",
        "fork.offset_mm",
        "head_angle_deg" if bicycle else "rake_deg",
    }
    keys |= {"chainstay_mm", "bb_height_mm"} if bicycle else {"speedometer.wheel"}
    if not bicycle or "speedometer.wheel" in sheet.figures:
        keys.add("speedometer.reads_over_percent")
    keys |= _OF_A_BUILD.get(sheet.drawn_as, set())
    if "suspension.rear.link_ratio" in sheet.figures:
        keys.add("suspension.rear.link_works")
    for end in ENDS:
        if sheet.sprung(end):
            keys |= {f"suspension.{end}.travel_mm", f"suspension.{end}.sag_mm"}
    for changes in proposals:
        keys |= _touched(sheet, changes)
    if not bicycle and any("front" in proposal or "rear" in proposal for proposal in proposals):
        keys |= {f"side_stand.{name}" for name in ("lean_deg", "foot_out_mm", "foot_x_mm")}
    return tuple(key for key in TAKEN if key in keys)


def _touched(sheet: Sheet, changes: Mapping[str, Any]) -> set[str]:
    """Return what one proposal makes worth measuring."""
    keys = set()
    for end in ENDS:
        code = (changes.get(end) or {}).get("tire")
        if code is None:
            continue
        keys.add(f"{end}.overall_diameter_mm")
        old, new = _read(sheet.text(f"{end}.tire")), _read(code)
        if any(tire is not None and tire.alternatives for tire in (old, new)):
            keys.add(f"{end}.rim.bead_seat_diameter_mm")
        moved = old and new and old.bead_seat_diameter_mm != new.bead_seat_diameter_mm
        if moved:
            keys.add(f"{end}.brake")
        if moved and _on_the_rim(sheet, end):
            keys.add(f"{end}.rim_brake.pad_reach_mm")
    return keys


def _on_the_rim(sheet: Sheet, end: End) -> bool:
    """Whether an end brakes on its rim, as said or as a slot that was measured tells."""
    brake, slot = sheet.text(f"{end}.brake"), f"{end}.rim_brake.slot_least_mm"
    return brake == "rim" or (brake is None and slot in sheet.figures)


def _read(code: str | None) -> Reading | None:
    return None if code is None else known_code(code)


def to_take(sheet: Sheet, key: str) -> bool:
    """Whether no one has measured a figure yet, or read it off a sheet."""
    figure = sheet.figures.get(key)
    return figure is None or figure.provenance not in (Provenance.MEASURED, Provenance.MAKER)
