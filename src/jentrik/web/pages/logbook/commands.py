"""What is written in the logbook of a machine."""

from typing import Literal

from pydantic import Field

from jentrik.core.amounts import Amount
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.sheet import Sheet
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.inspection import NOTHING_FOUND, Inspection, Look
from jentrik.core.work.wear import Odometer
from jentrik.store import logbook, look_again, machines
from jentrik.store.journal import Step
from jentrik.web.live.command import Command, Day, Km, Kpa, Mm, Note
from jentrik.web.live.typed_values import noted, words
from jentrik.web.shop import Shop


class Entry(Command):
    """An entry of the log: written within one step, under its own words."""

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Write the entry, all of it or nothing."""
        machines.sheet(machine_id)
        with shop.step("", f"machine {machine_id} log", machine_id=machine_id) as step:
            step.label = self.write(step, shop, machines.sheet(machine_id))

    def write(self, step: Step, shop: Shop, sheet: Sheet) -> str:
        """Write within a step, and return it in words."""
        raise NotImplementedError


class Inspected(Entry):
    """A tire inspected: before it is mounted, or at intervals."""

    end: Literal["front", "rear"]
    look: Look = Look.PERIODIC
    on: Day | None = None
    tire: str | None = Field(default=None, description="Of a tire still to be mounted")
    tread_left_mm: Mm | None = Field(default=None, examples=[4.2])
    tread_middle_mm: Mm | None = Field(default=None, examples=[3.8])
    tread_right_mm: Mm | None = Field(default=None, examples=[4.1])
    signs: list[str] = Field(default_factory=list, examples=[[NOTHING_FOUND]])
    pressure_kpa: Kpa | None = Field(default=None, examples=[230])
    made: str | None = Field(default=None, examples=["0824"])
    km: Km | None = None
    note: Note = ""

    _simulated: bool = False

    def as_read(self, *, simulated: bool) -> "Inspected":
        """Return it with whether a stand-in of a tool read it."""
        self._simulated = simulated
        return self

    def write(self, step: Step, shop: Shop, sheet: Sheet) -> str:
        """Keep the inspection, and the odometer where it was read."""
        new = self.look is Look.RECEIVING and self.tire
        look = Inspection(
            end=self.end,
            look=self.look,
            on=self.on or shop.today,
            tire=read_code(" ".join(self.tire.split())).text
            if new and self.tire
            else sheet.text(f"{self.end}.tire") or "",
            tread_mm=self._treads(),
            signs=tuple(self.signs),
            pressure_kpa=self.pressure_kpa,
            made=self.made or None,
            km=self.km,
            by=shop.who,
            note=noted(self.note),
            simulated=self._simulated,
        )
        logbook.add_look(step, sheet.id, look, today=shop.today)
        if look.km is not None:
            logbook.add_odometer(step, sheet.id, Odometer(look.on, look.km), today=shop.today)
        return f"inspect the {self.end} tire"

    def _treads(self) -> tuple[float, float, float] | None:
        left, middle, right = self.tread_left_mm, self.tread_middle_mm, self.tread_right_mm
        if left is None and middle is None and right is None:
            return None
        if left is None or middle is None or right is None:
            raise OutOfRange(
                "Tread is taken at three places: left, middle and right.",
                field="tread",
                expected="three depths",
            )
        return left, middle, right


class OdometerRead(Entry):
    """What stands on the odometer, in km as counted."""

    km: Km = Field(examples=[12400])
    on: Day | None = None
    swapped: bool = Field(default=False, description="Another instrument counts from here on")

    def write(self, step: Step, shop: Shop, sheet: Sheet) -> str:
        """Keep the reading."""
        reading = Odometer(self.on or shop.today, self.km, swapped=self.swapped)
        logbook.add_odometer(step, sheet.id, reading, today=shop.today)
        look_again.bring_forward(step, sheet.id, shop.today)
        return f"odometer {Amount(self.km, 'km')}"


class OdometerChecked(Entry):
    """What the odometer counted over a known distance."""

    counted_km: Km
    true_km: Km
    on: Day | None = None

    def write(self, step: Step, shop: Shop, sheet: Sheet) -> str:
        """Keep both distances."""
        logbook.add_check(
            step,
            sheet.id,
            on=self.on or shop.today,
            counted_km=self.counted_km,
            true_km=self.true_km,
            today=shop.today,
        )
        return "odometer checked"


class Punctured(Entry):
    """A puncture: what was found, and what was done."""

    end: Literal["front", "rear"]
    what: str = Field(examples=["glass in the tread"])
    done: str = Field(examples=["new tube"])
    on: Day | None = None

    def write(self, step: Step, shop: Shop, sheet: Sheet) -> str:
        """Keep the puncture and what became of it."""
        what, done = noted(self.what), words(" ".join(self.done.split()))
        if not what or not done:
            raise OutOfRange(
                "Say what was found and what was done.",
                field="puncture",
                expected="a few words each",
            )
        on = self.on or shop.today
        logbook.add_puncture(
            step, sheet.id, end=self.end, on=on, what=what, done=done, by=shop.who, today=shop.today
        )
        return f"puncture {self.end}"


class Standing(Entry):
    """Since when a machine stands, or that it is ridden again."""

    on: Day | None = None
    ridden: bool = False

    def write(self, step: Step, shop: Shop, sheet: Sheet) -> str:
        """Note it."""
        since = None if self.ridden else self.on or shop.today
        logbook.stand(step, sheet.id, since, today=shop.today)
        return "ridden again" if since is None else f"stands since {since}"


ENTRIES: dict[str, type[Entry]] = {  # as programs name them
    "odometer": OdometerRead,
    "inspection": Inspected,
    "odometer_check": OdometerChecked,
    "puncture": Punctured,
    "standing": Standing,
}
