"""Lines of a spreadsheet made machines, tires on the shelf, speed pairs and odometer readings.

Every line is read and written in one change that undo takes back whole; where one is refused, none
is written and each is named by its number in the file.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from jentrik.core.days import read_day
from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.figures.calibration import SpeedPair
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.text import counted, external_key
from jentrik.core.tire.dates import week_and_year
from jentrik.core.tire.sidewall import known_code
from jentrik.core.units import read_figure
from jentrik.core.work.cost import money
from jentrik.core.work.wear import Odometer
from jentrik.exchange.csv_reading import Spreadsheet
from jentrik.store import logbook, machines, shelf, speeds
from jentrik.store.journal import Step
from jentrik.store.records import numbered
from jentrik.web.live.typed_values import LONGEST_NAME, checked_name, figure_value, words
from jentrik.web.pages.jobs.newcomer import Newcomer, add_machine_on
from jentrik.web.shop import Shop

MOST_NAMED, MOST_OF_ONE = 40, 100
TABLE_ROUNDS = 0.5  # mm; a table of machines shows whole ones
SUBJECT = "spreadsheet"  # the subject of every import of a table begins with it
Cells = Mapping[str, str]  # field -> what stands there, with its unit


@dataclass(frozen=True, slots=True)
class Field:
    """A field a column can be: its words, what else its head may be called, its unit."""

    key: str
    label: str
    names: tuple[str, ...]
    unit: str = ""
    needed: bool = False


def _figure_field(key: str, *names: str) -> Field:
    known = FIELD_BY_KEY[key]
    label = known.label
    return Field(key, label, (label.casefold().replace("-", " "), *names), known.unit)


@dataclass(frozen=True, slots=True)
class TableKind:
    """What the lines of a table are: its words, its fields, and how one line is written."""

    label: str
    fields: tuple[Field, ...]
    write: Callable[[Step, Shop, Cells], None]

    def names(self) -> dict[str, tuple[str, ...]]:
        """Return what the head of each field may be called."""
        return {field.key: field.names for field in self.fields}


class LinesRefusedError(DocumentError):
    """Lines that cannot be: each with its number and why."""

    def __init__(self, refused: list[tuple[int, str]]) -> None:
        super().__init__(f"{len(refused)} lines cannot be imported; nothing was.")
        self.refused = refused


_MACHINE = Field("machine", "Machine", ("machine", "bike", "motorcycle", "name"), needed=True)
_FIGURES = (
    _figure_field("wheelbase_mm", "wheelbase"),
    _figure_field("head_angle_deg", "head angle"),
    _figure_field("rake_deg", "rake"),
    _figure_field("fork.length_mm", "fork length", "axle to crown"),
    _figure_field("fork.offset_mm", "fork offset", "offset"),
    _figure_field("chainstay_mm", "chain stay", "chainstay"),
    _figure_field("bb_height_mm", "bb height", "bottom bracket height", "bottom bracket"),
    _figure_field("stack_mm", "stack"),
    _figure_field("reach_mm", "reach"),
)


def _known(table: Literal["machine", "shelf_tire"], cells: Cells) -> int | None:
    """Return the number of the thing a line is of, by its own key or its id; None of a new one."""
    key = external_key(cells.get("external_id", ""))
    if key:
        return numbered(table, external_id=key)
    number = counted(cells.get("id", ""))
    return numbered(table, number=number) if number else None


def _machine(step: Step, shop: Shop, cells: Cells) -> None:
    name, known_id = checked_name(cells["machine"]), _known("machine", cells)
    if known_id is None:
        tires = cells["front.tire"], cells.get("rear.tire", "")
        came = Newcomer(name, *tires, cells.get("build", ""))
        machine_id = add_machine_on(step, shop, came)
    else:
        machine_id = known_id
    sheet = machines.sheet(machine_id)
    if name != sheet.name:
        machines.rename(step, machine_id, name)
    owner = words(cells.get("owner", ""), most=LONGEST_NAME)
    if owner and owner != sheet.owner:
        machines.set_owner(step, machine_id, owner)
    phone = words(cells.get("phone", ""), most=LONGEST_NAME)
    for column, text in (
        ("phone", phone),
        ("external_id", external_key(cells.get("external_id", ""))),
    ):
        if text and text != getattr(sheet, column):
            machines.set_word(step, machine_id, column, text)
    for key in ("front.tire", "rear.tire", *(one.key for one in _FIGURES)):
        known, text = FIELD_BY_KEY[key], cells.get(key, "")
        if not text or sheet.kind not in known.kinds or (known_id is None and ".tire" in key):
            continue
        value, plus_minus, readings = figure_value(known, text)
        if isinstance(value, float):
            check_key(key, value)
        there = sheet.figures.get(key)
        if there is not None and known_id is not None and _shown_alike(there.value, value):
            continue
        figure = Figure(value, Provenance.MEASURED, shop.today, plus_minus, readings)
        machines.set_figure(step, machine_id, key, figure)
    machine_of(machines.sheet(machine_id))  # refuses a machine that cannot be


def _shown_alike(there: float | str, said: float | str) -> bool:
    """Whether a figure is the one a table of ours shows: lengths there are whole."""
    if isinstance(there, str) or isinstance(said, str):
        return there == said
    return abs(there - said) <= TABLE_ROUNDS


def _tire(step: Step, shop: Shop, cells: Cells) -> None:
    columns = _tire_columns(cells)
    code, known_id = known_code(cells["code"]).text, _known("shelf_tire", cells)
    if known_id is None:
        shelf.add_tire(step, code, on=shop.today, **columns)
        return
    known = shelf.known_tire(known_id)
    there = {"price": None if known.price is None else f"{known.price:f}"}
    changed = {
        name: value
        for name, value in {"code": code, **columns}.items()
        if value != there.get(name, getattr(known, name))
    }
    if changed:
        shelf.set_tire(step, known_id, **changed)


def _tire_columns(cells: Cells) -> dict[str, Any]:
    """Return the columns of a tire's row that a line says; what it does not say is left out."""
    said = {name: text for name, text in cells.items() if text}
    columns = {name: read(said[name]) for name, read in _TIRE_CELLS.items() if name in said}
    if "made" in said:
        made = week_and_year(said["made"].zfill(4))
        if made is None:
            mark = said["made"][:20]
            raise OutOfRange(f"“{mark}” is no week and year.", expected="four digits like 0824")
        columns["week"], columns["year"] = made
    number = counted(said.get("count", "1"), most=MOST_OF_ONE)
    if number is None or (not number and not _known("shelf_tire", cells)):
        raise OutOfRange(
            f"“{said.get('count', '')[:20]}” is no number of tires from 1 to {MOST_OF_ONE}.",
            expected="a number",
        )
    return {**columns, "pieces": number}


