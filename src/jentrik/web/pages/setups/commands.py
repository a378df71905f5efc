"""Wheel sets, put on and taken off; set-ups named and gone back to; a machine's own picture."""

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.declared import ENDS, End, Part
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.kept_wheel import OF_A_WHEEL, wheel_in
from jentrik.core.machine.setup import Setup, differences, part_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.assembly import READY
from jentrik.core.work.card import card_steps, km_now
from jentrik.core.work.set_card import TEMPLATE as SET_ON
from jentrik.core.work.set_card import Remembered, set_steps
from jentrik.exchange.photo import read_photo
from jentrik.store import cards, documents, jobs, logbook, machines, setups, wheels
from jentrik.store.fitting import worked_out
from jentrik.store.journal import Step
from jentrik.store.photo_files import keep_photo
from jentrik.store.proposing import propose_set, propose_setup, propose_wheels
from jentrik.web.live.command import Command, MaybeCode, Name
from jentrik.web.live.typed_values import Holds, checked_name, held, words
from jentrik.web.pages.card.commands import set_on_subject
from jentrik.web.pages.card.view import FROM_CHANGES
from jentrik.web.shop import Shop

STANDARD = "Standard"  # the wheels that are on when a second pair comes
# Of a new wheel: field of the form, key of the wheel, what it holds.
WHEEL_FIELDS: tuple[tuple[str, str, Holds], ...] = (
    ("inner_width", "rim.inner_width_mm", "mm"),
    ("rotor", "hub.rotor_mm", "mm"),
    ("slots", "tone_ring_slots", ""),
    ("kpa", "fitted.pressure_kpa", "kPa"),
    ("two_up", "fitted.two_up_kpa", "kPa"),
    ("make", "fitted.make", words),
    ("build", "rim.build", ("laced", "cast")),
)


