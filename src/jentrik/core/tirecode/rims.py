r"""Rim marks, which tire widths a rim takes, and whether tire, rim and tube go together.

    bicycle     =  bead-seat ( cross | "-" ) width [ "C" | "TC" | "TSS" ] { word }    622x19C
    motorcycle  =  profile width cross rim  |  rim cross profile width                MT 3.50 x 17
                |  width cross rim  |  "WM" number ( cross | "-" ) rim                WM2 x 19

C is a hooked rim, TSS and TC straight sides without hooks.  The diameter must be the same,
never nearly; the rest asks the makers.  Sources: the table module's, from memory.
"""

from dataclasses import dataclass

from jentrik.core.errors import CodeError
from jentrik.core.sources import COMMON_PRACTICE, Source
from jentrik.core.tables import rim_profiles
from jentrik.core.tables.iso5775 import BEAD_SEATS_MM
from jentrik.core.tables.motorcycle_sizes import bead_seat_of_rim_code
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.rimcode import read_rim_code
from jentrik.core.tirecode.sizes import Vehicle
from jentrik.core.tirecode.tire_on_rim import (
    HOOKLESS_MOST_KPA,
    HOOKLESS_SOURCE,
    SILENT_SOURCE,
    TireWidths,
    hookless_least_mm,
    tire_widths,
    width_words,
)
from jentrik.core.tirecode.tokens import Cursor, Token, pieces_of
from jentrik.core.tirecode.traps import Warned, Weight
from jentrik.core.units import inches_to_mm

NARROWEST_BICYCLE_MM, WIDEST_BICYCLE_MM = 10.0, 110.0
NARROWEST_INCH, WIDEST_INCH = 1.0, 9.0


@dataclass(frozen=True, slots=True)
class RimReading:
    """A rim: bead seat and inner width in mm, profile, hooks; None where the mark is silent."""

    text: str
    vehicle: Vehicle
    bead_seat_diameter_mm: int
    inner_width_mm: float
    profile: str | None
    hooked: bool | None
    tubeless: bool | None
    tokens: tuple[Token, ...]


def read_rim(text: str) -> RimReading:
    """Return what a rim mark says; refuses what cannot be read with `CodeError`."""
    trimmed = text.strip()
    cursor = Cursor(trimmed, pieces_of(trimmed))
    if cursor.done:
        raise CodeError(
            "Type a rim mark, like 622x19C or MT 3.50 x 17.", position=0, expected="a rim mark"
        )
    for read in (_bicycle_rim, _motorcycle_rim):
        rim = read(cursor)
        if rim is not None:
            if cursor.done:
                return rim
            cursor.want("nothing more, or a word like TUBELESS or HOOKLESS,")
        cursor.rewind(0, 0)
    raise cursor.refusal()


def _bicycle_rim(cursor: Cursor) -> RimReading | None:
    seat = cursor.peek("figure")
    if seat is None or not seat.isdigit() or int(seat) not in BEAD_SEATS_MM:
        cursor.want("a bead seat diameter like 622")
        return None
    cursor.take("bead seat diameter in mm", "bead seat mm")
    if not (cursor.cross() or cursor.sign("-")):
        cursor.want("a cross and the inner width, like x19,")
        return None
    width = cursor.peek("figure")
    plain = width is not None and " " not in width and "/" not in width
    if width is None or not plain or not NARROWEST_BICYCLE_MM <= float(width) <= WIDEST_BICYCLE_MM:
        cursor.want("an inner width in millimetres like 19")
        return None
    cursor.take("inner width between the flanges in mm", "inner width mm")
    hooked, tubeless = _bicycle_words(cursor)
    return RimReading(
        text=cursor.text,
        vehicle="bicycle",
        bead_seat_diameter_mm=int(seat),
        inner_width_mm=float(width),
        profile={True: "hooked", False: "hookless"}.get(hooked) if hooked is not None else None,
        hooked=hooked,
        tubeless=tubeless,
        tokens=tuple(cursor.tokens),
    )


