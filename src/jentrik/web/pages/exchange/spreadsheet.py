"""Lines of a spreadsheet made machines, tires on the shelf, speed pairs and odometer readings.

Every line is read and written in one change that undo takes back whole; where one is refused, none
is written and each is named by its number in the file.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from jentrik.core.days import read_day
from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.figures.calibration import SpeedPair
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.text import counted
from jentrik.core.tire.dates import week_and_year
from jentrik.core.tire.sidewall import known_code
from jentrik.core.units import read_figure
from jentrik.core.work.wear import Odometer
from jentrik.exchange.csv_reading import Spreadsheet
from jentrik.store import logbook, machines, shelf, speeds
from jentrik.store.journal import Step
from jentrik.web.live.typed_values import LONGEST_NAME, checked_name, figure_value, words
from jentrik.web.pages.jobs.newcomer import Newcomer, add_machine_on
from jentrik.web.shop import Shop

MOST_NAMED, MOST_OF_ONE = 40, 100
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


def _machine(step: Step, shop: Shop, cells: Cells) -> None:
    name = checked_name(cells["machine"])
    came = Newcomer(name, cells["front.tire"], cells.get("rear.tire", ""), cells.get("build", ""))
    machine_id = add_machine_on(step, shop, came)
    owner, phone = (words(cells.get(one, ""), most=LONGEST_NAME) for one in ("owner", "phone"))
    if owner:
        machines.set_owner(step, machine_id, owner)
    if phone:
        machines.set_word(step, machine_id, "phone", phone)
    kind = machines.sheet(machine_id).kind
    for one in _FIGURES:
        known, text = FIELD_BY_KEY[one.key], cells.get(one.key, "")
        if not text or kind not in known.kinds:
            continue
        value, plus_minus, readings = figure_value(known, text)
        if isinstance(value, float):
            check_key(one.key, value)
        figure = Figure(value, Provenance.MEASURED, shop.today, plus_minus, readings)
        machines.set_figure(step, machine_id, one.key, figure)
    machine_of(machines.sheet(machine_id))  # refuses a machine that cannot be


def _tire(step: Step, shop: Shop, cells: Cells) -> None:
    code = known_code(cells["code"]).text
    mark = cells.get("made", "")
    made = week_and_year(mark.zfill(4)) if mark else None
    if mark and made is None:
        raise OutOfRange(f"“{mark[:20]}” is no week and year.", expected="four digits like 0824")
    count = cells.get("count", "") or "1"
    number = counted(count, most=MOST_OF_ONE)
    if not number:
        raise OutOfRange(
            f"“{count[:20]}” is no number of tires from 1 to {MOST_OF_ONE}.", expected="a number"
        )
    week, year = made or (None, None)
    shelf.add_tire(step, code, on=shop.today, week=week, year=year, pieces=number)


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


KINDS: dict[str, TableKind] = {
    "machines": TableKind(
        "Machines",
        (
            _MACHINE,
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
            Field("made", "Week and year", ("dot", "date", "made", "week and year")),
            Field("count", "How many", ("count", "stock", "quantity", "number", "how many")),
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
