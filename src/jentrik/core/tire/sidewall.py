r"""A whole sidewall, or one code: every mark read, contradictions named, unknown words visible.

    sidewall  =  { approval | rim | mark | service | date | quantity | grade | word | unread }

The most exact size is the reading; what stands elsewhere on the sidewall (TL, a service
description, FRONT) is added to it; grades, loads, pressures and words may stand without a size.
A size that is understood is never refused for the words around it: they stay there unread.  One
line without any size is refused at the character where the best attempt ended.

Sources: UN Regulation 75, ISO 5775, 49 CFR 574.5 and 575.104, all from memory.
"""

import re
from datetime import date
from functools import lru_cache

from jentrik.core.errors import CodeError
from jentrik.core.tire.dates import APPROVAL, doubted_week, read_date, read_dot, undated_length
from jentrik.core.tire.descriptors import Descriptors, read_descriptor
from jentrik.core.tire.found import Found, ServiceReading, Sidewall
from jentrik.core.tire.fractions import fraction_ahead
from jentrik.core.tire.reading import Reading, read_mark
from jentrik.core.tire.rim_marks import may_hold_a_rim, rim_ahead
from jentrik.core.tire.sidewall_lines import (
    read_grades,
    read_known_word,
    read_made_in,
    read_quantity,
)
from jentrik.core.tire.tables.load_index import LARGEST_INDEX
from jentrik.core.tire.tokens import LONGEST_CODE, Cursor, pieces_of
from jentrik.core.units import MM_PER_INCH

LONGEST_SIDEWALL = 4000  # characters
MOST_TWIN_STEPS = 10  # that a twin index lies below the single one


def read_sidewall(text: str, *, vehicle: str | None = None, on: date | None = None) -> Sidewall:
    """Return all that a text says; `on` is the day a date mark is compared with.

    Refuses a text without any mark, a line without a size, and a load index that does not exist,
    with `CodeError`.
    """
    trimmed = text.strip()
    if len(trimmed) > LONGEST_SIDEWALL:
        raise CodeError(
            f"A sidewall has at most {LONGEST_SIDEWALL} characters; this text has {len(trimmed)}.",
            position=LONGEST_SIDEWALL,
            expected="the marks of one tire",
        )
    cursor = Cursor(trimmed, pieces_of(trimmed, longest=LONGEST_SIDEWALL))
    only = _only_mark(cursor, vehicle)
    if only is not None:
        return Sidewall(only.text, only, code=only.text, tokens=only.tokens, notes=only.notes)
    found = _walk(cursor, vehicle)
    if not found.sizes:
        mended = _LETTER_O.sub("0", trimmed)
        if mended != trimmed:
            again = _walk(Cursor(trimmed, pieces_of(mended, longest=LONGEST_SIDEWALL)), vehicle)
            if again.sizes:
                again.notes.append(LETTER_O_NOTE)
                return again.whole(on)
    return found.whole(on)


def _only_mark(cursor: Cursor, vehicle: str | None) -> Reading | None:
    """Return the reading of a text that is one mark and nothing else."""
    size = read_mark(cursor, vehicle)
    if size is not None and cursor.done and vehicle in (None, size.vehicle):
        return size
    cursor.rewind(0, 0)
    return None


def read_code(text: str, *, vehicle: str | None = None) -> Reading:
    """Return the size a text names; `vehicle` settles what the mark leaves open.

    Refuses what names none with `CodeError`, which points at the character.
    """
    if len(text) <= LONGEST_CODE:
        trimmed = text.strip()
        only = _only_mark(Cursor(trimmed, pieces_of(trimmed)), vehicle)
        if only is not None:
            return only
    sidewall = read_sidewall(text, vehicle=vehicle)
    if isinstance(sidewall.reading, Reading):
        return sidewall.reading
    raise CodeError(
        f"“{sidewall.text[:40]}” names no tire size.",
        position=0,
        expected="a tire code like 37-622 or 120/70 R 17",
    )


@lru_cache(maxsize=4096)
def known_code(text: str) -> Reading:
    """Return the reading of a code, remembered: a reading never changes, pages ask again."""
    return read_code(text)


LETTER_O_NOTE = "A letter O was read as the figure 0: check the mark."
_LETTER_O = re.compile(r"(?<=[0-9])[Oo]|[Oo](?=[0-9])")


def _walk(cursor: Cursor, vehicle: str | None) -> Found:
    """Return what stands in a text, piece by piece."""
    cursor.furthest, cursor.wanted = -1, []
    found = Found(cursor.text, cursor, may_hold_a_rim=may_hold_a_rim(cursor.text))
    while (kind := cursor.pieces[cursor.index].kind) != "end":
        if kind == "figure" or kind == "word":
            place, tokens = cursor.index, len(cursor.tokens)
            for read in _FIGURE_FIRST if kind == "figure" else _WORD_FIRST:
                if read(cursor, found, vehicle):
                    break
                cursor.rewind(place, tokens)
            else:
                _leave_unread(cursor, found)
        elif kind == "sign":
            sign = cursor.pieces[cursor.index].value
            if sign in _PUNCTUATION:
                cursor.take("a sign between the marks", "")
                found.punctuation += 1
            elif sign != "(" or not _take_service(cursor, found, vehicle):
                cursor.index += 1
        else:
            _leave_unread(cursor, found)
    return found


_PUNCTUATION = frozenset(":+#.;")


def _leave_unread(cursor: Cursor, found: Found) -> None:
    """Take a word, or whatever stands there, as not read."""
    line = cursor.line()
    match = _UNREAD.match(line)
    means = "no mark known here"
    if cursor.peek("word") == "DOT":
        length = undated_length(line)
        means = "a DOT mark without its date"
        doubt = doubted_week(line)
        found.notes += [doubt] if doubt else []
    else:
        length = cursor.whole_pieces(len(match[0]) if match else 1)
    cursor.take_text(length, f"not read: {means}", "not read")
    found.unread.append(cursor.tokens[-1])


