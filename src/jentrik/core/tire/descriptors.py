r"""The words behind the size: M/C, the load index and speed symbol, TL or TT, and the rest.

    service  =  [ "(" ] index [ "/" index ] symbol [ ")" ]      58H, (66W), 112/110 R
    words    =  M/C, TL, TT, FRONT, REAR, REINF, XL, EXTRA LOAD, M+S, NHS, NOT FOR HIGHWAY USE, CP,
                OUTSIDE, ROTATION, 4PR, 4 PLY RATING, LOAD RANGE B, 3PMSF ...

An index above 279 is refused: the series ends there.
Sources: UN Regulation 75; the words from common practice.
"""

from dataclasses import dataclass, field
from functools import cache

from jentrik.core.amounts import kg, kmh
from jentrik.core.errors import CodeError
from jentrik.core.tire.tables.load_index import LARGEST_INDEX, LOAD_KG
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH
from jentrik.core.tire.tokens import Cursor

_TUBE = {
    "TL": ("tubeless", "tubeless: needs no tube on a tubeless rim", "no tube"),
    "TUBELESS": ("tubeless", "tubeless: needs no tube on a tubeless rim", "no tube"),
    "TT": ("tube-type", "tube type: always with a tube", "with tube"),
}
_POSITIONS = {"FRONT": "front", "F": "front", "REAR": "rear"}
_MARKINGS = {
    "M/C": ("M/C", "motorcycle rim profile", "motorcycle rim"),
    "MC": ("M/C", "motorcycle rim profile", "motorcycle rim"),
    "REINF": ("REINF", "reinforced casing", "reinforced"),
    "REINFORCED": ("REINF", "reinforced casing", "reinforced"),
    "RF": ("REINF", "reinforced casing", "reinforced"),
    "XL": ("XL", "extra load", "extra load"),
    "M+S": ("M+S", "mud and snow tread", "mud + snow"),
    "CP": ("CP", "for campers", "camper"),
    "OUTSIDE": ("OUTSIDE", "this side faces out", "faces out"),
    "OUTER": ("OUTSIDE", "this side faces out", "faces out"),
    "INSIDE": ("INSIDE", "this side faces in", "faces in"),
    "INNER": ("INSIDE", "this side faces in", "faces in"),
    "ROTATION": ("ROTATION", "an arrow gives the way it must turn; trust the arrow", "direction"),
    "TWI": ("TWI", "beside this mark a bar in the groove shows the wear limit", "wear bar"),
    "TU": ("TU", "tubular: sewn up, glued to a rim made for it", "tubular"),
    "NHS": ("NHS", "not for highway service", "off-road only"),
}
_OFF_ROAD = _MARKINGS["NHS"]
_PHRASES: dict[tuple[str, ...], tuple[str, str, str]] = {
    ("EXTRA", "LOAD"): _MARKINGS["XL"],
    ("NOT", "FOR", "HIGHWAY", "SERVICE"): _OFF_ROAD,
    ("NOT", "FOR", "HIGHWAY", "USE"): _OFF_ROAD,
}
_PHRASE_STARTS = frozenset(words[0] for words in _PHRASES)
# Load range -> ply rating, common practice, from memory.
_LOAD_RANGE_PLIES = {"A": 2, "B": 4, "C": 6, "D": 8, "E": 10, "F": 12}

BOTH_ENDS_NOTE = "Marked for both front and rear: look at the arrows and ask its maker."
BOTH_TUBES_NOTE = "Marked both tubeless and tube type: ask its maker."


@dataclass(slots=True)
class Descriptors:
    """What the words behind a size said; unknown is None."""

    load_index: int | None = None
    speed_symbol: str | None = None
    bracketed: bool = False
    tube: str | None = None
    position: str | None = None
    markings: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)

    def mark(self, marking: str) -> None:
        """Note one of the other marks, once."""
        if marking not in self.markings:
            self.markings.append(marking)


def read_descriptor(cursor: Cursor, found: Descriptors) -> bool:
    """Read one more word into `found`; False where what comes next is none of these."""
    piece = cursor.pieces[cursor.index]
    if piece[0] == "word":
        return _read_word(cursor, found, piece[1])
    if piece[0] != "figure" and piece[1] != "(":
        return False
    return _read_service(cursor, found) or _read_ply(cursor, found) or _read_winter(cursor, found)


