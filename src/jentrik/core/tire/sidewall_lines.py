r"""The loose lines of a sidewall: loads and pressures, quality grades, plies and other words.

    quantity  =  range [ "(" range ")" ]    range  =  figure [ ( "-" | "TO" | "MAX" ) figure ] unit
    grade     =  "TREADWEAR" figure | "TRACTION" letters | "TEMPERATURE" letter
    grades    =  "UTQG" figure letters letter
    made in   =  "MADE IN" words

A stated load or pressure is a limit of the tire, never a setting.  Sources: 49 CFR 575.104 for
the grades; the words from common practice.
"""

import re
from dataclasses import dataclass
from typing import Literal

from jentrik.core.tire.tokens import Cursor
from jentrik.core.units import KG_PER_POUND, KPA_PER_BAR, KPA_PER_PSI

# unit as marked -> what it measures, and how many kg or kPa it is
_UNITS: dict[str, tuple[Literal["load", "pressure"], float]] = {
    "KG": ("load", 1.0),
    "KGS": ("load", 1.0),
    "LB": ("load", KG_PER_POUND),
    "LBS": ("load", KG_PER_POUND),
    "KPA": ("pressure", 1.0),
    "PSI": ("pressure", KPA_PER_PSI),
    "BAR": ("pressure", KPA_PER_BAR),
}
_AGREE = 0.03  # two units of one figure are rounded; beyond this they disagree

_TRACTION = {
    "AA": "above 0.54 g on wet asphalt",
    "A": "above 0.47 g on wet asphalt",
    "B": "above 0.38 g on wet asphalt",
    "C": "0.38 g or less on wet asphalt",
}
_TEMPERATURE = {"A": "over 115 mph", "B": "100 to 115 mph", "C": "85 to 100 mph"}

_WORDS = {
    "MAX": ("at most", "limit"),
    "MAXIMUM": ("at most", "limit"),
    "MIN": ("the least", "least"),
    "MINIMUM": ("the least", "least"),
    "LOAD": ("the load line", "load"),
    "AT": ("at", "at"),
    "COLD": ("measured cold, before riding", "cold"),
    "INFLATE": ("the pressure line: the tire's own range, not the setting", "pressure"),
    "INFLATION": ("the pressure line", "pressure"),
    "PRESSURE": ("the pressure line", "pressure"),
    "PRESS": ("the pressure line", "pressure"),
    "TO": ("up to", "to"),
    "SINGLE": ("one tire on a wheel end", "single"),
    "DUAL": ("two tires on a wheel end", "twin"),
    "TREAD": ("the ply line: what lies under the tread", "plies"),
    "SIDEWALL": ("the ply line: what lies in the sidewall", "plies"),
    "PLIES": ("layers of the casing", "plies"),
    "PLY": ("layers of the casing", "plies"),
    "NYLON": ("casing cord", "cord"),
    "POLYESTER": ("casing cord", "cord"),
    "POLYAMIDE": ("casing cord", "cord"),
    "RAYON": ("casing cord", "cord"),
    "ARAMID": ("casing cord", "cord"),
    "STEEL": ("belt or casing cord", "cord"),
    "CORD": ("casing cord", "cord"),
    "RADIAL": ("radial casing", "radial"),
    "BIAS": ("bias casing", "bias"),
    "BELTED": ("with a belt under the tread", "belted"),
    "DIRECTION": ("an arrow gives the way it must turn; trust the arrow", "direction"),
    "DRIVE": ("the way it must turn when driven", "direction"),
    "SIDE": ("which way a side faces", "side"),
    "TIRE": ("the word tire", "tire"),
    "TYRE": ("the word tire", "tire"),
    "WHEEL": ("the word wheel", "wheel"),
    "ETRTO": ("the ISO mark follows: width and bead seat diameter", "ISO mark"),
    "ISO": ("the ISO mark follows: width and bead seat diameter", "ISO mark"),
}


@dataclass(frozen=True, slots=True)
class Quantity:
    """A load in kg or a pressure in kPa as the sidewall states it; `least` opens a range."""

    kind: Literal["load", "pressure"]
    text: str
    value: float
    least: float | None = None
    quarrel: str = ""


@dataclass(frozen=True, slots=True)
class Grade:
    """One quality grade of a car tire: treadwear, traction or temperature."""

    kind: Literal["treadwear", "traction", "temperature"]
    value: str
    means: str


