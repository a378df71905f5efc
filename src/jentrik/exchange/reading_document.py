"""A reading as JSON: what `read` returns on the command line and over HTTP."""

from typing import Any

from jentrik.core.tirecode.reading import Reading

_FIGURES = (
    "text", "family", "vehicle", "width_mm", "aspect_percent", "construction", "rim_code",
    "bead_seat_diameter_mm", "section_height_mm", "overall_diameter_mm", "circumference_mm",
    "load_index", "load_kg", "speed_symbol", "speed_kmh", "tube", "position",
)  # fmt: skip


def reading_document(reading: Reading) -> dict[str, Any]:
    """Return a reading as plain values, unrounded; null is unknown."""
    document: dict[str, Any] = {name: getattr(reading, name) for name in _FIGURES}
    document["markings"] = list(reading.markings)
    document["tokens"] = [
        {"start": token.start, "end": token.end, "text": token.text, "means": token.means}
        for token in reading.tokens
    ]
    document["notes"] = list(reading.notes)
    document["alternatives"] = [
        {"bead_seat_diameter_mm": other.bead_seat_diameter_mm, "note": other.note}
        for other in reading.alternatives
    ]
    if reading.also:
        document["also"] = [reading_document(other) for other in reading.also]
    return document