_BICYCLE_WORDS: dict[str, tuple[str, str, bool | None, bool | None]] = {
    # word -> meaning, caption, hooked, tubeless
    "C": ("crotchet: a hooked rim", "hooked", True, None),
    "HOOKED": ("a hooked rim", "hooked", True, None),
    "TSS": ("tubeless, straight sides: no hooks", "hookless", False, True),
    "TC": ("tubeless with hooks", "hooked", True, True),
    "HOOKLESS": ("straight sides: no hooks", "hookless", False, None),
    "TUBELESS": ("holds air without a tube", "tubeless", None, True),
    "TLR": ("ready for tubeless: with tape and valve", "tubeless", None, True),
    "READY": ("with tape and valve", "ready", None, True),
}


def _bicycle_words(cursor: Cursor) -> tuple[bool | None, bool | None]:
    hooked: bool | None = None
    tubeless: bool | None = None
    while (word := cursor.peek("word")) in _BICYCLE_WORDS or cursor.peek("sign") == "-":
        if word not in _BICYCLE_WORDS:
            cursor.index += 1
            continue
        means, caption, says_hooked, says_tubeless = _BICYCLE_WORDS[word]
        cursor.take(means, caption)
        hooked = says_hooked if says_hooked is not None else hooked
        tubeless = says_tubeless if says_tubeless is not None else tubeless
    return hooked, tubeless


def _motorcycle_rim(cursor: Cursor) -> RimReading | None:
    profile = _profile(cursor)
    first = cursor.peek("figure")
    if profile == "WM":
        return _old_width_code(cursor)
    if profile is None and first is not None and first.isdigit() and float(first) > WIDEST_INCH:
        code = read_rim_code(cursor)
        if code is None or not cursor.cross():
            cursor.want("a cross and the rim width, like x MT 3.50,")
            return None
        profile = _profile(cursor)
        width = _width_inches(cursor)
    else:
        width = _width_inches(cursor)
        if width is None or not (cursor.cross() or cursor.sign("-")):
            cursor.want("a cross and the rim code, like x 17,")
            return None
        code = read_rim_code(cursor)
    if width is None or code is None:
        return None
    return _motorcycle_reading(cursor, code, width, profile)


def _profile(cursor: Cursor) -> str | None:
    word = cursor.peek("word")
    if word in rim_profiles.MOTORCYCLE_PROFILES:
        cursor.take(rim_profiles.MOTORCYCLE_PROFILES[word][0], "profile")
        return word
    return None


def _old_width_code(cursor: Cursor) -> RimReading | None:
    name = f"WM{cursor.peek('figure')}"
    if name not in rim_profiles.WM_INCHES:
        cursor.want("a width code like WM2")
        return None
    width = rim_profiles.WM_INCHES[name]
    cursor.take(f"{width:.2f} in between the bead seats", "width code")
    if not (cursor.cross() or cursor.sign("-")):
        cursor.want("a cross and the rim code, like x 19,")
        return None
    code = read_rim_code(cursor)
    return None if code is None else _motorcycle_reading(cursor, code, width, "WM")


def _width_inches(cursor: Cursor) -> float | None:
    figure = cursor.peek("figure")
    plain = figure is not None and " " not in figure and "/" not in figure
    if figure is None or not plain or not NARROWEST_INCH <= float(figure) <= WIDEST_INCH:
        cursor.want("a rim width in inches like 3.50")
        return None
    cursor.take(f"inner width in inches: {inches_to_mm(float(figure)):.0f} mm", "width in")
    return float(figure)


def _motorcycle_reading(cursor: Cursor, code: str, width: float, profile: str | None) -> RimReading:
    tubeless = rim_profiles.MOTORCYCLE_PROFILES[profile][1] if profile else None
    while cursor.peek("word") in ("DOT", "TUBELESS", "TL"):
        if cursor.peek("word") != "DOT":
            tubeless = True
        cursor.take("stands on many rims", "mark")
    return RimReading(
        text=cursor.text,
        vehicle="motorcycle",
        bead_seat_diameter_mm=bead_seat_of_rim_code(float(code)),
        inner_width_mm=inches_to_mm(width),
        profile=profile,
        hooked=None,
        tubeless=tubeless,
        tokens=tuple(cursor.tokens),
    )


