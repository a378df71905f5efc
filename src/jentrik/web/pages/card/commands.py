"""What is written on a job's card: made, steps, photographs, closed, opened, corrected."""

from collections.abc import Mapping
from textwrap import shorten
from typing import Any, Literal

from pydantic import Field

from jentrik.core.errors import DocumentError, OutOfRange, StoreError, blamed_on
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.readings import read_readings
from jentrik.core.plan.plan import Outcome
from jentrik.core.plan.uncertainty import tells
from jentrik.core.text import counted
from jentrik.core.units import read_figure
from jentrik.core.work.after_fitting import expectations
from jentrik.core.work.card import Card, CardStep, card_steps, checked_torque, outside
from jentrik.core.work.template import MOST_STEPS, steps_of
from jentrik.devices.port import Taken
from jentrik.exchange.photo import read_photo
from jentrik.store import after_fitting, cards, documents, jobs, logbook, machines
from jentrik.store.documents import OnBench
from jentrik.store.fitting import carried_out, fit_job, worked_out
from jentrik.store.journal import Step, visit_of_last
from jentrik.store.photo_files import keep_photo
from jentrik.store.stock import reserve_for
from jentrik.web.figures import plain
from jentrik.web.live.command import Command, Words
from jentrik.web.live.typed_values import checked_name
from jentrik.web.pages.card.view import FROM_CHANGES, TORQUE_SOURCES
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.gauging import step_reading
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.shop import Shop

LONGEST_REASON = 200


class NewCard(Command):
    """The card of a job: of which proposal, and from which template."""

    proposal: Words = Field(examples=["A"])
    template: str = Field(default="", description="Empty: made from what changes")

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Make the card of a job."""
        with shop.step("job card made", f"job {job_id} card", job_id=job_id) as step:
            documents.must_be_open(job_id)
            there = on_bench(shop, job_id)
            kept = there.job.proposal(self.proposal)
            known = cards.templates()
            text = "" if self.template in ("", FROM_CHANGES) else known.get(self.template)
            if kept is None or text is None:
                raise StoreError("Choose a proposal and a template.", expected="one of the lists")
            found, _ = found_of(there.sheet, missing_of(there.sheet), there.policy, there.today)
            outcome = judged(found, kept)
            if found is None or not isinstance(outcome, Outcome):
                raise DocumentError(
                    "This proposal cannot stand yet, so no card can be made of it.",
                    expected="a proposal that can be drawn",
                )
            steps = card_steps(
                found.bike,
                outcome,
                known,
                text,
                policy=there.policy,
                last_km=logbook.last_km(there.sheet.id),
            )
            cards.make_card(
                step,
                job_id,
                proposal=self.proposal,
                template=self.template or FROM_CHANGES,
                steps=steps,
                at=shop.now(),
                torques=cards.torques_of(there.sheet.id),
            )
            reserve_for(step, job_id, kept)


class NewStep(Command):
    """A step of the shop's own, as a template writes it."""

    text: str = Field(examples=["Spin the wheel | reading: rim runout, mm | at most: 1"])
    after: int | None = Field(default=None, description="The step it comes after")

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Add the step, after another or at the card's end."""
        (plan,) = steps_of(" ".join(self.text.split()))
        with shop.step("step added", f"job {job_id} step", job_id=job_id) as step:
            cards.add_step(step, _open_card(job_id), plan, after=self.after)


def _open_card(job_id: int) -> Card:
    jobs.must_not_be_done(job_id)
    card = cards.card_of(job_id)
    if card is None:
        raise StoreError("There is no card yet.", expected="a card")
    return card


