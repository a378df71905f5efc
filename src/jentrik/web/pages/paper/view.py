"""What goes on paper: a machine's sheet on one page, the label of a wheel, the tag of a job."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from markupsafe import Markup

from jentrik.core.amounts import Amount, km, mm
from jentrik.core.errors import Refusal
from jentrik.core.machine.fields import fields_of, missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.kept_wheel import KeptWheel
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import as_measured
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.shelf import ShelfTire
from jentrik.web.figures import fixed, plain
from jentrik.web.pages.jobs.scene import scene_drawing
from jentrik.web.parts.address import Address

_MARKS = {  # what stands beside a figure that was not measured
    Provenance.MEASURED: "",
    Provenance.MAKER: "maker",
    Provenance.PHOTOGRAPH: "photograph",
    Provenance.ASSUMED: "assumed",
    Provenance.COMPUTED: "computed",
    Provenance.SIMULATED: "simulated",
}


@dataclass(frozen=True, slots=True)
class PaperLine:
    """One line: what, how much, and where it came from where it was not measured."""

    label: str
    value: str
    source: str


@dataclass(frozen=True, slots=True)
class MachinePaper:
    """A machine's sheet for the wall or the file."""

    sheet: Sheet
    on: date
    drawing: Markup | None
    groups: list[tuple[str, list[PaperLine]]]
    setup: str


def machine_paper(sheet: Sheet, on: date) -> MachinePaper:
    """Return everything a machine's sheet holds, group by group; what is unknown is left out."""
    drawing = None
    if not missing_of(sheet):
        try:
            drawing = scene_drawing(sheet, as_measured(machine_of(sheet)), None, Address(""))
        except Refusal:  # it cannot stand; its figures are printed all the same
            drawing = None
    groups: dict[str, list[PaperLine]] = {}
    for field in fields_of(sheet.kind):
        figure = sheet.figures.get(field.key)
        if figure is not None:
            line = PaperLine(field.label, _value(figure, field.unit), _MARKS[figure.provenance])
            groups.setdefault(field.group, []).append(line)
    lists = dict(_lists(sheet))
    groups |= {name: lines for name, lines in lists.items() if lines}
    setup = sheet.setup.name if sheet.setup is not None else ""
    return MachinePaper(sheet, on, drawing, list(groups.items()), setup)


def _value(figure: Figure, unit: str) -> str:
    if isinstance(figure.value, str):
        return str(figure.value)
    text = f"{Amount(figure.value, unit)}" if unit else plain(figure.value)
    return text if figure.plus_minus is None else f"{text} ± {plain(figure.plus_minus)}"


def _lists(sheet: Sheet) -> Iterator[tuple[str, list[PaperLine]]]:
    yield (
        "Clearances",
        [
            PaperLine(
                f"{clearance.name}, {clearance.wheel}",
                f"{mm(clearance.gap_mm)}"
                + (
                    f", at least {mm(clearance.minimum_mm)}"
                    if clearance.minimum_mm is not None
                    else ""
                ),
                _MARKS[clearance.provenance],
            )
            for clearance in sheet.clearances
        ],
    )
    yield (
        "Points: forward of the rear axle, height",
        [
            PaperLine(
                point.name, f"{mm(point.x_mm)}, {mm(point.height_mm)}", _MARKS[point.provenance]
            )
            for point in sheet.points
        ],
    )


@dataclass(frozen=True, slots=True)
class ThingLabel:
    """The label of a wheel or a tire: its name, its code large, whose and where, its number."""

    name: str
    code: str
    says: list[str]
    lines: list[PaperLine]
    number: str
    path: str  # what the code on it opens
    crumbs: list[tuple[str, str]]
    qr: Markup | None = None


_ON_A_LABEL = (
    ("rim.inner_width_mm", "Rim inner width", "mm"),
    ("rim.tube", "Rim made for", ""),
    ("hub.rotor_mm", "Rotor", "mm"),
    ("tone_ring_slots", "Tone ring, slots", ""),
    ("fitted.pressure_kpa", "Pressure, cold", "kPa"),
    ("fitted.made", "Tire made", ""),
    ("fitted.tread_mm", "Tread", "mm"),
)


def wheel_label(wheel: KeptWheel, machine: str, owner: str, path: str) -> ThingLabel:
    """Return the label of a wheel: what it is, whose, and what to check before it goes on."""
    tire = wheel.text("tire")
    bead_seat = wheel.parts.get("rim.bead_seat_diameter_mm")
    seat = float(bead_seat.value) if bead_seat else None
    if seat is None and tire:
        seat = known_code(tire).bead_seat_diameter_mm
    lines = [
        PaperLine(label, _value(wheel.parts[key], unit), _MARKS[wheel.parts[key].provenance])
        for key, label, unit in _ON_A_LABEL
        if key in wheel.parts
    ]
    says = [wheel.end.capitalize(), *([] if seat is None else [f"bead seat {mm(seat):.0f}"])]
    says += [one for one in (machine, owner, wheel.place) if one]
    crumbs = [(machine, f"/machines/{wheel.machine_id}")] if wheel.machine_id else []
    return ThingLabel(wheel.name, tire or "no tire", says, lines, f"Wheel {wheel.id}", path, crumbs)


def tire_label(tire: ShelfTire, path: str) -> ThingLabel:
    """Return the label of a tire of the shelf: what to know of it before it goes on."""
    known = (
        ("Made", f"{tire.week:02d}/{tire.year}" if tire.week and tire.year else ""),
        ("Tread, least", "" if tire.tread_mm is None else str(mm(tire.tread_mm))),
        ("Ran", "" if tire.km is None else str(km(fixed(tire.km, 0)))),
        ("Price", "" if tire.price is None else f"{tire.price:f}"),
    )
    says = [f"bead seat {mm(tire.reading.bead_seat_diameter_mm)}", tire.whose, tire.place]
    return ThingLabel(
        tire.make or str(tire.reading.vehicle).capitalize() + " tire",
        tire.code,
        [one for one in says if one],
        [PaperLine(label, value, "") for label, value in known if value],
        f"Tire {tire.id}",
        path,
        [(tire.code, path)],
    )
