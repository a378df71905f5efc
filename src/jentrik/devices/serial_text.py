"""A driver for tools that send their reading as a line of text over a serial line.

    12.34 mm      +0052.10      ST,GS,+  62.5kg      US,GS,+  61.8kg (not at rest: passed over)

Calipers, scales, angle finders and torque testers send such lines when asked, or all the time.  The
line is read by the same reader as a typed field, so a unit in it is understood.  pyserial opens the
line: a device such as /dev/ttyUSB0 or COM3, or `socket://host:port` for one on the network.
"""

import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import AbstractContextManager
from dataclasses import dataclass, field
from typing import Any, Protocol

import serial
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from jentrik.core.errors import DocumentError, OutOfRange
from jentrik.core.units import read_figure
from jentrik.devices.port import UNITS, GaugeError, GaugeQuantity, Place, Taken

WAIT_S, LONGEST_LINE = 5.0, 200


class Line(Protocol):
    """An open line: bytes out, and lines of bytes in; an empty one where nothing came in time."""

    def write(self, asked: bytes, /) -> int | None:
        """Send bytes."""

    def readline(self, most: int, /) -> bytes:
        """Return the next line."""


class Settings(BaseModel):
    """What the shop says of such a tool."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=60)
    quantity: GaugeQuantity
    device: str = Field(min_length=1, max_length=200)
    baud: int = 9600
    plus_minus: float = Field(ge=0)
    asks: str = Field(default="", max_length=20)  # what is sent to ask for a reading
    all_the_time: bool = False  # it sends without being asked: its first line may be cut off


@dataclass(frozen=True, slots=True)
class SerialText:
    """One tool on a serial line."""

    settings: Settings
    opened: Callable[[Settings], AbstractContextManager[Line]] = field(
        default=lambda settings: serial.serial_for_url(
            settings.device, baudrate=settings.baud, timeout=0.5
        )
    )
    clock: Callable[[], float] = time.monotonic

    @property
    def name(self) -> str:
        """What it is called in this shop."""
        return self.settings.name

    @property
    def quantity(self) -> GaugeQuantity:
        """What it measures."""
        return self.settings.quantity

    def read(self, place: Place) -> Taken:
        """Return the first reading at rest; refuses where none comes in a few seconds."""
        unit = UNITS[self.quantity]
        try:
            with self.opened(self.settings) as line:
                if self.settings.asks:
                    line.write(self.settings.asks.encode("ascii", "replace"))
                for text in self._lines(line):
                    value = _reading(text, unit)
                    if value is not None:
                        return Taken(value, self.settings.plus_minus, self.name)
        except (OSError, serial.SerialException) as error:
            raise GaugeError(
                f"{self.name}: no answer at {self.settings.device} ({error}).",
                expected="the tool plugged in and switched on",
            ) from None
        raise GaugeError(
            f"{self.name}: no reading at rest within {WAIT_S:.0f} seconds.",
            expected="the tool held still, and its send button pressed",
        )

    def _lines(self, line: Line) -> Iterator[str]:
        until, first = self.clock() + WAIT_S, self.settings.all_the_time
        while self.clock() < until:
            text = line.readline(LONGEST_LINE).decode("ascii", "replace").strip("\x00\x02\x03 \r\n")
            if text and not first:
                yield text
            first = first and not text


def _reading(text: str, unit: str) -> float | None:
    """Return what a line says; None where it is not at rest, or no reading."""
    try:
        return read_figure(text, unit=unit)
    except OutOfRange:
        return None


def from_settings(settings: Mapping[str, Any]) -> SerialText:
    """Return the tool a shop describes; refuses a description that is incomplete."""
    try:
        return SerialText(Settings.model_validate(settings))
    except ValidationError as error:
        first = error.errors()[0]
        name = ".".join(str(one) for one in first["loc"])
        raise DocumentError(
            f"A tool's “{name}” is missing or not what is wanted: {first['msg']}.",
            field=name,
            expected="name, quantity, device and plus_minus",
        ) from None
