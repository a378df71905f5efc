"""Fields and sidewall strips as a page shows them."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from markupsafe import Markup

from jentrik.core.amounts import THIN, Amount, bare, kept_unit, unit_alone
from jentrik.core.errors import CodeError, Refusal
from jentrik.core.machine.assumed import assumption
from jentrik.core.machine.declared import ENDS, About
from jentrik.core.machine.fields import FIELD_BY_KEY, choices_of, fields_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.readings import worth
from jentrik.core.machine.sheet import Sheet
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code, read_sidewall
from jentrik.core.tire.tables.glossary import Term, term_of
from jentrik.core.tire.traps import Warned, traps_of
from jentrik.web.drawing.choices import PRESSED, choice_drawing
from jentrik.web.drawing.measure import measure_drawing
from jentrik.web.drawing.section import section_drawing
from jentrik.web.figures import as_typed, fixed, plain


@dataclass(frozen=True, slots=True)
class Complaint:
    """A refusal at its field: the sentence, the text cut at the character, what to try."""

    message: str
    before: str = ""
    at: str = ""
    after: str = ""
    suggestions: tuple[str, ...] = ()

    @property
    def marked(self) -> bool:
        """Whether a character is marked."""
        return bool(self.before or self.at or self.after)


def complaint_of(refusal: Refusal, typed: str) -> Complaint:
    """Return how a refusal is shown beside what was typed."""
    if not isinstance(refusal, CodeError) or refusal.position is None:
        return Complaint(refusal.message, suggestions=refusal.suggestions)
    text, place = typed.strip(), min(refusal.position, len(typed.strip()))
    return Complaint(
        refusal.message,
        text[:place],
        text[place : place + 1],
        text[place + 1 :],
        refusal.suggestions,
    )


@dataclass(frozen=True, slots=True)
class Typed:
    """What someone just typed, field by field, and what of it was refused."""

    values: Mapping[str, str] = field(default_factory=dict)
    refusals: Mapping[str, Refusal] = field(default_factory=dict)

    def shown(self, name: str, stored: str) -> tuple[str, Complaint | None]:
        """Return what a field shows: a refused text as typed with its complaint, else the kept."""
        refusal = self.refusals.get(name)
        if refusal is None:
            return stored, None
        value = self.values.get(name, stored)
        return value, complaint_of(refusal, value)

    def strays(self, shown: Iterable[str]) -> list[Complaint]:
        """Return the complaints about fields that are not on the page."""
        left = self.complaints()
        for name in (*shown, "new-place", "new-point", "new-position", "new-pair", "new-room"):
            left.pop(name, None)
        return list(left.values())

    def complaints(self) -> dict[str, Complaint]:
        """Return every complaint by its field's name."""
        return {
            name: complaint_of(refusal, self.values.get(name, ""))
            for name, refusal in self.refusals.items()
        }


NOTHING_TYPED = Typed()


@dataclass(frozen=True, slots=True)
class StripPiece:
    """A piece of a code as marked, and two or three words for under it."""

    text: str
    caption: str
    means: str


@dataclass(frozen=True, slots=True)
class Strip:
    """A code parsed like a sentence, with the figures that follow from it."""

    pieces: tuple[StripPiece, ...]
    sums: str
    notes: tuple[str, ...]
    others: tuple[str, ...]
    section: Markup | None
    traps: tuple[Warned, ...] = ()
    code: str = ""


def same_mark(strip: Strip) -> Strip:
    """Return the strip of a wheel whose mark was explained beside it already."""
    same = ("The same mark as the front.",)
    return replace(strip, others=(), section=None, notes=same, traps=(), code="")


def strip_of(reading: Reading, *, section: bool = False) -> Strip:
    """Return the sidewall strip of a reading, on demand with its section drawn."""
    return Strip(
        pieces=tuple(StripPiece(t.text, t.caption, t.means) for t in reading.tokens),
        sums=sums_of(reading),
        notes=reading.notes,
        others=tuple(other.note for other in reading.alternatives),
        section=section_drawing(reading) if section else None,
        traps=_heavy_traps(reading) if section else (),
        code=reading.text if section else "",
    )


