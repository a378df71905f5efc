"""What is written of the shop besides its policy: gauges in their drawers."""

from typing import Literal

from jentrik.core.errors import StoreError
from jentrik.devices.simulated import TOOL
from jentrik.exchange.photo import read_photo
from jentrik.store import gauges
from jentrik.store.photo_files import keep_photo
from jentrik.store.policy import SUBJECT, set_policy
from jentrik.web.live.command import Command
from jentrik.web.shop import Shop


def set_sign(shop: Shop, raw: bytes) -> None:
    """Keep the picture of the shop's sign, written anew without what it brought; none removes it.

    Refuses what is no picture, or too large a one.
    """
    name = keep_photo(shop.folder, read_photo(raw)) if raw else ""
    with shop.step("sign of the shop" if raw else "sign removed", f"{SUBJECT} sign") as step:
        set_policy(step, "head.sign", name, on=shop.today)


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
