"""Starting in a few fields: what it is, the tires it wears now, and what it is built like.

A machine the shop knows by that name is taken from its sheet; a new one starts on assumed
figures, so that the first answer is there before the tape is out.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from jentrik.core.errors import OutOfRange, Refusal, blamed_on
from jentrik.core.machine.assumed import assumed_figures
from jentrik.core.machine.declared import Kind
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.sheet import BUILDS, DrawnAs
from jentrik.core.tire.found import Sidewall
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code, read_code, read_sidewall
from jentrik.store import jobs, journal, machines
from jentrik.web.live.typed_values import checked_name
from jentrik.web.shop import Shop

USUAL_BUILD: dict[Kind, DrawnAs] = {"bicycle": DrawnAs.DIAMOND, "motorcycle": DrawnAs.ROADSTER}


@dataclass(frozen=True, slots=True)
class Newcomer:
    """What is said of a machine that comes in: its name, its tires, the build it is like."""

    name: str
    front: str
    rear: str = ""
    build: str = ""


class SameName(OutOfRange):
    """A name the shop knows with other tires: the same machine, or another one of that name."""


def start_job(
    shop: Shop, what: str, tire: str, rear: str = "", build: str = "", same: str = ""
) -> int:
    """Start a job with one empty proposal and return its id; refusals name the field.

    A name that is known with other tires is asked about, unless `same` says that it is the "same"
    machine with new tires, or "another" one, which is given a name of its own.
    """
    name = checked_name(what)
    with shop.step(f"new job: {name}", f"{journal.STAYS} new job {name}") as step:
        known = machines.named(name)
        if known is not None and same == "another":
            name, known = machines.free_name(name), None
        if known is not None:
            _wears(step, shop, known, {"front": tire, "rear": rear}, same)
        came = Newcomer(name, tire, rear, build)
        step.machine_id = known or add_machine_on(step, shop, came)
        job_id = jobs.add_job(step, machine_id=step.machine_id, wanted="", at=shop.now())
        jobs.add_proposal(step, job_id, {})
    return job_id


def _wears(
    step: journal.Step, shop: Shop, machine_id: int, typed: Mapping[str, str], same: str
) -> None:
    """Write the tires a known machine wears now within a step, once it is said to be the same."""
    sheet = machines.sheet(machine_id)
    new = {}
    for end, text in typed.items():
        old = sheet.text(f"{end}.tire") or ""
        if text.strip() and not _alike(old, end, text):
            new[end] = (old, text)
    if not new:
        return
    if same != "same":
        said = ", ".join(f"{end} {old or 'unknown'} → {text}" for end, (old, text) in new.items())
        raise SameName(
            f"The shop knows “{sheet.name}” with other tires ({said}). Is it the same machine with "
            "new tires, or another one?",
            field="name",
            expected="“same” or “another”",
        )
    for end, (_, text) in new.items():
        _, _, sidewall = _tire_of("tire" if end == "front" else "rear", text)
        for key, value in _written(sidewall).items():
            figure = Figure(value, Provenance.MEASURED, shop.today)
            machines.set_figure(step, machine_id, f"{end}.{key}", figure)


def _alike(old: str, end: str, typed: str) -> bool:
    """Whether a text names the tire size of a code on file; refuses one that cannot be read."""
    with blamed_on("tire" if end == "front" else "rear"):
        now = read_code(typed)
    try:
        before = known_code(old)
    except Refusal:
        return False
    return (before.width_mm, before.bead_seat_diameter_mm, before.aspect_percent) == (
        now.width_mm,
        now.bead_seat_diameter_mm,
        now.aspect_percent,
    )


def add_machine_on(step: journal.Step, shop: Shop, came: Newcomer) -> int:
    """Add a machine with the tires it wears, on figures assumed until measured.

    A rear tire no one named is assumed to be like the front one.
    """
    kind, reading, sidewall = _tire_of("tire", came.front)
    rear_kind, _, rear_sidewall = (
        _tire_of("rear", came.rear) if came.rear else (kind, reading, sidewall)
    )
    if rear_kind != kind:
        raise OutOfRange(
            f"The front tire is of a {kind}, the rear one of a {rear_kind}.",
            field="rear",
            expected=f"a {kind} tire code",
        )
    build = next((one for one in BUILDS[kind] if one.value == came.build), None)
    if came.build and build is None:
        raise OutOfRange(
            f"A {kind} is not built as “{came.build[:40]}”.",
            field="build",
            expected=f"a build of a {kind}, or none",
        )
    machine_id = machines.add_machine(
        step, name=came.name, kind=kind, drawn_as=(build or USUAL_BUILD[kind]).value, at=shop.now()
    )
    named = Provenance.MEASURED if came.rear else Provenance.ASSUMED
    for end, side, provenance in (
        ("front", sidewall, Provenance.MEASURED),
        ("rear", rear_sidewall, named),
    ):
        for key, value in _written(side).items():
            figure = Figure(value, provenance, shop.today)
            machines.set_figure(step, machine_id, f"{end}.{key}", figure)
    for key, assumed in assumed_figures(kind, reading, build).items():
        figure = Figure(assumed, Provenance.ASSUMED, shop.today)
        machines.set_figure(step, machine_id, key, figure)
    return machine_id


def copy_machine(shop: Shop, machine_id: int, what: str) -> int:
    """Add a machine like another in its figures, all of them assumed; return its id."""
    name = checked_name(what)
    with shop.step(f"new machine: {name}", f"{journal.STAYS} new machine {name}") as step:
        like = machines.sheet(machine_id)
        step.machine_id = copied = machines.add_machine(
            step, name=name, kind=like.kind, drawn_as=like.drawn_as.value, at=shop.now()
        )
        for key, figure in like.figures.items():
            if figure.provenance is Provenance.COMPUTED and not figure.measured_in:
                continue
            if key.startswith(("set.front.", "set.rear.", "rider")):
                continue  # of that very machine and its rider
            kept = Provenance.MAKER if figure.provenance is Provenance.MAKER else Provenance.ASSUMED
            machines.set_figure(step, copied, key, Figure(figure.value, kept, shop.today))
    return copied


def _tire_of(field: str, text: str) -> tuple[Kind, Reading, Sidewall]:
    """Return what a tire is for and as it reads; refuses a car's, and one without a width."""
    with blamed_on(field):
        reading, sidewall = read_code(text), read_sidewall(text)
    if reading.vehicle == "car":
        raise OutOfRange(
            "That is a car tire; this shop works on bicycles and motorcycles.",
            field=field,
            expected="a bicycle or motorcycle tire code",
        )
    if reading.overall_diameter_mm is None:
        raise OutOfRange(
            f"“{text}” names no width; add it, like 700x38C.",
            field=field,
            expected="a tire code with a width",
        )
    return reading.vehicle, reading, sidewall


def _written(sidewall: Sidewall) -> dict[str, float | str]:
    """Return what a sheet keeps of a sidewall: its code alone, and the pressure it is limited to.

    With words that are not known the text stays as it was typed.
    """
    written: dict[str, float | str] = {
        "tire": sidewall.text if sidewall.unread or sidewall.code is None else sidewall.code
    }
    limits = [quantity.value for quantity in sidewall.quantities if quantity.kind == "pressure"]
    if limits:
        written["fitted.most_kpa"] = round(max(limits), 1)
    return written
