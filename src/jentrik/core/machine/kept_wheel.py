"""A wheel as a thing: what it is made of, where it hangs, and what it is ridden with.

While it is on a machine its figures are those of the set-up; off it, it keeps them.  Figures are
keyed as on a sheet, without the end: ``tire``, ``rim.inner_width_mm``, ``hub.rotor_mm``,
``tone_ring_slots``, ``fitted.pressure_kpa``, ``set.insert``.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal

from jentrik.core.amounts import mm
from jentrik.core.machine.declared import End, Part
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.setup import Parts, part_of

Kept = Literal["machine", "owner", "shelf"]
KEPT: tuple[Kept, ...] = ("machine", "owner", "shelf")
OF_A_WHEEL = (Part.WHEEL, Part.TIRE, Part.INSERT, Part.ROTOR, Part.TONE_RING, Part.PRESSURE)


@dataclass(frozen=True, slots=True)
class KeptWheel:
    """A wheel by its number: its name, which end it is made for, where it is, its figures.

    `place` is where it hangs, `job_id` the job it is reserved for.
    """

    id: int
    name: str
    end: End
    kept: Kept
    parts: Mapping[str, Figure]
    machine_id: int | None = None
    place: str = ""
    price: Decimal | None = None
    job_id: int | None = None
    photo: str = ""

    @property
    def on(self) -> bool:
        """Whether it is on a machine."""
        return self.kept == "machine"

    def text(self, key: str) -> str:
        """Return a figure as it was written; nothing where it is not known."""
        figure = self.parts.get(key)
        return "" if figure is None else str(figure.value)

    @property
    def says(self) -> str:
        """The wheel in a few words: its tire, and its rotor where it is known."""
        rotor = self.parts.get("hub.rotor_mm")
        said = [self.text("tire") or "no tire"]
        said += [f"rotor {mm(rotor.value):g}"] if rotor else []
        return ", ".join(said)


@dataclass(frozen=True, slots=True)
class WheelSet:
    """A named pair of wheels of one machine; None where one of them is gone."""

    id: int
    name: str
    front_id: int | None
    rear_id: int | None

    def wheel(self, end: End) -> int | None:
        """Return the number of its wheel at one end."""
        return self.front_id if end == "front" else self.rear_id


def wheel_parts(parts: Parts, end: End) -> dict[str, Figure]:
    """Return what of a set-up is of the wheel at one end, without the end in its keys."""
    return {
        _bare(key, end): figure
        for key, figure in parts.items()
        if (known := part_of(key)) and known[1] == end and known[0] in OF_A_WHEEL
    }


def _bare(key: str, end: End) -> str:
    if key.startswith("set."):
        return f"set.{key.removeprefix(f'set.{end}.')}"
    return key.removeprefix(f"{end}.")


def with_wheel(parts: Parts, end: End, wheel: KeptWheel, *, on: date) -> dict[str, Figure]:
    """Return a set-up with a wheel in it: all of its figures, and none of the one that was."""
    gone = {_keyed(key, end) for key in wheel_parts(parts, end)}
    new = {key: figure for key, figure in parts.items() if key not in gone}
    new |= {_keyed(key, end): figure for key, figure in wheel.parts.items()}
    new[f"set.{end}.wheel"] = Figure(float(wheel.id), Provenance.MEASURED, on)
    return new


def _keyed(key: str, end: End) -> str:
    if key.startswith("set."):
        return f"set.{end}.{key.removeprefix('set.')}"
    return f"{end}.{key}"


def wheel_in(parts: Parts, end: End) -> int | None:
    """Return the number of the wheel a set-up has at one end; None where it has none."""
    figure = parts.get(f"set.{end}.wheel")
    return None if figure is None else int(float(figure.value))