class NewSet(Command):
    """A wheel set: the wheels that are on under a name, or wheels beside them."""

    name: Name = Field(examples=["Winter wheels"])
    which: Literal["on", "new"] = "new"
    front_tire: MaybeCode | None = Field(default=None, examples=["35-622"])
    rear_tire: MaybeCode | None = Field(default=None, examples=["35-622"])
    front: dict[str, str | float] = Field(
        default_factory=dict, description="inner_width, rotor, slots, kpa, two_up, make, build"
    )
    rear: dict[str, str | float] = Field(default_factory=dict)

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Keep a second wheel set, or name the wheels that are on."""
        name = checked_name(self.name)
        with shop.step(
            f"wheel set “{name}”", f"machine {machine_id} set", machine_id=machine_id
        ) as step:
            sheet = machines.sheet(machine_id)
            if self.which == "on":
                wheels.number_wheels(step, machine_id, name=name, on=shop.today)
                now = wheels.wheels_of(machines.sheet(machine_id))
                there = {one.end: one.id for one in now if one.on}
            else:
                self._name_those_on(step, shop, machine_id)
                there = self._new_wheels(step, shop, machine_id, name)
            wheels.add_set(step, sheet.id, name=name, wheels=there)

    def _name_those_on(self, step: Step, shop: Shop, machine_id: int) -> None:
        """Name the wheels that are on as a set, where a second pair is made and they have none."""
        wheels.number_wheels(step, machine_id, name=STANDARD, on=shop.today)
        on = {one.end: one.id for one in wheels.wheels_of(machines.sheet(machine_id)) if one.on}
        known = wheels.sets_of(machine_id)
        named = any(on.get(end) == one.wheel(end) for one in known for end in ENDS)
        if on and not named and STANDARD not in [one.name for one in known]:
            wheels.add_set(step, machine_id, name=STANDARD, wheels=on)

    def _new_wheels(self, step: Step, shop: Shop, machine_id: int, name: str) -> dict[End, int]:
        there: dict[End, int] = {}
        said: tuple[tuple[End, str | None, dict[str, str | float]], ...] = (
            ("front", self.front_tire, self.front),
            ("rear", self.rear_tire, self.rear),
        )
        for end, tire, more in said:
            code = " ".join((tire or "").split())
            if code:
                there[end] = wheels.add_wheel(
                    step,
                    machine_id,
                    end=end,
                    name=f"{name}, {end}",
                    kept="owner",
                    parts=_wheel_parts(shop, end, code, more),
                    on=shop.today,
                )
        if not there:
            raise OutOfRange(
                "A wheel set has at least one wheel: say its tire.",
                field="set",
                expected="a tire code, front or rear",
            )
        return there


def _wheel_parts(
    shop: Shop, end: End, code: str, more: Mapping[str, str | float]
) -> dict[str, Figure]:
    """Return the figures of a new wheel."""
    seat = float(known_code(code).bead_seat_diameter_mm)
    parts = {
        "tire": Figure(code, Provenance.MEASURED, shop.today),
        "rim.bead_seat_diameter_mm": Figure(seat, Provenance.ASSUMED, shop.today),
    }
    for field, key, holds in WHEEL_FIELDS:
        said = more.get(field, "")
        typed = " ".join((said if isinstance(said, str) else f"{said:.15g}").split())
        if not typed:
            continue
        unit = holds if isinstance(holds, str) else ""
        value = held(holds, shop.units.in_kept(typed, unit), key=key)
        if not isinstance(value, str):
            check_key(f"{end}.{key}", value)
        parts[key] = Figure(value, Provenance.MEASURED, shop.today)
    return parts


class PutOn(Command):
    """Which wheel set is put on."""

    set: int

    def carry_out(self, shop: Shop, machine_id: int) -> int:
        """Put a set on and return the job; one that is being put on leads to its job."""
        with shop.step(
            "wheels changed",
            set_on_subject(machine_id),
            machine_id=machine_id,
            visit=f"set on {shop.now().isoformat()}",  # what the last press does goes with it
        ) as step:
            known = wheels.wheel_set(machine_id, self.set)
            takes: dict[str, int] = {
                end: number for end in ENDS if (number := known.wheel(end)) is not None
            }
            at_work = _being_done(machine_id, takes)
            if at_work is not None:
                return at_work
            step.label = f"“{known.name}” on"
            wheels.number_wheels(step, machine_id, name="Wheels as found", on=shop.today)
            job_id = jobs.add_job(
                step, machine_id=machine_id, wanted=f"{known.name} on", at=shop.now()
            )
            name = propose_set(step, job_id, machine_id, known)
            put_on_card(step, shop, job_id, name)
        return job_id


def put_on_card(step: Step, shop: Shop, job_id: int, name: str) -> None:
    """Make the card of wheels put on within a step: a short one where they were on before."""
    there = documents.on_bench(jobs.job(job_id), shop.policy, shop.today)
    kept = there.job.proposal(name)
    assert kept is not None
    found, outcome = worked_out(there, kept)
    machine_id = there.sheet.id
    takes: dict[str, int] = {end: kept.takes[end] for end in outcome.proposal.owned}
    template, torques = FROM_CHANGES, cards.torques_of(machine_id)
    steps = card_steps(found.bike, outcome, cards.templates(), policy=shop.policy)
    last_km = logbook.last_km(machine_id)
    steps = (*km_now(last_km, READY), *steps)
    then = wheels.last_on(machine_id, takes)
    if then is not None:
        settled = cards.settled_of(machine_id, takes)
        known = Remembered(torques, settled, set_otherwise(there.sheet, then), last_km)
        template, steps = SET_ON, set_steps(found.bike, outcome, known, shop.policy)
    cards.make_card(
        step,
        there.job.id,
        proposal=kept.name,
        template=template,
        steps=steps,
        at=shop.now(),
        torques=torques,
    )


def set_otherwise(sheet: Sheet, then: Setup) -> dict[str, float]:
    """Return sag and damper clicks of an earlier set-up that are other ones now, by key."""
    now = sheet.setup.parts if sheet.setup else {}
    return {
        key: float(figure.value)
        for key, figure in then.parts.items()
        if (of := part_of(key)) is not None
        and of[0] is Part.SAG
        and (key not in now or now[key].value != figure.value)
    }


class GoneBack(Command):
    """Which earlier set-up is proposed again."""

    setup: int

    def carry_out(self, shop: Shop, machine_id: int) -> int:
        """Propose an earlier set-up and return the job; one proposed leads to its job."""
        with shop.step(
            "back to before",
            set_on_subject(machine_id),
            machine_id=machine_id,
            visit=f"back {shop.now().isoformat()}",
        ) as step:
            setup = setups.setup(machine_id, self.setup)
            takes: dict[End, int] = {
                end: number for end in ENDS if (number := wheel_in(setup.parts, end)) is not None
            }
            asked = {str(end): number for end, number in takes.items()}
            at_work = _being_done(machine_id, {"setup": setup.id, **asked})
            if at_work is not None:
                return at_work
            step.label = f"back to “{setup.name}”"
            wheels.number_wheels(step, machine_id, name="Wheels as found", on=shop.today)
            sheet = machines.sheet(machine_id)
            there = {one.id: one for one in wheels.wheels_of(sheet)}
            gone = [f"{end} wheel" for end in ENDS if takes.get(end) not in there]
            find = f"Find first: {', '.join(gone)}. " if gone else ""
            wanted = f"{find}Back to {setup.name}"
            job_id = jobs.add_job(step, machine_id=machine_id, wanted=wanted, at=shop.now())
            if not gone and _only_wheels(sheet, setup):
                those = {end: there[number] for end, number in takes.items()}
                name = propose_wheels(step, job_id, machine_id, those, None)
                put_on_card(step, shop, job_id, name)
            else:
                propose_setup(step, job_id, machine_id, setup)
        return job_id


def _only_wheels(sheet: Sheet, setup: Setup) -> bool:
    """Whether an earlier set-up has other wheels, and nothing else that is not theirs."""
    assert sheet.setup is not None
    changed = {one.part for one in differences(sheet.setup.parts, setup.parts)}
    return Part.WHEEL in changed and changed <= {*OF_A_WHEEL, *wheels.OF_A_SET}


def _being_done(machine_id: int, takes: Mapping[str, int]) -> int | None:
    """Return the open job of a machine that takes just that; None where there is none."""
    for job in jobs.open_jobs_of(machine_id):
        for kept in job.proposals:
            taken = {key: value for key, value in kept.takes.items() if key != "changes"}
            if job.done is None and taken and taken.items() <= takes.items():
                return job.id
    return None


class Named(Command):
    """A name."""

    name: Name

    def carry_out(self, shop: Shop, machine_id: int, setup_id: int) -> None:
        """Give a set-up this name; what it is stays."""
        name = checked_name(self.name)
        with shop.step(
            f"set-up named {name}", f"machine {machine_id} set-up", machine_id=machine_id
        ) as step:
            setups.rename(step, machine_id, setup_id, name)


class WheelMoved(Command):
    """What becomes of a wheel that is off: named, into the bin, or where it is kept."""

    act: str = Field(examples=["shelf"])
    name: Name | None = None

    def carry_out(self, shop: Shop, machine_id: int, wheel_id: int) -> None:
        """Keep a wheel that is off elsewhere, name it, or put it in the bin."""
        with shop.step("wheel", f"machine {machine_id} wheel", machine_id=machine_id) as step:
            known = wheels.wheel(wheel_id)
            if known.machine_id != machine_id:
                raise StoreError("That wheel is of another machine.", expected="one of its wheels")
            step.label = f"{known.name}: {self.act}"
            if self.act == "bin":
                wheels.drop_wheel(step, wheel_id, at=shop.now().isoformat())
            elif self.act == "name":
                wheels.rename_wheel(step, wheel_id, checked_name(self.name or ""))
            else:
                wheels.keep_where(step, wheel_id, self.act)


def set_machine_photo(shop: Shop, machine_id: int, raw: bytes) -> None:
    """Keep a photograph of a machine, written anew without what the camera noted in it."""
    name = keep_photo(shop.folder, read_photo(raw))
    with shop.step("photograph", f"machine {machine_id} photo", machine_id=machine_id) as step:
        machines.set_word(step, machines.sheet(machine_id).id, "photo", name)
