"""From characters to the pieces of a tire code, each with its place.

A piece is a figure (``130``, ``2.4``, ``29"``), a word (``ZR``, ``TL``, ``M/C``) or a sign
(dash, slash, cross, bracket).  White space only parts pieces, and an inch sign or the word inch
belongs to the figure before it.  The cursor walks the pieces; a family of marks asks it for what
its grammar takes next and learns, in the end, how far the best attempt came, so that one refusal
can point at one character.
"""

import re
from typing import NamedTuple

from jentrik.core.errors import CodeError

LONGEST_CODE = 300  # characters; no sidewall line is longer
ANY_CODE = "a tire code like 37-622, 26 x 1.75 or 120/70 R 17"

_PIECE = re.compile(
    r"""(?P<figure>(?:[0-9]+(?:[.,][0-9]+)?[½¼¾⅛⅜⅝⅞]?|[½¼¾⅛⅜⅝⅞])
          (?:["\u2033\u201d\u201c]|'{2}|[ -]?[ ]?[Ii][Nn][Cc][Hh](?:[Ee][Ss])?\b
            |(?:[Ii][Nn]|[Ee][Rr])\b)?)
      | (?P<cross>(?<=[0-9"Cc])[Xx](?=(?:[Mm][Tt]|[Ww][Mm]|[Jj])[ ]?[0-9]))
      | (?P<word>[Mm]/[Cc](?=[Xx](?:[Mm][Tt]|[Ww][Mm]|[Jj])[ ]?[0-9])
          |[Mm](?:/[Cc]|\+[Ss])(?![A-Za-z])|[A-Za-z]+)
      | (?P<sign>[-\u2010-\u2015\u2212/\u2044×✕*()\[\],;:+#.])
      | (?P<other>[^\s\u00a0\u1680\u2000-\u200b\u2028\u2029\u202f\u205f\u3000\ufeff\x85])""",
    re.VERBOSE | re.ASCII,
)
_INCH_SIGN = re.compile(r"[\s-]*(?:[\"\u2033\u201d\u201c]|'{2}|[a-z]+)$", re.IGNORECASE)
_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_SPELLED = dict.fromkeys("\u2010\u2011\u2012\u2013\u2014\u2015\u2212", "-") | {"\u2044": "/"}
CROSSES = frozenset("xX×✕*")
_NAME_PARTS = frozenset({"figure", "word"})
_LONGEST_LOOK = 8  # pieces: further ahead no part of the grammar looks
_LONGEST_LINE = 160  # characters a line's mark may take
_LINE = re.compile(rf"[^\n]{{1,{_LONGEST_LINE}}}")


class Token(NamedTuple):
    """One piece of the code as marked, and what it means in one line."""

    start: int
    end: int
    text: str
    means: str
    caption: str  # two or three words for under the piece


class Piece(NamedTuple):
    """A figure, word or sign, with its place in the text; `value` is its plain spelling."""

    kind: str
    value: str
    start: int
    end: int


def pieces_of(text: str, *, longest: int = LONGEST_CODE) -> tuple[Piece, ...]:
    """Return the pieces of a code; refuses endless text.

    What no code contains is a piece of kind "other".
    """
    if len(text) > longest:
        raise CodeError(
            f"A tire code is at most {longest} characters long; this text has {len(text)}.",
            position=longest,
            expected="one tire code",
        )
    pieces = []
    for match in _PIECE.finditer(text):
        kind, raw = match.lastgroup, match[0]
        start, end = match.span()
        if kind == "figure":
            value = raw if raw.isdigit() else _figure(raw)
        elif kind == "word":
            value = raw.upper()
        elif kind == "cross":  # 17xMT3.50: letters follow the cross at once
            kind, value = "sign", "x"
        else:
            value = _SPELLED.get(raw, raw)
        pieces.append(_new(Piece, (kind, value, start, end)))
    return tuple(pieces)


_new = tuple.__new__  # without the keyword handling of a named tuple: this is the busiest line


def _figure(raw: str) -> str:
    """Return a figure spelled plainly: a point, no inch sign, a vulgar fraction written out."""
    bare = raw if raw[-1].isdigit() or raw[-1] in _VULGAR else _INCH_SIGN.sub("", raw)
    whole = bare.rstrip("".join(_VULGAR)).replace(",", ".")
    vulgar = _VULGAR.get(bare[-1], "")
    return f"{whole} {vulgar}".strip()


