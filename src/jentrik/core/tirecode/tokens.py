"""From characters to the pieces of a tire code, each with its place.

A piece is a figure (``130``, ``2.4``, ``1 3/8``), a word (``ZR``, ``TL``, ``M/C``) or a sign
(dash, slash, cross, bracket).  White space only parts pieces.  The cursor walks the pieces; a
family of marks asks it for what its grammar wants next and learns, in the end, how far the
best attempt came, so that one refusal can point at one character.
"""

import re
from dataclasses import dataclass, field
from typing import NamedTuple

from jentrik.core.errors import CodeError

LONGEST_CODE = 300  # characters; no sidewall line is longer
ANY_CODE = "a tire code like 37-622, 26 x 1.75 or 120/70 R 17"

_PIECE = re.compile(
    r"""\s*(?:
        (?P<figure>[0-9]+(?:[.,][0-9]+)?(?:(?<=[0-9])[½¼¾⅛⅜⅝⅞])?|[½¼¾⅛⅜⅝⅞])
      | (?P<cross>(?<=[0-9])[Xx](?=(?:[Mm][Tt]|[Ww][Mm]|[Jj])[ ]?[0-9]))
      | (?P<word>[Mm](?:/[Cc]|\+[Ss])(?![A-Za-z])|[A-Za-z]+)
      | (?P<sign>[-\u2010-\u2015\u2212/\u2044×✕*()\[\],;:+#.])
      | (?P<other>\S))""",
    re.VERBOSE,
)
_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_SPELLED = dict.fromkeys("\u2010\u2011\u2012\u2013\u2014\u2015\u2212", "-") | {"\u2044": "/"}
_CROSSES = frozenset("x×✕*")


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


def pieces_of(text: str, *, longest: int = LONGEST_CODE, strict: bool = True) -> tuple[Piece, ...]:
    """Return the pieces of a code; refuses endless text and, if strict, what no code contains.

    Otherwise a strange character is a piece of kind "other".
    """
    if len(text) > longest:
        raise CodeError(
            f"A tire code is at most {longest} characters long; this text has {len(text)}.",
            position=longest,
            expected="one tire code",
        )
    pieces = []
    for match in _PIECE.finditer(text):
        kind, raw, end = match.lastgroup or "", match[match.lastindex or 0], match.end()
        start = end - len(raw)
        if kind == "figure":
            value = raw if raw.isdigit() else _figure(raw)
        elif kind == "word":
            value = raw.upper()
        elif kind == "cross":  # 17xMT3.50: letters follow the cross at once
            kind, value = "sign", "x"
        elif kind == "other" and strict:
            named = f"“{raw}”" if raw.isprintable() else f"Character U+{ord(raw):04X}"
            raise CodeError(
                f"{named} is not part of any tire code.",
                position=start,
                expected="figures, letters, a dash or a slash",
            )
        else:
            value = _SPELLED.get(raw, raw)
        pieces.append(Piece(kind, value, start, end))
    return tuple(pieces)


def _figure(raw: str) -> str:
    whole = raw.rstrip("".join(_VULGAR)).replace(",", ".")
    vulgar = _VULGAR.get(raw[-1], "")
    return f"{whole} {vulgar}".strip()


@dataclass(slots=True)
class Cursor:
    """A place among the pieces of one text, and the tokens read so far."""

    text: str
    pieces: tuple[Piece, ...]
    index: int = 0
    tokens: list[Token] = field(default_factory=list)
    furthest: int = -1  # character of the furthest thing that was wanted and not there
    wanted: list[str] = field(default_factory=list)

    @property
    def done(self) -> bool:
        """Whether every piece has been read."""
        return self.index >= len(self.pieces)

    @property
    def position(self) -> int:
        """The character where the next piece starts, or the end of the text."""
        return len(self.text) if self.done else self.pieces[self.index].start

    def rewind(self, index: int, tokens: int) -> None:
        """Go back to a place noted before; what was wanted there is remembered."""
        self.index = index
        del self.tokens[tokens:]

    def want(self, expected: str) -> None:
        """Note what the grammar would have taken here."""
        if self.position > self.furthest:
            self.furthest, self.wanted = self.position, [expected]
        elif self.position == self.furthest and expected not in self.wanted:
            self.wanted.append(expected)

    def peek(self, kind: str, ahead: int = 0) -> str | None:
        """Return the value of a coming piece if it is of that kind."""
        try:
            piece = self.pieces[self.index + ahead]
        except IndexError:
            return None
        return piece[1] if piece[0] == kind else None

    def glued(self, ahead: int = 0) -> bool:
        """Whether no white space parts a coming piece from the one before it."""
        place = self.index + ahead
        return (
            0 < place < len(self.pieces) and self.pieces[place - 1].end == self.pieces[place].start
        )

    def sign(self, *signs: str) -> bool:
        """Take one of these signs if it comes next."""
        if self.peek("sign") in signs:
            self.index += 1
            return True
        return False

    def cross(self) -> bool:
        """Take the cross between two figures, an x among letters included."""
        if self.peek("sign") in _CROSSES or self.peek("word") == "X":
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
        self.pieces = (*self.pieces[:place], *halves, *self.pieces[place + 1 :])

    def take(self, means: str, caption: str, count: int = 1) -> str:
        """Read the next `count` pieces as one token and return it as it stands in the text."""
        first, last = self.pieces[self.index], self.pieces[self.index + count - 1]
        marked = self.text[first.start : last.end]
        self.tokens.append(Token(first.start, last.end, marked, means, caption))
        self.index += count
        return marked

    def refusal(self) -> CodeError:
        """Return the refusal that points at the furthest character any reading reached."""
        place = min(max(self.furthest, 0), len(self.text))
        expected = " or ".join(self.wanted) if len(self.wanted) < 3 else ANY_CODE
        rest = self.text[place:].split()
        found = f"“{rest[0][:20]}” stands there" if rest else "the code ends there"
        where = "at the start" if place == 0 else f"after “{self.text[:place].strip()[-24:]}”"
        return CodeError(
            f"Expected {expected} {where}; {found}.", position=place, expected=expected
        )
