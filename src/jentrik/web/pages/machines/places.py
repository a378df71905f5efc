"""Adding lines to a machine's sheet, and taking them off: gaps, named points, rear positions."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from datetime import date
from typing import Any

from jentrik.core.errors import CodeError, OutOfRange, Refusal, StoreError
from jentrik.core.machine.declared import ENDS, check
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.machine import MEASURED_GAP
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.named_places import named_place
from jentrik.core.machine.point_role import role_named
from jentrik.core.machine.room_line import PARTS, RoomLine
from jentrik.core.machine.sheet import (
    Sheet,
    SheetClearance,
    SheetPair,
    SheetPoint,
    SheetPosition,
    SheetRoomLine,
)
from jentrik.core.plan.plan import as_measured
from jentrik.core.units import read_figure
from jentrik.store import machines
from jentrik.web.live.sheet_rows import LINES, column_value, line_values, place_values, room_values
from jentrik.web.live.typed_values import checked_name
from jentrik.web.pages.machines.sheet_lists import (
    NEW_PAIR,
    NEW_PLACE,
    NEW_POINT,
    NEW_POSITION,
    NEW_ROOM,
)
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import Shop


def add_line(shop: Shop, machine_id: int, which: str, form: Mapping[str, Any]) -> Typed:
    """Add a line to one of a machine's lists as typed: all of it, or nothing where it is refused.

    Refuses a list there is none of.
    """
    known = _LISTS.get(which)
    if known is None:
        raise StoreError("There is no such list.", expected="a list of the sheet")
    typed = _typed(form)
    try:
        with shop.step(
            f"{known.called} added", f"machine {machine_id} add {which}", machine_id=machine_id
        ) as step:
            sheet = machines.sheet(machine_id)
            line = known.read(sheet, typed, shop.today)
            lines = LINES[known.kind]
            longer: dict[str, Any] = {lines.attribute: (*getattr(sheet, lines.attribute), line)}
            _must_stand(replace(sheet, **longer))
            step.label = f"{known.called} {line.name} added"
            lines.write(step, machine_id, None, known.stored(line), on=shop.today)
    except Refusal as refusal:
        return Typed(typed, {known.field: refusal})
    return NOTHING_TYPED


def drop_line(shop: Shop, machine_id: int, form: Mapping[str, Any]) -> None:
    """Take the named line off the sheet; one that is gone already is no trouble."""
    with shop.step("taken off", f"machine {machine_id} drop line", machine_id=machine_id) as step:
        sheet = machines.sheet(machine_id)
        for kind, lines in LINES.items():
            for line in getattr(sheet, lines.attribute):
                if form.get(kind) == str(line.id):
                    step.label = f"{lines.called}{line.name} taken off"
                    machines.drop_line(step, kind, line.id)


def _place(sheet: Sheet, typed: dict[str, str], today: date) -> SheetClearance:
    name = checked_name(typed.get("name", ""))
    known = named_place(sheet.kind, name)
    lies = asdict(known) if known else typed  # a named place says itself how it lies
    least = typed.get("minimum_mm", "").strip()
    gap = read_figure(typed.get("gap_mm", ""), unit="mm")
    check(MEASURED_GAP, gap)
    return SheetClearance(
        id=0,
        name=name,
        wheel=_one_of(lies.get("wheel", ""), ("front", "rear")),
        direction=_one_of(lies.get("direction", ""), ("radial", "side")),
        on=_one_of(lies.get("on", "frame"), ("frame", "fork")),
        gap_mm=gap,
        minimum_mm=read_figure(least, unit="mm") if least else None,
        provenance=Provenance.MEASURED,
        taken_on=today,
        bearing_deg=known.bearing_deg if known else None,
        moves_with=known.moves_with if known else None,
    )


def _point(sheet: Sheet, typed: dict[str, str], today: date) -> SheetPoint:
    return SheetPoint(
        id=0,
        name=checked_name(typed.get("name", "")),
        x_mm=read_figure(typed.get("x_mm", ""), unit="mm"),
        height_mm=read_figure(typed.get("height_mm", ""), unit="mm"),
        role=role_named(checked_name(typed.get("name", ""))),
        provenance=Provenance.MEASURED,
        taken_on=today,
    )


def _position(sheet: Sheet, typed: dict[str, str], today: date) -> SheetPosition:
    bead_seat = typed.get("bead_seat_diameter_mm", "").strip()
    return SheetPosition(
        id=0,
        name=checked_name(typed.get("name", "")),
        x_mm=read_figure(typed.get("x_mm", ""), unit="mm"),
        y_mm=read_figure(typed.get("y_mm", ""), unit="mm"),
        bead_seat_diameter_mm=read_figure(bead_seat, unit="mm") if bead_seat else None,
        provenance=Provenance.MEASURED,
        taken_on=today,
    )


def _room_line(sheet: Sheet, typed: dict[str, str], today: date) -> SheetRoomLine:
    figures = {
        name: read_figure(text, unit="mm") if text else None
        for name in ("from_axle_mm", "inside_mm", "minimum_mm")
        for text in (typed.get(name, "").strip(),)
    }
    if figures["from_axle_mm"] is None:
        raise OutOfRange(
            "How far from the axle is missing.",
            field="from_axle_mm",
            expected="a distance from the axle's middle in mm",
        )
    wheel, name = _one_of(typed.get("wheel", ""), ENDS), checked_name(typed.get("name", ""))
    part = next((part for end in ENDS for part in PARTS[end] if part.name == name), None)
    usual = part.on if part and wheel == "front" else "frame"
    if part and not part.ahead and figures["inside_mm"] is None:
        raise OutOfRange(
            f"{name}: how wide it is inside there is missing.",
            field="inside_mm",
            expected="the width between both sides in mm",
        )
    line = RoomLine(
        name=name,
        wheel="front" if wheel == "front" else "rear",
        on="fork" if _one_of(typed.get("on") or usual, ("frame", "fork")) == "fork" else "frame",
        from_axle_mm=figures["from_axle_mm"],
        inside_mm=figures["inside_mm"],
        minimum_mm=figures["minimum_mm"],
    )
    return SheetRoomLine(id=0, provenance=Provenance.MEASURED, taken_on=today, **asdict(line))


def _pair(sheet: Sheet, typed: dict[str, str], today: date) -> SheetPair:
    values: dict[str, Any] = {"name": checked_name(typed.get("name", ""))}
    for column in LINES["pair"].columns:
        text = " ".join(typed.get(column, "").split())
        try:
            values[column] = column_value(LINES["pair"], column, text)
        except CodeError as refusal:
            raise OutOfRange(f"“{text[:40]}”: {refusal.message}") from None
    return SheetPair(id=0, provenance=Provenance.MAKER, taken_on=today, **values)


@dataclass(frozen=True, slots=True)
class _List:
    """A list that lines are added to: its kind, what a line is called, and how one is read."""

    kind: str
    called: str
    field: str
    read: Callable[[Sheet, dict[str, str], date], Any]
    stored: Callable[[Any], dict[str, Any]]


_LISTS = {
    "places": _List("place", "clearance", NEW_PLACE, _place, place_values),
    "points": _List("point", "point", NEW_POINT, _point, line_values),
    "positions": _List("position", "position", NEW_POSITION, _position, line_values),
    "room": _List("room", "room", NEW_ROOM, _room_line, room_values),
    "pairs": _List("pair", "pair", NEW_PAIR, _pair, line_values),
}


def _typed(form: Mapping[str, Any]) -> dict[str, str]:
    return {name: value for name, value in form.items() if isinstance(value, str)}


def _one_of(typed: str, choices: tuple[str, ...]) -> str:
    if typed not in choices:
        raise OutOfRange(f"Choose one of {', '.join(choices)}.", expected=", ".join(choices))
    return typed


def _must_stand(sheet: Sheet) -> None:
    if not missing_of(sheet):
        as_measured(machine_of(sheet))
