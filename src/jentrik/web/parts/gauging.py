"""Taking a reading: which tool goes with which figure, and what a stand-in finds there."""

from collections.abc import Callable
from pathlib import Path

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.wheel import UNCHANGED, WheelChange
from jentrik.core.plan.plan import Outcome
from jentrik.core.work.card import CardStep
from jentrik.core.work.policy import Policy, StandIns
from jentrik.core.work.template import StepPlan
from jentrik.core.work.wear import distances
from jentrik.devices.drawer import real_tools
from jentrik.devices.port import GaugeError, GaugeQuantity, Place, Taken
from jentrik.devices.simulated import OF_QUANTITY
from jentrik.store import gauges, logbook
from jentrik.store.policy import stored_policy
from jentrik.web.parts.tires_in_use import tires_in_use
from jentrik.web.shop import Shop

_OF_UNIT = {
    "mm": GaugeQuantity.LENGTH,
    "kPa": GaugeQuantity.PRESSURE,
    "°": GaugeQuantity.ANGLE,
    "kg": GaugeQuantity.LOAD,
}


def _has_stand_ins() -> bool:
    return stored_policy().stand_ins is StandIns.ON


def tools_of(folder: Path) -> frozenset[str]:
    """Return what can be read here: by a real tool, or by stand-ins the shop turned on."""
    if _has_stand_ins():
        return frozenset(quantity.value for quantity in GaugeQuantity)
    return frozenset(quantity.value for quantity in real_tools(folder))


QUANTITY_OF_UNIT = {unit: quantity.value for unit, quantity in _OF_UNIT.items()}


def take(shop: Shop, quantity: GaugeQuantity, *places: Place) -> list[Taken]:
    """Return readings of one tool at places; refuses where it gives none.

    A real tool is read where the shop has one, else its stand-in: how that is left is kept, and
    what the battery lost is kept even where the last reading was refused.
    """
    real = real_tools(shop.folder).get(quantity)
    if real is not None:
        return [real.read(place) for place in places]
    if not _has_stand_ins():
        raise GaugeError(
            f"This shop has no {OF_QUANTITY[quantity].name.lower()}: type what was read.",
            expected="a tool of the shop's own",
        )
    tool = gauges.gauge(OF_QUANTITY[quantity].id)
    tool.wait = shop.wait
    try:
        return [tool.read(place) for place in places]
    finally:
        with shop.step(f"reading: {tool.name.lower()}", f"gauge {tool.tool.id}") as step:
            gauges.put_back(step, tool)


def figure_place(sheet: Sheet, key: str) -> Place:
    """Return where a tool is held for a figure of a sheet."""
    figure = sheet.figures.get(key)
    return Place(sheet.id, key, None if figure is None else float(figure.value))


def tread_places(sheet: Sheet, end: End, policy: Policy) -> list[Place]:
    """Return the three places a tread is taken at: worn on since the last look."""
    tire = next(one for one in tires_in_use(sheet, logbook.log(sheet.id), policy) if one.end == end)
    last = tire.last.tread_mm if tire.last else None
    worn, rate = 0.0, tire.rate(0.0)
    if rate is not None and last is not None:
        log = logbook.log(sheet.id)
        driven = distances(log.odometer.get(sheet.id, ()), log.corrections(sheet.id))
        since = driven[-1][1] - rate.last.km if driven else 0.0
        worn = max(since, 0.0) / 1000 * rate.mm_per_1000_km
    return [
        Place(sheet.id, f"{end} tread {name}", None if last is None else max(mm - worn, 0.0))
        for name, mm in zip(("left", "middle", "right"), last or (0.0, 0.0, 0.0), strict=True)
    ]


def pressure_place(sheet: Sheet, end: End) -> Place:
    """Return where a cold pressure is taken: what the placard says, some of it lost."""
    figure = sheet.figures.get(f"spec.{end}.pressure_kpa")
    return Place(
        sheet.id, f"{end} pressure", None if figure is None else float(figure.value) * 0.95
    )


def step_reading(
    shop: Shop, sheet: Sheet, step: CardStep, outcome: Outcome | None, torque_nm: float | None
) -> Taken:
    """Return what a tool reads for a step of a card.

    On a step with a fastener the wrench is read, once its torque was written from the maker.
    """
    plan = step.plan
    if plan.fastener and not plan.reading:
        if torque_nm is None:
            raise OutOfRange(
                "Write the maker's torque first; the wrench only confirms it.",
                expected="a torque from the maker or the part",
            )
        (taken,) = take(shop, GaugeQuantity.TORQUE, Place(sheet.id, plan.fastener, torque_nm))
        return taken
    quantity = _OF_UNIT.get(plan.unit)
    if quantity is None:
        raise OutOfRange("No tool of this shop reads that.", expected="a figure typed by hand")
    true = _true_of(plan, sheet, outcome)
    (taken,) = take(shop, quantity, Place(sheet.id, f"{plan.text} {plan.reading}", true))
    return taken


def _true_of(plan: StepPlan, sheet: Sheet, outcome: Outcome | None) -> float | None:
    """Return what a stand-in finds for a step: a gap, a pressure, a runout, a lean."""
    if outcome is None:
        return None
    for spot in outcome.figures.clearances:
        if plan.measures == f"place:{spot.place.name}" and spot.predicted_gap_mm is not None:
            return max(float(spot.predicted_gap_mm), 0.0)
    end = _end_of(plan.text, outcome)
    wheel, placard = outcome.figures.wheels.at(end), sheet.figures.get(f"spec.{end}.pressure_kpa")
    lean = outcome.figures.stand_lean_deg
    found: dict[str, Callable[[], float | None]] = {
        "cold pressure": lambda: None if placard is None else float(placard.value),
        "rim runout": lambda: wheel.hub.runout_mm,
        "ring runout": lambda: wheel.sensor.runout_mm,
        "lean": lambda: lean,
    }
    return next((known() for word, known in found.items() if plan.reading.startswith(word)), None)


def _end_of(text: str, outcome: Outcome) -> End:
    """Return the wheel a step is about: the one it names, else the one that is changed."""
    said = [end for end in ENDS if end in text.casefold().split()]
    changes: dict[End, WheelChange] = {
        "front": outcome.proposal.front,
        "rear": outcome.proposal.rear,
    }
    changed = [end for end in ENDS if changes[end] != UNCHANGED]
    return (said or changed or ["rear"])[0]
