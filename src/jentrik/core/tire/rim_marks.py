r"""Rim marks as they are stamped.

    bicycle     =  bead-seat ( cross | "-" ) width letters | width letters    622x19C, 19C
    motorcycle  =  forms rim forms cross forms width forms          17 M/C x MT3.50, J17M/C x MT3.50
                |  forms width forms [ ( cross | "-" ) rim forms ]  MT3.50x17M/C, MT H2 3.50x17
    width       =  inches | "WM" number                             3.50, WM3
    forms       =  { "MT" | "J" | "H2" | "M/C" | "DOT" | "TL" | "TUBELESS" }

C is a hooked rim, TSS and TC straight sides without hooks.  A motorcycle width stands in inches.
Sources: the table module's, from memory.
"""

import re
from dataclasses import dataclass
from typing import Literal

from jentrik.core.errors import CodeError
from jentrik.core.tire.rimcode import RIM_CODES, read_rim_code
from jentrik.core.tire.sizes import Vehicle
from jentrik.core.tire.tables import rim_profiles
from jentrik.core.tire.tables.iso5775 import BEAD_SEATS_MM
from jentrik.core.tire.tables.motorcycle_sizes import bead_seat_of_rim_code
from jentrik.core.tire.tokens import Cursor, Token, pieces_of
from jentrik.core.units import inches_to_mm, read_figure

NARROWEST_BICYCLE_MM, WIDEST_BICYCLE_MM = 10.0, 110.0
NARROWEST_INCH, WIDEST_INCH = 1.0, 12.0
SMALLEST_FIRST_RIM = 9.0  # a whole figure above it that stands first is the rim, not its width


@dataclass(frozen=True, slots=True)
class RimReading:
    """A rim: bead seat and inner width in mm, profile, hooks; None where the mark is silent."""

    text: str
    vehicle: Vehicle
    bead_seat_diameter_mm: int | None
    inner_width_mm: float
    profile: str | None
    hooked: bool | None
    tubeless: bool | None
    tokens: tuple[Token, ...]
    notes: tuple[str, ...] = ()
    family: Literal["rim"] = "rim"


def read_rim(text: str) -> RimReading:
    """Return what a rim mark says; refuses what cannot be read with `CodeError`."""
    trimmed = text.strip()
    cursor = Cursor(trimmed, pieces_of(trimmed))
    if cursor.done:
        raise CodeError(
            "Type a rim mark, like 622x19C or MT 3.50 x 17.", position=0, expected="a rim mark"
        )
    rim = rim_ahead(cursor, stamped=False)
    if rim is None or not cursor.done:
        if rim is not None:
            cursor.want("nothing more, or a word like TUBELESS or HOOKLESS,")
        raise cursor.refusal()
    return rim


def read_rim_width(text: str) -> float:
    """Return the inner width in mm that was typed where a rim's width is asked for.

    Millimetres, any length with its unit, or a rim mark; a figure below 12.5 with two decimals,
    such as 3.50, is in inches by its form.
    """
    typed = text.strip()
    if _INCH_FORM.fullmatch(typed) and float(typed.replace(",", ".")) <= WIDEST_INCH:
        return _mm(float(typed.replace(",", ".")))
    if _LETTERS.search(typed) and not _UNIT.search(typed):
        return read_rim(typed).inner_width_mm
    return read_figure(typed, unit="mm")


_INCH_FORM = re.compile(r"\d{1,2}[.,]\d\d", re.ASCII)
_LETTERS = re.compile(r"[A-Za-z×]")
_UNIT = re.compile(r"\d\s*(?:mm|cm|m|in|inch|inches)$", re.IGNORECASE)


def may_hold_a_rim(text: str) -> bool:
    """Whether a text has anything a stamped rim mark has, so that looking for one is worth it."""
    return _STAMPED.search(text) is not None


_STAMPED = re.compile(
    r"(?<![A-WYZ])(?:MT|WM|J)(?![A-Z])|\d{3}\s?[x×*]\s?\d\d(?:\.\d)?\s?(?:C|TC|TSS)\b|^\s*\d\dT?C\s*$",
    re.IGNORECASE,
)


def rim_ahead(cursor: Cursor, *, stamped: bool = True) -> RimReading | None:
    """Read one rim mark; None where none begins here.

    Where other marks stand around it, only a `stamped` one counts: with its profile or hooks.
    """
    index, first_token = cursor.index, len(cursor.tokens)
    for read in (_bicycle_rim, _bicycle_width, _motorcycle_rim):
        rim = read(cursor)
        if rim is not None and (not stamped or rim.profile is not None):
            end = cursor.pieces[cursor.index - 1].end
            start = cursor.tokens[first_token].start
            return RimReading(
                cursor.text[start:end],
                rim.vehicle,
                rim.seat,
                rim.width_mm,
                rim.profile,
                {"hooked": True, "hookless": False}.get(rim.profile or ""),
                rim.tubeless,
                tuple(cursor.tokens[first_token:]),
            )
        cursor.rewind(index, first_token)
    return None


@dataclass(frozen=True, slots=True)
class _Rim:
    vehicle: Vehicle
    seat: int | None
    width_mm: float
    profile: str | None
    tubeless: bool | None


def _bicycle_rim(cursor: Cursor) -> _Rim | None:
    seat = cursor.peek("figure")
    if seat is None or not seat.isdigit() or int(seat) not in BEAD_SEATS_MM:
        cursor.want("a bead seat diameter like 622")
        return None
    cursor.take("bead seat diameter in mm", "bead seat mm")
    if not (cursor.cross() or cursor.sign("-")):
        cursor.want("a cross and the inner width, like x19,")
        return None
    width = _bicycle_inner_width(cursor)
    if width is None:
        return None
    hooked, tubeless = _bicycle_words(cursor)
    return _Rim("bicycle", int(seat), width, hooked, tubeless)


