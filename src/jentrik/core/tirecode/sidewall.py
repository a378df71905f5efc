r"""A whole sidewall: every mark read, contradictions named, unknown words left visible.

    sidewall  =  { mark | service | date | quantity | grade | word | unread }

The most exact size is the reading; what stands elsewhere on the sidewall (TL, a service
description, FRONT) is added to it; grades, loads, pressures and words may stand without a
size.  A text of one line that is one code is read strictly, so that a typing error is marked
at its character; several lines, or a line with a DOT mark, a grade or a quantity, are a
sidewall, and what is not known stays there unread.

Sources: UN Regulation 75, ISO 5775, 49 CFR 574.5 and 575.104, all from memory.
"""

from dataclasses import dataclass, field, replace
from datetime import date
from typing import Literal

from jentrik.core.errors import CodeError
from jentrik.core.tables.load_index import LOAD_KG
from jentrik.core.tables.speed_symbol import SPEED_KMH
from jentrik.core.tirecode.dates import DateReading, read_date
from jentrik.core.tirecode.descriptors import (
    BOTH_ENDS_NOTE,
    BOTH_TUBES_NOTE,
    Descriptors,
    read_descriptor,
)
from jentrik.core.tirecode.lines import (
    Grade,
    Quantity,
    read_grade,
    read_known_word,
    read_quantity,
)
from jentrik.core.tirecode.reading import Reading, contradictions, read_code, read_mark
from jentrik.core.tirecode.tokens import LONGEST_CODE, Cursor, Token, pieces_of

LONGEST_SIDEWALL = 4000  # characters


@dataclass(frozen=True, slots=True)
class ServiceReading:
    """A load index and speed symbol that stand alone."""

    text: str
    load_index: int
    speed_symbol: str
    tokens: tuple[Token, ...]
    notes: tuple[str, ...] = ()
    family: Literal["service"] = "service"
    vehicle: None = None

    @property
    def load_kg(self) -> float | None:
        """The load of the index in kg; None beyond the table."""
        return LOAD_KG.get(self.load_index)

    @property
    def speed_kmh(self) -> int:
        """The speed of the symbol in km/h."""
        return SPEED_KMH[self.speed_symbol]


AnyReading = Reading | DateReading | ServiceReading


@dataclass(frozen=True, slots=True)
class Sidewall:
    """What a text says: the reading, the other marks, loose lines, and what was not read."""

    text: str
    reading: AnyReading | None  # None where loose lines stand alone
    code: str | None = None  # the size with its load and speed, as one code to write down
    also: tuple[AnyReading, ...] = ()
    quantities: tuple[Quantity, ...] = ()
    grades: tuple[Grade, ...] = ()
    unread: tuple[Token, ...] = ()
    tokens: tuple[Token, ...] = ()
    notes: tuple[str, ...] = ()

    @property
    def marks(self) -> tuple[AnyReading, ...]:
        """The reading and the other marks."""
        return (*((self.reading,) if self.reading else ()), *self.also)

    @property
    def made(self) -> DateReading | None:
        """The date mark, wherever it stands."""
        return next((mark for mark in self.marks if isinstance(mark, DateReading)), None)


def read_sidewall(text: str, *, vehicle: str | None = None, on: date | None = None) -> Sidewall:
    """Return all that a text says; `on` is the day against which a date mark is held.

    Refuses a text without any mark, and a single code that cannot be read, with `CodeError`.
    """
    trimmed = text.strip()
    if len(trimmed) > LONGEST_SIDEWALL:
        raise CodeError(
            f"A sidewall has at most {LONGEST_SIDEWALL} characters; this text has {len(trimmed)}.",
            position=LONGEST_SIDEWALL,
            expected="the marks of one tire",
        )
    strict: CodeError | None = None
    if "\n" not in trimmed and len(trimmed) <= LONGEST_CODE:
        try:
            reading = read_code(trimmed, vehicle=vehicle)
        except CodeError as refusal:
            strict = refusal
        else:
            return _of_code(reading)
    found = _walk(trimmed, vehicle)
    if strict is not None and not found.many:
        raise strict
    return found.whole(on)