def read_quantity(cursor: Cursor) -> Quantity | None:
    """Read a figure or a range with its unit, and the same in another unit in brackets."""
    first = _figures_and_unit(cursor)
    if first is None:
        return None
    start = cursor.position
    kind, least, most = _take(cursor, first)
    quarrel = ""
    if cursor.sign("("):
        second = _figures_and_unit(cursor)
        if second is None:
            cursor.index -= 1
        else:
            _, _, other = _take(cursor, second)
            cursor.sign(")")
            if abs(other - most) > _AGREE * most:
                quarrel = "The two units of one figure disagree; read the line again."
    end = cursor.pieces[cursor.index - 1].end
    return Quantity(kind, cursor.text[start:end], most, least, quarrel)


_Ahead = tuple[list[float], str, int]


def _figures_and_unit(cursor: Cursor) -> _Ahead | None:
    """Return the figures, the unit and how many pieces they take, without taking them."""
    figures: list[float] = []
    ahead = 0
    while len(figures) < 2:
        figure = cursor.peek("figure", ahead)
        if figure is None or " " in figure or "/" in figure:
            return None
        figures.append(float(figure))
        ahead += 1
        unit = cursor.peek("word", ahead)
        if unit in _UNITS:
            return figures, unit, ahead + 1
        least_to_most = unit == "MAX" and cursor.index > 0 and cursor.peek("word", -1) == "MIN"
        if cursor.peek("sign", ahead) != "-" and unit != "TO" and not least_to_most:
            return None
        ahead += 1
    return None


def _take(cursor: Cursor, ahead: _Ahead) -> tuple[Literal["load", "pressure"], float | None, float]:
    figures, unit, count = ahead
    kind, factor = _UNITS[unit]
    values = [figure * factor for figure in figures]
    if kind == "load":
        means = f"greatest load: {values[-1]:.0f} kg ({values[-1] / KG_PER_POUND:.0f} lb)"
    else:
        bar, psi = values[-1] / KPA_PER_BAR, values[-1] / KPA_PER_PSI
        means = f"greatest pressure: {bar:.1f} bar ({psi:.0f} psi)"
    cursor.take(means, f"{kind} limit", count)
    return kind, values[0] if len(values) == 2 else None, values[-1]


def read_grades(cursor: Cursor) -> tuple[Grade, ...]:
    """Read the grades of the uniform tire quality line: one with its word, or all behind UTQG."""
    match cursor.peek("word"):
        case "TREADWEAR" | "TRACTION" | "TEMPERATURE" as kind:
            grade = _grade(kind, _value(cursor, 1))
            if grade is None:
                return ()
            cursor.take(grade.means, grade.kind, 2)
            return (grade,)
        case "UTQG":
            values = [_value(cursor, ahead) for ahead in (1, 2, 3)]
            found = [_grade(kind, value) for kind, value in zip(_KINDS, values, strict=True)]
            grades = tuple(grade for grade in found if grade is not None)
            if len(grades) < len(_KINDS):
                return ()
            cursor.take("uniform tire quality grades follow", "grades")
            for grade in grades:
                cursor.take(grade.means, grade.kind)
            return grades
    return ()


_KINDS = ("TREADWEAR", "TRACTION", "TEMPERATURE")


def _value(cursor: Cursor, ahead: int) -> str:
    return cursor.peek("figure", ahead) or cursor.peek("word", ahead) or ""


def _grade(kind: str, value: str) -> Grade | None:
    if kind == "TREADWEAR" and value.isdigit():
        means = f"treadwear {value}: against 100 for the reference tire; car tires only"
        return Grade("treadwear", value, means)
    if kind == "TRACTION" and value in _TRACTION:
        means = f"traction {value}: {_TRACTION[value]}; car tires only"
        return Grade("traction", value, means)
    if kind == "TEMPERATURE" and value in _TEMPERATURE:
        means = f"temperature {value}: stands {_TEMPERATURE[value]}; car tires only"
        return Grade("temperature", value, means)
    return None


_MADE_IN = re.compile(r"MADE[ \t]+IN(?:[ \t]+[A-Z.]+){1,4}", re.IGNORECASE)


def read_made_in(cursor: Cursor) -> bool:
    """Read where it was made, to the end of the words on that line."""
    found = _MADE_IN.match(cursor.line())
    if found is None:
        return False
    cursor.take_text(len(found[0]), "where it was made", "origin")
    return True


def read_known_word(cursor: Cursor) -> bool:
    """Read a word of the load, pressure, ply or rotation lines; plies keep their count."""
    ahead = 1 if cursor.peek("figure") and not cursor.peek("sign", 1) else 0
    word = cursor.peek("word", ahead)
    if word not in _WORDS or (ahead and _WORDS[word][1] not in ("plies", "cord", "tire")):
        return False
    if not cursor.stands_alone(ahead):
        return False
    means, caption = _WORDS[word]
    cursor.take(means, caption, ahead + 1)
    return True
