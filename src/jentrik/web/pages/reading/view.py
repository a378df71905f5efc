"""The reader's page: a sidewall explained, its traps, sizes near it, and where to put it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from markupsafe import Markup

from jentrik.core.amounts import mm
from jentrik.core.errors import CodeError
from jentrik.core.sources import SHOP_LIMIT
from jentrik.core.tire.checks import to_check
from jentrik.core.tire.dates import DateReading, week_in_words
from jentrik.core.tire.equivalents import (
    DIAMETER_WINDOW_PERCENT,
    MM_PER_KM,
    WIDTH_WINDOW_MM,
    Equivalent,
    equivalents,
    names_of_rim,
)
from jentrik.core.tire.found import ServiceReading, Sidewall
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.rim_marks import RimReading, read_rim
from jentrik.core.tire.rims import together
from jentrik.core.tire.sidewall import read_sidewall
from jentrik.core.tire.tables import motorcycle_rims, rim_width
from jentrik.core.tire.tables.motorcycle_rims import tires_for
from jentrik.core.tire.tables.rim_width import bicycle_tire_widths
from jentrik.core.tire.tire_on_rim import rims_for
from jentrik.core.tire.tokens import Token
from jentrik.core.tire.traps import Warned, Weight, traps_of
from jentrik.core.units import KG_PER_POUND, KMH_PER_MPH
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.core.work.tire_age import too_old
from jentrik.store.listing import NO_PLACES, TirePlaces
from jentrik.web.drawing.section import section_drawing
from jentrik.web.figures import change, fixed
from jentrik.web.parts.fields import Complaint, complaint_of

MOST_EQUIVALENTS = 12
WINDOWS_PERCENT = (1.0, DIAMETER_WINDOW_PERCENT, 5.0)


@dataclass(frozen=True, slots=True)
class SidewallPiece:
    """A piece of the sidewall as it stands there, and what it means."""

    text: str
    caption: str
    means: str
    unread: bool


@dataclass(frozen=True, slots=True)
class NearRow:
    """Another size for the same rim, as a row."""

    code: str
    casing: str
    diameter: str
    change: str
    width: str
    turns: str


@dataclass(frozen=True, slots=True)
class Destination:
    """Somewhere the reading can be put."""

    value: str
    label: str


@dataclass(frozen=True, slots=True)
class RimView:
    """A rim mark beside the tire: what it says and what speaks against the pair."""

    text: str = ""
    complaint: Complaint | None = None
    says: str = ""
    widths: str = ""
    warned: tuple[Warned, ...] = ()
    judged: bool = False


@dataclass(frozen=True, slots=True)
class ReadingView:
    """Everything the reader's page shows."""

    text: str
    window: float
    complaint: Complaint | None = None
    pieces: list[SidewallPiece] = field(default_factory=list)
    figures: list[tuple[str, str]] = field(default_factory=list)
    notes: tuple[str, ...] = ()
    traps: tuple[Warned, ...] = ()
    others: tuple[str, ...] = ()
    checks: tuple[str, ...] = ()
    names: tuple[str, ...] = ()
    near: list[NearRow] = field(default_factory=list)
    windows: tuple[float, ...] = WINDOWS_PERCENT
    section: Markup | None = None
    code: str | None = None
    targets: list[Destination] = field(default_factory=list)
    rim: RimView = RimView()

    @property
    def heavy(self) -> list[Warned]:
        """The traps that stop or caution."""
        return [trap for trap in self.traps if trap.weight != "note"]

    @property
    def light(self) -> list[Warned]:
        """The traps that only explain."""
        return [trap for trap in self.traps if trap.weight == "note"]

    @property
    def lines(self) -> int:
        """How many lines the field for the text needs."""
        return min(max(self.text.count("\n") + 1, 2), 8)

    @property
    def read(self) -> bool:
        """Whether anything was read."""
        return bool(self.pieces)


