"""Exact conversions, one a line, and what counts as one number typed by hand."""

import re

from jentrik.core.errors import OutOfRange

MM_PER_INCH = 25.4  # exact, international inch
KMH_PER_MPH = 1.609344  # exact, international mile
KG_PER_POUND = 0.45359237  # exact, international pound
KPA_PER_BAR = 100.0  # exact
STANDARD_GRAVITY = 9.80665  # m/s2, exact by convention
KPA_PER_PSI = 6.894757293168  # pound-force on a square inch, from the exact pound and inch
KM_PER_MILE = KMH_PER_MPH
NM_PER_POUND_FOOT = KG_PER_POUND * STANDARD_GRAVITY * 12 * MM_PER_INCH / 1000  # exact parts

_NUMBER = re.compile(r"[+\-\u2212]?(?:\d{1,7}(?:[.,]\d{1,6})?|[.,]\d{1,6})", re.ASCII)
_ONE_OR_A_THOUSAND = re.compile(r"[1-9]\d{0,2},\d{3}")
_GROUPED = re.compile(
    r"[+\-\u2212]?\d{1,3}(?:[ \u00a0\u2009\u202f]\d{3})+(?:[.,]\d{1,6})?", re.ASCII
)


_LENGTH = re.compile(
    r"(?P<whole>\d{1,5}(?:[.,]\d{1,6})?)?(?:\s*(?P<over>\d{1,3})/(?P<under>[1-9]\d{0,2}))?"
    r"\s*(?P<unit>cm|m|in|inch|inches|\"|\u2033)",
    re.ASCII | re.IGNORECASE,
)
_PRESSURE = re.compile(
    r"(?P<figure>\d{1,5}(?:[.,]\d{1,4})?)\s*(?P<unit>bar|psi|kpa)?", re.ASCII | re.IGNORECASE
)
_OTHERS: dict[str, tuple[tuple[re.Pattern[str], float], ...]] = {  # unit -> others, their size
    "km/h": ((re.compile(r"mph|mi/h", re.IGNORECASE), KMH_PER_MPH),),
    "km": ((re.compile(r"mi|miles?", re.IGNORECASE), KM_PER_MILE),),
    "kg": (
        (re.compile(r"lbs?|pounds?", re.IGNORECASE), KG_PER_POUND),
        (re.compile(r"g", re.IGNORECASE), 0.001),
    ),
    "°": ((re.compile(r"deg(?:rees?)?", re.IGNORECASE), 1.0),),
    "N·m": (
        (re.compile(r"Nm", re.IGNORECASE), 1.0),
        (re.compile(r"lbf?\s?[·.*-]?\s?ft|ft\s?[·.*-]?\s?lbf?", re.IGNORECASE), NM_PER_POUND_FOOT),
    ),
}
_WITH_UNIT = re.compile(r"(?P<figure>.*\d)\s*(?P<unit>\D+)", re.ASCII)
_KPA = {"bar": KPA_PER_BAR, "psi": KPA_PER_PSI, "kpa": 1.0}
BARE_BAR_BELOW = 10.0  # no tire runs at 10 kPa: a bare figure below it is in bar
_MM = {"cm": 10.0, "m": 1000.0}


def _length_mm(length: re.Match[str]) -> float:
    """Return a length with its own unit in mm; a unit alone is nothing at all."""
    whole, over, under = length["whole"], length["over"], length["under"]
    if whole is None and over is None:
        raise OutOfRange("A unit without a figure is no length.", expected="a figure like 41.5 in")
    figure = float((whole or "0").replace(",", "."))
    if over is not None:
        figure += int(over) / int(under)
    return figure * _MM.get(length["unit"].lower(), MM_PER_INCH)


def _pressure_kpa(pressure: re.Match[str]) -> float:
    """Return a pressure in kPa; a bare figure that no tire has in kPa is in bar."""
    figure = float(pressure["figure"].replace(",", "."))
    unit = (pressure["unit"] or ("bar" if figure < BARE_BAR_BELOW else "kpa")).lower()
    return round(figure * _KPA[unit], 2)  # finer than any gauge


def _in_another_unit(bare: str, unit: str) -> tuple[str, float]:
    """Return a figure as typed without another unit's name, and that unit's size in its own."""
    typed = _WITH_UNIT.fullmatch(bare)
    if typed is not None:
        for name, size in _OTHERS.get(unit, ()):
            if name.fullmatch(typed["unit"]):
                return typed["figure"], size
    return bare, 1.0


def inches_to_mm(inches: float) -> float:
    """Return a length in mm."""
    return inches * MM_PER_INCH


# What a scale sends before its figure: at rest, gross, net or tare.
_OF_A_SCALE = re.compile(r"ST,(?:GS|NT|TR),\s*(?P<sign>[+-]?)\s*", re.ASCII)


def refuse_two_readings(text: str) -> None:
    """Refuse a number like 1,234: a thousand in one country and little over one in another."""
    if _ONE_OR_A_THOUSAND.fullmatch(text):
        thousand = text.replace(",", "")
        raise OutOfRange(
            f"“{text}” can be {text.replace(',', '.')} or {thousand}: write it without the comma.",
            expected="a number without a comma before three digits",
            suggestions=(thousand, text.replace(",", ".")),
        )


def read_figure(text: str, *, unit: str = "") -> float:
    """Return the number a person typed: comma or point, a true minus, thin spaces, a unit.

    A length may come in mm, cm, m or inches, fractions included, a pressure in kPa, bar or psi, a
    speed in km/h or mph, a way in km or miles, a mass in kg or lb, a torque in N·m or lbf·ft; any
    other figure in its own unit.  Refuses anything else with
    `OutOfRange`; the range itself is the caller's matter.
    """
    text = _OF_A_SCALE.sub(r"\g<sign>", text.strip())
    bare = text.removesuffix(unit).strip()
    if unit == "mm":
        length = _LENGTH.fullmatch(bare)
        if length is not None:
            return _length_mm(length)
    if unit == "kPa":
        pressure = _PRESSURE.fullmatch(text.strip())
        if pressure is not None:
            return _pressure_kpa(pressure)
    bare, size = _in_another_unit(bare, unit)
    if _GROUPED.fullmatch(bare):
        bare = re.sub(r"\s", "", bare)
    refuse_two_readings(bare)
    if not _NUMBER.fullmatch(bare):
        like = f", like 12.5{'' if unit in ('°', '%') else ' '}{unit}" if unit else ", like 12.5"
        raise OutOfRange(
            f"“{text.strip()[:40]}” is not a figure; a plain number is wanted{like}.",
            expected=f"a number{f' in {unit}' if unit else ''}",
        )
    figure = float(bare.replace("\u2212", "-").replace(",", "."))
    return figure if size == 1.0 else round(figure * size, 4)