def _of_code(reading: Reading) -> Sidewall:
    return Sidewall(
        reading.text,
        reading,
        code=reading.text,
        also=reading.also,
        tokens=reading.tokens,
        notes=reading.notes,
    )


@dataclass(slots=True)
class _Found:
    """What a walk along a sidewall has come upon so far."""

    text: str
    sizes: list[Reading] = field(default_factory=list)
    dates: list[DateReading] = field(default_factory=list)
    services: list[ServiceReading] = field(default_factory=list)
    quantities: list[Quantity] = field(default_factory=list)
    grades: list[Grade] = field(default_factory=list)
    words: Descriptors = field(default_factory=Descriptors)
    positions: set[str | None] = field(default_factory=set)
    tubes: set[str | None] = field(default_factory=set)
    unread: list[Token] = field(default_factory=list)
    tokens: list[Token] = field(default_factory=list)

    @property
    def many(self) -> bool:
        """Whether this is more than one code with a word no one knows."""
        lone = self.dates or self.services
        lines = self.quantities or self.grades
        return bool(lines or (lone and self.sizes) or (self.tokens and not self.unread))

    def whole(self, on: date | None) -> Sidewall:
        """Return everything as one sidewall; refuses where nothing at all was read."""
        lone: list[AnyReading] = [*self.services, *self.dates]
        if len(self.unread) == len(self.tokens):
            raise CodeError(
                "No mark known here stands in this text.",
                position=0,
                expected="the marks of one tire, like 37-622",
            )
        if not self.sizes:
            return self._sidewall(lone[0] if lone else None, tuple(lone[1:]), on)
        best = max(self.sizes, key=lambda size: size.exactness)
        others = [size for size in self.sizes if size is not best]
        whole = self._joined(replace(best, text=self.text, tokens=tuple(self.tokens)))
        whole = replace(whole, also=tuple(others))
        code = best.text
        if best.load_index is None and whole.load_index is not None:
            code = f"{code} {whole.load_index}{whole.speed_symbol}"
        sidewall = self._sidewall(whole, (*others, *self.services, *self.dates), on)
        return replace(sidewall, code=" ".join(code.split()))

    def _joined(self, best: Reading) -> Reading:
        """Return the reading with what stands elsewhere on the sidewall added to it."""
        service = self.services[0] if self.services and best.load_index is None else None
        marks = [mark for mark in self.words.markings if mark not in best.markings]
        return replace(
            best,
            tube=best.tube or self.words.tube,
            position=best.position or self.words.position,
            load_index=service.load_index if service else best.load_index,
            speed_symbol=service.speed_symbol if service else best.speed_symbol,
            markings=(*best.markings, *marks),
        )

    def _word_quarrels(self) -> list[str]:
        pairs = ((self.positions, BOTH_ENDS_NOTE), (self.tubes, BOTH_TUBES_NOTE))
        return [note for said, note in pairs if len(said - {None}) > 1]

    def _sidewall(
        self, reading: AnyReading | None, also: tuple[AnyReading, ...], on: date | None
    ) -> Sidewall:
        size = reading if isinstance(reading, Reading) else None
        quarrels = (
            *(contradictions(size) if size else ()),
            *_service_quarrels(size, self.services),
            *self._word_quarrels(),
            *_quantity_quarrels(size, self.quantities),
            *_date_quarrels(self.dates, on),
        )
        own = reading.notes if reading else ()
        notes = (*own, *(note for other in self.dates for note in other.notes))
        return Sidewall(
            text=self.text,
            reading=reading,
            also=also,
            quantities=tuple(self.quantities),
            grades=tuple(self.grades),
            unread=tuple(self.unread),
            tokens=tuple(self.tokens),
            notes=(*dict.fromkeys((*notes, *quarrels)),),
        )


