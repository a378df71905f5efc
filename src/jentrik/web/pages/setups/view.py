"""What a machine is and was set up as, its wheels and its wheel sets."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from markupsafe import Markup

from jentrik.core.amounts import km
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet, wheel_in
from jentrik.core.machine.setup import Setup
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.tires_off import TireOff
from jentrik.core.machine.what_differs import what_differs
from jentrik.store.logbook import Log
from jentrik.store.machine_data import MachineData
from jentrik.web.drawing.setup_strip import setup_strip
from jentrik.web.figures import fixed

WHERE = {"machine": "on the machine", "owner": "in the owner's keeping", "shelf": "on the shelf"}


@dataclass(frozen=True, slots=True)
class SetupRow:
    """One set-up: its days, what it has on, what it differs in from the one before."""

    setup: Setup
    days: str
    tires: str
    differs: str
    now: bool


@dataclass(frozen=True, slots=True)
class SetRow:
    """One wheel set: its wheels in words, and whether it is on."""

    wheel_set: WheelSet
    says: str
    on: bool


@dataclass(frozen=True, slots=True)
class WheelRow:
    """One wheel: where it is, and what its tire has run."""

    wheel: KeptWheel
    where: str
    run: str


@dataclass(frozen=True, slots=True)
class SetupsView:
    """Set-ups with the newest first, wheel sets, and wheels."""

    rows: list[SetupRow]
    sets: list[SetRow]
    wheels: list[WheelRow]
    off: tuple[TireOff, ...]
    strip: Markup | None = None  # which ran when


def setups_view(data: MachineData) -> SetupsView:
    """Return what a machine is and was set up as; its logbook tells what each tire has run."""
    sheet, known = data.sheet, data.setups
    made_for = {
        position.name: position.bead_seat_diameter_mm
        for position in sheet.positions
        if position.bead_seat_diameter_mm is not None
    }
    rows = []
    for before, one in zip([None, *known], known, strict=False):
        changes = what_differs(before.parts, one.parts, made_for) if before else ()
        until = f"{one.until:%d %b %Y}" if one.until else "now"
        now = sheet.setup is not None and one.id == sheet.setup.id
        rows.append(
            SetupRow(
                one,
                f"{one.since:%d %b %Y} to {until}",
                ", ".join(f"{end} {_tire(one, end)}" for end in ENDS),
                "; ".join(change.words for change in changes),
                now,
            )
        )
    by_id = {wheel.id: wheel for wheel in data.wheels}
    parts = sheet.setup.parts if sheet.setup else {}
    on = {wheel_in(parts, end) for end in ENDS}
    return SetupsView(
        rows=list(reversed(rows)),
        sets=[_set_row(set_, by_id, on) for set_ in data.sets],
        wheels=[
            WheelRow(wheel, WHERE[wheel.kept], _run(sheet, wheel, data.log))
            for wheel in data.wheels
        ],
        off=data.off,
        strip=setup_strip(known, _last_day(sheet, known, data.log)) if known else None,
    )


def _last_day(sheet: Sheet, known: Sequence[Setup], log: Log) -> date:
    """Return the last day a machine is known on: of its set-ups, or of its odometer."""
    read = [reading.on for reading in log.odometer.get(sheet.id, ())]
    return max([one.until or one.since for one in known] + read)


def _run(sheet: Sheet, one: KeptWheel, log: Log) -> str:
    """Return the way a wheel's tire has gone on this machine, to the last odometer reading."""
    number = one.parts.get("set.tire_id")
    ran = log.run_km(sheet.id, int(float(number.value))) if number is not None else None
    if ran is None:
        return ""
    run, whole = ran
    last = log.odometer[sheet.id][-1].on
    says = f"{'' if whole else 'at least '}{km(fixed(run, 0))} to {last:%d %b %Y}"
    price = one.parts.get("set.price")
    if price is not None and whole and run > 0:
        says += f", {float(price.value) / run * 1000:.2f} for {km(1000)} so far"
    return says


def _tire(setup: Setup, end: str) -> str:
    figure = setup.parts.get(f"{end}.tire")
    return "?" if figure is None else str(figure.value)


def _set_row(one: WheelSet, by_id: dict[int, KeptWheel], on: set[int | None]) -> SetRow:
    said = [
        f"{end} {by_id[number].says}"
        for end in ENDS
        if (number := one.wheel(end)) is not None and number in by_id
    ]
    ids = {number for end in ENDS if (number := one.wheel(end)) is not None}
    return SetRow(one, "; ".join(said) or "its wheels are gone", ids <= on and bool(ids))
