"""Why a code was refused, in a mechanic's words, with the nearest real sizes to choose from.

Near bead seats by their difference, near codes by their letters; nothing is guessed for the shop.
"""

import re
from difflib import get_close_matches
from functools import cache

from jentrik.core.errors import CodeError
from jentrik.core.tire.dates import APPROVAL, doubted_week
from jentrik.core.tire.tables.iso5775 import (
    BEAD_SEATS_MM,
    DECIMAL_INCH_MM,
    FRACTIONAL_INCH_MM,
    TWO_FRACTION_INCH_MM,
)
from jentrik.core.tire.tables.load_index import LARGEST_INDEX
from jentrik.core.tire.tables.standard_sizes import MARKS
from jentrik.core.tire.tokens import LONGEST_CODE

LONGEST_COMPARED = 40  # characters: longer texts are no single code
NEAREST = 3
LAST_WEEK = 53
_ALIKE = 0.6

_ISO = re.compile(r"(?P<width>[0-9]{2,3})[ ]?(?P<joint>[-x])[ ]?(?P<seat>[0-9]{3})(?![0-9.])")
_TURNED = re.compile(r"(?P<seat>[0-9]{3})[ ]?[-x][ ]?(?P<width>1[2-9]|[2-9][0-9]|1[0-3][0-9])")
_BARE = re.compile(
    r"(?P<inches>[0-9]{2}(?:[.,]5)?)(?:[ -]?(?:inch(?:es)?|in|er)|[\"\u2033]|)", re.IGNORECASE
)
_DATE = re.compile(r"[0-9]{4}")
_PAIR = re.compile(r"\(?(?P<index>[0-9]{2,})(?:/[0-9]{2,3})? ?[A-Y]\)?", re.IGNORECASE)


def refused(text: str, refusal: CodeError | None) -> CodeError:
    """Return the refusal of a text that names no size, with what it may have been."""
    if not text:
        return CodeError(
            "Type a tire code, like 37-622 or 120/70 ZR 17.", position=0, expected="a tire code"
        )
    if len(text) > LONGEST_CODE:
        return CodeError(
            "No tire size is named in this text.", position=0, expected="a code like 37-622"
        )
    pair = _PAIR.fullmatch(text)
    if pair is not None and int(pair["index"]) > LARGEST_INDEX:
        return CodeError(
            f"There is no load index {pair['index'][:9]}: the series ends at {LARGEST_INDEX}.",
            position=0,
            expected=f"a load index up to {LARGEST_INDEX}",
        )
    if APPROVAL.fullmatch(text):
        return CodeError(
            "This is an approval number: no size, date, load or speed stands in it.",
            position=0,
            expected="a tire code, or the DOT mark with its date",
        )
    return (
        _no_date(text)
        or _turned(text)
        or _bare_inches(text)
        or _no_such_rim(text)
        or _with_near_codes(text, refusal)
    )


def half_mark(text: str, start: int, end: int) -> CodeError:
    """Return the refusal of a size that is only half of the mark that stands there."""
    mark = text[start:end].strip()
    refusal = CodeError(
        f"“{mark}” reads as a size only in part; read it again, every figure and letter.",
        position=start,
        expected="the whole mark as it stands on the tire",
    )
    return _with_near_codes(mark, refusal)


def _turned(text: str) -> CodeError | None:
    """Offer the ISO mark whose bead seat stands first."""
    turned = _TURNED.fullmatch(text)
    if turned is None or int(turned["seat"]) not in BEAD_SEATS_MM:
        return None
    mark = f"{turned['width']}-{turned['seat']}"
    refusal = CodeError(
        f"“{text}” stands the wrong way round: an ISO mark has the width first, {mark}.",
        position=0,
        expected="width, dash, bead seat diameter, like 37-622",
    )
    near = _with_near_codes(text, refusal).suggestions
    refusal.suggestions = (mark, *near)[:NEAREST]
    return refusal


