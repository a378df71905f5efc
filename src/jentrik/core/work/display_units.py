"""The units a shop or a person sees figures in and types them in; what is kept stays as it is.

Each choice is of one quantity.  A speed's unit carries a way along: who reads mph reads miles.
A whole figure in mm is shown to 0.01 in, one in kPa to 0.01 bar or 0.1 psi: about as fine as it
was.  Sizes of the units: exact, in `jentrik.core.units`.
"""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from jentrik.core.amounts import MINUS, NUMBER, PUBLISHED, THIN, UNIT, bare
from jentrik.core.units import (
    KG_PER_POUND,
    KM_PER_MILE,
    KMH_PER_MPH,
    KPA_PER_BAR,
    KPA_PER_PSI,
    MM_PER_INCH,
    NM_PER_POUND_FOOT,
)


class LengthUnit(StrEnum):
    """What lengths are seen in; bead seats and marked widths stay in mm."""

    MM = "mm"
    INCH = "in"


class SpeedUnit(StrEnum):
    """What speeds are seen in, and the way ridden."""

    KMH = "km/h"
    MPH = "mph"


class PressureUnit(StrEnum):
    """What pressures are seen in."""

    BAR = "bar"
    KPA = "kPa"
    PSI = "psi"


class MassUnit(StrEnum):
    """What masses and loads are seen in."""

    KG = "kg"
    POUND = "lb"


