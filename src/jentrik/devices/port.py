"""What a measuring tool is to this program: it says what it measures, and gives a reading.

A driver for a real tool implements `Gauge`; nothing else of the program changes.  A tool may take
its time, be switched off, be flat, or have nothing to measure: then it refuses with one sentence.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from jentrik.core.errors import Refusal


class GaugeQuantity(StrEnum):
    """What a gauge measures."""

    TREAD = "tread"
    ANGLE = "angle"
    LENGTH = "short length"
    PRESSURE = "pressure"
    TORQUE = "torque"
    LOAD = "axle load"
    TRUE_SPEED = "true speed"
    SHOWN_SPEED = "shown speed"


UNITS: dict[GaugeQuantity, str] = {
    GaugeQuantity.TREAD: "mm",
    GaugeQuantity.ANGLE: "°",
    GaugeQuantity.LENGTH: "mm",
    GaugeQuantity.PRESSURE: "kPa",
    GaugeQuantity.TORQUE: "N·m",
    GaugeQuantity.LOAD: "kg",
    GaugeQuantity.TRUE_SPEED: "km/h",
    GaugeQuantity.SHOWN_SPEED: "km/h",
}


class GaugeError(Refusal):
    """A tool that gives no reading: off, flat, out of its range, or nothing there."""


@dataclass(frozen=True, slots=True)
class Place:
    """Where the tool is held: the machine, the figure, and its state there for a stand-in.

    `true` is what a stand-in finds there; a real driver ignores it.
    """

    machine_id: int
    key: str
    true: float | None = None


@dataclass(frozen=True, slots=True)
class Taken:
    """One reading in the quantity's unit, and what the tool is worth."""

    value: float
    plus_minus: float
    gauge: str
    simulated: bool = False  # by a stand-in: no measurement


class Gauge(Protocol):
    """A measuring tool."""

    @property
    def name(self) -> str:
        """What it is called in this shop."""

    @property
    def quantity(self) -> GaugeQuantity:
        """What it measures."""

    def read(self, place: Place) -> Taken:
        """Return a reading; refuses with `GaugeError` where it can give none."""