def reading_view(
    text: str,
    *,
    rim: str,
    window: float,
    today: date,
    policy: Policy = DEFAULT_POLICY,
    places: Mapping[str, TirePlaces] | None = None,
) -> ReadingView:
    """Return the page for a text and, where one is given, a rim mark."""
    if not text.strip():
        return ReadingView(text, window, rim=_rim_view(rim, None))
    try:
        sidewall = read_sidewall(text, on=today)
    except CodeError as refusal:
        return ReadingView(
            text, window, complaint=complaint_of(refusal, text), rim=_rim_view(rim, None)
        )
    size = sidewall.reading if isinstance(sidewall.reading, Reading) else None
    stamped = next((mark.text for mark in sidewall.marks if isinstance(mark, RimReading)), "")
    others = tuple(other.note for other in size.alternatives) if size else ()
    traps = (*_too_old(sidewall, today, policy), *traps_of(sidewall))
    if others:  # they say the same, rim by rim, with the tape's figure
        traps = tuple(trap for trap in traps if trap.id != "several-rims")
    return ReadingView(
        text=text,
        window=window,
        pieces=[_piece(token, sidewall) for token in sidewall.tokens],
        figures=_figures(sidewall, today),
        notes=tuple(note for note in sidewall.notes if note not in {one.says for one in traps}),
        traps=traps,
        others=others,
        checks=to_check(sidewall),
        names=names_of_rim(size.bead_seat_diameter_mm)
        if size and size.vehicle == "bicycle"
        else (),
        near=_near(size, window) if size else [],
        section=section_drawing(size) if size else None,
        code=sidewall.code,
        targets=_targets(size, (places or {}).get(str(size.vehicle), NO_PLACES)) if size else [],
        rim=_rim_view(rim.strip() or stamped, size),
    )


def _too_old(sidewall: Sidewall, today: date, policy: Policy) -> tuple[Warned, ...]:
    """Return what the shop makes of the tire's age; nothing where it is young or not known."""
    age = sidewall.made.age_years(today) if sidewall.made else None
    judged = too_old(age, policy)
    if age is None or judged is None:
        return ()
    weight: Weight = "stop" if judged.stops else "caution"
    says = f"{age:.1f} years old. {judged.says}" if age >= 0 else judged.says
    return (Warned("age-over-policy", weight, says, str(SHOP_LIMIT)),)


def _piece(token: Token, sidewall: Sidewall) -> SidewallPiece:
    return SidewallPiece(token.text, token.caption, token.means, token in sidewall.unread)


def _figures(sidewall: Sidewall, today: date) -> list[tuple[str, str]]:
    """Return what follows from the marks, each with the unit's other half of the world."""
    reading, rows = sidewall.reading, []
    if isinstance(reading, Reading):
        rows += _size_figures(reading)
    if isinstance(reading, Reading | ServiceReading):
        rows += _service_figures(reading.load_kg, reading.speed_kmh)
    for quantity in sidewall.quantities:
        rows.append((f"Greatest {quantity.kind} marked", quantity.text))
    for grade in sidewall.grades:
        rows.append((grade.kind.capitalize(), grade.value))
    if sidewall.made is not None:
        rows.append(("Made", _made(sidewall.made, today)))
    return rows


def _size_figures(reading: Reading) -> list[tuple[str, str]]:
    rows = [("Bead seat", f"{reading.bead_seat_diameter_mm} mm")]
    if reading.width_mm is not None:
        rows.append(("Width, nominal", f"{fixed(reading.width_mm)} mm"))
    rims = rims_for(reading)
    if rims is not None:
        rows.append(("Rims", f"{rims.words} inches, by tables from memory"))
    if reading.overall_diameter_mm is None or reading.circumference_mm is None:
        return [*rows, ("Overall diameter", "unknown: the mark names no width or height")]
    return [
        *rows,
        ("Section height", str(mm(fixed(reading.section_height_mm)))),
        ("Overall diameter", f"{mm(fixed(reading.overall_diameter_mm))} nominal, unloaded"),
        ("Circumference", str(mm(fixed(reading.circumference_mm)))),
        ("Turns", f"{fixed(MM_PER_KM / reading.circumference_mm)} a kilometre"),
    ]


