"""What is written on a machine's sheet besides its fields."""

from pydantic import Field

from jentrik.core.errors import StoreError
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.figure import Provenance
from jentrik.devices.port import GaugeQuantity
from jentrik.store import machines
from jentrik.web.live.answers import Answers
from jentrik.web.live.command import Command
from jentrik.web.parts.gauging import figure_place, take
from jentrik.web.shop import Shop


class Gauged(Command):
    """The figure a gauge of the shop reads."""

    gauge: str = Field(examples=["front.tire_width_mm"])

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Fill a figure with what a gauge reads: value, ± and provenance."""
        sheet, key = machines.sheet(machine_id), self.gauge
        known = FIELD_BY_KEY.get(key)
        if known is None or known.gauge is None:
            raise StoreError("No tool of this shop measures that.", expected="a figure with a tool")
        (taken,) = take(shop, GaugeQuantity(known.gauge), figure_place(sheet, key))
        source = Provenance.SIMULATED if taken.simulated else Provenance.MEASURED
        label = f"{known.label.lower()} by {taken.gauge.lower()}: {taken.value:g}"
        with shop.step(label, f"machine {machine_id} gauge {key}", machine_id=machine_id) as step:
            answers = Answers(machines.sheet(machine_id), shop.today)
            for name, text in (
                (f"sheet:{key}", f"{taken.value:g} ± {taken.plus_minus:g}"),
                (f"from:{key}", source.value),
            ):
                for write in answers.read(name, text):
                    write.act(step)
