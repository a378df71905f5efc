"""Starting in two fields: what is it, and which tire does it wear now.

A machine the shop knows by that name is taken from its sheet; a new one starts on assumed
figures, so that the first answer is there before the tape is out.
"""

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine import Kind
from jentrik.core.machine.suspension import ENDS
from jentrik.core.sheet.assumed import assumed_figures
from jentrik.core.sheet.sheet import DrawnAs
from jentrik.core.tirecode.found import Sidewall
from jentrik.core.tirecode.sidewall import read_code, read_sidewall
from jentrik.store import jobs, journal, machines
from jentrik.web.shop import Shop
from jentrik.web.typed_values import checked_name

USUAL_BUILD: dict[Kind, DrawnAs] = {"bicycle": DrawnAs.DIAMOND, "motorcycle": DrawnAs.ROADSTER}


def start_job(shop: Shop, what: str, tire: str) -> int:
    """Start a job with one empty proposal and return its id; refusals name `what` or `tire`."""
    name = checked_name(what)
    with shop.step(f"new job: {name}", f"{journal.STAYS} new job {name}") as step:
        step.machine_id = machines.named(name) or add_machine_on(step, shop, name, tire)
        job_id = jobs.add_job(step, machine_id=step.machine_id, wanted="", at=shop.now())
        jobs.add_proposal(step, job_id, {})
    return job_id


def add_machine_on(step: journal.Step, shop: Shop, name: str, tire: str) -> int:
    """Add a machine that wears this tire at both ends, on figures assumed until measured."""
    with blamed_on("tire"):
        reading, sidewall = read_code(tire), read_sidewall(tire)
    if reading.vehicle == "car":
        raise OutOfRange(
            "That is a car tire; this shop works on bicycles and motorcycles.",
            field="tire",
            expected="a bicycle or motorcycle tire code",
        )
    if reading.overall_diameter_mm is None:
        raise OutOfRange(
            f"“{tire}” names no width; add it, like 700x38C.",
            field="tire",
            expected="a tire code with a width",
        )
    kind = reading.vehicle
    machine_id = machines.add_machine(
        step, name=name, kind=kind, drawn_as=USUAL_BUILD[kind].value, at=shop.now()
    )
    figures = {f"{end}.{key}": value for end in ENDS for key, value in _written(sidewall).items()}
    for key, value in figures.items():
        figure = Figure(value, Provenance.MEASURED, shop.today)
        machines.set_figure(step, machine_id, key, figure)
    for key, assumed in assumed_figures(kind, reading).items():
        figure = Figure(assumed, Provenance.ASSUMED, shop.today)
        machines.set_figure(step, machine_id, key, figure)
    return machine_id


def _written(sidewall: Sidewall) -> dict[str, float | str]:
    """Return what a sheet keeps of a sidewall: its code alone, and the pressure it is limited to.

    With words that are not known the text stays as it was typed.
    """
    written: dict[str, float | str] = {
        "tire": sidewall.text if sidewall.unread or sidewall.code is None else sidewall.code
    }
    limits = [one.value for one in sidewall.quantities if one.kind == "pressure"]
    if limits:
        written["fitted.most_kpa"] = round(max(limits), 1)
    return written
