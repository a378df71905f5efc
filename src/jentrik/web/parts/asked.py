"""Figures a page lets someone give in its address: read, held within bounds, else the usual one."""

from collections.abc import Mapping
from dataclasses import dataclass

from jentrik.core.amounts import Amount, bare
from jentrik.core.errors import Refusal
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import DisplayUnits
from jentrik.web.figures import plain

LONGEST = 40


@dataclass(frozen=True, slots=True)
class Askable:
    """A figure that may be given: label, unit, the usual value (None for none), least and most."""

    label: str
    unit: str
    usual: float | None
    least: float
    most: float


@dataclass(frozen=True, slots=True)
class AskedField:
    """A figure someone may give: its name in the address, label, unit, text, what was refused."""

    name: str
    label: str
    unit: str
    value: str
    complaint: str = ""


def asked_figures(
    query: Mapping[str, str], askable: Mapping[str, Askable], units: DisplayUnits
) -> tuple[dict[str, float | None], list[AskedField]]:
    """Return what was given by name, in kept units, and the fields with what could not be read."""
    values: dict[str, float | None] = {}
    fields = []
    for name, one in askable.items():
        text, complaint = query.get(name, "").strip()[:LONGEST], ""
        values[name] = one.usual
        if text:
            try:
                figure = read_figure(units.in_kept(text, one.unit), unit=one.unit)
                if one.least <= figure <= one.most:
                    values[name] = figure
                else:
                    bounds = (Amount(f"{end:g}", one.unit) for end in (one.least, one.most))
                    complaint = "From {} to {}.".format(*bounds)
            except Refusal as refusal:
                complaint = refusal.message
        shown = text or ("" if one.usual is None else bare(plain(one.usual), one.unit))
        fields.append(AskedField(name, one.label, one.unit, shown, complaint))
    return values, fields
