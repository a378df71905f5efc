"""What a walk along a sidewall came upon, and what it says as a whole.

The most exact size is the reading; what stands elsewhere is added to it, what disagrees is named.
"""

import re
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Literal

from jentrik.core.errors import CodeError
from jentrik.core.tire.dates import APPROVAL, DateReading, week_in_words
from jentrik.core.tire.descriptors import BOTH_ENDS_NOTE, BOTH_TUBES_NOTE, Descriptors
from jentrik.core.tire.reading import Reading, contradictions
from jentrik.core.tire.rim_marks import RimReading
from jentrik.core.tire.sidewall_lines import Grade, Quantity
from jentrik.core.tire.suggestions import half_mark, refused
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH
from jentrik.core.tire.tokens import Cursor, Token

_DIGIT = re.compile(r"[0-9]")
_SIZE_BEFORE = re.compile(r"[0-9]{2,3}[ \t]*/[ \t]*[0-9]{0,3}[ \t]*$")
_FRACTION_BEHIND = re.compile(r"[ \t]*(?:[0-9]{1,2}[ \t]*/[ \t]*[0-9]{0,2}|/[ \t]*[0-9]{1,2})")


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


AnyReading = Reading | DateReading | ServiceReading | RimReading


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


@dataclass(slots=True)
class Found:
    """What a walk along a sidewall has come upon so far."""

    text: str
    cursor: Cursor
    sizes: list[Reading] = field(default_factory=list)
    dates: list[DateReading] = field(default_factory=list)
    services: list[ServiceReading] = field(default_factory=list)
    rims: list[RimReading] = field(default_factory=list)
    quantities: list[Quantity] = field(default_factory=list)
    grades: list[Grade] = field(default_factory=list)
    words: Descriptors = field(default_factory=Descriptors)
    positions: set[str | None] = field(default_factory=set)
    tubes: set[str | None] = field(default_factory=set)
    unread: list[Token] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    punctuation: int = 0
    may_hold_a_rim: bool = False
    refusal: CodeError | None = None  # of the attempt at a size that came furthest
    progress: int = 0  # characters that attempt read

    def whole(self, on: date | None) -> Sidewall:
        """Return everything as one sidewall; refuses where nothing, or no size, was read."""
        tokens = self.cursor.tokens
        if not self.sizes:
            if not self.rims and self._is_one_wrong_code():
                raise refused(self.text, self.refusal)
            lone: list[AnyReading] = [*self.rims, *self.services, *self.dates]
            return self._sidewall(lone[0] if lone else None, tuple(lone[1:]), on)
        half = next((half for size in self.sizes if (half := self._half_of(size))), None)
        if half is not None:
            raise half_mark(self.text, *half)
        best = max(self.sizes, key=lambda size: size.exactness)
        others = [size for size in self.sizes if size is not best]
        whole = self._joined(best._replace(text=self.text, tokens=tuple(tokens)))
        whole = whole._replace(also=tuple(others))
        code = best.text
        if best.load_index is None and whole.load_index is not None:
            code = f"{code} {whole.load_index}{whole.speed_symbol}"
        sidewall = self._sidewall(whole, (*others, *self.rims, *self.services, *self.dates), on)
        whole = whole._replace(notes=sidewall.notes)
        return replace(sidewall, reading=whole, code=" ".join(code.split()))

    def _half_of(self, size: Reading) -> tuple[int, int] | None:
        """Return where a piece that was not read makes a size half of another mark."""
        start, end = size.tokens[0].start, size.tokens[-1].end
        unread = {place for token in self.unread for place in range(token.start, token.end)}
        before = _SIZE_BEFORE.search(self.text, self.text.rfind("\n", 0, start) + 1, start)
        if before is not None and before.start() in unread:
            return before.start(), end
        after = _FRACTION_BEHIND.match(self.text, end)
        if after is not None and size.family.endswith("inch"):
            return start, after.end()
        return None

    def _is_one_wrong_code(self) -> bool:
        """Whether this is no sidewall but a code that could not be read."""
        if len(self.unread) + self.punctuation == len(self.cursor.tokens):
            return True
        words = [token.text for token in self.unread if not APPROVAL.fullmatch(token.text)]
        if "\n" in self.text or not words:
            return False
        lines = self.dates or self.quantities or self.grades
        return not lines or any(_DIGIT.search(word) for word in words)

    def note_other_vehicle(self, size: Reading, start: int, vehicle: str) -> None:
        """Remember that the mark here is another vehicle's than the one asked for."""
        if len(size.text) > self.progress:
            self.progress = len(size.text)
            self.refusal = CodeError(
                f"“{size.text}” is a {size.vehicle} mark; a {vehicle} mark is wanted.",
                position=start,
                expected=f"a {vehicle} tire code",
            )

    def note_attempt(self, start: int) -> None:
        """Remember why no size begins at a character, if no other attempt came further."""
        cursor = self.cursor
        progress = cursor.furthest - start
        if progress > self.progress or self.refusal is None:
            self.progress, self.refusal = progress, cursor.refusal()
        cursor.furthest, cursor.wanted = -1, []

    def _joined(self, best: Reading) -> Reading:
        """Return the reading with what stands elsewhere on the sidewall added to it."""
        service = self.services[0] if self.services and best.load_index is None else None
        marks = [mark for mark in self.words.markings if mark not in best.markings]
        return best._replace(
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
            *self.notes,
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
            tokens=tuple(self.cursor.tokens),
            notes=(*dict.fromkeys((*notes, *quarrels)),),
        )


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
        f"“{mark.text}” lies in the future: {week_in_words(mark.week, mark.year)}. Read it again."
        for mark in dates
        if mark.first_day is not None and mark.first_day > on
    ]