def _short(text: str) -> str:
    return words(text, most=LONGEST_NAME)


_TIRE_CELLS: dict[str, Callable[[str], Any]] = {  # column of a tire's row -> how a cell is read
    "week": lambda text: counted(text, most=53),
    "year": lambda text: counted(text, most=2099),
    "make": _short,
    "whose": _short,
    "place": _short,
    "price": lambda text: f"{money(text):f}",
    "external_id": external_key,
    "tread_mm": lambda text: read_figure(text, unit="mm"),
    "km": lambda text: read_figure(text, unit="km"),
}


def _of(cells: Cells) -> int:
    machine_id = machines.named(cells["machine"])
    if machine_id is None:
        raise OutOfRange(f"There is no machine “{cells['machine'][:60]}”.", expected="a machine")
    return machine_id


def _pair(step: Step, shop: Shop, cells: Cells) -> None:
    pair = SpeedPair(
        read_figure(cells["true"], unit="km/h"), read_figure(cells["shown"], unit="km/h")
    )
    for speed in (pair.true_kmh, pair.shown_kmh):
        check_key("top_speed_kmh", speed)
    speeds.add_pairs(step, _of(cells), (pair,), on=shop.today)


def _odometer(step: Step, shop: Shop, cells: Cells) -> None:
    reading = Odometer(read_day(cells["day"]), read_figure(cells["km"], unit="km"))
    logbook.add_odometer(step, _of(cells), reading, today=shop.today)