def _read_service(cursor: Cursor, found: Descriptors) -> bool:
    ahead = 1 if cursor.peek("sign") == "(" else 0
    index = cursor.peek("figure", ahead)
    if index is None or len(index) < 2 or found.load_index is not None or not index.isdigit():
        return False
    dual = cursor.peek("figure", ahead + 2) if cursor.peek("sign", ahead + 1) == "/" else None
    behind = ahead + (3 if dual else 1)
    symbol = cursor.peek("word", behind)
    if symbol is None or symbol[0] not in SPEED_KMH:
        return False
    if len(symbol) > 1:  # 66WTL
        if not _known(symbol[1:]):
            return False
        cursor.split(behind, 1)
        symbol = symbol[0]
    elif not cursor.stands_alone(behind):
        return False
    for given in (index, dual) if dual else (index,):
        _check_index(given, cursor.pieces[cursor.index + ahead].start)
    found.bracketed = cursor.sign("(")
    found.load_index, found.speed_symbol = int(index), symbol
    cursor.take(*_index_in_words(found.load_index))
    if dual:
        cursor.sign("/")
        cursor.take(f"load index {dual} where two tires share a wheel", "as twin")
        twin = _index_in_words(int(dual))[1] if dual.isdigit() else "beyond the table"
        found.notes.append(f"Index {dual} holds where two tires share a wheel end: {twin} each.")
    cursor.take(*_SYMBOL_IN_WORDS[symbol])
    if found.bracketed:
        cursor.sign(")")
    if found.load_index not in LOAD_KG:
        found.notes.append(f"Load index {index} is beyond the table; the load is unknown.")
    return True


def _check_index(given: str, position: int) -> None:
    if given.isdigit() and (len(given) > 3 or int(given) > LARGEST_INDEX):
        raise CodeError(
            f"There is no load index {given[:9]}: the series ends at {LARGEST_INDEX}.",
            position=position,
            expected=f"a load index up to {LARGEST_INDEX}",
        )


@cache
def _index_in_words(index: int) -> tuple[str, str]:
    """Return what a load index means, and its caption."""
    load = LOAD_KG.get(index)
    carries = "beyond the table" if load is None else f"{kg(load):g}"
    return f"load index {index}: {carries} on one tire at most", carries


_SYMBOL_IN_WORDS = {
    symbol: (f"speed symbol {symbol}: {kmh(most)}", f"{kmh(most)}")
    for symbol, most in SPEED_KMH.items()
}


def _known(word: str) -> bool:
    return word in _MARKINGS or word in _TUBE or word in _POSITIONS


def _read_ply(cursor: Cursor, found: Descriptors) -> bool:
    plies = cursor.peek("figure")
    if plies is None or not plies.isdigit():
        return False
    if cursor.peek("word", 1) == "PR":
        count = 2
    elif cursor.peek("word", 1) == "PLY" and cursor.peek("word", 2) == "RATING":
        count = 3
    else:
        return False
    found.mark(f"{plies}PR")
    cursor.take(f"ply rating {plies}: a strength class, not a count of layers", "ply rating", count)
    return True


def _read_winter(cursor: Cursor, found: Descriptors) -> bool:
    if cursor.peek("figure") != "3" or cursor.peek("word", 1) != "PMSF":
        return False
    found.mark("3PMSF")
    cursor.take("a mountain with a snowflake: tested on snow", "snow", 2)
    return True


def _read_phrase(cursor: Cursor, found: Descriptors) -> bool:
    for words, (marking, means, caption) in _PHRASES.items():
        if all(cursor.peek("word", ahead) == word for ahead, word in enumerate(words)):
            found.mark(marking)
            cursor.take(means, caption, len(words))
            return True
    return False


def _read_load_range(cursor: Cursor, found: Descriptors) -> bool:
    letter = cursor.peek("word", 2) or ""
    if cursor.peek("word", 1) != "RANGE" or letter not in _LOAD_RANGE_PLIES:
        return False
    found.mark(f"LOAD RANGE {letter}")
    plies = _LOAD_RANGE_PLIES[letter]
    cursor.take(f"load range {letter}: ply rating {plies}, a strength class", "load range", 3)
    return True


def _read_word(cursor: Cursor, found: Descriptors, word: str) -> bool:
    if word in _MARKINGS:
        marking, means, caption = _MARKINGS[word]
        found.mark(marking)
        cursor.take(means, caption)
    elif word in _TUBE:
        tube, means, caption = _TUBE[word]
        _note_quarrel(found, found.tube, tube, BOTH_TUBES_NOTE)
        found.tube = tube
        cursor.take(means, caption)
    elif word in _POSITIONS:
        position = _POSITIONS[word]
        _note_quarrel(found, found.position, position, BOTH_ENDS_NOTE)
        found.position = position
        cursor.take(f"for the {found.position} wheel", f"{found.position} wheel")
    elif word == "TUBE" and cursor.peek("word", 1) == "TYPE":
        found.tube = "tube-type"
        cursor.take("tube type: always with a tube", "with tube", 2)
    elif word == "LOAD":
        return _read_load_range(cursor, found)
    elif word in _PHRASE_STARTS:
        return _read_phrase(cursor, found)
    else:
        return False
    return True


def _note_quarrel(found: Descriptors, before: str | None, now: str, note: str) -> None:
    if before is not None and before != now:
        found.notes.append(note)