def together(tire: Reading, rim: RimReading) -> tuple[Warned, ...]:
    """Return what speaks against this tire on this rim, the heaviest first.

    Nothing said is no approval: the tire maker's list and the rim maker's word decide.
    """
    standard = (
        rim_profiles.BICYCLE_SOURCE if rim.vehicle == "bicycle" else rim_profiles.MOTORCYCLE_SOURCE
    )
    said: list[tuple[str, Weight, str | None, Source]] = [
        ("rim-diameter-mismatch", "stop", _diameter(tire, rim), standard),
        ("rim-of-another-vehicle", "stop", _vehicle(tire, rim), COMMON_PRACTICE),
        ("hookless-too-narrow", "stop", _hookless_width(tire, rim), HOOKLESS_SOURCE),
        ("rim-width-out-of-range", "caution", *_width(tire, rim)),
        ("tube-type-mismatch", "caution", _tube(tire, rim), COMMON_PRACTICE),
        ("hookless-rim", "caution", _hookless(tire, rim), COMMON_PRACTICE),
        ("rim-width-unlisted", "note", _silent(tire, rim), SILENT_SOURCE),
    ]
    return tuple(
        Warned(name, weight, words, str(source)) for name, weight, words, source in said if words
    )


def _diameter(tire: Reading, rim: RimReading) -> str | None:
    if tire.bead_seat_diameter_mm == rim.bead_seat_diameter_mm:
        return None
    return (
        f"The tire's bead seat is {tire.bead_seat_diameter_mm} mm, the rim's "
        f"{rim.bead_seat_diameter_mm} mm. They must be the same; never force a bead."
    )


def _vehicle(tire: Reading, rim: RimReading) -> str | None:
    if tire.vehicle == rim.vehicle:
        return None
    return f"A {tire.vehicle} tire on a {rim.vehicle} rim: their flanges differ."


def _widths(tire: Reading, rim: RimReading) -> TireWidths | None:
    return tire_widths(
        rim_mm=rim.inner_width_mm, vehicle=rim.vehicle, aspect_percent=tire.aspect_percent
    )


def _width(tire: Reading, rim: RimReading) -> tuple[str | None, Source]:
    widths = _widths(tire, rim)
    if widths is None or tire.width_mm is None or tire.vehicle != rim.vehicle:
        return None, COMMON_PRACTICE
    if widths.hold(tire.width_mm):
        return None, widths.source
    said = width_words(tire_mm=tire.width_mm, rim_mm=round(rim.inner_width_mm, 1), widths=widths)
    return said, widths.source


def _silent(tire: Reading, rim: RimReading) -> str | None:
    if tire.vehicle != rim.vehicle or _widths(tire, rim) is not None:
        return None
    return (
        f"The table of rim and tire widths has no row for {rim.inner_width_mm:g} mm: the tire "
        "maker's list decides."
    )


def _hookless_width(tire: Reading, rim: RimReading) -> str | None:
    if rim.hooked is not False or tire.vehicle != "bicycle" or tire.width_mm is None:
        return None
    least = hookless_least_mm(rim.inner_width_mm)
    if tire.width_mm >= least:
        return None
    return (
        f"A {tire.width_mm:.0f} mm tire on a hookless rim {rim.inner_width_mm:g} mm wide: at least "
        f"{least:g} mm. It can blow off."
    )


def _tube(tire: Reading, rim: RimReading) -> str | None:
    if tire.tube == "tubeless" and rim.tubeless is False:
        return (
            "A tubeless tire on a rim made for tubes: it needs a tube its maker allows, or a "
            "sealed rim with safety humps. Spoke holes must not leak."
        )
    if tire.tube == "tube-type" and rim.tubeless:
        return "A tube-type tire on a tubeless rim: it always needs a tube. Ask both makers."
    return None


def _hookless(tire: Reading, rim: RimReading) -> str | None:
    if rim.hooked is not False or tire.vehicle != "bicycle":
        return None
    return (
        f"A hookless rim: only tires whose maker clears them for it, at most "
        f"{HOOKLESS_MOST_KPA / 100:g} bar, less with a wider tire; the lower of the two makers' "
        "figures holds."
    )