_KEYS = (
    Field("id", "Id", ("id",)),
    Field("external_id", "External id", ("external id", "sku", "article", "key")),
)
KINDS: dict[str, TableKind] = {
    "machines": TableKind(
        "Machines",
        (
            _MACHINE,
            *_KEYS,
            Field("front.tire", "Front tire", ("front tire", "front", "tire"), needed=True),
            Field("rear.tire", "Rear tire", ("rear tire", "rear")),
            Field("build", "Build", ("build", "kind", "type")),
            Field("owner", "Owner", ("owner", "customer")),
            Field("phone", "Phone", ("phone", "telephone", "mobile")),
            *_FIGURES,
        ),
        _machine,
    ),
    "tires": TableKind(
        "Tires on the shelf",
        (
            Field("code", "Tire code", ("tire", "code", "size"), needed=True),
            *_KEYS,
            Field("make", "Make", ("make", "made by", "maker", "brand", "model")),
            Field("week", "Week made", ("week made", "week")),
            Field("year", "Year made", ("year made", "year")),
            Field("whose", "Owner", ("owner", "customer")),
            Field("place", "Hangs at", ("hangs at", "place", "bin", "shelf")),
            Field("price", "Price", ("price", "price of one")),
            Field("tread_mm", "Tread", ("tread",), "mm"),
            Field("km", "Ran", ("ran",), "km"),
            Field("made", "Week and year", ("dot", "date", "made", "week and year")),
            Field(
                "count", "How many", ("count", "pieces", "stock", "quantity", "number", "how many")
            ),
        ),
        _tire,
    ),
    "pairs": TableKind(
        "Speed pairs",
        (
            _MACHINE,
            Field("true", "True speed", ("true", "gps"), "km/h", needed=True),
            Field(
                "shown", "Shown speed", ("shown", "speedometer", "indicated"), "km/h", needed=True
            ),
        ),
        _pair,
    ),
    "odometer": TableKind(
        "Odometer readings",
        (
            _MACHINE,
            Field("day", "Day", ("day", "date", "on"), needed=True),
            Field("km", "Odometer", ("odometer", "km", "reading", "miles"), "km", needed=True),
        ),
        _odometer,
    ),
}


def bring_in(shop: Shop, kind: TableKind, sheet: Spreadsheet, columns: Mapping[str, int]) -> int:
    """Write every line and return how many; refuses them all where one cannot be."""
    missing = [field.label for field in kind.fields if field.needed and field.key not in columns]
    if missing:
        raise DocumentError(
            f"Say which column is: {', '.join(missing)}.", expected="a column for each"
        )
    refused: list[tuple[int, str]] = []
    with shop.step(f"{len(sheet.lines)} lines imported", f"{SUBJECT} {kind.label.lower()}") as step:
        for line in sheet.lines:
            try:
                kind.write(step, shop, _cells(kind, sheet, line.cells, columns))
            except Refusal as refusal:
                refused.append((line.number, refusal.message))
        if refused:
            raise LinesRefusedError(refused)
    return len(sheet.lines)


def _cells(
    kind: TableKind, sheet: Spreadsheet, cells: tuple[str, ...], columns: Mapping[str, int]
) -> dict[str, str]:
    """Return what a line says of each field, a figure with the unit its column's head names."""
    there: dict[str, str] = {}
    for field in kind.fields:
        column = columns.get(field.key)
        text = cells[column] if column is not None and column < len(cells) else ""
        unit = sheet.unit(column) if column is not None and field.unit else ""
        there[field.key] = f"{text} {unit}" if unit and text[-1:].isdigit() else text
        if field.needed and not text:
            raise OutOfRange(f"{field.label} is empty.", expected=field.label.lower())
    return there
