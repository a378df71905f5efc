"""A reading as JSON: what `read` returns on the command line and over HTTP."""

from dataclasses import asdict
from datetime import date
from typing import Any

from jentrik.core.tire.dates import DateReading
from jentrik.core.tire.found import AnyReading, ServiceReading, Sidewall
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.rim_marks import RimReading
from jentrik.core.tire.tokens import Token

_FIGURES = (
    "text",
    "family",
    "vehicle",
    "width_mm",
    "aspect_percent",
    "construction",
    "rim_code",
    "bead_seat_diameter_mm",
    "section_height_mm",
    "overall_diameter_mm",
    "circumference_mm",
    "load_index",
    "load_kg",
    "speed_symbol",
    "speed_kmh",
    "tube",
    "position",
)


def sidewall_document(sidewall: Sidewall, *, on: date | None = None) -> dict[str, Any]:
    """Return a whole sidewall: the reading's keys, the other marks in `also`, loose lines.

    `age_years` of a date mark stands only where a day to count to was given; the family is null
    where lines like grades or pressures stand alone.
    """
    document: dict[str, Any] = {"family": None, "vehicle": None}
    if sidewall.reading is not None:
        document = any_document(sidewall.reading, on)
    document["text"] = sidewall.text
    document["tokens"] = _tokens(sidewall.tokens)
    document["notes"] = list(sidewall.notes)
    if sidewall.also:
        document["also"] = [any_document(other, on) for other in sidewall.also]
    for kind, key in (("load", "max_load_kg"), ("pressure", "max_pressure_kpa")):
        stated = [quantity.value for quantity in sidewall.quantities if quantity.kind == kind]
        if stated:
            document[key] = max(stated)
    if sidewall.grades:
        document["grades"] = {grade.kind: grade.value for grade in sidewall.grades}
    if sidewall.unread:
        document["unread"] = [
            {"start": token.start, "end": token.end, "text": token.text}
            for token in sidewall.unread
        ]
    return document


def any_document(reading: AnyReading, on: date | None) -> dict[str, Any]:
    """Return a reading of any family as plain values, unrounded; null is unknown."""
    if isinstance(reading, DateReading):
        return _date_document(reading, on)
    if isinstance(reading, RimReading):
        return _rim_document(reading)
    if isinstance(reading, ServiceReading):
        return _service_document(reading)
    return reading_document(reading)


def _date_document(reading: DateReading, on: date | None) -> dict[str, Any]:
    document: dict[str, Any] = {
        "text": reading.text,
        "family": reading.family,
        "vehicle": None,
        "week": reading.week,
        "year": reading.year,
        "tokens": _tokens(reading.tokens),
        "notes": list(reading.notes),
    }
    if on is not None:
        document["age_years"] = reading.age_years(on)
    return document


def _rim_document(reading: RimReading) -> dict[str, Any]:
    return {**asdict(reading), "tokens": _tokens(reading.tokens), "notes": list(reading.notes)}


def _service_document(reading: ServiceReading) -> dict[str, Any]:
    return {
        "text": reading.text,
        "family": reading.family,
        "vehicle": None,
        "load_index": reading.load_index,
        "load_kg": reading.load_kg,
        "speed_symbol": reading.speed_symbol,
        "speed_kmh": reading.speed_kmh,
        "tokens": _tokens(reading.tokens),
        "notes": list(reading.notes),
    }


def _tokens(tokens: tuple[Token, ...]) -> list[dict[str, Any]]:
    return [
        {"start": token.start, "end": token.end, "text": token.text, "means": token.means}
        for token in tokens
    ]


def reading_document(reading: Reading) -> dict[str, Any]:
    """Return a reading as plain values, unrounded; null is unknown."""
    document: dict[str, Any] = {name: getattr(reading, name) for name in _FIGURES}
    document["markings"] = list(reading.markings)
    document["tokens"] = _tokens(reading.tokens)
    document["notes"] = list(reading.notes)
    document["alternatives"] = [
        {"bead_seat_diameter_mm": other.bead_seat_diameter_mm, "note": other.note}
        for other in reading.alternatives
    ]
    if reading.also:
        document["also"] = [reading_document(other) for other in reading.also]
    return document