def _bicycle_width(cursor: Cursor) -> _Rim | None:
    """Read a width with its letters alone, as in 19C."""
    width = _bicycle_inner_width(cursor)
    if width is None or cursor.peek("word") not in ("C", "TC", "TSS"):
        return None
    hooked, tubeless = _bicycle_words(cursor)
    return _Rim("bicycle", None, width, hooked, tubeless) if cursor.done else None


def _bicycle_inner_width(cursor: Cursor) -> float | None:
    width = cursor.peek("figure")
    plain = width is not None and " " not in width and "/" not in width
    if width is None or not plain or not NARROWEST_BICYCLE_MM <= float(width) <= WIDEST_BICYCLE_MM:
        cursor.want("an inner width in millimetres like 19")
        return None
    cursor.take("inner width between the flanges in mm", "inner width mm")
    return float(width)


_BICYCLE_WORDS: dict[str, tuple[str, str, str | None, bool | None]] = {
    # word -> meaning, caption, profile, tubeless
    "C": ("crotchet: a hooked rim", "hooked", "hooked", None),
    "HOOKED": ("a hooked rim", "hooked", "hooked", None),
    "TSS": ("tubeless, straight sides: no hooks", "hookless", "hookless", True),
    "TC": ("tubeless with hooks", "hooked", "hooked", True),
    "HOOKLESS": ("straight sides: no hooks", "hookless", "hookless", None),
    "TUBELESS": ("holds air without a tube", "tubeless", None, True),
    "TLR": ("ready for tubeless: with tape and valve", "tubeless", None, True),
    "READY": ("with tape and valve", "ready", None, True),
}


def _bicycle_words(cursor: Cursor) -> tuple[str | None, bool | None]:
    profile: str | None = None
    tubeless: bool | None = None
    while (word := cursor.peek("word")) in _BICYCLE_WORDS or cursor.peek("sign") == "-":
        if word not in _BICYCLE_WORDS:
            cursor.index += 1
            continue
        means, caption, says_profile, says_tubeless = _BICYCLE_WORDS[word]
        cursor.take(means, caption)
        profile = says_profile or profile
        tubeless = says_tubeless if says_tubeless is not None else tubeless
    return profile, tubeless


class _Forms:
    """What the letters around a motorcycle rim's figures said."""

    def __init__(self) -> None:
        self.profile: str | None = None
        self.tubeless: bool | None = None

    def read(self, cursor: Cursor) -> None:
        """Read every profile letter and mark that comes next."""
        while (word := cursor.peek("word")) is not None:
            if word in ("MT", "J"):
                means, tubeless = rim_profiles.MOTORCYCLE_PROFILES[word]
                self.profile = word
                self.tubeless = tubeless if self.tubeless is None else self.tubeless
                cursor.take(means, "profile")
            elif word == "H" and cursor.peek("figure", 1) == "2" and cursor.glued(1):
                cursor.take("humps on both bead seats: they hold the tire in place", "humps", 2)
            elif word in _RIM_WORDS:
                if word in ("TL", "TUBELESS"):
                    self.tubeless = True
                cursor.take("stands on many rims", "mark")
            else:
                return


_RIM_WORDS = frozenset({"M/C", "MC", "DOT", "TL", "TUBELESS"})


def _motorcycle_rim(cursor: Cursor) -> _Rim | None:
    forms = _Forms()
    forms.read(cursor)
    first = cursor.peek("figure")
    code: str | None = None
    if first is not None and first.isdigit() and float(first) > SMALLEST_FIRST_RIM:
        code = read_rim_code(cursor)
        forms.read(cursor)
        if code is None or not cursor.cross():
            cursor.want("a cross and the rim width, like x MT 3.50,")
            return None
        forms.read(cursor)
        width = _width_inches(cursor, forms)
        forms.read(cursor)
    else:
        width = _width_inches(cursor, forms)
        forms.read(cursor)
        if width is not None and (cursor.cross() or cursor.sign("-")):
            forms.read(cursor)
            code = read_rim_code(cursor)
            if code is None:
                return None
            forms.read(cursor)
        elif width is not None and forms.profile is None:
            cursor.want("a cross and the rim code, like x 17,")
            return None
    if width is None:
        return None
    seat = None if code is None else bead_seat_of_rim_code(RIM_CODES[code])
    return _Rim("motorcycle", seat, _mm(width), forms.profile, forms.tubeless)


def _width_inches(cursor: Cursor, forms: _Forms) -> float | None:
    if cursor.peek("word") == "WM":
        return _old_width_code(cursor, forms)
    figure = cursor.peek("figure")
    plain = figure is not None and " " not in figure and "/" not in figure
    if figure is None or not plain or not NARROWEST_INCH <= float(figure) <= WIDEST_INCH:
        cursor.want("a rim width in inches like 3.50")
        return None
    cursor.take(f"inner width in inches: {inches_to_mm(float(figure)):.0f} mm", "width in")
    return float(figure)


def _mm(inches: float) -> float:
    return round(inches_to_mm(inches), 4)


def _old_width_code(cursor: Cursor, forms: _Forms) -> float | None:
    cursor.take(rim_profiles.MOTORCYCLE_PROFILES["WM"][0], "profile")
    name = f"WM{cursor.peek('figure')}"
    if name not in rim_profiles.WM_INCHES:
        cursor.want("a width code like WM2")
        return None
    width = rim_profiles.WM_INCHES[name]
    cursor.take(f"old width code: {width:.2f} in between the bead seats", "width code")
    forms.profile, forms.tubeless = "WM", rim_profiles.MOTORCYCLE_PROFILES["WM"][1]
    return width
