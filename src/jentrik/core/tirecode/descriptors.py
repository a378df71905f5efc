r"""The words behind the size: M/C, the load index and speed symbol, TL or TT, and the rest.

    service  =  [ "(" ] index [ "/" index ] symbol [ ")" ]      58H, (66W), 112/110 R
    words    =  M/C, TL, TT, FRONT, REAR, REINF, XL, M+S, NHS, CP, OUTSIDE, ROTATION, 4PR ...

Sources: UN Regulation 75; the words from common practice.
"""

from dataclasses import dataclass, field

from jentrik.core.tables.load_index import LOAD_KG
from jentrik.core.tables.speed_symbol import SPEED_KMH
from jentrik.core.tirecode.tokens import Cursor

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
    "NHS": ("NHS", "not for highway service", "off-road only"),
}

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


def read_descriptor(cursor: Cursor, found: Descriptors) -> bool:
    """Read one more word into `found`; False where what comes next is none of these."""
    if cursor.peek("word") is not None:
        return _read_word(cursor, found)
    return _read_service(cursor, found) or _read_ply(cursor, found)


def _read_service(cursor: Cursor, found: Descriptors) -> bool:
    ahead = 1 if cursor.peek("sign") == "(" else 0
    index = cursor.peek("figure", ahead)
    if index is None or not index.isdigit() or len(index) > 3 or found.load_index is not None:
        return False
    dual = cursor.peek("figure", ahead + 2) if cursor.peek("sign", ahead + 1) == "/" else None
    behind = ahead + (3 if dual else 1)
    symbol = cursor.peek("word", behind)
    if symbol is not None and symbol[0] in SPEED_KMH and _known(symbol[1:]):  # 66WTL
        cursor.split(behind, 1)
        symbol = symbol[0]
    if symbol not in SPEED_KMH:
        return False
    found.bracketed = cursor.sign("(")
    load = LOAD_KG.get(int(index))
    carries = "beyond the table" if load is None else f"{load:g} kg"
    cursor.take(f"load index {index}: {carries} on one tire at most", carries)
    if dual:
        cursor.sign("/")
        cursor.take(f"load index {dual} where two tires share a wheel", "as twin")
        kg = LOAD_KG.get(int(dual)) if dual.isdigit() else None
        twin = f"{kg:g} kg" if kg is not None else "beyond the table"
        found.notes.append(f"Index {dual} holds where two tires share a wheel end: {twin} each.")
    cursor.take(f"speed symbol {symbol}: {SPEED_KMH[symbol]} km/h", f"{SPEED_KMH[symbol]} km/h")
    if found.bracketed:
        cursor.sign(")")
    found.load_index, found.speed_symbol = int(index), symbol
    if load is None:
        found.notes.append(f"Load index {index} is beyond the table; the load is unknown.")
    return True


def _known(word: str) -> bool:
    return word in _MARKINGS or word in _TUBE or word in _POSITIONS


def _read_ply(cursor: Cursor, found: Descriptors) -> bool:
    plies = cursor.peek("figure")
    if plies is None or cursor.peek("word", 1) != "PR":
        return False
    found.markings.append(f"{plies}PR")
    cursor.take(f"ply rating {plies}: a strength class, not a count of layers", "ply rating", 2)
    return True


def _read_word(cursor: Cursor, found: Descriptors) -> bool:
    word = cursor.peek("word")
    if word in _MARKINGS:
        marking, means, caption = _MARKINGS[word]
        if marking not in found.markings:
            found.markings.append(marking)
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
    else:
        return False
    return True


def _note_quarrel(found: Descriptors, before: str | None, now: str, note: str) -> None:
    if before is not None and before != now:
        found.notes.append(note)