class TorqueUnit(StrEnum):
    """What torques are seen in."""

    NM = "N·m"
    POUND_FOOT = "lbf·ft"


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit: its name, its size in the unit figures are kept in, and how much finer it is shown.

    `finer` counts the decimals more than the kept figure has.
    """

    name: str
    size: float = 1.0
    finer: int = 0


_SIZES: dict[str, Unit] = {
    unit.name: unit
    for unit in (
        Unit("in", MM_PER_INCH, 2),
        Unit("mph", KMH_PER_MPH),
        Unit("bar", KPA_PER_BAR, 2),
        Unit("psi", KPA_PER_PSI, 1),
        Unit("lb", KG_PER_POUND),
        Unit("lbf·ft", NM_PER_POUND_FOOT),
    )
}
_MILES = Unit("mi", KM_PER_MILE)
CHOICES: dict[str, type[StrEnum]] = {
    "length": LengthUnit,
    "speed": SpeedUnit,
    "pressure": PressureUnit,
    "mass": MassUnit,
    "torque": TorqueUnit,
}
_QUANTITY = {"mm": "length", "km/h": "speed", "kPa": "pressure", "kg": "mass", "N·m": "torque"}
_IN_KEPT = {"bar": ("kPa", KPA_PER_BAR, 2)}  # written in bar: kept unit, size, decimals more
_UNIT = re.compile(UNIT)
_FIGURES = re.compile(rf"(?:(?P<low>{NUMBER})–)?(?P<figure>{NUMBER})\Z")  # one, or a range
_LONGEST = 40  # characters of the figures before a unit
_OF_FIGURES = f"0123456789.+-\u2212–{THIN}"  # the characters figures are made of
_DIGITS = frozenset("0123456789")
_FINEST = 5  # decimals, beyond any gauge
_PARTS = re.compile(r"(;|±|\+/-|\+-|\s\+\s)")  # between the readings of one figure, before its ±


@dataclass(frozen=True, slots=True)
class DisplayUnits:
    """The unit of each quantity."""

    length: LengthUnit = LengthUnit.MM
    speed: SpeedUnit = SpeedUnit.KMH
    pressure: PressureUnit = PressureUnit.BAR
    mass: MassUnit = MassUnit.KG
    torque: TorqueUnit = TorqueUnit.NM

    def having(self, chosen: Mapping[str, str]) -> "DisplayUnits":
        """Return the units with some of them chosen otherwise; what is no choice is left out."""
        known: dict[str, Any] = {
            quantity: CHOICES[quantity](name)
            for quantity, name in chosen.items()
            if quantity in CHOICES and name in list(CHOICES[quantity])
        }
        return replace(self, **known)

    def of(self, kept: str) -> Unit:
        """Return what a kept unit is seen in; itself where there is nothing to choose."""
        if kept == "km":
            return _MILES if self.speed is SpeedUnit.MPH else Unit("km")
        quantity = _QUANTITY.get(kept)
        if quantity is None:
            return Unit(kept)
        chosen: str = getattr(self, quantity)
        return _SIZES.get(chosen, Unit(str(chosen)))

    def restated(self, text: str) -> str:
        """Return a text with every amount in these units, its marks taken out.

        The units are looked for, and the figures before each: a drawing has thousands of figures
        that are no amounts.  An amount that is in its unit already stays as it is written.
        """
        if "⁅=" in text:
            text = PUBLISHED.sub(self._with_own, text)
        parts: list[str] = []
        written = 0
        for found in _UNIT.finditer(text):
            kept, size, more = _IN_KEPT.get(found["unit"], (found["unit"], 1.0, 0))
            unit, start = self.of(kept), found.start()
            if unit.size == size and not found["alone"] and not found["exact"]:
                continue
            name = "" if found["alone"] else f"{THIN}{unit.name}"
            if start == 0 or text[start - 1] not in _DIGITS:
                name = unit.name if found["alone"] else name
            elif unit.size != size:
                before = text[max(written, start - _LONGEST) : start]
                figures = _FIGURES.search(before[len(before.rstrip(_OF_FIGURES)) :])
                assert figures is not None  # a digit stands before the unit
                start -= len(figures[0])
                exact = [float(one) for one in (found["exact"] or "").split(";") if one]
                name = f"{_said(figures, exact, unit, size=size, more=more)}{name}"
            parts += text[written:start], name
            written = found.end()
        return "".join((*parts, text[written:]))

    def _with_own(self, limit: re.Match[str]) -> str:
        """Return a published limit with the same in the chosen unit in brackets behind it."""
        unit, text = self.of(limit["unit"]), f" {limit['unit']}"
        if unit.name == limit["unit"]:
            return text
        finer = Unit(unit.name, unit.size, max(unit.finer, 1 if float(limit["exact"]) < 10 else 0))
        said = _restated(limit["exact"], (), finer, size=1.0, more=0)
        return f"{text} ({said}{THIN}{unit.name})"

    def as_seen(self, figures: str, unit: str) -> str:
        """Return kept figures, without their unit, as they are seen."""
        return self.restated(bare(figures, unit))

    def in_kept(self, typed: str, unit: str) -> str:
        """Return what someone typed with the unit they see behind every figure that has none."""
        seen = self.of(unit)
        if seen.name in (unit, "bar"):  # a bare figure is read as bar where it can be one
            return typed
        return "".join(
            f"{part.rstrip()} {seen.name} " if part.rstrip()[-1:].isdigit() else part
            for part in _PARTS.split(typed)
        ).rstrip()


def _said(
    figures: re.Match[str], exact: Sequence[float], unit: Unit, *, size: float, more: int
) -> str:
    """Return a figure, or both ends of a range, in a unit; `exact` are those of the last."""
    low, figure = figures.group("low", "figure")
    said = _restated(figure, exact, unit, size=size, more=more)
    return said if low is None else f"{_restated(low, (), unit, size=size, more=more)}–{said}"


def _restated(text: str, exact: Sequence[float], unit: Unit, *, size: float, more: int) -> str:
    """Return one figure in a unit, about as fine as it was written, from what it was made of."""
    bare = text.replace(THIN, "").replace(MINUS, "-")
    decimals = len(bare.partition(".")[2])
    digits = min(max(decimals - more + unit.finer, 0), _FINEST)
    made = [one * size / unit.size for one in exact or (float(bare),)]
    if len(made) == 2:
        figure = round(made[1], digits) - round(made[0], digits)
    else:
        figure = made[0] if float(bare) == 0 else math.copysign(made[0], float(bare))
    said = f"{figure:{',' if THIN in text else ''}.{digits}f}".replace(",", THIN)
    if digits > 2:
        said = said.rstrip("0").rstrip(".")
    if said.strip("-0.") == "":
        return said.lstrip("-") if float(bare) else "0"
    sign = "+" if text.startswith("+") or (len(made) == 2 and figure > 0) else ""
    return sign + said.replace("-", MINUS)


METRIC = DisplayUnits()