class StepWritten(Command):
    """What is done with a step: written, ticked, waived, opened, moved, split, read by gauge."""

    act: Literal["keep", "tick", "waive", "open", "gauge", "up", "down", "split"] = "tick"
    version: int | None = Field(default=None, description="As read; another one is refused")
    reading: str | float | None = None
    torque_nm: float | None = Field(default=None, description="From the maker or the part")
    torque_source: str | None = Field(default=None, examples=list(TORQUE_SOURCES))
    why: str | None = Field(default=None, description="Why a reading outside its limits stands")
    reason: str | None = Field(default=None, description="Why a step is waived")
    first: str | None = None
    second: str | None = None

    def over(self, known: CardStep) -> "StepWritten":
        """Return it with what it does not say as the step has it."""
        there: dict[str, Any] = {
            "version": known.version,
            "reading": known.read or None,
            "torque_nm": known.torque_nm,
            "torque_source": known.torque_source,
        }
        return self.model_copy(
            update={key: value for key, value in there.items() if getattr(self, key) is None}
        )

    def carry_out(self, shop: Shop, job_id: int, known: CardStep) -> None:
        """Write down what was done; what is not said is written empty."""
        if self.act in ("up", "down", "split"):
            self._place(shop, job_id, known)
            return
        values = self.columns(shop, known)
        if self.act == "gauge":
            taken = _gauged(known, job_id, shop, values["torque_nm"])
            values |= {"reading": f"{taken.value:g}", "simulated": taken.simulated}
        label = f"{shorten(known.plan.text, 60, placeholder='…')}: {self.act}"
        with shop.step(label, f"job {job_id} step {known.id}", job_id=job_id) as step:
            self.write(step, shop, job_id, known, values)

    def write(
        self, step: Step, shop: Shop, job_id: int, known: CardStep, values: Mapping[str, Any]
    ) -> None:
        """Write a step's columns within a step of the journal, and what was read where it goes."""
        seen = -1 if self.version is None else self.version
        jobs.must_not_be_done(job_id)
        cards.write_step(step, known, seen_version=seen, **values)
        if known.plan.measures:
            _measured_on_card(
                step, shop, job_id, known, values.get("reading"), values.get("plus_minus")
            )

    def _place(self, shop: Shop, job_id: int, known: CardStep) -> None:
        """Move a step up or down its card, or make two of it."""
        with shop.step(f"step {self.act}", f"job {job_id} step", job_id=job_id) as step:
            card = _open_card(job_id)
            if self.act == "split":
                first, second = (
                    steps_of(" ".join((text or "").split()))[0].text
                    for text in (self.first, self.second)
                )
                cards.split_step(step, card, known, first, second)
            else:
                cards.move_step(step, card, known.id, -1 if self.act == "up" else 1)

    def columns(self, shop: Shop, step: CardStep) -> dict[str, Any]:
        """Return the columns that are written; refuses a tick that lacks what it needs."""
        if self.act == "open":
            return {"done_at": None, "done_by": None, "waived": None, "reason": None}
        values = self._figures(shop, step)
        if self.act == "waive":
            reason = " ".join((self.reason or "").split())
            if not reason or len(reason) > LONGEST_REASON:
                raise OutOfRange(
                    "Say in a few words why this step is left out, at most "
                    f"{LONGEST_REASON} letters.",
                    expected="a reason",
                )
            signed = f"{reason} ({shop.who})" if shop.who else reason
            return {**values, "waived": signed, "done_at": None, "done_by": None}
        return {**values, **self._tick(shop, step, values)} if self.act == "tick" else values

    def _figures(self, shop: Shop, step: CardStep) -> dict[str, Any]:
        newton = None if self.torque_nm is None else checked_torque(self.torque_nm)
        reading, unit = self.reading, step.plan.unit
        if isinstance(reading, float | int):
            reading = f"{reading:.15g}"
        reading, plus_minus = (reading or "").strip(), None
        if reading and unit not in ("words", ""):
            taken = read_readings(shop.units.in_kept(reading, unit), unit=unit)
            reading, plus_minus = plain(taken.mean), taken.plus_minus
        source = self.torque_source
        return {
            "torque_nm": newton,
            "torque_source": source if source in TORQUE_SOURCES and newton is not None else None,
            "reading": reading[:LONGEST_REASON] or None,
            "plus_minus": plus_minus,
            "simulated": step.simulated and reading == (step.reading or ""),
        }

    def _tick(self, shop: Shop, step: CardStep, values: Mapping[str, Any]) -> dict[str, Any]:
        """Return the columns of a tick; refuses one without a name, a figure or a reason."""
        if not shop.who:
            raise OutOfRange(
                "Say who is at the bench: it is ticked in that name.",
                field="who",
                expected="who you are; a program names them as Jentrik-Person",
            )
        kept = CardStep(
            step.id,
            step.place,
            step.plan,
            values["torque_nm"],
            values["torque_source"],
            values["reading"],
        )
        if kept.missing():
            raise OutOfRange(f"First write down {kept.missing()}.", expected=kept.missing())
        off = outside(step.plan, values["reading"])
        why = " ".join((self.why or "").split())[:LONGEST_REASON]
        if off and not why:
            raise OutOfRange(
                f"{off} Say why it is done all the same, or put it right.",
                expected="a reason, or a reading within its limits",
            )
        return {
            "done_by": shop.who,
            "done_at": shop.now().isoformat(),
            "waived": None,
            "reason": f"{off} {why} ({shop.who})" if off else None,
        }


class StepOfMany(StepWritten):
    """One step of several that are written together."""

    id: int


