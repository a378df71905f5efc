"""Adding lines to a machine's sheet, and taking them off: gaps, named points, rear positions."""

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any

from jentrik.core.errors import CodeError, OutOfRange, Refusal
from jentrik.core.named_places import named_place
from jentrik.core.plan import as_measured
from jentrik.core.sheet import Place, Provenance, Sheet, SheetPair, SheetPoint, SheetPosition
from jentrik.core.sheet_fields import missing_of
from jentrik.core.units import read_figure
from jentrik.exchange.plan_document import read_bike
from jentrik.store import machines
from jentrik.web.sheet_lines import LINES, column_value, line_values, place_values
from jentrik.web.shop import Shop
from jentrik.web.typed_values import checked_name
from jentrik.web.views.fields import NOTHING_TYPED, Typed
from jentrik.web.views.lines import NEW_PAIR, NEW_PLACE, NEW_POINT, NEW_POSITION


def add_place(shop: Shop, sheet: Sheet, form: Mapping[str, Any]) -> Typed:
    """Add a measured gap as typed; nothing is written where any of it is refused."""
    typed = _typed(form)
    try:
        name = checked_name(typed.get("name", ""))
        known = named_place(sheet.kind, name)
        lies = asdict(known) if known else typed  # a named place says itself how it lies
        place = Place(
            id=0,
            name=name,
            wheel=_one_of(lies.get("wheel", ""), ("front", "rear")),
            direction=_one_of(lies.get("direction", ""), ("radial", "side")),
            on=_one_of(lies.get("on", "frame"), ("frame", "fork")),
            gap_mm=read_figure(typed.get("gap_mm", ""), unit="mm"),
            minimum_mm=read_figure(typed["minimum_mm"], unit="mm")
            if typed.get("minimum_mm", "").strip()
            else None,
            provenance=Provenance.MEASURED,
            taken_on=shop.today,
            bearing_deg=known.bearing_deg if known else None,
            moves_with=known.moves_with if known else None,
        )
        _must_stand(replace(sheet, places=(*sheet.places, place)))
        with shop.step(f"gap {place.name} added", f"machine {sheet.id} place {place.name}",
                       machine_id=sheet.id) as step:  # fmt: skip
            machines.set_place(step, sheet.id, None, place_values(place), on=shop.today)
    except Refusal as refusal:
        return Typed(typed, {NEW_PLACE: refusal})
    return NOTHING_TYPED


def add_point(shop: Shop, sheet: Sheet, form: Mapping[str, Any]) -> Typed:
    """Add a named point as typed; nothing is written where any of it is refused."""
    typed = _typed(form)
    try:
        point = SheetPoint(
            id=0,
            name=checked_name(typed.get("name", "")),
            x_mm=read_figure(typed.get("x_mm", ""), unit="mm"),
            height_mm=read_figure(typed.get("height_mm", ""), unit="mm"),
            provenance=Provenance.MEASURED,
            taken_on=shop.today,
        )
        _must_stand(replace(sheet, points=(*sheet.points, point)))
        with shop.step(f"point {point.name} added", f"machine {sheet.id} point {point.name}",
                       machine_id=sheet.id) as step:  # fmt: skip
            machines.set_point(step, sheet.id, None, line_values(point), on=shop.today)
    except Refusal as refusal:
        return Typed(typed, {NEW_POINT: refusal})
    return NOTHING_TYPED


def add_position(shop: Shop, sheet: Sheet, form: Mapping[str, Any]) -> Typed:
    """Add a rear position as typed; nothing is written where any of it is refused."""
    typed = _typed(form)
    bead_seat = typed.get("bead_seat_diameter_mm", "")
    try:
        position = SheetPosition(
            id=0,
            name=checked_name(typed.get("name", "")),
            x_mm=read_figure(typed.get("x_mm", ""), unit="mm"),
            y_mm=read_figure(typed.get("y_mm", ""), unit="mm"),
            bead_seat_diameter_mm=read_figure(bead_seat, unit="mm") if bead_seat.strip() else None,
            provenance=Provenance.MEASURED,
            taken_on=shop.today,
        )
        _must_stand(replace(sheet, positions=(*sheet.positions, position)))
        label, subject = f"position {position.name} added", f"position {position.name}"
        with shop.step(label, f"machine {sheet.id} {subject}", machine_id=sheet.id) as step:
            machines.set_position(step, sheet.id, None, line_values(position), on=shop.today)
    except Refusal as refusal:
        return Typed(typed, {NEW_POSITION: refusal})
    return NOTHING_TYPED


def add_pair(shop: Shop, sheet: Sheet, form: Mapping[str, Any]) -> Typed:
    """Add a pair of tires of the maker's sheet as typed; nothing is written where it is refused."""
    typed = _typed(form)
    try:
        values: dict[str, Any] = {"name": checked_name(typed.get("name", ""))}
        for column in LINES["pair"].columns:
            text = " ".join(typed.get(column, "").split())
            try:
                values[column] = column_value(LINES["pair"], column, text)
            except CodeError as refusal:
                raise OutOfRange(f"“{text[:40]}”: {refusal.message}") from None
        pair = SheetPair(id=0, provenance=Provenance.MAKER, taken_on=shop.today, **values)
        _must_stand(replace(sheet, pairs=(*sheet.pairs, pair)))
        label, subject = f"pair {pair.name} added", f"pair {pair.name}"
        with shop.step(label, f"machine {sheet.id} {subject}", machine_id=sheet.id) as step:
            machines.set_pair(step, sheet.id, None, line_values(pair), on=shop.today)
    except Refusal as refusal:
        return Typed(typed, {NEW_PAIR: refusal})
    return NOTHING_TYPED


ADD_LINE = {
    "places": add_place, "points": add_point, "positions": add_position, "pairs": add_pair,
}  # fmt: skip


def drop_line(shop: Shop, sheet: Sheet, form: Mapping[str, Any]) -> Typed:
    """Take the named line off the sheet; one that is gone already is no trouble."""
    for kind, lines in LINES.items():
        for line in getattr(sheet, lines.attribute):
            if form.get(kind) == str(line.id):
                label = f"{lines.called}{line.name} taken off"
                with shop.step(label, f"machine {sheet.id} drop {kind} {line.id}",
                               machine_id=sheet.id) as step:  # fmt: skip
                    machines.drop_line(step, kind, line.id)
    return NOTHING_TYPED


def _typed(form: Mapping[str, Any]) -> dict[str, str]:
    return {name: value for name, value in form.items() if isinstance(value, str)}


def _one_of(typed: str, choices: tuple[str, ...]) -> str:
    if typed not in choices:
        raise OutOfRange(f"Choose one of {', '.join(choices)}.", expected=", ".join(choices))
    return typed


def _must_stand(sheet: Sheet) -> None:
    if not missing_of(sheet):
        as_measured(read_bike(sheet.bike_values()))