def _no_date(text: str) -> CodeError | None:
    """Say why four figures are no date, or that a DOT mark shows none."""
    doubt = doubted_week(text[-4:]) if text[:3].upper() == "DOT" or len(text) == 4 else None
    if doubt is not None:
        return CodeError(
            doubt,
            position=len(text) - 4,
            expected="week, then year, like 1523: week 15 of 2023",
            suggestions=(f"{text[:-4]}52{text[-2:]}",),
        )
    if _DATE.fullmatch(text) and 1 <= int(text[:2]) <= LAST_WEEK:
        return CodeError(
            f"20{text[2:]} has no week {text[:2]}: a date mark's weeks run Sunday to Saturday.",
            position=0,
            expected="week, then year, like 1523: week 15 of 2023",
        )
    if text[:3].upper() == "DOT" and len(text) < LONGEST_COMPARED:
        return CodeError(
            "This DOT mark shows no date: its last four figures are week and year. Look on the "
            "tire's other side.",
            position=len(text),
            expected="a DOT mark that ends in its date, like DOT AB12 CDE 1523",
        )
    return None


def _bare_inches(text: str) -> CodeError | None:
    """Ask which rim is meant where only its inches are named."""
    bare = _BARE.fullmatch(text)
    inches = bare["inches"].replace(",", ".") if bare else ""
    named = {}
    if inches in DECIMAL_INCH_MM:
        width = {"29": "2.25", "27.5": "2.25", "28": "1.75"}.get(inches, "1.75")
        named[f"{inches} x {width}"] = DECIMAL_INCH_MM[inches]
    for (name, width), bead_seats in FRACTIONAL_INCH_MM.items():
        if name == inches:
            named[f"{name} x {width}"] = bead_seats[0]
    for (name, widths), bead_seats in TWO_FRACTION_INCH_MM.items():
        if name == inches and "1 3/8" in widths:
            named[f"{name} x {' x '.join(sorted(widths, reverse=True))}"] = bead_seats[0]
    if not named:
        return None
    said = ", ".join(f"{mark} is {seat} mm" for mark, seat in named.items())
    return CodeError(
        f"{inches} inches alone name no rim: {said}. Which width stands on the tire?"
        if len(set(named.values())) > 1
        else f"{inches} inches name the rim, not the tire: {said}. Which width stands on the tire?",
        position=len(text),
        expected="a width, like x 1.75, or the ISO mark, like 37-622",
        suggestions=tuple(named),
    )


def _no_such_rim(text: str) -> CodeError | None:
    """Name the nearest rims where an ISO mark names one that is not made."""
    found = _ISO.search(text)
    if found is None or int(found["seat"]) in BEAD_SEATS_MM or not 12 <= int(found["width"]) <= 140:
        return None
    given = int(found["seat"])
    near = sorted(BEAD_SEATS_MM, key=lambda seat: abs(seat - given))[:NEAREST]
    before, after = text[: found.start("seat")], text[found.end("seat") :]
    return CodeError(
        f"No rim has a bead seat of {given} mm; the nearest have "
        f"{', '.join(str(seat) for seat in near)} mm.",
        position=found.start("seat"),
        expected="a bead seat diameter that rims have, like 622",
        suggestions=tuple(f"{before}{seat}{after}" for seat in near),
    )


def _with_near_codes(text: str, refusal: CodeError | None) -> CodeError:
    found = refusal or CodeError(
        "No tire size is named in this text.", position=0, expected="a code like 37-622"
    )
    if len(text) <= LONGEST_COMPARED and any(letter.isdigit() for letter in text):
        wanted = "".join(text.upper().split())
        known = _known_codes()
        near = get_close_matches(wanted, known, n=NEAREST, cutoff=_ALIKE)
        found.suggestions = tuple(known[code] for code in near)
    return found


@cache
def _known_codes() -> dict[str, str]:
    """Return the codes a misspelled one may have been, by their spelling without gaps."""
    fractional = [f"{name} x {width}" for name, width in FRACTIONAL_INCH_MM]
    two = [
        f"{name} x {' x '.join(sorted(widths, reverse=True))}"
        for name, widths in TWO_FRACTION_INCH_MM
    ]
    return {"".join(code.upper().split()): code for code in (*MARKS, *fractional, *two)}