def _heavy_traps(reading: Reading) -> tuple[Warned, ...]:
    """Return the traps that stop or caution; what the strip says of other rims is left out."""
    return tuple(
        trap
        for trap in traps_of(read_sidewall(reading.text))
        if trap.weight != "note" and trap.id != "several-rims"
    )


def sums_of(reading: Reading) -> str:
    """Return the figures that follow from a code, in a line."""
    seat = f"bead seat {reading.bead_seat_diameter_mm} mm"
    if reading.overall_diameter_mm is None:
        return f"{seat}, diameter unknown"
    return (
        f"{seat}, {fixed(reading.overall_diameter_mm)}{THIN}mm tall, rolls "
        f"{fixed(reading.circumference_mm)}{THIN}mm"
    )


@dataclass(frozen=True, slots=True)
class CodeField:
    """A field for a tire code, with its strip or its complaint."""

    name: str
    label: str
    value: str
    was: str | None
    strip: Strip | None
    complaint: Complaint | None
    stored: str = ""  # what is kept, where `value` is a refused text

    @property
    def id(self) -> str:
        """The element id: the name without what CSS minds."""
        return self.name.replace(":", "-").replace(".", "-")


def code_field(
    name: str,
    label: str,
    stored: str | None,
    *,
    was: str | None = None,
    section: bool = False,
    typed: Typed,
) -> CodeField:
    """Return a code field; a refused text stays as typed, with the last good strip under it."""
    good = stored or was
    value, complaint = typed.shown(name, stored or "")
    strip = None if good is None else _strip_of_code(good, section)
    return CodeField(name, label, value, was, strip, complaint, stored or "")


def _strip_of_code(code: str, section: bool) -> Strip | None:
    try:
        return strip_of(known_code(code), section=section)
    except CodeError:
        return None


@dataclass(frozen=True, slots=True)
class FigureField:
    """A field for one figure: what is kept, where it came from, what it would unlock."""

    name: str
    label: str
    unit: str
    value: str
    hint: str
    choices: tuple[str, ...] = ()
    pictures: tuple[tuple[str, str, Markup], ...] = ()  # choices that are pressed: words, drawing
    provenance_name: str | None = None
    provenance: str = ""
    taken_on: str = ""
    complaint: Complaint | None = None
    readings: str = ""  # what several readings came to
    gauge: str = ""  # the key, where a tool could read it
    gauge_reads: str = ""  # what that tool measures
    stored: str = ""  # what is kept, where `value` is a refused text

    @property
    def id(self) -> str:
        """The element id: the name without what CSS minds."""
        return self.name.replace(":", "-").replace(".", "-")

    @property
    def computed(self) -> bool:
        """Whether the figure follows from the others."""
        return self.provenance == Provenance.COMPUTED.value

    @property
    def assumed(self) -> bool:
        """Whether the figure is only assumed."""
        return self.provenance in (Provenance.ASSUMED, Provenance.SIMULATED)


@dataclass(frozen=True, slots=True)
class FieldGroup:
    """Fields that belong together, and how many of them are known."""

    name: str
    fields: list[FigureField]

    @property
    def known(self) -> int:
        """How many of the fields hold a figure."""
        return sum(bool(field.value) for field in self.fields)

    @property
    def refused(self) -> bool:
        """Whether a field of the group was refused, so that the group must stand open."""
        return any(field.complaint for field in self.fields)


@dataclass(frozen=True, slots=True)
class GuidedField:
    """A field with how the figure is taken, tool, way and a small drawing, and what it is for."""

    field: FigureField
    tool: str
    how: str
    drawing: Markup | None
    unlocks: str
    term: Term | None  # the word of the trade it is
    assume: str = ""  # what may be assumed until then, in words
    assume_name: str = ""


def figure_fields(sheet: Sheet, *, typed: Typed, without: tuple[str, ...] = ()) -> list[FieldGroup]:
    """Return the fields of a sheet, in groups, in the order of the work."""
    groups: dict[str, list[FigureField]] = {}
    for known in fields_of(sheet.kind):
        if known.key not in without:
            figure = sheet.figures.get(known.key)
            field = _figure_field(known, figure, typed, choices_of(known, sheet.kind))
            groups.setdefault(known.group, []).append(field)
    return [FieldGroup(name, fields) for name, fields in groups.items()]


