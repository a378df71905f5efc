"""Stand-ins for measuring tools, which behave like tools.

Each takes time, rounds to its resolution, scatters, has a zero error until it is zeroed, uses up
its battery, and gives nothing while it is off or flat.  What it measures is the machine's real
state: its sheet, off by what the sheet does not know.  Figures of the tools: common practice.
"""

import hashlib
import random
import time
from collections.abc import Callable
from dataclasses import dataclass

from jentrik.devices.port import GaugeError, GaugeQuantity, Place, Taken


@dataclass(frozen=True, slots=True)
class Tool:
    """What a kind of tool is like: its quantity, resolution, scatter, range, seconds a reading.

    `hidden` is how far the machine's real state may lie from what its sheet says.
    """

    id: str
    name: str
    quantity: GaugeQuantity
    resolution: float
    scatter: float
    least: float
    most: float
    seconds: float
    hidden: float
    usual_zero_error: float


TOOLS: tuple[Tool, ...] = (
    Tool("tread", "Tread-depth gauge", GaugeQuantity.TREAD, 0.1, 0.05, 0, 25, 0.4, 0.05, 0.1),
    Tool("angle", "Digital angle finder", GaugeQuantity.ANGLE, 0.1, 0.05, -90, 90, 0.8, 0.15, 0.3),
    Tool("calipers", "Calipers", GaugeQuantity.LENGTH, 0.05, 0.05, 0, 200, 0.5, 0.4, 0.0),
    Tool("pressure", "Pressure gauge", GaugeQuantity.PRESSURE, 1, 0.8, 0, 1000, 0.6, 4, 2),
    Tool("torque", "Torque wrench", GaugeQuantity.TORQUE, 0.1, 0.6, 2, 210, 0.7, 0, 0.0),
    Tool("scale", "Axle scale", GaugeQuantity.LOAD, 0.5, 0.4, 0, 600, 1.2, 2, 1),
    Tool("logger", "GPS logger", GaugeQuantity.TRUE_SPEED, 0.1, 0.15, 0, 400, 1.0, 0, 0.0),
    Tool("reader", "Instrument reader", GaugeQuantity.SHOWN_SPEED, 0.5, 0.2, 0, 400, 0.5, 0, 0.0),
)
TOOL = {tool.id: tool for tool in TOOLS}
OF_QUANTITY = {tool.quantity: tool for tool in TOOLS}
PERCENT_A_READING = 2.0


@dataclass(slots=True)
class Simulated:
    """One stand-in as it lies in the drawer: switched on or off, its zero error, its battery."""

    tool: Tool
    on: bool = True
    zero_error: float = 0.0
    battery_percent: float = 100.0
    wait: Callable[[float], None] = time.sleep
    chance: Callable[[], random.Random] = random.Random

    @property
    def name(self) -> str:
        """What it is called."""
        return self.tool.name

    @property
    def quantity(self) -> GaugeQuantity:
        """What it measures."""
        return self.tool.quantity

    def read(self, place: Place) -> Taken:
        """Return a reading of the machine's real state."""
        if not self.on:
            raise GaugeError(f"{self.name}: switched off.", expected="it on")
        if self.battery_percent < PERCENT_A_READING:
            raise GaugeError(f"{self.name}: the battery is flat.", expected="a charge")
        if place.true is None:
            raise GaugeError(
                f"There is nothing to measure there with the {self.name.lower()}: a stand-in "
                "knows the demo machine by its sheet only.",
                expected="a figure on the sheet to go by",
            )
        self.wait(self.tool.seconds)
        self.battery_percent -= PERCENT_A_READING
        chance = self.chance()
        real = place.true + _hidden(self.tool, place, place.true)
        raw = real + self.zero_error + chance.gauss(0.0, self.tool.scatter)
        value = round(raw / self.tool.resolution) * self.tool.resolution
        if not self.tool.least <= value <= self.tool.most:
            raise GaugeError(
                f"{self.name}: that is outside what can be measured, {self.tool.least:g} to "
                f"{self.tool.most:g}.",
                expected="another tool, or its zero set",
            )
        worth = (self.tool.resolution / 2) + 2 * self.tool.scatter
        return Taken(round(value, 3), round(worth, 2), self.name, simulated=True)


def _hidden(tool: Tool, place: Place, true: float) -> float:
    """Return how far the real machine lies from its sheet there: always the same for one place.

    Never more than a tenth of the figure, so that a runout stays a runout (common practice).
    """
    mark = hashlib.sha256(f"{tool.id} {place.machine_id} {place.key}".encode()).digest()
    share = int.from_bytes(mark[:4], "big") / 2**32 * 2 - 1
    return share * min(tool.hidden, abs(true) / 10)
