"""Wheel sizes beside each other for a small and a tall rider and the ground; no verdict."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from markupsafe import Markup

from jentrik.core.errors import Refusal
from jentrik.core.figures.character import Character, Masses
from jentrik.core.figures.contact import Contact
from jentrik.core.figures.rider_and_ground import (
    ARider,
    Ground,
    assumed_masses,
    feet_of,
    room_of,
    wheel_character,
)
from jentrik.core.figures.strikes import straight_toe
from jentrik.core.geometry.figures import Geometry
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.wheel import Wheels
from jentrik.core.plan.plan import PlanResult, outcome_of
from jentrik.core.plan.wheel_sizes import SizePair
from jentrik.core.rules.joined import headlines
from jentrik.core.tire.tables.wheel_size_arguments import ARGUES, NOTICED, NOTICED_SHARE
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.web.drawing.rider_size import SizePicture, Standing, size_picture
from jentrik.web.figures import change, fixed
from jentrik.web.parts.asked import Askable, AskedField, asked_figures

MOST_COLUMNS = 5
_ASKED = {
    "small": Askable("Small rider, inseam", "mm", 710, 300, 1300),
    "small_kg": Askable("Small rider", "kg", 55, 10, 250),
    "tall": Askable("Tall rider, inseam", "mm", 900, 300, 1300),
    "tall_kg": Askable("Tall rider", "kg", 95, 10, 250),
    "step": Askable("Step", "mm", 60, 1, 250),
    "slope": Askable("Slope down", "°", 20, 0, 45),
    "speed": Askable("Speed", "km/h", 25, 1, 400),
}
MASS_PARTS = tuple((end, part) for end in ENDS for part in ("rim", "tire"))
MASS_RANGE = (50.0, 50_000.0)


@dataclass(frozen=True, slots=True)
class SizeRow:
    """One figure across the sizes: a text each, which are noticed, what the figure argues for."""

    label: str
    unit: str
    cells: list[str]
    matters: list[bool]
    argues: str = ""
    inputs: list[AskedField] = field(default_factory=list)  # instead of texts: masses to replace


@dataclass(frozen=True, slots=True)
class SizeColumn:
    """One size: its name, its sizes, the heaviest findings on this frame, where it is proposed."""

    name: str
    says: str
    pair: str
    findings: list[tuple[str, str]] = field(default_factory=list)
    picture: Markup | None = None
    argues: list[tuple[SizeRow, str]] = field(default_factory=list)  # what is noticed, its figure


@dataclass(frozen=True, slots=True)
class WheelSizesView:
    """Everything the page shows."""

    sheet: Sheet
    asked: list[AskedField]
    made_for: bool
    offered: list[tuple[str, str, bool]]
    columns: list[SizeColumn]
    rows: list[SizeRow]
    jobs: list[tuple[int, int]]
    complaint: str = ""


@dataclass(frozen=True, slots=True)
class _Size:
    """One column worked: wheels and figures, on this frame or of a machine made for them."""

    name: str
    says: str
    wheels: Wheels
    figures: Geometry
    touched: Contact
    choice: int | None
    findings: tuple[tuple[str, str], ...] = ()
    pair: str = ""


def key_of(pair: SizePair) -> str:
    """Return how an address names a pair: its bead seats."""
    return f"{pair.seats[0]}-{pair.seats[1]}"


def wheel_sizes_view(
    sheet: Sheet,
    found: PlanResult | None,
    query: Mapping[str, str],
    chosen: Sequence[SizePair],
    offered: Sequence[SizePair],
    jobs: list[tuple[int, int]],
    *,
    made_for: bool,
    complaint: str = "",
    units: DisplayUnits = METRIC,
) -> WheelSizesView:
    """Return sizes beside each other; without a machine that can stand the complaint alone."""
    usual = 80.0 if sheet.kind == "motorcycle" else 25.0
    askable = _ASKED | {"speed": replace(_ASKED["speed"], usual=usual)}
    given, asked = asked_figures(query, askable, units)
    values = {name: value for name, value in given.items() if value is not None}  # all of them
    names = {key_of(one) for one in chosen}
    marked = [(key_of(one), _name(one), key_of(one) in names) for one in offered]
    if found is None:
        return WheelSizesView(sheet, asked, made_for, marked, [], [], jobs, complaint)
    sizes = [_as_found(found), *(_size(found, one, made_for=made_for) for one in chosen)]
    riders = [
        ARider("small rider", values["small"], values["small_kg"]),
        ARider("tall rider", values["tall"], values["tall_kg"]),
    ]
    own = sheet.figures.get("rider.inseam_mm")
    if own is not None:
        kg = found.bike.riding.rider_kg or (values["small_kg"] + values["tall_kg"]) / 2
        riders.append(ARider("this rider", float(own.value), kg))
    ground = Ground(values["step"], values["slope"], values["speed"])
    masses, inputs = _masses(query, found.bike, sizes)
    rows = list(_rows(found.bike, sizes, riders, ground, masses, inputs))
    return WheelSizesView(
        sheet,
        asked,
        made_for,
        marked,
        [
            SizeColumn(
                size.name,
                size.says,
                size.pair,
                list(size.findings),
                _picture(found.bike, size, riders, ground),
                list(_noticed(rows, place)) if place else [],
            )
            for place, size in enumerate(sizes)
        ],
        rows,
        jobs,
        complaint,
    )


def _picture(bike: Bike, size: _Size, riders: Sequence[ARider], ground: Ground) -> Markup:
    rooms = [room_of(bike, size.figures, size.touched, rider, ground) for rider in riders]
    edge = wheel_character(bike, size.wheels.front, "front", riders[0], ground, None)
    figures = size.figures
    return size_picture(
        SizePicture(
            size.name,
            float(figures.wheelbase_mm),
            float(figures.front_radius_mm),
            float(figures.rear_radius_mm),
            size.touched.standover_height_mm,
            feet_of(bike, figures),
            _figure(bike, size, "toe_mm"),
            ground.step_mm,
            edge.attack_deg,
            ground.slope_deg,
            [
                Standing(rider.name, rider.inseam_mm, room.standover_mm, room.steep_mm)
                for rider, room in zip(riders, rooms, strict=True)
            ],
        )
    )


def _noticed(rows: Iterable[SizeRow], place: int) -> Iterator[tuple[SizeRow, str]]:
    """Yield what a rider notices of a size with its figure, each argument once."""
    said: set[str] = set()
    for row in rows:
        if row.argues and row.argues not in said and row.matters[place]:
            said.add(row.argues)
            yield row, row.cells[place]


def _name(pair: SizePair) -> str:
    front, rear = pair.seats
    return f"{front} both ends" if front == rear else f"{front} front, {rear} rear"


def _as_found(found: PlanResult) -> _Size:
    figures, tires = found.figures, [found.bike.wheels.at(end).tire for end in ENDS]
    says = " / ".join(tire.text if tire else "?" for tire in tires)
    return _Size("as found", says, found.bike.wheels, figures.geometry, figures.contact, None)


def _size(found: PlanResult, pair: SizePair, *, made_for: bool) -> _Size:
    proposal = pair.proposal(found.bike)
    says, key = f"{pair.front.text} / {pair.rear.text}", f"{pair.front.text}|{pair.rear.text}||0"
    if made_for:
        wheels = proposal.wheels(found.bike)
        figures = replace(
            found.figures.geometry,
            front_radius_mm=wheels.radius_mm("front"),
            rear_radius_mm=wheels.radius_mm("rear"),
        )
        return _Size(_name(pair), says, wheels, figures, found.figures.contact, pair.choice)
    outcome = outcome_of(found, proposal)
    figures_then = outcome.figures
    return _Size(
        _name(pair),
        says,
        figures_then.wheels,
        figures_then.geometry,
        figures_then.contact,
        pair.choice,
        tuple(headlines(outcome.findings)),
        key,
    )


def _rows(
    bike: Bike,
    sizes: Sequence[_Size],
    riders: Sequence[ARider],
    ground: Ground,
    masses: Mapping[tuple[int, End], Masses],
    inputs: Sequence[SizeRow],
) -> Iterator[SizeRow]:
    for key, label in _ROOM:
        for place, rider in enumerate(riders):
            there = [
                getattr(room_of(bike, size.figures, size.touched, rider, ground), key)
                for size in sizes
            ]
            yield from _row(key, f"{label}, {rider.name}", "mm", 0, there, argues=not place)
    for key, label, unit, digits in _FRAME:
        yield from _row(key, label, unit, digits, [_figure(bike, size, key) for size in sizes])
    front, rear = (
        [
            wheel_character(bike, one.wheels.at(end), end, riders[0], ground, masses[place, end])
            for place, one in enumerate(sizes)
        ]
        for end in ENDS
    )
    for key, label, unit, digits in _EDGE:
        yield from _row(key, label, unit, digits, [getattr(one, key) for one in front])
    for number, rider in enumerate(riders):
        under = [
            wheel_character(bike, size.wheels.rear, "rear", rider, ground, None) for size in sizes
        ]
        for key, label, unit, digits in _PATCH:
            values = [getattr(one, key) for one in under]
            words = f"{label}, {rider.name}"
            yield from _row(key, words, unit, digits, values, argues=not number)
    yield from inputs
    for key, label, unit, digits, both in _TURNING:
        values = [_sum(one, other, key, both=both) for one, other in zip(front, rear, strict=True)]
        yield from _row(key, label, unit, digits, values)
    yield from _turn_and_choice(sizes)


def _turn_and_choice(sizes: Sequence[_Size]) -> Iterator[SizeRow]:
    """Give how far one turn of crank or engine goes, and how many sizes there are."""
    first = sizes[0].figures.rear_radius_mm
    turned = [float(size.figures.rear_radius_mm / first - 1) * 100 for size in sizes]
    yield SizeRow(
        "Way of one crank or engine turn",
        "%",
        ["as found", *(change(one, 1) for one in turned[1:])],
        [abs(one) >= NOTICED["turn_percent"] for one in turned],
        ARGUES["turn_percent"],
    )
    yield SizeRow(
        "Standard sizes on its bead seat",
        "",
        ["" if size.choice is None else str(size.choice) for size in sizes],
        [False] * len(sizes),
        ARGUES["choice"],
    )


def _sum(front: Character, rear: Character, key: str, *, both: bool) -> float | None:
    ends = [getattr(front, key), *([getattr(rear, key)] if both else [])]
    return None if None in ends else sum(ends)


def _row(
    key: str,
    label: str,
    unit: str,
    digits: int,
    values: Sequence[float | None],
    *,
    argues: bool = True,
) -> Iterator[SizeRow]:
    """Give the row of a figure; none where it is not known of any size."""
    first = values[0]
    if all(value is None for value in values):
        return
    share = NOTICED_SHARE.get(key, 0.0) * abs(first or 0.0)
    noticed = NOTICED.get(key, share)
    matters = [
        value is not None and first is not None and bool(noticed) and abs(value - first) >= noticed
        for value in values
    ]
    cells = ["not known" if value is None else fixed(value, digits) for value in values]
    yield SizeRow(label, unit, cells, matters, ARGUES[key] if argues else "")


# Key, label, unit, digits; what each argues for and what is noticed stand in their table.
_ROOM = (
    ("standover_mm", "Stand-over room"),
    ("seat_above_mm", "Seat above the inseam"),
    ("steep_mm", "Crotch to rear tire on the slope"),
)
_FRAME = (
    ("toe_mm", "Toe room, bar straight", "mm", 0),
    ("head_angle_deg", "Head angle", "°", 1),
    ("trail_mm", "Trail", "mm", 0),
    ("bb_height_mm", "Bottom bracket", "mm", 0),
)
_EDGE = (
    ("attack_deg", "Edge angle, front", "°", 1),
    ("push_ratio", "Push over the step, front", "× load", 2),
)
_PATCH = (
    ("pressure_kpa", "Pressure it is worked at, rear", "kPa", 0),
    ("patch_length_mm", "Contact patch, rear, length", "mm", 0),
    ("patch_mm2", "Contact patch, rear, area", "mm²", 0),
)
_TURNING = (
    ("rotating_mass_kg", "Both wheels", "kg", 2, True),
    ("inertia_kgm2", "Inertia of both", "kg·m²", 3, True),
    ("momentum_nms", "Gyroscopic momentum, front", "N·m·s", 1, False),
)


def _figure(bike: Bike, size: _Size, key: str) -> float | None:
    if key == "toe_mm":
        return straight_toe(bike, size.figures, bike.cranks.length_mm)
    value = getattr(size.figures, key)
    return None if value is None else float(value)


def _masses(
    query: Mapping[str, str], bike: Bike, sizes: Sequence[_Size]
) -> tuple[dict[tuple[int, End], Masses], list[SizeRow]]:
    """Return the masses that were typed, by column and end, and the fields they are typed into."""
    typed: dict[tuple[int, End], Masses] = {}
    rows = {part: [] for part in MASS_PARTS}  # type: dict[tuple[End, str], list[AskedField]]
    for place, one in enumerate(sizes):
        for end in ENDS:
            about = assumed_masses(bike, one.wheels.at(end))
            known = {"spokes_g": about.spokes_g, "hub_g": about.hub_g}
            for part in ("rim", "tire"):
                name = f"{end}_{part}:{one.name}"
                usual, text = getattr(about, f"{part}_g"), query.get(name, "").strip()[:20]
                value, complaint = _mass(text)
                known[f"{part}_g"] = usual if value is None else value
                shown = text or ("" if usual is None else fixed(round(usual, -1)))
                source = complaint if complaint else "" if text else "assumed"
                rows[end, part].append(AskedField(name, "", "g", shown, source))
            typed[place, end] = Masses(**known)
    return typed, [
        SizeRow(f"{end.capitalize()} {part}", "g", [], [], inputs=fields)
        for (end, part), fields in rows.items()
    ]


def _mass(text: str) -> tuple[float | None, str]:
    if not text:
        return None, ""
    try:
        value = read_figure(text, unit="g")
    except Refusal as refusal:
        return None, refusal.message
    if not MASS_RANGE[0] <= value <= MASS_RANGE[1]:
        return None, f"From {MASS_RANGE[0]:g} to {MASS_RANGE[1]:g} g."
    return value, ""