class StepsWritten(Command):
    """Several steps of a card, written all of them or none."""

    steps: list[StepOfMany] = Field(min_length=1, max_length=MOST_STEPS)

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Write every step within one step of the journal."""
        label = f"{len(self.steps)} steps: {self.steps[0].act}"
        with shop.step(label, f"job {job_id} steps", job_id=job_id) as step:
            self.write(step, shop, job_id)

    def write(self, step: Step, shop: Shop, job_id: int) -> None:
        """Write every step; a refusal names the one it is of."""
        for place, one in enumerate(self.steps):
            with blamed_on(f"steps[{place}]"):
                if one.act not in ("keep", "tick", "waive", "open"):
                    raise OutOfRange(
                        f"“{one.act}” is of one step alone.",
                        field="act",
                        expected="keep, tick, waive or open",
                    )
                known = step_of(job_id, one.id)
                said = one.over(known)
                said.write(step, shop, job_id, known, said.columns(shop, known))


def set_on_subject(machine_id: int) -> str:
    """Return what the changes of putting a set on are of: pressed in a row they are one change."""
    return f"machine {machine_id} set on"


class SetOn(Command):
    """A known wheel set put on: what was read by step, the rest as last time."""

    reading: dict[str, str] = Field(default_factory=dict)
    torque: dict[str, str] = Field(default_factory=dict)
    source: dict[str, str] = Field(default_factory=dict)
    why: dict[str, str] = Field(default_factory=dict)

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Tick what is open and close the job, all in one step or nothing; names the step."""
        machine_id = jobs.job(job_id).machine_id
        left = [step for step in _open_card(job_id).steps if step.open]
        subject = set_on_subject(machine_id)
        visit = visit_of_last(machine_id, subject)  # taken back with what put the set on
        with shop.step("wheel set on", subject, machine_id=machine_id, visit=visit) as step:
            for known in left:
                with blamed_on(f"step:{known.id}"):
                    StepsWritten(steps=[self._of(shop, known)]).write(step, shop, job_id)
            Closing().write(step, shop, job_id)

    def _of(self, shop: Shop, known: CardStep) -> StepOfMany:
        key = str(known.id)
        newton = self.torque.get(key, "").strip()
        return StepOfMany(
            id=known.id,
            version=known.version,
            reading=self.reading.get(key),
            torque_nm=shop.figure(newton, unit="N·m") if newton else None,
            torque_source=self.source.get(key),
            why=self.why.get(key),
        )


class GroupTicked(Command):
    """The steps of a group that go together, each as its number and the version that was seen."""

    step: list[str]

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Tick them, all of them or none."""
        seen = [[counted(part) for part in one.partition(":")[::2]] for one in self.step]
        if not seen or any(None in one for one in seen) or len(seen) > MOST_STEPS:
            raise OutOfRange(
                "Nothing of this group is open.", field="step", expected="open steps of a group"
            )
        steps = [StepOfMany(id=one or 0, version=version) for one, version in seen]
        StepsWritten(steps=steps).carry_out(shop, job_id)


def step_of(job_id: int, step_id: int) -> CardStep:
    """Return a step of a job's card; refuses one that is gone."""
    card = cards.card_of(job_id)
    known = next((step for step in card.steps if step.id == step_id), None) if card else None
    if known is None:
        raise StoreError("That step is not on the card any more.")
    return known


def _measured_on_card(
    step: Step,
    shop: Shop,
    job_id: int,
    known: CardStep,
    reading: str | None,
    plus_minus: float | None,
) -> None:
    """Note a gap read on the card in the check after fitting, so that it is not typed again."""
    there = on_bench(shop, job_id)
    if there.job.sealed:
        _measured_on_sheet(step, shop, there, known, reading, plus_minus)
        return
    found, outcome = worked_out(there, carried_out(there))
    for expectation in expectations(found, outcome, tells(there.sheet, found, outcome.proposal)):
        if expectation.key == known.plan.measures:
            value = read_figure(reading, unit=expectation.unit) if reading else None
            after_fitting.set_measured(step, job_id, expectation, value, on=shop.today, by=shop.who)


def _measured_on_sheet(
    step: Step,
    shop: Shop,
    there: OnBench,
    known: CardStep,
    reading: str | None,
    plus_minus: float | None,
) -> None:
    """Write what is read on the card of a job that was fitted onto the set-up it led to."""
    sheet = machines.sheet(there.job.machine_id)
    fitted = there.document.values.get("fitted_sheet") if there.document else None
    is_on = fitted and sheet.setup and fitted["setup"]["id"] == sheet.setup.id
    if is_on and reading and known.plan.unit not in ("", "words"):
        value = read_figure(reading, unit=known.plan.unit)
        after_fitting.measure(
            step,
            sheet,
            known.plan.measures,
            value,
            shop.today,
            simulated=known.simulated,
            plus_minus=plus_minus,
        )