class Cursor:
    """A place among the pieces of one text, and the tokens read so far."""

    __slots__ = ("_last", "furthest", "index", "pieces", "text", "tokens", "wanted")

    def __init__(self, text: str, pieces: tuple[Piece, ...]) -> None:
        end = _new(Piece, ("end", "", len(text), len(text)))
        self.text = text
        self.pieces = [*pieces, *(end,) * _LONGEST_LOOK]  # no look ahead leaves the list
        self.index = 0
        self.tokens: list[Token] = []
        self.furthest = -1  # character of the furthest thing that was wanted and not there
        self.wanted: list[str] = []

    @property
    def done(self) -> bool:
        """Whether every piece has been read."""
        return self.pieces[self.index].kind == "end"

    @property
    def position(self) -> int:
        """The character where the next piece starts, or the end of the text."""
        return self.pieces[self.index].start

    def rewind(self, index: int, tokens: int) -> None:
        """Go back to a place noted before; what was wanted there is remembered."""
        self.index = index
        del self.tokens[tokens:]

    def want(self, expected: str) -> None:
        """Note what the grammar would have taken here."""
        position = self.pieces[self.index].start
        if position > self.furthest:
            self.furthest, self.wanted = position, [expected]
        elif position == self.furthest and expected not in self.wanted:
            self.wanted.append(expected)

    def peek(self, kind: str, ahead: int = 0) -> str | None:
        """Return the value of a coming piece if it is of that kind."""
        piece = self.pieces[self.index + ahead]
        return piece[1] if piece[0] == kind else None

    def glued(self, ahead: int = 0) -> bool:
        """Whether no white space parts a coming piece from the one before it."""
        place = self.index + ahead
        start = self.pieces[place].start
        return place > 0 and self.pieces[place - 1].end == start < len(self.text)

    def stands_alone(self, ahead: int = 0) -> bool:
        """Whether a coming word is no part of a longer name such as MAX-GRIP or MAX3."""
        _, _, _, end = self.pieces[self.index + ahead]
        kind, value, start, behind = self.pieces[self.index + ahead + 1]
        if start != end or (kind != "figure" and value != "-"):
            return True
        further = self.pieces[self.index + ahead + 2]
        return kind != "figure" and (further.start != behind or further.kind not in _NAME_PARTS)

    def line(self) -> str:
        """Return the text from the next piece to the end of its line, at most so many letters."""
        found = _LINE.match(self.text, self.position)
        return found[0] if found else ""

    def take_text(self, length: int, means: str, caption: str, *, at: int | None = None) -> None:
        """Read so many characters as one token, whatever pieces they are: from here, or `at`."""
        start = self.position if at is None else at
        end = start + length
        self.tokens.append(Token(start, end, self.text[start:end], means, caption))
        while self.pieces[self.index].start < end:
            self.index += 1

    def whole_pieces(self, length: int) -> int:
        """Return how many characters so many take with the pieces they end in, whole."""
        start = self.position
        end, ahead = start + length, 0
        while (piece := self.pieces[self.index + ahead]).start < end and piece.kind != "end":
            end = max(end, piece.end)
            ahead += 1
        return end - start

    def sign(self, *signs: str) -> bool:
        """Take one of these signs if it comes next."""
        piece = self.pieces[self.index]
        if piece[0] == "sign" and piece[1] in signs:
            self.index += 1
            return True
        return False

    def cross(self) -> bool:
        """Take the cross between two figures, an x among letters included."""
        if self.pieces[self.index][1] in CROSSES:
            self.index += 1
            return True
        return False

    def split(self, ahead: int, length: int) -> None:
        """Part a coming word in two after some letters: marks are often written without gaps."""
        place = self.index + ahead
        piece = self.pieces[place]
        middle = piece.start + length
        halves = (
            piece._replace(value=piece.value[:length], end=middle),
            piece._replace(value=piece.value[length:], start=middle),
        )
        self.pieces[place : place + 1] = halves

    def take(self, means: str, caption: str, count: int = 1) -> str:
        """Read the next `count` pieces as one token and return it as it stands in the text."""
        first, last = self.pieces[self.index], self.pieces[self.index + count - 1]
        start, end = first[2], last[3]
        marked = self.text[start:end]
        self.tokens.append(_new(Token, (start, end, marked, means, caption)))
        self.index += count
        return marked

    def refusal(self) -> CodeError:
        """Return the refusal that points at the furthest character any reading reached."""
        place = min(max(self.furthest, 0), len(self.text))
        wanted = [want.rstrip(",") for want in self.wanted]
        expected = " or ".join(wanted) if 0 < len(wanted) < 3 else ANY_CODE
        rest = self.text[place : place + 40].split()
        found = f"not “{rest[0][:20]}”" if rest else "and the text ends there"
        where = f"After “{self.text[max(place - 24, 0) : place].strip()}” comes" if place else ""
        start = f"{where} {expected}" if place else f"A size starts with {expected}"
        return CodeError(f"{start}, {found}.", position=place, expected=expected)
