"""A machine's sheet as a document: every figure with where it came from, and back again."""

from collections.abc import Mapping
from dataclasses import asdict
from datetime import date
from typing import Any, TypeVar

from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.kept_wheel import KeptWheel
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.setup import Parts, Setup
from jentrik.core.machine.sheet import (
    DrawnAs,
    Sheet,
    SheetClearance,
    SheetPair,
    SheetPoint,
    SheetPosition,
    SheetRoomLine,
)
from jentrik.core.plan.proposed_setup import nested

Line = TypeVar("Line", SheetClearance, SheetPoint, SheetPosition, SheetPair, SheetRoomLine)
_LISTS: dict[str, Any] = {
    "clearances": SheetClearance,
    "points": SheetPoint,
    "positions": SheetPosition,
    "pairs": SheetPair,
    "room": SheetRoomLine,
}


def figure_document(figure: Figure) -> dict[str, Any]:
    """Return a figure as plain values."""
    document: dict[str, Any] = {
        "value": figure.value,
        "provenance": figure.provenance.value,
        "taken_on": figure.taken_on.isoformat(),
    }
    if figure.plus_minus is not None:
        document["plus_minus"] = figure.plus_minus
    if figure.readings:
        document["readings"] = list(figure.readings)
    if figure.measured_in:
        document["measured_in"] = figure.measured_in
    return document


def figure_of(document: Mapping[str, Any]) -> Figure:
    """Return the figure of a document of ours."""
    return Figure(
        document["value"],
        Provenance(document["provenance"]),
        date.fromisoformat(document["taken_on"]),
        document.get("plus_minus"),
        tuple(document.get("readings", ())),
        document.get("measured_in", ""),
    )


def parts_document(parts: Parts) -> dict[str, Any]:
    """Return the parts of a set-up, each figure with where it came from."""
    return {key: figure_document(parts[key]) for key in sorted(parts)}


def parts_of(document: Mapping[str, Any]) -> dict[str, Figure]:
    """Return the parts of a document of ours."""
    return {key: figure_of(value) for key, value in document.items()}


def setup_document(setup: Setup) -> dict[str, Any]:
    """Return a set-up as others read it: plain values nested by their keys, and their sources."""
    values = {key: figure.value for key, figure in sorted(setup.parts.items())}
    return {
        "name": setup.name,
        "from": setup.since.isoformat(),
        "to": setup.until.isoformat() if setup.until else None,
        "reconstructed": setup.reconstructed,
        **nested({key: value for key, value in values.items() if not key.startswith("set.")}),
        "set": nested(
            {key.removeprefix("set."): v for key, v in values.items() if key.startswith("set.")}
        ),
        "sources": {key: setup.parts[key].provenance.value for key in sorted(setup.parts)},
    }


def wheel_document(wheel: KeptWheel) -> dict[str, Any]:
    """Return a wheel as others read it: plain values nested by their keys."""
    values = {key: figure.value for key, figure in sorted(wheel.parts.items())}
    return {
        "id": wheel.id,
        "name": wheel.name,
        "end": wheel.end,
        "kept": wheel.kept,
        "place": wheel.place,
        "price": None if wheel.price is None else f"{wheel.price:f}",
        "reserved_for": wheel.job_id,
        "photo": wheel.photo,
        **nested({key: value for key, value in values.items() if key != "set.wheel"}),
        "sources": {key: one.provenance.value for key, one in sorted(wheel.parts.items())},
    }


def sheet_document(sheet: Sheet) -> dict[str, Any]:
    """Return a whole sheet, so that it can be read back as it was."""
    assert sheet.setup is not None
    setup = sheet.setup
    return {
        "id": sheet.id,
        "name": sheet.name,
        "kind": sheet.kind,
        "drawn_as": sheet.drawn_as.value,
        "owner": sheet.owner,
        "figures": {key: figure_document(sheet.figures[key]) for key in sorted(sheet.figures)},
        **{name: [_line(line) for line in getattr(sheet, name)] for name in _LISTS},
        "turned_deg": sheet.turned_deg,
        "setup": {
            "id": setup.id,
            "name": setup.name,
            "since": setup.since.isoformat(),
            "until": setup.until.isoformat() if setup.until else None,
            "parts": parts_document(setup.parts),
        },
    }


def _line(line: Any) -> dict[str, Any]:
    values = asdict(line)
    return values | {"provenance": line.provenance.value, "taken_on": line.taken_on.isoformat()}


def sheet_of(document: Mapping[str, Any]) -> Sheet:
    """Return the sheet of a document of ours."""
    setup, until = document["setup"], document["setup"]["until"]
    lists: dict[str, Any] = {
        name: tuple(line_of(of, line) for line in document.get(name, ()))  # earlier ones have fewer
        for name, of in _LISTS.items()
    }
    return Sheet(
        id=document["id"],
        name=document["name"],
        kind=document["kind"],
        drawn_as=DrawnAs(document["drawn_as"]),
        figures=parts_of(document["figures"]),
        owner=document["owner"],
        setup=Setup(
            setup["id"],
            setup["name"],
            parts_of(setup["parts"]),
            date.fromisoformat(setup["since"]),
            date.fromisoformat(until) if until else None,
            sealed=True,
        ),
        turned_deg=document["turned_deg"],
        **lists,
    )


def line_of(of: type[Line], values: Mapping[str, Any]) -> Line:
    """Return a line of a sheet out of its plain values, kept in a document or in a row."""
    known = {name: values[name] for name in of.__dataclass_fields__ if name in values}
    known |= {
        "provenance": Provenance(values["provenance"]),
        "taken_on": date.fromisoformat(values["taken_on"]),
    }
    if known.get("role") is not None:
        known["role"] = PointRole(known["role"])
    return of(**known)