def _gauged(step: CardStep, job_id: int, shop: Shop, torque_nm: float | None) -> Taken:
    """Return what a tool of the shop reads for a step."""
    at, card = on_bench(shop, job_id), cards.card_of(job_id)
    found, _ = found_of(at.sheet, missing_of(at.sheet), at.policy, at.today)
    kept = at.job.proposal(card.proposal) if card else None
    outcome = judged(found, kept) if kept else None
    there = outcome if isinstance(outcome, Outcome) else None
    return step_reading(shop, at.sheet, step, there, torque_nm)


def add_photo(shop: Shop, job_id: int, raw: bytes, caption: str) -> None:
    """Keep a photo of a job, written anew without what the camera noted in it."""
    job, caption = jobs.job(job_id), " ".join(caption.split())[:LONGEST_REASON]
    name = keep_photo(shop.folder, read_photo(raw))
    with shop.step("photo", f"job {job_id} photo", job_id=job_id) as step:
        jobs.must_not_be_done(job_id)
        cards.add_photo(step, job.id, file=name, caption=caption, at=shop.now(), by=shop.who)


def drop_photo(shop: Shop, job_id: int, photo_id: int | None) -> None:
    """Take a photo off; undo brings it back."""
    with shop.step("photo taken off", f"job {job_id} photo", job_id=job_id) as step:
        jobs.must_not_be_done(job_id)
        for kept in cards.photos(job_id):
            if kept.id == photo_id:
                cards.drop_photo(step, kept.id)


class Closing(Command):
    """How a job is closed, and the reason where something is open."""

    act: Literal["fitted", "unfitted"] = "fitted"
    why: str = ""

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Close a job, what was done fitted and sealed; what is open is asked and recorded."""
        machine_id = jobs.job(job_id).machine_id
        with shop.step("job closed", f"job {job_id} close", machine_id=machine_id) as step:
            self.write(step, shop, job_id)

    def write(self, step: Step, shop: Shop, job_id: int) -> None:
        """Close the job within a step."""
        jobs.must_not_be_done(job_id)
        job, card = jobs.job(job_id), cards.card_of(job_id)
        answers = self._answered(shop, card)
        if card and card.proposal and not job.done and self.act != "unfitted":
            fit_job(step, on_bench(shop, job_id), at=shop.now(), by=shop.who)
        if not documents.is_done(job_id):
            documents.write_done(
                step, job, shop.policy, at=shop.now(), by=shop.who, answers=answers
            )
        jobs.close(step, job_id, at=shop.now())

    def _answered(self, shop: Shop, card: Card | None) -> tuple[dict[str, str], ...]:
        """Return what was asked on closing and answered; refuses where it was not."""
        asked = []
        if card is None:
            asked.append("No card was made. Why is the job closed without one?")
        elif self.act == "unfitted":
            asked.append("Nothing was fitted. Why?")
        if card is not None and card.holding:
            held = shorten(card.holding[0].plan.text, 60, placeholder="…")
            asked.append(
                f"{len(card.holding)} stop-level step{'s are' if len(card.holding) > 1 else ' is'} "
                f"open, first “{held}”. Why is the job closed all the same?"
            )
        why = " ".join(self.why.split())[:LONGEST_REASON]
        if asked and not (why and shop.who):
            raise StoreError(
                f"{' '.join(asked)} Write why"
                + ("." if shop.who else ", and say who is at the bench."),
                field="close",
                expected="the reason, and who you are",
            )
        return tuple({"question": one, "answer": why, "by": shop.who} for one in asked)


def open_again(shop: Shop, job_id: int) -> None:
    """Open a closed job again."""
    with shop.step("job opened again", f"job {job_id} open", job_id=job_id) as step:
        machines.sheet(jobs.job(job_id).machine_id)  # refuses where either is in the bin
        jobs.close(step, job_id, at=None)


class Correction(Command):
    """What is written beside the document of a job that is done."""

    correction: str

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Write it."""
        with shop.step("correction", f"job {job_id} correction", job_id=job_id) as step:
            documents.correct(step, job_id, self.correction, at=shop.now(), by=shop.who)


def set_card_template(shop: Shop, name: str, text: str) -> None:
    """Write a template; no text takes the shop's own away."""
    name = checked_name(name)
    with shop.step(f"card “{name}”", f"cards {name}") as step:
        cards.set_template(step, name, text, on=shop.today)