def _service_figures(load_kg: float | None, speed_kmh: int | None) -> list[tuple[str, str]]:
    rows = []
    if load_kg is not None:
        pounds = load_kg / KG_PER_POUND
        rows.append(("Load", f"{load_kg:g} kg ({fixed(pounds)} lb) on one tire"))
    if speed_kmh is not None:
        miles = speed_kmh / KMH_PER_MPH
        rows.append(("Speed", f"{speed_kmh} km/h ({fixed(miles)} mph) at full load"))
    return rows


def _made(made: DateReading, today: date) -> str:
    age = made.age_years(today)
    old = "" if age is None or age < 0 else f"; {fixed(age, 1)} years old"
    return f"{week_in_words(made.week, made.year)}{old}"


def _near(size: Reading, window: float) -> list[NearRow]:
    found = equivalents(
        size,
        diameter_window_percent=window,
        width_window_mm=WIDTH_WINDOW_MM * window / DIAMETER_WINDOW_PERCENT,
    )
    return [_near_row(equal) for equal in found[:MOST_EQUIVALENTS]]


def _near_row(equal: Equivalent) -> NearRow:
    return NearRow(
        code=equal.reading.text,
        casing=equal.reading.construction or "",
        diameter=fixed(equal.diameter_mm),
        change=change(equal.diameter_change_percent, 1),
        width=change(equal.width_change_mm),
        turns=change(equal.turns_change_per_km, 1),
    )


def _targets(size: Reading, places: TirePlaces) -> list[Destination]:
    """Return where the reading can be put: jobs on the bench, machines that came in last."""
    ends = (size.position,) if size.position else ("front", "rear")
    targets = [Destination("shelf", "the wheel shelf")]
    targets += [
        Destination(
            f"proposal:{job_id}:{name}:{end}", f"tag {tag} {machine}, proposal {name}, {end}"
        )
        for job_id, tag, machine, name in places.on_bench
        for end in ends
    ]
    targets += [
        Destination(f"machine:{machine_id}:{end}", f"{name} as found, {end}")
        for machine_id, name in places.machines
        for end in ends
    ]
    return targets + [Destination(f"named:{end}", f"the machine named here, {end}") for end in ends]


def _rim_view(text: str, tire: Reading | None) -> RimView:
    if not text.strip():
        return RimView()
    try:
        rim = read_rim(text)
    except CodeError as refusal:
        return RimView(text, complaint_of(refusal, text))
    warned = together(tire, rim) if tire else ()
    return RimView(text, None, _rim_words(rim), _widths_words(rim), warned, tire is not None)


def _rim_words(rim: RimReading) -> str:
    seat = rim.bead_seat_diameter_mm
    said = [] if seat is None else [f"bead seat {seat} mm"]
    said.append(f"inside {fixed(rim.inner_width_mm, 1)} mm wide")
    if rim.profile:
        said.append(f"profile {rim.profile}" if rim.vehicle == "motorcycle" else rim.profile)
    if rim.tubeless is not None:
        said.append("made for tubeless" if rim.tubeless else "made for tubes")
    return ", ".join(said)


def _widths_words(rim: RimReading) -> str:
    """Return which tires the tables put on a rim."""
    if rim.vehicle == "bicycle":
        widths = bicycle_tire_widths(rim.inner_width_mm)
        if widths is None:
            return "No table row for this rim width: ask the tire maker's list."
        return f"Usual tires {widths[0]} to {widths[1]} mm ({rim_width.SOURCE})."
    measured, others = tires_for(rim.inner_width_mm)
    said = [f"Measured on it: {', '.join(measured)}."] if measured else []
    said += [f"Others that may go on it: {', '.join(others)}."] if others else []
    if not said:
        return "No table row for this rim width: ask the tire maker's list."
    return f"{' '.join(said)} The tire maker's list decides ({motorcycle_rims.SOURCE})."
