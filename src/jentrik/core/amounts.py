"""Figures with their unit as they stand in a sentence, and what a person may see them in.

    amount  =  [ figure ] thin-space unit [ joiner ] [ "⁅" exact [ ";" exact ] "⁆" ]

The thin space (U+2009) between a figure and its unit is what a later hand finds it by: `restated`
writes every amount of a text in the units a person chose, `in_plain` leaves an ordinary space for
files and other programs.  A word joiner (U+2060) behind the unit says that the unit stands
elsewhere, in a table's head or beside a field: the figure alone is written, or, where there is no
figure, the unit's name alone.  Between brackets with a quill stands what a rounded figure
was made of: the figure itself, or the two, each rounded where it stands, that it is the difference
of; another unit is made of that and then rounded.  A bead seat and a marked width are names, not
measurements: they are written with an ordinary space and stay in millimetres.  So does a published
limit in its own unit, with "⁅=" exact "⁆" behind it: the unit a person chose follows in brackets.
"""

import re
from dataclasses import dataclass

THIN, JOINER, MINUS = "\u2009", "\u2060", "\u2212"
CHOSEN = ("mm", "km/h", "km", "kPa", "bar", "kg", "N·m")  # units a person may see otherwise
NUMBER = rf"[+\-\u2212]?\d+(?:{THIN}\d{{3}})*(?:\.\d+)?"
_FIGURE = re.compile(NUMBER)
_FLOAT = r"-?\d{1,20}(?:\.\d{1,20})?(?:e[+-]\d\d)?"
_EXACT = rf"(?:⁅(?P<exact>{_FLOAT}(?:;{_FLOAT})?)⁆)?"
UNIT = rf"{THIN}(?P<unit>{'|'.join(CHOSEN)})(?![\w/²³·])(?P<alone>{JOINER})?{_EXACT}"
UNIT_SAID_ONCE = re.compile(rf"{THIN}(?:{'|'.join(CHOSEN)}){JOINER}")
PUBLISHED = re.compile(rf" (?P<unit>{'|'.join(CHOSEN)})⁅=(?P<exact>{_FLOAT})⁆")
_MARKED = re.compile(rf"(?<=\d){UNIT}")
_CLOSE = ("°", "")  # stand close behind their figure


class Shown(str):
    """A rounded figure as text, with what it was made of: a figure, or two it is between."""

    exact: tuple[float, ...]

    def __new__(cls, text: str, *exact: float) -> "Shown":
        """Return the text with the figures before they were rounded."""
        shown = super().__new__(cls, text)
        shown.exact = exact
        return shown


def rounded(value: float, digits: int) -> Shown:
    """Return a figure rounded; nothing never has a sign, and what has one a true minus."""
    text = f"{value:.{digits}f}"
    if float(text) == 0:
        text = text.removeprefix("-")
    return Shown(text.replace("-", MINUS), float(value))


def difference(old: float, new: float, digits: int) -> Shown:
    """Return the difference of two figures as they are shown, with its sign; none is a bare 0."""
    by = round(new, digits) - round(old, digits)
    text = rounded(by, digits)
    if float(text.replace(MINUS, "-")) == 0:
        return Shown("0", old, new)
    return Shown(text if by < 0 else f"+{text}", old, new)


def _exactly(figure: object, text: str) -> str:
    """Return the mark of what a figure was before it was rounded; none where it is the same."""
    exact = figure.exact if isinstance(figure, Shown) else ()
    if isinstance(figure, float):
        exact = (figure,)
    if len(exact) == 1 and text.replace(MINUS, "-") == f"{exact[0]:.6g}":
        return ""
    return f"⁅{';'.join(f'{one:.7g}' for one in exact)}⁆" if exact else ""


@dataclass(frozen=True, slots=True)
class Amount:
    """A figure and its unit; formatted as the figure would be, the unit after a thin space."""

    value: object
    unit: str

    def __format__(self, spec: str) -> str:
        figure = self.value if isinstance(self.value, str) else format(self.value, spec or "g")
        exactly = _exactly(self.value, figure) if self.unit in CHOSEN else ""
        return f"{figure}{'' if self.unit in _CLOSE else THIN}{self.unit}{exactly}"

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


def published(value: float, unit: str) -> str:
    """Return a published limit: it stays in its unit, another follows in brackets."""
    return f"{value:g} {unit}⁅={value:.7g}⁆"


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
    plain = text.isascii() and " " not in text and ";" not in text
    if plain or isinstance(text, Shown):  # one figure, as most are
        exactly = _exactly(text, text)
        return f"{text}{THIN}{unit}{JOINER}{exactly}" if text[-1:].isdigit() else text
    return _FIGURE.sub(rf"\g<0>{THIN}{unit}{JOINER}", text)


def kept_unit(name: str, unit: str) -> str:
    """Return the unit a field's figure may be seen in another of; "" for a bead seat's name."""
    names = ("bead_seat", "rim_mm", "instrument_mm")  # a computer's setting is always in mm
    return "" if any(one in name for one in names) else unit


def in_words(name: str, figure: object, unit: str) -> str:
    """Return a field's figure with its unit; a bead seat's stays in mm whatever a person chose."""
    return str(Amount(figure, unit)) if kept_unit(name, unit) else f"{figure} {unit}".strip()


def unit_alone(unit: str) -> str:
    """Return a unit's name, where its figures stand elsewhere."""
    return f"{THIN}{unit}{JOINER}" if unit in CHOSEN else unit


def in_plain(text: str) -> str:
    """Return a text for files and other programs: no marks, an ordinary space before a unit."""
    own = PUBLISHED.sub(r" \g<unit>", text)
    return _MARKED.sub(lambda found: "" if found["alone"] else f" {found['unit']}", own)