def guided_field(sheet: Sheet, key: str, typed: Typed) -> GuidedField:
    """Return a field with how its figure is taken, as far as there is a guide to it."""
    known = FIELD_BY_KEY[key]
    guide = known.guide
    field = sheet_field(sheet, key, typed)
    end = key.split(".")[0]
    if end in ENDS and end not in field.label.lower():
        field = replace(field, label=f"{field.label}, {end}")
    said = f"Where the {known.label.lower()} is taken"
    return GuidedField(
        field=field,
        tool=guide.tool if guide else "",
        how=guide.how if guide else "",
        drawing=measure_drawing(guide.shows, sheet.kind, said) if guide else None,
        unlocks=f"{unlocked(known).capitalize()}.",
        term=term_of(key),
        assume=_assume_words(sheet, known),
        assume_name=f"assume:{key}",
    )


def sheet_field(sheet: Sheet, key: str, typed: Typed) -> FigureField:
    """Return the field of one figure of a sheet."""
    known = FIELD_BY_KEY[key]
    return _figure_field(known, sheet.figures.get(key), typed, choices_of(known, sheet.kind))


def unlocked(known: About) -> str:
    """Return what a figure is for, in words."""
    return f"{'needed for' if known.needed else 'used to see'} {known.unlocks}"


def _assume_words(sheet: Sheet, known: About) -> str:
    """Return what may be assumed for a figure no one has; nothing where there is no rule."""
    assumed = None if known.key in sheet.figures else assumption(sheet, known.key)
    if assumed is None:
        return ""
    return f"Assume {Amount(plain(assumed.value), known.unit)}, {assumed.rule}"


def _figure_field(
    known: About, figure: Figure | None, typed: Typed, choices: tuple[str, ...]
) -> FigureField:
    name = f"sheet:{known.key}"
    unit = kept_unit(name, known.unit)
    stored = "" if figure is None else bare(as_typed(figure), unit)
    value, complaint = typed.shown(name, stored)
    return FigureField(
        name=name,
        stored=stored,
        label=known.label,
        unit=unit_alone(unit) or known.unit,
        value=value,
        hint=unlocked(known),
        choices=choices,
        pictures=tuple(
            (choice, PRESSED.get(choice, choice), drawing)
            for choice in choices
            if (drawing := choice_drawing(known.key, choice)) is not None
        ),
        provenance_name=f"from:{known.key}" if figure else None,
        provenance=figure.provenance.value if figure else "",
        taken_on=f"{figure.taken_on:%d %b %Y}" if figure else "",
        complaint=complaint,
        readings=_readings(known, figure),
        gauge=known.key if figure is not None and known.gauge else "",
        gauge_reads=known.gauge or "",
    )


def _readings(known: About, figure: Figure | None) -> str:
    """Return what several readings came to: their mean, and what it is worth."""
    if figure is None or len(figure.readings) < 2:
        return ""
    doubt = worth(known.key, plus_minus=figure.plus_minus, readings=figure.readings)
    spread = max(figure.readings) - min(figure.readings)
    digits = 2 if known.unit == "°" else 1
    return (
        f"mean {bare(fixed(figure.value, digits), known.unit)} "
        f"±{THIN}{bare(fixed(doubt, digits), known.unit)}, "
        f"spread {bare(fixed(spread, digits), known.unit)}"
    )


def small_field(
    name: str, label: str, stored: object, *, unit: str = "", typed: Typed
) -> FigureField:
    """Return a field without a provenance, such as a proposal's fork length."""
    seen = kept_unit(name, unit)
    kept = "" if stored is None else bare(plain(stored), seen)
    value, complaint = typed.shown(name, kept)
    shown = unit_alone(seen) or unit
    return FigureField(name, label, shown, value, "", complaint=complaint, stored=kept)


def choice_field(
    name: str, label: str, stored: str, choices: tuple[str, ...], typed: Typed
) -> FigureField:
    """Return a field that is one word out of a list, or none."""
    value, complaint = typed.shown(name, stored)
    return FigureField(
        name, label, "", value, "", choices=choices, complaint=complaint, stored=stored
    )
