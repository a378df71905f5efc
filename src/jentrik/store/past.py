"""Rows of the journal in words: what was changed, from and to, as a mechanic would say it."""

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from jentrik.core.amounts import in_words as figure_in_words
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.setup import in_words
from jentrik.core.work.template import kept_step

LONGEST = 160  # characters of one value
_DAYS, _JSON = ("_on", "_at", "_since"), ("changes", "parts", "scores", "signs", "tread")

# Of each table: what one row is called, and its columns worth telling, in words.
_ROWS: dict[str, tuple[str, dict[str, str]]] = {
    "machine": (
        "Machine",
        {
            "name": "name",
            "owner": "owner",
            "phone": "phone",
            "note": "note",
            "drawn_as": "drawn as",
            "binned_at": "in the bin since",
            "stands_since": "stands since",
        },
    ),
    "place": (
        "Gap, {name}",
        {
            "gap_mm": "mm",
            "minimum_mm": "minimum mm",
            "direction": "direction",
            "part": "on",
            "moves_with": "moves with",
            "bearing_deg": "lies at °",
            "from_axle_mm": "from the axle mm",
        },
    ),
    "point": ("Point, {name}", {"x_mm": "along mm", "height_mm": "height mm", "out_mm": "out mm"}),
    "position": (
        "Position, {name}",
        {"x_mm": "forward mm", "y_mm": "up mm", "bead_seat_diameter_mm": "for bead seat mm"},
    ),
    "room_line": (
        "Room, {name}",
        {
            "from_axle_mm": "from the axle mm",
            "inside_mm": "inside mm",
            "minimum_mm": "minimum mm",
            "part": "on",
        },
    ),
    "approved_pair": (
        "Maker's pair, {name}",
        {
            "front_tire": "front",
            "rear_tire": "rear",
            "front_rim_mm": "front rim mm",
            "rear_rim_mm": "rear rim mm",
            "front_make": "front make",
            "rear_make": "rear make",
            "position": "position",
        },
    ),
    "job": (
        "Tag {tag}",
        {
            "wanted": "wanted",
            "due_on": "promised",
            "promised_time": "at",
            "whose": "done by",
            "rung_at": "rung",
            "closed_at": "closed",
            "binned_at": "in the bin since",
        },
    ),
    "proposal": ("Proposal {name}", {"changes": ""}),
    "card": ("Job card", {"template": "", "proposal": "proposal"}),
    "photo": ("Photo", {"caption": ""}),
    "practice_answer": ("Practice, {kind}", {"verdict": ""}),
    "photograph": ("Photograph to measure on", {"focal_px": "focal length px"}),
    "shelf_tire": (
        "Shelf, {code}",
        {
            "pieces": "pieces",
            "place": "hangs at",
            "price": "price",
            "whose": "owner",
            "make": "make",
            "tread_mm": "tread mm",
            "signs": "",
            "facts": "",
        },
    ),
    "speed_pair": ("Speed pair", {"true_kmh": "true km/h", "shown_kmh": "shown km/h"}),
    "inspection": (
        "Look at the tire, {wheel}",
        {
            "tire": "",
            "tread": "tread mm",
            "signs": "",
            "pressure_kpa": "kPa",
            "made": "made",
            "note": "",
        },
    ),
    "odometer": ("Odometer", {"km": "km"}),
    "odometer_check": ("Odometer check", {"counted_km": "counted km", "true_km": "true km"}),
    "fitting": ("Fitted, onto the sheet", {"summary": ""}),
    "puncture": ("Puncture, {wheel}", {"what": "", "done": ""}),
    "setup": ("Set-up {name}", {"since_on": "from", "until_on": "to", "sealed_on": "sealed"}),
    "job_document": ("Job sealed", {"made_at": ""}),
    "correction": ("Correction", {"text": ""}),
    "wheel": ("Wheel {name}", {"kept": "kept", "binned_at": "in the bin since"}),
    "wheel_set": ("Wheel set {name}", {}),
    "ride": ("Ride", {"scores": "", "outcome": "", "note": ""}),
    "confronted": ("Measured after fitting, {label}", {"measured": ""}),
    "cost_entry": ("Order list, {key}", {"value": ""}),
}


