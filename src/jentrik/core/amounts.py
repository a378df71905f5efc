"""Figures with their unit as they stand in a sentence, and what a person may see them in.

    amount  =  [ figure ] thin-space unit [ joiner ]

The thin space (U+2009) between a figure and its unit is what a later hand finds it by: `restated`
writes every amount of a text in the units a person chose, `in_plain` leaves an ordinary space for
files and other programs.  A word joiner (U+2060) behind the unit says that the unit stands
elsewhere, in a table's head or beside a field: the figure alone is written, or, where there is no
figure, the unit's name alone.  A bead seat and a marked width are names, not measurements: they
are written with an ordinary space and stay in millimetres.
"""

import re
from dataclasses import dataclass

THIN, JOINER = "\u2009", "\u2060"
CHOSEN = ("mm", "km/h", "km", "kPa", "bar", "kg", "N·m")  # units a person may see otherwise
NUMBER = rf"[+\-\u2212]?\d+(?:{THIN}\d{{3}})*(?:\.\d+)?"
_FIGURE = re.compile(NUMBER)
UNIT = rf"{THIN}(?P<unit>{'|'.join(CHOSEN)})(?![\w/²³·])(?P<alone>{JOINER})?"
_MARKED = re.compile(rf"(?<=\d){UNIT}")
_CLOSE = ("°", "")  # stand close behind their figure


@dataclass(frozen=True, slots=True)
class Amount:
    """A figure and its unit; formatted as the figure would be, the unit after a thin space."""

    value: object
    unit: str

    def __format__(self, spec: str) -> str:
        figure = self.value if isinstance(self.value, str) else format(self.value, spec or "g")
        return f"{figure}{'' if self.unit in _CLOSE else THIN}{self.unit}"

    def __str__(self) -> str:
        return format(self)


def mm(value: object) -> Amount:
    """Return a length."""
    return Amount(value, "mm")


def kmh(value: object) -> Amount:
    """Return a speed."""
    return Amount(value, "km/h")


def km(value: object) -> Amount:
    """Return a way."""
    return Amount(value, "km")


def kg(value: object) -> Amount:
    """Return a mass."""
    return Amount(value, "kg")


def bar(kpa: float) -> Amount:
    """Return a pressure given in kPa, in bar."""
    return Amount(kpa / 100, "bar")


def torque(value: object) -> Amount:
    """Return a torque in N·m."""
    return Amount(value, "N·m")


def bare(text: str, unit: str) -> str:
    """Return figures whose unit stands elsewhere, each with its mark; other units need none."""
    if unit not in CHOSEN:
        return text
    if text.isascii() and " " not in text and ";" not in text:  # one figure, as most are
        return f"{text}{THIN}{unit}{JOINER}" if text[-1:].isdigit() else text
    return _FIGURE.sub(rf"\g<0>{THIN}{unit}{JOINER}", text)


def kept_unit(name: str, unit: str) -> str:
    """Return the unit a field's figure may be seen in another of; "" for a bead seat's name."""
    return "" if "bead_seat" in name or "rim_mm" in name else unit


def in_words(name: str, figure: object, unit: str) -> str:
    """Return a field's figure with its unit; a bead seat's stays in mm whatever a person chose."""
    return str(Amount(figure, unit)) if kept_unit(name, unit) else f"{figure} {unit}".strip()


def unit_alone(unit: str) -> str:
    """Return a unit's name, where its figures stand elsewhere."""
    return f"{THIN}{unit}{JOINER}" if unit in CHOSEN else unit


def in_plain(text: str) -> str:
    """Return a text for files and other programs: no marks, an ordinary space before a unit."""
    return _MARKED.sub(lambda found: "" if found["alone"] else f" {found['unit']}", text)