_UNREAD = re.compile(r"[^\s()\[\],;:]{1,80}")


def _take_approval(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    """Take an approval mark with its number, so that no digit of it is read as anything else."""
    approval = APPROVAL.match(cursor.text, cursor.position)
    if approval is None:
        return False
    length = cursor.whole_pieces(len(approval[0]))
    cursor.take_text(length, "not read: approval number, never date, load or speed", "not read")
    found.unread.append(cursor.tokens[-1])
    return True


def _take_rim(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    rim = rim_ahead(cursor) if found.may_hold_a_rim else None
    if rim is not None:
        found.rims.append(rim)
    return rim is not None


def _take_quantity(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    quantity = read_quantity(cursor)
    if quantity is not None:
        found.quantities.append(quantity)
    return quantity is not None


def _take_size(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    start = cursor.position
    size = read_mark(cursor, vehicle)
    if size is None:
        found.note_attempt(start)
        return False
    if vehicle is not None and size.vehicle != vehicle:
        found.note_other_vehicle(size, start, vehicle)
        return False
    found.sizes.append(size)
    found.positions.add(size.position)
    found.tubes.add(size.tube)
    return True


def _take_old_name(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    """Read the name by overall inches that stands beside a moped size: 2 1/4-16 (20 x 2 1/4)."""
    size = found.sizes[-1] if found.sizes else None
    diameter = fraction_ahead(cursor)
    if size is None or size.family != "motorcycle-inch" or diameter is None:
        return False
    start = cursor.index
    cursor.index += diameter.pieces
    width = fraction_ahead(cursor) if cursor.cross() else None
    if width is None or abs(width.inches * MM_PER_INCH - (size.width_mm or 0)) > 1:
        return False
    if abs(diameter.inches - 2 * width.inches - float(size.rim_code or 0)) > 1:
        return False
    count = cursor.index + width.pieces - start
    cursor.index = start
    cursor.take("the same tire by its older name: overall inches by width", "older name", count)
    return True


def _take_date(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    dated = read_date(cursor) if _alone_on_its_line(cursor) else None
    if dated is not None:
        found.dates.append(dated)
    return dated is not None


def _take_dot(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    if not (cursor.peek("word") or "").startswith("DOT"):
        return False
    dated = read_dot(cursor)
    if dated is not None:
        found.dates.append(dated)
    return dated is not None


def _take_service(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    """Read a load and speed pair that stands apart from any size."""
    start, first = cursor.position, len(cursor.tokens)
    pair = _PAIR.match(cursor.text, start)
    if pair is None or (pair["gap"] and not pair["open"] and not _ends_its_line(cursor, pair)):
        return False
    index, twin = int(pair["index"]), int(pair["twin"] or 0)
    if index > LARGEST_INDEX or (twin and not 0 <= index - twin <= MOST_TWIN_STEPS):
        return False
    words = Descriptors()
    if not read_descriptor(cursor, words) or words.load_index is None:
        return False
    assert words.speed_symbol is not None
    end = cursor.pieces[cursor.index - 1].end
    found.services.append(
        ServiceReading(
            text=cursor.text[start:end],
            load_index=words.load_index,
            speed_symbol=words.speed_symbol,
            tokens=tuple(cursor.tokens[first:]),
            notes=tuple(words.notes),
        )
    )
    return True


_PAIR = re.compile(
    r"(?P<open>\(?)(?P<index>[0-9]{2,3})(?:/(?P<twin>[0-9]{2,3}))?(?P<gap>[ \t]?)[A-Y]\)?"
    r"(?![^\s()\[\],;:/])",
    re.IGNORECASE,
)


def _ends_its_line(cursor: Cursor, pair: re.Match[str]) -> bool:
    before = cursor.text.rfind("\n", 0, pair.start()) + 1
    after = _LINE_END.match(cursor.text, pair.end())
    return not cursor.text[before : pair.start()].strip() and after is not None


_LINE_END = re.compile(r"[ \t]*(?:\n|$)")


def _take_words(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    word = cursor.peek("word")
    if word is not None and (word == "F" or not cursor.stands_alone()):
        return False
    before = found.words.load_index
    if before is None:
        found.words.load_index = 0  # a pair is read for itself, never among the words
    known = read_descriptor(cursor, found.words)
    found.words.load_index = before
    if known:
        found.positions.add(found.words.position)
        found.tubes.add(found.words.tube)
        return True
    return read_known_word(cursor)


def _take_line(cursor: Cursor, found: Found, vehicle: str | None) -> bool:
    grades = read_grades(cursor)
    found.grades += grades
    return bool(grades) or (cursor.peek("word") == "MADE" and read_made_in(cursor))


_FIGURE_FIRST = (
    _take_approval,
    _take_rim,
    _take_quantity,
    _take_date,
    _take_size,
    _take_old_name,
    _take_service,
    _take_words,
)
_WORD_FIRST = (_take_approval, _take_rim, _take_dot, _take_size, _take_line, _take_words)


def _alone_on_its_line(cursor: Cursor) -> bool:
    piece = cursor.pieces[cursor.index]
    if not 3 <= piece.end - piece.start <= 4:
        return False
    alone = _ALONE.match(cursor.text, cursor.text.rfind("\n", 0, piece.start) + 1)
    return alone is not None and alone.start("figure") == piece.start


_ALONE = re.compile(r"[ \t()\[\]]{0,9}(?P<figure>[0-9]+)[ \t()\[\]]*(?:\n|$)")