@dataclass(frozen=True, slots=True)
class FieldMoved:
    """One thing a change moved: what, from, to; an empty text is nothing there."""

    what: str
    before: str
    after: str


def moved_by(entries: Iterable[Mapping[str, Any]]) -> tuple[FieldMoved, ...]:
    """Return what the entries of one step moved; steps a new card came with stay unsaid."""
    entries = list(entries)
    cards = {one["id"] for one in entries if one["table"] == "card" and one["before"] is None}
    return tuple(
        moved
        for entry in entries
        if not (
            entry["table"] == "card_step"
            and entry["before"] is None
            and entry["after"]["card_id"] in cards
        )
        for moved in _moved(entry["table"], entry["before"] or {}, entry["after"] or {})
        if moved.before != moved.after
    )


def _moved(table: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> Iterator[FieldMoved]:
    row = after or before
    if table == "measurement":
        yield FieldMoved(_figure_label(row["key"]), _figure(before), _figure(after))
        return
    if table == "card_step":
        yield FieldMoved(kept_step(row["plan"]).text, _ticked(before), _ticked(after))
        return
    said, columns = _ROWS.get(table, (table.replace("_", " "), {"name": ""}))
    what = said.format(**row)
    old, new = _said(before, columns), _said(after, columns)
    if not (before and after):
        yield FieldMoved(what, _listed(old), _listed(new) or ("there" if after else ""))
        return
    for key in dict.fromkeys((*old, *new)):
        yield FieldMoved(f"{what}: {key}" if key else what, old.get(key, ""), new.get(key, ""))


def _said(row: Mapping[str, Any], columns: Mapping[str, str]) -> dict[str, str]:
    """Return what a row says, by its words; a document's entries each by their own."""
    said: dict[str, str] = {}
    for column, words in columns.items():
        value = row.get(column)
        if value in (None, ""):
            continue
        kept = json.loads(value) if column in _JSON else value
        if isinstance(kept, dict):
            said |= _flat(kept, "")
            continue
        day = column.endswith(_DAYS)
        text = f"{datetime.fromisoformat(kept):%d %b %Y}" if day else _plain(kept)
        if text:
            said[words] = f"{said[words]}, {text}" if words in said else text
    return said


def _flat(kept: Mapping[str, Any], above: str) -> dict[str, str]:
    plain_values: dict[str, str] = {}
    for key, value in kept.items():
        words = f"{above} {key.removesuffix('_mm').replace('_', ' ')}".strip()
        plain_values |= _flat(value, words) if isinstance(value, dict) else {words: _plain(value)}
    return plain_values


def _listed(said: Mapping[str, str]) -> str:
    listed = ", ".join(f"{words} {text}".strip() for words, text in said.items())
    return listed if len(listed) <= LONGEST else f"{listed[:LONGEST]} …"


def _plain(value: Any) -> str:
    if isinstance(value, list):
        return ("/" if all(isinstance(one, float) for one in value) else ", ").join(
            map(_plain, value)
        )
    if not isinstance(value, float):
        return str(value)[:LONGEST]
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _figure_label(key: str) -> str:
    known = FIELD_BY_KEY.get(key)
    if known is None:
        return in_words(key)
    end = key.partition(".")[0]
    named = end not in ("front", "rear") or end in known.label.casefold()
    return known.label if named else f"{known.label}, {end}"


def _figure(row: Mapping[str, Any]) -> str:
    if not row:
        return ""
    known = FIELD_BY_KEY.get(row["key"])
    unit = known.unit if known else ""
    said = figure_in_words(row["key"], _plain(json.loads(row["value"])), unit)
    return f"{said} ({row['provenance']})"


def _ticked(row: Mapping[str, Any]) -> str:
    """Return what was written down on a step of a card."""
    if not row:
        return ""
    if row["waived"]:
        return f"left out: {row['waived']}"
    torque = f"{row['torque_nm']:g} N·m {row['torque_source'] or ''}" if row["torque_nm"] else None
    said = [torque, row["reading"], f"done by {row['done_by'] or '?'}" if row["done_at"] else None]
    return ", ".join(one for one in said if one) or "open"
