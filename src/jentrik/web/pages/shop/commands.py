"""What is written of the shop besides its policy: gauges in their drawers."""

from typing import Literal

from jentrik.core.errors import StoreError
from jentrik.devices.simulated import TOOL
from jentrik.store import gauges
from jentrik.web.live.command import Command
from jentrik.web.shop import Shop


class GaugeSet(Command):
    """What is done with a gauge."""

    act: Literal["switch", "zero", "charge"]

    def carry_out(self, shop: Shop, tool: str) -> None:
        """Switch a gauge on or off, zero it, or charge it."""
        if tool not in TOOL:
            raise StoreError("There is no such gauge.", expected="a gauge of the list")
        with shop.step("", f"gauge {tool}") as step:
            gauge = gauges.gauge(tool)
            step.label = f"{gauge.name.lower()}: {self.act}"
            if self.act == "switch":
                gauge.on = not gauge.on
            elif self.act == "zero":
                gauge.zero_error = 0.0
            else:
                gauge.battery_percent = 100.0
            gauges.put_back(step, gauge)