def _walk(text: str, vehicle: str | None) -> _Found:
    cursor = Cursor(text, pieces_of(text, longest=LONGEST_SIDEWALL, strict=False))
    found = _Found(text)
    while not cursor.done:
        place, tokens = cursor.index, len(cursor.tokens)
        kind = cursor.pieces[place].kind
        if kind == "sign":
            cursor.index += 1
        elif kind == "other" or not _take_mark(cursor, found, vehicle):
            cursor.rewind(place, tokens)
            cursor.take("not read: no mark known here", "not read")
            found.unread.append(cursor.tokens[-1])
    found.tokens = cursor.tokens
    return found


def _take_mark(cursor: Cursor, found: _Found, vehicle: str | None) -> bool:
    """Read whatever mark stands here into `found`; False where none does."""
    place, tokens = cursor.index, len(cursor.tokens)

    def again() -> None:
        cursor.rewind(place, tokens)

    grade = read_grade(cursor)
    if grade is not None:
        found.grades.append(grade)
        return True
    again()
    quantity = read_quantity(cursor)
    if quantity is not None:
        found.quantities.append(quantity)
        return True
    again()
    if cursor.peek("word") == "DOT" or _alone_on_its_line(cursor):
        dated = read_date(cursor)
        if dated is not None:
            found.dates.append(dated)
            return True
        again()
    size = _size(cursor, vehicle)
    if size is not None:
        found.sizes.append(size)
        found.positions.add(size.position)
        found.tubes.add(size.tube)
        return True
    again()
    return _take_word(cursor, found)


def _size(cursor: Cursor, vehicle: str | None) -> Reading | None:
    try:
        return read_mark(cursor, vehicle)
    except CodeError:  # a size, but of another vehicle than wanted
        return None


def _take_word(cursor: Cursor, found: _Found) -> bool:
    start, first = cursor.position, len(cursor.tokens)
    before = found.words.load_index
    if read_descriptor(cursor, found.words):
        if found.words.load_index is not None and before is None:
            found.services.append(_service(cursor, found.words, start, first))
            found.words.load_index = None
        found.positions.add(found.words.position)
        found.tubes.add(found.words.tube)
        return True
    return read_known_word(cursor)


def _service(cursor: Cursor, words: Descriptors, start: int, first: int) -> ServiceReading:
    assert words.load_index is not None
    assert words.speed_symbol is not None
    end = cursor.pieces[cursor.index - 1].end
    return ServiceReading(
        text=cursor.text[start:end],
        load_index=words.load_index,
        speed_symbol=words.speed_symbol,
        tokens=tuple(cursor.tokens[first:]),
        notes=tuple(words.notes),
    )


def _alone_on_its_line(cursor: Cursor) -> bool:
    piece = cursor.pieces[cursor.index]
    start = cursor.text.rfind("\n", 0, piece.start) + 1
    end = cursor.text.find("\n", piece.end)
    line = cursor.text[start : end if end >= 0 else None]
    return line.strip(" \t()[]") == cursor.text[piece.start : piece.end]


def _service_quarrels(size: Reading | None, services: list[ServiceReading]) -> list[str]:
    if size is None:
        return []
    return [
        f"Two load and speed marks disagree: {size.load_index}{size.speed_symbol} and "
        f"{other.load_index}{other.speed_symbol}."
        for other in services
        if (other.load_index, other.speed_symbol) != (size.load_index, size.speed_symbol)
    ]


def _quantity_quarrels(size: Reading | None, quantities: list[Quantity]) -> list[str]:
    said = [quantity.quarrel for quantity in quantities if quantity.quarrel]
    for quantity in quantities:
        of_index = size.load_kg if size else None
        if (
            quantity.kind == "load"
            and of_index
            and abs(quantity.value - of_index) > 0.03 * of_index
        ):
            said.append(
                f"The load line says {quantity.value:.0f} kg, the load index {of_index:g} kg. "
                "The lower one holds until its maker says otherwise."
            )
    return said


def _date_quarrels(dates: list[DateReading], on: date | None) -> list[str]:
    if on is None:
        return []
    return [
        f"“{mark.text}” lies in the future: week {mark.week} of {mark.year}. Read it again."
        for mark in dates
        if mark.monday is not None and mark.monday > on
    ]
